"""The command line on odd systems and odd input: one sentence, the right exit code, nothing lost."""

from __future__ import annotations

import copy
import io
import json
import os
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.errors import InputError, expected
from caddet.core.formats.people_csv import parse_people, write_people
from caddet.core.formats.people_store import photo_folder
from caddet.core.formats.project import no_pictures, open_project, save_project
from caddet.core.formats.written import raw_of
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from tests.making import DATA, run

CADDET = [sys.executable, "-m", "caddet"]


def shell(command: str, **environment: str) -> tuple[int, str, str]:
    """A command as a shell runs it, with its exit code and what it said."""
    there = {k: v for k, v in os.environ.items() if k != "PYTHONUNBUFFERED"}  # as a user has it
    there |= {"CADDET": " ".join(CADDET), **environment}
    done = subprocess.run(["bash", "-c", command], env=there, capture_output=True, timeout=120)
    return done.returncode, done.stdout.decode("utf-8", "replace"), done.stderr.decode("utf-8", "replace")


def one_sentence(code: int, err: str, wanted: int = 2) -> None:
    assert code == wanted, err
    assert err.startswith("caddet: ") and err.count("\n") == 1 and "Traceback" not in err and "Errno" not in err, err


# --- damaged files --------------------------------------------------------------------------------


def _hurt(path: Path) -> None:
    raw = copy.deepcopy(raw_of(demo_document()))
    raw["people"][0]["sets"][0]["readings"]["hip"] = [-5.0]
    raw["people"][0]["name"] = raw["wearer"] = "Odile " * 30
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        archive.writestr("document.json", json.dumps(raw))
    path.write_bytes(buffer.getvalue())


def test_what_was_set_aside_is_said_and_kept_and_gives_exit_1(capsys: pytest.CaptureFixture[str], demo: Path) -> None:
    _hurt(demo)
    before = demo.read_bytes()
    for words in (
        ["check", demo],
        ["pieces", demo, "--json"],
        ["export", demo, "-o", demo.with_suffix(".svg")],
        ["lay", demo, "--seconds", "0.1"],
    ):
        code, _, err = run(capsys, *words)
        assert code == 1 and "people.0.sets.0.readings.hip" in err and "people.0.name" in err and "set-aside" in err
    beside = [p for p in demo.parent.iterdir() if "set-aside" in p.name]
    assert len(beside) == 1 and "-5.0" in beside[0].read_text() and demo.read_bytes() == before
    assert open_project(demo).document.wearer.startswith("Odile"), "never for somebody else"


def test_a_check_stores_nothing(capsys: pytest.CaptureFixture[str], demo: Path) -> None:
    assert run(capsys, "check", demo)[0] == 0
    assert [p.name for p in demo.parent.iterdir() if not p.name.startswith("xdg")] == ["demo.caddet"]
    assert not photo_folder().exists()


def test_accepted_lines_do_not_count_for_the_exit_code(capsys: pytest.CaptureFixture[str], demo: Path) -> None:
    long = edits.set_step(edits.set_option(demo_document(), "length", 900.0), 2, None)
    save_project(long, demo, no_pictures)
    assert run(capsys, "check", demo)[0] == 1
    for line in make(EvaluateRequest(long)).proof:
        if line.fails:
            long = edits.accept(long, line.accepting("fine"))
    save_project(long, demo, no_pictures)
    code, out, _ = run(capsys, "check", demo, "--json")
    stride = next(line for line in json.loads(out)["proof"] if line["name"] == "stride")
    assert code == 0 and not stride["holds"] and stride["accepted"] and stride["reason"] == "fine"
    assert "accepted: fine" in run(capsys, "check", demo)[1]


# --- draft ----------------------------------------------------------------------------------------


def _people(path: Path, *names: str) -> Path:
    people = [
        Person.of(name, {"height": 1680.0, "waist": 760.0, "hip": 980.0, "waist_to_hip": 205.0}) for name in names
    ]
    path.write_text(write_people(people), encoding="utf-8")
    return path


