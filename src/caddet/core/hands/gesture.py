"""A step while it is being made by hand, as one immutable value.

``begin`` takes up a tool for what is chosen, ``take_up`` a step that is in the recipe. Moving a handle, clicking,
drawing across, typing: each gives the next gesture. It knows its handles, what it asks for next, the sentence, the
pattern it would make, and what is wrong; ``kept`` puts it into the document. Points are in the frame of their piece.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.geometry.segments import Point
from caddet.core.hands.handles import Handle, amount_at, bases, handles
from caddet.core.hands.snapping import along_edge, free_point, on_level, straight
from caddet.core.hands.taking import taken, values_from_selection
from caddet.core.hands.things import Selection, Thing, edge_thing, places_of, things
from caddet.core.lengths import Unit
from caddet.core.pattern.ids import reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.recipe import edits
from caddet.core.recipe.context import Context
from caddet.core.recipe.document import Document, StepEntry
from caddet.core.recipe.parameters import NAMING, LineNote, Parameter
from caddet.core.recipe.registry import STEPS, Step, step_entry
from caddet.core.recipe.stages import StepOutcome, do_step
from caddet.core.recipe.typed import typed_value
from caddet.core.recipe.values import Corner, Formula, FramePoint, LinesValue, LineValue, Number, Place, Points
from caddet.core.sentences import Sentence, say
from caddet.core.shaping.framing import framed

WANTED: dict[str, str] = {
    "place": "{label}: click a place on an edge",
    "corner": "{label}: click a corner",
    "line": "{label}: draw across the piece; over a seam, click an edge on either piece",
    "lines": "{label}: draw across the piece, as often as wanted; over a seam, click an edge on either piece; Enter when done",
    "points": "{label}: click points on the piece, in order; Enter when done",
    "edges": "{label}: click an edge",
    "pieces": "{label}: click a piece",
    "dart": "{label}: click a dart",
    "level": "{label}: click a level line",
    "seam": "{label}: click a seam’s edge",
    "text": "{label}: type it",
    "table": "{label}: type it",
}
POINTED = ("place", "corner", "line", "lines", "points")
CLEAR = 3.0  # mm from an edge's end at which a clicked place lies at least


@dataclass(frozen=True)
class Gesture:
    """A step being made on ``before``: its values as a document keeps them, and the parameter that typing changes."""

    step: Step
    before: Pattern
    context: Context
    values: Mapping[str, Any]
    id: str
    entry: StepEntry | None = None
    active: str = ""
    snapped: Sentence | None = None
    limit: Sentence | None = None
    drawing: tuple[str, Point] | None = field(default=None)  # the piece and point where a line begins

    # --- what it is --------------------------------------------------------------------------------

    @cached_property
    def plain(self) -> dict[str, Any]:
        """Every value as the step works with it; formulas worked out."""
        return self.step.shown_values(self.values, self.context.names)

    @cached_property
    def missing(self) -> tuple[Parameter, ...]:
        """The parameters without which there is nothing to be done yet."""
        return tuple(
            one
            for one in self.step.parameters
            if one.name not in self.values
            and not one.optional
            and one.kind not in ("text", "table", "choice", "flag")
            and not one.is_amount
            and (one.default is None or (one.kind in POINTED and not one.default))
        )

    @property
    def asked(self) -> Parameter | None:
        """The parameter that is asked for: the one taken up, else the first that is missing, else the amount that is pulled."""
        known = {one.name: one for one in self.step.parameters}
        if self.active in known:
            return known[self.active]
        if self.missing:
            return self.missing[0]
        amounts = [one for one in self.step.parameters if one.is_amount]
        return next(
            (one for one in amounts if one.hand is not None and one.hand.way != "level"),
            amounts[0] if amounts else None,
        )

    @property
    def asks(self) -> Sentence:
        """The one line that says what comes next."""
        asked = self.asked
        if asked is not None and (asked in self.missing or (self.active == asked.name and asked.kind in WANTED)):
            if asked.kind == "place" and any(one.parameter == asked.name for one in self.handles):
                return say("{label}: pull its handle there, or click a place on an edge", label=asked.label)
            return say(WANTED[asked.kind], label=asked.label)
        return say("Drag a handle, or type; Enter keeps it, Esc leaves it")

    @cached_property
    def handles(self) -> tuple[Handle, ...]:
        """What can be taken hold of."""
        return handles(self.step, self.before, self.plain)

    @property
    def sentence(self) -> Sentence:
        """What the step says it does."""
        return self.step.describe(self.plain)

    @cached_property
    def outcome(self) -> StepOutcome:
        """The step done on the pattern before it; nothing is done while something is missing."""
        entry = StepEntry(kind=self.step.kind, id=self.id, values=dict(self.values), on=not self.missing)
        return do_step(entry, self.before, self.context)

    @cached_property
    def parts(self) -> tuple[LineNote, ...]:
        """The parts that a piece was cut into, numbered where they lie now; none for a step that cuts none."""
        if self.step.parts is None or self.missing or self.outcome.stuck:
            return ()
        with suppress(CaddetError):
            return tuple(self.step.parts(self.before, self.outcome.pattern, self.plain))
        return ()

    @property
    def trouble(self) -> str:
        """Why it can't be done so; "" when it can, or while something is still asked for."""
        return "" if self.missing else self.outcome.stuck

    # --- what a hand does --------------------------------------------------------------------------

    def with_values(self, values: Mapping[str, Any], **others: Any) -> Gesture:
        """The gesture with some values changed; those that are None are taken out."""
        merged = {name: value for name, value in {**self.values, **values}.items() if value is not None}
        return replace(self, values=merged, **{"snapped": None, "limit": None, "drawing": None, **others})

    def taking(self, name: str) -> Gesture:
        """The gesture with another parameter taken up: typing and clicking mean that one."""
        return replace(self, active=name)

    def moved(self, handle: Handle, point: Point, reach: float = 0.0, *, fine: bool = False) -> Gesture:
        """A handle moved to a point of its piece; it settles on what lies within ``reach``, not when ``fine``."""
        parameter = self._parameter(handle.parameter)
        snap = 0.0 if fine else reach
        if parameter.is_amount:
            return self._amount(parameter, handle, point, snap, fine)
        piece = self.before.piece(handle.piece)
        match parameter.kind:
            case "place":
                spot, word = self._spot(piece, point, snap)
                return self.with_values({parameter.name: spot}, snapped=word, active=parameter.name)
            case "corner":
                return self.with_values({parameter.name: self._corner(piece, point)}, active=parameter.name)
            case "points":
                at, word = free_point(piece, point, snap)
                points = list(self.plain[parameter.name])
                points[handle.index] = framed(
                    piece, reference(points[handle.index].edge).key, at, points[handle.index].edge
                )
                return self.with_values({parameter.name: Points(points=tuple(points))}, snapped=word)
            case "line":
                spots = list(self.plain[parameter.name])
                spots[handle.index], word = self._line_spot(piece, point, snap)
                return self.with_values({parameter.name: LineValue(points=tuple(spots))}, snapped=word)
        lines = [list(line) for line in self.plain[parameter.name]]
        at_line, left = 0, handle.index
        while left >= len(lines[at_line]):
            left, at_line = left - len(lines[at_line]), at_line + 1
        lines[at_line][left], word = self._line_spot(piece, point, snap)
        return self.with_values({parameter.name: LinesValue(lines=tuple(map(tuple, lines)))}, snapped=word)

    def nudged(self, handle: Handle, by: float) -> Gesture:
        """A handle moved on by the keyboard: an amount by so many mm, degrees or steps, a place along its edge."""
        parameter = self._parameter(handle.parameter)
        if parameter.is_amount:
            unit = 1.0 if parameter.kind in ("length", "angle", "count") else (parameter.high - parameter.low) / 100
            return self._limited(parameter, float(self.plain[parameter.name]) + by * unit)
        value = self.plain.get(parameter.name)
        if isinstance(value, Place):
            piece = self.before.piece(handle.piece)
            key = reference(value.edge).key
            at = piece.nearest_on_run(key, handle.at)[1] + by
            return self.with_values({parameter.name: self._place(piece, key, at)}, active=parameter.name)
        return self.moved(handle, handle.at + by, 0.0, fine=True)

    def clicked(self, piece: str, point: Point, reach: float = 0.0) -> Gesture:
        """A click on a piece: the place, point or end of a line that is asked for, or the thing that lies there."""
        asked = self.asked
        if asked is None or asked.kind not in POINTED:
            return self
        on = self.before.piece(piece)
        if asked.kind == "place":
            spot, word = self._spot(on, point, reach)
            return self.with_values({asked.name: spot}, snapped=word, active="")
        if asked.kind == "corner":
            return self.with_values({asked.name: self._corner(on, point)}, active="")
        if asked.kind == "points":
            kept = tuple(self.plain.get(asked.name) or ())
            key, ref = self._frame(on, point, kept)
            if key not in on.runs():
                return replace(self, snapped=say("the points lie on one piece"))
            at, word = free_point(on, point, reach)
            return self.with_values(
                {asked.name: Points(points=(*kept, framed(on, key, at, ref)))}, snapped=word, active=asked.name
            )
        if self.drawing is None or (self.drawing[0] != piece and not self._sewn(self.drawing[0], piece)):
            return replace(self, drawing=(piece, point), snapped=None)
        if self.drawing[0] == piece:
            return self.drawn(piece, self.drawing[1], point, reach)
        (first, word_a), (last, word_b) = (
            self._line_spot(self.before.piece(name), at, reach) for name, at in (self.drawing, (piece, point))
        )
        return self._with_line(asked, (first, last), word_b or word_a)

    def drawn(self, piece: str, start: Point, end: Point, reach: float = 0.0) -> Gesture:
        """A line drawn across a piece: it is carried on to the outline at both ends."""
        asked = self.asked
        lines = next((one for one in self.step.parameters if one.kind in ("line", "lines")), None)
        target = asked if asked is not None and asked.kind in ("line", "lines") else lines
        if target is None or abs(end - start) < 5:
            return replace(self, drawing=None)
        on = self.before.piece(piece)
        first, word_a = self._line_spot(on, _crossing(on, start, end, True), reach)
        begun = self._point_of(on, first)
        turned, word = straight(begun, end, self._edge_direction(on, first)) if reach else (end, None)
        last, word_b = self._line_spot(on, _crossing(on, begun, turned, False), 0.0 if word else reach)
        return self._with_line(target, (first, last), word or word_b or word_a)

    def _with_line(self, target: Parameter, made: tuple[Place | FramePoint, ...], word: Sentence | None) -> Gesture:
        """The line that a parameter asks for, or one more of its lines."""
        if target.kind == "line":
            return self.with_values({target.name: LineValue(points=made)}, snapped=word, active="")
        kept = tuple(self.plain.get(target.name) or ())
        return self.with_values({target.name: LinesValue(lines=(*kept, made))}, snapped=word, active=target.name)

    def _sewn(self, one: str, other: str) -> bool:
        """Whether a seam joins two pieces, so that a line may run over it."""
        return any(
            {f.piece.name for f in self.before.what_is_left(layers[0])} & {a}
            and {f.piece.name for f in self.before.what_is_left(layers[1])} & {b}
            for layers in (seam.layers for seam in self.before.seams if len(seam.layers) == 2)
            for a, b in ((one, other), (other, one))
        )

    def chose(self, thing: Thing) -> Gesture:
        """A thing clicked while things of its kind are asked for: taken in, or taken out again."""
        asked = self.asked
        if asked is None or asked.kind not in NAMING:
            return self
        ref = taken(self.before, thing, asked.kind)
        if ref is None:
            return self
        now = tuple(self.plain.get(asked.name) or ())
        refs = tuple(one for one in now if one != ref) if ref in now else (*now, ref)
        try:
            checked = asked.checked(refs[-1:] if asked.kind in ("dart", "level", "seam") or asked.most == 1 else refs)
        except CaddetError:
            return self
        return self.with_values({asked.name: asked.tagged(checked)}, active=asked.name)

    def typed(self, text: str, unit: Unit = "cm", name: str = "") -> Gesture:
        """What was typed for a parameter (the asked one). Raises :class:`CaddetError` with what was expected."""
        parameter = self._parameter(name) if name else self.asked
        if parameter is None:
            raise CaddetError(say("there is nothing to type here"))
        value = typed_value(parameter, text, unit)
        if isinstance(value, Formula):
            parameter.plain(value, self.context.names)
        return self.with_values({parameter.name: value}, active=parameter.name if parameter.is_amount else "")

    def set(self, name: str, value: Any) -> Gesture:
        """A choice, flag or other plain value. Raises :class:`CaddetError` when it is not allowed."""
        parameter = self._parameter(name)
        return self.with_values({name: parameter.tagged(parameter.checked(value))})

    def taken_back(self) -> Gesture:
        """The last point or line taken back; without any, the gesture as it is."""
        for parameter in self.step.parameters:
            value = self.values.get(parameter.name)
            if isinstance(value, Points) and value.points:
                return self.with_values(
                    {parameter.name: Points(points=value.points[:-1]) if len(value.points) > 1 else None}
                )
            if isinstance(value, LinesValue) and value.lines:
                return self.with_values(
                    {parameter.name: LinesValue(lines=value.lines[:-1]) if len(value.lines) > 1 else None}
                )
        return replace(self, drawing=None)

    # --- inside ------------------------------------------------------------------------------------

    def _parameter(self, name: str) -> Parameter:
        return next(one for one in self.step.parameters if one.name == name)

    def _amount(self, parameter: Parameter, handle: Handle, point: Point, reach: float, fine: bool) -> Gesture:
        base = bases(self.step, self.before, self.plain, parameter)[handle.index]
        word = None
        if parameter.hand is not None and parameter.hand.way == "level":
            y, word = on_level(self.before.piece(base.piece), point.imag, reach)
            point = complex(point.real, y)
        value = amount_at(base, parameter, point)
        if parameter.kind == "count":
            value = round(value)
        elif parameter.kind in ("length", "angle"):
            value = value if word is not None else round(value, 1 if fine else 0)
        else:
            value = round(value, 3 if fine else 2)
        return replace(self._limited(parameter, value), snapped=word)

    def _limited(self, parameter: Parameter, value: float) -> Gesture:
        held = min(max(value, parameter.low), parameter.high)
        limit = None
        if held != value and not math.isclose(held, value):
            limit = say(
                "{label} makes sense from {low} to {high}",
                label=parameter.label,
                low=parameter.said(parameter.low),
                high=parameter.said(parameter.high),
            )
        return self.with_values({parameter.name: Number(value=round(held, 4))}, active=parameter.name, limit=limit)

    def _place(self, piece: Piece, key: str, at: float) -> Place:
        whole = piece.run_length(key)
        clear = min(CLEAR, whole / 2)
        return Place(edge=edge_thing(self.before, piece, key).ref, mm=round(min(max(at, clear), whole - clear), 2))

    def _spot(self, piece: Piece, point: Point, reach: float) -> tuple[Place, Sentence | None]:
        """The nearest place on an edge that may take it."""
        _, key, at = min(
            (piece.nearest_on_run(key, point)[0], key, piece.nearest_on_run(key, point)[1])
            for key in piece.runs()
            if piece.run(key)[0].finish not in ("fold", "opening")
        )
        at, word = along_edge(self.before, piece, key, at, reach, self._about(), CLEAR)
        return self._place(piece, key, at), word

    def _corner(self, piece: Piece, point: Point) -> Corner:
        """The nearest corner of a piece."""
        near = min(
            (abs(found.at - point), number, thing)
            for number, thing in enumerate(things(self.before))
            if thing.kind == "corner"
            for found in places_of(self.before, thing)
            if found.piece == piece.name
        )
        return Corner(edge=near[2].ref, end="start" if near[2].at == "start" else "end")

    def _line_spot(self, piece: Piece, point: Point, reach: float) -> tuple[Place | FramePoint, Sentence | None]:
        """An end of a line: on the nearest edge (a fold too), settled on what lies near."""
        _, key, at = min(
            (piece.nearest_on_run(key, point)[0], key, piece.nearest_on_run(key, point)[1]) for key in piece.runs()
        )
        at, word = along_edge(self.before, piece, key, at, reach)
        return Place(
            edge=edge_thing(self.before, piece, key).ref, mm=round(min(max(at, 0.0), piece.run_length(key)), 2)
        ), word

    def _point_of(self, piece: Piece, spot: Place | FramePoint) -> Point:
        assert isinstance(spot, Place)
        return piece.run_point(spot.edge, float(spot.mm or 0.0))[0]

    def _edge_direction(self, piece: Piece, spot: Place | FramePoint) -> Point | None:
        return piece.run_point(spot.edge, float(spot.mm or 0.0))[1] if isinstance(spot, Place) else None

    def _about(self) -> Point | None:
        """The point that the step turns about: of the dart it names."""
        for parameter in self.step.parameters:
            refs = self.plain.get(parameter.name)
            if parameter.kind == "dart" and refs:
                for place in places_of(self.before, Thing("dart", refs[0])):
                    return place.lines[0].segments[0].end
        return None

    def _frame(self, piece: Piece, point: Point, kept: tuple[FramePoint, ...]) -> tuple[str, str]:
        """The run in whose frame points are kept, and its reference: that of the first point, the named one, the nearest."""
        named = [refs[0] for one in self.step.parameters if one.kind == "edges" and (refs := self.plain.get(one.name))]
        for ref in [point.edge for point in kept[:1]] + named:
            return reference(ref).key, ref
        key = min((piece.nearest_on_run(key, point)[0], key) for key in piece.runs())[1]
        return key, edge_thing(self.before, piece, key).ref


