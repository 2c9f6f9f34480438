"""The tape judges blocks, steps and chains of steps from outside; and is itself shown faults that it has to find.

What the tape finds and the Proof passes is what nobody may cut cloth on: none here. ``make soak`` goes through far more.
"""

from __future__ import annotations

import copy
import random
from collections.abc import Callable
from functools import cache
from typing import Any

import pytest

from caddet.core.designs import Design, designs
from caddet.core.formats.listing import pieces_listing
from caddet.core.recipe.registry import BLOCKS
from tests.chains import chained, faults, found, said_steps, told
from tests.making import drafted, nine
from tests.outside.tape import judged
from tests.outside.test_shipped_designs import NINE, on

Json = dict[str, Any]
MEANT = ("tunic.panels",)  # its underarm has a corner that is drawn
CHAINS = 120


@pytest.mark.parametrize("block", [name for name in sorted(BLOCKS) if name not in MEANT])
def test_the_tape_finds_nothing_on_a_block(block: str) -> None:
    for who in nine()[::2]:
        made = drafted(block, who)
        assert made.pattern is None or not faults(made), who.name


def test_what_the_tape_finds_on_a_chain_of_steps_the_proof_says() -> None:
    """Things taken at random, the tools that are offered for them at their usual values, one to three after another."""
    blocks, people, tried = sorted(BLOCKS), nine(), 0
    for number in range(CHAINS):
        chance = random.Random(f"tape {number}")
        block, who = chance.choice(blocks), chance.choice(people)
        made = chained(block, who, chance, 1 + number % 3)
        base = drafted(block, who)
        if made.pattern is None or base.pattern is None:
            continue
        wrong = found(made, base)
        said = set(told(made)) - set(told(base))
        assert not wrong or said, (block, who.name, sorted(wrong), said_steps(made))
        tried += 1
    assert tried > CHAINS * 0.9


# --- the tape itself ------------------------------------------------------------------------------


@cache
def _skirt() -> Json:
    return pieces_listing(drafted("skirt.straight", nine()[0]))


@cache
def _top() -> Json:
    return pieces_listing(drafted("top.knit", nine()[0]))


def _piece(listing: Json, name: str) -> Json:
    return next(one for one in listing["pieces"] if one["name"] == name)


def _edge(listing: Json, name: str) -> Json:
    return next(one for piece in listing["pieces"] for one in piece["edges"] if one["name"] == name)


def _stretched(name: str, by: float) -> Callable[[Json], None]:
    def change(listing: Json) -> None:
        points = _edge(listing, name)["points"]
        (x, y), (u, v) = points[-2], points[-1]
        size = ((u - x) ** 2 + (v - y) ** 2) ** 0.5
        points[-1] = [u + (u - x) / size * by, v + (v - y) / size * by]

    return change


def _bent(name: str, by: float) -> Callable[[Json], None]:
    def change(listing: Json) -> None:
        one = _edge(listing, name)
        a, b = one["points"][0], one["points"][-1]
        one["points"] = [a, [(a[0] + b[0]) / 2 + by, (a[1] + b[1]) / 2], b]

    return change


def _counted(piece: str, count: int, pair: bool) -> Callable[[Json], None]:
    def change(listing: Json) -> None:
        _piece(listing, piece).update(cut=count, pair=pair)

    return change


def _band(by: float) -> Callable[[Json], None]:
    def change(listing: Json) -> None:
        for name in ("waistband.waist", "front.waist", "back.waist"):
            _stretched(name, by if name == "waistband.waist" else by / 4)(listing)
        for seam in listing["seams"]:
            seam["a_of"], seam["b_of"] = ([[0.0, 1e5]] * len(seam[key]) for key in ("a", "b"))

    return change


def _arrow(piece: str) -> Callable[[Json], None]:
    def change(listing: Json) -> None:
        _piece(listing, piece)["grain"].update({"from": [-900.0, 0.0], "to": [-900.0, 90.0]})

    return change


def _apex(piece: str, by: float) -> Callable[[Json], None]:
    def change(listing: Json) -> None:
        _piece(listing, piece)["darts"][0]["apex"][0] += by

    return change


