"""Random edits of a document, from a seed: every verb that the desk has."""

from __future__ import annotations

import io
import random
import tempfile
from collections.abc import Callable
from pathlib import Path

from PIL import Image
from pydantic import ValidationError

from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.errors import CaddetError
from caddet.core.formats.journal import Edited, Entry, Journal, Moved
from caddet.core.formats.keeping import Keeper
from caddet.core.formats.people_store import named_photo
from caddet.core.formats.written import Written
from caddet.core.recipe import edits
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.document import (
    Accepted,
    BlockSource,
    CutRecord,
    Document,
    LogEntry,
    PiecesSource,
    Placement,
    Recipe,
    StepEntry,
)
from caddet.core.recipe.history import History
from caddet.core.recipe.planning import begin_with
from caddet.core.recipe.registry import step_entry
from caddet.core.recipe.stored import StoredEdge, StoredPiece
from caddet.core.recipe.values import (
    Choice,
    Flag,
    Formula,
    FramePoint,
    KeptValue,
    LinesValue,
    LineValue,
    Number,
    Place,
    Points,
    References,
    TableValue,
    Text,
)

Edit = Callable[[Document, random.Random], Document]
SQUARE = StoredPiece(
    id="square",
    label="square",
    start=(0.0, 0.0),
    edges=(
        StoredEdge(id="square.top", path=((100.0, 0.0),)),
        StoredEdge(id="square.side", path=((120.0, 30.0, 120.0, 60.0, 100.0, 100.0),)),
        StoredEdge(id="square.hem", finish="hem", path=((0.0, 100.0), (0.0, 0.0))),
    ),
)
_ON_SIDE = Place(edge="front.side[s3.2]", share=0.25)
ODD_STEP = StepEntry(kind="of_another_version", note="kept", group="odd", values={
    "a": Number(value=1.5), "b": Formula(text="hip / 4 + 2cm"), "c": Choice(name="x"), "d": Flag(on=True), "e": Text(text="words\u2028more"),
    "f": TableValue(rows=((1.0, "a"), (2.0, "b"))), "g": _ON_SIDE, "h": FramePoint(edge="front.hem", along=0.5, out=-20.0),
    "i": Points(points=(FramePoint(edge="front.hem", along=0.5),)), "j": LineValue(points=(_ON_SIDE, FramePoint(edge="front.hem", along=1.2, out=3.0))),
    "k": LinesValue(lines=((_ON_SIDE, Place(edge="front.waist'", mm=120.0, end="end")),)), "l": References(kind="seam", refs=("s4.seam",)),
    "m": KeptValue.model_validate({"kind": "to_come", "with": [1, {"a": None}]}),
})  # fmt: skip


def _word(chance: random.Random) -> str:
    return "".join(chance.choice('aeio lnrst\u2028é"\\') for _ in range(chance.randint(1, 30))) + "x"


def _step(chance: random.Random) -> StepEntry:
    kind = chance.choice(("lengthen", "flare", "slit", "pivot_dart", "band", "odd"))
    if kind == "odd":
        return ODD_STEP
    plain: dict[str, dict[str, object]] = {
        "lengthen": {"amount": float(chance.randint(-50, 80)), "at": 400.0},
        "flare": {"amount": Formula(text="hip / 20")},
        "slit": {"edges": ("back.centre_back",), "height": float(chance.randint(20, 200))},
        "pivot_dart": {
            "dart": ("front.front_dart",),
            "to": Place(edge="front.side", mm=float(chance.randint(20, 300))),
        },
        "band": {"part": "waistband", "edges": ("waist",)},
    }
    return step_entry(kind, plain[kind])


def _index(document: Document, chance: random.Random) -> int:
    return chance.randrange(max(len(document.recipe.steps), 1))


def _jpeg(shade: int) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (12, 9), (shade, 90, 120)).save(out, "JPEG")
    return out.getvalue()


PHOTOGRAPHS = {named_photo(data): data for data in map(_jpeg, (40, 120, 200))}


