"""A chain of verbs, random surgery, and what has to hold of any pattern after them. For tests and the soak."""

from __future__ import annotations

import random
from collections.abc import Iterable
from itertools import pairwise

import pytest

from caddet.core.geometry.paths import area as shoelace
from caddet.core.geometry.paths import contains
from caddet.core.pattern.assembly import join_pieces, separate, unfold
from caddet.core.pattern.cutting import CutLine, cut_piece
from caddet.core.pattern.features import Spot
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.refused import Refused
from caddet.core.pattern.soundness import fault
from caddet.core.pattern.surgery import pivot_dart, spread
from caddet.core.recipe.context import Context
from caddet.core.recipe.registry import STEPS


def chain(pattern: Pattern, *, join: bool = True) -> Pattern:
    """Bust dart from side to shoulder, princess cut through the apex down, centre front slashed and spread, side
    panel joined to the back, front unfolded, slit in the back where there is a hem."""
    front = pattern.piece("front")
    for dart in front.darts:
        if dart.name == "front.bust_dart":
            pattern = pivot_dart(pattern, front, dart, _at(front, "shoulder", 0.5), 1.0, "s2")
    front = pattern.piece("front")
    contour = next((f for f in front.features if f.kind == "contour_dart"), None)
    bust = next((d for d in front.darts if d.name == "front.bust_dart"), None)
    start = bust or _at(front, "shoulder", 0.5)
    waist_darts = [d for d in front.darts if d.name.startswith("front.front_dart")]
    low = "hem" if front.has_run("hem") else "waist"
    if contour is not None:
        top, bottom = sorted((front.where(contour.bits[0].a), front.where(contour.bits[2].a)), key=lambda p: p.imag)
        line = CutLine(start, _below(front, low, bottom.real), (top, bottom))
    elif waist_darts:
        line = CutLine(start, waist_darts[0])
    else:
        tip = front.legs(bust.id)[2] if bust else front.where(_at(front, "shoulder", 0.5))
        line = CutLine(start, _below(front, low, tip.real))
    pattern = cut_piece(pattern, front, line, "s3", ("Side front", "Centre front"), "Princess seam")
    centre = next(p for p in pattern.pieces if p.made == "front" and p.fold)
    pattern = spread(pattern, centre, _at(centre, low, 0.5), _at(centre, "neckline", 0.5), 20.0, 0.0, "s4")
    if join:  # sides that are curved both ways do not lie on each other
        pattern = join_pieces(pattern, pattern.seam("side"), "Back and side")
    pattern = unfold(pattern, next(p for p in pattern.pieces if p.fold))
    if any(edge.finish == "hem" for piece in pattern.pieces for edge in piece.edges):
        slit = STEPS["slit"]
        values = slit.values(slit.tagged({"edges": (), "height": 120.0}))
        pattern = slit.apply(pattern, Context(id="s5"), values).pattern
    return pattern


def _at(piece: Piece, run: str, share: float) -> Spot:
    return piece.spot_at(run, piece.run_length(run) * share)


def _below(piece: Piece, run: str, x: float) -> Spot:
    """The place on a run straight below an x of the frame."""
    passed = 0.0
    for path in piece.walked(run):
        for along, _ in path.crossings(complex(x, -1e4), complex(x, 1e4)):
            return piece.spot_at(run, passed + along)
        passed += path.length
    return _at(piece, run, 0.5)


def area_of(pieces: Iterable[Piece]) -> float:
    return sum(abs(shoelace(piece.polygon())) for piece in pieces)


def covered(pattern: Pattern) -> None:
    """No name and mark stands twice for one position: the parts of a run cover it without overlapping."""
    for piece in pattern.pieces:
        assert not fault(piece), fault(piece)
    spans: dict[str, list[tuple[float, float]]] = {}
    for piece in pattern.pieces:
        for edge in piece.edges:
            if ".leg_" not in edge.name and not edge.name.endswith(".cut") and not edge.name.endswith(".cut'"):
                spans.setdefault(edge.name, []).append((edge.low, edge.high))
    for key, found in spans.items():
        found.sort()
        for (_, high), (low, _) in pairwise(found):
            assert low >= high - 1e-6, f"{key} has a position twice"


def consistent(pattern: Pattern) -> None:
    """What has to hold of any pattern: sound pieces, positions covered once, notches, darts and levels that are there."""
    covered(pattern)
    names = [piece.name for piece in pattern.pieces]
    assert len(set(names)) == len(names)
    for piece in pattern.pieces:
        assert shoelace(piece.polygon()) > 0, "clockwise on the table"
        ids = [dart.id for dart in piece.darts]
        assert len(set(ids)) == len(ids)
        for dart in piece.darts:
            piece.legs(dart.id)
        assert {edge.dart for edge in piece.edges if edge.dart} == set(ids)
        for notch in piece.notches:
            assert piece.on_edge(Spot(notch.edge, notch.u)) is not None
        for feature in piece.features:
            assert all(piece.holds_spot(end) for bit in feature.bits for end in (bit.a, bit.b)), feature.name


def random_surgery(pattern: Pattern, chance: random.Random, times: int) -> int:
    """Verbs at random on a pattern; after each it is consistent, or the verb refused with a sentence. How many were done."""
    done = 0
    for n in range(times):
        piece = chance.choice(pattern.pieces)
        before = area_of(pattern.pieces)
        try:
            changed, grown = _one(pattern, piece, chance, f"s{n + 2}")
        except Refused as refused:
            assert len(str(refused)) > 10 and not str(refused).endswith("..")
            continue
        consistent(changed)
        if grown is not None:
            assert area_of(changed.pieces) == pytest.approx(before * grown if grown > 1 else before, rel=2e-3)
        pattern = changed
        done += 1
    return done


def _one(pattern: Pattern, piece: Piece, chance: random.Random, step: str) -> tuple[Pattern, float | None]:
    """One verb, and by what the area of all pieces grows (None: not known beforehand)."""
    runs = [key for key in piece.runs() if piece.run(key)[0].finish != "fold"]

    def place() -> Spot:
        key = chance.choice(runs)
        return piece.spot_at(key, piece.run_length(key) * chance.uniform(0.1, 0.9))

    verb = chance.choice(("pivot", "pivot", "cut", "cut", "spread", "unfold", "separate", "join"))
    if verb == "pivot" and piece.darts:
        return pivot_dart(pattern, piece, chance.choice(piece.darts), place(), chance.choice((1.0, 0.5)), step), 1.0
    if verb == "spread":
        return spread(pattern, piece, place(), place(), chance.uniform(0, 30), chance.uniform(1, 30), step), None
    if verb == "unfold":
        return unfold(pattern, piece), None
    if verb == "separate":
        return separate(pattern, piece), None
    if verb == "join" and pattern.seams:
        return join_pieces(pattern, chance.choice(pattern.seams)), None
    ends = (chance.choice(piece.darts) if piece.darts and chance.random() < 0.4 else place(), place())
    through = ()
    if chance.random() < 0.3:
        box = piece.outline().bounds()
        point = complex(chance.uniform(box[0], box[2]), chance.uniform(box[1], box[3]))
        through = (point,) if contains(piece.polygon(), point) else ()
    return cut_piece(pattern, piece, CutLine(*ends, through), step), 1.0
