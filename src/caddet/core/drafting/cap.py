"""A set-in sleeve fitted to a pair of armholes. The cap is solved: as long as the armhole and its ease.

Frame: the biceps line at y = 0, the cap above it, the front on the left. The cap is a bell: it leaves the
underarm seams square, hollow below (more so in front) and round above. Common practice, no source.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from caddet.core.drafting.curves import bend, square_hem
from caddet.core.drafting.declare import edge, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftDart, DraftNotch, DraftPiece, level
from caddet.core.drafting.kit import CLOSE, Drafting, FitOf, outline, solve_between
from caddet.core.drafting.upper import Upper
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.roots import pair_near
from caddet.core.geometry.segments import Motion, Point, smooth, unit
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.pattern import LEFT_OF_MIDDLE, RIGHT_OF_MIDDLE, Shown
from caddet.core.pattern.promises import Promise
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.registry import Parameter
from caddet.core.recipe.values import Plain
from caddet.core.sentences import Length, say

SLEEVE_NEEDS = ("upper_arm", "arm_length", "shoulder_to_elbow", "elbow", "wrist", "hand")
SLEEVE_OPTIONS = (
    Parameter("sleeve_length", "Sleeve", "choice", "long",
              choices=(("long", "Long"), ("three_quarter", "Three-quarter"), ("short", "Short")),
              why="Long ends at the wrist bone, three-quarter half-way from elbow to wrist, short above the elbow."),
    Parameter("cap", "Cap", "choice", "height",
              choices=(("height", "Solve its height"), ("width", "Solve its width")),
              why="Give the width (arm and ease) and let the height be solved; or give the height, for a flat shirt cap or a "
              "high tailored one, and let the width be solved."),
    Parameter("sleeve_shape", "Sleeve shape", "choice", "tapered",
              choices=(("straight", "Straight"), ("tapered", "Tapered"), ("elbow", "Shaped at the elbow"), ("dart", "With elbow dart")),
              why="A dart at the elbow lets a narrow sleeve follow the bent arm."),
)  # fmt: skip


def sleeve_options(option: str, *values: Plain) -> tuple[Parameter, ...]:
    """The options of a sleeve that is there only when another option has one of these values."""
    return tuple(replace(one, only=(option, values)) for one in SLEEVE_OPTIONS)


def sleeve_figures(
    cap_ease: str = "2.5cm", cap_height: str = "(front_armhole + back_armhole) / 3 - 1cm"
) -> tuple[Figure, ...]:
    """The figures of the sleeve; ``front_armhole`` and ``back_armhole`` are settled from the bodice."""
    return (
        Figure("sleeve_width", "Sleeve width, biceps", "upper_arm + ease_upper_arm", "Round the fullest part of the arm.", short="sleeve width"),
        Figure("cap_ease", "Ease in the cap", cap_ease, "The cap is longer than the armhole by this: it is shrunk in over the shoulder. "
               "Woven 1.5 to 3, shirts and knits 0 to 1."),
        Figure("front_armhole", "Armhole, front", "armhole_depth * 0.95", "Measured on the draft.", short="front armhole"),
        Figure("back_armhole", "Armhole, back", "armhole_depth * 1.0", "Measured on the draft.", short="back armhole"),
        Figure("cap_height", "Cap height", cap_height, "About a third of the armhole. Solved: the cap is as long as the armhole and its ease."),
        Figure("sleeve_long", "Sleeve length", "if(sleeve_length_short, shoulder_to_elbow * 0.68, if(sleeve_length_three_quarter, (shoulder_to_elbow + arm_length) / 2, arm_length))",
               "From the shoulder point down the arm."),
        Figure("hem_width", "Sleeve, round the hem",
               "if(sleeve_shape_straight, sleeve_width - 2cm, if(sleeve_length_short, sleeve_width - 2cm, if(sleeve_length_three_quarter, (elbow + wrist) / 2 + 6cm, max(wrist + 5cm, hand + 1cm))))",
               "The hand has to go through, or the arm."),
        Figure("elbow_width", "Sleeve, round the elbow", "min(elbow + 5cm, sleeve_width)", "The bent elbow and a little air."),
        Figure("elbow_dart", "Elbow dart", "2cm", "As much as the arm bends forward."),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Cap:
    """A cap: half widths front and back, height, and its two curves from corner to top and top to corner."""

    front_width: float
    back_width: float
    height: float
    front: Path
    back: Path

    @property
    def length(self) -> float:
        """The length of the whole cap line, in mm."""
        return self.front.length + self.back.length


@dataclass(frozen=True, slots=True)
class Rounds:
    """How one half of a cap is drawn: ``turn`` says how far up it turns over, ``steep`` by how many degrees it is
    steeper there than its chord, ``hug`` how closely it follows its corner below.
    """

    turn: float
    steep: float
    hug: float


# the front is hollowed out more than the back, by about half a centimetre; common practice
FRONT, BACK = Rounds(0.42, 19.0, 0.72), Rounds(0.36, 13.0, 0.48)


def half_cap(width: float, height: float, rounds: Rounds, lean: float = 0.0) -> Path:
    """Half a cap from its corner (-width, 0) to its top (0, -height); at the corner it is square to a sleeve seam
    that leans in by ``lean`` radians.
    """
    corner, top = complex(-width, 0), complex(0, -height)
    slant = math.atan2(height, width)
    steep = min(slant + math.radians(rounds.steep), math.radians(82))
    leave = min(lean, slant * 0.8)
    over = corner + (top - corner) * rounds.turn
    rise = complex(math.cos(steep), -math.sin(steep))
    lower = bend(corner, complex(math.cos(leave), -math.sin(leave)), over, rise, rounds.hug, 0.6)
    upper = bend(over, rise, top, 1 + 0j, 0.5, 0.82)
    return Path((lower, upper))


def _flipped(path: Path) -> Path:
    return path.moved(Motion(-1 + 0j, 0j, True)).reversed()


def cap_of(front_width: float, back_width: float, height: float, lean: float = 0.0) -> Cap:
    """The cap over two half widths at a height, in mm."""
    front, back = half_cap(front_width, height, FRONT, lean), half_cap(back_width, height, BACK, lean)
    return Cap(front_width, back_width, height, front, _flipped(back))


def split_width(width: float, height: float, more: float, lean: float = 0.0, guess: float | None = None) -> Cap | None:
    """The cap of a width and height whose back half is longer than its front half by ``more``.

    ``guess`` is about how wide its front half is.
    """

    def miss(front: float) -> float:
        """By how much the cap misses the armhole, in mm."""
        return half_cap(width - front, height, BACK, lean).length - half_cap(front, height, FRONT, lean).length - more

    found = solve_between(miss, width * 0.49 if guess is None else guess, width * 0.25, width * 0.75)
    return None if found is None else cap_of(found, width - found, height, lean)


HIGHEST = 0.85  # of the armhole's depth: a higher cap stands off the shoulder; common practice


def solve_cap(d: Drafting, front_armhole: float, back_armhole: float, deep: float = 0.0) -> Cap:
    """The cap for two armholes: its height, or with the height given its width, is solved.

    ``deep`` is how deep the armhole is (mm); the cap stays lower than it, wider if need be. Without it, it is taken
    as it usually is for armholes of that length.
    """
    ease = d["cap_ease"]
    d.need(
        0 <= ease < (front_armhole + back_armhole) * 0.4,
        "The ease in the cap must be less than two fifths of the armhole.",
        "cap_ease",
    )
    lengths = front_armhole + 0.45 * ease, back_armhole + 0.55 * ease
    deep = deep or 0.43 * (front_armhole + back_armhole)
    asked, lean = d["sleeve_width"], 0.07
    for _ in range(6):
        if d.choice("cap") == "height":
            cap = _height_solved(d, lengths, asked, lean)
            if (
                cap.height > HIGHEST * deep
                and d.sums["sleeve_width"].override is None
                and d.sums["cap_height"].override is None
            ):
                cap = _width_solved(d, lengths, HIGHEST * deep, lean)
                d.settle("cap_height", cap.height)
        else:
            height = d["cap_height"]
            d.need(
                5 <= height < 0.95 * min(lengths),
                "That cap is higher than the armhole is long: lower it.",
                "cap_height",
            )
            cap = _width_solved(d, lengths, height, lean)
        before, lean = lean, seam_lean(d, cap)
        if abs(before - lean) < math.radians(0.1):
            break
    wide = cap.front_width + cap.back_width
    if d.choice("cap") == "height" and wide > asked + 5:
        d.remark(
            "draft.cap",
            say(
                "The sleeve is drawn {wide} wider than asked: on {asked} the cap would be nearly as high as the armhole is deep, and stand off the shoulder. A smaller armhole, or more ease round the arm, does the same.",
                wide=Length(wide - asked),
                asked=Length(asked),
            ),
            "figures.sleeve_width",
        )
    return cap


def seam_lean(d: Drafting, cap: Cap) -> float:
    """By how many radians the sleeve's seams lean in at the cap's corners."""
    below, width = d["sleeve_long"] - cap.height, cap.front_width + cap.back_width
    to_width, to = max(d["hem_width"], 40.0), max(below, 30.0)
    elbow = _elbow_at(d, below)
    if elbow is not None:
        to_width, to = min(d["elbow_width"], width), elbow
        if d.choice("sleeve_shape") == "elbow":
            chord = unit(complex(-(width - to_width) / 2, to)) + 0.35j
            return math.atan2(-chord.real, chord.imag)
    lean = math.atan2((width - to_width) / 2, to)
    # the hem's corners lie lower than its middle, the more the seams lean
    return lean if elbow is not None else math.atan2((width - to_width) / 2, to + to_width / 4 * math.sin(lean))


def _elbow_at(d: Drafting, below: float) -> float | None:
    """How far below the biceps line a sleeve shaped at the elbow is; None for one that is straight from cap to hem."""
    at = d["shoulder_to_elbow_line"] if "shoulder_to_elbow_line" in d.sums else below * 0.5
    return at if d.choice("sleeve_shape") in ("elbow", "dart") and 25 < at < below - 25 else None


def _height_solved(d: Drafting, lengths: tuple[float, float], width: float, lean: float) -> Cap:
    """The cap of a width whose halves are as long as wanted."""
    front, back = lengths
    total, more = front + back, back - front
    d.need(width > 40, say("The sleeve would be narrower than {4 cm}."), "sleeve_width")
    widest = total * 0.97
    if width > widest:
        d.remark(
            "draft.nearest",
            say(
                "The sleeve is {width} wide and the armhole with its ease only {total}: such a cap can't be flat enough. The nearest that works is {widest}; make the armhole deeper.",
                width=Length(width),
                total=Length(total),
                widest=Length(widest),
            ),
            "figures.sleeve_width",
        )
        width = d.settle("sleeve_width", widest)

    def both(wide: float, height: float) -> tuple[float, float]:
        """Both misses of the cap for a width and a height, in mm."""
        wide, height = min(max(wide, width * 0.25), width * 0.75), max(height, 3.0)
        return (
            half_cap(wide, height, FRONT, lean).length - front,
            half_cap(width - wide, height, BACK, lean).length - back,
        )

    wide, near = pair_near(both, width * 0.49, d["cap_height"], CLOSE / 4) or (None, None)
    if near is not None and not 3.0 <= near <= total * 0.6:
        wide, near = None, None

    def miss(height: float) -> float:
        """By how much the cap misses the armhole, in mm."""
        cap = split_width(width, height, more, lean, wide)
        return (cap or cap_of(width / 2, width / 2, height, lean)).length - total

    height = d.solve(
        "cap_height", miss, 3.0, total * 0.6, "no height makes the cap as long as the armhole and its ease.", near
    )
    return split_width(width, height, more, lean, wide) or cap_of(width / 2, width / 2, height, lean)


def _width_solved(d: Drafting, lengths: tuple[float, float], height: float, lean: float) -> Cap:
    """The cap of a height whose halves are as long as wanted."""

    def half(wanted: float, rounds: Rounds) -> float:
        """Half a cap of this length."""
        found = solve_between(lambda w: half_cap(w, height, rounds, lean).length - wanted, wanted * 0.6, 5.0, wanted)
        return wanted * 0.6 if found is None else found

    cap = cap_of(half(lengths[0], FRONT), half(lengths[1], BACK), height, lean)
    d.settle("sleeve_width", cap.front_width + cap.back_width)
    return cap


def sleeve_piece(d: Drafting, cap: Cap, front_notch: float, back_notch: float) -> DraftPiece:
    """The sleeve below its cap. Notches lie as far from the underarm as those of the armholes."""
    below = d["sleeve_long"] - cap.height
    d.need(below > 30, "The sleeve would end in its cap: make it longer, or the cap lower.", "sleeve_long")
    low = below
    for _ in range(3):  # square to both seams, the hem lies higher in its middle: over the arm it is as long as asked
        edges, darts = _below_cap(d, cap, low)
        low = (
            below
            + _rise(next(edge.path for edge in edges if edge.name == "hem"))
            - (d["elbow_dart"] / 2 if darts else 0.0)
        )
    middle = (cap.back_width - cap.front_width) / 2
    left_top, right_top = complex(-cap.front_width, 0), complex(cap.back_width, 0)
    notches = (
        DraftNotch("cap_front", min(front_notch, cap.front.length * 0.9), name="armhole front"),
        DraftNotch(
            "cap_back", max(cap.back.length - back_notch, cap.back.length * 0.1), double=True, name="armhole back"
        ),
        DraftNotch("cap_back", 0.001, name="shoulder"),
    )
    grain = (complex(middle, min(30.0, below * 0.2)), complex(middle, below * 0.85))
    levels = [level("upper_arm", "biceps line", left_top, right_top)]
    drawn = DraftPiece("sleeve", "Sleeve", edges)
    for name, words, at in (("elbow", "elbow", elbow_below(d, cap)), ("wrist", "wrist", below - 12.0)):
        if (name == "elbow" and (darts or not 25 < at < below - 40)) or (
            name == "wrist" and d.choice("sleeve_length") != "long"
        ):
            continue
        ends = [
            drawn.run(run)[0 if run.endswith("back") else -1].path.crossings(complex(0, at), complex(9999, at))
            for run in ("underarm_front", "underarm_back")
        ]
        if all(ends):
            levels.append(level(name, words, ends[0][0][1], ends[1][0][1]))
    return DraftPiece(
        "sleeve", "Sleeve", edges, darts, notches, tuple(levels), grain, cut=2, pair=True, zero="the biceps line"
    )


def _below_cap(d: Drafting, cap: Cap, low: float) -> tuple[tuple[Edge, ...], tuple[DraftDart, ...]]:
    """The outline of a sleeve whose hem's corners lie ``low`` mm below the biceps line, and its elbow dart."""
    below = d["sleeve_long"] - cap.height
    middle = (cap.back_width - cap.front_width) / 2
    width = cap.front_width + cap.back_width
    shape = d.choice("sleeve_shape")
    half_hem = max(d["hem_width"], 40.0) / 2
    elbow = _elbow_at(d, below)
    half_elbow = min(d["elbow_width"] / 2, width / 2)
    darts: tuple[DraftDart, ...] = ()
    edges: tuple[Edge, ...]
    left_top, right_top = complex(-cap.front_width, 0), complex(cap.back_width, 0)
    left_hem, right_hem = complex(middle - half_hem, low), complex(middle + half_hem, low)
    caps = (("cap_front", cap.front), ("cap_back", cap.back))
    if elbow is None:
        edges = outline(
            *caps,
            ("underarm_back", [right_top, right_hem]),
            ("hem", Path((square_hem(right_hem, right_hem - right_top, left_hem, left_top - left_hem),)), "hem"),
            ("underarm_front", [left_hem, left_top]),
        )
    else:
        left_elbow, right_elbow = complex(middle - half_elbow, elbow), complex(middle + half_elbow, elbow)
        if shape == "elbow":
            back = _through(right_top, right_elbow, right_hem)
            front = _through(left_top, left_elbow, left_hem).reversed()
            edges = outline(
                *caps,
                ("underarm_back", back),
                ("hem", Path((square_hem(right_hem, back.end_direction, left_hem, front.start_direction),)), "hem"),
                ("underarm_front", front),
            )
        else:
            edges, darts = _elbow_dart(d, caps, (left_top, right_top), (left_elbow, right_elbow), (left_hem, right_hem))
    return edges, darts


