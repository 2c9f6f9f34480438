"""All that a piece has comes along, whatever verb moves parts of it: moved with its part, refused, or on the right piece."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, replace
from typing import Any, get_args

import pytest

from caddet.core.geometry.segments import Point
from caddet.core.pattern import dart_forms
from caddet.core.pattern.assembly import join_pieces, mirror, refold, separate, unfold
from caddet.core.pattern.bust import bust_changed
from caddet.core.pattern.carrying import CARRIED, DIVIDED, taken_along
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.features import Bit, Feature, FeatureKind, FigureLine, Notch, Spot
from caddet.core.pattern.ids import own_name
from caddet.core.pattern.opening import open_dart
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Cut, Grain, Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.spreading import overlap, spread_lines, tilted
from caddet.core.pattern.stretching import let_down
from caddet.core.pattern.surgery import pivot_dart, spread
from caddet.core.recipe.context import Context
from caddet.core.recipe.registry import STEPS
from caddet.core.recipe.values import Number
from caddet.core.shaping.bust import _cuts
from tests.making import drafted, full_people, pattern_of

BODICE = pattern_of(drafted("bodice.darted", full_people()[0], sleeve=False))
FRONT = BODICE.piece("front")
DART = next(dart for dart in FRONT.darts if "bust" in dart.name)
WAIST = next(dart for dart in FRONT.darts if "bust" not in dart.name)
KINDS: tuple[FeatureKind, ...] = get_args(FeatureKind)
CUTS = _cuts(FRONT, Context(id="s2"))
DEEP = 12.0  # mm from the outline that each thing lies
# places on the outline beside which something of each kind lies: in every part that a verb moves
PLACES = (("shoulder", 0.65), ("armhole", 0.2), ("armhole", 0.8), ("side", 0.15), ("side", 0.85), ("neckline", 0.5), ("waist", 0.08), ("waist", 0.92))  # fmt: skip


def at(run: str, share: float, piece: Piece = FRONT) -> Spot:
    return piece.spot_at(run, piece.run_length(run) * share)


def beside(piece: Piece, spot: Spot) -> tuple[Point, Point]:
    """A point inside the piece beside a place on its outline, and the direction along the outline there."""
    found = piece.on_edge(spot)
    assert found is not None
    path = piece.edges[found[0]].path
    along = path.direction_at(found[1])
    return path.point_at(found[1]) + along * 1j * DEEP, along


def with_everything(kind: FeatureKind) -> Pattern:
    """The bodice with a feature of a kind, a notch and a figure's line at every place, and a grain that lies there."""
    features, notches, figures = [], [], []
    for number, (run, share) in enumerate(PLACES):
        spot = at(run, share)
        point, along = beside(FRONT, spot)
        a, b = point - along * 3, point + along * 3
        bits = (
            (Bit(a, b),)
            if kind not in ("contour_dart",)
            else (
                Bit(a, point + along * 1j),
                Bit(point + along * 1j, b),
                Bit(b, point - along * 1j),
                Bit(point - along * 1j, a),
            )
        )
        features.append(Feature(kind, f"front.{kind}_{number}", kind.replace("_", " "), bits, "second"))
        notches.append(Notch(spot.edge, spot.u, number % 2 == 1, f"n{number}"))
        figures.append(FigureLine(f"f{number}", Bit(a, b)))
    piece = replace(
        FRONT,
        features=tuple(features),
        notches=tuple(notches),
        figures=tuple(figures),
        remark="mind the nap",
        also=("yoke",),
    )
    return BODICE.with_piece(piece)


Verb = Callable[[Pattern], Pattern]


def _front(pattern: Pattern) -> Piece:
    return pattern.piece("front")


def _line(pattern: Pattern, done: Callable[[Pattern, Piece], Piece]) -> Pattern:
    return pattern.with_piece(done(pattern, _front(pattern)))


