"""Groups of steps kept in the Workroom, to be put on other garments: one readable file each under the XDG data directory."""

from __future__ import annotations

from caddet.core.errors import Finding
from caddet.core.formats.named_store import NamedStore
from caddet.core.recipe.groups import StepGroup

GROUPS_KEPT = NamedStore("group", StepGroup)


def keep_group(group: StepGroup) -> None:
    """Keep a group under its name, in place of one that has it. Raises :class:`InputError`."""
    GROUPS_KEPT.keep(group.name, group)


def forget_group(name: str) -> None:
    """Take a group out of the Workroom; its file stays beside as the previous one."""
    GROUPS_KEPT.forget(name)


def kept_groups() -> tuple[list[StepGroup], list[Finding]]:
    """Every kept group, by name; a file that can't be read is told and left as it is."""
    found, findings = GROUPS_KEPT.kept()
    return sorted(found, key=lambda group: group.name.casefold()), findings
