"""What the window remembers from one start to the next: read key by key like any foreign file.

A readable file in the XDG configuration folder. A value that is no good is set aside and said once; the window opens
all the same, with the usual value.
"""

from __future__ import annotations

import json
import math
import os
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

import platformdirs

from caddet.core.errors import CaddetError, InputError
from caddet.core.files.reading import read_text, read_whole
from caddet.core.files.writing import make_folder, write_whole
from caddet.core.formats.strict_json import canonical
from caddet.core.lengths import Unit

BIGGEST = 256 * 1024
FINEST, COARSEST = 40.0, 1.0  # pixels to the mm that a screen can have
LONGEST_PATH = 4096


@dataclass(frozen=True, slots=True)
class Settings:
    """``dots_per_mm`` is 0 until real size was set; ``last`` is the project that was open, or empty.

    ``aside`` says what could not be used of the file.
    """

    evening: bool = False
    unit: Unit = "cm"
    dots_per_mm: float = 0.0
    last: str = ""
    aside: tuple[str, ...] = field(default=(), compare=False)


def settings_file() -> Path:
    """Where the settings are kept."""
    return Path(platformdirs.user_config_dir("caddet")) / "settings.json"


def read_settings() -> Settings:
    """The settings as they are kept; what is no good is left out and said in ``aside``."""
    file = settings_file()
    try:
        raw = json.loads(read_whole(file, BIGGEST)) if os.path.lexists(file) else _of_before()
    except InputError as error:
        return Settings(aside=(f"The settings can't be read ({error.sentence}) The defaults are used.",))
    except (ValueError, RecursionError):
        raw = None
    if not isinstance(raw, dict):
        return Settings(aside=("The settings can't be read; expected a JSON object. The defaults are used.",))
    found: dict[str, Any] = {}
    aside = []
    for key, value in raw.items():
        if key not in _EXPECTED:
            continue  # of another version
        good, expected = _EXPECTED[key]
        if good(value):
            found[key] = float(value) if key == "dots_per_mm" else value
        else:
            aside.append(f"The setting “{key}” can't be used; expected {expected}. The default is used.")
    return Settings(**found, aside=tuple(aside))


def keep_settings(**changes: object) -> str:
    """Keep some settings beside the others; why that could not be done, or nothing.

    A file with something bad in it is kept beside it, once, before it is written over.
    """
    old = read_settings()
    fresh = replace(old, **changes)  # type: ignore[arg-type]  # the keys are those of Settings
    file = settings_file()
    if fresh == old and not old.aside and os.path.exists(file):
        return ""
    values = {key: getattr(fresh, key) for key in _EXPECTED}
    try:
        make_folder(file.parent)
        write_whole(file, canonical(values).encode(), keep_previous=bool(old.aside))
    except CaddetError as error:
        return str(error)
    return ""


def _number(value: object) -> bool:
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        return False
    return value == 0 or COARSEST <= value <= FINEST


_EXPECTED: dict[str, tuple[Any, str]] = {
    "evening": (lambda value: isinstance(value, bool), "yes or no"),
    "unit": (lambda value: value in ("cm", "in"), "cm or in"),
    "dots_per_mm": (_number, f"pixels to the millimetre, {COARSEST:g} to {FINEST:g}"),
    "last": (
        lambda value: isinstance(value, str) and len(value) <= LONGEST_PATH and "\0" not in value,
        "the path of a project",
    ),
}


def _of_before() -> dict[str, Any]:
    """The settings as an earlier version kept them, in lines of ``key=value``."""
    file = settings_file().with_name("caddet.conf")
    if not os.path.exists(file):
        return {}
    try:
        lines = [line.partition("=") for line in read_text(file, BIGGEST).splitlines()]
    except InputError:
        return {}
    raw: dict[str, Any] = {key.strip(): value.strip().strip('"') for key, sign, value in lines if sign}
    found: dict[str, Any] = {key: raw[key] for key in ("unit", "last") if key in raw}
    if "evening" in raw:
        found["evening"] = raw["evening"] == "yes"
    try:
        found["dots_per_mm"] = float(raw.get("dots_per_mm", 0.0))
    except ValueError:
        found["dots_per_mm"] = raw["dots_per_mm"]
    return found
