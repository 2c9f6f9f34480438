"""A damaged project opens with all but the fault; what is set aside is named and kept; the wearer stays."""

from __future__ import annotations

import copy
import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from caddet.core.demo import demo_document
from caddet.core.errors import InputError
from caddet.core.formats.people_store import photo_folder
from caddet.core.formats.project import keep_aside, no_pictures, open_project, read_project, to_bytes
from caddet.core.formats.repair import repaired
from caddet.core.formats.strict_json import canonical
from caddet.core.formats.written import raw_of
from caddet.core.recipe import edits
from caddet.core.recipe.document import Document
from tests.making import step

DEMO = edits.add_step(
    edits.set_allowance(edits.set_ease(demo_document(), "hip", 55.0), "front.side", 22.0),
    step("pivot_dart", dart="front_dart"),
)
RAW = raw_of(DEMO)
Hurt = Callable[[dict[str, Any]], None]


def _hurt(hurt: Hurt) -> tuple[Document, dict[str, Any]]:
    """The document after a hurt, and what was set aside: place to value."""
    raw = copy.deepcopy(RAW)
    hurt(raw)
    document, aside = repaired(raw, "here")
    return document, {one.place: one.value for one in aside}


def _block(raw: dict[str, Any]) -> dict[str, Any]:
    return raw["recipe"]["sources"][0]  # type: ignore[no-any-return]


def _put(holder: Any, key: Any, value: Any) -> None:
    holder[key] = value


@pytest.mark.parametrize(
    ("hurt", "place", "change"),
    [
        (lambda r: _put(r["people"][0]["sets"][0]["readings"], "hip", [-5.0]), "people.0.sets.0.readings.hip", None),
        (
            lambda r: _put(_block(r)["ease"], "hip", 1e9),
            "recipe.sources.0.ease.hip",
            lambda d: edits.clear_ease(d, "hip"),
        ),
        (
            lambda r: _put(_block(r)["options"], "length", {"kind": "number", "value": "x"}),
            "recipe.sources.0.options.length",
            None,
        ),
        (lambda r: _put(r["recipe"]["steps"][1]["values"], "amount", 7), "recipe.steps.1.values.amount", None),
        (
            lambda r: _put(r["finishing"]["exceptions"], "front.side", -1.0),
            "finishing.exceptions.front.side",
            lambda d: edits.set_allowance(d, "front.side", None),
        ),
        (lambda r: _put(r["finishing"], "hem", "deep"), "finishing.hem", None),
        (lambda r: _put(r, "surprise", {"a": 1}), "surprise", lambda d: d),
        (lambda r: _put(r["cloths"][0], "colour", "red"), "cloths.0.colour", lambda d: d),
        (lambda r: _put(r["lays"]["main"], "gap", 1e9), "lays.main.gap", lambda d: d),
        (lambda r: _put(r["people"][1], "born", "long ago"), "people.1.born", lambda d: d),
        (lambda r: _put(r["table"], "front", {"x": 1e7, "y": 0.0}), "table.front.x", None),
        (lambda r: _put(r, "made", {"front.side": 0}), "made.front.side", lambda d: d),
    ],
)
def test_only_the_fault_is_set_aside(hurt: Hurt, place: str, change: Callable[[Document], Document] | None) -> None:
    document, aside = _hurt(hurt)
    assert any(name.startswith(place) for name in aside) and all(name.startswith(place) for name in aside), aside
    if change is not None:
        assert document == change(DEMO)
    kept, before = raw_of(document), RAW
    assert len(kept["people"]) == len(before["people"]) and len(kept["recipe"]["steps"]) == len(
        before["recipe"]["steps"]
    )
    assert document.wearer == DEMO.wearer
    assert sum(len(p.measures) for p in document.people) >= sum(len(p.measures) for p in DEMO.people) - 1


def test_one_bad_reading_costs_one_reading() -> None:
    document, _ = _hurt(lambda r: _put(r["people"][0]["sets"][1]["readings"], "waist", [752.0, -1.0, 750.0]))
    assert document.person.sets[1].readings["waist"] == (752.0, 750.0)


def test_the_steps_after_the_limit_are_set_aside_and_the_others_stay() -> None:
    def hurt(raw: dict[str, Any]) -> None:
        raw["recipe"]["steps"] = [{"id": f"s{n + 2}", "kind": "flare", "values": {}} for n in range(2000)]
        raw["recipe"]["next_id"] = 5000

    document, aside = _hurt(hurt)
    assert len(document.recipe.steps) == 500 and len(aside["recipe.steps"]) == 1500
    assert document.recipe.steps[-1].id == "s501"


@pytest.mark.parametrize("damage", ["long", "gone", "broken", "not a list", "no name"])
def test_the_wearer_is_never_another(damage: str) -> None:
    def hurt(raw: dict[str, Any]) -> None:
        if damage == "long":
            raw["people"][0]["name"] = raw["wearer"] = "Odile of the Quay " * 30
        elif damage == "gone":
            del raw["people"][0]
        elif damage == "broken":
            raw["people"][0] = 7
        elif damage == "not a list":
            raw["people"] = {}
        else:
            del raw["people"][0]["name"]

    document, aside = _hurt(hurt)
    assert document.wearer.startswith("Odile") and aside
    if damage == "long":
        assert document.person.measures == DEMO.person.measures
    else:
        assert not document.person.measures, "nobody else's measures"


