# SPDX-License-Identifier: GPL-3.0-or-later
"""The filters of the lens, a small plate each: changed, turned round and taken off where they stand."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

import numpy as np
from PyQt6.QtCore import QDate, Qt
from PyQt6.QtWidgets import QDateEdit, QHBoxLayout, QMenu, QWidget, QWidgetAction

from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action, Button, Chip
from jagged_lens.desktop.look.flow import FlowingRow
from jagged_lens.desktop.look.number_boxes import WholeBox
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.gather import NO_DATE, entries_but, entry_of, text_of_day, values_by_label
from jagged_lens.lens import CORPUS
from jagged_lens.project import Shown, said_values

_MOST = 40  # values in a menu
_ISO = Qt.DateFormat.ISODate


class FilterPlates(FlowingRow):
    """The plates in a row that wraps; nothing where the lens looks at all documents."""

    def __init__(self, bench: Shown) -> None:
        super().__init__()
        self._bench = bench
        self.plates: dict[str, Button] = {}

    def refresh(self) -> None:
        """Show the filters as they are now."""
        self.clear()
        self.plates = {}
        g = self._bench.recipe.gather
        self.row.addWidget(muted("In this lens"))
        for key, word in (("only", "only"), ("without", "not")):
            for name, values in self._by_label(key).items():
                words = f"{word} {said_values([(name, value) for value in values])}"
                self._plate(words, partial(self._label_menu, key, name))
        if g.since or g.until:
            self._plate(f"dated {g.since or '…'} to {g.until or '…'}", self._dates_menu)
        if g.least_words or g.most_words:
            most = f"{g.most_words:,}" if g.most_words else "…"
            self._plate(f"{g.least_words:,} to {most} words", self._words_menu)
        if g.holding:
            self._plate(f"containing {g.holding}", partial(self._plain_menu, {"holding": ""}))
        if g.sample:
            of = f" of each {g.sample_of}" if g.sample_of else ""
            self._plate(f"a sample of {g.sample:,}{of}", partial(self._plain_menu, {"sample": 0, "sample-of": ""}))
        add = self._plate("all documents" if not self.plates else "and …", self._add_menu)
        set_tip(add, "Narrow the lens by label, date or length")
        self.lay()

    def _by_label(self, key: str) -> dict[str, list[str]]:
        return values_by_label(getattr(self._bench.recipe.gather, key))

    def _plate(self, words: str, fill: Callable[[QMenu], None]) -> Button:
        button = Chip(words)
        set_tip(button, "Change, invert or remove this filter")
        menu = QMenu(button)
        _filled_when_shown(menu, fill)
        button.setMenu(menu)
        self.row.addWidget(button)
        self.plates[words] = button
        return button

    def _set(self, values: dict[str, object], words: str) -> None:
        recipe = self._bench.recipe.with_settings("gather", values)
        self._bench.change(self._bench.state.with_recipe(recipe), words)

    # Menus.

    def _label_menu(self, key: str, name: str, menu: QMenu) -> None:
        """The values of a label to tick; and to turn the filter round, or take it off."""
        label = next((one for one in self._bench.documents.labels() if one.name == name), None)
        chosen = self._by_label(key).get(name, [])
        counts = np.bincount(label.codes, minlength=len(label.values)) if label is not None else np.zeros(0, int)
        order = np.argsort(-counts, kind="stable")[:_MOST].tolist()
        for code in order:
            assert label is not None
            value = label.values[code]
            action = menu.addAction(f"{value or 'no value'}   {counts[code]:,}")
            assert action is not None
            action.setCheckable(True)
            action.setChecked(value in chosen)
            action.toggled.connect(partial(self._tick, key, name, value))
        if len(counts) > _MOST:
            more = menu.addAction(f"{len(counts) - _MOST:,} more in the settings")
            assert more is not None
            more.setEnabled(False)
        menu.addSeparator()
        menu.addAction("Not these" if key == "only" else "Only these", partial(self._turn, key, name))
        menu.addAction("Remove", partial(self._replace, key, name, []))

    def _tick(self, key: str, name: str, value: str, on: bool) -> None:
        values = self._by_label(key).get(name, [])
        self._replace(key, name, [*values, value] if on else [one for one in values if one != value])

    def _replace(self, key: str, name: str, values: list[str]) -> None:
        self._set({key: self._others(key, name) + [entry_of(name, value) for value in values]}, f"{key} {name}")

    def _others(self, key: str, name: str) -> list[str]:
        return entries_but(getattr(self._bench.recipe.gather, key), [name])

    def _turn(self, key: str, name: str) -> None:
        other = "without" if key == "only" else "only"
        entries = [entry_of(name, value) for value in self._by_label(key)[name]]
        self._set({key: self._others(key, name), other: self._others(other, name) + entries}, f"invert {name}")

    def _plain_menu(self, off: dict[str, object], menu: QMenu) -> None:
        menu.addAction("Remove", partial(self._set, off, "remove a filter"))

    def _dates_menu(self, menu: QMenu) -> None:
        corpus = self._bench.results.get(CORPUS)
        known = corpus.dates[corpus.dates != NO_DATE] if corpus is not None and len(corpus.dates) else np.zeros(0, int)
        if not len(known):
            nothing = menu.addAction("No document has a date")
            assert nothing is not None
            nothing.setEnabled(False)
            return
        g = self._bench.recipe.gather
        fields = []
        for given, usual in ((g.since, int(known.min())), (g.until, int(known.max()))):
            field = QDateEdit(QDate.fromString(given or text_of_day(usual), _ISO))
            field.setCalendarPopup(True)
            field.setDisplayFormat("yyyy-MM-dd")
            fields.append(field)

        def use() -> None:
            since, until = (field.date().toString(_ISO) for field in fields)
            self._set({"since": since, "until": until}, f"{since} to {until}")

        self._two(menu, fields, use, {"since": "", "until": ""})

    def _words_menu(self, menu: QMenu) -> None:
        g = self._bench.recipe.gather
        fields = []
        for value in (g.least_words, g.most_words):
            field = WholeBox()
            field.setRange(0, 10**8)
            field.setGroupSeparatorShown(True)
            field.setValue(value)
            fields.append(field)
        fields[1].setSpecialValueText("any number")

        def use() -> None:
            least, most = (field.value() for field in fields)
            self._set({"least-words": least, "most-words": most}, f"{least} to {most} words")

        self._two(menu, fields, use, {"least-words": 0, "most-words": 0})

    def _two(self, menu: QMenu, fields: Sequence[QWidget], use: Callable[[], None], off: dict[str, object]) -> None:
        holder = QWidget()
        row = QHBoxLayout(holder)
        for field, word in zip(fields, ("from", "to"), strict=True):
            row.addWidget(PlainLabel(word))
            field.setAccessibleName(word)
            row.addWidget(field)
        done = Action("Use")
        done.clicked.connect(menu.close)
        done.clicked.connect(use)
        row.addWidget(done)
        action = QWidgetAction(menu)
        action.setDefaultWidget(holder)
        menu.addAction(action)
        menu.addAction("Remove", partial(self._set, off, "remove a filter"))

    def _add_menu(self, menu: QMenu) -> None:
        for label in self._bench.documents.labels():
            inner = menu.addMenu(label.name)
            assert inner is not None
            _filled_when_shown(inner, partial(self._label_menu, "only", label.name))
        for words, fill in (("Dates", self._dates_menu), ("Words in a document", self._words_menu)):
            inner = menu.addMenu(words)
            assert inner is not None
            _filled_when_shown(inner, fill)


def _filled_when_shown(menu: QMenu, fill: Callable[[QMenu], None]) -> None:
    def again() -> None:
        menu.clear()
        fill(menu)

    menu.aboutToShow.connect(again)
