"""What a block asks of a cloth, and what to say when the chosen one is another. Common practice, no source."""

from __future__ import annotations

from caddet.core.errors import Finding
from caddet.core.recipe.choices import Cloth
from caddet.core.recipe.registry import Block
from caddet.core.sentences import say

# what a block may want: (label, sentence said when the cloth is otherwise)
WANTS: dict[str, tuple[str, str]] = {
    "drape": ("a soft, draping cloth", "in a stiff cloth the fullness stands off instead of falling."),
    "body": ("a cloth with some body", "a very light or soft cloth clings and shows every dart."),
    "stretch": ("a cloth that stretches across", "without stretch it can't be put on, or not moved in."),
    "stretch_both": ("a cloth that stretches both ways", "it has to give along the body as well."),
    "bias": ("a cloth that falls well on the bias", "a stiff or very stretchy cloth makes no folds on the bias."),
    "strong": ("a firm, strong cloth", "a light cloth wears through at the seat and the knees."),
}
LEAST_STRETCH = {"stretch": 0.15, "stretch_both": 0.25}


def suits(want: str, cloth: Cloth) -> bool:
    """Whether a cloth is what is wanted."""
    if want == "drape":
        return cloth.drape != "stiff" and not (cloth.weight == "heavy" and cloth.drape != "soft")
    if want == "body":
        return not (cloth.weight == "light" and cloth.drape == "soft")
    if want == "bias":
        return cloth.drape != "stiff" and cloth.stretch <= 0.4
    if want == "strong":
        return cloth.weight != "light"
    if want == "stretch":
        return cloth.stretch >= LEAST_STRETCH["stretch"]
    return cloth.stretch >= LEAST_STRETCH["stretch_both"] and cloth.stretch_along >= 0.1


def suitability(block: Block, cloth: Cloth) -> list[Finding]:
    """A remark for each thing a block wants and the cloth is not."""
    found = []
    for want in block.wants:
        if not suits(want, cloth):
            label, sentence = WANTS[want]
            words = say(
                "{label} wants {label_2}; {name} is not one: {sentence}",
                label=block.label,
                label_2=label,
                name=cloth.name,
                sentence=sentence,
            )
            found.append(Finding("cloth.suits", words, f"cloth.{want}"))
    if any(want.startswith("stretch") for want in block.wants) and not cloth.recovers:
        words = say(
            "{name} does not go back after stretching: it will hang out at seat, knees and elbows.", name=cloth.name
        )
        found.append(Finding("cloth.recovery", words, "cloth"))
    return found


def plain_cloth(block: Block) -> Cloth:
    """A cloth to begin with that suits a block: woven, or for what has to stretch a knit that does by half."""
    if any(want.startswith("stretch") for want in block.wants):
        return Cloth(name="Knit", width=1500.0, kind="knit", stretch=0.5, stretch_along=0.3, drape="soft")
    return Cloth(name="Cloth", width=1400.0)
