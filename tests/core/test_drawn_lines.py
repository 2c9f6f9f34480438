"""Lines drawn on a wrap: read from the picture with the marks across them, changed by hand, and cut apart into panels."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path as File

import numpy as np
import pytest
import shapely
from PIL import Image, ImageDraw

from caddet.cli import main
from caddet.core.demo import demo_document
from caddet.core.devices.practice_shots import practice_camera
from caddet.core.errors import CaddetError
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pattern.features import Spot
from caddet.core.pipeline import make
from caddet.core.recipe.document import Recipe, TracedSource
from caddet.core.recipe.registry import step_entry
from caddet.core.recipe.traced import PhotoEdge, PhotoPiece, PhotoTracing
from caddet.core.recipe.values import Place
from caddet.core.tracing.photo import cutting_lines
from caddet.core.tracing.photo.automatic import with_lines
from caddet.core.tracing.photo.cutting_lines import line_numbered, on_table
from caddet.core.tracing.photo.drawn import drawn_lines
from caddet.core.tracing.photo.picture import Pixels
from caddet.core.tracing.photo.traced import view_of
from caddet.core.tracing.photo.view import View
from caddet.core.truing.notches import marks

FINE = 2  # points to the mm of a picture drawn here
WIDE, HIGH = 400, 300  # mm of the piece, whose corner lies at (50, 50)
Line = tuple[tuple[float, float], ...]


def a_wrap(lines: tuple[Line, ...] = (), strokes: tuple[Line, ...] = (), pen: int = 30, cloth: int = 200) -> Pixels:
    """A picture from straight above of a rectangle of cloth with lines and strokes drawn on it, places in mm of the cloth."""
    picture = Image.new("RGB", ((WIDE + 100) * FINE, (HIGH + 100) * FINE), (140, 110, 90))
    draw = ImageDraw.Draw(picture)
    draw.rectangle([50 * FINE, 50 * FINE, (50 + WIDE) * FINE - 1, (50 + HIGH) * FINE - 1], fill=(cloth,) * 3)
    for line, wide in (*((line, 4) for line in lines), *((line, 3) for line in strokes)):
        draw.line([((50 + x) * FINE, (50 + y) * FINE) for x, y in line], fill=(pen,) * 3, width=wide)
    noisy = np.asarray(picture, dtype=float) + np.random.default_rng(1).normal(0, 3, (*picture.size[::-1], 3))
    return np.clip(noisy, 0, 255).astype(np.uint8)


def tracing(piece: PhotoPiece) -> PhotoTracing:
    """A piece in such a picture, with an A4 sheet's corners as they would lie."""
    at = tuple((x * FINE, y * FINE) for x, y in ((0, 0), (210, 0), (210, 297), (0, 297)))
    size = ((WIDE + 100) * FINE, (HIGH + 100) * FINE)
    return PhotoTracing(photograph="wrap", size=size, corners=at, pieces=(piece,))  # type: ignore[arg-type]  # four corners


def rectangle(**more: object) -> tuple[PhotoPiece, View]:
    """The rectangle as a traced piece, a place every 2 mm, and the view of it."""
    corners = [50 + 50j, 50 + WIDE + 50j, 50 + WIDE + 1j * (50 + HIGH), 50 + 1j * (50 + HIGH)]
    points, at = [], []
    for a, b in zip(corners, [*corners[1:], corners[0]], strict=True):
        at.append(len(points))
        points += list(np.linspace(a, b, int(abs(b - a) / 2), endpoint=False))
    piece = PhotoPiece(
        name="wrap",
        label="Wrap",
        points=tuple((p.real * FINE, p.imag * FINE) for p in points),
        corners=tuple(at),
        pair=True,
        **more,  # type: ignore[arg-type]
    )
    return piece, view_of(tracing(piece))


def made_of(piece: PhotoPiece, *steps: tuple[str, dict[str, object]]) -> Made:
    recipe = Recipe().with_source(TracedSource(label="wrap", tracing=tracing(piece)))
    for kind, values in steps:
        recipe = recipe.with_step(step_entry(kind, values))
    return make(EvaluateRequest(demo_document().model_copy(update={"recipe": recipe})))


DOWN: Line = ((120, -2), (123, 75), (120, 150), (117, 225), (120, HIGH + 2))  # nearly straight, in a wave
DOWN_TOO: Line = ((270, -2), (270, HIGH + 2))
ACROSS: Line = ((120, 140), (270, 160))
STROKES: tuple[Line, ...] = (((114, 60), (130, 60)), ((262, 200), (278, 200)), ((262, 206), (278, 206)))


