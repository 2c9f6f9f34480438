"""The photographs that only a project's undo still has: kept beside its journal until no moment has them any more.

A project's file holds the photographs that the document refers to. One that is taken out leaves the file with the
next save, and undo must bring it back, also after the program was closed; so does redo for one that was put in.
"""

from __future__ import annotations

import contextlib
import os
import re
from collections.abc import Iterable
from pathlib import Path

from caddet.core.errors import InputError
from caddet.core.files.reading import read_whole
from caddet.core.files.writing import make_folder, write_whole
from caddet.core.formats.journal import journal_folder, journal_name
from caddet.core.formats.project import BIGGEST_PICTURE, PHOTOGRAPH

_NAMED = re.compile(PHOTOGRAPH.pattern.encode())


def undone_folder(project: Path) -> Path:
    """Where the photographs of a project's undo lie."""
    return journal_folder() / f"{journal_name(project)}.photographs"


def keep_undone(project: Path, pictures: dict[str, bytes], but: Iterable[str]) -> None:
    """Keep those of the pictures that are not among ``but``. Raises :class:`InputError`."""
    folder = undone_folder(project)
    for name in pictures.keys() - set(but):
        if not os.path.exists(folder / name):
            write_whole(make_folder(folder) / name, pictures[name], private=True)


def undone_picture(project: Path, name: str) -> bytes | None:
    """A photograph that was kept for undo, or None."""
    if not PHOTOGRAPH.fullmatch(name) or not os.path.exists(undone_folder(project) / name):
        return None
    with contextlib.suppress(InputError):
        return read_whole(undone_folder(project) / name, BIGGEST_PICTURE)
    return None


def copy_undone(project: Path, other: Path) -> None:
    """Take the photographs of a project's undo along to a copy of it. Raises :class:`InputError`."""
    folder = undone_folder(project)
    names = [name for name in os.listdir(folder) if PHOTOGRAPH.fullmatch(name)] if os.path.isdir(folder) else []
    keep_undone(other, {name: read_whole(folder / name, BIGGEST_PICTURE) for name in names}, ())


def drop_forgotten(project: Path, journal: Iterable[bytes]) -> None:
    """Take away the photographs that no line of the journal names."""
    folder = undone_folder(project)
    if not os.path.isdir(folder):
        return
    named = {name.decode() for line in journal for name in _NAMED.findall(line)}
    with contextlib.suppress(OSError):
        for name in os.listdir(folder):
            if PHOTOGRAPH.fullmatch(name) and name not in named:
                (folder / name).unlink(missing_ok=True)
