"""Figures and sums: a named value with its formula, and the same value worked out.

A block declares :class:`Figure` values in order; each formula sees what was given (measures, ease,
options) and the figures before it. :func:`add_up` works them all out, with the user's overrides.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from caddet.core.errors import Finding
from caddet.core.figures.language import FormulaError, Quantity, names_in, parse, work_out, written
from caddet.core.lengths import Unit, format_length
from caddet.core.sentences import Length, say

COMMON = "common practice"


@dataclass(frozen=True, slots=True)
class Figure:
    """A named value of a draft. ``label`` is for people; ``reason`` says why the formula is so."""

    name: str
    label: str
    formula: str
    reason: str = ""
    source: str = COMMON
    kind: Literal["length", "count"] = "length"
    short: str = ""


@dataclass(frozen=True, slots=True)
class Given:
    """A value that formulas start from: a measure, an ease, an option."""

    name: str
    label: str
    quantity: Quantity
    estimated: bool = False


@dataclass(frozen=True, slots=True)
class Sum:
    """A figure worked out. ``quantity`` is in mm for lengths; ``override`` is the user's formula.

    ``solved`` is the value that the draft found when the formula is only its first guess.
    """

    figure: Figure
    quantity: Quantity
    formula: str
    names: Mapping[str, Quantity]
    labels: Mapping[str, str]
    override: str | None = None
    estimates: tuple[str, ...] = ()
    solved: float | None = None

    @property
    def value(self) -> float:
        """The value: solved when it has been, in mm or in its own kind."""
        return self.quantity.value if self.solved is None else self.solved

    def working(self, unit: Unit) -> str:
        """The expression with its numbers in it; of a solved figure, the guess it started from."""
        text = written(parse(self.formula), self.names, self.labels, unit)
        if self.solved is None:
            return text
        return say("solved; first guess {text} = {value}", text=text, value=Length(self.quantity.value, bare=True))

    def shown(self, unit: Unit) -> str:
        """The value as it is read."""
        return format_length(self.value, unit) if self.figure.kind == "length" else f"{self.value:g}"


Sums = Mapping[str, Sum]


def add_up(
    figures: Sequence[Figure], givens: Sequence[Given], overrides: Mapping[str, str]
) -> tuple[dict[str, Sum], tuple[Finding, ...]]:
    """Work out every figure in order.

    An override that can't be read or gives the wrong kind of value becomes a finding at
    ``figures.NAME`` and the block's own formula is used, so that the draft goes on.
    Raises :class:`FormulaError` only for a fault in the block's own formula.
    """
    names = {given.name: given.quantity for given in givens}
    labels = {given.name: given.label for given in givens}
    leaning: dict[str, tuple[str, ...]] = {given.name: (given.label,) for given in givens if given.estimated}
    sums: dict[str, Sum] = {}
    findings: list[Finding] = []
    known = {figure.name for figure in figures}
    for name in overrides:
        if name not in known:
            findings.append(
                Finding(
                    "override.unknown", say("There is no figure “{name}” in this block.", name=name), f"figures.{name}"
                )
            )
    for figure in figures:
        override = overrides.get(figure.name)
        formula = figure.formula
        quantity: Quantity | None = None
        if override is not None:
            try:
                quantity = _checked(figure, override, names)
                formula = override
            except FormulaError as error:
                later = known - set(sums)
                reason = error.reason
                if any(reason == say("there is no “{name}” here", name=name) for name in later):
                    reason += " yet: a formula sees only the measures and the figures above it"
                findings.append(
                    Finding(
                        "override.formula",
                        say(
                            "{label}: {reason} (character {position} of “{override}”). The block's own formula is used until this is mended.",
                            label=figure.label,
                            reason=reason,
                            position=error.position + 1,
                            override=override[:60],
                        ),
                        f"figures.{figure.name}",
                    )
                )
                override = None
        if quantity is None:
            quantity = _checked(figure, formula, names)
        used = names_in(parse(formula))
        leans = tuple(dict.fromkeys(label for name in sorted(used) for label in leaning.get(name, ())))
        sums[figure.name] = Sum(
            figure, quantity, formula, {name: names[name] for name in used}, labels, override, leans
        )
        names[figure.name] = quantity
        labels[figure.name] = figure.short or figure.label.lower()
        if leans:
            leaning[figure.name] = leans
    return sums, tuple(findings)


def _checked(figure: Figure, formula: str, names: Mapping[str, Quantity]) -> Quantity:
    quantity = work_out(parse(formula), names)
    wanted = 1 if figure.kind == "length" else 0
    if quantity.dimension != wanted:
        kind = "a length" if wanted else "a plain number"
        raise FormulaError(say("this must come out as {kind}", kind=kind), 0)
    if wanted and abs(quantity.value) > 20_000:
        raise FormulaError("this comes out longer than 20 m", 0)
    return quantity
