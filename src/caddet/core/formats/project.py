"""The project file ``NAME.caddet``: a zip with ``document.json`` and photographs. See ``docs/file-format.md``.

Written whole or not at all, with the version before kept beside it. A newer file is refused, an
older one migrated, a damaged one opened as far as it can be read, with a finding for what could not.
"""

from __future__ import annotations

import contextlib
import hashlib
import io
import json
import os
import re
import zipfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from caddet.core import library as library  # registers every block
from caddet.core.errors import Finding, InputError
from caddet.core.formats.files import previous_of, read_whole, write_whole
from caddet.core.formats.people_store import photo_bytes, store_photo
from caddet.core.recipe.document import SCHEMA, Document
from caddet.core.recipe.registry import BLOCKS

ENTRY = "document.json"
PHOTOGRAPHS = "photographs/"
BIGGEST_DOCUMENT = 64 * 1024 * 1024
MOST_ENTRIES = 1000
BIGGEST_PICTURE = 8 * 1024 * 1024
MOST_REPAIRS = 200


def _dated_sets(raw: dict[str, Any]) -> dict[str, Any]:
    """1 to 2: a person's measures become one set of readings without a date."""
    people = raw.get("people")
    for person in people if isinstance(people, list) else ():
        measures = person.pop("measures", None) if isinstance(person, dict) else None
        if isinstance(measures, dict) and measures:
            person["sets"] = [{"readings": {code: [value] for code, value in measures.items()}}]
    return raw


# from a schema version to the next: add a function when SCHEMA grows
MIGRATIONS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _dated_sets}


@dataclass(frozen=True, slots=True)
class Opened:
    """A project as read: the document, what had to be left out, and whether it may be written."""

    document: Document
    findings: tuple[Finding, ...] = ()
    read_only: bool = False


def to_bytes(document: Document) -> bytes:
    """The file's bytes; the same document gives the same bytes."""
    text = json.dumps(document.model_dump(mode="json"), ensure_ascii=False, indent=1, allow_nan=False)
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        entry = zipfile.ZipInfo(ENTRY, (1980, 1, 1, 0, 0, 0))
        entry.compress_type = zipfile.ZIP_DEFLATED
        archive.writestr(entry, text.encode())
        for name in sorted({person.photo for person in document.people if person.photo}):
            picture = photo_bytes(name)
            if picture is not None:
                archive.writestr(zipfile.ZipInfo(PHOTOGRAPHS + name, (1980, 1, 1, 0, 0, 0)), picture)
    return buffer.getvalue()


def save_project(document: Document, path: Path) -> None:
    """Write the project; the version before stays as ``NAME.caddet.previous``. Raises InputError."""
    write_whole(path, to_bytes(document), keep_previous=True)


def open_project(path: Path) -> Opened:
    """Read a project. Raises :class:`InputError` when nothing of it can be used.

    A file that is broken through and through is replaced by the version before it, if there is one.
    """
    opened = _opened(path)
    block = opened.document.recipe.block
    if block not in BLOCKS:
        raise InputError(
            f"this project is made with the block “{block}”, which this Caddet doesn't have; "
            f"expected one of {', '.join(sorted(BLOCKS))}.",
            str(path),
        )
    return opened


def _opened(path: Path) -> Opened:
    try:
        raw = _raw(read_whole(path), str(path))
    except InputError as error:
        before = previous_of(path)
        if not path.exists() or not before.exists() or "newer" in error.sentence:
            raise
        document, findings = _document(_raw(read_whole(before), str(before)), str(before))
        told = Finding(
            "file.damaged",
            f"{path.name} is damaged ({error.sentence}) The version saved before it was opened.",
            str(path),
        )
        return Opened(document, (told, *findings), not os.access(path, os.W_OK))
    document, findings = _document(raw, str(path))
    return Opened(document, findings, not (os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)))