def _rise(hem: Path) -> float:
    """How much higher a hem, drawn from back to front, lies in its middle than at its corners, in mm."""
    across = unit(hem.start - hem.end)
    return -((hem.point_at(hem.length / 2) - hem.end) * across.conjugate()).imag


def elbow_below(d: Drafting, cap: Cap) -> float:
    """How far below the biceps line the elbow is, in mm."""
    return d["shoulder_to_elbow_line"] if "shoulder_to_elbow_line" in d.sums else (d["sleeve_long"] - cap.height) * 0.5


def _through(top: Point, waypoint: Point, end: Point, rounder: float = 0.35) -> Path:
    """A gently curved seam through a waypoint, leaving the top by ``rounder`` straighter down than to it."""
    along = unit(end - top)
    return Path(
        (
            smooth(top, unit(waypoint - top) + 1j * rounder, waypoint, along),
            smooth(waypoint, along, end, unit(end - waypoint) + 0.35j),
        )
    )


def _elbow_dart(
    d: Drafting,
    caps: tuple[tuple[str, Path], ...],
    tops: tuple[Point, Point],
    elbows: tuple[Point, Point],
    hems: tuple[Point, Point],
) -> tuple[tuple[Edge, ...], tuple[DraftDart, ...]]:
    """Slashed at the elbow and swung forward about the front seam; the gap at the back is the dart."""
    (left_top, right_top), (left, right_), (left_hem, right_hem) = tops, elbows, hems
    intake = d["elbow_dart"]
    d.need(0 < intake < abs(right_ - left) * 0.5, "The elbow dart is larger than half the sleeve there.", "elbow_dart")
    swing = Motion.rotation(2 * math.asin(intake / 2 / abs(right_ - left)), left)
    lower_leg, left_end, right_end = swing(right_), swing(left_hem), swing(right_hem)
    middle = (right_ + lower_leg) / 2
    apex = middle + unit(left - middle) * abs(right_ - left) * 0.5
    front = _through(left_top, left, left_end, 0.0)
    # below the dart the seam goes on as it will run when the dart is sewn, then turns to the hem
    fold = Motion.rotation(2 * math.asin(min(intake / 2 / abs(right_ - apex), 0.9)))
    runs_on, to_hem = fold(right_ - right_top), right_end - lower_leg
    lower = smooth(lower_leg, runs_on, right_end, to_hem)
    for _ in range(3):  # the front seam is rounded at the elbow: bring the back seam to the same length at the hem
        right_end += unit(to_hem) * (front.length - abs(right_ - right_top) - lower.length)
        lower = smooth(lower_leg, runs_on, right_end, to_hem)
    edges = (
        *outline(*caps, ("underarm_back", [right_top, right_])),
        Edge("elbow_dart", Path.polyline([right_, apex]), "", "elbow_dart"),
        Edge("elbow_dart", Path.polyline([apex, lower_leg]), "", "elbow_dart"),
        *outline(
            ("underarm_back", Path((lower,))),
            (
                "hem",
                Path((square_hem(right_end, lower.direction(1), left_end, front.reversed().start_direction),)),
                "hem",
            ),
            ("underarm_front", front.reversed()),
        ),
    )
    return edges, (DraftDart("elbow_dart", "elbow dart"),)