def read(*lines: Line, strokes: tuple[Line, ...] = (), pen: int = 30, cloth: int = 200) -> tuple[PhotoPiece, View]:
    piece, view = rectangle()
    return drawn_lines(a_wrap(lines, strokes, pen, cloth), view, piece), view


# --- read from the picture --------------------------------------------------------------------------


@pytest.mark.parametrize(("pen", "cloth"), [(30, 200), (210, 60)])
def test_lines_marks_and_panels_are_read_dark_on_light_and_light_on_dark(pen: int, cloth: int) -> None:
    piece, view = read(DOWN, DOWN_TOO, ACROSS, strokes=STROKES, pen=pen, cloth=cloth)
    assert len(piece.lines) == 3 and [panel.number for panel in piece.panels] == [1, 2, 3, 4]
    ways = {line.number: on_table(line, view) for line in piece.lines}
    straight = min(ways, key=lambda n: float(np.abs(ways[n].real - ways[n].real.mean()).max()))
    assert np.abs(ways[straight].real - 320).max() < 0.8  # 270 mm into the cloth, which lies 50 mm in
    (double,) = line_numbered(piece, straight).marks
    length = float(np.abs(np.diff(ways[straight])).sum())
    assert double.double and ways[straight][0].imag + double.at * length == pytest.approx(50 + 203, abs=1.0)
    single = [line for line in piece.lines if line.number != straight and line.marks]
    assert len(single) == 1 and [mark.double for mark in single[0].marks] == [False]


def test_writing_a_ring_and_a_stroke_away_from_the_lines_are_no_lines_and_no_marks() -> None:
    ring = tuple((60 + 12 * np.cos(t), 80 + 12 * np.sin(t)) for t in np.linspace(0, 2 * np.pi, 30))
    piece, _ = read(DOWN_TOO, strokes=(ring, ((40, 200), (70, 210)), ((330, 100), (345, 100))))
    assert len(piece.lines) == 1 and not piece.lines[0].marks and len(piece.panels) == 2


def test_a_line_with_a_small_gap_is_one_and_one_that_stops_half_way_parts_nothing() -> None:
    piece, _ = read(((200, -2), (200, 120)), ((200, 122), (200, HIGH + 2)))
    assert len(piece.lines) == 1
    with pytest.raises(CaddetError, match="from edge to edge"):
        read(((200, -2), (200, 120)))


def test_a_striped_cloth_is_no_wrap() -> None:
    stripes = tuple((((x, -2), (x, HIGH + 2))) for x in np.arange(8.0, WIDE - 4, 6.0))
    with pytest.raises(CaddetError, match="no line was found"):
        read(*stripes)
    squares = tuple((((x, -2), (x, HIGH + 2))) for x in np.arange(40.0, WIDE, 40.0))
    across = tuple((((-2, y), (WIDE + 2, y))) for y in np.arange(38.0, HIGH, 38.0))
    with pytest.raises(CaddetError, match="panels"):
        read(*squares, *across)


def test_lines_that_cross_are_joined_straight_on_and_make_four_panels() -> None:
    piece, view = read(((200, -2), (200, HIGH + 2)), ((-2, 140), (WIDE + 2, 150)))
    assert len(piece.lines) == 2 and len(piece.panels) == 4
    assert sorted(round(float(np.abs(np.diff(on_table(line, view))).sum()), -1) for line in piece.lines) == [290, 390]
    made = made_of(piece)
    assert made.pattern is not None and len(made.pattern.pieces) == 4
    assert len(made.pattern.seams) == 3  # the one that is crossed is sewn in one, the other in two
    assert not [line.label for line in made.proof if line.kind == "seam" and line.verdict == "fails"]


def test_reading_that_is_stopped_leaves_the_piece_as_it_was() -> None:
    piece, view = rectangle()
    asked: list[float] = []

    def going(share: float) -> bool:
        asked.append(share)
        return len(asked) < 2

    assert drawn_lines(a_wrap((DOWN,)), view, piece, going) is piece and len(asked) == 2


def test_names_stay_in_their_panels_when_the_lines_are_read_again() -> None:
    piece, view = read(DOWN, DOWN_TOO)
    for number, name in ((1, "Front"), (2, "Side"), (3, "Back")):
        piece = cutting_lines.panel_called(piece, number, name)
    again = drawn_lines(a_wrap((DOWN, DOWN_TOO, ACROSS)), view, piece)
    assert {panel.label for panel in again.panels} == {"Front", "Side", "Back", ""}
    assert [panel.label for panel in again.panels][:1] == ["Front"] and again.panels[-1].number == 4


