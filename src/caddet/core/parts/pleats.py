"""Pleats in a run and at a centre fold, and tucks across a piece."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, unit
from caddet.core.parts.adding import made_by_part
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Bit, End, Feature, Spot
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.surgery import SLIVER, Refused, sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, say
from caddet.core.shaping.finding import chosen_pieces, measurable, said


def out_at_fold(piece: Piece, by: float, name: str, label: str, deep: float, ends: Sequence[str] = ("top",)) -> Piece:
    """A piece on the fold moved out from its fold by so many mm, folded away again at its top, or at both ends.

    The neighbours of the fold go on straight. Raises :class:`Refused` when there is no one straight fold.
    """
    folds = [n for n, edge in enumerate(piece.edges) if edge.finish == "fold"]
    if len(folds) != 1:
        raise Refused(say("the {piece} is not cut on one fold", piece=piece.label.lower()), "pieces")
    fold, count = folds[0], len(piece.edges)
    edge = piece.edges[fold]
    way = unit(edge.path.end - edge.path.start) * -1j * by  # out of the cloth
    before, behind = (fold - 1) % count, (fold + 1) % count
    edges = list(piece.edges)
    edges[fold] = edge.with_path(edge.path.moved(Motion.translation(way)))
    edges[before] = edges[before].let_in(Path.polyline([edge.path.start, edge.path.start + way]), at_end=True)
    edges[behind] = edges[behind].let_in(Path.polyline([edge.path.end + way, edge.path.end]), at_end=False)
    features = list(piece.features)
    for n, at_end in ((before, True), (behind, False)):  # the cloth let in gets places of its own, at the very end
        edges[n], features = _own_places(edges[n], features, at_end=at_end)
    made = replace(piece.with_edges(edges), features=tuple(features))
    upwards = edge.path.end.imag < edge.path.start.imag
    corners = {"top": (behind, edge.path.end), "bottom": (before, edge.path.start)}
    if not upwards:
        corners = {"top": (before, edge.path.start), "bottom": (behind, edge.path.end)}
    pleats = []
    for end in ends:
        n, at = corners[end]
        key = edges[n].name
        down = complex(0, deep if end == "top" else -deep)
        a, b = (made.spot_at(key, made.nearest_on_run(key, point)[1]) for point in (at, at + way))
        own = name if end == "top" else f"{name}_low"
        pleats.append(Feature("pleat", own, label, (Bit(a, at + down), Bit(b, at + way + down))))
    return sound(replace(made, features=(*made.features, *pleats)))


def _own_places(edge: Edge, features: list[Feature], *, at_end: bool) -> tuple[Edge, list[Feature]]:
    """An edge whose last stretch, let in, has a sliver of positions of its own; what lay at its end stays where it was."""
    pairs = list(edge.pairs)
    (s, _), (t, end) = (pairs[-2], pairs[-1]) if at_end else (pairs[1], pairs[0])
    other = pairs[-3][1] if at_end and len(pairs) > 2 else pairs[2][1] if len(pairs) > 2 else 1.0 - end
    least = min(SLIVER, abs(other - end) / 2)
    old = end + (least if other > end else -least)
    pairs[-2 if at_end else 1] = (s, old)
    pairs[-1 if at_end else 0] = (t, end)

    def moved(one: End) -> End:
        """A place at the old end, where the old end is now."""
        if isinstance(one, Spot) and one.edge == edge.name and abs(one.u - end) < least / 2:
            return Spot(one.edge, old)
        return one

    kept = [replace(f, bits=tuple(Bit(moved(b.a), moved(b.b)) for b in f.bits)) for f in features]
    return replace(edge, pairs=tuple(pairs)), kept


def centre_pleat(pattern: Pattern, context: Context, values: Values) -> Result:
    """An inverted or box pleat at a centre that is cut on the fold: the fold moves out by the depth."""
    pieces = chosen_pieces(pattern, values["pieces"]) or [
        p for p in pattern.pieces if p.fold and "back" in p.made and not made_by_part(p)
    ]
    if not pieces:
        raise Stuck(say("say which piece on the fold gets the pleat"), "pieces")
    for piece in pieces:
        label = say("inverted pleat") if values["kind"] == "inverted" else say("box pleat")
        made = out_at_fold(piece, float(values["deep"]), f"{context.id}.pleat", label, float(values["stitched"]))
        pattern = pattern.with_piece(made)
    return Result(measurable(pattern), changes=OF_THE_BODY)


register_step(Step(
    "centre_pleat", "Pleat at the centre",
    "The centre fold moves out by the pleat's depth; folded back to the old centre the cloth lies as it did, and opens below. Stitched down for some way it keeps its place. What it is sewn to stays as it was.",
    (Parameter("pieces", "Pieces", "pieces", (), why="None means the back on the fold."),
     Parameter("deep", "Deep", "length", 63.5, 5.0, 250.0, why="As felt under the cloth: the centre moves out by as much."),
     Parameter("stitched", "Stitched down for", "length", 100.0, 0.0, 900.0),
     Parameter("kind", "Kind", "choice", "inverted", choices=(("inverted", "Inverted: folds meet outside"), ("box", "Box: folds meet inside")))),
    centre_pleat, lambda values: say("pleat of {deep} at the centre of the {pieces}", deep=Length(float(values.get("deep", 0.0))), pieces=", ".join(said(one) for one in values.get("pieces") or ()) or say("back")),
    suits={"piece": 19}, symbol=((-5 - 5j, -1 - 5j, 1 + 0j, 3 - 5j, 5 - 5j), (1 + 0j, 1 + 5j)),
    asked_as=("inverted pleat", "box pleat at the back", "action pleat", "room across the back"),
    fits=lambda pattern: "" if any(p.fold for p in pattern.pieces) else say("no piece here is cut on the fold"),
    source="an inverted pleat felt 2½ inches deep moves the centre out 2½ inches: exact",
))  # fmt: skip
