"""Grading: rules, ranges, nests, by measures; there and back; what can't be used is said."""

from __future__ import annotations

import random
from pathlib import Path

import pytest

from caddet.core.body.sizes import person_of_size, read_sizes, shipped_table
from caddet.core.designs import ORDER, design_named
from caddet.core.errors import CaddetError, InputError
from caddet.core.formats.project import no_pictures, open_project, save_project
from caddet.core.grading.by_measures import by_measures
from caddet.core.grading.moving import moved_at_corners
from caddet.core.grading.nest import GradedSize, Nest, apart, nearer, walked
from caddet.core.grading.points import corner, corners
from caddet.core.grading.rules import RuleTable, derived, graded, in_ranges
from caddet.core.grading.rules_csv import read_rules, rules_text
from caddet.core.grading.sizes import body_of, derived_rules, nest_of, redrafted, sizes_of
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.practice import practice_document
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document, Recipe
from caddet.core.recipe.grading import GradeRule, Grading
from caddet.core.recipe.registry import BLOCKS
from caddet.core.recipe.storing import pattern_of, stored_pattern
from caddet.core.truing.joins import joins
from caddet.core.truing.walk import walk
from tests.making import full_people, run, skirt

BODY = full_people()[0]
SIZES = ("84", "88", "92", "96", "100")


def rule(point: str, first: str, last: str, dx: float = 0.0, dy: float = 0.0, piece: str = "front") -> GradeRule:
    return GradeRule(piece=piece, point=point, first=first, last=last, dx=dx, dy=dy)


def graded_smock(**choices: object) -> Document:
    document = design_named("smock").document
    return document.model_copy(update={"grading": Grading(sizes=SIZES, base="92", **choices)})  # type: ignore[arg-type]


def block(name: str) -> Pattern:
    document = design_named("smock").document
    found = redrafted(document.model_copy(update={"recipe": Recipe.of(name)}), BODY).pattern
    assert found is not None
    return found


def farthest(one: Piece, other: Piece) -> float:
    """The largest distance between the same places of two outlines."""
    shares = [n / 40 for n in range(41)]
    return max(
        abs(a.path.point_at(a.path.length * s) - b.path.point_at(b.path.length * s))
        for a, b in zip(one.edges, other.edges, strict=True)
        for s in shares
    )


# --- points and moves -----------------------------------------------------------------------------


def test_corners_are_named_after_what_meets_there() -> None:
    names = [one.name for one in corners(skirt().piece("front"))]
    assert "side-hem" in names and "front_dart.point" in names and len(names) == len(set(names))
    with pytest.raises(CaddetError, match="has no point “elbow”; it has"):
        corner(skirt(), "front", "elbow")


@pytest.mark.parametrize("name", [one for one in BLOCKS if one != "own.points"])
def test_grading_there_and_back_gives_the_outline_again(name: str) -> None:
    chance = random.Random(name)
    for piece in block(name).pieces:
        moves = {one.name: complex(chance.uniform(-6, 6), chance.uniform(-6, 6)) for one in corners(piece)}
        there = moved_at_corners(piece, moves)
        back = moved_at_corners(there, {name: -move for name, move in moves.items()}, like=piece)
        assert farthest(back, piece) < 1e-6, piece.name
        for one, two in zip(corners(piece), corners(there), strict=True):
            assert abs(two.at - one.at - moves[one.name]) < 1e-9


def test_what_was_smooth_stays_smooth_and_level_stays_level() -> None:
    front = skirt().piece("front")
    moved = moved_at_corners(front, {"side-hem": 12 + 20j, "hem-centre_front": 20j, "waist-side": 10 + 0j})
    for piece in (front, moved):
        for edge in piece.edges:
            for a, b in zip(edge.path.segments, edge.path.segments[1:], strict=False):
                assert abs(a.direction(1.0) - b.direction(0.0)) < 1e-9
    hem, before = moved.run("hem")[0].path, front.run("hem")[0].path
    at_fold = [abs((p.end_direction / abs(p.end_direction)).imag) for p in (hem, before)]
    assert max(at_fold) < 1e-9, "the hem meets the fold level"


def test_a_point_without_a_rule_stays() -> None:
    front = skirt().piece("front")
    moved = moved_at_corners(front, {"side-hem": 10 + 0j})
    for one, two in zip(corners(front), corners(moved), strict=True):
        assert abs(two.at - one.at - (10 if one.name == "side-hem" else 0)) < 1e-9


