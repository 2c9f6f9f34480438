"""Girths as worn: any garment, whatever made it, measured by going round it as it is sewn, against its wearer.

Blocks promise their own girths and say what passes through them. What is asked here holds for every garment: a level that
goes all round is no smaller than the body, as far as the cloth gives; what holds a waist is no longer than the waist and
the ease that the block gave; and where no block says so, head, hips, hands and feet go through the edges that they are
for. The wanted value comes from the body alone, never from the other side of a seam.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from caddet.core.body.known import known_measures
from caddet.core.body.person import Person
from caddet.core.pattern.features import Feature, Spot
from caddet.core.pattern.going_round import around, runs_round
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.promises import Girth, source_of
from caddet.core.pattern.roles import BANDS, BODY
from caddet.core.pattern.seams import Layer
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.context import Context
from caddet.core.recipe.passages import USUAL, Passes, what_goes_through
from caddet.core.sentences import Length, Sentence, say

LEVELS = {
    "bust": "bust",
    "waist": "waist",
    "hip": "hip",
    "high_hip": "high_hip",
    "thigh": "thigh",
    "upper_arm": "upper_arm",
}
LIMBS = ("thigh", "upper_arm")  # a level goes round each of two
SPARE = 1.0  # mm by which a girth may be under the body's: what is measured is not surer
TIGHT = 5.0  # mm that what holds a waist may be shorter than it
SLIPS = 80.0  # mm more than the body and the block's ease, from which what holds a waist does not stay there
NEAR = 2.0  # mm from an edge within which a level ends on it
ENDS = ("neck", "waist", "hem", "cuff")  # edges at which a garment ends, and something goes through
LIMB_ROLES = ("sleeve", "leg")
ASKED = tuple(dict.fromkeys((*LEVELS.values(), "head", "hand", "wrist", "ankle", "height")))
DRAWN_IN = ("elastic", "cord")  # notions that draw a waist in


@dataclass(frozen=True, slots=True)
class Worn:
    """A girth of the sewn garment that does not fit the body (mm): what it is, where, and the sentence."""

    name: str
    label: Sentence
    value: float
    limit: float
    place: str
    sentence: Sentence


def body_of(person: Person, cloths: Mapping[str, Cloth], context: Context) -> Context:
    """What is known of the wearer for going round a garment: the block's context, with the measures that it did not read."""
    known = known_measures(person, dict.fromkeys(ASKED))
    found = {code: one.value for code, one in known.items() if one is not None}
    return Context({**found, **context.measures}, context.sums, context.names, cloths or context.cloths, context.id)


def girths(pattern: Pattern, context: Context, drafted: Pattern | None = None) -> Iterator[Worn]:
    """Every girth of a garment that does not fit its wearer; those of each block or source by themselves.

    ``drafted`` is the garment as its blocks drafted it: a waist that a block means to be drawn in by elastic is wide there.
    """
    for source in sorted({source_of(f.name) for piece in pattern.pieces for f in piece.features}):
        for level, measure in LEVELS.items():
            body = context.measures.get(measure)
            if body and goes_round(pattern, level, source):
                yield from _too_small(pattern, context, level, source, _no_more_than(drafted, level, source, body))
    yield from _held_waist(pattern, context, drafted)


def _no_more_than(drafted: Pattern | None, level: str, source: str, body: float) -> float:
    """The body's girth, or what the garment had there when it was begun, where that was meant to be less."""
    if drafted is None or not _with_level(drafted, level, source):
        return body
    return min(body, Girth(level, 0.5 if level in LIMBS else 1.0, source).measured(drafted))


def _too_small(pattern: Pattern, context: Context, level: str, source: str, least: float) -> Iterator[Worn]:
    girth = Girth(level, 0.5 if level in LIMBS else 1.0, source).measured(pattern)
    stretch = max(context.cloth.stretch, 0.0)
    if girth >= least - SPARE or girth * (1 + stretch) >= context.measures[LEVELS[level]] - SPARE:
        return
    words, of_body = level.replace("_", " "), context.measures[LEVELS[level]]
    place = next(piece.name for piece, _ in _with_level(pattern, level, source))
    yield Worn(
        f"worn.{source}{level}",
        say("{level} goes round the body", level=words.capitalize()),
        girth,
        of_body,
        place,
        say(
            "Sewn, it is {girth} round at the {level}, and the body {body}: it can't be closed there.",
            girth=Length(girth),
            level=words,
            body=Length(of_body),
        ),
    )


def _with_level(pattern: Pattern, level: str, source: str) -> list[tuple[Piece, Feature]]:
    return [
        (piece, f)
        for piece in pattern.pieces
        if piece.role in BODY
        for f in piece.features
        if f.kind == "level" and f.role == level and source_of(f.name) == source
    ]


