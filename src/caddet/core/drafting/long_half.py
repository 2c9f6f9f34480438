"""Half a dress in one, from neckline to hem: fitted with contour darts, or falling as an A-line; and cut at the waist."""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass, replace

from caddet.core.drafting.bodice import Half, darted_side
from caddet.core.drafting.curves import HEM, hem_sinks, hem_to_centre
from caddet.core.drafting.draft_piece import DraftDart, DraftNotch, DraftPiece, Drawn, contour_dart, level
from caddet.core.drafting.kit import Drafting
from caddet.core.drafting.upper import Upper, draft_upper, upper_levels
from caddet.core.drafting.waist import count_of
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Point, smooth, unit
from caddet.core.pattern.edges import Edge
from caddet.core.recipe.registry import CannotDraft


@dataclass(frozen=True, slots=True)
class LongHalf:
    """Half a dress in one: the piece, and where its waist and hip lie."""

    piece: DraftPiece
    waist_level: float
    hip_level: float


@dataclass(frozen=True, slots=True)
class ALine:
    """An A-line dress in one: both halves, their upper parts, and by how many radians the sides swing out."""

    front: LongHalf
    back: LongHalf
    uppers: tuple[Upper, Upper]
    slant: float


def _least_slope(d: Drafting) -> float:
    """How far an A-line's sides swing out per mm, front and back alike: past waist and hip, and to the flare at the hem."""
    under = d["armhole_depth"]
    waist, hem = d["back_length"] - under, d["back_length"] + d.size("length") - under
    hip = waist + d["hip_depth"]
    slopes = []
    for side in ("front", "back"):
        bust = d[f"{side}_bust"]
        at_hip = max(d[f"{side}_hip"] - bust + 1.0, 0.0)  # the armhole dips by a hair
        out = at_hip + d["hem_flare"]
        at_hem = out / hem
        for _ in range(6):  # the corner lies higher than the hem's centre, and further out so
            at_hem = out / max(hem - HEM * (bust + out) * at_hem, hem * 0.3)
        slopes += [at_hip / hip, max(d["waist_round"] / 4 - bust, 0.0) / waist, at_hem]
    return max(slopes)


def aline(d: Drafting, front_waist: float) -> ALine:
    """Sides out to the hem, front and back equally long; the hem's corners are settled, then the front's bust dart opened.

    Hollowed below its dart, the front's side still has to clear the hip: both sides swing out further until it does.
    ``front_waist`` is the level of the waist at the centre front, in mm.
    """
    slope, hip = _least_slope(d), front_waist + d["hip_depth"]
    for _ in range(8):
        made = _aline(d, front_waist, math.atan(slope))
        side = made.front.piece.run("side")[-1].path
        cuts = side.crossings(complex(0, hip), complex(9999, hip))
        short = d["front_hip"] - cuts[0][1].real if cuts else 0.0
        if short <= 0.05:
            break
        slope += 1.1 * short / (d["back_length"] + d["hip_depth"] - d["armhole_depth"])
    return made


def _aline(d: Drafting, front_waist: float, slant: float) -> ALine:
    lean = cmath.exp(1j * (math.pi / 2 - slant))
    above = slant
    for _ in range(5):  # above its dart the front's side leans further out: sewn, it is one straight line to the hem
        front, back = draft_upper(d, -above, -slant)
        # the hem reaches its level at the centre, so it lies higher at the side
        long = d["back_length"] + d.size("length") - back.underarm.imag
        long -= hem_sinks(lean, back.underarm.real + long * lean.real / lean.imag)
        side = Path((Line(back.underarm, back.underarm + lean * (long / lean.imag)),))
        front_edges, wanted = _aline_front(d, front, cmath.exp(1j * (math.pi / 2 - above)), side)
        if abs(wanted - above) < 1e-5:
            break
        above = wanted
    waist = d["back_length"]
    back_piece = _long_piece(d, "back", back, (Edge("side", side),), (), _plain_levels(waist, d["hip_depth"], side))
    darts = (DraftDart("bust_dart", "bust dart"),) if len(front_edges) > 1 else ()
    levels = _plain_levels(front_waist, d["hip_depth"], front_edges[-1].path)
    front_piece = _long_piece(d, "front", front, front_edges, darts, levels)
    return ALine(
        LongHalf(front_piece, front_waist, front_waist + d["hip_depth"]),
        LongHalf(back_piece, waist, waist + d["hip_depth"]),
        (front, back),
        slant,
    )