# --- rules ----------------------------------------------------------------------------------------


def test_ranges_with_breaks_add_up_from_the_base() -> None:
    table = RuleTable(
        ("S", "M", "L", "XL"), "M", (rule("side-hem", "S", "L", 10), rule("side-hem", "L", "XL", 12.5, 2))
    )
    at = {size: table.moves(size)["front"]["side-hem"] for size in table.sizes}
    assert at == {"S": -10, "M": 0, "L": 10, "XL": 22.5 + 2j}
    pattern = skirt()
    for size in table.sizes:
        found = corner(graded(pattern, table, size), "front", "side-hem").at
        assert abs(found - corner(pattern, "front", "side-hem").at - at[size]) < 1e-9


def test_one_size_and_sixty() -> None:
    pattern = skirt()
    assert graded(pattern, RuleTable(("M",), "M"), "M").pieces == pattern.pieces
    many = tuple(f"n{n}" for n in range(60))
    table = RuleTable(many, "n30", (rule("side-hem", "n0", "n59", 2.0),))
    assert (
        abs(
            corner(graded(pattern, table, "n59"), "front", "side-hem").at.real
            - corner(pattern, "front", "side-hem").at.real
            - 58
        )
        < 1e-9
    )
    with pytest.raises(InputError, match="1 to 60 sizes"):
        RuleTable((*many, "n60"), "n30")


@pytest.mark.parametrize(
    ("rules", "said"),
    [
        ((rule("elbow", "S", "L"),), "has no point “elbow”"),
        ((rule("side-hem", "S", "L", piece="back2"),), "there is no piece “back2”"),
        ((rule("side-hem", "L", "S"),), "out of order"),
        ((rule("side-hem", "S", "XXL"),), "there is no size “XXL”"),
        ((rule("side-hem", "S", "M", 5),), "there is no rule for the step from M to L"),
        ((rule("side-hem", "S", "L", 5), rule("side-hem", "M", "L", 5)), "there is two rules for the step from M to L"),
        ((rule("side-hem", "S", "L", -5, -5),), "a larger size is smaller there"),
        ((rule("centre_front-waist", "S", "L", 4), rule("hem-centre_front", "S", "L")), "no longer straight up"),
    ],
)
def test_rules_that_can_not_be_meant_are_told(rules: tuple[GradeRule, ...], said: str) -> None:
    found = RuleTable(("S", "M", "L"), "M", rules).checked(skirt())
    assert any(said in str(one.sentence) for one in found), [str(one.sentence) for one in found]


def test_good_rules_are_not_complained_of() -> None:
    rules = (rule("side-hem", "S", "L", 10, 5), rule("hem-centre_front", "S", "L", 0, 5))
    assert RuleTable(("S", "M", "L"), "M", rules).checked(skirt()) == []


def test_rules_that_fold_a_piece_over_are_refused() -> None:
    rules = (rule("side-hem", "S", "L", -400), rule("hem-centre_front", "S", "L", 400))
    with pytest.raises(CaddetError, match="Front in L"):
        graded(skirt(), RuleTable(("S", "M", "L"), "M", rules), "L")


def test_rules_read_off_two_sizes_make_the_second_of_the_first() -> None:
    small, large = skirt(), skirt(who=full_people()[3])
    found = derived(small, large, "S", "L")
    compared = {one.piece for one in found.rules}
    moved = graded(small, RuleTable(("S", "L"), "S", found.rules), "L")
    for name in compared:
        for one, two in zip(corners(moved.piece(name)), corners(large.piece(name)), strict=True):
            assert abs(one.at - two.at) < 1e-3
    assert compared or found.findings


def test_what_comes_or_goes_between_sizes_is_told_and_left_out() -> None:
    with_dart, without = skirt(), block("skirt.circle")
    found = derived(with_dart, without, "S", "M")
    assert {one.piece for one in found.rules} <= {"waistband"}
    assert {one.place for one in found.findings} >= {"front", "back"}
    assert all("no rules were read" in str(one.sentence) for one in found.findings)


def test_alike_steps_become_one_range() -> None:
    base = skirt()
    table = RuleTable(("S", "M", "L", "XL"), "S", (rule("side-hem", "S", "L", 10), rule("side-hem", "L", "XL", 14)))
    found = in_ranges(table.sizes, [graded(base, table, size) for size in table.sizes]).rules
    ranges = {(one.first, one.last, one.dx) for one in found if one.point == "side-hem" and one.piece == "front"}
    assert ranges == {("S", "L", 10.0), ("L", "XL", 14.0)}


