"""Pictures from outside: JPEG and PNG only, by their content; looked at before anything of them is unpacked.

No other decoder is ever given the bytes: neither one that is a program's interpreter (PostScript, PDF, SVG, WMF) nor
one with a decoder of its own. A picture too large for the memory it may take is refused by its head.
"""

from __future__ import annotations

import io
import warnings
from typing import TYPE_CHECKING

import numpy as np

from caddet.core.errors import InputError
from caddet.core.sentences import say

if TYPE_CHECKING:  # loaded when the first picture is read
    from PIL import Image

FORMATS = ("JPEG", "PNG")
MOST_POINTS = 100_000_000
MOST_SCANS = 64  # of a JPEG that is built up in passes; usual are ten
MOST_MEMORY = (
    384 * 1024 * 1024
)  # bytes that the points of a picture may take while it is unpacked, if nothing else is said
_BEGINNINGS = (b"\xff\xd8\xff", b"\x89PNG\r\n\x1a\n")
_SCAN = b"\xff\xda"


def read_rgb(data: bytes, place: str = "", *, most: int, memory: int = MOST_MEMORY, least_side: int = 1) -> Image.Image:
    """The picture upright, in red, green and blue, made smaller to at most about ``most`` points.

    Raises :class:`InputError` for what is neither JPEG nor PNG, is damaged, moves, has a side shorter than
    ``least_side`` points, or would take more than ``memory`` bytes.
    """
    from PIL import Image, UnidentifiedImageError

    if not data.startswith(_BEGINNINGS):
        raise InputError("this is not a picture that Caddet reads; expected a JPEG or PNG.", place)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=FORMATS) as picture:
                _look(picture, data, place, memory, least_side)
                share = (most / (picture.width * picture.height)) ** 0.5
                if share < 1:  # a JPEG is unpacked smaller at once
                    picture.draft("RGB", (round(picture.width * share), round(picture.height * share)))
                return _upright(picture, most)
    except InputError:
        raise
    except Image.DecompressionBombError as error:
        raise InputError("the picture has far too many points; expected at most 100 million.", place) from error
    except UnidentifiedImageError as error:
        raise InputError("this is not a picture that Caddet reads; expected a JPEG or PNG.", place) from error
    except Exception as error:  # a damaged picture makes its decoder raise anything
        raise InputError("the picture is cut short or damaged.", place) from error


def _look(picture: Image.Image, data: bytes, place: str, memory: int, least_side: int) -> None:
    """Refuse by its head what may not be unpacked."""
    wide, high = picture.size
    in_passes = bool(picture.info.get("progressive")) or bool(picture.info.get("progression"))
    each = 6 if in_passes else 4  # bytes a point while it is unpacked
    most = min(MOST_POINTS, memory // each)
    if wide * high > most:
        raise InputError(
            say(
                "the picture has {count} million points; expected at most {most}.",
                count=wide * high // 1_000_000,
                most=most // 1_000_000,
            ),
            place,
        )
    if min(wide, high) < least_side:
        raise InputError(
            say("the picture is only {wide} × {high} points; nothing can be traced from it.", wide=wide, high=high),
            place,
        )
    if picture.format == "PNG" and getattr(picture, "n_frames", 1) > 1:
        raise InputError("the picture moves; expected one that stands still.", place)
    if picture.format != "PNG" and data.count(_SCAN) > MOST_SCANS:
        raise InputError("the picture is cut short or damaged.", place)


def _upright(picture: Image.Image, most: int) -> Image.Image:
    """Red, green and blue, no more points than asked for, turned as the camera was held."""
    from PIL import Image, ImageOps

    upright: Image.Image = picture
    turned = picture.getexif().get(0x0112, 1)
    if picture.mode.startswith(("I", "F")):  # sixteen bits to the point
        upright = Image.fromarray((np.asarray(picture) >> 8).astype(np.uint8))
    if upright.width * upright.height > 2 * most and upright.mode in ("L", "LA", "RGB", "RGBA", "CMYK"):
        upright = upright.reduce(int((upright.width * upright.height / most) ** 0.5))
    upright = upright.convert("RGB")
    if upright.width * upright.height > most:
        share = (most / (upright.width * upright.height)) ** 0.5
        upright = upright.resize((max(round(upright.width * share), 1), max(round(upright.height * share), 1)))
    upright.getexif()[0x0112] = turned
    return ImageOps.exif_transpose(upright)
