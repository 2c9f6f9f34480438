"""Shirring with elastic thread, and seams ruched on a cord."""

from __future__ import annotations

from collections.abc import Collection

from caddet.core.errors import Finding
from caddet.core.geometry.segments import Point, dot, unit
from caddet.core.parts.adding import drawn, made_by_part, notion, with_features, with_part
from caddet.core.parts.pleats import across_from
from caddet.core.pattern.finding import chosen_edges, chosen_pieces, on_seams, refused_as_stuck, said
from caddet.core.pattern.ids import own_name
from caddet.core.pattern.notions import Share
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.roles import BANDS
from caddet.core.pattern.spreading import fair_lines, spread_lines
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, say
from caddet.core.shaping.joins import joined_as, meant
from caddet.core.shaping.openings import seam_of

INCH2 = 50.8
CASING = 15.9  # mm, ⅝ of an inch: the casing of a ruched seam
TO_TIE = 450.0
MOST_LINES = 40
ABOVE = ("neck", "shoulder", "armhole")  # edges that keep their length: what grows them does not fit any more
TRIES = 5
CLOSE_ENOUGH = 0.1  # mm


def shirring(pattern: Pattern, context: Context, values: Values) -> Result:
    """A piece widened for rows of elastic thread that draw it in again."""
    pieces = chosen_pieces(pattern, values["pieces"])
    if not pieces:
        raise Stuck(say("say which piece is shirred"), "pieces")
    piece = pieces[0]
    ratio, rows, apart = float(values["ratio"]), int(values["rows"]), float(values["apart"])
    top = _top_run(piece, values)
    if piece.run(top)[0].role in ABOVE:
        raise Stuck(
            say(
                "shirring lies below the armholes: the {edge} would grow with it. Cut the {piece} across below them first, and shirr the lower part",
                edge=own_name(top).replace("_", " "),
                piece=piece.label.lower(),
            ),
            "pieces",
        )
    length = piece.run_length(top)
    count = max(2, round(length / 40.0))
    lines = across_from(piece, top, [(n + 0.5) / count for n in range(count)])
    each = length * (ratio - 1) / count
    with refused_as_stuck("ratio"):
        wide = spread_lines(pattern, piece, lines, each, each if values["all_across"] else 0.0)
    made = fair_lines(piece, wide.piece(piece.name), lines)
    wide = wide.with_piece(made)
    _, above, _, below = made.outline().bounds()
    first = above + float(values["down"])
    features = []
    thread = 0.0
    for row in range(rows):
        y = first + row * apart
        left, _, right, _ = made.outline().bounds()
        hits = sorted(p.real for _, p in made.outline().crossings(complex(left - 5, y), complex(right + 5, y)))
        if len(hits) < 2 or y > below:
            raise Stuck(say("only {rows} rows go on the {piece}", rows=row, piece=piece.label.lower()), "rows")
        features.append(
            drawn(
                "line",
                f"{context.id}.row_{row + 1}",
                say("shirring") if row == 0 else "",
                [complex(hits[0], y), complex(hits[-1], y)],
            )
        )
        thread += (hits[-1] - hits[0]) * made.worn
    wide = wide.with_piece(with_features(made, features))
    elastic = notion(
        context.id,
        "elastic",
        say("Elastic thread"),
        [],
        [(say("{rows} rows, and a hand at both ends", rows=rows), thread * 0.75 + rows * 200.0)],
    )
    words = say(
        "Shirring: {width} × {ratio} = {wide}. Sew a sample first; what it shrinks to sets the ratio.",
        width=Length(length),
        ratio=f"{ratio:g}",
        wide=Length(length * ratio),
    )
    place = f"recipe[{context.id}]"
    held, told = _elsewhere_held(wide, piece, (), place)
    return Result(
        with_part(held, notions=[elastic]),
        findings=(Finding("part.shirring", words, f"{place}.ratio", "note"), *told),
        changes=meant(pattern, "gathered"),
    )