# --- changed by hand --------------------------------------------------------------------------------


def test_a_line_drawn_by_hand_is_pulled_by_its_ends_and_in_the_middle() -> None:
    piece, view = rectangle()
    piece = cutting_lines.line_added(piece, view)
    table = on_table(piece.lines[0], view)
    assert np.abs(table.real - 250).max() < 0.5 and len(piece.panels) == 2  # through the middle
    piece = cutting_lines.line_pulled(piece, view, 1, 0, 150 + 50j)
    table = on_table(piece.lines[0], view)
    assert abs(table[0] - (150 + 50j)) < 0.1 and abs(table[-1] - (250 + 350j)) < 0.1  # the other end stays
    assert np.abs(np.diff(np.diff(table))).max() < 0.05  # and it is straight still
    middle = len(table) // 2
    piece = cutting_lines.line_pulled(piece, view, 1, middle, complex(table[middle]) + 20)
    pulled = on_table(piece.lines[0], view)
    assert pulled[middle].real == pytest.approx(table[middle].real + 20, abs=0.1)
    assert abs(pulled[0] - table[0]) < 0.1 and abs(pulled[-1] - table[-1]) < 0.1
    assert made_of(piece).pattern is not None
    with pytest.raises(CaddetError, match="no line 7"):
        cutting_lines.line_taken_out(piece, view, 7)


def test_a_line_that_is_let_go_near_the_pens_line_is_drawn_to_it() -> None:
    from caddet.core.tracing.photo.drawn import drawn_to_ink

    points = a_wrap((DOWN_TOO,))
    piece, view = rectangle()
    piece = cutting_lines.line_added(piece, view)
    for end, to in ((0, 319 + 50j), (-1, 321 + 350j)):
        at = end % len(piece.lines[0].points)
        piece = cutting_lines.line_pulled(piece, view, 1, at, to)
    middle = len(piece.lines[0].points) // 2
    piece = cutting_lines.line_pulled(piece, view, 1, middle, 322 + 200j, lambda row: drawn_to_ink(points, view, row))
    table = on_table(piece.lines[0], view)[middle - 5 : middle + 6]
    assert np.abs(table.real - 320).max() < 0.4


def test_two_clicks_make_a_mark_two_more_a_double_one_two_more_none() -> None:
    piece, view = rectangle()
    piece = cutting_lines.line_added(piece, view)
    seen = []
    for _ in range(3):
        piece = cutting_lines.mark_turned(piece, view, 1, 30)
        seen.append([mark.double for mark in piece.lines[0].marks])
    assert seen == [[False], [True], []]


def test_a_line_taken_out_leaves_the_others_their_numbers_and_the_panels_one_name() -> None:
    piece, view = read(DOWN, DOWN_TOO)
    piece = cutting_lines.panel_called(cutting_lines.panel_called(piece, 2, "Side"), 3, "Back")
    fewer = cutting_lines.line_taken_out(piece, view, 1)
    assert [line.number for line in fewer.lines] == [2]
    assert [panel.label for panel in fewer.panels] == ["Side", "Back"]
    made = made_of(fewer)
    assert made.pattern is not None and {edge.own for piece in made.pattern.pieces for edge in piece.edges} >= {
        "line_2"
    }


# --- cut apart --------------------------------------------------------------------------------------


def test_panels_are_whole_sewn_along_the_lines_and_mirrored() -> None:
    piece, _ = read(DOWN, DOWN_TOO, ACROSS, strokes=STROKES)
    piece = cutting_lines.panel_called(piece, 1, "Front")
    made = made_of(piece)
    assert made.pattern is not None and len(made.pattern.pieces) == 4
    pattern = made.pattern
    assert all(panel.pair for panel in pattern.pieces)
    assert [panel.label for panel in pattern.pieces] == ["Front", *(f"Wrap, panel {n}" for n in (2, 3, 4))]
    area = sum(
        abs(sum((a.conjugate() * b).imag for a, b in zip(ring, [*ring[1:], ring[0]], strict=True))) / 2
        for ring in (panel.polygon(0.02) for panel in pattern.pieces)
    )
    assert area == pytest.approx(WIDE * HIGH, rel=5e-3)  # nothing is lost between them
    for panel in pattern.pieces:  # the grain of each lies in it
        ring = shapely.Polygon([(p.real, p.imag) for p in panel.polygon(0.5)])
        assert ring.contains(shapely.Point(panel.grain.a.real, panel.grain.a.imag)), panel.label
        assert ring.contains(shapely.Point(panel.grain.b.real, panel.grain.b.imag)), panel.label
    for seam in pattern.seams:
        lengths = [pattern.length(layer) for layer in seam.layers]
        assert lengths[0] == pytest.approx(lengths[1], abs=0.01)
        one, other = (marks(pattern, layer) for layer in seam.layers)
        assert len(one) == len(other)
        for a, b in zip(one, other, strict=True):
            assert a.at == pytest.approx(b.at, abs=0.5)
    double = [(panel, notch) for panel in pattern.pieces for notch in panel.notches if notch.double]
    assert len(double) == 2  # one on either side
    for panel, notch in double:
        whole = panel.run_length(notch.edge)
        along = panel.along(Spot(notch.edge, notch.u))
        from_foot = HIGH - 203
        assert min(abs(along - from_foot), abs(whole - along - from_foot)) < 1.5
    assert not [line.label for line in made.proof if line.verdict == "fails"]
    assert not [line.label for line in made.proof if line.name.endswith(".straight")]  # drawn so: no slip of the pencil


