"""Which parameter of a step takes a chosen thing, and as what."""

from __future__ import annotations

from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.hands.things import Selection, Thing, places_of
from caddet.core.pattern.finding import chosen_edges
from caddet.core.pattern.ids import reference
from caddet.core.pattern.pattern import Pattern
from caddet.core.recipe.parameters import NAMING, Parameter
from caddet.core.recipe.registry import Step
from caddet.core.recipe.values import Corner, Place

# the kinds of parameter that a thing can be given to, the one it means most first
FOR: dict[str, tuple[str, ...]] = {
    "edge": ("edges", "place", "seam", "pieces"),
    "corner": ("corner", "place", "edges", "pieces"),
    "notch": ("place", "edges", "pieces"),
    "dart": ("dart", "pieces"),
    "level": ("level", "pieces"),
    "piece": ("pieces",),
    "seam": ("seam", "edges"),
}


def taken(pattern: Pattern, thing: Thing, kind: str) -> str | None:
    """How a thing is named as a value of a kind (its edge, its piece, its seam); None when it can't be."""
    places = places_of(pattern, thing)
    if not places:
        return None
    if kind == thing.kind or (kind, thing.kind) in (
        ("edges", "edge"),
        ("edges", "corner"),
        ("edges", "notch"),
        ("pieces", "piece"),
    ):
        return thing.ref
    if kind == "pieces":
        return places[0].piece
    if kind == "seam" and thing.kind in ("edge", "corner", "notch"):
        piece, key = chosen_edges(pattern, (thing.ref,))[0]
        number = next(p for p, one in enumerate(pattern.pieces) if one is piece)
        return next(
            (
                seam.name
                for index in piece.indices(reference(key))
                for seam, _ in pattern.sewn().get((number, index), [])
            ),
            None,
        )
    if kind == "edges" and thing.kind == "seam":
        return str(pattern.seam(thing.ref).a[0].ref)
    return None


def _place(pattern: Pattern, thing: Thing) -> Place | None:
    """The place on an edge that a thing marks."""
    try:
        piece, key = chosen_edges(pattern, (thing.ref,))[0]
    except CaddetError:
        return None
    if thing.kind == "corner":
        return Place(edge=thing.ref, mm=0.0, end="end" if thing.at == "end" else "start")
    if thing.kind == "notch":
        at = places_of(pattern, thing)[0].at
        return Place(edge=key, mm=round(piece.nearest_on_run(key, at)[1], 2))
    return Place(edge=thing.ref, share=0.5)


def values_from_selection(step: Step, pattern: Pattern, selection: Selection) -> dict[str, Any]:
    """Plain values of a step from what is chosen: each thing goes to the first parameter that takes it and has room."""
    values: dict[str, Any] = {}
    for thing in selection:
        for kind in FOR[thing.kind]:
            if any(_give(one, pattern, thing, values) for one in step.parameters if one.kind == kind):
                break
    return values


def _give(parameter: Parameter, pattern: Pattern, thing: Thing, values: dict[str, Any]) -> bool:
    if parameter.kind == "place":
        place = _place(pattern, thing) if parameter.name not in values else None
        if place is not None:
            values[parameter.name] = place
        return place is not None
    if parameter.kind == "corner" and thing.kind == "corner" and parameter.name not in values:
        values[parameter.name] = Corner(edge=thing.ref, end="start" if thing.at == "start" else "end")
        return True
    if parameter.kind not in NAMING:
        return False
    ref = taken(pattern, thing, parameter.kind)
    now = values.get(parameter.name, ())
    if ref is None or ref in now:
        return ref is not None
    try:
        values[parameter.name] = parameter.checked((*now, ref))
    except CaddetError:
        return False
    return True


def takes(step: Step, pattern: Pattern, selection: Selection) -> bool:
    """Whether the step has room for every chosen thing that one of its parameters could name."""
    values = values_from_selection(step, pattern, selection)
    for thing in selection:
        alone = values_from_selection(step, pattern, (thing,))
        for name, value in alone.items():
            one_more = isinstance(value, tuple) and not set(value) <= set(values.get(name, ()))
            if one_more or (isinstance(value, Place) and values.get(name) != value):
                return False
    return True
