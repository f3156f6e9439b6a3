"""A picture that is painted, as an image or as a file of pixels or of lines and areas."""

from __future__ import annotations

import errno
import os
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QMarginsF, QRectF, QSize, QSizeF
from PyQt6.QtGui import QImage, QPageSize, QPainter, QPdfWriter
from PyQt6.QtSvg import QSvgGenerator

ENDINGS = {"PNG picture (*.png)": ".png", "SVG drawing (*.svg)": ".svg", "PDF page (*.pdf)": ".pdf"}
Paint = Callable[[QPainter, bool], None]
"""Paints it, in its own units; told whether as shapes, or as what is quickest on pixels of its own size."""


def drawn_image(size: QSizeF, width: int, paint: Paint) -> QImage:
    """The picture, so many pixels wide. size: in its own units."""
    scale = width / size.width()
    image = QImage(width, round(size.height() * scale), QImage.Format.Format_ARGB32)
    painter = QPainter(image)
    painter.scale(scale, scale)
    paint(painter, scale > 1)
    painter.end()
    return image


def save_drawing(path: Path, size: QSizeF, width: int, title: str, paint: Paint) -> None:
    """Write the picture; PNG, SVG or PDF by the ending of the file. OSError where it cannot be written."""
    with path.open("ab"):  # says by an OSError that the place cannot be written, which the writers below do not
        pass
    if path.suffix.lower() == ".png":
        if not drawn_image(size, width, paint).save(str(path), "PNG"):
            raise OSError(errno.EIO, os.strerror(errno.EIO))
        return
    scale = width / size.width()
    if path.suffix.lower() == ".svg":
        drawing = QSvgGenerator()
        drawing.setFileName(str(path))
        drawing.setSize(QSize(width, round(size.height() * scale)))
        drawing.setViewBox(QRectF(0, 0, width, size.height() * scale))
        drawing.setTitle(title)
        painter = QPainter(drawing)
    else:
        page = QPdfWriter(str(path))
        page.setResolution(96)
        page.setPageSize(QPageSize(QSizeF(width * 72 / 96, size.height() * scale * 72 / 96), QPageSize.Unit.Point))
        page.setPageMargins(QMarginsF(0, 0, 0, 0))
        page.setTitle(title)
        painter = QPainter(page)
    painter.scale(scale, scale)
    paint(painter, True)
    painter.end()
