"""What a block's option or a step takes: typed parameters, checked and turned into plain values.

Amounts come as numbers (mm, degrees, shares, counts), choices and texts as words, flags as yes or no; edges,
pieces, darts, levels and seams as references in text, none meaning every one that fits; places and lines as the
document keeps them.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any, Literal

from caddet.core.errors import CaddetError
from caddet.core.figures.language import FormulaError, Quantity, names_in, parse, work_out
from caddet.core.pattern.ids import reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.values import (
    Choice,
    Corner,
    Flag,
    Formula,
    LinesValue,
    LineValue,
    Number,
    Place,
    Plain,
    Points,
    References,
    TableValue,
    Text,
    as_value,
)
from caddet.core.sentences import Length, Sentence, say

NOTHING: Mapping[str, Quantity] = MappingProxyType({})
AMOUNTS = ("length", "number", "angle", "ratio", "count")
NAMING = ("edges", "pieces", "dart", "level", "seam")
ParameterKind = Literal[
    "length",
    "number",
    "angle",
    "ratio",
    "count",
    "choice",
    "flag",
    "text",
    "table",
    "place",
    "corner",
    "points",
    "line",
    "lines",
    "edges",
    "pieces",
    "dart",
    "level",
    "seam",
]
KIND_WORDS: dict[str, str] = {
    "length": "a length", "number": "a number", "angle": "an angle in degrees", "ratio": "a ratio", "count": "a whole number",
    "choice": "a choice", "flag": "yes or no", "text": "words", "table": "a table", "place": "a place on an edge", "corner": "a corner",
    "points": "points", "line": "a line", "lines": "lines", "edges": "edges", "pieces": "pieces", "dart": "a dart",
    "level": "a level", "seam": "a seam", "formula": "a formula", "point": "a point",
}  # fmt: skip
MOST = {"dart": 1, "level": 1, "seam": 1}


@dataclass(frozen=True, slots=True)
class Hand:
    """How an amount is taken hold of on the table.

    Its handle stands at ``at`` of what the parameter ``on`` names; without one, on every piece with a hem. The amount
    grows along ``way``: straight down, out of the cloth, along the edge from its hem or start, across a line that is
    pulled open; with ``level`` the amount is itself a height on the piece.
    """

    way: Literal["down", "out", "along", "open", "level"] = "out"
    on: str = ""
    at: Literal["middle", "hem", "start", "end"] = "middle"


@dataclass(frozen=True, slots=True)
class LineNote:
    """What a line of a longer text came to, or what is wrong with it. Lines count from 1.

    A line that gives a ``point`` of a ``piece`` (by its own name) says where that lies in the piece's frame, in mm.
    """

    line: int
    says: Sentence | str
    wrong: bool = False
    piece: str = ""
    point: str = ""
    at: complex = 0j


NotesOf = Callable[[str, Mapping[str, Quantity], Pattern], Sequence[LineNote]]


# how the reason of an amount says that 0 is no amount: “0 takes the whole edge”
BY_ITSELF = re.compile(r"(?:^|[.,;] |With )0(?::| takes| makes| opens| begins| goes| spaces| is as usual| it )")


@dataclass(frozen=True, slots=True)
class Parameter:
    """One value a block's option or a step takes. Lengths, with their limits, in mm; angles in degrees.

    ``only`` names another option and those of its values with which this one means anything; with
    the others it changes nothing and is not asked for. Of edges and pieces at most ``most`` may be named. ``hand``
    says how an amount is dragged on the table; without one its handle runs on a small rule beside the piece. An
    ``optional`` place or line is not asked for: the step has an answer of its own without it. A text with ``notes`` is
    written in lines, and they say what each of them comes to with these names beside this pattern; ``wording`` are
    examples of such lines and what they mean. A new recipe starts with the formula ``begins``, so that an amount goes by
    the wearer; where a measure of it is unknown, and in recipes without a value, it is ``default``.
    """

    name: str
    label: str
    kind: ParameterKind
    default: Any
    low: float = 0.0
    high: float = 0.0
    choices: tuple[tuple[str, str], ...] = ()
    why: str = ""
    only: tuple[str, tuple[Plain, ...]] | None = None
    most: int = 500
    hand: Hand | None = None
    optional: bool = False
    notes: NotesOf | None = None
    wording: tuple[tuple[str, str], ...] = ()
    begins: str = ""

    def means(self, values: Mapping[str, Any]) -> bool:
        """Whether it means anything with these plain values of the others."""
        return self.only is None or values.get(self.only[0]) in self.only[1]

    @property
    def is_amount(self) -> bool:
        """Whether it is a number with limits, which may be a formula."""
        return self.kind in AMOUNTS

    @property
    def zero_by_itself(self) -> bool:
        """Whether 0 leaves the amount to the step, as its reason says, and is no amount of its own."""
        return self.is_amount and self.low <= 0 and bool(BY_ITSELF.search(str(self.why)))

    def checked(self, value: Any) -> Any:
        """The value if it is allowed. Raises :class:`CaddetError` with what was expected."""
        if self.is_amount:
            return self._amount(value)
        if self.kind == "flag":
            if not isinstance(value, bool):
                raise CaddetError(say("{label}: expected yes or no, not “{value}”", label=self.label, value=value))
            return value
        if self.kind in NAMING:
            return self._refs(value)
        if self.kind == "place":
            return self._place(value)
        if self.kind == "corner":
            if not isinstance(value, Corner):
                raise CaddetError(say("{label}: expected a corner, not “{value}”", label=self.label, value=value))
            return value
        if self.kind in ("points", "line", "lines", "table"):
            return value
        if not isinstance(value, str):
            raise CaddetError(say("{label}: expected a name, not “{value}”", label=self.label, value=value))
        if self.kind == "choice" and value not in [name for name, _ in self.choices]:
            raise CaddetError(
                say(
                    "{label}: expected one of {choices}, not “{value}”",
                    label=self.label,
                    choices=", ".join(n for n, _ in self.choices),
                    value=value,
                )
            )
        return value

    def said(self, value: float) -> Length | str:
        """A value of this kind as an argument of a sentence."""
        match self.kind:
            case "length":
                return Length(value)
            case "angle":
                return f"{value:g}°"
            case "ratio":
                return f"{value:.4g}"
        return f"{value:g}"

    def _amount(self, value: Any) -> float:
        if isinstance(value, bool) or not isinstance(value, int | float):
            raise CaddetError(
                say(
                    "{label}: expected {KIND_WORDS}, not “{value}”",
                    label=self.label,
                    KIND_WORDS=KIND_WORDS[self.kind],
                    value=value,
                )
            )
        if not self.low <= value <= self.high:
            shown = tuple(self.said(one) for one in (value, self.low, self.high))
            raise CaddetError(
                say(
                    "{label}: {value} is not between {low} and {high}",
                    label=self.label,
                    value=shown[0],
                    low=shown[1],
                    high=shown[2],
                )
            )
        if self.kind == "count" and value != int(value):
            raise CaddetError(
                say("{label}: expected a whole number, not {value}", label=self.label, value=f"{value:g}")
            )
        return float(value)

    def _refs(self, value: Any) -> tuple[str, ...]:
        found = (value,) if isinstance(value, str) else tuple(value)
        found = tuple(str(reference(one)) for one in found if one)
        most = MOST.get(self.kind, self.most)
        if len(found) > most:
            raise CaddetError(
                say(
                    "{label}: expected {words}, not {found}",
                    label=self.label,
                    words="one" if most == 1 else f"at most {most}",
                    found=len(found),
                )
            )
        return found

    def _place(self, value: Any) -> Place:
        if not isinstance(value, Place):
            raise CaddetError(say("{label}: expected a place on an edge, not “{value}”", label=self.label, value=value))
        if value.share is not None and not 0 <= value.share <= 1:
            raise CaddetError(
                say(
                    "{label}: {share} is not between 0 (the start of the edge) and 1 (its end)",
                    label=self.label,
                    share=f"{value.share:g}",
                )
            )
        if value.mm is not None and value.mm < 0:
            raise CaddetError(
                say("{label}: {mm} lies before the end of the edge", label=self.label, mm=Length(value.mm))
            )
        return value

    def or_default(self, value: Any) -> Any:
        """The value if it is allowed, else the default."""
        try:
            return self.checked(value)
        except CaddetError:
            return self.default

    def plain(self, value: Any, names: Mapping[str, Quantity] = NOTHING) -> Any:
        """A document's value as a draft works with it; formulas are worked out with these names.

        Raises :class:`CaddetError` when it is of the wrong kind, not allowed, or can't be worked out.
        """
        match value:
            case Number(value=number) if self.is_amount:
                return self.checked(number)
            case Formula(text=text) if (
                self.is_amount and text == self.begins and not names_in(parse(text)) <= set(names)
            ):
                return self.default
            case Formula(text=text) if self.is_amount:
                return self.checked(self._worked_out(text, names))
            case Flag(on=on) if self.kind == "flag":
                return on
            case Choice(name=name) if self.kind == "choice":
                return self.checked(name)
            case Text(text=text) if self.kind == "text":
                return text
            case TableValue(rows=rows) if self.kind == "table":
                return rows
            case Place() if self.kind == "place":
                return self.checked(value)
            case Corner() if self.kind == "corner":
                return self.checked(value)
            case Points(points=points) if self.kind == "points":
                return points
            case LineValue(points=points) if self.kind == "line":
                return points
            case LinesValue(lines=lines) if self.kind == "lines":
                return lines
            case References(kind=kind, refs=refs) if self.kind == kind:
                return self.checked(refs)
        raise CaddetError(
            say(
                "{label}: expected {KIND_WORDS}, not {described}",
                label=self.label,
                KIND_WORDS=KIND_WORDS[self.kind],
                described=_described(value),
            )
        )

    def _worked_out(self, text: str, names: Mapping[str, Quantity]) -> float:
        try:
            found = work_out(parse(text), names)
        except FormulaError as error:
            raise CaddetError(
                say(
                    "{label}: {reason} (character {position} of “{text}”)",
                    label=self.label,
                    reason=error.reason,
                    position=error.position + 1,
                    text=text[:60],
                )
            ) from error
        wanted = 1 if self.kind == "length" else 0
        if found.dimension != wanted:
            what = "a length" if wanted else "a plain number"
            raise CaddetError(
                say("{label}: “{text}” must come out as {what}", label=self.label, text=text[:60], what=what)
            )
        return found.value

    def tagged(self, plain: Any) -> Any:
        """A plain value as a document keeps it."""
        if self.kind in NAMING:
            refs = (plain,) if isinstance(plain, str) else tuple(plain)
            return References(kind=self.kind, refs=tuple(one for one in refs if one))
        if self.kind == "text" and isinstance(plain, str):
            return Text(text=plain)
        if self.kind in ("line", "lines", "points", "table") and isinstance(plain, tuple):
            return _GROUPED[self.kind](plain)
        return as_value(plain)


_GROUPED: dict[str, Callable[[Any], Any]] = {
    "line": lambda points: LineValue(points=points),
    "points": lambda points: Points(points=points),
    "lines": lambda lines: LinesValue(lines=lines),
    "table": lambda rows: TableValue(rows=rows),
}


def _described(value: Any) -> str:
    kind = getattr(value, "kind", "")
    return KIND_WORDS.get(kind, say("a value of kind “{kind}”", kind=kind))
