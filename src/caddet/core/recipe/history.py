"""Undo and redo: the list of earlier documents, back to the start of the project. Immutable."""

from __future__ import annotations

from dataclasses import dataclass

from caddet.core.recipe.document import Document


@dataclass(frozen=True, slots=True)
class Moment:
    """A document and the words for what was just done to it."""

    document: Document
    deed: str


@dataclass(frozen=True, slots=True)
class History:
    """Moments in order, and which of them is now."""

    moments: tuple[Moment, ...]
    now: int = 0

    @staticmethod
    def begin(document: Document) -> History:
        return History((Moment(document, "Start"),))

    @property
    def document(self) -> Document:
        return self.moments[self.now].document

    def edited(self, document: Document, deed: str) -> History:
        """After an edit; what had been undone is gone. An edit that changes nothing is no moment."""
        if document == self.document:
            return self
        return History((*self.moments[: self.now + 1], Moment(document, deed)), self.now + 1)

    def undone(self) -> History:
        return History(self.moments, max(self.now - 1, 0))

    def redone(self) -> History:
        return History(self.moments, min(self.now + 1, len(self.moments) - 1))

    @property
    def undo_deed(self) -> str | None:
        return self.moments[self.now].deed if self.now else None

    @property
    def redo_deed(self) -> str | None:
        return self.moments[self.now + 1].deed if self.now + 1 < len(self.moments) else None
