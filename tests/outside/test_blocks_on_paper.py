"""Every block all the way: its file, its exports read back by other libraries, its lay on the cloth, its bands."""

from __future__ import annotations

import csv
import io
import json
import math
from pathlib import Path

import ezdxf
import pytest
import shapely
from pypdf import PdfReader
from svgelements import SVG
from svgelements import Path as SvgElementPath

from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.errors import CaddetError
from caddet.core.formats.export import export_bytes
from caddet.core.formats.project import no_pictures, open_project, save_project
from caddet.core.laying.plan import plan_lay
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pipeline import make
from caddet.core.recipe.choices import Cloth, LayChoices
from caddet.core.recipe.registry import BLOCKS, step_entry
from tests.making import KNIT, drafted, pattern_of
from tests.share import share

NAMES = sorted(BLOCKS)
CHILD: Person = demo_document().people[2]


def cut_area(made: Made, name: str) -> float:
    """The area inside a cut line, flattened finely, in mm²."""
    return float(shapely.Polygon([(p.real, p.imag) for p in made.cut_piece(name).polygon(0.005)]).area)


@pytest.mark.parametrize("name", NAMES)
def test_a_project_of_any_block_is_the_same_after_its_file(name: str, tmp_path: Path) -> None:
    made = drafted(name, CHILD)
    save_project(made.document, tmp_path / "p.caddet", no_pictures)
    opened = open_project(tmp_path / "p.caddet")
    assert not opened.findings and opened.document == made.document
    assert pattern_of(make(EvaluateRequest(opened.document))).pieces == pattern_of(made).pieces


@pytest.mark.parametrize("name", NAMES)
def test_dxf_of_any_block_has_its_cut_lines_in_millimetres(name: str) -> None:
    made = drafted(name)
    drawing = ezdxf.read(io.StringIO(export_bytes(made, ".dxf").decode()))
    assert drawing.units == 4  # millimetres, by the DXF reference: from memory
    for cut in made.cut:
        found = [entity for entity in drawing.modelspace() if entity.dxf.layer == f"{cut.piece.name}_cut"]
        areas = [shapely.Polygon([(x, y) for x, y, *_ in e.get_points()]).area for e in found]  # type: ignore[attr-defined]
        wanted = cut_area(made, cut.piece.name)
        assert min(abs(area - wanted) / wanted for area in areas) < 1e-3, cut.piece.name


@pytest.mark.parametrize("name", share(NAMES, 2))
def test_svg_of_any_block_is_as_large_as_its_paper_says(name: str) -> None:
    made = drafted(name)
    text = export_bytes(made, ".svg").decode()
    drawing = SVG.parse(io.StringIO(text), ppi=25.4)
    areas = []
    for element in drawing.elements(lambda e: isinstance(e, SvgElementPath)):
        steps = [element.point(i / 1200) for i in range(1200)]
        if len(steps) > 3:
            areas.append(shapely.Polygon([(p.x, p.y) for p in steps]).buffer(0).area)
    for cut in made.cut:
        wanted = cut_area(made, cut.piece.name)
        assert min(abs(area - wanted) / wanted for area in areas) < 0.01, cut.piece.name


@pytest.mark.parametrize("name", NAMES)
def test_pdf_of_any_block_names_every_piece(name: str) -> None:
    made = drafted(name)
    reader = PdfReader(io.BytesIO(export_bytes(made, ".pdf", paper="A3")))
    text = " ".join(page.extract_text() for page in reader.pages)
    for piece in pattern_of(made).pieces:
        assert piece.label in text, piece.label
    assert "10 cm" in text, "the test square says its size"


@pytest.mark.parametrize("name", NAMES)
def test_lists_of_any_block_agree_with_each_other(name: str) -> None:
    made = drafted(name)
    listing = json.loads(export_bytes(made, ".json"))
    rows = list(csv.DictReader(io.StringIO(export_bytes(made, ".csv").decode())))
    edges = {row["name"]: float(row["mm"]) for row in rows if row["what"] == "edge"}
    for piece in listing["pieces"]:
        around = shapely.Polygon(piece["outline"]).length
        darts = sum(2 * 400.0 for _ in piece.get("darts", ()))
        assert (
            sum(edge["length"] for edge in piece["edges"])
            <= around + 1.0
            <= sum(e["length"] for e in piece["edges"]) + darts + 2.0
        )
        for edge in piece["edges"]:
            assert edges[edge["name"]] == pytest.approx(edge["length"], abs=0.005)


@pytest.mark.parametrize("fold", ["open", "folded"])
@pytest.mark.parametrize("name", NAMES)
def test_any_block_is_laid_without_overlap_or_says_why_not(name: str, fold: str) -> None:
    made = drafted(name, CHILD)
    try:
        plan = plan_lay(made.cut, Cloth(name="Cloth", width=1500.0), LayChoices(fold=fold, gap=2.0), seconds=0.3)  # type: ignore[arg-type]
    except CaddetError as error:
        assert fold == "folded" and ("cloth" in str(error) or "fold" in str(error)), error
        return
    shapes = [shapely.Polygon([(p.real, p.imag) for p in placed.outline]) for placed in plan.placed]
    for index, one in enumerate(shapes):
        left, top, right, bottom = one.bounds
        assert left >= -1e-6 and top >= -1e-6 and right <= plan.length + 1e-6 and bottom <= plan.width + 1e-6
        assert all(one.distance(other) >= 2.0 - 1e-3 for other in shapes[:index])
    assert {placed.piece for placed in plan.placed} == {
        cut.piece.name for cut in made.cut if cut.piece.count_of("main")
    }, "what is cut from the main cloth, all of it"


@pytest.mark.parametrize(
    ("block", "part", "run"),
    [
        ("top.knit", "hood", "neckline"),
        ("top.raglan", "collar", "neckline"),
        ("top.dolman", "neckband", "neckline"),
        ("bodice.darted", "collar", "neckline"),
        ("bodice.darted", "neckband", "neckline"),
        ("dress.sheath", "hood", "neckline"),
        ("swimsuit", "neckband", "neckline"),
        ("top.cowl", "neckband", "armhole"),
        ("sleeve.set_in", "cuff", "hem"),
    ],
)
def test_a_band_fits_the_edge_of_another_block(block: str, part: str, run: str) -> None:
    """The fitted part is held against the edge as SVG has it: both sides of the seam, walked by hand."""
    values = {"part": part, "edges": (run,)}
    made = drafted(block, steps=(step_entry("band", values),), cloth=KNIT if part == "neckband" else None)
    stuck = [finding.sentence for finding in made.findings if finding.code == "step.stuck"]
    assert not stuck, stuck
    pattern = pattern_of(made)
    seam = pattern.seam(f"s2.{part}")
    assert pattern.has(f"s2.{part}"), "the part is named below the step"
    sides = [
        sum(
            math.fsum(
                s.length
                for piece in pattern.pieces
                for edge in piece.edges
                if edge.name == one.ref.name
                for s in edge.path.segments
            )
            for one in layer
        )
        for layer in seam.layers
    ]
    wanted = (
        sides[0] * seam.amount
        if seam.kind in ("stretched", "gathered")
        else sides[0] + (seam.amount if seam.kind == "eased" else 0)
    )
    assert sides[1] == pytest.approx(wanted, abs=1.0)
    assert not [line for line in made.proof if line.kind == "seam" and not line.holds]
