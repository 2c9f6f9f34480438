"""The rounds of the soak, each a function that gives its figures; small shares of them run in ``make test``."""

from __future__ import annotations

import os
import random
import resource
import signal
import subprocess
import sys
import tempfile
import time
import traceback
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from caddet.core.demo import demo_document
from caddet.core.errors import CaddetError, InputError
from caddet.core.formats.journal import Edited, Entry, journal_path
from caddet.core.formats.keeping import Keeper
from caddet.core.formats.project import no_pictures, open_project, read_project, save_project, to_bytes
from caddet.core.formats.written import Written
from caddet.core.recipe.history import History, Moment
from tests.soak.editing import PHOTOGRAPHS, edited, moved, photographs_lost
from tests.soak.figures import Figures
from tests.soak.readers import READERS, Reader
from tests.soak.spoiling import spoilt

# --- kills ----------------------------------------------------------------------------------------


def kill_rounds(count: int, seed: int = 1) -> Figures:
    """Kill an editing process at a random moment, reopen, and look for every confirmed edit and its undo."""
    figures = Figures()
    chance = random.Random(seed)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.caddet"
        for number in range(count):
            if number % 20 == 0:
                journal_path(path).unlink(missing_ok=True)
                save_project(demo_document(), path, no_pictures)
            _kill_round(path, chance, figures, number)
    if count and not figures.counts["saves confirmed"]:
        figures.wrong.append("nothing was ever confirmed: the killed process does not edit")
    return figures


def _kill_round(path: Path, chance: random.Random, figures: Figures, number: int) -> None:
    opened = open_project(path)
    at_first = chain_of(Keeper(path, opened).past(opened.document))
    told, said = os.pipe()
    seed = chance.randrange(10**9)
    child = os.fork()
    if child == 0:  # the process that is killed: it says what it is about to keep, and what has been confirmed
        try:
            os.close(told)
            _edit_for_ever(path, seed, said)
        finally:
            os._exit(1)
    os.close(said)
    with os.fdopen(told, "rb") as listening:
        listening.readline()  # it has begun
        time.sleep(chance.random() * 0.06)
        os.kill(child, signal.SIGKILL)
        heard = [line.decode().split() for line in listening.read().split(b"\n")[:-1]]
    os.waitpid(child, 0)
    about = [words[1:] for words in heard if words[0] == "about"]
    kept = [words[1:] for words in heard if words[0] == "kept"]
    figures.counts["kills"] += 1
    figures.counts["saves confirmed"] += len(kept)
    confirmed = kept[-1] if kept else at_first
    try:
        again = open_project(path)
        keeper = Keeper(path, again)
        history = keeper.past(again.document)
        undo = chain_of(history)
    except CaddetError as error:
        figures.wrong.append(f"kill {number}: unreadable: {error}")
        return
    figures.counts["photographs lost"] += len(photographs_lost(keeper, history))
    if figures.counts["photographs lost"]:
        figures.wrong.append(f"kill {number}: a photograph is lost")
    if not again.whole:
        figures.wrong.append(f"kill {number}: {again.findings[0].sentence}")
    if undo not in (confirmed, about[-1] if about else confirmed):
        what = "a confirmed edit" if undo[-1] not in (confirmed[-1], *(one[-1] for one in about[-1:])) else "undo"
        figures.wrong.append(f"kill {number}: {what} is lost ({len(undo)} moments of {len(confirmed)})")


def chain_of(history: History) -> list[str]:
    """The documents from the first one to the present one, by their tokens."""
    return [Written.of(moment.document).token for moment in history.moments[: history.now + 1]]


class _Same:
    """A moment by its identity, held so that no other can take its place."""

    def __init__(self, moment: Moment) -> None:
        self.moment, self.document = moment, moment.document

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and other.moment is self.moment

    def __hash__(self) -> int:
        return id(self.moment)


def _edit_for_ever(path: Path, seed: int, said: int) -> None:
    chance = random.Random(seed)
    opened = open_project(path)
    keeper = Keeper(path, opened)
    for data in PHOTOGRAPHS.values():
        keeper.take_picture(data)
    history = keeper.past(opened.document)
    tokens = {moment: Written.of(moment.document).token for moment in map(_Same, history.moments)}
    os.write(said, b"begun\n")
    while True:
        entries: list[Entry] = []
        for _ in range(chance.randint(1, 3)):
            history, entry = moved(history, chance)
            entries.append(entry)
        for moment in map(_Same, history.moments[-4:]):
            if moment not in tokens:
                tokens[moment] = Written.of(moment.document).token
        line = " ".join(tokens[_Same(moment)] for moment in history.moments[: history.now + 1])
        os.write(said, f"about {line}\n".encode())
        keeper.keep(history.document, entries)
        os.write(said, f"kept {line}\n".encode())