def test_a_damaged_grading_keeps_its_good_rules() -> None:
    good = {"piece": "front", "point": "side/hem", "first": "84", "last": "100", "dx": 5.0, "dy": 1.0}
    raw = copy.deepcopy(RAW)
    raw["grading"] = {"way": "by eye", "table": "men", "sizes": ["84", "92"], "base": "84"}
    raw["grading"]["rules"] = [good, {**good, "dx": 1e9}, "no rule", good]
    document, aside = repaired(raw, "here")
    grading = document.grading
    assert (grading.way, grading.table, grading.sizes, grading.base) == ("redraft", "men", ("84", "92"), "84")
    assert [rule.dx for rule in grading.rules] == [5.0, 0.0, 5.0]
    assert {one.place for one in aside} == {"grading.way", "grading.rules.1.dx", "grading.rules.2"}
    assert {one.words for one in aside} == {"the grading, way", "grade rule 2, dx", "grade rule 3"}


def test_ids_names_and_roles_are_made_good() -> None:
    def hurt(raw: dict[str, Any]) -> None:
        raw["recipe"]["steps"][1]["id"] = raw["recipe"]["steps"][0]["id"]
        raw["recipe"]["next_id"] = 1
        raw["people"][2]["name"] = "Bram"
        raw["cloths"][1]["name"] = "Quay twill"
        raw["roles"]["lining"] = "Nothing such"

    document, aside = _hurt(hurt)
    ids = [s.id for s in document.recipe.steps]
    assert len(set(ids)) == 4 and [s.kind for s in document.recipe.steps] == [s.kind for s in DEMO.recipe.steps]
    assert [p.name for p in document.people] == ["Odile", "Bram", "Bram 2", "Ishbel"] and document.cloths[
        1
    ].name == "Quay twill 2"
    assert document.roles["main"] == "Quay twill" and "lining" not in document.roles and "roles.lining" in aside


def _packed(raw: object, *more: tuple[str, bytes]) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("document.json", raw if isinstance(raw, str) else json.dumps(raw))
        for name, data in more:
            archive.writestr(name, data)
    return buffer.getvalue()


def test_what_was_set_aside_is_kept_once_beside_the_file(tmp_path: Path) -> None:
    raw = copy.deepcopy(RAW)
    raw["people"][0]["sets"][0]["readings"]["hip"] = ["wide"]
    path = tmp_path / "hurt.caddet"
    path.write_bytes(_packed(raw))
    before = path.read_bytes()
    opened = open_project(path)
    assert not opened.whole and "people.0.sets.0.readings.hip" in opened.findings[0].place
    first, again = keep_aside(opened, path), keep_aside(open_project(path), path)
    assert first is not None and first == again and first.stat().st_mode & 0o777 == 0o600
    kept = json.loads(first.read_text())["set_aside"]
    assert kept[0]["value"] == "wide" and path.read_bytes() == before
    path.write_bytes(b"not a project at all")
    Path(f"{path}.previous").write_bytes(to_bytes(DEMO, no_pictures))
    opened = open_project(path)
    damaged = keep_aside(opened, path)
    assert opened.document == DEMO and damaged is not None and damaged.read_bytes() == b"not a project at all"


def test_reading_stores_no_photographs_and_takes_only_pictures_that_are_meant(tmp_path: Path) -> None:
    import hashlib

    good = b"\xff\xd8\xff" + b"a picture" * 20
    name = f"{hashlib.sha256(good).hexdigest()[:32]}.jpg"
    raw = copy.deepcopy(RAW)
    raw["people"][0]["photo"] = name
    other = f"{hashlib.sha256(b'no picture').hexdigest()[:32]}.jpg"
    raw["photographs"] = {"toile": other}
    path = tmp_path / "p.caddet"
    path.write_bytes(
        _packed(
            raw, (f"photographs/{name}", good), (f"photographs/{other}", b"no picture"), ("photographs/spare.jpg", good)
        )
    )
    opened = open_project(path)
    assert opened.pictures == {name: good} and not photo_folder().exists()


def test_bombs_end_at_their_bounds() -> None:
    lists = '{"schema_version": 3, "people": [' + "[]," * 3_000_000 + "[]]}"
    for data in (_packed(lists), _packed('{"a":' * 100_000 + "1" + "}" * 100_000), _packed(" " * 30_000_000)):
        with pytest.raises(InputError):
            read_project(data, "bomb")
    wide = copy.deepcopy(RAW)
    wide["people"] = [{"name": 5, "sets": [{"readings": {"hip": ["x"] * 30}}]} for _ in range(12_000)]
    opened = read_project(_packed(wide), "wide")
    assert opened.document.wearer == "Odile" and len(opened.findings) <= 201


hurtful = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(10**6), 10**6),
    st.floats(-1e9, 1e9),
    st.text(max_size=100),
    st.just([]),
    st.just({}),
    st.lists(st.integers(), max_size=3),
    st.dictionaries(st.text(max_size=5), st.integers(), max_size=3),
)


def _places(value: Any, trail: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    inside = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    return [trail, *(place for key, one in inside for place in _places(one, (*trail, key)))]


PLACES = [place for place in _places(RAW) if place and place[0] != "schema_version"]


@given(st.lists(st.tuples(st.sampled_from(PLACES), hurtful), min_size=1, max_size=6))
def test_any_hurts_give_a_document_that_can_be_saved_and_read(hurts: list[tuple[tuple[Any, ...], Any]]) -> None:
    raw = copy.deepcopy(RAW)
    for place, value in hurts:
        try:
            holder: Any = raw
            for key in place[:-1]:
                holder = holder[key]
            holder[place[-1]] = value
        except (TypeError, KeyError, IndexError):
            continue  # an earlier hurt took that place away
    try:
        document, _ = repaired(raw, "here")
    except InputError:
        return
    again = read_project(to_bytes(document, no_pictures), "again")
    assert (
        again.whole and again.document == document and canonical(raw_of(again.document)) == canonical(raw_of(document))
    )
    wearer = raw.get("wearer")
    assert document.wearer == wearer or not isinstance(wearer, str) or not wearer or len(wearer) > 80
