"""The rounds over garments: every block and option on every body, every step on every block, verbs on every body."""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Sequence
from typing import Any

from caddet.core.body.person import Person
from caddet.core.formats.listing import pieces_listing
from caddet.core.formats.project import no_pictures, read_project, to_bytes
from caddet.core.hands.gesture import begin, take_up, with_gesture
from caddet.core.hands.things import Thing, places_of, things
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.promises import Girth, Promise
from caddet.core.pipeline import make
from caddet.core.recipe import edits
from caddet.core.recipe.evaluate import StageCache
from caddet.core.recipe.history import History
from caddet.core.recipe.registry import BLOCKS, STEPS, Parameter, Step, step_entry
from caddet.core.recipe.values import Corner, Place
from tests.core.test_contract import options_of
from tests.making import drafted, full_people, legs_of, whole_bodies
from tests.outside.cloth import joints, level_girth
from tests.outside.test_blocks_on_bodies import faults
from tests.soak.figures import Figures
from tests.surgery import chain, consistent, random_surgery


def everybody() -> list[Person]:
    """The 14 with every measure and the 254 adults."""
    return [*full_people(), *whole_bodies()]


def block_rounds(block: str) -> Figures:
    """A block with each of its options on every body: promises measured on the outline, pieces, a sentence if stuck."""
    figures = Figures()
    people = everybody()
    for who in people:
        for options in options_of(BLOCKS[block]):
            said = f"{block} {options} on {who.name}"
            try:
                made = drafted(block, who, **options)
            except Exception as error:
                figures.wrong.append(f"{said}: {type(error).__name__}: {error}")
                continue
            figures.counts["drafts"] += 1
            if made.pattern is None:
                figures.counts["that can't be drafted, with a sentence"] += 1
                if not made.findings:
                    figures.wrong.append(f"{said}: no pattern and no word why")
                continue
            if any(finding.code == "draft.shape" for finding in made.findings):
                figures.counts["that can't be cut, and say so"] += 1
                continue
            _hold(figures, made.pattern, said)
            if not options:
                _closed(figures, made, said)
            if not options or who in people[:WHOLE]:
                _measure(figures, made, said)
    return figures


WHOLE = 14  # people with every measure, who come first
FORKS = ("inseam", "front_crotch", "back_crotch")
PANELS = ("tunic.panels", "trousers.panels")  # cut by the thread: their corners are meant


def _measure(figures: Figures, made: Made, said: str) -> None:
    """As a cutter would, from the listing alone: lines over seams, and girths by section against what is promised."""
    listing = pieces_listing(made)
    figures.counts["measured from outside"] += 1
    assert made.pattern is not None
    if made.document.recipe.block not in PANELS:
        for joint in joints(listing):
            figures.at_most("degrees at a fork" if joint.seam in FORKS else "degrees at a join", joint.angle)
            if joint.angle > (6.0 if joint.seam in FORKS else 3.0):
                figures.counts["joins over the limit"] += 1
                figures.wrong.append(f"{said}: {joint.seam}, {joint.crossing}: {joint.angle:.1f} degrees")
    for promise in made.pattern.promises:
        if len(promise.of) != 1 or not isinstance(promise.of[0], Girth):
            continue
        section = level_girth(listing["pieces"], promise.of[0].level)
        off = (section or 0.0) - promise.target
        off = max(-off, 0.0) if promise.kind == "least" else abs(off)
        figures.at_most("mm between section and promise", off)
        if off > 2.0:
            figures.wrong.append(f"{said}: {promise.label}: {off:.1f} mm by section")


def _closed(figures: Figures, made: Made, said: str) -> None:
    found = faults(made)
    figures.counts["that close"] += not found
    figures.wrong += [f"{said}: {fault}" for fault in found]


def _hold(figures: Figures, pattern: Pattern, said: str) -> None:
    try:
        consistent(pattern)
    except AssertionError as error:
        figures.wrong.append(f"{said}: {str(error).splitlines()[0] if str(error) else 'not consistent'}")
    for promise in pattern.promises:
        if _kept(promise, pattern):
            figures.counts["promises kept"] += 1
        else:
            figures.wrong.append(f"{said}: {promise.label} is not kept")


