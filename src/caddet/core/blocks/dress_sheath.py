"""``dress.sheath``: bodice and skirt with a waist seam, in one with contour darts, or a one-piece A-line."""

from __future__ import annotations

import cmath
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from caddet.core.blocks.bodice_darted import ELBOW_LINE, add_sleeve, body_closures, body_seams, half_pieces
from caddet.core.blocks.bodice_darted import gates as bodice_gates
from caddet.core.blocks.skirt_straight import Half as SkirtHalf
from caddet.core.blocks.skirt_straight import skirt_half
from caddet.core.drafting.bodice import BODICE_FIGURES, BODICE_NEEDS, BUST_DART, Half, darted_side, draft_bodice
from caddet.core.drafting.cap import SLEEVE_NEEDS, SLEEVE_OPTIONS, sleeve_figures
from caddet.core.drafting.kit import Drafting
from caddet.core.drafting.upper import SCHOOL, SCHOOLS, Upper, draft_upper
from caddet.core.figures.sums import Figure, Sum, Sums
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Motion, Point, smooth, unit
from caddet.core.pattern.pattern import Closure, Dimension, Pattern, Shown, Term
from caddet.core.pattern.piece import Dart, Edge, Mark, Notch, Piece
from caddet.core.pattern.seams import EdgeRef, Seam
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.registry import Block, CannotDraft, EaseLevel, Gate, Parameter, Values, register_block

OPTIONS = (
    Parameter("style", "Made", "choice", "waist_seam", choices=(("waist_seam", "With a waist seam"), ("in_one", "In one, fitted"), ("a_line", "A-line")),
              why="A waist seam joins bodice and skirt; in one, darts run through the waist; an A-line falls from the bust without any."),
    SCHOOL, BUST_DART,
    Parameter("length", "Skirt, waist to hem", "length", 600.0, 150.0, 1300.0),
    Parameter("flare", "Flare, each side", "length", 0.0, 0.0, 300.0, why="At the hem, beyond the hip's width; an A-line wants 8 to 13 cm."),
    Parameter("split", "A-line split at the waist", "flag", False, why="Front and back cut across at the waist, to be joined by a seam."),
    Parameter("sleeve", "With a sleeve", "flag", False, why="A set-in sleeve, fitted to the armholes."),
    *SLEEVE_OPTIONS,
)  # fmt: skip
EASE = (
    EaseLevel("bust", "Bust", 70.0, "bust"), EaseLevel("waist", "Waist", 50.0, "waist"), EaseLevel("hip", "Hip", 50.0, "hip"),
    EaseLevel("neck", "Neck", 20.0, "neck"), EaseLevel("upper_arm", "Upper arm", 50.0, "upper_arm"),
)  # fmt: skip
SKIRT = (
    Figure("panel_width", "Front or back at the bust, whole", "bust_round / 2", "Half the finished bust: with 5 inches of ease, 35 gives 20 inches."),
    Figure("hip_round", "Hip, finished", "hip + ease_hip", "Enough to sit down in.", short="hip round"),
    Figure("front_hip", "Hip line, front", "hip_round / 4 + if(style_in_one, 0.3cm, 0.2cm)", "A quarter, the front a trifle more, as at the bust."),
    Figure("back_hip", "Hip line, back", "hip_round / 2 - front_hip", "What the front leaves of the half round."),
    Figure("hip_depth", "Hip level, below the waist", "waist_to_hip", "Where the fullest part lies."),
    Figure("skirt_side_lift", "Skirt waist, up at the side", "1.2cm", "The way over the hip is longer at the side than down the middle."),
    *(
        figure
        for side in ("front", "back")
        for figure in (
            Figure(f"skirt_{side}_less", f"Less from hip to waist, {side}", f"{side}_hip - {side}_waist", "So much has to be taken in on the skirt."),
            Figure(f"skirt_{side}_side_in", f"Skirt, taken in at the side, {side}", f"max(min(skirt_{side}_less * 0.4, 2.5cm), skirt_{side}_less - 7cm, 0cm)", "Two fifths, at most 2.5."),
            Figure(f"skirt_{side}_take", f"Skirt, for darts, {side}", f"max(skirt_{side}_less - skirt_{side}_side_in, 0cm)", "What is left after the side seam."),
            Figure(f"skirt_{side}_darts", f"Skirt darts in half a {side}", f"if(skirt_{side}_take < 0.8cm, 0, if(skirt_{side}_take > 3.5cm, 2, 1))", "Less than 0.8 isn't worth a dart.", kind="count"),
            Figure(f"skirt_{side}_dart", f"Skirt dart, {side}", f"skirt_{side}_take / max(skirt_{side}_darts, 1)", "Shared evenly when there are two."),
            Figure(f"skirt_{side}_dart_length", f"Skirt dart, {side}, length", "min(10cm, hip_depth * 0.55)" if side == "front" else "min(13cm, hip_depth * 0.7)",
                   "Front darts end above the tummy, back darts over the seat."),
            Figure(f"skirt_{side}_dart_place", f"Skirt dart, {side}, from the centre",
                   f"min({side}_dart_place - {side}_dart / 2 + skirt_{side}_dart / 2, {side}_hip * 0.7)", "Meets the bodice's dart at the waist seam."),
        )
    ),
    Figure("contour_front", "Contour dart, front", "min(max(front_less * 0.62, 0cm), 3.5cm)", "In one: what is taken in at the waist between bust and hip."),
    Figure("contour_back", "Contour dart, back", "min(max(back_less * 0.7, 0cm), 4cm)", "The back takes more: it is hollow there."),
    Figure("zip_length", "Zip opening, below the nape", "back_length + max(hip_depth - 2cm, (hip - waist_round) / 2 + 1cm)", "Down the centre back until the hips go through."),
)  # fmt: skip
FIGURES = (*BODICE_FIGURES, *SKIRT, *sleeve_figures(), ELBOW_LINE)


