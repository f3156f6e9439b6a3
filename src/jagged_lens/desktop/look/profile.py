# SPDX-License-Identifier: GPL-3.0-or-later
"""The profile of a lens as a small picture: the row of its teeth."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPixmap, QPolygonF

from jagged_lens.desktop.look import theme
from jagged_lens.lens import STEPS


def profile_picture(shares: Sequence[float] | None) -> QPixmap:
    """A profile as a small picture; a hairline where it is not known yet."""
    picture = QPixmap(28, 36)
    picture.fill(theme.colour("spine"))
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    paint_profile(painter, QRectF(3, 3, 22, 30), list(shares or [0.0] * len(STEPS)))
    painter.end()
    return picture


def paint_profile(painter: QPainter, area: QRectF, shares: list[float]) -> None:
    """The row of teeth, small: one triangle a step."""
    painter.save()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("gold"))
    height = area.height() / len(shares)
    for place, share in enumerate(shares):
        top = area.top() + place * height
        tip = area.left() + max(share, 0.06) * area.width()
        painter.drawPolygon(
            QPolygonF(
                [
                    QPointF(area.left(), top + 0.5),
                    QPointF(tip, top + height / 2),
                    QPointF(area.left(), top + height - 0.5),
                ]
            )
        )
    painter.restore()
