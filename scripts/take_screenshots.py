"""Walks the demo through the stations and keeps one picture of each; run by ``make screenshots``."""

from __future__ import annotations

import subprocess
import sys
import time
from pathlib import Path

from caddet.core.demo import demo_document
from caddet.desk.app import make_app, open_bench
from caddet.desk.window import MainWindow
from scripts.views import views

FOLDER = Path(__file__).parent.parent / "docs/screenshots"
PATIENCE = 3.0  # s after which every view stands, also the lay and the drawings of all blocks


def main() -> None:
    """Keep a picture of every view, then the contact sheets."""
    app = make_app()
    bench, _ = open_bench(None, demo_document)
    window = MainWindow(bench)
    window.show()

    def settle() -> None:
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            app.processEvents()
            time.sleep(0.01)

    for name in views(window, settle):
        window.grab().save(str(FOLDER / f"{name}.png"))
    window.close()
    contact_sheets()


def contact_sheets() -> None:
    """Every block on one real body, and the darted bodice on nine: by the script that is used to look at them."""
    script = Path(__file__).parent / "contact_sheet.py"
    subprocess.run([sys.executable, str(script)], check=True)


if __name__ == "__main__":
    main()
