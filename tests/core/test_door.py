"""Nothing from outside is opened but through ``caddet.core.files``: the code is looked through, and the door is tried."""

from __future__ import annotations

import ast
import io
import os
import socket
import struct
import threading
import zipfile
import zlib
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

import caddet
from caddet.cli import main
from caddet.core.body.kept import read_liked
from caddet.core.errors import InputError
from caddet.core.files.archives import read_archive
from caddet.core.files.pictures import read_rgb
from caddet.core.files.reading import read_text, read_whole
from caddet.core.files.tables import lines_of
from caddet.core.formats.people_store import keep_photo, photo_bytes
from caddet.core.own_pieces.reading import read as read_recipe

SRC = Path(caddet.__file__).parent
# what opens a file, a picture, an archive or a table: a function's name, or the last two parts of a dotted one
OPENS = {
    "open", "os.open", "io.open", "codecs.open", "Image.open", "zipfile.ZipFile", "ZipFile", "tarfile.open", "gzip.open", "bz2.open",
    "lzma.open", "mmap.mmap", "cv2.imread", "cv2.imdecode", "cv2.VideoCapture", "np.load", "np.loadtxt", "np.genfromtxt", "np.fromfile",
    "csv.reader", "csv.DictReader", "json.load", "pickle.load", "pickle.loads", "ezdxf.readfile", "configparser.ConfigParser",
    "QImageReader", "QMovie", "QSvgRenderer", "QFile", "QSettings", "QSaveFile", "shutil.copyfile", "shutil.copy",
}  # fmt: skip
METHODS = {"read_text", "read_bytes", "loadFromData", "addApplicationFont"}
WITH_A_NAME = {"QImage", "QPixmap", "QIcon"}  # these open a file when they are given its name
# the door itself, and where something else is opened than what comes from outside, with the reason
DOOR = "core/files/"
KNOWN = {
    ("core/formats/keeping.py", "os.open"): "the lock beside a journal: nothing is read of it",
    ("core/formats/project.py", "zipfile.ZipFile"): "a project is written",
    ("cli/__init__.py", "open"): "the closed standard output is pointed at nothing",
}


def opened_in(file: Path) -> Iterator[tuple[str, int]]:
    """The calls in a file that open something, by name, and their lines."""
    for node in ast.walk(ast.parse(file.read_text("utf-8"))):
        if not isinstance(node, ast.Call):
            continue
        parts = ast.unparse(node.func).split(".")
        short, last = ".".join(parts[-2:]), parts[-1]
        if short in OPENS or (len(parts) == 1 and last in OPENS) or (len(parts) > 1 and last in METHODS):
            yield short, node.lineno
        elif last == "open" and node.args and _is_mode(node.args[0]):
            yield "open", node.lineno
        elif last in WITH_A_NAME and len(node.args) == 1 and isinstance(node.args[0], ast.Constant | ast.JoinedStr):
            yield last, node.lineno


def _is_mode(node: ast.expr) -> bool:
    return isinstance(node, ast.Constant) and isinstance(node.value, str) and set(node.value) <= set("rwxabt+")


def test_no_place_in_the_program_goes_round_the_door() -> None:
    found = {
        (str(file.relative_to(SRC)), name, line)
        for file in SRC.rglob("*.py")
        if not str(file.relative_to(SRC)).startswith(DOOR)
        for name, line in opened_in(file)
    }
    round_it = sorted(one for one in found if one[:2] not in KNOWN)
    assert not round_it, "read through caddet.core.files instead"
    assert {one[:2] for one in found} == set(KNOWN), "what is not opened any more is no exception any more"


def test_a_place_that_goes_round_the_door_would_be_seen(tmp_path: Path) -> None:
    file = tmp_path / "bad.py"
    lines = (
        "open(p)", "p.open('rb')", "p.read_text()", "Image.open(x)", "csv.reader(x)", "QPixmap('a')", "pixmap.loadFromData(d)",
        "np.load(p)", "zipfile.ZipFile(p)", "PIL.Image.open(x)", "QSettings('a', 'b')", "cv2.imread('x')", "p.open(mode)",
    )  # fmt: skip
    file.write_text("\n".join(lines))
    assert [line for _, line in opened_in(file)] == list(range(1, len(lines))), (
        "all but the last, which may be a window"
    )


