"""Tracing: a 12-megapixel photograph seen from above and its outline proposed, against OpenCV's own warp; the tape solver against a frame."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np

from bench.timing import best, show
from caddet.core import library as library
from caddet.core.devices.practice_shots import practice_camera
from caddet.core.recipe.traced import Reading
from caddet.core.tracing.kinds import KINDS
from caddet.core.tracing.net import Net
from caddet.core.tracing.photo.flat import flattened
from caddet.core.tracing.photo.picture import read_picture
from caddet.core.tracing.photo.proposing import propose
from caddet.core.tracing.photo.sheets import SHEETS, find_sheet
from caddet.core.tracing.solving import solve

FRAME = 1 / 60


def main() -> None:
    """Measure, and print each ratio with its aim."""
    camera = practice_camera("t_shirt A4 4")
    points = read_picture(replace(camera, shot=replace(camera.shot, size=(4000, 3000))).take()).points
    found = find_sheet(points, SHEETS["A4"])
    sheet = found.view.to_table(np.array(found.corners))
    matrix = np.array([[0.9, 0.1, 30.0], [-0.05, 1.0, 60.0], [1e-5, 2e-5, 1.0]])
    warp = best(lambda: cv2.warpPerspective(points, matrix, (4000, 3000), flags=cv2.INTER_LINEAR), 5)
    show("12 megapixels seen from above", best(lambda: flattened(points, found.view, sheet, 3.0), 3), warp, 4.0)
    show("12 megapixels, its outline proposed", best(lambda: propose(points, found.view, sheet), 3), warp, 4.0)
    show("12 megapixels, its sheet found", best(lambda: find_sheet(points, SHEETS["A4"]), 3), warp, 4.0)
    for name in ("collar", "t_shirt", "trousers", "bodysuit"):
        kind = KINDS[name]
        net = Net(kind.shapes)
        readings = [
            Reading(what=one.name, values=(float(net.seen(net.usual[None], one.seen)[0].mean()) * 1.04 + 2,))
            for one in kind.asked
        ]
        show(f"{kind.label}: the tape's readings solved", best(lambda k=kind, r=readings: solve(k, r), 7), FRAME, 1.0)
        some = readings[: len(readings) // 3]
        show(f"{kind.label}, a third of them read", best(lambda k=kind, r=some: solve(k, r), 7), FRAME, 1.0)


if __name__ == "__main__":
    main()
