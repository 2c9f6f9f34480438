"""Paper: page sizes, units and true scale, measured again by other programs.

Rows 49 (ISO 216 A4 and A0) and 50 (a PDF's unit is 1/72 inch) are from memory of the standards.
The PDF is read by pypdf and rendered by poppler; the SVG is read by svgelements.
"""

from __future__ import annotations

import io
import shutil
import subprocess
from pathlib import Path as FilePath

import pytest
import shapely
from PIL import Image
from pypdf import PdfReader
from pypdf.generic import ContentStream
from svgelements import SVG, Group
from svgelements import Path as SvgElementPath

from caddet.core.demo import demo_document
from caddet.core.formats.export import export_bytes
from caddet.core.formats.paper import arrange
from caddet.core.formats.pdf import MARGIN, pdf_pieces
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make

MADE = make(EvaluateRequest(demo_document()))
MM = 25.4 / 72


def operations(reader: PdfReader, page: int) -> list[tuple[list[float], bytes]]:
    content = reader.pages[page].get_contents()
    assert content is not None
    found = ContentStream(content, reader).operations
    return [([float(v) for v in operands if isinstance(v, (int, float))], operator) for operands, operator in found]


@pytest.mark.parametrize(("paper", "size"), [("A4", (210, 297)), ("A0", (841, 1189)), ("Letter", (215.9, 279.4))])
def test_rows_49_and_50_page_sizes(paper: str, size: tuple[float, float]) -> None:
    box = PdfReader(io.BytesIO(pdf_pieces(MADE.cut, "x", paper=paper))).pages[0].mediabox
    assert (float(box.width) * MM, float(box.height) * MM) == pytest.approx(size, abs=0.01)


@pytest.mark.parametrize("calibration", [1.0, 0.995])
def test_the_test_squares_measure_10_cm_and_4_inches(calibration: float) -> None:
    reader = PdfReader(io.BytesIO(pdf_pieces(MADE.cut, "x", calibration=calibration)))
    sides = [(ops[2] * MM, ops[3] * MM) for ops, sign in operations(reader, 0) if sign == b"re" and ops[2] * MM > 50]
    assert sides[0] == pytest.approx((100 * calibration,) * 2, abs=0.01)
    assert sides[1] == pytest.approx((101.6 * calibration,) * 2, abs=0.01)


def test_the_outline_in_the_pdf_is_the_cut_line_at_true_scale() -> None:
    """On A0 in one: the longest closed path of page 2 against the front's cut line, in mm."""
    reader = PdfReader(io.BytesIO(pdf_pieces(MADE.cut, "x", paper="A0")))
    paths: list[list[tuple[float, float]]] = []
    for ops, sign in operations(reader, 1):
        if sign == b"m":
            paths.append([(ops[0], ops[1])])
        elif sign == b"l":
            paths[-1].append((ops[0], ops[1]))
        elif sign == b"c":
            (x0, y0), (x1, y1, x2, y2, x3, y3) = paths[-1][-1], ops
            for i in range(1, 41):
                t, s = i / 40, 1 - i / 40
                paths[-1].append(
                    (
                        s**3 * x0 + 3 * s * s * t * x1 + 3 * s * t * t * x2 + t**3 * x3,
                        s**3 * y0 + 3 * s * s * t * y1 + 3 * s * t * t * y2 + t**3 * y3,
                    )
                )
    areas = sorted((shapely.Polygon(p).area * MM * MM for p in paths if len(p) > 10), reverse=True)
    wanted = [
        shapely.Polygon([(p.real, p.imag) for p in MADE.cut_piece(n).polygon(0.005)]).area for n in ("back", "front")
    ]
    for area in wanted:
        assert min(abs(area - got) / area for got in areas) < 1e-4


@pytest.mark.skipif(shutil.which("pdftoppm") is None, reason="poppler-utils is not installed (make setup names it)")
def test_poppler_draws_the_squares_at_their_size(tmp_path: FilePath) -> None:
    file = tmp_path / "p.pdf"
    file.write_bytes(export_bytes(MADE, ".pdf"))
    subprocess.run(
        ["pdftoppm", "-r", "254", "-f", "1", "-l", "1", "-gray", "-png", str(file), str(tmp_path / "page")], check=True
    )
    image = Image.open(next(tmp_path.glob("page*.png"))).convert("L")
    assert image.size == pytest.approx((2100, 2970), abs=1)
    row = [image.getpixel((x, 800)) for x in range(image.width)]
    dark = [x for x, value in enumerate(row) if isinstance(value, int) and value < 100]
    left, right = dark[0], next(x for x in dark if x > 900)
    assert left == pytest.approx(MARGIN * 10, abs=4) and right - left == pytest.approx(1000, abs=4)


@pytest.mark.skipif(shutil.which("pdfinfo") is None, reason="poppler-utils is not installed (make setup names it)")
def test_poppler_finds_every_page_whole(tmp_path: FilePath) -> None:
    file = tmp_path / "p.pdf"
    file.write_bytes(export_bytes(MADE, ".pdf"))
    done = subprocess.run(["pdfinfo", str(file)], capture_output=True, text=True, check=True)
    pages = int(next(line.split()[1] for line in done.stdout.splitlines() if line.startswith("Pages")))
    assert pages == len(PdfReader(file).pages) > 5 and not done.stderr


def test_the_svg_read_again_by_another_library_has_the_same_lines_in_mm() -> None:
    text = export_bytes(MADE, ".svg").decode()
    drawing = SVG.parse(io.StringIO(text), ppi=25.4)  # one unit is then one mm
    sheet = arrange(MADE.cut)
    assert drawing.width == pytest.approx(sheet.width + 20, abs=0.01)
    cut = next(e for e in drawing.elements() if isinstance(e, Group) and e.id == "front-cut")
    outline = next(e for e in cut if isinstance(e, SvgElementPath))
    wanted = MADE.cut_piece("front").cut
    assert outline.length(error=1e-6) == pytest.approx(wanted.length, abs=0.5)
    left, top, right, bottom = outline.bbox()
    w_left, w_top, w_right, w_bottom = wanted.bounds()
    assert (right - left, bottom - top) == pytest.approx((w_right - w_left, w_bottom - w_top), abs=0.1)
