"""Pictures that the door has read, as Qt shows them. Qt's own readers are never given a file."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QImage, QPixmap

from caddet.core.errors import InputError
from caddet.core.files.pictures import read_rgb

SHOWN = 1_000_000  # points of a photograph that is only looked at


def pixmap_of(points: NDArray[np.uint8]) -> QPixmap:
    """Points (height, width, red green blue) as Qt draws them."""
    high, wide = points.shape[:2]
    return QPixmap.fromImage(QImage(points.tobytes(), wide, high, wide * 3, QImage.Format.Format_RGB888))


def photograph(data: bytes | None) -> QPixmap | None:
    """A photograph to look at, or None when there is none that can be read."""
    if data is None:
        return None
    try:
        return pixmap_of(np.asarray(read_rgb(data, most=SHOWN), dtype=np.uint8))
    except InputError:
        return None
