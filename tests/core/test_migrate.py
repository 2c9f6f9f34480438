"""Files that an earlier version wrote: every one opens, with its undo to the first edit.

``tests/data/older/v2`` was written by the version before schema 3, ``first.caddet`` there is of schema 1;
``v3`` by the version before schema 4, ``v4`` by the one before schema 5.
"""

from __future__ import annotations

import json
import shutil
import zipfile
from pathlib import Path
from typing import Any

import pytest

from caddet.core.body.person import Person
from caddet.core.errors import InputError
from caddet.core.formats.journal import Edited, Journal, journal_path
from caddet.core.formats.keeping import Keeper
from caddet.core.formats.listing import pieces_listing
from caddet.core.formats.migrate import StepIds, forward, store_forward
from caddet.core.formats.migrate_names import names_and_places
from caddet.core.formats.migrate_outlines import outlines_as_pieces
from caddet.core.formats.named_store import BLOCKS_KEPT
from caddet.core.formats.older_journal import journal_of_schema, older_journal_path
from caddet.core.formats.people_store import kept_people, people_folder
from caddet.core.formats.project import open_project, save_project
from caddet.core.formats.repair import repaired
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.document import SCHEMA, Document, PiecesSource
from caddet.core.recipe.history import History
from caddet.core.recipe.storing import piece_of
from caddet.core.recipe.values import Choice, Flag, Number, References, Text
from tests.making import DATA, step
from tests.soak.redrawn import differences

OLD = DATA / "older" / "v2"
BEFORE = DATA / "older" / "v3"
FOURTH = DATA / "older" / "v4"


@pytest.fixture
def old(tmp_path: Path) -> Path:
    """The old projects with their journals where that version kept them."""
    for name in ("skirt", "bodice", "first"):
        shutil.copy(OLD / f"{name}.caddet", tmp_path)
    for name in ("skirt", "bodice"):
        path = older_journal_path(tmp_path / f"{name}.caddet")
        path.parent.mkdir(parents=True, exist_ok=True)
        shutil.copy(OLD / f"{name}.caddet.journal", path)
    return tmp_path


def _old_moments(name: str) -> list[dict]:  # type: ignore[type-arg]
    """What undo and redo could reach in the old journal, read again by hand."""
    moments: list[dict] = []  # type: ignore[type-arg]
    now = 0
    for line in (OLD / f"{name}.caddet.journal").read_text().split("\n"):
        if line:
            raw = json.loads(line)
            if "document" in raw:
                moments = [*moments[: now + 1], raw] if moments else [raw]
                now = len(moments) - 1
            else:
                now = raw["now"]
    return moments


def _opened(path: Path) -> tuple[Document, History]:
    opened = open_project(path)
    assert opened.whole
    keeper = Keeper(path, opened)
    return opened.document, keeper.past(opened.document)


def test_values_get_their_kinds_and_names_become_references(old: Path) -> None:
    skirt = open_project(old / "skirt.caddet").document
    flare, slit, *_, band = skirt.recipe.steps
    assert "edges" not in flare.values and flare.values["amount"] == Number(value=35.0)
    assert slit.values["edges"] == References(kind="edges", refs=("back.centre_back",))
    assert band.values["part"] == Choice(name="waistband") and band.values["edges"].refs == ("waist",)
    assert skirt.finishing.exceptions == {"waistband.inside": 10.0, "front.side": 22.0}
    assert skirt.roles == {"main": "Quay twill"} and skirt.lay.fold == "better" and skirt.table["back"].turn == 12.0
    bodice = open_project(old / "bodice.caddet").document
    assert bodice.recipe.options == {"sleeve": Flag(on=False)} and bodice.recipe.fit == "loose_woven"
    pivot, _, unknown = bodice.recipe.steps
    assert pivot.values["dart"].refs == ("front.bust_dart",) and pivot.values["to"].edge == "front.shoulder"
    assert unknown.values == {"piece": Text(text="front"), "amount": Number(value=3.5), "deep": Flag(on=True)}


