"""Steps that open what was sewn when a garment was traced: a dart, a band, rib, casing or allowance on an edge."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from caddet.core.errors import Finding
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point, cross, unit
from caddet.core.pattern.finding import chosen_edges, measurable, place_on, refused_as_stuck, said, said_place
from caddet.core.pattern.opening import inset, open_dart
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import TOLERANCE
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.recipe.values import Place
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.joins import holds_others, joined_as

PLUMB = 0.02  # sine of the angle to the grain


def dart(pattern: Pattern, context: Context, values: Values) -> Result:
    """A sewn dart opened: twice what is felt under the cloth comes back at the edge."""
    if values["at"] is None:
        raise Stuck(say("say where the dart meets the edge"), "at")
    piece, spot = place_on(pattern, values["at"], "at")
    found = piece.on_edge(spot)
    if found is not None and (held := holds_others(pattern, piece, piece.edges[found[0]].name)):
        raise Stuck(held, "at")
    onward = values["toward"] == "onward"
    if values["toward"] == "away" and found is not None:
        onward = _away_from_the_centre(pattern, piece.name, found[0])
    width, length = 2 * float(values["felt"]), float(values["length"])
    with refused_as_stuck("at"):
        made = open_dart(
            piece, spot, width, length, float(values["aside"]), context.id, say("dart, opened"), onward=onward
        )
    return _with_seams(pattern, [made], context)


def _away_from_the_centre(pattern: Pattern, name: str, index: int) -> bool:
    """Whether the end of an edge lies farther from the fold, opening or grain than its start, so that it is what moves."""
    piece = pattern.piece(name)
    edge = piece.edges[index]
    closing = {part.ref.name for seam in pattern.seams if seam.closes() for part in seam.parts()}
    grain = piece.grain.b - piece.grain.a
    centre = next(
        (
            one
            for one in piece.edges
            if one.finish in ("fold", "opening")
            or one.name in closing
            or "centre" in one.own
            or _plumb(one.path, grain)
        ),
        None,
    )
    if centre is None:
        return True
    return centre.path.nearest(edge.path.end)[0] >= centre.path.nearest(edge.path.start)[0]


def _plumb(path: Path, grain: Point) -> bool:
    """Whether an edge is straight and runs along the grain, as the front edge of a jacket does."""
    chord = path.end - path.start
    return path.length - abs(chord) < 0.01 and abs(cross(unit(chord), unit(grain))) < PLUMB


def _describe_dart(values: Values) -> Sentence:
    felt, place = float(values.get("felt", 0.0)), values.get("at")
    where = said_place(place) if isinstance(place, Place) else say("a place to be chosen")
    return say("dart opened at {place}: {width} of cloth", place=where, width=Length(2 * felt))


register_step(Step(
    "open_dart", "Open a sewn dart",
    "A traced piece has its darts sewn. Feel how deep the dart is under the cloth: twice that lies hidden in it. The outer part of the edge moves over by as much, the side with it down to the dart's point, and the rest keeps its place. Folded shut, the edge is as it was.",
    (Parameter("at", "Where it meets the edge", "place", None),
     Parameter("felt", "Depth felt", "length", 9.5, 2.0, 75.0, why="From the stitching to the fold inside. The underlay to open is twice that.", hand=Hand("along", "at", "start")),
     Parameter("length", "Length", "length", 90.0, 20.0, 400.0, why="From the edge to where the stitching ends."),
     Parameter("aside", "Point to the side by", "length", 0.0, -300.0, 300.0, why="How far its point lies nearer to what moves than square below the mouth. A minus is the other way."),
     Parameter("toward", "What moves over", "choice", "away", choices=(("away", "What lies away from the centre"), ("onward", "What follows the mouth"), ("back", "What comes before it")))),
    dart, _describe_dart,
    suits={"edge": 8}, symbol=((-5 - 4j, -2 - 4j, 0 + 4j, 2 - 4j, 5 - 4j), (3 - 1j, 5 - 1j)),
    asked_as=("dart in a traced piece", "undo a dart", "unsewn dart", "dart depth felt"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"),
    source="a dart felt ⅜ inch deep is opened by ¾ inch: common practice",
))  # fmt: skip


def _with_seams(pattern: Pattern, changed: Sequence[Piece], context: Context) -> Result:
    """The pattern with changed pieces; a seam whose other side has to follow is told."""
    findings: list[Finding] = []
    before = {piece.name: pattern.piece(piece.name) for piece in changed}
    for piece in changed:
        pattern = measurable(pattern.with_piece(piece))
    for piece in changed:
        was = before[piece.name]
        longer = {key: piece.run_length(key) - was.run_length(key) for key in was.runs() if key in piece.runs()}
        much = {key: by for key, by in longer.items() if abs(by) > TOLERANCE}
        pattern, told = joined_as(pattern, piece.name, much, "loose", f"recipe[{context.id}]")
        findings += told
    return Result(pattern, findings=tuple(findings), changes=OF_THE_BODY)


def edge_moved(pattern: Pattern, context: Context, values: Values) -> Result:
    """Edges moved in or out of their pieces all along."""
    chosen = chosen_edges(pattern, values["edges"])
    every = chosen or [(p, key) for p in pattern.pieces for key in p.runs() if p.run(key)[0].finish != "fold"]
    if not every:
        raise Stuck(say("there is no edge here"), "edges")
    amounts: dict[str, dict[str, float]] = {}
    for piece, key in every:
        if any(edge.finish == "fold" for edge in piece.run(key)):
            raise Stuck(say("the fold has nothing beyond it"), "edges")
        amounts.setdefault(piece.name, {})[key] = float(values["by"])
    with refused_as_stuck("by"):
        changed = [inset(pattern.piece(name), by) for name, by in amounts.items()]
    return _with_seams(pattern, changed, context)


def _describe_moved(values: Values) -> Sentence:
    by = float(values.get("by", 0.0))
    which = ", ".join(said(one) for one in values.get("edges") or ()) or say("every edge")
    return say("{which} {by} further " + ("in" if by >= 0 else "out"), which=which, by=Length(abs(by)))


def _only_free(pattern: Pattern, chosen: Values) -> str:
    edges: Any = chosen.get("edges") or ()
    for piece, key in chosen_edges(pattern, edges):
        if any(edge.finish == "fold" for edge in piece.run(key)):
            return say("the fold has nothing beyond it")
    return ""


register_step(Step(
    "edge_moved", "Move an edge in or out",
    "An edge is moved by the same all along: in, where a band, rib or casing was traced along that comes as a part again, or where the cut line of a paper pattern was traced and its allowance has to go; out, where a depth that was turned in has to be given back.",
    (Parameter("edges", "Edges", "edges", (), why="None means every edge but the fold: the allowance of a paper pattern."),
     Parameter("by", "Further in by", "length", 10.0, -150.0, 150.0, hand=Hand("out", "edges", "middle"), why="A minus moves it out.")),
    edge_moved, _describe_moved,
    refuses=_only_free, suits={"edge": 12}, symbol=((-5 - 3j, 5 - 3j), (-5 + 1j, 5 + 1j)),
    asked_as=("take off the seam allowance", "without allowance", "band taken off", "rib taken off", "cut line to stitch line", "give the casing back"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"),
))  # fmt: skip
