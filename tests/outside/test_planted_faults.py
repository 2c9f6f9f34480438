"""Faults of the kind that a trade's checker looks for, planted in clean pieces: found, named, mended by what is offered.

The pieces are outlines with no formulas behind them, as traced or imported ones are. Which faults: common practice, no
source; three millimetres at a seam and three degrees at a line are the limits of the check values (9).
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cache

import pytest

from caddet.core.fitting.proof import ProofLine
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line, unit
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.features import Notch
from caddet.core.pattern.pattern import Pattern
from caddet.core.pipeline import make
from caddet.core.recipe.document import Document, Recipe
from caddet.core.recipe.storing import pattern_of, stored_pattern
from caddet.core.truing.blend import _turned
from caddet.core.truing.ends import end_moved, layer_lengthened
from caddet.core.truing.joins import LineEnd
from tests.making import document, full_people
from tests.making import pattern_of as made_pattern

LOOKED_AT = ("seam", "join", "piece")


@cache
def clean(block: str, **options: object) -> Pattern:
    """The pieces of a block as they are stored, without what they promise of the body."""
    who = full_people()[0]
    base = document(who).model_copy(update={"recipe": Recipe.of(block, options=dict(options))})  # type: ignore[arg-type]
    found, findings = pattern_of(stored_pattern(replace(made_pattern(make(EvaluateRequest(base))), promises=())))
    assert not findings
    return found


def bodice() -> Pattern:
    return clean("bodice.darted")


def skirt() -> Pattern:
    return clean("skirt.straight")


def project(pattern: Pattern) -> Document:
    source = stored_pattern(pattern, "traced")
    return document(full_people()[0]).model_copy(update={"recipe": Recipe().with_source(source)})


def looked_at(made: Made) -> list[ProofLine]:
    return [line for line in made.proof if line.kind in LOOKED_AT and not line.holds]


# --- planting -------------------------------------------------------------------------------------


def edged(pattern: Pattern, run: str, change: Callable[[Path], Path]) -> Pattern:
    """The pattern with the path of one edge changed; its ends must stay."""
    piece = pattern.piece(run.partition(".")[0])
    edges = list(piece.edges)
    index = piece.indices(piece.ref(run))[0]
    edges[index] = edges[index].with_path(change(edges[index].path))
    return pattern.with_piece(piece.with_edges(edges))


def shorter(pattern: Pattern, seam: str, by: float, layer: int = 1) -> Pattern:
    return layer_lengthened(pattern, pattern.seam(seam).layers[layer], -by)


def turned(pattern: Pattern, run: str, degrees: float, *, at_end: bool) -> Pattern:
    piece = pattern.piece(run.partition(".")[0])
    indices = piece.indices(piece.ref(run))
    index = indices[-1 if at_end else 0]
    return _turned(pattern, LineEnd(piece.name, index, at_end, math.radians(degrees)))


def notched(pattern: Pattern, run: str, change: Callable[[Notch], Notch | None], name: str = "") -> Pattern:
    piece = pattern.piece(run.partition(".")[0])
    kept = []
    for one in piece.notches:
        changed = change(one) if one.edge == run and (not name or one.name == name) else one
        if changed is not None:
            kept.append(changed)
    return pattern.with_piece(replace(piece, notches=tuple(kept)))


def grained(pattern: Pattern, name: str, degrees: float) -> Pattern:
    piece = pattern.piece(name)
    middle = (piece.grain.a + piece.grain.b) / 2
    way = cmath.rect(1.0, math.radians(degrees))
    grain = replace(piece.grain, a=middle + (piece.grain.a - middle) * way, b=middle + (piece.grain.b - middle) * way)
    return pattern.with_piece(replace(piece, grain=grain))


def long_leg(pattern: Pattern, piece_name: str, dart: str, by: float) -> Pattern:
    """One leg of a dart longer, its mouth and the edge beside it with it."""
    piece = pattern.piece(piece_name)
    first, _, apex, _ = piece.legs(f"{piece_name}.{dart}")
    leg = piece.edges[first]
    shift = unit(leg.path.start - apex) * by
    edges = list(piece.edges)
    edges[first] = leg.with_path(end_moved(leg.path, shift, at_end=False))
    edges[first - 1] = edges[first - 1].with_path(end_moved(edges[first - 1].path, shift, at_end=True))
    return pattern.with_piece(piece.with_edges(edges))


def wavering(path: Path) -> Path:
    """A straight line as a hand draws it: a millimetre and a half to one side, then to the other."""
    a, b = path.start, path.end
    out = unit(b - a) * 1j * 6.0
    third = (b - a) / 3
    return Path((Cubic(a, a + third + out, b - third - out, b),))


def bowed(path: Path) -> Path:
    a, b = path.start, path.end
    middle = (a + b) / 2 + unit(b - a) * 1j * 1.2
    return Path((Line(a, middle), Line(middle, b)))


def both_alike(pattern: Pattern) -> Pattern:
    """Sleeve notches of one kind, equally far from the shoulder: nothing tells front from back."""
    sleeve = pattern.piece("sleeve")
    at = 90.0
    front, back = sleeve.run_length("cap_front"), sleeve.run_length("cap_back")
    kept = tuple(n for n in sleeve.notches if not n.edge.startswith("sleeve.cap"))
    alike = (Notch("sleeve.cap_front", 1 - at / front), Notch("sleeve.cap_back", at / back))
    pattern = pattern.with_piece(replace(sleeve, notches=(*kept, *alike)))
    for name in ("front", "back"):
        piece = pattern.piece(name)
        length = piece.run_length("armhole")
        kept = tuple(n for n in piece.notches if n.edge != f"{name}.armhole")
        pattern = pattern.with_piece(replace(piece, notches=(*kept, Notch(f"{name}.armhole", at / length))))
    return pattern


def lonely(pattern: Pattern, name: str) -> Pattern:
    """A notch in the middle of one side that the other does not have."""
    piece = pattern.piece(name)
    return pattern.with_piece(replace(piece, notches=(*piece.notches, Notch(f"{name}.side", 0.35))))


# --- the twenty -----------------------------------------------------------------------------------


@dataclass(frozen=True)
class Fault:
    """A fault: in which pieces, how it is planted, the kind of line and a word of its name or label that tell it."""

    what: str
    pieces: Callable[[], Pattern]
    plant: Callable[[Pattern], Pattern]
    kind: str
    told: str


FAULTS = (
    Fault("side 8 mm short", bodice, lambda p: shorter(p, "side", 8), "seam", "Side"),
    Fault("shoulder 6 mm long", bodice, lambda p: shorter(p, "shoulder", -6), "seam", "Shoulder"),
    Fault("cap too long", bodice, lambda p: shorter(p, "armhole_back", -14), "seam", "armhole"),
    Fault("sleeve seam unequal", bodice, lambda p: shorter(p, "sleeve", 9), "seam", "Sleeve"),
    Fault("waistband short", skirt, lambda p: shorter(p, "waistband", 12, layer=0), "seam", "Waistband"),
    Fault("skirt side 5 mm long", skirt, lambda p: shorter(p, "side", -5), "seam", "Side"),
    Fault("notch moved", bodice, lambda p: notched(p, "front.armhole", lambda n: replace(n, u=n.u + 0.09)), "piece", "notch"),
    Fault("flipped notch", bodice, lambda p: notched(p, "sleeve.cap_back", lambda n: replace(n, double=False), "armhole back"), "piece", "notch"),
    Fault("notch without partner", bodice, lambda p: lonely(p, "front"), "piece", "notch"),
    Fault("notch without partner on the other side", bodice, lambda p: lonely(p, "back"), "piece", "notch"),
    Fault("sleeve turned round", bodice, both_alike, "piece", "notches"),
    Fault("dart leg 5 mm long", bodice, lambda p: long_leg(p, "front", "bust_dart", 5), "piece", "legs"),
    Fault("skirt dart leg long", skirt, lambda p: long_leg(p, "back", "back_dart", 4), "piece", "legs"),
    Fault("hem not square to the fold", skirt, lambda p: turned(p, "front.hem", 7, at_end=True), "join", "fold"),
    Fault("neck with a peak at the fold", bodice, lambda p: turned(p, "front.neckline", 8, at_end=False), "join", "fold"),
    Fault("hem with a corner at the side", skirt, lambda p: turned(p, "back.hem", -8, at_end=False), "join", "Hem"),
    Fault("armhole with a corner at the side", bodice, lambda p: turned(p, "front.armhole", 12, at_end=True), "join", "rmhole"),
    Fault("waist with a corner over a dart", skirt, lambda p: turned(p, "front.waist", 9, at_end=True), "join", "aist"),
    Fault("grain turned 3°", bodice, lambda p: grained(p, "front", 3), "piece", "grain"),
    Fault("sleeve's grain turned 4°", bodice, lambda p: grained(p, "sleeve", -4), "piece", "grain"),
    Fault("wavering centre back", skirt, lambda p: edged(p, "back.centre_back", wavering), "piece", "centre back"),
    Fault("fold that is not straight", skirt, lambda p: edged(p, "front.centre_front", bowed), "piece", "centre front"),
)  # fmt: skip


@pytest.mark.parametrize("pieces", [bodice, skirt], ids=lambda one: one.__name__)
def test_nothing_is_found_on_the_clean_pieces(pieces: Callable[[], Pattern]) -> None:
    assert not [(line.name, line.sentence) for line in looked_at(make(EvaluateRequest(project(pieces()))))]


@pytest.mark.parametrize("fault", FAULTS, ids=lambda one: one.what)
def test_a_planted_fault_is_found_named_and_mended(fault: Fault) -> None:
    planted = project(fault.plant(fault.pieces()))
    found = looked_at(make(EvaluateRequest(planted)))
    named = [line for line in found if line.kind == fault.kind and fault.told in f"{line.name} {line.label}"]
    assert named, [(line.kind, line.name, line.label) for line in found]
    line = named[0]
    assert line.remedies, (line.name, line.label, str(line.sentence))
    mended = looked_at(make(EvaluateRequest(line.remedies[0].apply(planted))))
    assert line.name not in [one.name for one in mended], [(one.name, one.value) for one in mended]
    assert len(mended) < len(found) or not mended, [(one.kind, one.name, one.value) for one in mended]


def test_the_twenty_are_twenty() -> None:
    assert len({one.what for one in FAULTS}) == len(FAULTS) >= 20
