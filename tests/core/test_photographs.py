"""Whatever stores a project stores all of it: its photographs, its undo, the version before, and every key."""

from __future__ import annotations

import io
import json
import random
import shutil
import zipfile
from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image

from caddet.cli import main
from caddet.core.demo import demo_document
from caddet.core.errors import CaddetError, InputError
from caddet.core.files.writing import previous_of
from caddet.core.formats import project as project_module
from caddet.core.formats.journal import Edited, Journal, Moved, journal_path
from caddet.core.formats.keeping import Keeper, copy_undo
from caddet.core.formats.people_store import named_photo
from caddet.core.formats.project import keep_aside, no_pictures, open_project, read_project, save_project, to_bytes
from caddet.core.formats.undone_photographs import undone_folder
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document, Recipe, TracedSource
from caddet.core.recipe.history import History
from caddet.core.recipe.traced import PhotoTracing
from tests.core.test_migrate import OLD
from tests.photos import traced_project
from tests.soak.editing import PHOTOGRAPHS, edited

DEMO = demo_document()
ONE, TWO, THREE = PHOTOGRAPHS


def with_photographs(*files: str) -> Document:
    """The demo with photographs in its log and of its wearer."""
    document = DEMO
    for number, file in enumerate(files):
        document = edits.set_photograph(document, f"toile {number}", file)
    return edits.change_person(document, document.wearer, photo=files[0])


def bytes_in(path: Path) -> dict[str, bytes]:
    """The photographs in a project's file."""
    with zipfile.ZipFile(path) as archive:
        names = [name for name in archive.namelist() if name.startswith("photographs/")]
        return {name.removeprefix("photographs/"): archive.read(name) for name in names}


def whole(path: Path, *files: str) -> bool:
    """Whether a file has just these photographs, byte for byte."""
    return bytes_in(path) == {name: PHOTOGRAPHS[name] for name in files}


# --- every way that a project is stored -----------------------------------------------------------


def by_saving(path: Path, folder: Path) -> Path:
    opened = open_project(path)
    save_project(opened.document, folder / "b.caddet", opened.pictures.get)
    return folder / "b.caddet"


def by_the_keeper(path: Path, folder: Path) -> Path:
    opened = open_project(path)
    keeper = Keeper(path, opened)
    keeper.past(opened.document)
    keeper.keep(opened.document, [])
    return path


def by_adding_twice(path: Path, folder: Path) -> Path:
    for amount in ("2cm", "3cm"):
        assert main(["add", str(path), "lengthen", f"amount={amount}", "at=40cm"]) in (0, 1)
    assert bytes_in(previous_of(path)) == bytes_in(path), "and so has the version before"
    return path


def by_adding_to_a_copy(path: Path, folder: Path) -> Path:
    assert main(["add", str(path), "lengthen", "amount=2cm", "at=40cm", "-o", str(folder / "c.caddet")]) in (0, 1)
    return folder / "c.caddet"


def by_a_copy_with_its_undo(path: Path, folder: Path) -> Path:
    opened = open_project(path)
    save_project(opened.document, folder / "d.caddet", opened.pictures.get)
    copy_undo(path, folder / "d.caddet")
    return folder / "d.caddet"


def by_reading_again(path: Path, folder: Path) -> Path:
    opened = read_project(path.read_bytes(), "again")
    (folder / "e.caddet").write_bytes(to_bytes(opened.document, opened.pictures.get))
    return folder / "e.caddet"


WAYS: tuple[Callable[[Path, Path], Path], ...] = (
    by_saving,
    by_the_keeper,
    by_adding_twice,
    by_adding_to_a_copy,
    by_a_copy_with_its_undo,
    by_reading_again,
)


@pytest.mark.parametrize("way", WAYS, ids=lambda way: way.__name__)
def test_every_way_of_storing_keeps_every_photograph_and_every_key(
    way: Callable[[Path, Path], Path], tmp_path: Path
) -> None:
    chance = random.Random(way.__name__)
    for number in range(3):
        document = with_photographs(ONE, TWO)
        for _ in range(12):
            document = edited(document, chance)
        files = document.photo_files()
        path = tmp_path / f"{number}.caddet"
        save_project(document, path, PHOTOGRAPHS.get)
        (tmp_path / str(number)).mkdir()
        stored = way(path, tmp_path / str(number))
        assert whole(stored, *files)
        opened = open_project(stored)
        assert opened.whole and opened.pictures.keys() == files
        steps = len(document.recipe.steps)
        again = opened.document
        shorter = again.recipe.model_copy(
            update={"steps": again.recipe.steps[:steps], "next_id": document.recipe.next_id}
        )
        assert again.model_copy(update={"recipe": shorter}) == document, "but for the steps that were added"


