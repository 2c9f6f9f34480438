"""Sleeves and collars for the tape."""

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
    drop,
    guided,
    marks_of,
    register_kind,
    straight,
)

SLEEVE_WIDTH = "Folded flat, across the sleeve, so far below the top of the cap."

SLEEVE = register_kind(
    Kind(
        "sleeve",
        "Sleeve, set in",
        "A sleeve with one seam. It is measured folded flat along that seam, front and back of its cap apart.",
        (
            Shape(
                "sleeve",
                "Sleeve",
                (
                    *marks_of([("cap_top", 0, 0, ""), ("under_front", -175, 140, "xy")]),
                    Mark("under_back", 175, 140, "x", like="under_front"),
                    Mark("hem_front", -115, 580, "xy"),
                    Mark("hem_back", 115, 580, "x", like="hem_front"),
                    Mark("cap_mid_front", 0.48, 0.0, "y", between=("under_front", "cap_top")),
                    Mark("cap_mid_back", 0.5, 0.02, "y", between=("cap_top", "under_back")),
                ),
                (
                    Run("cap_front", ("under_front", "cap_mid_front", "cap_top"), "square", OUT, finish="turned"),
                    Run("cap_back", ("cap_top", "cap_mid_back", "under_back"), OUT, "square", finish="turned"),
                    Run("underarm_back", ("under_back", "hem_back")),
                    Run("hem", ("hem_back", "hem_front"), "square", "square", finish="hem"),
                    Run("underarm_front", ("hem_front", "under_front")),
                ),
                pair=True,
                levels=(Level("upper_arm", "under_front", "under_back"),),
            ),
        ),
        (
            Asked("upper_arm", "Upper arm, folded flat", "Across the sleeve just below the underarm, from fold to seam.",
                  (across("sleeve", "under_front", "under_back", 0.5),)),
            Asked("cap_front_straight", "Front cap, straight", "From the top of the cap, at the shoulder seam, straight to the underarm in front.",
                  (straight("sleeve", "cap_top", "under_front"),)),
            Asked("cap_back_straight", "Back cap, straight", "The same at the back.", (straight("sleeve", "cap_top", "under_back"),)),
            Asked("length", "Length", "From the top of the cap straight down the fold to the hem.", (drop("sleeve", "cap_top", "hem_front"),), needed=False),
            Asked("hem", "Hem, folded flat", "Across the sleeve at the hem, from fold to seam.",
                  (across("sleeve", "hem_front", "hem_back", 0.5),)),
            Asked("underarm", "Underarm seam", "Along the seam from the underarm to the hem.",
                  (along("sleeve", "underarm_front"), along("sleeve", "underarm_back"))),
            Asked("cap_front", "Front cap, along", "The tape on its edge along the seam, from the shoulder seam to the underarm in front.",
                  (along("sleeve", "cap_front"),), needed=False),
            Asked("cap_back", "Back cap, along", "The same at the back.", (along("sleeve", "cap_back"),), needed=False),
            Asked("cap_height", "Cap height", "From the top of the cap down to a line from underarm to underarm.",
                  (drop("sleeve", "cap_top", "under_front"),), needed=False),
            Asked("slant_front", "Top to the hem in front", "Straight from the top of the cap to the seam's end at the hem, over the front.",
                  (straight("sleeve", "cap_top", "hem_front"),), needed=False),
            Asked("slant_back", "Top to the hem behind", "Straight from the top of the cap to the seam's end at the hem, over the back.",
                  (straight("sleeve", "cap_top", "hem_back"),), needed=False),
        ),
        (Sewn("sleeve", "Sleeve seam", "sleeve.underarm_front", "sleeve.underarm_back", against=True),),
        (Width("width", "Width at a height", SLEEVE_WIDTH, (("sleeve", "cap_top", ("underarm_front", "underarm_back")),)),),
        guided(
            ("grain", "Fold the sleeve along its seam: the grain runs down the middle from the shoulder seam."),
            ("flat", "Lay it flat without twisting: seam on seam, fold on fold."),
            ("cap", "Front and back of the cap differ: the front is the hollower one. Measure each along its seam."),
            ("notch", "Mark where the cap meets the shoulder seam, and where it meets the side seam: they need not be its middle."),
            ("cuff", "Leave a cuff or a turned hem out of the length; it comes as a part."),
        ),
 opens=('slash', 'pleats', 'edge_moved'),
 block='sleeve.set_in',
)
)  # fmt: skip

