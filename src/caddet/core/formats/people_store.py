"""The Workroom's people: one readable file each under the XDG data directory, and their photographs.

A project holds copies of the people it is made for; the Workroom keeps them beyond any project. Archived
people are kept and not offered. Photographs are named after their content and lie in one folder.
"""

from __future__ import annotations

import hashlib
import io
import os
import re
from dataclasses import dataclass
from pathlib import Path

import platformdirs
from pydantic import ValidationError

from caddet.core.body.person import Person
from caddet.core.errors import Finding, InputError
from caddet.core.files.pictures import read_rgb
from caddet.core.files.reading import read_whole
from caddet.core.files.writing import make_folder, sweep_folder, write_whole
from caddet.core.formats.migrate import STORE, store_forward
from caddet.core.formats.strict_json import canonical, read_json
from caddet.core.sentences import say

BIGGEST_PERSON = 4 * 1024 * 1024
BIGGEST_PHOTO = 40 * 1024 * 1024
PHOTO_SIDE = 720  # pixels


@dataclass(frozen=True, slots=True)
class Kept:
    """Somebody kept in the Workroom."""

    person: Person
    archived: bool = False


def people_folder() -> Path:
    """Where the Workroom's people lie."""
    return Path(platformdirs.user_data_dir("caddet")) / "people"


def photo_folder() -> Path:
    """Where the Workroom's photographs lie."""
    return Path(platformdirs.user_data_dir("caddet")) / "photographs"


def _file_of(name: str) -> Path:
    plain = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40] or "person"
    return people_folder() / f"{plain}-{hashlib.sha256(name.encode()).hexdigest()[:8]}.json"


def keep_person(person: Person, *, archived: bool = False) -> None:
    """Keep somebody in the Workroom, in place of whoever has their name. Raises :class:`InputError`."""
    make_folder(people_folder())
    data = {"format": STORE, "archived": archived, "person": person.model_dump(mode="json")}
    write_whole(_file_of(person.name), canonical(data).encode(), keep_previous=True, private=True)


def kept_people() -> tuple[list[Kept], list[Finding]]:
    """Everybody in the Workroom by name; a file that can't be read is told, and left as it is."""
    found: list[Kept] = []
    findings: list[Finding] = []
    folder = people_folder()
    sweep_folder(folder)
    sweep_folder(photo_folder())
    for path in sorted(folder.glob("*.json")) if os.path.isdir(folder) else []:
        try:
            found.append(_read(path))
        except InputError as error:
            findings.append(
                Finding(
                    "people.file",
                    say("{name} can't be used: {sentence}", name=path.name, sentence=error.sentence),
                    str(path),
                )
            )
    return sorted(found, key=lambda kept: kept.person.name.casefold()), findings


def _read(path: Path) -> Kept:
    try:
        raw = store_forward(read_json(read_whole(path, BIGGEST_PERSON), str(path)), str(path))
        return Kept(Person.model_validate(raw["person"]), bool(raw["archived"]))
    except (ValueError, KeyError, TypeError, RecursionError, ValidationError) as error:
        raise InputError("it is damaged, or not a person of Caddet's.", str(path)) from error


def rename_person(old: str, person: Person, *, archived: bool = False) -> None:
    """Keep somebody under a new name. Raises :class:`InputError` when the name is taken."""
    if old != person.name and os.path.exists(_file_of(person.name)):
        raise InputError(say("there is already someone called {name} in the Workroom.", name=person.name))
    keep_person(person, archived=archived)
    if old != person.name:
        _file_of(old).unlink(missing_ok=True)


def free_name(name: str, taken: set[str]) -> str:
    """The name, or the name with a number behind it, that nobody has yet."""
    fresh, number = name, 2
    while fresh in taken:
        fresh, number = f"{name[:76]} {number}", number + 1
    return fresh


def keep_photo(path: Path) -> str:
    """Keep a picture, made small, and return its name. Raises :class:`InputError`."""
    upright = read_rgb(read_whole(path, BIGGEST_PHOTO), str(path), most=4 * PHOTO_SIDE**2)
    upright.thumbnail((PHOTO_SIDE, PHOTO_SIDE))
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=85)
    return store_photo(out.getvalue())


def named_photo(data: bytes) -> str:
    """The name of a photograph, made from its bytes."""
    return f"{hashlib.sha256(data).hexdigest()[:32]}.jpg"


def store_photo(data: bytes) -> str:
    """Keep the bytes of a photograph under a name made from them."""
    name = named_photo(data)
    path = make_folder(photo_folder()) / name
    if not os.path.exists(path):
        write_whole(path, data, private=True)
    return name


def photo_bytes(name: str) -> bytes | None:
    """The photograph of that name, or None when it is not here."""
    try:
        return read_whole(photo_folder() / name, BIGGEST_PHOTO) if name else None
    except InputError:
        return None
