# SPDX-License-Identifier: GPL-3.0-or-later
"""A map of terms: each word stands where it lies, near others that are held by the same documents."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QHelpEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import group_colour
from jagged_lens.desktop.look.plain import show_tip
from jagged_lens.desktop.plots.ahead import nearest_ahead
from jagged_lens.desktop.plots.keyed import KeyedPicture
from jagged_lens.group import letter

_EDGE = 26
_DOT = 3.5
_TOLD = 12


@dataclass(frozen=True)
class PlacedTerm:
    """A term as it is shown, the number of its group (-1: none), and what is said of it."""

    name: str
    group: int
    words: str


class TermMap(KeyedPicture):
    """A click on a term, or Space on the one that the arrow keys walk to, emits `chosen` with its number. Names that find no
    room are left out; their dots stay, and the pointer tells them."""

    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.terms: Sequence[PlacedTerm] = ()
        self._positions: NDArray[np.float64] = np.zeros((0, 2))
        self._current = -1
        self._boxes: dict[int, QRectF] = {}
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(120)
        self.setAccessibleName("Map of the terms")

    def show_terms(self, terms: Sequence[PlacedTerm], positions: NDArray[np.floating]) -> None:
        """Show terms at positions (k × 2); those that come first get their names first."""
        self.terms = terms
        found = np.nan_to_num(np.asarray(positions, np.float64))
        low, high = (found.min(axis=0), found.max(axis=0)) if len(found) else (np.zeros(2), np.ones(2))
        self._positions = (found - low) / np.where(high > low, high - low, 1.0)
        self._current = min(self._current, len(terms) - 1)
        self.update()

    def go_to(self, number: int) -> None:
        """Mark a term."""
        self._current = number
        if 0 <= number < len(self.terms):
            self.setAccessibleDescription(f"{self.terms[number].name}: {self.terms[number].words}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(420, 260)

    def points(self) -> NDArray[np.float64]:
        """The places of the dots, in pixels (k × 2)."""
        room = np.array([max(self.width() - 2 * _EDGE, 1), max(self.height() - 2 * _EDGE, 1)])
        upright = self._positions * (1, -1) + (0, 1)
        return np.asarray(upright * room + _EDGE)

    def _at(self, place: QPointF) -> int:
        """The term at a place: its name, or the nearest dot within reach; -1 where there is none."""
        for number, box in self._boxes.items():
            if box.contains(place):
                return number
        if not len(self.terms):
            return -1
        far = np.hypot(*(self.points() - (place.x(), place.y())).T)
        nearest = int(far.argmin())
        return nearest if far[nearest] < 9 else -1

    def told_at(self, place: QPointF) -> list[str]:
        """The text about the terms at a place: several may have the same documents."""
        number = self._at(place)
        if number < 0:
            return []
        points = self.points()
        here = np.flatnonzero(np.hypot(*(points - points[number]).T) < 2)
        told = [f"{self.terms[at].name}: {self.terms[at].words}" for at in here[:_TOLD].tolist()]
        return told + [f"and {len(here) - _TOLD:,} more"] * (len(here) > _TOLD)

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent):
            show_tip(event.globalPos(), "\n".join(self.told_at(QPointF(event.pos()))), self)
            return True
        return super().event(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            number = self._at(event.position())
            if number >= 0:
                self.go_to(number)
                self.chosen.emit(number)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if key in ways and len(self.terms):
            self._walk(np.array(ways[key], np.float64))
        elif key in (Qt.Key.Key_Space, Qt.Key.Key_Return) and self._current >= 0:
            self.chosen.emit(self._current)
        else:
            return False
        return True

    def _walk(self, way: NDArray[np.float64]) -> None:
        """To the nearest term in a direction."""
        found = nearest_ahead(self.points(), self._current, way) if self._current >= 0 else 0
        if found >= 0:
            self.go_to(found)

    def _free_place(self, dot: QPointF, wide: float, tall: float) -> QRectF | None:
        """Right beside a dot, left of it, above or below it, where no name stands yet; None where all is taken."""
        gap = _DOT + 1
        beside = dot.y() - tall / 2
        for left, top in (
            (dot.x() + gap, beside),
            (dot.x() - gap - wide, beside),
            (dot.x() - wide / 2, dot.y() - gap - tall),
            (dot.x() - wide / 2, dot.y() + gap),
        ):
            box = QRectF(left, top, wide, tall)
            if self.rect().toRectF().contains(box) and not any(box.intersects(other) for other in self._boxes.values()):
                return box
        return None

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        points = self.points()
        for number, term in enumerate(self.terms):
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(group_colour(term.group) if term.group >= 0 else theme.colour("quiet"))
            painter.drawEllipse(QPointF(*points[number]), _DOT, _DOT)
        font = theme.ui_font(0.92)
        metrics = QFontMetricsF(font)
        self._boxes = {}
        # The one that is marked gets its name before all others.
        order = sorted(range(len(self.terms)), key=lambda number: number != self._current)
        for number in order:
            term = self.terms[number]
            said = f"{letter(term.group)} {term.name}" if term.group >= 0 else term.name
            box = self._free_place(QPointF(*points[number]), metrics.horizontalAdvance(said) + 8, metrics.height())
            if box is None:
                continue
            self._boxes[number] = box
            marked = number == self._current
            if marked:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.colour("tint"))
                painter.drawRoundedRect(box, 4, 4)
            painter.setFont(theme.ui_font(0.92, bold=True) if marked else font)
            painter.setPen(theme.colour("ink"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, said)
        if self.hasFocus():
            theme.draw_focus(painter, self.rect())
