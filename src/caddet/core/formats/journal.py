"""The journal: a project's undo to its first edit, kept outside the project file.

Lines of JSON under the XDG state directory, named after the project's path, only ever added to:
``{"edit", "n", "is", "from", "change"}`` for an edit (a snapshot has ``document`` in place of
``change``), ``{"now": n}`` for an undo or redo. ``n`` numbers the moments, ``is`` and ``from`` name
documents by their tokens. A line that can't be read, or that changes what is not there, is passed
over and what follows is kept. See ``docs/file-format.md``.
"""

from __future__ import annotations

import copy
import hashlib
import os
import sys
import threading
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

import platformdirs

from caddet.core.errors import CaddetError, InputError
from caddet.core.files.reading import opened_whole
from caddet.core.files.reasons import reason_of
from caddet.core.files.writing import append_synced, make_folder, write_whole
from caddet.core.formats.changes import BrokenChange, change, changed
from caddet.core.formats.migrate import forward
from caddet.core.formats.repair import repaired
from caddet.core.formats.strict_json import compact, read_json
from caddet.core.formats.written import Written
from caddet.core.recipe.document import SCHEMA, Document
from caddet.core.recipe.history import History, Moment
from caddet.core.sentences import say

BIGGEST_JOURNAL = 128 * 1024 * 1024
COMPACT_FROM = 4 * 1024 * 1024  # bytes; smaller journals are left as they are
MOST_DEED = 300
MOST_FOUND = 4000  # documents of the past kept as JSON; what they share is there once
_DAMAGED = (BrokenChange, InputError, KeyError, TypeError, AttributeError, ValueError)


@dataclass(frozen=True, slots=True)
class Edited:
    """An edit to be kept: the document before and after it, and its words."""

    before: Document
    after: Document
    deed: str


@dataclass(frozen=True, slots=True)
class Moved:
    """An undo (−1) or redo (+1) to be kept."""

    by: int


Entry = Edited | Moved


@dataclass(frozen=True, slots=True)
class Line:
    """A moment as the journal has it. ``was`` names its document as an earlier schema had it."""

    n: int
    deed: str
    token: str
    was: str
    whole: bool
    data: bytes


def journal_path(project: Path) -> Path:
    """Where the journal of a project lies."""
    return journal_folder() / f"{journal_name(project)}.{SCHEMA}.jsonl"


def journal_folder() -> Path:
    """Where the journals and locks of all projects lie."""
    return Path(platformdirs.user_state_dir("caddet")) / "journal"