def test_a_line_that_parts_nothing_is_told_and_the_rest_is_cut() -> None:
    piece, view = read(DOWN_TOO)
    loose = cutting_lines.line_added(piece, view)
    loose = cutting_lines.line_pulled(loose, view, 2, 0, 150 + 180j)
    made = made_of(loose)
    assert made.pattern is not None and len(made.pattern.pieces) == 2
    (finding,) = [finding for finding in made.findings if finding.code == "trace.line"]
    assert "line 2 parts nothing" in str(finding.sentence)


def test_allowances_are_taken_off_before_it_is_cut_apart() -> None:
    piece, _ = read(DOWN_TOO)
    edges = (PhotoEdge(name="top", cut=15.0), *(PhotoEdge(name=name) for name in ("right", "low", "left")))
    made = made_of(PhotoPiece.model_validate({**piece.parts(), "edges": edges}))
    assert made.pattern is not None
    assert {round(panel.run_length(f"{panel.name}.line_1")) for panel in made.pattern.pieces} == {HIGH - 15}


def test_a_wrap_is_cut_by_hand_in_shape_too() -> None:
    piece, _ = rectangle()
    line = (Place(edge="wrap.edge_1", share=0.4), Place(edge="wrap.edge_3", share=0.6))
    made = made_of(
        piece,
        ("cut", {"line": line, "first": "Back", "second": "Front"}),
        ("notch", {"at": Place(edge="s2.cut[s2a]", share=0.4)}),
    )
    assert made.pattern is not None and not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    assert {panel.label for panel in made.pattern.pieces} == {"Back", "Front"}
    sewn = [marks(made.pattern, layer) for layer in made.pattern.seam("s2.seam").layers]
    assert len(sewn[0]) == len(sewn[1]) == 1 and sewn[0][0].at == pytest.approx(sewn[1][0].at, abs=0.1)


def test_the_command_line_cuts_a_wrap_apart(tmp_path: File, capsys: pytest.CaptureFixture[str]) -> None:
    picture, camera = tmp_path / "wrap.jpg", practice_camera("wrap caddet 6")
    picture.write_bytes(replace(camera, shot=replace(camera.shot, size=(1500, 1125))).take())
    assert main(["trace", str(picture), "--sheet", "caddet", "--lines", "--pair", "--json"]) == 0
    outlines = json.loads(capsys.readouterr().out)["outlines"]
    assert [one["name"] for one in outlines] == [f"piece_1_{n}" for n in range(1, 7)]


def test_lines_are_read_only_where_there_is_something_to_read() -> None:
    piece, view = rectangle()
    with pytest.raises(CaddetError, match="no line was found"):
        with_lines(tracing(piece), a_wrap(), view, pair=True)
    shirt = piece.model_copy(update={"kind": "t_shirt", "shape": "front"})
    with pytest.raises(CaddetError, match="no outline of no kind"):
        with_lines(tracing(shirt), a_wrap((DOWN,)), view, pair=True)
    assert with_lines(tracing(piece), a_wrap((DOWN,)), view, pair=False).pieces[0].pair is False


def test_lines_and_pairs_go_with_a_photograph(tmp_path: File, capsys: pytest.CaptureFixture[str]) -> None:
    readings = tmp_path / "readings.csv"
    readings.write_text("what,at,value\nchest,,51.5\n")
    assert main(["trace", str(readings), "--kind", "t_shirt", "--lines", "--json"]) == 2
    assert "from a photograph" in capsys.readouterr().err
    assert main(["trace", str(tmp_path / "x.jpg"), "--pair", "--json"]) == 2
    assert "goes with --lines" in capsys.readouterr().err
