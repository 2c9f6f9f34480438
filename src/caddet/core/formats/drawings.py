"""Plain DXF (polylines on named layers, in mm) and a PNG picture of the pieces (2 pixels a mm)."""

from __future__ import annotations

import io
from collections.abc import Sequence

import ezdxf.filemanagement
from PIL import Image, ImageDraw, ImageFont

from caddet.core.files.shipped import data_folder
from caddet.core.finishing.finish import CutPiece
from caddet.core.formats.paper import LineChoice, arrange

PIXELS = 2.0  # a millimetre
MARGIN = 10.0


def dxf_pieces(cut: Sequence[CutPiece], lines: LineChoice = "both") -> str:
    """All pieces as DXF text: y up as CAD has it, curves flattened to 0.05 mm."""
    sheet = arrange(cut, lines)
    drawing = ezdxf.filemanagement.new("R2010", units=4)
    space = drawing.modelspace()
    for name, strokes, texts in sheet.pieces:
        for stroke in strokes:
            layer = f"{name}_{stroke.layer}"
            if layer not in drawing.layers:
                drawing.layers.add(layer)
            points = [(p.real, sheet.height - p.imag) for p in stroke.path.flattened()]
            if stroke.closed:
                points = points[:-1]
            space.add_lwpolyline(points, close=stroke.closed, dxfattribs={"layer": layer})
        for text in texts:
            entity = space.add_text(text.words, height=text.size, dxfattribs={"layer": f"{name}_labels"})
            entity.set_placement((text.at.real, sheet.height - text.at.imag))
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue()


def png_pieces(cut: Sequence[CutPiece], lines: LineChoice = "both") -> bytes:
    """All pieces as a PNG picture at 2 pixels a mm, for a look or a message; not for cutting."""
    sheet = arrange(cut, lines)
    size = (round((sheet.width + 2 * MARGIN) * PIXELS), round((sheet.height + 2 * MARGIN) * PIXELS))
    image = Image.new("RGB", size, "#FDFCF9")
    pen = ImageDraw.Draw(image)
    font_file = str(data_folder() / "fonts/IBMPlexSans-Regular.ttf")

    def at(point: complex) -> tuple[float, float]:
        return (point.real + MARGIN) * PIXELS, (point.imag + MARGIN) * PIXELS

    for _, strokes, texts in sheet.pieces:
        for stroke in strokes:
            shade = "#1C2930" if stroke.layer in ("cut", "notch", "dart") else "#5C6A71"
            pen.line([at(p) for p in stroke.path.flattened()], fill=shade, width=2 if stroke.layer == "cut" else 1)
        for text in texts:
            font = ImageFont.truetype(font_file, round(text.size * PIXELS))
            pen.text(at(text.at), text.words, fill="#1C2930", anchor="mm", font=font)
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()
