"""Tracing with the tape: the solver, what it says of readings, the pieces it makes, lists of readings."""

from __future__ import annotations

from pathlib import Path as File

import numpy as np
import pytest

from caddet.core.demo import demo_document
from caddet.core.drafting.curves import bend
from caddet.core.errors import InputError
from caddet.core.formats.project import no_pictures, open_project, save_project
from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pipeline import make
from caddet.core.recipe.document import Document, Recipe, TracedSource
from caddet.core.recipe.traced import Reading, TapeTracing
from caddet.core.tracing.kinds import KINDS
from caddet.core.tracing.net import Net, lengths
from caddet.core.tracing.outlining import path_of
from caddet.core.tracing.readings_csv import read_readings, readings_text
from caddet.core.tracing.solving import expected, solve, width_at
from caddet.core.tracing.tape import after, set_reading
from tests.garments import garment, read_by_tape, true_reading

ALL = sorted(KINDS)
SHIRT = KINDS["t_shirt"]


def project(kind: str, readings: tuple[Reading, ...]) -> Document:
    source = TracedSource(label=kind, tracing=TapeTracing(kind=kind, readings=readings))
    return demo_document().model_copy(update={"recipe": Recipe().with_source(source)})


def made_from(kind: str, readings: tuple[Reading, ...]) -> Made:
    return make(EvaluateRequest(project(kind, readings)))


@pytest.mark.parametrize("name", ALL)
def test_the_curves_of_the_net_are_those_of_the_geometry(name: str) -> None:
    kind = KINDS[name]
    net, x = garment(kind, 5)
    marks = net.marks(x[None])
    curves = net.curves(x[None], marks)
    for shape in kind.shapes:
        for run in shape.runs:
            cubics = curves[shape.name, run.name]
            path = Path(tuple(Cubic(*map(complex, row)) for row in cubics[0]))
            assert float(lengths(cubics)[0]) == pytest.approx(path.length, abs=1e-3)
            points = [complex(marks[shape.name, mark][0]) for mark in run.through]
            if run.full and len(points) == 2:
                full, late = (x[net.where[shape.name, run.name, key]] for key in ("full", "late"))
                own = bend(points[0], path.start_direction, points[1], path.end_direction, full, late)
                assert own.out == pytest.approx(path.segments[0].out, abs=1e-6)  # type: ignore[union-attr]
            else:
                start = path.start_direction if run.start is not None else None
                end = path.end_direction if run.end is not None else None
                same = smooth_through(points, start, end)
                assert same.point_at(same.length / 3) == pytest.approx(path.point_at(path.length / 3), abs=1e-6)


@pytest.mark.parametrize("name", ALL)
def test_pieces_of_a_kind_are_whole_and_sewn(name: str) -> None:
    kind = KINDS[name]
    net, x = garment(kind, 2)
    made = made_from(name, tuple(read_by_tape(kind, net, x, exact=True)))
    assert made.pattern is not None and not made.findings
    assert {piece.name for piece in made.pattern.pieces} == {shape.name for shape in kind.shapes}
    assert len(made.pattern.seams) == len(kind.seams)
    assert not [line.label for line in made.proof if line.verdict == "fails" and line.kind != "seam"]


@pytest.mark.parametrize("name", ALL)
def test_every_needed_reading_is_missed_when_it_is_not_there(name: str) -> None:
    kind = KINDS[name]
    net, x = garment(kind, 1)
    readings = read_by_tape(kind, net, x, checks=False)
    assert solve(kind, readings).whole
    for left_out in readings:
        rest = [one for one in readings if one is not left_out]
        missing = solve(kind, rest).missing
        assert left_out.what in [one.name for one in missing], left_out.what


def test_without_readings_all_that_is_needed_is_missing_and_more_is_not() -> None:
    for kind in KINDS.values():
        missing = {one.name for one in solve(kind, ()).missing}
        assert missing <= {one.name for one in kind.asked if one.needed}
        assert len(missing) >= len(missing & {one.name for one in kind.asked}) > 0


def test_a_misread_reading_is_named_left_out_and_the_piece_is_as_without_it() -> None:
    net, x = garment(SHIRT, 3)
    good = read_by_tape(SHIRT, net, x)
    spoilt = [
        one.model_copy(update={"values": (one.values[0] - 25.4,)}) if one.what == "chest" else one for one in good
    ]
    solved = solve(SHIRT, spoilt)
    assert [[read.reading.what for read in group] for group in solved.doubtful] == [["chest"]]
    read = next(read for read in solved.reads if read.reading.what == "chest")
    assert read.out and read.value - read.error == pytest.approx(true_reading(net, x, SHIRT, "chest"), abs=6)
    without = solve(SHIRT, [one for one in good if one.what != "chest"])
    for key, at in without.marks.items():
        assert solved.marks[key] == pytest.approx(at, abs=0.01)
    made = made_from("t_shirt", tuple(spoilt))
    assert [f.code for f in made.findings] == ["trace.misread"] and made.pattern is not None


def test_readings_that_contradict_each_other_and_nothing_more_are_all_named() -> None:
    kind = KINDS["collar"]
    net, x = garment(kind, 4)
    readings = [*read_by_tape(kind, net, x, checks=False)]
    across = true_reading(net, x, kind, "across")
    solved = solve(kind, [*readings, Reading(what="across", values=(across + 40,))])
    assert solved.doubtful and len(solved.doubtful[0]) > 1
    assert not any(read.out for read in solved.reads)