def _skirt_names(sums: Sums) -> dict[str, Sum]:
    """The sums as the straight skirt names them."""
    names = dict(sums)
    for side in ("front", "back"):
        for what in ("dart", "darts", "dart_length", "dart_place"):
            names[f"{side}_{what}"] = sums[f"skirt_{side}_{what}"]
    names["side_lift"] = sums["skirt_side_lift"]
    return names


def draft(sums: Sums, options: Values) -> Pattern:
    """Bodice and skirt, or the dress in one, with or without sleeves."""
    d = Drafting(sums, options)
    d.need(d["hip_depth"] > 40, "The hip lies less than 4 cm below the waist.", "hip_depth")
    d.need(
        d.size("length") > d["hip_depth"] + 50 or d.choice("style") == "a_line",
        "The dress ends less than 5 cm below the hip: make it longer.",
        "recipe.options.length",
    )
    front, back = draft_bodice(d)
    if d.choice("style") == "waist_seam":
        return _with_seam(d, front, back)
    return _in_one(d, front, back)


def _with_seam(d: Drafting, front: Half, back: Half) -> Pattern:
    names, options = _skirt_names(d.sums), {"length": d.size("length"), "flare": d.size("flare")}
    skirt_front = skirt_half("front", names, options)
    skirt_back = skirt_half("back", names, options, skirt_front.side.length)
    pieces = list(half_pieces(front, back))
    pieces = [replace(piece, label=f"Bodice {piece.name}") for piece in pieces]
    pieces += [_skirt_piece("front", skirt_front, d), _skirt_piece("back", skirt_back, d)]
    one = EdgeRef
    seams = [
        *body_seams(),
        Seam(
            "C",
            "Centre back of the bodice, zip",
            (one("back", "centre_back"),),
            (one("back", "centre_back", mirrored=True),),
        ),
        Seam("D", "Skirt side seam", (one("skirt_front", "side"),), (one("skirt_back", "side"),)),
        Seam(
            "E",
            "Waist seam, front",
            (one("front", "waist"),),
            (one("skirt_front", "waist", backwards=True),),
            corners=True,
        ),
        Seam(
            "F",
            "Waist seam, back",
            (one("back", "waist"),),
            (one("skirt_back", "waist", backwards=True),),
            corners=True,
        ),
    ]
    closures = [
        *body_closures(d),
        Closure("waist", "Waist closes on the body", (Term("front", "waist", 2), Term("back", "waist", 2)), d["waist_round"], "the bodice, darts sewn"),
        Closure("skirt_waist", "Skirt fits the bodice", (Term("skirt_front", "waist", 2), Term("skirt_back", "waist", 2)), d["waist_round"], "the skirt, darts sewn"),
        Closure("hip", "Hip closes on the body", (Term("skirt_front", "hip", 2, True), Term("skirt_back", "hip", 2, True)), d["hip_round"], "along the hip line"),
        Closure("skirt_side", "Skirt sides are equal", (Term("skirt_front", "side"), Term("skirt_back", "side", -1)), 0.0, "front less back"),
    ]  # fmt: skip
    depth, hip = back.upper.underarm.imag, d["hip_depth"]
    dimensions = [
        Dimension("front_bust", "front", complex(0, depth), front.upper.underarm),
        Dimension("back_bust", "back", complex(0, depth), back.upper.underarm),
        Dimension("front_hip", "skirt_front", complex(0, hip), complex(d["front_hip"], hip)),
        Dimension("back_hip", "skirt_back", complex(0, hip), complex(d["back_hip"], hip)),
        Dimension(
            "front_waist",
            "front",
            complex(0, front.waist.centre.imag - 30),
            complex(front.side_point.real, front.waist.centre.imag - 30),
        ),
    ]
    shown = [Shown("front", "front"), Shown("back", "back"), Shown("front", "skirt_front", Motion(shift=front.waist.centre)),
             Shown("back", "skirt_back", Motion(shift=back.waist.centre))]  # fmt: skip
    return _finish(d, front, back, pieces, seams, closures, dimensions, shown)