def test_an_edit_by_command_is_in_the_undo_of_the_window(tmp_path: Path) -> None:
    path = tmp_path / "a.caddet"
    save_project(with_photographs(ONE), path, PHOTOGRAPHS.get)
    opened = open_project(path)
    keeper = Keeper(path, opened)
    keeper.past(opened.document)
    after = edits.set_measure(opened.document, "hip", 1010.0, "2026-11-20")
    keeper.keep(after, [Edited(opened.document, after, "hip")])
    assert main(["add", str(path), "lengthen", "amount=2cm", "at=40cm"]) in (0, 1)
    again = open_project(path)
    past = Keeper(path, again).past(again.document)
    assert [moment.deed for moment in past.moments][:2] == ["Start", "hip"] and "2" in past.moments[2].deed
    assert past.undone().document == after and past.undone().undone().document == opened.document


def test_sizes_keep_the_photograph_their_pieces_were_traced_from(tmp_path: Path) -> None:
    path = tmp_path / "shirt.caddet"
    traced_project(path)
    (name,) = bytes_in(path)
    people = tmp_path / "people.csv"
    people.write_text("name,hip,waist,height,bust\nAnna,98,74,168,92\nBram,104,88,180,100\n")
    assert main(["grade", str(path), "--people", str(people), "--way", "redraft", "-o", str(tmp_path / "out")]) in (
        0,
        1,
    )
    for one in ("Anna", "Bram"):
        assert bytes_in(tmp_path / "out" / f"{one}.caddet") == bytes_in(path), one
    assert name == named_photo(bytes_in(path)[name])


def test_a_document_with_photographs_is_never_written_as_one_without(tmp_path: Path) -> None:
    with pytest.raises(CaddetError, match="not at hand"):
        save_project(with_photographs(ONE), tmp_path / "a.caddet", no_pictures)
    assert not (tmp_path / "a.caddet").exists()
    save_project(DEMO, tmp_path / "a.caddet", no_pictures)


