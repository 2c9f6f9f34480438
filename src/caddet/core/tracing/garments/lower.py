"""Skirts, trousers, shorts and leggings for the tape."""

from __future__ import annotations

from caddet.core.tracing.kinds import (
    IN,
    OUT,
    Asked,
    Kind,
    Level,
    Mark,
    Run,
    Seen,
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

SIDES = (("front", "front"), ("back", "back"))
GRAIN = ("grain", "Find the grain first: the centre front and the centre back, or the pressed crease of a leg.")
BAND = ("band", "Measure below the waistband, at its seam. The band comes as a part; its depth belongs to the rise.")


# --- skirt ----------------------------------------------------------------------------------------


def _skirt_half(name: str, label: str) -> Shape:
    return Shape(
        name,
        label,
        (
            *marks_of(
                [
                    ("waist_centre", 0, 0, ""),
                    ("waist_side", 185, -12, "xy"),
                    ("hip_side", 245, 200, "xy"),
                    ("hem_side", 250, 590, "xy"),
                    ("hem_centre", 0, 600, "y"),
                ]
            ),
            Mark("hip_centre", 0, 200, "", like="hip_side"),
        ),
        (
            Run("waist", ("waist_centre", "waist_side"), OUT, "square", 0.5, finish="turned"),
            Run("side", ("waist_side", "hip_side", "hem_side")),
            Run("hem", ("hem_side", "hem_centre"), "square", IN, finish="hem"),
            Run(f"centre_{name}", ("hem_centre", "waist_centre"), finish="fold"),
        ),
        fold=True,
        levels=(Level("hip", "hip_centre", "hip_side"),),
    )


def _each(name: str, label: str, how: str, seen: str, *, needed: bool = True) -> list[Asked]:
    """A reading once for the front and once for the back; ``seen`` is how, and the marks or runs."""
    way, *of = seen.split()
    times = 2.0 if of[-1] == "x2" else 1.0
    marks = [one for one in of if one != "x2"]
    make = {"straight": straight, "across": across, "along": along, "cross": cross_over, "drop": drop}[way]
    found = []
    for shape, word in SIDES:
        made = make(shape, *marks)  # type: ignore[operator]  # each takes a shape and names
        found.append(
            Asked(
                f"{name}_{shape}",
                label.format(side=word),
                how.format(side=word),
                (Seen(made.how, shape, made.of, times),),
                needed,
            )
        )
    return found


SKIRT = register_kind(
    Kind(
        "fitted_skirt",
        "Fitted skirt, front and back",
        "A skirt with darts, still sewn while it is measured: waist, hip and hem, front and back apart. Open the darts afterwards in Shape.",
        (_skirt_half("front", "Front"), _skirt_half("back", "Back")),
        (
            *_each("centre", "Centre {side}", "Along the centre {side}, from the waist seam to the hem.", "straight waist_centre hem_centre"),
            *_each("waist", "Waist, {side}", "The {side} alone, from side seam to side seam at the waist, the darts sewn.", "across waist_side waist_centre x2"),
            Asked("hip_depth", "Where the hip is measured", "How far below the waist seam, at the centre, the hip is measured: over the fullest place.",
                  both(lambda s: drop(s, "waist_centre", "hip_side"))),
            *_each("hip", "Hip, {side}", "The {side} alone, from side seam to side seam at that height.", "across hip_side hip_centre x2"),
            *_each("hem", "Hem, {side}", "The {side} alone, from side seam to side seam along the hem.", "across hem_side hem_centre x2"),
            Asked("side", "Side seam", "Along the side seam, from the waist seam to the hem.", both(lambda s: along(s, "side"))),
            *_each("corner", "Waist centre to the hem corner, {side}", "Straight from the middle of the waist to where side and hem meet, on the {side}.",
                   "straight waist_centre hem_side"),
            *_each("slant", "Waist corner to the hem centre, {side}", "Straight from where side and waist meet to the middle of the hem, on the {side}.",
                   "straight waist_side hem_centre", needed=False),
            *_each("waist_to_hip", "Waist corner to the hip centre, {side}", "Straight from where side and waist meet to the centre at hip height, on the {side}.",
                   "straight waist_side hip_centre", needed=False),
            *_each("cross", "Waist corner to the other hem corner, {side}", "Straight from where side and waist meet to the hem corner of the other side, on the {side}.",
                   "cross waist_side hem_side", needed=False),
            *_each("hip_to_hem", "Hip at the side to the hem centre, {side}", "Straight from the side at hip height to the middle of the hem, on the {side}.",
                   "straight hip_side hem_centre", needed=False),
            *_each("hip_to_corner", "Hip at the side to the other hem corner, {side}", "Straight from the side at hip height to the hem corner of the other side, on the {side}.",
                   "cross hip_side hem_side", needed=False),
        ),
        (Sewn("side", "Side seam", "front.side", "back.side"),),
        (Width("width", "Width at a height", "From side to side, so far below the waist seam at the centre.",
               (("front", "waist_centre", ("side",)), ("back", "waist_centre", ("side",)))),),
        guided(
            GRAIN,
            ("flat", "Begin at the hip, the flattest part; smooth down to the hem, then up to the waist. It will not lie flat over a dart."),
            ("darts", "Front and back have different darts: note of each how far from the centre it is, how long, and how deep you feel it under the cloth."),
            ("zip", "A zip stiffens one side: take the other, or the mean of both."),
            BAND,
            ("lining", "A lining hides the seams of the waist: measure at the stitches, from outside."),
        ),
 opens=('open_dart', 'pleats', 'edge_moved'),
 block='skirt.straight',
)
)  # fmt: skip


# --- legs -----------------------------------------------------------------------------------------


def _leg_half(name: str, label: str, long: float, back: bool) -> Shape:
    wider = 30.0 if back else 0.0
    hem = 25.0 if long > 400 else 8.0
    return Shape(
        name,
        label,
        (
            *marks_of(
                [
                    ("fork", 0, 0, ""),
                    ("centre_hip", 75 + wider, -85, "xy"),
                    ("waist_centre", 85 + 2 * wider, -260 - wider / 3, "xy"),
                    ("waist_side", 290 + wider, -265, "xy"),
                    ("thigh_side", 300 + wider, 0, "x"),
                    ("hem_inside", hem + wider / 2, long, "xy"),
                ]
            ),
            Mark("hip_side", 305 + wider, -85, "x", like="centre_hip"),
            Mark("hem_side", 300 + wider - hem, long, "x", like="hem_inside"),
        ),
        (
            Run("waist", ("waist_centre", "waist_side"), None, "square", finish="casing"),
            Run("side", ("waist_side", "hip_side", "thigh_side", "hem_side")),
            Run("hem", ("hem_side", "hem_inside"), "square", "square", finish="hem"),
            Run("inseam", ("hem_inside", "fork")),
            Run("crotch", ("fork", "centre_hip", "waist_centre"), OUT, None),
        ),
        pair=True,
        levels=(Level("hip", "centre_hip", "hip_side"), Level("thigh", "fork", "thigh_side")),
    )


def _leg_readings() -> tuple[Asked, ...]:
    return (
        Asked("inseam", "Inseam", "Along the inside of the leg, from where four seams meet to the hem.", both(lambda s: along(s, "inseam"))),
        Asked("outseam", "Side seam", "Along the side seam, from the waist seam to the hem.", both(lambda s: along(s, "side"))),
        *_each("hem", "Hem, {side}", "Across the {side} of one leg at the hem, from seam to seam.", "across hem_inside hem_side"),
        *_each("thigh", "Thigh, {side}", "Across the {side} of one leg at the height of the crotch, square to the crease.", "across fork thigh_side"),
        Asked("hip_height", "Where the hip is measured", "How far above the crotch the hip is measured: a third of the rise or so.",
              both(lambda s: drop(s, "centre_hip", "fork"))),
        *_each("hip", "Hip, {side}", "The {side} of one leg at that height, from the centre seam to the side seam.", "across centre_hip hip_side"),
        *_each("waist", "Waist, {side}", "The {side} of one leg at the waist, from the centre seam to the side; elastic pulled flat.", "along waist"),
        *_each("rise", "Rise, {side}, straight", "Straight from the crotch to the top of the centre {side}.", "straight fork waist_centre"),
        *_each("crotch", "Rise, {side}, along", "Along the centre seam of the {side}, the tape on its edge, from the crotch to the waist.", "along crotch"),
        *_each("centre", "Centre top to the side, {side}", "Straight from the top of the centre {side} to the side seam at crotch height.", "straight waist_centre thigh_side"),
        *_each("slant", "Inside hem to the side, {side}", "Straight from the inside hem corner to the side seam at crotch height, on the {side}.", "straight hem_inside thigh_side"),
        *_each("top_slant", "Crotch to the waist's side, {side}", "Straight from the crotch to where waist and side meet, on the {side}.",
               "straight fork waist_side", needed=False),
        *_each("leg_slant", "Crotch to the outside hem, {side}", "Straight from the crotch to the outside hem corner, on the {side}.",
               "straight fork hem_side", needed=False),
        *_each("long_slant", "Inside hem to the waist's side, {side}", "Straight from the inside hem corner to where waist and side meet, on the {side}.",
               "straight hem_inside waist_side", needed=False),
        *_each("hip_slant", "Hip at the side to the inside hem, {side}", "Straight from the side at hip height to the inside hem corner, on the {side}.",
               "straight hip_side hem_inside", needed=False),
        *_each("hip_to_fork", "Hip at the side to the crotch, {side}", "Straight from the side at hip height to the crotch, on the {side}.",
               "straight hip_side fork", needed=False),
        *_each("centre_to_hem", "Centre top to the inside hem, {side}", "Straight from the top of the centre {side} to the inside hem corner.",
               "straight waist_centre hem_inside", needed=False),
        *_each("centre_to_hip", "Centre top to the side at the hip, {side}", "Straight from the top of the centre {side} to the side at hip height.",
               "straight waist_centre hip_side", needed=False),
    )  # fmt: skip


LEG_SEAMS = (
    Sewn("side", "Side seam", "front.side", "back.side"),
    Sewn("inseam", "Inseam", "front.inseam", "back.inseam"),
    Sewn("front_crotch", "Front crotch", "front.crotch", "front.crotch'", corners=True),
    Sewn("back_crotch", "Back crotch", "back.crotch", "back.crotch'", corners=True),
)
LEG_WIDTH = Width(
    "width",
    "Leg width at a height",
    "Across the front of one leg so far below the crotch: at the knee, the calf, wherever it changes.",
    (("front", "fork", ("inseam", "side")),),
)
BACK_LEG_WIDTH = Width(
    "width_back",
    "Back leg width at a height",
    "The same on the back of the leg.",
    (("back", "fork", ("inseam", "side")),),
)
LEG_GUIDE = guided(
    GRAIN,
    ("flat", "Lay one leg flat, inseam on side seam. Front and back are not alike: measure each face."),
    (
        "crotch",
        "Turn one leg into the other: the crotch seam then lies flat and can be followed with the tape on its edge.",
    ),
    ("back", "The back rise is longer and leans further in: take its own readings, do not copy the front's."),
    BAND,
    ("pockets", "Note where the pockets lie: from the waist and from the side."),
)


def _legs(name: str, label: str, about: str, long: float) -> Kind:
    shapes = (_leg_half("front", "Front", long, False), _leg_half("back", "Back", long, True))
    return register_kind(
        Kind(
            name,
            label,
            about,
            shapes,
            _leg_readings(),
            LEG_SEAMS,
            (LEG_WIDTH, BACK_LEG_WIDTH),
            LEG_GUIDE,
            opens=("open_dart", "pleats", "slash", "edge_moved"),
            block="trousers.tailored",
        )
    )


TROUSERS = _legs(
    "trousers",
    "Trousers, front and back",
    "Long trousers with a front and a back in each leg; darts and pleats sewn while it is measured.",
    760,
)
SHORTS = _legs("shorts", "Shorts, front and back", "Short trousers, with a waistband or a casing.", 160)

LEGGINGS = register_kind(
    Kind(
        "leggings",
        "Leggings, one piece a leg",
        "One piece of knit cloth a leg, without a side seam, folded flat along its side while it is measured.",
        (
            Shape(
                "leg",
                "Leg",
                (
                    *marks_of(
                        [
                            ("fork_front", 0, 0, ""), ("hem_front", 95, 680, "xy"), ("waist_front", 55, -215, "xy"), ("waist_back", 265, -260, "xy"),
                        ]
                    ),
                    Mark("fork_back", 330, 0, "x", like="fork_front"),
                    Mark("hem_back", 215, 680, "x", like="hem_front"),
                ),
                (
                    Run("waist", ("waist_front", "waist_back"), finish="casing"),
                    Run("back_crotch", ("waist_back", "fork_back"), "square", OUT, 0.6),
                    Run("back_inseam", ("fork_back", "hem_back")),
                    Run("hem", ("hem_back", "hem_front"), "square", "square", finish="hem"),
                    Run("front_inseam", ("hem_front", "fork_front")),
                    Run("front_crotch", ("fork_front", "waist_front"), OUT, "square", 0.6),
                ),
                pair=True,
                levels=(Level("thigh", "fork_front", "fork_back"),),
            ),
        ),
        (
            Asked("thigh", "Thigh, folded flat", "Across the folded leg at crotch height.", (across("leg", "fork_front", "fork_back", 0.5),)),
            Asked("hem", "Hem, folded flat", "Across the folded leg at the hem.", (across("leg", "hem_front", "hem_back", 0.5),)),
            Asked("inseam", "Inseam", "Along the inside of the leg, from the crotch to the hem.",
                  (along("leg", "front_inseam"), along("leg", "back_inseam"))),
            Asked("waist", "Waist, half", "From the centre front seam to the centre back seam along the top, elastic pulled flat.", (along("leg", "waist"),)),
            Asked("rise_front", "Front rise, straight", "Straight from the crotch to the top of the centre front.", (straight("leg", "fork_front", "waist_front"),)),
            Asked("rise_back", "Back rise, straight", "Straight from the crotch to the top of the centre back.", (straight("leg", "fork_back", "waist_back"),)),
            Asked("over_front", "Front top to the back crotch", "Opened out as far as it goes: from the top of the centre front straight to the back crotch.",
                  (straight("leg", "waist_front", "fork_back"),)),
            Asked("slant", "Front hem to the back crotch", "Opened out: straight from the front end of the hem to the back crotch.",
                  (straight("leg", "hem_front", "fork_back"),), needed=False),
            Asked("crotch_front", "Front rise, along", "Along the centre front seam, the tape on its edge.", (along("leg", "front_crotch"),), needed=False),
            Asked("crotch_back", "Back rise, along", "Along the centre back seam, the tape on its edge.", (along("leg", "back_crotch"),), needed=False),
            Asked("over_back", "Back top to the front crotch", "Opened out: from the top of the centre back straight to the front crotch.",
                  (straight("leg", "waist_back", "fork_front"),), needed=False),
            Asked("long_front", "Front top to the front hem", "Straight from the top of the centre front to the front end of the hem.",
                  (straight("leg", "waist_front", "hem_front"),), needed=False),
            Asked("long_back", "Back top to the back hem", "Straight from the top of the centre back to the back end of the hem.",
                  (straight("leg", "waist_back", "hem_back"),), needed=False),
            Asked("cross_front", "Front top to the back hem", "Opened out: straight from the top of the centre front to the back end of the hem.",
                  (straight("leg", "waist_front", "hem_back"),), needed=False),
            Asked("cross_back", "Back top to the front hem", "Opened out: straight from the top of the centre back to the front end of the hem.",
                  (straight("leg", "waist_back", "hem_front"),), needed=False),
            Asked("slant_back", "Back hem to the front crotch", "Opened out: straight from the back end of the hem to the front crotch.",
                  (straight("leg", "hem_back", "fork_front"),), needed=False),
        ),
        (
            Sewn("inseam", "Inseam", "leg.front_inseam", "leg.back_inseam", against=True),
            Sewn("front_crotch", "Front crotch", "leg.front_crotch", "leg.front_crotch'", corners=True),
            Sewn("back_crotch", "Back crotch", "leg.back_crotch", "leg.back_crotch'", corners=True),
        ),
        (Width("width", "Leg width at a height", "Across the folded leg, twice, so far below the crotch.", (("leg", "fork_front", ("front_inseam", "back_inseam")),)),),
        guided(
            ("grain", "The grain runs down the side, where the side seam would be: fold the leg there."),
            ("stretch", "Lay it down relaxed and let it rest. Elastic at the waist is measured twice: relaxed, and pulled flat."),
            ("crotch", "Front and back seam differ: the back one is longer."),
            ("hem", "Measure to the edge as worn; 1 inch is turned up once more for the hem."),
        ),
 opens=('slash', 'edge_moved'),
 block='leggings',
        seam=12.7,
        hem=50.8,
)
)  # fmt: skip
