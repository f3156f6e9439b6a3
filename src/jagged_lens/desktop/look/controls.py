# SPDX-License-Identifier: GPL-3.0-or-later
"""The controls, each of which shows what it is before it is touched: tabs, switches, actions, menus, choices and ways elsewhere."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QCheckBox, QComboBox, QMenu, QPushButton, QSizePolicy, QStyleOptionButton, QWidget

from jagged_lens.desktop.look import theme

_CARET = 20  # pixels at the right of what opens a menu
_LONGEST = 40  # letters that a choice is wide for
_SHORTEST = 6  # letters that it can be narrowed to


class Button(QPushButton):
    """A button of one kind, by which the style sheet knows it."""

    kind = "action"

    def __init__(self, words: str = "", parent: QWidget | None = None) -> None:
        super().__init__(words, parent)
        self.setProperty("kind", self.kind)

    def setMenu(self, menu: QMenu | None) -> None:
        super().setMenu(menu)
        self.setProperty("opens", "true")  # leaves room for the caret

    def initStyleOption(self, option: QStyleOptionButton | None) -> None:
        super().initStyleOption(option)
        if option is not None:  # the mark of the menu is drawn here, and needs no room of the style
            option.features &= ~QStyleOptionButton.ButtonFeature.HasMenu

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if self.menu() is not None:
            draw_caret(self)


class Action(Button):
    """Does something: a button with an edge."""

    def be_main(self, main: bool = True) -> None:
        """Be the one main action of what is in front, which is filled; or not any more."""
        self.setProperty("kind", "main" if main else "action")
        style = self.style()
        if style is not None and self.testAttribute(Qt.WidgetAttribute.WA_WState_Polished):
            style.polish(self)


class MainAction(Action):
    """The one main action of what is in front: filled."""

    kind = "main"


class Way(Button):
    """Leads to another place, or does something with what is named beside it: words that are underlined under the pointer."""

    kind = "way"


class Chip(Button):
    """Stands for some documents, or for a condition."""

    kind = "chip"


class Word(Button):
    """A word within a sentence that can be changed."""

    kind = "word"


class Tab(Button):
    """Brings one of several pictures up: a line below it says that it is in front. small: of pictures within a picture."""

    kind = "tab"

    def __init__(self, words: str, small: bool = False) -> None:
        super().__init__(words)
        self.setCheckable(True)
        if small:
            self.setProperty("kind", "leaf")


class Switch(Button):
    """On or off: a chip that has a tick while it is on."""

    kind = "switch"

    def __init__(self, words: str, on: bool = False) -> None:
        super().__init__(words)
        self.setCheckable(True)
        self.setChecked(on)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if self.isChecked():
            painter = QPainter(self)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(theme.colour("verdigris" if self.isEnabled() else "muted"), 1.8))
            left, middle = 9.0, self.height() / 2
            painter.drawPolyline(
                QPolygonF([QPointF(left, middle), QPointF(left + 3, middle + 3.2), QPointF(left + 8.5, middle - 3.6)])
            )


class TickBox(QCheckBox):
    """On or off, for an option within a form or a row."""

    def __init__(self, words: str) -> None:
        super().__init__(words)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        box = QRectF(2, self.height() / 2 - 6, 12, 12)
        theme.draw_tick_box(painter, box, self.isChecked())
        painter.setPen(theme.colour("muted" if not self.isEnabled() else "verdigris" if self.hasFocus() else "ink"))
        painter.drawText(self.rect().adjusted(21, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, self.text())


class ChoiceButton(Button):
    """Says what is chosen, and opens a menu of what can be: words with a caret, without an edge."""

    kind = "choice"


class Choice(QComboBox):
    """One of several: words with a caret, as wide as the longest of them; the list that it opens cuts none."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        metrics = self.fontMetrics()
        longest = max((metrics.horizontalAdvance(self.itemText(at)) for at in range(self.count())), default=0)
        return QSize(min(longest, self._letters(_LONGEST)) + _CARET + 16, super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        return QSize(
            min(self.sizeHint().width(), self._letters(_SHORTEST) + _CARET), super().minimumSizeHint().height()
        )

    def _letters(self, count: int) -> int:
        return self.fontMetrics().averageCharWidth() * count

    def showPopup(self) -> None:
        view = self.view()
        if view is not None:
            view.setTextElideMode(Qt.TextElideMode.ElideNone)
            view.setMinimumWidth(view.sizeHintForColumn(0) + _CARET)
        super().showPopup()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        draw_caret(self)


def draw_caret(on: QWidget) -> None:
    """Draw the mark of what opens a menu at the right of a control."""
    painter = QPainter(on)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(theme.colour("ink" if on.isEnabled() else "muted"), 1.4))
    box = QRectF(on.rect())
    at = QPointF(box.right() - 11, box.center().y() - 1.5)
    painter.drawPolyline(QPolygonF([at + QPointF(-4, 0), at + QPointF(0, 4), at + QPointF(4, 0)]))
