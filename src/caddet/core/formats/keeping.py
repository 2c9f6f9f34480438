"""Keeping one open project: its file, its journal, and whether somebody else has it open or changed it.

The journal is written and synced before the save it belongs to; a save looks first whether the file is
still as it was last read or written. All of it may run off the main thread, one call at a time.
"""

from __future__ import annotations

import contextlib
import fcntl
import os
from collections.abc import Mapping, Sequence
from pathlib import Path

from caddet.core.errors import InputError
from caddet.core.faults import write_fault
from caddet.core.files.reading import read_whole
from caddet.core.files.writing import make_folder, sweep, write_whole
from caddet.core.formats.journal import (
    BIGGEST_JOURNAL,
    Edited,
    Entry,
    Journal,
    journal_folder,
    journal_name,
    journal_path,
)
from caddet.core.formats.older_journal import latest_older, older_journal_path, taken_forward, taken_over
from caddet.core.formats.people_store import named_photo, photo_bytes
from caddet.core.formats.project import BIGGEST_PROJECT, Opened, Pictures, open_project, packed, save_project
from caddet.core.formats.undone_photographs import copy_undone, drop_forgotten, keep_undone, undone_picture
from caddet.core.formats.written import Written, token_of
from caddet.core.recipe.document import Document
from caddet.core.recipe.history import History
from caddet.core.sentences import say


class ChangedElsewhere(InputError):
    """The file is no longer as it was last read or written here: another program changed it."""


