"""Writing files so that nothing is ever half-written, and reading them with a limit."""

from __future__ import annotations

import errno
import os
import shutil
import tempfile
from pathlib import Path

from caddet.core.errors import InputError

BIGGEST_FILE = 200 * 1024 * 1024


def write_whole(path: Path, data: bytes, *, keep_previous: bool = False) -> None:
    """Write beside the file, sync, and rename into place; keep the old one as ``NAME.previous``.

    Raises :class:`InputError` with the reason (no such folder, not writable, disk full); the old
    file is then untouched.
    """
    temporary: str | None = None
    try:
        handle, temporary = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(temporary, 0o666 & ~_umask())
        if keep_previous and path.exists():
            shutil.copyfile(path, temporary + ".previous")
            os.replace(temporary + ".previous", previous_of(path))
        os.replace(temporary, path)
        temporary = None
    except OSError as error:
        raise InputError(_reason(error, path), str(path)) from error
    finally:
        if temporary is not None:
            for leftover in (temporary, temporary + ".previous"):
                Path(leftover).unlink(missing_ok=True)


def previous_of(path: Path) -> Path:
    """Where the version before the last save is kept."""
    return Path(f"{path}.previous")


def read_whole(path: Path, limit: int = BIGGEST_FILE) -> bytes:
    """The bytes of a file. Raises :class:`InputError` when it is missing, unreadable or too large."""
    try:
        if path.is_dir():
            raise InputError("this is a folder; expected a file.", str(path))
        if path.stat().st_size > limit:
            raise InputError(f"the file is larger than {limit // 1_048_576} MiB; that can't be right.", str(path))
        return path.read_bytes()
    except OSError as error:
        raise InputError(_reason(error, path), str(path)) from error


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _reason(error: OSError, path: Path) -> str:
    match error.errno:
        case errno.ENOSPC | errno.EDQUOT:
            return "the disk is full; nothing was written, the file is as it was."
        case errno.EACCES | errno.EPERM | errno.EROFS:
            return "no permission to read or write here; choose a folder of your own."
        case errno.ENOENT:
            return "there is no such file or folder." if path.parent.exists() else f"there is no folder {path.parent}."
        case errno.ENOTDIR | errno.EISDIR:
            return "a folder and a file are mixed up in this path."
        case _:
            return f"could not be read or written ({error.strerror or error})."