def _kept(promise: Promise, pattern: Pattern) -> bool:
    off = promise.measured(pattern) - promise.target
    return off >= -promise.tolerance if promise.kind == "least" else abs(off) <= promise.tolerance


def any_values(step: Step, pattern: Pattern, chance: random.Random) -> dict[str, Any]:
    """Values for a step, read off its parameters and the pattern: some left at their default, some anything allowed."""
    return {
        parameter.name: value
        for parameter in step.parameters
        if (value := _any_value(parameter, pattern, chance)) is not None
    }


def _any_value(parameter: Parameter, pattern: Pattern, chance: random.Random) -> Any:
    piece = chance.choice(pattern.pieces)
    runs = piece.runs()
    if parameter.kind == "place":
        return Place(edge=chance.choice(runs), share=round(chance.random(), 3))
    if parameter.kind == "corner":
        return Corner(edge=chance.choice(runs), end=chance.choice(("start", "end")))
    if parameter.notes is not None:
        return None  # a recipe written at random is read by a test of its own
    if parameter.kind in ("line", "lines"):
        ends = tuple(Place(edge=chance.choice(runs), share=round(chance.random(), 3)) for _ in range(2))
        return ends if parameter.kind == "line" else (ends,)
    if parameter.kind == "dart":
        darts = [dart for one in pattern.pieces for dart in one.darts]
        return chance.choice(darts).name if darts else ""
    if chance.random() < 0.4:
        return None  # as it stands: everything that fits
    if parameter.is_amount:
        value = chance.uniform(parameter.low, parameter.high)
        return float(round(value)) if parameter.kind == "count" else value
    match parameter.kind:
        case "choice":
            return chance.choice(parameter.choices)[0]
        case "flag":
            return chance.random() < 0.5
        case "pieces":
            return (piece.name,)
        case "edges":
            return tuple(chance.sample(runs, min(len(runs), chance.randint(1, 2), parameter.most)))
        case "seam" | "level":
            names = (
                [seam.name for seam in pattern.seams] if parameter.kind == "seam" else [f.name for f in piece.features]
            )
            return chance.choice(names) if names else None
    return None


def step_rounds(block: str, tries: int = 3, seed: int = 1, people: Sequence[Person] = ()) -> Figures:
    """Each step on a block, on these bodies or all 268, with its defaults; on those with every measure also with values
    drawn from its parameters.
    """
    figures = Figures()
    chance = random.Random(f"{block} {seed}")
    whole = {who.name for who in full_people()}
    for who in people or everybody():
        base = drafted(block, who)
        if base.pattern is None:
            figures.counts["blocks that can't be drafted, with a sentence"] += 1
            continue
        for kind, step in STEPS.items():
            for number in range(tries if who.name in whole else 1):
                values = any_values(step, base.pattern, chance) if number else {}
                _step_round(figures, base, kind, values, f"{kind} {values} on {block} of {who.name}")
    return figures


def _step_round(figures: Figures, base: Made, kind: str, values: dict[str, Any], said: str) -> None:
    figures.counts["steps tried"] += 1
    try:
        document = edits.add_step(base.document, step_entry(kind, values))
        made = make(EvaluateRequest(document))
    except Exception as error:
        figures.wrong.append(f"{said}: {type(error).__name__}: {error}")
        return
    stuck = [outcome.stuck for outcome in made.evaluated.outcomes if outcome.stuck]
    if stuck:
        sentence = stuck[0]
        figures.counts["refused with a sentence"] += 1
        if len(sentence) < 15 or "Error" in sentence or "fault" in sentence.lower():
            figures.wrong.append(f"{said}: {sentence}")
        return
    assert made.pattern is not None
    unsound = [finding for finding in made.findings if finding.code == "step.shape"]
    if unsound:
        figures.counts["made a shape that can't be cut, and says so"] += 1
        return
    figures.counts["done"] += 1
    try:
        consistent(made.pattern)
    except AssertionError as error:
        figures.wrong.append(f"{said}: {str(error).splitlines()[0] if str(error) else 'not consistent'}")
    was = _uneven(base.pattern) if base.pattern is not None else set()
    if new := _uneven(made.pattern) - was:
        told = {line.name.removesuffix(".legs") for line in made.proof if line.name.endswith(".legs")}
        figures.counts["left the legs of a dart unequal, and says so"] += bool(new <= told)
        figures.wrong += [f"{said}: the legs of {dart} are not equal" for dart in new - told]


