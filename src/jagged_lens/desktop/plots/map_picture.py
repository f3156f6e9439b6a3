# SPDX-License-Identifier: GPL-3.0-or-later
"""A map with names, piles and legend as a picture of its own: pixels, or lines and areas."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QFontMetricsF, QImage, QPainter

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import letter_ink
from jagged_lens.desktop.plots.drawing_file import Painting, drawn_image
from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.desktop.plots.map_sprites import Category

LegendLine = tuple[Category, int]
_LEGEND = 300.0  # of the picture's own units, which are the pixels of the window
_EDGE = 14.0
_MANY = 4_000  # points beyond which a picture in a report is made of pixels
_LINES, _LINES_BELOW = 9, 3  # of words below the legend


def painting_of(canvas: MapCanvas, legend: Sequence[LegendLine], words: str, below: bool = False) -> Painting:
    """The picture, to be painted. below: with its legend below it, for a page that is not wide."""
    return Painting(
        _size(canvas, legend, below),
        lambda painter, shapes: _paint(painter, canvas, legend, words, shapes, below),
        words,
        len(canvas.positions) > _MANY,
    )


def as_image(canvas: MapCanvas, legend: Sequence[LegendLine], words: str, width: int) -> QImage:
    """The picture, so many pixels wide."""
    painting = painting_of(canvas, legend, words)
    return drawn_image(painting.size, width, painting.paint)


def _line() -> float:
    return QFontMetricsF(theme.ui_font(0.92)).height() * 1.4


def _across(canvas: MapCanvas) -> int:
    """The columns of a legend below the picture."""
    return max(int(canvas.width() // _LEGEND), 1)


def _size(canvas: MapCanvas, legend: Sequence[LegendLine], below: bool) -> QSizeF:
    line = _line()
    if below:
        lines = -(-len(legend) // _across(canvas)) + _LINES_BELOW
        return QSizeF(canvas.width(), canvas.height() + _EDGE * 2 + line * lines)
    return QSizeF(canvas.width() + _LEGEND, max(canvas.height(), _EDGE * 2 + line * (len(legend) + _LINES)))


def _paint(
    painter: QPainter, canvas: MapCanvas, legend: Sequence[LegendLine], words: str, shapes: bool, below: bool
) -> None:
    size = _size(canvas, legend, below)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.fillRect(QRectF(0, 0, size.width(), size.height()), theme.colour("paper"))
    painter.save()
    painter.setClipRect(QRectF(0, 0, canvas.width(), canvas.height()))
    canvas.paint(painter, shapes)
    painter.restore()
    across = _across(canvas) if below else 1
    down = -(-len(legend) // across)
    column = canvas.width() / across if below else _LEGEND
    start, top = (0.0, canvas.height() + _EDGE) if below else (float(canvas.width()), _EDGE)
    for number in range(across):
        place = QPointF(start + number * column + _EDGE, top)
        _paint_lines(painter, legend[number * down : (number + 1) * down], place, column - 2 * _EDGE)
    painter.setPen(theme.colour("muted"))
    painter.setFont(theme.ui_font(0.85))
    wrap = int(Qt.AlignmentFlag.AlignLeft) | int(Qt.TextFlag.TextWordWrap)
    wide = (canvas.width() if below else _LEGEND) - 2 * _EDGE
    lines = _LINES_BELOW if below else _LINES
    painter.drawText(QRectF(start + _EDGE, top + down * _line() + 8, wide, _line() * lines), wrap, words)


def _paint_lines(painter: QPainter, legend: Sequence[LegendLine], place: QPointF, width: float) -> None:
    """Lines of the legend below each other."""
    left, y = place.x(), place.y()
    font, bold = theme.ui_font(0.92), theme.ui_font(0.8, bold=True)
    metrics = QFontMetricsF(font)
    line = metrics.height() * 1.4
    for one, count in legend:
        chip = max(line - 6, QFontMetricsF(bold).horizontalAdvance(one.letter) + 7)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(one.colour)
        painter.drawRoundedRect(QRectF(left, y + 3, chip, line - 6), 3, 3)
        if one.letter:
            painter.setPen(letter_ink())
            painter.setFont(bold)
            painter.drawText(QRectF(left, y + 3, chip, line - 6), Qt.AlignmentFlag.AlignCenter, one.letter)
        painter.setFont(font)
        painter.setPen(theme.colour("ink"))
        name = metrics.elidedText(one.name, Qt.TextElideMode.ElideRight, width - chip - 60)
        painter.drawText(QRectF(left + chip + 8, y, width - chip - 60, line), Qt.AlignmentFlag.AlignVCenter, name)
        painter.setPen(theme.colour("muted"))
        right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
        painter.drawText(QRectF(left, y, width, line), right, f"{count:,}")
        y += line
