"""What the command line and other programs read: pieces, seams, figures, proof and lay as plain data.

Lengths in mm. The shapes are documented in ``docs/cli.md``.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from typing import Any

from caddet.core.body.measures import MEASURES
from caddet.core.errors import CaddetError
from caddet.core.finishing.finish import allowance, lies_under
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point
from caddet.core.laying.plan import LayPlan
from caddet.core.made import Made
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Dart, Feature, Spot
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import level_length
from caddet.core.pattern.seams import Part
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.registry import BLOCKS, STEPS, Block, Parameter
from caddet.core.sentences import told
from caddet.core.truing.walk import walk

Json = dict[str, Any]


def blocks_listing() -> list[Json]:
    """Every block: the measures it needs and can use, its figures and options."""
    return [_block(block) for _, block in sorted(BLOCKS.items())]


def _block(block: Block) -> Json:
    return {
        "name": block.name,
        "label": block.label,
        "about": block.about,
        "measures": {"needed": list(block.needs_for({})), "useful": list(block.uses)},
        "ease": [{"level": e.level, "label": e.label, "default": e.default} for e in block.ease],
        "figures": [
            {"name": f.name, "label": f.label, "formula": f.formula, "reason": f.reason, "source": f.source}
            for f in block.figures_for(block.option_values({}))
        ],
        "options": [
            {
                "name": o.name,
                "label": o.label,
                "kind": o.kind,
                "default": o.default,
                "begins": o.begins,
                "low": o.low,
                "high": o.high,
                "choices": [name for name, _ in o.choices],
            }
            for o in block.options
        ],
    }


def steps_listing() -> list[Json]:
    """Every step with its parameters: kind, default, limits, choices."""
    return [
        {
            "name": step.kind,
            "label": step.label,
            "about": step.why,
            "source": step.source,
            "parameters": [
                {
                    "name": p.name,
                    "label": p.label,
                    "kind": p.kind,
                    "default": _default(p),
                    "why": p.why,
                    "limits": [p.low, p.high] if p.is_amount else [],
                    "choices": [name for name, _ in p.choices],
                }
                for p in step.parameters
            ],
        }
        for step in STEPS.values()
    ]


def _default(parameter: Parameter) -> Any:
    return list(parameter.default) if isinstance(parameter.default, tuple) else parameter.default


def pieces_listing(made: Made) -> Json:
    """Pieces with outline (net, flattened to 0.05 mm), edges, darts, features, levels; seams; figures."""
    pattern = made.pattern
    if pattern is None:
        return {"pieces": [], "seams": [], "figures": _figures(made), "notions": []}
    pieces = [
        {
            "name": piece.name,
            "label": piece.label,
            "outline": [[p.real, p.imag] for p in piece.polygon()],
            "cut_outline": [[p.real, p.imag] for p in made.cut_piece(piece.name).polygon()],
            "edges": _edges(made, piece),
            "darts": [_dart(piece, dart) for dart in piece.darts],
            "features": [{"kind": f.kind, "name": f.name, "label": f.label, "lines": _lines(piece, f)}
                         for f in piece.features if f.kind != "level"],
            "levels": [{"name": f.name, "label": f.label, "length": level_length(piece, f), "points": _level_ends(piece, f), "lines": _lines(piece, f)}
                       for f in piece.features if f.kind == "level"],
            "notches": [{"edge": n.edge, "at": piece.along(Spot(n.edge, n.u)), "u": n.u, "double": n.double, "name": n.name}
                        for n in piece.notches],
            "grain": {"from": [piece.grain.a.real, piece.grain.a.imag], "to": [piece.grain.b.real, piece.grain.b.imag],
                      "kind": piece.grain.kind},
            "on_fold": bool(piece.fold),
            "cut": piece.cut,
            "pair": piece.pair,
            "cuts": [{"cloth": c.cloth, "count": c.count, "how": "on the fold" if piece.fold else "pair" if piece.pair else "single"}
                     for c in piece.cuts],
        }
        for piece in pattern.pieces
    ]  # fmt: skip
    return {"pieces": pieces, "seams": _seams(pattern), "figures": _figures(made), "notions": notions_listing(made)}


def notions_listing(made: Made) -> list[Json]:
    """What it needs besides cloth: label, kind, count, length of one, the size to buy, packs, the sum."""
    if made.pattern is None:
        return []
    return [
        {
            "name": one.notion.name,
            "kind": one.notion.kind,
            "label": told(one.notion.label, "cm"),
            "count": one.notion.count,
            "length": one.length,
            "size": one.size,
            "packs": one.packs,
            "sum": told(one.working, "cm"),
            "wrong": told(one.wrong, "cm"),
        }
        for one in made.pattern.needs()
    ]


def edges_of(piece: Piece) -> list[tuple[str, list[Edge]]]:
    """The edges of a piece by id, darts inside them skipped: the parts of each in the maker's order."""
    found: dict[tuple[str, str], list[Edge]] = {}
    for key in piece.runs():
        for edge in piece.run(key):
            found.setdefault((edge.id, edge.finish), []).append(edge)
    return [(name, parts) for (name, _), parts in found.items()]


