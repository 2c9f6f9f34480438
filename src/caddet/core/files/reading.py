"""The one door for files from outside: regular files only, of a bounded size, never waiting.

A folder, pipe, socket or device is refused before anything is read of it, and a file that grows while it is read is
read to the limit only. What a file is, its content says, not its name.
"""

from __future__ import annotations

import codecs
import contextlib
import os
import stat
from collections.abc import Iterator
from pathlib import Path
from typing import BinaryIO

from caddet.core.errors import InputError
from caddet.core.files.reasons import reason_of
from caddet.core.sentences import say

BIGGEST_FILE = 64 * 1024 * 1024
BIGGEST_TEXT = 4 * 1024 * 1024


@contextlib.contextmanager
def opened_whole(path: Path, limit: int = BIGGEST_FILE) -> Iterator[BinaryIO]:
    """A regular file of at most ``limit`` bytes, open for reading.

    Raises :class:`InputError` when it is missing, unreadable, too large, or a folder, pipe or device, also when
    reading from it fails later.
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        try:
            status = os.fstat(handle)
            if stat.S_ISDIR(status.st_mode):
                raise InputError("this is a folder; expected a file.", str(path))
            if not stat.S_ISREG(status.st_mode):
                raise InputError("this is not an ordinary file; expected one on a disk.", str(path))
            if status.st_size > limit:
                raise _too_large(path, limit)
            with os.fdopen(os.dup(handle), "rb") as file:
                yield file
        finally:
            os.close(handle)
    except (OSError, ValueError) as error:
        raise InputError(reason_of(error, path), str(path)) from error


def read_whole(path: Path, limit: int = BIGGEST_FILE) -> bytes:
    """The bytes of a regular file.

    Raises :class:`InputError` when it is missing, unreadable, too large, or a folder, pipe or device.
    """
    with opened_whole(path, limit) as file:
        data = file.read(limit + 1)
    if len(data) > limit:
        raise _too_large(path, limit)
    return data


def read_text(path: Path, limit: int = BIGGEST_TEXT) -> str:
    """The text of a file; see :func:`text_of`. Raises :class:`InputError` as :func:`read_whole`, and for what is no text."""
    return text_of(read_whole(path, limit), str(path))


def text_of(data: bytes, place: str = "") -> str:
    """The text of some bytes as spreadsheets and editors write it: UTF-8, UTF-16 with a mark, or Latin-1.

    Raises :class:`InputError` when there are zeros among the letters: that is no text.
    """
    if data.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        text = data.decode("utf-16", errors="replace")
    else:
        try:
            text = data.decode("utf-8-sig")
        except UnicodeDecodeError:
            text = data.decode("latin-1")
    if "\0" in text:
        raise InputError("this is not a text file.", place)
    return text


def _too_large(path: Path, limit: int) -> InputError:
    size = limit // 1_048_576
    return InputError(say("the file is larger than {limit} MiB; that can't be right.", limit=size), str(path))
