"""The window ready to use, against a bare PyQt6 window with one label; each in a process of its own."""

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
OURS = """
import os
from PyQt6.QtCore import QTimer
from caddet.core.demo import demo_document
from caddet.desk.app import make_app, open_bench
from caddet.desk.window import MainWindow
app = make_app()
bench, _ = open_bench(None, demo_document)
window = MainWindow(bench)
window.show()
bench.made.connect(lambda: QTimer.singleShot(0, lambda: os._exit(0)))
app.exec()
"""


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
        # as on anybody's second start: compiled once, wherever this machine keeps (or doesn't keep) the result
        environment.pop("PYTHONDONTWRITEBYTECODE", None)
        environment["PYTHONPYCACHEPREFIX"] = f"{folder}/compiled"
        environment |= {f"XDG_{name}_HOME": folder for name in ("DATA", "STATE", "CONFIG", "CACHE")}

        def run(script: str) -> None:
            subprocess.run([sys.executable, "-c", script], env=environment, check=True, capture_output=True)

        run(OURS)
        run(BARE)
        show(
            "window ready with the demo drawn, against a bare window",
            best(lambda: run(OURS), 4),
            best(lambda: run(BARE), 4),
            2.5,
        )


if __name__ == "__main__":
    main()
