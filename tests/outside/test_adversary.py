"""Faults put by hand into finished patterns, of every kind that was passed once: the Proof has to name each, and none on clean ones.

With the 22 of ``test_planted_faults`` (seams, notches, darts, joins, grain) they are more than forty.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

import pytest

from caddet.core.fitting.proof import prove
from caddet.core.geometry.curves import mapped
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Point
from caddet.core.made import Made
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.seams import Join
from tests.making import KNIT, drafted, nine, pattern_of, step
from tests.outside.test_planted_faults import FAULTS as EARLIER


@lru_cache(maxsize=16)
def garment(name: str) -> Made:
    match name:
        case "skirt":
            return drafted("skirt.straight", nine()[0])
        case "trousers":
            return drafted("trousers.tailored", nine()[0])
        case "bodice":
            return drafted("bodice.darted", nine()[0])
        case "dress":
            return drafted("dress.sheath", nine()[0], style="in_one")
        case "knit":
            return drafted("top.knit", nine()[0], cloth=KNIT)
        case "tank":
            faced = (step("zone_band", edges=("armhole",)),)
            return drafted("top.knit", nine()[0], cloth=KNIT, style="tank", steps=faced)
        case "faced":
            return drafted("dress.sheath", nine()[0], steps=(step("facing", edges=("armhole",)),))
        case "leggings":
            return drafted("leggings", nine()[0], cloth=KNIT)
    raise AssertionError(name)


def told(name: str, pattern: Pattern | None = None) -> set[str]:
    """What the Proof says is wrong with a garment whose pattern is this."""
    made = garment(name)
    evaluated = made.evaluated
    lines = prove(
        evaluated.sources,
        pattern if pattern is not None else made.pattern,
        outcomes=evaluated.outcomes,
        wearer=next((source.context for source in evaluated.sources if source.context is not None), None),
        drafted=evaluated.sources[0].pattern,
    )
    return {f"{line.kind} {line.name}" for line in lines if not line.holds}


def reshaped(pattern: Pattern, names: tuple[str, ...], change: Callable[[Point], Point]) -> Pattern:
    """Whole pieces drawn through a map, so that all their seams still meet one another."""
    for piece in pattern.pieces:
        if piece.made in names:
            edges = [edge.with_path(mapped(edge.path, change)) for edge in piece.edges]
            features = tuple(feature.each_point(change) for feature in piece.features)  # type: ignore[arg-type]
            pattern = pattern.with_piece(replace(piece.with_edges(edges), features=features))
    return pattern


def narrower(*names: str, by: float) -> Callable[[Pattern], Pattern]:
    """Pieces narrower from their centre outwards; lengths stay nearly as they are."""
    return lambda pattern: reshaped(pattern, names, lambda p: complex(p.real * by, p.imag))


def counted(name: str, count: int, pair: bool | None = None) -> Callable[[Pattern], Pattern]:
    """A piece cut more or less often."""

    def plant(pattern: Pattern) -> Pattern:
        piece = next(one for one in pattern.pieces if one.made.endswith(name))
        cuts = tuple(replace(cut, count=count) for cut in piece.cuts)
        return pattern.with_piece(replace(piece, cuts=cuts, pair=piece.pair if pair is None else pair))

    return plant


def joined(name: str, join: Join) -> Callable[[Pattern], Pattern]:
    return lambda pattern: pattern.with_seam(replace(pattern.seam(name), joins=(join,)))


def lower(names: tuple[str, ...], from_: float, by: float) -> Callable[[Pattern], Pattern]:
    """Pieces longer below a level."""
    return lambda pattern: reshaped(pattern, names, lambda p: p + 1j * by if p.imag > from_ else p)


def level_short(name: str, level: str, by: float) -> Callable[[Pattern], Pattern]:
    """The outline pinched at a level: its two ends come in."""

    def plant(pattern: Pattern) -> Pattern:
        piece = pattern.piece(name)
        feature = piece.level(level)
        assert feature is not None
        at = piece.drawn(feature)[0].end.imag

        def pinched(p: Point) -> Point:
            near = max(0.0, 1 - abs(p.imag - at) / 80)
            return complex(p.real * (1 - by * near), p.imag)

        return reshaped(pattern, (name,), pinched)

    return plant


def dipping(name: str, by: float) -> Callable[[Pattern], Pattern]:
    """A hem that leaves its line smoothly and comes back, square to both seams."""

    def plant(pattern: Pattern) -> Pattern:
        piece = pattern.piece(name)
        hem = piece.run("hem")[0]
        a, b = hem.path.start, hem.path.end
        middle, third = (a + b) / 2 + 1j * by, (b - a) / 6
        path = Path((Cubic(a, a + third, middle - third, middle), Cubic(middle, middle + third, b - third, b)))
        return pattern.with_piece(piece.with_edges([e.with_path(path) if e is hem else e for e in piece.edges]))

    return plant


def without(piece: str) -> Callable[[Pattern], Pattern]:
    def plant(pattern: Pattern) -> Pattern:
        return replace(pattern, pieces=tuple(one for one in pattern.pieces if one.made != piece))

    return plant


@dataclass(frozen=True)
class Fault:
    what: str
    garment: str
    plant: Callable[[Pattern], Pattern]
    told: str


BODY = ("front", "back")
FAULTS = (
    Fault("skirt too narrow at the hip", "skirt", narrower(*BODY, by=0.9), "hip"),
    Fault("skirt and band too long at the waist", "skirt", narrower(*BODY, "waistband", by=1.15), "waist"),
    Fault("skirt and band too short at the waist", "skirt", narrower(*BODY, "waistband", by=0.92), "waist"),
    Fault("waistband alone too long", "skirt", narrower("waistband", by=1.1), "waistband"),
    Fault("hip pinched", "skirt", level_short("front", "hip", 0.12), "hip"),
    Fault("hem of the skirt let down on one side", "skirt", lower(("front",), 300.0, 12.0), "side"),
    Fault("back cut once", "skirt", counted("back", 1, pair=False), "often"),
    Fault("trousers too narrow at the hip", "trousers", narrower(*BODY, by=0.88), "hip"),
    Fault("thigh pinched", "trousers", level_short("back", "thigh", 0.3), "thigh"),
    Fault("knee pinched", "trousers", level_short("front", "knee", 0.4), "knee"),
    Fault("one leg cut", "trousers", counted("front", 1, pair=False), "often"),
    Fault("crotch too short", "trousers", lower(BODY, 60.0, -55.0), "crotch"),
    Fault("bodice too narrow", "bodice", narrower(*BODY, by=0.88), "bust"),
    Fault("bodice too wide", "bodice", narrower(*BODY, by=1.12), "waist"),
    Fault("one sleeve cut", "bodice", counted("sleeve", 1, pair=False), "often"),
    Fault("three sleeves cut", "bodice", counted("sleeve", 3), "often"),
    Fault("sleeve too narrow for its armhole", "bodice", narrower("sleeve", by=0.85), "cap"),
    Fault("dress too narrow at the waist", "dress", narrower(*BODY, by=0.85), "waist"),
    Fault("dress pinched at the hip", "dress", level_short("back", "hip", 0.15), "hip"),
    Fault("neckband too short for the head", "knit", narrower("neckband", by=0.55), "neckband"),
    Fault("knit top far too narrow", "knit", narrower(*BODY, by=0.5), "bust"),
    Fault("band for two armholes cut once", "tank", counted("s2.band", 1), "often"),
    Fault("facing for two armholes cut once", "faced", counted("armhole", 1, pair=False), "often"),
    Fault("leggings too narrow in the thigh", "leggings", level_short("leg", "thigh", 0.5), "thigh"),
    Fault("hem that dips by 12 mm", "skirt", dipping("front", 12.0), "dips"),
    Fault("hem that rises by 9 mm", "dress", dipping("back", -9.0), "dips"),
    Fault("waistband forgotten", "skirt", without("waistband"), "waistband"),
    Fault("band stretched more than its cloth", "knit", joined("neckband", Join("stretched", 2.2)), "neckband"),
    Fault("side seam said to be gathered", "skirt", joined("side", Join("gathered", 1.4)), "side"),
)


@pytest.mark.parametrize("name", sorted({fault.garment for fault in FAULTS}))
def test_nothing_is_told_of_the_clean_garments(name: str) -> None:
    assert not told(name)


@pytest.mark.parametrize("fault", FAULTS, ids=lambda one: one.what)
def test_a_fault_in_a_finished_pattern_is_told(fault: Fault) -> None:
    found = told(fault.garment, fault.plant(pattern_of(garment(fault.garment))))
    assert any(fault.told in one for one in found), found


def test_there_are_more_than_forty_faults() -> None:
    assert len({fault.what for fault in (*FAULTS, *EARLIER)}) >= 40
