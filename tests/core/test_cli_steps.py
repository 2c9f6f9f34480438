"""``caddet steps`` and ``caddet add``: a step from the command line, as the table would make it, or a sentence."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from caddet.core.demo import demo_document
from caddet.core.formats.project import no_pictures, open_project, save_project
from caddet.core.own_pieces.taught import SKIRT
from caddet.core.recipe.registry import STEPS
from caddet.core.recipe.values import Formula, Place, References
from tests.making import run

CAPSYS = pytest.CaptureFixture[str]


@pytest.fixture
def project(tmp_path: Path) -> Path:
    file = tmp_path / "skirt.caddet"
    save_project(demo_document(), file, no_pictures)
    return file


def test_steps_are_listed_with_everything_one_needs_to_add_one(capsys: CAPSYS) -> None:
    code, out, _ = run(capsys, "steps", "--json")
    listed = {step["name"]: step for step in json.loads(out)["steps"]}
    assert code == 0 and set(listed) == set(STEPS)
    for name, step in STEPS.items():
        assert [p["name"] for p in listed[name]["parameters"]] == [p.name for p in step.parameters]
        for parameter in listed[name]["parameters"]:
            assert {"name", "kind", "default", "limits", "choices"} <= set(parameter)
    code, out, _ = run(capsys, "steps")
    assert code == 0 and all(f"{name}  {step.label}" in out for name, step in STEPS.items())


def test_a_step_is_added_under_the_next_id_and_the_file_holds_it(capsys: CAPSYS, project: Path, tmp_path: Path) -> None:
    before, other = project.read_bytes(), tmp_path / "other.caddet"
    code, out, err = run(capsys, "add", project, "slit", "edges=front.side", "height=12", "-o", other)
    assert (code, err) == (0, "") and "slit of 12.0 cm in the front side" in out
    assert project.read_bytes() == before, "with -o the project itself stays"
    step = open_project(other).document.recipe.steps[-1]
    assert step.id not in {one.id for one in demo_document().recipe.steps} and step.id in out
    assert step.values["edges"] == References(kind="edges", refs=("front.side",))
    code, _, _ = run(capsys, "add", other, "lengthen", "amount=hip / 40", "at=12 1/2in")
    step = open_project(other).document.recipe.steps[-1]
    assert code == 0 and step.values["amount"] == Formula(text="hip / 40"), "without -o into the file itself"
    assert step.values["at"].value == pytest.approx(317.5)  # type: ignore[union-attr]
    code, out, _ = run(capsys, "add", other, "pivot_dart", "dart=front.front_dart", "to=front.side@90mm")
    step = open_project(other).document.recipe.steps[-1]
    assert code == 0 and step.values["to"] == Place(edge="front.side", mm=90.0)


@pytest.mark.parametrize(
    ("words", "said"),
    [
        ((), "arguments are required"),
        (("lenghten",), "there is no step “lenghten”; there are lengthen, agree,"),
        (("lengthen", "amount"), "“amount” is not NAME=VALUE"),
        (("lengthen", "amount="), "neither a length nor a formula"),
        (("lengthen", "amount=9999"), "is not between"),
        (("lengthen", "amount=2", "amount=3"), "given twice"),
        (("lengthen", "colour=red"), "it has no value “colour”; it has pieces, at, amount"),
        (("slit", "edges=front.side["), "does not name an edge or piece"),
        (("slit", "edges=a b"), "does not name an edge or piece"),
        (("flare", "both=maybe"), "expected yes or no"),
        (("band", "part=bow"), "expected one of neckband"),
        (("pivot_dart", "to=front.side@1.4"), "1.4 is not between 0"),
        (("pivot_dart", "to=front.side"), "is no place; expected one such as"),
        (("pivot_dart", "to=@0.5"), "does not name an edge or piece"),
    ],
)
def test_odd_values_are_refused_and_nothing_is_written(
    capsys: CAPSYS, project: Path, words: tuple[str, ...], said: str
) -> None:
    before = project.read_bytes()
    code, out, err = run(capsys, "add", project, *words)
    assert (code, out) == (2, "") and said in err and "Traceback" not in err
    assert err.count("\n") == 1 and project.read_bytes() == before


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (("lengthen", "pieces=sleeve", "amount=2"), "there is no piece “sleeve” in this garment"),
        (("slit", "edges=front.side[s99.2]", "height=12"), "was made by a step that has been taken out"),
        (("flare", "amount=hipp/40"), "there is no “hipp” here"),
        (("flare", "amount=1/0"), "division by zero"),
        (("lengthen", "amount=nan"), "there is no “nan” here"),
        (("slit", "edges=front.waist", "height=12"), "slit"),
        (("pivot_dart", "dart=front.bust_dart", "to=front.side@0.5"), "bust"),
    ],
)
def test_a_step_that_can_not_be_done_is_kept_as_a_finding(
    capsys: CAPSYS, project: Path, words: tuple[str, ...], said: str
) -> None:
    """Exit 1, the file written with it: the step can be mended, and the rest of the garment stands."""
    code, out, err = run(capsys, "add", project, *words)
    assert code == 1 and said in err.lower() + err and "Traceback" not in err
    steps = open_project(project).document.recipe.steps
    assert len(steps) == len(demo_document().recipe.steps) + 1 and f"{steps[-1].id}: " in out
    code, out, _ = run(capsys, "pieces", project, "--json")
    assert [piece["name"] for piece in json.loads(out)["pieces"]] == ["front", "back", "waistband"]


def test_a_recipe_of_ones_own_is_drafted_and_added_from_a_file(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    people = tmp_path / "people.csv"
    people.write_text("name,hip,waist,waist_to_hip\nAnna,98,74,20\nBe,110,90,21\n")
    recipe = tmp_path / "skirt.txt"
    recipe.write_text(SKIRT.replace("long = 60cm", "long = 50cm"))
    code, _, err = run(capsys, "draft", "own.points", "--people", people, "--set", f"recipe=@{recipe}", "-o", tmp_path)
    assert code == 0, err
    lengths = []
    for name in ("Anna", "Be"):
        code, out, _ = run(capsys, "pieces", tmp_path / f"{name}.caddet", "--json")
        edges = {edge["name"]: edge["length"] for piece in json.loads(out)["pieces"] for edge in piece["edges"]}
        assert code == 0 and abs(edges["skirt_front.centre_front"] - 500) < 0.1
        lengths.append(edges["skirt_front.hem"])
    assert abs(lengths[1] - lengths[0] - 30) < 0.1, "a quarter of the hip"
    flounce = tmp_path / "flounce.txt"
    flounce.write_text(
        "piece Flounce\nA\nB = A out 2 * edge_skirt_front_hem\nC = B down 20\nD = A down 20\nedge top: A - B\nedge right: B - C, fold\nedge bottom: C - D, hem\nedge left: D - A\nsew skirt_front.hem with flounce.top, gathered\n"
    )
    code, out, err = run(capsys, "add", tmp_path / "Anna.caddet", "own_pieces", f"recipe=@{flounce}")
    assert code == 0, err
    assert "flounce" in run(capsys, "pieces", tmp_path / "Anna.caddet")[1].lower()
    for words, said in ((f"recipe=@{tmp_path / 'none.txt'}", "there is no such file"), ("recipe=piece", "")):
        code, _, err = run(capsys, "add", tmp_path / "Be.caddet", "own_pieces", words)
        assert code in (1, 2) and said in err and "Traceback" not in err
    code, _, err = run(
        capsys, "draft", "own.points", "--people", people, "--set", "recipe=A = B", "-o", tmp_path, "--force"
    )
    assert code == 2 and "Line 1" in err


def test_a_note_is_said_and_is_no_fault(capsys: CAPSYS, project: Path, tmp_path: Path) -> None:
    code, out, err = run(capsys, "add", project, "casing", "ratio=0.95", "-o", tmp_path / "cased.caddet")
    assert code == 0 and "in place of the waistband" in out + err and "written to" in out
    wide = run(
        capsys,
        "add",
        project,
        "slash",
        "edges=front.hem",
        "count=4",
        "opens=all",
        "amount=60cm",
        "hold=loose",
        "-o",
        tmp_path / "wide.caddet",
    )
    assert wide[0] == 1, "too wide for the cloth is more than a note"
