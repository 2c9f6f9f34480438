"""What a thing is, is told by its role: names and labels are for people, and may be anything."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from types import MappingProxyType

import pytest

import caddet.core
from caddet.core.designs import ORDER, design_named
from caddet.core.errors import CaddetError
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.combine import renamed
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.roles import BODY, EDGE_ROLES, PIECE_ROLES
from caddet.core.pipeline import make
from caddet.core.recipe.context import Context
from caddet.core.recipe.registry import BLOCKS, STEPS
from tests.core.test_contract import options_of
from tests.making import drafted, full_people, pattern_of

BODY_OF = full_people()[0]
PLAIN = {name: pattern_of(drafted(name, BODY_OF)) for name in BLOCKS if drafted(name, BODY_OF).pattern is not None}
# edges of blocks that are nothing but sewn to another piece, or a strip's
NAMELESS = {
    "back_end", "bottom", "edge", "foot", "front_end", "fold", "left", "middle", "right", "under", "wide_left", "wide_middle",
    "wide_right", "facing_shoulder",
}  # fmt: skip


def _context(block: str) -> Context:
    source = drafted(block, BODY_OF).evaluated.sources[0]
    return Context(source.measures, source.sums, source.names, id="s9")


def in_other_words(pattern: Pattern) -> Pattern:
    """The same pattern with meaningless names and labels for its pieces and edges; what they are stays with them."""
    names: dict[str, str] = {}
    for p, piece in enumerate(pattern.pieces):
        names[piece.made] = f"q{p}"
        for e, key in enumerate(piece.runs()):
            names[key] = f"q{p}.k{e}"
        for d, dart in enumerate(piece.darts):
            names[dart.name] = f"q{p}.d{d}"
    whole = {new: old for old, new in names.items()}

    def named(key: str, table: dict[str, str]) -> str:
        bare = key.removesuffix("'")
        piece, _, own = bare.rpartition(".")
        new = table.get(bare) or (f"{table[piece]}.{own}" if piece in table else bare)
        return new + "'" * key.endswith("'")

    done = renamed(pattern, lambda key: named(key, names), lambda key: named(key, whole))
    return replace(done, pieces=tuple(replace(piece, label="Thing") for piece in done.pieces))


def _all() -> Iterator[tuple[str, Pattern, Context]]:
    for name, pattern in PLAIN.items():
        yield name, pattern, _context(name)
    for name in ORDER:
        made = make(EvaluateRequest(design_named(name).document))
        source = made.evaluated.sources[0]
        assert made.pattern is not None
        yield name, made.pattern, Context(source.measures, source.sums, source.names, id="s90")


@pytest.mark.parametrize(
    ("garment", "pattern", "context"), list(_all()), ids=lambda one: one if isinstance(one, str) else ""
)
def test_every_step_does_the_same_whatever_pieces_and_edges_are_called(
    garment: str, pattern: Pattern, context: Context
) -> None:
    other = in_other_words(pattern)
    for kind, step in STEPS.items():
        values = MappingProxyType(step.values({}))
        found = []
        for one in (pattern, other):
            try:
                after = step.apply(one, context, values).pattern
            except CaddetError:
                found.append("refused")
                continue
            found.append(
                [[round(z, 3) for p in piece.polygon(1.0) for z in (p.real, p.imag)] for piece in after.pieces]
            )
        assert found[0] == found[1], f"{kind} on {garment} goes by what things are called"


@pytest.mark.parametrize("block", sorted(BLOCKS))
def test_every_piece_and_edge_of_a_block_says_what_it_is(block: str) -> None:
    for options in options_of(BLOCKS[block]):
        made = drafted(block, BODY_OF, **options)
        for piece in made.pattern.pieces if made.pattern else ():
            assert piece.role in PIECE_ROLES or block == "own.points", f"{piece.made} of {block} is a {piece.role!r}"
            assert piece.source == "b1"
            for edge in piece.edges:
                assert edge.dart or edge.role in EDGE_ROLES or edge.own in NAMELESS, f"{edge.name} is a {edge.role!r}"
                assert not (edge.role and edge.own in NAMELESS and edge.own != "end"), f"{edge.name} is a {edge.role!r}"
            assert all(feature.role for feature in piece.features) and all(dart.role for dart in piece.darts)


def test_names_are_taken_apart_in_one_place() -> None:
    """The stroke of the other side, and what stands before and behind a point in a name: only in ``pattern/ids.py``."""
    core = Path(caddet.core.__file__).parent
    rooms = ("pattern", "recipe", "drafting", "blocks", "shaping", "parts", "truing", "finishing", "fitting", "grading")
    cut = re.compile(r"""(removesuffix|endswith)\(("'"|chr\(39\))\)|chr\(39\)|name\.r?partition""")
    found = [
        f"{path.relative_to(core)}:{number}"
        for room in rooms
        for path in (core / room).rglob("*.py")
        if path != core / "pattern/ids.py"
        for number, line in enumerate(path.read_text().split("\n"), 1)
        if cut.search(line)
    ]
    assert not found


def test_what_a_part_makes_is_no_piece_of_the_body() -> None:
    """It is not lined, faced or chosen as a front, wherever its name comes from."""
    bodies = {"own_pieces", "separate", "shoulder_one", "cut", "princess", "gores"}
    made_something = set()
    for block, pattern in PLAIN.items():
        before = {piece.made for piece in pattern.pieces}
        context = _context(block)
        for kind, step in STEPS.items():
            if kind in bodies:
                continue
            try:
                after = step.apply(pattern, context, step.values({})).pattern
            except CaddetError:
                continue
            for piece in after.pieces:
                if piece.made not in before:
                    made_something.add(kind)
                    assert piece.role not in BODY, f"{kind} makes {piece.made} ({piece.label}), told as {piece.role!r}"
                    assert piece.source == ""  # the stage that did it says so
    assert {"facing", "lining", "casing", "band", "godet"} <= made_something
