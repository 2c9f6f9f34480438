"""PDF at true scale: tiled with overlap and joining marks, or in one on A0.

The unit of a PDF is 1/72 inch (ISO 32000, from memory).
"""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import shapely
from reportlab.lib.colors import Color
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from caddet.core.errors import CaddetError
from caddet.core.files.shipped import data_folder
from caddet.core.finishing.finish import CutPiece
from caddet.core.formats.paper import PAPERS, LineChoice, Sheet, Stroke, arrange
from caddet.core.geometry.segments import Point
from caddet.core.geometry.sinks import draw
from caddet.core.laying.plan import LayPlan
from caddet.core.sentences import say

MARGIN = 10.0  # mm that a printer can't reach
OVERLAP = 10.0  # mm that neighbouring pages share
PT = 72 / 25.4  # points for a millimetre
TEST_CM, TEST_INCH = 100.0, 101.6  # the sides of the test squares, mm
INK = Color(0.11, 0.16, 0.19)
FAINT = Color(0.36, 0.42, 0.44)
FONT = "Plex"


@dataclass(frozen=True, slots=True)
class Tile:
    """One page of a tiled drawing: column, row, and its name such as B3."""

    column: int
    row: int

    @property
    def name(self) -> str:
        """The letters of its row and the number of its column."""
        letters = ""
        row = self.row
        while True:
            letters = chr(65 + row % 26) + letters
            row = row // 26 - 1
            if row < 0:
                return f"{letters}{self.column + 1}"


MOST_PAGES = 4000


@dataclass(frozen=True, slots=True)
class Tiling:
    """How a drawing is cut into pages: window and step in mm, and the tiles that carry a line."""

    paper: tuple[float, float]
    window: tuple[float, float]
    step: tuple[float, float]
    columns: int
    rows: int
    tiles: tuple[Tile, ...]


class _PdfPath:
    """A sink on a reportlab path; ``place`` maps mm on the drawing to points on the page."""

    def __init__(self, canvas: Canvas, place: Callable[[Point], tuple[float, float]]) -> None:
        self.path: Any = canvas.beginPath()
        self.place = place

    def move_to(self, point: Point) -> None:
        self.path.moveTo(*self.place(point))

    def line_to(self, point: Point) -> None:
        self.path.lineTo(*self.place(point))

    def curve_to(self, out: Point, into: Point, end: Point) -> None:
        self.path.curveTo(*self.place(out), *self.place(into), *self.place(end))

    def close(self) -> None:
        self.path.close()


def tiling(sheet: Sheet, paper: str) -> Tiling:
    """Cut a sheet into pages; pages without any line are left out. Raises for an unknown paper."""
    if paper not in PAPERS:
        raise CaddetError(say("there is no paper “{paper}”; there are {PAPERS}", paper=paper, PAPERS=", ".join(PAPERS)))
    size = PAPERS[paper]
    window = (size[0] - 2 * MARGIN, size[1] - 2 * MARGIN)
    step = (window[0] - OVERLAP, window[1] - OVERLAP)
    columns = max(1, math.ceil((sheet.width - OVERLAP) / step[0] - 1e-9))
    rows = max(1, math.ceil((sheet.height - OVERLAP) / step[1] - 1e-9))
    if rows * columns > MOST_PAGES:
        raise CaddetError(
            say(
                "printed on {paper} this would take more than {MOST_PAGES} pages; a measure or a length must be wrong",
                paper=paper,
                MOST_PAGES=f"{MOST_PAGES:,}",
            )
        )
    lines = shapely.union_all(
        [
            shapely.LineString([(p.real, p.imag) for p in stroke.path.flattened(0.5)])
            for _, strokes, _ in sheet.pieces
            for stroke in strokes
        ]
    )
    shapely.prepare(lines)
    tiles = tuple(
        Tile(column, row)
        for row in range(rows)
        for column in range(columns)
        if shapely.intersects(
            lines,
            shapely.box(column * step[0], row * step[1], column * step[0] + window[0], row * step[1] + window[1]),
        )
    )
    return Tiling(size, window, step, columns, rows, tiles)


