"""A recipe of one's own, read line by line: points, edges, marks, seams. The grammar is told in ``docs/own-pieces.md``.

Reading never raises: what can't be read is a fault with its line, and the other lines go on.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from types import MappingProxyType
from typing import Literal

from caddet.core.body.measures import MEASURES
from caddet.core.errors import CaddetError
from caddet.core.figures.language import FormulaError, Node, names_in, parse
from caddet.core.pattern.edges import FINISHES, Finish
from caddet.core.sentences import say

MOST_LINES = 400
LONGEST_LINE = 1000  # letters
POINT = r"[A-Z][A-Za-z0-9]*"
WORD = r"[a-z][a-z0-9_]*"
WAYS: Mapping[str, complex] = MappingProxyType({"down": 1j, "up": -1j, "out": 1 + 0j, "in": -1 + 0j})
FINISHED: tuple[Finish, ...] = tuple(
    one for one in ("hem", "facing", "binding", "casing", "band", "turned", "opening", "fold") if one in FINISHES
)
JOINS = ("gathered", "eased", "pleated", "stretched")
DISTANCE = re.compile(rf"^({POINT})_({POINT})$")


@dataclass(frozen=True, slots=True)
class Formula:
    """A formula as typed and as read."""

    text: str
    node: Node


@dataclass(frozen=True, slots=True)
class PointLine:
    """A point: its name and how it is found.

    ``how``: *moved* from one point (or from where grain and base line cross) by ways (down, up, out, in, towards another point) and amounts; *between* two points
    at a share or for a distance, then square off their line; *swung* from a point by a radius onto the line of two;
    where two lines *cross*; *under* one point at the level of another.
    """

    name: str
    how: Literal["moved", "between", "swung", "cross", "under"]
    points: tuple[str, ...]
    amounts: tuple[tuple[str, Formula], ...] = ()


@dataclass(frozen=True, slots=True)
class FigureLine:
    """A named value."""

    name: str
    formula: Formula


@dataclass(frozen=True, slots=True)
class EdgeLine:
    """An edge through points; before each but the first stands how it gets there: ``-``, ``~``, or a dart's point."""

    name: str
    points: tuple[str, ...]
    links: tuple[str, ...]
    finish: Finish = ""
    held: tuple[tuple[str, str], ...] = ()  # (point, "level" | "upright" | "square")
    bow: Formula | None = None
    cut: Formula | None = None  # it was traced along the cut line: this allowance lies outside the edge


@dataclass(frozen=True, slots=True)
class MarkLine:
    """A level, a line, a fold line or the grain between two points."""

    kind: Literal["level", "line", "fold", "grain"]
    name: str
    points: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class NotchLine:
    """A notch on an edge, at a point of it or so far along."""

    edge: str
    point: str = ""
    along: Formula | None = None
    double: bool = False


@dataclass(frozen=True, slots=True)
class SeamLine:
    """Two layers sewn together; each is a chain of edges (``piece.edge``)."""

    first: tuple[str, ...]
    second: tuple[str, ...]
    join: str = "plain"
    amount: Formula | None = None
    turned: bool = False


@dataclass(frozen=True, slots=True)
class CheckLine:
    """Something to hold on the finished pieces: edges (``piece.edge``) or a level, as worn, against a formula."""

    name: str
    edges: tuple[str, ...]
    level: str
    least: bool
    formula: Formula
    within: Formula | None = None


Line = PointLine | FigureLine | EdgeLine | MarkLine | NotchLine | SeamLine


@dataclass(frozen=True, slots=True)
class OwnPiece:
    """A piece as it is written: its name and label, how it is cut, the line it begins in, and its lines by number."""

    name: str
    label: str
    pair: bool = False
    count: int = 1
    cloth: str = "main"
    line: int = 1
    lines: tuple[tuple[int, Line], ...] = ()