def _crossing(piece: Piece, start: Point, end: Point, first: bool) -> Point:
    """Where a line through two points meets the outline: before its first quarter, or behind its last."""
    way = end - start
    if abs(way) < 1e-6:
        return start
    met = sorted(((at - start) / way).real for _, at in piece.outline().crossings(start, end))
    if first:
        before = [t for t in met if t <= 0.3]
        return start + way * (before[-1] if before else met[0] if met else 0.0)
    behind = [t for t in met if t >= 0.7]
    return start + way * (behind[0] if behind else met[-1] if met else 1.0)


def begin(step: Step, pattern: Pattern, context: Context, selection: Selection = (), id: str = "s1") -> Gesture:
    """A tool taken up for what is chosen. ``id`` is the one that the step will get."""
    chosen = values_from_selection(step, pattern, selection)
    usual = step.usual(pattern, chosen)
    plain = {**chosen, **usual}
    return Gesture(step, pattern, context, step.tagged(plain), id)


def take_up(entry: StepEntry, pattern: Pattern, context: Context) -> Gesture:
    """A step of the recipe taken up again, with its values. Raises :class:`CaddetError` for a step that is not known."""
    step = STEPS.get(entry.kind)
    if step is None:
        raise CaddetError(say("there is no step called “{kind}” in this version of Caddet", kind=entry.kind))
    return Gesture(step, pattern, context, dict(entry.values), entry.id, entry)


