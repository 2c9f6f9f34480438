"""The photograph that pieces were traced from, laid under them in their own frames."""

from __future__ import annotations

import numpy as np
from PyQt6.QtGui import QPixmap, QTransform

from caddet.core.errors import CaddetError
from caddet.core.recipe.traced import PhotoTracing
from caddet.core.tracing.photo.apart import panel_names
from caddet.core.tracing.photo.flat import flattened
from caddet.core.tracing.photo.picture import read_picture
from caddet.core.tracing.photo.traced import laid_as, outline_of, view_of
from caddet.core.tracing.tape import traced
from caddet.desk.pictures import pixmap_of
from caddet.desk.workbench import Workbench

FINE = 1.2  # points to the mm
Under = tuple[QPixmap, QTransform]


def pictures_under(bench: Workbench) -> dict[str, Under]:
    """For each traced piece, by the name it was made with, its photograph and how that lies in the piece's frame."""
    found: dict[str, Under] = {}
    document = bench.document
    for source in traced(document):
        tracing = source.tracing
        data = (
            bench.picture(document.photographs.get(tracing.photograph, ""))
            if isinstance(tracing, PhotoTracing)
            else None
        )
        if not isinstance(tracing, PhotoTracing) or data is None:
            continue
        try:
            view = view_of(tracing)
            sheet = view.to_table(np.array([complex(*one) for one in tracing.corners]))
            flat = flattened(read_picture(data).points, view, sheet, FINE)
        except CaddetError:
            continue
        pixmap = pixmap_of(flat.points)
        prefix = "" if source is document.recipe.sources[0] else f"{source.id}_"
        for piece in tracing.pieces:
            try:
                outline, _ = outline_of(piece, view, tracing.tolerance)
                motion = laid_as(piece, view, outline)
            except (CaddetError, ValueError):
                continue
            a, by = motion.turn / flat.fine, motion(flat.origin)
            laid = QTransform(a.real, a.imag, -a.imag, a.real, by.real, by.imag)
            for name in panel_names(piece) or [piece.name]:
                found[prefix + name] = pixmap, laid
    return found
