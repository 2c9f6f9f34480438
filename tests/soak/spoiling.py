"""Spoilt input: good bytes with something wrong in them, from a seed."""

from __future__ import annotations

import copy
import io
import json
import random
import zipfile
from typing import Any

HOSTILE_BYTES = (
    b"", b"\0", b"\xff\xfe", b"\xef\xbb\xbf", b"NaN", b"-Infinity", b"1e999", b"9" * 400, b"9" * 5000, b"[" * 3000, b'"' * 7, b"{}",
    b"null", b"\n" * 500, b" " * 30_000, b"," * 3000, b"\xed\xa0\x80", "\u2028".encode(), b"1e-400", b"-0", b"..", b"../../x", b"'[s1.2]",
    b"(" * 60, b"+1" * 200, b"floor(", b"/0", b"1/0in", b"x" * 5000, "٣".encode(), b"\\ud800",
)  # fmt: skip
HOSTILE_VALUES: tuple[Any, ...] = (
    None, True, -1, 0, 1e300, -1e9, 10**15, 0.1, "", "x" * 3000, "\u2028", "NaN", [], {}, [[]], {"kind": "number"}, {"kind": "odd", "x": 1},
    {"kind": "number", "value": 1e9}, {"kind": "place", "edge": "a.b", "share": 7.0}, ["s1"], "s1", "s999999999", "front.side[s9.1]", 3, "2026-99-99",
)  # fmt: skip


def spoilt(good: bytes, chance: random.Random) -> bytes:
    """Good input with one to four things wrong; a zip is spoilt inside as well as outside."""
    if good[:2] == b"PK" and chance.random() < 0.8:
        return _spoilt_zip(good, chance)
    if good[:1] in (b"{", b"[") and chance.random() < 0.6:
        lines = good.split(b"\n")
        index = chance.randrange(len(lines))
        try:
            raw = json.loads(good if len(lines) == 1 else lines[index])
        except ValueError:
            return _spoilt_bytes(good, chance)
        data = _as_json(_spoilt_value(raw, chance))
        return data if len(lines) == 1 else b"\n".join([*lines[:index], data, *lines[index + 1 :]])
    return _spoilt_bytes(good, chance)


def _spoilt_bytes(good: bytes, chance: random.Random) -> bytes:
    data = bytearray(good)
    for _ in range(chance.randint(1, 4)):
        at = chance.randrange(len(data) + 1)
        match chance.randrange(6):
            case 0:
                del data[at:]
            case 1:
                data[at:at] = chance.choice(HOSTILE_BYTES)
            case 2:
                data[at : at + chance.randint(1, 20)] = chance.choice(HOSTILE_BYTES)
            case 3:
                data[at:at] = bytes(data[at : at + chance.randint(1, 400)])
            case 4:
                del data[at : at + chance.randint(1, 60)]
            case _:
                for _ in range(chance.randint(1, 8)):
                    if data:
                        data[chance.randrange(len(data))] = chance.randrange(256)
    return bytes(data)


def _as_json(raw: Any) -> bytes:
    return json.dumps(raw).encode()  # NaN and Infinity are written as such, and must be refused


def _spoilt_value(raw: Any, chance: random.Random) -> Any:
    for _ in range(chance.randint(1, 4)):
        places = list(_places(raw))
        if not places:
            return _hostile(chance)
        holder, key = chance.choice(places)
        match chance.randrange(5):
            case 0:
                del holder[key]
            case 1:
                holder[key] = float(chance.choice(("nan", "inf", "-inf", "1e308")))
            case 2 if isinstance(holder, list) and len(repr(holder[key])) < 400:
                holder.extend(copy.deepcopy(holder[key]) for _ in range(chance.choice((1, 3, 2000))))
            case 3 if isinstance(holder, dict):
                holder[chance.choice(("odd", "", "kind", "x" * 300, "id"))] = _hostile(chance)
            case _:
                holder[key] = _hostile(chance)
    return raw


def _hostile(chance: random.Random) -> Any:
    return copy.deepcopy(chance.choice(HOSTILE_VALUES))


def _places(value: Any) -> Any:
    inside = (
        list(value.items()) if isinstance(value, dict) else list(enumerate(value)) if isinstance(value, list) else []
    )
    for key, one in inside:
        yield value, key
        yield from _places(one)


def _spoilt_zip(good: bytes, chance: random.Random) -> bytes:
    with zipfile.ZipFile(io.BytesIO(good)) as archive:
        parts = {name: archive.read(name) for name in archive.namelist()}
    name = chance.choice(sorted(parts))
    if name.endswith(".json") and chance.random() < 0.7:
        parts[name] = _as_json(_spoilt_value(json.loads(parts[name]), chance))
    else:
        parts[name] = _spoilt_bytes(parts[name], chance)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in parts.items():
            archive.writestr(name, data)
    data = out.getvalue()
    return _spoilt_bytes(data, chance) if chance.random() < 0.1 else data