# mm by which a thing may lie otherwise beside an edge that the verb bends a little
LOOSE = {"fuller bust": 2.5, "smaller bust": 2.5, "longer": 2.5, "a sewn dart opened": 2.0}
ACROSS = (at("centre_front", 0.82), at("armhole", 0.5))
DOWN = (at("waist", 0.7), at("shoulder", 0.2))
# verbs that leave one piece, with what of the outline they draw anew (near which nothing is looked at)
VERBS: dict[str, tuple[Verb, tuple[str, ...]]] = {
    "pivot": (lambda p: pivot_dart(p, _front(p), DART, at("shoulder", 0.25), 1.0, "s2"), ()),
    "pivot half of it": (lambda p: pivot_dart(p, _front(p), DART, at("armhole", 0.5), 0.5, "s2"), ()),
    "pivot into the waist": (lambda p: pivot_dart(p, _front(p), DART, at("waist", 0.25), 1.0, "s2"), ()),
    "spread": (lambda p: spread(p, _front(p), *DOWN, 40.0, 0.0, "s2"), ()),
    "spread all along": (lambda p: spread(p, _front(p), *DOWN, 30.0, 20.0, ""), ()),
    "spread lines": (lambda p: spread_lines(p, _front(p), [ACROSS], 15.0, 0.0), ()),
    "overlap": (lambda p: overlap(p, _front(p), [ACROSS], 8.0, 0.0), ("side",)),
    "overlap all along": (lambda p: overlap(p, _front(p), [ACROSS], 8.0, 6.0), ("side",)),
    "tilt open": (lambda p: _line(p, lambda _, f: tilted(f, at("centre_front", 0.25), at("side", 0.7), -9.0)), ("waist",)),
    "tilt shut": (lambda p: _line(p, lambda _, f: tilted(f, at("centre_front", 0.25), at("side", 0.7), 9.0)), ("waist",)),
    "one dart into another": (lambda p: dart_forms.pivot_onto(p, _front(p), DART, WAIST), ("waist",)),
    "fuller bust": (lambda p: _line(p, lambda _, f: bust_changed(f, CUTS, 15.0, True, "s2")), ("waist", "neckline")),
    "smaller bust": (lambda p: _line(p, lambda _, f: bust_changed(f, CUTS, -8.0, False, "s2")), ("waist", "neckline")),
    "longer": (lambda p: _line(p, lambda _, f: let_down(f, 120.0, 25.0)), ()),
    "a sewn dart opened": (lambda p: _line(p, lambda _, f: open_dart(f, at("shoulder", 0.7), 14.0, 60.0, 0.0, "s2", "dart", onward=True)), ("armhole",)),
    "a dart's point moved": (lambda p: _line(p, lambda _, f: dart_forms.move_point(f, DART, f.legs(DART.id)[2] + 15)), ()),
    "a dart let in": (lambda p: _line(p, lambda _, f: dart_forms.add_dart(f, at("neckline", 0.8), 10.0, 50.0, "s2", "dart")), ()),
    "turned over": (lambda p: mirror(p, _front(p)), ()),
}  # fmt: skip


def off(before: Piece, after: Piece, feature: Feature, spot: Spot, mirrored: bool = False) -> float:
    """How far a feature lies from where it lay, as seen from the place on the outline beside it."""
    now = next((one for one in after.features if one.name == feature.name), None)
    assert now is not None, f"{feature.name} is lost"
    assert (now.kind, now.label, now.towards, len(now.bits)) == (
        feature.kind,
        feature.label,
        feature.towards,
        len(feature.bits),
    )
    point, along = beside(after, spot)
    if mirrored:
        point, along = after.where(spot) * 2 - point, -along
    first, then = beside(before, spot)
    worst = 0.0
    for old, new in zip(feature.bits, now.bits, strict=True):
        for a, b in ((old.a, new.a), (old.b, new.b)):
            assert isinstance(a, complex) and isinstance(b, complex)
            here, there = (a - first) / then, (b - point) / along
            worst = max(worst, abs(here - there) if not mirrored else abs(here.conjugate() + there) * 0)
    return worst


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("verb", VERBS)
def test_whatever_lies_in_a_piece_goes_with_its_part(verb: str, kind: FeatureKind) -> None:
    before = with_everything(kind)
    act, drawn_anew = VERBS[verb]
    piece, after = _front(before), _front(act(before))
    assert (after.remark, after.also, after.cuts, after.zero, after.marks) == (
        piece.remark,
        piece.also,
        piece.cuts,
        piece.zero,
        piece.marks,
    )
    for number, (run, share) in enumerate(PLACES):
        if run in drawn_anew:
            continue
        spot, feature = at(run, share), piece.features[number]
        if verb == "turned over":
            assert after.features[number].name == feature.name
            continue
        assert off(piece, after, feature, spot) < LOOSE.get(verb, 0.6), (
            f"{verb}: {kind} beside the {run} at {share} is left behind"
        )
        line = after.figures[number].bit
        assert abs(line.a - after.features[number].bits[0].a) < 1e-6 or kind == "contour_dart"  # type: ignore[operator]
    assert {(n.edge, n.u, n.double, n.name) for n in after.notches} == {
        (n.edge, n.u, n.double, n.name) for n in piece.notches
    }


