"""The first picture and the window ready to use, against a bare PyQt6 window; each in a process of its own."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile

from bench.timing import best, show

BARE = """
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QLabel
app = QApplication([])
label = QLabel("Caddet")
label.show()
QTimer.singleShot(0, app.quit)
app.exec()
"""
FIRST = """
import os
import caddet.cli  # what the command loads before it knows that a window is wanted
from caddet.desk.app import make_app, show_opening
app = make_app()
show_opening()
os._exit(0)
"""
READY = """
import os
import caddet.cli
from caddet.desk.app import make_app, make_window, show_opening
from PyQt6.QtCore import QTimer
app = make_app()
opening = show_opening()
window, _ = make_window(None, True)
window.show()
opening.close()
window.bench.made.connect(lambda: QTimer.singleShot(0, lambda: os._exit(0)))
app.exec()
"""


def main() -> None:
    """Measure, and print each ratio with its aim."""
    with tempfile.TemporaryDirectory() as folder:
        environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
        # as on anybody's second start: compiled once, wherever this machine keeps (or doesn't keep) the result
        environment.pop("PYTHONDONTWRITEBYTECODE", None)
        environment["PYTHONPYCACHEPREFIX"] = f"{folder}/compiled"
        environment |= {f"XDG_{name}_HOME": folder for name in ("DATA", "STATE", "CONFIG", "CACHE")}

        def run(script: str) -> None:
            subprocess.run([sys.executable, "-c", script], env=environment, check=True, capture_output=True)

        for script in (READY, BARE):
            run(script)
        bare = best(lambda: run(BARE), 6)
        show("first picture, against a bare window", best(lambda: run(FIRST), 6), bare, 2.5)
        show("window ready with the demo drawn, against a bare window", best(lambda: run(READY), 6), bare, 5.0)


if __name__ == "__main__":
    main()
