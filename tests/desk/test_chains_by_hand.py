"""The chains that failed once, made in the window by the pointer or by keys, and judged by the tape: wide trousers with pleats,
fly and welt, a tiered skirt with a casing, a wrap dress, a princess pinafore, a yoke from a shoulder dart, a puff sleeve.

With ``CADDET_PICTURES`` naming a folder, a picture of each is left there.
"""

from __future__ import annotations

import os
from collections.abc import Callable

import pytest
from pytestqt.qtbot import QtBot

from caddet.core.hands.things import Thing, things
from caddet.core.recipe import edits
from caddet.desk.window import MainWindow
from tests.chains import faults, told
from tests.desk.conftest import settle
from tests.desk.test_parts_walk import put
from tests.desk.test_shape_walk import ByKeys, ByPointer, Maker
from tests.share import share


def options(maker: Maker, **chosen: str) -> None:
    for name, value in chosen.items():
        maker.window.bench.edit(name, lambda d, name=name, value=value: edits.set_option(d, name, value))  # type: ignore[misc]
    settle(maker.qtbot, maker.window)
    maker.window.table.fit()
    settle(maker.qtbot, maker.window)


def wide_trousers(maker: Maker) -> None:
    maker.begin("trousers.tailored")
    options(maker, waist_with="pleats", leg="wide")
    put(maker, Thing("edge", "front.crotch"), "fly")
    put(maker, Thing("piece", "back"), "welt_pocket")


def tiered_skirt(maker: Maker) -> None:
    maker.begin("skirt.straight")
    put(maker, Thing("edge", "front.hem"), "ruffle", depth=20)
    put(maker, Thing("edge", "back.hem"), "ruffle", depth=20)
    if isinstance(maker, ByKeys):
        maker.choose(Thing("edge", "front.waist"))
        maker.tool("casing")
        maker._typed("edges", "waist")
    else:
        maker.choose(Thing("edge", "front.waist"), Thing("edge", "back.waist"))
        maker.tool("casing")
    maker.keep()
    maker.done("casing")


def wrap_dress(maker: Maker) -> None:
    maker.begin("dress.sheath")
    put(maker, Thing("piece", "front"), "wrap_front")


def princess_pinafore(maker: Maker) -> None:
    maker.begin("dress.sheath")
    options(maker, style="in_one")
    maker.put_at(Thing("dart", "front.bust_dart"), "princess", "front.armhole", 0.5)
    edges = [one for one in things(maker.pattern) if one.kind == "edge" and "armhole" in one.ref]
    assert len(edges) == 3, "back, front side and front centre"
    maker.choose(*(edges[:1] if isinstance(maker, ByKeys) else edges))
    maker.tool("facing")
    if isinstance(maker, ByKeys):
        maker._typed("edges", "armhole")
    maker.amount("width", 5)
    maker.keep()
    maker.done("facing")


def shoulder_yoke(maker: Maker) -> None:
    maker.begin("bodice.darted")
    maker.put_at(Thing("dart", "front.bust_dart"), "pivot_dart", "front.shoulder", 0.5)
    maker.choose(Thing("piece", "front"))
    maker.tool("cut")
    maker.line("front", ("armhole", 0.4), ("centre_front", 0.85))
    maker.keep()
    maker.done("cut")


def puff_sleeve(maker: Maker) -> None:
    maker.begin("bodice.darted")
    maker.choose(Thing("edge", "sleeve.cap_front"))
    maker.tool("slash")
    maker.amount("amount", 2)
    maker.keep()
    maker.done("slash")


CHAINS: tuple[Callable[[Maker], None], ...] = (
    wide_trousers,
    tiered_skirt,
    wrap_dress,
    princess_pinafore,
    shoulder_yoke,
    puff_sleeve,
)


@pytest.mark.parametrize(
    ("chain", "way"),
    [(chain, way) for n, chain in enumerate(CHAINS) for way in share((ByPointer, ByKeys), 2, n)],
    ids=lambda one: one.__name__,
)
def test_a_chain_made_by_hand_holds_or_says_where_not(
    window: MainWindow, qtbot: QtBot, chain: Callable[[Maker], None], way: type[Maker]
) -> None:
    maker = way(window, qtbot)
    chain(maker)
    settle(qtbot, window)
    made = window.bench.result
    assert made is not None and not [one.stuck for one in made.evaluated.outcomes if one.stuck]
    if folder := os.environ.get("CADDET_PICTURES"):
        window.table.fit()
        settle(qtbot, window)
        window.grab().save(f"{folder}/{chain.__name__}_{way.__name__}.png")
    found = {(one.kind, one.where) for one in faults(made)}
    assert not found or told(made), found
