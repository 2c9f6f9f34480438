"""Steps on length and width at the hem: lengthen or shorten, flare."""

from __future__ import annotations

import cmath
import math
from typing import Any

from caddet.core.errors import CaddetError, Finding
from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.flare import flare_side
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Motion, Point
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.features import Spot
from caddet.core.pattern.finding import chosen_edges, chosen_pieces, refused_as_stuck, said
from caddet.core.pattern.ids import own_name, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Run
from caddet.core.pattern.reshaping import widened
from caddet.core.pattern.seams import TOLERANCE
from caddet.core.pattern.stretching import let_down
from caddet.core.pattern.surgery import replace_edge, sound
from caddet.core.recipe.context import OF_THE_BODY, Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say

HEMS = ("hem", "casing")
STRETCHES = (("none", "As it is cut"), ("quick", "As worn, quick rule"), ("exact", "As worn, exactly"))
BOW = 3.0  # mm by which a seam may bow and be swung as a straight one
GIVES = 0.1  # share that a cloth gives along, from which a length worn is another than the length cut


def hemmed(pattern: Pattern) -> list[Piece]:
    """Every piece that has a hem."""
    return [piece for piece in pattern.pieces if any(edge.finish in HEMS for edge in piece.edges)]


def _listed(refs: tuple[str, ...]) -> str:
    return ", ".join(said(one) for one in refs)


# --- lengthen -------------------------------------------------------------------------------------


def lengthen(pattern: Pattern, context: Context, values: Values) -> Result:
    """Move everything below a level line down (or up) and blend the sides."""
    before, amount = pattern, cut_for(float(values["amount"]), context.cloth.stretch_along, str(values["stretch"]))
    chosen = chosen_pieces(pattern, values["pieces"]) if values["pieces"] else hemmed(pattern)
    if not chosen:
        raise Stuck("no piece here ends in a hem: say which pieces to lengthen", "pieces")
    for piece in chosen:
        pattern = pattern.with_piece(let_down(piece, float(values["at"]), amount))
    # what is as long as the body somewhere (a torso, a crotch) is meant to become longer
    longer = tuple(one.name for one in before.promises if one.target != 0)
    findings = []
    if values["stretch"] == "none" and context.cloth.stretch_along >= GIVES and amount > 0:
        words = say(
            "The cloth gives {give} along: worn, the piece gets longer than {amount}. Allow for the stretch, or keep it as it is.",
            give=f"{context.cloth.stretch_along:.0%}",
            amount=Length(amount),
        )
        findings.append(Finding("step.stretch", words, f"recipe[{context.id}].stretch", "look"))
    return Result(pattern, findings=tuple(findings), changes=(*blended(before, pattern), *longer))


def cut_for(worn: float, stretch: float, rule: str) -> float:
    """How much is cut for a length that is wanted when worn, in mm, in cloth that gives so much.

    By the quick rule the stretch is taken off (30 %: 0.7 of it), exactly it is divided by 1 + stretch (0.77 of it).
    Common practice; the second by arithmetic.
    """
    if rule == "quick":
        return worn * (1 - min(stretch, 0.9))
    return worn / (1 + stretch) if rule == "exact" else worn


def blended(before: Pattern, after: Pattern) -> tuple[str, ...]:
    """The promises of equal sides that blending has changed by less than a seam forgives: the walk judges those."""
    found = []
    for promise in before.promises:
        sides = len(promise.of) == 2 and promise.target == 0 and all(isinstance(one, Run) for one in promise.of)
        if sides and abs(after.promised(promise) - before.promised(promise)) <= TOLERANCE:
            found.append(promise.name)
    return tuple(found)


def _lengthen_fits(pattern: Pattern) -> str:
    return "" if pattern.pieces else "there is nothing here to lengthen"


def _usual_lengthen(pattern: Pattern, chosen: Values) -> dict[str, Any]:
    """The line half-way from the hip, or the top, to the hem; with a piece, those whose sides meet its sides."""
    usual = {}
    if chosen.get("pieces"):
        usual["pieces"] = tuple(
            piece.name for piece in with_neighbours(pattern, chosen_pieces(pattern, chosen["pieces"]))
        )
    for piece in chosen_pieces(pattern, chosen["pieces"]) if chosen.get("pieces") else hemmed(pattern):
        _, top, _, bottom = piece.outline().bounds()
        hip = piece.level("hip")
        begins = piece.where(hip.bits[0].a).imag if hip else top
        return {**usual, "at": round((begins + bottom) / 2 - 1, 0)}
    return usual