def test_a_rule_is_put_in_place_of_that_of_its_point_and_range() -> None:
    document = edits.set_rule(
        edits.set_rule(graded_smock(), rule("side-hem", "84", "88", 10)), rule("side-hem", "84", "88", 12)
    )
    assert [one.dx for one in document.grading.rules] == [12.0]
    more = edits.set_rule(document, rule("side-hem", "88", "92", 9))
    assert len(more.grading.rules) == 2


# --- CSV ------------------------------------------------------------------------------------------


def test_rules_go_through_csv() -> None:
    table = RuleTable(("S", "M"), "M", (rule("side-hem", "S", "M", 10.5, -3), rule("hem-centre_front", "S", "M", 0, 5)))
    assert read_rules(rules_text(table)) == table
    typed = "sizes,S,M\nbase,S\npiece,point,from,to,dx,dy\nfront,side-hem,S,M,1 cm,3/8in\n"
    found = read_rules(typed).rules[0]
    assert found.dx == 10 and abs(found.dy - 9.525) < 1e-9


TOP = "sizes,S,M\nbase,S\npiece,point,from,to,dx,dy\n"


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "line 1: expected a row “sizes"),
        ("sizes,S,M\npiece,point,from,to,dx,dy\n", "expected a row “base"),
        ("sizes,S,M\nbase,S\nfront,side-hem\n", "line 3: expected the header"),
        (TOP + "front,side-hem,S,M,wide,0\n", "line 4, column dx: “wide” is no length"),
        (TOP + "front,side-hem,S,M\n", "line 4: expected 6 values"),
        (TOP + "front,side-hem,,M,1,0\n", "line 4, column from"),
        (TOP + "front,side-hem,S,M,9999,0\n", "line 4, column dx"),
        ("sizes,S,S\nbase,S\npiece,point,from,to,dx,dy\n", "two sizes have one name"),
        ("sizes,S,M\nbase,L\npiece,point,from,to,dx,dy\n", "there is no size “L” here"),
    ],
)
def test_a_rule_file_that_can_not_be_used_names_the_place(text: str, said: str) -> None:
    with pytest.raises(InputError) as refused:
        read_rules(text, "r.csv")
    assert said in str(refused.value)


# --- the nest -------------------------------------------------------------------------------------


def test_every_size_by_redraft_passes_what_the_base_passes() -> None:
    nest = nest_of(graded_smock())
    assert [one.name for one in nest.sizes] == list(SIZES) and nest.base.name == "92"
    assert not any(one.findings for one in nest.sizes)


def test_rules_read_off_the_sizes_come_near_them_and_every_seam_meets() -> None:
    document = graded_smock()
    rules = derived_rules(document)
    again, drafted = nest_of(graded_smock(way="rules", rules=rules.rules)), nest_of(document)
    for one, two in zip(again.sizes, drafted.sizes, strict=True):
        assert one.pattern is not None and two.pattern is not None and not one.fails
        assert max(item.by for item in apart(two.pattern, one.pattern)) < 3.5, one.name


def test_a_nest_is_aligned_at_any_point_and_its_spreads_are_measured() -> None:
    table = RuleTable(
        ("S", "M", "L"), "M", (rule("side-hem", "S", "L", 10, 6), rule("hem-centre_front", "S", "L", 0, 6))
    )
    nest = Nest(tuple(GradedSize(size, graded(skirt(), table, size), size == "M") for size in table.sizes))
    at_drafted = {row.point: row.moves for row in nest.spreads("front")}
    assert all(abs(move - (10 + 6j)) < 1e-9 for move in at_drafted["side-hem"] if move is not None)
    at_corner = {row.point: row.moves for row in nest.spreads("front", "side-hem")}
    assert all(abs(move) < 1e-9 for move in at_corner["side-hem"] if move is not None)
    assert all(abs(move - (-10 - 0j)) < 1e-9 for move in at_corner["hem-centre_front"] if move is not None)
    assert nest.points("front") == [one.name for one in corners(skirt().piece("front"))]


def test_a_seam_that_grading_spoils_is_found() -> None:
    table = RuleTable(("M", "L"), "M", (rule("side-hem", "M", "L", 0, 12),))
    said = [str(one.sentence) for one in walked(graded(skirt(), table, "L"))]
    assert any("Side seam: one side is 1.2 cm shorter" in one for one in said), said


