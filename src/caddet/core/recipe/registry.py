"""What blocks and steps declare about themselves, and the registries that find them by name.

A block is one module in ``core/blocks``, a step one function in a module of ``core/shaping``; both
register with a decorator when their package is imported (``core.library`` does that).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any, Literal

from caddet.core.errors import CaddetError
from caddet.core.figures.language import FormulaError, Quantity, parse, work_out
from caddet.core.figures.sums import Figure, Sums
from caddet.core.geometry.segments import Point
from caddet.core.lengths import Unit
from caddet.core.pattern.ids import Reference, reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.ease import EaseLevel as EaseLevel
from caddet.core.recipe.edits import Remedy
from caddet.core.recipe.entries import StepEntry
from caddet.core.recipe.values import Choice, Flag, Formula, Named, Number, Plain, References, as_value

NOTHING: Mapping[str, Quantity] = MappingProxyType({})
ParameterKind = Literal["length", "number", "choice", "flag", "piece", "dart", "run"]


class CannotDraft(CaddetError):
    """A block can't be drafted on this body: the reason, and the figure or measure at fault."""

    def __init__(self, reason: str, place: str) -> None:
        super().__init__(reason)
        self.place = place


class Stuck(CaddetError):
    """A step can't be done on this pattern: the reason, and the parameter at fault."""

    def __init__(self, reason: str, parameter: str = "") -> None:
        super().__init__(reason)
        self.parameter = parameter


@dataclass(frozen=True, slots=True)
class Parameter:
    """One value a block's option or a step takes. Lengths, with their limits, in mm.

    ``only`` names another option and those of its values with which this one means anything; with
    the others it changes nothing and is not asked for.
    """

    name: str
    label: str
    kind: ParameterKind
    default: Plain
    low: float = 0.0
    high: float = 0.0
    choices: tuple[tuple[str, str], ...] = ()
    why: str = ""
    only: tuple[str, tuple[Plain, ...]] | None = None

    def checked(self, value: Plain) -> Plain:
        """The value if it is allowed. Raises :class:`CaddetError` with what was expected."""
        if self.kind in ("length", "number"):
            if isinstance(value, bool) or not isinstance(value, int | float):
                raise CaddetError(f"{self.label}: expected a {self.kind}, not “{value}”")
            if not self.low <= value <= self.high:
                unit = " mm" if self.kind == "length" else ""
                raise CaddetError(f"{self.label}: {value:g}{unit} is not between {self.low:g} and {self.high:g}{unit}")
            return float(value)
        if self.kind == "flag":
            if not isinstance(value, bool):
                raise CaddetError(f"{self.label}: expected yes or no, not “{value}”")
            return value
        if not isinstance(value, str):
            raise CaddetError(f"{self.label}: expected a name, not “{value}”")
        if self.kind == "choice" and value not in [name for name, _ in self.choices]:
            raise CaddetError(f"{self.label}: expected one of {', '.join(n for n, _ in self.choices)}, not “{value}”")
        return value

    def or_default(self, value: Plain) -> Plain:
        """The value if it is allowed, else the default."""
        try:
            return self.checked(value)
        except CaddetError:
            return self.default

    def plain(self, value: Any, names: Mapping[str, Quantity] = NOTHING) -> Plain:
        """A document's value as a draft works with it; formulas are worked out with these names.

        Raises :class:`CaddetError` when it is of the wrong kind, not allowed, or can't be worked out.
        """
        match value:
            case Number(value=number) if self.kind in ("length", "number"):
                return self.checked(number)
            case Formula(text=text) if self.kind in ("length", "number"):
                return self.checked(self._worked_out(text, names))
            case Flag(on=on) if self.kind == "flag":
                return on
            case Choice(name=name) if self.kind == "choice":
                return self.checked(name)
            case References(kind="pieces", refs=refs) if self.kind == "piece":
                return self._one(refs, "all").name
            case References(kind="dart", refs=refs) if self.kind == "dart":
                return self._one(refs, "").own
            case References(kind="edges", refs=refs) if self.kind == "run":
                return self._one(refs, "").own
        raise CaddetError(f"{self.label}: expected {_EXPECTED[self.kind]}, not {_described(value)}")

    def _one(self, refs: tuple[str, ...], none: str) -> Reference:
        if len(refs) > 1:
            raise CaddetError(f"{self.label}: expected one, not {len(refs)}")
        one = reference(refs[0]) if refs else Reference(none)
        if one.marks or one.mirrored:
            raise CaddetError(f"{self.label}: nothing here is called “{one}”")
        return one

    def _worked_out(self, text: str, names: Mapping[str, Quantity]) -> float:
        try:
            found = work_out(parse(text), names)
        except FormulaError as error:
            raise CaddetError(
                f"{self.label}: {error.reason} (character {error.position + 1} of “{text[:60]}”)"
            ) from error
        wanted = 1 if self.kind == "length" else 0
        if found.dimension != wanted:
            what = "a length" if wanted else "a plain number"
            raise CaddetError(f"{self.label}: “{text[:60]}” must come out as {what}")
        return found.value

    def tagged(self, plain: Any, piece: str = "") -> Any:
        """A plain value as a document keeps it; a run or dart is named below its piece."""
        if not isinstance(plain, str) or self.kind == "choice":
            return as_value(plain)
        kind: Named = {"piece": "pieces", "dart": "dart", "run": "edges"}.get(self.kind, "edges")  # type: ignore[assignment]
        if not plain or (self.kind == "piece" and plain == "all"):
            return References(kind=kind)
        own = f"{piece}.{plain}" if self.kind != "piece" and piece not in ("", "all") else plain
        return References(kind=kind, refs=(own,))


