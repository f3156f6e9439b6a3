# SPDX-License-Identifier: GPL-3.0-or-later
"""A strip of the members of a family: each as a column in which is marked where it differs from the standard."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QEvent, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import show_tip
from jagged_lens.desktop.plots.keyed import KeyedPicture

CELLS = 24
"""Into so many stretches the standard is divided."""
_WIDE = 30.0


class MemberStrip(KeyedPicture):
    """chosen(member): a column was clicked, or reached by the arrows. Member 0 is the standard."""

    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._titles: list[str] = []
        self._marks: list[str] = []
        self._differs: dict[int, NDArray[np.float64]] = {}
        self._current = 0
        self._left = 0  # the first that is in sight
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName("Members of the family")

    def show_members(self, titles: list[str]) -> None:
        """The members of another family, the standard first."""
        self._titles, self._differs, self._left = titles, {}, 0
        self._marks = [""] * len(titles)
        self.update()

    def show_difference(self, member: int, differs: NDArray[np.float64]) -> None:
        """differs: float64, CELLS: of each stretch of the standard the share of words that the member has not."""
        self._differs[member] = differs
        self.update()

    def show_marks(self, marks: list[str]) -> None:
        """The decision on each member, one sign each."""
        self._marks = marks
        self.update()

    def show_current(self, member: int) -> None:
        """The member that is read."""
        self._current = member
        fits = self._fits()
        self._left = min(max(self._left, member - fits + 1), member)
        name = self._titles[member] if member < len(self._titles) else ""
        self.setAccessibleDescription(f"{member + 1} of {len(self._titles)}: {name}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, int(QFontMetricsF(theme.ui_font(0.85)).height() * 3.2))

    def _fits(self) -> int:
        return max(int(self.width() // _WIDE), 1)

    def member_at(self, x: float) -> int:
        """The member at a place across; -1 where there is none."""
        member = self._left + int(x // _WIDE)
        return member if x >= 0 and member < len(self._titles) else -1

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        member = self.member_at(event.position().x()) if event is not None else -1
        if member >= 0:
            self.chosen.emit(member)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Home: -(10**9), Qt.Key.Key_End: 10**9}.get(key)
        if step is None or not self._titles:
            return False
        self.chosen.emit(min(max(self._current + step, 0), len(self._titles) - 1))
        return True

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        small = theme.ui_font(0.85)
        painter.setFont(small)
        line = QFontMetricsF(small).height()
        tall = self.height() - line - 4
        for place in range(min(self._fits(), len(self._titles) - self._left)):
            member = self._left + place
            area = QRectF(place * _WIDE + 2, 2, _WIDE - 6, tall)
            ground = theme.colour("verdigris" if member == 0 else "tint")
            painter.fillRect(area, ground)
            differs = self._differs.get(member)
            if differs is not None:
                for cell in np.flatnonzero(differs > 0).tolist():
                    strip = QRectF(area.left(), area.top() + tall * cell / CELLS, area.width(), tall / CELLS)
                    painter.fillRect(
                        strip, theme.mixed(ground, theme.colour("madder"), 0.35 + 0.65 * float(differs[cell]))
                    )
            if member == self._current:
                painter.setPen(QPen(theme.colour("ink"), 2))
                painter.drawRect(area.adjusted(-1, -1, 1, 1))
            painter.setPen(theme.colour("ink" if member == self._current else "muted"))
            mark = self._marks[member]
            text = f"{member + 1}{mark}"
            painter.drawText(
                QRectF(area.left() - 4, area.bottom() + 1, _WIDE + 2, line), Qt.AlignmentFlag.AlignHCenter, text
            )
        if self.hasFocus():
            theme.draw_focus(painter, self.rect())

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            member = self.member_at(event.pos().x())
            if member >= 0:
                role = "the standard" if member == 0 else f"member {member + 1}"
                show_tip(
                    event.globalPos(), f"{self._titles[member]}: {role}. Red: differences from the standard.", self
                )
                return True
        return super().event(event)
