"""Walks the demo through the stations and keeps one picture of each; run by ``make screenshots``."""

from __future__ import annotations

import subprocess
import sys
import time
from pathlib import Path

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from caddet.core.demo import demo_document
from caddet.core.hands.things import Thing
from caddet.core.recipe.registry import STEPS
from caddet.desk.app import make_app, open_bench
from caddet.desk.theme import LOOK
from caddet.desk.window import MainWindow

FOLDER = Path(__file__).parent.parent / "docs/screenshots"


def main() -> None:
    app = make_app()
    bench, _ = open_bench(None, demo_document)
    window = MainWindow(bench)
    window.show()

    def settle(seconds: float = 0.6) -> None:
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            app.processEvents()
            time.sleep(0.01)

    def keep(name: str) -> None:
        settle(0.3)
        window.grab().save(str(FOLDER / f"{name}.png"))

    settle(1.0)
    for key in ("measure", "draft", "true", "mark"):
        window.go(key)
        settle()
        window.table.fit()
        keep(key)
    window.go("measure")
    window.measure.show_page("round")
    window.measure.round.begin("usual")
    settle()
    keep("measure-round")
    window.measure.show_page("dates")
    settle()
    keep("measure-dates")
    window.measure.show_page("list")
    window.go("workroom")
    settle()
    keep("workroom")
    window.go("plan")
    settle(3.0)
    keep("plan")
    window.go("shape")
    settle()
    window.table.fit()
    settle(0.2)
    hand = window.shape.hand
    hand.choose(Thing("edge", "front.side"))
    settle(0.4)
    keep("shape-chosen")
    hand.choose(Thing("dart", window.table.pieces["front"].cut.piece.darts[0].id))
    hand.start(STEPS["pivot_dart"])
    view, port = window.table.view, window.table.view.viewport()
    item = window.table.pieces["front"]
    place, _, _ = item.cut.piece.run_point("side", 90.0)
    QTest.mouseClick(
        port, Qt.MouseButton.LeftButton, pos=view.mapFromScene(item.mapToScene(QPointF(place.real, place.imag)))
    )
    settle(0.8)
    keep("shape")
    hand.leave()
    settle(0.5)
    window.toast.hide()
    window.go("lay")
    settle(6)
    keep("lay")
    LOOK.switch(True)
    window.switch_unit()
    window.go("draft")
    settle()
    window.draft.open_figure("front_dart")
    settle()
    window.table.fit()
    keep("evening-inches")
    LOOK.switch(False)
    window.switch_unit()
    for block, name in (("dress.sheath", "plan-fit"), ("bodice.darted", "draft-bodice")):
        window.go("plan")
        window.plan.show_page("garment")
        window.plan.garment.look_at(block)
        window.plan.garment.choose()
        settle(0.8)
        window.toast.hide()
        if name == "plan-fit":
            keep(name)
    window.go("draft")
    window.draft.lay_over("school=proportion")
    settle()
    window.table.fit()
    keep("draft-bodice")
    window.close()
    contact_sheets()


def contact_sheets() -> None:
    """Every block on one real body, and the darted bodice on nine: by the script that is used to look at them."""
    script = Path(__file__).parent / "contact_sheet.py"
    subprocess.run([sys.executable, str(script)], check=True)


if __name__ == "__main__":
    main()