_EXPECTED: dict[ParameterKind, str] = {
    "length": "a length", "number": "a number", "choice": "a choice", "flag": "yes or no", "piece": "a piece",
    "dart": "a dart", "run": "an edge",
}  # fmt: skip


def _described(value: Any) -> str:
    return {
        "number": "a number", "formula": "a formula", "choice": "a choice", "flag": "yes or no", "text": "words",
        "pieces": "pieces", "edges": "edges", "dart": "a dart", "place": "a place on an edge",
    }.get(getattr(value, "kind", ""), f"a value of kind “{getattr(value, 'kind', '')}”")  # fmt: skip


Values = Mapping[str, Any]


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
class Block:
    """A block: what it needs, its figures, how it is drafted, and what must be possible in it.

    ``family`` groups it for choosing, ``fits`` are the ways of fitting that suit it (the first is its
    own), ``wants`` what it asks of a cloth (see ``core.recipe.suitability``), ``schools`` a sentence for
    each way of working among the choices of its options.
    """

    name: str
    label: str
    about: str
    needs: tuple[str, ...]
    uses: tuple[str, ...]
    options: tuple[Parameter, ...]
    ease: tuple[EaseLevel, ...]
    figures: tuple[Figure, ...]
    draft: Callable[[Sums, Values], Pattern]
    gates: Callable[[Pattern, Sums, Mapping[str, float]], Sequence[Gate]]
    family: str = "Other"
    fits: tuple[str, ...] = ()
    wants: tuple[str, ...] = ()
    schools: Mapping[str, str] = field(default_factory=dict)

    def option_values(self, given: Mapping[str, Any], names: Mapping[str, Quantity] = NOTHING) -> dict[str, Plain]:
        """Every option with the given or default value, plain. Raises :class:`CaddetError`."""
        known = {option.name for option in self.options}
        for name in given:
            if name not in known:
                raise CaddetError(f"{self.label} has no option “{name}”; it has {', '.join(sorted(known))}")
        return {o.name: o.plain(as_value(given[o.name]), names) if o.name in given else o.default for o in self.options}

    def shown_options(self, given: Mapping[str, Any], names: Mapping[str, Quantity] = NOTHING) -> dict[str, Plain]:
        """Every option for showing: the given value where it makes sense, the default elsewhere."""
        return _shown(self.options, given, names)

    def asked(self, given: Mapping[str, Any]) -> tuple[Parameter, ...]:
        """The options that mean anything with these values."""
        values = self.shown_options(given)
        return tuple(o for o in self.options if o.only is None or values[o.only[0]] in o.only[1])


@dataclass(frozen=True, slots=True)
class Grip:
    """Something a hand can take hold of on a piece, and what dragging it would do.

    ``drag`` maps where the pointer is (piece coordinates, mm) to the values of the step.
    """

    step: str
    piece: str
    at: Point
    label: str
    drag: Callable[[Point], dict[str, Plain]]
    nudge: Callable[[float], dict[str, Plain]]