def with_neighbours(pattern: Pattern, chosen: list[Piece]) -> list[Piece]:
    """Pieces and those that seams running down to a hem join to them, from one to the next."""
    met = list(chosen)
    for piece in met:
        runs = [(piece, key) for key in piece.runs() if hem_corner(piece, key) is not None]
        met += [other for other, _ in _with_partners(pattern, runs) if all(other is not one for one in met)]
    return met


def _merge_lengthen(old: Values, new: Values) -> dict[str, Any] | None:
    if tuple(old.get("pieces", ())) != tuple(new.get("pieces", ())) or old.get("stretch") != new.get("stretch"):
        return None
    # the same hold again: the amounts add up, at the line where it was first cut
    added = float(old["amount"]) + float(new["amount"])
    return {"pieces": new["pieces"], "at": float(old["at"]), "amount": added, "stretch": new.get("stretch", "none")}


def _describe_lengthen(values: Values) -> Sentence:
    amount = float(values.get("amount", 0.0))
    words = say(
        "lengthened by {amount} at {at} down" if amount >= 0 else "shortened by {amount} at {at} down",
        amount=Length(abs(amount)),
        at=Length(float(values.get("at", 0.0))),
    )
    return (
        say("{what} on the {pieces}", what=words, pieces=_listed(values["pieces"])) if values.get("pieces") else words
    )


LENGTHEN = register_step(
    Step(
        "lengthen", "Lengthen or shorten",
        "The piece is cut across and the lower part moved, so that the hem keeps its shape; the sides are drawn "
        "smooth again. Pieces that meet are changed together.",
        (Parameter("pieces", "Pieces", "pieces", (), why="None means every piece that ends in a hem."),
         Parameter("at", "Line, down the piece", "length", 400.0, -1500.0, 2500.0,
                   hand=Hand("level", "pieces"), why="Counted from the level the piece is drafted from: the waist of a skirt, the nape of a top, the widest line of a sleeve."),
         Parameter("amount", "Longer by", "length", 0.0, -1000.0, 1500.0, why="A minus makes it shorter.", hand=Hand("down", "pieces", "hem")),
         Parameter("stretch", "In cloth that gives along", "choice", "none", choices=STRETCHES, why="What is cut stretches when it is worn: quick takes the stretch off, exact divides by it.")),
        lengthen, _describe_lengthen,
        suits={"piece": 1, "level": 2}, key="L", symbol=((-5j, 5j), (-3 + 2j, 5j, 3 + 2j)),
        asked_as=("longer", "shorter", "make it longer", "make it shorter", "let down", "take up the length"),
        usual=_usual_lengthen, merge=_merge_lengthen, fits=_lengthen_fits,
    )
)  # fmt: skip


# --- flare ----------------------------------------------------------------------------------------


def flare(pattern: Pattern, context: Context, values: Values) -> Result:
    """Swing seams out at the hem; what they are sewn to swings with them."""
    del context
    before = pattern
    chosen = chosen_edges(pattern, values["edges"] or ("side",))
    if values["both"]:
        chosen = _with_partners(pattern, chosen)
    swung = [(piece, key) for piece, key in chosen if hem_corner(piece, key) is not None]
    if not swung:
        raise Stuck(
            say("the {listed} does not run down to a hem", listed=_listed(tuple(values["edges"]) or ("side",))), "edges"
        )
    for piece, key in swung:
        now = next(p for p in pattern.pieces if p.name == piece.name)
        pattern = pattern.with_piece(flared(now, key, float(values["amount"]), _above(now, key, values)))
    return Result(pattern, changes=(*OF_THE_BODY, *blended(before, pattern)))


def _above(piece: Piece, key: str, values: Values) -> float:
    """How far above the hem a run swings out, in mm: from the named level, or as given. Raises :class:`Stuck`."""
    if not values["level"]:
        return float(values["above"])
    name = own_name(reference(values["level"][0]).name)
    corner = hem_corner(piece, key)
    level = piece.level(name)
    for end in [end for bit in (level.bits if level else ()) for end in (bit.a, bit.b)]:
        if isinstance(end, Spot) and end.edge == key and corner is not None:
            edge = piece.edges[corner[0]]
            share = edge.share_at(end.u)
            if share is not None:
                return (1 - share if corner[1] else share) * edge.path.length
    raise Stuck(
        say("the {level} level does not meet the {edge}", level=name.replace("_", " "), edge=said(key)), "level"
    )