def _edges(made: Made, piece: Piece) -> list[Json]:
    """Every edge of a piece with what it is; ``points`` run through its parts in the maker's order."""
    found = []
    for name, parts in edges_of(piece):
        finish = parts[0].finish
        role = finish if finish in ("hem", "fold", "opening", "slit") else "edge" if finish else "seam"
        found.append(
            {
                "name": name,
                "label": parts[0].own.replace("_", " "),
                "length": sum(part.path.length for part in parts),
                "role": role,
                "finish": finish,
                "parts": len(parts),
                "allowance": allowance(made.document.finishing, parts[0], lies_under(piece, parts[0])),
                "points": [[p.real, p.imag] for part in parts for p in _points(part.walked)],
            }
        )
    return found


NEAR_END = 0.001  # as a share of a curve


def _points(path: Path) -> list[Point]:
    """A flattened path, with a point close to both ends of every curve: its directions there can be read from them."""
    points = [path.start]
    for segment in path.segments:
        flat = segment.flattened()
        if len(flat) > 1:
            flat = [segment.point(NEAR_END), *flat[:-1], segment.point(1 - NEAR_END), flat[-1]]
        points += flat
    return points


def _seams(pattern: Pattern) -> list[Json]:
    found = []
    for seam in pattern.seams:
        for layer in range(1, len(seam.layers)):
            try:
                walked = walk(pattern, seam, layer)
            except CaddetError as error:
                found.append({"name": seam.name, "label": seam.label, "kind": seam.joins[layer - 1].kind, "a": [], "b": [],
                              "length_a": 0.0, "length_b": 0.0, "tolerance": seam.tolerance, "one_sided": seam.one_sided, "a_of": [], "b_of": [], "letter": "", "holds": False, "lost": str(error)})  # fmt: skip
                continue
            found.append(
                {
                    "name": seam.name,
                    "letter": pattern.letter(seam.name),
                    "label": seam.label,
                    "kind": seam.joins[layer - 1].kind,
                    "a": [str(part) for part in seam.layers[0]],
                    "b": [str(part) for part in seam.layers[layer]],
                    "a_of": [_span(pattern, part) for part in seam.layers[0]],
                    "b_of": [_span(pattern, part) for part in seam.layers[layer]],
                    "length_a": walked.length_a,
                    "length_b": walked.length_b,
                    "tolerance": seam.tolerance,
                    "one_sided": seam.one_sided,
                    "holds": walked.holds,
                }
            )
    return found


def _span(pattern: Pattern, part: Part) -> list[float]:
    """From where to where a part of a seam takes its edge, in mm along it; over all its stretches where it was divided."""
    fragments = pattern.fragments(part)
    if len(fragments) == 1:
        return [fragments[0].low, fragments[0].high]
    return [0.0, sum(one.length for one in fragments)]


def _lines(piece: Piece, feature: Feature) -> list[list[list[float]]]:
    return [[[p.real, p.imag] for p in path.flattened()] for path in piece.drawn(feature)]


