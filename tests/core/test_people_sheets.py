"""Sheets of people as they come: long, mixed, marked, in another alphabet; and the Workroom's own files."""

from __future__ import annotations

from pathlib import Path

import pytest
from PIL import Image

from caddet.core.body.figure.drawing import draw_figure
from caddet.core.body.measures import MEASURES
from caddet.core.body.person import Person
from caddet.core.demo import demo_document
from caddet.core.errors import InputError
from caddet.core.formats.people_csv import parse_people, read_people
from caddet.core.formats.people_store import (
    free_name,
    keep_person,
    keep_photo,
    kept_people,
    people_folder,
    photo_bytes,
    rename_person,
)


def test_five_thousand_people_with_every_kind_of_trouble(tmp_path: Path) -> None:
    rows = ["shoe;hip;name;height;waist;date;born"]
    rows += [f"40;{90 + n % 30},5;Zoë {n};{150 + n % 40};{65 + n % 30};2026-10-0{1 + n % 9};" for n in range(4994)]
    rows += [
        "40;98;Mira;168;75;2026-10-01;",
        "40;98;Mira;168;75;2026-10-01;",  # the same twice
        "40;104;Mira;172;80;2026-10-01;",  # another of that name
        "40;39;Inch;66;30;2026-10-01;",  # a row in inches
        "40;98;Later;168;75;2999-01-01;2016-13",  # a date in the future, a month that is none
        "40;0;Nought;168;tall;2026-10-01;",  # a reading of 0 and a word
    ]
    path = tmp_path / "many.csv"
    path.write_bytes("\n".join(rows).encode("latin-1"))
    people, findings = read_people(path, gently=True, today="2026-11-24")
    by_name = {person.name: person for person in people}
    assert len(people) == 4999 and "Zoë 7" in by_name and by_name["Zoë 0"].measures["hip"] == 905
    assert by_name["Mira 2"].measures["hip"] == 1040
    assert by_name["Inch"].measures["hip"] == pytest.approx(39 * 25.4)
    assert by_name["Later"].sets[0].date == "" and by_name["Later"].born == ""
    assert set(by_name["Nought"].measures) == {"height"}
    told = {finding.code for finding in findings}
    assert {"csv.column", "csv.twice", "csv.name", "csv.unit", "csv.cell"} <= told


@pytest.mark.parametrize("encoding", ["utf-8-sig", "utf-16", "latin-1"])
def test_a_mark_or_another_encoding_does_not_matter(tmp_path: Path, encoding: str) -> None:
    path = tmp_path / "sheet.csv"
    path.write_bytes("name,hip (in)\nJürg,39 1/4\n".encode(encoding))
    people, _ = read_people(path)
    assert people[0].name == "Jürg" and people[0].measures["hip"] == pytest.approx(39.25 * 25.4)


def test_more_people_than_a_sheet_may_have_are_refused() -> None:
    with pytest.raises(InputError, match="more than 10000"):
        parse_people("name,hip\n" + "\n".join(f"P{n},98" for n in range(10_001)))


def test_the_workroom_keeps_people_in_readable_files() -> None:
    keep_person(Person.of("Ånn / 1", {"hip": 980.0}))
    keep_person(Person.of("Ann", {"hip": 990.0}), archived=True)
    kept, findings = kept_people()
    assert [(one.person.name, one.archived) for one in kept] == [("Ann", True), ("Ånn / 1", False)] and not findings
    rename_person("Ann", Person(name="Anna"))
    with pytest.raises(InputError, match="already someone"):
        rename_person("Anna", Person(name="Ånn / 1"))
    (people_folder() / "hurt.json").write_text('{"format": 1, "person": {"name": 5}}')
    (people_folder() / "later.json").write_text('{"format": 99, "person": {}}')
    kept, findings = kept_people()
    assert len(kept) == 2 and len(findings) == 2 and any("newer" in f.sentence for f in findings)
    assert free_name("Ann", {"Ann", "Ann 2"}) == "Ann 3"


def test_a_photograph_is_made_small_and_kept_once(tmp_path: Path) -> None:
    picture = tmp_path / "p.png"
    Image.new("RGB", (2000, 1000), "white").save(picture)
    name = keep_photo(picture)
    assert keep_photo(picture) == name and 0 < len(photo_bytes(name) or b"") < 100_000
    assert photo_bytes("") is None and photo_bytes("0" * 32 + ".jpg") is None
    for data in (b"", b"GIF89a", b"\x89PNG\r\n\x1a\n" + b"\0" * 50):
        picture.write_bytes(data)
        with pytest.raises(InputError, match="picture"):
            keep_photo(picture)


@pytest.mark.parametrize("who", demo_document().people, ids=lambda who: who.name)
def test_every_measure_has_its_tape_on_the_figure(who: Person) -> None:
    for code, measure in MEASURES.items():
        drawing = draw_figure(who, code)
        assert drawing.view == measure.view and drawing.outlines and drawing.height == who.measures["height"]
        assert measure.kind == "weight" or drawing.tape, code
        assert bool(drawing.ends) is (measure.kind in ("width", "length")), "a girth closes, a length has two ends"