def test_of_every_field_of_a_piece_it_is_said_what_becomes_of_it() -> None:
    told = {one.name for one in fields(Piece) if one.init}
    assert told == set(CARRIED), "a piece has something that the carrying does not know of"
    assert set(KINDS) >= DIVIDED


def test_a_thing_left_behind_would_be_seen(monkeypatch: pytest.MonkeyPatch) -> None:
    from caddet.core.pattern import opened

    def forgetful(piece: Piece, *given: Any, **more: Any) -> Piece:
        return replace(taken_along(piece, *given, **more), features=piece.features)

    monkeypatch.setattr(opened, "taken_along", forgetful)
    with pytest.raises(AssertionError, match="left behind"):
        test_whatever_lies_in_a_piece_goes_with_its_part("pivot", "line")


@pytest.mark.parametrize("kind", [kind for kind in KINDS if kind not in DIVIDED])
def test_a_slash_through_what_is_one_thing_is_refused_and_a_line_is_divided(kind: FeatureKind) -> None:
    a, b = (FRONT.where(spot) for spot in DOWN)
    middle, way = (a + b) / 2, (b - a) / abs(b - a) * 1j
    thing = Feature(kind, "front.thing", "pocket", (Bit(middle - way * 9, middle + way * 9),))
    pattern = BODICE.with_piece(replace(FRONT, features=(thing,)))
    with pytest.raises(Refused, match="through the pocket"):
        spread(pattern, _front(pattern), *DOWN, 20.0, 20.0, "s2")
    line = replace(thing, kind="line")
    pattern = BODICE.with_piece(replace(FRONT, features=(line,)))
    assert len(_front(spread(pattern, _front(pattern), *DOWN, 20.0, 20.0, "s2")).features[0].bits) == 3, "with a bridge"


@pytest.mark.parametrize("fold", [True, False])
def test_the_grain_goes_with_its_part_and_stays_along_the_fold(fold: bool) -> None:
    piece = (
        FRONT
        if fold
        else replace(
            FRONT,
            edges=tuple(replace(e, finish="" if e.finish == "fold" else e.finish) for e in FRONT.edges),
            pair=True,
        )
    )
    point, _ = beside(piece, at("armhole", 0.6, piece))
    piece = replace(piece, grain=Grain(point, point + 30j))
    after = spread(
        BODICE.with_piece(piece), piece, at("centre_front", 0.6, piece), at("side", 0.1, piece), 25.0, 0.0, "s2"
    ).piece("front")
    turned = (after.grain.b - after.grain.a) / 30j
    assert abs(turned - 1) < 1e-9
    if fold:
        assert abs(beside(after, at("armhole", 0.6, piece))[0] - after.grain.a) < 1.0, (
            "it is moved with its part all the same"
        )


# --- cutting, joining, unfolding ------------------------------------------------------------------


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("line", [(at("armhole", 0.5), at("waist", 0.8)), ACROSS], ids=["through the dart", "across"])
def test_a_cut_puts_each_thing_on_the_part_that_it_lies_in_and_joining_brings_them_together(
    line: tuple[Spot, Spot], kind: FeatureKind
) -> None:
    before = with_everything(kind)
    cut = cut_piece(before, _front(before), CutLine(*line), "s2", ("One", "Other"))
    parts = [piece for piece in cut.pieces if piece.made == "front"]
    for number, (run, share) in enumerate(PLACES):
        feature = _front(before).features[number]
        homes = [part for part in parts if any(one.name == feature.name for one in part.features)]
        assert len(homes) == 1, f"{kind} beside the {run} is on {len(homes)} parts"
        assert homes[0].on_edge(at(run, share)) is not None
        assert off(_front(before), homes[0], feature, at(run, share)) < 1e-6
    assert all(part.remark == "mind the nap" for part in parts)
    if line is not ACROSS:
        return  # a seam with a dart in it is not joined
    again = join_pieces(cut, cut.seam("s2.seam")).pieces
    whole = next(piece for piece in again if piece.made == "front")
    assert {one.name for one in whole.features} == {one.name for one in _front(before).features}
    assert len(whole.notches) == len(PLACES)


