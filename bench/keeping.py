"""The document and its store: opening with a long past, saving, the journal's size, the cache of stages.

Opening counts until the project can be worked on, and until its undo is there (which is read in the
background). In folders of its own.
"""

from __future__ import annotations

import itertools
import os
import tempfile
from pathlib import Path

from bench.timing import best, show
from caddet.core.demo import demo_document
from caddet.core.files.writing import write_whole
from caddet.core.formats.journal import Edited, Journal, journal_path
from caddet.core.formats.keeping import Keeper
from caddet.core.formats.project import no_pictures, open_project, save_project, to_bytes
from caddet.core.formats.written import Written
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document
from caddet.core.recipe.entries import StepEntry
from caddet.core.recipe.evaluate import StageCache, evaluate
from caddet.core.recipe.values import Number, References

LARGE_NOTES = 97_000  # letters: with this many people, a document of 1 MB


def _with_past(path: Path, count: int) -> None:
    """A project with so many edits of history."""
    document = demo_document()
    save_project(document, path, no_pictures)
    keeper = Keeper(path, open_project(path))
    keeper.past(document)
    assert keeper.journal is not None
    for number in range(count):
        after = edits.set_measure(document, "hip", 900.0 + number % 300, "2026-11-20")
        keeper.journal.add([Edited(document, after, f"hip {number}")])
        document = after
    keeper.keep(document, [])


def _large() -> Document:
    """A document of 1 MB: many people with all their readings."""
    document = demo_document()
    person = document.people[0]
    people = tuple(person.model_copy(update={"name": f"Ringer {n}"}) for n in range(1200))
    return Document.model_validate(
        {**document.parts(), "people": people, "wearer": people[0].name, "notes": "x" * LARGE_NOTES}
    )


def _opening(folder: Path) -> None:
    short, long = folder / "short.caddet", folder / "long.caddet"
    _with_past(short, 0)
    _with_past(long, 2000)

    def opened(path: Path) -> None:
        one = open_project(path)
        Keeper(path, one, read_only=True)

    def with_undo(path: Path) -> None:
        one = open_project(path)
        assert Keeper(path, one, read_only=True).past(one.document)

    show(
        "opening a project with 2,000 edits of history, against one without",
        best(lambda: opened(long), 30),
        best(lambda: opened(short), 30),
        2.0,
    )
    show(
        "the same, until the undo is there too (in the background)",
        best(lambda: with_undo(long), 5),
        best(lambda: opened(short), 30),
        2.0,
    )


def _saving(folder: Path) -> None:
    for name, document in (("the demo", demo_document()), ("1 MB", _large())):
        path = folder / f"{name}.caddet"
        save_project(document, path, no_pictures)
        keeper = Keeper(path, open_project(path))
        keeper.past(document)
        state = {"document": document}
        hips = itertools.count(900.0)

        def save(
            keeper: Keeper = keeper, state: dict[str, Document] = state, hips: itertools.count[float] = hips
        ) -> None:
            before = state["document"]
            after = edits.set_measure(before, "hip", next(hips), "2026-11-20")
            keeper.keep(after, [Edited(before, after, "hip")])
            state["document"] = after

        data = to_bytes(document, no_pictures)
        reference = best(lambda data=data: write_whole(folder / "bytes", data), 15)  # type: ignore[misc]
        show(
            f"an edit's save and journal ({name}), against writing the same bytes and syncing",
            best(save, 15),
            reference,
            3.0,
        )


def _journal_size(folder: Path) -> None:
    path = folder / "large.caddet"
    document = _large()
    journal = Journal(journal_path(path))
    journal.open_at(document, Written.of(document).token)
    for number in range(300):
        after = edits.set_measure(document, "hip", 900.0 + number, "2026-11-20")
        journal.add([Edited(document, after, "hip")])
        document = after
    size, one = journal_path(path).stat().st_size, len(Written.of(document).text)
    show(
        f"the journal after 300 edits of a document of {one / 1e6:.2f} MB, against 10 MB",
        size / 1e6,
        10.0,
        1.0,
        unit="MB",
    )


def _stages() -> None:
    document = demo_document()
    many = edits.set_step(edits.set_step(edits.set_step(document, 2, None), 1, None), 0, None)
    one = edits.add_step(many, _lengthen(5.0))
    for _ in range(500):
        many = edits.add_step(many, _lengthen(0.5))
    cache, other = StageCache(), StageCache()
    evaluate(many, cache=cache)
    evaluate(one, cache=other)
    amounts = itertools.count(1.0, 0.013)

    def last(recipe: Document, cache: StageCache) -> None:
        step = recipe.recipe.steps[-1]
        evaluate(edits.change_step(recipe, step.id, values=_lengthen(next(amounts) % 20).values), cache=cache)

    show(
        "500 steps, the last edited, against one step edited",
        best(lambda: last(many, cache), 30),
        best(lambda: last(one, other), 30),
        3.0,
    )


def _lengthen(amount: float) -> StepEntry:
    values = {"pieces": References(kind="pieces"), "at": Number(value=400.0), "amount": Number(value=amount)}
    return StepEntry(kind="lengthen", values=values)


def main() -> None:
    """Measure, and print each ratio with its aim."""
    with tempfile.TemporaryDirectory() as name:
        before = os.environ.get("XDG_STATE_HOME")
        os.environ["XDG_STATE_HOME"] = name
        try:
            _opening(Path(name))
            _saving(Path(name))
            _journal_size(Path(name))
        finally:
            if before is None:
                del os.environ["XDG_STATE_HOME"]
            else:
                os.environ["XDG_STATE_HOME"] = before
    _stages()


if __name__ == "__main__":
    main()