# --- files ----------------------------------------------------------------------------------------


def odd_files(folder: Path) -> Iterator[Path]:
    """What is no ordinary file."""
    os.mkfifo(folder / "pipe")
    with socket.socket(socket.AF_UNIX) as listening:
        listening.bind(str(folder / "s"))
    (folder / "zero").symlink_to("/dev/zero")
    (folder / "ring").symlink_to(folder / "ring")
    yield from (folder / name for name in ("pipe", "s", "zero", "ring", "none", ""))
    yield Path("/dev/stdin")
    yield folder / ("x" * 300)
    yield Path("a\0b")


def test_only_ordinary_files_of_a_bounded_size_are_read_and_nothing_waits(tmp_path: Path) -> None:
    for odd in odd_files(tmp_path):
        for read in (read_whole, read_text):
            done = threading.Event()

            def trying(odd: Path = odd, read: object = read, done: threading.Event = done) -> None:
                with pytest.raises(InputError):
                    read(odd)  # type: ignore[operator]
                done.set()

            threading.Thread(target=trying, daemon=True).start()
            assert done.wait(5), f"{odd}: it waits"
    large = tmp_path / "large"
    large.write_bytes(b"x" * 1000)
    with pytest.raises(InputError, match="larger"):
        read_whole(large, 999)
    assert len(read_whole(large, 1000)) == 1000
    large.write_bytes(b"a\0b")
    with pytest.raises(InputError, match="not a text file"):
        read_text(large)


ENDLESS = (
    ("draft", "own.points", "--people", "people.csv", "--set", "recipe=@ODD", "-o", "out"),
    ("add", "demo.caddet", "own_pieces", "recipe=@ODD"),
    ("grade", "demo.caddet", "--sizes", "ODD", "--json"),
    ("grade", "demo.caddet", "--rules", "ODD", "--json", "--sizes", "women"),
    ("grade", "demo.caddet", "--people", "ODD", "--json"),
    ("draft", "skirt.straight", "--people", "ODD", "-o", "out"),
    ("trace", "ODD", "--json"),
    ("trace", "ODD.csv", "--kind", "t_shirt", "--json"),
    ("check", "ODD"),
)


def ended(command: list[str]) -> int | None:
    """The exit code of a command; None when it does not end."""
    codes: list[int] = []
    running = threading.Thread(target=lambda: codes.append(main(command)), daemon=True)
    running.start()
    running.join(20)
    return codes[0] if codes else None


@pytest.mark.parametrize("words", ENDLESS, ids=" ".join)
def test_no_command_reads_without_end_or_waits_for_a_pipe(
    words: tuple[str, ...], demo: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = demo.parent
    monkeypatch.chdir(folder)
    demo.rename(folder / "demo.caddet")
    (folder / "people.csv").write_text("name,hip,waist,height\nAnna,98,74,168\n")
    for name, odd in (("pipe", None), ("zero", "/dev/zero"), ("full", "/dev/full")):
        for ending in ("", ".csv"):
            path = folder / (name + ending)
            if odd is None:
                os.mkfifo(path)
            else:
                path.symlink_to(odd)
        command = [word.replace("ODD", str(folder / name)) for word in words]
        code = ended(command)
        told = capsys.readouterr().err
        assert code == 2 and len(told.splitlines()) == 1, told
        assert "ordinary file" in told and len(told) <= 301


# --- tables and archives --------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("a,b\n1,\0", "not a text file"),
        ('a,b\n"' + "x" * 140_000 + '",1\n', "can't be read|letters"),
        ("a,b\n" + "x" * 6000 + ",1\n", "more than 500 cells, or a cell more than 5000 letters"),
        ("," * 600 + "\n", "more than 500 columns"),
        ("a\n" + "1\n" * 20, "more than 10 rows"),
    ],
)
def test_a_table_without_bounds_is_refused_with_its_line(text: str, said: str) -> None:
    with pytest.raises(InputError, match=said) as caught:
        list(lines_of(text, "t.csv", most=10))
    assert caught.value.place.startswith("t.csv") and len(str(caught.value)) < 300


