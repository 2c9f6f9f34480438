"""What a piece, an edge, a line, a dart or a seam *is*: its role. Names and labels are for people.

The maker of a thing says its role (a block, a part, a stored piece), or else the name that it gives it tells, in the words
of the trade: ``front.side`` is a side. That is read here, once, as the thing is made, and nowhere else; from then on the
role is kept with the thing, whatever it is called or cut into.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from functools import lru_cache
from typing import Literal

from caddet.core.pattern.ids import own_name

Covers = Literal["", "front", "back"]
"""Which half of the body something covers; "" where it is both, or neither."""
Side = Literal["", "left", "right", "across"]
"""On which side of the body a piece is worn; "" where it stands for both sides, ``across`` where it lies over the middle."""

PIECE_ROLES = (
    "front", "back", "sleeve", "leg", "skirt", "gusset", "godet", "hood", "collar", "band", "cuff",
    "facing", "lining", "layer", "casing", "binding", "pocket", "placket", "fly", "strap", "tie", "loop", "belt", "ruffle",
)  # fmt: skip
BODY: Collection[str] = frozenset(("", "front", "back", "sleeve", "leg", "skirt"))
"""The roles of pieces that make up the garment itself; a piece of no known role counts as one."""

BANDS: Collection[str] = frozenset(("band", "collar", "cuff", "hood"))

EDGE_ROLES = (
    "side", "inseam", "crotch", "fly", "centre_front", "centre_back", "neck", "armhole", "shoulder", "waist", "hem",
    "cap_front", "cap_back", "cap", "raglan", "raglan_front", "raglan_back", "underarm_front", "underarm_back",
    "inseam_front", "inseam_back", "crotch_front", "crotch_back", "panel", "inset", "top", "end", "overlap", "inside",
    "outer", "inner", "front_edge", "facing_edge", "face", "mouth", "cuff", "join", "casing", "opening", "leg", "seat", "gusset",
)  # fmt: skip
CENTRES: Collection[str] = frozenset(("centre_front", "centre_back"))
CROTCHES: Collection[str] = frozenset(("crotch", "crotch_front", "crotch_back"))
INSEAMS: Collection[str] = frozenset(("inseam", "inseam_front", "inseam_back"))
UNDERARMS: Collection[str] = frozenset(("underarm_front", "underarm_back"))
CAPS: Collection[str] = frozenset(("cap", "cap_front", "cap_back"))
BEHIND: Collection[str] = frozenset(
    ("centre_back", "cap_back", "raglan_back", "underarm_back", "inseam_back", "crotch_back")
)
BEFORE: Collection[str] = frozenset(
    ("centre_front", "cap_front", "raglan_front", "underarm_front", "inseam_front", "crotch_front", "front_edge")
)

# the trade's words, as blocks, tracings and makers name edges, and the role that each says
_EDGES: Mapping[str, str] = {
    **{role: role for role in EDGE_ROLES},
    "neckline": "neck", "zip": "centre_back", "top_edge": "top", "start": "end", "head": "cap",
    "seam_left": "panel", "seam_right": "panel",
    "front_inseam": "inseam_front", "back_inseam": "inseam_back",
    "front_crotch": "crotch_front", "back_crotch": "crotch_back", "crotch_casing": "casing", "side_casing": "casing",
    "leg_front": "leg", "leg_back": "leg", "sleeve": "join", "sleeve_join": "join", "godet_join": "inset", "seat_side": "seat",
    "ledge": "seat", "strip_join": "gusset", "gusset_join": "gusset", "gusset_front": "gusset", "gusset_back": "gusset",
    "front_body": "gusset", "back_body": "gusset", "front_sleeve": "gusset", "back_sleeve": "gusset",
    "front": "front_edge", "front_edge_left": "front_edge", "cuff_edge": "cuff", "leg_edge": "join", "hem_edge": "join",
}  # fmt: skip
_PIECES: Mapping[str, str] = {
    **{role: role for role in PIECE_ROLES},
    "waistband": "band", "neckband": "band", "hemband": "band", "wristband": "band", "bag": "pocket", "flap": "pocket",
    "welt": "pocket", "shield": "fly", "flounce": "ruffle", "loops": "loop", "pads": "layer", "trousers": "leg", "seat": "gusset",
}  # fmt: skip


@lru_cache(maxsize=4096)
def role_of_edge(name: str) -> str:
    """The role that the name of an edge says; "" when it says none."""
    return _EDGES.get(own_name(name), "")


def word_of(role: str) -> str:
    """The word of the trade for edges of a role, as a document names them on every piece."""
    return "neckline" if role == "neck" else role


@lru_cache(maxsize=4096)
def role_of_piece(name: str) -> str:
    """The role that the name of a piece says: the last of its words that is one (``back_facing`` is a facing)."""
    words = own_name(name).split("_")
    return next((_PIECES[word] for word in reversed(words) if word in _PIECES), "")


@lru_cache(maxsize=4096)
def covers_of(name: str) -> Covers:
    """Which half of the body a piece of that name covers."""
    words = own_name(name).split("_")
    return "back" if "back" in words else "front" if "front" in words else ""


@lru_cache(maxsize=4096)
def role_of_dart(name: str) -> str:
    """What a dart of that name takes in: the bust, or else (``front_dart``, ``back_dart_2``) the waist."""
    words = own_name(name).split("_")
    return next(
        (word for word in words if word in ("bust", "elbow", "shoulder", "neck")), "waist" if "dart" in words else ""
    )


def lies_behind(covers: Covers, role: str) -> bool:
    """Whether an edge of a piece lies behind on the body: by its own role, or else as its piece does."""
    return role in BEHIND or (covers == "back" and role not in BEFORE)
