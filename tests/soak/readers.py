"""Every reader there is, each with good input to be spoilt. A later reader adds itself with one line to READERS."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable, Sequence
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from PIL import Image

from caddet.cli import main
from caddet.core.body.kept import read_liked
from caddet.core.body.sizes import read_sizes
from caddet.core.demo import demo_document
from caddet.core.designs import design_named
from caddet.core.devices.camera import Shot
from caddet.core.errors import CaddetError
from caddet.core.figures.language import Quantity, parse, work_out, written
from caddet.core.files.reading import read_text
from caddet.core.files.shipped import shipped_bytes
from caddet.core.formats.journal import Journal
from caddet.core.formats.migrate import PROJECT, STORE
from caddet.core.formats.named_store import BLOCKS_KEPT, GROUPS_KEPT
from caddet.core.formats.older_journal import taken_forward, taken_over
from caddet.core.formats.people_csv import read_people, write_people
from caddet.core.formats.people_store import keep_photo, kept_people
from caddet.core.formats.project import no_pictures, open_project, read_project, save_project, to_bytes
from caddet.core.formats.strict_json import canonical, read_json
from caddet.core.formats.written import Written
from caddet.core.grading.rules_csv import read_rules
from caddet.core.grading.sizes import as_pieces, redrafted
from caddet.core.lengths import parse_length
from caddet.core.made import EvaluateRequest
from caddet.core.own_pieces import reading as own_pieces
from caddet.core.pattern.ids import reference
from caddet.core.pipeline import make
from caddet.core.recipe.document import SCHEMA
from caddet.core.recipe.groups import StepGroup
from caddet.core.tracing.kinds import KINDS
from caddet.core.tracing.photo.picture import read_picture
from caddet.core.tracing.readings_csv import read_readings
from caddet.core.truing.ease_limits import read_ease_limits
from caddet.desk.settings import keep_settings, read_settings, settings_file
from tests.making import DATA
from tests.photos import photo_bytes
from tests.soak.editing import PHOTOGRAPHS

OLD, THIRD, FOURTH = (DATA / "older" / name for name in ("v2", "v3", "v4"))


SMALL = Shot(size=(1000, 750))


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
    with_photographs = demo_document().model_copy(
        update={"photographs": {f"toile {n}": name for n, name in enumerate(PHOTOGRAPHS)}}
    )
    designs = (shipped_bytes(f"designs/{name}.caddet") for name in ("harbour-coat", "swim-set", "bias-blouse"))
    stored = (
        as_pieces(one, redrafted(one, one.person)) for one in (design_named("harbour-coat").document, demo_document())
    )
    given = (to_bytes(one, no_pictures) for one in stored)
    return (to_bytes(demo_document(), no_pictures), to_bytes(with_photographs, PHOTOGRAPHS.get), *designs, *given)


@lru_cache
def _older() -> tuple[bytes, ...]:
    return tuple(
        path.read_bytes()
        for path in sorted(path for folder in (OLD, THIRD, FOURTH) for path in folder.glob("*.caddet"))
    )


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
    """Pictures of the kinds that are read, and of those that are not."""
    gradient = Image.linear_gradient("L").resize((640, 480))
    exif = Image.Exif()
    exif[0x0112], exif[0x010E] = 6, "a skirt"
    found = []
    for kind, mode, how in (
        ("JPEG", "RGB", {}), ("JPEG", "RGB", {"progressive": True}), ("JPEG", "L", {"exif": exif}), ("JPEG", "CMYK", {}), ("MPO", "RGB", {}),
        ("PNG", "RGB", {}), ("PNG", "P", {}), ("PNG", "LA", {}), ("PNG", "I;16", {}), ("PNG", "1", {"exif": exif}),
        ("PNG", "RGB", {"save_all": True, "append_images": [gradient.rotate(90).convert("RGB")]}),
        ("GIF", "L", {}), ("BMP", "RGB", {}), ("TIFF", "RGB", {}), ("WEBP", "RGB", {}), ("AVIF", "RGB", {}), ("PPM", "RGB", {}), ("EPS", "L", {}),
    ):  # fmt: skip
        out = io.BytesIO()
        try:
            gradient.convert(mode).save(out, kind, **how)  # type: ignore[arg-type]
        except (OSError, KeyError):  # a kind that this machine can't write
            continue
        found.append(out.getvalue())
    return (
        *found,
        b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n%%EndComments\nshowpage\n",
        b"<svg xmlns='http://www.w3.org/2000/svg'/>",
    )


RULES = (
    b"sizes,76,80,84\nbase,80\npiece,point,from,to,dx,dy\nfront,waist-side,76,84,10,0\nfront,side-hem,76,84,10,2.5\n"
)
READINGS = (
    b"what,at,value\nlength_front,,58\nlength_back,,64.5\nchest,,51.5\nhem,,50\nside,,41\nneck_width,,18\nneck_front,,9.5\nneck_back,,2.5\n"
    b"shoulder,,13\nshoulder_drop,,4\narmhole_straight,,21\nwidth,35,47.5 cm\n"
)
SETTINGS = b'{"dots_per_mm": 4.2, "evening": true, "last": "/home/a/skirt.caddet", "unit": "cm"}'
RECIPES = (
    b"piece Band\nA\nB = A out waist\nC = B down 5\nD = A down 5\nedge top: A - B\nedge end: B - C\nedge foot: C - D, hem\nedge start: D - A, fold\n",
    b"piece Sleeve\nA at 0, 0\nB at 20, 12\nC = B down hip / 4\nedge one: A - B\nedge two: B - C\nedge three: C - A\n",
)


@lru_cache
def _groups() -> tuple[bytes, ...]:
    kept = StepGroup(name="pocket and hem", steps=demo_document().recipe.steps)
    return (canonical({"format": STORE, "group": kept.model_dump(mode="json")}).encode(),)


FORMULAS = (
    b"(bust + ease) / 4 + 2cm",
    b"if(bust > 90cm, clamp(bust / 3, 1cm, 50cm), 7/8in)",
    b"sqrt(bust * bust) - floor(2.5) * 1in",
    b"min(bust, max(ease, 3cm), 14in) * sin(30)",
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


def _older_journal(path: Path) -> None:
    taken_over(path, path.with_suffix(".new"), "")
    path.with_suffix(".new").unlink(missing_ok=True)


def _later_journal(path: Path) -> None:
    taken_forward(path, path.with_suffix(".new"))
    path.with_suffix(".new").unlink(missing_ok=True)


def _forward(path: Path) -> None:
    """Only the way forward of each schema, without what catches its faults."""
    raw = read_json(path.read_bytes(), "document")
    for schema in range(
        raw["schema_version"] if isinstance(raw, dict) and raw.get("schema_version") in (*PROJECT,) else 99, SCHEMA
    ):
        raw = PROJECT[schema](raw, None)


def _shown(path: Path) -> None:
    settings = settings_file()
    settings.parent.mkdir(parents=True, exist_ok=True)
    settings.write_bytes(path.read_bytes())
    found = read_settings()
    assert not any(len(words) > 300 or "\n" in words for words in found.aside)
    keep_settings(unit="in")
    assert not read_settings().aside, "said once"


def _by_command(*words: str) -> Callable[[Path], object]:
    """A command that is given the file as FILE, in a folder with the demo and people in it."""

    def run(path: Path) -> None:
        folder = path.parent
        demo, people = folder / "demo.caddet", folder / "people.csv"
        save_project(demo_document(), demo, no_pictures)
        people.write_text("name,hip,waist,height\nAnna,98,74,168\n")
        named = path.with_suffix(".csv") if "FILE.csv" in words else path
        named.write_bytes(path.read_bytes())
        places = {
            "FILE": path,
            "FILE.csv": named,
            "DEMO": demo,
            "PEOPLE": people,
            "OUT": folder / "out.caddet",
            "DIR": folder / "out",
        }
        said, told = io.StringIO(), io.StringIO()
        with redirect_stdout(said), redirect_stderr(told):
            code = main([str(places.get(word, word.replace("@FILE", f"@{path}"))) for word in words])
        assert code in (0, 1, 2) and "went wrong inside" not in told.getvalue(), told.getvalue()
        if code == 2:
            raise (
                CaddetError(told.getvalue().splitlines()[-1])
                if told.getvalue().strip()
                else AssertionError("nothing said")
            )

    return run


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
    Reader("project, made", _projects, _evaluated, seconds=20.0),  # a damaged one may ask for 150 pieces
    Reader("older project", _older, open_project),
    Reader("older project, made", _older, _evaluated, seconds=20.0),
    Reader("older document taken forward", lambda: [_document_of(one) for one in _older()], _forward),
    Reader("document", lambda: [_documents()], lambda path: read_project(_zipped(path), "document")),
    Reader("journal", _journals, _journal),
    Reader("older journal", lambda: [p.read_bytes() for p in sorted(OLD.glob("*.journal"))], _older_journal),
    Reader(
        "journal of schemas 3 and 4",
        lambda: [p.read_bytes() for folder in (THIRD, FOURTH) for p in sorted(folder.glob("*.journal"))],
        _later_journal,
    ),
    Reader("people CSV", _csv, read_people),
    Reader("people CSV, gently", _csv, lambda path: read_people(path, gently=True)),
    Reader(
        "size table", _texts(b"size,bust,waist\nS,84,68\nM,92,76\n"), lambda path: read_sizes(read_text(path), "own")
    ),
    Reader("rules", _texts(RULES), lambda path: read_rules(read_text(path), "rules.csv")),
    Reader(
        "limits of ease",
        lambda: [shipped_bytes("ease_limits.csv")],
        lambda path: read_ease_limits(read_text(path), "e"),
    ),
    Reader("settings", _texts(SETTINGS), _shown),
    Reader("recipe of points", lambda: RECIPES, lambda path: own_pieces.read(read_text(path))),
    Reader(
        "garment that fits",
        _texts(b"grey trousers: hip 104, thigh 66", b"a: waist 80cm"),
        lambda path: read_liked(_text(path), "cm"),
    ),
    Reader("groups of steps", _groups, _in_store("groups", GROUPS_KEPT.kept)),
    Reader("caddet check", _projects, _by_command("check", "FILE")),
    Reader("caddet add", _older, _by_command("add", "FILE", "lengthen", "amount=2cm", "at=40cm", "-o", "OUT")),
    Reader("caddet add @FILE", lambda: RECIPES, _by_command("add", "DEMO", "own_pieces", "recipe=@FILE", "-o", "OUT")),
    Reader(
        "caddet draft @FILE",
        lambda: RECIPES,
        _by_command("draft", "own.points", "--people", "PEOPLE", "--set", "recipe=@FILE", "-o", "DIR", "--force"),
    ),
    Reader("caddet grade --people", _csv, _by_command("grade", "DEMO", "--people", "FILE", "--json")),
    Reader(
        "caddet grade --sizes",
        _texts(b"size,waist,hip\nS,68,92\nM,76,100\n"),
        _by_command("grade", "DEMO", "--sizes", "FILE.csv", "--json"),
    ),
    Reader(
        "caddet grade --rules",
        _texts(RULES),
        _by_command("grade", "DEMO", "--sizes", "women", "--rules", "FILE", "--json"),
    ),
    Reader("caddet trace READINGS", _texts(READINGS), _by_command("trace", "FILE.csv", "--kind", "t_shirt", "--json")),
    Reader(
        "caddet trace PHOTO",
        lambda: [*_picture()[:10], photo_bytes("t_shirt", "front", shot=SMALL)],
        _by_command("trace", "FILE", "--json"),
        mib=2048,
        seconds=15.0,  # one of them is a whole picture, and is traced
    ),
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
    Reader("photograph", _picture, keep_photo),
    Reader("photograph to trace", _picture, lambda path: read_picture(path.read_bytes(), path.name), mib=2048),
    Reader(
        "readings of the tape",
        _texts(READINGS),
        lambda path: read_readings(read_text(path), KINDS["t_shirt"]),
    ),
    Reader("formula", _texts(*FORMULAS), _formula),
    Reader("length", _texts(*LENGTHS), lambda path: parse_length(_text(path))),
    Reader("reference", _texts(*REFERENCES), lambda path: reference(_text(path))),
]


def _document_of(project: bytes) -> bytes:
    """The document of a project on one line, so that its values are spoilt and not its writing."""
    with zipfile.ZipFile(io.BytesIO(project)) as archive:
        return json.dumps(json.loads(archive.read("document.json"))).encode()


@lru_cache
def _documents() -> bytes:
    return json.dumps(demo_document().model_dump(mode="json")).encode()


def _zipped(path: Path) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        archive.writestr("document.json", path.read_bytes())
    return buffer.getvalue()
