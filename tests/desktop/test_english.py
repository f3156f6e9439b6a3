# SPDX-License-Identifier: GPL-3.0-or-later
"""The window speaks plain English, as far as a check can hear: every face is walked, and every sentence searched."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractButton,
    QComboBox,
    QLabel,
    QLineEdit,
    QTableView,
    QWidget,
)

from jagged_lens.desktop.look.controls import Tab
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import CORPUS
from plain_english import faults_of

Settle = Callable[[MainWindow], None]


def _sentences(whole: QWidget) -> Iterator[str]:
    """Every text of the widgets below one that a user can see, hover over or hear."""
    for one in [whole, *whole.findChildren(QWidget)]:
        yield one.toolTip()
        yield one.accessibleName()
        yield one.accessibleDescription()
        if isinstance(one, QLabel | QAbstractButton):
            yield one.text()
        if isinstance(one, QLineEdit):
            yield one.placeholderText()
        if isinstance(one, QComboBox):
            yield from (one.itemText(at) for at in range(one.count()))
        if isinstance(one, QTableView) and (model := one.model()) is not None:
            for column in range(model.columnCount()):
                for role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
                    yield str(model.headerData(column, Qt.Orientation.Horizontal, role) or "")
    for action in whole.actions():
        yield action.text()
        yield action.toolTip()


def test_every_face_speaks_plain_english(window: MainWindow, settle: Settle) -> None:
    heard: set[str] = set()

    def listen() -> None:
        settle(window)
        heard.update(_sentences(window))

    for step, desk in window.desks.items():
        window.show_step(step)
        listen()
        for tab in [one for one in desk.findChildren(Tab) if one.isVisible()]:
            tab.click()
            listen()
        window.side.show_settings()
        listen()
    for command in window.commands:
        heard.update((command.name.replace("&", ""), command.help))
    corpus: Any = window.bench.results[CORPUS]
    texts = "\n".join([*corpus.titles, *corpus.texts])
    own = {
        one
        for one in heard
        if one
        and one not in texts
        and not any(title in one for title in corpus.titles)
        and not one.startswith("Parts: ")
    }
    assert len(own) > 600
    faults = sorted(f"{fault} in “{one}”" for one in own for fault in faults_of(one))
    assert not faults, "\n".join(faults)
