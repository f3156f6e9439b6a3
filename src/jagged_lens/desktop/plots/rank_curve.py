# SPDX-License-Identifier: GPL-3.0-or-later
"""The rank–frequency curve of all terms on log axes, with two limits that the hand can move."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize, QSizeF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.keyed import KeyedPicture
from jagged_lens.terms import ZipfMandelbrot

_NEAR = 7


class RankCurve(KeyedPicture):
    """Terms ranked by documents, from the commonest. What lies between the two lines is kept.

    limits_moved(least, share) while a line is dragged, limits_set when it is let go; hovered and chosen with the rank of a term
    (from 0; -1: none).
    """

    limits_moved = pyqtSignal(float, float)
    limits_set = pyqtSignal(float, float)
    hovered = pyqtSignal(int)
    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._falling: NDArray[np.int64] = np.zeros(0, np.int64)
        self._rising = self._falling
        self._documents = 1
        self._least, self._share = 1.0, 1.0
        self._kept = 0
        self._line: ZipfMandelbrot | None = None
        self._marked = -1
        self._card: tuple[str, str] | None = None
        self._said = QRectF()  # where the words of the lower limit stand
        self._drawn = np.zeros((0, 2))  # the points of the curve, on screen
        self._dragging = ""
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Rank–frequency curve of all terms with its two limits")
        set_tip(self, "Drag the lines, or use Left and Right for the lower limit; with Shift, for the upper one")

    def show_terms(
        self,
        falling: NDArray[np.integer],
        documents: int,
        least: float,
        share: float,
        kept: int,
        line: ZipfMandelbrot | None,
    ) -> None:
        """falling: documents of each term, from the commonest. documents: how many there are. least: in so many. share: in at most such a
        share. kept: how many terms are kept. line: the one that fits the curve."""
        self._falling, self._documents, self._kept, self._line = (
            np.asarray(falling, np.int64),
            max(documents, 1),
            kept,
            line,
        )
        self._rising = self._falling[::-1].copy()
        if not self._dragging:
            self._least, self._share = least, share
        self._describe()
        self.update()

    def show_kept(self, kept: int) -> None:
        """The number of terms that would be kept, while a limit is dragged."""
        self._kept = kept
        self._describe()
        self.update()

    def mark(self, rank: int, title: str = "", text: str = "") -> None:
        """Mark a term, with a card beside it; -1 marks none."""
        self._marked = rank
        self._card = (title, text) if rank >= 0 else None
        self.update()

    def _describe(self) -> None:
        self.setAccessibleDescription(f"In at least {self._least:g}, in at most {self._share:.0%}; {self._kept:,} kept")

    def sizeHint(self) -> QSize:
        return QSize(420, int(QFontMetricsF(theme.ui_font()).height() * 11))

    def _area(self) -> QRectF:
        line = QFontMetricsF(theme.ui_font(0.86)).height()
        return QRectF(40, 6, self.width() - 50, self.height() - line - 20)

    def _x(self, rank: float) -> float:
        """The position of a rank (from 1)."""
        return float(self._across(np.array([rank]))[0])

    def _across(self, ranks: NDArray[np.integer | np.floating]) -> NDArray[np.float64]:
        area = self._area()
        return area.left() + area.width() * np.log(np.maximum(ranks, 1)) / np.log(max(len(self._falling), 2))

    def _y(self, documents: float) -> float:
        """The height of a number of documents."""
        return float(self._up(np.array([documents]))[0])

    def _up(self, documents: NDArray[np.integer | np.floating]) -> NDArray[np.float64]:
        area = self._area()
        top = np.log(max(int(self._falling[0]) if len(self._falling) else 1, 2))
        return area.bottom() - area.height() * np.minimum(np.log(np.maximum(documents, 1)) / top, 1.05)

    def _ranks(self) -> tuple[int, int]:
        """The number of terms that are too common, and how many are not too rare."""
        least = self._least * self._documents if self._least < 1 else self._least
        common = np.searchsorted(self._rising, self._share * self._documents + 1e-9, "right")
        rare = np.searchsorted(self._rising, least - 1e-9)
        return len(self._rising) - int(common), len(self._rising) - int(rare)

    def line_place(self, which: str) -> QPointF:
        """The handle of a limit's line: "least" or "share"."""
        common, reach = self._ranks()
        x = self._x(reach + 0.5) if which == "least" else self._x(common + 0.5)
        return QPointF(x, self._area().bottom() + 4)

    def _rank_at(self, x: float) -> int:
        area = self._area()
        share = min(max((x - area.left()) / max(area.width(), 1), 0.0), 1.0)
        return round(float(np.exp(share * np.log(max(len(self._falling), 2))))) - 1

    def _drag_to(self, x: float) -> None:
        """The limit that the line under the hand stands for at a place."""
        rank = min(max(self._rank_at(x), 0), len(self._falling) - 1)
        documents = int(self._falling[rank])
        if self._dragging == "least":
            upper = self._share * self._documents
            wanted = float(min(max(documents, 1), max(int(upper), 1)))
            self._least = wanted / self._documents if self._least < 1 and wanted < self._documents else wanted
        else:
            least = self._least * self._documents if self._least < 1 else self._least
            everything = self._area().left() + 3 > x
            self._share = 1.0 if everything else round(min(max(documents, least, 1) / self._documents, 1.0), 4)
        self._describe()
        self.limits_moved.emit(self._least, self._share)
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton or not len(self._falling):
            return
        x = event.position().x()
        near = {which: abs(self.line_place(which).x() - x) for which in ("least", "share")}
        which = min(near, key=near.__getitem__)
        if near[which] <= _NEAR:
            self._dragging = which
        else:
            self.chosen.emit(self._rank_at(x))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or not len(self._falling):
            return
        x = event.position().x()
        if self._dragging:
            self._drag_to(x)
            return
        near = min(abs(self.line_place(which).x() - x) for which in ("least", "share"))
        self.setCursor(Qt.CursorShape.SplitHCursor if near <= _NEAR else Qt.CursorShape.ArrowCursor)
        rank = self._rank_at(x)
        self.hovered.emit(rank if 0 <= rank < len(self._falling) else -1)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._dragging:
            self._dragging = ""
            self.limits_set.emit(self._least, self._share)

    def leaveEvent(self, event: object) -> None:
        self.hovered.emit(-1)

    def take_key(self, key: Qt.Key, shift: bool, control: bool) -> bool:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key)
        if step is None or not len(self._falling):
            return False
        if shift:
            self._share = round(min(max(self._share - 0.05 * step, 0.05), 1.0), 4)
        else:
            least = self._least * self._documents if self._least < 1 else self._least
            self._least = max(round(least) - step, 1.0)
        self.limits_set.emit(self._least, self._share)
        return True

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = self._area()
        small = theme.ui_font(0.86)
        painter.setFont(small)
        line = QFontMetricsF(small).height()
        if not len(self._falling):
            return
        common, reach = self._ranks()
        left, right = self._x(common + 0.5) if common else area.left(), self._x(reach + 0.5)
        right = area.right() if reach >= len(self._falling) else right
        if common:
            painter.fillRect(
                QRectF(area.left(), area.top(), left - area.left(), area.height()), theme.colour("madder", 26)
            )
        if reach < len(self._falling):
            painter.fillRect(QRectF(right, area.top(), area.right() - right, area.height()), theme.colour("quiet", 60))
        painter.setPen(QPen(theme.colour("muted"), 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        painter.drawLine(area.topLeft(), area.bottomLeft())
        self._paint_axes(painter, area, line)
        self._paint_curve(painter, common, reach)
        self._paint_limits(painter, area, line, common, reach, left, right)
        if 0 <= self._marked < len(self._falling):
            self._paint_mark(painter, area, line)
        if self.hasFocus():
            theme.draw_focus(painter, self.rect())

    def _paint_axes(self, painter: QPainter, area: QRectF, line: float) -> None:
        painter.setPen(theme.colour("muted"))
        for tick in (1, 10, 100, 1000, 10_000, 100_000):
            if tick <= self._falling[0]:
                place = QRectF(0, self._y(tick) - line / 2, 34, line)
                painter.drawText(place, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{tick:,}")
        text = "documents of each term, terms ranked by frequency; both axes log"
        if QFontMetricsF(painter.font()).horizontalAdvance(text) > area.width():
            text = "documents by rank of the term; both axes log"
        painter.drawText(QRectF(area.left(), area.bottom() + 14, area.width(), line), Qt.AlignmentFlag.AlignRight, text)

    def _paint_curve(self, painter: QPainter, common: int, reach: int) -> None:
        ranks = np.unique(np.geomspace(1, len(self._falling), 600).round().astype(np.int64))
        across = self._across(ranks)
        if self._line is not None:
            fitted = self._line.at(ranks.astype(np.float64))
            painter.setPen(QPen(theme.colour("ochre"), 1, Qt.PenStyle.DashLine))
            line = np.column_stack((across, self._up(fitted)))[fitted >= 1]
            painter.drawPolyline(QPolygonF([QPointF(x, y) for x, y in line.tolist()]))
        painter.setPen(Qt.PenStyle.NoPen)
        kept = (common < ranks) & (ranks <= reach)
        places = np.column_stack((across, self._up(self._falling[ranks - 1])))
        self._drawn = places
        for tone, shown in (("quiet", ~kept), ("verdigris", kept)):
            painter.setBrush(theme.colour(tone))
            for x, y in places[shown].tolist():
                painter.drawEllipse(QPointF(x, y), 2.6, 2.6)

    def _paint_limits(
        self, painter: QPainter, area: QRectF, line: float, common: int, reach: int, left: float, right: float
    ) -> None:
        for x, tone in ((left, "madder"), (right, "ink")):
            painter.setPen(QPen(theme.colour(tone), 2))
            painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom() + 3))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour(tone))
            foot = area.bottom() + 2
            painter.drawPolygon(QPolygonF([QPointF(x, foot), QPointF(x + 6, foot + 9), QPointF(x - 6, foot + 9)]))
        metrics = QFontMetricsF(painter.font())
        too_common = f"in over {self._share:.0%}: {common:,} too common" if common else f"in at most {self._share:.0%}"
        painter.setPen(theme.colour("madder"))
        painter.drawText(QPointF(left + 8, area.bottom() - line * 2.3), too_common)
        least = f"{self._least:.1%}" if self._least < 1 else f"{self._least:g}"
        too_rare = f"in fewer than {least}: {len(self._falling) - reach:,} too rare"
        painter.setPen(theme.colour("ink"))
        width = metrics.horizontalAdvance(too_rare)
        x = right + 6 if right + 6 + width < area.right() else right - width - 6
        painter.drawText(QPointF(x, area.top() + line * 2.1), too_rare)
        self._said = QRectF(x - 4, area.top() + line * 1.1, width + 8, line * 1.3)
        painter.setPen(theme.colour("verdigris"))
        painter.setFont(theme.ui_font(1.0, bold=True))
        kept = amount(self._kept, "term") + " kept"
        painter.drawText(
            QRectF(left + 8, area.bottom() - line * 1.9, area.width(), line * 1.6),
            Qt.AlignmentFlag.AlignLeft,
            kept,
        )
        painter.setFont(theme.ui_font(0.86))

    def _card_place(self, point: QPointF, size: QSizeF, area: QRectF) -> QRectF:
        """The place of a point's card: off the words of the limits, over as little of the curve as possible, and near."""
        lefts = point.x() + np.array([10, -size.width() - 8, 44, -size.width() - 42])
        tops = point.y() + np.array([9, -size.height() - 6, 24, 42])
        lowest, rightmost = area.bottom() - size.height() - 2, area.right() - size.width()
        places = [
            QRectF(QPointF(float(left), min(max(float(top), 2.0), lowest)), size)
            for left in lefts
            for top in tops
            if area.left() < left < rightmost
        ]
        reserved = QRectF(area.left(), area.bottom() - size.height(), area.width() * 0.3, size.height())

        def cost(place: QRectF) -> tuple[int, float]:
            low, high = (place.left(), place.top()), (place.right(), place.bottom())
            hidden = int(((self._drawn >= low) & (self._drawn <= high)).all(axis=1).sum())
            words = place.intersects(self._said) + place.intersects(reserved)
            gap = place.center() - point
            return 1000 * words + hidden, abs(gap.x()) + abs(gap.y())

        return min(places, key=cost) if places else QRectF(QPointF(area.left(), lowest), size)

    def _paint_mark(self, painter: QPainter, area: QRectF, line: float) -> None:
        point = QPointF(self._x(self._marked + 1), self._y(int(self._falling[self._marked])))
        painter.setPen(QPen(theme.colour("ink"), 1.4))
        painter.setBrush(theme.colour("ochre"))
        painter.drawEllipse(point, 5.0, 5.0)
        if self._card is None:
            return
        title, text = self._card
        bold = theme.ui_font(0.95, bold=True)
        width = (
            max(QFontMetricsF(bold).horizontalAdvance(title), QFontMetricsF(painter.font()).horizontalAdvance(text))
            + 20
        )
        card = self._card_place(point, QSizeF(min(width, 330), line * 2.9), area)
        painter.setPen(QPen(theme.colour("hairline"), 1))
        painter.setBrush(theme.colour("card"))
        painter.drawRoundedRect(card, 5, 5)
        painter.setPen(theme.colour("ink"))
        painter.setFont(bold)
        inside = card.adjusted(10, line * 0.2, -6, 0)
        painter.drawText(
            inside,
            Qt.AlignmentFlag.AlignTop,
            QFontMetricsF(bold).elidedText(title, Qt.TextElideMode.ElideRight, inside.width()),
        )
        painter.setFont(theme.ui_font(0.86))
        painter.setPen(theme.colour("muted"))
        painter.drawText(inside.adjusted(0, line * 1.3, 0, 0), Qt.AlignmentFlag.AlignTop, text)
