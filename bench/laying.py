"""The lay after 5 s against the lengths reached in a trial, on the synthetic sets of tests/data/lay-sets.json.

Only ``skirt`` and ``trousers`` of the sets; lengths in cm; the reference is the trial's length.
"""

from __future__ import annotations

import json
from pathlib import Path

from caddet.core.finishing.finish import CutPiece
from caddet.core.geometry.paths import Path as Line
from caddet.core.laying.plan import plan_lay
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.piece import Cut, Grain, Piece
from caddet.core.recipe.choices import Cloth, LayChoices

TRIAL = {
    ("skirt", "open", 140): 92.5,
    ("skirt", "open", 150): 84.0,
    ("skirt", "folded", 140): 92.1,
    ("skirt", "folded", 150): 91.0,
    ("trousers", "open", 140): 139.5,
    ("trousers", "open", 150): 130.0,
    ("trousers", "folded", 140): 144.3,
    ("trousers", "folded", 150): 132.0,
}


def pieces(name: str) -> list[CutPiece]:
    """The pieces of a set, grain along x, a fold edge on y = 0."""
    data = json.loads((Path(__file__).parent.parent / "tests/data/lay-sets.json").read_text())
    found = []
    for entry in data["sets"][name]:
        points = [complex(x, y) * 10 for x, y in entry["outline"]]
        sides = [
            Line.polyline([a, b]) for a, b in zip(points, [*points[1:], points[0]], strict=True) if abs(a - b) > 1e-9
        ]
        edges = [
            Edge("fold", side, "fold")
            if entry["on_fold"] and abs(side.start.imag) + abs(side.end.imag) < 1e-6
            else Edge("edge", side)
            for side in sides
        ]
        piece = Piece(
            entry["name"],
            entry["name"],
            tuple(edges),
            grain=Grain(0j, 100 + 0j),
            cuts=(Cut(count=entry["cut"]),),
            pair=entry["cut"] > 1,
        )
        outline = Line.join(sides)
        found.append(CutPiece(piece, outline, outline, (), (), ()))
    return found


def main() -> None:
    """Measure, and print each ratio with its aim."""
    for (name, fold, width), trial in TRIAL.items():
        choices = LayChoices(fold=fold, gap=3.0)  # type: ignore[arg-type]
        plan = plan_lay(pieces(name), Cloth(name="c", width=width * 10.0), choices, seconds=5.0, most_tries=100_000)
        ratio = plan.length / 10 / trial
        word = "within" if ratio <= 1.05 else "over"
        print(
            f"lay of {name}, {fold}, {width} cm, 5 s: {ratio:.3f} x the trial, {word} the aim of 1.05 x  ({plan.length / 10:.1f} cm / {trial} cm)"
        )


if __name__ == "__main__":
    main()
