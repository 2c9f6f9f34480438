"""Size tables: EN 13402-3 (from memory) for women, men and children, and a user's own from CSV. In mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Growth, Person, read_measure
from caddet.core.body.readings import SIZE_ORIGIN, MeasureSet
from caddet.core.errors import InputError, some
from caddet.core.files.shipped import shipped_text
from caddet.core.files.tables import at, lines_of
from caddet.core.lengths import Unit
from caddet.core.sentences import say

FROM_MEMORY = "after EN 13402-3, from memory"
MOST_SIZES = 500
# the middle height of the sizes of grown people, mm; after EN 13402, from memory. All lengths are estimated from it.
MIDDLE_HEIGHT = {"Women": 1680.0, "Men": 1780.0, "Children": 1280.0}
_SHIPPED = {"women": "Women", "men": "Men", "children": "Children"}


@dataclass(frozen=True, slots=True)
class Size:
    """One size: its name, the letter it falls under ("" if none), and its body measures in mm."""

    name: str
    measures: Mapping[str, float]
    letter: str = ""


@dataclass(frozen=True, slots=True)
class SizeTable:
    """A table of sizes; ``letters`` maps a letter to its range of the first measure, in mm."""

    name: str
    source: str
    sizes: tuple[Size, ...]
    letters: tuple[tuple[str, float, float], ...] = ()

    @property
    def codes(self) -> tuple[str, ...]:
        """The codes of the measures that the table gives."""
        return tuple(self.sizes[0].measures)

    def size(self, name: str) -> Size:
        """Raises :class:`InputError` naming the sizes there are."""
        for size in self.sizes:
            if size.name == name:
                return size
        raise InputError(
            say(
                "{name} has no size “{name_2}”; it has {sizes}.",
                name=self.name,
                name_2=name,
                sizes=some((size.name for size in self.sizes), name),
            )
        )


@dataclass(frozen=True, slots=True)
class Fit:
    """How a size compares with a person: per measure, person less size, in mm."""

    size: Size
    off: Mapping[str, float]
    distance: float


def read_sizes(text: str, name: str, unit: Unit = "cm", source: str = "your own table", place: str = "") -> SizeTable:
    """A table from CSV: a column ``size``, then measure codes. Raises :class:`InputError` with line and column."""
    rows = list(lines_of(text, place, most=MOST_SIZES + 1))
    if not rows:
        raise InputError("the table is empty; expected a header row with size and measure codes.", place)
    first, cells = rows[0]
    header = [cell.strip().lower().replace(" ", "_") for cell in cells]
    if header[0] not in ("size", "name"):
        raise InputError(
            say("the first column is “{split}”; expected “size”.", split=" ".join(cells[0].split())[:40]),
            at(place, first),
        )
    unknown = [code for code in header[1:] if code not in MEASURES]
    if unknown or len(header) < 2 or len(set(header)) != len(header):
        raise InputError(
            say(
                "the columns after size must be measure codes, each once, such as bust, waist, hip; found {what}.",
                what=" ".join(", ".join(header[1:]).split())[:80] or "none",
            ),
            at(place, first),
        )
    sizes: dict[str, Size] = {}
    for number, row in rows[1:]:
        where = at(place, number)
        label = row[0].strip()[:40]
        if not label or label in sizes or len(row) != len(header):
            raise InputError(say("expected a size of its own name and {header} values.", header=len(header) - 1), where)
        measures = {}
        for code, cell in zip(header[1:], row[1:], strict=True):
            try:
                measures[code] = read_measure(code, cell, unit)
            except InputError as error:
                raise InputError(error.sentence, f"{where}, column {code}") from error
        sizes[label] = Size(label, measures)
    if not sizes:
        raise InputError("there is a header but no size below it.", place)
    return SizeTable(name, source, tuple(sizes.values()))


@lru_cache(maxsize=8)
def shipped_table(key: str) -> SizeTable:
    """``women``, ``men`` or ``children``, after EN 13402-3 from memory."""
    table = read_sizes(shipped_text(f"sizes/{key}.csv"), _SHIPPED[key], source=FROM_MEMORY)
    letters: list[tuple[str, float, float]] = []
    if key != "children":
        rows = list(lines_of(shipped_text(f"sizes/{key}-letters.csv")))
        letters = [(name, 10 * float(low), 10 * float(high)) for _, (name, low, high) in rows[1:]]
    return with_letters(table, tuple(letters))


def with_letters(table: SizeTable, letters: tuple[tuple[str, float, float], ...]) -> SizeTable:
    """The table with the letter of each size, by its first measure."""
    sizes = tuple(
        Size(size.name, size.measures, letter_of(letters, size.measures[table.codes[0]])) for size in table.sizes
    )
    return SizeTable(table.name, table.source, sizes, letters)


def letter_of(letters: tuple[tuple[str, float, float], ...], value: float) -> str:
    """The letter in whose range a value in mm falls; "" when none does."""
    return next((name for name, low, high in letters if low <= value < high), "")


def shipped_tables() -> tuple[SizeTable, ...]:
    """Every size table that ships."""
    return tuple(shipped_table(key) for key in _SHIPPED)


def nearest_size(table: SizeTable, measures: Mapping[str, float]) -> Fit | None:
    """The size that lies nearest at the measures that both have, or None when there is none in common.

    A measure larger than the size counts twice: cloth can be taken in, not let out. Common practice.
    """
    best: Fit | None = None
    for size in table.sizes:
        off = {code: measures[code] - value for code, value in size.measures.items() if code in measures}
        if not off:
            return None
        distance = sum((2 * o if o > 0 else o) ** 2 for o in off.values())
        if best is None or distance < best.distance:
            best = Fit(size, off, distance)
    return best


def person_of_size(table: SizeTable, size: Size, name: str = "", date: str = "") -> Person:
    """Somebody to start from: the size's values, marked as the table's until they are measured."""
    origin = f"{SIZE_ORIGIN}{table.name.lower()} {size.name}"[:120]
    height = {} if "height" in size.measures or table.source != FROM_MEMORY else {"height": MIDDLE_HEIGHT[table.name]}
    one = MeasureSet(
        date=date, origin=origin, readings={code: (value,) for code, value in {**height, **size.measures}.items()}
    )
    return Person(name=name or f"{table.name} {size.name}", sets=(one,), growth=Growth())