def _with_partners(pattern: Pattern, chosen: list[tuple[Piece, str]]) -> list[tuple[Piece, str]]:
    """The runs with those they are sewn to, edge to edge."""
    found = list(chosen)
    for seam in pattern.seams:
        layers = [pattern.layer_fragments(layer) for layer in seam.layers]
        runs = [{(f.piece.name, f.edge.name) for f in layer} for layer in layers]
        if all(len(one) == 1 for one in runs) and any((p.name, key) in one for p, key in chosen for one in runs):
            found += [(layer[0].piece, layer[0].edge.name) for layer in layers]
    seen: dict[tuple[str, str], tuple[Piece, str]] = {(p.name, key): (p, key) for p, key in found}
    return list(seen.values())


def hem_corner(piece: Piece, key: str) -> tuple[int, bool] | None:
    """Where a run comes to the hem: the edge's index, and whether its path ends there; None when it does not."""
    for index, edge in enumerate(piece.edges):
        if edge.name != key:
            continue
        if piece.edges[(index + 1) % len(piece.edges)].finish in HEMS:
            return index, True
        if piece.edges[index - 1].finish in HEMS:
            return index, False
    return None


def flared(piece: Piece, key: str, amount: float, above: float) -> Piece:
    """One piece with a run swung out by ``amount`` mm at the hem, from ``above`` mm up the run.

    With ``above`` 0 it swings from the hip or bust level where that meets the run, else from the run's top. Raises :class:`Stuck`.
    """
    corner = hem_corner(piece, key)
    if corner is None:
        raise Stuck(
            say(
                "the {own_name} of the {label} does not run down to a hem",
                own_name=own_name(key).replace("_", " "),
                label=piece.label.lower(),
            ),
            "edges",
        )
    if amount <= 0:
        return piece
    index, at_end = corner
    edge, hem_index = piece.edges[index], (index + 1) % len(piece.edges) if at_end else index - 1
    hem = piece.edges[hem_index]
    path = edge.path if at_end else edge.path.reversed()  # down to the hem
    local = path.length - above if above > 0 else _hinge(piece, edge, path, at_end)
    if not 0 <= local <= path.length - 20:
        raise Stuck(say("the swing must begin on the lowest part of the seam, at least {2 cm} above the hem"), "above")
    upper, lower = path.split_at(local)
    if lower is None:
        raise Stuck("there is no seam left below the place where it swings", "above")
    if _hollow(lower):  # a leg's inseam: swung straight from its top it would be narrower at the knee than it was
        with refused_as_stuck("amount"):
            return widened(piece, [edge.name], hem.name, lower.start.imag, amount)
    # the flare is reckoned outwards to the right of a downward seam; a seam on the other side is mirrored for it
    side = not at_end
    arriving = upper.end_direction if upper else lower.start_direction
    try:
        swung = flare_side(
            _m(lower.start, side), _m(arriving, side), _m(lower.end, side), amount, _m(lower.end_direction, side)
        )
    except CaddetError as error:
        raise Stuck(str(error), "amount") from error
    if swung is None:
        return piece
    new_side = Path((*(upper.segments if upper else ()), *_flipped(swung.side, side).segments))
    arc = _flipped(Path((swung.hem_arc,)), side)
    hem_path = hem.path if at_end else hem.path.reversed()  # from the corner on
    bridge = Path.polyline([arc.end, hem_path.start])
    let_in = Path((*arc.segments, *((Line(arc.end, hem_path.start),) if bridge.length > 1e-6 else ())))
    was = upper.length if upper else 0.0
    shares = [(was / path.length, was / new_side.length)]
    if not at_end:
        new_side, let_in = new_side.reversed(), let_in.reversed()
        shares = [(1 - old, 1 - new) for old, new in shares]
    edges = list(piece.edges)
    longer = hem.let_in(let_in, at_end=not at_end)
    if abs(cmath.phase(hem_path.start_direction / arc.end_direction)) > KINK:  # it was not square to this seam
        pins = [arc.start, hem_path.point_at(hem_path.length / 2), hem_path.end]
        fair = smooth_through(pins, arc.start_direction, hem_path.end_direction)
        longer = longer.with_path(fair if at_end else fair.reversed())
    edges[hem_index % len(edges)] = longer
    return sound(replace_edge(piece.with_edges(edges), index, new_side, shares))