def _skirt_piece(side: str, half: SkirtHalf, d: Drafting) -> Piece:
    """A skirt panel hanging from the waist seam: front on the fold, back with the zip's end."""
    length, hip, wide = d.size("length"), d["hip_depth"], d[f"{side}_hip"]
    zip_below = d["zip_length"] - d["back_length"]
    mark = Mark("hip", "hip line", (Path.polyline([complex(0, hip), complex(wide, hip)]),))
    grain = (complex(wide * 0.16, hip + 20), complex(wide * 0.16, length - 40))
    notches: tuple[Notch, ...] = (Notch("side", half.hip_along, name="hip"),)
    if side == "front":
        edges = (*half.edges, Edge("centre_front", Path.polyline([1j * length, 0j]), "fold"))
        return Piece("skirt_front", "Skirt front", edges, half.darts, notches, (mark,), grain, anchor="centre_front")
    low = min(max(zip_below, 30.0), length - 20.0)
    edges = (
        *half.edges,
        Edge("centre_back", Path.polyline([1j * length, 1j * low])),
        Edge("zip", Path.polyline([1j * low, 0j]), "opening"),
    )
    return Piece(
        "skirt_back", "Skirt back", edges, half.darts, notches, (mark,), grain, cut=2, pair=True, anchor="centre_back"
    )


@dataclass(frozen=True, slots=True)
class _Long:
    """Half a dress in one: the piece, and where its waist and hip lie."""

    piece: Piece
    waist_level: float
    hip_level: float


