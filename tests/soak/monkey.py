"""A monkey at the real window: seeded deeds of every kind, and what may not happen: a fault, a hang, more and more memory.

``python -m tests.soak.monkey --project demo --seed 3 --seconds 60`` lets it loose; what it does is written to a file as it
does it. ``--play FILE`` does it again, ``--shorten FILE`` cuts it down to the shortest list that still fails.
"""

from __future__ import annotations

import argparse
import faulthandler
import gc
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QFileDialog, QInputDialog, QMenu

from caddet.core.demo import demo_document
from caddet.core.designs import ORDER, design_named
from caddet.core.faults import fault_log
from caddet.core.formats.keeping import Keeper
from caddet.core.formats.people_csv import write_people
from caddet.core.formats.project import no_pictures, open_project, save_project
from caddet.desk.app import make_app, open_bench
from caddet.desk.theme import LOOK
from caddet.desk.window import MainWindow
from tests.soak.deeds import Deed, do, random_deed, read_deeds, shortest, written
from tests.soak.figures import Figures

PROJECTS = ("demo", *ORDER, "traced")
HANG = 30.0  # seconds that a deed may take, with all that follows from it
PATIENCE = 60.0  # seconds that a program may take to close
GROWN = 250.0  # MiB by which the memory may grow after the first third
SETTLING = 40  # deeds after which everything is waited for


# --- what it plays with ---------------------------------------------------------------------------


def project_in(folder: Path, name: str) -> Path:
    """A project to play with."""
    path = folder / f"{name}.caddet"
    if name == "traced":
        from tests.photos import traced_project

        traced_project(path)
    else:
        save_project(demo_document() if name == "demo" else design_named(name).document, path, no_pictures)
    return path


def playthings(folder: Path) -> dict[str, list[str]]:
    """Files that the monkey opens, good and bad, by what they are asked for as."""
    from PIL import Image

    people = folder / "people.csv"
    people.write_text(write_people(demo_document().people))
    bad = folder / "bad.csv"
    bad.write_bytes(b"name;hip\n\xff\xfe\0;\n")
    picture = folder / "picture.jpg"
    Image.linear_gradient("L").convert("RGB").resize((900, 700)).save(picture)
    sizes = folder / "sizes.csv"
    sizes.write_text("size,bust,waist,hip\nS,84,68,92\nM,92,76,100\n")
    project = folder / "another.caddet"
    save_project(demo_document(), project, no_pictures)
    spoilt = folder / "spoilt.caddet"
    spoilt.write_bytes(project.read_bytes()[:700])
    none = [str(folder / "none.csv"), str(folder), ""]
    return {
        "open": [str(one) for one in (people, bad, picture, sizes, project, spoilt)] + none,
        "save": [str(folder / name) for name in ("out.csv", "out.pdf", "out.svg", "copy.caddet", "no/where.pdf")]
        + [""],
        "folder": [str(folder / "sizes"), ""],
    }


def answer_questions(answers: dict[str, list[str]], chance: Callable[[], random.Random]) -> None:
    """Files and words are not asked for but made up; each of these would wait for ever."""

    def one(kind: str, *_: object, **__: object) -> tuple[str, str]:
        return chance().choice(answers[kind]), ""

    QFileDialog.getOpenFileName = partial(one, "open")  # type: ignore[method-assign,assignment]
    QFileDialog.getSaveFileName = partial(one, "save")  # type: ignore[method-assign,assignment]
    QFileDialog.getOpenFileNames = lambda *_, **__: ([one("open")[0]], "")  # type: ignore[method-assign,assignment]
    QFileDialog.getExistingDirectory = lambda *_, **__: one("folder")[0]  # type: ignore[method-assign,assignment]
    QInputDialog.getText = lambda *_, **__: (chance().choice(("My group", "", "x" * 200)), chance().random() < 0.8)  # type: ignore[method-assign,assignment]


# --- letting it loose -----------------------------------------------------------------------------


