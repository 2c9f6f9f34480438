"""Practice garments for the camera: of known shape, so that one can see how close one's tracing came."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from caddet.core.devices.camera import Lying, Scene, Shot, SimulatedCamera
from caddet.core.devices.practice_wrap import wrap_lines, wrap_marks, wrap_outline
from caddet.core.errors import CaddetError
from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Motion
from caddet.core.sentences import say
from caddet.core.tracing.kinds import kind_named
from caddet.core.tracing.net import BOW, COORDINATE, Net, Reals
from caddet.core.tracing.outlining import path_of
from caddet.core.tracing.photo.view import Points, View

MIRROR = Motion(-1 + 0j, 0j, True)
BESIDE = 50.0  # mm between the garment and the sheet


@dataclass(frozen=True, slots=True)
class Practice:
    """A garment to practise on: its name, its label, the kind and the shape it is, and a dart sewn in its first edge.

    A dart: at which share of that edge it stands, how long it is, and how deep one feels it under the cloth (mm).
    """

    name: str
    label: str
    kind: str
    shape: str
    color: tuple[int, int, int]
    dart: tuple[float, float, float] | None = None


PRACTICE = {
    one.name: one
    for one in (
        Practice("t_shirt", "T-shirt, front", "t_shirt", "front", (88, 118, 150)),
        Practice("t_shirt_back", "T-shirt, back", "t_shirt", "back", (88, 118, 150)),
        Practice("skirt", "Fitted skirt with darts, front", "fitted_skirt", "front", (104, 70, 84), (0.55, 90.0, 10.0)),
        Practice(
            "skirt_back", "Fitted skirt with darts, back", "fitted_skirt", "back", (104, 70, 84), (0.5, 130.0, 14.0)
        ),
        Practice("shorts", "Shorts, one leg, front", "shorts", "front", (74, 96, 72)),
        Practice("swimsuit", "Swimsuit, front", "swimsuit", "front", (40, 72, 120)),
        Practice("swimsuit_back", "Swimsuit, back", "swimsuit", "back", (40, 72, 120)),
        Practice(
            "jacket", "Jacket front with a neckline dart", "jacket_front", "front", (92, 88, 110), (0.5, 105.0, 12.0)
        ),
        Practice("wrap", "Half wrap with six panels", "", "wrap", (206, 196, 150)),
    )
}


def known(code: str) -> tuple[Practice, str, int]:
    """A practice picture by its code, ``NAME SHEET SEED``. Raises :class:`CaddetError`."""
    name, _, rest = code.partition(" ")
    sheet, _, seed = rest.partition(" ")
    if name not in PRACTICE or not seed.isdigit():
        raise CaddetError(say("there is no practice garment “{code}”", code=code[:40]))
    return PRACTICE[name], sheet, int(seed)


@lru_cache(maxsize=16)
def practice_garment(
    kind: str, seed: int, low: float = 0.8, high: float = 1.15, wild: float = 6.0
) -> tuple[Net, Reals]:
    """A garment of a kind by a seed: its size between two shares of the usual one, each of its own measures (``wild``: mm).

    What is read once on two pieces is alike on both, as the two sides of a seam are.
    """
    from scipy.optimize import least_squares

    one = kind_named(kind)
    random = np.random.default_rng(seed)
    net = Net(one.shapes, float(random.uniform(low, high)))
    x = net.usual.copy()
    weak = np.empty(len(x))
    for n, unknown in enumerate(net.unknowns):
        reach = {COORDINATE: min(2 * wild * net.scale, 0.08 * abs(unknown.usual) + 4), BOW: 0.012}.get(
            unknown.kind, 0.05
        )
        weak[n] = {COORDINATE: 10.0, BOW: 0.01}.get(unknown.kind, 0.04)
        x[n] += random.normal(0, reach)
    pairs = [(asked.seen[0], other) for asked in one.asked for other in asked.seen[1:]]
    if not pairs:
        return net, x
    first, second = [a for a, _ in pairs], [b for _, b in pairs]

    def apart(y: Reals) -> Reals:
        off = (net.seen(y[None], first)[0] - net.seen(y[None], second)[0]) / 5e-4
        return np.concatenate([off, (y - x) / weak])

    return net, np.asarray(least_squares(apart, x).x)


@lru_cache(maxsize=16)
def practice_outline(kind: str, shape: str, seed: int) -> Path:
    """The closed outline of a practice garment in mm, both halves of one on the fold; the same seed, the same garment."""
    if not kind:
        return wrap_outline()
    shapes = kind_named(kind).shapes
    net, x = practice_garment(kind, seed)
    curves = net.curves(x[None], net.marks(x[None]))
    own = next(one for one in shapes if one.name == shape)
    half = Path.join([path_of(curves[shape, run.name][0]) for run in own.runs if run.finish != "fold"])
    return Path.join([half, half.moved(MIRROR).reversed()]) if own.fold else half


def practice_darts(practice: Practice, seed: int) -> tuple[Path, ...]:
    """The stitching of a practice garment's darts as it shows on the right side, in mm; on both halves of one on the fold."""
    if practice.dart is None:
        return ()
    share, length, _ = practice.dart
    shape = kind_named(practice.kind).shape(practice.shape)
    outline = practice_outline(practice.kind, practice.shape, seed)
    across = abs(outline.start.real) < 1e-6 if shape.fold else True
    reach = next(n for n in range(1, len(outline.segments) + 1) if _turns(outline, n))
    edge = Path(outline.segments[:reach])
    at, way = edge.point_at(edge.length * share), edge.direction_at(edge.length * share)
    inward = way / abs(way) * 1j
    line = Path.polyline([at, at + inward * length])
    return (line, line.moved(MIRROR)) if shape.fold and across else (line,)