def _in_one(d: Drafting, front: Half, back: Half) -> Pattern:
    """The skirt goes on below the bodice's side; waist darts become contour darts inside, or nothing on an A-line."""
    aline = d.choice("style") == "a_line"
    long_front, long_back = _aline(d) if aline else _fitted(d, front, back)
    if aline:  # the sides swing out, and with them the armholes arrive: those are the ones a sleeve has to fit
        front, back = (replace(half, upper=upper) for half, upper in zip((front, back), _aline_uppers(d), strict=True))
    one = EdgeRef
    seams = [*body_seams()]
    closures = list(body_closures(d))
    pieces = [long_front.piece, long_back.piece]
    if not aline:
        closures.append(Closure("waist", "Waist closes on the body", (Term("front", "waist_line", 2, True), Term("back", "waist_line", 2, True)), d["waist_round"],
                                "along the waist line, contour darts sewn"))  # fmt: skip
        closures.append(
            Closure(
                "hip",
                "Hip closes on the body",
                (Term("front", "hip", 2, True), Term("back", "hip", 2, True)),
                d["hip_round"],
                "along the hip line",
            )
        )
    seams.append(
        Seam("C", "Centre back seam", (one("back", "centre_back"),), (one("back", "centre_back", mirrored=True),))
    )
    depth = back.upper.underarm.imag
    dimensions = [
        Dimension("front_bust", "front", complex(0, depth), front.upper.underarm),
        Dimension("back_bust", "back", complex(0, depth), back.upper.underarm),
    ]
    if not aline:
        dimensions += [
            Dimension(
                "front_hip", "front", complex(0, long_front.hip_level), complex(d["front_hip"], long_front.hip_level)
            ),
            Dimension("back_hip", "back", complex(0, long_back.hip_level), complex(d["back_hip"], long_back.hip_level)),
            Dimension(
                "contour_front",
                "front",
                complex(d["bust_point"] - 20, long_front.waist_level),
                complex(d["bust_point"] + 20, long_front.waist_level),
            ),
        ]
    shown = [Shown("front", "front"), Shown("back", "back")]
    if aline and d.flag("split"):
        pieces, seams, shown = _split(d, long_front, long_back, seams)
    return _finish(d, front, back, pieces, seams, closures, dimensions, shown)


def _aline_slant(d: Drafting, side: str) -> float:
    """By how many radians an A-line's side swings out: from the underarm to the hip's width and the flare at the hem."""
    reach = max(d[f"{side}_bust"], d[f"{side}_hip"]) + d.size("flare") - d[f"{side}_bust"]
    return math.atan2(reach, d["back_length"] + d.size("length") - d["armhole_depth"])


def _aline_uppers(d: Drafting) -> tuple[Upper, Upper]:
    return draft_upper(d, -_aline_slant(d, "front"), -_aline_slant(d, "back"))


def _aline(d: Drafting) -> tuple[_Long, _Long]:
    """Straight sides from the underarm out to the hem, front and back equally long, the bust dart in the front's."""
    front, back = _aline_uppers(d)
    hem_level = d["back_length"] + d.size("length")
    lean = cmath.exp(1j * (math.pi / 2 - _aline_slant(d, "back")))
    side = Path((Line(back.underarm, back.underarm + lean * ((hem_level - back.underarm.imag) / lean.imag)),))
    back_piece = _long_piece(d, "back", back, (Edge("side", side),), (), ())
    lean = cmath.exp(1j * (math.pi / 2 - _aline_slant(d, "front")))
    edges = darted_side(d, front, lean, side.length).edges()
    darts = (Dart("bust_dart", "bust dart"),) if len(edges) > 1 else ()
    front_piece = _long_piece(d, "front", front, edges, darts, ())
    waist = d["back_length"]
    return _Long(front_piece, waist, waist + d["hip_depth"]), _Long(back_piece, waist, waist + d["hip_depth"])


def _fitted(d: Drafting, front: Half, back: Half) -> tuple[_Long, _Long]:
    long_back = _long(d, "back", back, None)
    return _long(d, "front", front, long_back.piece.run_length("side")), long_back


def _long(d: Drafting, side: str, half: Half, partner: float | None) -> _Long:
    """Half a fitted dress in one. With ``partner`` the side is made as long, at its hem."""
    waist_level = d["back_length"] if side == "back" else half.waist.centre.imag
    hip_level, hem_level = waist_level + d["hip_depth"], waist_level + d.size("length")
    hip = d[f"{side}_hip"]
    side_edges = tuple(edge for edge in half.edges if edge.name in ("side", "bust_dart"))
    above: Point = side_edges[-1].path.start
    contour = min(d[f"contour_{side}"], max(d[f"{side}_bust"] - d[f"{side}_waist"], 0.0))
    waist, hip_point = complex(d[f"{side}_waist"] + contour, waist_level), complex(hip, hip_level)
    corner = complex(hip + d.size("flare"), hem_level)
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
    return _Long(piece, waist_level, hip_level)