class Monkey:
    """A window, and what is done to it; ``faults`` says after which deed a fault was written to the log."""

    def __init__(self, path: Path, deeds: Path | None = None) -> None:
        self.path, self.record = path, deeds
        self.faults: list[tuple[int, str]] = []
        self.count = 0
        self.chance = random.Random(0)
        self._log = 0
        self._asked_since = 0.0
        self.window = self._begin()
        self.butler = QTimer()
        self.butler.timeout.connect(self._answer)
        self.butler.start(40)

    def _begin(self) -> MainWindow:
        window = MainWindow(open_bench(self.path, None).bench)
        sys.excepthook = window.recovery.mishap
        window.show()
        QTest.qWait(20)
        return window

    def _answer(self) -> None:
        """Whatever waits for an answer gets one: a dialogue, a menu."""
        modal, popup = QApplication.activeModalWidget(), QApplication.activePopupWidget()
        if modal is None and popup is None:
            self._asked_since = 0.0
            return
        self._asked_since = self._asked_since or time.monotonic()
        if time.monotonic() - self._asked_since < 0.06:
            return
        self._asked_since = 0.0
        chance = random.Random(self.count)
        if isinstance(popup, QMenu) and chance.random() < 0.5:
            actions = [one for one in popup.actions() if one.isEnabled() and not one.isSeparator()]
            if actions:
                chance.choice(actions).trigger()
        if popup is not None:
            popup.close()
        elif modal is not None:
            buttons = [one for one in modal.findChildren(QAbstractButton) if one.isVisible() and one.isEnabled()]
            chance.choice(buttons).click() if buttons else modal.close()

    def do(self, deed: Deed) -> None:
        """Do one deed and look whether anything went wrong."""
        faulthandler.dump_traceback_later(HANG, exit=True)
        self.count += 1
        self.chance = random.Random(deed.number)
        if self.record is not None:
            with self.record.open("a", encoding="utf-8") as file:
                file.write(written([deed]))
        try:
            if deed.what == "close":
                self._close_and_open()
            elif deed.what == "project":
                self.window.projects.open_path(
                    self.path.with_name("another.caddet" if deed.number % 2 else self.path.name)
                )
            else:
                do(self.window, deed)
        except RuntimeError as error:
            if "wrapped C/C++" not in str(error):  # what was pointed at went away under the pointer
                raise
        QApplication.processEvents()
        if self.count % SETTLING == 0:
            self.settle()
        self._look()

    def settle(self) -> None:
        """Wait until nothing is worked out any more."""
        until = time.monotonic() + HANG / 2
        while not self.window.bench.idle and time.monotonic() < until:
            QTest.qWait(5)

    def _close_and_open(self) -> None:
        window = self.window
        window.projects.may_leave = lambda: True  # type: ignore[method-assign]
        begun = time.monotonic()
        window.close()
        if time.monotonic() - begun > 5:
            self.faults.append((self.count, f"closing took {time.monotonic() - begun:.1f} s"))
        for one in QApplication.topLevelWidgets():
            if one.isVisible():
                one.close()
        window.deleteLater()
        LOOK.set_scale(1.0)
        QApplication.processEvents()
        self.window = self._begin()

    def _look(self) -> None:
        """Whether there is a new line in the log of faults."""
        log = fault_log()
        if not log.exists() or log.stat().st_size == self._log:
            return
        with log.open(encoding="utf-8") as file:
            file.seek(self._log)
            lines = file.read().splitlines()
        self._log = log.stat().st_size
        self.faults += [(self.count, line) for line in lines]

    def end(self) -> list[str]:
        """Close, open again and look: what is wrong with what was kept."""
        self.butler.stop()
        for popup in iter(QApplication.activePopupWidget, None):
            popup.close()
        faulthandler.dump_traceback_later(PATIENCE, exit=True)
        self.settle()
        bench = self.window.bench
        if not bench.settled() and not bench.read_only:
            return [f"not saved at the end: {bench.save_error or 'edits wait'}"]
        self.window.close()
        document, path = bench.history.document, bench.path  # closing keeps where pieces were laid
        faulthandler.cancel_dump_traceback_later()
        if path is None or bench.read_only:
            return []
        opened = open_project(path)
        wrong = [] if opened.document == document else ["what is in the file is not what was shown"]
        keeper = Keeper(path, opened, read_only=True)
        past = keeper.past(opened.document)
        wrong += [f"photograph {name} is lost" for name in document.photo_files() if keeper.picture(name) is None]
        while past.undo_deed is not None:
            past = past.undone()
        return wrong