def test_edited_projects_are_not_written_over_without_force(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    people, out = _people(tmp_path / "p.csv", "Wren", "Bram"), tmp_path / "out"
    draft = ("draft", "skirt.straight", "--people", people, "-o", out)
    assert run(capsys, *draft)[0] == 0
    edited = edits.set_measure(open_project(out / "Wren.caddet").document, "hip", 1001.0)
    save_project(edited, out / "Wren.caddet", no_pictures)
    (out / "Bram.caddet").unlink()
    code, words, err = run(capsys, *draft)
    assert code == 2 and "Wren" in err and "--force" in err and "1 drafted" in words
    assert open_project(out / "Wren.caddet").document == edited and (out / "Bram.caddet").exists()
    assert run(capsys, *draft, "--force")[0] == 0
    assert open_project(out / "Wren.caddet").document.person.measures["hip"] == 980.0


def test_long_names_in_any_script_get_files_and_one_failure_leaves_the_others(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    names = ("あ" * 80, "あ" * 79 + "い", "Wren", "/../..", "...")
    people = _people(tmp_path / "p.csv", *names)
    with people.open("a", encoding="utf-8") as file:
        file.write("Nobody" + "," * people.read_text("utf-8").split("\n")[0].count(",") + "\n")
    code, words, _ = run(capsys, "draft", "skirt.straight", "--people", people, "-o", tmp_path / "out")
    files = sorted(p.name for p in (tmp_path / "out").iterdir())
    assert code == 2 and len(files) == 5 and "5 drafted" in words and "1 refused" in words
    assert all(len(name.encode()) <= 200 for name in files)
    assert {open_project(tmp_path / "out" / name).document.wearer for name in files} == set(names)


def test_values_of_set_are_refused_in_words(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    people = _people(tmp_path / "p.csv", "Wren")
    for value in (
        "ease_hip=2001cm",
        "ease_hip=1e99cm",
        "length=-5cm",
        "length=km",
        "front_dart=(((",
        "fit=tent",
        "hat=1",
        "x",
        "stretch=lots",
    ):
        code, _, err = run(
            capsys, "draft", "skirt.straight", "--people", people, "--set", value, "-o", tmp_path / "out"
        )
        one_sentence(code, err)
        assert "Input should" not in err and "--set" in err


# --- tables ---------------------------------------------------------------------------------------


def test_a_line_of_a_table_is_the_line_that_an_editor_shows() -> None:
    text = 'name,note,hip\nWren,"two\nlines, and\nthree",98\n\nBram,x,wide\n'
    with pytest.raises(Exception, match="line 6, column hip"):
        parse_people(text)
    _, told = parse_people(text, gently=True)
    assert any("line 6" in finding.place for finding in told)


@pytest.mark.parametrize(
    "text",
    [
        "name,hip" + " " * 30_000 + "\nWren,98\n",
        "name," + ",".join(f"c{n}" for n in range(30_000)) + "\nWren,98\n",
        "name,hip\nWren," + " " * 200_000 + "98\n",
        "name,hip\n" + "," * 30_000 + "\n",
        "name," + "(" * 30_000 + ",hip\nW,1,98\n",
    ],
)
def test_wide_tables_end_at_once(text: str) -> None:
    """They took a minute and more; ``make soak`` bounds the time, here it is enough that they end."""
    try:
        people, _ = parse_people(text)
        assert people[0].name in ("Wren", "W")
    except InputError as error:
        assert "line" in str(error) or "column" in str(error)


def test_a_cloth_too_narrow_still_prints_its_document(capsys: pytest.CaptureFixture[str], demo: Path) -> None:
    code, out, err = run(capsys, "lay", demo, "--json", "--width", "12cm", "--seconds", "0.1")
    lay = json.loads(out)
    assert code == 1 and lay["placed"] == [] and "does not go on" in lay["refused"] and "does not go on" in err


# --- the system -----------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("environment", "words"),
    [
        ({"DISPLAY": ":77"}, "no screen answers at DISPLAY=:77"),
        ({"WAYLAND_DISPLAY": "wayland-77"}, "no screen answers"),
        ({"DISPLAY": ":77", "QT_QPA_PLATFORM": "xcb"}, "no screen answers"),
        ({"QT_QPA_PLATFORM": "canvas", "DISPLAY": ":1"}, "no kind of screen"),
        ({}, "no screen here"),
    ],
)
def test_a_screen_that_does_not_answer_is_one_sentence(environment: dict[str, str], words: str) -> None:
    pytest.importorskip("PyQt6")
    clean = "env -u DISPLAY -u WAYLAND_DISPLAY -u QT_QPA_PLATFORM " + " ".join(
        f"{k}={v}" for k, v in environment.items()
    )
    code, _, err = shell(f"{clean} $CADDET")
    one_sentence(code, err)
    assert words in err


@pytest.mark.parametrize(
    ("command", "wanted"),
    [
        ("$CADDET check FILE > /dev/full", 2),
        ("$CADDET --version > /dev/full", 2),
        ("$CADDET check FILE --json > /dev/full", 2),
        ("$CADDET check FILE --json >&-", 2),
        ("$CADDET check /dev/zero", 2),
        ("$CADDET check /dev/stdin < /dev/zero", 2),
        ("mkfifo p; $CADDET check p", 2),
        ("$CADDET draft skirt.straight --people p -o out", 2),
        ("$CADDET check $(printf 'x%.0s' {1..300})", 2),
        ("$CADDET check $(printf '\\xff\\xfe.caddet')", 2),
        ("$CADDET check .", 2),
        ("$CADDET export FILE -o /nowhere/x.pdf", 2),
        ("$CADDET export FILE -o /dev/full.svg", 2),
        ("ln -s l l; $CADDET check l", 2),
        ("$CADDET check ''", 2),
    ],
)
def test_odd_places_end_in_one_sentence(demo: Path, command: str, wanted: int, tmp_path: Path) -> None:
    if " p " in command and "mkfifo" not in command:
        os.mkfifo(tmp_path / "p")
    code, _, err = shell(f"cd {tmp_path}; " + command.replace("FILE", str(demo)))
    if "/dev/full.svg" in command and code == 0:
        os.unlink("/dev/full.svg")  # root may make files there
        return
    one_sentence(code, err, wanted)


def test_outputs_that_nobody_reads_are_no_fault(demo: Path) -> None:
    assert shell(f"$CADDET pieces {demo} --json | head -1 >/dev/null; exit ${{PIPESTATUS[0]}}")[0] == 0
    assert shell(f"$CADDET check {demo} >&- 2>&-")[0] == 0
    assert shell("$CADDET check nothing.caddet 2>&-")[0] == 2


def test_a_terminal_without_letters_gets_what_it_can_show(demo: Path, tmp_path: Path) -> None:
    save_project(demo_document().model_copy(update={"title": "Röcke aus ½ Tuch"}), demo, no_pictures)
    code, out, err = shell(f"$CADDET blocks; $CADDET pieces {demo}", PYTHONIOENCODING="ascii", LC_ALL="C")
    assert code == 0 and not err and "skirt.straight" in out
    code, out, _ = shell(f"$CADDET pieces {demo} --json", PYTHONIOENCODING="ascii", LC_ALL="C")
    assert code == 0 and json.loads(out)["pieces"] and out.isascii()


def test_a_folder_that_may_not_be_searched_is_told(demo: Path) -> None:
    closed = demo.parent / "closed"
    closed.mkdir(mode=0o700)
    save_project(demo_document(), closed / "b.caddet", no_pictures)
    demo.parent.chmod(0o755)
    script = (
        "import os, sys; import caddet.cli.grading, caddet.cli.projects, caddet.cli.steps; from caddet.cli import main\n"
        "if os.geteuid() == 0: os.seteuid(65534)\n"
        f"else: os.chmod({str(closed)!r}, 0)\n"
        f"sys.exit(main(['check', {str(closed / 'b.caddet')!r}]))"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, timeout=60)
    one_sentence(done.returncode, done.stderr)
    assert "no permission" in done.stderr
    closed.chmod(0o700)


def test_a_fault_of_ours_is_one_sentence_and_a_line_in_the_log(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch, demo: Path, tmp_path: Path
) -> None:
    def fails(*_: object) -> None:
        raise ZeroDivisionError("ours")

    monkeypatch.setattr("caddet.cli.projects.opened_and_made", fails)
    code, _, err = run(capsys, "check", demo)
    one_sentence(code, err)
    assert "faults.log" in err and "ours" in (tmp_path / "xdg-state" / "caddet" / "faults.log").read_text()


def test_what_the_schema_says_is_said_in_words() -> None:
    for kind, context, words in (
        ("less_than_equal", {"le": 20000.0}, "at most 20,000"),
        ("greater_than", {"gt": 100}, "more than 100"),
        ("float_type", {}, "a number"),
        ("string_too_long", {"max_length": 80}, "longer than 80"),
        ("odd", {}, "as it is"),
    ):
        assert words in expected(kind, context, "Value error, as it is")


def test_the_people_of_the_data_are_drafted_as_before(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    rows = (DATA / "bodies.csv").read_text().split("\n")[:6]
    (tmp_path / "few.csv").write_text("\n".join(rows) + "\n")
    code, words, _ = run(capsys, "draft", "skirt.straight", "--people", tmp_path / "few.csv", "-o", tmp_path / "out")
    assert code == 0 and words.startswith("5 drafted")
    assert all(p.stat().st_mode & 0o777 == 0o600 for p in (tmp_path / "out").iterdir())


def test_commands_start_without_what_is_slow_to_load() -> None:
    code, out, err = shell(
        f'{sys.executable} -c \'import sys, caddet.core.library, caddet.cli; print([m for m in ("scipy", "cv2", "PIL", "PyQt6") if m in sys.modules])\''
    )
    assert code == 0 and out.strip() == "[]", (out, err)
