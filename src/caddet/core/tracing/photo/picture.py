"""A photograph as it is opened: checked before it is unpacked, turned upright, and no larger than is needed."""

from __future__ import annotations

import io
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from caddet.core.errors import InputError
from caddet.core.files.pictures import read_rgb
from caddet.core.sentences import say

Pixels = NDArray[np.uint8]
BIGGEST_FILE = 64 * 1024 * 1024
MEMORY = 700 * 1024 * 1024  # bytes that the points of a photograph to trace may take while it is unpacked
WORKING = 12_600_000  # points that are kept: a finer picture of a whole garment tells no more
LEAST_SIDE = 300
KEPT_BYTES = 6 * 1024 * 1024


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture's points (height, width, red green blue), and what has to be said of it."""

    points: Pixels
    remarks: tuple[str, ...] = ()

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in points."""
        return self.points.shape[1], self.points.shape[0]

    def as_jpeg(self) -> bytes:
        """The picture as it is kept with a project."""
        from PIL import Image

        for quality in (92, 85, 75, 60):
            out = io.BytesIO()
            Image.fromarray(self.points).save(out, "JPEG", quality=quality)
            if out.tell() <= KEPT_BYTES:
                break
        return out.getvalue()


def read_picture(data: bytes, place: str = "") -> Picture:
    """A photograph from its bytes. Raises :class:`InputError` with what is wrong with it.

    The head is looked at before anything is unpacked: a picture too large for the memory is never unpacked.
    """
    points = np.asarray(read_rgb(data, place, most=WORKING, memory=MEMORY, least_side=LEAST_SIDE), dtype=np.uint8)
    remarks = []
    if float(points[::16, ::16].std()) < 2.0:
        raise InputError("the picture is all of one colour; there is nothing in it.", place)
    suffix = Path(place).suffix.lower()
    if suffix and suffix not in (".jpg", ".jpeg", ".png"):
        remarks.append(say("It is named {suffix} but is a photograph all the same.", suffix=suffix))
    return Picture(points, tuple(remarks))
