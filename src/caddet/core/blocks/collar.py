"""``collar`` and ``hood``: fitted to a neckline, solved along the curve they are sewn to."""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from caddet.core.blocks.waistband import ON_EDGE, edge_option
from caddet.core.drafting.curves import bend, ease_into, left
from caddet.core.drafting.declare import edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece, level
from caddet.core.drafting.kit import Drafting, outline
from caddet.core.figures.sums import Figure
from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, Motion, Point, smooth, unit
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Body, Passes
from caddet.core.recipe.registry import Block, EaseLevel, Gate, Parameter, Values, register_block
from caddet.core.sentences import say

STYLES = (("stand", "Stand"), ("straight_stand", "Straight stand"), ("fold_over", "Folds over"), ("flat", "Lies flat"))


def neck_edge(reach: float, rise: float) -> Cubic:
    """The edge sewn to the neck, from the centre back (which it leaves level) to the front, ``rise`` mm higher."""
    end = complex(reach, -rise)
    if abs(rise) < 1e-6:
        return Cubic(0j, end / 3, end * 2 / 3, end)
    return ease_into(0j, 1 + 0j, end, unit(complex(reach * 0.55, -rise)), 0.42, 0.3)


def collar_half(d: Drafting, half: float) -> tuple[DraftPiece, float]:
    """Half a collar on the fold at the centre back, and how far its neck edge reaches forward (solved)."""
    style, depth = d.choice("style"), d.size("depth")
    if style == "flat":
        return _flat(d, half)
    rise = {"stand": d["front_rise"], "straight_stand": 0.0, "fold_over": -d["front_rise"] * 0.6}[style]
    d.need(abs(rise) < half * 0.6, "The collar rises more in front than it is long.", "front_rise")
    reach = d.solve(
        "collar_reach",
        lambda v: neck_edge(v, rise).length - half,
        half * 0.4,
        half * 1.02,
        "no reach makes the edge as long as the neckline.",
    )
    neck = neck_edge(reach, rise)
    tip = neck.end
    forward = neck.direction(1.0)
    up = forward * -1j
    if style == "fold_over":
        corner = tip + up * depth + forward * d["point"]
        chord = unit(complex(0, -depth) - corner)
        outer: Path = Path((ease_into(corner, chord * chord / -1, complex(0, -depth), -1 + 0j, 0.33, 0.35),))
        front = Path((Line(tip, corner),))
    else:
        corner = tip + up * depth
        outer = Path((ease_into(corner, -forward, complex(0, -depth), -1 + 0j, 0.33, 0.42),))
        front = Path((Line(tip, corner),))
    # clockwise: outer edge from the fold to the front is drawn backwards
    edges = outline(
        ("outer", outer.reversed()),
        ("front", front.reversed()),
        ("neckline", Path((neck,)).reversed()),
        ("centre_back", [0j, complex(0, -depth)], "fold"),
    )
    piece = DraftPiece(
        "collar",
        "Collar",
        edges,
        notches=(DraftNotch("neckline", half - d["to_shoulder"], name="shoulder"),)
        if 0 < d["to_shoulder"] < half
        else (),
        grain=(complex(10, -depth * 0.85), complex(10, -depth * 0.15)),
        cut=2,
        remark="one to go under: cut it 2 mm smaller",
    )
    return piece, reach


@dataclass(frozen=True, slots=True)
class _Neck:
    """Half a neckline laid flat, the front's shoulder over the back's: from centre back over the shoulder to centre front."""

    line: Path
    shoulder: Point

    @property
    def back(self) -> float:
        """From the centre back to the shoulder, in mm."""
        return self.line.segments[0].length


def _laid(d: Drafting, half: float, front_depth: float) -> _Neck:
    """The necklines of front and back for a front so deep (mm), their shoulders overlapped at the armhole."""
    width, shoulder = half * 0.4, max(d["collar_shoulder"], 60.0)
    slope = min(d["collar_slope"], shoulder * 0.6)
    level = math.sqrt(shoulder**2 - slope**2)
    rise = width / 3
    back_point, along = complex(width, -rise), complex(level, slope) / shoulder
    back = bend(0j, 1 + 0j, back_point, left(along), 0.7, 0.6)
    # the front lies beyond the shoulder seam: its own neckline, turned over the seam and in by the overlap
    front_point, centre = complex(width - 2, 0), complex(0, front_depth)
    own = bend(centre, 1 + 0j, front_point, left(along), 0.56, 0.6)
    over = cmath.exp(-1j * math.asin(min(d["overlap"] / shoulder, 0.5)))
    turn = along * along * over  # mirrored in the shoulder line, then turned
    lay = Motion(turn, back_point - turn * front_point.conjugate(), True)
    front = own.reversed().moved(lay)
    # one fair line over the shoulder, through it and the middle of the front's neckline
    pins = [0j, back.end, front.point(0.5), front.end]
    return _Neck(smooth_through(pins, 1 + 0j, front.direction(1.0)), along)


