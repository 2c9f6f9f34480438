"""One door out: the bytes of an export by the ending of its file name."""

from __future__ import annotations

import json
from collections.abc import Callable

from caddet.core.errors import InputError
from caddet.core.formats import listing, svg
from caddet.core.formats.paper import LineChoice
from caddet.core.laying.plan import LayPlan
from caddet.core.made import Made
from caddet.core.recipe.choices import Cloth, LayChoices
from caddet.core.recipe.document import Document
from caddet.core.sentences import Length, say

ENDINGS = (".pdf", ".svg", ".dxf", ".csv", ".json", ".png")


def export_bytes(
    made: Made,
    ending: str,
    *,
    paper: str = "A4",
    lines: LineChoice = "both",
    calibration: float = 1.0,
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> bytes:
    """The pattern in the format of the ending. Raises :class:`InputError` for an unknown ending."""
    title = f"{made.document.title} · {made.document.wearer}"
    # reportlab, ezdxf and Pillow are loaded when they are wanted: the window opens sooner
    match ending.lower():
        case ".pdf":
            from caddet.core.formats import pdf

            return pdf.pdf_pieces(
                made.cut,
                title,
                paper=paper,
                lines=lines,
                calibration=calibration,
                progress=progress,
                cancelled=cancelled,
            )
        case ".svg":
            return svg.svg_pieces(made.cut, title, lines).encode()
        case ".dxf":
            from caddet.core.formats import drawings

            return drawings.dxf_pieces(made.cut, lines).encode()
        case ".png":
            from caddet.core.formats import drawings

            return drawings.png_pieces(made.cut, lines)
        case ".csv":
            return listing.csv_pieces(made).encode()
        case ".json":
            return (json.dumps(listing.pieces_listing(made), ensure_ascii=False, indent=1) + "\n").encode()
        case _:
            raise InputError(
                say(
                    "can't write “{what}”; expected {ENDINGS}.",
                    what=ending or "a file without an ending",
                    ENDINGS=", ".join(ENDINGS),
                ),
                "output",
            )


def lay_words(plan: LayPlan, document: Document, cloth: Cloth, choices: LayChoices) -> list[str]:
    """The lay in words: cloth, fold, what is used, what to buy."""
    fold = "folded lengthwise" if plan.folded else "in a single layer"
    words: list[str] = [
        say(
            "{cloth}, {width} wide, {fold}; for {wearer}",
            cloth=cloth.name,
            width=Length(cloth.width),
            fold=fold,
            wearer=document.wearer,
        ),
        say(
            "{length} used ({utilisation} of it covered); buy {buy}, with {shrinkage} for shrinking and {extra} for mistakes",
            length=Length(plan.length),
            utilisation=f"{plan.utilisation:.0%}",
            buy=Length(plan.buy),
            shrinkage=f"{cloth.shrinkage:.0%}",
            extra=Length(choices.extra),
        ),
    ]
    if plan.cost:
        words.append(say("cost {cost}", cost=f"{plan.cost:.2f}"))
    return words


def lay_bytes(plan: LayPlan, document: Document, cloth: Cloth, choices: LayChoices, ending: str) -> bytes:
    """The lay plan on a cloth as .pdf or .svg."""
    title = f"{document.title} · lay plan, {cloth.name}"
    if ending.lower() == ".pdf":
        from caddet.core.formats import pdf

        return pdf.pdf_lay(plan, title, lay_words(plan, document, cloth, choices))
    return svg.svg_lay(plan, title).encode()
