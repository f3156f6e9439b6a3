# SPDX-License-Identifier: GPL-3.0-or-later
"""Widgets in lines like words: what does not fit goes to the next line."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, QSize
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget


class Flow(QLayout):
    """Lays its widgets out from the left, in as many lines as the width needs."""

    def __init__(self, gap: int = 6) -> None:
        super().__init__()
        self._gap = gap
        self._items: list[QLayoutItem] = []
        self._known: dict[int, int] = {}  # how high it is at a width
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem | None) -> None:
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def hasHeightForWidth(self) -> bool:
        return True

    def invalidate(self) -> None:
        self._known.clear()
        super().invalidate()

    def heightForWidth(self, width: int) -> int:
        if width not in self._known:
            self._known[width] = self._lay(QRect(0, 0, width, 0), False)
        return self._known[width]

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._lay(rect, True)

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        widest = max((item.minimumSize().width() for item in self._items), default=0)
        tallest = max((item.sizeHint().height() for item in self._items), default=0)
        return QSize(widest, tallest)

    def _lay(self, rect: QRect, move: bool) -> int:
        """Place the widgets within a rectangle, or only say how high they get."""
        x, y, line = rect.x(), rect.y(), 0
        placed: list[tuple[QLayoutItem, QRect]] = []  # of the line that is being filled

        def close() -> None:
            for item, place in placed:
                item.setGeometry(place.translated(0, (line - place.height()) // 2))
            placed.clear()

        for item in self._items:
            widget = item.widget()
            if widget is not None and widget.isHidden():
                continue
            size = item.sizeHint()
            size.setWidth(min(size.width(), max(rect.width(), item.minimumSize().width())))
            if x > rect.x() and x + size.width() > rect.x() + rect.width():
                if move:
                    close()
                x, y, line = rect.x(), y + line + self._gap, 0
            placed.append((item, QRect(QPoint(x, y), size)))
            x += size.width() + self._gap
            line = max(line, size.height())
        if move:
            close()
        return y + line - rect.y()


class FlowingRow(QWidget):
    """A row that wraps, whose widgets are made anew whenever what it shows changes."""

    def __init__(self) -> None:
        super().__init__()
        self.row = Flow()
        self.setLayout(self.row)
        policy = self.sizePolicy()
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def clear(self) -> None:
        """Take all widgets out."""
        while (item := self.row.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.setParent(None)  # type: ignore[call-overload]
                widget.deleteLater()

    def lay(self) -> None:
        """Lay out what was put in."""
        self.row.invalidate()
        self.row.setGeometry(self.rect())
        self.updateGeometry()


def flowing(*widgets: QWidget) -> QWidget:
    """A row of widgets that wraps where it is narrow."""
    row = QWidget()
    layout = Flow()
    row.setLayout(layout)
    policy = row.sizePolicy()
    policy.setHeightForWidth(True)
    row.setSizePolicy(policy)
    for widget in widgets:
        layout.addWidget(widget)
    return row
