"""Everybody there is to sew for: those kept in the Workroom and those of the open project, by name."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from caddet.core.body.person import Person
from caddet.core.errors import Finding, InputError
from caddet.core.formats.people_store import (
    Kept,
    free_name,
    keep_person,
    kept_people,
    photo_bytes,
    rename_person,
    store_photo,
)


@dataclass(frozen=True, slots=True)
class Entry:
    """Somebody: as kept in the Workroom, as in the open project, or both."""

    name: str
    kept: Kept | None
    here: Person | None

    @property
    def person(self) -> Person:
        """Whom the project knows, else whom the Workroom knows."""
        if self.here is not None:
            return self.here
        assert self.kept is not None
        return self.kept.person

    @property
    def archived(self) -> bool:
        """Whether it is only kept, and archived."""
        return self.kept is not None and self.kept.archived and self.here is None

    @property
    def words(self) -> str:
        """Where the person stands: in the project, in the Workroom or in both."""
        if self.here is None:
            return "archived" if self.archived else "kept in the Workroom"
        if self.kept is None:
            return "in this project only"
        if self.kept.person == self.here:
            return "in this project, and kept"
        return "here; the Workroom has other values"


class Roster:
    """The Workroom's people in memory, read once and kept true."""

    def __init__(self, picture: Callable[[str], bytes | None] = photo_bytes) -> None:
        self.picture = picture  # how a photograph of the project is found
        self.kept: dict[str, Kept] = {}
        self.findings: list[Finding] = []

    def load(self) -> None:
        """Read the Workroom's folder."""
        people, self.findings = kept_people()
        self.kept = {one.person.name: one for one in people}

    def entries(self, here: Iterable[Person], *, archived: bool = False, find: str = "") -> list[Entry]:
        """Everybody whose name holds some letters, the project's people first."""
        present = {person.name: person for person in here}
        names = [*present, *sorted((name for name in self.kept if name not in present), key=str.casefold)]
        found = [Entry(name, self.kept.get(name), present.get(name)) for name in names]
        return [one for one in found if one.archived == archived and find.casefold() in one.name.casefold()]

    def keep(self, person: Person) -> None:
        """Keep somebody, with their photograph. Raises :class:`InputError`."""
        picture = self.picture(person.photo) if person.photo and photo_bytes(person.photo) is None else None
        if picture is not None:
            store_photo(picture)
        old = self.kept.get(person.name)
        keep_person(person, archived=old.archived if old else False)
        self.kept[person.name] = Kept(person, old.archived if old else False)

    def keep_all(self, people: Iterable[Person]) -> None:
        """Keep several. Raises :class:`InputError`."""
        for person in people:
            self.keep(person)

    def archive_all(self, people: Iterable[Person], archived: bool) -> None:
        """Put people away, or bring them back. Raises :class:`InputError`."""
        for person in people:
            keep_person(person, archived=archived)
            self.kept[person.name] = Kept(person, archived)

    def rename(self, old: str, person: Person) -> None:
        """Keep somebody under another name. Raises :class:`InputError` when it is taken."""
        if old not in self.kept:
            return
        if old != person.name and person.name in self.kept:
            raise InputError(f"there is already someone called {person.name} in the Workroom.")
        archived = self.kept[old].archived
        rename_person(old, person, archived=archived)
        del self.kept[old]
        self.kept[person.name] = Kept(person, archived)

    def free(self, name: str, here: Iterable[Person]) -> str:
        """A name nobody has yet, made from this one."""
        return free_name(name, {*self.kept, *(person.name for person in here)})


def merged(old: Person, new: Person) -> Person:
    """Somebody with the newcomer's readings as further sets; what is not given stays."""
    person = old
    for one in new.sets:
        person = person.with_set(one)
    changes: dict[str, object] = {}
    if new.born:
        changes["born"] = new.born
    if new.note and not old.note:
        changes["note"] = new.note
    return person.model_copy(update=changes)