def sleeve_seams(d: Drafting, front: str, back: str) -> tuple[Seam, ...]:
    """The cap against the two armholes, eased on purpose, and the underarm seam."""
    ease = d["cap_ease"]

    def set_in(name: str, words: str, piece: str, run: str, amount: float) -> Seam:
        """The seam that sets one half of the cap into its armhole, walked from the shoulder down."""
        return sew(
            name,
            words,
            (edge(piece, "armhole"),),
            (edge("sleeve", run, backwards=run == "cap_front"),),
            "eased" if amount > 1e-6 else "plain",
            amount,
            corners=True,
        )

    return (
        set_in("armhole_front", "Front armhole", front, "cap_front", 0.45 * ease),
        set_in("armhole_back", "Back armhole", back, "cap_back", 0.55 * ease),
        sew(
            "sleeve",
            "Sleeve seam",
            (edge("sleeve", "underarm_front"),),
            (edge("sleeve", "underarm_back", backwards=True),),
        ),
    )


def sleeve_closures(d: Drafting, armholes: float) -> tuple[Promise, ...]:
    """Cap = armhole + ease; the two underarm seams are equal."""
    return (
        promise(
            "cap",
            "Sleeve cap fits the armhole",
            (run("sleeve", "cap_front"), run("sleeve", "cap_back")),
            armholes + d["cap_ease"],
            "the whole cap against both armholes and the ease",
        ),
        promise(
            "sleeve_seam",
            "Sleeve seams are equal",
            (run("sleeve", "underarm_front"), run("sleeve", "underarm_back", -1)),
            0.0,
            "front less back",
        ),
    )


