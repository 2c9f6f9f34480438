"""The project file ``NAME.caddet``: a zip with ``document.json`` and photographs. See ``docs/file-format.md``.

Written whole or not at all, with the version before kept beside it. A newer file is refused, an older
one taken forward, a damaged one opened with only the fault set aside and named. Reading writes nothing.
"""

from __future__ import annotations

import hashlib
import io
import os
import re
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from pathlib import Path

from caddet.core import library as library  # registers every block
from caddet.core.errors import Finding, InputError
from caddet.core.formats.files import previous_of, read_whole, write_whole
from caddet.core.formats.migrate import forward
from caddet.core.formats.people_store import photo_bytes
from caddet.core.formats.repair import SetAside, findings_of, repaired
from caddet.core.formats.strict_json import MOST_PARTS, canonical, parts_of, read_json
from caddet.core.formats.written import Written, token_of
from caddet.core.recipe.document import SCHEMA, BlockSource, Document
from caddet.core.recipe.registry import BLOCKS
from caddet.core.sentences import say

ENTRY = "document.json"
PHOTOGRAPHS = "photographs/"
BIGGEST_PROJECT = 96 * 1024 * 1024
BIGGEST_DOCUMENT = 24 * 1024 * 1024
MOST_ENTRIES = 1000
BIGGEST_PICTURE = 8 * 1024 * 1024
BIGGEST_PICTURES = 64 * 1024 * 1024
_EPOCH = (1980, 1, 1, 0, 0, 0)

Pictures = Callable[[str], bytes | None]


@dataclass(frozen=True, slots=True)
class Opened:
    """A project as read: the document, what was set aside or has to be said, and whether it may be written.

    ``token`` names the document as its schema has it (see :func:`token_of`; empty when something was
    mended), ``bytes_token`` the file's bytes; ``pictures`` are the photographs that came with it.
    """

    document: Document
    findings: tuple[Finding, ...] = ()
    read_only: bool = False
    aside: tuple[SetAside, ...] = ()
    token: str = ""
    bytes_token: str = ""
    schema: int = 0
    pictures: dict[str, bytes] = field(default_factory=dict)
    damaged: bytes = b""  # the whole file, when the version before it had to be opened

    @property
    def whole(self) -> bool:
        """Whether everything could be read."""
        return not self.findings


def packed(text: str, files: frozenset[str], pictures: Pictures) -> bytes:
    """The bytes of a project file: the document's text, and the photographs that it refers to.

    Raises :class:`InputError` when it is so large that it could not be read again.
    """
    data = text.encode()
    if len(data) > BIGGEST_DOCUMENT or parts_of(data) > MOST_PARTS:
        raise InputError(
            "the project has grown too large for one file; take people or old readings out, or begin another project."
        )
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        entry = zipfile.ZipInfo(ENTRY, _EPOCH)
        entry.compress_type = zipfile.ZIP_DEFLATED
        archive.writestr(entry, data, compresslevel=1)
        for name in sorted(files):
            picture = pictures(name)
            if picture is not None:
                archive.writestr(zipfile.ZipInfo(PHOTOGRAPHS + name, _EPOCH), picture)
    return buffer.getvalue()


def to_bytes(document: Document, pictures: Pictures = photo_bytes) -> bytes:
    """The file's bytes; the same document gives the same bytes."""
    return packed(Written.of(document).text, document.photo_files(), pictures)


def save_project(document: Document, path: Path, pictures: Pictures = photo_bytes) -> bytes:
    """Write the project; the version before stays as ``NAME.caddet.previous``. Raises InputError.

    Returns what was written.
    """
    data = to_bytes(document, pictures)
    write_whole(path, data, keep_previous=True, private=True)
    return data


def open_project(path: Path) -> Opened:
    """Read a project. Raises :class:`InputError` when nothing of it can be used.

    A file that is broken through and through is replaced by the version before it, if there is one.
    """
    opened = _opened(path)
    for source in opened.document.recipe.sources:
        if isinstance(source, BlockSource) and source.block not in BLOCKS:
            raise InputError(
                say(
                    "this project is made with the block “{block}”, which this Caddet doesn't have; expected one of {BLOCKS}.",
                    block=source.block,
                    BLOCKS=", ".join(sorted(BLOCKS)),
                ),
                str(path),
            )
    return opened


def _opened(path: Path) -> Opened:
    data = b""
    try:
        data = read_whole(path, BIGGEST_PROJECT)
        opened = read_project(data, str(path))
    except InputError as error:
        before = previous_of(path)
        if "newer" in error.sentence or not os.path.isfile(path) or not os.path.isfile(before):
            raise
        opened = read_project(read_whole(before, BIGGEST_PROJECT), str(before))
        told = Finding(
            "file.damaged",
            say(
                "{name} is damaged ({sentence}) The version saved before it was opened.",
                name=path.name,
                sentence=error.sentence,
            ),
            str(path),
        )
        opened = replace(opened, findings=(told, *opened.findings), token="", damaged=data)
    writable = os.access(path, os.W_OK) and os.access(path.resolve().parent, os.W_OK)
    return replace(opened, read_only=not writable, bytes_token=token_of(data))


