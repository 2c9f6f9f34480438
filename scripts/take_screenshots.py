"""Walks the demo through the stations and keeps one picture of each; run by ``make screenshots``."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from caddet.core.demo import demo_document
from caddet.desk.app import make_app, open_bench
from caddet.desk.window import MainWindow
from scripts.views import views

FOLDER = Path(__file__).parent.parent / "docs/screenshots"
PATIENCE = 1.0  # s that nothing has been worked out for, after which a view stands
LONGEST = 30.0  # s


def main() -> None:
    """Keep a picture of every view, then the contact sheets."""
    for name in ("DATA", "STATE", "CONFIG", "CACHE"):  # the demo as it ships, and nobody's own projects
        os.environ[f"XDG_{name}_HOME"] = tempfile.mkdtemp()
    app = make_app()
    bench = open_bench(None, demo_document).bench
    window = MainWindow(bench)
    window.show()

    def settle() -> None:
        end = time.monotonic() + LONGEST
        idle = time.monotonic()
        while time.monotonic() < min(end, idle + PATIENCE):
            app.processEvents()
            time.sleep(0.01)
            idle = idle if window.bench.idle else time.monotonic()

    for name in views(window, settle):
        window.toast.hide()
        window.grab().save(str(FOLDER / f"{name}.png"))
    window.close()
    contact_sheets()


def contact_sheets() -> None:
    """Every block on one real body, and the darted bodice on nine: by the script that is used to look at them."""
    script = Path(__file__).parent / "contact_sheet.py"
    subprocess.run([sys.executable, str(script)], check=True)


if __name__ == "__main__":
    main()