def _long_piece(
    d: Drafting, side: str, upper: Upper, sides: tuple[Edge, ...], darts: tuple[Dart, ...], marks: tuple[Mark, ...]
) -> Piece:
    """Half a dress from neckline to hem: the hem square to the side and to the centre."""
    corner = sides[-1].path.end
    leave = sides[-1].path.end_direction * 1j
    rise = leave.imag * 0.36 * corner.real
    centre = complex(0, corner.imag + rise)
    edges = [
        Edge("neckline", Path((upper.neck,))),
        Edge("shoulder", Path((upper.shoulder,))),
        Edge("armhole", upper.armhole),
        *sides,
    ]
    edges.append(Edge("hem", Path((smooth(corner, leave, centre, -1 + 0j),)), "hem"))
    edges.append(Edge(f"centre_{side}", Path.polyline([centre, upper.centre]), "fold" if side == "front" else "seam"))
    notches = [
        Notch("armhole", upper.armhole.length - upper.lower_armhole, double=side == "back", name=f"armhole {side}")
    ]
    if side == "back":
        notches.append(
            Notch("centre_back", max(abs(centre - upper.centre) - d["zip_length"], 5.0), double=True, name="zip end")
        )
    bust = Mark("bust", "bust line", (Path.polyline([1j * upper.underarm.imag, upper.underarm]),))
    return Piece(side, f"Dress {side}", tuple(edges), darts, tuple(notches), (bust, *marks), (complex(26, upper.underarm.imag), complex(26, centre.imag - 60)),
                 cut=1 if side == "front" else 2, pair=side == "back", anchor=f"centre_{side}")  # fmt: skip


def _contour(d: Drafting, side: str, half: Half, contour: float, waist: float, hip: float, wide: float) -> list[Mark]:
    """The waist line less the dart, the hip line, and the dart drawn from point to point."""
    place = d[f"{side}_dart_place"]
    end = d[f"{side}_waist"] + contour
    left_, right_ = complex(place - contour / 2, waist), complex(place + contour / 2, waist)
    top = (
        half.upper.neck_point.imag + d["bust_level"] + d["front_dart_short"]
        if side == "front"
        else half.upper.underarm.imag + 10
    )
    low = waist + min(d[f"skirt_{side}_dart_length"], (hip - waist) * 0.8)
    top = min(top, waist - 30)
    parts = (
        (Path.polyline([1j * waist, left_]), Path.polyline([right_, complex(end, waist)]))
        if contour > 1
        else (Path.polyline([1j * waist, complex(end, waist)]),)
    )
    marks = [
        Mark("waist_line", "waist", parts),
        Mark("hip", "hip line", (Path.polyline([1j * hip, complex(wide, hip)]),)),
    ]
    if contour > 1:
        marks.append(
            Mark(
                "contour_dart",
                "contour dart",
                (Path.polyline([complex(place, top), right_, complex(place, low), left_, complex(place, top)]),),
            )
        )
    return marks


def _split(d: Drafting, front: _Long, back: _Long, seams: list[Seam]) -> tuple[list[Piece], list[Seam], list[Shown]]:
    """An A-line cut across at the waist into a top and a skirt, joined by a seam."""
    at = (d["back_length"] - d["armhole_depth"]) / math.cos(
        _aline_slant(d, "back")
    )  # as far down both sides, darts sewn
    pieces: list[Piece] = []
    shown: list[Shown] = []
    for long, view in ((front, "front"), (back, "back")):
        for part in _cut_across(long.piece, at, d["front_dip"] if view == "front" else 0.0):
            pieces.append(part)
            shown.append(Shown("front" if view == "front" else "back", part.name))
    one = EdgeRef
    seams = [s for s in seams if s.name != "C"]
    seams += [
        Seam(
            "C",
            "Centre back of the bodice",
            (one("back", "centre_back"),),
            (one("back", "centre_back", mirrored=True),),
        ),
        Seam("D", "Skirt side seam", (one("skirt_front", "side"),), (one("skirt_back", "side"),)),
        Seam(
            "E",
            "Waist seam, front",
            (one("front", "waist"),),
            (one("skirt_front", "waist", backwards=True),),
            corners=True,
        ),
        Seam(
            "F",
            "Waist seam, back",
            (one("back", "waist"),),
            (one("skirt_back", "waist", backwards=True),),
            corners=True,
        ),
        Seam(
            "G",
            "Centre back of the skirt",
            (one("skirt_back", "centre_back"),),
            (one("skirt_back", "centre_back", mirrored=True),),
        ),
    ]
    return pieces, seams, shown


