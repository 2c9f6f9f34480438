"""Tracing from a photograph: opening it, the sheet, the view, outlines, pieces, and all that can be wrong with a picture."""

from __future__ import annotations

import io
import json
from dataclasses import replace
from pathlib import Path as File

import numpy as np
import pytest
from PIL import Image, ImageDraw

from caddet.cli import main
from caddet.core.demo import demo_document
from caddet.core.devices.camera import Lying, Scene, Shot, SimulatedCamera
from caddet.core.devices.practice_shots import PRACTICE, practice_camera
from caddet.core.errors import CaddetError, InputError
from caddet.core.formats.export import export_bytes
from caddet.core.formats.project import open_project
from caddet.core.geometry.fitting import fair_through
from caddet.core.geometry.paths import Path
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pipeline import make
from caddet.core.recipe.document import Recipe, TracedSource
from caddet.core.recipe.registry import step_entry
from caddet.core.recipe.traced import Known, PhotoEdge, PhotoPiece, PhotoTracing
from caddet.core.tracing.kinds import KINDS
from caddet.core.tracing.photo.automatic import joined_photos, traced_as_far, traced_from, traced_photo
from caddet.core.tracing.photo.changing import table_of, unseen_corners, with_places
from caddet.core.tracing.photo.naming import corner_marks, named, template
from caddet.core.tracing.photo.picture import Picture, read_picture
from caddet.core.tracing.photo.sheets import SHEETS, NoSheet, find_sheet, view_by_corners
from caddet.core.tracing.photo.traced import laid_as, outline_of, view_of
from caddet.core.tracing.photo.view import bent, unbent, view_from
from tests.photos import camera_on, photo, photo_bytes, true_lengths, whole_outline

SMALL = Shot(tilt=15, lens=0.01, size=(1800, 1350))
A4 = SHEETS["A4"]


def made_from(tracing: PhotoTracing) -> Made:
    source = TracedSource(label="traced", tracing=tracing)
    return make(EvaluateRequest(demo_document().model_copy(update={"recipe": Recipe().with_source(source)})))


def shirt() -> PhotoTracing:
    return traced_photo("shirt", photo("t_shirt", "front", shot=SMALL).points, A4, [("t_shirt", "front")])


# --- opening --------------------------------------------------------------------------------------


def jpeg(size: tuple[int, int], kind: str = "JPEG", **more: object) -> bytes:
    out = io.BytesIO()
    random = np.random.default_rng(1)
    Image.fromarray(random.integers(0, 255, (size[1], size[0], 3), dtype=np.uint8)).save(out, kind, **more)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "told"),
    [
        (b"", "expected a JPEG or PNG"),
        (b"hello, this is text", "expected a JPEG or PNG"),
        (jpeg((640, 480))[:3000], "cut short"),
        (jpeg((640, 480), "BMP"), "expected a JPEG or PNG"),
        (jpeg((1, 1)), "only 1 × 1"),
        (b"\x89PNG\r\n\x1a\n" + jpeg((400, 400), "PNG")[8:300], "cut short"),
    ],
)
def test_what_is_no_photograph_is_refused_with_the_reason(data: bytes, told: str) -> None:
    with pytest.raises(InputError) as caught:
        read_picture(data, "photo.jpg")
    assert told in str(caught.value) and str(caught.value).startswith("photo.jpg: ")


def test_a_picture_of_a_hundred_million_points_is_refused_unopened_and_a_large_one_made_smaller() -> None:
    head = io.BytesIO()
    Image.new("L", (11_000, 10_000)).save(head, "PNG")
    with pytest.raises(InputError, match="110 million"):
        read_picture(head.getvalue())
    large = read_picture(jpeg((5000, 4000), quality=40))
    assert large.size[0] * large.size[1] <= 12_700_000 and large.size[0] / large.size[1] == pytest.approx(
        1.25, abs=0.01
    )


