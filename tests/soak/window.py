"""Kills of a whole program with its window: edits, undo and saving as the desk does them, in threads."""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from caddet.core.demo import demo_document
from caddet.core.errors import CaddetError
from caddet.core.formats.keeping import Keeper
from caddet.core.formats.project import no_pictures, open_project, save_project
from tests.soak.editing import photographs_lost
from tests.soak.figures import Figures
from tests.soak.rounds import chain_of

SCRIPT = """
import random, sys
from pathlib import Path
from PyQt6.QtCore import QTimer
from caddet.core.errors import CaddetError
from caddet.desk.app import make_app, open_bench
from caddet.desk.window import MainWindow
from tests.soak.editing import PHOTOGRAPHS, edited
from tests.soak.rounds import chain_of
app = make_app()
bench = open_bench(Path(sys.argv[1]), None).bench
window = MainWindow(bench)
window.show()
chance = random.Random(int(sys.argv[2]))
def say(word):
    print(word, *chain_of(bench.history), flush=True)
def turn():
    if bench.reading_past:
        return
    kind = chance.random()
    if kind < 0.1:
        bench.undo()
    elif kind < 0.15:
        bench.redo()
    else:
        after = edited(bench.history.document, chance)
        bench.edit("edit", lambda d: after)
    say("about")
bench.saved.connect(lambda: bench.unsaved or say("kept"))
print("begun", flush=True)
for data in PHOTOGRAPHS.values():
    bench.take_picture(data)
timer = QTimer()
timer.timeout.connect(turn)
timer.start(5)
app.exec()
"""


def window_kill_rounds(count: int, seed: int = 1) -> Figures:
    """Kill the whole program at a random moment; what was shown as saved is there, with its undo."""
    figures = Figures()
    chance = random.Random(seed)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.caddet"
        save_project(demo_document(), path, no_pictures)
        for number in range(count):
            opened = open_project(path)
            first = chain_of(Keeper(path, opened, read_only=True).past(opened.document))
            environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
            program = subprocess.Popen(
                [sys.executable, "-c", SCRIPT, str(path), str(chance.randrange(10**9))],
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
                env=environment,
            )
            assert program.stdout is not None
            program.stdout.readline()
            time.sleep(chance.uniform(0.05, 0.7))
            program.send_signal(signal.SIGKILL)
            heard = [line.decode().split() for line in program.stdout.read().split(b"\n")[:-1]]
            program.wait()
            about = [words[1:] for words in heard if words[0] == "about"]
            kept = [words[1:] for words in heard if words[0] == "kept"]
            figures.counts["kills"] += 1
            figures.counts["saves shown"] += len(kept)
            try:
                again = open_project(path)
                keeper = Keeper(path, again, read_only=True)
                history = keeper.past(again.document)
                undo = chain_of(history)
            except CaddetError as error:
                figures.wrong.append(f"window kill {number}: unreadable: {error}")
                continue
            figures.wrong += [f"window kill {number}: a photograph is lost" for _ in photographs_lost(keeper, history)]
            # what was announced since the last save that was shown may be there already
            since = about[about.index(kept[-1]) :] if kept and kept[-1] in about else about
            may_be = [kept[-1] if kept else first, *since]
            newest = may_be[-1]  # and one edit, undo or redo more, which was not announced yet
            if undo not in may_be and undo[:-1] != newest and undo != newest[:-1]:
                figures.wrong.append(
                    f"window kill {number}: lost ({len(undo)} of {len(kept[-1]) if kept else len(first)})"
                )
    return figures
