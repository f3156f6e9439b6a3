# SPDX-License-Identifier: GPL-3.0-or-later
"""A control shows what it is before it is touched."""

from __future__ import annotations

import pytest
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtWidgets import QMenu, QWidget
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Action, Button, Choice, Switch, Tab
from jagged_lens.desktop.look.sheet import sheet


def contrast(one: str, other: str) -> float:
    def shine(name: str) -> float:
        parts = [
            part / 12.92 if part <= 0.03928 else ((part + 0.055) / 1.055) ** 2.4 for part in QColor(name).getRgbF()[:3]
        ]  # type: ignore[operator]
        return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]

    darker, lighter = sorted((shine(one), shine(other)))
    return (lighter + 0.05) / (darker + 0.05)


@pytest.mark.parametrize("look", [theme.LIGHT, theme.DARK])
@pytest.mark.parametrize("ground", ["paper", "card", "band"])
def test_the_edge_of_an_action_is_seen(look: theme.Theme, ground: str) -> None:
    assert contrast(look.edge, getattr(look, ground)) >= 3


def drawn(qtbot: QtBot, widget: QWidget) -> QImage:
    frame = QWidget()
    qtbot.addWidget(frame)
    frame.setStyleSheet(sheet(theme.now))
    widget.setParent(frame)
    widget.adjustSize()
    widget.show()
    frame.show()
    return widget.grab().toImage()


def inked(image: QImage, ink: str, left: int, right: int) -> int:
    """How many pixels between two columns are near an ink."""
    wanted = QColor(ink)
    near = 0
    for x in range(left, right):
        for y in range(image.height()):
            one = image.pixelColor(x, y)
            near += (
                abs(one.red() - wanted.red()) + abs(one.green() - wanted.green()) + abs(one.blue() - wanted.blue()) < 60
            )
    return near


def test_a_switch_has_a_tick_while_it_is_on_and_is_as_wide_either_way(qtbot: QtBot) -> None:
    off, on = Switch("Regions"), Switch("Regions", True)
    pictures = drawn(qtbot, off), drawn(qtbot, on)
    ticks = [inked(picture, theme.now.verdigris, 6, 20) for picture in pictures]
    assert ticks[0] == 0
    assert ticks[1] > 10
    assert abs(pictures[0].width() - pictures[1].width()) <= 1


def test_what_opens_a_menu_has_a_caret(qtbot: QtBot) -> None:
    plain, opens = Action("Save"), Action("Save")
    opens.setMenu(QMenu(opens))
    pictures = drawn(qtbot, plain), drawn(qtbot, opens)
    carets = [inked(picture, theme.now.ink, picture.width() - 17, picture.width() - 5) for picture in pictures]
    assert carets[1] > carets[0]
    assert pictures[1].width() > pictures[0].width()


def test_a_tab_has_a_line_below_it_while_it_is_in_front(qtbot: QtBot) -> None:
    behind, front = Tab("Pairs"), Tab("Pairs")
    front.setChecked(True)
    below = []
    for tab in (behind, front):
        picture = drawn(qtbot, tab)
        below.append(picture.pixelColor(picture.width() // 2, picture.height() - 2).name().upper())
    assert below[1] == theme.now.verdigris
    assert below[0] != theme.now.verdigris


def test_kinds_look_different(qtbot: QtBot) -> None:
    made: list[Button] = [Action("Copy"), Switch("Copy", True), Tab("Copy")]
    pictures = [drawn(qtbot, button) for button in made]
    assert all(one != other for at, one in enumerate(pictures) for other in pictures[at + 1 :])


def test_the_list_of_a_choice_cuts_none_of_its_entries(qtbot: QtBot) -> None:
    choice = Choice()
    qtbot.addWidget(choice)
    choice.addItems(["crop", "a label with a name that is longer than any column would be wide for it"])
    choice.show()
    choice.showPopup()
    view = choice.view()
    assert view is not None
    assert view.width() >= choice.fontMetrics().horizontalAdvance(choice.itemText(1))
    choice.hidePopup()
    narrow = choice.sizeHint().width()
    assert narrow < view.width()  # the control itself may cut what it shows
