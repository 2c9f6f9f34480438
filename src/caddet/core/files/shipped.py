"""What ships with Caddet in ``data/``: tables, words, fonts, designs. The only files that are not foreign."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from importlib import resources
from pathlib import Path


@lru_cache(maxsize=1)
def data_folder() -> Path:
    """Where the data lie."""
    return Path(str(resources.files("caddet") / "data"))


def shipped_text(name: str) -> str:
    """A text that ships, by its path in ``data/``."""
    return (data_folder() / name).read_text("utf-8")


def shipped_bytes(name: str) -> bytes:
    """The bytes of a file that ships, by its path in ``data/``."""
    return (data_folder() / name).read_bytes()


def shipped_files(folder: str, ending: str) -> Iterator[Path]:
    """The files of a folder in ``data/`` that have an ending."""
    return (path for path in sorted((data_folder() / folder).iterdir()) if path.suffix == ending)
