"""Which of a garment's blocks is shown, where it is made from more than one."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from caddet.core.recipe.document import BlockSource
from caddet.core.recipe.registry import block_named
from caddet.desk.widgets.fields import button, label, narrow_combo


class BlockSwitch(QWidget):
    """The garment's blocks in a list, and a way to take one out that stands beside the main one."""

    def __init__(self, turn_to: Callable[[str], object], take_out: Callable[[], object]) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 6)
        column.setSpacing(4)
        column.addWidget(label("Made from several blocks; shown is", "caption"))
        self.combo = narrow_combo()
        self.combo.setAccessibleName("Block that is shown")
        self.combo.activated.connect(lambda at: turn_to(str(self.combo.itemData(at))))
        column.addWidget(self.combo)
        self.out = button("Take this block out", take_out, "link")
        column.addWidget(self.out)
        self._shown: object = None

    def show_blocks(self, blocks: Sequence[BlockSource], source: str) -> None:
        """List the blocks and show which is turned to (by its id, empty for the main one)."""
        self.setVisible(len(blocks) > 1)
        self.out.setVisible(bool(source))
        keys = ["" if number == 0 else block.id for number, block in enumerate(blocks)]
        words = [_words(block, number) for number, block in enumerate(blocks, 1)]
        if (keys, words) != self._shown:
            self._shown = keys, words
            self.combo.clear()
            for key, text in zip(keys, words, strict=True):
                self.combo.addItem(text, key)
        self.combo.setCurrentIndex(keys.index(source) if source in keys else 0)


def _words(block: BlockSource, number: int) -> str:
    """A block's label with its first choice, and where it stands: two of one kind are told apart."""
    kind = block_named(block.block)
    shown = kind.shown_options(block.options)
    chosen = next((option for option in kind.options if option.kind == "choice" and option.name in block.options), None)
    style = f", {dict(chosen.choices)[str(shown[chosen.name])].lower()}" if chosen is not None else ""
    return f"{number}  {kind.label}{style}"


__all__ = ["BlockSwitch"]