LONGEST_REFUSAL = 300  # letters


# --- bad input ------------------------------------------------------------------------------------


_watching: list[list[str]] = []
PROGRAMS = (
    "subprocess.Popen",
    "os.system",
    "os.exec",
    "os.posix_spawn",
    "os.spawn",
    "os.fork",
    "os.startfile",
    "pty.spawn",
)


def _heard(event: str, arguments: tuple[object, ...]) -> None:
    if _watching and event in PROGRAMS:
        _watching[-1].append(f"{event} {str(arguments)[:120]}")


@contextmanager
def programs_seen(what: str, figures: Figures) -> Iterator[None]:
    """No program may be started in here: each one that is is told."""
    if not _watching:
        sys.addaudithook(_heard)
        _watching.append([])  # the hook stays for good; what it hears outside is not looked at
    seen: list[str] = []
    _watching.append(seen)
    try:
        yield
    finally:
        _watching.pop()
        figures.wrong += [f"{what}: it runs a program: {one}" for one in seen]


def input_rounds(count: int, seed: int = 1, readers: list[Reader] | None = None) -> Figures:
    """Spoilt input for every reader in turn: nothing but a clear refusal, within seconds and memory."""
    figures = Figures()
    readers = readers or READERS
    # what ran before in this process (pictures of twelve megapixels) is not the readers' doing
    before = max(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024 - 200, 0.0)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "one"
        for number in range(count):
            reader = readers[number % len(readers)]
            chance = random.Random(f"{seed} {number}")
            path.write_bytes(spoilt(chance.choice(list(reader.good())), chance))
            begun = time.perf_counter()
            try:
                with programs_seen(reader.name, figures):
                    reader.read(path)
                figures.counts["read"] += 1
            except CaddetError as error:
                figures.counts["refused"] += 1
                if not 0 < len(str(error).strip()) <= LONGEST_REFUSAL or len(str(error).splitlines()) != 1:
                    figures.wrong.append(f"{reader.name} {seed} {number}: no one sentence: {str(error)[:80]!r}")
            except Exception:
                figures.wrong.append(f"{reader.name} {seed} {number}: {traceback.format_exc(limit=-3)}")
            took = time.perf_counter() - begun
            figures.at_most("seconds", took)
            if took > reader.seconds:
                figures.wrong.append(f"{reader.name} {seed} {number}: {took:.1f} s")
            mib = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
            if mib > before + reader.mib:
                figures.wrong.append(f"{reader.name} {seed} {number}: {mib:.0f} MiB")
                return figures
            figures.at_most("MiB", mib)
    figures.counts["inputs"] = count
    return figures


# --- edits ----------------------------------------------------------------------------------------


def edit_rounds(count: int, seed: int = 1) -> Figures:
    """Random edits, each kept and read again now and then; at last all undone, to the first document's bytes."""
    figures = Figures()
    chance = random.Random(seed)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.caddet"
        save_project(demo_document(), path, no_pictures)
        first = to_bytes(demo_document(), no_pictures)
        opened = open_project(path)
        keeper = Keeper(path, opened)
        for data in PHOTOGRAPHS.values():
            keeper.take_picture(data)
        history = keeper.past(opened.document)
        for number in range(count):
            before = history.document
            after = edited(before, chance)
            history = history.edited(after, "edit")
            keeper.journal.add([Edited(before, after, "edit")])  # type: ignore[union-attr]
            if number % 50 == 49:
                data = to_bytes(after, PHOTOGRAPHS.get)
                if read_project(data, "again").document != after:
                    figures.wrong.append(f"edit {number}: not read as it was written")
        keeper.keep(history.document, [])
        figures.counts["edits"] = count
        again = open_project(path)
        keeper = Keeper(path, again)
        past = keeper.past(again.document)
        figures.wrong += [f"photograph {name} is lost" for name in photographs_lost(keeper, past)]
        figures.at_most("journal MiB", journal_path(path).stat().st_size / 2**20)
        if len(past.moments) != len(history.moments):
            figures.wrong.append(f"{len(history.moments) - len(past.moments)} moments are lost")
        while past.undo_deed is not None:
            past = past.undone()
            figures.counts["undone"] += 1
            _ = past.document
        if to_bytes(past.document, no_pictures) != first:
            figures.wrong.append("the first document is not what it was")
    return figures


