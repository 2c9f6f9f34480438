"""A step that fits a band, collar, cuff or hood to the edges of a pattern: it follows when they change."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.figures.language import Quantity
from caddet.core.figures.sums import Given, add_up
from caddet.core.parts.adding import finish_runs
from caddet.core.parts.rounds import one_round
from caddet.core.pattern.combine import prefixed
from caddet.core.pattern.finding import chosen_edges, on_free_edges, said
from caddet.core.pattern.ids import Reference, reference
from caddet.core.pattern.pattern import Fit, Pattern
from caddet.core.pattern.piece import Cut, Piece
from caddet.core.pattern.roles import BANDS
from caddet.core.pattern.seams import Join, Layer, Part, Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Block, Parameter, Step, Stuck, Values, block_named, register_step, through_edges
from caddet.core.recipe.values import as_value
from caddet.core.sentences import Length, Sentence, say

PARTS = (
    ("neckband", "Neckband"),
    ("turtleneck", "Turtleneck"),
    ("cowl_collar", "Cowl collar"),
    ("hem_band", "Hem band"),
    ("collar", "Collar"),
    ("cuff", "Cuff"),
    ("waistband", "Waistband"),
    ("hood", "Hood"),
)
_BLOCK = {"turtleneck": "neckband", "cowl_collar": "neckband", "hem_band": "neckband"}  # drafted as
_RUN = {
    "neckband": "neckline",
    "collar": "neckline",
    "cuff": "sleeve",
    "waistband": "waist",
    "hood": "neckline",
}  # its own edge
_USUAL = {**_RUN, "turtleneck": "neckline", "cowl_collar": "neckline", "hem_band": "hem", "cuff": "hem"}
_OF_THE_BODY = ("waist", "high_hip", "waist_to_high_hip")  # what a shaped waistband is drafted with
# what is asked of the body for what passes through it
_PASSING = {**dict.fromkeys(("neckband", "turtleneck", "cowl_collar", "collar", "hood"), ("head",)), "cuff": ("hand", "wrist"), "waistband": ("hip",)}  # fmt: skip
_PER_PIECE = ("cuff",)  # one for each piece that is cut, not one for the whole round
_HALF = ("collar", "hood")  # drafted as a half
# of the edge; rib lies flat when it is stretched in, a cowl falls in folds. From memory of common practice.
RATIOS = {"neckband": 0.85, "turtleneck": 0.9, "cowl_collar": 1.0, "hem_band": 0.85}
SHORTEST = 0.5
HEAD = 570.0  # mm, a hood's head when none was measured


def layer_of(pattern: Pattern, refs: tuple[str, ...], part: str) -> Layer:
    """The edges once round: both halves where a piece is on the fold or one of a pair. Raises :class:`Stuck`."""
    found: list[Part] = []
    for piece, key in chosen_edges(pattern, refs):
        named = any(reference(text).name == key for text in refs)
        if piece.role in BANDS and not named:
            continue  # a band is not put on a band unless that is named itself
        ref = reference(key)
        marks = next((reference(text).marks for text in refs if reference(text).name == ref.name), frozenset())
        found.append(Part(Reference(ref.name, marks, ref.mirrored)))
        if part not in _PER_PIECE and piece.worn == 2:
            found.append(Part(Reference(ref.name, marks, not ref.mirrored)))
    if not found:
        raise Stuck(say("there is no {refs} here to put it on", refs=said(refs[0])), "edges")
    return tuple(found)


def _drafted(block: Block, options: Mapping[str, Any], body: Mapping[str, float]) -> Pattern:
    """The band's block with the edge's length given; of the body only what is told here."""
    values = block.option_values({name: as_value(value) for name, value in options.items()})
    givens = [Given(code, code, Quantity(body.get(code, 0.0), 1)) for code in block.needs]
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
    sums, _ = add_up(block.figures, givens, {})
    return block.apply(Pattern(), Context(sums=sums), values).pattern


def fit_band(pattern: Pattern, context: Context, values: Values) -> Result:
    """Draft the part for the edges as they are now, sew it to them, and let it follow them."""
    part = str(values["part"])
    drafted_as = _BLOCK.get(part, part)
    block = block_named(drafted_as)
    refs = _edges(pattern, values)
    around = one_round(pattern, refs) if part == "hem_band" else None
    layer = around.layer if around is not None else layer_of(pattern, refs, part)
    body = {"head": float(values["head"]) or context.measures.get("head", HEAD)}
    options: dict[str, Any] = {"depth": float(values["depth"])} if part != "hood" else {}
    ratio = (float(values["ratio"]) or RATIOS[part]) if drafted_as == "neckband" else 1.0
    if ratio < SHORTEST:
        raise Stuck(
            say(
                "a band of {ratio} of its edge would not reach round it; {least} is the least",
                ratio=f"{ratio:g}",
                least=f"{SHORTEST:g}",
            ),
            "ratio",
        )
    if drafted_as == "neckband":
        options["ratio"] = 1.0
    if part in ("cuff", "waistband"):
        options["overlap"] = float(values["overlap"])
    if part == "waistband" and values["shape"] == "curved":
        options["shape"] = "curved"
        body |= {code: context.measures.get(code, 0.0) for code in _OF_THE_BODY}
    if part == "collar":
        options["style"] = str(values["style"])
    round_ = float(values["round"])
    prefix = f"{context.id}."

    run = Reference(f"{prefix}{drafted_as}.{_RUN[drafted_as]}")

    def solved(lengths: tuple[float, ...]) -> Pattern:
        """The band for these lengths of its edges."""
        edge = round_ or lengths[0] * ratio / (len(layer) if part in _PER_PIECE else 1)
        try:
            return prefixed(_drafted(block, {**options, "edge": edge}, body), prefix)
        except (CaddetError, ArithmeticError, ValueError) as error:
            raise Stuck(
                say(
                    "no {label} can be drafted for an edge of {around}: {error}",
                    label=block.label.lower(),
                    around=Length(edge),
                    error=error,
                ),
                "edges",
            ) from error

    def piece_of(lengths: tuple[float, ...]) -> Piece:
        """Its piece for these lengths, in a seam all along."""
        made = solved(lengths).pieces[0]
        edges = [replace(e, finish="", why="") if e.name == str(run) else e for e in made.edges]
        count = around.count if around is not None else 1
        return replace(made.with_edges(edges), cuts=tuple(Cut(one.cloth, one.count * count) for one in made.cuts))

    length = pattern.length(layer)
    drafted = solved((length,))
    label = dict(PARTS)[part]
    piece = replace(piece_of((length,)), label=label)
    own: Layer = (Part(run), Part(replace(run, mirrored=True))) if part in _HALF else (Part(run),)
    words = f"{label} to the {said(str(layer[0].ref.plain)).removesuffix(', the other side')}"
    sewn = layer[:1] if part in _PER_PIECE else layer
    layers, join = ((own, sewn), Join("stretched", 1 / ratio)) if ratio < 1 else ((sewn, own), Join("gathered", ratio))
    if round_:
        layers, join = (own, sewn), _taken_in(pattern.length(sewn), round_)
    elif abs(ratio - 1) < 1e-9:
        layers, join = (own, sewn), Join()
    seam = Seam(f"{prefix}{part}", words, layers, (join,), corners=True)
    pattern = finish_runs(
        pattern, {key for key in {one.ref.key for one in sewn} if part in _BLOCK or _open(pattern, key)}
    )
    fit = Fit(piece.name, (layer,), (length,), piece, piece_of, piece.label)
    return Result(
        replace(
            pattern,
            pieces=(*pattern.pieces, piece),
            seams=(*pattern.seams, seam, *drafted.seams),
            fits=(*pattern.fits, fit),
        )
    )


def _open(pattern: Pattern, key: str) -> bool:
    """Whether a run was to be finished otherwise; a hem with a cuff on it stays where a hem is looked for."""
    edges = [pattern.pieces[p].edges[e] for p, e in pattern.edges(reference(key))]
    return bool(edges) and edges[0].finish in ("facing", "turned", "binding")


def _taken_in(edge: float, band: float) -> Join:
    """How an edge goes onto a band of another length: gathered when it is longer. Raises :class:`Stuck` when it is shorter."""
    if edge < band - 3.0:
        raise Stuck(
            say("the band is longer than its edge ({edge}); the edge can't be gathered onto it", edge=Length(edge)),
            "round",
        )
    return Join("gathered", edge / band) if edge > band + 3.0 else Join()


def _edges(pattern: Pattern, values: Values) -> tuple[str, ...]:
    """The chosen edges, or else the usual ones: of a cuff the ends of the sleeves, where there are any."""
    part = str(values["part"])
    sleeves = {key: None for p in pattern.pieces if p.role == "sleeve" for key in p.runs_of("hem", "cuff")}
    return values["edges"] or (tuple(sleeves) if part == "cuff" and sleeves else (_USUAL[part],))


def _reads(values: Values) -> tuple[str, ...]:
    part = str(values["part"])
    curved = part == "waistband" and values["shape"] == "curved"
    return (*_PASSING.get(part, ()), *(_OF_THE_BODY if curved else ()))


def _describe(values: Values) -> Sentence:
    part = dict(PARTS).get(str(values.get("part", "")), "band").lower()
    edges = values.get("edges") or (_USUAL.get(str(values.get("part")), "edge"),)
    on = say("{part} on the {edges}", part=part, edges=tuple(said(one) for one in edges))
    if part == "hood":
        return on
    return say("{band}, {depth} deep", band=on, depth=Length(float(values.get("depth", 0.0))))


def _fits(pattern: Pattern) -> str:
    return "" if any(piece.runs() for piece in pattern.pieces) else "there is no edge here to put a band on"


BAND = register_step(
    Step(
        "band", "Fit a band",
        "A neckband, turtleneck, cowl or other collar, cuff, hem band, waistband or hood, drafted to the edge as it is at this point of the recipe; when the edge changes, it is drafted anew.",
        (Parameter("part", "Part", "choice", "neckband", choices=PARTS),
         Parameter("edges", "On the edge", "edges", (), why="A name without a piece means that edge of every piece, all round. None means the usual one: neckline, waist or hem."),
         Parameter("depth", "Finished depth", "length", 25.0, 5.0, 250.0, hand=Hand("out", "edges")),
         Parameter("ratio", "Of the edge", "ratio", 0.0, 0.0, 2.0, only=("part", ("neckband", "turtleneck", "cowl_collar", "hem_band")), why="0 is as usual: a neckband or hem band 0.85, a turtleneck 0.9, a cowl collar 1. Rib about 0.8."),
         Parameter("overlap", "Overlap of cuff or waistband", "length", 25.0, 0.0, 300.0, only=("part", ("cuff", "waistband"))),
         Parameter("round", "Finished length", "length", 0.0, 0.0, 2500.0, why="0 makes it as long as its edge. Shorter, the edge is gathered onto it: a cuff is wrist + 5cm."),
         Parameter("shape", "Waistband", "choice", "straight", choices=(("straight", "Straight, folded over"), ("curved", "Shaped to the body, with a facing")), only=("part", ("waistband",))),
         Parameter("style", "Collar", "choice", "stand", choices=(("stand", "Stand"), ("straight_stand", "Straight stand"), ("fold_over", "Folds over"), ("flat", "Lies flat")), only=("part", ("collar",))),
         Parameter("head", "Head girth, for a hood", "length", 0.0, 0.0, 700.0, why="0 takes the wearer's, when it was measured.", only=("part", ("hood",)))),
        fit_band, _describe, reads=_reads,
        passes=lambda pattern, values: through_edges(pattern, _edges(pattern, values)),
        suits={"edge": 5}, key="B", symbol=((-5 - 2j, 5 - 2j, 5 + 2j, -5 + 2j, -5 - 2j),),
        asked_as=("put a band on", "collar", "cuff", "neckband", "waistband", "hood", "rib", "turtleneck", "roll neck", "hem band", "cowl"), refuses=on_free_edges, fits=_fits,
    )
)  # fmt: skip
