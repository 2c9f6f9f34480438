"""The look: colours named after dyes, two tables (day and evening), type, and the style sheet.

Every colour, font and size of the desk comes from here.
"""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette

from caddet.core.files.shipped import data_folder, shipped_bytes, shipped_files

DAY = {
    "paper": "#FDFCF9", "table": "#DFE5E2", "grid": "#D2DAD6", "grid_five": "#BFCAC4", "ink": "#1C2930",
    "iron": "#55636A", "woad": "#1D5C86", "madder": "#B23A2E", "weld": "#8A5F00", "verdigris": "#22694A",
    "rail": "#20303A", "rail_text": "#D6DEE1", "rail_faint": "#93A3AB", "tape": "#F3E9C9", "tape_ink": "#5B4E22",
    "woad_tint": "#E2EDF4", "weld_tint": "#FBF1DA", "verdigris_tint": "#E1F1E9", "madder_tint": "#F9E4E1",
    "white": "#FFFFFF", "rule": "#DDE2E0", "on_woad": "#FFFFFF", "cloth": "#E9E2D3",
}  # fmt: skip
EVENING = {
    "paper": "#2C3940", "table": "#182126", "grid": "#202B31", "grid_five": "#2B3940", "ink": "#EDF0EE",
    "iron": "#A9B6BB", "woad": "#7DB8DE", "madder": "#F08A7E", "weld": "#E3B24F", "verdigris": "#73C79D",
    "rail": "#11181C", "rail_text": "#D6DEE1", "rail_faint": "#8C9BA2", "tape": "#3B3726", "tape_ink": "#E0D3A4",
    "woad_tint": "#22394A", "weld_tint": "#3D3420", "verdigris_tint": "#1F3A2F", "madder_tint": "#44282A",
    "white": "#202B31", "rule": "#37464E", "on_woad": "#10202B", "cloth": "#3A3629",
}  # fmt: skip

TEXT = "IBM Plex Sans"
FIGURES = "IBM Plex Sans Condensed"