@dataclass(frozen=True, slots=True)
class Written:
    """A whole recipe as read: figures and seams of all, pieces, and what can't be read, by line (from 1).

    ``unit`` is what a number without a unit means: ``cm`` or ``in``; ``lost`` the names that lines at fault would give.
    """

    unit: Literal["cm", "in"] = "cm"
    figures: tuple[tuple[int, FigureLine], ...] = ()
    pieces: tuple[OwnPiece, ...] = ()
    seams: tuple[tuple[int, SeamLine], ...] = ()
    checks: tuple[tuple[int, CheckLine], ...] = ()
    faults: tuple[tuple[int, str], ...] = ()
    lost: frozenset[str] = frozenset()

    def formulas(self) -> list[Formula]:
        """Every formula in it."""
        found = [line.formula for _, line in self.figures]
        for piece in self.pieces:
            for _, line in piece.lines:
                match line:
                    case PointLine():
                        found += [formula for _, formula in line.amounts]
                    case EdgeLine(bow=bow, cut=cut):
                        found += [one for one in (bow, cut) if one is not None]
                    case NotchLine(along=along) if along is not None:
                        found.append(along)
        for _, check in self.checks:
            found += [check.formula, *([check.within] if check.within is not None else [])]
        return found + [line.amount for _, line in self.seams if line.amount is not None]

    def measures(self) -> tuple[str, ...]:
        """The codes of the measures that its formulas name."""
        named = frozenset().union(*(names_in(one.node) for one in self.formulas()))
        return tuple(code for code in MEASURES if code in named)


@dataclass(slots=True)
class _Reading:
    """What has been read so far."""

    unit: Literal["cm", "in"] = "cm"
    figures: list[tuple[int, FigureLine]] = field(default_factory=list)
    pieces: list[OwnPiece] = field(default_factory=list)
    lines: list[tuple[int, Line]] = field(default_factory=list)
    seams: list[tuple[int, SeamLine]] = field(default_factory=list)
    checks: list[tuple[int, CheckLine]] = field(default_factory=list)
    taken: dict[str, int] = field(default_factory=dict)  # where a name was given first

    def close(self) -> None:
        """The piece so far is done."""
        if self.pieces:
            last = self.pieces[-1]
            self.pieces[-1] = replace(last, lines=tuple(self.lines))
        self.lines = []

    def once(self, name: str, number: int, what: str) -> None:
        """Raise :class:`CaddetError` when a name was given before."""
        if name in self.taken:
            raise CaddetError(
                say("{what} {name} was given in line {first} already", what=what, name=name, first=self.taken[name])
            )
        self.taken[name] = number


@lru_cache(maxsize=256)
def read(text: str) -> Written:
    """The recipe as read. Raises nothing. (Memoised: text is the key.)"""
    reading = _Reading()
    faults: list[tuple[int, str]] = []
    rows = text.splitlines()
    if len(rows) > MOST_LINES:
        faults.append((MOST_LINES + 1, say("a recipe has at most {most} lines", most=MOST_LINES)))
    for number, row in enumerate(rows[:MOST_LINES], 1):
        line = row.partition("#")[0].strip()
        if not line:
            continue
        if len(line) > LONGEST_LINE:
            faults.append((number, say("a line has at most {most} letters", most=LONGEST_LINE)))
            continue
        try:
            _read_line(reading, number, line)
        except FormulaError as error:
            faults.append((number, error.reason))
        except CaddetError as error:
            faults.append((number, str(error)))
    reading.close()
    return Written(
        reading.unit,
        tuple(reading.figures),
        tuple(reading.pieces),
        tuple(reading.seams),
        tuple(reading.checks),
        tuple(sorted(faults)),
        frozenset(
            name for number, _ in faults if number <= len(rows) for name in _given(rows[number - 1][:LONGEST_LINE])
        ),
    )


def _given(row: str) -> list[str]:
    """The names that a line gives or seems to give."""
    found = re.match(rf"^\s*({WORD}|{POINT})\s*=", row) or re.search(rf"=\s*({POINT})\s*$", row)
    return [found[1]] if found else []


