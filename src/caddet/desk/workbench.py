"""The workbench: the current document, undo, evaluation in the background, saving.

Widgets never change a document themselves: they ask the workbench. It emits ``edited`` when the
document changed and ``made`` when a new pattern is there.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from pydantic import ValidationError
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from caddet.core.errors import CaddetError, expected
from caddet.core.formats.journal import Edited, Entry, Moved
from caddet.core.formats.keeping import ChangedElsewhere, Hold, Keeper, copy_undo, free_path
from caddet.core.formats.people_store import photo_bytes, store_photo
from caddet.core.formats.project import Opened, keep_aside, open_project, save_project
from caddet.core.lengths import Unit, format_length
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pipeline import make
from caddet.core.recipe.document import Document
from caddet.core.recipe.evaluate import StageCache
from caddet.core.recipe.history import History
from caddet.core.sentences import say
from caddet.desk.tasks import Callback, Courier, Task, Workers

PATIENCE = 1.0  # seconds that closing waits for what is being worked out; what is being saved it waits for
TRY_AGAIN = 15_000  # ms between tries to save what could not be saved


NO_LENGTHS = ("price", "stretch", "stretch_along", "shrinkage", "turn", "months")


def _refusal(error: ValidationError, unit: Unit) -> str:
    """Why the schema does not take a value, with its limits as the user measures."""
    first = error.errors()[0]
    name = str(first["loc"][-1]) if first["loc"] else ""
    limits = first.get("ctx", {})
    if name not in NO_LENGTHS:
        limits = {
            key: format_length(value, unit, with_unit=True) if isinstance(value, int | float) else value
            for key, value in limits.items()
        }
    words = expected(first["type"], limits, first["msg"])
    return f"{name.replace('_', ' ').capitalize()}: {words}." if name else f"{words}."


def _kept_aside(opened: Opened, path: Path) -> bool:
    """Keep what could not be read beside the project; a save without that would lose it."""
    try:
        keep_aside(opened, path)
    except CaddetError:
        return False
    return True


class Workbench(QObject):
    """One open project."""

    edited = pyqtSignal()
    made = pyqtSignal()
    saved = pyqtSignal()
    unit_changed = pyqtSignal()
    said = pyqtSignal(object)  # text or a sentence; who shows it tells it in the user's unit
    changed_elsewhere = pyqtSignal()

    def __init__(self, opened: Opened, path: Path | None = None) -> None:
        super().__init__()
        self.unit: Unit = "cm"
        self.courier = Courier()
        self._makers = Workers(self.courier, 1)
        self._others = Workers(self.courier, 2)
        self._saver = Workers(self.courier, 1)
        self.path: Path | None = None
        self.read_only = False
        self.read_only_why = ""
        self.save_error = ""
        self.conflict = False
        self.left_behind = False  # whether something was still being worked out when the bench was closed
        self.history = History.begin(opened.document)
        self.preview_document: Document | None = None
        self.result: Made | None = None
        self._cache = StageCache()
        self._number = 0
        self._running: Task | None = None
        self._pending = False
        self._keeper: Keeper | None = None
        self._hold: Hold | None = None
        self._saving: Task | None = None
        self._save_pending = False
        self._entries: list[Entry] = []
        self._opening = self._saves = 0
        self._reading_past = False
        self._undos_wanted = 0
        self._undo_told = ""
        self._again = QTimer(self)
        self._again.setSingleShot(True)
        self._again.timeout.connect(self.save)
        self.load(opened, path)

    # --- opening ------------------------------------------------------------------------------

    def load(self, opened: Opened, path: Path | None) -> None:
        """Put another project on the bench; its undo is read in the background, to its first edit.

        What is on the bench must be saved or given up before (see :meth:`settled`).
        """
        self._saver.wait()
        self._again.stop()
        self._release()
        self.path, self.save_error, self.conflict = path, "", False
        self.read_only, self.read_only_why = (
            opened.read_only,
            "the file can't be written to" if opened.read_only else "",
        )
        self.preview_document = None
        self.history = History.begin(opened.document)
        self._entries, self._saving, self._save_pending, self._undos_wanted = [], None, False, 0
        self._opening += 1
        self._saves += 1
        self._keeper = None
        if path is not None:
            self._hold = Hold(path)
            if self._hold.taken:
                self.read_only, self.read_only_why = True, "it is open in another window"
            if not self.read_only and not _kept_aside(opened, path):
                self.read_only, self.read_only_why = True, "what could not be read of it can't be kept beside it"
            self._keeper = Keeper(path, opened, read_only=self.read_only)
            self._read_past(self._keeper, opened)
        self.result = None
        self.evaluate()
        self.edited.emit()

    def _read_past(self, keeper: Keeper, opened: Opened) -> None:
        self._reading_past = True
        number = self._opening

        def work(_: Task) -> History:
            return keeper.past(opened.document)

        def arrived(past: History | None) -> None:
            if number == self._opening:
                self._reading_past = False
                if past is not None:
                    self.history = self.history.after(past)
                    self.edited.emit()
                    if keeper.cut_off and past.redo_deed is not None:
                        self.said.emit(
                            f"“{past.redo_deed}” was not saved any more when Caddet stopped; redo brings it back."
                        )
                wanted, self._undos_wanted = self._undos_wanted, 0
                for _ in range(wanted):
                    self.undo()

        def failed(error: Exception) -> None:
            if number == self._opening:
                self.said.emit(f"The earlier edits can't be undone: {error}")
            arrived(None)

        self._saver.start(work, arrived, failed)

    @property
    def reading_past(self) -> bool:
        """Whether the earlier edits are still being read."""
        return self._reading_past

    @property
    def document(self) -> Document:
        """What is shown: the preview of a drag, or the document as it stands."""
        return self.preview_document or self.history.document

    def picture(self, name: str) -> bytes | None:
        """A photograph by its file's name: the project's own, or the Workroom's."""
        return self._keeper.picture(name) if self._keeper is not None else photo_bytes(name)

    def take_picture(self, data: bytes) -> str:
        """Take in a photograph that the next edit refers to; its name. Raises :class:`CaddetError` when it can't be kept."""
        return self._keeper.take_picture(data) if self._keeper is not None else store_photo(data)

    # --- edits --------------------------------------------------------------------------------

    def edit(self, deed: str, change: Callable[[Document], Document]) -> bool:
        """Do one edit, evaluate, save. A refused edit says why and changes nothing."""
        try:
            document = change(self.history.document)
        except ValidationError as error:
            self.preview(None)
            self.said.emit(_refusal(error, self.unit))
            return False
        except CaddetError as error:
            self.preview(None)
            self.said.emit(str(error))
            return False
        self.preview_document = None
        before = self.history
        self.history = before.edited(document, deed)
        if self.history is not before:
            self._entries.append(Edited(before.document, document, deed))
        self._changed()
        return True

    def preview(self, document: Document | None) -> None:
        """Show a document without keeping it (while dragging); None goes back."""
        if document is None and self.preview_document is None:
            return
        self.preview_document = document
        self.evaluate()

    def undo(self) -> None:
        """One edit back; while the earlier ones are being read, as soon as they are there."""
        if self.history.undo_deed is None:
            if self._reading_past:
                self._undos_wanted += 1
                self.said.emit("The earlier edits are still being read; this is undone as soon as they are there.")
            else:
                self.said.emit("This is the start of the project.")
            return
        self._move(-1, f"Undone: {self.history.undo_deed}")

    def redo(self) -> None:
        """One edit on."""
        if self.history.redo_deed is not None:
            self._move(1, f"Done again: {self.history.redo_deed}")

    def _move(self, way: int, words: str) -> None:
        """One moment back or on; one that can't be read any more is told and passed over."""
        moved, by = self.history, 0
        while True:
            further = moved.undone() if way < 0 else moved.redone()
            if further.now == moved.now:
                return
            moved, by = further, by + way
            try:
                _ = moved.document
            except CaddetError as error:
                words = f"{words}; {error}, so it was passed over"
                continue
            break
        self.said.emit(words)
        self.preview_document = None
        self.history = moved
        self._entries.append(Moved(by))
        self._changed()

    def set_unit(self, unit: Unit) -> None:
        """Measure in cm or inches from here on."""
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
        self.said.emit(say("The pattern could not be made: {error}", error=error))
        self._go_on()

    def _go_on(self) -> None:
        if self._pending:
            self._pending = False
            self.evaluate()

    @property
    def busy(self) -> bool:
        """Whether the shown pattern is older than the document."""
        return self._running is not None or self._pending

    @property
    def idle(self) -> bool:
        """Whether nothing at all is being worked out, drawn or written."""
        return not self.busy and all(workers.idle for workers in (self._makers, self._others, self._saver))

    # --- saving -------------------------------------------------------------------------------

    def save(self) -> None:
        """Save in the background; while one save runs, only the newest document is kept for the next."""
        if self._keeper is None or self.read_only:
            return
        if self._saving is not None:
            self._save_pending = True
            return
        keeper, document, entries, number = self._keeper, self.history.document, self._entries, self._saves
        self._entries = []
        self._saving = self._saver.start(
            lambda _: keeper.keep(document, entries),
            lambda _: self._saved(None, number),
            lambda error: self._saved(error, number),
        )

    def _saved(self, error: Exception | None, number: int) -> None:
        if number != self._saves:
            return  # it was waited for already, or is of a project that is no longer on the bench
        self._saving = None
        words = str(error) if error is not None else ""
        self.conflict = isinstance(error, ChangedElsewhere)
        if words and words != self.save_error:
            self.said.emit(f"Not saved: {words}")
        self.save_error = words
        told = self._keeper.undo_error if self._keeper is not None and not words else ""
        if told and told != self._undo_told:
            self.said.emit(f"Saved, but {told}")
        self._undo_told = told
        self.saved.emit()
        if self.conflict:
            self.changed_elsewhere.emit()
        elif words:
            self._again.start(TRY_AGAIN)
        if self._save_pending and not self.conflict:
            self._save_pending = False
            self.save()

    @property
    def unsaved(self) -> bool:
        """Whether the document as it stands is not on the disk yet."""
        return self._saving is not None or self._save_pending or bool(self.save_error) or bool(self._entries)

    def settled(self) -> bool:
        """Wait for the save that runs, try once more what could not be saved, and tell whether all is on the disk."""
        if self._keeper is None or self.read_only:
            return not self._entries
        self._saver.wait()
        if self._saving is not None or self.unsaved:
            self._saving, self._save_pending = None, False
            self._saves += 1  # answers still on their way are of no interest any more
            entries, self._entries = self._entries, []
            try:
                self._keeper.keep(self.history.document, entries)
            except Exception as error:  # whatever it is, the edits must not go with it
                self._saved(error, self._saves)
                return False
            self._saved(None, self._saves)
        return True

    def give_up_unsaved(self) -> None:
        """What could not be saved is given up by the user."""
        self._entries, self._save_pending, self.save_error, self.conflict = [], False, "", False

    def keep_mine(self) -> None:
        """The file was changed elsewhere: that version goes beside it, and this one is saved."""
        if self._keeper is not None:
            try:
                beside = self._keeper.set_theirs_aside()
            except CaddetError as error:
                self.said.emit(str(error))
                return
            self.conflict, self.save_error = False, ""
            self.said.emit(f"The other version is kept as {beside.name}.")
            self.save()

    def take_theirs(self) -> None:
        """The file was changed elsewhere: this version goes beside it, and that one is taken up."""
        if self.path is None:
            return
        try:
            beside = free_path(self.path, "as it was here")
            save_project(self.history.document, beside, self.picture)
            opened = open_project(self.path)
        except CaddetError as error:
            self.said.emit(str(error))
            return
        self.give_up_unsaved()
        self.load(opened, self.path)
        self.said.emit(f"What was here is kept as {beside.name}.")

    def theirs(self) -> Document | None:
        """The document as another program left it in the file."""
        try:
            return self._keeper.theirs().document if self._keeper is not None else None
        except CaddetError:
            return None

    def copy_to(self, path: Path) -> None:
        """Write a copy, with its undo, and go on with it. Raises :class:`CaddetError` when it can't be written."""
        self.settled()
        save_project(self.history.document, path, self.picture)
        opened = open_project(path)
        if self._keeper is not None and path.resolve() != self._keeper.path.resolve():
            copy_undo(self._keeper.path, path)
        self.give_up_unsaved()
        self.load(opened, path)

    def _release(self) -> None:
        if self._hold is not None:
            self._hold.release()
            self._hold = None

    def close(self) -> None:
        """Finish what runs; the bench is not used afterwards. Closing twice does nothing."""
        if not self.courier.open:
            return
        self.settled()
        self._again.stop()
        self.courier.close()
        self._saver.close()
        stopped = [workers.close(PATIENCE) for workers in (self._makers, self._others)]
        self.left_behind = not all(stopped)
        self._release()

    def run(self, work: Callable[[Task], Any], finished: Callback, failed: Callback, progressed: Callback) -> Task:
        """Start some other work (a lay, a PDF) in the background; the answers come on the main thread."""
        return self._others.start(work, finished, failed, progressed)
