# SPDX-License-Identifier: GPL-3.0-or-later
"""Cards and the labels that stand on them."""

from __future__ import annotations

from typing import TypeVar

from PyQt6.QtWidgets import QFrame, QVBoxLayout

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.plain import PlainLabel

AnyLabel = TypeVar("AnyLabel", bound=PlainLabel)


def muted_line(text: str = "") -> ElidedLabel:
    """One line that ends in dots where it has no room."""
    return _muted(ElidedLabel(text), 0.92)


def _muted(label: AnyLabel, scale: float) -> AnyLabel:
    label.setFont(theme.ui_font(scale))
    theme.tone(label, "muted")
    return label


def card() -> tuple[QFrame, QVBoxLayout]:
    """An empty card and the column inside it."""
    frame = QFrame()
    frame.setObjectName("card")
    column = QVBoxLayout(frame)
    column.setContentsMargins(14, 10, 14, 10)
    column.setSpacing(5)
    return frame, column


def heading(text: str, scale: float = 1.0) -> PlainLabel:
    label = PlainLabel(text)
    label.setFont(theme.ui_font(scale, bold=True))
    return label


def muted(text: str = "", scale: float = 0.92) -> PlainLabel:
    return _muted(PlainLabel(text), scale)