def pdf_pieces(
    cut: Sequence[CutPiece],
    title: str,
    *,
    paper: str = "A4",
    lines: LineChoice = "both",
    calibration: float = 1.0,
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> bytes:
    """The pattern as PDF. ``calibration`` multiplies every length, for a printer that is a little off.

    The first page carries the test squares, the page map and the list of pieces (on A0 too).
    """
    if not 0.9 <= calibration <= 1.1:
        raise CaddetError(
            say("a calibration of {calibration} is no printer's; expected 0.9 to 1.1", calibration=f"{calibration:g}")
        )
    size = PAPERS.get(paper)
    sheet = arrange(cut, lines, widest=max(900.0, size[0] - 2 * MARGIN) if size else 900.0)
    plan = tiling(sheet, paper)
    buffer = io.BytesIO()
    canvas = _canvas(buffer, plan.paper, title)
    _cover(canvas, plan, cut, title, paper, calibration)
    for index, tile in enumerate(plan.tiles):
        if cancelled():
            break
        _page(canvas, plan, tile, sheet, title, calibration)
        progress((index + 1) / len(plan.tiles))
    canvas.save()
    return buffer.getvalue()


def _canvas(buffer: io.BytesIO, size: tuple[float, float], title: str) -> Canvas:
    if FONT not in pdfmetrics.getRegisteredFontNames():
        pdfmetrics.registerFont(TTFont(FONT, str(data_folder() / "fonts/IBMPlexSans-Regular.ttf")))
    canvas = Canvas(buffer, pagesize=(size[0] * PT, size[1] * PT), invariant=1)
    canvas.setTitle(title)
    canvas.setCreator("Caddet")
    return canvas


def _cover(canvas: Canvas, plan: Tiling, cut: Sequence[CutPiece], title: str, paper: str, scale: float) -> None:
    width, height = plan.paper
    top = height - MARGIN

    def write(x: float, y: float, words: str, size: float = 3.4, color: Color = INK) -> None:
        canvas.setFont(FONT, size * PT)
        canvas.setFillColor(color)
        canvas.drawString(x * PT, y * PT, words)

    write(MARGIN, top - 7, title, 6.5)
    write(
        MARGIN,
        top - 14,
        say(
            "{cut} pieces on {tiles} pages of {paper}. Print at 100 %, never “fit to page”.",
            cut=len(cut),
            tiles=len(plan.tiles),
            paper=paper,
        ),
    )
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.4 * PT)
    base = top - 20
    for side, words in (
        (TEST_CM, "Test square: every side is 10 cm"),
        (TEST_INCH, "Test square: every side is 4 inches"),
    ):
        canvas.rect(MARGIN * PT, (base - side * scale) * PT, side * scale * PT, side * scale * PT)
        write(MARGIN + 4, base - 8, words)
        base -= side * scale + 6
    write(
        MARGIN,
        base - 2,
        "Measure both squares before cutting any cloth. If they are off, set the printer’s calibration.",
        3.2,
        FAINT,
    )
    left = MARGIN + TEST_INCH * scale + 8
    room = width - MARGIN - left
    cell = min(room / max(plan.columns, 1), 90 / max(plan.rows, 1), 14.0)
    write(left, top - 24, "How the pages lie")
    canvas.setLineWidth(0.2 * PT)
    shape = plan.step[1] / plan.step[0]
    down = cell * shape
    if down * plan.rows > 120:
        cell, down = cell * 120 / (down * plan.rows), 120 / plan.rows
    for tile in plan.tiles:
        x, y = left + tile.column * cell, top - 28 - (tile.row + 1) * down
        canvas.rect(x * PT, y * PT, cell * PT, down * PT)
        write(x + cell * 0.12, y + down * 0.4, tile.name, min(cell * 0.36, 3.4))
    y = top - 38 - plan.rows * down
    write(left, y, "Pieces")
    for piece in cut:
        y -= 5.5
        write(left, y, f"{piece.labels[0]}: {piece.labels[1]}" if piece.labels else piece.piece.label, 3.2)
    canvas.showPage()


def _page(canvas: Canvas, plan: Tiling, tile: Tile, sheet: Sheet, title: str, scale: float) -> None:
    origin = complex(tile.column * plan.step[0], tile.row * plan.step[1])
    height = plan.paper[1]

    def place(point: Point) -> tuple[float, float]:
        local = (point - origin) * scale
        return (MARGIN + local.real) * PT, (height - MARGIN - local.imag) * PT

    canvas.saveState()
    clip = canvas.beginPath()
    clip.rect(MARGIN * PT, MARGIN * PT, plan.window[0] * PT, plan.window[1] * PT)
    canvas.clipPath(clip, stroke=0, fill=0)
    for _, strokes, texts in sheet.pieces:
        for stroke in strokes:
            _stroke(canvas, stroke, place)
        for text in texts:
            canvas.setFont(FONT, text.size * PT)
            canvas.setFillColor(INK)
            canvas.drawCentredString(*place(text.at + 0.35j * text.size), text.words)
    canvas.restoreState()
    _joining_marks(canvas, plan, tile, place)
    canvas.setFont(FONT, 3 * PT)
    canvas.setFillColor(FAINT)
    canvas.drawString((MARGIN + 3) * PT, (MARGIN - 5) * PT, f"{title} · page {tile.name}")
    canvas.showPage()


