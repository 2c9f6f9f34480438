"""Keeping a project: journal before save, files changed elsewhere, modes, links, litter, second windows."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from pathlib import Path

import pytest

from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.errors import InputError
from caddet.core.files import writing
from caddet.core.files.reading import read_whole
from caddet.core.files.writing import cut_to_bytes, previous_of, write_whole
from caddet.core.formats import keeping
from caddet.core.formats.journal import Edited, Journal, Moved, journal_path
from caddet.core.formats.keeping import ChangedElsewhere, Hold, Keeper, free_path
from caddet.core.formats.people_store import keep_person, kept_people, people_folder, photo_folder, store_photo
from caddet.core.formats.project import BIGGEST_DOCUMENT, Opened, no_pictures, open_project, save_project, to_bytes
from caddet.core.formats.strict_json import MOST_PARTS, parts_of
from caddet.core.formats.written import Written
from caddet.core.recipe import edits
from caddet.core.recipe.difference import differences
from caddet.core.recipe.document import Document
from caddet.core.sentences import told
from tests.making import step

DEMO = demo_document()


def _mode(path: Path) -> int:
    return path.stat().st_mode & 0o777


@pytest.fixture
def path(tmp_path: Path) -> Path:
    path = tmp_path / "band" / "a.caddet"
    path.parent.mkdir()
    save_project(DEMO, path, no_pictures)
    return path


def _keeper(path: Path) -> Keeper:
    opened = open_project(path)
    keeper = Keeper(path, opened)
    keeper.past(opened.document)
    return keeper


def _keep(keeper: Keeper, before: Document, hip: float) -> Document:
    after = edits.set_measure(before, "hip", hip)
    keeper.keep(after, [Edited(before, after, f"hip {hip:g}")])
    return after


class Killed(BaseException):
    """Stands in for the moment at which the process ends."""


@pytest.mark.parametrize("at", ["journal", "between", "rename", "after"])
def test_a_kill_at_any_moment_loses_neither_a_confirmed_edit_nor_its_undo(
    path: Path, monkeypatch: pytest.MonkeyPatch, at: str
) -> None:
    keeper = _keeper(path)
    kept = _keep(keeper, DEMO, 1001.0)
    last = edits.set_measure(kept, "hip", 1002.0)

    def killed(*_: object, **__: object) -> None:
        raise Killed

    with monkeypatch.context() as broken:
        if at == "journal":
            broken.setattr(Journal, "_append", killed)
        elif at == "between":
            broken.setattr(keeping, "write_whole", killed)
        elif at == "rename":
            broken.setattr(os, "replace", killed)
        try:
            keeper.keep(last, [Edited(kept, last, "last")])
            assert at == "after"
        except Killed:
            assert at != "after"
    opened = open_project(path)
    assert opened.document == (last if at == "after" else kept) and opened.whole
    again = Keeper(path, opened)
    past = again.past(opened.document)
    assert past.redo_deed == ("last" if at in ("between", "rename") else None)
    assert again.cut_off == (past.redo_deed is not None), "and it is told"
    assert past.undo_deed == ("last" if at == "after" else "hip 1001")
    while past.undo_deed is not None:
        past = past.undone()
    assert past.document == DEMO


def test_a_file_changed_elsewhere_is_not_written_over_and_both_are_kept(path: Path) -> None:
    keeper = _keeper(path)
    theirs = edits.add_step(edits.set_measure(DEMO, "hip", 1111.0), step("flare"))
    save_project(theirs, path, no_pictures)
    ours = edits.set_measure(DEMO, "waist", 701.0)
    with pytest.raises(ChangedElsewhere):
        keeper.keep(ours, [Edited(DEMO, ours, "waist")])
    assert open_project(path).document == theirs == keeper.theirs().document
    lines = [told(line, "in") for line in differences(ours, theirs)]
    assert any("waist" in line and '"' in line for line in lines) and "1 step only there" in lines
    beside = keeper.set_theirs_aside()
    keeper.keep(ours, [])
    assert open_project(path).document == ours and open_project(beside).document == theirs
    past = Keeper(path, open_project(path)).past(ours)
    assert past.undo_deed == "waist", "the edit that could not be saved at first is there"


def test_a_file_touched_but_not_changed_is_saved_over(path: Path) -> None:
    keeper = _keeper(path)
    os.utime(path, (1, 1))
    _keep(keeper, DEMO, 1003.0)
    path.unlink()
    _keep(keeper, open_project(previous_of(path)).document, 1004.0)
    assert open_project(path).document.person.measures["hip"] == 1004.0


def test_every_kind_of_difference_is_told_in_words() -> None:
    other = edits.add_cloth(
        edits.set_option(edits.set_allowance(DEMO, "front.side", 12.0), "length", 600.0),
        DEMO.cloths[0].model_copy(update={"name": "Rope"}),
    )
    other = edits.take_out_person(edits.move_step(other, 0, 2), "Bram").model_copy(
        update={"title": "Other", "notes": "n"}
    )
    other = edits.change_person(edits.choose_wearer(other, "Wren"), "Odile", note="x")
    words = " / ".join(differences(DEMO, other))
    for part in (
        "Title",
        "Sewn for",
        "Bram is only here",
        "kept of Odile",
        "Rope is only there",
        "Main cloth",
        "choices",
        "order",
        "allowances",
        "notes",
    ):
        assert part in words, part
    assert differences(DEMO, DEMO) == ()
    many = DEMO.model_copy(update={"people": tuple(p.model_copy(update={"note": "x"}) for p in DEMO.people) * 1})
    assert len(differences(many, other)) <= 12


def test_a_second_window_only_reads(path: Path) -> None:
    first = Hold(path)
    script = f"from pathlib import Path; from caddet.core.formats.keeping import Hold; print(Hold(Path({str(path)!r})).taken)"
    asked = [
        subprocess.run([sys.executable, "-c", script], capture_output=True, text=True).stdout.strip() for _ in (1,)
    ]
    first.release()
    asked.append(subprocess.run([sys.executable, "-c", script], capture_output=True, text=True).stdout.strip())
    assert asked == ["True", "False"]


def test_a_read_only_project_writes_nothing(path: Path) -> None:
    before = path.read_bytes()
    opened = open_project(path)
    history = Keeper(path, opened, read_only=True).past(opened.document)
    assert history.document == DEMO and not journal_path(path).exists() and path.read_bytes() == before


# --- files ----------------------------------------------------------------------------------------


def test_a_file_keeps_its_mode_and_a_link_stays_a_link(path: Path, tmp_path: Path) -> None:
    assert _mode(path) == 0o600
    path.chmod(0o640)
    link = tmp_path / "link.caddet"
    link.symlink_to(path)
    _keep(_keeper(link), DEMO, 1005.0)
    assert link.is_symlink() and _mode(path) == 0o640 and open_project(path).document.person.measures["hip"] == 1005.0
    assert _mode(previous_of(path)) == 0o640 and not previous_of(link).exists()
    keep_person(DEMO.person)
    assert all(_mode(one) == 0o600 for one in people_folder().iterdir())
    write_whole(tmp_path / "plan.svg", b"<svg/>")
    assert _mode(tmp_path / "plan.svg") == 0o666 & ~writing._umask(), "what is given away is as others are"


def test_what_a_killed_save_left_is_swept_when_it_is_old(path: Path) -> None:
    old, young, other = (
        path.parent / name
        for name in (".a.caddet.abcd1234.unfinished", ".a.caddet.efgh5678.unfinished", ".b.caddet.abcd1234.unfinished")
    )
    earlier = path.parent / ".a.caddet.zyxw9876"  # as the version before called them
    for one in (old, young, other, earlier):
        one.write_bytes(b"x")
    for one in (old, other, earlier):
        os.utime(one, (time.time() - 7200,) * 2)
    _keeper(path)
    assert {p.name for p in path.parent.iterdir()} == {"a.caddet", young.name, other.name}


def test_the_workrooms_folders_are_swept_too() -> None:
    keep_person(DEMO.person)
    litter = people_folder() / ".odile.json.abcd1234.unfinished"
    litter.write_bytes(b"x")
    os.utime(litter, (time.time() - 7200,) * 2)
    assert len(kept_people()[0]) == 1 and not litter.exists()


def test_a_journal_of_another_project_is_kept_behind_what_is_opened(path: Path, tmp_path: Path) -> None:
    other = tmp_path / "other.caddet"
    save_project(edits.set_measure(DEMO, "waist", 702.0), other, no_pictures)
    theirs = _keeper(other)
    _keep(theirs, open_project(other).document, 1010.0)
    journal_path(path).write_bytes(journal_path(other).read_bytes())
    opened = open_project(path)
    past = Keeper(path, opened).past(opened.document)
    assert past.document == DEMO and past.undo_deed == "As the file was opened"
    assert past.undone().document.person.measures["hip"] == 1010.0 and past.redo_deed is None


def test_the_file_is_as_it_was_when_it_cannot_be_written(path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    keeper = _keeper(path)
    before = path.read_bytes()

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    after = edits.set_measure(DEMO, "hip", 1006.0)
    with monkeypatch.context() as broken:
        broken.setattr(keeping, "write_whole", lambda *a, **k: write_whole(*a, **k))
        broken.setattr(os, "fsync", full)
        with pytest.raises(InputError, match="disk is full"):
            keeper.keep(after, [Edited(DEMO, after, "waits")])
    assert path.read_bytes() == before and keeper.undo_error
    assert sorted(p.name for p in path.parent.iterdir()) == ["a.caddet"]
    keeper.keep(after, [])
    assert not keeper.undo_error
    past = Keeper(path, open_project(path)).past(after)
    assert past.undo_deed == "waits" and past.document == after


def test_a_state_folder_that_cannot_be_written_costs_the_undo_not_the_project(
    path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    keeper = _keeper(path)

    def refused(self: Journal, data: bytes) -> None:
        raise InputError("no permission")

    with monkeypatch.context() as broken:
        broken.setattr(Journal, "_append", refused)
        after = _keep(keeper, DEMO, 1007.0)
        assert keeper.undo_error and open_project(path).document == after
        last = _keep(keeper, after, 1008.0)
    keeper.keep(last, [Moved(0)])
    past = Keeper(path, open_project(path)).past(last)
    assert [m.deed for m in past.moments][-2:] == ["hip 1007", "hip 1008"], "what waited was written when it could be"


def test_a_project_that_could_not_be_read_again_is_not_written(path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    keeper = _keeper(path)
    before = path.read_bytes()
    monkeypatch.setattr("caddet.core.formats.project.MOST_PARTS", 300)
    with pytest.raises(InputError, match="too large for one file"):
        _keep(keeper, DEMO, 1015.0)
    assert path.read_bytes() == before


def test_as_many_people_as_a_table_may_bring_stay_within_the_bounds() -> None:
    full = {code: (m.low + m.high) / 2 for code, m in MEASURES.items()}
    person = Person.of("Ringer 9999", full, date="2026-11-20")
    one = Written.of(
        Document.model_validate({**DEMO.parts(), "people": (person,), "wearer": person.name})
    ).text.encode()
    two = Written.of(
        Document.model_validate(
            {
                **DEMO.parts(),
                "people": (person, person.model_copy(update={"name": "Ringer 9998"})),
                "wearer": person.name,
            }
        )
    ).text.encode()
    assert 10_000 * (parts_of(two) - parts_of(one)) + parts_of(one) < MOST_PARTS
    assert 10_000 * (len(two) - len(one)) + len(one) < BIGGEST_DOCUMENT


def test_a_fault_of_ours_in_the_undo_does_not_keep_the_project_from_being_saved(
    path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    keeper = _keeper(path)

    def fails(self: Journal, entries: object) -> None:
        raise ZeroDivisionError("ours")

    with monkeypatch.context() as broken:
        broken.setattr(Journal, "add", fails)
        after = _keep(keeper, DEMO, 1016.0)
        assert "faults.log" in keeper.undo_error and open_project(path).document == after
    last = _keep(keeper, after, 1017.0)
    assert Keeper(path, open_project(path)).past(last).undone().undo_deed == "hip 1016"


def test_a_photograph_stays_with_the_project_whatever_becomes_of_the_workrooms(path: Path) -> None:
    name = store_photo(b"\xff\xd8\xff a picture")
    keeper = _keeper(path)
    after = edits.set_photograph(DEMO, "toile", name)
    keeper.keep(after, [Edited(DEMO, after, "photo")])
    (photo_folder() / name).unlink()
    again = Keeper(path, open_project(path))
    again.past(after)
    _keep(again, after, 1013.0)
    assert open_project(path).pictures == {name: b"\xff\xd8\xff a picture"}
    plain = edits.set_photograph(after, "toile", None)
    save_project(plain, path, no_pictures)
    assert not open_project(path).pictures, "what is no longer referred to is not kept"


def test_a_state_folder_that_is_full_when_a_project_is_opened_costs_nothing(
    path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: object) -> int:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as broken:
        broken.setattr("caddet.core.formats.journal.append_synced", full)
        opened = open_project(path)
        keeper = Keeper(path, opened)
        assert keeper.past(opened.document).document == DEMO and "tried again" in keeper.undo_error
        after = _keep(keeper, DEMO, 1011.0)
    last = _keep(keeper, after, 1012.0)
    past = Keeper(path, open_project(path)).past(last)
    assert [m.deed for m in past.moments] == [
        "Start",
        "hip 1011",
        "hip 1012",
    ] and past.undone().undone().document == DEMO


def test_only_ordinary_files_are_read_and_written(tmp_path: Path) -> None:
    pipe = tmp_path / "pipe.caddet"
    os.mkfifo(pipe)
    loop = tmp_path / "loop.caddet"
    loop.symlink_to(loop)
    for odd in (pipe, Path("/dev/zero"), Path("/dev/null"), tmp_path, loop, tmp_path / ("x" * 300), Path("a\0b")):
        with pytest.raises(InputError):
            read_whole(odd)
        with pytest.raises(InputError):
            write_whole(odd, b"x")
    assert read_whole(tmp_path / "full.txt") if (tmp_path / "full.txt").exists() else True
    (tmp_path / "large").write_bytes(b"x" * 100)
    with pytest.raises(InputError, match="larger"):
        read_whole(tmp_path / "large", 99)


@pytest.mark.parametrize("name", ["あ" * 80, "é" * 200, "plain", "\ud800odd"])
def test_names_are_cut_by_bytes_never_inside_a_letter(name: str, tmp_path: Path) -> None:
    cut = cut_to_bytes(name, 150)
    assert len(cut.encode()) <= 150 and (name.startswith(cut) or "?" in cut)
    write_whole(tmp_path / f"{cut}.caddet", b"x", keep_previous=True)
    write_whole(tmp_path / f"{cut}.caddet", b"y", keep_previous=True)


def test_a_free_name_is_found_beside_a_file(tmp_path: Path) -> None:
    path = tmp_path / "a.caddet"
    for wanted in ("a (mine).caddet", "a (mine 2).caddet"):
        beside = free_path(path, "mine")
        assert beside.name == wanted
        beside.touch()


def test_a_document_without_a_file_has_its_own_text() -> None:
    written = Written.of(DEMO)
    assert written.token == open_token(DEMO) and to_bytes(DEMO, no_pictures) == to_bytes(DEMO, no_pictures)


def open_token(document: Document) -> str:
    from caddet.core.formats.project import read_project

    opened: Opened = read_project(to_bytes(document, no_pictures), "here")
    return opened.token