def _runs(listing: dict) -> dict:  # type: ignore[type-arg]
    """The length of every run of every piece (open parts apart), and its allowance; bands by what they are."""
    found: dict = {}  # type: ignore[type-arg]
    for piece in listing["pieces"]:
        part = name = piece["name"].rpartition(".")[2]
        number = 2
        while name in found:  # as schema 3 named a second part of a kind
            name, number = f"{part}_{number}", number + 1
        runs = found.setdefault(name, {})
        for edge in piece["edges"]:
            run = "slit" if edge["finish"] == "slit" else edge["label"].replace(" ", "_")
            runs[run] = [runs.get(run, [0.0])[0] + edge["length"], edge["allowance"]]
    return found


def as_was(was: list[float], run: str) -> list[object]:
    """What a run was: its length to a hair and its allowance. A lengthened side runs on smoothly now."""
    length, allowance = was
    return [pytest.approx(length, abs=5e-3 if run == "side" else 2e-3), allowance]


def about(was: list[float]) -> list[object]:
    """What a run of a draft that has been mended since may be at most: a fifth longer or shorter."""
    length, allowance = was
    return [pytest.approx(length, abs=max(length * 0.2, 12.0)), allowance]


# Their drafts were mended after those files were written. ``redrawn.json`` holds them as mended, read anew with
# ``_summed(_runs(...))``: what changes them again has to say so there.
REDRAWN = ("bodice", "knit", "trousers")


def _summed(edges: dict[str, list[float]]) -> dict[str, list[float]]:
    """Parts of a run as version 2 named them (``waist.2``), put together."""
    found: dict[str, list[float]] = {}
    for edge, (length, allowance) in edges.items():
        run = edge.partition(".")[0]
        found[run] = [found.get(run, [0.0])[0] + length, allowance]
    return found


def test_an_old_garment_is_drafted_as_it_was(old: Path) -> None:
    """``edges.json`` was read off with the version that wrote the files: every edge's length and allowance."""
    wanted, mended = (json.loads((OLD / f"{name}.json").read_text()) for name in ("edges", "redrawn"))
    for name, pieces in wanted.items():
        now = _runs(pieces_listing(make(EvaluateRequest(open_project(old / f"{name}.caddet").document))))
        for piece, edges in pieces.items():
            for run, was in _summed(edges).items():
                if name in REDRAWN:
                    assert now[piece][run] == about(was), (name, piece, run)
                    assert now[piece][run] == as_was(mended[name][piece][run], run), (name, piece, run)
                else:
                    assert now[piece][run] == as_was(was, run), (name, piece, run)


@pytest.mark.parametrize("name", ["demo", "bodice", "skirt", "knit", "trousers"])
def test_a_project_of_the_version_before_is_the_same_garment(name: str) -> None:
    """Written by the version before schema 4, with what it measured: lengths, allowances, and what was accepted."""
    wanted = json.loads((BEFORE / "edges.json").read_text())[name]
    mended = json.loads((BEFORE / "redrawn.json").read_text())
    made = make(EvaluateRequest(open_project(BEFORE / f"{name}.caddet").document))
    assert not [outcome.stuck for outcome in made.evaluated.outcomes if outcome.stuck]
    now = _runs(pieces_listing(made))
    for piece, edges in wanted["edges"].items():
        for run, was in edges.items():
            if name in REDRAWN:
                assert now[piece][run] == about(was), (name, piece, run)
                assert now[piece][run] == as_was(mended[name][piece][run], run), (name, piece, run)
            else:
                assert now[piece][run] == as_was(was, run), (name, piece, run)
    was_fine = {(one.kind, one.name) for one in made.document.accepted}
    lines = {(line.kind, line.name): line for line in made.proof if (line.kind, line.name) in was_fine}
    assert len(lines) == len([line for line in wanted["proof"] if line[5]]) == len(made.document.accepted)
    assert all(line.accepted or line.holds for line in lines.values()), "what was fine stays fine, or holds by now"
    assert any(line.accepted for line in lines.values()) == (name == "skirt")
    assert sum(len(piece.darts) for piece in made.pattern.pieces) >= (3 if name == "bodice" else 0)  # type: ignore[union-attr]


