"""What the user reads: a template with typed arguments, told for a unit (and a language) at the very end.

``say("The neck is {long} round, {3 cm} less than the head.", long=Length(412.0))`` makes a :class:`Sentence`. It is
text as somebody reads it who measures in centimetres, and remembers its template and arguments, so that
:func:`told` can say it in inches, or by the template of another language. A length that is always the same stands
in the template itself: ``{3 cm}``, ``{8 to 13 cm}``.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

from caddet.core.lengths import Unit, format_length

# templates of another language by the English ones; English is what the templates are written in
Catalogue = Mapping[str, str]
ENGLISH: Catalogue = MappingProxyType({})
_HOLE = re.compile(r"\{([^{}]+)\}")
_FIXED = re.compile(r"([+−-]?\d+(?:\.\d+)?)(?:( to | and | or | by |–)(\d+(?:\.\d+)?))? cm")
QUARTER = 25.4 / 4
ROUGH_FROM = 12.7  # mm; a round figure from here on is told to the quarter of an inch, a smaller one to the sixteenth


@dataclass(frozen=True, slots=True)
class Length:
    """A length in a sentence, in mm; ``sign`` shows a plus, ``bare`` leaves the unit out, ``rough`` means a round figure."""

    mm: float
    sign: bool = False
    bare: bool = False
    rough: bool = False

    def told(self, unit: Unit) -> str:
        """As somebody reads it who measures in this unit."""
        mm = self.mm
        if self.rough and unit == "cm":
            return f"{'+' if self.sign and mm > 0 else ''}{mm / 10:g}".replace("-", "−") + ("" if self.bare else " cm")
        if self.rough and abs(mm) >= ROUGH_FROM:
            mm = round(mm / QUARTER) * QUARTER
        return format_length(mm, unit, sign=self.sign, with_unit=not self.bare)


class Sentence(str):
    """Text with its template and arguments; its plain value is what somebody reads who measures in centimetres."""

    template: str
    arguments: Mapping[str, Any]

    def __new__(cls, template: str, /, **arguments: Any) -> Sentence:
        """Fill a template; a name without an argument stays as it stands, in its braces."""
        made = super().__new__(cls, _told(template, arguments, "cm", ENGLISH))
        made.template, made.arguments = template, MappingProxyType(arguments)
        return made

    def __str__(self) -> str:
        return self

    def __reduce__(self) -> tuple[Any, ...]:
        return _again, (self.template, dict(self.arguments))

    def __add__(self, more: str) -> Sentence:
        return Sentence("{first}{more}", first=self, more=more)

    def __radd__(self, first: str) -> Sentence:
        return Sentence("{first}{more}", first=first, more=self)

    def capital(self) -> Sentence:
        """The sentence beginning with a capital letter."""
        return Sentence("{sentence:capital}", sentence=self)


say = Sentence


def _again(template: str, arguments: dict[str, Any]) -> Sentence:
    return Sentence(template, **arguments)


def told(text: str, unit: Unit = "cm", catalogue: Catalogue = ENGLISH) -> str:
    """A sentence as plain text for somebody who measures in this unit; other text is looked up as it stands."""
    if isinstance(text, Sentence):
        return _told(text.template, text.arguments, unit, catalogue)
    return catalogue.get(text, text)


def joined(parts: list[str] | tuple[str, ...], between: str = ", ") -> Sentence:
    """Several texts one after another, each told for itself."""
    holes = {f"part{n}": part for n, part in enumerate(parts)}
    return Sentence(between.replace("{", "").join(f"{{{name}}}" for name in holes), **holes)


def flat(sentence: Sentence) -> tuple[str, dict[str, str | Length]] | None:
    """A sentence as one template and its arguments, words or lengths; None when it reads the same in every unit."""
    arguments: dict[str, str | Length] = {}

    def laid_open(template: str, given: Mapping[str, Any], before: str) -> str:
        def filled(hole: re.Match[str]) -> str:
            name, _, manner = hole[1].partition(":")
            if name not in given:
                return hole[0]
            one, key = given[name], f"{before}{name}".lower()
            one = str(one) if isinstance(one, BaseException) else one
            if isinstance(one, Sentence):
                inner = laid_open(one.template, one.arguments, f"{key}_")
                if manner != "capital":
                    return inner
                first = _HOLE.match(inner)
                if first is None or first[1].partition(":")[0] not in arguments:
                    return inner[:1].upper() + inner[1:]
                return f"{{{first[1].partition(':')[0]}:capital}}{inner[first.end() :]}"
            if isinstance(one, tuple | list):
                parts = {f"{n}": part for n, part in enumerate(one)}
                return laid_open(", ".join(f"{{{n}}}" for n in parts), parts, f"{key}_")
            arguments[key] = one if isinstance(one, Length) else _shown(one, "cm", ENGLISH)
            return f"{{{key}:{manner}}}" if manner else f"{{{key}}}"

        return _HOLE.sub(filled, template)

    template = laid_open(sentence.template, sentence.arguments, "")
    if any(isinstance(one, Length) for one in arguments.values()) or any(
        map(_FIXED.fullmatch, _HOLE.findall(template))
    ):
        return template, arguments
    return None


def _told(template: str, arguments: Mapping[str, Any], unit: Unit, catalogue: Catalogue) -> str:
    def filled(hole: re.Match[str]) -> str:
        name, _, manner = hole[1].partition(":")
        if name in arguments:
            words = _shown(arguments[name], unit, catalogue)
            return words[:1].upper() + words[1:] if manner == "capital" else words
        fixed = _FIXED.fullmatch(hole[1])
        if fixed is None:
            return hole[0]
        first, between, last = fixed.groups()
        if last is None:
            return _fixed(first).told(unit)
        return f"{_fixed(first, bare=True).told(unit)}{between}{_fixed(last).told(unit)}"

    return _HOLE.sub(filled, catalogue.get(template, template))


def _fixed(figure: str, *, bare: bool = False) -> Length:
    return Length(float(figure.replace("−", "-")) * 10, sign=figure[0] == "+", bare=bare, rough="." not in figure)


def _shown(argument: Any, unit: Unit, catalogue: Catalogue) -> str:
    match argument:
        case Length():
            return argument.told(unit)
        case str():
            return told(argument, unit, catalogue)
        case BaseException():
            return told(str(argument), unit, catalogue)
        case float():
            return f"{argument:g}"
        case tuple() | list():
            return ", ".join(_shown(one, unit, catalogue) for one in argument)
        case _:
            return str(argument)
