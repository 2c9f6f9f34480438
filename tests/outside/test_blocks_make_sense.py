"""Facts any cutter would hold a block to: allowances by shapely, bigger bodies bigger pieces, drawings of a body's size."""

from __future__ import annotations

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from caddet.core.body.known import known_measures
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.fitting.line_drawing import line_drawing
from caddet.core.geometry.segments import Motion
from caddet.core.laying.items import Shape
from caddet.core.laying.raster import Layout, Spot, compacted
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.needed import wanted_measures
from caddet.core.recipe.registry import BLOCKS
from tests.making import drafted, pattern_of, whole_bodies

NAMES = sorted(BLOCKS)
PEOPLE = {who.name: who for who in demo_document().people}


def measured(name: str, who: Person) -> dict[str, float]:
    block = BLOCKS[name]
    return {
        code: what.value
        for code, what in known_measures(who, (*block.needs_for({}), *block.uses)).items()
        if what is not None
    }


def cloth(pattern: Pattern) -> float:
    """How much cloth all the pieces cover, in mm²: shapely's areas, times how often each is cut."""
    return sum(
        shapely.Polygon([(p.real, p.imag) for p in piece.polygon()]).area * piece.cut * (2 if piece.fold else 1)
        for piece in pattern.pieces
    )


@pytest.mark.parametrize("name", NAMES)
def test_every_cut_line_goes_round_its_stitch_line_at_its_allowance(name: str) -> None:
    """In the middle of every straightish edge the cut line is as far off as asked; nowhere does it come closer to less than nothing."""
    made = drafted(name)
    for cut in made.cut:
        line = shapely.LinearRing([(p.real, p.imag) for p in cut.polygon(0.01)])
        inside = shapely.Polygon([(p.real, p.imag) for p in cut.piece.polygon()])
        outside = shapely.Polygon(line)
        assert outside.buffer(0.1).covers(inside), cut.piece.name
        amounts = dict(cut.allowances)
        for edge in cut.piece.edges:
            if edge.dart or edge.path.length < 60:
                continue
            asked = 0.0 if edge.finish == "fold" else amounts[edge.id]
            middle = edge.path.point_at(edge.path.length / 2)
            off = line.distance(shapely.Point(middle.real, middle.imag))
            assert off <= asked + 0.1, (cut.piece.name, edge.name)
            assert off == pytest.approx(asked, abs=0.6) or edge.path.length < 4 * asked, (cut.piece.name, edge.name)


@pytest.mark.parametrize("who", ["Odile", "Bram", "Ishbel", "Wren"])
@pytest.mark.parametrize("name", NAMES)
def test_a_body_larger_all_over_takes_more_cloth(name: str, who: str) -> None:
    """Four in a hundred larger in every measure: at most that squared, and always more."""
    small = measured(name, PEOPLE[who])
    large = {code: value * 1.04 for code, value in small.items()}
    before = cloth(pattern_of(drafted(name, Person.of("Small", small))))
    after = cloth(pattern_of(drafted(name, Person.of("Large", large))))
    assert before < after < before * 1.04**2 * 1.03


@pytest.mark.parametrize("name", NAMES)
def test_a_larger_girth_never_takes_less_cloth(name: str) -> None:
    """One of its girths at a time: never noticeably less cloth (a wider neck takes some away)."""
    full = measured(name, PEOPLE["Odile"])
    plain = cloth(pattern_of(drafted(name, Person.of("A", full))))
    for code in wanted_measures(Recipe.of(name)).needs:
        if MEASURES[code].kind == "girth" and code != "neck":
            made = drafted(name, Person.of("A", full | {code: full[code] * 1.03}))
            assert cloth(pattern_of(made)) > plain * 0.985, code


