"""Why a file can't be read or written, in a sentence."""

from __future__ import annotations

import contextlib
import errno
import os
from pathlib import Path

from caddet.core.sentences import say


def reason_of(error: Exception, path: Path) -> str:
    """Why a file could not be read or written, as a sentence."""
    match error.errno if isinstance(error, OSError) else None:
        case errno.ENOSPC | errno.EDQUOT:
            return "the disk is full; nothing was written, the file is as it was."
        case errno.EACCES | errno.EPERM | errno.EROFS:
            return "no permission to read or write here; choose a folder of your own."
        case errno.ENOENT:
            there = False
            with contextlib.suppress(OSError):
                there = os.path.exists(path.parent)
            return (
                "there is no such file or folder." if there else say("there is no folder {parent}.", parent=path.parent)
            )
        case errno.ENOTDIR | errno.EISDIR:
            return "a folder and a file are mixed up in this path."
        case errno.ENAMETOOLONG:
            return "this name is too long for a file; choose a shorter one."
        case errno.ELOOP:
            return "this link leads round in a circle."
        case errno.EINVAL:
            return "this is not an ordinary file; expected one on a disk."
        case None:
            return "this can't be the name of a file."
        case _:
            return say("could not be read or written ({what}).", what=getattr(error, "strerror", None) or error)