def _cut_across(piece: Piece, at: float, dip: float) -> tuple[Piece, Piece]:
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
    where = piece.index_of(last)
    above = (
        *piece.edges[:where],
        last.with_path(upper),
        Edge("waist", line),
        Edge(centre_edge.name, Path.polyline([centre, centre_edge.path.end]), centre_edge.role),
    )
    below = (
        Edge("waist", line.reversed()),
        last.with_path(lower),
        *piece.edges[where + 1 : -1],
        Edge(centre_edge.name, Path.polyline([centre_edge.path.start, centre]), centre_edge.role),
    )
    top = replace(
        piece,
        edges=above,
        label=f"Bodice {side}",
        notches=tuple(n for n in piece.notches if n.run == "armhole"),
        grain=(piece.grain[0], complex(26, centre.imag - 20)),
    )
    skirt = Piece(
        f"skirt_{side}",
        f"Skirt {side}",
        below,
        grain=(complex(26, centre.imag + 30), piece.grain[1]),
        cut=piece.cut,
        pair=piece.pair,
        anchor=piece.anchor,
    )
    return top, skirt


def _finish(
    d: Drafting,
    front: Half,
    back: Half,
    pieces: list[Piece],
    seams: list[Seam],
    closures: list[Closure],
    dimensions: list[Dimension],
    shown: list[Shown],
) -> Pattern:
    if d.flag("sleeve"):
        add_sleeve(d, front, back, pieces, seams, closures, dimensions, shown, "HIJ")
    return d.pattern(pieces, seams, closures, dimensions, shown)


def gates(pattern: Pattern, sums: Sums, measures: Mapping[str, float]) -> Sequence[Gate]:
    """Arms, hands; the hips through waist and zip; the stride in the hem."""
    found = list(bodice_gates(pattern, sums, measures))
    front = pattern.piece("skirt_front" if pattern.has("skirt_front") else "front")
    back = pattern.piece("skirt_back" if pattern.has("skirt_back") else "back")
    hem = 2 * (front.run_length("hem") + back.run_length("hem"))
    low = max(p.imag for p in front.polygon())
    if measures.get("stride") and measures.get("waist_to_floor"):
        # a skirt of its own hangs from its waist at 0; a dress, and the lower part cut off one, from the nape
        own_frame = min(p.imag for p in front.polygon()) < 100 and pattern.has("skirt_front")
        hang = low - (0 if own_frame else sums["back_length"].value)
        hip = sums["hip_depth"].value
        legs = max(measures["waist_to_floor"] - hip, 1.0)
        needed = 2 * measures["stride"] * max(hang - hip, 0.0) / legs
        more = max(needed - hem, 0.0) / 4 + 5
        remedies = (
            (Remedy(f"Flare each side by {more / 10:.1f} cm more", option=("flare", round(more + 1))),)
            if hem < needed
            else ()
        )
        found.append(
            Gate(
                "stride",
                "Stride clears the hem",
                hem,
                needed,
                f"{front.name}.hem",
                "The hem round against twice the stride at that height.",
                remedies,
            )
        )
    return found


BLOCK = register_block(
    Block("dress.sheath", "Sheath dress", "Bodice and skirt together: with a waist seam, in one with contour darts, or falling as an A-line.",
          (*BODICE_NEEDS, *SLEEVE_NEEDS, "hip", "waist_to_hip"), ("stride", "waist_to_floor"), OPTIONS, EASE, FIGURES, draft, gates,
          family="Dresses", fits=("fitted_woven", "loose_woven"), wants=("body",), schools=SCHOOLS)
)  # fmt: skip
