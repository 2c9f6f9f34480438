"""A step that joins two pieces along a seam: a shoulder into a yoke, a side seam left away."""

from __future__ import annotations

from caddet.core.errors import CaddetError
from caddet.core.pattern.assembly import join_pieces
from caddet.core.pattern.pattern import Pattern
from caddet.core.pattern.seams import Seam
from caddet.core.recipe.context import Context, Result
from caddet.core.recipe.registry import Parameter, Step, Stuck, Values, register_step
from caddet.core.sentences import Sentence, say
from caddet.core.shaping.finding import measurable


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
