"""The journal: small changes, torn lines, full disks, compaction; undo to the first edit whatever happens."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from caddet.core.demo import demo_document
from caddet.core.errors import CaddetError, InputError
from caddet.core.formats import journal as journal_module
from caddet.core.formats.changes import BrokenChange, change, changed
from caddet.core.formats.journal import Chain, Edited, Entry, Journal, Moved, journal_path
from caddet.core.formats.project import no_pictures, to_bytes
from caddet.core.formats.strict_json import canonical
from caddet.core.formats.written import Written
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document
from caddet.core.recipe.history import History, Moment

DEMO = demo_document()
TOKEN = Written.of(DEMO).token

plain = st.none() | st.booleans() | st.integers(-9, 9) | st.floats(-9, 9) | st.text("ab\u2028é", max_size=4)
values = st.recursive(
    plain, lambda inner: st.lists(inner, max_size=5) | st.dictionaries(st.text("abc", max_size=2), inner, max_size=4)
)


@given(values, values)
def test_a_change_done_gives_the_other_value(before: Any, after: Any) -> None:
    what = json.loads(json.dumps(change(before, after)))
    assert canonical({"": changed(before, what)}) == canonical({"": after})
    assert (what == {}) == (canonical({"": before}) == canonical({"": after}))


@given(st.text("xy ", min_size=300, max_size=400), st.integers(0, 299), st.text("z", max_size=5))
def test_a_word_in_a_long_text_is_a_small_change(text: str, at: int, word: str) -> None:
    after = text[:at] + word + text[at + 3 :]
    what = change({"notes": text}, {"notes": after})
    assert changed({"notes": text}, what)["notes"] == after and len(json.dumps(what)) < 100


@given(values, values)
def test_a_change_that_does_not_fit_is_refused_not_guessed(before: Any, what: Any) -> None:
    try:
        after = changed(before, what)
    except BrokenChange as error:
        assert str(error)
    else:
        assert json.loads(json.dumps(after)) == after, "never half a change"


def _edit(document: Document, n: int) -> Document:
    return edits.set_measure(document, "hip", 900.0 + n)


def _run(journal: Journal, count: int, history: History) -> History:
    """So many edits, each kept."""
    for n in range(count):
        after = _edit(history.document, n)
        journal.add([Edited(history.document, after, f"hip {n}")])
        history = history.edited(after, f"hip {n}")
    return history


def _read(path: Path, document: Document) -> History:
    return Journal.read(journal_path(path)).open_at(document, Written.of(document).token, write=False)


def _same(a: History, b: History) -> bool:
    return (
        a.now == b.now
        and [m.deed for m in a.moments] == [m.deed for m in b.moments]
        and all(
            to_bytes(x.document, no_pictures) == to_bytes(y.document, no_pictures)
            for x, y in zip(a.moments, b.moments, strict=True)
        )
    )


@pytest.fixture
def begun(tmp_path: Path) -> tuple[Path, Journal, History]:
    path = tmp_path / "a.caddet"
    journal = Journal.read(journal_path(path))
    return path, journal, journal.open_at(DEMO, TOKEN)


def test_every_edit_undo_and_branch_comes_back(begun: tuple[Path, Journal, History]) -> None:
    path, journal, history = begun
    history = _run(journal, 5, history)
    entries: list[Entry] = [Moved(-1), Moved(-1), Moved(1)]
    journal.add(entries)
    history = history.undone().undone().redone()
    assert _same(_read(path, history.document), history)
    after = edits.set_override(history.document, "zip_length", "21cm")
    journal.add([Edited(history.document, after, "zip"), Moved(-1), Moved(1)])
    history = history.edited(after, "zip")
    assert _same(_read(path, history.document), history)
    assert journal_path(path).stat().st_mode & 0o777 == 0o600


def test_the_last_moment_equal_to_the_document_is_taken_and_later_ones_are_redo(
    begun: tuple[Path, Journal, History],
) -> None:
    """What a kill between journal and save leaves: the edit is in the journal, not in the file."""
    path, journal, history = begun
    history = _run(journal, 4, history)
    before = history.undone()
    found = _read(path, before.document)
    assert found.now == before.now and found.redo_deed == "hip 3" and _same(found.redone(), history)


def test_a_burst_that_passes_through_what_was_saved_is_none_of_it_when_it_was_not_saved(
    begun: tuple[Path, Journal, History],
) -> None:
    """A choice tried, taken back and another one made, then a kill before the save: the file is where it was saved."""
    path, journal, history = begun
    saved = _run(journal, 2, history)
    there, back, on = _edit(saved.document, 7), saved.document, _edit(saved.document, 8)
    journal.add([Edited(back, there, "tried"), Edited(there, back, "taken back"), Edited(back, on, "another")])
    found = _read(path, back)
    assert found.now == saved.now and found.undo_deed == "hip 1", "not at the moment between that was the same"
    assert [moment.deed for moment in found.moments[found.now + 1 :]] == ["tried", "taken back", "another"]
    assert _read(path, on).undo_deed == "another", "and what was saved after it is there"


def test_what_is_done_after_such_a_kill_hangs_on_where_the_project_was_opened(
    begun: tuple[Path, Journal, History],
) -> None:
    path, journal, history = begun
    saved = _run(journal, 2, history)
    there, back = _edit(saved.document, 7), saved.document
    journal.add([Edited(back, there, "tried"), Edited(there, back, "taken back"), Edited(back, there, "another")])
    again = Journal.read(journal_path(path))
    history = again.open_at(back, Written.of(back).token)
    history = _run(again, 1, history)
    assert _same(_read(path, history.document), history) and len(history.moments) == len(saved.moments) + 1


def test_a_compacted_journal_still_knows_where_it_was_saved(
    begun: tuple[Path, Journal, History], monkeypatch: pytest.MonkeyPatch
) -> None:
    path, journal, history = begun
    saved = _run(journal, 2, history)
    there, back, on = _edit(saved.document, 7), saved.document, _edit(saved.document, 8)
    journal.add([Edited(back, there, "tried"), Edited(there, back, "taken back"), Edited(back, on, "another")])
    Journal.read(journal_path(path)).compacted()
    assert _read(path, back).now == saved.now


def test_a_document_that_no_moment_equals_becomes_a_new_one_and_nothing_is_begun_anew(
    begun: tuple[Path, Journal, History],
) -> None:
    path, journal, history = begun
    history = _run(journal, 3, history)
    size = journal_path(path).stat().st_size
    other = edits.set_measure(DEMO, "waist", 801.0)
    found = Journal.read(journal_path(path)).open_at(other, Written.of(other).token)
    assert found.document == other and found.undo_deed == "As the file was opened"
    assert _same(found.undone(), History((*history.moments, Moment("As the file was opened", other)), history.now))
    assert journal_path(path).stat().st_size > size
    assert _read(path, other).now == found.now, "and it is not made again"


@pytest.mark.parametrize("words", ["line\u2028separator", "next\x85line", 'quote " and \\ back', "tab\tand\x1f"])
def test_lines_are_split_at_line_feeds_only(begun: tuple[Path, Journal, History], words: str) -> None:
    path, journal, history = begun
    after = DEMO.model_copy(update={"notes": words})
    journal.add([Edited(DEMO, after, words)])
    history = _run(journal, 2, history.edited(after, words))
    assert _same(_read(path, history.document), history)


def test_a_torn_line_is_passed_over_and_what_follows_is_kept(begun: tuple[Path, Journal, History]) -> None:
    path, journal, history = begun
    history = _run(journal, 3, history)
    with journal_path(path).open("ab") as file:
        file.write(b'{"edit":"torn","n":4,"is":"x","from":"y","chan')
    again = Journal.read(journal_path(path))
    assert again.passed_over == 1
    past = again.open_at(history.document, Written.of(history.document).token)
    past = _run(again, 3, past)
    found = _read(path, past.document)
    assert _same(found, past) and len(found.moments) == 7


def test_damage_in_the_middle_costs_only_what_hangs_on_it(begun: tuple[Path, Journal, History]) -> None:
    path, journal, history = begun
    history = _run(journal, 300, history)
    file = journal_path(path)
    lines = file.read_bytes().split(b"\n")
    snapshots = [i for i, line in enumerate(lines) if b'"document"' in line]
    assert len(snapshots) > 3
    lines[snapshots[1] + 2] = lines[snapshots[1] + 2][:40]
    file.write_bytes(b"\n".join(lines))
    found = _read(path, history.document)
    lost = snapshots[2] - (snapshots[1] + 2)
    assert len(found.moments) == len(history.moments) - lost
    by_deed = {m.deed: m for m in history.moments}
    assert all(m.document == by_deed[m.deed].document for m in found.moments)


@pytest.mark.parametrize("failing", ["write", "fsync", "short"])
def test_when_the_disk_is_full_the_edits_wait_and_nothing_before_or_after_is_lost(
    begun: tuple[Path, Journal, History], monkeypatch: pytest.MonkeyPatch, failing: str
) -> None:
    path, journal, history = begun
    history = _run(journal, 2, history)
    real = os.write

    def full(*_: object) -> int:
        raise OSError(28, "No space left on device")

    def short(handle: int, data: bytes) -> int:
        if len(data) > 40:
            return real(handle, bytes(data)[:40])
        return full()

    after = _edit(history.document, 77)
    entry = Edited(history.document, after, "waits")
    with monkeypatch.context() as broken:
        broken.setattr(os, "fsync" if failing == "fsync" else "write", short if failing == "short" else full)
        before = journal_path(path).read_bytes()
        with pytest.raises(InputError, match="disk is full"):
            journal.add([entry])
        assert journal_path(path).read_bytes() == before, "nothing torn is left if that can be helped"
    journal.add([entry])
    history = _run(journal, 3, history.edited(after, "waits"))
    assert _same(_read(path, history.document), history)


def test_the_journal_of_a_large_document_stays_small(begun: tuple[Path, Journal, History]) -> None:
    path, journal, history = begun
    large = DEMO.model_copy(update={"notes": "A long account of the quay. " * 3500})
    assert len(to_bytes(large, no_pictures)) < len(large.notes.encode()) and len(Written.of(large).text) > 90_000
    journal.add([Edited(DEMO, large, "notes")])
    _run(journal, 300, history.edited(large, "notes"))
    assert journal_path(path).stat().st_size < 10 * len(Written.of(large).text)


def test_compaction_keeps_every_moment_in_fewer_bytes(
    begun: tuple[Path, Journal, History], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(journal_module, "COMPACT_FROM", 1000)
    path, journal, history = begun
    for n in range(40):  # mostly branches that were undone again
        after = _edit(history.document, n)
        journal.add([Edited(history.document, after, f"{n}")])
        history = history.edited(after, f"{n}")
        if n % 4:
            journal.add([Moved(-1)])
            history = history.undone()
    again = Journal.read(journal_path(path))
    before = journal_path(path).stat().st_size
    assert again.wants_compacting
    compacted = again.compacted()
    assert journal_path(path).stat().st_size < 0.6 * before and not compacted.wants_compacting
    assert _same(_read(path, history.document), history)
    history = _run(compacted, 2, compacted.open_at(history.document, Written.of(history.document).token))
    assert _same(_read(path, history.document), history)


def test_a_moment_that_cannot_be_read_any_more_says_so() -> None:
    line = journal_module.Line(0, "gone", "x", "", False, b'{"change": {}}\n')
    with pytest.raises(CaddetError, match="gone"):
        Chain([line]).document(0)


def test_nothing_a_journal_may_hold_stops_it(tmp_path: Path) -> None:
    path = journal_path(tmp_path / "b.caddet")
    path.parent.mkdir(parents=True)
    whole = json.dumps({"edit": "x", "n": 1, "is": "t", "document": {"schema_version": 3}})
    path.write_bytes(b"\n".join([
        b"", b"null", b"[]", b'"x"', b"{}", b'{"now": 0}', b'{"now": "x"}', b'{"edit": 1}', b'{"edit":"a","n":1e99,"is":"b","document":{}}',
        b'{"edit":"a","n":1,"is":"b","document":7}', b'{"edit":"a","n":1,"is":"b","from":"c","change":{}}', b"\xff\xff", whole.encode(),
        b'{"edit":"a","n":2,"is":"b","from":"t","change":{"k":7}}', b'{"edit":"a","n":3,"is":"c","from":"b","change":{"at":-1,"out":1}}', b"",
    ]))  # fmt: skip
    journal = Journal.read(path)
    history = journal.open_at(DEMO, TOKEN)
    assert history.document == DEMO and journal.passed_over > 8
    for moment in history.moments[:-1]:
        with pytest.raises(CaddetError):
            _ = moment.document


def test_a_journal_too_large_to_be_read_is_left_as_it_is(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(journal_module, "BIGGEST_JOURNAL", 10)
    path = tmp_path / "x.jsonl"
    path.write_bytes(b"x" * 20)
    with pytest.raises(InputError, match="left as it is"):
        Journal.read(path)
    assert path.read_bytes() == b"x" * 20
