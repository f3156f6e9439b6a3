# SPDX-License-Identifier: GPL-3.0-or-later
"""The row of buttons above the map of documents."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction, QActionGroup
from PyQt6.QtWidgets import QMenu, QWidget

from jagged_lens.desktop.look.controls import Action, Button, ChoiceButton, Switch
from jagged_lens.desktop.look.flow import Flow
from jagged_lens.desktop.look.plain import add_heading, set_tip


class MapTools(QWidget):
    """The choices of what the map shows and in which colours. colour_chosen(name), titles_chosen(name): one of those offered."""

    colour_chosen = pyqtSignal(str)
    titles_chosen = pyqtSignal(str)

    def __init__(self, titles: Sequence[str]) -> None:
        """titles: the ways in which titles can be written; the first is the usual one."""
        super().__init__()
        row = Flow()
        self.setLayout(row)
        self.colour_button = ChoiceButton("Colour: group")
        set_tip(self.colour_button, "What the colours show")
        self.colour_menu = QMenu(self)
        self.colour_button.setMenu(self.colour_menu)
        self.regions_button = _toggle(
            "Regions",
            "Name the dense regions by their typical terms. A click picks their points",
            True,
        )
        self.titles_button = ChoiceButton("Titles")
        self.titles_button.setMenu(self._titles_menu(titles))
        set_tip(self.titles_button, "Text beside points, as far as there is room")
        self.trust_button = _toggle("Trust", "Draw points whose position cannot be trusted as rings", True)
        self.links_button = _toggle("Links", "Draw a line between the documents of each listed pair", False)
        self.loners_button = _toggle("Loners", "Mark documents without near neighbours in the space", False)
        self.rings_button = _toggle(
            "Around this", "Place all others around the document in the reader, at their exact dissimilarity", False
        )
        self.fit_button = Action("All")
        set_tip(self.fit_button, "Show the whole map (0)")
        for button in (
            self.colour_button,
            self.regions_button,
            self.titles_button,
            self.trust_button,
            self.links_button,
            self.loners_button,
            self.rings_button,
            self.fit_button,
        ):
            row.addWidget(button)

    def _titles_menu(self, titles: Sequence[str]) -> QMenu:
        menu = QMenu(self)
        self.names_action = QAction("Names of groups", menu)
        self.terms_action = QAction("Terms among their documents", menu)
        for action in (self.names_action, self.terms_action):
            action.setCheckable(True)
            menu.addAction(action)
        self.names_action.setChecked(True)
        add_heading(menu, "Titles of documents")
        self.title_actions = QActionGroup(menu)
        for name in titles:
            action = QAction(name, menu)
            action.setCheckable(True)
            action.setChecked(name == titles[0])
            action.triggered.connect(lambda _, name=name: self.titles_chosen.emit(name))
            self.title_actions.addAction(action)
            menu.addAction(action)
        return menu

    def offer_colours(self, choices: Sequence[tuple[str, str]], chosen: str) -> None:
        """Offer what can be coloured by: names, and the heading under which each stands."""
        self.colour_menu.clear()
        group = QActionGroup(self.colour_menu)
        under = ""
        for name, head in choices:
            if head != under:
                add_heading(self.colour_menu, head)
                under = head
            action = QAction(name, self.colour_menu)
            action.setCheckable(True)
            action.setChecked(name == chosen)
            action.triggered.connect(lambda _, name=name: self.colour_chosen.emit(name))
            group.addAction(action)
            self.colour_menu.addAction(action)


def _toggle(name: str, tip: str, on: bool) -> Button:
    button = Switch(name)
    button.setChecked(on)
    set_tip(button, tip)
    return button
