"""Makes the twelve designs that ship with Caddet: blocks, then steps and parts, as they would be typed for ``caddet add``.

``make_designs.py [NAME…]`` writes ``src/caddet/data/designs/NAME.caddet`` and says what is stuck in any of them.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass, field
from pathlib import Path

from caddet.cli.drafting import recipe_from_words
from caddet.core.demo import demo_document
from caddet.core.formats.project import no_pictures, save_project
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
WIDE = Cloth(name="Regatta cotton", width=1700.0, drape="middling", shrinkage=0.03, price=15.0)
COTTON = Cloth(name="Morning cotton", width=1400.0, drape="middling", shrinkage=0.04, price=12.0)
JERSEY = Cloth(name="Tower jersey", width=1600.0, kind="knit", stretch=0.5, stretch_along=0.3, drape="soft", price=13.0)
SWIM = Cloth(
    name="Slipway swim knit", width=1500.0, kind="knit", stretch=0.8, stretch_along=0.6, drape="soft", price=19.0
)
LINING = Cloth(name="Gangway lining", width=1400.0, weight="light", drape="soft", price=7.5)
STIFF = Cloth(name="Bridge interfacing", width=900.0, weight="light", shrinkage=0.0, price=4.5)


@dataclass(frozen=True)
class Design:
    """One design: a block with its options (and further ones beside it), and the steps in order, each as ``KIND NAME=VALUE …``."""

    name: str
    title: str
    about: str
    wearer: str
    block: str
    options: tuple[str, ...]
    steps: tuple[str, ...]
    cloth: Cloth = WOVEN
    more: dict[str, Cloth] = field(default_factory=dict)
    sources: tuple[tuple[str, ...], ...] = ()


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
            "stay_edge edges=front.neckline,front.armhole way=tape",
        ),
        FIRM, {"lining": LINING},
    ),
    Design(
        "ringing-trousers", "Ringing trousers",
        "Tapered from a widened hip, two pleats for the front darts, elastic in the back half, slanted pockets, fly, turn-ups, waist dipped at the front.",
        "Bram", "trousers.tailored", ("waist_with=pleats", "pleats=2", "leg=tapered", "ease_hip=10cm", "shorter=3cm"),
        (
            "waist_shape edges=waist front=1.5cm",
            "dart_into dart=back.back_dart all=yes how=gathered",
            "slanted_pocket in=3.8cm curve=0.8cm",
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
            "centre_pleat pieces=back deep=5.2cm stitched=13cm",
            "button_stand edges=front.centre_front button=2.8cm overlap=3.5cm first=5cm last=25cm spacing=11cm",
            "grown_on_facing edges=front.centre_front width=7cm",
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
            "ties edges=waistband.end,waistband.start length=125cm",
            "patch_pocket pieces=skirt[s2.1,s3.1] wide=14cm deep=16cm shape=rounded",
        ),
        WIDE,
    ),
    Design(
        "smock", "Smock",
        "A square yoke with the body gathered below, sleeves opened by seven lines into cuffs with plackets, a stand collar, rows of trim placed while flat.",
        "Odile", "dress.sheath", ("style=a_line", "length=waist_to_hip + 12cm", "sleeve=yes", "sleeve_shape=straight", "ease_bust=12cm", "ease_upper_arm=12cm"),
        (
            "onto_fold pieces=back",
            "neckline edges=neckline down=0.5cm out=0.5cm shape=same",
            "faced_slit edges=front.neckline length=15cm",
            "cut line=front.armhole@0.55;front.centre_front@0.8 level=yes first=Front second=Front_yoke",
            "cut line=back.armhole@0.5;back.centre_back@0.2 level=yes first=Back second=Back_yoke",
            "pivot_dart dart=front.bust_dart to=s5.cut[s5a]@0.5",
            "dart_into dart=front.bust_dart how=gathered",
            "slash edges=s5.cut[s5a] count=3 by=ratio ratio=1.4 opens=all",
            "slash edges=s6.cut[s6a] count=3 by=ratio ratio=1.4 opens=all",
            "slash edges=sleeve.hem count=5 opens=start by=each amount=3.4cm",
            "placket at=sleeve.hem@0.25 length=9cm",
            "band part=cuff edges=sleeve.hem depth=5cm overlap=2.5cm round=wrist+6cm",
            "band part=collar edges=neckline style=stand depth=3.5cm",
            "trim edges=front.hem,back.hem rows=3 first=6cm apart=2.5cm",
        ),
        COTTON,
    ),
    Design(
        "concert-dress", "Concert dress",
        "The bust dart turned to gathers at the neck, a raised neckline with a stand collar, six gores with godets, a flounce higher at one side with a rose, an invisible zip in a seam made for it.",
        "Ishbel", "dress.sheath", ("style=a_line", "length=75cm", "ease_bust=6cm"),
        (
            "neckline edges=neckline down=-1cm",
            "pivot_dart dart=front.bust_dart to=front.neckline@0.5",
            "dart_into dart=front.bust_dart how=gathered",
            "onto_fold pieces=back",
            "gores pieces=front,back count=2 flare=6cm above=40cm",
            "godet edges=s6.1.cut,s6.2.cut width=25cm height=30cm",
            "zip edges=back.centre_back kind=invisible length=40cm make_seam=yes",
            "band part=collar edges=front.neckline,back.neckline style=stand depth=4cm",
            "facing edges=armhole width=4cm",
            "flounce edges=s9.collar.outer depth=9.5cm tail=19cm higher=yes trim_open=4cm trim_quarter=1.5cm",
        ),
        COTTON,
    ),
    Design(
        "pinafore", "Child's pinafore",
        "An A-line split at the waist, growth tucks that can be let out, one facing for neck and armholes, crossed straps, box pleats, no cords.",
        "Wren", "dress.sheath", ("style=a_line", "split=yes", "length=waist_to_knee - 4cm", "ease_bust=8cm"),
        (
            "onto_fold pieces=back,skirt_back",
            "neckline edges=neckline down=4cm out=1.5cm shape=square",
            "pleats edges=skirt_front.waist count=2 deep=2cm kind=box",
            "pleats edges=skirt_back.waist count=2 deep=2cm kind=box",
            "tucks pieces=skirt_front,skirt_back count=3 deep=1.5cm apart=4cm above=6cm",
            "all_in_one_facing",
            "straps from=front.shoulder@0.5 to=back.waist@0.5 crossed=yes width=3cm",
            "stay_edge edges=front.neckline way=stitching",
        ),
    ),
    Design(
        "tunic", "Tunic",
        "Panels with gussets and godets, a border round the neck with a slit, tapered sleeves, a shirred back.",
        "Bram", "tunic.panels", ("sleeve=tapered", "length=85cm", "neck=loose"),
        (
            "take_away pieces=front_facing,back_facing",
            "shirring pieces=back edges=hem ratio=1.3 rows=8 down=42cm all_across=no",
            "faced_slit edges=front.neckline",
            "border edges=neckline width=6.5cm",
        ),
    ),
    Design(
        "practice-tank", "Practice tank",
        "A loose tank for hauling ropes: a yoke across the back that lets air in, wide armholes, bands in zones, a pocket for the tuning fork, slits at the sides.",
        "Odile", "top.knit", ("style=tank", "body_length=nape_to_waist + waist_to_hip + 6cm", "ease_bust=9cm"),
        (
            "take_away pieces=neckband",
            "armhole lower=1.5cm",
            "neckline edges=neckline down=1.5cm out=0cm shape=round",
            "cut line=back.armhole@0.55;back.centre_back@0.78 level=yes first=Back second=Back_yoke",
            "slit edges=front.side height=9cm",
            "patch_pocket pieces=front at=front.side@0.06,-9cm shape=pointed wide=8cm deep=9.5cm",
            "zone_band edges=neckline depth=1.2cm",
            "zone_band edges=armhole depth=1.2cm",
        ),
        JERSEY,
    ),
    Design(
        "jersey-top", "Jersey top",
        "A dolman with tapered cuffs, side seams ruched on one long cord, a hem band and a cowl collar.",
        "Ishbel", "top.dolman", ("top=curved", "body_length=66cm"),
        (
            "ruched_seam edges=front.side ratio=1.6 from=0.25 upto=0.95",
            "band part=cowl_collar edges=neckline ratio=1.1 depth=20cm",
            "band part=hem_band edges=front.hem,back.hem ratio=0.85 depth=5cm",
        ),
        JERSEY,
    ),
    Design(
        "bias-blouse", "Bias blouse",
        "A cowl in front with its facing grown on, a bound back neck, ties, elastic at the sleeve hems.",
        "Odile", "top.cowl", ("drop=17cm", "body_length=62cm", "sleeve=yes", "sleeve_length=three_quarter", "sleeve_shape=straight", "ease_upper_arm=11cm"),
        (
            "binding edges=back.neckline width=1.2cm",
            "casing edges=sleeve.hem elastic=1.2cm ratio=0.7",
            "ties edges=back.neckline length=60cm width=2cm",
        ),
        SOFT,
    ),
    Design(
        "swim-set", "Swim set",
        "A one-piece with bust ease; from the same body a bandeau with a ruched centre and a brief with ties; doubled, elastic along the edges by zones.",
        "Odile", "swimsuit", ("style=one_piece", "bust_shaping=eased"),
        (
            "second_layer pieces=front cloth=lining",
            "edge_elastic edges=front.leg,back.leg",
            "edge_elastic edges=front.armhole,back.armhole",
            "edge_elastic edges=front.neckline,back.neckline",
            "second_layer pieces=b2_front,b2_back cloth=lining",
            "centre_seam pieces=b2_front",
            "separate pieces=b2_front",
            "ruched_seam edges=b2_front.centre_front ratio=1.5 all_across=no from=0 upto=1",
            "edge_elastic edges=b2_front.top,b2_front.top',b2_back.top width=0.9cm",
            "edge_elastic edges=b2_front.under,b2_front.under',b2_back.under width=1.2cm",
            "edge_elastic edges=b3_front.leg,b3_back.leg",
            "edge_elastic edges=b3_front.waist,b3_back.waist",
            "ties edges=b3_front.waist length=45cm width=1cm",
        ),
        SWIM, {"lining": SWIM}, (("swimsuit", "style=bandeau", "bust_shaping=none"), ("swimsuit", "style=brief")),
    ),
)  # fmt: skip


def document_of(design: Design, wearer: str = "") -> Document:
    """The project of a design, on the demo's people. Raises :class:`CaddetError` for what can't be read."""
    people = demo_document().people
    recipe = recipe_from_words(block_named(design.block), design.options, "cm")
    for block, *options in design.sources:
        recipe = recipe.with_source(recipe_from_words(block_named(block), options, "cm").sources[0])
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
        (FOLDER / f"{design.name}.caddet").unlink(missing_ok=True)
        save_project(document, FOLDER / f"{design.name}.caddet", no_pictures)
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
