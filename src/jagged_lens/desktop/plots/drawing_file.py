# SPDX-License-Identifier: GPL-3.0-or-later
"""A picture that is painted, as an image or as a file of pixels or of lines and areas."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QRectF, QSize, QSizeF, Qt
from PyQt6.QtGui import QImage, QPageSize, QPainter, QPdfWriter
from PyQt6.QtSvg import QSvgGenerator, QSvgRenderer

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
    width = round(painting.size.width())
    content = in_memory(lambda to: _draw(to, True, painting.size, width, painting.title, painting.paint))
    return "" if len(content) > _MOST_SHAPES else content.decode("utf-8", "replace")


def as_png(painting: Painting, width: int) -> bytes:
    """The picture as PNG, so many pixels wide."""
    return png_of(drawn_image(painting.size, width, painting.paint))


def png_of(image: QImage) -> bytes:
    """An image as PNG."""
    return in_memory(lambda to: image.save(to, "PNG"))


def image_of_svg(svg: str, largest: QSizeF, ground: Qt.GlobalColor) -> QImage:
    """A drawing as an image as large as it can be within a size; a null image where it is no drawing. Any thread may call it."""
    renderer = QSvgRenderer(QByteArray(svg.encode("utf-8", "replace")))
    size = renderer.viewBoxF().size()
    if not renderer.isValid() or size.isEmpty():
        return QImage()
    size.scale(largest, Qt.AspectRatioMode.KeepAspectRatio)
    image = QImage(size.toSize(), QImage.Format.Format_ARGB32)
    image.fill(ground)
    painter = QPainter(image)
    renderer.render(painter)
    painter.end()
    return image


def in_memory(draw: Callable[[QBuffer], object]) -> bytes:
    """The bytes that are drawn into memory: Qt's own writers do not say that a disk is full."""
    written = QBuffer()
    written.open(QIODevice.OpenModeFlag.WriteOnly)
    draw(written)
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
    content = in_memory(draw)
    write_whole(path, lambda beside: beside.write_bytes(content))


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
