# SPDX-License-Identifier: GPL-3.0-or-later
"""A picture of a map with its legend, as a piece that can leave the window."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QApplication, QWidget

from jagged_lens.desktop.desks.going_out import Piece
from jagged_lens.desktop.look.plain import ask_choice
from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.desktop.plots.map_picture import LegendLine, as_image, painting_of, save_picture
from jagged_lens.desktop.saving import drawing_path, save_drawn

_SIZES = {"small, 900 pixels wide": 900, "usual, 1,600 pixels wide": 1600, "large, 3,200 pixels wide": 3200}

Shown = Callable[[], tuple[MapCanvas, list[LegendLine], str]]


def picture_piece(parent: QWidget, shown: Shown) -> Piece:
    """The picture of what is shown: the canvas, the lines of its legend, and what it says."""
    return Piece(
        "This picture with its legend (PNG, SVG, PDF)",
        partial(_save, parent, shown),
        partial(_copy, shown),
        lambda: painting_of(*shown(), below=True),
    )


def _copy(shown: Shown) -> str:
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    clipboard.setImage(as_image(*shown(), _SIZES["usual, 1,600 pixels wide"]))
    return "The picture was copied, with its legend."


def _save(parent: QWidget, shown: Shown) -> None:
    names = list(_SIZES)
    size, chosen = ask_choice(parent, "Save the picture", "Size of the picture", names, 1, False)
    if not chosen:
        return
    path = drawing_path(parent, "map.png")
    if path is None:
        return
    save_drawn(parent, path, lambda beside: save_picture(beside, *shown(), _SIZES[size]))