def _uneven(pattern: Pattern) -> set[str]:
    """The darts whose legs differ by more than a millimetre."""
    found = set()
    for piece in pattern.pieces:
        for dart in piece.darts:
            first, second = legs_of(piece, dart)
            if abs(first - second) > 1.0:
                found.add(dart.id)
    return found


def hand_rounds(block: str, seed: int = 1, people: Sequence[Person] = ()) -> Figures:
    """Each step begun by hand on each kind of thing that it suits, on these or the 14 whole bodies: clicked, drawn, dragged,
    typed, kept, taken up again. Never an exception; what is kept leaves a consistent pattern or says why not.
    """
    figures = Figures()
    chance = random.Random(f"hand {block} {seed}")
    for who in people or full_people():
        base = drafted(block, who)
        if base.pattern is None:
            continue
        every = list(things(base.pattern))
        for kind, step in STEPS.items():
            for suits in step.suits:
                alike = [thing for thing in every if thing.kind == suits]
                if alike:
                    thing = chance.choice(alike)
                    _hand_round(
                        figures, base, step, thing, chance, f"{kind} by hand on {thing} of {block} of {who.name}"
                    )
    return figures


def _hand_round(figures: Figures, base: Made, step: Step, thing: Thing, chance: random.Random, said: str) -> None:
    figures.counts["gestures"] += 1
    assert base.pattern is not None
    try:
        document = base.document
        hand = begin(step, base.pattern, base.evaluated.sources[0].context, (thing,), f"s{document.recipe.next_id}")
        piece = base.pattern.piece(places_of(base.pattern, thing)[0].piece)
        for _ in range(6):
            points = piece.polygon(3.0)
            a, b = chance.choice(points) + complex(chance.gauss(0, 20), chance.gauss(0, 20)), chance.choice(points)
            hand = hand.drawn(piece.name, a, b, 8.0) if chance.random() < 0.4 else hand.clicked(piece.name, a, 8.0)
            if hand.handles:
                handle = chance.choice(hand.handles)
                by = complex(chance.gauss(0, 60), chance.gauss(0, 60))
                hand = hand.moved(handle, handle.at + by, 8.0, fine=chance.random() < 0.2)
            _ = hand.sentence, hand.asks, hand.trouble
        if hand.missing:
            figures.counts["gestures that still ask for something"] += 1
            return
        made = make(EvaluateRequest(with_gesture(document, hand)))
        outcome = made.evaluated.outcomes[-1]
        if outcome.stuck:
            figures.counts["kept and refused with a sentence"] += 1
            if len(outcome.stuck) < 15 or "Error" in outcome.stuck:
                figures.wrong.append(f"{said}: {outcome.stuck}")
            return
        figures.counts["gestures kept"] += 1
        if any(finding.code == "step.shape" for finding in made.findings):
            figures.counts["made a shape that can't be cut, and says so"] += 1
            return
        assert made.pattern is not None
        consistent(made.pattern)
        again = take_up(outcome.entry, made.before_step(outcome.entry.id) or base.pattern, hand.context)
        if with_gesture(made.document, again) != made.document:
            figures.wrong.append(f"{said}: taken up and kept, it is another step")
    except Exception as error:
        figures.wrong.append(f"{said}: {type(error).__name__}: {error}")


CHAIN = 6  # random steps one upon another


