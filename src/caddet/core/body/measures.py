"""The measures: code, the term used on screen, where the tape goes, and what is plausible.

Terms follow ISO 8559-1 where it has one (from memory); definitions are in our own words. Ranges are
in cm and span children of about three years to large adults; a value outside is doubted, not refused.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Kind = Literal["girth", "width", "length", "weight"]
BIGGEST_MM = 4000.0  # nothing on a body is longer; above it a value is refused


@dataclass(frozen=True, slots=True)
class Measure:
    """One measure of the body. ``low`` and ``high`` bound what is plausible, in mm (kg for weight)."""

    code: str
    label: str
    kind: Kind
    where: str
    low: float
    high: float


def _rows(kind: Kind, *rows: tuple[str, str, str, float, float]) -> list[Measure]:
    size = 1.0 if kind == "weight" else 10.0
    return [Measure(code, label, kind, where, low * size, high * size) for code, label, where, low, high in rows]


_ALL = [
    *_rows(
        "length",
        ("height", "Height", "From the crown of the head to the floor, standing straight, without shoes.", 85, 215),
    ),
    *_rows(
        "girth",
        ("head", "Head girth", "Round the head above the ears, over the widest part at the back.", 44, 66),
        ("neck", "Neck girth", "Round the base of the neck, where a necklace lies.", 22, 55),
        ("upper_bust", "Upper bust girth", "Under the arms, high round the chest, level at the back.", 50, 150),
        ("bust", "Bust girth", "Over the fullest part of the bust or chest, level all round.", 48, 160),
        ("under_bust", "Under-bust girth", "Directly below the bust, level all round.", 46, 145),
        ("waist", "Waist girth", "Where the body bends to the side, level; breathe out, do not pull tight.", 44, 160),
        ("high_hip", "High hip girth", "Half-way from waist to hip, over the top of the hip bones.", 48, 165),
        ("hip", "Hip girth", "Over the fullest part of the seat, level all round.", 50, 175),
        ("thigh", "Thigh girth", "Round the fullest part of the leg, just below the crotch.", 28, 95),
        ("knee", "Knee girth", "Round the knee cap, leg straight.", 20, 62),
        ("calf", "Calf girth", "Round the fullest part of the lower leg.", 18, 58),
        ("ankle", "Ankle girth", "Round the ankle bones.", 14, 38),
        ("armscye", "Armscye girth", "Round the arm's joint, over the shoulder point and through the armpit.", 22, 70),
        ("upper_arm", "Upper arm girth", "Round the fullest part of the upper arm.", 14, 60),
        ("elbow", "Elbow girth", "Round the bent elbow.", 15, 48),
        ("wrist", "Wrist girth", "Round the wrist bone.", 10, 26),
        ("hand", "Hand girth", "Round the knuckles, thumb laid into the palm.", 13, 34),
        ("torso", "Torso girth", "Over one shoulder and through the legs back to the start.", 85, 230),
    ),
    *_rows(
        "width",
        ("shoulder", "Shoulder length", "From the side of the neck to the shoulder point.", 6, 20),
        ("across_shoulders", "Across shoulders", "From shoulder point to shoulder point, over the back.", 22, 60),
        ("across_front", "Across front", "From arm fold to arm fold, half-way down the armhole.", 18, 55),
        ("across_back", "Across back", "From arm fold to arm fold at the back, half-way down the armhole.", 18, 55),
        ("bust_span", "Bust span", "From bust point to bust point.", 10, 34),
        ("elbow_to_elbow", "Elbow to elbow", "Over the shoulders with both arms held out to the side.", 50, 140),
        ("hand_width", "Hand width", "Across the knuckles, without the thumb.", 4, 13),
    ),
    *_rows(
        "length",
        ("nape_to_waist", "Nape to waist", "From the bone at the base of the neck down the back to the waist.", 22, 56),
        (
            "shoulder_to_waist_front",
            "Shoulder to waist, front",
            "From the neck point over the bust to the waist.",
            22,
            64,
        ),
        ("shoulder_to_bust", "Shoulder to bust point", "From the neck point to the bust point.", 12, 45),
        ("scye_depth", "Scye depth", "From the nape down to the level of the armpit.", 10, 32),
        (
            "waist_to_high_hip",
            "Waist to high hip",
            "From the waist down to the top of the hip bones, at the side.",
            4,
            17,
        ),
        ("waist_to_hip", "Waist to hip", "From the waist down the side to the level of the fullest hip.", 8, 32),
        ("waist_to_knee", "Waist to knee", "From the waist down the front to the middle of the knee.", 28, 80),
        ("waist_to_floor", "Waist to floor", "From the waist down the side to the floor, without shoes.", 48, 135),
        ("inside_leg", "Inside leg length", "From the crotch down the inside of the leg to the floor.", 32, 105),
        ("body_rise", "Body rise", "Sitting on a flat chair: from the waist down the side to the seat.", 12, 45),
        ("crotch_length", "Crotch length", "From the front waist through the legs to the back waist.", 35, 110),
        ("arm_length", "Arm length", "From the shoulder point over the bent elbow to the wrist bone.", 28, 78),
        ("shoulder_to_elbow", "Shoulder to elbow", "From the shoulder point to the bent elbow.", 15, 46),
        ("hand_length", "Hand length", "From the wrist to the tip of the middle finger.", 9, 25),
        (
            "shoulder_drop",
            "Shoulder drop",
            "From the level of the neck point down to that of the shoulder point.",
            1,
            10,
        ),
        ("stride", "Stride", "Heel to toe of the longest step the work asks for.", 25, 130),
    ),
    *_rows("weight", ("weight_kg", "Weight", "In kilograms; used only to estimate what is missing.", 10, 220)),
]

MEASURES: dict[str, Measure] = {measure.code: measure for measure in _ALL}
