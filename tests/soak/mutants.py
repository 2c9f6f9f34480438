"""``make mutants``: faults put in by machine, and whether the tests see them.

A seeded sample of places in the rooms below is changed, one at a time (another sign, another comparison, a number one
off, a loop that never runs), in a copy of the project; the core's tests run on it, those of the room first. A mutant
is killed when a test fails or the run takes too long, and survives when all pass. Every survivor is printed, so that
one can tell a gap in the tests from a change that makes no difference.

Runs in an environment of its own, ``.venv-mutants``, with the package that changes the code; the tests run in
``.venv``. Type unions (``A | None``) are left alone: nothing reads them while the program runs.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

from cosmic_ray.ast import Visitor, get_ast
from cosmic_ray.mutating import mutate_code
from cosmic_ray.plugins import get_operator, operator_names

HERE = Path(__file__).parents[2]
CORE = Path("src/caddet/core")
LEFT_OUT = ("VariableInserter", "VariableReplacer", "BinaryOperator_BitOr")
FIRST = {  # which tests speak of a room, in the order they are tried
    "pattern": ("pattern", "every_seam", "steps", "surgery", "lost", "contract"),
    "recipe": ("stages", "documents", "steps", "lost", "planning", "migrate", "listing", "cli_steps", "needed"),
    "truing": ("every_seam", "truing_and_finishing", "proof_and_registry"),
    "finishing": ("cut_lines", "truing_and_finishing", "listing", "formats"),
    "laying": ("laying_parts", "laying"),
}
NEVER = (
    "soak_share",
    "cli_odd",
    "people",
    "people_sheets",
    "lengths",
    "body",
)  # of files, the command line, and people
SOON, LATE = 240.0, 900.0  # seconds after which a run is taken for one that never ends


@dataclass(frozen=True)
class Mutant:
    """One change: where, and which."""

    path: Path
    line: int
    operator: str
    occurrence: int

    @property
    def room(self) -> str:
        return self.path.parts[len(CORE.parts)]


class _Places(Visitor):
    """Collects where an operator can change a module, in the order of its occurrences."""

    def __init__(self, operator: object) -> None:
        self.operator, self.found = operator, []  # type: ignore[var-annotated]

    def visit(self, node: object) -> object:
        self.found += [place[0] for place in self.operator.mutation_positions(node)]  # type: ignore[attr-defined]
        return node


def _words(source: str) -> set[int]:
    """The lines that hold nothing but a string or a message: a fault there is a matter of reading."""
    lines: set[int] = set()
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            lines.update(range(node.lineno, (node.end_lineno or node.lineno) + 1))
    return lines


def mutants(rooms: list[str]) -> list[Mutant]:
    """Every change that can be made to the rooms, one for each place and kind of change."""
    found = []
    for room in rooms:
        for path in sorted((HERE / CORE / room).rglob("*.py")):
            source = path.read_text()
            tree, words = get_ast(source), _words(source)
            for name in operator_names():
                if any(part in name for part in LEFT_OUT):
                    continue
                places = _Places(get_operator(name)())
                places.walk(tree)
                found += [
                    Mutant(path.relative_to(HERE), place[0], name, number)
                    for number, place in enumerate(places.found)
                    if place[0] not in words
                ]
    return found


def sampled(every: list[Mutant], count: int, seed: int) -> list[Mutant]:
    """So many places, drawn evenly, with one of the changes that can be made at each."""
    chance = random.Random(seed)
    places: dict[tuple[Path, int, str], list[Mutant]] = {}
    for mutant in every:
        places.setdefault((mutant.path, mutant.line, mutant.operator.split("_")[0]), []).append(mutant)
    return [chance.choice(places[key]) for key in chance.sample(sorted(places), min(count, len(places)))]


def _tests(folder: Path, room: str) -> tuple[list[str], list[str]]:
    first = [f"tests/core/test_{name}.py" for name in FIRST[room]]
    rest = sorted(str(p.relative_to(folder)) for p in (folder / "tests/core").glob("test_*.py"))
    return first, [t for t in rest if t not in first and Path(t).stem.removeprefix("test_") not in NEVER]


def _passes(folder: Path, tests: list[str], seconds: float) -> bool:
    environment = {**os.environ, "PYTHONPATH": f"{folder / 'src'}:{folder}", "PYTHONDONTWRITEBYTECODE": "1"}
    command = [str(HERE / ".venv/bin/python"), "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests]
    try:
        run = subprocess.run(
            command, cwd=folder, env=environment, timeout=seconds, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
    except subprocess.TimeoutExpired:
        return False
    return run.returncode == 0


def survives(mutant: Mutant, folder: Path) -> bool | None:
    """Whether the tests see nothing; None when the change makes no Python, or none at all."""
    path = folder / mutant.path
    source = path.read_text()
    changed = mutate_code(source, get_operator(mutant.operator)(), mutant.occurrence)
    if changed is None or changed == source:
        return None
    try:
        ast.parse(changed)
        path.write_text(changed)
        first, rest = _tests(folder, mutant.room)
        return _passes(folder, first, SOON) and _passes(folder, rest, LATE)
    except SyntaxError:
        return None
    finally:
        path.write_text(source)


def _copied(number: int, into: str) -> Path:
    folder = Path(into) / str(number)
    for name in ("src", "tests", "bench", "scripts", "docs"):
        shutil.copytree(HERE / name, folder / name, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for path in HERE.iterdir():
        if path.is_file():
            shutil.copy(path, folder / path.name)
    return folder


def main() -> int:
    """Run the sample and print each survivor and the shares. Returns 1 when more survive than ``--most``."""
    parser = argparse.ArgumentParser(prog="make mutants")
    parser.add_argument("--count", type=int, default=300)
    parser.add_argument("--seed", type=int, default=9)
    parser.add_argument("--rooms", default=",".join(FIRST))
    parser.add_argument("--workers", type=int, default=2)
    parser.add_argument("--most", type=float, default=0.15)
    given = parser.parse_args()
    every = mutants(given.rooms.split(","))
    sample = sampled(every, given.count, given.seed)
    print(f"{len(sample)} of {len(every)} changes, seed {given.seed}", flush=True)
    begun, tried, lived = time.perf_counter(), Counter[str](), Counter[str]()
    with tempfile.TemporaryDirectory() as into, ThreadPoolExecutor(given.workers) as pool:
        folders: Queue[Path] = Queue()
        for number in range(given.workers):
            folders.put(_copied(number, into))
        whole = folders.get()
        first, rest = _tests(whole, "pattern")
        if not _passes(whole, [*first, *rest], LATE):
            print("the tests fail on the code as it is: mend that first")
            return 2
        folders.put(whole)

        def one(mutant: Mutant) -> None:
            folder = folders.get()
            try:
                found = survives(mutant, folder)
            finally:
                folders.put(folder)
            if found is None:
                return
            tried[mutant.room] += 1
            lived[mutant.room] += found
            if found:
                line = (HERE / mutant.path).read_text().splitlines()[mutant.line - 1].strip()
                what = mutant.operator.removeprefix("core/")
                print(f"survived: {mutant.path}:{mutant.line} {what} {mutant.occurrence}: {line}", flush=True)
            if sum(tried.values()) % 10 == 0:
                print(f"    {sum(tried.values())} tried, {sum(lived.values())} survived", flush=True)

        list(pool.map(one, sample))
    for room in tried:
        print(f"{room}: {lived[room]} of {tried[room]} survived")
    share = sum(lived.values()) / max(1, sum(tried.values()))
    print(f"{share:.1%} survived of {sum(tried.values())} ({time.perf_counter() - begun:.0f} s)")
    return 1 if share > given.most else 0


if __name__ == "__main__":
    sys.exit(main())