def _turns(outline: Path, n: int) -> bool:
    """Whether an outline has a corner behind its first so many segments."""
    if n >= len(outline.segments):
        return True
    before, after = outline.segments[n - 1].direction(1.0), outline.segments[n].direction(0.0)
    return abs((after / before).imag) > 0.2


def practice_camera(code: str) -> SimulatedCamera:
    """The camera on a practice garment, held a little differently with every seed. Raises :class:`CaddetError`."""
    practice, sheet, seed = known(code)
    outline = practice_outline(practice.kind, practice.shape, seed)
    _, top, right, _ = outline.bounds()
    random = np.random.default_rng(seed + 100)
    shot = Shot(
        tilt=float(random.uniform(4, 22)),
        turn=float(random.uniform(-8, 8)),
        lens=float(random.uniform(-0.015, 0.015)),
        heading=float(random.uniform(0, 360)),
        shadow=float(random.uniform(0.15, 0.35)),
        creases=int(random.integers(2, 6)),
    )
    lines = practice_darts(practice, seed) if practice.kind else (*wrap_lines(), *wrap_marks())
    scene = Scene(
        (Lying(practice.shape, outline, practice.color, lines),),
        sheet,
        complex(right + BESIDE, top + BESIDE),
        float(random.uniform(-12, 12)),
    )
    return SimulatedCamera(scene, shot, seed)


def truth(code: str, view: View) -> Points:
    """The true outline of a practice garment as it lies on the table of a found view, in mm. Raises :class:`CaddetError`."""
    camera = practice_camera(code)
    sheet = camera.sheet_corners()
    found = view.to_table(camera.view().to_picture(sheet))
    turn = ((found - found.mean()) * (sheet - sheet.mean()).conjugate()).sum()
    true = np.array(camera.scene.pieces[0].outline.flattened(0.2))
    return np.asarray((true - sheet.mean()) * turn / abs(turn) + found.mean())


def how_close(code: str, view: View, points: Points) -> tuple[float, float, float]:
    """How far the true outline lies from a traced one, in mm: the middle, what 95 of 100 places stay within, the farthest."""
    import shapely

    ring = shapely.LinearRing([(p.real, p.imag) for p in points])
    off = [ring.distance(shapely.Point(p.real, p.imag)) for p in truth(code, view)]
    return float(np.median(off)), float(np.percentile(off, 95)), float(np.max(off))