EDITS: tuple[Edit, ...] = (
    lambda d, r: edits.set_measure(d, r.choice(("hip", "waist", "bust")), float(r.randint(600, 1300)), "2026-11-20"),
    lambda d, r: edits.set_measure(d, "hip", None),
    lambda d, r: edits.add_reading(d, "waist", float(r.randint(600, 900)), "2026-11-21"),
    lambda d, r: edits.change_person(d, d.wearer, note=_word(r)),
    lambda d, r: edits.add_person(d, Person.of(_word(r)[:70], {"height": 1650.0, "hip": 980.0, "waist": 740.0})),
    lambda d, r: edits.take_out_person(d, r.choice(d.people).name),
    lambda d, r: edits.choose_wearer(d, r.choice(d.people).name),
    lambda d, r: edits.add_cloth(d, Cloth(name=_word(r)[:60], width=float(r.randint(800, 1600)))),
    lambda d, r: edits.change_cloth(d, nap=r.random() < 0.5, price=float(r.randint(0, 50))),
    lambda d, r: edits.choose_cloth(d, r.choice(d.cloths).name, r.choice(("main", "lining", "interfacing"))),
    lambda d, r: edits.set_fit(d, r.choice(("", "fitted_woven", "jacket"))),
    lambda d, r: edits.set_ease(d, r.choice(("hip", "waist")), float(r.randint(0, 100))),
    lambda d, r: edits.clear_ease(d, "hip"),
    lambda d, r: edits.set_option(d, "length", float(r.randint(450, 800))),
    lambda d, r: edits.set_override(d, "front_dart_length", r.choice((None, "9cm", "hip / 10", "((("))),
    lambda d, r: edits.add_step(d, _step(r)),
    lambda d, r: edits.set_step(d, _index(d, r), _step(r)),
    lambda d, r: edits.set_step(d, _index(d, r), None),
    lambda d, r: edits.move_step(d, _index(d, r), _index(d, r)),
    lambda d, r: edits.change_step(d, d.recipe.steps[_index(d, r)].id if d.recipe.steps else "s0", on=r.random() < 0.5, note=_word(r), group=_word(r)[:60]),
    lambda d, r: edits.add_source(d, PiecesSource(label=_word(r)[:60], pieces=(SQUARE,), after=d.recipe.steps[0].id if d.recipe.steps else "")),
    lambda d, r: edits.add_source(d, BlockSource(block="waistband", options={"depth": Number(value=40.0)})),
    lambda d, r: edits.change_source(d, r.choice(d.recipe.sources).id, on=True, note=_word(r)),
    lambda d, r: edits.take_out_source(d, d.recipe.sources[-1].id),
    lambda d, r: begin_with(d, Recipe.of(r.choice(("skirt.straight", "skirt.circle", "bodice.darted")))) if r.random() < 0.2 else d,
    lambda d, r: edits.set_finishing(d, hem=float(r.randint(10, 60)), notches=r.choice(("slit", "t", "inside"))),
    lambda d, r: edits.set_allowance(d, r.choice(("front.side", "back.hem", "waistband.inside[s3.1]")), r.choice((None, 12.0, 22.5))),
    lambda d, r: edits.set_lay(d, r.choice(("main", "lining")), fold=r.choice(("open", "folded", "better")), gap=float(r.randint(0, 9))),
    lambda d, r: edits.place_piece(d, r.choice(("front", "back")), r.choice((None, Placement(x=r.uniform(-900, 900), y=1.0, turn=r.uniform(-90, 90))))),
    lambda d, r: edits.mark_cut(d, "front", r.choice((None, CutRecord(piece=SQUARE, allowances={"square.top": 15.0}, date="2026-11-21")))),
    lambda d, r: edits.set_made(d, "front.waist", r.choice((None, r.uniform(100, 400)))),
    lambda d, r: edits.set_photograph(d, r.choice(("toile", "back view")), r.choice((None, *PHOTOGRAPHS))),
    lambda d, r: edits.add_log(d, LogEntry(date="2026-11-22", text=_word(r), photographs=("toile",))),
    lambda d, r: edits.accept(d, Accepted(kind="gate", name=r.choice(("stride", "hips")), reason=_word(r), worse=r.uniform(0, 50))),
    lambda d, r: edits.take_back_accepted(d, Accepted(kind="gate", name="stride", reason="x")),
    lambda d, r: d.model_copy(update={"notes": (d.notes + _word(r))[-2000:]}),
)  # fmt: skip


def photographs_lost(keeper: Keeper, history: History) -> list[str]:
    """The photographs that a moment of the undo refers to and that are not there any more."""
    wanted = {name for moment in history.moments for name in moment.document.photo_files()}
    return sorted(name for name in wanted if keeper.picture(name) != PHOTOGRAPHS[name])


def edited(document: Document, chance: random.Random) -> Document:
    """One random edit; one that is refused is replaced by another."""
    while True:
        try:
            after = chance.choice(EDITS)(document, chance)
        except (CaddetError, ValidationError):
            continue
        if after != document:
            return after


def journal_of_edits(seed: int, count: int) -> bytes:
    """The bytes of a journal of so many edits, undos and redos of the demo."""
    chance = random.Random(seed)
    document = demo_document()
    with tempfile.TemporaryDirectory() as folder:
        journal = Journal(Path(folder) / "a.jsonl")
        history = journal.open_at(document, Written.of(document).token)
        for _ in range(count):
            history, entry = moved(history, chance)
            journal.add([entry])
        return journal.file.read_bytes()


def moved(history: History, chance: random.Random) -> tuple[History, Entry]:
    """An edit, or now and then an undo or redo, and what the journal is told of it."""
    kind = chance.random()
    if kind < 0.12 and history.undo_deed is not None:
        return history.undone(), Moved(-1)
    if kind < 0.2 and history.redo_deed is not None:
        return history.redone(), Moved(1)
    after = edited(history.document, chance)
    return history.edited(after, "edit"), Edited(history.document, after, "edit")
