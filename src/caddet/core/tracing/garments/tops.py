"""Upper garments for the tape: T-shirt, jacket front and back."""

from __future__ import annotations

from caddet.core.tracing.kinds import (
    IN,
    OUT,
    Asked,
    Kind,
    Level,
    Mark,
    Run,
    Sewn,
    Shape,
    Width,
    across,
    along,
    both,
    cross_over,
    drop,
    guided,
    marks_of,
    register_kind,
    straight,
)

GRAIN = ("grain", "Find the grain first: the centre front and the centre back. Mark both with pins or a thread.")


def half_on_the_fold(name: str, label: str, neck: float, neck_finish: str, long: float) -> Shape:
    """Half a front or back: neck, shoulder, armhole, side, hem, and the fold in its centre."""
    return Shape(
        name,
        label,
        (
            *marks_of(
                [
                    ("neck_centre", 0, neck, "y"),
                    ("neck_point", 82, 0, "x"),
                    ("shoulder_tip", 205, 42, "xy"),
                    ("underarm", 258, 235, "xy"),
                    ("hem_side", 260, long - 8, "xy"),
                    ("hem_centre", 0, long, "y"),
                ]
            ),
            Mark("bust_centre", 0, 235, "", like="underarm"),
        ),
        (
            Run("neckline", ("neck_centre", "neck_point"), OUT, "square", 0.55, finish=neck_finish),
            Run("shoulder", ("neck_point", "shoulder_tip")),
            Run("armhole", ("shoulder_tip", "underarm"), "square", "square", 0.55, finish="turned"),
            Run("side", ("underarm", "hem_side")),
            Run("hem", ("hem_side", "hem_centre"), "square", IN, finish="hem"),
            Run(f"centre_{name}", ("hem_centre", "neck_centre"), finish="fold"),
        ),
        fold=True,
        levels=(Level("bust", "bust_centre", "underarm"),),
    )


def upper_readings() -> tuple[Asked, ...]:
    """What is read on front and back that lie on each other: the widths, shoulder, armhole, side, and checks over the diagonals."""
    return (
        Asked("length_front", "Centre front", "From the neck seam straight down to the hem, along the centre front.",
              (straight("front", "neck_centre", "hem_centre"),)),
        Asked("length_back", "Centre back", "Turn it over. From the neck seam straight down to the hem, along the centre back.",
              (straight("back", "neck_centre", "hem_centre"),)),
        Asked("chest", "Chest, laid flat", "From underarm to underarm, the garment lying smooth and not stretched.",
              both(lambda s: across(s, "underarm", "bust_centre", 2))),
        Asked("hem", "Hem, laid flat", "From side to side along the hem.",
              both(lambda s: across(s, "hem_side", "hem_centre", 2))),
        Asked("side", "Side seam", "Along the side seam, from the underarm to the hem.", both(lambda s: along(s, "side"))),
        Asked("neck_width", "Neck width", "Straight across, from neck point to neck point, where neck and shoulder seam meet.",
              both(lambda s: across(s, "neck_point", "neck_centre", 2))),
        Asked("neck_front", "Front neck drop", "Lay a ruler over both neck points; from it straight down to the front neck seam.",
              (drop("front", "neck_point", "neck_centre"),)),
        Asked("neck_back", "Back neck drop", "The same on the back. It is much less than in front: measure it, do not copy.",
              (drop("back", "neck_point", "neck_centre"),)),
        Asked("shoulder", "Shoulder seam", "Along the seam, from the neck point to where the sleeve is set in.",
              both(lambda s: along(s, "shoulder"))),
        Asked("shoulder_drop", "Shoulder slope", "The ruler over both neck points again: how far the shoulder's end lies below it.",
              both(lambda s: drop(s, "neck_point", "shoulder_tip"))),
        Asked("armhole_straight", "Armhole, straight", "Fold the sleeve away. Straight from the shoulder's end to the underarm.",
              both(lambda s: straight(s, "shoulder_tip", "underarm"))),
        Asked("armhole_front", "Front armhole, along", "Stand the tape on its edge and walk it round the seam, shoulder to underarm.",
              (along("front", "armhole"),), needed=False),
        Asked("armhole_back", "Back armhole, along", "The same on the back; it is often a little longer and flatter.",
              (along("back", "armhole"),), needed=False),
        Asked("neckline_front", "Front neck, along", "The tape on its edge, round the front neck seam from neck point to neck point.",
              (along("front", "neckline", times=2),), needed=False),
        Asked("neckline_back", "Back neck, along", "Round the back neck seam from neck point to neck point.",
              (along("back", "neckline", times=2),), needed=False),
        Asked("across_shoulders", "Shoulder to shoulder", "Straight across from one shoulder's end to the other.",
              both(lambda s: across(s, "shoulder_tip", "neck_centre", 2)), needed=False),
        Asked("slant", "Shoulder to the other hem corner", "Straight from one shoulder's end to where side and hem meet on the other side.",
              both(lambda s: cross_over(s, "shoulder_tip", "hem_side")), needed=False),
        Asked("neck_to_corner", "Neck point to the hem corner", "Straight from the neck point to where side and hem meet, on the same side.",
              both(lambda s: straight(s, "neck_point", "hem_side")), needed=False),
        Asked("underarm_to_corner", "Underarm to the other hem corner", "Straight from one underarm to where side and hem meet on the other side.",
              both(lambda s: cross_over(s, "underarm", "hem_side")), needed=False),
        Asked("neck_to_underarm_front", "Front neck to the underarm", "Straight from the middle of the front neck seam to the underarm.",
              (straight("front", "neck_centre", "underarm"),), needed=False),
        Asked("neck_to_underarm_back", "Back neck to the underarm", "Straight from the middle of the back neck seam to the underarm.",
              (straight("back", "neck_centre", "underarm"),), needed=False),
        Asked("tip_to_hem_front", "Shoulder end to the front hem", "Straight from the shoulder's end to the middle of the front hem.",
              (straight("front", "shoulder_tip", "hem_centre"),), needed=False),
        Asked("tip_to_hem_back", "Shoulder end to the back hem", "Straight from the shoulder's end to the middle of the back hem.",
              (straight("back", "shoulder_tip", "hem_centre"),), needed=False),
    )  # fmt: skip


