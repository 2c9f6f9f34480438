"""``tunic.panels``: two body rectangles, tapered sleeves, underarm gussets, godets, a round neck with slit and facing.

Nearly everything is a rectangle; the rules are in inches as they are handed down (common practice, no source).
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from caddet.core.drafting.declare import across, edge, promise, run, sew
from caddet.core.drafting.draft_piece import Dimension, DraftNotch, DraftPiece, Drawn, line
from caddet.core.drafting.kit import Drafting, outline
from caddet.core.figures.sums import Figure
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Arc, Motion
from caddet.core.pattern.pattern import LEFT_OF_MIDDLE, Pattern, Shown
from caddet.core.pattern.seams import Part, Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.passages import Mend, Passes
from caddet.core.recipe.registry import Block, EaseLevel, Parameter, Values, register_block
from caddet.core.sentences import Length, say

GODET_SEAMS = 50.8  # mm, the two inches of the godet that go into seams

OPTIONS = (
    Parameter("length", "Finished length, shoulder to hem", "length", 1000.0, 300.0, 1700.0, begins="clamp(nape_to_waist + waist_to_floor * 0.56, 30cm, 170cm)"),
    Parameter("sleeve", "Sleeves", "choice", "loose", choices=(("loose", "Loose at the wrist"), ("tapered", "Tapered"), ("straight", "Straight")),
              why="Loose lets the sleeve be rolled up, tapered is close where the hand just passes, straight is as wide as at the top."),
    Parameter("sleeve_reach", "Sleeve length", "choice", "whole", choices=(("whole", "The whole arm"), ("fitted", "Less what the body covers")),
              why="The wide body drops over the shoulder: a sleeve as long as the whole arm comes out overlong on purpose and blouses at the wrist. Fitted, the overhang is taken off."),
    Parameter("use", "Worn for", "choice", "easy", choices=(("easy", "Easy use"), ("hard", "Hard use")),
              why="For hard use the gusset is an inch larger, and the hem as wide as the widest stance asks for."),
    Parameter("neck", "Neck line", "choice", "close", choices=(("close", "Close"), ("loose", "Easy")),
              why="A quarter of an inch larger than the neck is close, half an inch is easy."),
    Parameter("godets", "Godets in the side seams", "flag", True, why="Triangles down to the hem, so that one can stride."),
    Parameter("godet_from", "Godets begin at", "choice", "hip", choices=(("hip", "The point of the hip"), ("waist", "The waist")), only=("godets", (True,)),
              why="At the hip the body hangs straight to there; from the waist the skirt swings more."),
)  # fmt: skip
EASE = (EaseLevel("bust", "Body", 152.4, "bust"),)
FIGURES = (
    Figure("largest", "Largest girth", "max(largest_girth, bust, waist, hip)", "The rectangle has to go over the widest place."),
    Figure("seam_in", "Seam, in every cut width", "0.5in", "The inches of this way of cutting hold the seams: what is named cut is the cloth, half an inch more on each side than what is sewn."),
    Figure("body_width", "Body panel, cut width", "largest / 2 + ease_bust / 2", "Half the largest girth and 3 inches, the seams among them: two such panels go round."),
    Figure("body_sewn", "Body panel, between its seams", "body_width - 2 * seam_in", "What is left of it when it is sewn."),
    Figure("body_length", "Body panel, cut length", "length + 6in", "Six inches more: two for the hem, a seam at the shoulder, the rest is taken up by the body."),
    Figure("hem_turn", "Hem, turned up", "2in", "Two of the six inches; added below the fold as the allowance of body and godets."),
    Figure("body_net", "Body panel, to the hem's fold", "body_length - hem_turn - seam_in", "Hem and shoulder seam are added with the allowances."),
    Figure("neck_across", "Neck circle, cut across", "neck / 3.14159265", "A circle as long as the neck is round is cut.", source="exact geometry"),
    Figure("neck_line", "Neck seam line, across", "neck_across + if(neck_close, 0.5in, 1in)", "The seam line lies outside the cut circle all the way round: by a quarter of an inch, or half."),
    Figure("neck_turn", "Neck, between cut circle and seam line", "(neck_line - neck_across) / 2", "The allowance of the neckline: a quarter of an inch, or half."),
    Figure("neck_forward", "Neck circle, forward of the shoulder", "2cm", "A neck leans forward."),
    Figure("slit", "Neck slit", "max((head - neck) / 2, 0cm)", "The head has to go through: half of what it is larger; 3½ to 5 inches for most adults."),
    Figure("sleeve_width", "Sleeve, cut width at the top", "upper_arm + 3in", "The arm and three inches, the seams among them."),
    Figure("elbow_width", "Sleeve, cut width at the elbow", "min(elbow + 3in, sleeve_width)", "The bent elbow and three inches."),
    Figure("wrist_width", "Sleeve, cut width at the wrist", "if(sleeve_straight, sleeve_width, hand + if(sleeve_tapered, 1.5in, 3in))", "The hand goes through: three inches more to roll it up, one and a half when tapered."),
    Figure("sleeve_overhang", "Shoulder, dropped by the wide body", "max(body_sewn / 2 - across_shoulders / 2, 0cm)", "So far the body reaches down the arm."),
    Figure("sleeve_length", "Sleeve, length", "max(arm_length - if(sleeve_reach_fitted, sleeve_overhang, 0cm), 4in)",
           "The whole arm from the shoulder point to the wrist; fitted, less what the body covers."),
    Figure("elbow_level", "Elbow, below the sleeve's head", "shoulder_to_elbow - if(sleeve_reach_fitted, sleeve_overhang, 0cm)", "Where the arm bends."),
    Figure("wrist_straight", "Straight at the wrist", "3in", "A few straight inches turn up better."),
    Figure("gusset", "Gusset, cut, each side", "height / 12 + if(use_hard, 1in, 0in)", "One inch for each foot of height, the seams among them; one more for hard use."),
    Figure("godet_top", "Godet point, below the shoulder", "nape_to_waist + if(godet_from_waist, 0cm, waist_to_hip)", "It begins at the point of the hip, or at the waist."),
    Figure("hem_round", "Hem, all round", "if(use_hard, max(stance_round, 2 * stride), 2 * stride)", "Twice the stride; for hard use the way round both legs in the widest stance at the hem, not doubled."),
    Figure("godet_width", "Godet, cut width", "hem_round / 2 - body_width + 2in", "What the two cut panels lack of the hem, on each side, and two inches for the four seams there. With nothing but the two inches the panels are wide enough and none is cut."),
    Figure("godet_net", "Godet, between its seams", "godet_width - 2 * seam_in", "What it adds to the hem once it is sewn."),
    Figure("facing", "Facing, width", "2in", "Wide enough to lie flat inside."),
)  # fmt: skip
NEEDS = ("bust", "waist", "hip", "largest_girth", "neck", "head", "upper_arm", "elbow", "hand", "shoulder_to_elbow", "across_shoulders", "arm_length", "height", "nape_to_waist",
         "waist_to_hip", "stride", "stance_round", "waist_to_floor")  # fmt: skip


def _sewn(d: Drafting, figure: str) -> float:
    """A cut width between its two seams, in mm."""
    return d[figure] - 2 * d["seam_in"]


def _body(d: Drafting, name: str, forward: float) -> DraftPiece:
    half, tall = d["body_sewn"] / 2, d["body_net"]
    radius, g, arm = d["neck_line"] / 2, _sewn(d, "gusset"), _sewn(d, "sleeve_width") / 2
    middle = complex(0, forward)
    rim = math.asin(max(-0.99, min(0.99, -forward / radius)))
    neck = Arc(middle, radius, math.pi / 2, rim - math.pi / 2)
    corner = complex(half, 0)
    points = [corner, corner + 1j * arm, corner + 1j * (arm + g)]
    has_godet = d.flag("godets") and d["godet_width"] > GODET_SEAMS
    point = min(max(d["godet_top"], arm + g + 20), tall - 60)
    foot = complex(half, tall)
    lower: tuple[tuple[str, list[complex]], ...]
    if has_godet:
        lower = (("side", [points[2], complex(half, point)]), ("godet_join", [complex(half, point), foot]))
    else:
        lower = (("side", [points[2], foot]),)
    edges = outline(
        ("neckline", Path((neck,))),
        ("shoulder", [neck.end, corner]),
        ("sleeve_join", points[:2]),
        ("gusset_join", points[1:]),
        *lower,
        ("hem", [foot, complex(0, tall)], "hem"),
        (f"centre_{name}", [complex(0, tall), neck.start], "fold"),
    )
    marks: tuple[Drawn, ...] = ()
    if name == "front" and d["slit"] > 5:
        start = neck.start
        marks = (line("slit", "slit, faced", start, start + 1j * d["slit"]),)
    label = "Front panel" if name == "front" else "Back panel"
    return DraftPiece(
        name,
        label,
        edges,
        drawn=marks,
        grain=(complex(half * 0.3, tall * 0.3), complex(half * 0.3, tall * 0.8)),
    )


def _sleeve(d: Drafting) -> DraftPiece:
    top, low, tall, g = (
        _sewn(d, "sleeve_width") / 2,
        _sewn(d, "wrist_width") / 2,
        d["sleeve_length"],
        _sewn(d, "gusset"),
    )
    straight = min(d["wrist_straight"], (tall - g) * 0.4)
    elbow = complex(_sewn(d, "elbow_width") / 2, d["elbow_level"])
    bent = [elbow] if g + 20 < elbow.imag < tall - straight - 20 and d.choice("sleeve") != "straight" else []
    right_ = [complex(top, 0), complex(top, g), *bent, complex(low, tall - straight), complex(low, tall)]
    left_ = [complex(-p.real, p.imag) for p in right_]
    edges = outline(
        ("head", [left_[0], right_[0]]),
        ("gusset_back", right_[:2]),
        ("underarm_back", right_[1:]),
        ("hem", [right_[-1], left_[-1]], "hem"),
        ("underarm_front", left_[:0:-1]),
        ("gusset_front", [left_[1], left_[0]]),
    )
    return DraftPiece(
        "sleeve",
        "Sleeve",
        edges,
        notches=(DraftNotch("head", top, name="shoulder"),),
        grain=(30j, complex(0, tall - 30)),
        cut=2,
        pair=True,
    )


def _godet(d: Drafting, side: float) -> DraftPiece:
    """Equal sides, the hem an arc about the point, so that it hangs level."""
    half = math.asin(min(d["godet_net"] / 2 / side, 0.95))
    hem = Arc(0j, side, math.pi / 2 - half, 2 * half)
    edges = outline(("right", [0j, hem.start]), ("hem", Path((hem,)), "hem"), ("left", [hem.end, 0j]))
    return DraftPiece(
        "godet",
        "Godet",
        edges,
        grain=(complex(0, side * 0.3), complex(0, side * 0.85)),
        cut=2,
        remark="two come out of one rectangle by a diagonal cut",
    )


def _facing(d: Drafting, body: DraftPiece, name: str) -> DraftPiece:
    """A ring along the neckline, the slit's side longer."""
    neck = body.run("neckline")[0].path.segments[0]
    assert isinstance(neck, Arc)
    wide = d["facing"]
    outer = Arc(neck.centre, neck.radius + wide, neck.angle + neck.sweep, -neck.sweep)
    tail = max(d["slit"], 0.0) + wide if name == "front" else 0.0
    low = complex(0, outer.end.imag + tail)
    rim = Path((outer,))
    if tail:
        straight = _until(outer, outer.end.real + wide)
        rim = Path.join([straight, Path.polyline([straight.end, complex(wide, low.imag), low])])
    edges = outline(
        ("neckline", Path((neck,))),
        ("shoulder", [neck.end, outer.start]),
        ("outer", rim),
        (f"centre_{name}", [low, neck.start], "fold"),
    )
    return DraftPiece(
        f"{name}_facing",
        say("{name} neck facing", name=name.capitalize()),
        edges,
        grain=(complex(8, neck.start.imag + 8), complex(8, low.imag - 8)),
        cloth=("main", "interfacing"),
    )