def _read_line(reading: _Reading, number: int, line: str) -> None:
    if line.startswith("numbers in "):
        unit = line.removeprefix("numbers in ").strip()
        if unit not in ("cm", "in", "inches"):
            raise CaddetError(say("numbers are in cm or in inches, not “{unit}”", unit=unit))
        reading.unit = "cm" if unit == "cm" else "in"
    elif line.startswith("piece "):
        reading.close()
        reading.taken = {name: at for name, at in reading.taken.items() if not name[0].isupper() and "." not in name}
        made = replace(_piece(line.removeprefix("piece ")), line=number)
        reading.once(f"piece {made.name}", number, "the")
        reading.pieces.append(made)
    elif line.startswith("sew "):
        reading.seams.append((number, _seam(line.removeprefix("sew "))))
    elif line.startswith("check "):
        check = _check(line.removeprefix("check "))
        reading.once(f"check {check.name}", number, "the")
        reading.checks.append((number, check))
    elif match := re.match(rf"^({WORD})\s*=\s*(.+)$", line):
        if match[1] in MEASURES:
            raise CaddetError(say("“{name}” is a measure of the body; give the figure another name", name=match[1]))
        reading.once(match[1], number, "the figure")
        reading.figures.append((number, FigureLine(match[1], _formula(match[2]))))
    else:
        found = _of_a_piece(line)
        if not reading.pieces:
            raise CaddetError(say("points and edges belong to a piece: begin with “piece” and its name"))
        if isinstance(found, PointLine):
            reading.once(found.name, number, "the point")
        if isinstance(found, EdgeLine):
            reading.once(f"edge.{found.name}", number, "the")
        reading.lines.append((number, found))


def _of_a_piece(line: str) -> Line:
    """A line that belongs to one piece."""
    if match := re.match(r"^edge\s+(\w+)\s*:\s*(.+)$", line):
        return _edge(match[1], match[2])
    if match := re.match(r"^(level|line|fold)\s+(\w+)\s*:\s*(.+)$", line):
        kind: Literal["level", "line", "fold"] = match[1]  # type: ignore[assignment]
        return MarkLine(kind, _named(match[2]), _two(match[3], match[1]))
    if match := re.match(r"^grain\s*:\s*(.+)$", line):
        return MarkLine("grain", "grain", _two(match[1], "grain"))
    if match := re.match(r"^(double )?notch\s+(\w+)\s+(?:at\s+)?(.+)$", line):
        at, double = match[3].strip(), bool(match[1])
        if re.fullmatch(POINT, at):
            return NotchLine(_named(match[2]), at, None, double)
        return NotchLine(_named(match[2]), "", _formula(at), double)
    if match := re.match(rf"^({POINT})\s+at\s+([^,]+),\s*([^,]+)$", line):
        return PointLine(match[1], "moved", (), (("down", _formula(match[2])), ("out", _formula(match[3]))))
    if match := re.match(rf"^({POINT})\s*(?:=\s*(.+))?$", line):
        return _point(match[1], match[2] or "")
    if match := re.match(rf"^(.+?)\s*=\s*({POINT})$", line):
        return _point(match[2], match[1])
    raise CaddetError(say("expected a point (B = A down 20cm), an edge, a level, a notch, a figure, a piece or a seam"))


# --- points ---------------------------------------------------------------------------------------

_WAY = re.compile(rf"\b(?:square\s+)?(down|up|out|in)\b|\btowards\s+({POINT})\b")