def _elsewhere_held(
    pattern: Pattern, before: Piece, but: Collection[str], place: str
) -> tuple[Pattern, tuple[Finding, ...]]:
    """The pattern with the edges of a piece that became longer gathered in their seams, but for some runs."""
    now = pattern.piece(before.name)
    longer = {key: now.run_length(key) - before.run_length(key) for key in before.runs() if now.has_run(key)}
    sewn = {key: by for key, by in longer.items() if by > 1.0 and key not in but and not before.run(key)[0].finish}
    return joined_as(pattern, before.name, sewn, "gathered", place)


def _top_run(piece: Piece, values: Values) -> str:
    if values["edges"]:
        key = next((k for k in piece.runs() if any(k == e or k.endswith(f".{e}") for e in values["edges"])), None)
        if key is None:
            raise Stuck(say("the {piece} has no such edge", piece=piece.label.lower()), "edges")
        return key
    high = min(p.imag for p in piece.polygon(2.0))
    flat = [k for k in piece.runs() if piece.run(k)[0].finish != "fold" and len(piece.run(k)) == 1]
    if not flat:
        raise Stuck(say("say along which edge it is drawn in"), "edges")
    return min(flat, key=lambda k: abs(piece.run_point(k, piece.run_length(k) / 2)[0].imag - high))


