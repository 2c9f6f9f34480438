"""Changes to a tracing with the tape, and what comes next. Pure functions."""

from __future__ import annotations

from collections.abc import Sequence

from caddet.core.recipe.document import Document, TracedSource
from caddet.core.recipe.edits import change_source
from caddet.core.recipe.traced import PhotoTracing, Reading, TapeTracing
from caddet.core.tracing.kinds import Kind

MOST_TIMES = 20


def set_reading(tracing: TapeTracing, what: str, at: float | None, values: Sequence[float]) -> TapeTracing:
    """The tracing with these readings (mm) of one thing in place of those before; none takes it out."""
    kept = [one for one in tracing.readings if (one.what, one.at) != (what, at)]
    place = next((n for n, one in enumerate(tracing.readings) if (one.what, one.at) == (what, at)), len(kept))
    if values:
        kept.insert(place, Reading(what=what, at=at, values=tuple(values)[-MOST_TIMES:]))
    return TapeTracing.model_validate({**tracing.parts(), "readings": tuple(kept)})


def reading_of(tracing: TapeTracing, what: str, at: float | None = None) -> Reading | None:
    """What was read of one thing."""
    return next((one for one in tracing.readings if (one.what, one.at) == (what, at)), None)


def ticked(tracing: TapeTracing, line: str, done: bool) -> TapeTracing:
    """The tracing with a line of its guide done or not."""
    kept = tuple(one for one in tracing.done if one != line)
    return TapeTracing.model_validate({**tracing.parts(), "done": (*kept, line) if done else kept})


def after(kind: Kind, tracing: TapeTracing, what: str = "") -> str:
    """The needed reading that comes after one, or the first that is still to be taken; empty when none is."""
    taken = {one.what for one in tracing.readings}
    names = [one.name for one in kind.asked if one.needed]
    start = names.index(what) + 1 if what in names else 0
    return next((name for name in names[start:] + names[:start] if name not in taken), "")


def traced(document: Document) -> tuple[TracedSource, ...]:
    """The tracings of a document."""
    return tuple(source for source in document.recipe.sources if isinstance(source, TracedSource))


def taped(document: Document) -> dict[str, TapeTracing]:
    """The tracings with the tape, by the ids of their sources."""
    return {one.id: one.tracing for one in traced(document) if isinstance(one.tracing, TapeTracing)}


def change_tracing(document: Document, source: str, tracing: TapeTracing | PhotoTracing) -> Document:
    """The document with a tracing changed. Raises :class:`CaddetError` when there is no such source."""
    return change_source(document, source, tracing=tracing)