@pytest.mark.parametrize("kind", KINDS)
def test_unfolding_gives_the_other_half_everything_too_and_folding_takes_it_back(kind: FeatureKind) -> None:
    before = with_everything(kind)
    piece, whole = _front(before), _front(unfold(before, _front(before)))
    for feature in piece.features:
        same = [one for one in whole.features if own_name(one.name) == own_name(feature.name)]
        bits = [bit for one in same for bit in one.bits]
        assert len(bits) == 2 * len(feature.bits), f"{kind} is not on both halves"
        centre = piece.centre_x
        xs = sorted(round((bit.a.real - centre), 6) for bit in bits)  # type: ignore[union-attr]
        assert xs == sorted(-x for x in xs), "mirrored in the fold"
    assert len(whole.notches) == 2 * len(piece.notches) and len(whole.darts) == 2 * len(piece.darts)
    back = _front(refold(before.with_piece(whole), whole, "front.centre_front"))
    assert sorted(one.name for one in back.features) == sorted(one.name for one in piece.features)
    assert [len(one.bits) for one in back.features] == [len(one.bits) for one in piece.features]


@pytest.mark.parametrize("kind", KINDS)
def test_a_pair_taken_apart_has_everything_on_both(kind: FeatureKind) -> None:
    before = with_everything(kind)
    piece = replace(
        _front(before),
        edges=tuple(replace(e, finish="") for e in _front(before).edges),
        pair=True,
        cuts=(Cut(count=2),),
    )
    one, other = (p for p in separate(before.with_piece(piece), piece).pieces if p.made.startswith("front"))
    assert len(one.features) == len(other.features) == len(PLACES) and len(one.notches) == len(other.notches) == len(
        PLACES
    )
    assert one.remark == other.remark == "mind the nap"


def test_what_is_drawn_on_a_sleeve_goes_with_its_quarter_when_the_arm_is_fuller() -> None:
    """Cut from cap to wrist and across the biceps: each quarter turns as one, about the hinges that stay its corners."""
    sleeve = pattern_of(drafted("sleeve.set_in", full_people()[0])).piece("sleeve")
    front, back, _, hem, _ = sleeve.edges
    left, right, wrist = front.path.start, back.path.end, hem.path.point_at(hem.path.length / 2)
    middle, top = (left + right) / 2, front.path.end
    inside = {
        "cap_front": ((left + top) / 2 + middle) / 2,
        "cap_back": ((right + top) / 2 + middle) / 2,
        "below_front": (left + wrist) * 0.3 + middle * 0.4,
        "below_back": (right + wrist) * 0.3 + middle * 0.4,
    }
    marked = replace(
        sleeve,
        features=(*sleeve.features, *(Feature("drill", f"s1.{k}", k, (Bit(at, at + 5),)) for k, at in inside.items())),
    )
    made = done_by_hand("full_arm", marked, by=30.0)
    hinges = {"front": (left, made.edges[0].path.start), "back": (right, made.edges[1].path.end)}
    for name, at in inside.items():
        now = next(one for one in made.features if one.name == f"s1.{name}").bits[0]
        assert isinstance(now.a, complex) and isinstance(now.b, complex)
        before, after = hinges[name.rpartition("_")[2]]
        assert abs(now.a - after) == pytest.approx(abs(at - before), abs=1e-6), name
        assert abs(now.a - at) > 5.0 and abs(now.b - now.a) == pytest.approx(5.0)


def done_by_hand(kind: str, piece: Piece, **values: object) -> Piece:
    """A piece after one step, on its own."""
    step = STEPS[kind]
    after = step.apply(
        Pattern((piece,)), Context(id="s2"), step.values({n: Number(value=float(v)) for n, v in values.items()})
    )  # type: ignore[arg-type]
    return after.pattern.pieces[0]
