"""Steps that open a seam: a slit from the hem up."""

from __future__ import annotations

from dataclasses import replace

from caddet.core.geometry.segments import Point
from caddet.core.lengths import Unit, format_length
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.surgery import split_edge
from caddet.core.recipe.registry import Grip, Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Plain


def slit(pattern: Pattern, values: Values) -> Pattern:
    """Leave a seam open from the hem up to a height; both its sides are opened."""
    name, run, height = str(values["piece"]), str(values["run"]), float(values["height"])
    if not pattern.has(name):
        raise Stuck(f"there is no piece “{name}” any more", "piece")
    if run not in pattern.piece(name).runs():
        raise Stuck(f"the {pattern.piece(name).label.lower()} has no edge “{run}” any more", "run")
    partners = {name: run}
    for seam in pattern.seams:
        refs = [*seam.a, *seam.b]
        if len(refs) == 2 and any((ref.piece, ref.run) == (name, run) for ref in refs):
            partners.update({ref.piece: ref.run for ref in refs})
    for piece_name, piece_run in partners.items():
        pattern = pattern.with_piece(opened(pattern.piece(piece_name), piece_run, height))
    return pattern


def opened(piece: Piece, run: str, height: float) -> Piece:
    """One piece with the hem end of a run turned into a slit ``height`` mm long. Raises :class:`Stuck`."""
    edges = piece.run(run)
    if edges[0].role != "seam":
        raise Stuck("only a seam can be left open; a fold would have to become a seam first", "run")
    if "slit" in piece.runs():
        raise Stuck(f"the {piece.label.lower()} has a slit already", "run")
    hem_ends = [point for e in piece.edges if e.role == "hem" for point in (e.path.start, e.path.end)]
    if not hem_ends:
        raise Stuck("there is no hem to open from", "run")

    def at_hem(point: Point) -> bool:
        return min(abs(point - end) for end in hem_ends) < 1e-3

    from_end = at_hem(edges[-1].path.end)
    if not from_end and not at_hem(edges[0].path.start):
        raise Stuck("this seam does not reach the hem", "run")
    edge = edges[-1] if from_end else edges[0]
    length = edge.path.length
    if height > length - 10:
        raise Stuck(f"the slit would be longer than the seam is ({length / 10:.1f} cm)", "height")
    index = piece.index_of(edge)
    if from_end:
        changed, at = split_edge(piece, index, length - height)
    else:
        changed, at = split_edge(piece, index, height)
        at -= 1
    edges_after = list(changed.edges)
    edges_after[at] = replace(edges_after[at], name="slit", role="slit")
    kept = []
    for notch in piece.notches:
        if notch.run != run or (from_end and notch.at < piece.run_length(run) - height):
            kept.append(notch)
        elif not from_end and notch.at > height:
            kept.append(replace(notch, at=notch.at - height))
    return replace(changed, edges=tuple(edges_after), notches=tuple(kept))


def _grips(pattern: Pattern) -> list[Grip]:
    grips = []
    for piece in pattern.pieces:
        if "slit" in piece.runs():
            continue
        hems = [e for e in piece.edges if e.role == "hem"]
        for run in piece.runs():
            edge = piece.run(run)[0]
            if edge.role == "seam" and hems and abs(edge.path.start - hems[-1].path.end) < 1e-3:
                grips.append(_grip(piece, run, edge.path.start))
    return grips


def _grip(piece: Piece, run: str, corner: Point) -> Grip:
    def drag(to: Point) -> dict[str, Plain]:
        _, along = piece.nearest_on_run(run, to)
        return {"piece": piece.name, "run": run, "height": round(min(max(along, 10.0), 1200.0), 0)}

    return Grip("slit", piece.name, corner + 18j * -1, "Open a slit", drag,
                lambda by: {"piece": piece.name, "run": run, "height": max(by, 10.0)})  # fmt: skip


def _describe(values: Values, unit: Unit) -> str:
    height = format_length(float(values.get("height", 0.0)), unit, with_unit=True)
    return f"slit of {height} in the {str(values.get('run', '')).replace('_', ' ')}"


SLIT = register_step(
    Step(
        "slit", "Open a slit",
        "The lowest part of a seam is left open so that one can stride. The end takes the strain: it is bar-tacked.",
        (Parameter("piece", "Piece", "piece", "back"),
         Parameter("run", "In the seam", "run", "centre_back"),
         Parameter("height", "Height", "length", 180.0, 10.0, 1200.0)),
        slit, _describe, _grips,
    )
)  # fmt: skip
