"""``leggings``: one piece a leg, a waistband; from girths and negative ease, in a cloth that stretches both ways.

Frame: the centre front at x = 0, the waist seam at y = 0, y down; the back lies mirrored beside the front, without a
side seam. Below the fork the leg is the same on both sides of a plumb line midway between the forks, so that both
inseams are one curve. Starting points from memory of the trade: common practice, no source.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from caddet.core.drafting.bands import band_piece, quarters, ring_seam
from caddet.core.drafting.declare import at_least, edge, girth, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece, level, line
from caddet.core.drafting.kit import Drafting
from caddet.core.drafting.legs import LEG_NEEDS, crotch_curve
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Motion, smooth
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Body, Passes
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block
from caddet.core.sentences import say

OPTIONS = (
    Parameter("length", "Length", "choice", "ankle", choices=(("ankle", "Ankle"), ("calf", "Calf"), ("knee", "Knee"), ("shorts", "Shorts")),
              why="Where they end."),
    Parameter("band", "Waistband, finished depth", "length", 50.0, 15.0, 150.0, why="Folded double, with or without elastic in it; part of the rise."),
    Parameter("hem", "Hem", "choice", "turned", choices=(("turned", "Turned twice, 1\" and 1\""), ("band", "With a band")),
              why="Turned by an inch and by an inch again, sewn so that it stretches; or a band of the same cloth, which never pops."),
)  # fmt: skip
EASE = (
    EaseLevel("waist", "Waist", 0.0, "waist", -0.1),
    EaseLevel("hip", "Hip", 0.0, "hip", -0.1),
    EaseLevel("thigh", "Leg", 0.0, "thigh", -0.1),
    EaseLevel("crotch", "Crotch", 0.0, "crotch_length", -0.1),
    EaseLevel("length", "Length", 0.0, "waist_to_floor", -0.03),
)
FIGURES = (
    Figure("waist_round", "Waist, finished", "waist + ease_waist", "Smaller than the body: it stays up by its stretch."),
    Figure("hip_round", "Hip, finished", "hip + ease_hip", "Smaller than the body by what the cloth gives.", short="hip round"),
    Figure("leg_factor", "Of the leg's girth", "(thigh + ease_thigh) / thigh", "The same share is taken off thigh, knee, calf and ankle.", kind="count"),
    Figure("long_factor", "Of the body's length", "(waist_to_floor + ease_length) / waist_to_floor", "A cloth that stretches along the leg is cut a little shorter.", kind="count"),
    Figure("front_hip", "Hip line, front", "hip_round / 4 - 1cm", say("The seat is larger: the back's half is {2 cm} wider than the front's.")),
    Figure("back_hip", "Hip line, back", "hip_round / 2 - front_hip", "What the front leaves."),
    Figure("hip_level", "Hip level", "waist_to_hip * long_factor - band", "Below the seam of the waistband."),
    Figure("fork_level", "Crotch level", "body_rise * long_factor - band", "The rise, less the waistband, which is part of it."),
    Figure("knee_level", "Knee level", "waist_to_knee * long_factor - band", "The middle of the knee."),
    Figure("ankle_level", "Ankle level", "(waist_to_floor - 7cm) * long_factor - band", "Over the ankle bones."),
    Figure("hem_level", "Hem level", "(if(length_ankle, waist_to_floor - 7cm, if(length_calf, (waist_to_knee + waist_to_floor) / 2, if(length_knee, waist_to_knee + 4cm, body_rise + 14cm)))) * long_factor - band",
           "Where they end."),
    Figure("seat_tilt", "Centre back, leaned in", "clamp((hip - waist) * 0.12, 1cm, 3.5cm)", "Solved with the front's lean, so that the top edge is as long as wanted."),
    Figure("seat_rise", "Centre back, raised", "2.5cm", "The way over the seat is longer when one sits. Solved within 1.5 and 4.5, so that the crotch is as long as wanted; past that the forks are."),
    Figure("front_drop", "Centre front, lowered", "1cm", "The waist dips to the front."),
    Figure("top_round", "Top edge", "max(waist_round, hip_round - 11cm, hip / (1 + stretch) + 1cm)", "At full stretch it has to pass the hips; the centre lines lean in no further than is fair, the band draws in the rest."),
    Figure("crotch_round", "Crotch, finished", "crotch_length + ease_crotch", "Shorter than the body's by what the cloth gives along it."),
    Figure("front_fork", "Fork, front", "hip_round / 16 - 1.5cm", "How far the front reaches under the body."),
    Figure("fork_ratio", "Back fork, times the front's", "(hip_round / 8 - 1.5cm) / max(hip_round / 16 - 1.5cm, 1.5cm)", "The seat lies behind: a hip's eighth against a sixteenth.", kind="count"),
    Figure("thigh_round", "Thigh, all round", "thigh * leg_factor", "Less than the thigh: it stretches."),
    Figure("knee_round", "Knee, all round", "knee * leg_factor", "Less than the knee."),
    Figure("calf_round", "Calf, all round", "calf * leg_factor", "Less than the calf."),
    Figure("ankle_round", "Ankle, all round", "max(ankle * leg_factor, ankle * 1.35 / (1 + stretch) + 0.5cm)", "Close, but the heel has to go through at full stretch."),
    Figure("hem_round", "Hem, all round", "ankle_round", "As wide as the leg is where it ends; measured on the draft."),
    Figure("band_length", "Waistband, length", "min(top_round * 0.95, max(waist_round, hip / (1 + stretch) + 1cm))", "A little shorter than the edge, stretched in by quarter points; no wider than the waist wants, but the hips have to pass."),
    Figure("band_depth", "Waistband, cut depth", "band * 2", "Folded double."),
    Figure("hem_turn", "Hem, turned up", "if(hem_turned, 2in, 0cm)", "An inch, and an inch again, so that no raw edge rubs; added below the hem line as its allowance."),
    Figure("seam_left", "Seams, left on", "1cm", "A seam that has to stretch is overlocked or zigzagged close to its edge."),
    Figure("hemband_length", "Hem band, length", "hem_round * 0.95", "A little shorter than the edge."),
    Figure("give", "Stretch of the cloth", "stretch", "What the chosen cloth gives across.", kind="count"),
)  # fmt: skip
THIGH_BELOW_FORK = 60.0  # mm, where the leg is as close as its thigh
FORK_SLOPE = 0.45  # as steep as the inseam may lean from there to the fork
SEAT_RISE = (15.0, 45.0)  # mm, between which the seat's rise closes the crotch
HEM_CURVE = 15.0  # mm, so near to the hem's curve a level may run out over it
HEM_BAND = 50.0  # mm, finished


@dataclass(frozen=True, slots=True)
class _Leg:
    """One side of the leg about its plumb line: half its width from the fork down, a cubic of the level between knots.

    ``cubics`` holds the four coefficients of each, highest power first, from its upper knot on.
    """

    knots: tuple[float, ...]
    cubics: tuple[tuple[float, ...], ...]
    thigh: float

    def _at(self, level: float) -> tuple[float, tuple[float, ...]]:
        n = sum(level >= knot for knot in self.knots[1:-1])
        return level - self.knots[n], self.cubics[n]

    def half(self, level: float) -> float:
        """Half the width of the leg at a level."""
        t, (a, b, c, d) = self._at(level)
        return ((a * t + b) * t + c) * t + d

    def slope(self, level: float) -> float:
        """How fast the half width grows at a level."""
        t, (a, b, c, _) = self._at(level)
        return (3 * a * t + 2 * b) * t + c

    def width(self, level: float) -> float:
        """The whole leg at a level, in mm."""
        return 2 * self.half(level)

    def lean(self, level: float) -> float:
        """By how many radians the inseam leans out there, seen upwards."""
        return math.atan(-self.slope(level))

    def inseam(self, middle: float, hem: float) -> Path:
        """The front's inseam from the hem up to the fork."""
        levels = [hem, *(y for y in reversed(self.knots[:-1]) if y < hem - 1e-6)]
        parts = []
        for low, high in pairwise(levels):
            a, b = (complex(middle - self.half(y), y) for y in (low, high))
            third = (high - low) / 3
            # just below the upper knot: the slope of the cubic that ends there
            parts.append(
                Cubic(a, a + complex(-self.slope(low - 1e-9), 1) * third, b - complex(-self.slope(high), 1) * third, b)
            )
        return Path(tuple(parts))