@pytest.mark.parametrize("name", ["knit", "bodice", "skirt"])
def test_the_undo_of_the_version_before_is_taken_over(tmp_path: Path, name: str) -> None:
    path = tmp_path / f"{name}.caddet"
    shutil.copy(BEFORE / f"{name}.caddet", path)
    journal = journal_of_schema(path, 3)
    journal.parent.mkdir(parents=True, exist_ok=True)
    shutil.copy(BEFORE / f"{name}.caddet.journal", journal)
    document, history = _opened(path)
    assert history.document == document and history.undo_deed == "all of it"
    first = history.undone().document
    assert first.schema_version == SCHEMA and first != document and journal.read_bytes(), "the old journal is only read"
    keeper = Keeper(path, open_project(path))
    keeper.past(document)
    changed = edits.set_measure(document, "hip", 1003.0)
    keeper.keep(changed, [Edited(document, changed, "hip")])
    again, past = _opened(path)
    assert again == changed and past.undone().undone().document == first


def _measured(made: Made) -> dict[str, dict[str, Any]]:
    """What ``edges.json`` of schema 4 says of a garment."""
    listing, pieces = pieces_listing(made), {}
    for piece in listing["pieces"]:
        edges: dict[str, Any] = {}
        for edge in piece["edges"]:
            length = edges.get(edge["name"], [0.0])[0] + edge["length"]
            edges[edge["name"]] = [length, edge["allowance"], edge["finish"]]
        pieces[piece["name"]] = {
            "edges": edges,
            "darts": len(piece["darts"]),
            "cut": piece["cut"],
            "on_fold": piece["on_fold"],
            "pair": piece["pair"],
            "levels": {level["name"]: level["length"] for level in piece["levels"]},
            "notches": [[notch["edge"], notch["at"], notch["double"]] for notch in piece["notches"]],
        }
    seams = {seam["name"]: [seam["kind"], seam["length_a"], seam["length_b"]] for seam in listing["seams"]}
    return {"pieces": pieces, "seams": seams}


@pytest.mark.parametrize("name", ["size", "tabard"])
def test_outlines_of_schema_4_become_the_same_pieces(name: str) -> None:
    """``edges.json`` was read off with the version that wrote the files."""
    wanted = json.loads((FOURTH / "edges.json").read_text())[name]
    opened = open_project(FOURTH / f"{name}.caddet")
    made = make(EvaluateRequest(opened.document))
    assert opened.whole and not [one for one in made.findings if one.severity == "stops"]
    assert not list(differences(wanted, json.loads(json.dumps(_measured(made)))))
    assert all(isinstance(source, PiecesSource) for source in opened.document.recipe.sources)
    for record in opened.document.cut.values():
        assert record.piece.id == "front" and record.allowances == {"front.side": 15.0}
        assert piece_of(record.piece).run_length("side") == pytest.approx(400.125, abs=0.01)
    assert bool(opened.document.cut) == (name == "tabard")


@pytest.mark.parametrize("name", ["size", "tabard"])
def test_the_undo_of_schema_4_is_taken_over(tmp_path: Path, name: str) -> None:
    path = tmp_path / f"{name}.caddet"
    shutil.copy(FOURTH / f"{name}.caddet", path)
    journal = journal_of_schema(path, 4)
    journal.parent.mkdir(parents=True, exist_ok=True)
    shutil.copy(FOURTH / f"{name}.caddet.journal", journal)
    before = journal.read_bytes()
    document, history = _opened(path)
    assert history.document == document and len(history.moments) == (5 if name == "tabard" else 2)
    while history.undo_deed is not None:
        history = history.undone()
    (source,) = history.document.recipe.sources
    assert isinstance(source, PiecesSource) and not history.document.recipe.steps and not history.document.cut
    assert journal.read_bytes() == before, "the old journal is only read"


def test_outlines_of_schema_4_that_lie_are_left_for_the_repair() -> None:
    raw = json.loads(zipfile.ZipFile(FOURTH / "tabard.caddet").read("document.json"))
    source = raw["recipe"]["sources"][0]
    source["outlines"][0]["edges"][1]["segments"] = "long"
    source["seams"] += [7, {"name": 3, "layers": None}]
    source["outlines"].append([])
    document, aside = repaired(forward(raw, ""), "")
    (kept, *_) = document.recipe.sources
    assert isinstance(kept, PiecesSource) and [piece.id for piece in kept.pieces] == ["back"]
    assert len(aside) >= 4 and all(one.place.startswith("recipe.sources.0") for one in aside)
    assert make(EvaluateRequest(document)).pattern is not None
    for odd in (
        {"recipe": {"sources": 3}},
        {"recipe": [], "cut": 4},
        {"recipe": {"sources": [{"kind": "outlines", "outlines": 3}]}, "cut": {"a": {"outline": None}}},
    ):
        assert outlines_as_pieces(odd)


