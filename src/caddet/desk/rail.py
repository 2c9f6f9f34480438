"""The rail: the stations in the order of the work, each with its state."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QButtonGroup, QFrame, QVBoxLayout, QWidget

from caddet.desk.opening import RAIL
from caddet.desk.stations.base import Station, Status
from caddet.desk.theme import LOOK
from caddet.desk.widgets.fields import hint


class RailButton(QAbstractButton):
    """One station: name, what is settled or left."""

    def __init__(self, station: Station) -> None:
        super().__init__()
        self.station = station
        self.state = Status("")
        self.setCheckable(True)
        self.resize_text()
        self.setText(station.name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def resize_text(self) -> None:
        """Follow the size of the text."""
        self.setFixedHeight(LOOK.px(62))

    def show_state(self, state: Status) -> None:
        """Show what is settled and what is left, also to a screen reader."""
        self.state = state
        left = f", {state.left} to look at" if state.left else (", settled" if state.settled else "")
        self.setAccessibleName(f"{self.station.name}: {state.words}{left}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The station's name, its words, and a tick or a count."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        here = self.isChecked()
        wide, px = self.width(), LOOK.px
        if here:
            painter.fillRect(self.rect(), LOOK.color("table"))
            painter.fillRect(QRectF(0, 0, 4, self.height()), LOOK.color("woad"))
        if self.hasFocus() or self.underMouse():
            painter.setPen(
                QPen(
                    LOOK.color("woad" if here else "rail_text"),
                    1.4,
                    Qt.PenStyle.DashLine if self.hasFocus() else Qt.PenStyle.SolidLine,
                )
            )
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(5, 3, -5, -3), 6, 6)
        painter.setPen(LOOK.color("ink" if here else "rail_text"))
        painter.setFont(LOOK.font(17, QFont.Weight.DemiBold if here else QFont.Weight.Medium))
        painter.drawText(QRectF(18, px(9), wide - px(50), px(26)), Qt.AlignmentFlag.AlignVCenter, self.station.name)
        painter.setPen(LOOK.color("iron" if here else "rail_faint"))
        painter.setFont(LOOK.font(12))
        painter.drawText(QRectF(18, px(34), wide - 20, px(18)), Qt.AlignmentFlag.AlignVCenter, self.state.words)
        if self.state.left:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(LOOK.color("weld" if here else "tape"))
            painter.drawEllipse(QPointF(wide - 21, px(22)), 10, 10)
            painter.setPen(LOOK.color("white") if here else Qt.GlobalColor.black)
            painter.setFont(LOOK.figure_font(13))
            painter.drawText(QRectF(wide - 31, px(22) - 10, 20, 20), Qt.AlignmentFlag.AlignCenter, str(self.state.left))
        elif self.state.settled:
            pen = QPen(LOOK.color("verdigris") if here else Qt.GlobalColor.white, 2.2)
            pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
            painter.setPen(pen)
            painter.drawPolyline(
                QPolygonF([QPointF(wide - 27, px(22)), QPointF(wide - 22, px(22) + 5), QPointF(wide - 14, px(22) - 6)])
            )


class Rail(QWidget):
    """The column of stations."""

    chosen = pyqtSignal(str)

    def __init__(self, stations: list[Station], below: list[Station]) -> None:
        super().__init__()
        self.setFixedWidth(LOOK.px(RAIL))
        self.setAccessibleName("Stations")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 10, 0, 10)
        column.setSpacing(2)
        self.group = QButtonGroup(self)
        self.buttons: dict[str, RailButton] = {}
        keys = [*(str(number) for number in range(1, len(stations) + 1)), *(place.name[0] for place in below)]
        for key, station in zip(keys, [*stations, *below], strict=True):
            one = RailButton(station)
            one.setToolTip(hint(f"{station.name} (Alt+{key})"))
            one.clicked.connect(lambda _=False, key=station.key: self.chosen.emit(key))
            self.group.addButton(one)
            self.buttons[station.key] = one
            if station in below[:1]:
                column.addStretch(1)
                line = QFrame()
                line.setFixedHeight(1)
                line.setStyleSheet("background: #3A4B55; border: 0; margin: 0 16px;")
                column.addWidget(line)
            column.addWidget(one)

    def resize_text(self) -> None:
        """Follow the size of the text."""
        self.setFixedWidth(LOOK.px(RAIL))
        for one in self.buttons.values():
            one.resize_text()

    def show_here(self, key: str) -> None:
        """Mark the station that one is at."""
        self.buttons[key].setChecked(True)

    def refresh(self) -> None:
        """Show the state of every station."""
        for one in self.buttons.values():
            one.show_state(one.station.status())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The dark ground."""
        QPainter(self).fillRect(self.rect(), LOOK.color("rail"))