@dataclass(frozen=True, slots=True)
class _Legs:
    """All legs of one draft: fair through knee, calf and ankle, plumb at the ankle, close at the thigh.

    A cubic spline answers in proportion to what it is drawn through: it is put together from three, one for what is
    fixed, one for each mm between the forks, one for its slope at the fork.
    """

    knots: tuple[float, ...]
    fixed: np.ndarray
    per_span: np.ndarray
    per_slope: np.ndarray

    @staticmethod
    def of(d: Drafting) -> _Legs:
        from scipy.interpolate import CubicSpline  # takes longer to import than the window to open

        fork, knee, ankle = d["fork_level"], d["knee_level"], d["ankle_level"]
        knots = (fork, knee, knee + (ankle - knee) / 3, ankle)
        round_ = (d["knee_round"] / 2, d["calf_round"] / 2, d["ankle_round"] / 2)

        def spline(first: float, rest: tuple[float, float, float], slope: float) -> np.ndarray:
            """The curve of one side through its knots."""
            return CubicSpline(
                np.array(knots), np.array((first, *rest)), bc_type=((1, np.array(slope)), (1, np.array(0.0)))
            ).c.T

        return _Legs(
            knots, spline(0.0, round_, 0.0), spline(0.5, (0.0, 0.0, 0.0), 0.0), spline(0.0, (0.0, 0.0, 0.0), 1.0)
        )

    def leg(self, d: Drafting, span: float) -> _Leg:
        """The leg below forks that lie ``span`` mm apart."""
        thigh = self.knots[0] + thigh_below(d, span)
        plain = self._made(span, 0.0, thigh)
        more = self._made(span, -1.0, thigh).half(thigh) - plain.half(thigh)
        return self._made(span, (plain.half(thigh) - d["thigh_round"] / 2) / more, thigh)

    def _made(self, span: float, slope: float, thigh: float) -> _Leg:
        cubics = self.fixed + span * self.per_span + slope * self.per_slope
        return _Leg(self.knots, tuple(tuple(row) for row in cubics.tolist()), thigh)