BODY_SEAMS = (
    Sewn("shoulder", "Shoulder seam", "front.shoulder", "back.shoulder"),
    Sewn("side", "Side seam", "front.side", "back.side"),
)
BODY_WIDTH = Width(
    "width",
    "Width at a height",
    "From side to side, so far below the neck points: at the waist, the hip, wherever it curves.",
    (("front", "neck_point", ("side",)), ("back", "neck_point", ("side",))),
)

T_SHIRT = register_kind(
    Kind(
        "t_shirt",
        "T-shirt, front and back",
        "Any top with a neck, shoulder seams and armholes: T-shirt, tank, sweatshirt. Take the sleeve as a tracing of its own.",
        (half_on_the_fold("front", "Front", 100, "turned", 690), half_on_the_fold("back", "Back", 25, "turned", 690)),
        upper_readings(),
        BODY_SEAMS,
        (BODY_WIDTH,),
        guided(
            GRAIN,
            (
                "flat",
                "Smooth it from the middle outwards, on a table it fits on. Knit springs back: let it rest, do not pull.",
            ),
            ("neck", "Front and back neck differ: take both drops, with the ruler over the neck points."),
            (
                "armhole",
                "The armhole lies under the folded sleeve. Fold the sleeve away and measure at the seam itself.",
            ),
            (
                "band",
                "Leave a neckband and a hem that is turned up out of it: measure to the seam, add the hem afterwards.",
            ),
            ("notch", "Note where the sleeve's seam meets front and back."),
        ),
        opens=("edge_moved", "pleats", "slash"),
        block="top.knit",
        seam=10.0,
        hem=25.0,
    )
)


# --- jackets --------------------------------------------------------------------------------------