def sleeve_dimensions(cap: Cap, below: float) -> tuple[Dimension, ...]:
    """Where the figures of a sleeve stand; ``below`` is its length under the cap in mm."""
    return (
        Dimension("sleeve_width", "sleeve", complex(-cap.front_width, 0), complex(cap.back_width, 0)),
        Dimension("cap_height", "sleeve", complex(0, -cap.height), 0j),
        Dimension("hem_width", "sleeve", complex(-40, below - 12), complex(40, below - 12)),
    )


def sleeve_fit(d: Drafting, front: Upper, back: Upper) -> FitOf:
    """The sleeve follows its armholes: the cap is solved again for other lengths of them."""
    lows = [upper.lower_armhole / upper.armhole.length for upper in (front, back)]

    def draw(lengths: tuple[float, ...]) -> DraftPiece:
        """The sleeve for other armholes."""
        fresh = Drafting(d.context, d.options, dict(d.solved))
        grown = sum(lengths) / (front.armhole.length + back.armhole.length)
        cap = solve_cap(fresh, lengths[0], lengths[1], grown * (front.depth + back.depth) / 2)
        return replace(sleeve_piece(fresh, cap, lengths[0] * lows[0], lengths[1] * lows[1]), zero="the biceps line")

    return FitOf("sleeve", ((edge("front", "armhole"),), (edge("back", "armhole"),)), draw)


def hung_sleeve(cap: Cap, front: Upper, back: Upper) -> tuple[Shown, ...]:
    """Where the sleeve lies in a line drawing: folded along its middle, the cap at the shoulder, its corner at the underarm."""
    top = complex(0, -cap.height)
    # laid quite flat the arm would stand out; half of that turn lets it hang behind the body
    turn = unit(1 + unit((front.underarm - front.shoulder_point) / (complex(-cap.front_width, 0) - top)))
    turn_back = unit(1 + unit((back.underarm - back.shoulder_point) / (complex(-cap.back_width, 0) - top)))
    return (
        Shown("front", "sleeve", Motion(turn, front.shoulder_point - turn * top), clip=LEFT_OF_MIDDLE),
        # for the back the other half, turned over
        Shown("back", "sleeve", Motion(-turn_back, back.shoulder_point - turn_back * top, True), clip=RIGHT_OF_MIDDLE),
    )
