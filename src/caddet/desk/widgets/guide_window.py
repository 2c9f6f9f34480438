"""A guide that ships with Caddet, with its own pictures, in a window beside the work."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QTextDocument
from PyQt6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from caddet.core.files.shipped import data_folder, shipped_text
from caddet.desk.theme import LOOK


def guide_folder() -> Path:
    """Where the guides and their pictures lie."""
    return data_folder() / "guides"


class GuideWindow(QDialog):
    """A guide to read while one works; it does not hold up the window that it belongs to."""

    def __init__(self, parent: QWidget, name: str, title: str) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.setModal(False)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.text = QTextBrowser()
        self.text.setAccessibleName(title)
        self.text.setOpenLinks(False)
        self.text.setSearchPaths([str(guide_folder())])
        document = self.text.document()
        assert document is not None
        document.setBaseUrl(QUrl.fromLocalFile(f"{guide_folder()}/"))
        document.setDocumentMargin(LOOK.px(18))
        words = shipped_text(f"guides/{name}.md")
        document.setMarkdown(words, QTextDocument.MarkdownFeature.MarkdownDialectGitHub)
        column.addWidget(self.text)
        self.resize(LOOK.px(620), LOOK.px(680))