@dataclass(frozen=True, slots=True)
class Step:
    """A step: pure function from pattern to pattern, with what the desk needs to show it."""

    kind: str
    label: str
    why: str
    parameters: tuple[Parameter, ...]
    apply: Callable[[Pattern, Values], Pattern]
    describe: Callable[[Values, Unit], str]
    grips: Callable[[Pattern], Sequence[Grip]] = field(default=lambda pattern: ())
    merge: Callable[[Values, Values], dict[str, Plain] | None] = field(default=lambda old, new: None)

    def shown_values(self, given: Mapping[str, Any], names: Mapping[str, Quantity] = NOTHING) -> dict[str, Plain]:
        """Every parameter for showing: the given value where it makes sense, the default elsewhere."""
        return _shown(self.parameters, given, names)

    def values(self, given: Mapping[str, Any], names: Mapping[str, Quantity] = NOTHING) -> dict[str, Plain]:
        """Every parameter with the given or default value, plain. Raises :class:`Stuck` naming the parameter."""
        known = {parameter.name for parameter in self.parameters}
        for name in given:
            if name not in known:
                raise Stuck(f"{self.label} has no value called “{name}”", name)
        found: dict[str, Plain] = {}
        for p in self.parameters:
            try:
                found[p.name] = p.plain(given[p.name], names) if p.name in given else p.default
            except CaddetError as error:
                raise Stuck(str(error), p.name) from error
        return found

    def tagged(self, plain: Mapping[str, Any]) -> dict[str, Any]:
        """Plain values as a document keeps them."""
        kinds = {parameter.name: parameter for parameter in self.parameters}
        piece = str(plain.get("piece", "")) if isinstance(plain.get("piece", ""), str) else ""
        return {name: kinds[name].tagged(value, piece) if name in kinds else as_value(value)
                for name, value in plain.items()}  # fmt: skip


def _shown(
    parameters: Sequence[Parameter], given: Mapping[str, Any], names: Mapping[str, Quantity]
) -> dict[str, Plain]:
    found: dict[str, Plain] = {}
    for parameter in parameters:
        found[parameter.name] = parameter.default
        if parameter.name in given:
            with suppress(CaddetError):
                found[parameter.name] = parameter.plain(as_value(given[parameter.name]), names)
    return found


def step_entry(kind: str, plain: Mapping[str, Any], **fields: Any) -> StepEntry:
    """A step of these plain values, not yet in a recipe."""
    step = STEPS.get(kind)
    values = step.tagged(plain) if step else {name: as_value(value) for name, value in plain.items()}
    return StepEntry(kind=kind, values=values, **fields)


BLOCKS: dict[str, Block] = {}
STEPS: dict[str, Step] = {}


def register_block(block: Block) -> Block:
    """Make a block known by its name."""
    if block.name in BLOCKS:
        raise CaddetError(f"two blocks are called {block.name}")
    BLOCKS[block.name] = block
    return block


def register_step(step: Step) -> Step:
    """Make a step known by its kind."""
    if step.kind in STEPS:
        raise CaddetError(f"two steps are called {step.kind}")
    STEPS[step.kind] = step
    return step


def _no_draft(sums: Sums, values: Values) -> Pattern:
    raise CannotDraft("a garment of outlines only is not drafted", "recipe")


OUTLINES_ONLY = Block("", "Outlines", "Pieces traced or imported.", (), (), (), (), (), _no_draft, lambda p, s, m: ())


def block_named(name: str) -> Block:
    """The block of that name; for a recipe without one, :data:`OUTLINES_ONLY`.

    Raises :class:`CaddetError` naming the blocks there are.
    """
    if not name:
        return OUTLINES_ONLY
    try:
        return BLOCKS[name]
    except KeyError:
        raise CaddetError(f"there is no block “{name}”; there are: {', '.join(sorted(BLOCKS))}") from None


def blocks_using(code: str) -> tuple[Block, ...]:
    """The blocks that need or can use a measure, by their labels."""
    return tuple(sorted((b for b in BLOCKS.values() if code in (*b.needs, *b.uses)), key=lambda b: b.label))
