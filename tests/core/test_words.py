"""The trade's terms: each told, and found where it stands."""

from __future__ import annotations

from caddet.core.recipe.registry import STEPS
from caddet.core.sentences import told
from caddet.core.words import found_in, words


def test_every_word_is_told_in_full_sentences_and_once() -> None:
    forms: list[str] = []
    for word in words().values():
        assert word.says.endswith(".") and word.says[0].isupper() and len(word.says) > 20, word
        forms += [word.term, *word.also]
    assert len(forms) == len(set(forms)) and list(words()) == sorted(words())


def test_terms_are_found_whole_and_only_once() -> None:
    found = [
        (text, word.term) for text in ("Hems and a hem; the hemline, a Box pleat.",) for _, _, word in found_in(text)
    ]
    assert [term for _, term in found] == ["hem", "box pleat"]
    start, end, word = next(found_in("two darts"))
    assert ("two darts"[start:end], word.term) == ("darts", "dart")


def test_most_steps_explain_a_word() -> None:
    silent = [
        step.kind for step in STEPS.values() if not list(found_in(told(step.label, "cm") + " " + told(step.why, "cm")))
    ]
    assert len(silent) < len(STEPS) / 4, silent
