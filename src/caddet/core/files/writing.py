"""Writing files so that nothing is ever half-written.

Only regular files are replaced. A file keeps its mode and a symbolic link stays a link; what holds people's
measures is made readable for its owner only.
"""

from __future__ import annotations

import contextlib
import errno
import os
import re
import shutil
import stat
import tempfile
import time
from pathlib import Path

from caddet.core.errors import InputError
from caddet.core.files.reasons import reason_of
from caddet.core.sentences import say

LONGEST_FILE_NAME = 200  # bytes; what stands before and behind it is ours
UNFINISHED = ".unfinished"
OLD_LITTER = 600.0  # seconds after which an unfinished file is nobody's any more


def write_whole(path: Path, data: bytes, *, keep_previous: bool = False, private: bool = False) -> None:
    """Write beside the file, sync, and rename into place; keep the old one as ``NAME.previous``.

    A new file that is ``private`` gets mode 0600. Raises :class:`InputError` with the reason (no such
    folder, not writable, disk full, not a regular file); the old file is then untouched.
    """
    temporary: str | None = None
    try:
        real = path.resolve()
        mode = _mode(real, private)
        handle, temporary = tempfile.mkstemp(prefix=f".{_short(real.name)}.", suffix=UNFINISHED, dir=real.parent)
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(temporary, mode)
        if keep_previous and os.path.exists(real):
            _same_bytes(real, temporary + ".previous", mode)
            os.replace(temporary + ".previous", previous_of(real))
        os.replace(temporary, real)
        temporary = None
        _sync_folder(real.parent)
    except (OSError, ValueError, RuntimeError) as error:
        raise InputError(reason_of(error, path), str(path)) from error
    finally:
        if temporary is not None:
            for leftover in (temporary, temporary + ".previous"):
                with contextlib.suppress(OSError):
                    Path(leftover).unlink(missing_ok=True)


def append_synced(path: Path, data: bytes) -> None:
    """Add bytes to the end of a private file, made if need be, and sync. Raises :class:`OSError`.

    When not all of it could be written, what was is taken back, so that no torn line stays if that
    can be helped.
    """
    flags = os.O_WRONLY | os.O_APPEND | os.O_CREAT | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC
    handle = os.open(path, flags, 0o600)
    try:
        if not stat.S_ISREG(os.fstat(handle).st_mode):
            raise OSError(errno.EINVAL, "not an ordinary file", str(path))
        before = os.fstat(handle).st_size
        try:
            view = memoryview(data)
            while view:
                view = view[os.write(handle, view) :]
            os.fsync(handle)
        except OSError:
            with contextlib.suppress(OSError):
                os.ftruncate(handle, before)
            raise
    finally:
        os.close(handle)


def previous_of(path: Path) -> Path:
    """Where the version before the last save is kept."""
    return Path(f"{path}.previous")


def make_folder(folder: Path) -> Path:
    """A folder for our own files, readable by its owner only when it is new. Raises :class:`InputError`."""
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    except (OSError, ValueError) as error:
        raise InputError(
            say("this folder can't be made: {reason_of}", reason_of=reason_of(error, folder)), str(folder)
        ) from error
    return folder


def sweep(path: Path) -> None:
    """Take away what a killed save of this file left behind long ago."""
    with contextlib.suppress(OSError, RuntimeError):
        real = path.resolve()
        name = re.escape(f".{_short(real.name)}.")
        litter = re.compile(rf"{name}\w{{8}}({re.escape(UNFINISHED)})?(\.previous)?")
        for one in os.scandir(real.parent):
            if litter.fullmatch(one.name) and time.time() - one.stat().st_mtime > OLD_LITTER:
                Path(one.path).unlink(missing_ok=True)


def sweep_folder(folder: Path) -> None:
    """Take away what killed saves left behind long ago in a folder of our own."""
    with contextlib.suppress(OSError):
        for one in os.scandir(folder):
            unfinished = one.name.startswith(".") and UNFINISHED in one.name
            if unfinished and time.time() - one.stat().st_mtime > OLD_LITTER:
                Path(one.path).unlink(missing_ok=True)


def cut_to_bytes(name: str, most: int) -> str:
    """A name cut to so many bytes of UTF-8, never inside a letter; what can't be UTF-8 is replaced."""
    return name.encode("utf-8", "replace")[:most].decode("utf-8", "ignore")


def _same_bytes(path: Path, other: str, mode: int) -> None:
    """The file under another name as well: linked where that can be, else copied."""
    try:
        os.link(path, other)
    except OSError:
        shutil.copyfile(path, other)
        os.chmod(other, mode)


def _short(name: str) -> str:
    return cut_to_bytes(name, LONGEST_FILE_NAME)


def _mode(path: Path, private: bool) -> int:
    try:
        status = os.stat(path)
    except FileNotFoundError:
        return 0o600 if private else 0o666 & ~_umask()
    if stat.S_ISDIR(status.st_mode):
        raise IsADirectoryError(errno.EISDIR, "a folder", str(path))
    if not stat.S_ISREG(status.st_mode):
        raise OSError(errno.EINVAL, "not an ordinary file", str(path))
    return stat.S_IMODE(status.st_mode)


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _sync_folder(folder: Path) -> None:
    """Make the renaming last; a file system that can't is no reason to fail."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)