def test_a_table_is_read_as_spreadsheets_write_it() -> None:
    assert list(lines_of("\ufeffa;b\r\n1,5;2\r\n\r\n\n3;4")) == [(1, ["a", "b"]), (2, ["1,5", "2"]), (5, ["3", "4"])]
    assert list(lines_of('a\tb\n"two\nlines"\t2\n3\t4\n')) == [
        (1, ["a", "b"]),
        (2, ["two\nlines", "2"]),
        (4, ["3", "4"]),
    ]
    assert [cells for _, cells in lines_of("a,b\r1,2\r3,4")] == [["a", "b"], ["1", "2"], ["3", "4"]], "a stray return"


def packed(packing: int, *entries: tuple[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", packing) as archive:
        for name, data in entries:
            archive.writestr(name, data)
    return out.getvalue()


def test_an_archive_has_few_entries_plainly_packed_and_none_is_read_beyond_its_limit() -> None:
    plain = read_archive(packed(zipfile.ZIP_DEFLATED, ("a", b"1" * 5000)), "here", "a project")
    assert plain.read("a", 5000) == b"1" * 5000
    with pytest.raises(InputError, match="more than 0 MiB"):
        plain.read("a", 4999)
    for packing in (zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2):
        with pytest.raises(InputError, match="packed in a way"):
            read_archive(packed(packing, ("a", b"1" * 50)), "here", "a project").read("a", 100)
    with pytest.raises(InputError, match="more than 1000 entries"):
        read_archive(packed(0, *((f"{n}", b"") for n in range(1001))), "here", "a project")
    with pytest.raises(InputError, match="more than 1000 entries"):
        read_archive(b"PK\x01\x02" * 5_000_000, "here", "a project")
    with pytest.raises(InputError, match="is not a project"):
        read_archive(b"PK\x03\x04 and so on", "here", "a project")


def test_a_long_line_of_blanks_is_not_looked_at_again_and_again() -> None:
    """Looking for words among 30,000 blanks took eleven seconds: blanks are one, and a line has an end."""
    assert read_liked("a: waist" + " " * 30_000 + "80cm", "cm").girths == {"waist": 800.0}
    with pytest.raises(InputError):
        read_liked("grey: hip" + " - " * 9000, "cm")
    for line in ("A = B" + " x" * 15_000 + "= C", "x = " + "3 " * 15_000):
        assert "at most 1000 letters" in read_recipe(f"piece A\n{line}\n").faults[0][1]


# --- pictures -------------------------------------------------------------------------------------


def picture(kind: str, size: tuple[int, int] = (24, 18), mode: str = "RGB", **how: object) -> bytes:
    out = io.BytesIO()
    Image.linear_gradient("L").resize(size).convert(mode).save(out, kind, **how)  # type: ignore[arg-type]
    return out.getvalue()


# a program in PostScript, as a picture's bytes: given to an interpreter it would make the file
PROGRAM = b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n%%EndComments\n(PATH) (w) file (run) writestring showpage\n%%EOF\n"


@pytest.mark.parametrize("name", ["a.jpg", "a.eps", "a.png", "a"])
def test_a_picture_runs_no_program_whatever_it_is_called(name: str, tmp_path: Path) -> None:
    made = tmp_path / "made by the picture"
    path = tmp_path / name
    path.write_bytes(PROGRAM.replace(b"PATH", str(made).encode()))
    with pytest.raises(InputError, match="expected a JPEG or PNG"):
        keep_photo(path)
    assert not made.exists()


def test_every_format_but_two_is_refused_unopened(monkeypatch: pytest.MonkeyPatch) -> None:
    Image.init()
    kinds = []
    for kind in sorted(Image.SAVE):
        if kind in ("JPEG", "PNG", "MPO", "IM"):
            continue
        try:
            kinds.append((kind, picture(kind)))
        except (OSError, ValueError, KeyError, RuntimeError):
            continue
    assert len(kinds) > 12
    monkeypatch.setattr(Image, "open", lambda *_, **__: pytest.fail("given to a decoder"))
    for kind, data in [*kinds, ("SVG", b"<svg xmlns='http://www.w3.org/2000/svg'/>"), ("PDF", b"%PDF-1.7\n")]:
        with pytest.raises(InputError, match="expected a JPEG or PNG"):
            read_rgb(data, kind, most=1000)


def sixteen() -> bytes:
    """A picture of sixteen bits to the point."""
    out = io.BytesIO()
    Image.fromarray(np.linspace(0, 65535, 24 * 18).reshape(18, 24).astype(np.uint16)).save(out, "PNG")
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "wide"),
    [
        (picture("JPEG"), 24), (picture("PNG"), 24), (picture("PNG", mode="L"), 24), (picture("PNG", mode="P"), 24), (picture("PNG", mode="LA"), 24),
        (picture("PNG", mode="1"), 24), (picture("PNG", mode="RGBA"), 24), (sixteen(), 24), (picture("JPEG", mode="CMYK"), 24),
        (picture("JPEG", progressive=True), 24), (picture("JPEG", (3000, 2000)), 122), (picture("PNG", (3000, 2000), "P"), 122),
    ],
)  # fmt: skip
def test_every_kind_of_jpeg_and_png_is_read_upright_and_no_larger_than_asked_for(data: bytes, wide: int) -> None:
    read = read_rgb(data, most=10_000)
    assert read.mode == "RGB" and abs(read.width - wide) <= 3 and abs(read.width / read.height - 4 / 3) < 0.2
    top, foot = (float(np.asarray(read)[row].mean()) for row in (0, -1))
    assert foot > top + 100, "the gradient is still there"
    exif = Image.Exif()
    exif[0x0112] = 6  # held upright: turned by a quarter
    out = io.BytesIO()
    Image.open(io.BytesIO(data)).convert("RGB").save(out, "JPEG", exif=exif)
    assert read_rgb(out.getvalue(), most=10_000).height == pytest.approx(read.width, abs=2)


