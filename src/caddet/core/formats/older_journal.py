"""Journals of earlier schemas taken over; those of schema 1 and 2 hold whole documents whose steps had no ids.

The old file is only read and stays as it is. Every moment's steps get ids from one counter, so that a
step keeps its id from moment to moment; in the moment that the project file holds they are the ids that
the file itself gets when it is migrated.
"""

from __future__ import annotations

import copy
import os
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from caddet.core.errors import CaddetError, InputError
from caddet.core.files.reading import opened_whole
from caddet.core.files.writing import make_folder, write_whole
from caddet.core.formats.changes import change
from caddet.core.formats.journal import BIGGEST_JOURNAL, Chain, Journal, journal_folder, journal_name, line_of
from caddet.core.formats.migrate import StepIds, forward, steps_of
from caddet.core.formats.repair import repaired
from caddet.core.formats.strict_json import canonical, read_json
from caddet.core.formats.written import Written, token_of
from caddet.core.recipe.document import SCHEMA


@dataclass(slots=True)
class _Old:
    """A moment of an old journal: where it stands in the file, its words, token and steps."""

    at: int
    deed: str
    token: str
    steps: list[Any]
    ids: list[str]


def older_journal_path(project: Path) -> Path:
    """Where the versions that wrote schema 1 and 2 kept the journal of a project."""
    return journal_folder() / f"{journal_name(project)}.jsonl"


def journal_of_schema(project: Path, schema: int) -> Path:
    """Where the version that wrote a schema (3 and later) kept the journal of a project."""
    return journal_folder() / f"{journal_name(project)}.{schema}.jsonl"


def latest_older(project: Path) -> Path | None:
    """The journal of the latest earlier schema (3 and later) that a project has; None without one."""
    found = (journal_of_schema(project, schema) for schema in range(SCHEMA - 1, 2, -1))
    return next((path for path in found if os.path.exists(path)), None)


def taken_forward(old: Path, new: Path, *, write: bool = True) -> Journal:
    """The journal at ``new``, written from that of an earlier schema (3 and later): every moment that undo and redo reach.

    Raises :class:`InputError` when it can't be read or the new one can't be written. What can't be read of a moment
    is passed over.
    """
    before = Journal.read(old)
    chain, journal = Chain(before.lines), Journal(new)
    lines: list[bytes] = []
    last: Any = None
    for index, line in enumerate(before.lines):
        try:
            written = Written.of(repaired(forward(copy.deepcopy(chain.raw(index)), ""), "")[0])
        except (CaddetError, KeyError, TypeError, AttributeError, ValueError):
            continue
        words: dict[str, Any] = {"edit": line.deed, "n": line.n, "is": written.token, "was": line.token}
        words |= {"from": journal.moments[-1].token} if journal.moments else {}
        words |= (
            {"document": written.raw}
            if last is None or journal.since > journal.whole
            else {"change": change(last, written.raw)}
        )
        last = written.raw
        lines.append(line_of(words))
        journal.take(lines[-1])
    if not lines:
        return journal
    here = before.moments[before.path[before.now]].n
    if any(line.n == here for line in journal.lines):
        lines.append(line_of({"now": here}))
        journal.take(lines[-1])
    if write:
        make_folder(new.parent)
        write_whole(new, b"".join(lines), private=True)
    return journal


def taken_over(old: Path, new: Path, token: str, *, write: bool = True) -> Journal:
    """The journal at ``new``, written from the one at ``old``; ``token`` is that of the project file.
    Without ``write`` it is only read.

    Raises :class:`InputError` when the new one can't be written. What can't be read is passed over.
    """
    moments, now = _moments(old)
    if not moments:
        return Journal(new)
    start = next((i for i in (now, *range(len(moments) - 1, -1, -1)) if moments[i].token == token), len(moments) - 1)
    ids = StepIds()
    for moment in reversed(moments[: start + 1]):
        moment.ids = ids.given(moment.steps)
    ids.steps, ids.ids = moments[start].steps, moments[start].ids
    for moment in moments[start + 1 :]:
        moment.ids = ids.given(moment.steps)
    journal = Journal(new)
    lines: list[bytes] = []
    for data in _written(old, moments, journal):
        lines.append(data)
        journal.take(data)
    if not lines:
        return journal
    here = next((i for i, line in enumerate(journal.lines) if line.was == moments[now].token), journal.now)
    lines.append(line_of({"now": journal.lines[here].n}))
    journal.take(lines[-1])
    if write:
        make_folder(new.parent)
        write_whole(new, b"".join(lines), private=True)
    return journal


def _rows(path: Path) -> Iterator[tuple[int, Any]]:
    """Each line that can be read, with where it begins."""
    try:
        with opened_whole(path, BIGGEST_JOURNAL) as file:
            at = 0
            for data in file:
                here, at = at, at + len(data)
                try:
                    raw = read_json(data, "")
                except InputError:  # a torn moment still counts, or the numbers after it would be off
                    raw = {"deed": "", "document": None} if data.startswith(b'{"deed"') else None
                if isinstance(raw, dict):
                    yield here, raw
    except InputError:
        return


def _moments(path: Path) -> tuple[list[_Old], int]:
    """The moments that undo and redo could reach, and which of them was now."""
    moments: list[_Old] = []
    now = 0
    for at, raw in _rows(path):
        if "document" in raw:
            whole = isinstance(raw["document"], dict)
            token = token_of(canonical(raw["document"]).encode()) if whole else ""
            if moments and whole and moments[now].token == token:
                continue
            del moments[now + 1 :]
            moments.append(_Old(at, str(raw.get("deed", "")), token, steps_of(raw["document"]) if whole else [], []))
            now = len(moments) - 1
        elif isinstance(raw.get("now"), int) and 0 <= raw["now"] < len(moments):
            now = raw["now"]
    before = [moment for moment in moments[: now + 1] if moment.token]
    return [moment for moment in moments if moment.token], max(len(before) - 1, 0)


def _written(path: Path, moments: list[_Old], journal: Journal) -> Iterator[bytes]:
    """The lines of the new journal, one moment after the other."""
    before: Any = None
    with opened_whole(path, BIGGEST_JOURNAL) as file:
        for n, moment in enumerate(moments):
            file.seek(moment.at)
            try:
                written = Written.of(
                    repaired(forward(read_json(file.readline(), "")["document"], "", moment.ids), "")[0]
                )
            except (InputError, KeyError, TypeError, ValueError):
                continue
            raw = written.raw
            words: dict[str, Any] = {"edit": moment.deed, "n": n, "is": written.token, "was": moment.token}
            words |= {"from": journal.moments[-1].token} if journal.moments else {}
            if before is None or journal.since > journal.whole:
                words["document"] = raw
            else:
                words["change"] = change(before, raw)
            before = raw
            yield line_of(words)