class Look(QObject):
    """The chosen theme; emits ``changed`` when it is switched."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.evening = False
        self.scale = 1.0

    def switch(self, evening: bool) -> None:
        """Change between day and evening."""
        if evening != self.evening:
            self.evening = evening
            self.changed.emit()

    def set_scale(self, scale: float) -> None:
        """Text size as a share of the usual (1 to 1.5)."""
        scale = min(max(scale, 1.0), 1.5)
        if scale != self.scale:
            self.scale = scale
            self.changed.emit()

    def color(self, name: str) -> QColor:
        """A colour of the look by its name."""
        return QColor((EVENING if self.evening else DAY)[name])

    def name(self, name: str) -> str:
        """A colour of the look as ``#rrggbb``, for style sheets."""
        return (EVENING if self.evening else DAY)[name]

    def px(self, size: float) -> int:
        """Pixels at the chosen size of the text."""
        return round(size * self.scale)

    def font(self, size: float, weight: QFont.Weight = QFont.Weight.Normal, family: str = TEXT) -> QFont:
        """A font of that pixel size (times the text scale)."""
        font = QFont(family)
        font.setPixelSize(max(11, self.px(size)))
        font.setWeight(weight)
        return font

    def figure_font(self, size: float = 22.0) -> QFont:
        """The font of figures, at a size in pixels."""
        return self.font(size, QFont.Weight.DemiBold, FIGURES)

    def palette(self) -> QPalette:
        """The colours for Qt's own widgets."""
        palette = QPalette()
        roles = {
            QPalette.ColorRole.Window: "white",
            QPalette.ColorRole.Base: "white",
            QPalette.ColorRole.Text: "ink",
            QPalette.ColorRole.WindowText: "ink",
            QPalette.ColorRole.Button: "white",
            QPalette.ColorRole.ButtonText: "ink",
            QPalette.ColorRole.Highlight: "woad",
            QPalette.ColorRole.HighlightedText: "on_woad",
            QPalette.ColorRole.ToolTipBase: "white",
            QPalette.ColorRole.ToolTipText: "ink",
            QPalette.ColorRole.PlaceholderText: "iron",
        }
        for role, name in roles.items():
            palette.setColor(role, self.color(name))
        return palette

    def sheet(self) -> str:
        """The style sheet of the whole window."""
        return self._grounds_and_words() + self._controls()

    def _grounds_and_words(self) -> str:
        c = self.name
        px = self.px
        return f"""
        * {{ font-family: "{TEXT}"; font-size: {px(14)}px; color: {c("ink")}; }}
        QMainWindow, QWidget#page, QScrollArea, QWidget#docket, QWidget#body {{ background: {c("white")}; border: 0; }}
        QWidget#header, QWidget#strip {{ background: {c("white")}; }}
        QWidget#header {{ border-bottom: 1px solid {c("rule")}; }}
        QWidget#strip {{ border-top: 1px solid {c("rule")}; }}
        QWidget#docket {{ border-left: 1px solid {c("rule")}; }}
        QLabel#wordmark {{ color: {c("woad")}; font-size: {px(20)}px; font-weight: 700; }}
        QLabel#title {{ font-weight: 600; }}
        QLabel#station {{ font-size: {px(21)}px; font-weight: 600; }}
        QLabel#heading {{ font-weight: 600; }}
        QLabel#caption {{ color: {c("ink")}; font-size: {px(13)}px; }}
        QLabel#faint, QLabel#working {{ color: {c("iron")}; font-size: {px(13)}px; }}
        QLabel#why {{ color: {c("iron")}; font-size: {px(13)}px; }}
        QLabel#whyhead {{ color: {c("woad")}; font-weight: 600; }}
        QPushButton#unsaved {{ background: {c("madder_tint")}; color: {c("madder")}; border: 1px solid {c("madder")};
            font-weight: 600; }}
        QDialog {{ background: {c("paper")}; border: 1px solid {c("grid_five")}; }}
        QFrame#reason {{ background: {c("paper")}; border: 1px solid {c("grid_five")}; border-radius: 6px; }}
        QLabel#wrong {{ color: {c("madder")}; font-size: {px(13)}px; }}
        QLabel#holds {{ color: {c("verdigris")}; font-size: {px(13)}px; }}
        QLabel#value {{ font-family: "{FIGURES}"; font-size: {px(22)}px; font-weight: 600; }}
        QLabel#unit {{ color: {c("iron")}; font-size: {px(12)}px; }}
        QLabel#yours {{ background: {c("woad_tint")}; color: {c("woad")}; border-radius: 8px; padding: 1px 9px;
                        font-size: {px(12)}px; font-weight: 600; }}
        QLabel#guess {{ background: {c("weld_tint")}; color: {c("weld")}; border-radius: 8px; padding: 1px 9px;
                        font-size: {px(12)}px; font-weight: 600; }}
        QLabel#good {{ color: {c("verdigris")}; font-weight: 600; }}
        QLabel#bad {{ color: {c("madder")}; font-weight: 600; }}
        QLabel#roundname {{ font-size: {px(27)}px; font-weight: 600; }}
        QLabel#roundsaid {{ font-size: {px(16)}px; color: {c("iron")}; }}
        QLabel#roundwrong {{ font-size: {px(16)}px; color: {c("madder")}; }}
        QLineEdit#roundfield {{ font-family: "{FIGURES}"; font-size: {px(46)}px; font-weight: 600; padding: 2px; }}
        QLabel#tablenote {{ color: {c("ink")}; background: transparent; font-size: {px(17)}px; }}
        QLabel#big {{ font-family: "{FIGURES}"; font-size: {px(34)}px; font-weight: 600; }}
        QFrame#row {{ border: 0; border-bottom: 1px solid {c("rule")}; background: transparent; }}
        QFrame#row:focus {{ background: {c("woad_tint")}; border-radius: 6px; }}
        QLineEdit, QComboBox, QPlainTextEdit {{ background: {c("white")}; border: 1px solid {c("grid_five")};
            border-radius: 5px; padding: 4px 7px; selection-background-color: {c("woad")};
            selection-color: {c("on_woad")}; }}
        QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus {{ border: 2px solid {c("woad")}; padding: 3px 6px; }}
        QLineEdit[wrong="true"] {{ border: 2px solid {c("madder")}; padding: 3px 6px; }}
        QLineEdit#length {{ font-family: "{FIGURES}"; font-size: {px(18)}px; font-weight: 600; }}
        QComboBox::drop-down {{ border: 0; width: 22px; }}
        QComboBox::down-arrow {{ image: url("{icon("down-evening" if self.evening else "down-day")}"); width: 12px;
            height: 12px; margin-right: 8px; }}
        QComboBox QAbstractItemView {{ background: {c("white")}; border: 1px solid {c("grid_five")};
            selection-background-color: {c("woad_tint")}; selection-color: {c("ink")}; }}
        """

    def _controls(self) -> str:
        c = self.name
        px = self.px
        return f"""
        QPushButton {{ background: {c("white")}; border: 1px solid {c("grid_five")}; border-radius: 6px;
            padding: 5px 11px; }}
        QPushButton:hover {{ border-color: {c("woad")}; }}
        QPushButton:focus {{ border: 2px solid {c("woad")}; padding: 4px 10px; }}
        QPushButton:disabled {{ color: {c("iron")}; background: {c("table")}; }}
        QPushButton#onward {{ background: {c("woad")}; color: {c("on_woad")}; border: 0; font-weight: 600;
            padding: 11px; }}
        QPushButton#onward:focus {{ border: 3px solid {c("ink")}; padding: 8px; }}
        QPushButton#link {{ border: 0; color: {c("woad")}; padding: 2px 4px; text-align: left; font-weight: 600; }}
        QPushButton#link:focus {{ border: 2px solid {c("woad")}; padding: 0 2px; }}
        QPushButton#finder {{ background: {c("table")}; border: 0; border-radius: 14px; color: {c("iron")};
            text-align: left; padding: 6px 16px; }}
        QPushButton#finder:focus {{ border: 2px solid {c("woad")}; padding: 4px 14px; }}
        QPushButton#choice {{ border: 0; background: {c("table")}; padding: 6px 7px; color: {c("iron")};
            border-radius: 5px; margin: 1px; }}
        QPushButton#choice:checked {{ background: {c("white")}; color: {c("woad")}; font-weight: 600;
            border: 1px solid {c("woad")}; }}
        QPushButton#choice:focus {{ border: 2px solid {c("woad")}; }}
        QFrame#handbar {{ background: {c("white")}; border: 1px solid {c("grid_five")}; border-radius: 8px; }}
        QFrame#handbar QLabel {{ background: transparent; }}
        QLabel#handnote {{ background: {c("white")}; color: {c("ink")}; border: 1px solid {c("grid_five")};
            border-radius: 5px; padding: 3px 7px; font-size: {px(13)}px; }}
        QPushButton#tool {{ padding: 6px 10px; text-align: left; }}
        QFrame#slip {{ border: 0; border-bottom: 1px solid {c("rule")}; background: transparent; }}
        QFrame#slip:focus {{ background: {c("woad_tint")}; border-radius: 6px; }}
        QFrame#gap {{ background: {c("woad")}; border: 0; border-radius: 2px; }}
        QFrame#choices {{ background: {c("table")}; border-radius: 6px; }}
        QSlider {{ min-height: 26px; }}
        QSlider::groove:horizontal {{ height: 6px; background: {c("table")}; border-radius: 3px; }}
        QSlider::handle:horizontal {{ width: 20px; margin: -8px 0; background: {c("woad")}; border-radius: 10px; }}
        QSlider::handle:horizontal:focus {{ border: 3px solid {c("ink")}; }}
        QProgressBar {{ border: 0; background: {c("table")}; border-radius: 4px; height: 8px; }}
        QProgressBar::chunk {{ background: {c("woad")}; border-radius: 4px; }}
        QMenu {{ background: {c("white")}; border: 1px solid {c("grid_five")}; padding: 5px; }}
        QMenu::item {{ padding: 6px 22px 6px 12px; border-radius: 4px; }}
        QMenu::item:selected {{ background: {c("woad_tint")}; }}
        QMenu::item:disabled {{ color: {c("iron")}; }}
        QListWidget {{ background: {c("white")}; border: 1px solid {c("grid_five")}; border-radius: 6px; }}
        QListWidget::item {{ padding: 6px 10px; }}
        QListWidget::item:selected {{ background: {c("woad_tint")}; color: {c("ink")}; }}
        QToolTip {{ background: {c("white")}; color: {c("ink")}; border: 1px solid {c("grid_five")}; padding: 4px; }}
        QScrollBar:vertical {{ width: 10px; background: transparent; }}
        QScrollBar::handle:vertical {{ background: {c("grid_five")}; border-radius: 5px; min-height: 30px; }}
        QScrollBar:horizontal {{ height: 6px; background: transparent; }}
        QScrollBar::handle:horizontal {{ background: {c("grid_five")}; border-radius: 3px; min-width: 30px; }}
        QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
        QCheckBox::indicator {{ width: 15px; height: 15px; border: 1px solid {c("iron")}; border-radius: 4px;
            background: {c("white")}; }}
        QCheckBox::indicator:checked {{ border-color: {c("woad")};
            image: url("{icon("check-evening" if self.evening else "check-day")}"); }}
        QCheckBox::indicator:focus {{ border: 2px solid {c("woad")}; }}
        """


def icon(name: str) -> str:
    """The file of an icon that ships with Caddet."""
    return str(data_folder() / "icons" / f"{name}.svg")


def load_fonts() -> None:
    """Register the shipped fonts with Qt."""
    for file in shipped_files("fonts", ".ttf"):
        QFontDatabase.addApplicationFontFromData(shipped_bytes(f"fonts/{file.name}"))


LOOK = Look()
