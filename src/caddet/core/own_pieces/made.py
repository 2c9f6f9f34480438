"""A recipe of one's own made into a pattern: pieces, seams, and what each line came to."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Literal

from caddet.core.body.measures import MEASURES
from caddet.core.drafting.draft_piece import as_piece
from caddet.core.errors import CaddetError
from caddet.core.figures.language import FormulaError, Quantity, names_in, parse, work_out
from caddet.core.figures.sums import Figure
from caddet.core.geometry.segments import Point
from caddet.core.own_pieces.outlines import draw
from caddet.core.own_pieces.placing import Placing, Unplaced, points_of, with_units
from caddet.core.own_pieces.reading import EdgeLine, FigureLine, Line, OwnPiece, PointLine, Written, read
from caddet.core.own_pieces.sewing import checked, sewn
from caddet.core.pattern.combine import beside, prefixed
from caddet.core.pattern.edges import Edge
from caddet.core.pattern.opening import inset
from caddet.core.pattern.pattern import Pattern, Shown
from caddet.core.pattern.piece import Piece
from caddet.core.recipe.parameters import NOTHING, LineNote
from caddet.core.sentences import Length, Sentence, say


@dataclass(frozen=True, slots=True)
class OwnPieces:
    """What a recipe gives on a body: the pattern with its pieces added (as it was when something is wrong), and notes."""

    pattern: Pattern
    notes: tuple[LineNote, ...]

    @property
    def wrong(self) -> LineNote | None:
        """The first thing that is wrong, if anything is."""
        return next((note for note in self.notes if note.wrong), None)


def make_pieces(
    text: str,
    names: Mapping[str, Quantity],
    before: Pattern | None = None,
    prefix: str = "",
    figures: Mapping[str, Quantity] = NOTHING,
) -> OwnPieces:
    """The recipe made on a body, beside the pieces there are; its own names stand below ``prefix``. Raises nothing.

    ``names``: measures and figures that formulas may name, lengths in mm; ``figures``: those of the recipe that are
    worked out already, with the user's own formulas in place of the recipe's.
    """
    written, before = read(text), before or Pattern()
    failed: set[str] = set()
    placing = Placing(written, names, _lengths(before), dict(figures))
    notes = [LineNote(line, words, True) for line, words in written.faults]
    pieces: list[Piece] = []
    for own in written.pieces:
        try:
            points_of(placing, own)
            drafted = draw(placing, own)
            piece = _without_allowances(placing, own, as_piece(drafted))
        except Unplaced as error:
            if not _follows(error, written, failed):
                notes.append(LineNote(error.line, str(error), True))
            failed.add(own.name)
            continue
        except (CaddetError, ArithmeticError, ValueError) as error:
            failed.add(own.name)
            notes.append(LineNote(own.line, say("{piece}: {error}", piece=own.label, error=error), True))
            continue
        pieces.append(piece)
        for run in drafted.runs():
            placing.edges[f"edge_{own.name}_{run}"] = piece.run_length(f"{own.name}.{run}")
    if not written.pieces and not notes:
        notes.append(LineNote(1, say("begin with a piece: piece Front"), True))
    notes += _values(placing, {note.line for note in notes}, failed)
    # halves and pairs stand for themselves in a line drawing; a whole piece, such as a band, only where there is nothing else
    halves = [piece for piece in pieces if piece.worn == 2]
    made = Pattern(tuple(pieces), shown=tuple(map(_shown, halves or ([] if before.pieces else pieces))))
    pattern = beside(before, prefixed(made, prefix) if prefix else made)
    if not failed and not any(note.wrong for note in notes):
        try:
            pattern = _finished(before, checked(sewn(pattern, prefix, placing), prefix, placing))
        except Unplaced as error:
            notes.append(LineNote(error.line, str(error), True))
        except CaddetError as error:
            notes.append(LineNote(written.seams[0][0] if written.seams else 1, str(error), True))
    notes.sort(key=lambda note: note.line)
    return OwnPieces(before if any(note.wrong for note in notes) else pattern, tuple(notes))


def _without_allowances(placing: Placing, own: OwnPiece, piece: Piece) -> Piece:
    """A piece with the allowance of every edge that was traced along its cut line taken off. Raises :class:`Unplaced`."""
    cut = {
        f"{own.name}.{line.name}": (placing.length(line.cut, own.name, number), number)
        for number, line in own.lines
        if isinstance(line, EdgeLine) and line.cut is not None
    }
    if not cut:
        return piece
    try:
        return inset(piece, {key: by for key, (by, _) in cut.items()})
    except CaddetError as error:
        raise Unplaced(str(error), next(iter(cut.values()))[1]) from error


def _lengths(pattern: Pattern) -> dict[str, float]:
    """The lengths of the edges there are, by the names that formulas have for them."""
    found: dict[str, float] = {}
    for piece in pattern.pieces:
        for run in piece.runs():
            name = f"edge_{run.replace('.', '_')}"
            found[name] = found.get(name, 0.0) + piece.run_length(run)
    return found


def _follows(error: Unplaced, written: Written, failed: set[str]) -> bool:
    """Whether something is only missing because a line is at fault or a piece could not be drawn: told there already."""
    return error.missing in written.lost or any(error.missing.startswith(f"edge_{name}_") for name in failed)


def _values(placing: Placing, wrong: set[int], failed: set[str]) -> list[LineNote]:
    """What every figure, point and edge came to, where nothing is wrong with it; and what can't be worked out."""
    lines: list[tuple[int, str, Line]] = [(number, "", figure) for number, figure in placing.written.figures]
    lines += [(number, own.name, line) for own in placing.written.pieces for number, line in own.lines]
    notes = []
    for number, piece, line in lines:
        if number in wrong:
            continue
        try:
            note = _came_to(placing, piece, line, number)
        except Unplaced as error:
            if error.line not in wrong and not _follows(error, placing.written, failed):
                notes.append(LineNote(error.line, str(error), True))
                wrong.add(error.line)
            continue
        if note is not None:
            notes.append(note)
    return notes


