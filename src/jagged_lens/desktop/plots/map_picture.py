# SPDX-License-Identifier: GPL-3.0-or-later
"""A map with names, piles and legend as a picture of its own: pixels, or lines and areas."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QRectF, QSizeF, Qt
from PyQt6.QtGui import QFontMetricsF, QImage, QPainter

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import letter_ink
from jagged_lens.desktop.plots.drawing_file import Painting, drawn_image, save_drawing
from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.desktop.plots.map_sprites import Category

LegendLine = tuple[Category, int]
_LEGEND = 300.0  # of the picture's own units, which are the pixels of the window
_EDGE = 14.0
_MANY = 4_000  # points beyond which a picture in a report is made of pixels
_LINES = 9  # of words below the legend


def painting_of(canvas: MapCanvas, legend: Sequence[LegendLine], words: str) -> Painting:
    """The picture, to be painted."""
    return Painting(
        _size(canvas, legend),
        lambda painter, shapes: _paint(painter, canvas, legend, words, shapes),
        words,
        len(canvas.positions) > _MANY,
    )


def as_image(canvas: MapCanvas, legend: Sequence[LegendLine], words: str, width: int) -> QImage:
    """The picture, so many pixels wide."""
    painting = painting_of(canvas, legend, words)
    return drawn_image(painting.size, width, painting.paint)


def save_picture(path: Path, canvas: MapCanvas, legend: Sequence[LegendLine], words: str, width: int) -> None:
    """Write the picture; PNG, SVG or PDF by the ending of the file. OSError where it cannot be written."""
    painting = painting_of(canvas, legend, words)
    save_drawing(path, painting.size, width, words, painting.paint)


def _size(canvas: MapCanvas, legend: Sequence[LegendLine]) -> QSizeF:
    line = QFontMetricsF(theme.ui_font(0.92)).height() * 1.4
    return QSizeF(canvas.width() + _LEGEND, max(canvas.height(), _EDGE * 2 + line * (len(legend) + _LINES)))


def _paint(painter: QPainter, canvas: MapCanvas, legend: Sequence[LegendLine], words: str, shapes: bool) -> None:
    size = _size(canvas, legend)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.fillRect(QRectF(0, 0, size.width(), size.height()), theme.colour("paper"))
    painter.save()
    painter.setClipRect(QRectF(0, 0, canvas.width(), canvas.height()))
    canvas.paint(painter, shapes)
    painter.restore()
    font, bold = theme.ui_font(0.92), theme.ui_font(0.8, bold=True)
    metrics = QFontMetricsF(font)
    line = metrics.height() * 1.4
    left = canvas.width() + _EDGE
    width = _LEGEND - 2 * _EDGE
    y = _EDGE
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
    painter.setPen(theme.colour("muted"))
    painter.setFont(theme.ui_font(0.85))
    wrap = int(Qt.AlignmentFlag.AlignLeft) | int(Qt.TextFlag.TextWordWrap)
    painter.drawText(QRectF(left, y + 8, width, line * _LINES), wrap, words)
