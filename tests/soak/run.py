"""``make soak``: the long rounds, two at a time, with their figures. Exit 1 when anything went wrong."""

from __future__ import annotations

import argparse
import multiprocessing
import os
import tempfile
import time
from collections.abc import Callable
from functools import partial

from caddet.core import library as library
from caddet.core.designs import ORDER
from caddet.core.devices.practice_shots import PRACTICE
from caddet.core.recipe.registry import BLOCKS, STEPS
from tests.soak.designs import design_rounds
from tests.soak.figures import Figures
from tests.soak.garments import (
    block_rounds,
    chain_rounds,
    hand_rounds,
    recipe_rounds,
    step_rounds,
    surgery_rounds,
)
from tests.soak.meeting import long_chain_rounds, pair_rounds
from tests.soak.monkey import PROJECTS, monkey_rounds
from tests.soak.readers import READERS
from tests.soak.rounds import disk_rounds, edit_rounds, input_rounds, kill_rounds, refused_rounds
from tests.soak.tracing import photo_rounds
from tests.soak.truing import truing_rounds
from tests.soak.window import window_kill_rounds

Work = tuple[str, Callable[[], Figures]]


def _garments(surgery: int, recipes: int) -> list[Work]:
    """Every block and option, every step on every block, random steps one upon another, the chain of verbs and random ones."""
    blocks = sorted(BLOCKS)
    return [
        *((f"{block} on all bodies", partial(block_rounds, block)) for block in blocks),
        *((f"steps on {block}", partial(step_rounds, block)) for block in blocks),
        *((f"hands on {block}", partial(hand_rounds, block)) for block in blocks),
        *(("steps at random", partial(recipe_rounds, recipes // 4, seed)) for seed in range(1, 5)),
        *((f"design {name} on all bodies", partial(design_rounds, name)) for name in ORDER),
        *(
            (f"{name} trued on all bodies", partial(truing_rounds, name))
            for name in (*blocks, *ORDER)
            if name != "own.points"
        ),
        ("the chain of verbs on all bodies", chain_rounds),
        *(("verbs at random", partial(surgery_rounds, surgery // 4, seed)) for seed in range(1, 5)),
    ]


def _meeting(chains: int) -> list[Work]:
    """Every pair of steps, and chains of five to eight, judged from outside."""
    return [
        *((f"{kind} and what follows it", partial(pair_rounds, kind)) for kind in sorted(STEPS)),
        *(("chains of steps", partial(long_chain_rounds, chains // 4, seed)) for seed in range(1, 5)),
    ]


def _files(kills: int, window_kills: int, inputs: int, edits: int, disks: int) -> list[Work]:
    pieces = 20  # of the bad input, each in a process of its own, so that its memory is measured
    return [
        ("kills", partial(kill_rounds, kills // 2, 1)),
        ("kills", partial(kill_rounds, kills - kills // 2, 2)),
        ("kills of a window", partial(window_kill_rounds, window_kills)),
        ("edits, all undone", partial(edit_rounds, edits)),
        ("full disks", partial(disk_rounds, disks)),
        ("no permission", refused_rounds),
        *(("bad input", partial(input_rounds, inputs // pieces, seed)) for seed in range(1, pieces + 1)),
    ]


def _monkeys(seconds: float) -> list[Work]:
    """A monkey at every project, so many seconds in all."""
    each = seconds / len(PROJECTS)
    return [
        (f"a monkey at {name}", partial(monkey_rounds, name, seed, each)) for seed, name in enumerate(PROJECTS, 101)
    ]


def _pictures(each: int) -> list[Work]:
    """Practice garments traced from pictures, of other seeds than those that tests look at."""
    return [(f"{name} from pictures", partial(photo_rounds, name, range(100, 100 + each))) for name in PRACTICE]


def _one(work: Work) -> tuple[str, Figures, float]:
    begun = time.perf_counter()
    with tempfile.TemporaryDirectory() as folder:
        for name in ("DATA", "STATE", "CONFIG", "CACHE"):
            os.environ[f"XDG_{name}_HOME"] = os.path.join(folder, name.lower())
        figures = work[1]()
    return work[0], figures, time.perf_counter() - begun


def main() -> int:
    """Run the rounds and print what they counted. Returns the exit code."""
    parser = argparse.ArgumentParser(prog="make soak", description=__doc__)
    parser.add_argument("--kills", type=int, default=500)
    parser.add_argument("--window-kills", type=int, default=40)
    parser.add_argument("--inputs", type=int, default=100_000)
    parser.add_argument("--edits", type=int, default=10_000)
    parser.add_argument("--disks", type=int, default=40)
    parser.add_argument("--surgery", type=int, default=2000)
    parser.add_argument("--recipes", type=int, default=10_000)
    parser.add_argument("--chains", type=int, default=500)
    parser.add_argument("--pictures", type=int, default=30)
    parser.add_argument("--monkey", type=float, default=3600.0, help="seconds, over all projects")
    parser.add_argument("--only", choices=("garments", "meeting", "files", "pictures", "monkey"), default="")
    given = parser.parse_args()
    print(f"{len(READERS)} readers: {', '.join(reader.name for reader in READERS)}", flush=True)
    wrong = 0
    works: list[Work] = []
    if given.only in ("", "garments"):
        works += _garments(given.surgery, given.recipes)
    if given.only in ("", "meeting"):
        works += _meeting(given.chains)
    if given.only in ("", "files"):
        works += _files(given.kills, given.window_kills, given.inputs, given.edits, given.disks)
    if given.only in ("", "pictures"):
        works += _pictures(given.pictures)
    if given.only in ("", "monkey"):
        works += _monkeys(given.monkey)
    with multiprocessing.get_context("spawn").Pool(2, maxtasksperchild=1) as pool:
        for name, figures, seconds in pool.imap_unordered(_one, works):
            counted = ", ".join(f"{value:,} {what}" for what, value in figures.counts.items())
            worst = ", ".join(f"at most {value:.2f} {what}" for what, value in figures.worst.items())
            print(
                f"{name}: {counted}{'; ' + worst if worst else ''}; {len(figures.wrong)} wrong ({seconds:.0f} s)",
                flush=True,
            )
            for words in figures.wrong[:10]:
                print(f"    {words}", flush=True)
            wrong += len(figures.wrong)
    print("nothing went wrong" if not wrong else f"{wrong} went wrong")
    return 1 if wrong else 0
