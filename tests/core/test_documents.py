from __future__ import annotations

import io
import json
import os
import zipfile
from pathlib import Path

import pytest
from pydantic import ValidationError

from caddet.core.demo import demo_document
from caddet.core.errors import CaddetError, InputError
from caddet.core.files.writing import previous_of, write_whole
from caddet.core.formats import project
from caddet.core.formats.project import no_pictures, open_project, save_project, to_bytes
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document, Placement
from caddet.core.recipe.evaluate import StageCache, evaluate
from caddet.core.recipe.history import History
from tests.making import document, person, step

DEMO = demo_document()


# --- evaluation -----------------------------------------------------------------------------------


def test_editing_a_late_step_does_not_run_the_early_ones_again() -> None:
    cache = StageCache()
    before = evaluate(DEMO, cache=cache)
    misses = cache.misses
    changed = edits.set_step(DEMO, 2, step("slit", piece="back", run="centre_back", height=100.0))
    after = evaluate(changed, cache=cache)
    assert cache.misses == misses + 1
    assert after.outcomes[1] is before.outcomes[1] and after.outcomes[2] is not before.outcomes[2]


def test_the_cache_changes_no_answer_and_stays_small() -> None:
    cache = StageCache(size=8)
    for hip in range(940, 990, 5):
        changed = edits.set_measure(DEMO, "hip", float(hip))
        assert evaluate(changed, cache=cache) == evaluate(changed)
    assert len(cache.stages) <= 8
    assert evaluate(edits.set_option(DEMO, "length", 580.0), cache=cache) == evaluate(DEMO)


def test_a_request_and_its_answer_carry_the_same_number() -> None:
    request = EvaluateRequest(DEMO, "Bram", 7)
    answer = make(request)
    assert answer.request.number == 7 and answer.sums["hip_round"].value == 1100 + 40


def test_everyone_in_the_demo_gets_a_skirt_that_closes() -> None:
    for who in DEMO.people:
        answer = make(EvaluateRequest(DEMO, who.name))
        assert answer.pattern is not None
        assert not [line for line in answer.proof if line.kind == "closure" and line.verdict == "fails"]


# --- edits and undo -------------------------------------------------------------------------------


def test_documents_are_never_changed_in_place() -> None:
    before = to_bytes(DEMO, no_pictures)
    edits.set_measure(DEMO, "hip", 1000)
    edits.set_override(DEMO, "front_dart", "2cm")
    edits.add_step(DEMO, step("flare"))
    edits.move_step(DEMO, 0, 2)
    edits.change_cloth(DEMO, width=1200.0)
    edits.set_lay(DEMO, fold="open")
    edits.place_piece(DEMO, "front", Placement(x=1, y=2))
    assert to_bytes(DEMO, no_pictures) == before
    with pytest.raises(ValidationError):
        DEMO.title = "other"  # type: ignore[misc]


@pytest.mark.parametrize(
    "bad",
    [
        lambda d: edits.change_cloth(d, width=-3.0),
        lambda d: edits.set_lay(d, gap=1e9),
        lambda d: edits.set_finishing(d, hem=-1.0),
        lambda d: edits.choose_wearer(d, "Nobody"),
        lambda d: edits.add_person(d, person("Odile")),
        lambda d: edits.set_step(d, 99, None),
        lambda d: edits.choose_cloth(d, "Air"),
        lambda d: edits.move_step(d, 0, 9),
        lambda d: edits.set_ease(d, "hip", float("nan")),
    ],
)
def test_impossible_edits_are_refused(bad: object) -> None:
    with pytest.raises((CaddetError, ValidationError)):
        bad(DEMO)  # type: ignore[operator]


def test_undo_goes_back_to_the_start_and_returns_the_same_bytes() -> None:
    history = History.begin(DEMO)
    stages = [to_bytes(DEMO, no_pictures)]
    for index in range(30):
        history = history.edited(edits.set_measure(history.document, "hip", 900.0 + index), f"hip {index}")
        stages.append(to_bytes(history.document, no_pictures))
    for wanted in reversed(stages):
        assert to_bytes(history.document, no_pictures) == wanted
        history = history.undone()
    assert history.undo_deed is None and history.undone() == history
    for wanted in stages[1:]:
        history = history.redone()
        assert to_bytes(history.document, no_pictures) == wanted
    assert history.redo_deed is None
    forked = history.undone().undone().edited(DEMO, "another way")
    assert forked.redo_deed is None and len(forked.moments) == 30
    assert forked.edited(DEMO, "nothing new") is forked


# --- the project file -----------------------------------------------------------------------------


