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
from caddet.core.errors import CaddetError, Finding, InputError, some
from caddet.core.files.archives import Archive, read_archive
from caddet.core.files.reading import read_whole
from caddet.core.files.writing import previous_of, write_whole
from caddet.core.formats.migrate import forward
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
BIGGEST_PICTURE = 8 * 1024 * 1024
BIGGEST_PICTURES = 64 * 1024 * 1024
PHOTOGRAPH = re.compile(r"[0-9a-f]{32}\.jpg")
_EPOCH = (1980, 1, 1, 0, 0, 0)

Pictures = Callable[[str], bytes | None]


@dataclass(frozen=True, slots=True)
class Opened:
    """A project as read: the document, what was set aside or has to be said, and whether it may be written.

    ``token`` names the document as its schema has it (see :func:`token_of`; empty when something was
    mended), ``bytes_token`` the file's bytes; ``pictures`` are the photographs that came with it. ``damaged``
    is the whole file, where it has to be kept as it was: the version before it had to be opened, or a
    photograph in it can't be kept otherwise.
    """

    document: Document
    findings: tuple[Finding, ...] = ()
    read_only: bool = False
    aside: tuple[SetAside, ...] = ()
    token: str = ""
    bytes_token: str = ""
    schema: int = 0
    pictures: dict[str, bytes] = field(default_factory=dict)
    damaged: bytes = b""

    @property
    def whole(self) -> bool:
        """Whether everything could be read."""
        return not self.findings


def no_pictures(name: str) -> bytes | None:
    """For a document that was made just now and has no photographs; one that has is never written without them."""
    raise CaddetError(say("the photograph {name} of this project is not at hand", name=name))


def packed(text: str, files: frozenset[str], pictures: Pictures) -> bytes:
    """The bytes of a project file: the document's text, and the photographs that it refers to.

    Raises :class:`InputError` when it is so large that it could not be read again.
    """
    data = text.encode()
    if len(data) > BIGGEST_DOCUMENT or parts_of(data) > MOST_PARTS:
        raise InputError(
            "the project has grown too large for one file; take people or old readings out, or begin another project."
        )
    found = {name: picture for name in sorted(files) if (picture := pictures(name)) is not None}
    if sum(map(len, found.values())) > BIGGEST_PICTURES or any(len(one) > BIGGEST_PICTURE for one in found.values()):
        raise InputError(
            say(
                "the photographs are too large for one file; expected at most {all} MiB together, take some out.",
                all=BIGGEST_PICTURES >> 20,
            )
        )
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        entry = zipfile.ZipInfo(ENTRY, _EPOCH)
        entry.compress_type = zipfile.ZIP_DEFLATED
        archive.writestr(entry, data, compresslevel=1)
        for name, picture in found.items():
            archive.writestr(zipfile.ZipInfo(PHOTOGRAPHS + name, _EPOCH), picture)
    return buffer.getvalue()


def to_bytes(document: Document, pictures: Pictures) -> bytes:
    """The file's bytes; the same document gives the same bytes."""
    return packed(Written.of(document).text, document.photo_files(), pictures)


def save_project(document: Document, path: Path, pictures: Pictures) -> bytes:
    """Write the project with its photographs; the version before stays as ``NAME.caddet.previous``.

    Returns what was written. Raises :class:`InputError` when it can't be.
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
                    BLOCKS=some(sorted(BLOCKS), source.block),
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
    archive = read_archive(data, place, "a Caddet project")
    if ENTRY not in archive:
        raise InputError(say("there is no {ENTRY} in this file; expected a Caddet project.", ENTRY=ENTRY), place)
    raw = read_json(archive.read(ENTRY, BIGGEST_DOCUMENT), place, ENTRY)
    if not isinstance(raw, dict):
        raise InputError(say("{ENTRY} is not a project; expected an object with a schema_version.", ENTRY=ENTRY), place)
    schema = raw.get("schema_version")
    token = "" if schema == SCHEMA else token_of(canonical(raw).encode())
    document, aside = repaired(forward(raw, place), place)
    if schema == SCHEMA and not aside:
        token = Written.of(document).token
    pictures, faults = _pictures(archive, document)
    lost = aside and any(name not in pictures for name in _photographs_in(archive))
    return Opened(
        document,
        (*findings_of(aside), *faults),
        aside=aside,
        token=token,
        schema=schema if isinstance(schema, int) else 0,
        pictures=pictures,
        damaged=data if faults or lost else b"",
    )


def _photographs_in(archive: Archive) -> list[str]:
    """The names of the photographs in a project's archive."""
    names = (name.removeprefix(PHOTOGRAPHS) for name in archive.entries if name.startswith(PHOTOGRAPHS))
    return [name for name in names if PHOTOGRAPH.fullmatch(name)]


def _pictures(archive: Archive, document: Document) -> tuple[dict[str, bytes], list[Finding]]:
    """The photographs that a document refers to, and what is wrong with those that can't be read."""
    found: dict[str, bytes] = {}
    faults: list[Finding] = []
    left = BIGGEST_PICTURES
    for name in sorted(document.photo_files().intersection(_photographs_in(archive))):
        try:
            picture = archive.read(PHOTOGRAPHS + name, min(BIGGEST_PICTURE, left))
        except InputError:
            picture = b""
        if picture[:3] == b"\xff\xd8\xff" and hashlib.sha256(picture).hexdigest()[:32] == name[:32]:
            found[name] = picture
            left -= len(picture)
        else:
            words = say("The photograph “{name}” is damaged and can't be shown.", name=_called(document, name))
            faults.append(Finding("file.photograph", words, f"{archive.place}, {PHOTOGRAPHS}{name}"))
    return found, faults


def _called(document: Document, file: str) -> str:
    """What a photograph is called: its name in the project, or the person it shows."""
    names = (
        *(name for name, kept in document.photographs.items() if kept == file),
        *(person.name for person in document.people if person.photo == file),
    )
    return names[0] if names else file


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
