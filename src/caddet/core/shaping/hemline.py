"""Steps on length and width at the hem: lengthen or shorten, flare."""

from __future__ import annotations

from dataclasses import replace

from caddet.core.errors import CaddetError
from caddet.core.geometry.flare import flare_side
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Motion, Point
from caddet.core.lengths import Unit, format_length
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Edge, Piece
from caddet.core.pattern.surgery import renotched, stretch_edge
from caddet.core.recipe.registry import Grip, Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Plain

_PIECES = Parameter("piece", "Pieces", "piece", "all", why="“all” takes every piece that has a hem.")


def _hemmed(pattern: Pattern, name: str) -> list[Piece]:
    """The pieces meant: all that have a hem, or the named one. Raises :class:`Stuck`."""
    if name != "all" and not pattern.has(name):
        raise Stuck(f"there is no piece “{name}” any more", "piece")
    chosen = [p for p in pattern.pieces if name in ("all", p.name) and any(e.role == "hem" for e in p.edges)]
    if not chosen:
        raise Stuck("no piece with a hem is meant", "piece")
    return chosen


def _who(values: Values) -> str:
    return "" if values.get("piece", "all") == "all" else f" on the {values['piece']}"


# --- lengthen -------------------------------------------------------------------------------------


def lengthen(pattern: Pattern, values: Values) -> Pattern:
    """Move everything below a level line down (or up) and blend the sides."""
    for piece in _hemmed(pattern, str(values["piece"])):
        pattern = pattern.with_piece(lengthened(piece, float(values["at"]), float(values["amount"])))
    return pattern


def lengthened(piece: Piece, level: float, amount: float) -> Piece:
    """One piece made longer by ``amount`` mm at ``level`` mm below the waist. Raises :class:`Stuck`."""
    lowest = max(point.imag for point in piece.polygon())
    if not 0 < level < lowest:
        raise Stuck(f"the line lies outside the {piece.label.lower()}", "at")
    for dart in piece.darts:
        _, a, apex, b = piece.legs(dart.name)
        if min(p.imag for p in (a, apex, b)) < level < max(p.imag for p in (a, apex, b)):
            raise Stuck(f"the line runs through the {dart.label}: choose a place above or below it", "at")
    highest_hem = min(e.path.bounds()[1] for e in piece.edges if e.role == "hem")
    if level >= highest_hem:
        raise Stuck("the line runs through the hem: choose a place above it", "at")
    if level + amount < level - (highest_hem - level) or amount <= -(highest_hem - level):
        raise Stuck("it can't be shortened by more than there is below the line", "amount")

    def move(point: Point) -> Point:
        return point + complex(0, amount) if point.imag > level else point

    changed = piece.each_edge(lambda edge: stretch_edge(edge, level, amount))
    down = Motion.translation(complex(0, amount))
    marks = tuple(
        replace(mark, parts=tuple(p.moved(down) if p.start.imag > level else p for p in mark.parts))
        for mark in piece.marks
    )
    changed = replace(changed, marks=marks, grain=(move(piece.grain[0]), move(piece.grain[1])))
    return renotched(piece, changed, move)


def _lengthen_grips(pattern: Pattern) -> list[Grip]:
    grips = []
    for piece in pattern.pieces:
        for edge in piece.edges:
            if edge.role == "hem":
                grips.append(_lengthen_grip(piece, edge.path.end))
    return grips


def _lengthen_grip(piece: Piece, corner: Point) -> Grip:
    hip = piece.mark("hip")
    top = hip.parts[0].start.imag if hip else 0.0
    level = round((top + corner.imag) / 2 - 1, 0)

    def drag(to: Point) -> dict[str, Plain]:
        return {"piece": "all", "at": level, "amount": round(max(to.imag - corner.imag, level - corner.imag + 10), 0)}

    return Grip("lengthen", piece.name, corner, "Lengthen or shorten", drag,
                lambda by: {"piece": "all", "at": level, "amount": by})  # fmt: skip


def _merge_lengthen(old: Values, new: Values) -> dict[str, Plain] | None:
    if old.get("piece", "all") != new.get("piece", "all"):
        return None
    # the same hold again: the amounts add up, at the line where it was first cut
    return {"piece": str(new["piece"]), "at": float(old["at"]), "amount": float(old["amount"]) + float(new["amount"])}


def _describe_lengthen(values: Values, unit: Unit) -> str:
    amount = float(values.get("amount", 0.0))
    word = "lengthened" if amount >= 0 else "shortened"
    at = format_length(float(values.get("at", 0.0)), unit, with_unit=True)
    return f"{word} by {format_length(abs(amount), unit, with_unit=True)}, {at} below the waist{_who(values)}"


