"""The workbench: the current document, undo, evaluation in the background, saving.

Widgets never change a document themselves: they ask the workbench. It emits ``edited`` when the
document changed and ``made`` when a new pattern is there.
"""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from pathlib import Path
from typing import Any

from pydantic import ValidationError
from PyQt6.QtCore import QObject, pyqtSignal

from caddet.core.errors import CaddetError, InputError
from caddet.core.formats.journal import append_journal, edit_line, now_line, read_journal
from caddet.core.formats.project import save_project
from caddet.core.lengths import Unit, in_unit
from caddet.core.recipe.document import Document
from caddet.core.recipe.evaluate import StageCache
from caddet.core.recipe.history import History
from caddet.core.workroom import EvaluateRequest, Made, make
from caddet.desk.tasks import Callback, Courier, Task, Workers


class Workbench(QObject):
    """One open project."""

    edited = pyqtSignal()
    made = pyqtSignal()
    saved = pyqtSignal()
    unit_changed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, document: Document, path: Path | None = None, *, read_only: bool = False) -> None:
        super().__init__()
        self.unit: Unit = "cm"
        self.courier = Courier()
        self._makers = Workers(self.courier, 1)
        self._others = Workers(self.courier, 2)
        self._saver = Workers(self.courier, 1)
        self.path: Path | None = None
        self.read_only = False
        self.save_error = ""
        self.history = History.begin(document)
        self.preview_document: Document | None = None
        self.result: Made | None = None
        self._cache = StageCache()
        self._number = 0
        self._running: Task | None = None
        self._pending = False
        self._saving: Task | None = None
        self._save_pending = False
        self._notes: list[dict[str, Any]] = []
        self.load(document, path, read_only=read_only)

    # --- opening ------------------------------------------------------------------------------

    def load(self, document: Document, path: Path | None, *, read_only: bool = False) -> None:
        """Put another project on the bench; its undo goes back as far as its journal does."""
        self.wait_saved()
        self.path, self.read_only, self.save_error = path, read_only, ""
        self.preview_document = None
        past = read_journal(path) if path is not None else None
        if past is not None and past.document == document:
            self.history = past
        else:
            self.history = History.begin(document)
            self._begin_journal()
        self.result = None
        self.evaluate()
        self.edited.emit()

    @property
    def document(self) -> Document:
        """What is shown: the preview of a drag, or the document as it stands."""
        return self.preview_document or self.history.document

    # --- edits --------------------------------------------------------------------------------

    def edit(self, deed: str, change: Callable[[Document], Document]) -> bool:
        """Do one edit, evaluate, save. A refused edit says why and changes nothing."""
        try:
            document = change(self.history.document)
        except ValidationError as error:
            first = error.errors()[0]
            self.preview(None)
            self.said.emit(f"{'.'.join(map(str, first['loc']))}: {first['msg']}")
            return False
        except CaddetError as error:
            self.preview(None)
            self.said.emit(in_unit(str(error), self.unit))
            return False
        self.preview_document = None
        before = self.history
        self.history = before.edited(document, deed)
        if self.history is not before:
            self._notes.append(edit_line(self.history.moments[-1]))
        self._changed()
        return True

    def preview(self, document: Document | None) -> None:
        """Show a document without keeping it (while dragging); None goes back."""
        if document is None and self.preview_document is None:
            return
        self.preview_document = document
        self.evaluate()

    def undo(self) -> None:
        if self.history.undo_deed is None:
            self.said.emit("This is the start of the project.")
            return
        self.said.emit(f"Undone: {self.history.undo_deed}")
        self.preview_document = None
        self.history = self.history.undone()
        self._notes.append(now_line(self.history.now))
        self._changed()

    def redo(self) -> None:
        if self.history.redo_deed is None:
            return
        self.said.emit(f"Done again: {self.history.redo_deed}")
        self.preview_document = None
        self.history = self.history.redone()
        self._notes.append(now_line(self.history.now))
        self._changed()

    def set_unit(self, unit: Unit) -> None:
        if unit != self.unit:
            self.unit = unit
            self.unit_changed.emit()

    def _changed(self) -> None:
        self.edited.emit()
        self.evaluate()
        self.save()

    # --- evaluation ---------------------------------------------------------------------------

    def evaluate(self) -> None:
        """Ask for a new pattern; while one is being made, only the newest wish is kept."""
        self._number += 1
        if self._running is not None:
            self._pending = True
            return
        request = EvaluateRequest(self.document, number=self._number)
        self._running = self._makers.start(
            lambda _: make(request, self._cache), self._evaluated, self._evaluation_failed
        )

    def _evaluated(self, result: Made) -> None:
        self._running = None
        if self.result is None or result.request.number > self.result.request.number:
            self.result = result
            self.made.emit()
        self._go_on()

    def _evaluation_failed(self, error: Exception) -> None:
        self._running = None
        self.said.emit(in_unit(f"The pattern could not be made: {error}", self.unit))
        self._go_on()

    def _go_on(self) -> None:
        if self._pending:
            self._pending = False
            self.evaluate()

    @property
    def busy(self) -> bool:
        """Whether the shown pattern is older than the document."""
        return self._running is not None or self._pending

    # --- saving -------------------------------------------------------------------------------

    def save(self) -> None:
        """Save in the background; while one save runs, only the newest document is kept for the next."""
        if self.path is None or self.read_only:
            return
        if self._saving is not None:
            self._save_pending = True
            return
        document, path, notes = self.history.document, self.path, self._notes
        self._notes = []

        def work(_: Task) -> None:
            save_project(document, path)
            with contextlib.suppress(InputError):  # the journal is a comfort; the project is what counts
                append_journal(path, notes)

        self._saving = self._saver.start(work, lambda _: self._saved(""), lambda error: self._saved(str(error)))

    def _saved(self, error: str) -> None:
        self._saving = None
        if error and error != self.save_error:
            self.said.emit(f"Not saved: {error}")
        self.save_error = error
        self.saved.emit()
        if self._save_pending:
            self._save_pending = False
            self.save()

    @property
    def unsaved(self) -> bool:
        return self._saving is not None or self._save_pending

    def wait_saved(self) -> None:
        """Block until what was asked to be saved is on disk (at closing, or before another project)."""
        self._saver.wait()
        if self._save_pending and self.path is not None:
            self._save_pending = False
            with contextlib.suppress(CaddetError):
                save_project(self.history.document, self.path)
                append_journal(self.path, self._notes)
        self._notes = []
        self._saving = None

    def _begin_journal(self) -> None:
        if self.path is not None and not self.read_only:
            with contextlib.suppress(InputError):
                append_journal(self.path, [edit_line(self.history.moments[0])], afresh=True)

    def close(self) -> None:
        """Finish what runs; the bench is not used afterwards. Closing twice does nothing."""
        if not self.courier.open:
            return
        self.wait_saved()
        self.courier.close()
        for workers in (self._makers, self._others, self._saver):
            workers.close()

    def run(self, work: Callable[[Task], Any], finished: Callback, failed: Callback, progressed: Callback) -> Task:
        """Start some other work (a lay, a PDF) in the background; the answers come on the main thread."""
        return self._others.start(work, finished, failed, progressed)
