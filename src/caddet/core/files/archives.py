"""Zip archives from outside, within bounds: few entries, plain packing, and no entry read beyond its limit."""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass

from caddet.core.errors import InputError
from caddet.core.sentences import say

MOST_ENTRIES = 1000
_PACKINGS = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)
_LISTED = b"PK\x01\x02"  # what every entry in the list at an archive's end begins with


@dataclass(frozen=True, slots=True)
class Archive:
    """An archive by the names of its entries."""

    data: bytes
    entries: dict[str, zipfile.ZipInfo]
    place: str

    def __contains__(self, name: str) -> bool:
        return name in self.entries

    def read(self, name: str, limit: int) -> bytes:
        """The bytes of an entry. Raises :class:`InputError` when it is damaged, or larger than the limit."""
        info = self.entries[name]
        found = b""
        if info.file_size <= limit:
            try:
                if info.compress_type not in _PACKINGS:
                    raise InputError(say("{name} is packed in a way Caddet does not read.", name=name), self.place)
                with zipfile.ZipFile(io.BytesIO(self.data)) as archive, archive.open(info) as file:
                    found = file.read(limit + 1)
            except InputError:
                raise
            except Exception as error:  # zipfile and zlib raise many things on damaged packing
                raise InputError("the packing of this file is damaged.", self.place) from error
        if (info.file_size and not found) or len(found) > limit:
            raise InputError(
                say("{name} unpacks to more than {limit} MiB; that can't be right.", name=name, limit=limit >> 20),
                self.place,
            )
        return found


def read_archive(data: bytes, place: str, what: str) -> Archive:
    """The archive in some bytes; ``what`` says what was expected (“a Caddet project”). Raises :class:`InputError`."""
    if data.count(_LISTED) > 2 * MOST_ENTRIES:  # looked at before the list is read; photographs may hold some by chance
        raise _too_many(what, place)
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if len(archive.filelist) > MOST_ENTRIES:
                raise _too_many(what, place)
            return Archive(data, {info.filename: info for info in archive.infolist()}, place)
    except InputError:
        raise
    except Exception as error:  # zipfile raises many things on damaged packing
        raise InputError(say("this is not {what}, or it is cut short or damaged.", what=what), place) from error


def _too_many(what: str, place: str) -> InputError:
    return InputError(
        say("the file has more than {most} entries; expected {what}.", most=MOST_ENTRIES, what=what), place
    )