def _level_ends(piece: Piece, feature: Feature) -> list[list[float]]:
    """The two outer points of a level."""
    ends = [piece.where(end) for bit in feature.bits for end in (bit.a, bit.b)]
    a, b = max(((p, q) for p in ends for q in ends), key=lambda pair: abs(pair[0] - pair[1]))
    return [[a.real, a.imag], [b.real, b.imag]]


def _dart(piece: Piece, dart: Dart) -> Json:
    _, a, apex, b = piece.legs(dart.id)
    return {
        "name": dart.id,
        "label": dart.label,
        "apex": [apex.real, apex.imag],
        "intake": abs(b - a),
        "pressed": dart.pressed,
        "length": abs(apex - (a + b) / 2),
        "legs": [[a.real, a.imag], [b.real, b.imag]],
    }


def _figures(made: Made) -> list[Json]:
    return [
        {
            "name": name,
            "label": sum_.figure.label,
            "value": sum_.value,
            "sum": sum_.working("cm"),
            "formula": sum_.formula,
            "override": sum_.override is not None,
            "estimates": list(sum_.estimates),
        }
        for name, sum_ in made.sums.items()
    ]


def proof_listing(made: Made) -> Json:
    """Every line of the proof."""
    return {
        "proof": [
            {"name": line.name, "kind": line.kind, "label": line.label, "value": line.value, "limit": line.limit,
             "holds": line.verdict != "fails", "accepted": bool(line.accepted), "reason": line.accepted,
             "verdict": line.verdict, "place": line.place,
             "sentence": line.sentence, "measures": line.measures, "remedies": [remedy.label for remedy in line.remedies]}
            for line in made.proof
        ]
    }  # fmt: skip


def lays_listing(lays: Sequence[tuple[str, Cloth, LayPlan | str]]) -> Json:
    """The lays of every cloth role, in order; the main one's values stand at the top level too.

    A lay that can't be made is the reason why.
    """
    found = [
        {
            "cloth": role,
            "cloth_name": cloth.name,
            **(no_lay_listing(cloth, plan) if isinstance(plan, str) else lay_listing(plan)),
        }
        for role, cloth, plan in lays
    ]
    first = {key: value for key, value in found[0].items() if key not in ("cloth", "cloth_name")} if found else {}
    return {**first, "lays": found}


def lay_listing(plan: LayPlan) -> Json:
    """A lay: x along the cloth, y across, on folded cloth from the fold."""
    return {
        "length": plan.length,
        "width": plan.width,
        "folded": plan.folded,
        "utilisation": plan.utilisation,
        "buy": plan.buy,
        "cost": plan.cost,
        "placed": [
            {
                "piece": p.piece,
                "outline": [[q.real, q.imag] for q in p.outline],
                "rotation": p.rotation,
                "mirrored": p.mirrored,
                "on_fold": p.on_fold,
            }
            for p in plan.placed
        ],
    }


def no_lay_listing(cloth: Cloth, why: str) -> Json:
    """A lay that can't be made, with the reason."""
    return {
        "length": 0.0,
        "width": cloth.width,
        "folded": False,
        "utilisation": 0.0,
        "buy": 0.0,
        "cost": 0.0,
        "placed": [],
        "refused": why,
    }


def csv_pieces(made: Made) -> str:
    """Edges, darts, figures and measures as one flat CSV: what, name, mm."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["what", "name", "mm"])
    if made.pattern is not None:
        for piece in made.pattern.pieces:
            for name, parts in edges_of(piece):
                writer.writerow(["edge", name, f"{sum(part.path.length for part in parts):.2f}"])
            for dart in piece.darts:
                _, a, _, b = piece.legs(dart.id)
                writer.writerow(["dart", dart.id, f"{abs(b - a):.2f}"])
    for name, sum_ in made.sums.items():
        writer.writerow(["figure", name, f"{sum_.value:.2f}"])
    for code, value in made.evaluated.measures.items():
        kind = "estimate" if code in made.evaluated.estimates else "measure"
        writer.writerow([kind, MEASURES[code].code, f"{value:.2f}"])
    return out.getvalue()