def thigh_below(d: Drafting, span: float) -> float:
    """How far below forks ``span`` mm apart the leg is as close as its thigh: further for wide forks, so that they slope no more."""
    return max(THIGH_BELOW_FORK, (span - d["thigh_round"]) / 2 / FORK_SLOPE)


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """One leg, a pair, and the waistband."""
    d = Drafting(context, options)
    hip, fork_level, knee, hem = d["hip_level"], d["fork_level"], d["knee_level"], d["hem_level"]
    d.need(hip > 30, "The hip lies too near the waistband.", "hip_level")
    d.need(
        fork_level > hip + 10, "The crotch lies at or above the hip: look at body rise and waist to hip.", "fork_level"
    )
    d.need(
        hem > fork_level + THIGH_BELOW_FORK + 20, say("The legs end less than {7 cm} below the crotch."), "hem_level"
    )
    d.need(
        fork_level + THIGH_BELOW_FORK + 60 < knee < d["ankle_level"] - 80,
        "The knee lies too near the crotch or the ankle: look at waist to knee.",
        "knee_level",
    )
    d.need(
        d["knee_round"] > 60 and d["ankle_round"] > 60 and d["front_hip"] > 50,
        say("The leg comes out narrower than {6 cm}."),
        "knee_round",
    )
    made = _solved(d)
    d.settle("hem_round", made.leg.width(hem))
    d.settle("hemband_length", d["hem_round"] * 0.95)
    banded = d.choice("hem") == "band"
    pieces = [_leg_piece(d, made, banded), _waistband(d)]
    seams = [
        sew("inseam", "Inseam", (edge("leg", "front_inseam"),), (edge("leg", "back_inseam", backwards=True),)),
        sew("front_crotch", "Front crotch", (edge("leg", "front_crotch"),), (edge("leg", "front_crotch", mirrored=True),), corners=True),
        sew("back_crotch", "Back crotch", (edge("leg", "back_crotch"),), (edge("leg", "back_crotch", mirrored=True),), corners=True),
        sew("waistband", "Waistband, stretched in", (edge("waistband", "waist"),), (edge("leg", "waist"), edge("leg", "waist", backwards=True, mirrored=True)),
             "stretched", d["top_round"] / d["band_length"]),
        ring_seam("waistband", "Waistband"),
    ]  # fmt: skip
    if banded:
        pieces.append(
            band_piece(
                "hemband",
                "Hem band",
                d["hemband_length"],
                2 * HEM_BAND,
                run="leg",
                cut=2,
                stretched=True,
                remark="stretch runs along the band",
            )
        )
        seams += [
            sew(
                "hemband",
                "Hem band, stretched in",
                (edge("hemband", "leg"),),
                (edge("leg", "hem"),),
                "stretched",
                pieces[0].run_length("hem") / d["hemband_length"],
            ),
            ring_seam("hemband", "Hem band"),
        ]
    levels = [
        ("hip", "Hip", d["hip_round"], hip),
        ("thigh", "Thigh", 2 * d["thigh_round"], made.thigh_level),
        ("knee", "Knee", 2 * d["knee_round"], knee),
        ("calf", "Calf", 2 * d["calf_round"], knee + (d["ankle_level"] - knee) / 3),
    ]
    closures = (
        *((promise if name != "hip" else at_least)(name, say("{words} closes on the body", words=words), (girth(name),), wide, "both legs along the level")
          for name, words, wide, at in levels if made.reaches(at, hem)),
        promise("waist", "Top edge is as long as wanted", (run("leg", "waist", worn=True),), d["top_round"], "both legs"),
        promise("crotch", "Crotch closes on the body", (run("leg", "front_crotch"), run("leg", "back_crotch"), run("waistband", "end")), d["crotch_round"],
                "front, back, and the waistband twice"),
        promise("inseam", "Inseams are equal", (run("leg", "front_inseam"), run("leg", "back_inseam", -1)), 0.0, "front less back"),
    )  # fmt: skip
    shown = (
        Shown("front", "leg", clip=(0.0, made.middle)),
        Shown("back", "leg", made.turn, clip=(made.middle, made.whole)),
    )
    return d.result(
        pieces,
        seams,
        closures,
        _dimensions(d, made, levels[1:]),
        shown,
        zero="the waist seam",
        finishes={"hem": "hem"},
        allowances={
            f"{piece.name}.{one.name}": "hem_turn" if one.finish == "hem" else "seam_left"
            for piece in pieces
            for one in piece.edges
        },
    )


