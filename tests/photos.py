"""Photographs of garments of known shape, by the simulated camera; each is rendered once in a run."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path as FilePath

import numpy as np
import shapely

from caddet.cli import main
from caddet.core import library as library  # registers the kinds
from caddet.core.devices.camera import Lying, Scene, Shot, SimulatedCamera
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion
from caddet.core.tracing.kinds import KINDS
from caddet.core.tracing.outlining import path_of
from caddet.core.tracing.photo.picture import Picture, read_picture
from caddet.core.tracing.photo.view import Points, View
from tests.garments import garment

MIRROR = Motion(-1 + 0j, 0j, True)


def whole_outline(kind: str, shape: str, seed: int) -> Path:
    """The outline of a garment's piece, both halves of one on the fold, in mm."""
    one = KINDS[kind].shape(shape)
    net, x = garment(KINDS[kind], seed)
    curves = net.curves(x[None], net.marks(x[None]))
    half = Path.join([path_of(curves[shape, run.name][0]) for run in one.runs if run.finish != "fold"])
    return Path.join([half, half.moved(MIRROR).reversed()]) if one.fold else half


def true_lengths(kind: str, shape: str, seed: int) -> dict[str, float]:
    """How long each edge of a garment's piece is, in mm."""
    net, x = garment(KINDS[kind], seed)
    curves = net.curves(x[None], net.marks(x[None]))
    return {run.name: path_of(curves[shape, run.name][0]).length for run in KINDS[kind].shape(shape).runs}


@lru_cache(maxsize=32)
def camera_on(kind: str, shape: str, sheet: str = "A4", shot: Shot = Shot(), seed: int = 5) -> SimulatedCamera:  # noqa: B008  (frozen)
    outline = whole_outline(kind, shape, seed)
    _, top, right, _ = outline.bounds()
    return SimulatedCamera(Scene((Lying(shape, outline),), sheet, complex(right + 50, top + 60), 7.0), shot, seed)


@lru_cache(maxsize=32)
def photo_bytes(kind: str, shape: str, sheet: str = "A4", shot: Shot = Shot(), seed: int = 5) -> bytes:  # noqa: B008  (frozen)
    return camera_on(kind, shape, sheet, shot, seed).take()


def photo(kind: str, shape: str, sheet: str = "A4", shot: Shot = Shot(), seed: int = 5) -> Picture:  # noqa: B008  (frozen)
    return read_picture(photo_bytes(kind, shape, sheet, shot, seed))


def as_found(camera: SimulatedCamera, view: View, true: Points) -> Points:
    """True places on the table as they lie in the plane of a found view: turned and moved so that the sheets lie on each other."""
    sheet = camera.sheet_corners()
    found = view.to_table(camera.view().to_picture(sheet))
    turn = ((found - found.mean()) * (sheet - sheet.mean()).conjugate()).sum()
    return np.asarray((true - sheet.mean()) * turn / abs(turn) + found.mean())


def strays(camera: SimulatedCamera, view: View, points: Points) -> np.ndarray:
    """How far the true outline lies from a found one, in mm, all along it."""
    true = as_found(camera, view, np.array(camera.scene.pieces[0].outline.flattened(0.1)))
    ring = shapely.LinearRing([(p.real, p.imag) for p in points])
    return np.array([ring.distance(shapely.Point(p.real, p.imag)) for p in true])


def traced_project(path: FilePath) -> None:
    """A project traced from a photograph, written as the command line does it: the photograph is in the file only."""
    picture = path.with_suffix(".jpg")
    picture.write_bytes(photo_bytes("t_shirt", "front", shot=Shot(size=(1600, 1200))))
    words = ["trace", str(picture), "--kind", "t_shirt", "--shape", "front", "-o", str(path), "--force"]
    assert main(words) in (0, 1) and path.exists()
