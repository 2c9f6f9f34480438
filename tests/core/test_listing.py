"""The JSON of the command line has the shape the page promises, checked by a strict schema."""

from __future__ import annotations

import json

import pytest
from pydantic import BaseModel, ConfigDict

from caddet.core.demo import demo_document
from caddet.core.formats.listing import blocks_listing, lay_listing, lays_listing, pieces_listing, proof_listing
from caddet.core.laying.plan import plan_lay
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pipeline import make
from caddet.core.recipe import edits


class Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)


class EdgeShape(Strict):
    name: str
    label: str
    length: float
    role: str
    finish: str
    parts: int
    allowance: float
    points: list[list[float]]


class DartShape(Strict):
    name: str
    label: str
    pressed: str
    apex: list[float]
    legs: list[list[float]]
    intake: float
    length: float


class NotchShape(Strict):
    edge: str
    at: float
    u: float
    double: bool
    name: str


class FeatureShape(Strict):
    kind: str
    name: str
    label: str
    lines: list[list[list[float]]]


class LevelShape(Strict):
    name: str
    label: str
    length: float
    points: list[list[float]]
    lines: list[list[list[float]]]


class CutShape(Strict):
    cloth: str
    count: int
    how: str


class PieceShape(Strict):
    name: str
    label: str
    outline: list[list[float]]
    cut_outline: list[list[float]]
    edges: list[EdgeShape]
    darts: list[DartShape]
    notches: list[NotchShape]
    features: list[FeatureShape]
    levels: list[LevelShape]
    grain: dict[str, object]
    on_fold: bool
    cut: int
    pair: bool
    cuts: list[CutShape]


class SeamShape(Strict):
    name: str
    letter: str
    label: str
    kind: str
    a: list[str]
    b: list[str]
    a_of: list[list[float]]
    b_of: list[list[float]]
    length_a: float
    length_b: float
    tolerance: float
    one_sided: bool
    holds: bool


class FigureShape(Strict):
    name: str
    label: str
    value: float
    sum: str
    formula: str
    override: bool
    estimates: list[str]


class NotionShape(Strict):
    name: str
    kind: str
    label: str
    count: int
    length: float
    size: float
    packs: int
    sum: str
    wrong: str


class Pieces(Strict):
    pieces: list[PieceShape]
    seams: list[SeamShape]
    figures: list[FigureShape]
    notions: list[NotionShape]


class ProofShape(Strict):
    name: str
    kind: str
    label: str
    value: float
    limit: float
    holds: bool
    accepted: bool
    reason: str
    verdict: str
    place: str
    sentence: str
    measures: str
    remedies: list[str]


class PlacedShape(Strict):
    piece: str
    outline: list[list[float]]
    rotation: float
    mirrored: bool
    on_fold: bool


class LayShape(Strict):
    length: float
    width: float
    folded: bool
    utilisation: float
    buy: float
    cost: float
    placed: list[PlacedShape]


def documents() -> list[Made]:
    demo = demo_document()
    broken = edits.set_measure(demo, "waist_to_hip", 20.0)
    return [
        make(EvaluateRequest(d))
        for d in (demo, edits.choose_wearer(demo, "Wren"), edits.set_option(demo, "length", 950.0), broken)
    ]


@pytest.mark.parametrize("made", documents())
def test_listings_fit_their_schema_and_are_json(made: Made) -> None:
    pieces = json.loads(json.dumps(pieces_listing(made)))
    assert len(Pieces.model_validate(pieces).pieces) == len(made.pattern.pieces if made.pattern else ())
    proof = [ProofShape.model_validate(line) for line in json.loads(json.dumps(proof_listing(made)))["proof"]]
    assert len(proof) == len(made.proof)


def test_darts_and_edges_in_the_listing_add_up() -> None:
    made = make(EvaluateRequest(demo_document()))
    for piece in pieces_listing(made)["pieces"]:
        for dart in piece["darts"]:
            a, b = (complex(*leg) for leg in dart["legs"])
            apex = complex(*dart["apex"])
            assert dart["intake"] == pytest.approx(abs(a - b)) and abs(a - apex) == pytest.approx(abs(b - apex))
        waist = sum(e["length"] for e in piece["edges"] if e["name"] == f"{piece['name']}.waist")
        assert waist == pytest.approx(made.pattern.piece(piece["name"]).run_length("waist"))  # type: ignore[union-attr]


def test_a_dart_has_the_intake_its_figure_says() -> None:
    """The figure is a promise: within a millimetre of what is measured between the legs."""
    made = make(EvaluateRequest(demo_document()))
    for side in ("front", "back"):
        piece = next(p for p in pieces_listing(made)["pieces"] if p["name"] == side)
        for dart in piece["darts"]:
            assert dart["intake"] == pytest.approx(made.sums[f"{side}_dart"].value, abs=1.0)


def test_the_lay_in_json(tmp_path: object) -> None:
    demo = demo_document()
    made = make(EvaluateRequest(demo))
    for fold in ("open", "folded"):
        plan = plan_lay(made.cut, demo.chosen_cloth, demo.lay.model_copy(update={"fold": fold}), seconds=0.2)
        lay = LayShape.model_validate(json.loads(json.dumps(lay_listing(plan))))
        assert lay.folded == (fold == "folded") and 0 < lay.utilisation < 1
        assert lay.width == (750.0 if lay.folded else 1500.0)
        assert all(0 <= x <= lay.length + 1e-6 and 0 <= y <= lay.width + 1e-6 for p in lay.placed for x, y in p.outline)
        assert lay.buy >= lay.length and lay.cost == pytest.approx(lay.buy / 1000 * 14.5)
    lays = lays_listing([("main", demo.chosen_cloth, plan), ("interfacing", demo.cloth_for("interfacing"), "too wide")])
    assert [one["cloth"] for one in lays["lays"]] == ["main", "interfacing"] and lays["length"] == plan.length
    assert lays["lays"][1]["refused"] == "too wide" and lays["lays"][1]["cloth_name"] == "Bridge interfacing"


def test_blocks_listing_names_limits_and_choices() -> None:
    (skirt,) = [b for b in blocks_listing() if b["name"] == "skirt.straight"]
    options = {o["name"]: o for o in skirt["options"]}
    assert (
        options["school"]["choices"] == ["quarters", "seat"]
        and options["length"]["low"] < options["length"]["default"] < options["length"]["high"]
    )
    assert {"waist", "hip"} == {e["level"] for e in skirt["ease"]}
    json.dumps(blocks_listing())
