"""Pieces of one's own: points and formulas worked out, edges drawn, seams sewn, and whatever can be written wrongly."""

from __future__ import annotations

import cmath
import math
import random

import pytest

from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.figures.language import Quantity
from caddet.core.geometry.segments import dot, unit
from caddet.core.own_pieces.made import figures_of, make_pieces
from caddet.core.own_pieces.reading import read
from caddet.core.own_pieces.taught import PIECE, SHEET, SKIRT, WORDING
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.soundness import fault
from caddet.core.recipe.document import Recipe
from caddet.core.recipe.needed import wanted_measures
from caddet.core.recipe.planning import needs
from tests.making import drafted, full_people, pattern_of, step, whole_bodies

BODY = {name: Quantity(value, 1) for name, value in {"bust": 920.0, "waist": 760.0, "hip": 1000.0, "waist_to_hip": 200.0, "shoulder_to_waist_front": 430.0}.items()}  # fmt: skip
SQUARE = "edge top: A - B\nedge right: B - C\nedge bottom: C - D, hem\nedge left: D - A\n"
BOX = "piece Box\nA\nB = A out 20\nC = B down 30\nD = A down 30\n" + SQUARE


def points(text: str) -> dict[str, complex]:
    """Where the points of a recipe's last piece lie, in mm."""
    notes = make_pieces(text, BODY).notes
    wrong = [note for note in notes if note.wrong and "edges" not in note.says]
    assert not wrong, wrong
    return {note.point: note.at for note in notes if note.point}


def wrong(text: str) -> list[tuple[int, str]]:
    return [(note.line, str(note.says)) for note in make_pieces(text, BODY).notes if note.wrong]


def one(text: str) -> Piece:
    made = make_pieces(text, BODY)
    assert made.wrong is None, made.wrong
    (piece,) = made.pattern.pieces
    assert not fault(piece)
    return piece


def test_points_are_where_ruler_square_and_compass_put_them() -> None:
    found = points(
        "piece X\nA\nA down shoulder to waist, front = B\nC = from B square out bust / 4 + 2\nD = A towards C 10\n"
        "E = A to C at 1/2 square 3\nF = A to C for 5 square -2\nG = A swing 45 onto B C\nH = A C meets B G\nJ = under C, level with A\n"
        "K = A down 3 out 4\nL = A down A_K in 1in\n"
    )
    assert found["B"] == 430j and found["C"] == 250 + 430j, "a bare number is in cm: 92 / 4 + 2"
    way = unit(found["C"])
    assert abs(found["D"] - way * 100) < 1e-9
    assert abs(found["E"] - (found["C"] / 2 + way * 1j * 30)) < 1e-9, "to the right as one goes"
    assert abs(found["F"] - (way * 50 - way * 1j * 20)) < 1e-9
    assert found["J"] == 250 and found["K"] == 40 + 30j and abs(found["L"] - (-25.4 + 50j)) < 1e-9
    far = points("piece X\nA\nB = A down 40\nC = B out 10\nG = A swing 50 onto B C\nH = A C meets B G\n")
    assert abs(found["H"] - found["C"]) < 1e-6 and abs(far["G"] - (300 + 400j)) < 1e-9, "3, 4, 5"
    assert abs(far["H"] - far["C"]) < 1e-9
    inches = points("numbers in inches\nwide = bust / 4 + 2\npiece X\nA\nB = A out wide down 1cm\n")
    assert abs(inches["B"] - complex(230 + 50.8, 10)) < 1e-9


def test_lines_stand_in_any_order_and_a_piece_sees_those_above() -> None:
    found = points("piece X\nC = B out 2\nB = A down 1\nA\npiece Y\nD = C out far\nfar = near * 2\nnear = 3\n")
    assert found["D"] == 80 + 10j