def _solved(d: Drafting) -> _Drawn:
    """The leg whose top edge and crotch are as long as wanted: seat tilt, seat rise and forks are found for it."""
    hip, fork_level, band = d["hip_level"], d["fork_level"], d.size("band")
    whole = d["front_hip"] + d["back_hip"]
    legs = _Legs.of(d)

    def drawn() -> _Drawn:
        """The leg as its figures are now; each centre at the waist lies in a frame of its own."""
        fork, tilt = d["front_fork"], d["seat_tilt"]
        back_fork = fork * d["fork_ratio"]
        leg = legs.leg(d, whole + fork + back_fork)
        slant = leg.lean(fork_level)
        return _Drawn(
            whole,
            (back_fork + whole - fork) / 2,
            leg,
            crotch_curve(complex(-fork, fork_level), slant, complex(tilt * 0.4, d["front_drop"]), hip),
            crotch_curve(complex(-back_fork, fork_level), slant, complex(tilt, -d["seat_rise"]), hip),
        )

    def off(name: str, value: float) -> float:
        """By how much the crotch is too long when a figure has a value."""
        d.solved[name] = value
        made = drawn()
        return made.front.length + made.back.length + 2 * band - d["crotch_round"]

    def tilted(value: float) -> float:
        """How far the seat is from what it must measure at a tilt."""
        d.solved["seat_tilt"] = value
        return drawn().top.length - d["top_round"] / 2

    most = min(d["front_hip"], d["back_hip"]) * 0.6
    for _ in range(4):  # the top edge is square to the centre lines, which lean as the forks have it
        d.solve(
            "seat_tilt",
            tilted,
            -most,
            most,
            "the centre lines can't lean in so far that the top edge is as long as wanted.",
        )
        if d.sums["seat_rise"].override is None:
            low, high = (off("seat_rise", v) for v in SEAT_RISE)
            if low < 0 < high:
                d.solve("seat_rise", lambda v: off("seat_rise", v), *SEAT_RISE, "")
            else:
                d.solved["seat_rise"] = SEAT_RISE[0] if low >= 0 else SEAT_RISE[1]
        d.solve(
            "front_fork",
            lambda v: off("front_fork", v),
            d["hip_round"] / 60,
            d["hip_round"] / 9,
            say(
                "no fork makes the crotch seam as long as wanted with this rise. {measure}",
                measure=d.measure("body_rise", "crotch_length"),
            ),
        )
        if abs(drawn().top.length - d["top_round"] / 2) < 0.005:
            break
    return drawn()