def test_a_moving_picture_a_plain_one_and_one_of_another_name() -> None:
    frames = [Image.new("P", (400, 400), n) for n in range(3)]
    out = io.BytesIO()
    frames[0].save(out, "PNG", save_all=True, append_images=frames[1:])
    with pytest.raises(InputError, match="moves"):
        read_picture(out.getvalue())
    plain = io.BytesIO()
    Image.new("RGB", (500, 400), (90, 90, 90)).save(plain, "JPEG")
    with pytest.raises(InputError, match="one colour"):
        read_picture(plain.getvalue())
    assert "is a photograph all the same" in read_picture(jpeg((640, 480)), "photo.txt").remarks[0]


def test_a_picture_is_turned_upright_by_its_own_note() -> None:
    picture = Image.open(io.BytesIO(jpeg((640, 480))))
    exif = picture.getexif()
    exif[0x0112] = 6
    out = io.BytesIO()
    picture.save(out, "JPEG", exif=exif)
    assert read_picture(out.getvalue()).size == (480, 640)


# --- the view and the sheet -----------------------------------------------------------------------


def test_the_lens_is_undone_exactly_and_a_view_goes_there_and_back() -> None:
    points = np.array([0.1 + 0.2j, -0.7 + 0.5j, 0.9 + 0j])
    for lens in (-0.03, 0.0, 0.04):
        assert np.abs(unbent(bent(points, lens), lens) - points).max() < 1e-7
    picture = np.array([300 + 200j, 1500 + 260j, 1440 + 1200j, 380 + 1120j])
    view = view_from((1800, 1350), picture, np.array([0, 297, 297 + 210j, 210j]), 0.02)
    there = np.array([10 + 20j, 500 - 80j])
    assert np.abs(view.to_table(view.to_picture(there)) - there).max() < 1e-6


@pytest.mark.parametrize("sheet", ["A4", "Letter", "caddet"])
def test_a_sheet_is_found_and_its_size_comes_out_to_half_a_millimetre(sheet: str) -> None:
    camera = camera_on("t_shirt", "front", sheet, SMALL)
    found = find_sheet(photo("t_shirt", "front", sheet, SMALL).points, SHEETS[sheet])
    true = camera.sheet_corners()
    seen = found.view.to_table(camera.view().to_picture(true))
    for n in range(4):
        for m in range(n):
            assert abs(seen[n] - seen[m]) == pytest.approx(abs(true[n] - true[m]), abs=0.5)
    assert found.view.lens == pytest.approx(SMALL.lens, abs=0.003)
    assert found.view.tilt == pytest.approx(SMALL.tilt, abs=2)
    assert found.view.residual < 0.3


def test_a_sheet_of_another_size_than_said_is_told() -> None:
    with pytest.raises(NoSheet, match="looks like A4, not like Letter"):
        find_sheet(photo("t_shirt", "front", shot=SMALL).points, SHEETS["Letter"])


