"""What everything comes to, written down, so that a change of the house can be held against it.

``python -m tests.soak.redrawn --write FILE`` before a change, ``--against FILE`` after it: every block with all its
options, every design, and every step on every block (as it stands and with values from a seed), on some bodies. Told is
what is another by more than 0.01 mm.
"""

from __future__ import annotations

import argparse
import json
import multiprocessing
import random
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from caddet.core import library as library
from caddet.core.designs import ORDER, design_named
from caddet.core.errors import CaddetError
from caddet.core.geometry.segments import Point
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.features import Spot
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document
from caddet.core.recipe.registry import BLOCKS, STEPS, step_entry
from tests.alike import lost_when_stored
from tests.core.test_contract import options_of
from tests.making import drafted, full_people
from tests.soak.garments import any_values

NEAR = 0.01  # mm
PEOPLE = (0, 5, 9)  # of those with every measure
Told = dict[str, Any]


def cases(only: str) -> Iterator[str]:
    """The names of everything that is looked at."""
    for block in sorted(BLOCKS):
        if only in ("", "blocks"):
            yield f"block {block}"
        if only in ("", "steps"):
            yield f"steps {block}"
    for name in ORDER if only in ("", "designs") else ():
        yield f"design {name}"


def told_of(case: str) -> dict[str, Told]:
    """Everything of a case, by its name."""
    kind, _, name = case.partition(" ")
    people = [full_people()[number] for number in PEOPLE]
    found: dict[str, Told] = {}
    if kind == "block":
        for who in people:
            for options in options_of(BLOCKS[name]):
                found[f"{name} {options} {who.name}"] = _made(drafted(name, who, **options))
    elif kind == "design":
        for who in people:
            document = Document.model_validate(
                {**design_named(name).document.parts(), "people": (who,), "wearer": who.name}
            )
            found[f"{name} {who.name}"] = _made(make(EvaluateRequest(document)))
    else:
        for who in people[:2]:
            found |= _steps(name, drafted(name, who), who.name)
    return found


def _steps(block: str, base: Made, who: str) -> dict[str, Told]:
    found: dict[str, Told] = {}
    if base.pattern is None:
        return found
    for kind, step in STEPS.items():
        for number in range(2):
            values = any_values(step, base.pattern, random.Random(f"{block} {kind} {who}")) if number else {}
            said = f"{block} {who} {kind} {values}"
            try:
                made = make(EvaluateRequest(edits.add_step(base.document, step_entry(kind, values))))
            except CaddetError as error:
                found[said] = {"refused": str(error)}
                continue
            stuck = [one.stuck for one in made.evaluated.outcomes if one.stuck]
            found[said] = {"stuck": [str(one) for one in stuck]} if stuck else _made(made)
    return found


def _made(made: Made) -> Told:
    if made.pattern is None:
        return {"none": [str(one.sentence) for one in made.findings]}
    return {
        **pattern_told(made.pattern),
        "lost when stored": _lost(made.pattern),
        "proof": [[one.kind, one.name, one.holds, round(one.value, 3)] for one in made.proof if one.kind != "finding"],
    }


def _lost(pattern: Pattern) -> list[str]:
    try:
        return lost_when_stored(pattern)
    except CaddetError as error:
        return [] if any(map(bent_folds, pattern.pieces)) else [str(error)]


def bent_folds(piece: Piece) -> bool:
    """Whether a fold of a piece is no straight line; that is told at its step, and such a piece is not stored."""
    return any(
        edge.finish == "fold" and edge.path.length > abs(edge.path.end - edge.path.start) + 1e-3 for edge in piece.edges
    )


def pattern_told(pattern: Pattern) -> Told:
    """A pattern as plain values."""
    return {
        "pieces": {piece.name: _piece_told(piece) for piece in pattern.pieces},
        "seams": {
            seam.name: [str(seam.label), seam.kind, seam.amount, *(_length(pattern, layer) for layer in seam.layers)]
            for seam in pattern.seams
        },
        "notions": [[one.notion.name, one.notion.count, one.length] for one in pattern.needs()],
    }


def _length(pattern: Pattern, layer: Any) -> float | str:
    try:
        return pattern.length(layer)
    except CaddetError:
        return "lost"


def _at(point: Point) -> list[float]:
    return [point.real, point.imag]


def _piece_told(piece: Piece) -> Told:
    edges = [
        [edge.id, edge.finish, edge.dart, *_at(edge.path.start), *_at(edge.path.point_at(edge.path.length / 3)), *_at(edge.path.point_at(edge.path.length * 2 / 3)), edge.path.length, edge.low, edge.high]
        for edge in piece.edges
    ]  # fmt: skip
    return {
        "label": str(piece.label),
        "edges": edges,
        "darts": [[dart.id, str(dart.label), dart.pressed] for dart in piece.darts],
        "features": [[f.kind, f.name, f.towards, *(value for line in piece.drawn(f) for end in (line.start, line.end) for value in _at(end))] for f in piece.features],
        "notches": [[n.edge, n.double, n.name, *(_at(piece.where(Spot(n.edge, n.u))) if piece.holds_spot(Spot(n.edge, n.u)) else ["gone"])] for n in piece.notches],
        "grain": [piece.grain.kind, *_at(piece.grain.a), *_at(piece.grain.b)],
        "cuts": [[cut.cloth, cut.count] for cut in piece.cuts],
        "pair": piece.pair,
    }  # fmt: skip


def differences(before: Any, after: Any, where: str = "") -> Iterator[str]:
    """Where two values differ by more than 0.01."""
    if isinstance(before, dict) and isinstance(after, dict):
        for key in before.keys() | after.keys():
            if key not in before or key not in after:
                yield f"{where}/{key}: {'new' if key in after else 'gone'}"
            else:
                yield from differences(before[key], after[key], f"{where}/{key}")
    elif isinstance(before, list) and isinstance(after, list):
        if len(before) != len(after):
            yield f"{where}: {len(before)} → {len(after)}"
        for number, (one, other) in enumerate(zip(before, after, strict=False)):
            yield from differences(one, other, f"{where}[{number}]")
    elif isinstance(before, int | float) and isinstance(after, int | float) and not isinstance(before, bool):
        if abs(before - after) > NEAR:
            yield f"{where}: {before:.3f} → {after:.3f}"
    elif before != after:
        yield f"{where}: {str(before)[:80]} → {str(after)[:80]}"


def main() -> int:
    """Write, or compare. Exit 1 when something is another."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--write", type=Path)
    parser.add_argument("--against", type=Path)
    parser.add_argument("--only", choices=("", "blocks", "steps", "designs"), default="")
    given = parser.parse_args()
    told: dict[str, Told] = {}
    with multiprocessing.get_context("spawn").Pool(2) as pool:
        for found in pool.imap(told_of, list(cases(given.only))):
            told |= found
    lost = {name: words for name, one in told.items() if (words := one.pop("lost when stored", None))}
    for name, words in list(lost.items())[:20]:
        print(f"{name}: {words[:3]}", flush=True)
    print(f"{len(lost)} lose something when they are stored")
    if given.write:
        given.write.write_text(json.dumps(told))
        print(f"{len(told)} written")
        return 0
    before = json.loads(given.against.read_text())
    after = json.loads(json.dumps(told))
    wrong = 0
    for name in before if not given.only else before.keys() & after.keys():
        found = list(differences(before.get(name), after.get(name)))
        if found:
            wrong += 1
            print(f"{name}: {len(found)}", flush=True)
            for words in found[:6]:
                print(f"    {words}", flush=True)
    print(f"{len(after)} looked at, {wrong} another")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