@pytest.mark.parametrize(
    ("text", "line", "said"),
    [
        ("piece X\nA = B down 2\nB = A out 3\n" + SQUARE, 2, "A needs B, B needs A"),
        ("a = b\nb = a + 1\n" + BOX, 1, "a needs b, b needs a"),
        ("piece X\nA\nB = A down A_B\n", 3, "B needs B"),
        (BOX.replace("out 20", "out hip * hip"), 3, "must come out as a length"),
        (BOX.replace("out 20", "out nose"), 3, "there is no “nose” here"),
        (BOX.replace("out 20", "out"), 3, "how far out?"),
        (BOX.replace("out 20", "over 20"), 3, "after A comes a way"),
        (BOX.replace("out 20", "out 2 / 0"), 3, "division by zero"),
        (BOX.replace("out 20", "out 25m"), 3, "more than {20 m} away"),
        (BOX.replace("out 20", "out hip + (2"), 3, "expected “)”"),
        (BOX.replace("B = A", "B = Q"), 3, "there is no point Q"),
        (BOX + "B = A down 3\n", 10, "the point B was given in line 3 already"),
        (BOX.replace("C - D", "D - C"), 8, "begins at D, and the one before it ends at C"),
        (BOX.replace("edge left: D - A\n", ""), 6, "an outline goes round without a gap"),
        (BOX.replace(", hem", ", hemmed"), 8, "“hemmed” says nothing of an edge"),
        (BOX.replace("A - B", "A + B"), 6, "expected - and a point"),
        (BOX.replace("A - B", "A (C) B"), 6, "the legs of the dart at C are"),
        (BOX.replace("out 20", "out 0"), 6, "lie on each other"),
        ("hip = 3\n" + BOX, 1, "is a measure of the body"),
        (BOX + "sew box.left with box.nothing\n", 10, "there is no edge “box.nothing”"),
        (BOX + "sew left with box.right\n", 10, "“left” is no edge"),
        (BOX + "sew box.left with box.right, glued\n", 10, "“glued” says nothing of a seam"),
        (BOX + "check wide: box.top\n", 10, "a check says what is to be how long"),
        (BOX + "check wide: level hip = hip\n", 10, "no piece has the level “hip”"),
        (BOX + "notch top at C\n", 10, "C does not lie on the edge top"),
        (BOX + "notch top 40\n", 10, "beyond the end of the edge"),
        (BOX + "level hip: A A\n", 10, "lie on each other"),
        (BOX + "E = A B meets C D\n", 10, "side by side and never meet"),
        (BOX + "E = A swing 2 onto C D\n", 10, "does not reach the line"),
        (BOX.replace("edge top: A - B", "edge top: A - B, level at A"), 6, "only a curve can be held"),
        (BOX.replace("edge top: A - B", "edge top: A - B, bow 2"), 6, "bow is for a curve"),
        (BOX + "what is this\n", 10, "expected a point"),
        (BOX + "edge Top: A - B\n", 10, "names are small letters"),
        ("A\n", 1, "belong to a piece"),
        ("numbers in feet\n" + BOX, 1, "not “feet”"),
        ("piece X, blue\n", 1, "“blue” says nothing of a piece"),
        ("piece X\nA\n", 1, "X has no edges yet"),
        ("", 1, "begin with a piece"),
        ("# only a remark\n", 1, "begin with a piece"),
    ],
)
def test_what_is_written_wrongly_is_told_at_its_line(text: str, line: int, said: str) -> None:
    found = wrong(text)
    assert any(at == line and said in words for at, words in found), found
    assert make_pieces(text, BODY).pattern == Pattern(), "nothing half made"


def test_a_long_chain_is_followed_in_order_and_told_where_it_stands_on_its_head() -> None:
    chain = [f"P{n} = P{n - 1} down 0.1" for n in range(1, 300)]
    head = "piece X\nP0\n"
    assert abs(points(head + "\n".join(chain) + "\n")["P299"] - 299j) < 1e-6
    assert any("write them in the order" in words for _, words in wrong(head + "\n".join(reversed(chain)) + "\n"))