def _came_to(placing: Placing, piece: str, line: Line, number: int) -> LineNote | None:
    """What one line came to; nothing to say of marks and seams. Raises :class:`Unplaced`."""
    match line:
        case FigureLine():
            found = placing.figure(line.name)
            return LineNote(
                number, say("{value}", value=Length(found.value) if found.dimension else f"{found.value:.4g}")
            )
        case PointLine():
            at = placing.point(line.name, piece, number)
            return LineNote(number, _where(at), False, piece, line.name, at)
        case EdgeLine():
            length = placing.edges.get(f"edge_{piece}_{line.name}")
            return None if length is None else LineNote(number, say("{length} long", length=Length(length)))
    return None


def _where(at: Point) -> Sentence | str:
    """Where a point lies from the beginning, in words."""
    ways = (("down", "up", at.imag), ("out", "in", at.real))
    parts = [
        say(
            "{size} down"
            if way == "down"
            else "{size} up"
            if way == "up"
            else "{size} out"
            if way == "out"
            else "{size} in",
            size=Length(abs(size)),
        )
        for way, size in ((one if amount > 0 else other, amount) for one, other, amount in ways)
        if abs(size) > 0.05
    ]
    if len(parts) == 2:
        return say("{first}, {second}", first=parts[0], second=parts[1])
    return parts[0] if parts else say("here it begins")


def _shown(piece: Piece) -> Shown:
    """How a piece stands in the line drawing: a back from behind, all others from the front."""
    return Shown("back" if piece.covers == "back" else "front", piece.name, both=piece.worn == 2)


def _finished(before: Pattern, pattern: Pattern) -> Pattern:
    """Edges of the recipe's pieces that are in no seam and have no finish are turned in; what is sewn now has none."""
    fresh = {part.ref.name for seam in pattern.seams[len(before.seams) :] for part in seam.parts()}

    def finished(edge: Edge, own: bool) -> Edge:
        """An edge with what becomes of it now."""
        if edge.name in fresh and edge.finish not in ("", "fold", "opening", "slit"):
            return replace(edge, finish="", why="")
        if own and not edge.dart and not edge.finish and edge.name not in fresh:
            return replace(edge, finish="turned")
        return edge

    pieces = tuple(
        piece.with_edges([finished(edge, not before.has(piece.name)) for edge in piece.edges])
        for piece in pattern.pieces
    )
    return replace(pattern, pieces=pieces)


def figures_of(written: Written) -> tuple[Figure, ...]:
    """The figures that lean only on measures and on one another, in an order in which they can be added up."""
    sizes: dict[str, Quantity] = {code: Quantity(1000.0, 1) for code in MEASURES}  # only their dimension counts here
    left = [one for _, one in written.figures]
    found: list[Figure] = []
    while True:
        ready = next((one for one in left if names_in(one.formula.node) <= sizes.keys()), None)
        if ready is None:
            return tuple(found)
        left.remove(ready)
        with suppress(FormulaError):
            text = with_units(ready.formula, sizes, written.unit)
            size = work_out(parse(text), sizes)
            sizes[ready.name] = size
            kind: Literal["length", "count"] = "length" if size.dimension else "count"
            label = ready.name.replace("_", " ").capitalize()
            found.append(Figure(ready.name, label, text, "As your recipe says.", "your own recipe", kind))