def goes_round(pattern: Pattern, level: str, source: str = "") -> bool:
    """Whether a level goes all round: from every piece that has it over a seam to one that has it, or to a fold or an opening."""
    found = _with_level(pattern, level, source)
    has = {piece.name for piece, _ in found}
    return len(found) > 0 and all(_goes_on(pattern, piece, feature, has) for piece, feature in found)


def _goes_on(pattern: Pattern, piece: Piece, level: Feature, has: set[str]) -> bool:
    ends = [end for bit in level.bits for end in (bit.a, bit.b)]
    places = [piece.where(end) for end in ends]
    outer = max(
        ((a, b) for a in range(len(ends)) for b in range(a)), key=lambda pair: abs(places[pair[0]] - places[pair[1]])
    )
    return all(_closed_at(pattern, piece, ends[n], has) for n in outer)


def _closed_at(pattern: Pattern, piece: Piece, end: Spot | complex, has: set[str]) -> bool:
    at = piece.where(end)
    off, key = min((piece.nearest_on_run(key, at)[0], key) for key in piece.runs())
    if off > NEAR:
        return False
    number = next(p for p, one in enumerate(pattern.pieces) if one is piece)
    for index, edge in enumerate(piece.edges):
        if edge.name != key:
            continue
        if edge.finish in ("fold", "opening"):
            return True
        for seam, layer in pattern.sewn().get((number, index), ()):
            others = [
                f.piece.name for n, one in enumerate(seam.layers) if n != layer for f in pattern.what_is_left(one)
            ]
            if seam.closes() or has & set(others):
                return True
    return False


def _held_waist(pattern: Pattern, context: Context, drafted: Pattern | None) -> Iterator[Worn]:
    """What is sewn to a waist and holds it, longer than the waist: it would slip. Not where elastic or a cord draws it in."""
    body = context.measures.get("waist")
    if not body or any(one.kind in DRAWN_IN for one in pattern.notions) or not _held(pattern):
        return
    value = around(pattern, "waist")
    limit, least = body + SLIPS, body
    if drafted is not None and runs_round(drafted, "waist"):
        begun = around(drafted, "waist")
        limit, least = max(limit, begun + SLIPS), min(least, begun)
    label, wanted = say("What holds the waist closes"), body
    if value < least - TIGHT and value * (1 + max(context.cloth.stretch, 0.0)) < body - TIGHT:
        words = say(
            "What holds the waist is {value} round and the body {body}: it can't be closed.",
            value=Length(value),
            body=Length(body),
        )
    elif value > limit and not any(s.kind == "gathered" and _on_band(pattern, s.layers[1]) for s in pattern.seams):
        label, wanted = say("What holds the waist stays there"), limit
        words = say(
            "What holds the waist is {value} round and the body {body}: it would slip. Open the piece below it instead, gathered in, or take it in.",
            value=Length(value),
            body=Length(body),
        )
    else:
        return
    yield Worn("worn.held", label, value, wanted, runs_round(pattern, "waist")[0][1], words)


def _held(pattern: Pattern) -> bool:
    """Whether a band is sewn to the waist."""
    keys = {key for _, key in runs_round(pattern, "waist")}
    return any(
        keys & {part.ref.name for part in seam.layers[n]} and _on_band(pattern, seam.layers[1 - n])
        for seam in pattern.seams
        if len(seam.layers) == 2
        for n in (0, 1)
    )


def _on_band(pattern: Pattern, layer: Layer) -> bool:
    found = [f.piece for f in pattern.what_is_left(layer)]
    return bool(found) and all(piece.role in BANDS for piece in found)


def usual_passages(pattern: Pattern) -> list[Passes]:
    """What has to pass through a garment of which no block says so: head, hips, hands and feet through the edges for them.

    Not where only the front or the back of it is there.
    """
    found: dict[str, Passes] = {}
    for piece in pattern.pieces:
        if piece.role not in BODY:
            continue
        for key in piece.runs():
            role = piece.run(key)[0].role
            name = what_goes_through(role, piece.role) if role in ENDS else ""
            if name in ("head", "hips", "hand", "foot") and name not in found and _all_round(pattern, role, piece):
                on = (piece.role,) if USUAL[name].each else ()
                found[name] = Passes(name, role, on=on, stretched=True)
    return list(found.values())


def _all_round(pattern: Pattern, role: str, piece: Piece) -> bool:
    """Whether edges of a role are there in front and behind, or on a piece that goes round by itself."""
    covers = {one.covers for one, _ in runs_round(pattern, role, (piece.role,) if piece.role in LIMB_ROLES else ())}
    return covers not in ({"front"}, {"back"})