def _plain_levels(waist: float, hip: float, side: Path) -> tuple[Drawn, ...]:
    """Waist and hip from the centre to the side, where the side reaches so far down."""
    found = []
    for name, words, at in (("waist", "waist", waist), ("hip", "hip line", waist + hip)):
        cuts = side.crossings(complex(0, at), complex(9999, at))
        if cuts:
            found.append(level(name, words, 1j * at, cuts[0][1]))
    return tuple(found)


def _aline_front(d: Drafting, upper: Upper, lean: Point, back: Path) -> tuple[tuple[Edge, ...], float]:
    """The front's side as long as the back's, its dart kept in part, straight to its hem's corner, which lies where the
    back's lies and further out by what is closed into the hem; and by how many radians it has to lean out above the
    dart for the sewn side to be straight there.
    """
    drawn = darted_side(d, upper, lean, back.length, "bust_dart_kept")
    edges = drawn.edges()
    into_hem = 0.0
    if len(edges) > 1:
        into_hem = (
            (d["bust_dart_in"] - d["bust_dart_kept"]) / abs(drawn.leg - drawn.apex) * (back.end.imag - drawn.apex.imag)
        )
    low, rest = drawn.last_start, back.length - abs(drawn.leg - drawn.underarm)
    out = upper.underarm.real + back.end.real - back.start.real + into_hem - low.real
    corner = low + complex(out, math.sqrt(max(rest**2 - out**2, 1.0)))
    straight = drawn.opened.turn.conjugate() * unit(corner - low)
    return (*edges[:-1], Edge("side", Path((Line(low, corner),)))), math.atan2(straight.real, straight.imag)


def fitted(d: Drafting, front: Half, back: Half) -> tuple[LongHalf, LongHalf]:
    """The front and back of a fitted dress in one; the front's side is made as long as the back's."""
    long_back = _long(d, "back", back, None)
    return _long(d, "front", front, long_back.piece.run_length("side")), long_back


def _long(d: Drafting, side: str, half: Half, partner: float | None) -> LongHalf:
    """Half a fitted dress in one. With ``partner`` the side is made as long, at its hem."""
    waist_level = d["back_length"] if side == "back" else half.waist.centre.imag
    hip_level, hem_level = waist_level + d["hip_depth"], waist_level + d.size("length")
    hip = d[f"{side}_hip"]
    side_edges = tuple(edge for edge in half.edges if edge.name in ("side", "bust_dart"))
    above: Point = side_edges[-1].path.start
    count = count_of(d, f"contour_{side}_darts")
    contour = min(d[f"contour_{side}"] * count, max(d[f"{side}_bust"] - d[f"{side}_waist"], 0.0))
    waist, hip_point = complex(d[f"{side}_waist"] + contour, waist_level), complex(hip, hip_level)
    corner = complex(hip + d["hem_flare"], hem_level)
    below = unit(corner - hip_point)
    at_waist = unit(unit(hip_point - waist) + unit(waist - above))
    upper_part, lower_part = (
        smooth(above, half.side_point - above, waist, at_waist),
        smooth(waist, at_waist, hip_point, below),
    )
    length = upper_part.length + lower_part.length + sum(edge.path.length for edge in side_edges[:-1] if not edge.dart)
    rest = abs(corner - hip_point) if partner is None else partner - length
    path = Path((upper_part, lower_part, Line(hip_point, hip_point + below * rest)))
    darts = tuple(dart for dart in half.darts if dart.name == "bust_dart")
    marks = _contour(d, side, half, contour, waist_level, hip_level, hip)
    piece = _long_piece(d, side, half.upper, (*side_edges[:-1], Edge("side", path)), darts, tuple(marks))
    return LongHalf(piece, waist_level, hip_level)


