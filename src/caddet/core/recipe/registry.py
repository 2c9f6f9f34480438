"""What blocks and steps declare about themselves, and the registries that find them by name.

A block is one module in ``core/blocks``, a step one function in a module of ``core/shaping``; both
register with a decorator when their package is imported (``core.library`` does that).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from caddet.core.errors import CaddetError
from caddet.core.figures.sums import Figure, Sums
from caddet.core.geometry.segments import Point
from caddet.core.lengths import Unit
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.document import Value
from caddet.core.recipe.ease import EaseLevel as EaseLevel
from caddet.core.recipe.edits import Remedy

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
    default: Value
    low: float = 0.0
    high: float = 0.0
    choices: tuple[tuple[str, str], ...] = ()
    why: str = ""
    only: tuple[str, tuple[Value, ...]] | None = None

    def checked(self, value: Value) -> Value:
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

    def or_default(self, value: Value) -> Value:
        """The value if it is allowed, else the default."""
        try:
            return self.checked(value)
        except CaddetError:
            return self.default


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

    def option_values(self, given: Mapping[str, Value]) -> dict[str, Value]:
        """Every option with the given or default value. Raises :class:`CaddetError`."""
        known = {option.name for option in self.options}
        for name in given:
            if name not in known:
                raise CaddetError(f"{self.label} has no option “{name}”; it has {', '.join(sorted(known))}")
        return {option.name: option.checked(given.get(option.name, option.default)) for option in self.options}

    def asked(self, given: Mapping[str, Value]) -> tuple[Parameter, ...]:
        """The options that mean anything with these values."""
        values = {option.name: option.or_default(given.get(option.name, option.default)) for option in self.options}
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
    drag: Callable[[Point], dict[str, Value]]
    nudge: Callable[[float], dict[str, Value]]


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
    merge: Callable[[Values, Values], dict[str, Value] | None] = field(default=lambda old, new: None)

    def shown_values(self, given: Mapping[str, Value]) -> dict[str, Value]:
        """Every parameter for showing: the given value where it makes sense, the default elsewhere."""
        return {p.name: p.or_default(given.get(p.name, p.default)) for p in self.parameters}

    def values(self, given: Mapping[str, Value]) -> dict[str, Value]:
        """Every parameter with the given or default value, checked. Raises :class:`Stuck`."""
        known = {parameter.name for parameter in self.parameters}
        for name in given:
            if name not in known:
                raise Stuck(f"{self.label} has no value called “{name}”", name)
        try:
            return {p.name: p.checked(given.get(p.name, p.default)) for p in self.parameters}
        except CaddetError as error:
            raise Stuck(str(error)) from error


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


def block_named(name: str) -> Block:
    """Raises :class:`CaddetError` naming the blocks there are."""
    try:
        return BLOCKS[name]
    except KeyError:
        raise CaddetError(f"there is no block “{name}”; there are: {', '.join(sorted(BLOCKS))}") from None


def blocks_using(code: str) -> tuple[Block, ...]:
    """The blocks that need or can use a measure, by their labels."""
    return tuple(sorted((b for b in BLOCKS.values() if code in (*b.needs, *b.uses)), key=lambda b: b.label))
