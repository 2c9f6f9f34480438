"""A step that fits a band, collar, cuff or hood to the edges of a pattern: it follows when they change."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from caddet.core.errors import CaddetError
from caddet.core.figures.language import Quantity
from caddet.core.figures.sums import Given, add_up
from caddet.core.pattern.combine import prefixed
from caddet.core.pattern.ids import Reference, reference
from caddet.core.pattern.pattern import Fit, Pattern
from caddet.core.pattern.piece import Piece
from caddet.core.pattern.seams import Join, Layer, Part, Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.parameters import Hand
from caddet.core.recipe.registry import Block, Parameter, Step, Stuck, Values, block_named, register_step
from caddet.core.recipe.values import as_value
from caddet.core.sentences import Length, Sentence, say
from caddet.core.shaping.finding import chosen_edges, said

PARTS = (("neckband", "Neckband"), ("collar", "Collar"), ("cuff", "Cuff"), ("waistband", "Waistband"), ("hood", "Hood"))
_RUN = {"neckband": "neckline", "collar": "neckline", "cuff": "sleeve", "waistband": "waist", "hood": "neckline"}
_PER_PIECE = ("cuff",)  # one for each piece that is cut, not one for the whole round
_HALF = ("collar", "hood")  # drafted as a half
HEAD = 570.0  # mm, a hood's head when none was measured


def layer_of(pattern: Pattern, refs: tuple[str, ...], part: str) -> Layer:
    """The edges once round: both halves where a piece is on the fold or one of a pair. Raises :class:`Stuck`."""
    found: list[Part] = []
    for piece, key in chosen_edges(pattern, refs):
        named = any(reference(text).name == key for text in refs)
        if piece.made.rpartition(".")[2] in _RUN and not named:
            continue  # a band is not put on a band unless that is named itself
        ref = reference(key)
        marks = next((reference(text).marks for text in refs if reference(text).name == ref.name), frozenset())
        found.append(Part(Reference(ref.name, marks, ref.mirrored)))
        if part not in _PER_PIECE and piece.worn == 2:
            found.append(Part(Reference(ref.name, marks, not ref.mirrored)))
    if not found:
        raise Stuck(say("there is no {refs} here to put it on", refs=said(refs[0])), "edges")
    return tuple(found)


def _drafted(block: Block, options: Mapping[str, Any], head: float) -> Pattern:
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
    return block.apply(Pattern(), Context(sums=sums), values).pattern


def fit_band(pattern: Pattern, context: Context, values: Values) -> Result:
    """Draft the part for the edges as they are now, sew it to them, and let it follow them."""
    part = str(values["part"])
    block = block_named(part)
    layer = layer_of(pattern, values["edges"] or (_RUN[part],), part)
    head = float(values["head"]) or context.measures.get("head", HEAD)
    options: dict[str, Any] = {"depth": float(values["depth"])} if part != "hood" else {}
    if part == "neckband":
        options["ratio"] = float(values["ratio"])
    if part in ("cuff", "waistband"):
        options["overlap"] = float(values["overlap"])
    if part == "collar":
        options["style"] = str(values["style"])
    prefix = f"{context.id}."

    def solved(lengths: tuple[float, ...]) -> Pattern:
        """The band for these lengths of its edges."""
        around = lengths[0] / (len(layer) if part in _PER_PIECE else 1)
        try:
            return prefixed(_drafted(block, {**options, "edge": around}, head), prefix)
        except (CaddetError, ArithmeticError, ValueError) as error:
            raise Stuck(
                say(
                    "no {label} can be drafted for an edge of {around}: {error}",
                    label=block.label.lower(),
                    around=Length(around),
                    error=error,
                ),
                "edges",
            ) from error

    def piece_of(lengths: tuple[float, ...]) -> Piece:
        """Its piece for these lengths."""
        return solved(lengths).pieces[0]

    length = pattern.length(layer)
    drafted = solved((length,))
    piece = replace(drafted.pieces[0], label=block.label)
    run = Reference(f"{prefix}{part}.{_RUN[part]}")
    own: Layer = (Part(run), Part(replace(run, mirrored=True))) if part in _HALF else (Part(run),)
    stretched = part == "neckband" and float(values["ratio"]) < 1
    join = Join("stretched", 1 / float(values["ratio"])) if stretched else Join()
    words = f"{block.label} to the {said(str(layer[0].ref.plain)).removesuffix(', the other side')}"
    sewn = layer[:1] if part in _PER_PIECE else layer
    seam = Seam(f"{prefix}{part}", words, (own, sewn), (join,), corners=True)
    fit = Fit(piece.name, (layer,), (length,), piece, piece_of, piece.label)
    return Result(
        replace(
            pattern,
            pieces=(*pattern.pieces, piece),
            seams=(*pattern.seams, seam, *drafted.seams),
            fits=(*pattern.fits, fit),
        )
    )


def _describe(values: Values) -> Sentence:
    part = dict(PARTS).get(str(values.get("part", "")), "band").lower()
    edges = values.get("edges") or (_RUN.get(str(values.get("part")), "edge"),)
    on = say("{part} on the {edges}", part=part, edges=tuple(said(one) for one in edges))
    if part == "hood":
        return on
    return say("{band}, {depth} deep", band=on, depth=Length(float(values.get("depth", 0.0))))


def _fits(pattern: Pattern) -> str:
    return "" if any(piece.runs() for piece in pattern.pieces) else "there is no edge here to put a band on"


BAND = register_step(
    Step(
        "band", "Fit a band",
        "A neckband, collar, cuff, waistband or hood, drafted to the edge as it is at this point of the recipe; when the edge changes, it is drafted anew.",
        (Parameter("part", "Part", "choice", "neckband", choices=PARTS),
         Parameter("edges", "On the edge", "edges", (), why="A name without a piece means that edge of every piece, all round. None means the usual one: neckline, waist or sleeve."),
         Parameter("depth", "Finished depth", "length", 25.0, 5.0, 250.0, hand=Hand("out", "edges")),
         Parameter("ratio", "Neckband, of the edge", "ratio", 0.85, 0.5, 1.0),
         Parameter("overlap", "Overlap of cuff or waistband", "length", 25.0, 0.0, 300.0),
         Parameter("style", "Collar", "choice", "stand", choices=(("stand", "Stand"), ("straight_stand", "Straight stand"), ("fold_over", "Folds over"), ("flat", "Lies flat"))),
         Parameter("head", "Head girth, for a hood", "length", 0.0, 0.0, 700.0, why="0 takes the wearer's, when it was measured.")),
        fit_band, _describe,
        suits={"edge": 5}, key="B", symbol=((-5 - 2j, 5 - 2j, 5 + 2j, -5 + 2j, -5 - 2j),),
        asked_as=("put a band on", "collar", "cuff", "neckband", "waistband", "hood", "rib"), fits=_fits,
    )
)  # fmt: skip