def _point(name: str, how: str) -> PointLine:
    how = re.sub(r"^from\s+", "", how.strip())
    if not how:
        return PointLine(name, "moved", ())
    if match := re.match(rf"^({POINT})\s+({POINT})\s+meets\s+({POINT})\s+({POINT})$", how):
        return PointLine(name, "cross", match.groups())
    if match := re.match(rf"^under\s+({POINT})\s*,?\s*level with\s+({POINT})$", how):
        return PointLine(name, "under", match.groups())
    if match := re.match(rf"^({POINT})\s+swing\s+(.+?)\s+onto\s+({POINT})\s+({POINT})$", how):
        return PointLine(name, "swung", (match[1], match[3], match[4]), (("swing", _formula(match[2])),))
    if match := re.match(rf"^({POINT})\s+to\s+({POINT})\s+(at|for)\s+(.+)$", how):
        along, _, off = match[4].partition(" square ")
        amounts = [(match[3], _formula(along.rstrip(" ,")))]
        if off:
            amounts.append(("square", _formula(off)))
        return PointLine(name, "between", (match[1], match[2]), tuple(amounts))
    base = re.match(rf"^({POINT})\b", how)
    if not base:
        raise CaddetError(say("a point begins at another one: {name} = A down 20cm", name=name))
    return _moved(name, base[1], how[base.end() :])


def _moved(name: str, base: str, rest: str) -> PointLine:
    found = list(_WAY.finditer(rest))
    if rest.strip() and (not found or rest[: found[0].start()].strip(" ,")):
        raise CaddetError(
            say("after {base} comes a way: down, up, out, in, or towards another point, and how far", base=base)
        )
    points, amounts = [base], []
    for at, match in enumerate(found):
        end = found[at + 1].start() if at + 1 < len(found) else len(rest)
        way = match[1] or f"towards {match[2]}"
        if match[2]:
            points.append(match[2])
        amount = rest[match.end() : end].strip(" ,")
        if not amount:
            raise CaddetError(say("how far {way}?", way=way))
        amounts.append((way, _formula(amount)))
    return PointLine(name, "moved", tuple(points), tuple(amounts))


# --- edges, marks, pieces, seams -------------------------------------------------------------------

_LINK = re.compile(rf"\s*(?:(-|~)\s*|\(\s*({POINT})\s*\)\s*)({POINT})")


def _edge(name: str, text: str) -> EdgeLine:
    way, *options = [part.strip() for part in text.split(",")]
    first = re.match(rf"^({POINT})", way)
    if not first:
        raise CaddetError(say("an edge runs through points: A - B for straight, A ~ B for a curve"))
    points, links, at = [first[1]], [], first.end()
    while at < len(way):
        match = _LINK.match(way, at)
        if not match:
            raise CaddetError(
                say("expected - and a point, ~ and a point, or (a dart's point) at “{rest}”", rest=way[at:][:20])
            )
        links.append(match[1] or match[2])
        points.append(match[3])
        at = match.end()
    if len(points) < 2:
        raise CaddetError(say("an edge has at least two points"))
    finish: Finish = ""
    held: list[tuple[str, str]] = []
    bow: Formula | None = None
    cut: Formula | None = None
    for option in options:
        if match := re.fullmatch(rf"(level|upright|square) at ({POINT})", option):
            if match[2] not in (points[0], points[-1]):
                raise CaddetError(say("{point} is no end of this edge", point=match[2]))
            held.append((match[2], match[1]))
        elif match := re.fullmatch(r"bow (.+)", option):
            bow = _formula(match[1])
        elif match := re.fullmatch(r"cut (.+)", option):
            cut = _formula(match[1])
        elif option in FINISHED:
            finish = option
        else:
            raise CaddetError(
                say(
                    "“{option}” says nothing of an edge; there are {finishes}, bow, cut, and level, upright or square at an end",
                    option=option,
                    finishes=", ".join(FINISHED),
                )
            )
    return EdgeLine(_named(name), tuple(points), tuple(links), finish, tuple(held), bow, cut)


def _two(text: str, what: str) -> tuple[str, ...]:
    found = re.fullmatch(rf"({POINT})\s*(?:-|to)?\s*({POINT})", text.strip())
    if not found:
        raise CaddetError(say("the {what} runs between two points: A B", what=what))
    return found.groups()


