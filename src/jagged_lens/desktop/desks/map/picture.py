# SPDX-License-Identifier: GPL-3.0-or-later
"""A picture of a map with its legend, copied or saved."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from jagged_lens.desktop.desks.saving import drawing_path
from jagged_lens.desktop.look.plain import ask_choice, message
from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.desktop.plots.map_picture import LegendLine, as_image, save_picture

_SIZES = {"small, 900 pixels wide": 900, "usual, 1,600 pixels wide": 1600, "large, 3,200 pixels wide": 3200}

Shown = Callable[[], tuple[MapCanvas, list[LegendLine], str]]


def picture_menu(parent: QWidget, shown: Shown, fit: Callable[[], None]) -> QMenu:
    """A menu that copies or saves what is shown: the canvas, the lines of its legend, and what it says. fit: shows all of it."""
    menu = QMenu(parent)
    menu.addAction("Show all", fit)
    menu.addAction("Copy", lambda: _copy(shown))
    menu.addAction("Save as…", lambda: _save(parent, shown))
    return menu


def _copy(shown: Shown) -> None:
    clipboard = QApplication.clipboard()
    if clipboard is not None:
        clipboard.setImage(as_image(*shown(), _SIZES["usual, 1,600 pixels wide"]))


def _save(parent: QWidget, shown: Shown) -> None:
    names = list(_SIZES)
    size, chosen = ask_choice(parent, "Save the picture", "How large", names, 1, False)
    if not chosen:
        return
    path = drawing_path(parent, "map.png")
    if path is None:
        return
    try:
        save_picture(path, *shown(), _SIZES[size])
    except OSError as error:
        message(parent, f"{path.name} cannot be written ({error.strerror}).", "Choose another folder.").exec()