RAGLAN = register_kind(
    Kind(
        "raglan_sleeve",
        "Raglan sleeve",
        "A sleeve that runs to the neck. It is measured opened out as far as it goes, front and back apart.",
        (
            Shape(
                "sleeve",
                "Sleeve",
                (
                    *marks_of([("neck_front", 0, 0, ""), ("neck_back", 75, -12, "xy"), ("under_front", -140, 260, "xy")]),
                    Mark("under_back", 215, 260, "x", like="under_front"),
                    Mark("hem_front", -70, 690, "xy"),
                    Mark("hem_back", 150, 690, "x", like="hem_front"),
                    Mark("mid_front", 0.5, -0.02, "y", between=("under_front", "neck_front")),
                    Mark("mid_back", 0.5, -0.02, "y", between=("neck_back", "under_back")),
                ),
                (
                    Run("raglan_front", ("under_front", "mid_front", "neck_front"), "square", None, finish="turned"),
                    Run("neckline", ("neck_front", "neck_back"), finish="turned"),
                    Run("raglan_back", ("neck_back", "mid_back", "under_back"), None, "square", finish="turned"),
                    Run("underarm_back", ("under_back", "hem_back")),
                    Run("hem", ("hem_back", "hem_front"), "square", "square", finish="hem"),
                    Run("underarm_front", ("hem_front", "under_front")),
                ),
                pair=True,
                levels=(Level("upper_arm", "under_front", "under_back"),),
            ),
        ),
        (
            Asked("neck", "Neck edge", "The sleeve's own part of the neck, from front seam to back seam.", (along("sleeve", "neckline"),)),
            Asked("raglan_front_straight", "Front seam, straight", "From the neck straight to the underarm, in front.",
                  (straight("sleeve", "neck_front", "under_front"),)),
            Asked("raglan_back_straight", "Back seam, straight", "The same at the back; it is longer.",
                  (straight("sleeve", "neck_back", "under_back"),)),
            Asked("upper_arm", "Upper arm, folded flat", "Across the sleeve at the underarm, from fold to seam.",
                  (across("sleeve", "under_front", "under_back", 0.5),)),
            Asked("over", "Front neck to the back underarm", "Opened out: straight from the neck's front end to the underarm at the back.",
                  (straight("sleeve", "neck_front", "under_back"),)),
            Asked("underarm", "Underarm seam", "Along the seam from the underarm to the hem.",
                  (along("sleeve", "underarm_front"), along("sleeve", "underarm_back"))),
            Asked("hem", "Hem, folded flat", "Across the sleeve at the hem, from fold to seam.",
                  (across("sleeve", "hem_front", "hem_back", 0.5),)),
            Asked("length_front", "Front neck to the hem", "Straight from the neck's front end to the hem's front end.",
                  (straight("sleeve", "neck_front", "hem_front"),), needed=False),
            Asked("length_back", "Back neck to the hem", "Straight from the neck's back end to the hem's back end.",
                  (straight("sleeve", "neck_back", "hem_back"),), needed=False),
            Asked("over_back", "Back neck to the front underarm", "Opened out: straight from the neck's back end to the front underarm.",
                  (straight("sleeve", "neck_back", "under_front"),), needed=False),
            Asked("slant", "Front underarm to the back hem", "Opened out: straight from the front underarm to the hem's back end.",
                  (straight("sleeve", "under_front", "hem_back"),), needed=False),
            Asked("slant_neck", "Front neck to the back hem", "Opened out: straight from the neck's front end to the hem's back end.",
                  (straight("sleeve", "neck_front", "hem_back"),), needed=False),
            Asked("raglan_front", "Front seam, along", "The tape on its edge along the seam.", (along("sleeve", "raglan_front"),), needed=False),
            Asked("raglan_back", "Back seam, along", "The tape on its edge along the seam.", (along("sleeve", "raglan_back"),), needed=False),
        ),
        (Sewn("sleeve", "Sleeve seam", "sleeve.underarm_front", "sleeve.underarm_back", against=True),),
        (),
        guided(
            ("grain", "The grain runs down the middle of the arm, from the neck to the hem."),
            ("front", "Find front and back first: the front seam is the shorter one, and the neck lies lower there."),
            ("dart", "A seam or dart over the shoulder is measured sewn; open it afterwards in Shape."),
            ("notch", "Mark on both raglan seams where the front and back pieces have theirs."),
        ),
 opens=('open_dart', 'edge_moved'),
 block='top.raglan',
)
)  # fmt: skip

COLLAR = register_kind(
    Kind(
        "collar",
        "Collar, laid flat",
        "A collar on the fold at its centre back: taken off, or smoothed flat as far as it goes.",
        (
            Shape(
                "collar",
                "Collar",
                marks_of(
                    [
                        ("neck_centre", 0, 0, ""), ("outer_centre", 0, -75, "y"), ("point", 245, -80, "xy"), ("neck_front", 205, -12, "xy"),
                    ]
                ),
                (
                    Run("outer", ("outer_centre", "point"), OUT, None, finish="turned"),
                    Run("front", ("point", "neck_front"), finish="turned"),
                    Run("neckline", ("neck_front", "neck_centre"), None, IN, finish="turned"),
                    Run("centre_back", ("neck_centre", "outer_centre"), finish="fold"),
                ),
                fold=True,
            ),
        ),
        (
            Asked("depth", "Depth at the centre back", "From the neck seam to the outer edge, at the centre back.",
                  (straight("collar", "neck_centre", "outer_centre"),)),
            Asked("outer", "Outer edge", "All along the outer edge, from point to point.", (along("collar", "outer", times=2),)),
            Asked("front", "Front edge", "From the neck seam to the point.", (along("collar", "front"),)),
            Asked("neckline", "Neck seam", "All along the neck seam, the tape on its edge.", (along("collar", "neckline", times=2),)),
            Asked("slant", "Neck centre to the point", "Straight from the middle of the neck seam to the point.",
                  (straight("collar", "neck_centre", "point"),)),
            Asked("across", "Point to point", "Straight from point to point.", (across("collar", "point", "neck_centre", 2),), needed=False),
            Asked("ends", "Neck end to neck end", "Straight between the two ends of the neck seam.",
                  (across("collar", "neck_front", "neck_centre", 2),), needed=False),
            Asked("outer_to_neck", "Outer centre to the neck end", "Straight from the middle of the outer edge to an end of the neck seam.",
                  (straight("collar", "outer_centre", "neck_front"),), needed=False),
            Asked("rise", "Rise of the neck end", "Laid on its fold: how much higher the neck seam's end lies than its middle.",
                  (drop("collar", "neck_front", "neck_centre"),), needed=False),
        ),
        (),
        (),
        guided(
            ("fold", "Fold it at the centre back and look whether both halves are alike; measure the half that looks right."),
            ("stand", "A collar with a stand is two pieces: measure each on its own."),
            ("cloth", "Upper and under collar differ by a hair for the turn of the cloth: measure the under one."),
        ),
 opens=('edge_moved',),
 block='',
)
)  # fmt: skip
