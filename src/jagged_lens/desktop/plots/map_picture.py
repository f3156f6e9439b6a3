"""A map with names, piles and legend as a picture of its own: pixels, or lines and areas."""

from __future__ import annotations

import errno
import os
from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QMarginsF, QRectF, QSize, QSizeF, Qt
from PyQt6.QtGui import QFontMetricsF, QImage, QPageSize, QPainter, QPdfWriter
from PyQt6.QtSvg import QSvgGenerator

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import letter_ink
from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.desktop.plots.map_sprites import Category

LegendLine = tuple[Category, int]
_LEGEND = 300.0  # of the picture's own units, which are the pixels of the window
_EDGE = 14.0


def as_image(canvas: MapCanvas, legend: Sequence[LegendLine], words: str, width: int) -> QImage:
    """The picture, so many pixels wide."""
    size = _size(canvas, legend)
    scale = width / size.width()
    image = QImage(width, round(size.height() * scale), QImage.Format.Format_ARGB32)
    painter = QPainter(image)
    painter.scale(scale, scale)
    _paint(painter, canvas, legend, words, scale > 1)
    painter.end()
    return image


def save_picture(path: Path, canvas: MapCanvas, legend: Sequence[LegendLine], words: str, width: int) -> None:
    """Write the picture; PNG, SVG or PDF by the ending of the file. OSError where it cannot be written."""
    size = _size(canvas, legend)
    ending = path.suffix.lower()
    with path.open("ab"):  # says by an OSError that the place cannot be written, which the writers below do not
        pass
    if ending == ".png":
        if not as_image(canvas, legend, words, width).save(str(path), "PNG"):
            raise OSError(errno.EIO, os.strerror(errno.EIO))
        return
    scale = width / size.width()
    if ending == ".svg":
        drawing = QSvgGenerator()
        drawing.setFileName(str(path))
        drawing.setSize(QSize(width, round(size.height() * scale)))
        drawing.setViewBox(QRectF(0, 0, width, size.height() * scale))
        drawing.setTitle(words)
        painter = QPainter(drawing)
    else:
        page = QPdfWriter(str(path))
        page.setResolution(96)
        page.setPageSize(QPageSize(QSizeF(width * 72 / 96, size.height() * scale * 72 / 96), QPageSize.Unit.Point))
        page.setPageMargins(QMarginsF(0, 0, 0, 0))
        page.setTitle(words)
        painter = QPainter(page)
    painter.scale(scale, scale)
    _paint(painter, canvas, legend, words, True)
    painter.end()


def _size(canvas: MapCanvas, legend: Sequence[LegendLine]) -> QSizeF:
    line = QFontMetricsF(theme.ui_font(0.92)).height() * 1.4
    return QSizeF(canvas.width() + _LEGEND, max(canvas.height(), _EDGE * 2 + line * (len(legend) + 2)))


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
    painter.drawText(QRectF(left, y + 8, width, line * 3), wrap, words)
