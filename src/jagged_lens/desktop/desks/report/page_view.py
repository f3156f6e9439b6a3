# SPDX-License-Identifier: GPL-3.0-or-later
"""The page as it will be: the pages of a report below each other, as wide as there is room."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen, QResizeEvent, QTextDocument
from PyQt6.QtWidgets import QAbstractScrollArea, QWidget

from jagged_lens.desktop.desks.report.pages import PAGE, paint_page
from jagged_lens.desktop.look import theme

_GAP = 14
_KEYS = {Qt.Key.Key_Home: 0.0, Qt.Key.Key_End: 1.0}


class PageView(QAbstractScrollArea):
    """Shows a document of pages, and is scrolled through with wheel and keys."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("The page as it will be")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setMinimumWidth(260)
        self.document: QTextDocument | None = None
        theme.changed.connect(self._draw_again)

    def _draw_again(self) -> None:
        port = self.viewport()
        if port is not None:
            port.update()

    def sizeHint(self) -> QSize:
        return QSize(460, 600)

    def show_document(self, document: QTextDocument) -> None:
        """Show other pages, at the place where the others were."""
        self.document = document
        self._fit()
        self._draw_again()

    @property
    def _scale(self) -> float:
        port = self.viewport()
        assert port is not None
        return max(min((port.width() - 2 * _GAP) / PAGE.width(), 1.1), 0.1)

    def _fit(self) -> None:
        bar, port = self.verticalScrollBar(), self.viewport()
        assert bar is not None
        assert port is not None
        pages = self.document.pageCount() if self.document is not None else 0
        high = round(pages * (PAGE.height() * self._scale + _GAP) + _GAP)
        bar.setRange(0, max(high - port.height(), 0))
        bar.setPageStep(port.height())
        bar.setSingleStep(40)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        bar = self.verticalScrollBar()
        assert bar is not None
        if event is not None and event.key() in _KEYS:
            bar.setValue(round(bar.maximum() * _KEYS[Qt.Key(event.key())]))
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        port, bar = self.viewport(), self.verticalScrollBar()
        assert port is not None
        assert bar is not None
        painter = QPainter(port)
        painter.fillRect(port.rect(), theme.colour("band"))
        if self.document is None:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        scale = self._scale
        left = (port.width() - PAGE.width() * scale) / 2
        for page in range(self.document.pageCount()):
            top = _GAP + page * (PAGE.height() * scale + _GAP) - bar.value()
            if top > port.height() or top + PAGE.height() * scale < 0:
                continue
            painter.save()
            painter.translate(left, top)
            painter.scale(scale, scale)
            sheet = QRectF(0, 0, PAGE.width(), PAGE.height())
            painter.fillRect(sheet, QColor("white"))  # paper is white in the dark look too, as it will be printed
            painter.setPen(QPen(theme.colour("hairline"), 1))
            painter.drawRect(sheet)
            painter.setClipRect(sheet)
            paint_page(painter, self.document, page)
            painter.restore()