def test_somebody_whose_redraft_has_findings_leaves_the_others() -> None:
    document = graded_smock()
    nobody = BODY.model_copy(update={"name": "Nobody", "sets": ()})
    found = {one.name: one for one in sizes_of(document, people=(nobody, BODY))}
    assert found["Nobody"].pattern is None and found["Nobody"].fails
    assert found[BODY.name].pattern is not None and len(found) == len(SIZES) + 2


def test_the_nearest_size_and_where_it_differs() -> None:
    document = graded_smock()
    nest = nest_of(document)
    table = shipped_table("women")
    wanted = redrafted(document, person_of_size(table, table.size("96"))).pattern
    assert wanted is not None
    best = nearer(wanted, nest.sizes)
    assert best is not None and best[0].name == "96" and best[1][0].by < 0.05
    off = nearer(wanted, nest.sizes[:2])
    assert off is not None and off[0].name == "88" and off[1][0].by > 3
    assert abs(abs(off[1][0].a - off[1][0].b) - off[1][0].by) < 1e-9


# --- by measures ----------------------------------------------------------------------------------


def test_outlines_follow_the_body_level_by_level() -> None:
    pattern = block("skirt.straight")
    was = body_of(BODY)
    now = {**was, "hip": was["hip"] + 40, "waist": was["waist"] + 40}
    moved, _ = by_measures(pattern, was, now, "larger")
    for level in ("hip",):
        grown = 0.0
        for piece in pattern.pieces:
            feature = next((f for f in piece.features if f.name.endswith(f".{level}")), None)
            if feature is not None:
                other = moved.piece(piece.name)
                widths = [sum(line.length for line in p.drawn(feature)) for p in (piece, other)]
                grown += (widths[1] - widths[0]) * piece.worn
        assert abs(grown - 40) < 1.0, grown
    longer, _ = by_measures(pattern, was, {**was, "waist_to_hip": was["waist_to_hip"] + 20}, "longer")
    assert abs(longer.piece("front").run_length("side") - pattern.piece("front").run_length("side")) > 5


def test_a_pocket_follows_the_hand_and_never_a_percentage() -> None:
    document = design_named("wrap-skirt").document
    pattern = redrafted(document, document.person).pattern or Pattern()
    pocket = next(p for p in pattern.pieces if "pocket" in p.label.lower())
    was = body_of(BODY)
    small = {
        **was,
        "hand_width": was["hand_width"] * 0.8,
        "hand_length": was["hand_length"] * 0.7,
        "hip": was["hip"] * 0.6,
    }
    moved, _ = by_measures(pattern, was, small, "child")
    boxes = [p.outline().bounds() for p in (pocket, moved.piece(pocket.name))]
    wide, deep = ([b[2] - b[0] for b in boxes], [b[3] - b[1] for b in boxes])
    assert abs(wide[1] / wide[0] - 0.8) < 1e-6 and abs(deep[1] / deep[0] - 0.7) < 1e-6


def test_a_piece_that_nothing_tells_how_to_follow_is_named() -> None:
    pattern = block("cuff")
    was = body_of(BODY)
    moved, found = by_measures(pattern, was, {**was, "bust": was["bust"] + 40}, "larger")
    assert found and "it stays as it is" in str(found[0].sentence) and moved.pieces == pattern.pieces


# --- outlines -------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", ORDER)
def test_a_stored_pattern_has_the_same_seams(name: str) -> None:
    document = design_named(name).document
    pattern = redrafted(document, document.person).pattern
    assert pattern is not None
    again, findings = pattern_of(stored_pattern(pattern))
    assert not findings and len(again.pieces) == len(pattern.pieces) and len(again.seams) == len(pattern.seams)
    for one, two in zip(pattern.seams, again.seams, strict=True):
        for layer in range(1, len(one.layers)):
            was, now = walk(pattern, one, layer), walk(again, two, layer)
            assert abs(was.off - now.off) < 1e-6 and was.verdict == now.verdict
    assert max((join.angle for join in joins(again)), default=0.0) < 3.5 or name == "ringing-trousers"


def test_the_edges_of_a_slanted_pocket_meet_exactly() -> None:
    base = design_named("ringing-trousers").document
    for who in full_people()[::4]:
        pattern = redrafted(
            Document.model_validate({**base.parts(), "people": (who,), "wearer": who.name}), who
        ).pattern
        for piece in pattern.pieces if pattern is not None else ():
            for one, two in zip(piece.edges, (*piece.edges[1:], piece.edges[0]), strict=True):
                assert abs(one.path.end - two.path.start) < 1e-6, (who.name, one.name, two.name)


