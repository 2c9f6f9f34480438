"""Twenty seconds of a monkey at the window; that it would see a fault; and that its deeds are played again and cut down."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtWidgets import QFileDialog, QInputDialog
from pytestqt.qtbot import QtBot

from caddet.desk.stations.mark import MarkStation
from tests.soak.deeds import Deed, read_deeds, shortest, written
from tests.soak.monkey import PROJECTS, Monkey, monkey_rounds, play, project_in, run_apart


@pytest.fixture(autouse=True)
def questions_as_they_were(monkeypatch: pytest.MonkeyPatch) -> None:
    """The monkey makes up the answers to questions for files; the other tests ask them again."""
    for kind, names in (
        (QFileDialog, ("getOpenFileName", "getSaveFileName", "getOpenFileNames", "getExistingDirectory")),
        (QInputDialog, ("getText",)),
    ):
        for name in names:
            monkeypatch.setattr(kind, name, getattr(kind, name))


def test_twenty_seconds_of_a_monkey_at_the_demo_bring_no_fault() -> None:
    figures = monkey_rounds("demo", seed=4, seconds=20)
    assert not figures.wrong, figures.wrong[:3]
    assert figures.counts["deeds"] > 60


def test_a_fault_under_its_hands_is_seen_with_the_deed_that_made_it(
    qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkey = Monkey(project_in(tmp_path, "demo"))
    monkey.do(Deed("station", number=0))
    assert not monkey.faults

    def broken(station: MarkStation) -> None:
        raise KeyError("planted")

    with monkeypatch.context() as while_it_fails:
        while_it_fails.setattr(MarkStation, "draw", broken)
        monkey.do(Deed("station", number=6))
    assert monkey.faults and monkey.faults[0][0] == 2 and "planted" in monkey.faults[0][1]
    monkey.do(Deed("undo", number=1))
    assert not monkey.end(), "all the rest goes on, and what was done is kept"


def test_what_is_lost_is_seen(qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = project_in(tmp_path, "demo")
    before = path.read_bytes()
    monkey = Monkey(path)
    monkey.do(Deed("click", "QPushButton|Evening", 0, ((0.5, 0.5),)))
    monkey.window.bench.edit("title", lambda d: d.model_copy(update={"title": "Other"}))
    monkey.settle()
    close = type(monkey.window).close
    monkeypatch.setattr(type(monkey.window), "close", lambda window: (close(window), path.write_bytes(before))[0])
    assert monkey.end() == ["what is in the file is not what was shown"]


def test_deeds_are_written_down_played_again_and_survive_what_is_not_there_any_more(
    qtbot: QtBot, tmp_path: Path
) -> None:
    deeds = [
        Deed("station", number=3),
        Deed("keys", text="Ctrl+K"),
        Deed("type", text="½ a \u0663", number=1),
        Deed("key", text="Escape"),
        Deed("drag", "TableView|", 0, ((0.2, 0.3), (0.4, 0.5), (1.2, -0.4)), text="undo", number=7),
        Deed("click", "QPushButton|gone", 3, ((0.5, 0.5),)),
        Deed("close", number=1),
        Deed("project", number=1),
        Deed("wearer", number=5),
        Deed("wheel", "TableView|", 0, ((0.5, 0.5),), number=4),
    ]
    (tmp_path / "deeds.jsonl").write_text(written(deeds))
    assert read_deeds(tmp_path / "deeds.jsonl") == deeds
    done = play(project_in(tmp_path, "demo"), deeds)
    assert done["deeds"] == len(deeds) and not done["faults"] and not done["wrong"]


def test_a_list_of_deeds_is_cut_down_to_the_shortest_that_still_fails() -> None:
    deeds = [Deed("wait", number=n) for n in range(300)]
    tried = []

    def fails(some: list[Deed]) -> bool:
        tried.append(len(some))
        return {17, 210} <= {one.number for one in some}

    assert [one.number for one in shortest(deeds, fails)] == [17, 210]  # type: ignore[arg-type]
    assert len(tried) < 80
    assert shortest(deeds, lambda some: some[-1:] == deeds[-1:]) == deeds[-1:]


def test_a_program_that_ends_by_itself_is_a_fault(tmp_path: Path) -> None:
    found = run_apart("demo", ["--play", str(tmp_path / "none.jsonl")], tmp_path / "none.jsonl", 10)
    assert found["faults"] and "ended with" in found["faults"][0][1]
    assert len(PROJECTS) == 14
