"""Schema 4 to 5: outlines become pieces with all that a piece carries, in sources and in what has been cut.

Schema 4 kept of a piece its edges (by their own names), notches at shares of an edge, levels from point to point, the
grain, how many are cut, and of one cloth. What schema 4 was is written down here.
"""

from __future__ import annotations

from typing import Any

from caddet.core.geometry.paths import Path
from caddet.core.geometry.segments import Cubic, Line

Raw = dict[str, Any]

_FINISHES = {"hem": "hem", "fold": "fold", "opening": "opening", "slit": "slit", "edge": "turned"}
_SAME, _NEARLY = 1e-6, 0.05  # mm: a corner that is one; a hair by which an outline may miss its beginning
_NEAR = 1.0  # mm from an edge within which the end of a level lies on it


def outlines_as_pieces(raw: Raw) -> Raw:
    """A project of schema 4 as one of schema 5. What can't be read is left for the repair."""
    recipe = raw.get("recipe")
    for source in _list(recipe.get("sources")) if isinstance(recipe, dict) else ():
        if isinstance(source, dict) and source.get("kind") == "outlines":
            source["kind"] = "stored"
            source["pieces"] = [_or_as_it_is(one) for one in _list(source.pop("outlines", []))]
            source["seams"] = [_seam(one) for one in _list(source.get("seams", []))]
    cut = raw.get("cut")
    for record in cut.values() if isinstance(cut, dict) else ():
        if isinstance(record, dict) and "outline" in record:
            record["piece"] = _or_as_it_is(record.pop("outline"))
    return raw


def _list(value: Any) -> list[Any]:
    return value if isinstance(value, list) else []


def _or_as_it_is(outline: Any) -> Any:
    try:
        return _piece(outline)
    except (KeyError, TypeError, ValueError, AttributeError, ArithmeticError, IndexError):
        return outline


def _piece(outline: Raw) -> Raw:
    name, start = outline["name"], complex(*outline["start"])
    at, paths = start, []
    for number, edge in enumerate(outline["edges"]):
        segments: list[Line | Cubic] = []
        for part in edge["segments"]:
            points = [complex(x, y) for x, y in zip(part[::2], part[1::2], strict=True)]
            if len(points) > 1 or abs(points[-1] - at) > _SAME:
                segments.append(Line(at, points[0]) if len(points) == 1 else Cubic(at, *points))
            at = points[-1]
        if number == len(outline["edges"]) - 1 and abs(at - start) > _NEARLY:
            segments.append(Line(at, start))
        paths.append(Path(tuple(segments)))
    edges, darts = _edges(name, outline["edges"], paths)
    pieces: Raw = {
        "id": name,
        "label": outline.get("label") or name,
        "start": outline["start"],
        "edges": edges,
        "darts": [{"id": dart} for dart in darts],
        "notches": [
            {"edge": f"{name}.{n['edge']}", "u": n["at"], "double": n.get("double", False), "name": n.get("name", "")}
            for n in outline.get("notches", ())
        ],
        "features": [_level(name, one, edges, paths) for one in outline.get("levels", ())],
        "cuts": [{"cloth": outline.get("cloth", "main"), "count": outline.get("count", 1)}],
        "pair": outline.get("pair", False),
    }
    if "grain" in outline:
        pieces["grain"] = {"a": outline["grain"][0], "b": outline["grain"][1]}
    return pieces


def _edges(piece: str, given: list[Raw], paths: list[Path]) -> tuple[list[Raw], list[str]]:
    """The edges under their full names, those of one name in stretches of it; and the darts."""
    whole: dict[str, float] = {}
    for edge, path in zip(given, paths, strict=True):
        if not edge.get("dart"):
            whole[edge["name"]] = whole.get(edge["name"], 0.0) + path.length
    passed = dict.fromkeys(whole, 0.0)
    last = {edge["dart"]: n for n, edge in enumerate(given) if edge.get("dart")}
    edges: list[Raw] = []
    for number, (edge, path) in enumerate(zip(given, paths, strict=True)):
        made: Raw = {"path": [_stored(segment) for segment in path.segments], "why": edge.get("why", "")}
        role = edge.get("role", "seam")
        made["finish"] = edge.get("finish") or _FINISHES.get(role, "")
        if dart := edge.get("dart"):
            made["dart"] = f"{piece}.{dart}"
            made["id"] = f"{piece}.{dart}.leg_{'b' if number == last[dart] else 'a'}"
        else:
            low = passed[edge["name"]] / whole[edge["name"]]
            passed[edge["name"]] += path.length
            made["id"] = f"{piece}.{edge['name']}"
            made["pairs"] = [[0.0, low], [1.0, min(passed[edge["name"]] / whole[edge["name"]], 1.0)]]
        edges.append(made)
    return edges, [f"{piece}.{dart}" for dart in last]


def _stored(segment: Any) -> list[float]:
    points = (segment.end,) if isinstance(segment, Line) else (segment.out, segment.into, segment.end)
    return [value for point in points for value in (point.real, point.imag)]


def _level(piece: str, given: Raw, edges: list[Raw], paths: list[Path]) -> Raw:
    """A level, its ends as places on the outline wherever they lie on it."""
    ends: list[Any] = []
    for point in (given["a"], given["b"]):
        off, along, number = min(
            (*path.nearest(complex(*point)), n) for n, path in enumerate(paths) if "pairs" in edges[n]
        )
        if off >= _NEAR:
            ends.append(point)
            continue
        (_, low), (_, high) = edges[number]["pairs"]
        ends.append({"edge": edges[number]["id"], "u": low + (high - low) * along / paths[number].length})
    own = given["name"]
    return {"kind": "level", "name": f"{piece}.{own}", "label": own.replace("_", " "), "bits": [ends]}


def _seam(given: Any) -> Any:
    if not isinstance(given, dict):
        return given
    seam = {key: value for key, value in given.items() if key not in ("kind", "amount")}
    seam["label"] = given.get("label") or str(given.get("name", "")).replace("_", " ")
    layers = given.get("layers")
    more = max(len(layers) - 2, 0) if isinstance(layers, list) else 0
    seam["joins"] = [
        {"kind": given.get("kind", "plain"), "amount": given.get("amount", 0.0)},
        *({} for _ in range(min(more, 4))),
    ]
    return seam
