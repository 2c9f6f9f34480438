"""Steps on seams: two pieces joined along one, and how its two sides meet: plain, eased, gathered, pleated, stretched."""

from __future__ import annotations

from dataclasses import replace

from caddet.core.errors import CaddetError
from caddet.core.pattern.assembly import join_pieces
from caddet.core.pattern.finding import measurable
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.promises import Run
from caddet.core.pattern.seams import Join, JoinKind, Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Length, Sentence, say


def _seam(pattern: Pattern, values: Values) -> Seam:
    if not values["seam"]:
        raise Stuck(say("say along which seam"), "seam")
    return pattern.seam(values["seam"][0])


def join(pattern: Pattern, context: Context, values: Values) -> Result:
    """Two pieces made one along a seam, which goes."""
    del context
    seam = _seam(pattern, values)
    joined = join_pieces(pattern, seam, str(values["label"]))
    return Result(measurable(joined))


def _describe(values: Values) -> Sentence:
    seam = values.get("seam")
    return say("joined along the seam {seam}", seam=seam[0].replace("_", " ")) if seam else say("joined along a seam")


def _refuses(pattern: Pattern, chosen: Values) -> str:
    if not chosen.get("seam"):
        return ""
    try:
        join_pieces(pattern, pattern.seam(chosen["seam"][0]))
    except CaddetError as error:
        return str(error)
    return ""


register_step(Step(
    "join_seam", "Join along a seam",
    "Two pieces are laid together at the stitch line and become one; the seam goes. Front and back yoke in one, or a skirt without its side seam, where the two edges are alike.",
    (Parameter("seam", "Seam", "seam", None, why="Its two edges must be alike when laid together."),
     Parameter("label", "Name of the joined piece", "text", "")),
    join, _describe,
    suits={"seam": 3}, symbol=((-5 - 4j, -0.5 - 4j, -0.5 + 4j, -5 + 4j, -5 - 4j), (5 - 4j, 0.5 - 4j, 0.5 + 4j, 5 + 4j, 5 - 4j)),
    asked_as=("leave the seam out", "in one piece", "no side seam", "make one piece of two", "yoke in one"),
    fits=lambda pattern: "" if any(len(s.layers) == 2 and not s.closes() for s in pattern.seams) else "there is no seam between two pieces here",
    refuses=_refuses,
))  # fmt: skip


# --- how the sides of a seam meet -----------------------------------------------------------------

KINDS = (
    ("plain", "Edge to edge"),
    ("eased", "Eased"),
    ("gathered", "Gathered"),
    ("pleated", "Pleated"),
    ("stretched", "Stretched"),
)


def sewn_as(pattern: Pattern, context: Context, values: Values) -> Result:
    """How the longer side of a seam is held in it, by as much as it is longer now."""
    del context
    seam = _seam(pattern, values)
    if len(seam.layers) != 2:
        raise Stuck(say("{label}: only a seam of two layers", label=seam.label), "seam")
    first, second = (pattern.length(layer) for layer in seam.layers)
    kind: JoinKind = values["how"]
    amount = 0.0
    if kind in ("eased", "pleated"):
        amount = second - first
    elif kind in ("gathered", "stretched"):
        amount = second / first
    if kind != "plain" and abs(second - first) < 0.5:
        raise Stuck(say("both sides are {length} long: there is nothing to hold", length=Length(first)), "how")
    return Result(pattern.with_seam(replace(seam, joins=(Join(kind, amount),))), changes=agreeing(pattern, seam))


def agreeing(pattern: Pattern, seam: Seam) -> tuple[str, ...]:
    """The promises that two edges of a seam are equally long: they no longer have to be."""
    names = {part.ref.name for part in seam.parts()}
    return tuple(
        one.name
        for one in pattern.promises
        if one.agrees and {str(run.ref.name) for run in one.of if isinstance(run, Run)} <= names
    )


def _describe_sewn(values: Values) -> Sentence:
    how = dict(KINDS).get(str(values.get("how", "eased")), "Eased").lower()
    seam = values.get("seam")
    return say("the seam {seam} {how}", seam=seam[0].replace("_", " ") if seam else say("to be chosen"), how=how)


register_step(
    Step(
        "sewn_as",
        "How a seam is sewn",
        "One side of the seam is longer than the other on purpose: it is eased in, gathered, pleated or stretched over it. By how much is what the two sides measure at this step.",
        (
            Parameter("seam", "Seam", "seam", None),
            Parameter("how", "Its longer side", "choice", "eased", choices=KINDS),
        ),
        sewn_as,
        _describe_sewn,
        suits={"seam": 5},
        symbol=((-5 - 2j, 5 - 2j), (-5 + 2j, -3 + 4j, -1 + 2j, 1 + 4j, 3 + 2j, 5 + 4j)),
        asked_as=("ease in", "gather the seam", "the sides are not equal", "longer on one side", "stretch in"),
        fits=lambda pattern: "" if pattern.seams else say("there is no seam here"),
    )
)
