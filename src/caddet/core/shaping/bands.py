"""A step that fits a band, collar, cuff or hood to the edges of a pattern: it follows when they change."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from caddet.core.errors import CaddetError
from caddet.core.figures.language import Quantity
from caddet.core.figures.sums import Given, add_up
from caddet.core.lengths import Unit, format_length
from caddet.core.pattern.combine import free_letter
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.seams import EdgeRef, Seam, SeamKind
from caddet.core.recipe.registry import Block, Parameter, Step, Stuck, Values, block_named, register_step
from caddet.core.recipe.values import Plain, as_value

PARTS = (("neckband", "Neckband"), ("collar", "Collar"), ("cuff", "Cuff"), ("waistband", "Waistband"), ("hood", "Hood"))
_RUN = {"neckband": "neckline", "collar": "neckline", "cuff": "sleeve", "waistband": "waist", "hood": "neckline"}
_PER_PIECE = ("cuff",)  # one for each piece that is cut, not one for the whole round
_HALF = ("collar", "hood")  # drafted as a half


def edges_of(pattern: Pattern, piece: str, run: str, part: str) -> tuple[EdgeRef, ...]:
    """The edges of that name once round: of one piece or of all; both halves where a piece is on the fold or a pair."""
    found: list[EdgeRef] = []
    for one in pattern.pieces:
        if piece not in ("all", one.name) or run not in one.runs() or one.name in _RUN:
            continue
        found.append(EdgeRef(one.name, run))
        if part not in _PER_PIECE and (one.fold or one.pair):
            found.append(EdgeRef(one.name, run, mirrored=True))
    if not found:
        where = "no piece has" if piece == "all" else f"“{piece}” has no"
        raise Stuck(f"{where} edge “{run}” any more", "run")
    return tuple(found)


def _drafted(block: Block, options: Mapping[str, Plain], head: float) -> Pattern:
    """The band's block with the edge's length given; what it would measure on a body is not asked for."""
    values = block.option_values({name: as_value(value) for name, value in options.items()})
    givens = [Given(code, code, Quantity(head if code == "head" else 0.0, 1)) for code in block.needs]
    givens += [Given(f"ease_{level.level}", "ease", Quantity(0.0, 1)) for level in block.ease]
    givens += [
        Given("stretch", "stretch", Quantity(0.3, 0)),
        Given("stretch_along", "stretch", Quantity(0.0, 0)),
        Given("cloth_width", "cloth", Quantity(1500.0, 1)),
    ]
    for option in block.options:
        chosen = values[option.name]
        if option.kind == "choice":
            givens += [
                Given(f"{option.name}_{key}", key, Quantity(float(chosen == key), 0)) for key, _ in option.choices
            ]
        else:
            givens.append(
                Given(option.name, option.label, Quantity(float(chosen), 1 if option.kind == "length" else 0))
            )
    # how a curved band widens would have to be measured on the body; on an edge it is straight
    figures = tuple(replace(f, formula="seam_length") if f.name == "lower_length" else f for f in block.figures)
    sums, _ = add_up(figures, givens, {})
    return block.draft(sums, values)


def fit_band(pattern: Pattern, values: Values) -> Pattern:
    """Draft the part for the edges as they are now, and sew it to them."""
    part, run = str(values["part"]), str(values["run"])
    refs = edges_of(pattern, str(values["piece"]), run, part)
    around = sum(pattern.piece(ref.piece).run_length(run) for ref in refs)
    per = around / len(refs) if part in _PER_PIECE else around
    name, number = part, 2
    while pattern.has(name):
        name, number = f"{part}_{number}", number + 1
    options: dict[str, Plain] = {"edge": per}
    depth = float(values["depth"])
    if part != "hood":
        options["depth"] = depth
    if part == "neckband":
        options["ratio"] = float(values["ratio"])
    if part in ("cuff", "waistband"):
        options["overlap"] = float(values["overlap"])
    if part == "collar":
        options["style"] = str(values["style"])
    block = block_named(part)
    try:
        drafted = _drafted(block, options, float(values["head"]))
    except (CaddetError, ArithmeticError, ValueError) as error:
        raise Stuck(
            f"no {block.label.lower()} can be drafted for an edge of {per / 10:.1f} cm: {error}", "run"
        ) from error
    piece = replace(drafted.pieces[0], name=name)
    band_run = _RUN[part]
    own: tuple[EdgeRef, ...] = (EdgeRef(name, band_run),)
    if part in _HALF:
        own = (EdgeRef(name, band_run), EdgeRef(name, band_run, mirrored=True))
    kind: SeamKind = "plain"
    amount = 0.0
    if part == "neckband" and values["ratio"] < 1:
        kind, amount = "stretched", 1 / float(values["ratio"])
    letter = free_letter({one.name for one in pattern.seams})
    sewn = refs[:1] if part in _PER_PIECE else refs
    seam = Seam(letter, f"{block.label} to the {run.replace('_', ' ')}", own, sewn, kind, amount, corners=True)
    return replace(pattern, pieces=(*pattern.pieces, piece), seams=(*pattern.seams, seam))


def _describe(values: Values, unit: Unit) -> str:
    part = dict(PARTS).get(str(values.get("part", "")), "band").lower()
    depth = "" if part == "hood" else f", {format_length(float(values.get('depth', 0.0)), unit, with_unit=True)} deep"
    return f"{part} on the {str(values.get('run', '')).replace('_', ' ')}{depth}"


BAND = register_step(
    Step(
        "band", "Fit a band",
        "A neckband, collar, cuff, waistband or hood, drafted to the edge as it is at this point of the recipe; when the edge changes, it is drafted anew.",
        (Parameter("part", "Part", "choice", "neckband", choices=PARTS),
         Parameter("piece", "Of the piece", "piece", "all"),
         Parameter("run", "Edge", "run", "neckline"),
         Parameter("depth", "Finished depth", "length", 25.0, 5.0, 250.0),
         Parameter("ratio", "Neckband, of the edge", "number", 0.85, 0.5, 1.0),
         Parameter("overlap", "Overlap of cuff or waistband", "length", 25.0, 0.0, 300.0),
         Parameter("style", "Collar", "choice", "stand", choices=(("stand", "Stand"), ("straight_stand", "Straight stand"), ("fold_over", "Folds over"), ("flat", "Lies flat"))),
         Parameter("head", "Head girth, for a hood", "length", 570.0, 400.0, 700.0)),
        fit_band, _describe,
    )
)  # fmt: skip
