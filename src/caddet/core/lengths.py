"""Lengths: millimetres inside; cm, mm, inches with fractions, feet and yards at the edge.

The value typed is kept exactly (a rational number of inches or decimals of a cm, turned into a
float of millimetres once), so that 36 1/4" shows as 36 1/4 again after any number of unit switches.
"""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Literal

from caddet.core.errors import InputError

Unit = Literal["cm", "in"]

MM: dict[str, Fraction] = {
    "mm": Fraction(1),
    "cm": Fraction(10),
    "m": Fraction(1000),
    "in": Fraction(254, 10),
    "ft": Fraction(3048, 10),
    "yd": Fraction(9144, 10),
}
_NAMES = {
    "mm": "mm", "cm": "cm", "m": "m",
    "in": "in", "inch": "in", "inches": "in", '"': "in", "″": "in", "”": "in", "''": "in",
    "ft": "ft", "foot": "ft", "feet": "ft", "'": "ft", "′": "ft", "’": "ft",
    "yd": "yd", "yds": "yd", "yard": "yd", "yards": "yd",
}  # fmt: skip
_VULGAR = {
    "¼": "1/4",
    "½": "1/2",
    "¾": "3/4",
    "⅛": "1/8",
    "⅜": "3/8",
    "⅝": "5/8",
    "⅞": "7/8",
    "⅓": "1/3",
    "⅔": "2/3",
}
_NUMBER = r"\d+/\d+|\d+(?:[.,]\d+)?(?:\s+\d+/\d+)?|[.,]\d+"
_PART = re.compile(rf"\s*(?P<number>{_NUMBER})\s*(?P<unit>''|[a-z]+|[\"″”'′’])?\s*")

EXPECTED = 'a length such as 92, 92.4 cm, 924 mm, 36 1/4, 36¼", 36.25in or 1 yd 3 in'
LONGEST = 1_000_000.0  # mm; a kilometre is certainly a slip


def parse_length(text: str, unit: Unit = "cm") -> float:
    """Read a length as a sewist writes it; a bare number is in ``unit``. Returns millimetres.

    Raises :class:`InputError` with what was expected.
    """
    shown = " ".join(text.strip()[:60].split())
    rest = text.strip().lower().replace("−", "-").replace("\N{FRACTION SLASH}", "/")
    for glyph, spelled in _VULGAR.items():
        rest = rest.replace(glyph, f" {spelled}")
    rest = rest.strip()
    sign = 1
    if rest[:1] in "+-" and rest:
        sign = -1 if rest[0] == "-" else 1
        rest = rest[1:].strip()
    if not rest or len(rest) > 60:
        raise InputError(f"“{shown}” is not a length; expected {EXPECTED}.")
    total, at, last_size = Fraction(0), 0, None
    while at < len(rest):
        match = _PART.match(rest, at)
        if not match or match.end() == at:
            raise InputError(f"“{shown}” is not a length; expected {EXPECTED}.")
        name = match["unit"]
        if name is not None and name not in _NAMES:
            raise InputError(f"“{name}” in “{shown}” is not a unit; expected mm, cm, m, in, ft or yd.")
        size = MM[_NAMES[name]] if name else MM[unit]
        if last_size is not None and size >= last_size:
            raise InputError(f"“{shown}” has its units in an odd order; expected the larger first.")
        total += _number(match["number"], shown) * size
        last_size, at = size, match.end()
    value = sign * float(total)
    if abs(value) > LONGEST:
        raise InputError(f"“{shown}” is more than a kilometre; expected {EXPECTED}.")
    return value


def _number(text: str, shown: str) -> Fraction:
    total = Fraction(0)
    for part in text.replace(",", ".").split():
        if part.endswith("/0") or re.search(r"/0+$", part):
            raise InputError(f"“{shown}” divides by zero; expected a fraction such as 1/4.")
        total += Fraction(part)
    return total


def format_length(mm: float, unit: Unit = "cm", *, sign: bool = False, with_unit: bool = False) -> str:
    """A length as it is read on a tape: cm to one decimal, inches to the nearest sixteenth."""
    if unit == "cm":
        text = f"{abs(mm) / 10:.1f}"
        negative = mm < 0 and float(text) != 0
        suffix = " cm"
    else:
        sixteenths = round(abs(mm) / 25.4 * 16)
        whole, part = divmod(sixteenths, 16)
        text = str(whole) if whole or not part else ""
        if part:
            fraction = Fraction(part, 16)
            text += f"{' ' if text else ''}{fraction.numerator}/{fraction.denominator}"
        negative = mm < 0 and sixteenths != 0
        suffix = '"'
    lead = "−" if negative else ("+" if sign else "")
    return lead + text + (suffix if with_unit else "")


def format_change(mm: float, unit: Unit = "cm") -> str:
    """A difference as it is read on a tape, with its sign; ±0 when a tape would not show it."""
    shown = format_length(mm, unit, sign=True)
    return "±0" if shown.lstrip("+−") in ("0.0", "0") else shown


def format_fine(mm: float, unit: Unit = "cm") -> str:
    """A small difference: whole and half millimetres, or sixteenths of an inch, with its sign."""
    if unit == "in":
        if abs(mm) < 25.4 / 32:
            return '±0"'
        return format_length(mm, "in", sign=True, with_unit=True)
    if abs(mm) < 0.05:
        return "±0 mm"
    return f"{'+' if mm > 0 else '−'}{abs(mm):.1f}".removesuffix(".0") + " mm"
