"""What the command line and other programs read: pieces, seams, figures, proof and lay as plain data.

Lengths in mm. The shapes are documented in ``docs/cli.md``.
"""

from __future__ import annotations

import csv
import io
from typing import Any

from caddet.core.body.measures import MEASURES
from caddet.core.finishing.finish import allowance
from caddet.core.laying.plan import LayPlan
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.registry import BLOCKS, Block
from caddet.core.truing.walk import walk
from caddet.core.workroom import Made

Json = dict[str, Any]


def blocks_listing() -> list[Json]:
    """Every block: the measures it needs and can use, its figures and options."""
    return [_block(block) for _, block in sorted(BLOCKS.items())]


def _block(block: Block) -> Json:
    return {
        "name": block.name,
        "label": block.label,
        "about": block.about,
        "measures": {"needed": list(block.needs), "useful": list(block.uses)},
        "ease": [{"level": e.level, "label": e.label, "default": e.default} for e in block.ease],
        "figures": [
            {"name": f.name, "label": f.label, "formula": f.formula, "reason": f.reason, "source": f.source}
            for f in block.figures
        ],
        "options": [
            {"name": o.name, "label": o.label, "kind": o.kind, "default": o.default,
             "low": o.low, "high": o.high, "choices": [name for name, _ in o.choices]}
            for o in block.options
        ],
    }  # fmt: skip


def pieces_listing(made: Made) -> Json:
    """Pieces with outline (net, flattened to 0.05 mm), edges, darts; seams; figures."""
    pattern = made.pattern
    if pattern is None:
        return {"pieces": [], "seams": [], "figures": _figures(made)}
    pieces = [
        {
            "name": piece.name,
            "label": piece.label,
            "outline": [[p.real, p.imag] for p in piece.polygon()],
            "cut_outline": [[p.real, p.imag] for p in made.cut_piece(piece.name).polygon()],
            "edges": [
                {"name": name, "length": edge.path.length, "role": edge.role,
                 "allowance": allowance(made.document.finishing, piece, edge)}
                for name, edge in piece.edge_names()
            ],
            "darts": [_dart(piece.legs(dart.name), dart.name) for dart in piece.darts],
            "notches": [{"edge": n.run, "at": n.at, "double": n.double, "name": n.name} for n in piece.notches],
            "on_fold": bool(piece.fold),
            "cut": piece.cut,
            "pair": piece.pair,
        }
        for piece in pattern.pieces
    ]  # fmt: skip
    seams = []
    for seam in pattern.seams:
        walked = walk(pattern, seam)
        seams.append(
            {"name": seam.name, "label": seam.label, "kind": seam.kind, "a": [str(ref) for ref in seam.a],
             "b": [str(ref) for ref in seam.b], "length_a": walked.length_a, "length_b": walked.length_b,
             "tolerance": seam.tolerance, "holds": walked.holds}
        )  # fmt: skip
    return {"pieces": pieces, "seams": seams, "figures": _figures(made)}


def _dart(legs: tuple[int, complex, complex, complex], name: str) -> Json:
    _, a, apex, b = legs
    return {"name": name, "apex": [apex.real, apex.imag], "intake": abs(b - a), "length": abs(apex - (a + b) / 2),
            "legs": [[a.real, a.imag], [b.real, b.imag]]}  # fmt: skip


def _figures(made: Made) -> list[Json]:
    return [
        {"name": name, "label": sum_.figure.label, "value": sum_.value, "sum": sum_.working("cm"),
         "formula": sum_.formula, "override": sum_.override is not None, "estimates": list(sum_.estimates)}
        for name, sum_ in made.sums.items()
    ]  # fmt: skip


def proof_listing(made: Made) -> Json:
    """Every line of the proof."""
    return {
        "proof": [
            {"name": line.name, "kind": line.kind, "label": line.label, "value": line.value, "limit": line.limit,
             "holds": line.verdict != "fails", "accepted": bool(line.accepted), "reason": line.accepted,
             "verdict": line.verdict, "place": line.place,
             "sentence": line.sentence, "remedies": [remedy.label for remedy in line.remedies]}
            for line in made.proof
        ]
    }  # fmt: skip


def lay_listing(plan: LayPlan) -> Json:
    """The lay: x along the cloth, y across, on folded cloth from the fold."""
    return {
        "length": plan.length,
        "width": plan.width,
        "folded": plan.folded,
        "utilisation": plan.utilisation,
        "buy": plan.buy,
        "cost": plan.cost,
        "placed": [
            {"piece": p.piece, "outline": [[q.real, q.imag] for q in p.outline], "rotation": p.rotation,
             "mirrored": p.mirrored, "on_fold": p.on_fold}
            for p in plan.placed
        ],
    }  # fmt: skip


def no_lay_listing(cloth: Cloth, why: str) -> Json:
    """A lay that can't be made, with the reason."""
    return {"length": 0.0, "width": cloth.width, "folded": False, "utilisation": 0.0, "buy": 0.0, "cost": 0.0,
            "placed": [], "refused": why}  # fmt: skip


def csv_pieces(made: Made) -> str:
    """Edges, darts, figures and measures as one flat CSV: what, name, mm."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["what", "name", "mm"])
    if made.pattern is not None:
        for piece in made.pattern.pieces:
            for name, edge in piece.edge_names():
                writer.writerow(["edge", f"{piece.name}.{name}", f"{edge.path.length:.2f}"])
            for dart in piece.darts:
                _, a, _, b = piece.legs(dart.name)
                writer.writerow(["dart", f"{piece.name}.{dart.name}", f"{abs(b - a):.2f}"])
    for name, sum_ in made.sums.items():
        writer.writerow(["figure", name, f"{sum_.value:.2f}"])
    for code, value in made.evaluated.measures.items():
        kind = "estimate" if code in made.evaluated.estimates else "measure"
        writer.writerow([kind, MEASURES[code].code, f"{value:.2f}"])
    return out.getvalue()