register_step(Step(
    "shirring", "Shirring",
    "The piece is cut half as wide again and drawn in by rows of elastic thread: it fits closely and gives. The thread is wound on the bobbin by hand; steam afterwards draws it up. A measured sample sets the ratio.",
    (Parameter("pieces", "Piece", "pieces", (), most=1), Parameter("edges", "Along the edge", "edges", (), most=1, why="None means its top."),
     Parameter("ratio", "Cut to the finished width", "ratio", 1.5, 1.1, 3.0, why="Half as much again; from a sample: before ÷ after."),
     Parameter("all_across", "Opened all across", "flag", True, why="Otherwise it runs out to nothing at the edge across."),
     Parameter("rows", "Rows", "count", 10.0, 1.0, 80.0), Parameter("apart", "Rows apart", "length", 10.0, 3.0, 60.0),
     Parameter("down", "First row, below the top", "length", 15.0, 3.0, 600.0)),
    shirring, lambda values: say("{piece} shirred, {rows} rows", piece=", ".join(said(one) for one in values.get("pieces") or ()) or say("piece"), rows=f"{float(values.get('rows', 0)):g}"),
    suits={"piece": 25}, symbol=((-5 - 3j, -3 - 2j, -1 - 3j, 1 - 2j, 3 - 3j, 5 - 2j), (-5 + 1j, -3 + 2j, -1 + 1j, 1 + 2j, 3 + 1j, 5 + 2j)),
    asked_as=("elastic thread", "smocked back", "stretchy back", "gathered with elastic"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"),
    source="half as wide again, rows a centimetre apart: common practice, no source",
))  # fmt: skip


# --- a seam on a cord --------------------------------------------------------------------------------------


def ruched_seam(pattern: Pattern, context: Context, values: Values) -> Result:
    """A seam whose edges are let down between two places and drawn up again on a cord in its casing."""
    piece, key = chosen_edges(pattern, values["edges"])[0] if values["edges"] else _side(pattern)
    found = seam_of(pattern, piece, key)
    if found is None or len(found.layers) != 2:
        raise Stuck(say("say in which seam the cord runs"), "edges")
    ratio = float(values["ratio"])
    if any(one.piece.role in BANDS for layer in found.layers for one in pattern.what_is_left(layer)):
        raise Stuck(say("a band holds that seam and keeps its length; ruche a seam between two pieces"), "edges")
    before = pattern.length(found.layers[0])
    sides, findings, place = [], list[Finding](), f"recipe[{context.id}]"
    for layer in found.layers:
        fragments = [f for f in pattern.layer_fragments(layer) if not f.imagined]
        if not fragments:
            raise Stuck(say("one side of the seam is the other half of a piece; separate it first"), "edges")
        sides.append((fragments[0].piece, fragments[0].edge.name))
    for base, run in dict.fromkeys(sides):
        base = pattern.piece(base.name)
        length = base.run_length(run)
        low, high = length * float(values["from"]), length * float(values["upto"])
        count = max(1, min(MOST_LINES, round((high - low) / INCH2)))
        if high - low < INCH2:
            raise Stuck(say("the ruched part is too short"), "upto")
        shares = [(low + (high - low) * (n + 0.5) / count) / length for n in range(count)]
        each = (high - low) * (ratio - 1) / count
        lines = across_from(base, run, shares, _square_to_centre(base, run))
        wanted = length + (high - low) * (ratio - 1)
        with refused_as_stuck("ratio"):
            for _ in range(TRIES):  # drawn fair, the edge is a little shorter than what was let in
                wide = spread_lines(pattern, base, lines, each, each if values["all_across"] else 0.0)
                made = fair_lines(base, wide.piece(base.name), lines)
                came = made.run_length(run)
                if abs(came - wanted) < CLOSE_ENOUGH or came - length < 1.0:
                    break
                each *= (wanted - length) / (came - length)
        pattern, told = _elsewhere_held(wide.with_piece(made), base, {run for _, run in sides}, place)
        findings += told
    through = Share(found.layers[0], before / pattern.length(found.layers[0]), say("seam, flat"))
    cords = 1 if values["one_cord"] else 2
    cord = notion(context.id, "cord", say("Cord"), [through], [(say("to tie"), float(values["tie"]))], count=2 * cords)
    words = say(
        "The seam is {flat} flat and {drawn} drawn up; the casing is {casing} wide, its strip twice that.",
        flat=Length(pattern.length(found.layers[0])),
        drawn=Length(before),
        casing=Length(CASING),
    )
    return Result(
        with_part(pattern, notions=[cord]),
        findings=(Finding("part.ruched", words, place, "note"), *findings),
        changes=meant(pattern, "gathered"),
    )


def _square_to_centre(piece: Piece, run: str) -> Point | None:
    """From a run towards the fold, square to it, so that the fold stays straight; None without a fold."""
    fold = next((edge.path for edge in piece.edges if edge.finish == "fold"), None)
    if fold is None:
        return None
    square = unit(fold.end - fold.start) * 1j
    away = fold.start - piece.run_point(run, piece.run_length(run) / 2)[0]
    return square if dot(square, away) > 0 else -square


def _side(pattern: Pattern) -> tuple[Piece, str]:
    for piece in pattern.pieces:
        if (sides := piece.runs_of("side")) and not made_by_part(piece):
            return piece, sides[0]
    raise Stuck(say("there is no side seam here; say in which seam the cord runs"), "edges")


register_step(Step(
    "ruched_seam", "Seam ruched on a cord",
    "Both edges of the seam are cut longer, opened along lines across the piece, and drawn up again on a cord in a casing along the seam. The cord is as long as the seam when it is ruched, and enough to tie; tied with a bow, it can be let down.",
    (Parameter("edges", "In the seam", "edges", (), most=1, why="None means the side."),
     Parameter("ratio", "Flat to drawn up", "ratio", 2.0, 1.1, 4.0, why="2: opened by as much as it was."),
     Parameter("from", "From, along the edge", "ratio", 0.1, 0.0, 1.0), Parameter("upto", "Up to", "ratio", 0.95, 0.0, 1.0),
     Parameter("all_across", "Opened all across", "flag", True, why="Otherwise it runs out to nothing at the other side of the piece."),
     Parameter("tie", "More, to tie", "length", TO_TIE, 100.0, 1500.0, why=say("{38 to 50 cm}.")),
     Parameter("one_cord", "One long cord", "flag", True, why="Through both casings, from hem to hem.")),
    ruched_seam, lambda values: say("{edge} ruched on a cord, {ratio} to 1", edge=said(values["edges"][0]) if values.get("edges") else say("side"), ratio=f"{float(values.get('ratio', 0)):g}"),
    suits={"seam": 11, "edge": 28}, symbol=((0 - 5j, 0 + 5j), (-4 - 3j, 0 - 4j, 4 - 3j), (-4 + 0j, 0 - 1j, 4 + 0j), (-4 + 3j, 0 + 2j, 4 + 3j)),
    asked_as=("ruching", "gathered side", "drawn up side", "cord in the seam"),
    refuses=on_seams, fits=lambda pattern: "" if pattern.seams else say("there is no seam here"),
    source="every 2 inches opened by 2; the ruched length and 15 to 20 inches to tie: common practice, no source",
))  # fmt: skip
