"""A document written out part by part is what pydantic and json write of the whole."""

from __future__ import annotations

import random

from caddet.core.demo import demo_document
from caddet.core.formats.strict_json import canonical
from caddet.core.formats.written import Written, raw_of
from caddet.core.recipe import edits
from tests.soak.editing import ODD_STEP, edited


def test_what_is_written_is_what_the_whole_document_gives() -> None:
    chance = random.Random(4)
    document = edits.add_step(demo_document(), ODD_STEP)
    written = Written.of(document)
    for _ in range(120):
        assert written.raw == raw_of(document) and written.text == canonical(raw_of(document))
        document = edited(document, chance)
        written = Written.of(document, written)
        assert written.token == Written.of(document).token


def test_what_did_not_change_is_not_made_again() -> None:
    document = demo_document()
    before = Written.of(document)
    after = Written.of(edits.set_measure(document, "hip", 1000.0), before)
    assert after.raw["recipe"] is before.raw["recipe"] and after.raw["people"][1] is before.raw["people"][1]
    assert after.raw["people"][0] is not before.raw["people"][0]