KINK = math.radians(2.0)  # by which a hem may turn where a flare meets it


def _hollow(path: Path) -> bool:
    """Whether a line leaves the straight between its ends by more than a little, so that it is not drawn straight."""
    straight = Path.polyline([path.start, path.end])
    return max(straight.nearest(path.point_at(path.length * n / 16))[0] for n in range(1, 16)) > BOW


def _hinge(piece: Piece, edge: Edge, path: Path, at_end: bool) -> float:
    """How far down a run it swings from by itself: where the hip level meets it, or else the bust's, else its top."""
    for name in ("hip", "bust"):
        level = piece.feature(name)
        for bit in level.bits if level else ():
            for end in (bit.a, bit.b):
                if isinstance(end, Spot) and end.edge == edge.name and (share := edge.share_at(end.u)) is not None:
                    return (share if at_end else 1 - share) * path.length
    return 0.0


def _m(point: Point, flip: bool) -> Point:
    return complex(-point.real, point.imag) if flip else point


def _flipped(path: Path, flip: bool) -> Path:
    return path.moved(Motion(turn=-1 + 0j, mirror=True)) if flip else path


def _flare_fits(pattern: Pattern) -> str:
    if any(
        hem_corner(piece, key) for piece in pattern.pieces for key in piece.runs() if piece.run(key)[0].finish == ""
    ):
        return ""
    return "no seam of this garment runs down to a hem, so there is none to flare"


def _flare_refuses(pattern: Pattern, chosen: Values) -> str:
    for piece, key in chosen_edges(pattern, chosen.get("edges") or ()):
        if hem_corner(piece, key) is None or piece.run(key)[0].finish == "fold":
            return say("the {edge} does not run down to a hem", edge=said(key))
    return ""


def _merge_flare(old: Values, new: Values) -> dict[str, Any] | None:
    same = ("edges", "above", "level", "both")
    if any(old.get(name) != new.get(name) for name in same):
        return None
    return {**dict(old), "amount": float(old["amount"]) + float(new["amount"])}


def _describe_flare(values: Values) -> Sentence:
    amount, above = Length(float(values.get("amount", 0.0))), float(values.get("above", 0.0))
    which = _listed(tuple(values.get("edges") or ("side",)))
    if values.get("level"):
        name = own_name(reference(values["level"][0]).name).replace("_", " ")
        return say("{edges} flared by {amount} from the {level}", edges=which, amount=amount, level=name)
    if above <= 0:
        return say("{edges} flared by {amount} from the hip", edges=which, amount=amount)
    return say("{edges} flared by {amount} from {above} above the hem", edges=which, amount=amount, above=Length(above))


FLARE = register_step(
    Step(
        "flare", "Flare a seam",
        "A wedge of cloth is let in from the hip to the hem. The hem runs as an arc, so that it hangs level and "
        "meets the seam at a right angle.",
        (Parameter("edges", "Seams", "edges", ("side",), why="Edges that run down to a hem; a name without a piece means that edge of every piece."),
         Parameter("amount", "Out at the hem, each edge", "length", 30.0, 0.0, 600.0, hand=Hand("out", "edges", "hem")),
         Parameter("above", "Begins, above the hem", "length", 0.0, 0.0, 1500.0, hand=Hand("along", "edges", "hem"), why="0 begins at the hip, or at the top of the seam where there is none."),
         Parameter("level", "Begins at the level", "level", (), optional=True, why="In place of a height: hip, thigh, knee, as far as it meets the seam."),
         Parameter("both", "Both sides of the seam", "flag", True, why="What it is sewn to is flared as much.")),
        flare, _describe_flare,
        suits={"edge": 2, "corner": 1, "seam": 2, "level": 4}, key="F", symbol=((-3 - 5j, -2 + 1j, 4 + 5j), (-3 - 5j, -3 + 5j)),
        asked_as=("make it wider", "wider at the hem", "more width in the hem", "swing out", "flared"),
        merge=_merge_flare, fits=_flare_fits, refuses=_flare_refuses,
    )
)  # fmt: skip
