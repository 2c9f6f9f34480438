"""Small helps of the Grade station: amounts and corners in words, lists filled."""

from __future__ import annotations

from caddet.core.lengths import Unit
from caddet.desk.widgets.fields import PickOne


def span(values: list[float], unit: Unit) -> str:
    """The least and the most of some amounts, as one where they are alike."""
    if not values:
        return "–"
    low, high = (round(edge, 1) for edge in (min(values), max(values)))
    told_ = [f"{mm / 25.4:+.2f}" if unit == "in" else f"{mm / 10:+.2f}" for mm in (low, high)]
    return told_[0] if told_[0] == told_[1] else f"{told_[0]} … {told_[1]}"


def said(point: str) -> str:
    """A cardinal point as a maker says it: ``side-hem`` is *side, hem*."""
    return point.replace("_", " ").replace("-", ", ").replace(".point", ", point")


def fill(box: PickOne, entries: list[tuple[str, str]], chosen: str) -> None:
    """Fill a list, if it is another now, and choose an entry of it (else the first)."""
    if [(box.itemData(n), box.itemText(n)) for n in range(box.count())] != entries:
        box.blockSignals(True)
        box.clear()
        for key, words in entries:
            box.addItem(words, key)
        box.blockSignals(False)
    index = box.findData(chosen)
    box.setCurrentIndex(max(index, 0) if entries else -1)
