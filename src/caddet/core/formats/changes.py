"""The change from one JSON value to another, small when little changed; for the journal.

A change is ``{"=": value}`` (another value), ``{"k": {key: change}, "-": [keys]}`` (an object),
``{"at": n, "out": n, "in": [values]}`` or ``{"each": {index: change}}`` (a list), or
``{"at": n, "out": n, "text": "…"}`` (a text). An empty change leaves the value as it is.
"""

from __future__ import annotations

from typing import Any

LONG_TEXT = 200


class BrokenChange(ValueError):
    """A change that does not fit the value it is put on."""


def change(before: Any, after: Any) -> dict[str, Any]:
    """What turns ``before`` into ``after``; empty when they are equal."""
    if before is after or _same(before, after):
        return {}
    if isinstance(before, dict) and isinstance(after, dict):
        inside = {
            key: {"=": value} if key not in before else change(before[key], value)
            for key, value in after.items()
            if key not in before or not _same(before[key], value)
        }
        gone = sorted(key for key in before if key not in after)
        return {"k": inside} | ({"-": gone} if gone else {})
    if isinstance(before, list) and isinstance(after, list):
        return _list_change(before, after)
    if isinstance(before, str) and isinstance(after, str) and min(len(before), len(after)) > LONG_TEXT:
        start, end = _ends(before, after)
        return {"at": start, "out": len(before) - start - end, "text": after[start : len(after) - end]}
    return {"=": after}


def _same(a: Any, b: Any) -> bool:
    """Equality that tells 1 from 1.0 and True, as the text of a file does."""
    if a is b:
        return True
    if type(a) is not type(b):
        return False
    if isinstance(a, dict):
        return a.keys() == b.keys() and all(_same(value, b[key]) for key, value in a.items())
    if isinstance(a, list):
        return len(a) == len(b) and all(map(_same, a, b))
    return bool(a == b)


def _ends(before: Any, after: Any) -> tuple[int, int]:
    """How many items are the same at the start and, of the rest, at the end."""
    most = min(len(before), len(after))
    start = 0
    while start < most and _same(before[start], after[start]):
        start += 1
    end = 0
    while end < most - start and _same(before[-1 - end], after[-1 - end]):
        end += 1
    return start, end


def _list_change(before: list[Any], after: list[Any]) -> dict[str, Any]:
    start, end = _ends(before, after)
    out, fresh = len(before) - start - end, after[start : len(after) - end]
    if out == len(fresh) <= 3:
        return {
            "each": {
                str(start + i): change(before[start + i], new)
                for i, new in enumerate(fresh)
                if not _same(before[start + i], new)
            }
        }
    return {"at": start, "out": out, "in": fresh}


def changed(before: Any, what: Any) -> Any:
    """``before`` with a change done; what did not change is shared. Raises :class:`BrokenChange`."""
    if not isinstance(what, dict):
        raise BrokenChange("a change is an object")
    if not what:
        return before
    if "=" in what:
        return what["="]
    try:
        if "k" in what and isinstance(before, dict):
            after = {key: value for key, value in before.items() if key not in what.get("-", ())}
            for key, inner in what["k"].items():
                after[key] = changed(before.get(key), inner)
            return after
        if "each" in what and isinstance(before, list):
            each = {int(index): inner for index, inner in what["each"].items()}
            if any(not 0 <= index < len(before) for index in each):
                raise BrokenChange("an item that is not there")
            return [changed(value, each[i]) if i in each else value for i, value in enumerate(before)]
        at, out = int(what["at"]), int(what["out"])
        if not (at >= 0 and out >= 0 and at + out <= len(before)):
            raise BrokenChange("a place that is not there")
        if isinstance(before, list):
            return [*before[:at], *what["in"], *before[at + out :]]
        return before[:at] + str(what["text"]) + before[at + out :]
    except (KeyError, TypeError, AttributeError, ValueError, RecursionError) as error:
        raise BrokenChange(str(error)) from error
