"""Swimsuit and bodysuit for the tape. All of it is measured relaxed; what elastic holds in is let out afterwards."""

from __future__ import annotations

from caddet.core.tracing.kinds import (
    IN,
    OUT,
    Asked,
    Guide,
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

ELASTIC = Guide(
    "elastic",
    "Elastic holds the edges in: measure them relaxed, then pulled to where the cloth lies flat, and note both.",
)


def _half(name: str, label: str, neck: float, crotch: float) -> Shape:
    return Shape(
        name,
        label,
        (
            *marks_of(
                [
                    ("neck_centre", 0, neck, "y"),
                    ("strap_in", 78, 0, "x"),
                    ("strap_out", 118, 6, "xy"),
                    ("underarm", 165, 190, "xy"),
                    ("leg_side", 172, 470, "xy"),
                    ("crotch_side", 36, crotch, "xy"),
                ]
            ),
            Mark("crotch_centre", 0, crotch, "", like="crotch_side"),
            Mark("bust_centre", 0, 190, "", like="underarm"),
        ),
        (
            Run("neckline", ("neck_centre", "strap_in"), OUT, "square", 0.6, finish="turned"),
            Run("shoulder", ("strap_in", "strap_out")),
            Run("armhole", ("strap_out", "underarm"), "square", "square", 0.6, finish="turned"),
            Run("side", ("underarm", "leg_side")),
            Run("leg", ("leg_side", "crotch_side"), "square", "square", 0.5, finish="turned"),
            Run("crotch", ("crotch_side", "crotch_centre")),
            Run(f"centre_{name}", ("crotch_centre", "neck_centre"), finish="fold"),
        ),
        fold=True,
        levels=(Level("bust", "bust_centre", "underarm"),),
    )


SWIMSUIT = register_kind(
    Kind(
        "swimsuit",
        "Swimsuit, front and back",
        "A one-piece with straps, laid flat and relaxed. Narrow or long parts are changed afterwards in Shape, stretch allowed for.",
        (_half("front", "Front", 150, 640), _half("back", "Back", 210, 660)),
        (
            Asked("centre_front", "Centre front", "Along the centre front, from the neck edge to the crotch seam.", (straight("front", "neck_centre", "crotch_centre"),)),
            Asked("centre_back", "Centre back", "Along the centre back, from the neck edge to the crotch seam.", (straight("back", "neck_centre", "crotch_centre"),)),
            Asked("chest", "Under the arms, laid flat", "From underarm to underarm.", both(lambda s: across(s, "underarm", "bust_centre", 2))),
            Asked("neck_width", "Between the straps", "Straight between the inner edges of the straps, at the shoulder seam.",
                  both(lambda s: across(s, "strap_in", "neck_centre", 2))),
            Asked("strap", "Strap", "Across the strap at the shoulder seam.", both(lambda s: along(s, "shoulder"))),
            Asked("neck_front", "Front neck drop", "From a ruler over both straps straight down to the front neck edge.", (drop("front", "strap_in", "neck_centre"),)),
            Asked("neck_back", "Back neck drop", "The same on the back; the two differ.", (drop("back", "strap_in", "neck_centre"),)),
            Asked("strap_drop", "Strap slope", "How far the strap's outer edge lies below its inner one, at the shoulder seam.",
                  both(lambda s: drop(s, "strap_in", "strap_out"))),
            Asked("armhole_straight", "Armhole, straight", "From the strap's outer edge straight to the underarm.", both(lambda s: straight(s, "strap_out", "underarm"))),
            Asked("side", "Side seam", "Along the side seam, from the underarm to the leg.", both(lambda s: along(s, "side"))),
            Asked("leg_width", "Across the tops of the legs", "From one leg's top at the side seam to the other's, laid flat.",
                  both(lambda s: across(s, "leg_side", "neck_centre", 2))),
            Asked("crotch", "Crotch", "Across the crotch seam.", both(lambda s: across(s, "crotch_side", "crotch_centre", 2))),
            Asked("leg_front_straight", "Front leg, straight", "Straight from the leg's top at the side to the crotch seam, in front.",
                  (straight("front", "leg_side", "crotch_side"),), needed=False),
            Asked("leg_back_straight", "Back leg, straight", "The same at the back.", (straight("back", "leg_side", "crotch_side"),), needed=False),
            Asked("leg_front", "Front leg edge, along", "The tape on its edge along the leg, relaxed.", (along("front", "leg"),), needed=False),
            Asked("leg_back", "Back leg edge, along", "The same at the back; it is flatter.", (along("back", "leg"),), needed=False),
            Asked("neckline_front", "Front neck edge, along", "Along the front neck edge, from strap to strap.", (along("front", "neckline", times=2),), needed=False),
            Asked("neckline_back", "Back neck edge, along", "Along the back neck edge, from strap to strap.", (along("back", "neckline", times=2),), needed=False),
            Asked("armhole", "Armhole, along", "Along the edge from the strap to the underarm.", both(lambda s: along(s, "armhole")), needed=False),
            Asked("slant", "Strap to the other leg", "Straight from a strap's outer edge to the leg's top at the other side.",
                  both(lambda s: cross_over(s, "strap_out", "leg_side")), needed=False),
            Asked("slant_inner", "Strap's inner edge to the leg", "Straight from a strap's inner edge to the leg's top at the same side.",
                  both(lambda s: straight(s, "strap_in", "leg_side")), needed=False),
            Asked("under_slant", "Underarm to the other leg", "Straight from an underarm to the leg's top at the other side.",
                  both(lambda s: cross_over(s, "underarm", "leg_side")), needed=False),
            Asked("neck_to_underarm_front", "Front neck to the underarm", "Straight from the middle of the front neck edge to the underarm.",
                  (straight("front", "neck_centre", "underarm"),), needed=False),
            Asked("neck_to_underarm_back", "Back neck to the underarm", "Straight from the middle of the back neck edge to the underarm.",
                  (straight("back", "neck_centre", "underarm"),), needed=False),
        ),
        (
            Sewn("side", "Side seam", "back.side", "front.side"),
            Sewn("shoulder", "Shoulder seam", "front.shoulder", "back.shoulder", corners=True),
            Sewn("crotch", "Crotch seam", "front.crotch", "back.crotch", corners=True),
        ),
        (Width("width", "Width at a height", "From side to side, so far below the straps: at the waist, the hip.",
               (("front", "strap_in", ("side",)), ("back", "strap_in", ("side",)))),),
        (
            Guide("grain", "The greatest stretch goes round the body. Find the centre front and the centre back first."),
            Guide("flat", "Pin it flat on a board, the centre straight, without stretching it anywhere."),
            Guide("neck", "Front and back neck, front and back leg differ: measure all four."),
            ELASTIC,
            Guide("lining", "Measure the outer cloth; the lining follows it."),
        ),
 opens=('slash', 'open_dart'),
 block='swimsuit',
        seam=6.5,
        hem=6.5,
)
)  # fmt: skip


def _panel(name: str, label: str, fold: bool, wide: float, seam: str) -> Shape:
    """A tall panel with a waist: its inner and outer seam, top and leg edge."""
    inner = f"centre_{name.removeprefix('centre_')}" if fold else seam
    outer = seam if fold else "side"
    return Shape(
        name,
        label,
        (
            *marks_of(
                [
                    ("top_in", 0, 0, ""),
                    ("top_out", wide, -10, "xy"),
                    ("low_in", 0, 540, "y"),
                    ("low_out", wide * 0.8, 470, "xy"),
                    ("waist_out", wide * 0.8, 240, "xy"),
                ]
            ),
            Mark("waist_in", 0 if fold else 8, 240, "" if fold else "x", like="waist_out"),
        ),
        (
            Run("top", ("top_in", "top_out"), OUT if fold else None, None, finish="turned"),
            Run(outer, ("top_out", "waist_out", "low_out")),
            Run("leg", ("low_out", "low_in"), None, IN if fold else None, finish="turned"),
            Run(
                inner, ("low_in", "top_in") if fold else ("low_in", "waist_in", "top_in"), finish="fold" if fold else ""
            ),
        ),
        fold=fold,
        pair=not fold,
        levels=(Level("waist", "waist_in", "waist_out"),),
    )


def _panel_readings(shape: str, label: str, fold: bool, seam: str) -> tuple[Asked, ...]:
    times = 2.0 if fold else 1.0
    outer = seam if fold else "side"
    inner = f"centre_{shape.removeprefix('centre_')}" if fold else seam
    inside = "centre" if fold else "panel seam"

    def asked(name: str, words: str, how: str, seen: Seen, needed: bool = True) -> Asked:
        return Asked(f"{shape}_{name}", f"{label}, {words}", how, (seen,), needed)

    def slanting(name: str, a: str, b: str, needed: bool = False) -> Asked:
        ends = tuple(PANEL_POINTS[one] for one in (a, b))
        return asked(
            name,
            f"{ends[0]} to {ends[1]}",
            f"Straight from the {ends[0]} to the {ends[1]}.",
            straight(shape, a, b),
            needed,
        )

    return (
        asked("inner", "inner line", f"Along the {inside} from top to leg.", along(shape, inner)),
        asked(
            "waist_height",
            "top to waist",
            "From the top down to the waist, along the grain.",
            drop(shape, "top_in", "waist_out"),
        ),
        asked("top", "top", "Straight across the top, from seam to seam.", across(shape, "top_in", "top_out", times)),
        asked("waist", "waist", "Across the waist, from seam to seam.", across(shape, "waist_in", "waist_out", times)),
        asked("outer", "outer line", "Along the outer seam, from top to leg.", along(shape, outer)),
        asked("low", "leg edge", "Straight along the leg edge of one half.", straight(shape, "low_in", "low_out")),
        slanting("slant", "top_in", "low_out", needed=True),
        slanting("slant_up", "low_in", "top_out"),
        slanting("slant_waist", "top_in", "waist_out", needed=not fold),
        slanting("waist_low", "waist_out", "low_in"),
        slanting("waist_in_low", "waist_in", "low_out"),
        slanting("waist_in_top", "waist_in", "top_out"),
    )


PANEL_POINTS = {
    "top_in": "top's inner end",
    "top_out": "top's outer end",
    "low_in": "leg edge's inner end",
    "low_out": "leg edge's outer end",
    "waist_in": "inner line at the waist",
    "waist_out": "outer seam at the waist",
}
_PANELS = (
    ("centre_front", "Centre front panel", True, 95.0, "front_panel"),
    ("side_front", "Side front panel", False, 105.0, "front_panel"),
    ("centre_back", "Centre back panel", True, 90.0, "back_panel"),
    ("side_back", "Side back panel", False, 105.0, "back_panel"),
)

BODYSUIT = register_kind(
    Kind(
        "bodysuit",
        "Bodysuit by panels",
        "A suit of long panels, measured panel by panel from the centre front round to the centre back. Each seam is measured on both its panels.",
        tuple(_panel(name, label, fold, wide, seam) for name, label, fold, wide, seam in _PANELS),
        tuple(one for name, label, fold, _, seam in _PANELS for one in _panel_readings(name, label, fold, seam)),
        (
            Sewn(
                "front_panel",
                "Front panel seam",
                "centre_front.front_panel",
                "side_front.front_panel",
                against=True,
                corners=True,
            ),
            Sewn("side", "Side seam", "side_front.side", "side_back.side", corners=True),
            Sewn(
                "back_panel",
                "Back panel seam",
                "centre_back.back_panel",
                "side_back.back_panel",
                against=True,
                corners=True,
            ),
        ),
        (),
        guided(
            (
                "order",
                "Number the panels from the centre front round to the centre back, and measure them in that order.",
            ),
            ("grain", "The grain of each panel runs down its middle; mark it before the panel is moved."),
            (
                "seams",
                "A seam has two panels: measure it on both. They may differ by 3 mm; more, and one is measured again.",
            ),
            ("stretch", "Do not pull: pin top and bottom and let the rest lie."),
        ),
        opens=("slash",),
        block="swimsuit",
        seam=6.5,
        hem=6.5,
    )
)
