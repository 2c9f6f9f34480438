"""The Workroom's own blocks: one readable file each under the XDG data directory."""

from __future__ import annotations

from pathlib import Path

from caddet.core.errors import Finding
from caddet.core.formats.named_store import NamedStore
from caddet.core.recipe.planning import OwnBlock

BLOCKS_KEPT = NamedStore("block", OwnBlock)


def block_folder() -> Path:
    """Where the blocks of one's own lie."""
    return BLOCKS_KEPT.folder


def keep_block(own: OwnBlock) -> None:
    """Keep a block under its name, in place of one that has it. Raises :class:`InputError`."""
    BLOCKS_KEPT.keep(own.name, own)


def forget_block(name: str) -> None:
    """Take a block out of the Workroom; its file stays beside as the previous one."""
    BLOCKS_KEPT.forget(name)


def kept_blocks() -> tuple[list[OwnBlock], list[Finding]]:
    """Every block of one's own, by name; a file that can't be read is told and left as it is."""
    found, findings = BLOCKS_KEPT.kept()
    return sorted(found, key=lambda own: own.name.casefold()), findings
