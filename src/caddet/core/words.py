"""Words: the trade's terms in a sentence or two, and where they stand in a text."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from caddet.core.files.shipped import shipped_text


@dataclass(frozen=True, slots=True)
class Word:
    """A term, the other forms in which it is written, and what it means."""

    term: str
    also: tuple[str, ...]
    says: str


@lru_cache(maxsize=1)
def words() -> dict[str, Word]:
    """Every term by its name, in the order of the alphabet."""
    data = json.loads(shipped_text("words.json"))
    return {one["term"]: Word(one["term"], tuple(one["also"]), one["says"]) for one in data}


@lru_cache(maxsize=1)
def _forms() -> tuple[re.Pattern[str], dict[str, str]]:
    """What finds any form of any term (the longest first), and the term of each form."""
    forms = {form: word.term for word in words().values() for form in (word.term, *word.also)}
    longest = sorted(forms, key=len, reverse=True)
    return re.compile(rf"(?<![\w-])(?:{'|'.join(map(re.escape, longest))})(?![\w-])", re.IGNORECASE), forms


def found_in(text: str) -> Iterator[tuple[int, int, Word]]:
    """Where terms stand in a text, each at its first place only: start, end and the word."""
    pattern, forms = _forms()
    told: set[str] = set()
    for match in pattern.finditer(text):
        term = forms[match[0].lower()]
        if term not in told:
            told.add(term)
            yield match.start(), match.end(), words()[term]