def _raw(data: bytes, place: str) -> dict[str, Any]:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if len(archive.infolist()) > MOST_ENTRIES:
                raise InputError(f"the file holds more than {MOST_ENTRIES} entries; expected a Caddet project.", place)
            if ENTRY not in archive.namelist():
                raise InputError(f"there is no {ENTRY} in this file; expected a Caddet project.", place)
            if archive.getinfo(ENTRY).file_size > BIGGEST_DOCUMENT:
                raise InputError(f"{ENTRY} unpacks to more than 64 MiB; that can't be a project.", place)
            with archive.open(ENTRY) as file:
                text = file.read(BIGGEST_DOCUMENT + 1)
            _take_photographs(archive)
    except (zipfile.BadZipFile, zipfile.LargeZipFile, EOFError, OSError, RuntimeError) as error:
        raise InputError("this is not a whole Caddet project; it is cut short or of another kind.", place) from error
    except Exception as error:
        if isinstance(error, InputError):
            raise
        raise InputError("the packing of this file is damaged.", place) from error
    if len(text) > BIGGEST_DOCUMENT:
        raise InputError(f"{ENTRY} unpacks to more than 64 MiB; that can't be a project.", place)
    try:
        raw = json.loads(text.decode("utf-8"))
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError) as error:
        where = f" (line {error.lineno}, column {error.colno})" if isinstance(error, json.JSONDecodeError) else ""
        raise InputError(f"{ENTRY} can't be read{where}; expected JSON.", place) from error
    if not isinstance(raw, dict):
        raise InputError(f"{ENTRY} is not a project; expected an object with a schema_version.", place)
    return _migrated(raw, place)


def _take_photographs(archive: zipfile.ZipFile) -> None:
    """Keep the photographs of a project where the desk finds them; one that is damaged is left out."""
    for info in archive.infolist():
        name = info.filename.removeprefix(PHOTOGRAPHS)
        if name == info.filename or not re.fullmatch(r"[0-9a-f]{32}\.jpg", name) or info.file_size > BIGGEST_PICTURE:
            continue
        if photo_bytes(name) is None:
            with contextlib.suppress(InputError, zipfile.BadZipFile, OSError), archive.open(info) as file:
                data = file.read(BIGGEST_PICTURE + 1)
                if hashlib.sha256(data).hexdigest().startswith(name[:32]):
                    store_photo(data)


def _migrated(raw: dict[str, Any], place: str) -> dict[str, Any]:
    version = raw.get("schema_version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise InputError("the project does not say its schema_version; expected a whole number from 1.", place)
    if version > SCHEMA:
        raise InputError(
            f"this project was written by a newer Caddet (format {version}, this one knows {SCHEMA}); "
            "open it there. It has not been changed.",
            place,
        )
    while version < SCHEMA:
        raw = MIGRATIONS[version](raw)
        version += 1
        raw["schema_version"] = version
    return raw


def _document(raw: dict[str, Any], place: str) -> tuple[Document, tuple[Finding, ...]]:
    """The document, with whatever does not fit the schema left out and reported."""
    findings: list[Finding] = []
    for _ in range(MOST_REPAIRS):
        try:
            return Document.model_validate(raw), tuple(findings)
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(str(part) for part in first["loc"]) or "the whole"
            if not _left_out(raw, list(first["loc"])):
                break
            findings.append(
                Finding("file.repaired", f"{where} could not be read ({first['msg']}) and was left out.", where)
            )
    raise InputError("too little of this project can be read to open it.", place)


def _left_out(raw: dict[str, Any], location: list[Any]) -> bool:
    """Take away the deepest thing on the path that can be taken away, or give what is missing."""
    if not location:
        people = [p for p in raw.get("people", []) if isinstance(p, dict)]
        names = [p.get("name") for p in people]
        if len(set(map(str, names))) != len(names):
            unique = {str(p.get("name")): p for p in reversed(people)}
            raw["people"] = list(reversed(unique.values()))
            return True
        if people and raw.get("wearer") not in names:
            raw["wearer"] = names[0]
            return True
        cloths = [c.get("name") for c in raw.get("cloths", []) if isinstance(c, dict)]
        if cloths and raw.get("cloth") not in cloths:
            raw["cloth"] = cloths[0]
            return True
        return False
    if location == ["title"]:
        raw["title"] = "Unnamed"
        return True
    holder: Any = raw
    trail: list[tuple[Any, Any]] = []
    for part in location:
        if (isinstance(holder, dict) and part in holder) or (
            isinstance(holder, list) and isinstance(part, int) and 0 <= part < len(holder)
        ):
            trail.append((holder, part))
            holder = holder[part]
        else:
            break
    for container, part in reversed(trail):
        if isinstance(container, list) or container is not raw or part not in ("people", "cloths", "recipe"):
            del container[part]
            return True
    return False