@pytest.mark.parametrize("who", ["Odile", "Bram", "Ishbel", "Wren"])
@pytest.mark.parametrize("name", NAMES)
def test_line_drawings_are_of_a_bodys_size_and_alike_left_and_right(name: str, who: str) -> None:
    height = PEOPLE[who].measures["height"]
    pattern = pattern_of(drafted(name, PEOPLE[who]))
    seen = 0
    for view in ("front", "back"):
        drawing = line_drawing(pattern, view)  # type: ignore[arg-type]
        if not drawing.shapes:
            continue
        seen += 1
        left, top, right, bottom = drawing.bounds
        assert 0 < bottom - top < height and 0 < right - left < 1.9 * height
        assert all(len(shape) >= 3 for shape in drawing.shapes)
        if name.partition(".")[0] in ("bodice", "dress", "skirt", "swimsuit", "top", "trousers", "tunic", "leggings"):
            assert left == pytest.approx(-right, abs=max(25.0, 0.03 * (right - left))), view
    assert seen, "it shows something from one side at least"


@pytest.mark.parametrize("body", range(0, 254, 23))
def test_back_and_front_of_trousers_are_as_a_cutter_has_them(body: int) -> None:
    """The back fork reaches further than the front, its seat seam is longer, and the inside legs meet."""
    pattern = pattern_of(drafted("trousers.tailored", whole_bodies()[body]))
    front, back = pattern.piece("front"), pattern.piece("back")
    assert back.run_length("crotch") > front.run_length("crotch")
    for piece in (front, back):
        left, top, right, bottom = piece.outline().bounds()
        assert bottom - top > right - left, "longer than wide"
    widths = [piece.outline().bounds()[2] - piece.outline().bounds()[0] for piece in (front, back)]
    assert widths[1] > widths[0]


@pytest.mark.parametrize("body", range(0, 254, 23))
@pytest.mark.parametrize("length", ["long", "three_quarter", "short"])
def test_sleeves_end_where_they_should(body: int, length: str) -> None:
    """Long, three-quarter, short: each shorter than the one before, and wider at its end."""
    who = whole_bodies()[body]
    made = drafted("bodice.darted", who, sleeve_length=length)
    sleeve = pattern_of(made).piece("sleeve")
    _, top, _, bottom = sleeve.outline().bounds()
    arm = made.sums["sleeve_long"].value
    assert bottom - top == pytest.approx(arm, abs=25)
    longer = pattern_of(drafted("bodice.darted", who)).piece("sleeve")
    if length != "long":
        assert sleeve.run_length("hem") > longer.run_length("hem")
        assert bottom - top < longer.outline().bounds()[3] - longer.outline().bounds()[1]


slanted = st.tuples(st.floats(40, 300), st.floats(20, 200), st.floats(-150, 150))
places = st.lists(st.tuples(slanted, st.floats(0, 60), st.floats(0, 400)), min_size=2, max_size=7)


@settings(max_examples=60, deadline=None)
@given(places)
def test_compacting_keeps_any_slanted_pieces_apart(
    entries: list[tuple[tuple[float, float, float], float, float]],
) -> None:
    """Slanted bars laid clear of each other stay clear, none lies further on than before, and none goes off the cloth."""
    spots: list[Spot] = []
    taken: list[shapely.Polygon] = []
    for index, ((long, wide, slant), gap, y) in enumerate(entries):
        shift = max(-slant, 0.0)
        outline = (
            complex(shift, 0),
            complex(shift + long, 0),
            complex(shift + long + slant, wide),
            complex(shift + slant, wide),
        )
        shape = Shape(outline, Motion(), 0.0, False)
        x = 0.0
        while True:
            lying = shapely.Polygon([((p.real + x), (p.imag + y)) for p in outline])
            if all(lying.distance(other) >= 3.0 + gap for other in taken):
                break
            x += 17.0
        taken.append(lying)
        spots.append(Spot(index, shape, complex(x, y), False))
    before = {spot.item: spot.at.real for spot in spots}
    after = compacted(Layout(tuple(spots), 9999.0), 3.0)
    lying = [shapely.Polygon([((p + s.at).real, (p + s.at).imag) for p in s.shape.outline]) for s in after.spots]
    for index, one in enumerate(lying):
        assert all(one.distance(other) >= 3.0 - 1e-6 for other in lying[:index])
    assert sorted(spot.item for spot in after.spots) == sorted(before)
    assert all(0 <= spot.at.real <= before[spot.item] + 1e-9 for spot in after.spots)
    assert after.length == pytest.approx(max(one.bounds[2] for one in lying))
