"""Things the Workroom keeps by name (blocks of one's own, groups of steps): one readable file each in the XDG data folder."""

from __future__ import annotations

import hashlib
import os
import re
from dataclasses import dataclass
from pathlib import Path
from typing import Generic, TypeVar

import platformdirs
from pydantic import ValidationError

from caddet.core.errors import Finding, InputError
from caddet.core.files.reading import read_whole
from caddet.core.files.writing import make_folder, sweep_folder, write_whole
from caddet.core.formats.migrate import STORE, store_forward
from caddet.core.formats.strict_json import canonical, read_json
from caddet.core.recipe.groups import StepGroup
from caddet.core.recipe.named import Named
from caddet.core.recipe.planning import OwnBlock
from caddet.core.sentences import say

BIGGEST = 1024 * 1024


M = TypeVar("M", bound=Named)


@dataclass(frozen=True, slots=True)
class NamedStore(Generic[M]):
    """One kind of thing in the Workroom: ``kind`` is its key in a file (``block``), ``model`` what it is."""

    kind: str
    model: type[M]

    @property
    def folder(self) -> Path:
        """Where the files lie."""
        return Path(platformdirs.user_data_dir("caddet")) / f"{self.kind}s"

    def file_of(self, name: str) -> Path:
        """The file of one name."""
        plain = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40] or self.kind
        return self.folder / f"{plain}-{hashlib.sha256(name.encode()).hexdigest()[:8]}.json"

    def keep(self, own: M) -> None:
        """Keep something under its name, in place of what has it. Raises :class:`InputError`."""
        make_folder(self.folder)
        data = {"format": STORE, self.kind: own.model_dump(mode="json")}
        write_whole(self.file_of(own.name), canonical(data).encode(), keep_previous=True, private=True)

    def forget(self, name: str) -> None:
        """Take something out of the Workroom; its file stays beside as the previous one."""
        path = self.file_of(name)
        if os.path.exists(path):
            path.replace(path.with_name(path.name + ".previous"))

    def kept(self) -> tuple[list[M], list[Finding]]:
        """Everything that is kept, by name; a file that can't be read is told and left as it is."""
        found: list[M] = []
        findings: list[Finding] = []
        sweep_folder(self.folder)
        for path in sorted(self.folder.glob("*.json")) if os.path.isdir(self.folder) else []:
            try:
                raw = store_forward(read_json(read_whole(path, BIGGEST), str(path)), str(path))
                found.append(self.model.model_validate(raw[self.kind]))
            except InputError as error:
                why = say("{name} can't be used: {sentence}", name=path.name, sentence=error.sentence)
                findings.append(Finding(f"{self.kind}s.file", why, str(path)))
            except (ValueError, KeyError, TypeError, RecursionError, ValidationError):
                why = say(
                    "{name} can't be used: it is damaged, or not a {kind} of Caddet's.", name=path.name, kind=self.kind
                )
                findings.append(Finding(f"{self.kind}s.file", why, str(path)))
        return sorted(found, key=lambda own: own.name.casefold()), findings


BLOCKS_KEPT = NamedStore("block", OwnBlock)
GROUPS_KEPT = NamedStore("group", StepGroup)
