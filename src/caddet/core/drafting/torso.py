"""The body of a loose top below the armhole: straight or shaped sides down to the hem, no darts."""

from __future__ import annotations

import math
from dataclasses import dataclass

from caddet.core.drafting.curves import hem_sinks, hem_to_centre
from caddet.core.drafting.draft_piece import DraftNotch, DraftPiece
from caddet.core.drafting.kit import Drafting, outline
from caddet.core.drafting.upper import Upper, upper_levels
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Line, Point
from caddet.core.sentences import say

TORSO_NEEDS = ("waist", "hip", "waist_to_hip")
TORSO_FIGURES = (
    Figure("hip_round", "Hip, finished", "hip + ease_hip", "The girth the garment will have there.", short="hip round"),
    Figure("body_drop", "Hem, below the nape", "body_length", "How long the back is."),
    Figure("hip_depth", "Hip, below the nape", "nape_to_waist + waist_to_hip", "Where the fullest part lies."),
    Figure(
        "hem_line",
        "Hem, all round",
        "bust_round + (hip_round - bust_round) * min(max((body_drop - armhole_depth) / (hip_depth - armhole_depth), 0), 1)",
        "From the bust to the hip the side goes in a straight line; the hem lies somewhere on the way.",
    ),
)


@dataclass(frozen=True, slots=True)
class Sides:
    """The two side seams, underarm to hem, and the hem's rise at the side."""

    front: Path
    back: Path


def side_slant(d: Drafting) -> float:
    """By how many radians straight sides lean in from the armhole to the hem."""
    return math.atan2((d["bust_round"] - d["hem_line"]) / 4, max(d["body_drop"] - d["armhole_depth"], 50.0))


def loose_sides(d: Drafting, front: Point, back: Point) -> Sides:
    """Straight sides to the hem; front and back equally long."""
    low = d["body_drop"]
    d.need(
        low > d["armhole_depth"] + 50,
        say("The hem lies less than {5 cm} below the armhole: make it longer."),
        "recipe.options.body_length",
    )
    quarter = d["hem_line"] / 4
    d.need(quarter > 50, say("The hem comes out narrower than {20 cm}."), "hem_line")
    # the hem reaches its level at the centre; at the side it lies as much higher as its curve sinks
    fall = complex(quarter - (front.real + back.real) / 2, low - front.imag)
    fall += complex(0, -hem_sinks(fall, quarter))
    return Sides(Path((Line(front, front + fall),)), Path((Line(back, back + fall),)))


def loose_half(d: Drafting, name: str, upper: Upper, sides: Sides) -> DraftPiece:
    """Half a front or back on the fold, from neckline to hem."""
    side = sides.front if name == "front" else sides.back
    hem = hem_to_centre(side.end, side.end_direction)
    edges = outline(
        ("neckline", Path((upper.neck,))),
        ("shoulder", Path((upper.shoulder,))),
        ("armhole", upper.armhole),
        ("side", side),
        ("hem", hem, "hem"),
        (f"centre_{name}", [hem.end, upper.centre], "fold"),
    )
    depth = upper.underarm.imag
    return DraftPiece(
        name,
        name.capitalize(),
        edges,
        notches=(
            DraftNotch(
                "armhole", upper.armhole.length - upper.lower_armhole, double=name == "back", name=f"armhole {name}"
            ),
            DraftNotch("side", side.length / 2, name="side"),
        ),
        drawn=upper_levels(name, upper),
        grain=(complex(28, depth), complex(28, hem.end.imag - 40)),
    )