@dataclass(frozen=True, slots=True)
class _Drawn:
    """The leg with its forks: ``front`` and ``back`` are the crotch seams from fork to waist, each in a frame of its own."""

    whole: float
    middle: float
    leg: _Leg
    front: Path
    back: Path

    def reaches(self, level: float, hem: float) -> bool:
        """Whether the leg is whole at a level: above the hem and its curve, which rises the more the inseams slope."""
        return level < hem - HEM_CURVE - 0.3 * self.leg.width(hem) * abs(self.leg.slope(hem))

    @property
    def thigh_level(self) -> float:
        """The height of the thigh line, in mm."""
        return self.leg.thigh

    @property
    def turn(self) -> Motion:
        """The back lies mirrored beside the front."""
        return Motion(-1 + 0j, complex(self.whole, 0), True)

    @property
    def top(self) -> Path:
        """The waist from the centre front to the centre back, square to both."""
        start, end = self.front.end, self.turn(self.back.end)
        return Path(
            (
                smooth(
                    start, self.front.end_direction * 1j, end, self.turn.turn * self.back.end_direction.conjugate() * 1j
                ),
            )
        )


def _dimensions(d: Drafting, made: _Drawn, levels: Sequence[tuple[str, str, float, float]]) -> tuple[Dimension, ...]:
    """Where the figures stand; ``levels`` are those below the fork: name, words, girth of both legs and height in mm."""
    fh, whole, middle = d["front_hip"], made.whole, made.middle
    hip, fork_level, hem, band = d["hip_level"], d["fork_level"], d["hem_level"], d.size("band")
    return (
        Dimension("front_hip", "leg", complex(0, hip), complex(fh, hip)),
        Dimension("back_hip", "leg", complex(fh, hip), complex(whole, hip)),
        Dimension("front_fork", "leg", complex(-d["front_fork"], fork_level), complex(0, fork_level)),
        *(Dimension(f"{name}_round", "leg", complex(middle - wide / 4, at), complex(middle + wide / 4, at)) for name, _, wide, at in levels if made.reaches(at, hem)),
        Dimension("hem_round", "leg", complex(middle - d["hem_round"] / 2, hem - 6), complex(middle + d["hem_round"] / 2, hem - 6)),
        Dimension("band_length", "waistband", complex(0, band * 1.5), complex(d["band_length"], band * 1.5)),
    )  # fmt: skip