def recipe_rounds(count: int, seed: int = 1) -> Figures:
    """Random steps one upon another, on random blocks and any body: each ends in a sound pattern or in a sentence that
    names its parameter; undone, the document is the first, byte for byte; saved and read, the pattern is the same.
    """
    figures = Figures()
    chance = random.Random(f"recipes {seed}")
    people, names, kinds = everybody(), sorted(BLOCKS), sorted(STEPS)
    tried = 0
    while tried < count:
        who, block = chance.choice(people), chance.choice(names)
        base = drafted(block, who)
        if base.pattern is None:
            continue
        first = to_bytes(base.document, no_pictures)
        history, cache = History.begin(base.document), StageCache()
        pattern: Pattern = base.pattern
        for _ in range(CHAIN):
            kind = chance.choice(kinds)
            values = any_values(STEPS[kind], pattern, chance)
            said = (
                f"{[step.kind for step in history.document.recipe.steps]} then {kind} {values} on {block} of {who.name}"
            )
            tried += 1
            figures.counts["steps tried"] += 1
            try:
                document = edits.add_step(history.document, step_entry(kind, values))
                made = make(EvaluateRequest(document), cache)
                outcome = made.evaluated.outcomes[-1]
            except Exception as error:
                figures.wrong.append(f"{said}: {type(error).__name__}: {error}")
                break
            history = history.edited(document, kind)
            if outcome.stuck:
                figures.counts["refused with a sentence"] += 1
                figures.counts["of them naming the parameter"] += bool(outcome.parameter)
                if len(outcome.stuck) < 15 or "Error" in outcome.stuck:
                    figures.wrong.append(f"{said}: {outcome.stuck}")
                continue
            if made.pattern is None or any(finding.code == "step.shape" for finding in made.findings):
                figures.counts["made a shape that can't be cut, and says so"] += 1
                break
            pattern = made.pattern
            figures.counts["done"] += 1
            try:
                consistent(pattern)
            except AssertionError as error:
                figures.wrong.append(f"{said}: {str(error).splitlines()[0] if str(error) else 'not consistent'}")
        figures.counts["recipes"] += 1
        if read_project(to_bytes(history.document, no_pictures), "again").document != history.document:
            figures.wrong.append(f"{[step.kind for step in history.document.recipe.steps]}: not read as it was written")
        while history.undo_deed is not None:
            history = history.undone()
        if to_bytes(history.document, no_pictures) != first:
            figures.wrong.append(f"{block} of {who.name}: undone, it is not the first document")
    return figures


def chain_rounds() -> Figures:
    """The chain of verbs on the darted bodice and the dress of every body; what is named first is still found."""
    figures = Figures()
    for who in everybody():
        for block, options in (("bodice.darted", {}), ("dress.sheath", {}), ("dress.sheath", {"split": True})):
            pattern = drafted(block, who, **options).pattern
            if pattern is None:
                figures.counts["can't be drafted"] += 1
                continue
            names = {
                edge.name for piece in pattern.pieces for edge in piece.edges if not edge.dart and edge.finish != "fold"
            }
            try:
                after = chain(pattern)
                join = True
            except Exception as error:
                if "apart when laid" not in str(error):
                    figures.wrong.append(f"{block} {options} on {who.name}: {type(error).__name__}: {error}")
                    continue
                after, join = chain(pattern, join=False), False
                figures.counts["sides too curved to be joined"] += 1
            here = {edge.name for piece in after.pieces for edge in piece.edges}
            joined = {part.ref.key for layer in pattern.seam("side").layers for part in layer}
            lost = names - here - (joined if join else set())
            if lost:
                figures.wrong.append(f"{block} on {who.name}: {sorted(lost)} are no longer found")
            figures.counts["chains"] += 1
    return figures


def surgery_rounds(patterns: int, seed: int = 1) -> Figures:
    """Random verbs on random blocks of random bodies; each leaves a consistent pattern, or refuses in a sentence."""
    figures = Figures()
    chance = random.Random(seed)
    people, names = everybody(), sorted(BLOCKS)
    tally = Counter[str]()
    for number in range(patterns):
        who, block = chance.choice(people), chance.choice(names)
        pattern = drafted(block, who).pattern
        if pattern is None:
            continue
        tally["patterns"] += 1
        try:
            tally["verbs done"] += random_surgery(pattern, random.Random(seed * 100_000 + number), 6)
        except Exception as error:
            figures.wrong.append(f"{number}: {block} on {who.name}: {type(error).__name__}: {str(error)[:200]}")
    figures.counts.update(tally)
    return figures