_WIDTHS = {"cut": 0.5, "stitch": 0.35, "dart": 0.35, "notch": 0.5, "grain": 0.35, "fold": 0.7, "mark": 0.2}
_DASHES = {"stitch": (4, 2), "fold": (12, 2, 2, 2), "mark": (1, 2)}


def _stroke(canvas: Canvas, stroke: Stroke, place: Callable[[Point], tuple[float, float]]) -> None:
    canvas.setLineWidth(_WIDTHS[stroke.layer] * PT)
    canvas.setStrokeColor(INK)
    canvas.setDash([length * PT for length in _DASHES.get(stroke.layer, ())])
    sink = _PdfPath(canvas, place)
    draw(stroke.path, sink, closed=stroke.closed)
    canvas.drawPath(sink.path)
    canvas.setDash([])


def _joining_marks(canvas: Canvas, plan: Tiling, tile: Tile, place: Callable[[Point], tuple[float, float]]) -> None:
    """A thin frame at the middle of each overlap, a cross at its corners, and names of the neighbours."""
    canvas.setStrokeColor(FAINT)
    canvas.setLineWidth(0.15 * PT)
    canvas.setFont(FONT, 2.8 * PT)
    canvas.setFillColor(FAINT)
    x0, y0 = tile.column * plan.step[0], tile.row * plan.step[1]
    half = OVERLAP / 2
    left, right = x0 + half, x0 + plan.window[0] - half
    top, bottom = y0 + half, y0 + plan.window[1] - half
    sides = (
        (tile.column > 0, complex(left, top), complex(left, bottom), Tile(tile.column - 1, tile.row), 1.5),
        (
            tile.column + 1 < plan.columns,
            complex(right, top),
            complex(right, bottom),
            Tile(tile.column + 1, tile.row),
            -9,
        ),
        (tile.row > 0, complex(left, top), complex(right, top), Tile(tile.column, tile.row - 1), 1.5),
        (tile.row + 1 < plan.rows, complex(left, bottom), complex(right, bottom), Tile(tile.column, tile.row + 1), 1.5),
    )
    for there, a, b, neighbour, nudge in sides:
        if not there:
            continue
        canvas.line(*place(a), *place(b))
        for corner in (a, b):
            for arm in (4 + 0j, 4j):
                canvas.line(*place(corner - arm), *place(corner + arm))
        middle = (a + b) / 2
        canvas.drawString(*place(middle + nudge - 1j), f"to {neighbour.name}")


def pdf_lay(plan: LayPlan, title: str, words: Sequence[str]) -> bytes:
    """The lay plan on one A4 page, to scale as large as it goes, with what to buy."""
    buffer = io.BytesIO()
    width, height = PAPERS["A4"][1], PAPERS["A4"][0]
    canvas = _canvas(buffer, (width, height), title)
    canvas.setFont(FONT, 6 * PT)
    canvas.drawString(MARGIN * PT, (height - MARGIN - 6) * PT, title)
    canvas.setFont(FONT, 4 * PT)
    for index, line in enumerate(words):
        canvas.drawString(MARGIN * PT, (height - MARGIN - 14 - 6 * index) * PT, line)
    room = height - 2 * MARGIN - 16 - 6 * len(words)
    scale = min((width - 2 * MARGIN) / plan.length, room / plan.width)

    def place(point: Point) -> tuple[float, float]:
        return (MARGIN + point.real * scale) * PT, (MARGIN + (plan.width - point.imag) * scale) * PT

    canvas.setLineWidth(0.4 * PT)
    canvas.rect(MARGIN * PT, MARGIN * PT, plan.length * scale * PT, plan.width * scale * PT)
    canvas.setLineWidth(0.25 * PT)
    for placed in plan.placed:
        path: Any = canvas.beginPath()
        path.moveTo(*place(placed.outline[0]))
        for point in placed.outline[1:]:
            path.lineTo(*place(point))
        path.close()
        canvas.drawPath(path)
        canvas.drawCentredString(*place(placed.middle), placed.named)
    if plan.folded:
        canvas.setFont(FONT, 3 * PT)
        canvas.drawString(*place(complex(0, -3 / scale)), "fold")
    canvas.save()
    return buffer.getvalue()
