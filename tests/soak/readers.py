"""Every reader there is, each with good input to be spoilt. A later reader adds itself with one line to READERS."""

from __future__ import annotations

import io
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from PIL import Image

from caddet.core.body.sizes import read_sizes
from caddet.core.demo import demo_document
from caddet.core.figures.language import Quantity, parse, work_out, written
from caddet.core.formats.journal import Journal
from caddet.core.formats.named_store import BLOCKS_KEPT
from caddet.core.formats.older_journal import taken_over
from caddet.core.formats.people_csv import read_people, write_people
from caddet.core.formats.people_store import keep_photo, kept_people
from caddet.core.formats.project import no_pictures, open_project, read_project, to_bytes
from caddet.core.formats.written import Written
from caddet.core.lengths import parse_length
from caddet.core.made import EvaluateRequest
from caddet.core.pattern.ids import reference
from caddet.core.pipeline import make
from caddet.core.tracing.kinds import KINDS
from caddet.core.tracing.photo.picture import read_picture
from caddet.core.tracing.readings_csv import read_readings
from tests.making import DATA

OLD = DATA / "older" / "v2"


@dataclass(frozen=True, slots=True)
class Reader:
    """A reader: good input, how a file with input is read, and the bounds it keeps to.

    ``read`` raises :class:`CaddetError` for what can't be used, and nothing else.
    """

    name: str
    good: Callable[[], Sequence[bytes]]
    read: Callable[[Path], object]
    seconds: float = 5.0
    mib: int = 512


@lru_cache
def _projects() -> tuple[bytes, ...]:
    return (to_bytes(demo_document(), no_pictures), *(path.read_bytes() for path in sorted(OLD.glob("*.caddet"))))


@lru_cache
def _journals() -> tuple[bytes, ...]:
    from tests.soak.editing import journal_of_edits

    return (journal_of_edits(1, 12), journal_of_edits(2, 40))


@lru_cache
def _csv() -> tuple[bytes, ...]:
    text = write_people(demo_document().people)
    return (text.encode(), text.replace(",", ";").encode("latin-1"), text.replace(",", "\t").encode("utf-16"))


@lru_cache
def _picture() -> tuple[bytes, ...]:
    found = []
    for kind in ("JPEG", "PNG", "GIF", "BMP"):
        out = io.BytesIO()
        Image.linear_gradient("L").convert("RGB").resize((24, 18)).save(out, kind)
        found.append(out.getvalue())
    return tuple(found)


FORMULAS = (
    b"(bust + ease) / 4 + 2cm",
    b"if(bust > 90cm, clamp(bust / 3, 1cm, 50cm), 7/8in)",
    b"sqrt(bust * bust) - floor(2.5) * 1in",
    b"min(bust, max(ease, 3cm), 1ft 2in) * sin(30)",
    b"radius(bust, 0.5) + slant(3cm, 4cm) - stretched(ease, 0.3)",
)
LENGTHS = (b"92.4 cm", '36¼"'.encode(), b"1 yd 3 in", b"-7/8", b"924mm", "36 1/4″".encode())
REFERENCES = (b"front.side[s3.2,s5.1]'", b"s4.cut", b"back.centre_back", b"front")
NAMES = {"bust": Quantity(920.0, 1), "ease": Quantity(100.0, 1)}


def _formula(path: Path) -> None:
    node = parse(path.read_bytes().decode("utf-8", "replace"))
    assert abs(work_out(node, NAMES).value) <= 1e12
    written(node, NAMES, {}, "in")


def _evaluated(path: Path) -> None:
    opened = open_project(path)
    made = make(EvaluateRequest(opened.document))
    to_bytes(made.document, opened.pictures.get)


def _journal(path: Path) -> None:
    document = demo_document()
    history = Journal.read(path).open_at(document, Written.of(document).token)
    for moment in history.moments[-3:]:
        _ = moment.document


def _older(path: Path) -> None:
    taken_over(path, path.with_suffix(".new"), "")
    path.with_suffix(".new").unlink(missing_ok=True)


def _in_store(folder: str, read: Callable[[], object]) -> Callable[[Path], object]:
    def reading(path: Path) -> None:
        import platformdirs

        place = Path(platformdirs.user_data_dir("caddet")) / folder / "one.json"
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_bytes(path.read_bytes())
        read()

    return reading


def _texts(*texts: bytes) -> Callable[[], Sequence[bytes]]:
    return lambda: texts


def _text(path: Path) -> str:
    return path.read_bytes().decode("utf-8", "replace")


READERS: list[Reader] = [
    Reader("project", _projects, open_project),
    Reader("project, made", _projects, _evaluated),
    Reader("document", lambda: [_documents()], lambda path: read_project(_zipped(path), "document")),
    Reader("journal", _journals, _journal),
    Reader("older journal", lambda: [p.read_bytes() for p in sorted(OLD.glob("*.journal"))], _older),
    Reader("people CSV", _csv, read_people),
    Reader("people CSV, gently", _csv, lambda path: read_people(path, gently=True)),
    Reader("size table", _texts(b"size,bust,waist\nS,84,68\nM,92,76\n"), lambda path: read_sizes(_text(path), "own")),
    Reader(
        "kept people",
        lambda: [p.read_bytes() for p in sorted((OLD / "people").iterdir())],
        _in_store("people", kept_people),
    ),
    Reader(
        "own blocks",
        lambda: [p.read_bytes() for p in sorted((OLD / "blocks").iterdir())],
        _in_store("blocks", BLOCKS_KEPT.kept),
    ),
    Reader("photograph", _picture, keep_photo, mib=1024),
    Reader("photograph to trace", _picture, lambda path: read_picture(path.read_bytes(), path.name), mib=2048),
    Reader(
        "readings of the tape",
        _texts(b"what,at,value\nchest,,51.5\nwidth,35,47.5 cm\n"),
        lambda path: read_readings(_text(path), KINDS["t_shirt"]),
    ),
    Reader("formula", _texts(*FORMULAS), _formula),
    Reader("length", _texts(*LENGTHS), lambda path: parse_length(_text(path))),
    Reader("reference", _texts(*REFERENCES), lambda path: reference(_text(path))),
]


@lru_cache
def _documents() -> bytes:
    return json.dumps(demo_document().model_dump(mode="json")).encode()


def _zipped(path: Path) -> bytes:
    import zipfile

    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        archive.writestr("document.json", path.read_bytes())
    return buffer.getvalue()
