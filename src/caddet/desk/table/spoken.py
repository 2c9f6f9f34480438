"""What a screen reader finds on the table: a name for every handle, figure and card that the keyboard can reach.

Qt tells nothing of the items of a scene, so each has a small, clear widget over it that carries its name.
"""

from __future__ import annotations

from PyQt6.QtCore import QObject, QRect, Qt, QTimer
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsScene, QGraphicsView, QWidget

from caddet.desk.table.drawing import Drawn

PAUSE = 150  # ms without a change after which the names are brought up to date


class SpokenNames(QObject):
    """Keeps one named widget over each item of a view that can have the focus."""

    def __init__(self, view: QGraphicsView, scene: QGraphicsScene) -> None:
        super().__init__(view)
        self.view, self.scene = view, scene
        self.named: list[QWidget] = []
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self.renew)
        scene.changed.connect(lambda _: self._later.start(PAUSE))
        scene.focusItemChanged.connect(lambda *_: self._tell_focus())

    def renew(self) -> None:
        """Name everything that stands on the table now."""
        items = stops(self.scene)
        port = self.view.viewport()
        while len(self.named) > len(items):
            self.named.pop().deleteLater()
        while len(self.named) < len(items):
            name = QWidget(port)
            name.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
            name.setAttribute(Qt.WidgetAttribute.WA_NoSystemBackground)
            self.named.append(name)
        for name, item in zip(self.named, items, strict=True):
            box: QRect = self.view.mapFromScene(item.sceneBoundingRect()).boundingRect()
            place = QRect(0, 0, 30, 30)
            place.moveCenter(box.center())
            name.setGeometry(place)
            if name.accessibleName() != spoken(item):
                name.setAccessibleName(spoken(item))
            name.setAccessibleDescription(item.toolTip())
            name.show()
        self._tell_focus()

    def _tell_focus(self) -> None:
        """The table says of itself which of its things has the focus."""
        words = spoken(self.scene.focusItem())
        if words != self.view.accessibleDescription():
            self.view.setAccessibleDescription(words)


def stops(scene: QGraphicsScene) -> list[QGraphicsItem]:
    """What the Tab key goes to on a table, from top to bottom and left to right."""
    found = [one for one in scene.items(Qt.SortOrder.AscendingOrder) if isinstance(one, Drawn) and one.can_focus]
    return sorted(found, key=lambda one: (round(one.scenePos().y() / 80), one.scenePos().x()))


def spoken(item: QGraphicsItem | None) -> str:
    """What an item says that it is."""
    return item.spoken if isinstance(item, Drawn) else ""