# --- disks ----------------------------------------------------------------------------------------


def disk_rounds(count: int, seed: int = 1) -> Figures:
    """Edit on a disk that fills up and is freed again; skipped with a word where none can be made."""
    figures = Figures()
    chance = random.Random(seed)
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder) / "small"
        place.mkdir()
        mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=400k", "tmpfs", str(place)], capture_output=True)
        if mounted.returncode:
            figures.counts["skipped: no small file system can be made here"] += 1
            return figures
        before = os.environ.get("XDG_STATE_HOME")
        try:
            for number in range(count):
                os.environ["XDG_STATE_HOME"] = str(place if number % 2 else Path(folder) / "state")
                _disk_round(place, chance, figures, number)
        finally:
            if before is None:
                os.environ.pop("XDG_STATE_HOME", None)
            else:
                os.environ["XDG_STATE_HOME"] = before
            subprocess.run(["umount", str(place)], capture_output=True)
    return figures


def _disk_round(place: Path, chance: random.Random, figures: Figures, number: int) -> None:
    path = place / f"round {number}.caddet"
    for old in place.rglob("*"):
        if old.is_file():
            old.unlink()
    save_project(demo_document(), path, no_pictures)
    opened = open_project(path)
    keeper = Keeper(path, opened)
    for data in PHOTOGRAPHS.values():
        keeper.take_picture(data)
    history = keeper.past(opened.document)
    filler = place / "filler"
    confirmed = history
    full = False
    for turn in range(30):
        if turn == 8:
            full = _fill(filler)
        if turn == 20:
            filler.unlink(missing_ok=True)
        history, entry = moved(history, chance)
        try:
            keeper.keep(history.document, [entry])
            confirmed = history
        except InputError:
            figures.counts["saves refused"] += 1
            if open_project(path).document != confirmed.document:
                figures.wrong.append(f"disk {number}: the file is not what was confirmed")
                return
    figures.counts["disks filled"] += full
    again = open_project(path)
    last = Keeper(path, again)
    past = last.past(again.document)
    figures.wrong += [f"disk {number}: photograph {name} is lost" for name in photographs_lost(last, past)]
    if again.document != history.document:
        figures.wrong.append(f"disk {number}: the last edit is lost")
    if chain_of(past) != chain_of(history):
        figures.wrong.append(f"disk {number}: undo is lost ({past.now + 1} of {history.now + 1})")


def _fill(path: Path) -> bool:
    """Write until the disk is full."""
    try:
        handle = os.open(path, os.O_WRONLY | os.O_CREAT)
        try:
            while True:
                os.write(handle, b"x" * 1024)
        finally:
            os.close(handle)
    except OSError:
        return True


def refused_rounds() -> Figures:
    """Folders and files that may not be read or written, as somebody who is not root."""
    figures = Figures()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        folder.chmod(0o755)
        path = folder / "a.caddet"
        save_project(demo_document(), path, no_pictures)
        closed = folder / "closed"
        closed.mkdir(mode=0o700)
        save_project(demo_document(), closed / "b.caddet", no_pictures)
        child = os.fork()
        if child == 0:
            code = 1
            try:
                if os.geteuid() == 0:
                    os.seteuid(65534)
                code = _refused(path, closed)
            finally:
                os._exit(code)
        _, status = os.waitpid(child, 0)
        figures.counts["refused cases"] += 1
        if status:
            figures.wrong.append(f"a case without permission ended with {status}")
    return figures


def _refused(path: Path, closed: Path) -> int:
    for work in (
        lambda: open_project(path),
        lambda: open_project(closed / "b.caddet"),
        lambda: save_project(demo_document(), path, no_pictures),
        lambda: save_project(demo_document(), closed / "c.caddet", no_pictures),
    ):
        try:
            work()
        except InputError:
            continue
        except Exception:
            traceback.print_exc(limit=-3)
            return 4
        return 3
    return 0