def test_a_width_at_a_height_is_what_the_piece_measures_there() -> None:
    net, x = garment(SHIRT, 6)
    readings = read_by_tape(SHIRT, net, x)
    plain = solve(SHIRT, readings)
    at = round(0.5 * (plain.marks["front", "underarm"].imag + plain.marks["front", "hem_side"].imag))
    was = width_at(plain, "width", at)
    assert was is not None
    waisted = solve(SHIRT, [*readings, Reading(what="width", at=at, values=(was - 40,))])
    now = width_at(waisted, "width", at)
    assert now == pytest.approx(was - 40, abs=1.0)
    side = path_of(waisted.curves["front", "side"])
    assert side.length > abs(side.end - side.start) + 1
    off = solve(SHIRT, [*readings, Reading(what="width", at=3000, values=(400,))])
    assert [one.what for one in off.strange] == ["width"]


def test_what_is_expected_is_what_a_tape_would_read() -> None:
    net, x = garment(SHIRT, 8)
    solved = solve(SHIRT, read_by_tape(SHIRT, net, x, exact=True))
    for asked in SHIRT.asked:
        assert expected(solved, asked) == pytest.approx(true_reading(net, x, SHIRT, asked.name), abs=0.5)


def test_readings_taken_twice_use_the_middle_and_are_told_when_they_differ() -> None:
    net, x = garment(SHIRT, 3)
    readings = [
        one.model_copy(update={"values": (one.values[0], one.values[0] + 1, one.values[0] + 30)})
        if one.what == "side"
        else one
        for one in read_by_tape(SHIRT, net, x)
    ]
    solved = solve(SHIRT, readings)
    side = next(read for read in solved.reads if read.reading.what == "side")
    assert side.value == side.reading.values[1]
    assert [f.code for f in made_from("t_shirt", tuple(readings)).findings] == ["trace.repeated"]


def test_the_work_goes_from_one_needed_reading_to_the_next() -> None:
    tracing = TapeTracing(kind="t_shirt")
    order = []
    while what := after(SHIRT, tracing, order[-1] if order else ""):
        order.append(what)
        tracing = set_reading(tracing, what, None, (100.0,))
    assert order == [one.name for one in SHIRT.asked if one.needed]
    assert set_reading(tracing, order[0], None, ()).readings == tracing.readings[1:]


def test_a_tracing_is_kept_with_its_readings_and_an_unknown_kind_stops_only_itself(tmp_path: File) -> None:
    net, x = garment(SHIRT, 1)
    document = project("t_shirt", tuple(read_by_tape(SHIRT, net, x)))
    save_project(document, tmp_path / "shirt.caddet", no_pictures)
    assert open_project(tmp_path / "shirt.caddet").document == document
    strange = make(EvaluateRequest(project("sail", ())))
    assert strange.pattern is None
    assert any("no kind of garment" in str(f.sentence) and f.severity == "stops" for f in strange.findings)


# --- lists of readings ----------------------------------------------------------------------------


def test_a_list_of_readings_comes_back_as_it_was() -> None:
    readings = (
        Reading(what="chest", values=(515.0, 520.0)),
        Reading(what="width", at=350.0, values=(475.0,)),
        Reading(what="hem", values=(520.5,)),
    )
    assert read_readings(readings_text(readings), SHIRT) == readings


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("", "line 1: expected the header"),
        ("what;value\nchest;5", "line 1: expected the header"),
        ("what,at,value\nbelly,,40", "line 2, column what: “belly” is not measured"),
        ("what,at,value\nchest,,fourty", "line 2, column value"),
        ("what,at,value\n\nchest,,-4", "line 3, column value"),
        ("what,at,value\nchest,12,40", "line 2, column at"),
        ("what,at,value\nwidth,,40", "line 2, column at"),
        ("what,at,value\nchest,,60000", "line 2, column value"),
        ("what,at,value\nchest\x00,,1", "not a text file"),
    ],
)
def test_a_list_that_cannot_be_used_is_refused_with_its_place(text: str, told: str) -> None:
    with pytest.raises(InputError) as caught:
        read_readings(text, SHIRT)
    assert told in str(caught.value)


def test_inches_semicolons_and_decimal_commas_are_read() -> None:
    inches = read_readings('what,at,value\nchest,,20 1/4\nhem,,20.5\nside,,"17¼"""', SHIRT, "in")
    assert [one.values[0] for one in inches] == pytest.approx([514.35, 520.7, 438.15])
    assert read_readings("what;at;value\nchest;;51,5", SHIRT)[0].values[0] == 515.0


def test_the_kinds_say_how_everything_is_read() -> None:
    for kind in KINDS.values():
        names = [one.name for one in kind.asked] + [one.name for one in kind.widths]
        assert len(set(names)) == len(names) and kind.guide and kind.about
        assert all(one.how.endswith(".") and one.seen for one in kind.asked)
        usual = Net(kind.shapes)
        for asked in kind.asked:
            value = usual.seen(usual.usual[None], asked.seen)[0]
            assert np.all(value > 1.0) or asked.name in ("shoulder_drop", "strap_drop", "rise"), asked.name