def _named(name: str) -> str:
    if not re.fullmatch(r"[a-z][a-z0-9_]{0,39}", name):
        raise CaddetError(say("“{name}”: names are small letters, figures and _", name=name))
    return name


def _piece(text: str) -> OwnPiece:
    label, *options = [part.strip() for part in text.split(",")]
    name = re.sub(r"[^a-z0-9]+", "_", label.lower()).strip("_")[:40]
    if not name or not name[0].isalpha():
        raise CaddetError(say("a piece needs a name that begins with a letter"))
    pair, count, cloth = False, 0, "main"
    for option in options:
        if option == "pair":
            pair = True
        elif (match := re.fullmatch(r"cut (\d{1,2})", option)) and int(match[1]):
            count = int(match[1])
        elif match := re.fullmatch(r"from ([a-z_]{1,40})", option):
            cloth = match[1]
        else:
            raise CaddetError(
                say("“{option}” says nothing of a piece; there are pair, cut 2, from lining", option=option)
            )
    return OwnPiece(name, label[:80], pair, count or (2 if pair else 1), cloth)


def _seam(text: str) -> SeamLine:
    body, *options = [part.strip() for part in text.split(",")]
    sides = re.split(r"\s+with\s+", body)
    if len(sides) != 2:
        raise CaddetError(say("a seam has two sides: sew front.side with back.side"))
    layers = [_edges(side) for side in sides]
    join, amount, turned = "plain", None, False
    for option in options:
        word, _, rest = option.partition(" ")
        if word == "turned" and not rest:
            turned = True
        elif word in JOINS:
            join, amount = word, _formula(rest) if rest else None
        else:
            raise CaddetError(
                say(
                    "“{option}” says nothing of a seam; there are {joins} and turned",
                    option=option,
                    joins=", ".join(JOINS),
                )
            )
    return SeamLine(layers[0], layers[1], join, amount, turned)


def _edges(text: str) -> tuple[str, ...]:
    """Edges of pieces with + between."""
    refs = tuple(one.strip() for one in text.split("+"))
    for ref in refs:
        if not re.fullmatch(r"[A-Za-z0-9_.]+\.[A-Za-z0-9_]+(\[[^\]]*\])?", ref):
            raise CaddetError(say("“{ref}” is no edge; write the piece, a dot and the edge: front.side", ref=ref))
    return refs


def _check(text: str) -> CheckLine:
    match = re.match(r"^(\w+)\s*:\s*(.+?)\s*(>?=)\s*(.+?)(?:\s*,\s*within\s+(.+))?$", text)
    if not match:
        raise CaddetError(say("a check says what is to be how long: check waist: front.waist + back.waist = waist"))
    name, what, sign, wanted, within = match.groups()
    level = re.fullmatch(r"level\s+(\w+)", what)
    return CheckLine(
        _named(name),
        () if level else _edges(what),
        level[1] if level else "",
        sign == ">=",
        _formula(wanted),
        _formula(within) if within else None,
    )


# --- formulas -------------------------------------------------------------------------------------


@lru_cache(maxsize=1)
def _spoken() -> tuple[tuple[re.Pattern[str], str], ...]:
    """Measures as they are said (*front length*), the longest first, and their codes."""
    words = {measure.label.lower(): code for code, measure in MEASURES.items() if " " in measure.label}
    words |= {code.replace("_", " "): code for code in MEASURES if "_" in code}
    ordered = sorted(words.items(), key=lambda one: -len(one[0]))
    return tuple((re.compile(rf"\b{re.escape(said)}\b"), code) for said, code in ordered)


def _formula(text: str) -> Formula:
    """A formula; measures may be written as they are said. Raises :class:`FormulaError`."""
    for said, code in _spoken():
        text = said.sub(code, text)
    return Formula(text.strip(), parse(text.strip()))
