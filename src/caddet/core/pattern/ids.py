"""References: how a document names an edge, a piece, a dart, a level or a seam.

A reference is a name and a set of marks, and means every thing of that name that has all the marks.
The name says where a thing was made (``front.side``, ``s4.cut``) and never changes; marks (``s3.2``,
``s3a``, ``s3.1.2`` by a part of a step) are left by the steps that divide it. ``X'`` is the mirrored counterpart of X. Written as
text: ``front.side``, ``front.side[s3.2]``, ``front.side[s3.2,s5.1]'``.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from caddet.core.errors import CaddetError
from caddet.core.sentences import say

LONGEST_NAME = 120
MOST_MARKS = 40

_NAME = r"[A-Za-z0-9_]+(?:\.[A-Za-z0-9_]+)*"
_MARK = r"s[0-9]{1,9}(?:\.[0-9]{1,3}){0,2}[ab]?"
_REFERENCE = re.compile(rf"(?P<name>{_NAME})(?:\[(?P<marks>{_MARK}(?:,{_MARK})*)\])?(?P<other>')?", re.ASCII)


@dataclass(frozen=True, slots=True)
class Reference:
    """A name, the marks that are asked for, and whether the mirrored counterpart is meant."""

    name: str
    marks: frozenset[str] = frozenset()
    mirrored: bool = False

    def __str__(self) -> str:
        marks = f"[{','.join(sorted(self.marks))}]" if self.marks else ""
        return f"{self.name}{marks}{chr(39) if self.mirrored else ''}"

    @property
    def key(self) -> str:
        """The name of the thing itself, with the stroke of the other side: ``front.side'``."""
        return f"{self.name}'" if self.mirrored else self.name

    def finds(self, key: str, marks: frozenset[str]) -> bool:
        """Whether a thing of that key and marks is meant."""
        return key == self.key and self.marks <= marks

    @property
    def plain(self) -> Reference:
        """The same without marks: the whole run, wherever it went."""
        return Reference(self.name, frozenset(), self.mirrored)

    @property
    def piece(self) -> str:
        """What stands before the last point: of an edge ``front.side``, the piece ``front``."""
        return self.name.rpartition(".")[0]

    @property
    def own(self) -> str:
        """The last part of the name: of an edge ``front.side``, the run ``side``."""
        return self.name.rpartition(".")[2]


@lru_cache(maxsize=4096)
def reference(text: str) -> Reference:
    """Read a reference. Raises :class:`CaddetError` with what was expected."""
    match = _REFERENCE.fullmatch(text) if len(text) <= LONGEST_NAME * 2 else None
    marks = frozenset((match["marks"] or "").split(",")) - {""} if match else frozenset()
    if match is None or len(match["name"]) > LONGEST_NAME or len(marks) > MOST_MARKS:
        raise CaddetError(
            say(
                "“{split}” does not name an edge or piece; expected one such as front.side",
                split=" ".join(text[:60].split()),
            )
        )
    return Reference(match["name"], marks, match["other"] is not None)


def id_of(key: str, marks: frozenset[str]) -> str:
    """How one thing is told from all others: its key and all its marks, as text."""
    if not marks:
        return key
    return f"{base_name(key)}[{','.join(sorted(marks))}]{stroke_of(key)}"


def other_side(key: str) -> str:
    """The key of the mirrored counterpart."""
    return key.removesuffix("'") if key.endswith("'") else f"{key}'"


def base_name(key: str) -> str:
    """The key of a thing without the stroke of the other side: ``front.side`` of ``front.side'``."""
    return key.removesuffix("'")


def on_other_side(key: str) -> bool:
    """Whether a key is that of the other side's."""
    return key.endswith("'")


def stroke_of(key: str) -> str:
    """The stroke of the other side's, or nothing."""
    return "'" if key.endswith("'") else ""


def named_on(piece: str, own: str) -> str:
    """The key of what is called so on a piece: ``side`` of ``front'`` is ``front.side'``."""
    return f"{base_name(piece)}.{own}{stroke_of(piece)}"


def without_maker(key: str) -> str:
    """What a step's copy was made of: ``front.hem`` of ``s4.front.hem``."""
    return key.partition(".")[2]


def with_word(key: str, word: str) -> str:
    """The key of what goes with a thing: ``s4.welt_bag'`` with ``s4.welt'``."""
    return f"{base_name(key)}_{word}{stroke_of(key)}"


def maker_of(key: str) -> str:
    """The first part of a key: the step that made it, or the piece of a block (``s4`` of ``s4.front.cut``)."""
    return key.partition(".")[0]


def own_name(key: str) -> str:
    """The last part of a key, without stroke: ``side`` of ``front.side'``."""
    return key.removesuffix("'").rpartition(".")[2]


def spoken(piece: str, thing: str) -> str:
    """A thing of a piece in words: ``front side``, but ``front dart`` and ``centre back`` without the piece again."""
    piece, thing = piece.replace("_", " "), thing.replace("_", " ")
    again = set(piece.lower().split()) & set(thing.lower().split())
    return thing if again or not piece else f"{piece} {thing}"


def canonical(text: str) -> str:
    """The text of a reference with its marks in order. Raises :class:`ValueError`, as a validator does."""
    try:
        return str(reference(text))
    except CaddetError as error:
        raise ValueError(str(error)) from error
