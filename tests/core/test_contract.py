"""The contract of the registries, and what holds of every block: edges that end somewhere, promises that can fail,
pieces that are cut from some cloth."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import pytest

from caddet.core.geometry.paths import Path
from caddet.core.hands.gesture import Gesture, begin
from caddet.core.hands.things import Thing, places_of, things
from caddet.core.laying.plan import plan_lay, roles_of
from caddet.core.made import Made
from caddet.core.pattern.edges import FINISHES
from caddet.core.pattern.ids import reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Promise
from caddet.core.recipe.choices import LayChoices
from caddet.core.recipe.parameters import KIND_WORDS
from caddet.core.recipe.registry import BLOCKS, STEPS, Block, Parameter
from caddet.core.shaping.hemline import hemmed
from tests.making import drafted, full_people, nine, pattern_of
from tests.share import IN_FULL, share

NAMES = sorted(BLOCKS)


def options_of(block: Block) -> Iterator[dict[str, Any]]:
    """The defaults, and each option at each of its other choices, off, or nothing."""
    yield {}
    for option in block.options:
        if option.kind == "choice":
            yield from ({option.name: key} for key, _ in option.choices if key != option.default)
        elif option.kind == "flag":
            yield {option.name: not option.default}
        elif option.is_amount and option.low <= 0 < option.default:
            yield {option.name: 0.0}
    if block.name == "dress.sheath":
        yield {"style": "a_line", "split": True}


def _described(parameter: Parameter, where: str) -> None:
    assert parameter.label and parameter.kind in KIND_WORDS, where
    assert not parameter.why or parameter.why[-1] in ".;", where
    if parameter.is_amount:
        assert parameter.low < parameter.high, f"{where}: an amount has limits"
        assert parameter.low <= parameter.default <= parameter.high, where
    if parameter.kind == "choice":
        assert len(parameter.choices) > 1 and all(key and words for key, words in parameter.choices), where
        assert parameter.default in [key for key, _ in parameter.choices], where


def test_every_block_and_step_describes_itself() -> None:
    for block in BLOCKS.values():
        assert block.label and block.about.endswith(".") and block.family != "Other", block.name
        figures = block.figures_for(block.option_values({}))
        assert figures and all(f.reason.endswith(".") and f.source for f in figures), block.name
        for option in block.options:
            _described(option, f"{block.name}.{option.name}")
        for level in block.ease:
            assert level.label and level.measure, block.name
    for step in STEPS.values():
        assert step.label and step.why.endswith(".") and step.source, step.kind
        assert len({parameter.name for parameter in step.parameters}) == len(step.parameters)
        for parameter in step.parameters:
            _described(parameter, f"{step.kind}.{parameter.name}")
        words = step.describe(step.shown_values({}))
        assert words and words[0] == words[0].lower() and not words.endswith("."), step.kind


@pytest.mark.parametrize("name", NAMES)
def test_every_edge_is_in_a_seam_on_the_fold_or_finished(name: str) -> None:
    for options in options_of(BLOCKS[name]):
        pattern = pattern_of(drafted(name, full_people()[2], **options))
        sewn = pattern.sewn()
        for p, piece in enumerate(pattern.pieces):
            for e, edge in enumerate(piece.edges):
                if edge.dart:
                    continue
                assert edge.finish in FINISHES
                ends = bool(edge.finish) or (p, e) in sewn
                assert ends, f"{edge.name} is in no seam and has no finish ({options})"
                assert not (edge.finish and (p, e) in sewn), f"{edge.name} is sewn and finished ({options})"
                assert edge.why or edge.finish not in ("raw", "joined"), f"{edge.name}: the reason is not stated"
        assert len({seam.name for seam in pattern.seams}) == len(pattern.seams)
        assert all(len(seam.joins) == len(seam.layers) - 1 for seam in pattern.seams)


def widened(piece: Piece, by: float) -> Piece:
    """Every point of the outline further to the right by a share: what is drawn inside stays where it is."""

    def wider(path: Path) -> Path:
        return Path.polyline([complex(p.real * by, p.imag) for p in path.flattened(0.02)])

    edges = [edge.with_path(wider(edge.path)) for edge in piece.edges]
    return replace(piece.with_edges(edges), features=piece.features)


def _holds(promise: Promise, pattern: Pattern) -> bool:
    off = promise.measured(pattern) - promise.target
    return off >= -promise.tolerance if promise.kind == "least" else abs(off) <= promise.tolerance


@pytest.mark.parametrize("name", NAMES)
def test_a_piece_widened_after_drafting_no_longer_holds(name: str) -> None:
    """Promises are measured on the finished outline: ten in a hundred wider or narrower fails on every block."""
    pattern = pattern_of(drafted(name, full_people()[2]))
    assert pattern.promises and all(_holds(promise, pattern) for promise in pattern.promises)
    for by in (1.1, 0.9):
        changed = replace(pattern, pieces=tuple(widened(piece, by) for piece in pattern.pieces))
        broken = [promise.name for promise in changed.promises if not _holds(promise, changed)]
        assert broken, f"{name} made {by} times as wide still keeps every promise"
    girths = [p for p in pattern.promises if any(type(one).__name__ in ("Girth", "FromFold") for one in p.of)]
    if girths:
        narrow = replace(pattern, pieces=tuple(widened(piece, 0.9) for piece in pattern.pieces))
        assert all(not _holds(promise, narrow) for promise in girths if promise.kind == "equal"), "every girth fails"


@pytest.mark.parametrize("name", NAMES)
def test_every_promise_says_what_it_measures(name: str) -> None:
    pattern = pattern_of(drafted(name))
    for promise in pattern.promises:
        assert promise.label and promise.words() and all(one.words() for one in promise.of), promise.name


@pytest.mark.parametrize("name", NAMES)
def test_every_piece_is_laid_on_some_cloth(name: str) -> None:
    """Facings, interfacing and what is cut from two cloths have lays of their own; none is left out."""
    for options in share(itertools.islice(options_of(BLOCKS[name]), 4), 2, NAMES.index(name)):
        made = drafted(name, full_people()[7], **options)
        laid: dict[str, int] = {}
        for role in roles_of(made.cut):
            cloth = made.document.cloth_for(role).model_copy(update={"width": 3000.0})
            plan = plan_lay(made.cut, cloth, LayChoices(fold="open"), role=role, seconds=0.05, most_tries=1)
            wanted = {cut.piece.name: cut.piece.count_of(role) for cut in made.cut if cut.piece.count_of(role)}
            found: dict[str, int] = {}
            for placed in plan.placed:
                found[placed.piece] = found.get(placed.piece, 0) + 1
            assert found == wanted, (role, options)
            laid |= found
        assert set(laid) == {cut.piece.name for cut in made.cut}


def test_a_facing_is_cut_from_two_cloths_and_a_bias_piece_lies_on_the_bias() -> None:
    tunic = drafted("tunic.panels")
    assert roles_of(tunic.cut) == ("main", "interfacing")
    facing = tunic.cut_piece("front_facing")
    assert [cut.cloth for cut in facing.piece.cuts] == ["main", "interfacing"]
    assert [line for line in facing.labels if "interfacing" in line] == ["cut 1 on the fold of interfacing"]
    cowl = drafted("top.cowl", full_people()[7], back="bias")
    cloth = cowl.document.chosen_cloth.model_copy(update={"width": 3000.0})
    for fold in ("open", "folded"):
        plan = plan_lay(cowl.cut, cloth, LayChoices(fold=fold), seconds=0.2)  # type: ignore[arg-type]
        for placed in plan.placed:
            piece = cowl.cut_piece(placed.piece).piece
            assert not placed.on_fold, "its grain does not run along the fold"
            along = placed.motion(piece.grain.b) - placed.motion(piece.grain.a)
            fold_edge = piece.run(piece.fold)[0].path
            across = placed.motion(fold_edge.end) - placed.motion(fold_edge.start)
            assert abs(along.imag) < 1e-6 and abs(abs(across.real) - abs(across.imag)) < 1e-3 * abs(across)


def test_a_stretched_band_lies_across_the_cloth() -> None:
    knit = drafted("top.knit")
    cloth = knit.document.chosen_cloth.model_copy(update={"width": 2000.0})
    plan = plan_lay(knit.cut, cloth, LayChoices(fold="open"), seconds=0.2)
    band = next(placed for placed in plan.placed if placed.piece == "neckband")
    piece = knit.cut_piece("neckband").piece
    run = piece.run("neckline")[0].path
    assert abs((band.motion(run.end) - band.motion(run.start)).real) < 1e-6, "the greatest stretch goes across"


@pytest.mark.parametrize(
    ("block", "band", "depth"),
    [
        ("waistband", "waistband", 30.0),
        ("cuff", "cuff", 60.0),
        ("neckband", "neckband", 20.0),
        ("skirt.straight", "waistband", 30.0),
        ("skirt.circle", "waistband", 30.0),
        ("trousers.tailored", "waistband", 35.0),
        ("leggings", "waistband", 50.0),
        ("top.knit", "neckband", 20.0),
        ("top.dolman", "collar", 220.0),
    ],
)
def test_a_folded_band_is_cut_twice_as_deep_and_shows_its_fold(block: str, band: str, depth: float) -> None:
    piece = pattern_of(drafted(block, **({"neck": "cowl"} if block == "top.dolman" else {}))).piece(band)
    box = piece.outline().bounds()
    assert box[3] - box[1] == pytest.approx(2 * depth), "the seam allowances come on top"
    fold = piece.feature("band_fold")
    assert fold is not None and fold.kind == "fold_line"
    ends = [piece.where(end) for end in (fold.bits[0].a, fold.bits[0].b)]
    assert all(abs(end.imag - depth) < 1e-6 for end in ends) and abs(ends[1] - ends[0]) == pytest.approx(
        box[2] - box[0]
    )


# --- steps on every block -------------------------------------------------------------------------


MOST_TRIED = 14  # things of a block that a step is begun on
BY_DEFAULT = (
    "band",
    "cut",
    "flare",
    "lengthen",
    "pivot_dart",
    "redraw",
    "slit",
)  # done with what they take by themselves
SHARE = 4  # blocks on which a step is done in ``make test``, others for every step; ``make soak`` does it on all
AT_LEAST = {  # blocks on which a step is done; 14 of 19 for the others
    "pivot_dart": 3, "slit": 8, "flare": 8, "dart_into": 6, "dart_legs": 6, "dart_merge": 4, "dart_point": 6, "dart_share": 3,
    "princess": 6, "centre_seam": 10, "unfold": 10, "onto_fold": 3, "separate": 11, "take_away": 13, "join_seam": 7, "dart_contour": 9, "neckline": 4,
    "armhole": 4, "widen": 9, "hem_shape": 10,
    "full_seat": 3, "flat_seat": 3,
    "tummy": 1, "round_back": 2, "sway_back": 2, "waist_shape": 4, "shoulder_slope": 5, "wrap_front": 6,
    "full_bust": 4, "full_arm": 3, "shoulder_forward": 3, "shoulder_one": 5, "vent": 8, "cut_out": 14, "asymmetric_front": 6, "dart_close": 4,
    "sewn_as": 6, "all_in_one_facing": 5, "belt_loops": 9, "centre_pleat": 11, "faced_slit": 10, "fly": 1, "gores": 11, "grown_on_facing": 8,
    "gusset": 5, "motifs": 0, "pad_layer": 7, "slanted_pocket": 2, "side_pocket": 11, "button_stand": 5, "casing": 4, "edge_elastic": 10, "tucks": 8, "turn_up": 8, "zip": 8, "ruched_seam": 6,
    # what puts right finds nothing to put right on a clean block, and says so
    "agree": 0, "blend": 0, "dart_even": 0, "halves_even": 0, "sew": 0, "grain_even": 8, "dart_slide": 5,
}  # fmt: skip


def _asked(hand: Gesture, piece: Piece) -> Gesture:
    """What a step asks for, pointed at on one piece: its longest edge, a place, points, a line across its middle."""
    runs = [
        key for key in piece.runs() if piece.run(key)[0].finish not in ("fold", "opening") and len(piece.run(key)) == 1
    ]
    if not runs:
        return hand
    key = max(runs, key=piece.run_length)
    left, top, right, bottom = piece.outline().bounds()
    middle = complex((left + right) / 2, (top + bottom) / 2)
    for _ in range(4):
        asked = hand.asked
        if asked is None or asked not in hand.missing:
            break
        match asked.kind:
            case "edges":
                hand = hand.chose(Thing("edge", key))
            case "line":
                hand = hand.drawn(piece.name, middle - (right - left) * 0.4, middle + (right - left) * 0.4)
            case _:
                at, way, _ = piece.run_point(key, piece.run_length(key) * 0.45)
                hand = hand.clicked(piece.name, at + way * 2j)
    return hand


def _pointed(hand: Gesture, piece: Piece) -> Gesture:
    """What a step asks for, pointed at on one piece: places on runs without darts in turn, points in its middle."""
    runs = [key for key in piece.runs() if len(piece.run(key)) == 1 and not piece.run(key)[0].finish]
    left, top, right, bottom = piece.outline().bounds()
    for key in runs or piece.runs():
        asked = hand.asked
        if asked is None or asked not in hand.missing:
            break
        if asked.kind == "place":
            hand = hand.clicked(piece.name, piece.run_point(key, piece.run_length(key) * 0.5)[0])
        elif asked.kind == "points":
            hand = hand.clicked(piece.name, complex((left + right) / 2, (top + bottom) / 2))
        else:
            return _asked(hand, piece)
    return hand


def tried_on_things(kind: str, name: str) -> tuple[str, Made]:
    """How a step goes on a block when it is begun on the things that it suits, one after another, until it is done."""
    from tests.making import step as entry_of

    step, plain = STEPS[kind], drafted(name, full_people()[2])
    pattern, context = pattern_of(plain), plain.evaluated.sources[0].context
    reason = step.fits(pattern)
    if reason:
        return reason, plain
    fitting = sorted((one for one in things(pattern) if one.kind in step.suits), key=lambda one: step.suits[one.kind])
    reason = f"nothing that “{step.label}” suits is on this block"
    attempts = 0
    for thing in fitting:
        if attempts == MOST_TRIED:
            break
        hand = begin(step, pattern, context, (thing,))
        hand = _pointed(hand, pattern.piece(places_of(pattern, thing)[0].piece))
        reason = step.refuses(pattern, hand.plain) or (str(hand.asks) if hand.missing else "")
        if reason:
            continue
        attempts += 1
        made = drafted(name, full_people()[2], steps=(entry_of(kind, **hand.plain),))
        reason = str(made.evaluated.outcomes[0].stuck)
        if not reason:
            return "", made
    return reason, plain


def tried(kind: str, name: str) -> tuple[str, Made]:
    """How a step with values that a hand would give goes on a block: done, or the reason why not."""
    if kind not in BY_DEFAULT:
        return tried_on_things(kind, name)
    step = STEPS[kind]
    plain = drafted(name, full_people()[2])
    pattern = pattern_of(plain)
    reason = step.fits(pattern)
    context = plain.evaluated.sources[0].context
    hand = begin(step, pattern, context)
    for piece in pattern.pieces if hand.missing else ():
        hand = _asked(begin(step, pattern, context), piece) if hand.missing else hand
    amounts = [one for one in hand.handles if hand.step.parameters and one.parameter in ("amount", "height")]
    if amounts and not reason:
        hand = hand.set(amounts[0].parameter, 20.0)
    values: dict[str, Any] = {parameter.name: parameter.default for parameter in step.parameters} | dict(hand.plain)
    grips = amounts
    if kind == "flare" and not grips:
        edges = [key for piece in pattern.pieces for key in piece.runs()]
        seams = [k for k in edges if pattern.pieces[pattern.edges(reference(k))[0][0]].run(k)[0].finish == ""]
        values["edges"] = tuple(seams[:1])
    if kind == "band" and not reason:
        values["edges"] = (next(key for piece in pattern.pieces for key in piece.runs()),)
    if kind == "lengthen" and not hemmed(pattern):
        alike = [p for p in pattern.pieces if p.outline().bounds()[3] > pattern.pieces[0].outline().bounds()[3] * 0.8]
        box = pattern.pieces[0].outline().bounds()
        values |= {"pieces": tuple(p.name for p in alike), "at": (box[1] + box[3]) / 2 - 1.0, "amount": 5.0}
    from tests.making import step as entry_of

    made = drafted(name, full_people()[2], steps=(entry_of(kind, **values),))
    return reason or made.evaluated.outcomes[0].stuck, made


@pytest.mark.parametrize("kind", sorted(STEPS))
def test_a_step_is_done_on_every_block_or_says_why_not(kind: str) -> None:
    done, turn = 0, sorted(STEPS).index(kind)
    enough = len(NAMES) if IN_FULL else SHARE
    for name in (*NAMES[turn % len(NAMES) :], *NAMES[: turn % len(NAMES)]):
        if done >= enough:
            break
        reason, made = tried(kind, name)
        if reason:
            assert len(reason) > 15 and "Error" not in reason, (name, reason)
            continue
        done += 1
        assert not [f for f in made.findings if f.code == "step.shape"], (name, kind)
        broken = [line.name for line in made.proof if line.kind == "closure" and line.verdict != "holds"]
        before = [
            line.name
            for line in drafted(name, full_people()[2]).proof
            if line.kind == "closure" and line.verdict != "holds"
        ]
        if any(
            finding.code == "step.seam" for finding in made.findings
        ):  # told: the other side of the seam has to follow
            agreeing = {one.name for one in pattern_of(made).promises if one.agrees}
            assert set(broken) - set(before) <= agreeing, (name, kind)
            continue
        assert broken == before, (name, kind, "breaks a promise it does not mean to change")
    assert done >= min(AT_LEAST.get(kind, 14), enough), f"{kind} was done on {done} blocks"


def test_steps_on_runs_that_neither_changes_commute() -> None:
    from tests.making import pivot, step, whole_bodies

    pairs = (
        (
            step("slit", edges=("back.centre_back",), height=120.0),
            step("pivot_dart", **pivot("front.front_dart", "front.side", 120.0)),
        ),
        (step("flare", edges=("side",), amount=30.0), step("slit", edges=("back.centre_back",), height=120.0)),
        (
            step("pivot_dart", **pivot("front.front_dart", "front.side", 90.0)),
            step("pivot_dart", **pivot("back.back_dart", "back.side", 90.0)),
        ),
    )
    for who in whole_bodies()[::60]:
        for one, other in pairs:
            there, back = (drafted("skirt.straight", who, steps=steps) for steps in ((one, other), (other, one)))
            if any(o.stuck for m in (there, back) for o in m.evaluated.outcomes):
                continue
            for p, q in zip(pattern_of(there).pieces, pattern_of(back).pieces, strict=True):
                assert p.name == q.name and p.polygon() == pytest.approx(q.polygon(), abs=1e-6)
                assert [e.name for e in p.edges] == [e.name for e in q.edges]


def test_nine_bodies_are_small_tall_full_and_growing() -> None:
    heights = [who.measures["height"] for who in nine()]
    assert len(heights) == 9 and min(heights) < 1300 and max(heights) > 1800