def journal_name(project: Path) -> str:
    """What the files kept for a project's path are called."""
    return hashlib.sha256(str(project.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:24]


def line_of(words: dict[str, Any]) -> bytes:
    """One line of a journal."""
    return compact(words).encode() + b"\n"


class Chain:
    """Moments whose documents are worked out when they are asked for, from any thread."""

    def __init__(self, lines: Sequence[Line]) -> None:
        self.lines = tuple(lines)
        self._found: dict[int, Any] = {}
        self._lock = threading.Lock()

    def raw(self, index: int) -> Any:
        """The document of a moment as JSON values. Raises one of ``_DAMAGED``."""
        with self._lock:
            start = index
            while start not in self._found and not self.lines[start].whole:
                start -= 1
                if start < 0:
                    raise BrokenChange("no whole document before it")
            if len(self._found) > MOST_FOUND:
                self._found = {start: self._found[start]} if start in self._found else {}
            raw = self._found.get(start)
            if raw is None:
                raw = self._found[start] = read_json(self.lines[start].data, "")["document"]
            for at in range(start + 1, index + 1):
                raw = self._found[at] = changed(raw, read_json(self.lines[at].data, "")["change"])
            return raw

    def document(self, index: int) -> Document:
        """The document of a moment. Raises :class:`CaddetError` when it can't be read any more."""
        try:
            raw = self.raw(index)
            if raw["schema_version"] != SCHEMA:
                raw = forward(copy.deepcopy(raw), "")
            return repaired(raw, "")[0]
        except _DAMAGED as error:
            raise CaddetError(
                say("what “{deed}” had made can't be read any more", deed=self.lines[index].deed)
            ) from error

    def history(self, present: Document, at: int) -> History:
        """The past as a history in which moment ``at`` is now, and is the document that is present."""

        def finder(index: int) -> Callable[[], Document]:
            return lambda: self.document(index)

        moments = (
            Moment(line.deed, present if index == at else None, finder(index)) for index, line in enumerate(self.lines)
        )
        return History(tuple(moments), at)


@dataclass(slots=True)
class Journal:
    """What the journal of one project holds, and where it is added to. Not for several threads at once.

    ``moments`` are all that the file has, each behind its ``parents``; ``path`` leads from the first to the
    last that redo reaches, and ``now`` is a place on it. What an edit after an undo leaves behind stays
    among the moments: after a crash the project may still be there. ``kept`` are the moments at which the project
    was about to be saved, in the order of time: only there can its file be, whatever it was in between.
    """

    file: Path
    moments: list[Line] = field(default_factory=list)
    parents: list[int] = field(default_factory=list)
    path: list[int] = field(default_factory=list)
    kept: list[int] = field(default_factory=list)
    now: int = 0
    passed_over: int = 0
    next_n: int = 0
    size: int = 0
    whole: int = 0  # bytes of the last snapshot, and of the changes since
    since: int = 1
    last: Written | None = None
    ahead: bool = False  # whether it held more than the file when the project was opened: a save was cut off
    opened_at: bytes = (
        b""  # where the project was opened, when that is not the journal's end; it goes before the next edit
    )
    unwritten: bytes = b""  # what could not be written when the project was opened; it goes before the next edit

    @property
    def lines(self) -> list[Line]:
        """The moments that undo and redo reach, in order."""
        return [self.moments[index] for index in self.path]

    # --- reading ------------------------------------------------------------------------------

    @staticmethod
    def read(path: Path) -> Journal:
        """The journal in a file; an empty one when there is none. Raises :class:`InputError`."""
        journal = Journal(path)
        try:
            if os.path.exists(path):
                with opened_whole(path, BIGGEST_JOURNAL) as file:
                    for data in file:
                        journal.take(data)
        except InputError as error:
            raise InputError(
                say("the undo can't be read, and is left as it is: {why}", why=error.sentence), str(path)
            ) from error
        return journal

    def take(self, data: bytes) -> None:
        """One line: add what it says, or pass it over."""
        self.size += len(data)
        if not data.strip():
            return
        try:
            self._taken(data)
        except _DAMAGED:
            self.passed_over += 1

    def _taken(self, data: bytes) -> None:
        raw = read_json(data, "")
        if not data.endswith(b"\n"):
            raise ValueError("torn")
        if "now" in raw:
            self._go_to(self._numbered(int(raw["now"])))
            self._mark(raw)
            return
        whole, parent = "document" in raw, self._named(raw.get("from"))
        if not whole and (parent is None or not isinstance(raw["change"], dict)):
            raise ValueError("what it changes is not there")
        if whole and not isinstance(raw["document"], dict):
            raise ValueError("no document")
        line = Line(int(raw["n"]), str(raw["edit"])[:MOST_DEED], str(raw["is"]), str(raw.get("was", "")), whole, data)
        if parent is not None:
            self._go_to(parent)
        del self.path[self.now + 1 :]
        self.moments.append(line)
        self.parents.append(self.path[-1] if self.path else -1)
        self.path.append(len(self.moments) - 1)
        self.now = len(self.path) - 1
        self.next_n = max(self.next_n, line.n + 1)
        self.whole, self.since = (len(data), 0) if whole else (self.whole, self.since + len(data))
        self._mark(raw)

    def _mark(self, raw: dict[str, Any]) -> None:
        """Remember that the project was saved at the moment that is now, when a line says so."""
        if raw.get("kept") is True:
            self.kept.append(self.path[self.now])

    def _go_to(self, moment: int) -> None:
        """Be at a moment: on the present path, or on the one that led to it."""
        if moment not in self.path:
            self.path = [moment]
            while self.parents[self.path[0]] >= 0:
                self.path.insert(0, self.parents[self.path[0]])
        self.now = self.path.index(moment)

    def _numbered(self, n: int) -> int:
        every: Iterator[int] = iter((*self.path, *range(len(self.moments) - 1, -1, -1)))
        found = next((index for index in every if self.moments[index].n == n), None)
        if found is None:
            raise ValueError("there is no such moment")
        return found

    def _named(self, token: Any) -> int | None:
        """The moment that has this token: the one that is now, else the latest on the path, else the latest of all."""
        if not isinstance(token, str) or not token or not self.path:
            return None
        every: Iterator[int] = iter((self.path[self.now], *reversed(self.path), *range(len(self.moments) - 1, -1, -1)))
        return next((i for i in every if token in (self.moments[i].token, self.moments[i].was)), None)

    def _saved_as(self, token: str) -> int | None:
        """The moment that a file with this token is at: the last one at which it was saved so.

        Between two saves a document may have been the same for a moment (a choice tried and taken back); the file was
        never there. A journal of before says nothing of saves: there the latest moment with that token counts.
        """
        saved = next((i for i in reversed(self.kept) if token in (self.moments[i].token, self.moments[i].was)), None)
        return saved if saved is not None and token else self._named(token)

    # --- opening ------------------------------------------------------------------------------

    def open_at(self, document: Document, token: str, *, write: bool = True) -> History:
        """The past of a project just opened: its last moment equal to the document is now, later ones can be redone.

        When none is, the document becomes a new moment behind what was now (written unless ``write`` is
        false; when that can't be done it waits in ``unwritten``).
        """
        at = self._saved_as(token)
        if at is not None:
            self.ahead = at != self.path[self.now]
            self._go_to(at)
            if self.ahead:  # or the next edit would be read as one of another moment with the same document
                self.opened_at = line_of({"now": self.moments[at].n, "kept": True})
            return Chain(self.lines).history(document, self.now)
        written = Written.of(document)
        words = {
            "edit": "As the file was opened" if self.path else "Start",
            "n": self.next_n,
            "is": written.token,
            "document": written.raw,
            "kept": True,
        }
        data = line_of(words)
        if write:
            try:
                self._append(data)
            except InputError:
                self.unwritten = data
        self.take(data)
        self.last = written
        return Chain(self.lines).history(document, self.now)

    # --- adding -------------------------------------------------------------------------------

    def add(self, entries: Sequence[Entry]) -> None:
        """Append entries and sync; all or none. Raises :class:`InputError` when they can't be kept."""
        ahead = replace(
            self, moments=list(self.moments), parents=list(self.parents), path=list(self.path), kept=list(self.kept)
        )
        data = b"".join(ahead._lines_for(entries))
        self._append(data)
        for name in ("moments", "parents", "path", "kept", "now", "next_n", "size", "whole", "since", "last"):
            setattr(self, name, getattr(ahead, name))

    def _append(self, data: bytes) -> None:
        try:
            make_folder(self.file.parent)
            data = self.unwritten + self.opened_at + data
            append_synced(self.file, data if _ends_whole(self.file) else b"\n" + data)
            self.unwritten = self.opened_at = b""
        except OSError as error:
            raise InputError(
                say("the undo can't be kept: {reason_of}", reason_of=reason_of(error, self.file)), str(self.file)
            ) from error

    def _lines_for(self, entries: Sequence[Entry]) -> Iterator[bytes]:
        for number, entry in enumerate(entries, 1):
            kept = {"kept": True} if number == len(entries) else {}
            if isinstance(entry, Moved):
                at = min(max(self.now + entry.by, 0), len(self.path) - 1)
                data = line_of({"now": self.moments[self.path[at]].n} | kept)
            else:
                known = self.last is not None and self.last.document is entry.before
                before = self.last if known and self.last is not None else Written.of(entry.before, self.last)
                after = Written.of(entry.after, before)
                words = {"edit": entry.deed[:MOST_DEED], "n": self.next_n, "is": after.token, "from": before.token}
                if self.since > self.whole or self._named(before.token) is None:
                    words["document"] = after.raw
                else:
                    words["change"] = change(before.raw, after.raw)
                data, self.last = line_of(words | kept), after
            self.take(data)
            yield data

    # --- compaction ---------------------------------------------------------------------------

    @property
    def wants_compacting(self) -> bool:
        """Whether most of the file is of no use any more: undone branches, or snapshot after snapshot."""
        if self.size <= COMPACT_FROM:
            return False
        lines = self.lines
        wholes = [len(line.data) for line in lines if line.whole]
        needed = sum(len(line.data) for line in lines if not line.whole) + max(wholes, default=0)
        return needed < self.size / 2

    def compacted(self) -> Journal:
        """The same moments in fewer bytes; the file is replaced whole. Raises :class:`InputError`."""
        chain, fresh = Chain(self.lines), Journal(self.file)
        written: list[bytes] = []
        saved = set(self.kept)
        before: Any = None
        for index, line in enumerate(self.lines):
            try:
                raw = chain.raw(index)
            except _DAMAGED:
                continue
            words: dict[str, Any] = {"edit": line.deed, "n": line.n, "is": line.token}
            words |= {"was": line.was} if line.was else {}
            words |= {"kept": True} if self.path[index] in saved else {}
            words |= {"from": fresh.moments[-1].token} if fresh.moments else {}
            if before is None or fresh.since > fresh.whole:
                words["document"] = raw
            else:
                words["change"] = change(before, raw)
            written.append(line_of(words))
            fresh.take(written[-1])
            before = raw
        if fresh.moments:
            here = self.moments[self.path[self.now]].n
            fresh.now = next((i for i, line in enumerate(fresh.moments) if line.n == here), fresh.now)
            written.append(line_of({"now": fresh.moments[fresh.now].n}))
            fresh.size += len(written[-1])
        write_whole(self.file, b"".join(written), private=True)
        return fresh


def _ends_whole(path: Path) -> bool:
    """Whether a file is empty, not there, or ends with a line's end."""
    try:
        if not os.path.exists(path):
            return True
        with opened_whole(path, sys.maxsize) as file:
            if not file.seek(0, 2):
                return True
            file.seek(-1, 2)
            return file.read(1) == b"\n"
    except InputError:
        return False
