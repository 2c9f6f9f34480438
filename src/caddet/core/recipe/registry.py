"""What blocks and steps declare about themselves, and the registries that find them by name.

A block is one module in ``core/blocks``, a step one function in a module of ``core/shaping``; both
register with a decorator when their package is imported (``core.library`` does that).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

from caddet.core.errors import CaddetError, Finding, one_line, some
from caddet.core.figures.language import Quantity
from caddet.core.figures.sums import Figure
from caddet.core.geometry.segments import Point
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.stuck import CannotDraft as CannotDraft
from caddet.core.pattern.stuck import Stuck as Stuck
from caddet.core.recipe.context import Apply, Context, Result
from caddet.core.recipe.context import Values as Values
from caddet.core.recipe.ease import EaseLevel as EaseLevel
from caddet.core.recipe.entries import StepEntry
from caddet.core.recipe.parameters import NOTHING, LineNote
from caddet.core.recipe.parameters import Parameter as Parameter
from caddet.core.recipe.passages import Gate as Gate
from caddet.core.recipe.passages import Mend as Mend
from caddet.core.recipe.passages import Passes as Passes
from caddet.core.recipe.passages import gates_of
from caddet.core.recipe.passages import through_edges as through_edges
from caddet.core.recipe.values import as_value
from caddet.core.sentences import Sentence, say


@dataclass(frozen=True, slots=True)
class Block:
    """A block: what it needs, its figures, how it is drafted, what passes through it, and what else must be possible.

    ``family`` groups it for choosing, ``fits`` are the ways of fitting that suit it (the first is its
    own), ``wants`` what it asks of a cloth (see ``core.recipe.suitability``), ``schools`` a sentence for
    each way of working among the choices of its options. ``reads`` names the measures and ``figures_in`` the figures
    that these options bring with them (a recipe of one's own is such an option).
    """

    name: str
    label: str
    about: str
    needs: tuple[str, ...]
    uses: tuple[str, ...]
    options: tuple[Parameter, ...]
    ease: tuple[EaseLevel, ...]
    figures: tuple[Figure, ...]
    apply: Apply
    passes: tuple[Passes, ...] = ()
    family: str = "Other"
    fits: tuple[str, ...] = ()
    wants: tuple[str, ...] = ()
    schools: Mapping[str, str] = field(default_factory=dict)
    more_gates: Callable[[Pattern, Context], Sequence[Gate]] = field(default=lambda pattern, context: ())
    reads: Callable[[Values], Sequence[str]] | None = None
    figures_in: Callable[[Values], tuple[Figure, ...]] = field(default=lambda options: ())

    def gates(self, pattern: Pattern, context: Context, drafted: Pattern | None = None) -> list[Gate]:
        """What must be possible in the finished garment, measured on it; ``drafted``: as the block drafted it."""
        return [*gates_of(self.passes, pattern, context, drafted), *self.more_gates(pattern, context)]

    def needs_for(self, given: Mapping[str, Any]) -> tuple[str, ...]:
        """The measures it needs, with those that its options as given bring."""
        return self.needs if self.reads is None else (*self.needs, *self.reads(self.shown_options(given)))

    def figures_for(self, options: Values) -> tuple[Figure, ...]:
        """Its figures, with those that its options bring."""
        return (*self.figures, *self.figures_in(options))

    def option_values(self, given: Mapping[str, Any], names: Mapping[str, Quantity] = NOTHING) -> dict[str, Any]:
        """Every option with the given or default value, plain. Raises :class:`CaddetError`."""
        known = {option.name for option in self.options}
        for name in given:
            if name not in known:
                raise CaddetError(
                    say(
                        "{label} has no option “{name}”; it has {known}",
                        label=self.label,
                        name=name,
                        known=some(sorted(known), name, 12),
                    )
                )
        return {o.name: o.plain(as_value(given[o.name]), names) if o.name in given else o.default for o in self.options}

    def shown_options(self, given: Mapping[str, Any], names: Mapping[str, Quantity] = NOTHING) -> dict[str, Any]:
        """Every option for showing: the given value where it makes sense, the default elsewhere."""
        return _shown(self.options, given, names)

    def asked(self, given: Mapping[str, Any]) -> tuple[Parameter, ...]:
        """The options that mean anything with these values."""
        values = self.shown_options(given)
        return tuple(o for o in self.options if o.only is None or values[o.only[0]] in o.only[1])


@dataclass(frozen=True, slots=True)
class Proposal:
    """Why a step that nobody chose would be good here, where, and with which values."""

    sentence: str
    place: str
    values: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Step:
    """A step: a pure function like a block's, with what the desk needs to show it.

    ``suits`` says for which chosen things it is offered, and how soon (1 before 2); ``asked_as`` are a maker's words
    for it, ``key`` the letter that begins it, ``symbol`` its small drawing: lines through points in a square of 10
    about 0. ``fits`` says before it is tried why it can't be done on a pattern, in the trade's words; "" when it can;
    ``refuses`` why not on what is chosen. ``proposes`` says when the garment and its cloth ask for it. ``usual`` gives the values that make sense on a pattern for what is chosen; ``merge`` puts two holds of the
    same kind together; ``reads`` names the measures that its values bring with them; ``parts`` numbers, as on paper, what
    a piece was cut into and lies apart now (before, after). ``passes`` says what has to pass through what it is put on, and
    is asked on the pattern that it works on.
    """

    kind: str
    label: str
    why: str
    parameters: tuple[Parameter, ...]
    apply: Apply
    describe: Callable[[Values], Sentence]
    suits: Mapping[str, int] = field(default_factory=dict)
    asked_as: tuple[str, ...] = ()
    key: str = ""
    symbol: tuple[tuple[Point, ...], ...] = ()
    usual: Callable[[Pattern, Values], Mapping[str, Any]] = field(default=lambda pattern, chosen: {})
    merge: Callable[[Values, Values], dict[str, Any] | None] = field(default=lambda old, new: None)
    fits: Callable[[Pattern], str] = field(default=lambda pattern: "")
    refuses: Callable[[Pattern, Values], str] = field(default=lambda pattern, chosen: "")
    proposes: Callable[[Pattern, Context], Proposal | None] = field(default=lambda pattern, context: None)
    reads: Callable[[Values], Sequence[str]] | None = None
    parts: Callable[[Pattern, Pattern, Values], Sequence[LineNote]] | None = None
    passes: Callable[[Pattern, Values], tuple[Passes, ...]] = field(default=lambda pattern, chosen: ())
    source: str = "common practice, no source"

    def shown_values(self, given: Mapping[str, Any], names: Mapping[str, Quantity] = NOTHING) -> dict[str, Any]:
        """Every parameter for showing: the given value where it makes sense, the default elsewhere."""
        return _shown(self.parameters, given, names)

    def values(self, given: Mapping[str, Any], names: Mapping[str, Quantity] = NOTHING) -> dict[str, Any]:
        """Every parameter with the given or default value, plain. Raises :class:`Stuck` naming the parameter."""
        known = {parameter.name for parameter in self.parameters}
        for name in given:
            if name not in known:
                raise Stuck(say("{label} has no value called “{name}”", label=self.label, name=name), name)
        found: dict[str, Any] = {}
        for p in self.parameters:
            try:
                found[p.name] = p.plain(given[p.name], names) if p.name in given else p.default
            except CaddetError as error:
                raise Stuck(str(error), p.name) from error
        return found

    def tagged(self, plain: Mapping[str, Any]) -> dict[str, Any]:
        """Plain values as a document keeps them."""
        kinds = {parameter.name: parameter for parameter in self.parameters}
        return {
            name: kinds[name].tagged(value) if name in kinds else as_value(value)
            for name, value in plain.items()
            if value is not None  # nothing chosen yet
        }


def _shown(parameters: Sequence[Parameter], given: Mapping[str, Any], names: Mapping[str, Quantity]) -> dict[str, Any]:
    found: dict[str, Any] = {}
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


Tracer = Callable[[Any, str], tuple[Pattern, tuple[Finding, ...]]]
"""A way of tracing: from what is kept of it, and its place, to pieces and remarks."""

BLOCKS: dict[str, Block] = {}
TRACERS: dict[str, Tracer] = {}
STEPS: dict[str, Step] = {}


def register_block(block: Block) -> Block:
    """Make a block known by its name."""
    if block.name in BLOCKS:
        raise CaddetError(say("two blocks are called {name}", name=block.name))
    BLOCKS[block.name] = block
    return block


def register_step(step: Step) -> Step:
    """Make a step known by its kind."""
    if step.kind in STEPS:
        raise CaddetError(say("two steps are called {kind}", kind=step.kind))
    STEPS[step.kind] = step
    return step


def register_tracer(way: str, tracer: Tracer) -> Tracer:
    """Make a way of tracing known by its name."""
    TRACERS[way] = tracer
    return tracer


def _no_draft(pattern: Pattern, context: Context, values: Values) -> Result:
    raise CannotDraft("a garment of outlines only is not drafted", "recipe")


OUTLINES_ONLY = Block("", "Outlines", "Pieces traced or imported.", (), (), (), (), (), _no_draft)


def block_named(name: str) -> Block:
    """The block of that name; for a recipe without one, :data:`OUTLINES_ONLY`.

    Raises :class:`CaddetError` naming the blocks there are.
    """
    if not name:
        return OUTLINES_ONLY
    try:
        return BLOCKS[name]
    except KeyError:
        raise CaddetError(
            say(
                "there is no block “{name}”; there are: {BLOCKS}",
                name=one_line(name, 60),
                BLOCKS=some(sorted(BLOCKS), name, 12),
            )
        ) from None


def blocks_using(code: str) -> tuple[Block, ...]:
    """The blocks that need or can use a measure, by their labels."""
    return tuple(sorted((b for b in BLOCKS.values() if code in (*b.needs, *b.uses)), key=lambda b: b.label))