def _until(arc: Arc, x: float) -> Path:
    """The arc from its start until it comes to a vertical line at x."""
    cuts = arc.crossings(complex(x, -9999), complex(x, 9999))
    return Path((arc.split(cuts[-1])[0],)) if cuts else Path((arc,))


def _gusset(side: float) -> DraftPiece:
    """The square under the arm, ``side`` mm long."""
    near, far = complex(side, 0), complex(0, side)
    edges = outline(
        ("front_body", [0j, near]),
        ("front_sleeve", [near, near + far]),
        ("back_sleeve", [near + far, far]),
        ("back_body", [far, 0j]),
    )
    grain = (complex(side * 0.2, side * 0.5), complex(side * 0.8, side * 0.5))
    remark = "the grain runs along one side"
    return DraftPiece("gusset", "Underarm gusset", edges, grain=grain, cut=2, remark=remark)


def _by_thread(name: str, label: str, a: Part, *b: Part) -> Seam:
    """A seam of pieces that are cut by the thread: its corners are meant."""
    return sew(name, label, (a,), b, corners=True)


SEWN = (
    _by_thread("shoulder", "Shoulder seam", edge("front", "shoulder"), edge("back", "shoulder")),
    sew(
        "sleeve_to_body",
        "Sleeve to body",
        (edge("front", "sleeve_join", backwards=True), edge("back", "sleeve_join")),
        (edge("sleeve", "head"),),
        corners=True,
    ),
    _by_thread("gusset_front_body", "Gusset, front body", edge("front", "gusset_join"), edge("gusset", "front_body")),
    _by_thread(
        "gusset_front_sleeve", "Gusset, front of sleeve", edge("sleeve", "gusset_front"), edge("gusset", "front_sleeve")
    ),
    _by_thread(
        "gusset_back_sleeve", "Gusset, back of sleeve", edge("sleeve", "gusset_back"), edge("gusset", "back_sleeve")
    ),
    _by_thread("gusset_back_body", "Gusset, back body", edge("back", "gusset_join"), edge("gusset", "back_body")),
    _by_thread(
        "sleeve", "Sleeve seam", edge("sleeve", "underarm_front"), edge("sleeve", "underarm_back", backwards=True)
    ),
    _by_thread("side", "Side seam", edge("front", "side"), edge("back", "side")),
)
GODET_SEWN = (
    _by_thread("godet_front", "Godet, front", edge("front", "godet_join"), edge("godet", "right")),
    _by_thread("godet_back", "Godet, back", edge("back", "godet_join"), edge("godet", "left", backwards=True)),
)
FACING_SEWN = (
    _by_thread("facing_front", "Neck facing, front", edge("front", "neckline"), edge("front_facing", "neckline")),
    _by_thread("facing_back", "Neck facing, back", edge("back", "neckline"), edge("back_facing", "neckline")),
    sew(
        "facing_shoulder",
        "Shoulder of the facing",
        (edge("front_facing", "shoulder"),),
        (edge("back_facing", "shoulder"),),
    ),
)


