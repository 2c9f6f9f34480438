"""The command line as a script sees it: exit codes, one line on stderr, JSON on stdout."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from caddet.cli.drafting import recipe_from_words
from caddet.core.demo import demo_document
from caddet.core.errors import InputError
from caddet.core.formats.project import no_pictures, open_project, save_project
from caddet.core.recipe import edits
from caddet.core.recipe.evaluate import evaluate
from caddet.core.recipe.registry import BLOCKS
from caddet.core.recipe.values import Number
from tests.making import DATA, run


def test_blocks_are_listed(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "blocks", "--json")
    listing = json.loads(out)
    names = [block["name"] for block in listing]
    assert code == 0 and names == sorted(BLOCKS) and len(names) == 20
    assert all({"name", "measures", "figures", "options"} <= set(block) for block in listing)
    words = run(capsys, "blocks")[1]
    assert all(name in words for name in names)


def test_pieces_check_and_lay_in_json_and_words(capsys: pytest.CaptureFixture[str], demo: Path) -> None:
    code, out, _ = run(capsys, "pieces", demo, "--json")
    assert code == 0 and {"pieces", "seams", "figures", "notions"} == set(json.loads(out))
    code, out, _ = run(capsys, "check", demo, "--json")
    assert code == 0 and all(line["holds"] for line in json.loads(out)["proof"])
    code, out, _ = run(capsys, "lay", demo, "--json", "--seconds", "0.2", "--width", "140cm", "--folded")
    lay = json.loads(out)
    assert (
        code == 0
        and lay["folded"]
        and lay["width"] == 700
        and {"piece", "outline", "rotation", "mirrored", "on_fold"} == set(lay["placed"][0])
    )
    for command in ("pieces", "check", "lay"):
        extra = ["--seconds", "0.1"] if command == "lay" else []
        assert run(capsys, command, demo, *extra)[0] == 0


def test_a_failing_check_exits_1(capsys: pytest.CaptureFixture[str], demo: Path) -> None:
    save_project(edits.set_override(demo_document(), "zip_length", "5cm"), demo, no_pictures)
    code, out, _ = run(capsys, "check", demo)
    assert code == 1 and "FAILS  Hips go through the waist" in out
    assert run(capsys, "lay", demo, "--width", "30cm", "--seconds", "0.1")[0] == 1


def test_draft_makes_a_project_for_every_row(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    people = tmp_path / "band.csv"
    people.write_text("name;waist;hip;height\nOdile/Ö;30;39 1/4;66\nodile-ö;36;40;64\nBram;36;40;\n", "latin-1")
    code, _, err = run(
        capsys,
        "draft",
        "skirt.straight",
        "--people",
        people,
        "--unit",
        "in",
        "--set",
        "length=24",
        "--set",
        "ease_hip=2",
        "--set",
        "front_dart_length=4in",
        "-o",
        tmp_path / "out",
    )
    assert code == 2, "the second has nothing to estimate the hip level from"
    files = sorted(p.name for p in (tmp_path / "out").iterdir())
    assert files == ["Odile-Ö.caddet", "odile-ö-2.caddet"]
    opened = open_project(tmp_path / "out" / files[0]).document
    assert opened.recipe.options["length"] == Number(value=609.6) and opened.recipe.ease["hip"] == pytest.approx(50.8)
    assert "is blank" in err and "missing" in err


def test_exports_land_where_they_were_asked_to(capsys: pytest.CaptureFixture[str], demo: Path, tmp_path: Path) -> None:
    for ending in ("pdf", "svg", "dxf", "csv", "json", "png"):
        assert run(capsys, "export", demo, "-o", tmp_path / f"o.{ending}", "--paper", "Letter", "--line", "net")[0] == 0
        assert (tmp_path / f"o.{ending}").stat().st_size > 100
    assert run(capsys, "lay", demo, "--seconds", "0.1", "-o", tmp_path / "lay.pdf")[0] == 0


@pytest.mark.parametrize(
    "words",
    [
        ["pieces", "nowhere.caddet"],
        ["frobnicate"],
        ["lay"],
        ["export", "{demo}", "-o", "x.docx"],
        ["draft", "hat", "--people", "{people}", "-o", "o"],
        ["draft", "skirt.straight", "--people", "{demo}", "-o", "o"],
        ["draft", "skirt.straight", "--people", "none.csv", "-o", "o"],
        ["draft", "skirt.straight", "--people", "{people}", "--set", "length", "-o", "o"],
        ["draft", "skirt.straight", "--people", "{people}", "--set", "length=x", "-o", "o"],
        ["draft", "skirt.straight", "--people", "{people}", "--set", "brim=4", "-o", "o"],
        ["draft", "skirt.straight", "--people", "{people}", "--set", "front_dart=(", "-o", "o"],
        ["draft", "skirt.straight", "--people", "{people}", "--set", "school=magic", "-o", "o"],
        ["draft", "skirt.straight", "--people", "{people}", "-o", "/proc/no"],
        ["lay", "{demo}", "--width", "wide"],
        ["lay", "{demo}", "--width", "2mm"],
        ["lay", "{demo}", "--seconds", "-1"],
        ["lay", "{demo}", "-o", "x.txt"],
        ["export", "{demo}", "-o", "/no/such/folder/x.pdf"],
        ["export", "{demo}", "-o", "x.pdf", "--paper", "Napkin"],
        ["pieces", "{people}"],
        ["check", "/"],
        ["--demo", "--nonsense"],
        ["lay", "{demo}", "--open", "--folded"],
    ],
)
def test_odd_input_gets_one_clear_line_and_exit_2(
    capsys: pytest.CaptureFixture[str], demo: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, words: list[str]
) -> None:
    monkeypatch.chdir(tmp_path)
    people = tmp_path / "band.csv"
    people.write_text("name,waist,hip,height\nOdile,75,98,168\n")
    before = sorted(tmp_path.iterdir())
    code, out, err = run(capsys, *[word.format(demo=demo, people=people) for word in words])
    assert code == 2 and out == "" and err.count("\n") == 1 and err.startswith("caddet: ")
    assert "Traceback" not in err and sorted(tmp_path.iterdir()) == before


def test_without_a_screen_the_window_says_so_in_one_sentence(tmp_path: Path) -> None:
    environment = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    done = subprocess.run(
        [sys.executable, "-m", "caddet", "--demo"], capture_output=True, text=True, env=environment, timeout=60
    )
    assert done.returncode == 2 and done.stderr.count("\n") == 1 and "Traceback" not in done.stderr
    assert "no screen" in done.stderr or "needs Qt" in done.stderr


def test_all_of_the_bodies_go_through_the_command_line(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    code, out, _ = run(capsys, "draft", "skirt.straight", "--people", DATA / "bodies.csv", "-o", tmp_path / "out")
    assert code == 0 and "254 drafted" in out


def test_the_core_loads_no_qt() -> None:
    script = "import caddet.core.pipeline, caddet.core.formats.export, caddet.cli, sys; print([m for m in sys.modules if 'PyQt' in m or m.startswith('caddet.desk')])"
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, timeout=60)
    assert done.stdout.strip() == "[]", done.stderr


def test_a_body_that_cannot_be_is_refused_by_line_and_column(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    people = tmp_path / "band.csv"
    for cell, words in (
        ("3", "can't be a body's"),
        ("450", "can't be a body's"),
        ("-80", "more than 0"),
        ("0", "more than 0"),
        ("a lot", "not a length"),
    ):
        people.write_text(f"name,waist,hip,height\nA,75,98,168\nB,{cell},98,168\n")
        code, out, err = run(capsys, "draft", "skirt.straight", "--people", people, "-o", tmp_path / "out")
        assert code == 2 and not out and f"{people}, line 3, column waist" in err and words in err
        assert not (tmp_path / "out").exists()


def test_doubts_are_reported_and_drafted(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    people = tmp_path / "band.csv"
    people.write_text("name,waist,hip,height\nA,104,98,168\n")
    code, _, err = run(capsys, "draft", "skirt.straight", "--people", people, "-o", tmp_path / "out")
    assert code == 0 and "larger than the hip" in err and (tmp_path / "out" / "A.caddet").exists()


@pytest.mark.parametrize("block", sorted(BLOCKS))
def test_a_group_is_drafted_from_every_block(capsys: pytest.CaptureFixture[str], tmp_path: Path, block: str) -> None:
    """The ringers' own sheet: eight people, two of them growing, one row in inches, blanks."""
    band = Path(__file__).parents[2] / "src/caddet/data/demo/band.csv"
    code, out, err = run(capsys, "draft", block, "--people", band, "-o", tmp_path / "out")
    assert code == 0 and "8 drafted" in out and "Traceback" not in err
    files = sorted((tmp_path / "out").glob("*.caddet"))
    assert len(files) == 8
    code, out, _ = run(capsys, "check", files[0], "--json")
    assert code == 0 and all(
        line["holds"] for line in json.loads(out)["proof"] if line["kind"] in ("closure", "seam", "gate")
    )