def test_names_of_schema_3_are_carried_along() -> None:
    bodice = open_project(BEFORE / "bodice.caddet").document
    first, second, _, last = bodice.recipe.steps
    assert first.values["dart"].refs == ("front.bust_dart",)
    assert second.values["dart"].refs == (f"front.bust_dart[{first.id}.1]",), "what was left of it"
    assert last.values["dart"].refs == (f"front.bust_dart[{first.id}.2]",), "what had moved"
    skirt = open_project(BEFORE / "skirt.caddet").document
    slit, flare, band, _ = skirt.recipe.steps
    assert skirt.finishing.exceptions == {f"back.centre_back[{slit.id}.1]": 33.0}
    assert flare.values["edges"].refs == ("front.side",) and flare.values["both"] == Flag(on=False)
    assert set(skirt.table) == {f"{band.id}.cuff"}
    assert {(one.kind, one.name, one.place) for one in skirt.accepted} == {
        ("seam", "side", "front.side"),
        ("closure", "side", "front.side"),
    }
    odd = names_and_places({"recipe": {"sources": [], "steps": [{"id": "s2", "kind": "pivot_dart", "values": {
        "piece": {"kind": "pieces", "refs": ["front"]}, "dart": {"kind": "dart", "refs": ["front.d"]}, "to": {"kind": "edges", "refs": ["front.side"]},
        "at": {"kind": "formula", "text": "hip / 9"}}}, 7, {"kind": "slit", "values": 3}]}, "accepted": [3], "table": []})  # fmt: skip
    assert "hip / 9" in odd["recipe"]["steps"][0]["note"] and odd["recipe"]["steps"][1] == 7


@pytest.mark.parametrize("name", ["skirt", "bodice"])
def test_undo_goes_back_to_the_first_edit_of_the_old_version(old: Path, name: str) -> None:
    document, history = _opened(old / f"{name}.caddet")
    wanted = _old_moments(name)
    assert [moment.deed for moment in history.moments] == [raw["deed"] for raw in wanted]
    assert history.document == document
    for moment, raw in zip(history.moments, wanted, strict=True):
        got, before = moment.document, raw["document"]
        assert list(got.people) == [Person.model_validate(one) for one in before["people"]]
        assert [s.kind for s in got.recipe.steps] == [s["kind"] for s in before["recipe"]["steps"]]
        assert got.finishing.exceptions == before["finishing"]["exceptions"] and got.cloth == before["cloth"]
        assert dict(got.recipe.overrides) == before["recipe"]["overrides"]
        assert {k: v.model_dump() for k, v in got.table.items()} == before["table"]


def test_a_step_keeps_its_id_between_the_moments_and_no_id_is_given_twice(old: Path) -> None:
    document, history = _opened(old / "skirt.caddet")
    by_id: dict[str, set[str]] = {}
    for moment in history.moments:
        ids = [one.id for one in moment.document.recipe.steps]
        assert len(set(ids)) == len(ids)
        for one in moment.document.recipe.steps:
            by_id.setdefault(one.id, set()).add(one.kind)
    assert all(len(kinds) == 1 for kinds in by_id.values()), "an id is always the same step"
    moved = [m.document.recipe.steps for m in history.moments if m.deed in ("Lengthen or shorten", "Move step 1")]
    assert {s.id for s in moved[0]} == {s.id for s in moved[1]} and moved[0] != moved[1]
    fresh = edits.add_step(document, step("flare")).recipe.steps[-1].id
    assert fresh not in by_id, "a new step gets an id that no moment of the past has"


def test_ids_follow_steps_that_are_moved_changed_taken_out_and_put_back() -> None:
    ids = StepIds()
    a, b, c = ({"kind": kind, "values": {}} for kind in ("lengthen", "flare", "slit"))
    assert ids.given([a, b]) == ["s2", "s3"]
    assert ids.given([b, a]) == ["s3", "s2"]
    assert ids.given([b, c, a]) == ["s3", "s4", "s2"]
    changed = {"kind": "slit", "values": {"height": 3.0}}
    assert ids.given([b, changed, a]) == ["s3", "s4", "s2"]
    assert ids.given([b, a]) == ["s3", "s2"]
    assert ids.given([b, a, b]) == ["s3", "s2", "s5"]


