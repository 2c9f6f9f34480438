"""A document written out: its JSON values and its one text, made again only where it changed.

Parts of a document are immutable, so a part that is the same object as before has the same values and
the same text. What :func:`canonical` gives for ``model_dump`` is what stands here.
"""

from __future__ import annotations

import hashlib
import json
import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from json.encoder import encode_basestring
from typing import Any

from pydantic import BaseModel

from caddet.core.formats.strict_json import compact
from caddet.core.recipe.document import Document

Known = dict[int, tuple[BaseModel, Any, str]]


def token_of(data: bytes) -> str:
    """A short name for what some bytes say."""
    return hashlib.blake2b(data, digest_size=12).hexdigest()


def raw_of(document: Document) -> dict[str, Any]:
    """The document as plain JSON values."""
    raw: dict[str, Any] = document.model_dump(mode="json")
    return raw


@dataclass(frozen=True, slots=True)
class Written:
    """A document with what is written of it: its JSON values, its one text, and the text's token."""

    document: Document
    raw: dict[str, Any]
    text: str
    token: str
    known: Known = field(repr=False, compare=False)

    @staticmethod
    def of(document: Document, before: Written | None = None) -> Written:
        """The document written out; what it shares with the one before is not made again."""
        known: Known = {}
        old = before.known if before is not None else {}
        raw: dict[str, Any] = {}
        lines: list[str] = []
        for name in sorted(type(document).model_fields):
            raw[name], text = _written(getattr(document, name), old, known)
            lines.append(f'"{name}":{text}')
        text = "{\n" + ",\n".join(lines) + "\n}\n"
        return Written(document, raw, text, token_of(text.encode()), known)


def _written(value: Any, old: Known, known: Known) -> tuple[Any, str]:
    """A value's JSON and text."""
    if isinstance(value, BaseModel):
        found = old.get(id(value)) or known.get(id(value))
        if found is None or found[0] is not value:
            found = (value, *_model(value, old, known))
        known[id(value)] = found
        return found[1], found[2]
    if isinstance(value, tuple | list):
        parts = [_written(one, old, known) for one in value]
        return [raw for raw, _ in parts], f"[{','.join(text for _, text in parts)}]"
    if isinstance(value, Mapping):
        named = {str(key): _written(value[key], old, known) for key in sorted(value)}
        return {key: raw for key, (raw, _) in named.items()}, _object({key: text for key, (_, text) in named.items()})
    return value, _leaf(value)


def _leaf(value: Any) -> str:
    """The JSON of a text, number, truth value or nothing, as :mod:`json` writes it, without its detours."""
    if isinstance(value, str):
        return encode_basestring(value)
    if value is None or isinstance(value, bool):
        return {None: "null", True: "true", False: "false"}[value]
    if isinstance(value, float) and math.isfinite(value):
        return float.__repr__(value)
    return json.dumps(value, ensure_ascii=False, allow_nan=False)


def _model(model: BaseModel, old: Known, known: Known) -> tuple[Any, str]:
    if model.model_extra:  # a value of a kind that this version does not know
        raw = model.model_dump(mode="json")
        return raw, compact(raw)
    named = {name: _written(getattr(model, name), old, known) for name in sorted(type(model).model_fields)}
    return {name: raw for name, (raw, _) in named.items()}, _object({name: text for name, (_, text) in named.items()})


def _object(texts: dict[str, str]) -> str:
    return "{" + ",".join(f"{encode_basestring(key)}:{text}" for key, text in texts.items()) + "}"
