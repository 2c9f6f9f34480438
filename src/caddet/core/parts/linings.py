"""Lining drawn from the shell: less the facing, shorter at the hem, with an ease pleat; and interfacing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import partial

from caddet.core.errors import Finding
from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion, cross, dot, unit
from caddet.core.parts.adding import (
    GROWN_ON,
    INNER,
    below,
    copied_seams,
    finish_runs,
    follows,
    grain_inside,
    held,
    layer_of,
    made_by_part,
    meeting,
    run_words,
    seam,
    with_part,
)
from caddet.core.parts.pleats import out_at_fold
from caddet.core.parts.strips import less, trimmed
from caddet.core.pattern.dart_forms import open_out
from caddet.core.pattern.features import Bit, End, Feature, Spot
from caddet.core.pattern.finding import chosen_pieces, refused_as_stuck, said
from caddet.core.pattern.ids import base_name, own_name, stroke_of
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.reshaping import block_of
from caddet.core.pattern.seams import Layer, Seam
from caddet.core.pattern.surgery import sound
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

JOIN = 10.0  # mm of allowance on facing and lining where they meet: together the 2 cm that the lining goes on
LIES_UNDER = "it is caught in the seam of the piece it lines"
STATIONS = 12  # points of a turn-up's line that the lining's edge is drawn through
SLACK = 0.5  # mm that the middle of an edge has to lie beyond a fold
PLEAT_DEEP = 60.0  # mm a pleat's folds are drawn
OPEN = (
    "facing",
    "turned",
    "band",
    "binding",
)  # finishes of edges that a lining is sewn to; at a zip it is felled by hand


def shell(pattern: Pattern) -> list[Piece]:
    """The pieces that are usually lined: those of a block that are cut from the main cloth and no bands."""
    found = [p for p in pattern.pieces if not made_by_part(p) and p.count_of("main") and not p.feature("band_fold")]
    return [p for p in found if p.count_of("interfacing") == 0]


def lining(pattern: Pattern, context: Context, values: Values) -> Result:
    """Line pieces, sewn to their facings or edges, and to each other as the shell is."""
    pieces = chosen_pieces(pattern, values["pieces"]) or shell(pattern)
    if not pieces:
        raise Stuck(say("there is nothing here to line"), "pieces")
    made: list[tuple[Piece, Piece]] = []
    with refused_as_stuck("pieces"):
        for piece in pieces:
            made.append((piece, lining_piece(pattern, piece.name, context.id, values)))
    names = {
        edge.name: new
        for piece, one in made
        for edge in piece.edges
        if not edge.dart and edge.finish != "fold" and (new := _renamed(one.made, piece.made, edge.name)) in one.runs()
    }
    to_facing, to_shell, sewn_runs = _attached(pattern, made, names, context.id, str(values["hem"]))
    inner = {old: new for old, new in names.items() if old not in sewn_runs}
    seams = [
        *to_facing,
        *to_shell,
        *meeting(copied_seams(pattern, inner, context.id, "_lining"), [one for _, one in made]),
    ]
    done = held([one for _, one in made], seams, LIES_UNDER)
    fits = [
        follows(pattern, one, piece.runs(), partial(lining_piece, base=piece.name, step=context.id, values=values))
        for (piece, _), one in zip(made, done, strict=True)
    ]
    joined = {part.ref.key for one in to_facing for part in one.layers[0]}
    base = finish_runs(pattern, {old for one in to_shell for old in [one.layers[0][0].ref.key]} | joined)
    base = _with_allowance(base, joined)
    findings: tuple[Finding, ...] = ()
    if float(values["pleat"]) > 0 and not any(piece.fold and _is_back(piece) for piece in pieces):
        words = say("No piece here is cut on the fold at the centre back, so the lining gets no ease pleat there.")
        findings = (Finding("part.pleat", words, f"recipe[{context.id}].pleat", "note"),)
    return Result(with_part(base, done, seams, fits), findings=findings)


def _is_back(piece: Piece) -> bool:
    return any(edge.finish == "fold" and edge.role == "centre_back" for edge in piece.edges)


def lining_piece(pattern: Pattern, base: str, step: str, values: Values) -> Piece:
    """The lining of one piece as it is now. Raises :class:`Refused`."""
    piece = pattern.piece(base)
    one = replace(piece, notches=piece.notches, figures=())
    one = _without_turn_up(one)
    one = _less_grown_on(one)
    for key in piece.runs():
        line = _facing_edge(pattern, piece, key)
        if line is not None and key in one.runs():
            block = block_of(one, key)
            if block.first == block.last:
                try:
                    one = less(one, block.first, block.last, line)
                except Refused as refused:
                    raise Refused(
                        say(
                            "the facing of the {run} reaches another facing or a dart, so that no edge is left for the lining there; make the facings narrower, or turn the dart elsewhere first",
                            run=run_words(piece, key),
                        ),
                        "pieces",
                    ) from refused
                one = one.with_edges([replace(e, allowance=JOIN) if e.name == key else e for e in one.edges])
    shorter = float(values["shorter"])
    if shorter > 0 and values["hem"] != "sewn":
        for key in [key for key in one.runs() if any(e.finish == "hem" for e in one.run(key))]:
            if len(one.run(key)) == 1:
                one = trimmed(one, key, shorter, "shorter")
    if values["darts"] == "pleats":
        for dart in one.darts:
            one = _dart_as_pleat(one, dart.id)
    if float(values["pleat"]) > 0 and piece.fold and _is_back(piece):
        ends = ("top", "bottom") if values["hem"] == "sewn" else ("top",)
        one = out_at_fold(one, float(values["pleat"]), f"{piece.made}.ease_pleat", say("ease pleat"), PLEAT_DEEP, ends)
    name = below(step, piece.made)
    edges = tuple(
        replace(
            e,
            name=_renamed(name, piece.made, e.name),
            dart=_renamed_dart(name, piece.made, e.dart),
            finish=e.finish if e.finish in ("fold", "hem", "opening", "slit") else "",
            why="",
        )
        for e in one.edges
    )
    features = tuple(
        replace(
            f,
            kind="line" if f.kind == "level" else f.kind,
            name=_renamed(name, piece.made, f.name),
            bits=tuple(Bit(*(_end(name, piece.made, e) for e in (b.a, b.b))) for b in f.bits),
        )
        for f in one.features
        if f.kind in ("pleat", "contour_dart") or (f.kind == "level" and _on_outline(one, f))
    )
    made = replace(
        one,
        made=name,
        label=say("{piece}, lining", piece=piece.label),
        edges=edges,
        darts=tuple(replace(d, name=_renamed_dart(name, piece.made, d.name)) for d in one.darts),
        features=features,
        notches=(),
        also=(),
        cuts=(Cut("lining", piece.cut),),
        remark="",
        role="lining",
        source="",
    )
    return sound(grain_inside(made))


def _on_outline(piece: Piece, level: Feature) -> bool:
    """Whether a level still runs from outline to outline: its outer ends are places on edges that are there."""
    ends = (level.bits[0].a, level.bits[-1].b)
    return all(isinstance(end, Spot) and piece.holds_spot(end) for end in ends)


def _renamed(name: str, made: str, key: str) -> str:
    """The name of an edge of the lining: its own name; with where it comes from when another piece brought it in."""
    stem, stroke = base_name(key), stroke_of(key)
    base = base_name(made)
    own = stem.removeprefix(f"{base}.") if stem.startswith(f"{base}.") else stem.replace(".", "_")
    return f"{base_name(name)}.{own}{stroke}"


def _renamed_dart(name: str, made: str, dart: str) -> str:
    stem, bracket, marks = dart.partition("[")
    return _renamed(name, made, stem) + bracket + marks if dart else ""


def _end(name: str, made: str, end: End) -> End:
    return Spot(_renamed(name, made, end.edge), end.u) if isinstance(end, Spot) else end


# --- what is left away -------------------------------------------------------------------------------


def _without_turn_up(piece: Piece) -> Piece:
    """A piece cut off where its turn-up begins: the lining goes no further."""
    feature = next((f for f in piece.features if f.role == "turn_up"), None)
    if feature is None or not all(piece.holds_spot(e) for b in feature.bits for e in (b.a, b.b)):
        return piece
    points = [piece.where(feature.bits[0].a), *(piece.where(bit.b) for bit in feature.bits)]
    hems = [n for n, edge in enumerate(piece.edges) if edge.finish == "hem"]
    if not hems:
        return piece
    first, last = hems[0], hems[-1]
    few = (
        [points[round(n * (len(points) - 1) / STATIONS)] for n in range(STATIONS + 1)]
        if len(points) > STATIONS
        else points
    )
    line = smooth_through(few, points[1] - points[0], points[-1] - points[-2]) if len(few) > 2 else Path.polyline(few)
    if dot(line.end - line.start, piece.edges[last].path.end - piece.edges[first].path.start) < 0:
        line = line.reversed()
    return less(piece, first, last, line)


def _less_grown_on(piece: Piece) -> Piece:
    """A piece without a facing that was grown on, up to where it ends when it is folded inside."""
    for fold in [f for f in piece.features if f.role == GROWN_ON]:
        lines = piece.drawn(fold)
        mine = _beyond(piece, lines) if lines else []
        inner = [n for n in mine if piece.edges[n].role == INNER]
        if not inner:
            continue
        first, last = mine[0], mine[-1]
        over = Motion.reflection(lines[0].start, lines[-1].end)
        line = piece.edges[inner[0]].path.moved(over)
        named = piece.with_edges(
            [
                replace(e, name=piece.edges[inner[0]].name, role=INNER) if n == first else e
                for n, e in enumerate(piece.edges)
            ]
        )
        piece = less(named, first, last, line)
        whole = ((0.0, 0.0), (1.0, 1.0))
        edges = [
            replace(e, finish="", why="", allowance=JOIN, pairs=whole) if e.role == INNER else e for e in piece.edges
        ]
        piece = piece.with_edges(edges)
    return piece


def _beyond(piece: Piece, fold: Sequence[Path]) -> list[int]:
    """The edges that lie behind a fold line together with an inner edge of a facing, in outline order."""
    a, b = fold[0].start, fold[-1].end
    count = len(piece.edges)

    def side(n: int) -> float:
        """How far the middle of an edge lies to one side of the fold."""
        path = piece.edges[n % count].path
        return cross(b - a, path.point_at(path.length / 2) - a) / abs(b - a)

    inner = next((n for n, edge in enumerate(piece.edges) if edge.role == INNER and abs(side(n)) > SLACK), None)
    if inner is None:
        return []
    way = 1 if side(inner) > 0 else -1
    first = last = inner
    while last - first < count - 1 and side(first - 1) * way > SLACK:
        first -= 1
    while last - first < count - 1 and side(last + 1) * way > SLACK:
        last += 1
    return [n % count for n in range(first, last + 1)]


def _facing_edge(pattern: Pattern, piece: Piece, key: str) -> Path | None:
    """Where the facing of a run ends on its piece; None when it has none, or darts lie between."""
    for one in pattern.seams:
        if [part.ref.key for part in one.layers[0]] != [key]:
            continue
        for fragment in pattern.layer_fragments(one.layers[1]):
            inner = [edge for edge in fragment.piece.edges if edge.role == INNER]
            block = block_of(piece, key)
            if inner and block.first == block.last and fragment.piece.name != piece.name:
                return inner[0].path.reversed()
    return None


def _dart_as_pleat(piece: Piece, dart_id: str) -> Piece:
    """A dart left open and folded at the seam only."""
    dart = next(d for d in piece.darts if d.id == dart_id)
    index, a, apex, b = piece.legs(dart_id)
    key = piece.edges[index - 1].name
    inward = unit(apex - (a + b) / 2) * min(abs(apex - (a + b) / 2), PLEAT_DEEP)
    opened = open_out(Pattern((piece,)), piece, dart).pieces[0]
    spots = [opened.spot_at(key, opened.nearest_on_run(key, point)[1]) for point in (a, b)]
    bits = (Bit(spots[0], a + inward), Bit(spots[1], b + inward))
    feature = Feature("pleat", f"{piece.made}.{own_name(dart.name)}_pleat", say("pleat"), bits, dart.pressed)
    return replace(opened, features=(*opened.features, feature))


# --- what it is sewn to -------------------------------------------------------------------------------


def _attached(
    pattern: Pattern, made: Sequence[tuple[Piece, Piece]], names: Mapping[str, str], step: str, hem: str
) -> tuple[list[Seam], list[Seam], set[str]]:
    """The seams of the lining to facings and to open edges of the shell, and the runs that are in them."""
    to_facing: list[Seam] = []
    to_shell: list[Seam] = []
    runs: set[str] = set()
    for piece, one in made:
        keys = list(dict.fromkeys(e.name for e in one.edges if not e.dart and e.finish != "fold"))
        for key in keys:
            old = next((o for o, n in names.items() if n == key), "")
            if not old:
                continue
            if one.run(key)[0].role == INNER:  # the edge of a facing that is grown on: as much of it as the lining has
                edge = one.run(key)[0]
                part = replace(layer_of(old, piece.marks)[0], low=edge.low, high=edge.high)
                words = say("Lining to the facing of the {piece}", piece=piece.label.lower())
                to_facing.append(seam(below(step, old, "to_facing"), words, (part,), layer_of(key, piece.marks)))
                runs.add(old)
                continue
            facing_inner = _facing_inner(pattern, piece, old)
            if facing_inner and any(e.allowance == JOIN for e in one.run(key)):
                to_facing.append(
                    seam(
                        below(step, old, "to_facing"),
                        say("Lining to the {run} facing", run=said(old)),
                        facing_inner,
                        layer_of(key, piece.marks),
                    )
                )
                runs.add(old)
            elif any(e.finish in OPEN for e in piece.run(old)) or (
                hem == "sewn" and any(e.finish == "hem" for e in piece.run(old))
            ):
                to_shell.append(
                    seam(
                        below(step, old, "to_shell"),
                        say("Lining to the {run}", run=said(old)),
                        layer_of(old, piece.marks),
                        layer_of(key, piece.marks),
                    )
                )
                runs.add(old)
    return to_facing, to_shell, runs


def _facing_inner(pattern: Pattern, piece: Piece, key: str) -> Layer:
    """The inner edge of the facing of a run, as a layer; empty without one."""
    for one in pattern.seams:
        if [part.ref.key for part in one.layers[0]] == [key]:
            for fragment in pattern.layer_fragments(one.layers[1]):
                inner = [edge for edge in fragment.piece.edges if edge.role == INNER]
                if inner and fragment.piece.name != piece.name:
                    return layer_of(inner[0].name, fragment.piece.marks)
    return ()


def _with_allowance(pattern: Pattern, keys: set[str]) -> Pattern:
    """The edges where facing and lining meet, with the allowance of that seam."""
    for piece in pattern.pieces:
        if any(edge.name in keys for edge in piece.edges):
            edges = [replace(e, allowance=JOIN) if e.name in keys else e for e in piece.edges]
            pattern = pattern.with_piece(piece.with_edges(edges))
    return pattern


def _describe(values: Values) -> Sentence:
    which = ", ".join(said(one) for one in values.get("pieces") or ()) or say("the shell")
    if values.get("hem") == "sewn":
        return say("lining of {pieces}, sewn to all edges", pieces=which)
    return say("lining of {pieces}, {shorter} shorter", pieces=which, shorter=Length(float(values.get("shorter", 0.0))))


register_step(Step(
    "lining", "Lining",
    "The shell once more in lining: less its facings, to which it is sewn; an inch shorter, so that it never shows; with a pleat down the centre back for ease. A turn-up is left away.",
    (Parameter("pieces", "Pieces", "pieces", (), why="None means every piece of the block that is cut from the main cloth, bands left out."),
     Parameter("shorter", "Shorter at the hem", "length", 25.4, 0.0, 150.0, only=("hem", ("loose",)), why="An inch."),
     Parameter("hem", "At the hem", "choice", "loose", choices=(("loose", "Hangs free"), ("sewn", "Sewn to the shell: lined to the edge"))),
     Parameter("pleat", "Ease pleat at the centre back", "length", 20.0, 0.0, 80.0, why="On each half. It is held at the neck and gives further down."),
     Parameter("darts", "Darts", "choice", "darts", choices=(("darts", "Sewn as darts"), ("pleats", "Folded as pleats")), why="As pleats, the lining gives.")),
    lining, _describe,
    suits={"piece": 13}, symbol=((-5 - 5j, 4 - 5j, 4 + 4j, -5 + 4j, -5 - 5j), (-3 - 2j, 2 - 2j, 2 + 2j, -3 + 2j, -3 - 2j)),
    asked_as=("line it", "lined", "inside layer"),
    fits=lambda pattern: "" if pattern.pieces else say("there is nothing to line"),
    source="facing width off and two centimetres on, an inch shorter at the hem: common practice, no source",
))  # fmt: skip


# --- interfacing ---------------------------------------------------------------------------------------


def interfacing(pattern: Pattern, context: Context, values: Values) -> Result:
    """Cut pieces once more from interfacing."""
    del context
    if not values["pieces"]:
        raise Stuck(say("say which piece"), "pieces")
    for piece in chosen_pieces(pattern, values["pieces"]):
        if piece.count_of("interfacing"):
            raise Stuck(say("the {piece} is interfaced already", piece=piece.label.lower()), "pieces")
        count = piece.cut if values["layers"] == "all" else max(1, piece.cut // 2)
        pattern = pattern.with_piece(replace(piece, cuts=(*piece.cuts, Cut("interfacing", count))))
    return Result(pattern)


register_step(Step(
    "interfacing", "Interfacing",
    "The piece is cut from interfacing as well and fused or basted to it: collars, cuffs, bands, button stands, whatever must keep its shape.",
    (Parameter("pieces", "Pieces", "pieces", ()),
     Parameter("layers", "On", "choice", "all", choices=(("all", "All layers"), ("half", "Half of them: one of two layers")))),
    interfacing, lambda values: say("{pieces} interfaced", pieces=", ".join(said(one) for one in values.get("pieces") or ()) or say("a piece")),
    suits={"piece": 14}, symbol=((-5 - 5j, 4 - 5j, 4 + 4j, -5 + 4j, -5 - 5j), (-5 + 0j, 0 - 5j), (-5 + 4j, 4 - 5j), (0 + 4j, 4 + 0j)),
    asked_as=("stiffen", "fuse", "interface", "firm collar"),
    fits=lambda pattern: "" if pattern.pieces else say("there is no piece here"),
))  # fmt: skip