def rebased(gesture: Gesture, pattern: Pattern, context: Context, id: str) -> Gesture:
    """The same gesture, with its values, on a pattern that was made anew under it; ``id`` is the one a new step will get."""
    return replace(
        gesture,
        before=pattern,
        context=context,
        id=gesture.id if gesture.entry is not None else id,
        snapped=None,
        limit=None,
        drawing=None,
    )


def with_gesture(document: Document, gesture: Gesture) -> Document:
    """The document with the gesture's step: changed where it stood, put together with the same hold before it, or added."""
    if gesture.entry is not None:
        return edits.change_step(document, gesture.entry.id, values=dict(gesture.values))
    last = document.recipe.steps[-1] if document.recipe.steps else None
    plain = not any(
        isinstance(value, Formula) for value in (*gesture.values.values(), *(last.values.values() if last else ()))
    )
    if (
        last is not None and plain and last.kind == gesture.step.kind and last.on
    ):  # a formula is not added to: that would lose it
        merged = gesture.step.merge(gesture.step.shown_values(last.values), gesture.plain)
        if merged is not None:
            return edits.change_step(document, last.id, values=gesture.step.tagged(merged))
    return edits.add_step(document, StepEntry(kind=gesture.step.kind, values=dict(gesture.values)))


__all__ = ["Gesture", "begin", "rebased", "step_entry", "take_up", "with_gesture"]