def test_more_photographs_than_a_file_can_hold_are_not_saved_and_not_lost(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "a.caddet"
    save_project(with_photographs(ONE), path, PHOTOGRAPHS.get)
    monkeypatch.setattr(project_module, "BIGGEST_PICTURES", len(PHOTOGRAPHS[ONE]) + 10)
    with pytest.raises(InputError, match="photographs are too large"):
        save_project(with_photographs(ONE, TWO), path, PHOTOGRAPHS.get)
    assert whole(path, ONE)


# --- undo -----------------------------------------------------------------------------------------


class Desk:
    """A project that is opened, edited and closed again and again."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.open()

    def open(self) -> None:
        opened = open_project(self.path)
        self.keeper = Keeper(self.path, opened)
        self.history: History = self.keeper.past(opened.document)

    def edit(self, document: Document, deed: str) -> None:
        before = self.history.document
        self.history = self.history.edited(document, deed)
        self.keeper.keep(document, [Edited(before, document, deed)])

    def undo(self) -> None:
        self.history = self.history.undone()
        self.keeper.keep(self.history.document, [Moved(-1)])


def test_a_photograph_that_was_taken_out_comes_back_with_undo_after_closing(tmp_path: Path) -> None:
    path = tmp_path / "a.caddet"
    save_project(with_photographs(ONE, TWO), path, PHOTOGRAPHS.get)
    desk = Desk(path)
    desk.edit(edits.set_photograph(desk.history.document, "toile 1", None), "without")
    assert whole(path, ONE)
    desk.open()
    desk.edit(edits.set_measure(desk.history.document, "hip", 1001.0, "2026-11-20"), "hip")
    desk.open()
    desk.undo()
    desk.undo()
    assert whole(path, ONE, TWO), "its bytes, not its name only"
    desk.open()
    assert desk.keeper.picture(TWO) == PHOTOGRAPHS[TWO]


def test_a_photograph_that_was_put_in_and_undone_comes_back_with_redo_and_goes_along_to_a_copy(tmp_path: Path) -> None:
    path, copy = tmp_path / "a.caddet", tmp_path / "b.caddet"
    save_project(DEMO, path, no_pictures)
    desk = Desk(path)
    assert desk.keeper.take_picture(PHOTOGRAPHS[THREE]) == THREE
    desk.edit(edits.set_photograph(desk.history.document, "back view", THREE), "photograph")
    desk.undo()
    assert whole(path)
    desk.open()
    save_project(desk.history.document, copy, desk.keeper.picture)
    copy_undo(path, copy)
    shutil.rmtree(undone_folder(path))
    other = Desk(copy)
    other.history = other.history.redone()
    other.keeper.keep(other.history.document, [Moved(1)])
    assert whole(copy, THREE)


def test_a_photograph_is_there_when_its_edit_is_whatever_happens_between(tmp_path: Path) -> None:
    path = tmp_path / "a.caddet"
    save_project(DEMO, path, no_pictures)
    desk = Desk(path)
    desk.keeper.take_picture(PHOTOGRAPHS[ONE])
    after = edits.set_photograph(desk.history.document, "toile", ONE)
    assert desk.keeper.journal is not None
    desk.keeper.journal.add([Edited(desk.history.document, after, "photograph")])  # and then the power goes
    desk.open()
    assert desk.history.redo_deed == "photograph" and desk.keeper.picture(ONE) == PHOTOGRAPHS[ONE]


def test_photographs_that_no_moment_has_any_more_go_when_the_undo_is_made_smaller(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "a.caddet"
    save_project(DEMO, path, no_pictures)
    desk = Desk(path)
    for name in (ONE, TWO):
        desk.keeper.take_picture(PHOTOGRAPHS[name])
    desk.edit(edits.set_photograph(desk.history.document, "toile", ONE), "one")
    desk.edit(edits.set_photograph(desk.history.document, "toile", None), "none")
    monkeypatch.setattr(Journal, "wants_compacting", True)
    desk.open()
    assert [one.name for one in undone_folder(path).iterdir()] == [ONE]
    desk.undo()
    assert whole(path, ONE)


# --- damage and old files -------------------------------------------------------------------------


def rewritten(path: Path, change: Callable[[dict[str, bytes]], None]) -> None:
    with zipfile.ZipFile(path) as archive:
        parts = {name: archive.read(name) for name in archive.namelist()}
    change(parts)
    with zipfile.ZipFile(path, "w") as archive:
        for name, data in parts.items():
            archive.writestr(name, data)


def test_a_damaged_photograph_is_said_and_its_bytes_are_kept(tmp_path: Path) -> None:
    path = tmp_path / "a.caddet"
    save_project(with_photographs(ONE, TWO), path, PHOTOGRAPHS.get)
    rewritten(path, lambda parts: parts.update({f"photographs/{TWO}": PHOTOGRAPHS[TWO][:-9]}))
    before = path.read_bytes()
    opened = open_project(path)
    assert "“toile 1” is damaged" in opened.findings[0].sentence and opened.document == with_photographs(ONE, TWO)
    kept = keep_aside(opened, path)
    assert kept is not None and kept.read_bytes() == before
    assert main(["add", str(path), "lengthen", "amount=2cm", "at=40cm"]) == 1
    assert whole(path, ONE) and kept.read_bytes() == before


def test_what_is_set_aside_takes_no_photograph_with_it(tmp_path: Path) -> None:
    path = tmp_path / "a.caddet"
    save_project(with_photographs(ONE, TWO), path, PHOTOGRAPHS.get)

    def spoil(parts: dict[str, bytes]) -> None:
        raw = json.loads(parts["document.json"])
        raw["photographs"]["toile 1"] = {"odd": TWO}
        parts["document.json"] = json.dumps(raw).encode()

    rewritten(path, spoil)
    before = path.read_bytes()
    opened = open_project(path)
    assert opened.aside and opened.document.photo_files() == {ONE}
    keep_aside(opened, path)
    assert any(one.read_bytes() == before for one in tmp_path.glob("a.damaged-*.caddet"))


def test_the_photographs_of_an_older_project_are_taken_forward(tmp_path: Path) -> None:
    path = tmp_path / "skirt.caddet"
    shutil.copy(OLD / "skirt.caddet", path)
    (photograph,) = (OLD / "photographs").iterdir()
    rewritten(path, lambda parts: parts.update({f"photographs/{photograph.name}": photograph.read_bytes()}))
    assert main(["add", str(path), "lengthen", "amount=2cm", "at=40cm"]) in (0, 1)
    assert bytes_in(path) == {photograph.name: photograph.read_bytes()}


def test_a_traced_photograph_goes_through_every_command_that_writes(tmp_path: Path) -> None:
    path = tmp_path / "shirt.caddet"
    traced_project(path)
    before = bytes_in(path)
    assert before and Image.open(io.BytesIO(next(iter(before.values())))).format == "JPEG"
    for amount in ("2cm", "1cm"):
        assert main(["add", str(path), "lengthen", f"amount={amount}", "at=30cm"]) in (0, 1)
    assert bytes_in(path) == before == bytes_in(previous_of(path))
    document = open_project(path).document
    tracings = [one.tracing for one in document.recipe.sources if isinstance(one, TracedSource)]
    assert isinstance(tracings[0], PhotoTracing) and document.photographs[tracings[0].photograph] in before
    assert isinstance(document.recipe, Recipe) and journal_path(path).exists()
