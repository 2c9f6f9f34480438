"""Schema 3 to 4: edges, darts and pieces by reference, places on edges, seams by name.

Schema 3 named a piece and a run in two values and counted along the run, called what a pivot left
``…_rest``, the open part of a seam ``piece.slit``, a second band ``collar_2``, and seams by letters. What
schema 3 was is written down here; today's blocks and steps are not looked at.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from caddet.core.sentences import say

Raw = dict[str, Any]

# what the blocks called their seams, by the letter that schema 3 gave them
_SLEEVE = ("armhole_front", "armhole_back", "sleeve")
SEAMS_IN_3: dict[str, dict[str, str]] = {
    "skirt.straight": dict(zip("ABC", ("side", "centre_back", "waistband"), strict=True)),
    "skirt.circle": dict(zip("AB", ("panel", "waistband"), strict=True)),
    "bodice.darted": dict(zip("ABCDEF", ("side", "shoulder", "centre_back", *_SLEEVE), strict=True)),
    "dress.sheath": dict(zip("ABCDEFGHIJ", ("side", "shoulder", "centre_back", "skirt_side", "waist_front", "waist_back",
                                            "skirt_centre_back", *_SLEEVE), strict=True)),
    "sleeve.set_in": {"E": "sleeve"},
    "leggings": dict(zip("ABCD", ("inseam", "front_crotch", "back_crotch", "waistband"), strict=True)),
    "swimsuit": dict(zip("ABC", ("side", "shoulder", "crotch"), strict=True)),
    "top.cowl": dict(zip("AB", ("side", "shoulder"), strict=True)),
    "top.dolman": dict(zip("ABCD", ("top", "side", "cuff", "collar"), strict=True)),
    "top.knit": dict(zip("ABCDEFGH", ("side", "shoulder", *_SLEEVE, "neckband", "wristband", "hemband"), strict=True)),
    "top.raglan": dict(zip("ABCD", ("side", "raglan_front", "raglan_back", "sleeve"), strict=True)),
    "trousers.panels": dict(zip("ABCDEFG", ("seat", "inseam", "gusset_front", "gusset_back", "placket", "waistband", "cuff"), strict=True)),
    "trousers.tailored": dict(zip("ABCDE", ("side", "inseam", "front_crotch", "back_crotch", "waistband"), strict=True)),
    "tunic.panels": dict(zip("ABCDEFGHIJKL", ("shoulder", "sleeve_to_body", "gusset_front_body", "gusset_front_sleeve",
                                              "gusset_back_sleeve", "gusset_back_body", "sleeve", "side", "godet_front",
                                              "godet_back", "facing_front", "facing_back"), strict=True)),
}  # fmt: skip
# pieces of the blocks that had the name of a part that can be fitted
_TAKEN = {
    "skirt.straight": ("waistband",), "skirt.circle": ("waistband",), "trousers.tailored": ("waistband",), "leggings": ("waistband",),
    "trousers.panels": ("waistband", "cuff"), "top.knit": ("neckband",), "top.dolman": ("cuff", "collar"),
    "waistband": ("waistband",), "cuff": ("cuff",), "neckband": ("neckband",), "collar": ("collar",), "hood": ("hood",),
}  # fmt: skip
# runs that schema 3's blocks drew from the hem up: what is open of them lies before the place, not behind it
_FROM_THE_HEM = ("centre_back", "centre_front", "inseam", "front_inseam", "underarm_front", "raglan")


@dataclass(slots=True)
class _Names:
    """What schema 3's names are called now, as far as the steps so far have made it so."""

    darts: dict[str, str] = field(default_factory=dict)
    pieces: dict[str, str] = field(default_factory=dict)
    edges: dict[str, str] = field(default_factory=dict)
    taken: set[str] = field(default_factory=set)

    def of(self, name: str) -> str:
        """An edge, piece or dart by its name now."""
        if name in self.edges:
            return self.edges[name]
        piece, dot, run = name.partition(".")
        return f"{self.pieces.get(piece, piece)}{dot}{run}"


def names_and_places(raw: Raw) -> Raw:
    """A project of schema 3 as one of schema 4."""
    recipe = raw.get("recipe")
    recipe = recipe if isinstance(recipe, dict) else {}
    sources = recipe.get("sources")
    block = (
        next((s.get("block") for s in sources if isinstance(s, dict) and s.get("kind") == "block"), "")
        if isinstance(sources, list)
        else ""
    )
    names = _Names(taken=set(_TAKEN.get(str(block), ())))
    seams = dict(SEAMS_IN_3.get(str(block), {}))
    steps = recipe.get("steps")
    for step in steps if isinstance(steps, list) else ():
        if isinstance(step, dict) and isinstance(step.get("values", {}), dict):
            _step(step, names, seams)
    finishing = raw.get("finishing")
    if isinstance(finishing, dict):
        _renamed(finishing, "exceptions", names)
    for key in ("table", "cut", "made"):
        _renamed(raw, key, names)
    accepted = raw.get("accepted")
    for one in accepted if isinstance(accepted, list) else ():
        if isinstance(one, dict):
            _accepted(one, names, seams)
    return raw


def _renamed(holder: Raw, key: str, names: _Names) -> None:
    if isinstance(holder.get(key), dict):
        holder[key] = {names.of(name): value for name, value in holder[key].items()}