def test_fit_and_stretch_are_set_from_the_command_line(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    people = tmp_path / "band.csv"
    people.write_text("name,bust,waist,hip,height\nOdile,92,75,98,168\n")
    base = ["draft", "leggings", "--people", people, "-o", tmp_path / "out"]
    assert run(capsys, *base, "--set", "fit=swim", "--set", "stretch=60%", "--set", "stretch_along=0.4")[0] == 0
    document = open_project(tmp_path / "out/Odile.caddet").document
    assert (
        document.recipe.fit == "swim" and document.chosen_cloth.stretch == 0.6 and document.chosen_cloth.kind == "knit"
    )
    for wrong in ("fit=magic", "stretch=lots", "stretch=-1"):
        code, out, err = run(capsys, *base, "--set", wrong)
        assert code == 2 and not out and err.count("\n") == 1 and "--set" in err


@pytest.mark.parametrize("name", sorted(BLOCKS))
def test_every_amount_of_a_block_takes_a_formula_over_any_measure(name: str, tmp_path: Path) -> None:
    """Of a person's sheet, for each row: here half of the head, which most blocks have no use for."""
    block = BLOCKS[name]
    for option in block.options:
        if option.is_amount:
            middle = (option.low + option.high) / 2
            text = (
                f"head / 2 * 0 + {middle / 10:.3f}cm" if option.kind == "length" else f"{option.default} * head / head"
            )
            recipe = recipe_from_words(block, [f"{option.name}={text}"], "cm")
            wearer = demo_document().person
            kept = evaluate(demo_document().model_copy(update={"recipe": recipe}), wearer)
            assert kept.sources[0].sums, (option.name, kept.findings)
            with pytest.raises(InputError, match="neither"):
                recipe_from_words(block, [f"{option.name}=12 apples"], "cm")