def _flat(d: Drafting, half: float) -> tuple[DraftPiece, float]:
    """A collar that lies flat: drawn on front and back with their shoulders overlapped, so that it rolls a little at the neck."""
    depth = d.size("depth")
    front_depth = d.solve(
        "collar_reach",
        lambda v: _laid(d, half, v).line.length - half,
        half * 0.1,
        half * 0.9,
        "no depth of the front makes the edge as long as the neckline.",
    )
    neck = _laid(d, half, front_depth)
    line = neck.line

    def beside(share: float) -> tuple[Point, Point]:
        """A place on the outer edge, ``depth`` beside the neck edge, and the way the neck edge runs there."""
        at = line.length * share
        way = line.direction_at(at)
        return line.point_at(at) + 1j * way * depth, way

    (side, runs), front = beside(0.8), line.end
    square = smooth_through([beside(share)[0] for share in (0.0, 0.2, 0.4, 0.6, 0.8)], 1 + 0j, runs)
    round_ = bend(side, runs, front, left(line.end_direction), 0.75, 0.5)
    outer = Path((*square.segments, round_))
    edges = outline(
        ("neckline", line),
        ("outer", outer.reversed()),
        ("centre_back", [1j * depth, 0j], "fold"),
    )
    return DraftPiece(
        "collar",
        "Flat collar",
        edges,
        notches=(DraftNotch("neckline", neck.back, name="shoulder"),),
        grain=(complex(8, depth * 0.15), complex(8, depth * 0.85)),
        cut=2,
        remark="one to go under: cut it 2 mm smaller",
    ), front_depth


def _collar(pattern: Pattern, context: Context, options: Values) -> Result:
    d = Drafting(context, options)
    half = d["seam_length"] / 2
    d.need(half > 60, say("The neckline is shorter than {12 cm}."), "seam_length")
    piece, _ = collar_half(d, half)
    closures = (
        promise(
            "seam",
            "Collar fits the neckline",
            (run("collar", "neckline", worn=True),),
            d["seam_length"],
            "along the curve, both halves",
        ),
    )
    depth = d.size("depth")
    dimensions = (
        Dimension("seam_length", "collar", complex(half * 0.3, -depth * 0.3), complex(half * 0.7, -depth * 0.3)),
    )
    seams = tuple(
        sew(f"collar_{name}", "Upper to under collar", (edge("collar", name),), (edge("collar", name),))
        for name in ("outer", "front")
        if name in piece.runs()
    )
    return d.result((piece,), seams, closures, dimensions, (Shown("front", "collar"),), joined={"neckline": ON_EDGE})


register_block(
    Block("collar", "Collar", "A collar for any neckline: standing, folding over or lying flat.", ("neck", "shoulder", "shoulder_drop"), (),
          (edge_option("neck"), Parameter("style", "Kind", "choice", "stand", choices=STYLES,
                                          why="The more the neck edge rises to the front, the closer a stand lies to the neck; the more it falls, the flatter a collar folds over; "
                                          "a straight strip is the knit dress's stand."),
           Parameter("depth", "Depth at the centre back", "length", 40.0, 10.0, 250.0)),
          (EaseLevel("neck", "Neckline", 10.0, "neck"),),
          (Figure("seam_length", "Neckline", "if(edge > 0cm, edge, neck + ease_neck)", "As long as the edge it goes on: front neck and back neck."),
           Figure("to_shoulder", "Shoulder, from the centre back", "seam_length * 0.22", "A notch where the shoulder seam comes."),
           Figure("front_rise", "Up at the front", "if(style_straight_stand, 0cm, 2.5cm)", "Bends the stand round the neck, which is narrower above."),
           Figure("point", "Point, forward", "1.5cm", "How far the point of a collar that folds over leans forward."),
           Figure("collar_shoulder", "Flat collar: shoulder of the garment", "shoulder", "It is drawn on front and back laid together at the shoulder."),
           Figure("collar_slope", "Flat collar: slope of the shoulder", "shoulder_drop", "As the garment's."),
           Figure("overlap", "Flat collar: shoulders overlapped at the armhole", "1.3cm", "A little, and the collar rolls at the neck instead of lying quite flat: the outer edge is drawn in."),
           Figure("collar_reach", "Forward from the centre back", "seam_length / 2 * if(style_flat, 0.42, 0.98)", "Solved: along the curve it is half the neckline. Of a flat collar, the depth of the front neckline.")),
          _collar, family="Bands and collars", wants=("body",))
)  # fmt: skip


WIDEST_AT = 0.6  # of the hood's height
LEANS_OUT = math.radians(10)  # as far as the back seam leans out at the neck: more, and the neck's edge comes in a wave