def test_the_old_journal_is_left_alone_and_the_new_one_goes_on_from_it(old: Path) -> None:
    path = old / "skirt.caddet"
    before = older_journal_path(path).read_bytes()
    opened = open_project(path)
    keeper = Keeper(path, opened)
    history = keeper.past(opened.document)
    count = len(history.moments)
    changed = edits.set_measure(opened.document, "hip", 1001.0)
    keeper.keep(changed, [Edited(opened.document, changed, "hip")])
    assert older_journal_path(path).read_bytes() == before
    again, past = _opened(path)
    assert again == changed and past.undo_deed == "hip"
    assert len(past.moments) == history.now + 2 <= count + 1
    while past.undo_deed is not None:
        past = past.undone()
    assert past.document == history.moments[0].document


def test_what_cannot_be_read_of_an_old_journal_is_passed_over(old: Path) -> None:
    path = old / "skirt.caddet"
    journal = older_journal_path(path)
    lines = journal.read_bytes().split(b"\n")
    lines[2] = lines[2][:500]
    lines.insert(4, b'{"now": 99}')
    lines.insert(5, b"\xff\xfe nonsense")
    journal.write_bytes(b"\n".join(lines))
    document, history = _opened(path)
    assert history.document == document and len(history.moments) == len(_old_moments("skirt")) - 1
    assert all(moment.document for moment in history.moments)


def test_the_workrooms_files_are_taken_forward() -> None:
    for folder, name in ((people_folder(), "people"), (BLOCKS_KEPT.folder, "blocks")):
        shutil.copytree(OLD / name, folder)
    people, told = kept_people()
    assert [one.person.name for one in people] == ["Bram", "Wren"] and people[0].archived and not told
    blocks, told = BLOCKS_KEPT.kept()
    assert not told and blocks[0].options == {"sleeve": Flag(on=False)} and blocks[0].overrides["front_bust"]
    for bad in ({"format": 99}, {"format": "x"}, [], None, {}):
        with pytest.raises(InputError):
            store_forward(bad, "here")


@pytest.mark.parametrize("version", [0, -1, "2", True, None, 6, 99, 2.5])
def test_a_schema_that_is_not_ours_is_refused_in_a_sentence(version: object) -> None:
    with pytest.raises(InputError, match=r"newer Caddet|schema_version"):
        forward({"schema_version": version}, "here")


def test_steps_unknown_to_this_version_are_kept_shown_skipped_and_saved_back(tmp_path: Path) -> None:
    path = tmp_path / "a.caddet"
    shutil.copy(OLD / "skirt.caddet", path)
    opened = open_project(path)
    document = opened.document
    save_project(document, path, opened.pictures.get)
    with zipfile.ZipFile(path) as archive:
        raw = json.loads(archive.read("document.json"))
    odd = {
        "id": "s77",
        "kind": "yoke_to_come",
        "values": {"how": {"kind": "braid", "n": [1, {"of": 2.5}]}, "x": {"kind": "number", "value": 3.0}},
        "on": True,
        "note": "for later",
        "group": "yokes",
    }
    raw["recipe"]["steps"].insert(0, odd)
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("document.json", json.dumps(raw))
    opened = open_project(path)
    made = make(EvaluateRequest(opened.document))
    assert opened.whole and made.pattern is not None
    assert "kept and passed over" in made.evaluated.outcomes[0].stuck
    assert made.pattern == make(EvaluateRequest(document)).pattern
    save_project(edits.set_measure(opened.document, "hip", 1000.0), path, opened.pictures.get)
    with zipfile.ZipFile(path) as archive:
        assert json.loads(archive.read("document.json"))["recipe"]["steps"][0] == odd


def test_a_journal_of_a_newer_version_is_left_alone(old: Path) -> None:
    path = old / "first.caddet"
    newer = journal_path(path).with_name(journal_path(path).name.replace(f".{SCHEMA}.", f".{SCHEMA + 1}."))
    newer.parent.mkdir(parents=True, exist_ok=True)
    newer.write_text("of a version to come\n")
    _, history = _opened(path)
    assert len(history.moments) == 1 and newer.read_text() == "of a version to come\n"
    assert len(Journal.read(journal_path(path)).lines) == 1