def bomb(wide: int, high: int) -> bytes:
    """A PNG of few bytes that unpacks to a great many points."""

    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    head = struct.pack(">IIBBBBB", wide, high, 8, 2, 0, 0, 0)
    rows = zlib.compress(b"\0" * min((wide * 3 + 1) * high, 50_000_000), 9)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", rows) + chunk(b"IEND", b"")


def test_a_picture_too_large_for_the_memory_is_refused_by_its_head() -> None:
    for data in (bomb(20_000, 15_000), bomb(65_000, 65_000), bomb(11_000, 10_000)):
        with pytest.raises(InputError, match="points; expected at most"):
            read_rgb(data, most=1000)
    scan = b"\xff\xda\x00\x0c\x03\x01\x00\x02\x11\x03\x11\x00\x3f\x00"
    passes = picture("JPEG", (2000, 1500), progressive=True)
    with pytest.raises(InputError, match="damaged"):
        read_rgb(passes[:-2] + scan * 100, most=1000)


def test_a_photograph_is_kept_small_and_its_place_is_said_when_it_is_not(tmp_path: Path) -> None:
    path = tmp_path / "Wren.jpg"
    path.write_bytes(picture("JPEG", (4000, 3000)))
    kept = photo_bytes(keep_photo(path)) or b""
    assert max(Image.open(io.BytesIO(kept)).size) == 720
    path.write_bytes(picture("JPEG", (4000, 3000))[:3000])
    with pytest.raises(InputError, match="cut short") as caught:
        keep_photo(path)
    assert caught.value.place == str(path)
