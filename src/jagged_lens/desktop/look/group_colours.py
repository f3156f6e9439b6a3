# SPDX-License-Identifier: GPL-3.0-or-later
"""The colours of groups in the look that is set, and their letters on them."""

from __future__ import annotations

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QColor, QPainter

from jagged_lens.desktop.look import theme
from jagged_lens.group import group_rgb, letter


def group_colour(number: int) -> QColor:
    """The colour of group `number`, from 0, in the look and for the readers that are set."""
    return QColor(*group_rgb(number, theme.now.dark, theme.colour_blind))


def letter_ink() -> QColor:
    """The colour of a group's letter on the group's colour."""
    return QColor("#15121B") if theme.now.dark else QColor("#FFFFFF")


def paint_letter(painter: QPainter, chip: QRect, group: int) -> None:
    """The letter of a group on its colour."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(group_colour(group))
    painter.drawRoundedRect(chip, 3, 3)
    painter.setPen(letter_ink())
    painter.setFont(theme.ui_font(0.9, bold=True))
    painter.drawText(chip, Qt.AlignmentFlag.AlignCenter, letter(group))