def test_no_sheet_two_sheets_half_a_sheet_and_a_slanting_view_are_told() -> None:
    points = photo("t_shirt", "front", shot=SMALL).points
    corners = camera_on("t_shirt", "front", shot=SMALL)
    sheet = corners.view().to_picture(corners.sheet_corners())
    left, right = int(sheet.real.min()) - 20, int(sheet.real.max()) + 20
    top, low = int(sheet.imag.min()) - 20, int(sheet.imag.max()) + 20
    without = points.copy()
    without[top:low, left:right] = points[:50, :50].mean(axis=(0, 1))
    with pytest.raises(NoSheet, match="there is no A4 sheet"):
        find_sheet(without, A4)
    garment = corners.scene.pieces[0]
    left_of = garment.outline.bounds()[0] - 260
    paper = Path.polyline([complex(left_of + x, y) for x, y in ((0, 100), (210, 100), (210, 397), (0, 397), (0, 100))])
    scene = replace(corners.scene, pieces=(garment, Lying("paper", paper, (238, 238, 238))))
    two = read_picture(replace(corners, scene=scene, shot=replace(SMALL, creases=0)).take())
    with pytest.raises(NoSheet, match="two sheets"):
        find_sheet(two.points, A4)
    with pytest.raises(NoSheet):
        find_sheet(np.ascontiguousarray(points[:, : (left + right) // 2]), A4)
    with pytest.raises(NoSheet, match="from the vertical; hold"):
        find_sheet(photo("collar", "collar", shot=replace(SMALL, tilt=68, lens=0.0)).points, A4)


def test_corners_set_by_hand_make_the_same_view_and_wrong_ones_are_refused() -> None:
    found = find_sheet(photo("t_shirt", "front", shot=SMALL).points, A4)
    by_hand = view_by_corners(found.view.size, found.corners, A4, found.view.lens)
    place = np.array([400 + 300j, 1200 + 900j])
    a, b = (view.to_table(place) for view in (found.view, by_hand))
    assert abs(abs(a[1] - a[0]) - abs(b[1] - b[0])) < 0.01
    with pytest.raises(NoSheet, match="clockwise"):
        view_by_corners((1800, 1350), found.corners[::-1], A4)
    with pytest.raises(NoSheet):
        view_by_corners((1800, 1350), (0j, 10 + 0j, 20 + 0j, 30 + 0j), A4)


# --- outlines and pieces --------------------------------------------------------------------------


def test_a_photograph_becomes_half_a_front_with_the_trades_edges() -> None:
    made = made_from(shirt())
    assert made.pattern is not None and not made.findings
    front = made.pattern.piece("front")
    true = true_lengths("t_shirt", "front", 5)
    for run, length in true.items():
        assert front.run_length(run) == pytest.approx(length, abs=2.5), run
    assert front.fold and all(abs(front.run("centre_front")[0].path.point_at(t).real) < 1e-6 for t in (1, 100))
    assert not [line.label for line in made.proof if line.verdict == "fails"]
    assert {own.name.rpartition(".")[2] for own in front.features if own.kind == "level"} == {"bust"}


def test_left_right_and_mean_are_three_halves_and_differences_are_told() -> None:
    tracing = shirt()
    piece = tracing.pieces[0]
    view = view_of(tracing)
    table = view.to_table(np.array([complex(*p) for p in piece.points]))
    marks = dict(zip(corner_marks(KINDS["t_shirt"].shape("front")), piece.corners, strict=True))
    moved = table.copy()
    a, b = marks["hem_side'"], marks["underarm'"]  # the other half's side, pulled out in its middle
    for n in range(a + 1, b):
        share = (n - a) / (b - a)
        way = (table[b] - table[a]) / abs(table[b] - table[a]) * -1j
        moved[n] += way * 24 * 4 * share * (1 - share)
    points = tuple((float(p.real), float(p.imag)) for p in view.to_picture(moved))
    sides = {}
    for half in ("left", "right", "mean"):
        one = piece.model_copy(update={"points": points, "half": half})
        made = made_from(tracing.model_copy(update={"pieces": (one,)}))
        assert made.pattern is not None
        assert any(f.code == "trace.unlike" for f in made.findings)
        path = made.pattern.piece("front").run("side")[0].path
        sides[half] = path.point_at(path.length / 2).real
    assert sides["left"] - sides["right"] == pytest.approx(24, abs=4)
    assert sides["mean"] == pytest.approx((sides["left"] + sides["right"]) / 2, abs=1.5)


def test_an_outline_of_no_kind_keeps_its_own_edges_and_what_was_said_of_them() -> None:
    tracing = traced_photo("collar", photo("jacket_front", "front", shot=SMALL).points, A4)
    piece = tracing.pieces[0]
    edges = tuple(
        PhotoEdge(name=f"line_{n}", straight=n == 0, finish="hem" if n == 1 else "") for n in range(len(piece.corners))
    )
    made = made_from(tracing.model_copy(update={"pieces": (piece.model_copy(update={"edges": edges}),)}))
    assert made.pattern is not None
    got = made.pattern.pieces[0]
    assert got.run("line_0")[0].path.length == pytest.approx(
        abs(got.run("line_0")[0].path.end - got.run("line_0")[0].path.start)
    )
    assert got.run("line_1")[0].finish == "hem"


def test_a_known_length_tells_of_a_wrong_scale() -> None:
    tracing = shirt()
    a, b = tracing.corners[0], tracing.corners[1]
    view = view_of(tracing)
    side = abs(complex(*np.diff(view.to_table(np.array([complex(*a), complex(*b)])))))
    right = made_from(tracing.model_copy(update={"known": Known(a=a, b=b, mm=side)}))
    wrong = made_from(tracing.model_copy(update={"known": Known(a=a, b=b, mm=side * 1.03)}))
    assert not [f for f in right.findings if f.code == "trace.scale"]
    assert [f for f in wrong.findings if f.code == "trace.scale"]


def test_an_outline_that_crosses_itself_is_told_and_the_others_go_on() -> None:
    tracing = shirt()
    piece = tracing.pieces[0]
    points = list(piece.points)
    points[10], points[40] = points[40], points[10]
    bad = piece.model_copy(update={"points": tuple(points), "name": "crossed"})
    made = made_from(tracing.model_copy(update={"pieces": (piece, bad)}))
    assert made.pattern is not None and len(made.pattern.pieces) == 1
    assert any("crosses itself" in str(f.sentence) for f in made.findings)
    few = piece.model_copy(update={"corners": piece.corners[:3]})
    alone = made_from(tracing.model_copy(update={"pieces": (few,)}))
    assert alone.pattern is None and any("corners" in str(f.sentence) for f in alone.findings)


@pytest.mark.parametrize("kind", ["t_shirt", "fitted_skirt", "trousers", "jacket_front", "swimsuit"])
def test_an_outline_is_matched_to_its_shape_however_it_lies(kind: str) -> None:
    shape = KINDS[kind].shapes[0]
    usual = template(shape)
    ring = np.array(list(usual.values()))
    for turn in (0.0, 40.0, 171.0, -95.0):
        laid = ring * np.exp(1j * np.radians(turn)) * 1.2 + 300
        points = np.concatenate(
            [np.linspace(a, b, 30, endpoint=False) for a, b in zip(laid, np.roll(laid, -1), strict=True)]
        )
        corners = tuple(range(0, 30 * len(ring), 30))
        assert [at for _, at in named(points, corners, shape).corners] == list(corners)


def test_a_point_on_the_fold_is_no_marks_corner_and_draws_none_to_it() -> None:
    from caddet.core.devices.practice_shots import practice_outline
    from caddet.core.tracing.photo.proposing import corners_of, spaced

    shape = KINDS["t_shirt"].shapes[0]
    for seed in (1, 2, 7, 14, 23):  # necks deep enough to come to a point
        points = spaced(np.asarray(practice_outline("t_shirt", "front", seed).flattened(0.05))[:-1], 2.0)
        points = points if (points * np.roll(points, -1).conjugate()).imag.sum() < 0 else points[::-1]
        sharp = corners_of(points)
        assert len(sharp) > len(corner_marks(shape))
        at = [points[at] for _, at in named(points, sharp, shape).corners]
        assert len({round(one.real, 3) for one in at}) == len(at)  # no two marks on one place
        assert min(abs(one.real) for one in at) > 40  # and none on the fold


def test_a_v_neck_comes_to_a_point_on_the_fold_and_a_round_one_does_not() -> None:
    tracing = traced_photo("shirt", photo("t_shirt", "front").points, A4, [("t_shirt", "front")])
    view = view_of(tracing)
    piece = tracing.pieces[0]

    def neck(piece: PhotoPiece) -> tuple[Path, float]:
        outline = outline_of(piece, view, 1.0)[0]
        path = outline.run("neckline")[0].path
        at_fold = path.start_direction if abs(path.start.real) < 1e-6 else path.end_direction
        return path, abs(at_fold.imag)

    assert neck(piece)[1] < 0.05  # square to the fold
    table = table_of(piece, view)
    first, last = piece.corners[0], piece.corners[-1]
    a, b = table[last], table[first]
    count = (first - last) % len(table)
    deep = (a + b) / 2 + 1j * (b - a) / abs(b - a) * -120
    share = np.linspace(0, 1, count + 1)
    line = np.where(share < 0.5, a + (deep - a) * share * 2, deep + (b - deep) * (share * 2 - 1))
    for n, at in enumerate(line):
        table[(last + n) % len(table)] = at
    cut = with_places(piece, view, table)
    path, steep = neck(cut)
    assert len(path.segments) <= 2 and steep > 0.5
    assert path.length == pytest.approx(abs(a - deep), abs=2.0)


def test_a_garment_of_another_kind_is_not_taken_for_it() -> None:
    points = photo("fitted_skirt", "front", shot=SMALL).points
    with pytest.raises(CaddetError, match="doesn't look like"):
        traced_photo("skirt", points, A4, [("trousers", "front")])


def test_the_fewest_curves_within_the_tolerance() -> None:
    quarter = 200 * np.exp(1j * np.linspace(0, np.pi / 2, 90))
    path, off = fair_through(list(quarter), 1.0)
    assert len(path.segments) == 1 and off < 1.0 and path.length == pytest.approx(np.pi * 100, abs=0.5)
    wave = np.linspace(0, 400, 300) + 40j * np.sin(np.linspace(0, 400, 300) / 60)
    loose, tight = fair_through(list(wave), 2.0), fair_through(list(wave), 0.05)
    assert len(loose[0].segments) < len(tight[0].segments) and tight[1] <= 0.05
    line, _ = fair_through([0, 1 + 0.1j, 2 - 0.1j, 3], 1.0)
    assert line.length == 3
    with pytest.raises(ValueError):
        fair_through([5 + 5j, 5 + 5j])


# --- the camera, the command line -----------------------------------------------------------------


def test_the_same_seed_gives_the_same_picture_and_another_another() -> None:
    camera = camera_on("collar", "collar", shot=replace(SMALL, size=(640, 480)))
    assert camera.take() == camera.take()
    assert replace(camera, seed=camera.seed + 1).take() != camera.take()
    assert len(SimulatedCamera(Scene(camera.scene.pieces, sheet=""), Shot(size=(640, 480))).take()) > 1000


def test_the_command_line_traces_a_photograph(tmp_path: File, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "shirt.jpg"
    file.write_bytes(photo_bytes("t_shirt", "front", shot=SMALL))
    out = tmp_path / "shirt.caddet"
    assert main(["trace", str(file), "--kind", "t_shirt", "--json", "-o", str(out)]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["scale"] > 0.2 and told["residual"] < 0.3 and told["outlines"][0]["name"] == "front"
    opened = open_project(out)
    assert opened.whole and len(opened.pictures) == 1
    assert main(["trace", str(file), "-o", str(out)]) == 2 and "already" in capsys.readouterr().err
    assert main(["trace", str(file), "--sheet", "Letter", "--force", "-o", str(out)]) == 2
    assert "looks like A4" in capsys.readouterr().err
    assert main(["trace", str(file), "--kind", "t_shirt", "--shape", "collar", "--force", "-o", str(out)]) == 2
    assert "no piece “collar”" in capsys.readouterr().err
    (tmp_path / "empty.jpg").write_bytes(b"")
    assert main(["trace", str(tmp_path / "empty.jpg"), "-o", str(tmp_path / "x.caddet")]) == 2
    assert main(["trace", str(tmp_path / "gone.jpg"), "-o", str(tmp_path / "x.caddet")]) == 2


# --- the picture under the pieces, a wrap -----------------------------------------------------------


@pytest.mark.parametrize(("kind", "shape"), [("t_shirt", "front"), ("jacket_front", "front"), ("", "")])
def test_the_table_lies_under_a_piece_where_it_was_traced(kind: str, shape: str) -> None:
    name = kind or "jacket_front"
    shapes = [(kind, shape)] if kind else []
    tracing = traced_photo("x", photo(name, "front", shot=SMALL).points, A4, shapes)
    view, piece = view_of(tracing), tracing.pieces[0]
    made, _ = outline_of(piece, view, 1.0)
    motion = laid_as(piece, view, made)
    own = (lambda p: p.real > 5) if made.fold else (lambda p: True)
    places = [motion(complex(p)) for p in table_of(piece, view)[::25]]
    off = [made.outline().nearest(p)[0] for p in places if own(p)]
    assert len(off) > 10 and max(off) < 3.0


# --- several pictures, scanned pages ----------------------------------------------------------------


def crosses(*places: complex) -> tuple[Path, ...]:
    return tuple(Path.polyline([at - 9 * way, at + 9 * way]) for at in places for way in (1, 1j))


def two_shots(marked: bool = True) -> list[SimulatedCamera]:
    """A trouser front too long for one picture, taken in two that overlap, each with a sheet."""
    outline = whole_outline("trousers", "front", 5)
    left, top, right, low = outline.bounds()
    middle = (top + low) / 2
    marks = (70 - 60j, 150 + 10j, 90 + 70j, 200 - 30j, 180 + 80j)
    lines = crosses(*(complex(left, middle) + at for at in marks)) if marked else ()
    leg = Lying("leg", outline, (96, 122, 150), lines)
    looks = ((left - 40, top - 40, right + 300, middle + 130), (left - 40, middle - 130, right + 300, low + 40))
    sheets = ((complex(right + 40, top + 60), 5.0), (complex(right + 40, low - 380), -4.0))
    return [
        SimulatedCamera(
            Scene((leg,), "A4", at, turn, look=look), Shot(tilt=12, lens=0.004, turn=20 * n, size=(1800, 1350)), 3 + n
        )
        for n, ((at, turn), look) in enumerate(zip(sheets, looks, strict=True))
    ]


def test_two_pictures_are_joined_by_their_crosses_and_a_long_leg_comes_out_true() -> None:
    picture, found = joined_photos([read_picture(one.take()) for one in two_shots()], A4)
    tracing = traced_from("leg", picture.points, found, [("trousers", "front")])
    made = made_from(tracing)
    assert made.pattern is not None
    front = made.pattern.piece("front")
    for run, length in true_lengths("trousers", "front", 5).items():
        assert front.run_length(run) == pytest.approx(length, abs=3.0), run


def test_pictures_that_share_no_marks_are_told_what_to_draw(tmp_path: File, capsys: pytest.CaptureFixture[str]) -> None:
    files = []
    for n, camera in enumerate(two_shots(marked=False)):
        files.append(tmp_path / f"part {n}.jpg")
        files[-1].write_bytes(replace(camera, shot=replace(camera.shot, creases=0)).take())
    assert main(["trace", *map(str, files), "-o", str(tmp_path / "leg.caddet")]) == 2
    assert "draw three or more crosses" in capsys.readouterr().err
    assert main(["trace", str(files[0]), "list.csv", "-o", str(tmp_path / "leg.caddet")]) == 2
    assert "traced alone" in capsys.readouterr().err


def page(shift: complex, fine: float = 6.0) -> Picture:
    """A scanned A4 page of a rubbed-off collar with crosses; ``shift`` moves the tracing on the glass, in mm."""
    page_ = Image.new("RGB", (round(210 * fine), round(297 * fine)), (246, 245, 240))
    draw_ = ImageDraw.Draw(page_)
    outline = [20 + 60j, 190 + 52j, 300 + 60j, 296 + 130j, 180 + 118j, 24 + 132j]
    at = [((p + shift).real * fine, (p + shift).imag * fine) for p in [*outline, outline[0]]]
    draw_.line(at, fill=(40, 40, 60), width=4)
    for mark in (130 + 80j, 160 + 100j, 140 + 112j, 176 + 70j):
        for way in (6, 6j):
            a, b = mark + shift - way, mark + shift + way
            draw_.line([(a.real * fine, a.imag * fine), (b.real * fine, b.imag * fine)], fill=(40, 40, 60), width=5)
    return Picture(np.asarray(page_))


def test_scanned_pages_are_joined_and_the_drawn_outline_followed() -> None:
    picture, found = joined_photos([page(0j), page(-100 + 8j)], SHEETS["scan_A4"])
    tracing = traced_from("collar", picture.points, found)
    places = table_of(tracing.pieces[0], view_of(tracing))
    wide, high = np.ptp(places.real), np.ptp(places.imag)
    assert wide == pytest.approx(280, abs=2.5) and high == pytest.approx(80, abs=2.5)
    alone = find_sheet(page(0j).points, SHEETS["scan_A4"])
    assert alone.view.scale == pytest.approx(1 / 6, rel=1e-3)
    with pytest.raises(NoSheet, match="another ratio"):
        find_sheet(page(0j).points[:700], SHEETS["scan_A4"])


def test_a_centre_that_is_named_lies_along_the_grain_and_the_residual_is_kept() -> None:
    tracing = traced_photo("x", photo("jacket_front", "front", shot=SMALL).points, A4)
    assert 0 < tracing.residual < 0.3
    piece = tracing.pieces[0]
    made = made_from(tracing)
    assert made.pattern is not None
    runs = made.pattern.pieces[0].runs()
    longest = max(range(len(runs)), key=lambda n: made.pattern.pieces[0].run_length(runs[n]))  # type: ignore[union-attr]
    edges = tuple(PhotoEdge(name="front_edge" if n == longest else f"edge_{n + 1}") for n in range(len(piece.corners)))
    named_piece = piece.model_copy(update={"edges": edges})
    after = made_from(tracing.model_copy(update={"pieces": (named_piece,)})).pattern
    assert after is not None
    path = after.pieces[0].run("front_edge")[0].path
    assert abs(path.end.real - path.start.real) < 1e-6
    assert path.length == pytest.approx(made.pattern.pieces[0].run_length(runs[longest]), abs=0.3)


def test_every_practice_garment_is_traced_and_named() -> None:
    for n, practice in enumerate(("skirt_back", "shorts", "jacket", "swimsuit_back")):
        code = f"{practice} {'caddet' if n % 2 else 'A4'} {n + 4}"
        camera = practice_camera(code)
        picture = read_picture(replace(camera, shot=replace(camera.shot, size=(1500, 1125))).take())
        kind, shape = PRACTICE[practice].kind, PRACTICE[practice].shape
        sheet = SHEETS["caddet" if n % 2 else "A4"]
        tracing, trouble = traced_as_far(practice, picture.points, find_sheet(picture.points, sheet), [(kind, shape)])
        assert not trouble and tracing.pieces[0].kind == kind


def test_an_outline_that_is_not_what_it_should_be_is_kept_as_one_of_no_kind() -> None:
    picture = photo("fitted_skirt", "front", shot=SMALL)
    tracing, trouble = traced_as_far("x", picture.points, find_sheet(picture.points, A4), [("t_shirt", "front")])
    assert "doesn't look like" in trouble
    assert len(tracing.pieces) == 1 and not tracing.pieces[0].kind and len(tracing.pieces[0].corners) == 4


def test_a_swimsuit_from_two_photographs_is_sewn_trued_lengthened_and_printed() -> None:
    recipe = Recipe()
    for practice in ("swimsuit", "swimsuit_back"):
        camera = practice_camera(f"{practice} caddet 7")
        points = read_picture(replace(camera, shot=replace(camera.shot, size=(1800, 1350))).take()).points
        one = PRACTICE[practice]
        traced = traced_photo(practice, points, SHEETS["caddet"], [(one.kind, one.shape)])
        recipe = recipe.with_source(TracedSource(label=one.label, tracing=traced))
    for run in ("side", "shoulder", "crotch"):
        recipe = recipe.with_step(step_entry("sew", {"first": (f"front.{run}",), "second": (f"b2_back.{run}",)}))
    recipe = recipe.with_step(step_entry("blend", {}))
    values = {"pieces": ("front", "b2_back"), "at": 300.0, "amount": 30.0, "stretch": "exact"}
    before = make(EvaluateRequest(demo_document().model_copy(update={"recipe": recipe})))
    made = make(
        EvaluateRequest(demo_document().model_copy(update={"recipe": recipe.with_step(step_entry("lengthen", values))}))
    )
    assert made.pattern is not None and before.pattern is not None
    assert not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    assert not [line.label for line in made.proof if line.verdict == "fails"]
    grown = made.pattern.run_length("front.centre_front") - before.pattern.run_length("front.centre_front")
    assert grown == pytest.approx(30 / (1 + made.document.chosen_cloth.stretch_along), abs=0.5)
    assert (
        len(export_bytes(made, ".pdf", paper="A4", lines="both", progress=lambda _: None, cancelled=lambda: False))
        > 10_000
    )


def test_a_corner_where_the_picture_shows_none_is_told() -> None:
    tracing = traced_photo("skirt", photo("fitted_skirt", "front", shot=SMALL).points, A4, [("fitted_skirt", "front")])
    view, piece = view_of(tracing), tracing.pieces[0]
    assert unseen_corners(piece, view) == ()
    moved = tuple((at + 40) % len(piece.points) if n == 0 else at for n, at in enumerate(piece.corners))
    assert unseen_corners(piece.model_copy(update={"corners": moved}), view) == (moved[0],)
