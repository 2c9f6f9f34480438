"""Steps on necklines and armholes: lowered, widened, cut in; round, deep, a V or square."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from caddet.core.drafting.curves import bend
from caddet.core.errors import Finding
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point, cross, smooth, unit
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.finding import chosen_edges, only_runs, refused_as_stuck, said, shapeable
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.reshaping import block_of, carried_along, redrawn
from caddet.core.pattern.roles import CENTRES
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

SHAPES = (("round", "Round"), ("deep", "Deep round"), ("v", "V"), ("square", "Square"), ("same", "As it is"))


def _with(pattern: Pattern, role: str) -> list[tuple[Piece, str]]:
    return [(piece, key) for piece in shapeable(pattern) for key in piece.runs_of(role)]


def _of_a_body(piece: Piece, key: str) -> bool:
    """Whether a neckline lies between a shoulder and a centre, as on a front or back; not that of a band or collar."""
    block = block_of(piece, key)
    beside = [piece.edges[index] for index in (block.before, block.behind)]
    middle = [edge.role in CENTRES or edge.finish in ("fold", "opening") for edge in beside]
    return any(edge.role == "shoulder" for edge in beside) and any(middle)


def neckline(pattern: Pattern, context: Context, values: Values) -> Result:
    """Draw necklines anew: lower at the centre, wider along the shoulders (of all pieces together), in another shape."""
    there = [hit for hit in _with(pattern, "neck") if _of_a_body(*hit)]
    chosen = chosen_edges(pattern, values["edges"]) if values["edges"] else there[:1]
    if not chosen:
        raise Stuck(say("there is no neckline here"), "edges")
    out, down, shape = float(values["out"]), float(values["down"]), str(values["shape"])
    names = {piece.name for piece, _ in chosen}
    follow = [hit for hit in there if hit[0].name not in names] if out else []
    findings: list[Finding] = []
    for number, (piece, key) in enumerate((*chosen, *follow)):
        mine = number < len(chosen)
        now = pattern.piece(piece.name)
        lower = down if mine else 0.0
        least = out * BACK_LOWER if mine and shape in ROUND and _is_back(now) else 0.0
        if lower < least:
            words = say(
                "The {piece} is lowered by {least} at its centre: as wide and no lower, its neckline would hook at the shoulder.",
                piece=now.label.lower(),
                least=Length(least),
            )
            findings.append(Finding("step.lower", words, f"recipe[{context.id}].down", "note"))
        pattern = pattern.with_piece(_neck(now, key, out, max(lower, least), shape if mine else "same"))
    return Result(pattern, findings=tuple(findings), changes=OF_THE_BODY)


BACK_LOWER = (
    0.4  # of what a neckline is wider on each side, so much a round back one goes lower; common practice, no source
)
ROUND = ("round", "deep")
DEEP = 0.6  # of a neckline's width, where its tangents at centre and shoulder have to meet at least to be drawn between them


def _is_back(piece: Piece) -> bool:
    return piece.covers == "back"


def _neck(piece: Piece, key: str, out: float, down: float, shape: str) -> Piece:
    block = block_of(piece, key)
    ends = {"before": piece.edges[block.before], "behind": piece.edges[block.behind]}
    slides = {}
    for name, edge in ends.items():
        if edge.role == "shoulder":
            slides[name] = out
        elif edge.role in CENTRES or edge.finish in ("fold", "opening"):
            slides[name] = down
        else:
            raise Stuck(
                say(
                    "the neckline of the {piece} does not lie between a shoulder and a centre",
                    piece=piece.label.lower(),
                ),
                "edges",
            )
    centre_first = ends["before"].role != "shoulder"

    def draw(edges: Sequence[Edge], start: Point, end: Point) -> list[Edge]:
        """The neckline between its new ends."""
        if shape == "same" or len(edges) > 1:
            return carried_along(edges, start, end)
        path = (
            _shaped(start, end, edges[0].path, shape)
            if centre_first
            else _shaped(end, start, edges[0].path.reversed(), shape).reversed()
        )
        return [edges[0].with_path(path)]

    try:
        return redrawn(piece, key, slides["before"], slides["behind"], draw)
    except Refused as refused:
        about = refused.about or ("down" if down else "out")
        raise Stuck(str(refused), about) from refused


def _shaped(centre: Point, shoulder: Point, old: Path, shape: str) -> Path:
    """A neckline from the centre to the shoulder."""
    arrive = old.end_direction  # as it met the shoulder before, so that it runs on over the seam
    if shape == "v":
        return Path((smooth(centre, unit(shoulder - centre), shoulder, arrive, 0.6),))
    level = unit(complex(shoulder.real - centre.real, 0.0))
    if shape == "square":
        return Path.polyline([centre, complex(shoulder.real, centre.imag), shoulder])
    corner = cross(shoulder - centre, unit(arrive)) / cross(level, unit(arrive)) if shape in ROUND else 0.0
    if corner < DEEP * abs(shoulder.real - centre.real):  # deep for its width: the tangents meet too near to the centre
        return Path((smooth(centre, level, shoulder, arrive, 1.0 if shape == "round" else 1.35),))
    full = 0.68 if shape == "round" else 0.86
    return Path((bend(centre, level, shoulder, arrive, full, min(full, 0.7)),))


def _describe_neck(values: Values) -> Sentence:
    parts: list[Any] = []
    if float(values.get("down", 0.0)):
        parts.append(
            say("{by} lower" if float(values["down"]) > 0 else "{by} higher", by=Length(abs(float(values["down"]))))
        )
    if float(values.get("out", 0.0)):
        parts.append(
            say("{by} wider" if float(values["out"]) > 0 else "{by} closer", by=Length(abs(float(values["out"]))))
        )
    shape = {"round": "round", "deep": "deep", "v": "a V", "square": "square", "same": ""}[
        str(values.get("shape", "round"))
    ]
    words = [*parts, *([shape] if shape else [])]
    which = said(values["edges"][0]) if values.get("edges") else say("neckline")
    if not words:
        return say("{which} as it is", which=which)
    if len(words) == 1:
        return say("{which}: {one}", which=which, one=words[0])
    if len(words) == 2:
        return say("{which}: {one}, {two}", which=which, one=words[0], two=words[1])
    return say("{which}: {one}, {two}, {three}", which=which, one=words[0], two=words[1], three=words[2])


register_step(Step(
    "neckline", "Another neckline",
    "The neckline is drawn lower at the centre, wider along the shoulder, or in another shape. Wider, all pieces follow, so that the shoulders still meet; a neck that is too small for the head is told.",
    (Parameter("edges", "Neckline", "edges", (), optional=True, why="None means the first there is."),
     Parameter("down", "Lower at the centre", "length", 20.0, -60.0, 500.0, hand=Hand("down", "edges", "middle"), why="A minus raises it."),
     Parameter("out", "Wider along the shoulder", "length", 0.0, -30.0, 150.0, why="A minus brings it closer to the neck."),
     Parameter("shape", "Shape", "choice", "round", choices=SHAPES)),
    neckline, _describe_neck,
    suits={"edge": 2}, key="K", symbol=((-5 - 4j, -3 + 2j, 0 + 4j, 3 + 2j, 5 - 4j),),
    asked_as=("lower neckline", "wider neck", "scoop neck", "v neck", "square neck", "boat neck", "deeper neckline"),
    fits=lambda pattern: "" if _with(pattern, "neck") else say("there is no neckline here"), refuses=only_runs(("neck",), say("that is no neckline")),
))  # fmt: skip


# --- armholes -------------------------------------------------------------------------------------


def armhole(pattern: Pattern, context: Context, values: Values) -> Result:
    """Lower armholes along the side and cut them in along the shoulder, on all pieces together."""
    del context
    found = _with(pattern, "armhole")
    if not found:
        raise Stuck(say("there is no armhole here"), "lower")
    lower, cut_in = float(values["lower"]), float(values["cut_in"])
    for piece, key in found:
        now = pattern.piece(piece.name)
        block = block_of(now, key)
        slides = []
        for index in (block.before, block.behind):
            role = now.edges[index].role
            if role not in ("shoulder", "side"):
                raise Stuck(
                    say(
                        "the armhole of the {piece} does not lie between a shoulder and a side", piece=now.label.lower()
                    ),
                    "lower",
                )
            slides.append(lower if role == "side" else cut_in)
        with refused_as_stuck("lower" if lower else "cut_in"):
            pattern = pattern.with_piece(redrawn(now, key, slides[0], slides[1], carried_along))
    return Result(pattern, changes=OF_THE_BODY)


def _describe_armhole(values: Values) -> Sentence:
    lower, cut_in = float(values.get("lower", 0.0)), float(values.get("cut_in", 0.0))
    if lower and cut_in:
        return say("armholes lowered by {lower} and cut in by {cut_in}", lower=Length(lower), cut_in=Length(cut_in))
    if cut_in:
        return say("armholes cut in by {cut_in}", cut_in=Length(cut_in))
    return say("armholes lowered by {lower}", lower=Length(lower))


register_step(Step(
    "armhole", "Another armhole",
    "The armhole goes lower down the side and further in on the shoulder: for a sleeveless top, or for a sleeve with more room. A sleeve that was fitted to it is fitted again.",
    (Parameter("edges", "Armhole", "edges", (), optional=True, why="All of them are changed together, so that they still meet."),
     Parameter("lower", "Lower at the side", "length", 15.0, -40.0, 250.0, why="A minus raises it."),
     Parameter("cut_in", "In at the shoulder", "length", 0.0, -40.0, 150.0, why="A minus makes the shoulder wider.")),
    armhole, _describe_armhole,
    suits={"edge": 4}, symbol=((-3 - 5j, -2 + 1j, 1 + 4j, 5 + 5j),),
    asked_as=("lower armhole", "cut in the armhole", "tank top", "racer back", "sleeveless", "more room in the arm"),
    fits=lambda pattern: "" if _with(pattern, "armhole") else say("there is no armhole here"),
    refuses=only_runs(("armhole",), say("that is no armhole")),
    source="a T-shirt becomes a sports top with the armhole lowered 1\" and cut in 1½\": common practice",
))  # fmt: skip
