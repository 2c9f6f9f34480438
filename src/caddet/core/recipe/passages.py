"""What has to pass through a garment, or go round in it: declared by a block or a part in a line each, worked out here.

``Passes("hips", "waist")`` says that the hips go through the waist: the edges of that role round the garment (the band
that holds them), with what opens there, stretched as the cloth gives where that is said, against the body.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field

from caddet.core.errors import CaddetError
from caddet.core.pattern.finding import chosen_edges
from caddet.core.pattern.going_round import around, left_open, runs_round
from caddet.core.pattern.ids import reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.promises import Measurement
from caddet.core.recipe.context import Context
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.stride import stride
from caddet.core.recipe.values import Plain
from caddet.core.sentences import say


@dataclass(frozen=True, slots=True)
class Gate:
    """An inequality of use, measured on the finished pattern: ``value ≥ limit`` (mm)."""

    name: str
    label: str
    value: float
    limit: float
    place: str
    why: str
    remedies: tuple[Remedy, ...] = ()


@dataclass(frozen=True, slots=True)
class Body:
    """A measure of the body, times and plus so much (mm); ``instead``: another one and its factor where it is not known."""

    measure: str
    times: float = 1.0
    plus: float = 0.0
    instead: tuple[str, float] | None = None

    def __call__(self, context: Context) -> float | None:
        """In mm; None where the body does not tell."""
        value = context.measures.get(self.measure)
        if value is not None:
            return value * self.times + self.plus
        if self.instead is None or self.instead[0] not in context.measures:
            return None
        return context.measures[self.instead[0]] * self.instead[1]


@dataclass(frozen=True, slots=True)
class Usual:
    """What is usual of something that passes: its words, what of the body it is, and whether it is one of two limbs."""

    words: str
    body: Body
    each: bool = False


# common practice, no source: a tenth for the arm in an armhole, a third more than the ankle for the heel
USUAL: Mapping[str, Usual] = {
    "head": Usual("Head goes", Body("head")),
    "hips": Usual("Hips go", Body("hip")),
    "hand": Usual("Hand goes", Body("hand", instead=("wrist", 1.3)), each=True),
    "foot": Usual("Heel and instep go", Body("ankle", 1.35), each=True),
    "arm": Usual("Arm goes", Body("upper_arm", 1.1), each=True),
    "leg": Usual("Leg goes", Body("thigh", 1.02), each=True),
}


_THROUGH: Mapping[str, str] = {"waist": "hips", "neck": "head", "armhole": "arm", "cuff": "hand", "leg": "leg"}


def what_goes_through(role: str, piece_role: str = "") -> str:
    """What of the body goes through edges of a role (on a piece of a role): a key of :data:`USUAL`; "" when nothing does."""
    if role == "hem":
        return {"sleeve": "hand", "leg": "foot"}.get(piece_role, "")
    return "hand" if piece_role == "sleeve" and role != "armhole" else _THROUGH.get(role, "")


LIMBS = ("sleeve", "leg")


@dataclass(frozen=True, slots=True)
class Mend:
    """What would let it pass: a figure made longer by what is lacking (half of it on each side, and ``more`` mm), or an option."""

    label: str
    figure: str = ""
    more: float = 0.0
    option: tuple[str, Plain] | None = None


@dataclass(frozen=True, slots=True)
class Passes:
    """Something that passes: its name, and through the edges of which role; or ``of``: what is measured instead.

    ``on``: roles of the pieces that have the edges (the body of the garment when none is said). ``limit``: what it needs,
    where that is not the usual; ``plus``: measurements added where they are there; ``stretched``: as far as the cloth
    gives. ``wide``: an edge longer than that (mm) lets anything through. ``unless``: the role of edges with which the
    garment lies open; ``when``: whether it matters on a pattern at all.
    """

    name: str
    through: str = ""
    label: str = ""
    why: str = ""
    on: tuple[str, ...] = ()
    of: tuple[Measurement, ...] = ()
    plus: tuple[Measurement, ...] = ()
    limit: Callable[[Context], float | None] | None = None
    place: str = ""
    stretched: bool = False
    wide: float = 0.0
    unless: str = ""
    when: Callable[[Pattern], bool] = field(default=lambda pattern: True)
    mends: tuple[Mend, ...] = ()


def through_edges(pattern: Pattern, refs: Sequence[str]) -> tuple[Passes, ...]:
    """What passes through edges that a part is put on, by what they are; as far as the cloth gives. Raises :class:`Lost`."""
    found = []
    for piece, key in chosen_edges(pattern, refs):
        role = piece.run(key)[0].role
        name = what_goes_through(role, piece.role)
        if name:
            on = (piece.role,) if USUAL[name].each and piece.role in LIMBS else ()
            found.append(Passes(name, role, on=on, stretched=True))
    return tuple({(one.name, one.through): one for one in found}.values())


def gate_of(one: Passes, pattern: Pattern, context: Context, drafted: Pattern | None = None) -> Gate | None:
    """A passage worked out on a finished pattern; None where it does not matter, or the body does not tell.

    ``drafted``: the pattern as its block drafted it. Raises :class:`CaddetError` when what it goes through is not there,
    or a piece that it went round is gone.
    """
    if one.name == "stride" and one.limit is None:
        return _stride(one, pattern, context)
    usual = USUAL.get(one.name)
    if not one.when(pattern) or (one.unless and any(p.runs_of(one.unless) for p in pattern.pieces)):
        return None
    if not one.of and one.on and not runs_round(pattern, one.through, one.on):
        return None  # there is no such piece with these choices
    body = one.limit or (usual.body if usual is not None else None)
    limit = body(context) if body is not None else None
    if limit is None:
        return None
    if not one.of:
        _check_whole(one, pattern, drafted or pattern)
    value, opened = _through(one, pattern, usual is not None and usual.each)
    if one.wide and value >= one.wide:
        return None
    if one.stretched:
        value *= 1 + (context.sums["give"].value if "give" in context.sums else max(context.cloth.stretch, 0.0))
    value += opened
    place = one.place or _place(one, pattern)
    label = (
        one.label or f"{usual.words if usual else one.name.capitalize()} through the {one.through.replace('_', ' ')}"
    )
    why = one.why or "What is open there against the body. If it is less, it does not go on."
    mends = tuple(m for m in one.mends if value < limit - 1e-6 and not _done(m, context))
    return Gate(one.name, label, value, limit, place, why, tuple(_remedy(m, limit - value, context) for m in mends))


def _stride(one: Passes, pattern: Pattern, context: Context) -> Gate | None:
    found = stride(pattern, context)
    if found is None:
        return None
    value, limit, remedies = found
    why = "The hem round against twice the stride at that height. If it is less, one can only take short steps and the back seam splits."
    place = next((key for piece, key in runs_round(pattern, "hem") if piece.covers == "front"), "")
    return Gate("stride", "Stride clears the hem", value, limit, place, one.why or why, remedies)


def _check_whole(one: Passes, pattern: Pattern, drafted: Pattern) -> None:
    """Raise :class:`CaddetError` where a part of what something goes through was taken away."""
    if not runs_round(pattern, one.through, one.on):
        raise CaddetError(say("there is no {edge} here", edge=one.through.replace("_", " ")))
    for piece, _ in runs_round(drafted, one.through, one.on):
        if not pattern.pieces_meant(reference(piece.made)):
            raise CaddetError(say("the {piece} is not there any more", piece=piece.label.lower()))


def _through(one: Passes, pattern: Pattern, each: bool) -> tuple[float, float]:
    """How far round it is without what opens there, and that, in mm."""
    extra = 0.0
    for more in one.plus:
        with suppress(CaddetError):
            extra += more.measured(pattern)
    if one.of:
        return sum(measurement.measured(pattern) for measurement in one.of), extra
    return around(pattern, one.through, one.on, each=each), extra + (0.0 if each else left_open(pattern, one.through))


def _place(one: Passes, pattern: Pattern) -> str:
    return runs_round(pattern, one.through, one.on)[0][1]


def _done(mend: Mend, context: Context) -> bool:
    """Whether an option is chosen already."""
    if mend.option is None:
        return False
    name, value = mend.option
    known = context.names.get(name if isinstance(value, bool) else f"{name}_{value}")
    return known is not None and bool(known.value)


def _remedy(mend: Mend, lacking: float, context: Context) -> Remedy:
    if mend.option is not None:
        return Remedy(mend.label, option=mend.option)
    longer = context.sums[mend.figure].value + lacking / 2 + mend.more
    return Remedy(say(mend.label), override=(mend.figure, f"{longer / 10:.1f}cm"))


def gates_of(
    passes: Sequence[Passes], pattern: Pattern, context: Context, drafted: Pattern | None = None
) -> list[Gate]:
    """All passages that matter on a pattern, worked out. Raises :class:`CaddetError` as :func:`gate_of` does."""
    return [gate for one in passes if (gate := gate_of(one, pattern, context, drafted)) is not None]