def test_a_wrong_piece_is_told_once_and_not_again_where_it_is_missed() -> None:
    found = wrong(SKIRT.replace("square min(10, ", "square ten + min(10, "))
    assert [line for line, _ in found] == [
        next(n for n, line in enumerate(SKIRT.splitlines(), 1) if "min(10, " in line)
    ]


def test_whatever_is_struck_out_or_mixed_up_never_raises() -> None:
    dice = random.Random(11)
    lines = SKIRT.splitlines()
    for _ in range(150):
        shuffled = list(lines)
        for _ in range(dice.randint(1, 4)):
            at = dice.randrange(len(shuffled))
            match dice.randrange(4):
                case 0:
                    del shuffled[at]
                case 1:
                    shuffled.insert(dice.randrange(len(shuffled)), shuffled[at])
                case 2:
                    cut = dice.randrange(len(shuffled[at]) + 1)
                    shuffled[at] = shuffled[at][:cut]
                case _:
                    letter = dice.choice("ABDGHK-~=().,+ 0")
                    cut = dice.randrange(len(shuffled[at]) + 1)
                    shuffled[at] = shuffled[at][:cut] + letter + shuffled[at][cut:]
        text = "\n".join(shuffled)
        made = make_pieces(text, BODY)
        assert made.wrong is not None or made.pattern.pieces
        assert all(1 <= note.line <= len(shuffled) and str(note.says) for note in made.notes), text


def test_every_example_of_the_wording_is_read() -> None:
    for example, _ in WORDING:
        if example.startswith(("A_B", "edge_front")):
            assert not read(f"x = {example}\npiece X\n").faults
        else:
            assert not read(f"piece X\n{example}\n" if not example.startswith("piece") else example).faults, example


# --- outlines -------------------------------------------------------------------------------------


def test_a_curve_is_bent_with_the_dart_closed_and_ends_as_it_is_held() -> None:
    made = make_pieces(SKIRT, BODY)
    front = made.pattern.piece("skirt_front")
    before, after = (edge.path for edge in front.run("skirt_front.waist"))
    first, a, apex, b = front.legs("skirt_front.dart_k")
    assert abs(abs(a - apex) - abs(b - apex)) < 1e-9
    turn = (a - apex) / (b - apex)
    assert abs(after.start_direction * turn - before.end_direction) < 1e-6, "no kink where the legs meet"
    side = front.run("skirt_front.side")[0].path
    assert abs(dot(after.end_direction, side.start_direction)) < 1e-9, "square to the side"
    assert abs(before.start_direction - 1) < 1e-9 and abs(side.end_direction - 1j) < 1e-9
    assert abs(first) < 1e-9 or first is not None


def test_two_darts_can_not_have_one_point() -> None:
    """From the top and from the bottom to one point: legs are equal, but what is drawn is no piece."""
    text = (
        "piece X\nA\nB = A out 27\nC = B down 30\nD = A down 30\nK = A out 13.5 down 10\nE = A out 12.5\nF = A out 14.5\n"
        "L = D out 14.5\nM = D out 12.5\nedge top: A - E (K) F - B\nedge right: B - C\nedge bottom: C - L (K) M - D\nedge left: D - A\n"
    )
    assert wrong(text) == [(13, "K is the point of another dart already; give this one its own")]
    assert not wrong(text.replace("L (K) M", "L - M"))


def test_an_outline_drawn_the_other_way_round_is_the_same_piece() -> None:
    there = one(BOX)
    back = one(
        "piece Box\nA\nB = A out 20\nC = B down 30\nD = A down 30\nedge left: A - D\nedge bottom: D - C, hem\nedge right: C - B\nedge top: B - A\n"
    )
    assert abs(there.outline().length - 1000) < 1e-9
    for piece in (there, back):
        corners = [edge.path.start for edge in piece.edges]
        turns = sum(
            cmath.phase((c - b) / (b - a))
            for a, b, c in zip(corners, corners[1:] + corners[:1], corners[2:] + corners[:2], strict=True)
        )
        assert abs(turns - 2 * math.pi) < 1e-9, "clockwise on the table"
        assert {e.own: e.finish for e in piece.edges} == {
            "top": "turned",
            "right": "turned",
            "bottom": "hem",
            "left": "turned",
        }


