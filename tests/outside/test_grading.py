"""Grading and truing against things outside: exact integrals, sizes of a standard's tables, what trade practice allows.

The tables are EN 13402-3, from memory (see ``data/sizes/README.md``). How far grading by rules read off the sizes may
stray from drafting each again is stated for each block, measured once and held to: common practice, no source.
"""

from __future__ import annotations

import math
import random

import pytest
from scipy.integrate import quad

from caddet.core.body.sizes import shipped_table
from caddet.core.designs import ORDER, design_named
from caddet.core.geometry.segments import Segment
from caddet.core.grading.nest import apart
from caddet.core.grading.points import corners
from caddet.core.grading.rules import RuleTable, graded
from caddet.core.grading.sizes import derived_rules, nest_of
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.refused import Refused
from caddet.core.pipeline import make
from caddet.core.recipe.document import Document, Recipe
from caddet.core.recipe.grading import GradeRule, Grading
from caddet.core.recipe.registry import BLOCKS
from caddet.core.truing.blend import _turned, blended
from caddet.core.truing.joins import SMOOTH, LineEnd, joins
from caddet.core.truing.walk import walk
from tests.making import document, drafted, full_people, nine, pattern_of
from tests.share import share

INCH = 25.4
SIZES = ("84", "88", "92", "96", "100")
DRAWN = [name for name in BLOCKS if name != "own.points"]


def speed(segment: Segment, t: float) -> float:
    """How fast a segment is run through: the limit of its difference quotient."""
    step = 1e-6
    low, high = max(t - step, 0.0), min(t + step, 1.0)
    return abs(segment.point(high) - segment.point(low)) / (high - low)


@pytest.mark.parametrize("name", ["smock", "harbour-coat", "swim-set"])
def test_walked_lengths_are_those_of_an_integral(name: str) -> None:
    pattern = pattern_of(make(EvaluateRequest(design_named(name).document)))
    for seam in pattern.seams[:6]:
        walked = walk(pattern, seam)
        for layer, length in ((seam.a, walked.length_a), (seam.b, walked.length_b)):
            fragments = pattern.layer_fragments(layer)
            if any(f.low > 1e-6 or f.high < f.edge.path.length - 1e-6 for f in fragments):
                continue  # a part of an edge: its ends are no parameters of a segment
            whole = sum(
                quad(lambda t, s=segment: speed(s, t), 0.0, 1.0, limit=200)[0]
                for fragment in fragments
                for segment in fragment.edge.path.segments
            )
            pleats = sum(f.length for f in fragments) - length
            assert math.isclose(whole - pleats, length, abs_tol=0.01), (seam.name, whole, length)


# --- rules against drafting again -----------------------------------------------------------------

# mm by which any place of any piece, graded by rules read off the sizes 84 to 100, lies off its redraft at most
STRAYS = {
    "bodice.darted": 8.5, "collar": 0.1, "cuff": 0.1, "dress.sheath": 8.5, "hood": 7, "leggings": 5.5, "neckband": 0.1, "skirt.circle": 26,
    "skirt.straight": 0.5, "sleeve.set_in": 2.5, "swimsuit": 0.5, "top.cowl": 9, "top.dolman": 2, "top.knit": 4, "top.raglan": 8,
    "trousers.panels": 0.1, "trousers.tailored": 7, "tunic.panels": 4, "waistband": 0.1,
}  # fmt: skip


def sized(recipe: Recipe) -> Document:
    base = document(full_people()[0])
    return base.model_copy(update={"recipe": recipe, "grading": Grading(sizes=SIZES, base="92")})


@pytest.mark.parametrize("name", share(DRAWN, 2))
def test_rules_stray_from_drafting_again_by_no_more_than_stated(name: str) -> None:
    base = sized(Recipe.of(name))
    found = derived_rules(base)
    if not found.rules:
        assert found.findings, name
        return
    ruled = base.model_copy(update={"grading": base.grading.model_copy(update={"way": "rules", "rules": found.rules})})
    compared = {one.piece for one in found.rules}
    worst = 0.0
    for one, two in zip(nest_of(base).sizes, nest_of(ruled).sizes, strict=True):
        if one.pattern is None or two.pattern is None:
            continue
        worst = max([worst, *(item.by for item in apart(one.pattern, two.pattern) if item.piece in compared)])
    assert worst <= STRAYS[name], (name, worst)


@pytest.mark.parametrize("name", ORDER)
def test_every_size_of_a_design_passes_what_the_base_passes(name: str) -> None:
    table = "children" if name == "pinafore" else "men" if name in ("ringing-trousers", "tunic") else "women"
    sizes = tuple(size.name for size in shipped_table(table).sizes)[3:8]
    wanted = design_named(name).document.model_copy(
        update={"grading": Grading(table=table, sizes=sizes, base=sizes[2])}
    )
    nest = nest_of(wanted)
    allowed = {str(one.place) for one in nest.base.findings}
    for size in nest.sizes:
        assert size.pattern is not None
        new = [str(one.sentence) for one in size.findings if one.severity == "stops" and one.place not in allowed]
        assert not new, (size.name, new)


def test_a_childs_shoulder_grows_by_an_inch_for_the_seam_and_one_for_growth() -> None:
    """Check value 59: + 1" + 1", common practice; put on as a rule it is exact on the outline."""
    pattern = pattern_of(drafted("bodice.darted"))
    shoulder = pattern.piece("front").run("shoulder")[0].path
    way = shoulder.end - shoulder.start
    move = way / abs(way) * 2 * INCH
    names = [one.name for one in corners(pattern.piece("front"))]
    name = next(c for c in ("shoulder-armhole", "armhole-shoulder") if c in names)
    rule = GradeRule(piece="front", point=name, first="now", last="grown", dx=move.real, dy=move.imag)
    grown = graded(pattern, RuleTable(("now", "grown"), "now", (rule,)), "grown")
    assert math.isclose(grown.piece("front").run_length("shoulder") - abs(way), 2 * INCH, abs_tol=1e-3)


# --- blending -------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", [*DRAWN, *(f"design:{one}" for one in ORDER)])
def test_after_blending_a_line_runs_on_and_its_seam_is_as_long(name: str) -> None:
    chance = random.Random(name)
    for who in nine()[::4]:
        if name.startswith("design:"):
            base = design_named(name.removeprefix("design:")).document
            wanted = Document.model_validate({**base.parts(), "people": (who,), "wearer": who.name})
        else:
            wanted = document(who).model_copy(update={"recipe": Recipe.of(name)})
        pattern = make(EvaluateRequest(wanted)).pattern
        for join in joins(pattern) if pattern is not None else ():
            bent = pattern
            assert bent is not None
            try:
                for end in {(e.piece, e.edge, e.at_end): e for e in join.ends}.values():
                    turn = math.radians(chance.uniform(4, 12)) * chance.choice((-1, 1))
                    bent = _turned(bent, LineEnd(end.piece, end.edge, end.at_end, turn))
                now = next(one for one in joins(bent) if (one.name, one.label) == (join.name, join.label))
                smooth = blended(bent, now)
            except Refused:
                continue  # a piece so small that the line would cross itself
            after = next(one for one in joins(smooth) if (one.name, one.label) == (join.name, join.label))
            assert after.angle <= SMOOTH, (name, who.name, join.label, now.angle, after.angle)
            if join.seam:
                seam = bent.seam(join.seam.removesuffix("'"))
                for layer in seam.layers:
                    assert abs(smooth.length(layer) - bent.length(layer)) <= 0.05, (name, join.label)
