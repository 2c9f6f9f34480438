"""Tiled pages, read back by pypdf and laid together by their tile names, give the pattern again."""

from __future__ import annotations

import io
import re

import pytest
import shapely
from pypdf import PdfReader
from pypdf.generic import ContentStream

from caddet.core.demo import demo_document
from caddet.core.formats.paper import arrange
from caddet.core.formats.pdf import MARGIN, OVERLAP, pdf_pieces, tiling
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make

MADE = make(EvaluateRequest(demo_document()))
MM = 25.4 / 72


def lines_of(reader: PdfReader, page: int) -> list[list[tuple[float, float]]]:
    """The straight parts of every path on a page, in mm from its lower left corner."""
    content = reader.pages[page].get_contents()
    assert content is not None
    paths: list[list[tuple[float, float]]] = []
    for operands, operator in ContentStream(content, reader).operations:
        values = [float(v) * MM for v in operands if isinstance(v, (int, float))]
        if operator == b"m":
            paths.append([(values[0], values[1])])
        elif operator == b"l" and paths:
            paths[-1].append((values[0], values[1]))
        elif operator == b"c" and paths:
            paths[-1].append((values[4], values[5]))
    return [path for path in paths if len(path) > 1]


@pytest.mark.parametrize("paper", ["A4", "Letter", "A3"])
def test_pages_laid_together_by_their_names_give_the_same_outline(paper: str) -> None:
    reader = PdfReader(io.BytesIO(pdf_pieces(MADE.cut, "Proof", paper=paper)))
    sheet = arrange(MADE.cut)
    plan = tiling(sheet, paper)
    truth = shapely.union_all(
        [
            shapely.LineString([(p.real, p.imag) for p in stroke.path.flattened(0.02)])
            for _, strokes, _ in sheet.pieces
            for stroke in strokes
        ]
    )
    checked = 0
    for page in range(1, len(reader.pages)):
        name = re.search(r"page ([A-Z]+)(\d+)", reader.pages[page].extract_text())
        assert name is not None
        tile = next(t for t in plan.tiles if t.name == name[1] + name[2])
        for path in lines_of(reader, page):
            for x, y in path:
                at = (x - MARGIN + tile.column * plan.step[0], plan.paper[1] - MARGIN - y + tile.row * plan.step[1])
                inside = MARGIN + OVERLAP < x < plan.paper[0] - MARGIN - OVERLAP
                inside &= MARGIN + OVERLAP < y < plan.paper[1] - MARGIN - OVERLAP
                if inside:  # joining marks lie in the overlap
                    assert truth.distance(shapely.Point(at)) < 0.05
                    checked += 1
    assert checked > 20
    assert len(reader.pages) == len(plan.tiles) + 1


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_neighbouring_pages_share_the_overlap_and_name_each_other(paper: str) -> None:
    reader = PdfReader(io.BytesIO(pdf_pieces(MADE.cut, "Proof", paper=paper)))
    plan = tiling(arrange(MADE.cut), paper)
    assert plan.window[0] - plan.step[0] == pytest.approx(OVERLAP) == plan.window[1] - plan.step[1]
    words = {}
    for page in range(1, len(reader.pages)):
        text = reader.pages[page].extract_text()
        name = re.search(r"page ([A-Z]+\d+)", text)
        assert name is not None
        words[name[1]] = text
    for tile in plan.tiles:
        for neighbour in plan.tiles:
            if abs(tile.column - neighbour.column) + abs(tile.row - neighbour.row) == 1:
                assert f"to {neighbour.name}" in words[tile.name]


def test_the_cover_says_how_to_print_and_what_there_is() -> None:
    text = PdfReader(io.BytesIO(pdf_pieces(MADE.cut, "Ringing skirt · Odile"))).pages[0].extract_text()
    for words in (
        "Ringing skirt",
        "100 %",
        "10 cm",
        "4 inches",
        "Front: cut 1 on the fold",
        "Back: cut 2, a pair",
        "A1",
    ):
        assert words in text


@pytest.mark.parametrize(("line", "few", "many"), [("net", 0, 1), ("cut", 1, 0)])
def test_one_line_or_the_other(line: str, few: int, many: int) -> None:
    both = len(pdf_pieces(MADE.cut, "x", paper="A0"))
    one = len(pdf_pieces(MADE.cut, "x", paper="A0", lines=line))  # type: ignore[arg-type]
    assert one < both
    layers = {stroke.layer for _, strokes, _ in arrange(MADE.cut, line).pieces for stroke in strokes}  # type: ignore[arg-type]
    assert ("cut" in layers) == bool(few) and ("stitch" in layers) == bool(many)