def test_marks_grain_cuts_and_bows_are_as_written() -> None:
    piece = one(
        BOX.replace("piece Box", "piece Box, pair, cut 4, from lining").replace(
            "edge top: A - B", "edge top: A ~ B, bow 2"
        )
        + "grain: A C\nlevel half: D C\ndouble notch right at 10\n"
    )
    assert piece.pair and piece.cuts[0].count == 4 and piece.cuts[0].cloth == "lining"
    assert piece.grain.b - piece.grain.a == 200 + 300j and piece.notches[0].double
    top = piece.run("box.top")[0].path
    assert abs(top.bounds()[1] + 20) < 1e-6, "two centimetres out in its middle"


# --- seams and checks -----------------------------------------------------------------------------

FLOUNCE = "piece Flounce\nA\nB = A out 3 * edge_front_hem\nC = B down 20\nD = A down 20\nedge top: A - B\nedge right: B - C, fold\nedge bottom: C - D, hem\nedge left: D - A\nsew front.hem with flounce.top, gathered\n"


def test_a_piece_of_ones_own_is_sewn_to_the_block_and_follows_on_another_body() -> None:
    who, other = demo_document().people[0], whole_bodies()[40]
    lengths = []
    for person in (who, other):
        made = drafted(
            "skirt.straight",
            person,
            steps=(step("flare", amount=40.0, edges=("side",)), step("own_pieces", recipe=FLOUNCE)),
        )
        assert not [o.stuck for o in made.evaluated.outcomes if o.stuck]
        pattern = pattern_of(made)
        seam = pattern.seam("s3.front_hem_flounce_top")
        hem, top = (pattern.length(layer) for layer in seam.layers)
        assert abs(top / hem - 3) < 1e-9 and seam.kind == "gathered" and abs(seam.amount - 3) < 1e-9
        assert pattern.piece("front").run("front.hem")[0].finish == "", "it is sewn now, not turned up"
        assert all(line.holds for line in made.proof if line.name.startswith("s3"))
        lengths.append(top)
    assert abs(lengths[0] - lengths[1]) > 20
    wider = drafted(
        "skirt.straight", who, steps=(step("flare", amount=90.0, edges=("side",)), step("own_pieces", recipe=FLOUNCE))
    )
    assert pattern_of(wider).run_length("s3.flounce.top") > lengths[0] + 100, "it follows what was done before it"


def test_a_centre_seam_is_sewn_to_the_other_side_and_a_ring_to_both_halves() -> None:
    pattern = make_pieces(SKIRT, BODY).pattern
    centre = next(seam for seam in pattern.seams if seam.closes())
    assert [part.ref.mirrored for layer in centre.layers for part in layer] == [False, True]
    ring = next(seam for seam in pattern.seams if len(seam.layers[1]) == 4)
    assert [(str(part.ref), part.backwards) for part in ring.layers[1]] == [
        ("skirt_back.waist'", False),
        ("skirt_front.waist'", True),
        ("skirt_front.waist", False),
        ("skirt_back.waist", True),
    ]


def test_checks_are_measured_on_the_finished_outline() -> None:
    good, short = drafted("own.points"), drafted("own.points", recipe=SKIRT.replace("Z = A down 20", "Z = A down 4"))
    assert all(line.holds for line in good.proof)
    line = next(line for line in short.proof if line.name == "hips_go_through")
    assert line.fails and line.limit > line.value
    narrow = drafted("own.points", recipe=SKIRT.replace("G = F out wide", "G = F out wide - 1"))
    assert next(line for line in narrow.proof if line.name == "hip").fails


# --- as a block -----------------------------------------------------------------------------------


