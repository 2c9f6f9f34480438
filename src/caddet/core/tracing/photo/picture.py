"""A photograph as it is opened: checked before it is unpacked, turned upright, and no larger than is needed."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from caddet.core.errors import InputError
from caddet.core.sentences import say

Pixels = NDArray[np.uint8]
BIGGEST_FILE = 64 * 1024 * 1024
MOST_POINTS = 100_000_000
WORKING = 12_600_000  # points that are kept: a finer picture of a whole garment tells no more
LEAST_SIDE = 300
KINDS = {"JPEG": "JPEG", "PNG": "PNG", "MPO": "JPEG"}
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
    from PIL import Image, ImageOps, UnidentifiedImageError

    remarks = []
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data)) as picture:
                if picture.format not in KINDS:
                    raise InputError(
                        say("a {kind} is no photograph Caddet reads; expected JPEG or PNG.", kind=str(picture.format)),
                        place,
                    )
                wide, high = picture.size
                if wide * high > MOST_POINTS:
                    raise InputError(
                        say(
                            "the picture has {count} million points; expected at most 100.",
                            count=wide * high // 1_000_000,
                        ),
                        place,
                    )
                if min(wide, high) < LEAST_SIDE:
                    raise InputError(
                        say(
                            "the picture is only {wide} × {high} points; nothing can be traced from it.",
                            wide=wide,
                            high=high,
                        ),
                        place,
                    )
                if picture.format != "MPO" and getattr(picture, "n_frames", 1) > 1:
                    raise InputError("the picture moves; expected one that stands still.", place)
                if wide * high > WORKING:
                    smaller = (WORKING / (wide * high)) ** 0.5
                    picture.draft("RGB", (round(wide * smaller), round(high * smaller)))  # a JPEG is unpacked smaller
                upright = ImageOps.exif_transpose(picture).convert("RGB")
                if upright.width * upright.height > WORKING:
                    smaller = (WORKING / (upright.width * upright.height)) ** 0.5
                    upright = upright.resize((round(upright.width * smaller), round(upright.height * smaller)))
                points = np.asarray(upright, dtype=np.uint8)
    except InputError:
        raise
    except (UnidentifiedImageError, Image.DecompressionBombError) as error:
        raise InputError("this is no picture; expected a JPEG or PNG.", place) from error
    except (OSError, ValueError, SyntaxError, MemoryError, EOFError, TypeError) as error:
        raise InputError("the picture is cut short or damaged.", place) from error
    if float(points[::16, ::16].std()) < 2.0:
        raise InputError("the picture is all of one colour; there is nothing in it.", place)
    suffix = Path(place).suffix.lower()
    if suffix and suffix not in (".jpg", ".jpeg", ".png"):
        remarks.append(say("It is named {suffix} but is a photograph all the same.", suffix=suffix))
    return Picture(points, tuple(remarks))
