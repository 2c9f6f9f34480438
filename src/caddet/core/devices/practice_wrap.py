"""The half wrap of a torso to practise on: flattened, with the lines of six panels and registration marks drawn on it."""

from __future__ import annotations

from functools import lru_cache

from caddet.core.geometry.curves import smooth_through
from caddet.core.geometry.paths import Path

ROUND = (0j, 150 - 30j, 300 - 25j, 470 + 0j, 450 + 190j, 440 + 260j, 475 + 470j, 240 + 490j, 5 + 470j, 20 + 240j)  # mm
ENDS = ((0.2, 0.18), (0.4, 0.38), (0.6, 0.58), (0.8, 0.82))  # along top and foot: lines from the one to the other
ACROSS = 0.55  # down: one panel is divided once more
MARKS = (((0.3, False),), ((0.3, False), (0.75, True)), ((0.5, False),), ((0.4, True),), ((0.5, False),))
STROKE, APART = 14.0, 6.0  # mm long is the stroke of a mark; the two strokes of a double one are so far apart


def wrap_outline() -> Path:
    """The closed outline of the wrap, in mm."""
    return Path.join(
        [
            smooth_through([*ROUND[:4]], None, None),
            smooth_through([*ROUND[3:7]], None, None),
            smooth_through([*ROUND[6:9]], None, None),
            smooth_through([ROUND[8], ROUND[9], ROUND[0]], None, None),
        ]
    )


@lru_cache(maxsize=1)
def wrap_lines() -> tuple[Path, ...]:
    """The lines drawn on it, in mm, from edge to edge: four down and one across, which make six panels."""
    top, foot = (ROUND[0], ROUND[3]), (ROUND[8], ROUND[6])
    down = []
    for a, b in ENDS:
        start, end = top[0] + (top[1] - top[0]) * a, foot[0] + (foot[1] - foot[0]) * b
        down.append(smooth_through([start - 60j, start + 120j, (start + end) / 2 + 8, end + 60j], None, None))
    middle = down[0].point_at(down[0].length * ACROSS), down[1].point_at(down[1].length * ACROSS)
    return (*(_inside(line) for line in down), Path.polyline([*middle]))


def _inside(line: Path) -> Path:
    """A line as far as it lies on the wrap."""
    import shapely

    area = shapely.Polygon([(p.real, p.imag) for p in wrap_outline().flattened(0.05)])
    part = shapely.intersection(area, shapely.LineString([(p.real, p.imag) for p in line.flattened(0.05)]))
    longest = max(getattr(part, "geoms", [part]), key=lambda one: one.length)
    return Path.polyline([complex(x, y) for x, y in longest.coords])


def wrap_marks() -> tuple[Path, ...]:
    """The strokes of the registration marks across its lines, in mm."""
    strokes = []
    for line, marks in zip(wrap_lines(), MARKS, strict=True):
        for share, double in marks:
            for off in (-APART / 2, APART / 2) if double else (0.0,):
                along = line.length * share + off
                way = line.direction_at(along)
                across = way / abs(way) * 1j * STROKE / 2
                at = line.point_at(along)
                strokes.append(Path.polyline([at - across, at + across]))
    return tuple(strokes)