LENGTHEN = register_step(
    Step(
        "lengthen", "Lengthen or shorten",
        "The piece is cut across and the lower part moved, so that the hem keeps its shape; the sides are drawn "
        "smooth again. Pieces that meet are changed together.",
        (_PIECES,
         Parameter("at", "Line, below the waist", "length", 400.0, 1.0, 2000.0),
         Parameter("amount", "Longer by", "length", 0.0, -1000.0, 1500.0, why="A minus makes it shorter.")),
        lengthen, _describe_lengthen, _lengthen_grips, _merge_lengthen,
    )
)  # fmt: skip


# --- flare ----------------------------------------------------------------------------------------


def flare(pattern: Pattern, values: Values) -> Pattern:
    """Swing the side seams of the pieces out at the hem."""
    for piece in _hemmed(pattern, str(values["piece"])):
        if "side" in piece.runs():
            pattern = pattern.with_piece(flared(piece, float(values["amount"]), float(values["above"])))
    return pattern


def flared(piece: Piece, amount: float, above: float) -> Piece:
    """One piece flared by ``amount`` mm at the hem, swinging from ``above`` mm up the side.

    ``above`` 0 swings from the hip line (the hip notch). Raises :class:`Stuck`.
    """
    sides, hems = piece.run("side"), piece.run("hem") if "hem" in piece.runs() else []
    last, first_hem = sides[-1], hems[0] if hems else None
    if first_hem is None or abs(last.path.end - first_hem.path.start) > 1e-3:
        raise Stuck(f"side and hem of the {piece.label.lower()} no longer meet in a corner", "piece")
    whole = piece.run_length("side")
    hip = next((notch.at for notch in piece.notches if notch.run == "side" and notch.name == "hip"), whole * 0.3)
    hinge_at = whole - above if above > 0 else hip
    above_last = whole - last.path.length
    local = hinge_at - above_last
    if local < 0 or local > last.path.length - 20:
        raise Stuck("the swing must begin on the lowest part of the side, at least 2 cm above the hem", "above")
    if amount <= 0:
        return piece
    upper, lower = last.path.split_at(local)
    if lower is None:
        raise Stuck("there is no side left below the place where it swings", "above")
    arriving = upper.end_direction if upper else lower.start_direction
    try:
        swung = flare_side(lower.start, arriving, lower.end, amount, lower.end_direction)
    except CaddetError as error:
        raise Stuck(str(error), "amount") from error
    if swung is None:
        return piece
    side = Path((upper.segments if upper else ()) + swung.side.segments)
    bridge = Line(swung.hem_arc.end, first_hem.path.start)
    hem = Path((swung.hem_arc, *((bridge,) if bridge.length > 1e-6 else ()), *first_hem.path.segments))

    def change(edge: Edge) -> Edge:
        if edge is last:
            return edge.with_path(side)
        return edge.with_path(hem) if edge is first_hem else edge

    gained = hem.length - first_hem.path.length
    changed = piece.each_edge(change)
    notches = tuple(replace(n, at=n.at + gained) if n.run == "hem" else n for n in piece.notches)
    return replace(changed, notches=notches)


def _flare_grips(pattern: Pattern) -> list[Grip]:
    return [
        _flare_grip(piece, piece.run("side")[-1].path.end)
        for piece in pattern.pieces
        if {"side", "hem"} <= set(piece.runs())
    ]


def _flare_grip(piece: Piece, corner: Point) -> Grip:
    def drag(to: Point) -> dict[str, Plain]:
        return {"piece": "all", "amount": round(max(to.real - corner.real, 0.0), 0), "above": 0.0}

    return Grip("flare", piece.name, corner, "Flare the side", drag,
                lambda by: {"piece": "all", "amount": max(by, 0.0), "above": 0.0})  # fmt: skip


def _merge_flare(old: Values, new: Values) -> dict[str, Plain] | None:
    if (old.get("piece", "all"), old.get("above", 0.0)) != (new.get("piece", "all"), new.get("above", 0.0)):
        return None
    return {**dict(old), "amount": float(old["amount"]) + float(new["amount"])}


def _describe_flare(values: Values, unit: Unit) -> str:
    amount = format_length(float(values.get("amount", 0.0)), unit, with_unit=True)
    above = float(values.get("above", 0.0))
    start = "the hip" if above <= 0 else f"{format_length(above, unit, with_unit=True)} above the hem"
    return f"each side flared by {amount} from {start}{_who(values)}"


FLARE = register_step(
    Step(
        "flare", "Flare the sides",
        "A wedge of cloth is let in from the hip to the hem. The hem runs as an arc, so that it hangs level and "
        "meets the side at a right angle.",
        (_PIECES,
         Parameter("amount", "Out at the hem, each side", "length", 30.0, 0.0, 600.0),
         Parameter("above", "Begins, above the hem", "length", 0.0, 0.0, 1500.0, why="0 begins at the hip.")),
        flare, _describe_flare, _flare_grips, _merge_flare,
    )
)  # fmt: skip