def test_a_recipe_asks_for_the_measures_it_names_and_for_no_others() -> None:
    recipe, who = Recipe.of("own.points", options={"recipe": BOX.replace("out 20", "out hip / 4")}), {"bust": 900.0}
    assert wanted_measures(recipe).needs == ("hip",)
    assert [need.code for need in needs(recipe, Person.of("A", {}))] == ["hip"]
    made = drafted("own.points", Person.of("A", {}), recipe=BOX.replace("out 20", "out hip / 4"))
    assert any(f.code == "measure.missing" and f.place == "person.hip" for f in made.findings)
    assert pattern_of(drafted("own.points", Person.of("A", who), recipe=BOX.replace("out 20", "out bust / 4"))).pieces
    beside = Recipe.of("skirt.straight", steps=(step("own_pieces", recipe=BOX.replace("out 20", "out wrist")),))
    assert "wrist" in wanted_measures(beside).needs


def test_its_figures_are_sums_that_can_be_put_aside() -> None:
    made = drafted("own.points")
    assert [name for name in made.sums] == ["long", "wide", "dart"]
    assert [f.formula for f in figures_of(read("wide = (hip + 3) / 4 - 1.5\nb = wide * 2\n"))] == [
        "(hip + 3cm) / 4 - 1.5cm",
        "wide * 2",
    ]
    longer = drafted("own.points", overrides={"long": "75cm"})
    assert abs(pattern_of(longer).run_length("skirt_front.centre_front") - 750) < 1e-9


def test_a_line_at_fault_is_a_finding_and_the_text_is_kept() -> None:
    made = drafted("own.points", recipe=BOX.replace("out 20", "out nose"))
    assert made.pattern is None and any(
        f.sentence.startswith("Line 3: there is no “nose”") and f.place == "recipe.options.recipe"
        for f in made.findings
    )
    stuck = drafted("skirt.straight", steps=(step("own_pieces", recipe=PIECE + "sew panel.left with front.ear\n"),))
    (outcome,) = stuck.evaluated.outcomes
    assert "line 10: there is no edge “front.ear”" in outcome.stuck and outcome.parameter == "recipe"
    assert stuck.pattern is not None and not stuck.pattern.has("s2.panel")


def test_points_measured_on_a_sheet_stand_where_they_were_measured() -> None:
    made = make_pieces(SHEET, {}, Pattern())
    assert made.wrong is None
    front = made.pattern.piece("front")
    assert front.fold and front.run("shoulder")[0].path.start == 80 + 0j
    assert front.run("shoulder")[0].path.end == 205 + 40j
    assert front.run_length("centre_front") == pytest.approx(660 - 95)
    armhole = front.run("armhole")[0].path
    assert armhole.nearest(185 + 140j)[0] < 1e-6


def test_an_edge_traced_along_its_cut_line_loses_its_allowance() -> None:
    net = make_pieces(SHEET.replace("edge side: F - G", "edge side: F - G, cut 1.5"), {}, Pattern())
    assert net.wrong is None
    was, now = (one.pattern.piece("front").run("side")[0].path for one in (make_pieces(SHEET, {}, Pattern()), net))
    for share in (0.1, 0.5, 0.9):
        assert was.nearest(now.point_at(now.length * share))[0] == pytest.approx(15, abs=1e-6)
    deep = make_pieces(SHEET.replace("edge side: F - G", "edge side: F - G, cut 60"), {}, Pattern())
    assert deep.wrong is not None and "nothing is left" in str(deep.wrong.says)
    assert make_pieces(SHEET.replace("A at 9.5, 0", "A at nine, 0"), {}, Pattern()).wrong is not None


def test_edges_of_a_recipe_that_do_not_meet_are_laid_to_how_it_is_written() -> None:
    longer = SKIRT.replace("2 * edge_skirt_back_waist", "2 * edge_skirt_back_waist + 3", 1)
    made = drafted("own.points", full_people()[0], recipe=longer)
    lines = [line for line in made.proof if line.kind == "seam" and not line.holds]
    assert longer != SKIRT and len(lines) == 1 and "change the points or formulas" in lines[0].sentence