def _long_piece(
    d: Drafting,
    side: str,
    upper: Upper,
    sides: tuple[Edge, ...],
    darts: tuple[DraftDart, ...],
    marks: tuple[Drawn, ...],
) -> DraftPiece:
    """Half a dress from neckline to hem: the hem square to the side and to the centre."""
    hem = hem_to_centre(sides[-1].path.end, sides[-1].path.end_direction)
    centre = hem.end
    edges = [
        Edge("neckline", Path((upper.neck,))),
        Edge("shoulder", Path((upper.shoulder,))),
        Edge("armhole", upper.armhole),
        *sides,
    ]
    edges.append(Edge("hem", hem, "hem"))
    edges.append(Edge(f"centre_{side}", Path.polyline([centre, upper.centre]), "fold" if side == "front" else ""))
    notches = [
        DraftNotch("armhole", upper.armhole.length - upper.lower_armhole, double=side == "back", name=f"armhole {side}")
    ]
    if side == "back":
        notches.append(
            DraftNotch(
                "centre_back", max(abs(centre - upper.centre) - d["zip_length"], 5.0), double=True, name="zip end"
            )
        )
    return DraftPiece(
        side,
        f"Dress {side}",
        tuple(edges),
        darts,
        tuple(notches),
        (*upper_levels(side, upper), *marks),
        (complex(26, upper.underarm.imag), complex(26, centre.imag - 60)),
        cut=1 if side == "front" else 2,
        pair=side == "back",
    )


def _contour(d: Drafting, side: str, half: Half, contour: float, waist: float, hip: float, wide: float) -> list[Drawn]:
    """The waist line less the darts, the hip line, and the darts drawn from point to point."""
    place = d[f"{side}_dart_place"]
    end = d[f"{side}_waist"] + contour
    count = count_of(d, f"contour_{side}_darts")
    each = contour / count
    top = (
        half.upper.neck_point.imag + d["bust_level"] + d["front_dart_short"]
        if side == "front"
        else half.upper.underarm.imag + 10
    )
    low = waist + min(d[f"skirt_{side}_dart_length"], (hip - waist) * 0.8)
    top = min(top, waist - 30)
    marks = [
        level("waist", "waist", 1j * waist, complex(end, waist)),
        level("hip", "hip line", 1j * hip, complex(wide, hip)),
    ]
    # a second dart stands half-way from the first to the side, and is a little shorter
    for number, x in enumerate((place, (place + end) / 2)[:count] if contour > 1 else ()):
        shorter = number * SECOND_SHORTER
        marks.append(
            contour_dart(
                "contour_dart" if number == 0 else f"contour_dart_{number + 1}",
                "contour dart" if number == 0 else "second contour dart",
                complex(x, top + shorter),
                complex(x + each / 2, waist),
                complex(x, low - shorter),
                complex(x - each / 2, waist),
            )
        )
    return marks


SECOND_SHORTER = 15.0  # mm at both ends that a second contour dart is shorter; common practice, no source


def cut_across(piece: DraftPiece, at: float, dip: float) -> tuple[DraftPiece, DraftPiece]:
    """The parts of a long piece above and below a waist that begins ``at`` mm down its side."""
    side = piece.name
    last = piece.run("side")[-1]
    upper, lower = last.path.split_at(at - (piece.run_length("side") - last.path.length))
    if upper is None or lower is None:
        raise CannotDraft("The waist would fall above the bust dart; it can't be split there.", "recipe.options.split")
    point = upper.end
    centre_edge = piece.edges[-1]
    across = upper.end_direction * 1j
    centre = complex(0, point.imag + across.imag * 0.36 * point.real + dip)
    line = Path((smooth(point, across, centre, -1 + 0j),))
    where = next(n for n, one in enumerate(piece.edges) if one is last)
    above = (
        *piece.edges[:where],
        last.with_path(upper),
        Edge("waist", line),
        Edge(centre_edge.name, Path.polyline([centre, centre_edge.path.end]), centre_edge.finish),
    )
    below = (
        Edge("waist", line.reversed()),
        last.with_path(lower),
        *piece.edges[where + 1 : -1],
        Edge(centre_edge.name, Path.polyline([centre_edge.path.start, centre]), centre_edge.finish),
    )
    top = replace(
        piece,
        edges=above,
        label=f"Bodice {side}",
        drawn=tuple(one for one in piece.drawn if one.name not in ("waist", "hip")),
        notches=tuple(n for n in piece.notches if n.run == "armhole"),
        grain=(piece.grain[0], complex(26, centre.imag - 20)),
    )
    skirt = DraftPiece(
        f"skirt_{side}",
        f"Skirt {side}",
        below,
        drawn=tuple(one for one in piece.drawn if one.name == "hip"),
        grain=(complex(26, centre.imag + 30), piece.grain[1]),
        cut=piece.cut,
        pair=piece.pair,
    )
    return top, skirt
