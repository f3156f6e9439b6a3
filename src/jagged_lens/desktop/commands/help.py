# SPDX-License-Identifier: GPL-3.0-or-later
"""Commands that help: find anything by name, the keys, the tour, about."""

from __future__ import annotations

import html
from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QTextBrowser, QVBoxLayout

from jagged_lens.desktop.commands.command import Command, Reach
from jagged_lens.desktop.desks.terms.desk import TermsDesk
from jagged_lens.desktop.frame.finder import Finder, Found
from jagged_lens.desktop.frame.tour import Tour
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import Message, message
from jagged_lens.desktop.look.words import TITLES
from jagged_lens.desktop.look.worn import wear
from jagged_lens.desktop.sheets.about import about_text
from jagged_lens.desktop.sheets.guide import Guide, glossary
from jagged_lens.lens import SECTIONS, TERMS, shown_settings_of
from jagged_lens.sentences import value_words

_FORMULAS = {
    "gather": "What needs attention",
    "clean": "Tokens",
    "weigh": "Weights",
    "compare": "Similarity",
    "group": "Groups",
}


def show_finder(window: Reach) -> None:
    """Open the field that finds any command, document or term by its name."""

    def read(row: int) -> None:
        window.bench.pick.set([row])
        window.side.show_reader()

    def read_term(column: int) -> None:
        terms = show_term(window, column)
        terms.pick_documents(int(window.bench.results[TERMS].kept[column]))

    def found() -> list[Found]:
        return [
            Found("command", one.name, one.key, lambda one=one: one.does(window), one.help)  # type: ignore[misc]
            for one in window.commands
            if one.enabled(window)
        ] + [*_settings_found(window), *_words_found(window)]

    window.finder = Finder(window.bench, window.asker, found, read, read_term, window.take_keyboard, window)
    window.finder.show()
    window.finder.raise_()
    window.finder.field.setFocus()


def _settings_found(window: Reach) -> list[Found]:
    """Every setting, by its name and what it means; choosing one puts the keyboard into it."""
    found = []
    for section in SECTIONS:
        desk = {"suggest": "place", "run": "report"}.get(section, section)
        for key, setting in shown_settings_of(section).items():
            if setting.leaf:
                value = value_words(setting, getattr(getattr(window.bench.recipe, section), setting.name))
                found.append(
                    Found("setting", f"{TITLES[desk]}: {setting.label}", value, _into(window, desk, key), setting.help)
                )
    return found


def _words_found(window: Reach) -> list[Found]:
    """Every word of the glossary with its definition; choosing one opens the guide there."""
    return [
        Found("word", word, text, lambda word=word: show_guide(window, "guide", word))  # type: ignore[misc]
        for word, text in glossary().items()
    ]


def _into(window: Reach, desk: str, key: str) -> Callable[[], None]:
    def go() -> None:
        window.show_step(desk)
        window.side.show_settings()
        window.side.settings.focus(key)

    return go


def show_term(window: Reach, column: int) -> TermsDesk:
    """Go to a term (a column of the space) among all terms."""
    return go_to_term(window, int(window.bench.results[TERMS].kept[column]))


def go_to_term(window: Reach, row: int, shown: bool = True) -> TermsDesk:
    """Have the Terms desk go to a term (a row of the vocabulary); shown: and bring it to the front."""
    desk = window.desks["terms"]
    assert isinstance(desk, TermsDesk)
    if shown:
        window.show_step("terms")
    desk.prepare()
    desk.table_to(row)
    return desk


def key_list(window: Reach) -> list[tuple[str, str]]:
    """The keys of the desk in front, then those of all desks: key and what it does."""
    common = [(command.key, command.help) for command in window.commands if command.key]
    return [*window.desk.keys, *common, ("Esc", "Close the find bar, or clear the filter or the pick.")]


class _Keys(QDialog):
    """The keys of a desk; F1 once more goes on to the guide."""

    def __init__(self, parent: Reach) -> None:
        super().__init__(parent)
        wear(self)
        self.again: Callable[[], object] = self.close

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_F1:
            self.again()
        else:
            super().keyPressEvent(event)


def _show_keys(window: Reach) -> None:
    rows = "".join(
        f"<tr><td><b>{html.escape(key)}</b>&nbsp;&nbsp;&nbsp;</td><td>{html.escape(text)}</td></tr>"
        for key, text in key_list(window)
    )
    dialog = _Keys(window)
    dialog.setWindowTitle(f"Keys of {TITLES[window.step]}")
    column = QVBoxLayout(dialog)
    page = QTextBrowser()
    page.setAccessibleName("Keys")
    page.setHtml(f"<table cellpadding=2>{rows}</table>")
    column.addWidget(page)
    row = QHBoxLayout()
    row.addStretch(1)
    more = Action("Guide to this desk  (F1)")
    more.clicked.connect(dialog.close)
    more.clicked.connect(lambda: show_guide(window))
    row.addWidget(more)
    column.addLayout(row)
    dialog.again = more.click
    dialog.resize(int(window.fontMetrics().averageCharWidth() * 84), min(window.height() - 80, 640))
    dialog.open()
    window.keys_dialog = dialog


def show_guide(window: Reach, page: str = "guide", heading: str = "") -> None:
    """Open the guide at the desk in front, or another page of the documentation."""
    guide = window.guide if isinstance(window.guide, Guide) else Guide(window)
    window.guide = guide
    guide.show_page(page, heading or TITLES[window.step])
    guide.show()
    guide.raise_()


def _show_formulas(window: Reach) -> None:
    show_guide(window, "formulas", _FORMULAS.get(window.step, TITLES[window.step]))


def _about(window: Reach) -> None:
    text, licences = about_text()
    box = message(window, text, icon=Message.Icon.NoIcon)
    box.setWindowTitle("About Jagged Lens")
    box.setDetailedText(licences)
    box.open()
    window.about_box = box


def start_tour(window: Reach) -> None:
    """Five cards, from wherever we are; the map is brought to the front for it."""
    window.show_step("map")
    pointed = (window.spine, window.area, window.side, window.spine.steps["compare"], window.spine.lens)
    window.tour = Tour(window, pointed)
    window.tour.ended.connect(window.take_keyboard)


HELP = (
    Command("&Find a command, setting, document, term or word…", show_finder, "Ctrl+K", "Find anything by its name."),
    Command("&Keys of this desk", _show_keys, "F1", "List the keys of the desk in front."),
    Command("&Guide", show_guide, "", "Open the guide at this desk. F1 twice does the same."),
    Command("F&ormulas", _show_formulas, "", "Open the formulas at this step."),
    Command("&Tour", start_tour, "", "Five short cards that point at the parts of the window."),
    Command("&About", _about, "", "Version and licences.", rule=True),
)