def memory() -> float:
    """What this process takes now, in MiB."""
    with open("/proc/self/statm") as file:
        return int(file.read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 2**20


def let_loose(path: Path, seed: int, seconds: float, record: Path | None) -> dict[str, Any]:
    """Random deeds for so long. What happened."""
    answers = playthings(path.parent)
    monkey = Monkey(path, record)
    answer_questions(answers, lambda: monkey.chance)
    chance = random.Random(seed)
    until = time.monotonic() + seconds
    taken: list[float] = []
    while time.monotonic() < until:
        monkey.do(random_deed(monkey.window, chance))
        if monkey.count % 100 == 0:
            gc.collect()
            taken.append(memory())
    wrong = monkey.end()
    third = len(taken) // 3
    return {"deeds": monkey.count, "faults": monkey.faults, "wrong": wrong, "memory": taken[third:] or taken}


def play(path: Path, deeds: Sequence[Deed]) -> dict[str, Any]:
    """Do a list of deeds again. What happened."""
    answers = playthings(path.parent)
    monkey = Monkey(path)
    answer_questions(answers, lambda: monkey.chance)
    for deed in deeds:
        monkey.do(deed)
        QTest.qWait(15)
    monkey.settle()
    monkey._look()
    return {"deeds": monkey.count, "faults": monkey.faults, "wrong": monkey.end(), "memory": []}


# --- as a program of its own ----------------------------------------------------------------------


def run_apart(project: str, more: Sequence[str], record: Path, seconds: float) -> dict[str, Any]:
    """Let it loose in a process of its own; a crash or a hang is told as a fault."""
    with tempfile.TemporaryDirectory() as folder:
        environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "PYTHONFAULTHANDLER": "1"}
        for name in ("DATA", "STATE", "CONFIG", "CACHE"):
            environment[f"XDG_{name}_HOME"] = os.path.join(folder, name.lower())
        command = [sys.executable, "-m", "tests.soak.monkey", "--project", project, "--folder", folder, *more]
        done = subprocess.run(
            command, capture_output=True, text=True, env=environment, timeout=seconds + 6 * PATIENCE, check=False
        )
    try:
        found: dict[str, Any] = json.loads(done.stdout.splitlines()[-1])
    except (IndexError, ValueError):
        trace = " < ".join(line.strip() for line in done.stderr.splitlines() if "caddet" in line)[:1500]
        found = {"deeds": 0, "faults": [[0, f"ended with {done.returncode}: {trace}"]], "wrong": [], "memory": []}
    return found


def monkey_rounds(project: str, seed: int, seconds: float) -> Figures:
    """A monkey at a project for so long."""
    figures = Figures()
    kept = Path(tempfile.gettempdir()) / "caddet-monkey"
    kept.mkdir(exist_ok=True)
    record = kept / f"{project}-{seed}.jsonl"
    record.unlink(missing_ok=True)
    found = run_apart(
        project, ["--seed", str(seed), "--seconds", str(seconds), "--record", str(record)], record, seconds
    )
    figures.counts["deeds"] += found["deeds"]
    told: set[str] = set()
    for number, fault in found["faults"]:
        if fault not in told:
            told.add(fault)
            figures.wrong.append(f"{project} {seed}, deed {number}: {fault} (played again with --play {record})")
    figures.wrong += [f"{project} {seed}: {words}" for words in found["wrong"]]
    if found["memory"]:
        figures.at_most("MiB", max(found["memory"]))
        grown = found["memory"][-1] - found["memory"][0]
        figures.at_most("MiB grown", grown)
        if grown > GROWN:
            figures.wrong.append(f"{project} {seed}: the memory grew by {grown:.0f} MiB")
    return figures


def shorten(project: str, record: Path) -> list[Deed]:
    """The shortest list of deeds that still makes the first fault of a record."""
    deeds = read_deeds(record)

    def fault_of(some: Sequence[Deed]) -> str:
        with tempfile.NamedTemporaryFile("w", suffix=".jsonl") as file:
            file.write(written(some))
            file.flush()
            found = run_apart(project, ["--play", file.name], Path(file.name), len(some) * 0.2)
        faults = [line.partition(" | ") for _, line in found["faults"]]
        return faults[0][2].partition(" < ")[0] if faults else "".join(found["wrong"])

    wanted = fault_of(deeds)
    if not wanted:
        return []
    return shortest(deeds, lambda some: fault_of(some) == wanted)


def main() -> int:
    """Let it loose, play a list again, or shorten one. Prints what happened as one line of JSON."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--project", choices=PROJECTS, default="demo")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--seconds", type=float, default=60.0)
    parser.add_argument("--record", type=Path)
    parser.add_argument("--play", type=Path)
    parser.add_argument("--shorten", type=Path)
    parser.add_argument("--folder", type=Path)
    given = parser.parse_args()
    if given.shorten is not None:
        print(written(shorten(given.project, given.shorten)), end="")
        return 0
    folder = given.folder or Path(tempfile.mkdtemp())
    if given.folder is None:
        for name in ("DATA", "STATE", "CONFIG", "CACHE"):
            os.environ[f"XDG_{name}_HOME"] = str(folder / name.lower())
    app = make_app()
    path = project_in(folder, given.project)
    found = (
        play(path, read_deeds(given.play)) if given.play else let_loose(path, given.seed, given.seconds, given.record)
    )
    sys.stdout.write(json.dumps(found) + "\n")
    sys.stdout.flush()
    if given.folder is None:
        shutil.rmtree(folder, ignore_errors=True)
    del app
    os._exit(1 if found["faults"] or found["wrong"] else 0)


if __name__ == "__main__":
    sys.exit(main())