def _accepted(one: Raw, names: _Names, seams: dict[str, str]) -> None:
    letter, dot, rest = str(one.get("name", "")).partition(".")
    if one.get("kind") in ("seam", "join") and letter in seams:
        one["name"] = f"{seams[letter]}{dot}{rest}"
    if isinstance(one.get("place"), str) and not one["place"].startswith("recipe"):
        one["place"] = names.of(one["place"])


def _refs(value: Any) -> list[str]:
    refs = value.get("refs") if isinstance(value, dict) else None
    return [str(ref) for ref in refs] if isinstance(refs, list) else []


def _step(step: Raw, names: _Names, seams: dict[str, str]) -> None:
    """One step's values renewed; what it makes is named for the steps behind it."""
    values, kind, step_id = step.get("values", {}), step.get("kind"), str(step.get("id", ""))
    match kind:
        case "pivot_dart":
            step["values"] = _pivot(step, dict(values), names, step_id)
        case "lengthen":
            pieces = [names.of(name) for name in _refs(values.pop("piece", None))]
            step["values"] = {**values, "pieces": {"kind": "pieces", "refs": pieces}}
        case "flare":
            pieces = [names.of(name) for name in _refs(values.pop("piece", None))]
            if pieces:
                values |= {
                    "edges": {"kind": "edges", "refs": [f"{name}.side" for name in pieces]},
                    "both": {"kind": "flag", "on": False},
                }
            step["values"] = values
        case "slit":
            step["values"] = _slit(dict(values), names, step_id)
        case "band":
            step["values"] = _band(dict(values), names, seams, step_id)


def _own(values: Raw, name: str, usual: str) -> str:
    """The last part of what a value names, or what schema 3 took without it."""
    refs = _refs(values.get(name))
    return refs[0].rpartition(".")[2] if refs else usual


def _pivot(step: Raw, values: Raw, names: _Names, step_id: str) -> Raw:
    piece = (_refs(values.pop("piece", None)) or ["front"])[0]
    dart, run = _own(values, "dart", ""), _own(values, "to", "side")
    values.pop("dart", None)
    values.pop("to", None)
    at = values.pop("at", {"kind": "number", "value": 100.0})
    found: Raw = {}
    if dart:
        now = names.darts.get(f"{piece}.{dart}", f"{names.of(piece)}.{dart}")
        found["dart"] = {"kind": "dart", "refs": [now]}
        share = values.get("share", {})
        partial = isinstance(share, dict) and isinstance(share.get("value"), int | float) and share["value"] < 1
        if partial and step.get("on", True):
            rest = next(
                name
                for name in (f"{dart}_rest", *(f"{dart}_rest_{n}" for n in range(2, len(names.darts) + 3)))
                if f"{piece}.{name}" not in names.darts
            )
            names.darts[f"{piece}.{dart}"], names.darts[f"{piece}.{rest}"] = (
                _marked(now, f"{step_id}.2"),
                _marked(now, f"{step_id}.1"),
            )
    if isinstance(at, dict) and at.get("kind") == "number":
        found["to"] = {"kind": "place", "edge": names.of(f"{piece}.{run}"), "mm": at.get("value", 100.0)}
    else:  # a place holds no formula: the default distance, and what it was is not lost
        found["to"] = {"kind": "place", "edge": names.of(f"{piece}.{run}"), "mm": 100.0}
        text = at.get("text", "") if isinstance(at, dict) else ""
        step["note"] = say(
            "{step}\nIts distance along the edge was {text}.", step=step.get("note", ""), text=text
        ).strip()[:2000]
    return {**values, **found}


def _marked(ref: str, mark: str) -> str:
    """A reference with one more mark."""
    name, _, marks = ref.partition("[")
    return f"{name}[{','.join(sorted({*filter(None, marks.removesuffix(']').split(',')), mark}))}]"


def _slit(values: Raw, names: _Names, step_id: str) -> Raw:
    piece, run = (_refs(values.pop("piece", None)) or ["back"])[0], _own(values, "run", "centre_back")
    values.pop("run", None)
    mark = f"{step_id}.{1 if run in _FROM_THE_HEM else 2}"
    for one in {piece, "front", "back"}:
        names.edges.setdefault(f"{one}.slit", f"{names.of(one)}.{run}[{mark}]")
    return {**values, "edges": {"kind": "edges", "refs": [f"{names.of(piece)}.{run}"]}}


def _band(values: Raw, names: _Names, seams: dict[str, str], step_id: str) -> Raw:
    pieces, run = _refs(values.pop("piece", None)), _own(values, "run", "neckline")
    values.pop("run", None)
    chosen = values.get("part")
    part = str(chosen.get("name", "neckband")) if isinstance(chosen, dict) else "neckband"
    name, number = part, 2
    while name in names.taken:
        name, number = f"{part}_{number}", number + 1
    names.taken.add(name)
    names.pieces[name] = f"{step_id}.{part}"
    free = next((one for one in "ABCDEFGHIJKLMNOPQRSTUVWXYZ" if one not in seams), "")
    if free:
        seams[free] = f"{step_id}.{part}"
    if part == "hood":
        values.setdefault("head", {"kind": "number", "value": 570.0})
    edges = [f"{names.of(piece)}.{run}" for piece in pieces] or [run]
    return {**values, "edges": {"kind": "edges", "refs": edges}}
