"""The Workroom's own blocks: one readable file each under the XDG data directory."""

from __future__ import annotations

import hashlib
import os
import re
from pathlib import Path

import platformdirs
from pydantic import ValidationError

from caddet.core.errors import Finding, InputError
from caddet.core.formats.files import make_folder, read_whole, sweep_folder, write_whole
from caddet.core.formats.migrate import STORE, store_forward
from caddet.core.formats.strict_json import canonical, read_json
from caddet.core.recipe.planning import OwnBlock
from caddet.core.sentences import say

BIGGEST = 1024 * 1024


def block_folder() -> Path:
    """Where the blocks of one's own lie."""
    return Path(platformdirs.user_data_dir("caddet")) / "blocks"


def _file_of(name: str) -> Path:
    plain = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40] or "block"
    return block_folder() / f"{plain}-{hashlib.sha256(name.encode()).hexdigest()[:8]}.json"


def keep_block(own: OwnBlock) -> None:
    """Keep a block under its name, in place of one that has it. Raises :class:`InputError`."""
    make_folder(block_folder())
    data = {"format": STORE, "block": own.model_dump(mode="json")}
    write_whole(_file_of(own.name), canonical(data).encode(), keep_previous=True, private=True)


def forget_block(name: str) -> None:
    """Take a block out of the Workroom; its file stays beside as the previous one."""
    path = _file_of(name)
    if os.path.exists(path):
        path.replace(path.with_name(path.name + ".previous"))


def kept_blocks() -> tuple[list[OwnBlock], list[Finding]]:
    """Every block of one's own, by name; a file that can't be read is told and left as it is."""
    found: list[OwnBlock] = []
    findings: list[Finding] = []
    folder = block_folder()
    sweep_folder(folder)
    for path in sorted(folder.glob("*.json")) if os.path.isdir(folder) else []:
        try:
            raw = store_forward(read_json(read_whole(path, BIGGEST), str(path)), str(path))
            found.append(OwnBlock.model_validate(raw["block"]))
        except InputError as error:
            findings.append(
                Finding(
                    "blocks.file",
                    say("{name} can't be used: {sentence}", name=path.name, sentence=error.sentence),
                    str(path),
                )
            )
        except (ValueError, KeyError, TypeError, RecursionError, ValidationError):
            findings.append(
                Finding(
                    "blocks.file",
                    say("{name} can't be used: it is damaged, or not a block of Caddet's.", name=path.name),
                    str(path),
                )
            )
    return sorted(found, key=lambda own: own.name.casefold()), findings
