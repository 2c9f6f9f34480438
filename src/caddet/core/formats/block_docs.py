"""The page that lists every block with its measures, options, ease and figures, made from the code itself."""

from __future__ import annotations

from caddet.core import library as library  # registers every block
from caddet.core.body.measures import MEASURES
from caddet.core.lengths import format_length
from caddet.core.recipe.ease import FITS
from caddet.core.recipe.registry import BLOCKS, Block, Parameter
from caddet.core.recipe.suitability import WANTS

HEAD = """# The blocks

Made from the code by `scripts/write-block-docs`; a test fails when it is out of date. A figure sees the measures, the
ease (`ease_LEVEL`), the options (of a choice, `option_key` is 1 or 0) and the figures above it, and `stretch`,
`stretch_along` and `cloth_width` of the chosen cloth. Whatever is called *solved* begins with the formula as a first
guess. Rules are common practice without a published source unless another is named.
"""


def block_page() -> str:
    """The whole page as Markdown."""
    families: dict[str, list[Block]] = {}
    for block in sorted(BLOCKS.values(), key=lambda b: b.name):
        families.setdefault(block.family, []).append(block)
    parts = [HEAD]
    for family in sorted(families):
        parts.append(f"\n## {family}\n")
        parts += [_block(block) for block in families[family]]
    return "".join(parts)


def _value(option: Parameter) -> str:
    if option.kind == "length":
        usual = format_length(float(option.default), with_unit=True)
        return f"{usual}; a new garment begins with `{option.begins}`" if option.begins else usual
    if option.kind == "flag":
        return "yes" if option.default else "no"
    if option.kind == "choice":
        return " / ".join(
            f"**{words.lower()}**" if key == option.default else words.lower() for key, words in option.choices
        )
    if option.notes is not None:
        return "a recipe to begin with ([how it is written](own-pieces.md))"
    return f"{option.default:g}" if isinstance(option.default, int | float) else str(option.default)


def _only(block: Block, option: Parameter) -> str:
    """With what choice an option means anything."""
    if option.only is None:
        return ""
    other = next(o for o in block.options if o.name == option.only[0])
    if other.kind == "flag":
        return f" ({other.label.lower()})"
    return f" ({other.label.lower()}: {', '.join(w.lower() for key, w in other.choices if key in option.only[1])})"


def _cell(text: str) -> str:
    return text.replace("|", "\\|")


def _block(block: Block) -> str:
    lines = [f"\n### `{block.name}`: {block.label}\n", f"{block.about}\n"]
    needs = ", ".join(MEASURES[code].label.lower() for code in block.needs_for({}))
    lines.append(f"Needs: {needs}" + (", as the recipe to begin with says." if block.reads else "."))
    if block.uses:
        lines.append("Can use, for checks: " + ", ".join(MEASURES[code].label.lower() for code in block.uses) + ".")
    if block.fits:
        lines.append("Fits: " + ", ".join(FITS[fit].label.lower() for fit in block.fits) + ".")
    if block.wants:
        lines.append("Wants " + ", ".join(WANTS[want][0] for want in block.wants) + ".")
    if block.schools:
        lines += ["", *(f"- {sentence}" for sentence in block.schools.values())]
    if block.options:
        lines += ["", "| option | | default or choices |", "|---|---|---|"]
        lines += [
            f"| `{option.name}` | {_cell(option.label)}{_only(block, option)} | {_cell(_value(option))} |"
            for option in block.options
        ]
    if block.ease:
        lines += ["", "| ease | all round |", "|---|---|"]
        for level in block.ease:
            share = f"{level.share:+.0%} of the measure" if level.share else ""
            amount = format_length(level.default, with_unit=True) if level.default or not share else ""
            lines.append(f"| `ease_{level.level}` | {' '.join(x for x in (amount, share) if x)} |")
    lines += ["", "| figure | | formula | why |", "|---|---|---|---|"]
    for figure in block.figures_for(block.option_values({})):
        why = figure.reason + (f" ({figure.source})" if figure.source != "common practice" else "")
        lines.append(f"| `{figure.name}` | {_cell(figure.label)} | `{_cell(figure.formula)}` | {_cell(why)} |")
    return "\n".join(lines) + "\n"