class Hold:
    """A project held by one window: as long as it is, another one only reads it. Ends with the process."""

    def __init__(self, path: Path) -> None:
        self.handle = -1
        self.taken = False
        try:
            folder = make_folder(journal_folder())
            self.handle = os.open(folder / f"{journal_name(path)}.lock", os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
            fcntl.flock(self.handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            self.taken = True
            self.release()
        except (OSError, InputError):
            self.release()  # where there can't be locks, one does without

    def release(self) -> None:
        """Let another window have it."""
        if self.handle >= 0:
            os.close(self.handle)
            self.handle = -1


class Keeper:
    """Keeps one project. ``opened`` is what was read from the path, or None for a file made just now."""

    def __init__(self, path: Path, opened: Opened, *, read_only: bool = False) -> None:
        self.path = path
        self.read_only = read_only or opened.read_only
        self.token = opened.token
        self.seen = opened.bytes_token
        self.schema = opened.schema
        self.pictures = dict(opened.pictures)
        self.journal: Journal | None = None
        self.undo_error = ""
        self._waiting: list[Entry] = []
        self._stat = _stat(path) if self.seen else None
        if not self.read_only:
            sweep(path)

    def picture(self, name: str) -> bytes | None:
        """A photograph that the project refers to: its own, or the Workroom's, which is its own from then on."""
        found = pictures_of(self.pictures, self.path)(name)
        if found is not None:
            self.pictures[name] = found
        return found

    def take_picture(self, data: bytes) -> str:
        """Take in a photograph that the project is going to refer to; its name from then on.

        It is kept beside the undo at once, so that it is there when the edit is, whatever happens between.
        Raises :class:`InputError` when it can't be kept.
        """
        name = named_photo(data)
        if not self.read_only:
            keep_undone(self.path, {name: data}, ())
        self.pictures[name] = data
        return name

    def past(self, document: Document) -> History:
        """The undo of the project as just opened. Raises :class:`InputError` when it can't be read or begun."""
        path, third, old = journal_path(self.path), latest_older(self.path), older_journal_path(self.path)
        try:
            if not os.path.exists(path) and third is not None:
                journal = taken_forward(third, path, write=not self.read_only)
            elif not os.path.exists(path) and os.path.exists(old):
                journal = taken_over(old, path, self.token, write=not self.read_only)
            else:
                journal = Journal.read(path)
                if journal.wants_compacting and not self.read_only:
                    journal = journal.compacted()
                    drop_forgotten(self.path, (line.data for line in journal.lines))
            history = journal.open_at(document, self.token, write=not self.read_only)
        except InputError as error:
            self.undo_error = str(error)
            raise
        self.journal = journal
        if journal.unwritten:
            self.undo_error = "the undo can't be kept at the moment; it is tried again with every save."
        return history

    @property
    def cut_off(self) -> bool:
        """Whether the last save was cut off: the journal had more than the file when it was opened."""
        return self.journal is not None and self.journal.ahead

    def keep(self, document: Document, entries: Sequence[Entry]) -> None:
        """Write the edits to the journal, then the project. Raises :class:`InputError` when it is not saved.

        Raises :class:`ChangedElsewhere` before anything is written over what another program wrote. When
        only the journal can't be written, the project is saved, ``undo_error`` says why, and the edits
        are tried again with the next save.
        """
        self._waiting += entries
        self._look()
        self._keep_undo(document)
        last = self.journal.last if self.journal is not None else None
        written = last if last is not None and last.document is document else Written.of(document, last)
        data = packed(written.text, document.photo_files(), self.picture)
        write_whole(self.path, data, keep_previous=True, private=True)
        self.seen, self._stat = token_of(data), _stat(self.path)

    def _keep_undo(self, document: Document) -> None:
        if self.journal is None or not self._waiting:
            return
        try:
            keep_undone(self.path, self.pictures, document.photo_files())
            self.journal.add(self._waiting)
        except InputError as error:
            self.undo_error = str(error)
            return
        except Exception as error:  # a fault of ours in the undo must not keep the project from being saved
            self.undo_error = say(
                "the undo can't be kept; what happened is written in {write_fault}.", write_fault=write_fault(error)
            )
            return
        self._waiting, self.undo_error = [], ""

    def _look(self) -> None:
        """Whether the file is still ours; a file that went away is simply written again."""
        now = _stat(self.path)
        if now is None or (self._stat is not None and now == self._stat):
            return
        if token_of(read_whole(self.path, BIGGEST_PROJECT)) != self.seen:
            raise ChangedElsewhere("another program has changed this file since it was opened here.", str(self.path))
        self._stat = now

    def theirs(self) -> Opened:
        """The project as another program left it. Raises :class:`InputError`."""
        return open_project(self.path)

    def set_theirs_aside(self) -> Path:
        """Keep what another program wrote beside the file, under a name of its own, and go on with ours."""
        data = read_whole(self.path, BIGGEST_PROJECT)
        beside = free_path(self.path, "changed elsewhere")
        write_whole(beside, data, private=True)
        self.seen, self._stat = token_of(data), _stat(self.path)
        return beside


def pictures_of(own: Mapping[str, bytes], path: Path) -> Pictures:
    """Where the photographs of a project are found: in its file, beside its undo, in the Workroom."""
    return lambda name: own.get(name) or undone_picture(path, name) or photo_bytes(name)


def copy_undo(path: Path, other: Path) -> None:
    """Take a project's undo along to a copy of it, with its photographs, unless that has an undo of its own."""
    mine, theirs = journal_path(path), journal_path(other)
    with contextlib.suppress(InputError, OSError):
        if os.path.exists(mine) and not os.path.exists(theirs):
            copy_undone(path, other)
            write_whole(theirs, read_whole(mine, BIGGEST_JOURNAL), private=True)


def store_edited(opened: Opened, path: Path, document: Document, deed: str, target: Path | None = None) -> None:
    """Store one edit of a project that was opened from ``path``: in its place, or as a copy at ``target``.

    All of the project goes with it: photographs, undo, the version before. Raises :class:`InputError` when it can't
    be written. Where a window has the project open, its undo is left to that window, which notices the change.
    """
    keeper = Keeper(path, opened)
    if target is not None and target.resolve() != path.resolve():
        save_project(document, target, keeper.picture)
        copy_undo(path, target)
        return
    hold = Hold(path)
    try:
        if hold.taken or keeper.read_only:
            save_project(document, path, keeper.picture)
            return
        with contextlib.suppress(InputError):  # an undo that can't be read is left as it is
            keeper.past(opened.document)
        keeper.keep(document, [Edited(opened.document, document, deed)])
    finally:
        hold.release()


def free_path(path: Path, words: str) -> Path:
    """A path beside another that no file has yet: ``NAME (words).caddet``, ``NAME (words 2).caddet`` …"""
    number = 1
    while True:
        more = f" ({words})" if number == 1 else f" ({words} {number})"
        beside = path.with_name(f"{path.stem[:100]}{more}{path.suffix}")
        if not os.path.exists(beside):
            return beside
        number += 1


def _stat(path: Path) -> tuple[int, int, int] | None:
    try:
        status = path.stat()
    except (OSError, ValueError):
        return None
    return status.st_mtime_ns, status.st_size, status.st_ino
