"""A small seeded share of ``make soak``; and that its rounds would see a loss."""

from __future__ import annotations

import subprocess
import time
from dataclasses import replace
from pathlib import Path

import pytest

from caddet.core.errors import CaddetError
from caddet.core.formats.keeping import Keeper
from caddet.core.recipe.context import Result
from caddet.core.recipe.registry import STEPS
from tests.making import full_people
from tests.soak.garments import hand_rounds, recipe_rounds, step_rounds, surgery_rounds
from tests.soak.readers import READERS, Reader
from tests.soak.rounds import disk_rounds, edit_rounds, input_rounds, kill_rounds, refused_rounds
from tests.soak.tracing import photo_rounds


def test_kills_lose_nothing() -> None:
    figures = kill_rounds(12, seed=11)
    assert not figures.wrong and figures.counts["saves confirmed"] > 8


def test_a_journal_that_comes_after_the_save_would_be_seen(monkeypatch: pytest.MonkeyPatch) -> None:
    """The order of before schema 3: a kill between the two wiped the undo."""
    keep, keep_undo = Keeper.keep, Keeper._keep_undo

    def afterwards(self: Keeper, document: object, entries: object) -> None:
        monkeypatch.setattr(Keeper, "_keep_undo", lambda self, document: None)
        keep(self, document, entries)  # type: ignore[arg-type]
        monkeypatch.setattr(Keeper, "_keep_undo", keep_undo)
        time.sleep(0.01)
        keep_undo(self, document)  # type: ignore[arg-type]

    monkeypatch.setattr(Keeper, "keep", afterwards)
    assert any("lost" in words for words in kill_rounds(25, seed=3).wrong)


REFUSED = ("photograph", "photograph to trace", "caddet trace PHOTO")  # some of what they are given is no JPEG or PNG


@pytest.mark.parametrize("reader", READERS, ids=lambda reader: reader.name)
def test_every_reader_reads_what_it_is_given_unspoilt(reader: Reader, tmp_path: Path) -> None:
    """Else nothing of it would be attacked but its first lines."""
    read = 0
    for good in reader.good():
        (tmp_path / "one").write_bytes(good)
        try:
            reader.read(tmp_path / "one")
            read += 1
        except CaddetError as error:
            assert reader.name in REFUSED, error
    assert read >= 1


def test_bad_input_is_refused_in_a_sentence() -> None:
    figures = input_rounds(len(READERS) * 12, seed=5)
    assert not figures.wrong, figures.wrong[:3]
    assert figures.counts["refused"] > 100 and figures.counts["read"] > 100


def test_a_reader_that_fails_or_is_slow_would_be_seen() -> None:
    def one(path: object) -> None:
        raise KeyError("trace")

    class TwoLines(CaddetError):
        def __str__(self) -> str:
            return "two\nlines"

    class Endless(CaddetError):
        def __str__(self) -> str:
            return "on and on " * 40

    def told(path: object) -> None:
        raise TwoLines

    def tells(path: object) -> None:
        raise Endless

    for read in (one, told, tells):
        assert input_rounds(1, readers=[Reader("bad", lambda: [b"x"], read)]).wrong

    def runs(path: object) -> None:
        subprocess.run(["true"], check=True)

    told_of = input_rounds(2, readers=[Reader("runs", lambda: [b"x"], runs)]).wrong
    assert len(told_of) == 2 and "it runs a program" in told_of[0]
    assert input_rounds(1, readers=[Reader("slow", lambda: [b"x"], lambda path: None, seconds=-1.0)]).wrong


def test_random_edits_are_all_undone_to_the_first_bytes() -> None:
    figures = edit_rounds(150, seed=7)
    assert not figures.wrong and figures.counts["undone"] == 150


def test_a_full_disk_loses_nothing() -> None:
    figures = disk_rounds(2, seed=3)
    assert not figures.wrong
    if any("skipped" in name for name in figures.counts):
        pytest.skip(next(iter(figures.counts)))
    assert figures.counts["saves refused"] > 5


def test_what_may_not_be_read_or_written_is_told() -> None:
    assert not refused_rounds().wrong


def test_steps_and_verbs_on_a_block_are_done_or_refused_in_a_sentence(monkeypatch: pytest.MonkeyPatch) -> None:
    figures = step_rounds("skirt.straight", tries=2, people=full_people()[::9])
    assert not figures.wrong and figures.counts["done"] > 30 and figures.counts["refused with a sentence"] > 10
    assert not surgery_rounds(4).wrong
    hands = hand_rounds("skirt.straight", people=full_people()[::9])
    assert not hands.wrong and hands.counts["gestures kept"] > 20

    def broken(*_: object) -> Result:
        raise KeyError("hem")

    monkeypatch.setitem(STEPS, "lengthen", replace(STEPS["lengthen"], apply=broken))
    assert step_rounds("skirt.straight", tries=1, people=full_people()[:1]).wrong, (
        "a fault that comes out of a step is seen"
    )


def test_random_steps_end_soundly_and_are_undone_to_the_first_bytes() -> None:
    figures = recipe_rounds(220, seed=3)
    assert not figures.wrong, figures.wrong[:3]
    assert figures.counts["done"] > 30 and figures.counts["recipes"] > 20


def test_practice_garments_are_traced_to_two_millimetres_and_wraps_whole() -> None:
    shorts = photo_rounds("shorts", [100])
    assert not shorts.wrong and shorts.counts["edges within 2 mm"] >= shorts.counts["edges"] - 1 >= 4
    assert photo_rounds("wrap", [101]).counts["wraps with all lines, panels and marks"] == 1
