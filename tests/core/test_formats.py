from __future__ import annotations

import csv
import io
import json
from pathlib import Path

import ezdxf
import pytest
import shapely
from PIL import Image

from caddet.core.demo import demo_document
from caddet.core.errors import CaddetError, InputError
from caddet.core.formats.export import ENDINGS, export_bytes, lay_bytes, lay_words
from caddet.core.formats.paper import arrange
from caddet.core.formats.pdf import Tile, pdf_pieces, tiling
from caddet.core.laying.plan import plan_lay
from caddet.core.made import EvaluateRequest
from caddet.core.pipeline import make
from caddet.core.sentences import told

MADE = make(EvaluateRequest(demo_document()))


def test_every_ending_writes_something_of_its_kind() -> None:
    heads = {".pdf": b"%PDF", ".svg": b"<svg", ".png": b"\x89PNG", ".dxf": b"  0", ".csv": b"what", ".json": b"{"}
    for ending in ENDINGS:
        assert export_bytes(MADE, ending).startswith(heads[ending])
    with pytest.raises(InputError, match="can't write"):
        export_bytes(MADE, ".docx")


def test_json_and_csv_carry_the_same_lengths() -> None:
    listing = json.loads(export_bytes(MADE, ".json"))
    rows = {
        (r["what"], r["name"]): float(r["mm"]) for r in csv.DictReader(io.StringIO(export_bytes(MADE, ".csv").decode()))
    }
    for piece in listing["pieces"]:
        for edge in piece["edges"]:
            assert rows["edge", edge["name"]] == pytest.approx(edge["length"], abs=0.005)
        assert shapely.Polygon(piece["outline"]).is_valid and shapely.Polygon(piece["cut_outline"]).is_valid
    assert {seam["holds"] for seam in listing["seams"]} == {True}
    assert rows["measure", "hip"] == 980.0


def test_dxf_is_read_back_in_millimetres() -> None:
    drawing = ezdxf.read(io.StringIO(export_bytes(MADE, ".dxf").decode()))
    assert drawing.units == 4
    cuts = [e for e in drawing.modelspace() if e.dxf.layer == "front_cut"]
    points = [(x, y) for x, y, *_ in cuts[0].get_points()]  # type: ignore[attr-defined]
    wanted = shapely.Polygon([(p.real, p.imag) for p in MADE.cut_piece("front").polygon()])
    assert shapely.Polygon(points).area == pytest.approx(wanted.area, rel=1e-4)


def test_png_is_a_picture_at_two_pixels_a_millimetre() -> None:
    image = Image.open(io.BytesIO(export_bytes(MADE, ".png")))
    sheet = arrange(MADE.cut)
    assert image.size == (round((sheet.width + 20) * 2), round((sheet.height + 20) * 2))


@pytest.mark.parametrize("paper", ["A4", "A3", "Letter", "A0"])
def test_tiles_cover_every_line_and_leave_out_empty_pages(paper: str) -> None:
    sheet = arrange(MADE.cut)
    plan = tiling(sheet, paper)
    windows = shapely.union_all(
        [
            shapely.box(
                t.column * plan.step[0],
                t.row * plan.step[1],
                t.column * plan.step[0] + plan.window[0],
                t.row * plan.step[1] + plan.window[1],
            )
            for t in plan.tiles
        ]
    )
    for _, strokes, _ in sheet.pieces:
        for stroke in strokes:
            line = shapely.LineString([(p.real, p.imag) for p in stroke.path.flattened()])
            assert line.difference(windows).length < 1e-6
    assert len(plan.tiles) <= plan.columns * plan.rows
    assert (paper == "A0") == (len(plan.tiles) == 1)


def test_page_names_calibration_and_unknown_paper() -> None:
    assert [Tile(2, row).name for row in (0, 25, 26, 27)] == ["A3", "Z3", "AA3", "AB3"]
    assert len(pdf_pieces(MADE.cut, "x", calibration=1.005)) > 1000
    with pytest.raises(CaddetError, match="calibration"):
        pdf_pieces(MADE.cut, "x", calibration=2.0)
    with pytest.raises(CaddetError, match="no paper"):
        pdf_pieces(MADE.cut, "x", paper="Napkin")


def test_printing_tells_progress_and_can_be_stopped() -> None:
    told: list[float] = []
    whole = pdf_pieces(MADE.cut, "x", progress=told.append)
    assert told == sorted(told) and told[-1] == 1.0
    assert len(pdf_pieces(MADE.cut, "x", cancelled=lambda: True)) < len(whole)


def test_the_lay_plan_goes_onto_paper(tmp_path: Path) -> None:
    document = demo_document()
    plan = plan_lay(MADE.cut, document.chosen_cloth, document.lay, seconds=0.2)
    assert lay_bytes(plan, document, document.chosen_cloth, document.lay, ".pdf").startswith(b"%PDF")
    assert b"<polygon" in lay_bytes(plan, document, document.chosen_cloth, document.lay, ".svg")
    words = " ".join(told(line, "in") for line in lay_words(plan, document, document.chosen_cloth, document.lay))
    assert "buy" in words and '"' in words and "3%" in words
