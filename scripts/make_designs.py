"""Makes the twelve designs that ship with Caddet: blocks, then steps and parts, as they would be typed for ``caddet add``.

``make_designs.py [NAME…]`` writes ``src/caddet/data/designs/NAME.caddet`` and says what is stuck in any of them.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass, field
from pathlib import Path

from caddet.cli.drafting import recipe_from_words
from caddet.core.demo import demo_document
from caddet.core.formats.project import save_project
from caddet.core.made import EvaluateRequest, Made
from caddet.core.pipeline import make
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.document import MAIN, Document
from caddet.core.recipe.entries import StepEntry
from caddet.core.recipe.registry import STEPS, block_named
from caddet.core.recipe.typed import typed_value

FOLDER = Path(__file__).parent.parent / "src/caddet/data/designs"
WOVEN = Cloth(name="Quay twill", width=1500.0, shrinkage=0.03, price=14.5)
FIRM = Cloth(name="Bell-rope wool", width=1400.0, weight="heavy", drape="middling", shrinkage=0.02, price=32.0)
PILE = Cloth(name="Harbour fleece", width=1500.0, nap=True, weight="heavy", drape="middling", shrinkage=0.0, price=26.0)
SOFT = Cloth(name="Morning lawn", width=1400.0, weight="light", drape="soft", shrinkage=0.03, price=11.0)
JERSEY = Cloth(name="Tower jersey", width=1600.0, kind="knit", stretch=0.5, stretch_along=0.3, drape="soft", price=13.0)
SWIM = Cloth(
    name="Slipway swim knit", width=1500.0, kind="knit", stretch=0.8, stretch_along=0.6, drape="soft", price=19.0
)
LINING = Cloth(name="Gangway lining", width=1400.0, weight="light", drape="soft", price=7.5)
STIFF = Cloth(name="Bridge interfacing", width=900.0, weight="light", shrinkage=0.0, price=4.5)


@dataclass(frozen=True)
class Design:
    """One design: a block with its options, and the steps in order, each as ``KIND NAME=VALUE …``."""

    name: str
    title: str
    about: str
    wearer: str
    block: str
    options: tuple[str, ...]
    steps: tuple[str, ...]
    cloth: Cloth = WOVEN
    more: dict[str, Cloth] = field(default_factory=dict)


DESIGNS = (
    Design(
        "waistcoat", "Waistcoat",
        "Princess seams from the armhole, lined to the edge, welt pockets, a half belt at the back.",
        "Odile", "dress.sheath", ("style=in_one", "length=waist_to_hip + 6cm", "sleeve=no", "ease_bust=9cm"),
        (
            "neckline edges=front.neckline down=17cm out=1cm shape=v",
            "armhole lower=1.5cm cut_in=1cm",
            "princess dart=front.bust_dart to=front.armhole@0.45 first=Side_front second=Front",
            "onto_fold pieces=back",
            "button_stand edges=front.centre_front button=1.8cm overlap=2cm first=2cm last=7cm spacing=7.5cm finish=turned",
            "welt_pocket at=front.side[s4.1]@0.68,-7.5cm welt=2cm width=7cm bag_depth=9cm slope=-5",
            "half_belt pieces=back at=back.hem@0.5,-22cm depth=4cm",
            "lining pieces=front,back hem=sewn pleat=1.5cm",
            "stay edges=front.neckline,front.armhole way=tape",
        ),
        FIRM, {"lining": LINING},
    ),
    Design(
        "ringing-trousers", "Ringing trousers",
        "Tapered from a widened hip, a pleat for the front dart, elastic in the back half, slanted pockets, fly, turn-ups, waist dipped at the front.",
        "Bram", "trousers.tailored", ("waist_with=pleats", "leg=tapered", "ease_hip=10cm", "shorter=3cm"),
        (
            "waist_shape edges=waist front=1.5cm",
            "dart_into dart=back.back_dart all=yes how=gathered",
            "slanted_pocket in=4.5cm curve=0.8cm",
            "fly",
            "casing edges=back.waist how=band elastic=3cm kind=non_roll ratio=0.8",
            "turn_up deep=3.5cm",
            "belt_loops count=5",
        ),
    ),
    Design(
        "harbour-coat", "Harbour coat",
        "Raglan, open front with a facing grown on, hood, a deep inverted pleat and fullness at the back, lining with an ease pleat, patch pockets with flaps; pile cloth cut singly.",
        "Ishbel", "top.raglan", ("opening=open", "body_length=88cm", "neck_wider=3cm", "sleeve=dart", "ease_bust=22cm", "ease_hip=20cm", "ease_upper_arm=15cm"),
        (
            "slash edges=back.hem count=2 opens=start amount=3cm",
            "centre_pleat pieces=back deep=6.4cm stitched=10cm",
            "button_stand edges=front.centre_front button=2.8cm overlap=3.5cm first=5cm last=25cm spacing=11cm",
            "grown_on_facing edges=front.centre_front width=7.6cm",
            "band part=hood edges=front.neckline,sleeve.neckline,back.neckline",
            "patch_pocket at=front.side@0.5,-10.5cm flap=5cm shape=rounded",
            "lining pieces=front,back,sleeve",
            "turn_up edges=sleeve.hem deep=5cm",
        ),
        PILE, {"lining": LINING},
    ),
    Design(
        "wrap-skirt", "Wrap skirt",
        "Three quarters of a circle in a wrap with one curved front edge, bound, ties through a slot, a patch pocket.",
        "Odile", "skirt.circle", ("fraction=0.75", "made=wrap", "length=58cm", "curved_edges=one", "band=4cm"),
        (
            "cut line=skirt.waist@0.333;skirt.hem@0.667 curve=no first=Side_panel second=Panels",
            "cut line=skirt.waist[s2.1]@0.5;skirt.hem[s2.1]@0.37 curve=no first=Front_panel second=Back_panel",
            "binding edges=skirt.front_edge,skirt.hem,skirt.front_edge_left width=1.2cm source=ready",
            "ties edges=waistband.end,waistband.start length=137cm",
            "patch_pocket pieces=skirt[s2.1,s3.1] width=14cm depth=16cm shape=rounded",
        ),
    ),
)  # fmt: skip


def document_of(design: Design, wearer: str = "") -> Document:
    """The project of a design, on the demo's people. Raises :class:`CaddetError` for what can't be read."""
    people = demo_document().people
    recipe = recipe_from_words(block_named(design.block), design.options, "cm")
    for text in design.steps:
        recipe = recipe.with_step(_step(text))
    cloths = {MAIN: design.cloth, "interfacing": STIFF, **design.more}
    return Document(
        title=design.title,
        people=people,
        wearer=wearer or design.wearer,
        cloths=tuple(dict.fromkeys(cloths.values())),
        roles={role: cloth.name for role, cloth in cloths.items()},
        recipe=recipe,
        notes=design.about,
    )


def _step(text: str) -> StepEntry:
    kind, *words = text.split()
    known = {parameter.name: parameter for parameter in STEPS[kind].parameters}
    values = {}
    for word in words:
        name, _, typed = word.partition("=")
        values[name] = typed_value(known[name], typed.replace("_", " ") if known[name].kind == "text" else typed)
    return StepEntry(kind=kind, values=values)


def made(design: Design, wearer: str = "") -> Made:
    """A design evaluated on one of the demo's people."""
    return make(EvaluateRequest(document_of(design, wearer)))


def main(names: list[str]) -> int:
    """Write the designs and tell what does not hold. 0 when all is well."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    wrong = 0
    for design in DESIGNS:
        if names and design.name not in names:
            continue
        document = document_of(design)
        save_project(document, FOLDER / f"{design.name}.caddet")
        for who in [person.name for person in document.people]:
            lines = [line for line in made(design, who).proof if not line.holds]
            wrong += len(lines)
            print(f"{design.name}, {who}: " + ("all holds" if not lines else ""))
            for line in lines:
                print(
                    f"  {line.verdict} {line.kind} {line.name} [{line.label}] {line.value:.1f}/{line.limit:.1f} {line.sentence}"
                )
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
