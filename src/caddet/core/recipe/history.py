"""Undo and redo: the list of earlier documents, back to the start of the project. Immutable."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from caddet.core.recipe.document import Document


class Moment:
    """A document and the words for what was just done to it.

    The document of a moment long past is looked up when it is first asked for; ``find`` raises
    :class:`CaddetError` when it can't be read any more.
    """

    __slots__ = ("_document", "_find", "deed")

    def __init__(self, deed: str, document: Document | None = None, find: Callable[[], Document] | None = None) -> None:
        self.deed, self._document, self._find = deed, document, find

    @property
    def document(self) -> Document:
        """The document; looked up the first time. Raises :class:`CaddetError` when it can't be read any more."""
        if self._document is None:
            assert self._find is not None, "a moment has a document or a way to find it"
            self._document = self._find()
        return self._document

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Moment) and (self.deed, self.document) == (other.deed, other.document)

    def __hash__(self) -> int:
        return hash(self.deed)

    def __repr__(self) -> str:
        return f"Moment({self.deed!r})"


@dataclass(frozen=True, slots=True)
class History:
    """Moments in order, and which of them is now."""

    moments: tuple[Moment, ...]
    now: int = 0

    @staticmethod
    def begin(document: Document) -> History:
        """A history that begins with a document."""
        return History((Moment("Start", document),))

    @property
    def document(self) -> Document:
        """The document that is now."""
        return self.moments[self.now].document

    def edited(self, document: Document, deed: str) -> History:
        """After an edit; what had been undone is gone. An edit that changes nothing is no moment."""
        if document == self.document:
            return self
        return History((*self.moments[: self.now + 1], Moment(deed, document)), self.now + 1)

    def undone(self) -> History:
        """One moment back, if there is one."""
        return History(self.moments, max(self.now - 1, 0))

    def redone(self) -> History:
        """One moment on, if there is one."""
        return History(self.moments, min(self.now + 1, len(self.moments) - 1))

    def after(self, past: History) -> History:
        """This history with a past before it: ``past``'s present document is this one's first."""
        if len(self.moments) == 1:
            return past
        return History((*past.moments[: past.now + 1], *self.moments[1:]), past.now + self.now)

    @property
    def undo_deed(self) -> str | None:
        """The words of what undo would take back, or None."""
        return self.moments[self.now].deed if self.now else None

    @property
    def redo_deed(self) -> str | None:
        """The words of what redo would do again, or None."""
        return self.moments[self.now + 1].deed if self.now + 1 < len(self.moments) else None