# --- the command line -----------------------------------------------------------------------------


def test_the_command_grades_by_table_rules_and_people(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    smock = tmp_path / "smock.caddet"
    run(capsys, "designs", "smock", "-o", smock)
    few = ("--sizes", "women", "--only", "88,92,96", "--base", "92")
    code, out, err = run(capsys, "grade", smock, *few, "-o", tmp_path / "drafted")
    assert (code, sorted(p.stem for p in (tmp_path / "drafted").iterdir())) == (0, ["88", "92", "96"]), err
    rules = tmp_path / "r.csv"
    code, out, _ = run(capsys, "grade", smock, *few, "--derive", rules)
    assert code == 0 and "rules for 3 sizes" in out
    code, _, err = run(capsys, "grade", smock, "--sizes", "women", "--rules", rules, "-o", tmp_path / "ruled")
    assert code == 0 and len(list((tmp_path / "ruled").iterdir())) == 3, err
    for one in (tmp_path / "ruled").iterdir():
        code, out, _ = run(capsys, "check", one)
        assert code == 0, out
    code, out, _ = run(capsys, "grade", smock, *few, "--json")
    assert code == 0 and '"spread"' in out
    people = tmp_path / "p.csv"
    people.write_text("name,bust,waist,hip,height\nKerra,90,72,98,165\nJory,,,,\n")
    code, _, err = run(capsys, "grade", smock, "--people", people, "-o", tmp_path / "people")
    assert code == 2 and "Jory" in err and (tmp_path / "people/Kerra.caddet").exists()
    code, _, err = run(capsys, "grade", smock, "--people", people, "--rules", rules, "-o", tmp_path / "near")
    assert "Kerra: nearest is size" in err and (tmp_path / "near/Kerra.caddet").exists()


@pytest.mark.parametrize(
    ("words", "said"),
    [
        ((), "expected --people P.csv or --sizes TABLE"),
        (("--sizes", "kids", "-o", "x"), "there is no size table “kids”"),
        (("--sizes", "women", "--only", "92,88", "-o", "x"), "out of order"),
        (("--sizes", "women", "--only", "12", "-o", "x"), "there is no size “12”"),
        (("--sizes", "women", "--base", "M", "-o", "x"), "has no size “M”"),
        (("--sizes", "women", "--rules", "none.csv", "-o", "x"), "none.csv"),
        (("--sizes", "women"), "expected -o DIR"),
    ],
)
def test_what_the_command_can_not_use_is_one_line(
    words: tuple[str, ...],
    said: str,
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.chdir(tmp_path)
    run(capsys, "designs", "smock", "-o", "smock.caddet")
    code, _, err = run(capsys, "grade", "smock.caddet", *words)
    assert code == 2 and said in err and len(err.strip().splitlines()) == 1, err


def test_a_table_of_ones_own_is_graded_to(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    own = tmp_path / "band.csv"
    own.write_text("size,bust,waist,hip,height\nI,84,68,92,160\nII,92,76,100,168\n")
    assert [one.name for one in read_sizes(own.read_text(), "band").sizes] == ["I", "II"]
    run(capsys, "designs", "smock", "-o", tmp_path / "s.caddet")
    code, _, err = run(capsys, "grade", tmp_path / "s.caddet", "--sizes", own, "-o", tmp_path / "out")
    assert code == 0 and sorted(p.stem for p in (tmp_path / "out").iterdir()) == ["I", "II"], err


def test_traced_pieces_follow_the_measures_of_people(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "tabard.caddet"
    save_project(practice_document(), file, no_pictures)
    people = tmp_path / "p.csv"
    people.write_text("name,bust,waist,hip,height\nKerra,84,68,92,160\nJowan,112,96,116,186\n")
    code, _, err = run(capsys, "grade", file, "--people", people, "--way", "measures", "-o", tmp_path / "out")
    assert code in (0, 1), err
    widths = []
    for name in ("Kerra", "Jowan"):
        (source,) = open_project(tmp_path / f"out/{name}.caddet").document.recipe.sources
        pattern, _ = pattern_of(source)  # type: ignore[arg-type]
        widths.append(pattern.piece("front").outline().bounds()[2])
    assert widths[1] - widths[0] > 40
