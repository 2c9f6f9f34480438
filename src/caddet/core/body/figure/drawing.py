"""The drawing of a figure for a measure: outlines, light lines, the tape, its ends, what to look at."""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.body.figure import front, side
from caddet.core.body.figure.frame import Frame, frame_of
from caddet.core.body.figure.tapes import CLOSE, tape_for
from caddet.core.body.measures import MEASURES, View
from caddet.core.body.person import Person
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Point

VIEW_WORDS: dict[View, str] = {
    "front": "from the front",
    "back": "from the back",
    "side": "from the side",
    "out": "from the back, arms held out",
    "bent": "from the side, the arm bent",
    "sit": "from the side, sitting",
    "step": "from the side, taking a step",
}


@dataclass(frozen=True, slots=True)
class FigureDrawing:
    """Filled outlines from back to front, light lines, the tape and its ends. In mm, y down, the floor at 0.

    ``close`` is the box to look at (left, top, right, bottom) when the measure is a small one.
    """

    view: View
    outlines: tuple[Path, ...]
    details: tuple[Path, ...]
    tape: tuple[Path, ...] = ()
    ends: tuple[Point, ...] = ()
    height: float = 0.0
    close: tuple[float, float, float, float] | None = None


def draw_figure(person: Person, code: str) -> FigureDrawing:
    """The figure of a person as it stands for a measure, with the tape where it goes."""
    frame = frame_of(person)
    plain = _standing(frame, MEASURES[code].view)
    tape, ends = tape_for(frame, code)
    close = None
    if code in CLOSE and tape:
        left, top, right, bottom = tape[0].bounds()
        half = CLOSE[code] * frame.height / 2
        middle = complex((left + right) / 2, (top + bottom) / 2)
        close = (middle.real - half, middle.imag - half, middle.real + half, middle.imag + half)
    return FigureDrawing(plain.view, plain.outlines, plain.details, tuple(tape), tuple(ends), frame.height, close)


def draw_view(person: Person, view: View) -> FigureDrawing:
    """The figure of a person without a tape."""
    return _standing(frame_of(person), view)


def _standing(frame: Frame, view: View) -> FigureDrawing:
    if view in ("front", "back", "out"):
        outlines = front.outlines(frame, out=view == "out")
        details = front.details(frame, back=view != "front")
    elif view in ("side", "bent"):
        outlines, details = side.standing(frame, bent_arm=view == "bent")
    elif view == "sit":
        outlines, details = side.sitting(frame)
    else:
        outlines, details, _, _ = side.stepping(frame)
    return FigureDrawing(view, tuple(outlines), tuple(details), height=frame.height)
