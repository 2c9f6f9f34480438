"""The measures: code, the term used on screen, where the tape goes, the usual mistake, what is plausible.

Terms follow ISO 8559-1 where it has one (from memory); definitions are in our own words. What is usual
is given at two heights, 100 cm (a child of about four) and 175 cm, and runs on a line between and
beyond them: common practice, no source. ``spread`` bounds what is plausible as shares of the usual;
its upper end is less than 2.54 times its lower, so that no value stays plausible when inches and cm
are mixed up.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Kind = Literal["girth", "width", "length", "weight"]
View = Literal["front", "side", "back", "out", "bent", "sit", "step"]
BIGGEST_MM = 6000.0  # a height read in cm and written in inches comes near; above it a value is refused


@dataclass(frozen=True, slots=True)
class Measure:
    """One measure of the body, in mm (kg for the weight).

    ``low`` and ``high`` hold for anybody from about three years on; ``at_100`` and ``at_175`` are what
    is usual at those heights in cm, ``spread`` the plausible shares of it, ``build`` the power with
    which it follows the build (0 for bones, 1 for flesh), ``view`` how the figure stands for it.
    """

    code: str
    label: str
    kind: Kind
    where: str
    mistake: str
    view: View
    low: float
    high: float
    at_100: float
    at_175: float
    spread: tuple[float, float]
    build: float

    def usual(self, height: float) -> float:
        """What is usual at a height, in mm."""
        return max(self.at_100 + (self.at_175 - self.at_100) * (height - 1000.0) / 750.0, 0.3 * self.at_100)

    def plausible(self, height: float | None = None) -> tuple[float, float]:
        """The plausible range, in mm: for a height in mm, or for anybody."""
        if height is None or self.code == "height":
            return self.low, self.high
        usual = self.usual(height)
        return max(self.low, usual * self.spread[0]), min(self.high, usual * self.spread[1])


FLESH, LIMB, BONE, LONG, LOOSE = (0.72, 1.8), (0.72, 1.62), (0.76, 1.36), (0.8, 1.24), (0.62, 1.5)
_Row = tuple[str, str, View, tuple[float, float], tuple[float, float], tuple[float, float], float, str, str]


def _rows(kind: Kind, *rows: _Row) -> list[Measure]:
    size = 1.0 if kind == "weight" else 10.0
    return [
        Measure(code, label, kind, where, mistake, view, bounds[0] * size, bounds[1] * size,
                usual[0] * size, usual[1] * size, spread, build)
        for code, label, view, bounds, usual, spread, build, where, mistake in rows
    ]  # fmt: skip


_ALL = [
    *_rows(
        "length",
        ("height", "Height", "front", (85, 215), (100, 175), (0.5, 1.2), 0.0,
         "From the crown of the head to the floor, standing straight, without shoes.",
         "Shoes on, or the tape held slanting: stand against a door and lay a book flat on the head."),
    ),
    *_rows(
        "girth",
        ("head", "Head girth", "front", (44, 66), (50, 57), (0.86, 1.17), 0.15,
         "Round the head above the ears, over the widest part at the back.",
         "Too high at the back: the tape must go over the widest part."),
        ("neck", "Neck girth", "front", (20, 56), (25.5, 37), (0.74, 1.46), 0.5,
         "Round the base of the neck, where a necklace lies, over the bone at the nape.",
         "Round the middle of the neck: lay a fine chain round it and measure where the chain lies."),
        ("upper_bust", "Upper bust girth", "front", (48, 155), (53.5, 92), (0.74, 1.75), 0.9,
         "Under the arms, high round the chest, level at the back.",
         "Let the tape sink on to the bust: it stays high in the armpits."),
        ("bust", "Bust girth", "front", (48, 165), (54.5, 95), (0.74, 1.8), 1.0,
         "Over the fullest part of the bust or chest, level all round.",
         "The tape sags at the back: look in a mirror, or let somebody hold it level."),
        ("under_bust", "Under-bust girth", "front", (45, 150), (53, 83), (0.74, 1.8), 0.9,
         "Directly below the bust, level all round.", "Pulled tight: breathe out and let it lie close."),
        ("waist", "Waist girth", "front", (44, 165), (51.5, 79), FLESH, 1.0,
         "Where the body bends to the side, level; tie a tape round it and leave it on.",
         "Pull tight or hold the breath: two fingers must go under the tape."),
        ("high_hip", "High hip girth", "front", (47, 170), (53, 91), FLESH, 1.0,
         "Half-way from waist to hip, over the top of the hip bones.", "Slide it down to the seat."),
        ("hip", "Hip girth", "side", (48, 180), (55.5, 98), (0.74, 1.75), 1.0,
         "Over the fullest part of the seat, level all round, heels together.",
         "Measured where the bones are: look from the side for the fullest part, keep it level."),
        ("largest_girth", "Largest girth", "side", (48, 190), (55.5, 99), (0.74, 1.85), 1.0,
         "The tape walked up and down the body, level, to the fullest place wherever that is.",
         "Only the usual places are read: a tummy or the upper legs may be fuller than bust and hip."),
        ("thigh", "Thigh girth", "front", (26, 98), (31, 57), LIMB, 1.0,
         "Round the fullest part of the leg, just below the crotch.",
         "Weight on the measured leg: stand on both feet."),
        ("knee", "Knee girth", "front", (19, 62), (23.5, 37.5), (0.74, 1.5), 0.7,
         "Round the knee cap, leg straight.", "The leg is bent: keep it straight; for trousers to kneel in, read it bent as well."),
        ("calf", "Calf girth", "side", (17, 60), (21.5, 36.5), (0.74, 1.5), 0.7,
         "Round the fullest part of the lower leg.", "Too low: slide the tape until it reads most."),
        ("ankle", "Ankle girth", "front", (13, 38), (15.8, 22.5), (0.74, 1.5), 0.4,
         "Round the ankle bones.", "Above the bones: it goes over them."),
        ("armscye", "Armscye girth", "front", (21, 72), (25, 42), (0.72, 1.6), 0.8,
         "Round the arm's joint, over the shoulder point and through the armpit, arm hanging.",
         "The arm is lifted: let it hang while you read."),
        ("upper_arm", "Upper arm girth", "front", (13, 60), (16.8, 30.5), LIMB, 1.0,
         "Round the fullest part of the upper arm.", "The muscle is tensed: let the arm hang."),
        ("elbow", "Elbow girth", "bent", (14, 48), (16.5, 27.5), (0.74, 1.5), 0.6,
         "Round the bent elbow.", "The arm is straight: bend it, the sleeve has to."),
        ("wrist", "Wrist girth", "front", (10, 27), (11.6, 16.4), (0.74, 1.5), 0.4,
         "Round the wrist bone.", "Above the bone: it goes over it."),
        ("hand", "Hand girth", "front", (11, 35), (13.5, 21.5), (0.74, 1.4), 0.3,
         "Round the knuckles, thumb laid into the palm, as if slipping into a cuff.",
         "The thumb is left out: it has to pass the cuff too."),
        ("torso", "Torso girth", "back", (80, 240), (98, 161), (0.8, 1.35), 0.35,
         "From the middle of one shoulder down the front, through the legs and up the back to the start.",
         "Pull it down at the shoulder: it lies close, not tight, and you stand straight."),
        ("stance_round", "Round both legs, widest stance", "step", (50, 330), (95, 172), LOOSE, 0.0,
         "Feet as far apart as the work asks for: round both legs together, at the height of the hem.",
         "A stance for the tape: take the widest one of the dance, the fight or the work, and go round at the hem."),
    ),
    *_rows(
        "width",
        ("shoulder", "Shoulder length", "front", (5.5, 21), (7.8, 13), (0.72, 1.42), 0.1,
         "From the side of the neck to the shoulder point.",
         "Too far out: the point is where the bone ends, above the arm's joint."),
        ("across_shoulders", "Across shoulders", "back", (21, 60), (25.5, 40), (0.76, 1.36), 0.15,
         "From shoulder point to shoulder point, over the back.", "Shoulders pulled back: stand easy."),
        ("across_front", "Across front", "front", (16, 58), (21, 35), (0.74, 1.5), 0.5,
         "From arm fold to arm fold, half-way down the armhole.", "Arms lifted: let them hang."),
        ("across_back", "Across back", "back", (17, 58), (22.5, 37), (0.74, 1.5), 0.45,
         "From arm fold to arm fold at the back, half-way down the armhole.",
         "Shoulders pulled back: stand easy, or the sleeve will bind."),
        ("bust_span", "Bust span", "front", (9, 36), (11.5, 19.5), (0.68, 1.55), 0.7,
         "From bust point to bust point.", "Follow the curve into the middle: the tape goes straight across."),
        ("elbow_to_elbow", "Elbow to elbow", "out", (44, 140), (53, 93), LONG, 0.05,
         "Over the shoulders with both arms held out to the side.", "Arms hang: hold them out level."),
        ("hand_width", "Hand width", "front", (4, 13), (5.3, 8.4), (0.74, 1.36), 0.2,
         "Across the knuckles, without the thumb.", "With the thumb: lay the hand flat, thumb away."),
    ),
    *_rows(
        "length",
        ("nape_to_waist", "Nape to waist", "back", (20, 58), (24.5, 42.5), LONG, 0.05,
         "From the bone at the base of the neck down the back to the waist.",
         "Start above or below the bone: bend the head, it stands out."),
        ("shoulder_to_waist_front", "Shoulder to waist, front", "front", (20, 66), (24.8, 45.8), LONG, 0.2,
         "From the neck point over the bust to the waist.",
         "Let it hang free below the bust: press it to the waist."),
        ("shoulder_to_bust", "Shoulder to bust point", "front", (11, 46), (14, 27), (0.74, 1.5), 0.4,
         "From the neck point to the bust point.", "Without the bra that will be worn."),
        ("scye_depth", "Scye depth", "back", (9, 34), (12.5, 21.5), (0.74, 1.38), 0.25,
         "From the nape down to the level of the armpit.",
         "The level is guessed: hold a ruler under the arm."),
        ("waist_to_high_hip", "Waist to high hip", "side", (3.5, 18), (5.2, 10), (0.66, 1.5), 0.0,
         "From the waist down to the top of the hip bones, at the side.", "The waist tape has slipped."),
        ("waist_to_hip", "Waist to hip", "side", (7, 33), (11.5, 20.8), (0.7, 1.42), 0.05,
         "From the waist down the side to the level of the fullest hip.",
         "The waist tape has slipped: look again before you read."),
        ("waist_to_knee", "Waist to knee", "front", (26, 82), (33, 60), LONG, 0.0,
         "From the waist down the front to the middle of the knee.", "Bend the knee: stand straight."),
        ("waist_to_floor", "Waist to floor", "side", (45, 138), (58, 108), LONG, 0.0,
         "From the waist down the side to the floor, without shoes.",
         "Follow the seat and then hang: keep the tape at the side."),
        ("inside_leg", "Inside leg length", "front", (30, 108), (41.5, 80), (0.8, 1.22), -0.1,
         "From the crotch down the inside of the leg to the floor.",
         "Start too low: a ruler held up between the legs marks the top."),
        ("body_rise", "Body rise", "sit", (11, 46), (16.4, 28.6), (0.76, 1.42), 0.45,
         "Sitting on a flat chair: from the waist down the side to the seat.",
         "A soft chair: the seat must be hard and flat."),
        ("crotch_length", "Crotch length", "side", (33, 115), (43, 71), (0.74, 1.5), 0.45,
         "From the front waist through the legs to the back waist.",
         "Pull it tight: it lies close, as the trousers will."),
        ("arm_length", "Arm length", "bent", (26, 80), (33.5, 60), LONG, 0.0,
         "From the shoulder point over the bent elbow to the wrist bone.",
         "The arm is straight: with the elbow bent it is longer, and so must the sleeve be."),
        ("shoulder_to_elbow", "Shoulder to elbow", "bent", (14, 48), (19, 34.5), (0.78, 1.28), 0.0,
         "From the shoulder point to the bent elbow.", "The arm is straight: bend it."),
        ("hand_length", "Hand length", "front", (9, 25), (11.2, 18.7), (0.8, 1.24), 0.0,
         "From the wrist to the tip of the middle finger.", "Start at the sleeve: begin at the wrist bone."),
        ("shoulder_drop", "Shoulder drop", "front", (1, 11), (2.8, 4.6), (0.5, 1.24 * 1.02), 0.0,
         "From the level of the neck point down to that of the shoulder point.",
         "Shoulders drawn up: breathe out first. A ruler held level at the neck helps."),
        ("stride", "Stride", "step", (24, 135), (42, 75), LOOSE, 0.0,
         "Heel to toe of the longest step the work asks for.",
         "A polite step: take the longest one you need, on stairs too."),
    ),
    *_rows(
        "weight",
        ("weight_kg", "Weight", "front", (10, 230), (16, 72), (0.55, 2.4), 2.0,
         "In kilograms; used only to estimate what is missing.", "Pounds: 62 kg are 137 lb."),
    ),
]  # fmt: skip

MEASURES: dict[str, Measure] = {measure.code: measure for measure in _ALL}

# The usual round: what most garments ask for, in the order in which the tape wanders down the body.
USUAL_ROUND: tuple[str, ...] = (
    "height", "head", "neck", "shoulder", "across_back", "across_front", "bust", "upper_bust", "waist", "hip",
    "nape_to_waist", "shoulder_to_waist_front", "shoulder_to_bust", "bust_span", "waist_to_hip", "waist_to_knee",
    "waist_to_floor", "body_rise", "inside_leg", "arm_length", "upper_arm", "wrist",
)  # fmt: skip