def _crossed(piece: str, what: str) -> Callable[[Json], None]:
    def change(listing: Json) -> None:
        points = _piece(listing, piece)[what]
        points[3], points[len(points) // 2] = points[len(points) // 2], points[3]

    return change


def _trimmed(piece: str) -> Callable[[Json], None]:
    def change(listing: Json) -> None:
        one = _piece(listing, piece)
        middle = sum(x for x, _ in one["outline"]) / len(one["outline"])
        one["cut_outline"] = [[middle + (x - middle) * 0.9, y] for x, y in one["outline"]]

    return change


def _over_fold(piece: str) -> Callable[[Json], None]:
    def change(listing: Json) -> None:
        one = _piece(listing, piece)
        one["outline"].append([-40.0, one["outline"][-1][1]])
        one["cut_outline"].append([-60.0, one["outline"][-1][1]])

    return change


def _narrower(name: str, share: float) -> Callable[[Json], None]:
    def change(listing: Json) -> None:
        for piece in listing["pieces"]:
            for level in piece["levels"]:
                if level["name"].split(".")[-1] == name:
                    level["lines"] = [[[x * share, y] for x, y in line] for line in level["lines"]]

    return change


PLANTED: list[tuple[str, Callable[[], Json], Callable[[Json], None]]] = [
    ("seam", _skirt, _stretched("front.side", 6.0)),
    ("seam", _skirt, _stretched("back.side", -6.0)),
    ("seam", _skirt, _stretched("waistband.waist", 15.0)),
    ("seam", _top, _stretched("front.shoulder", 2.5)),
    ("seam", _top, _stretched("sleeve.underarm_back", 3.0)),
    ("as often", _skirt, _counted("back", 1, False)),
    ("as often", _skirt, _counted("front", 2, False)),
    ("as often", _top, _counted("front", 2, False)),
    ("as often", _top, _counted("back", 2, False)),
    ("ragged", _skirt, _bent("front.side", 60.0)),
    ("ragged", _skirt, _bent("back.side", -50.0)),
    ("ragged", _top, _bent("front.side", 40.0)),
    ("ragged", _top, _bent("sleeve.underarm_front", 50.0)),
    ("legs", _skirt, _apex("front", 40.0)),
    ("legs", _skirt, _apex("back", -40.0)),
    ("grain outside", _skirt, _arrow("front")),
    ("grain outside", _top, _arrow("sleeve")),
    ("grain outside", _top, _arrow("neckband")),
    ("as cut", _skirt, _crossed("front", "outline")),
    ("as cut", _top, _crossed("front", "cut_outline")),
    ("past the cut", _skirt, _trimmed("back")),
    ("past the cut", _top, _trimmed("front")),
    ("over the fold", _skirt, _over_fold("front")),
    ("waist too wide", _skirt, _band(150.0)),
    ("waist too wide", _skirt, _band(400.0)),
    ("hip too small", _skirt, _narrower("hip", 0.8)),
    ("bust too small", _top, _narrower("bust", 0.5)),
]


@pytest.mark.parametrize(("kind", "clean", "plant"), PLANTED)
def test_a_planted_fault_is_found(kind: str, clean: Callable[[], Json], plant: Callable[[Json], None]) -> None:
    body = dict(nine()[0].measures)
    listing = copy.deepcopy(clean())
    assert kind not in {one.kind for one in judged(listing, body)}
    plant(listing)
    assert kind in {one.kind for one in judged(listing, body)}


# what the tape can't know, or is told by the program: a wrap's lap, a body for which a small piece's allowances cross
KNOWN = {("wrap-skirt", "waist too wide"), ("swim-set", "as cut"), ("tunic", "ragged")}


@pytest.mark.parametrize("design", designs(), ids=lambda one: one.name)
def test_the_tape_accepts_the_designs_that_ship(design: Design) -> None:
    for who in NINE[::4]:
        assert not {(design.name, one.kind) for one in faults(on(design, who))} - KNOWN, who.name