def read_project(data: bytes, place: str) -> Opened:
    """A project from its bytes. Raises :class:`InputError` when nothing of it can be used."""
    text, archive_pictures = _unpacked(data, place)
    raw = read_json(text, place, ENTRY)
    if not isinstance(raw, dict):
        raise InputError(say("{ENTRY} is not a project; expected an object with a schema_version.", ENTRY=ENTRY), place)
    schema = raw.get("schema_version")
    token = "" if schema == SCHEMA else token_of(canonical(raw).encode())
    document, aside = repaired(forward(raw, place), place)
    if schema == SCHEMA and not aside:
        token = Written.of(document).token
    pictures = {name: picture for name in document.photo_files() if (picture := archive_pictures(name)) is not None}
    return Opened(
        document,
        findings_of(aside),
        aside=aside,
        token=token,
        schema=schema if isinstance(schema, int) else 0,
        pictures=pictures,
    )


def _unpacked(data: bytes, place: str) -> tuple[bytes, Pictures]:
    """The text of the document, and a way to the photographs beside it."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = {info.filename: info for info in archive.infolist()[: MOST_ENTRIES + 1]}
            if len(archive.filelist) > MOST_ENTRIES:
                raise InputError(
                    say(
                        "the file holds more than {MOST_ENTRIES} entries; expected a Caddet project.",
                        MOST_ENTRIES=MOST_ENTRIES,
                    ),
                    place,
                )
            if ENTRY not in entries:
                raise InputError(
                    say("there is no {ENTRY} in this file; expected a Caddet project.", ENTRY=ENTRY), place
                )
            text = b""
            if entries[ENTRY].file_size <= BIGGEST_DOCUMENT:
                with archive.open(ENTRY) as file:
                    text = file.read(BIGGEST_DOCUMENT + 1)
            if (not text and entries[ENTRY].file_size) or len(text) > BIGGEST_DOCUMENT:
                raise InputError(
                    say(
                        "{ENTRY} unpacks to more than {BIGGEST_DOCUMENT} MiB; that can't be a project.",
                        ENTRY=ENTRY,
                        BIGGEST_DOCUMENT=BIGGEST_DOCUMENT >> 20,
                    ),
                    place,
                )
    except (zipfile.BadZipFile, zipfile.LargeZipFile, EOFError, OSError, RuntimeError) as error:
        raise InputError("this is not a whole Caddet project; it is cut short or of another kind.", place) from error
    except InputError:
        raise
    except Exception as error:  # zipfile and zlib raise many things on damaged packing
        raise InputError("the packing of this file is damaged.", place) from error
    left = [BIGGEST_PICTURES]

    def picture(name: str) -> bytes | None:
        info = entries.get(PHOTOGRAPHS + name)
        if (
            info is None
            or info.file_size > min(BIGGEST_PICTURE, left[0])
            or not re.fullmatch(r"[0-9a-f]{32}\.jpg", name)
        ):
            return None
        try:
            with zipfile.ZipFile(io.BytesIO(data)) as archive, archive.open(info) as file:
                found = file.read(BIGGEST_PICTURE + 1)
        except Exception:  # a damaged photograph is left out; the document counts
            return None
        left[0] -= len(found)
        good = found[:3] == b"\xff\xd8\xff" and hashlib.sha256(found).hexdigest()[:32] == name[:32]
        return found if good and len(found) <= BIGGEST_PICTURE else None

    return text, picture


def keep_aside(opened: Opened, path: Path) -> Path | None:
    """Keep what was set aside (or the whole damaged file) beside the file, once, under a name of its own.

    Returns where, or None when nothing was. Raises :class:`InputError`.
    """
    if opened.damaged:
        whole = path.with_name(f"{path.stem[:120]}.damaged-{token_of(opened.damaged)[:8]}{path.suffix}")
        if not os.path.exists(whole):
            write_whole(whole, opened.damaged, private=True)
    if not opened.aside:
        return whole if opened.damaged else None
    kept = [{"place": one.place, "why": one.why, "value": one.value} for one in opened.aside]
    text = canonical({"set_aside": kept, "from": path.name}).encode()
    beside = path.with_name(f"{path.stem[:120]}.set-aside-{token_of(text)[:8]}.json")
    if not os.path.exists(beside):
        write_whole(beside, text, private=True)
    return beside