JACKET_FRONT = register_kind(
    Kind(
        "jacket_front",
        "Jacket front with a dart",
        "One front of a jacket or shirt, from its front edge to the side, its dart still sewn. Open the dart afterwards in Shape.",
        (
            Shape(
                "front",
                "Front",
                (
                    *marks_of(
                        [
                            ("neck_edge", 0, 95, "y"), ("neck_point", 90, 0, "x"), ("shoulder_tip", 215, 45, "xy"),
                            ("underarm", 270, 245, "xy"), ("hem_side", 280, 610, "xy"), ("hem_edge", 0, 625, "y"),
                        ]
                    ),
                    Mark("bust_edge", 0, 245, "", like="underarm"),
                ),
                (
                    Run("neckline", ("neck_edge", "neck_point"), OUT, "square", 0.55, finish="facing"),
                    Run("shoulder", ("neck_point", "shoulder_tip"), finish="turned"),
                    Run("armhole", ("shoulder_tip", "underarm"), "square", "square", 0.55, finish="turned"),
                    Run("side", ("underarm", "hem_side"), finish="turned"),
                    Run("hem", ("hem_side", "hem_edge"), "square", IN, finish="hem"),
                    Run("front_edge", ("hem_edge", "neck_edge"), finish="facing"),
                ),
                pair=True,
                levels=(Level("bust", "bust_edge", "underarm"),),
            ),
        ),
        (
            Asked("front_edge", "Front edge", "From the neck down to the hem, along the edge.", (along("front", "front_edge"),)),
            Asked("chest", "Front edge to the underarm", "Straight across at the height of the underarm, square to the front edge.",
                  (across("front", "underarm", "bust_edge"),)),
            Asked("hem", "Hem", "Straight from the front edge to the side.", (straight("front", "hem_edge", "hem_side"),)),
            Asked("side", "Side seam", "From the underarm to the hem.", (along("front", "side"),)),
            Asked("neck_in", "Front edge to the neck point", "How far the neck point lies in from the line of the front edge.",
                  (across("front", "neck_point", "neck_edge"),)),
            Asked("neck_drop", "Neck drop", "How far the neck's end at the front edge lies below the neck point.",
                  (drop("front", "neck_point", "neck_edge"),)),
            Asked("shoulder", "Shoulder seam", "From the neck point to where the sleeve is set in.", (along("front", "shoulder"),)),
            Asked("shoulder_drop", "Shoulder slope", "How far the shoulder's end lies below the neck point.",
                  (drop("front", "neck_point", "shoulder_tip"),)),
            Asked("armhole_straight", "Armhole, straight", "From the shoulder's end straight to the underarm.",
                  (straight("front", "shoulder_tip", "underarm"),)),
            Asked("corner", "Neck point to the hem corner", "Straight from the neck point to where side and hem meet.",
                  (straight("front", "neck_point", "hem_side"),), needed=False),
            Asked("armhole", "Armhole, along", "The tape on its edge, along the seam.", (along("front", "armhole"),), needed=False),
            Asked("neckline", "Neck, along", "The tape on its edge, along the neck seam.", (along("front", "neckline"),), needed=False),
            Asked("slant", "Shoulder end to the front hem corner", "Straight from the shoulder's end to where front edge and hem meet.",
                  (straight("front", "shoulder_tip", "hem_edge"),), needed=False),
            Asked("neck_to_corner", "Front neck to the hem corner", "Straight from the neck's end at the front edge to where side and hem meet.",
                  (straight("front", "neck_edge", "hem_side"),), needed=False),
            Asked("neck_to_underarm", "Front neck to the underarm", "Straight from the neck's end at the front edge to the underarm.",
                  (straight("front", "neck_edge", "underarm"),), needed=False),
            Asked("underarm_to_corner", "Underarm to the front hem corner", "Straight from the underarm to where front edge and hem meet.",
                  (straight("front", "underarm", "hem_edge"),), needed=False),
        ),
        (),
        (),
        guided(
            ("grain", "The grain runs along the centre front, not always along the edge: follow a thread from the top button down."),
            ("flat", "Begin with the flattest area, below the bust, and smooth on from there."),
            ("dart", "Measure the neckline dart sewn as it is, then feel how deep it is under the cloth; the underlay is twice that."),
            ("facing", "The front edge may be a fold with the facing grown on: trace to the edge, the facing comes as a part."),
            ("armhole", "The sleeve hides the armhole: fold it back and follow the seam."),
        ),
 opens=('open_dart', 'edge_moved'),
 block='bodice.darted',
        seam=15.875,
        hem=31.75,
)
)  # fmt: skip

JACKET_BACK = register_kind(
    Kind(
        "jacket_back",
        "Jacket back with an inverted pleat",
        "A back on the fold, its pleat closed while it is measured. Open the pleat afterwards in Shape.",
        (half_on_the_fold("back", "Back", 25, "facing", 620),),
        tuple(
            Asked(one.name.removesuffix("_back"), one.label, one.how, seen, one.needed)
            for one in upper_readings()
            if (seen := tuple(s for s in one.seen if s.shape == "back"))
        ),
        (),
        (Width("width", "Width at a height", BODY_WIDTH.how, (BODY_WIDTH.runs[1],)),),
        guided(
            GRAIN,
            (
                "pleat",
                "Pin the pleat shut on its line before measuring. Note how deep it is and how far down it is stitched.",
            ),
            ("flat", "Smooth it from the middle outwards."),
            ("armhole", "The sleeve hides the armhole: fold it back and follow the seam."),
        ),
        opens=("centre_pleat", "open_dart", "edge_moved"),
        block="bodice.darted",
        seam=15.875,
        hem=31.75,
    )
)