def draft(pattern: Pattern, context: Context, options: Values) -> Result:
    """Front, back, sleeve, gusset, godet and facings."""
    d = Drafting(context, options)
    half, g, arm = d["body_sewn"] / 2, _sewn(d, "gusset"), _sewn(d, "sleeve_width") / 2
    d.need(d["neck_line"] / 2 < half - 20, "The neck is wider than the body panel.", "neck_line")
    d.need(arm + g + 80 < d["body_net"], "The sleeve and its gusset are longer than the body's side.", "sleeve_width")
    d.need(d["sleeve_length"] > g + 60, "The sleeve is too short for its gusset.", "sleeve_length")
    d.need(_sewn(d, "wrist_width") > 40 and g > 10, "The sleeve or the gusset comes out too small.", "wrist_width")
    forward = min(d["neck_forward"], d["neck_line"] * 0.3)
    front, back = _body(d, "front", forward), _body(d, "back", -forward)
    sleeve = _sleeve(d)
    pieces = [front, back, sleeve, _gusset(g)]
    seams = list(SEWN)
    godets = "godet_join" in front.runs()
    if d.flag("godets") and not godets:
        d.remark(
            "draft.godet",
            say(
                "Two panels {wide} wide at the hem are enough for {hem}: no godets are cut.",
                wide=Length(d["body_sewn"]),
                hem=Length(d["hem_round"]),
            ),
            "figures.godet_width",
        )
    if godets:
        pieces.append(_godet(d, front.run_length("godet_join")))
        seams += GODET_SEWN
    pieces += [_facing(d, front, "front"), _facing(d, back, "back")]
    seams += FACING_SEWN
    closures = (
        promise("neck", "Neck line is the circle", (run("front", "neckline", worn=True), run("back", "neckline", worn=True)), math.pi * d["neck_line"], "exact geometry"),
        promise("sleeve", "Sleeve goes on the body", (run("sleeve", "head"), run("front", "sleeve_join", -1), run("back", "sleeve_join", -1)), 0.0, "head less both sides"),
    )  # fmt: skip
    dimensions = (
        Dimension("body_width", "front", complex(0, d["body_net"] * 0.5), complex(half, d["body_net"] * 0.5)),
        Dimension("slit", "front", front.run("neckline")[0].path.start, front.run("neckline")[0].path.start + 1j * max(d["slit"], 1)),
        Dimension("sleeve_width", "sleeve", complex(-arm, 20), complex(arm, 20)),
        Dimension("sleeve_length", "sleeve", 0j, complex(0, d["sleeve_length"])),
        Dimension("gusset", "gusset", complex(0, g / 2), complex(g, g / 2)),
        *((Dimension("godet_width", "godet", complex(-d["godet_net"] / 2, pieces[4].outline().bounds()[3] * 0.9), complex(d["godet_net"] / 2, pieces[4].outline().bounds()[3] * 0.9)),) if godets else ()),
    )  # fmt: skip
    # arms held out: the sleeve's head along the body's edge
    turn = -1j
    shown = [Shown(view, "sleeve", Motion(turn, complex(half, 0)), clip=LEFT_OF_MIDDLE) for view in ("front", "back")]
    if godets:
        point = complex(half, front.run("godet_join")[0].path.start.imag)
        shown += [Shown(view, "godet", Motion(shift=point)) for view in ("front", "back")]
    shown += [Shown("front", "front"), Shown("back", "back")]
    return d.result(
        pieces,
        seams,
        closures,
        dimensions,
        shown,
        zero="the shoulder",
        finishes={"outer": "turned"},
        allowances=_allowances(pieces),
    )


