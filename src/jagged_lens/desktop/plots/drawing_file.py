# SPDX-License-Identifier: GPL-3.0-or-later
"""A picture that is painted, as an image or as a file of pixels or of lines and areas."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF, QRectF, QSize, QSizeF
from PyQt6.QtGui import QImage, QPageSize, QPainter, QPdfWriter
from PyQt6.QtSvg import QSvgGenerator

from jagged_lens.named_file import write_whole

_MOST_SHAPES = 1_500_000  # bytes of a drawing of lines and areas, beyond which pixels are smaller
ENDINGS = {"PNG picture (*.png)": ".png", "SVG drawing (*.svg)": ".svg", "PDF page (*.pdf)": ".pdf"}
Paint = Callable[[QPainter, bool], None]
"""Paints it, in its own units; told whether as shapes, or as what is quickest on pixels of its own size."""


@dataclass(frozen=True)
class Painting:
    """A picture that can be painted. size: in its own units. title: what it shows. many: whether it is of so many shapes that pixels do
    as well."""

    size: QSizeF
    paint: Paint
    title: str
    many: bool = False


def as_svg(painting: Painting) -> str:
    """The picture as lines and areas, an SVG document; "" where it would be very long."""
    if painting.many:
        return ""
    written = QBuffer()
    written.open(QIODevice.OpenModeFlag.WriteOnly)
    _draw(written, True, painting.size, round(painting.size.width()), painting.title, painting.paint)
    content = written.data().data()
    return "" if len(content) > _MOST_SHAPES else content.decode("utf-8", "replace")


def as_png(painting: Painting, width: int) -> bytes:
    """The picture as PNG, so many pixels wide."""
    written = QBuffer()
    written.open(QIODevice.OpenModeFlag.WriteOnly)
    drawn_image(painting.size, width, painting.paint).save(written, "PNG")
    return written.data().data()


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
    """Write the picture; PNG, SVG or PDF by the ending of the file. OSError where it cannot be written; what was there before
    then stays."""
    if path.suffix.lower() == ".png":
        save_image(path, drawn_image(size, width, paint))
    else:
        _save(path, lambda to: _draw(to, path.suffix.lower() == ".svg", size, width, title, paint))


def save_image(path: Path, image: QImage) -> None:
    """Write an image as PNG. OSError where it cannot be written; what was there before then stays."""
    _save(path, lambda to: image.save(to, "PNG"))


def _save(path: Path, draw: Callable[[QBuffer], object]) -> None:
    """Write what is drawn into memory first: Qt's own writers do not say that a disk is full."""
    written = QBuffer()
    written.open(QIODevice.OpenModeFlag.WriteOnly)
    draw(written)
    write_whole(path, lambda beside: _write(beside, written))


def _write(path: Path, written: QBuffer) -> None:
    path.write_bytes(written.data().data())


def _draw(to: QIODevice, svg: bool, size: QSizeF, width: int, title: str, paint: Paint) -> None:
    """Paint as lines and areas."""
    scale = width / size.width()
    device: QSvgGenerator | QPdfWriter
    if svg:
        device = QSvgGenerator()
        device.setResolution(96)  # as the window has it: at any other, letters have another size than their plates
        device.setOutputDevice(to)
        device.setSize(QSize(width, round(size.height() * scale)))
        device.setViewBox(QRectF(0, 0, width, size.height() * scale))
    else:
        device = QPdfWriter(to)
        device.setResolution(96)
        device.setPageSize(QPageSize(QSizeF(width * 72 / 96, size.height() * scale * 72 / 96), QPageSize.Unit.Point))
        device.setPageMargins(QMarginsF(0, 0, 0, 0))
    device.setTitle(title)
    painter = QPainter(device)
    painter.scale(scale, scale)
    paint(painter, True)
    painter.end()
