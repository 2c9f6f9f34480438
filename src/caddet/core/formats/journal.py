"""The journal: a project's undo, kept outside the project file so that it outlives a crash.

Lines of JSON, only ever appended to, under the XDG state directory, named after the project's path:
``{"deed", "document"}`` for an edit, ``{"now"}`` for an undo or redo. Losing it loses only the undo; a
journal that does not end at the project's own document is begun anew; a cut-off last line is passed over.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import platformdirs
from pydantic import ValidationError

from caddet.core.errors import InputError
from caddet.core.recipe.document import Document
from caddet.core.recipe.history import History, Moment

BIGGEST_JOURNAL = 128 * 1024 * 1024


def journal_path(project: Path) -> Path:
    """Where the journal of a project lies."""
    digest = hashlib.sha256(str(project.resolve()).encode()).hexdigest()[:24]
    return Path(platformdirs.user_state_dir("caddet")) / "journal" / f"{digest}.jsonl"


def edit_line(moment: Moment) -> dict[str, Any]:
    """What the journal says of an edit (and of the start)."""
    return {"deed": moment.deed, "document": moment.document.model_dump(mode="json")}


def now_line(now: int) -> dict[str, Any]:
    """What the journal says of an undo or redo."""
    return {"now": now}


def append_journal(project: Path, lines: Sequence[dict[str, Any]], *, afresh: bool = False) -> None:
    """Add lines, or begin the journal afresh with them. Raises :class:`InputError`."""
    path = journal_path(project)
    text = "".join(json.dumps(line, ensure_ascii=False) + "\n" for line in lines)
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        with path.open("w" if afresh else "a", encoding="utf-8") as file:
            file.write(text)
    except OSError as error:
        raise InputError(f"the undo can't be kept ({error.strerror}).", str(path)) from error


def read_journal(project: Path) -> History | None:
    """The undo of a project, or None when there is none that can be read."""
    path = journal_path(project)
    try:
        if path.stat().st_size > BIGGEST_JOURNAL:
            return None
        text = path.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError):
        return None
    history: History | None = None
    for line in text.splitlines():
        try:
            raw = json.loads(line)
            if "document" in raw:
                moment = Moment(Document.model_validate(raw["document"]), str(raw["deed"]))
                history = history.edited(moment.document, moment.deed) if history else History((moment,))
            elif history is not None and 0 <= int(raw["now"]) < len(history.moments):
                history = History(history.moments, int(raw["now"]))
        except (ValueError, KeyError, TypeError, ValidationError):
            break
    return history
