# SPDX-License-Identifier: GPL-3.0-or-later
"""A picture of a map with its legend, as a piece that can leave the window."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QApplication

from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.desktop.plots.map_picture import LegendLine, as_image, painting_of
from jagged_lens.desktop.saving import Piece, picture_kinds

_COPIED = 1_600  # pixels wide

Shown = Callable[[], tuple[MapCanvas, list[LegendLine], str]]


def picture_piece(shown: Shown) -> Piece:
    """The picture of what is shown: the canvas, the lines of its legend, and what it says."""
    return Piece(
        "This picture with its legend",
        "map",
        picture_kinds(lambda: painting_of(*shown())),
        partial(_copy, shown),
        lambda: painting_of(*shown(), below=True),
    )


def _copy(shown: Shown) -> str:
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    clipboard.setImage(as_image(*shown(), _COPIED))
    return "The picture was copied, with its legend."