def hood_half(d: Drafting, half: float) -> DraftPiece:
    """Half a hood: neck edge, front edge, and the centre seam over the head from the nape to the front.

    The neck edge drops to the front and rises to the back, square to the front edge and to the centre seam.
    """
    tall, wide, fall = d["hood_height"], d["hood_width"], d["neck_fall"]

    def lean(reach: float) -> float:
        """By how many radians the centre seam leaves the neck outwards; a wide hood's is hollow in the nape after that."""
        return min(2 * math.atan(max(wide - reach, 0.0) / (WIDEST_AT * tall)), LEANS_OUT)

    def neck(reach: float) -> Cubic:
        # from the centre front, low, to the centre back, high
        return ease_into(complex(0, fall), 1 + 0j, complex(reach, -fall), cmath.exp(1j * lean(reach)), 0.4, 0.36)

    d.need(half > fall * 2.1, "The neck edge of the hood falls more than it is long.", "neck_fall")
    reach = d.solve(
        "hood_reach",
        lambda v: neck(v).length - half,
        half * 0.3,
        half * 1.02,
        "no reach makes the edge as long as the neckline.",
    )
    lower, out = neck(reach), lean(reach)
    back, top_front = lower.end, complex(0, -tall)
    bulge = complex(max(reach + math.tan(out / 2) * WIDEST_AT * tall, wide), -WIDEST_AT * tall)
    rise = smooth(back, left(lower.direction(1.0)), bulge, -1j)
    over = bend(bulge, -1j, top_front, -1 + 0j, 0.62, 0.6)
    edges = outline(
        ("top", Path((rise, over)).reversed()),
        ("neckline", Path((lower,)).reversed()),
        ("face", [lower.start, top_front], "hem"),
    )
    widest = level("head", "round the head", complex(0, bulge.imag), bulge)
    return DraftPiece(
        "hood",
        "Hood",
        edges,
        notches=(DraftNotch("neckline", d["to_shoulder"], name="shoulder"),) if 0 < d["to_shoulder"] < half else (),
        drawn=(widest,),
        grain=(complex(25, -tall * 0.8), complex(25, -tall * 0.1)),
        cut=2,
        pair=True,
    )


FACE = 100.0  # mm, about what a hood leaves open of the head's girth; common practice


ROUND = Passes(
    "round",
    of=(girth("head"),),
    limit=Body("head", plus=-FACE),
    place="hood.top",
    label="Hood goes round the head",
    why="Both halves at their widest against the head, all but the face.",
)


def _crown(pattern: Pattern, context: Context) -> list[Gate]:
    """The hood goes over the crown."""
    hood = pattern.piece("hood")
    top, low = min(p.imag for p in hood.polygon()), hood.run("neckline")[0].path.end.imag
    why = "The front edge against the height of the head from the neck, about 0.55 of its girth."
    return [
        Gate("crown", "Hood is high enough for the head", low - top, context.measures["head"] * 0.55, "hood.face", why)
    ]


def _hood(pattern: Pattern, context: Context, options: Values) -> Result:
    d = Drafting(context, options)
    half = d["seam_length"] / 2
    piece = hood_half(d, half)
    closures = (
        promise(
            "seam",
            "Hood fits the neckline",
            (run("hood", "neckline", worn=True),),
            d["seam_length"],
            "along the curve, both halves",
        ),
    )
    tall = d["hood_height"]
    seam = sew("hood", "Hood seam", (edge("hood", "top"),), (edge("hood", "top", mirrored=True),), corners=True)
    return d.result(
        (piece,),
        (seam,),
        closures,
        (
            Dimension("hood_height", "hood", complex(40, -tall), complex(40, 0)),
            Dimension("hood_width", "hood", complex(0, -tall * 0.45), complex(d["hood_width"], -tall * 0.45)),
        ),
        (Shown("front", "hood"),),
        joined={"neckline": ON_EDGE},
    )


register_block(
    Block("hood", "Hood", "A hood of two halves for any neckline. No cords: at the hood or neck of a young child they can strangle (EN 14682).",
          ("head", "neck"), (), (edge_option("neck"),), (EaseLevel("neck", "Neckline", 60.0, "neck"),),
          (Figure("seam_length", "Neckline", "if(edge > 0cm, edge, neck + ease_neck)", "As long as the edge it goes on."),
           Figure("hood_height", "Height", "head * 0.6 + 1cm", "From the neck over the top of the head, with room to turn it."),
           Figure("hood_width", "Width", "head / 2 - 4cm", "Half round the head, all but the face."),
           Figure("neck_fall", "Down at the front, up at the back", "1.7cm", "The neck leans: its edge drops to the front and rises to the back by 1.5 to 2."),
           Figure("to_shoulder", "Shoulder, from the centre back", "seam_length * 0.22", "A notch where the shoulder seam comes."),
           Figure("hood_reach", "Along the neck", "seam_length / 2 * 0.95", "Solved: along the curve it is half the neckline.")),
          _hood, (ROUND,), family="Bands and collars", more_gates=_crown)
)  # fmt: skip