def _allowances(pieces: Sequence[DraftPiece]) -> dict[str, str]:
    """Which figure is left at each edge: the cut widths hold their seams, and the cut circle the neck's."""
    left: dict[str, str] = {}
    for piece in pieces:
        for one in piece.edges:
            if one.name == "neckline":
                left[f"{piece.name}.{one.name}"] = "neck_turn"
            elif one.finish == "hem" and piece.name != "sleeve":
                left[f"{piece.name}.{one.name}"] = "hem_turn"
            elif one.finish == "":
                left[f"{piece.name}.{one.name}"] = "seam_in"
    return left


PASSES = (
    Passes("head", "neck", plus=(across("front", "slit", 2.0),), label="Head goes through the neck",
           why="The neck line and both sides of the slit against the head.",
           mends=(Mend("Make the slit long enough", figure="slit", more=5.0),)),
    Passes("hand", "hem", on=("sleeve",), label="Hand goes through the sleeve",
           why="The wrist of the sleeve against the hand. If it is less, leave a slit there, or take the looser sleeve.",
           mends=(Mend("Take the loose sleeve", option=("sleeve", "loose")),)),
    Passes("stride", "hem", on=("front", "back", "godet"), limit=lambda context: context.sums["hem_round"].value,
           label="Stride clears the hem", why="All hems together against twice the stride.",
           mends=(Mend("Put godets in the side seams", option=("godets", True)),)),
)  # fmt: skip


BLOCK = register_block(
    Block(
        "tunic.panels",
        "Panel tunic",
        "Rectangles, squares and triangles, cut nearly without waste: a loose tunic with gussets and godets.",
        NEEDS,
        (),
        OPTIONS,
        EASE,
        FIGURES,
        draft,
        PASSES,
        family="Panels",
        fits=("loose_woven",),
        wants=(),
        schools={
            "easy": "For easy use the gusset goes by height alone.",
            "hard": "For hard use an inch is added, and the hem is the way round both legs in the widest stance.",
        },
    )
)