def test_a_project_comes_back_as_it_was_and_the_version_before_is_kept(tmp_path: Path) -> None:
    file = tmp_path / "skirt.caddet"
    save_project(DEMO, file, no_pictures)
    changed = edits.set_measure(DEMO, "hip", 1010.0)
    save_project(changed, file, no_pictures)
    assert open_project(file).document == changed and not open_project(file).findings
    assert open_project(previous_of(file)).document == DEMO
    assert sorted(p.name for p in tmp_path.iterdir() if not p.name.startswith("xdg")) == [
        "skirt.caddet",
        "skirt.caddet.previous",
    ]
    with zipfile.ZipFile(file) as archive:
        assert archive.namelist() == ["document.json"]


def _packed(raw: object, entry: str = "document.json") -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        archive.writestr(entry, raw if isinstance(raw, str) else json.dumps(raw))
    return buffer.getvalue()


RAW = json.loads(DEMO.model_dump_json())


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "cut short"),
        (b"not a zip at all", "cut short"),
        (to_bytes(DEMO, no_pictures)[:200], "cut short"),
        (_packed(RAW, "other.json"), "no document.json"),
        (_packed("{"), "line 1"),
        (_packed("[1, 2]"), "not a project"),
        (_packed({**RAW, "schema_version": 99}), "newer Caddet"),
        (_packed({}), "schema_version"),
        (_packed({"schema_version": 1}), "too little"),
        (_packed(json.dumps(RAW).replace("580.0", "NaN")), "NaN"),
        (_packed(json.dumps(RAW).replace("580.0", "1e999")), "without sense"),
        (_packed(json.dumps(RAW).replace("580.0", "9" * 5000)), "without sense"),
        (_packed({**RAW, "schema_version": "x"}), "schema_version"),
        (_packed("[" * 100_000), "document.json"),
    ],
)
def test_files_that_cannot_be_read_say_so_in_one_sentence(tmp_path: Path, data: bytes, words: str) -> None:
    file = tmp_path / "bad.caddet"
    file.write_bytes(data)
    with pytest.raises(InputError) as refused:
        open_project(file)
    assert words in str(refused.value) and str(file) in str(refused.value) and "\n" not in str(refused.value)
    assert file.read_bytes() == data


def test_every_truncation_is_refused_or_falls_back_to_the_version_before(tmp_path: Path) -> None:
    whole = to_bytes(DEMO, no_pictures)
    file = tmp_path / "cut.caddet"
    save_project(DEMO, file, no_pictures)
    save_project(DEMO, file, no_pictures)
    for length in range(0, len(whole), 97):
        file.write_bytes(whole[:length])
        opened = open_project(file)
        assert opened.document == DEMO and opened.findings[0].code == "file.damaged"


def test_what_can_be_read_is_read_and_the_rest_is_named(tmp_path: Path) -> None:
    raw = json.loads(DEMO.model_dump_json())
    raw["people"][1]["sets"][0]["readings"]["hip"] = [-5]
    raw["recipe"]["steps"].append({"kind": 5})
    raw["lays"]["main"]["gap"] = "wide"
    raw["cloths"][1]["width"] = 3
    raw["surprise"] = 1
    file = tmp_path / "hurt.caddet"
    file.write_bytes(_packed(raw))
    opened = open_project(file)
    assert opened.document.wearer == "Odile" and len(opened.document.recipe.steps) == 3
    assert {finding.place.split(".")[0] for finding in opened.findings} >= {
        "people",
        "recipe",
        "lays",
        "cloths",
        "surprise",
    }


def test_bombs_are_not_unpacked(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    file = tmp_path / "bomb.caddet"
    save_project(DEMO, file, no_pictures)
    monkeypatch.setattr(project, "BIGGEST_DOCUMENT", 1000)
    with pytest.raises(InputError, match="unpacks to more"):
        open_project(file)


def test_a_failed_write_leaves_the_old_file_and_no_litter(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    file = tmp_path / "a.caddet"
    save_project(DEMO, file, no_pictures)
    before = file.read_bytes()

    def full(handle: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(InputError, match="disk is full"):
        save_project(edits.set_measure(DEMO, "hip", 1.0e3), file, no_pictures)
    assert file.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir() if not p.name.startswith("xdg")] == ["a.caddet"]


def test_folders_that_are_not_there_or_not_ours(tmp_path: Path) -> None:
    with pytest.raises(InputError, match="no folder"):
        write_whole(tmp_path / "nowhere" / "a.pdf", b"x")
    with pytest.raises(InputError, match="folder"):
        open_project(tmp_path)
    with pytest.raises(InputError, match="no such file"):
        open_project(tmp_path / "none.caddet")


def test_a_document_must_make_sense() -> None:
    with pytest.raises(ValidationError, match="not among the people"):
        Document.model_validate({**RAW, "wearer": "Nobody"})
    with pytest.raises(ValidationError, match="two people"):
        Document.model_validate({**RAW, "people": [RAW["people"][0]] * 2})
    assert document().person_named("Wren").name == "Wren"