def _leg_piece(d: Drafting, made: _Drawn, banded: bool) -> DraftPiece:
    """The leg with its levels; notches at the knees, and on the waist where a side seam would come."""
    hem, middle = d["hem_level"], made.middle
    front_in = made.leg.inseam(middle, hem)
    back_in = front_in.moved(Motion(-1 + 0j, complex(2 * middle, 0), True)).reversed()
    hem_line = Path((smooth(back_in.end, back_in.end_direction * 1j, front_in.start, front_in.start_direction * -1j),))
    edges = (
        Edge("waist", made.top),
        Edge("back_crotch", made.back.moved(made.turn).reversed()),
        Edge("back_inseam", back_in),
        Edge("hem", hem_line, "" if banded else "hem"),
        Edge("front_inseam", front_in),
        Edge("front_crotch", made.front),
    )
    fork, knee = d["fork_level"], d["knee_level"]
    marks = [
        line("side", "side", complex(middle, 10), complex(middle, hem - 10)),
        level("hip", "hip line", made.front.segments[0].end, made.turn(made.back.segments[0].end)),
    ]
    places = [("thigh", made.thigh_level), ("knee", knee), ("calf", knee + (d["ankle_level"] - knee) / 3)]
    for name, at in places:
        if made.reaches(at, hem):
            half = made.leg.width(at) / 2
            marks.append(level(name, name, complex(middle - half, at), complex(middle + half, at)))
    notches = [DraftNotch("waist", edges[0].path.length / 2, name="side")]
    if knee < hem - 20:
        along = front_in.nearest(complex(middle - made.leg.width(knee) / 2, knee))[1]
        notches += [
            DraftNotch("front_inseam", along, name="knee"),
            DraftNotch("back_inseam", front_in.length - along, name="knee"),
        ]
    return DraftPiece(
        "leg",
        "Leg",
        edges,
        notches=tuple(notches),
        drawn=tuple(marks),
        grain=(complex(middle, fork + 30), complex(middle, hem - 40)),
        cut=2,
        pair=True,
        remark="most stretch goes round the leg",
    )


def _waistband(d: Drafting) -> DraftPiece:
    return band_piece(
        "waistband",
        "Waistband",
        d["band_length"],
        2 * d.size("band"),
        notches=quarters(d["band_length"]),
        remark="stretch runs along the band",
        stretched=True,
    )


PASSES = (
    Passes("hips", "waist", stretched=True, label="Hips go through the stretched top", why="The top edge at its full stretch against the hip."),
    Passes("body", of=(girth("hip"),), limit=Body("hip"), stretched=True, place="leg.front_crotch",
           label="The hip stretches over the body", why="Finished girth × (1 + stretch) against the body."),
    Passes("foot", "hem", on=("leg",), stretched=True, label="Heel goes through the stretched hem",
           why="The hem at its full stretch against heel and instep, about a third more than the ankle."),
)  # fmt: skip


BLOCK = register_block(
    Block(
        "leggings",
        "Leggings",
        "One piece for each leg and a double waistband, smaller than the body in a cloth that stretches both ways.",
        LEG_NEEDS,
        (),
        OPTIONS,
        EASE,
        FIGURES,
        draft,
        PASSES,
        family="Trousers",
        fits=("knit_close", "swim", "knit_relaxed"),
        wants=("stretch_both",),
    )
)
