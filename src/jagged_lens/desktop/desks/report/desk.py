# SPDX-License-Identifier: GPL-3.0-or-later
"""The Report desk: at the left what goes in, at the right the page as it will be."""

from __future__ import annotations

import dataclasses
import datetime
from functools import partial
from typing import Any

from PyQt6.QtCore import QMimeData, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QTextDocument
from PyQt6.QtWidgets import QApplication, QGridLayout, QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.report.entry_list import Changes, EntryList, changed_words, small_picture
from jagged_lens.desktop.desks.report.page_view import PageView
from jagged_lens.desktop.desks.report.pages import images_of, laid_out
from jagged_lens.desktop.desks.report.saving import report_piece
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import heading, muted
from jagged_lens.desktop.look.controls import Action, MainAction, Switch, TickBox, Way
from jagged_lens.desktop.look.flow import Flow
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.scrolled import scrolled
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.saving import Piece
from jagged_lens.desktop.sheets.entry_editor import EntryEditor
from jagged_lens.lens import ALWAYS, FAMILIES, HOLDING, PLACED, SUGGESTIONS, Part
from jagged_lens.project import (
    Drawing,
    Entry,
    Finding,
    Heading,
    Words,
    changed_figures,
    next_number,
    worded,
)
from jagged_lens.report import (
    PICKED,
    STANDING,
    STANDING_TITLES,
    Report,
    figures_of,
    html_of,
    markdown_of,
    report_of,
)

_SURE = "sure"


_Made = tuple[Report, list[QImage], dict[int, Changes], list[tuple[int, Drawing, QImage]]]


class ReportDesk(Desk):
    """go_wanted, renew_wanted, as_it_was_wanted: with the number of a finding: the way back to it, itself as it is now, its lens of then."""

    step = "report"
    needs = ALWAYS
    also = (HOLDING, FAMILIES, PLACED, SUGGESTIONS)
    reads_itself = True
    go_wanted = pyqtSignal(int)
    renew_wanted = pyqtSignal(int)
    as_it_was_wanted = pyqtSignal(int)

    def build(self) -> None:
        self.going_out.pin.hide()
        self.figures_only = Switch("Figures only")
        set_tip(self.figures_only, "Leave the texts of documents out of the report")
        self.figures_only.clicked.connect(lambda on: self.bench.set("report", "texts", not on))
        self.tools.addWidget(self.figures_only)
        split = QSplitter(Qt.Orientation.Horizontal)
        split.setChildrenCollapsible(False)
        split.addWidget(self._left())
        self.page = PageView()
        split.addWidget(self.page)
        split.setStretchFactor(0, 2)
        split.setStretchFactor(1, 3)
        self.body.addWidget(split, 1)
        self._document: QTextDocument | None = None
        self._report: Report | None = None
        self._keys_said: tuple[str, ...] = ()
        self._shown_state: tuple[object, ...] = ()
        self.bench.state_changed.subscribe(self._state_changed)
        self.keys = [
            ("P", "on any other desk: pin what is seen"),
            ("Return", "go back to where the finding was pinned"),
            ("F2", "change title and note, or the words"),
            ("Alt+↑ ↓", "move the entry up or down"),
            ("Delete", "remove the entry; Ctrl+Z brings it back"),
        ]

    def _left(self) -> QWidget:
        left = QWidget()
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 10, 0)
        column.setSpacing(6)
        head = QHBoxLayout()
        head.addWidget(heading("What goes in", 1.08))
        head.addStretch(1)
        self.add_text, self.add_heading = Action("Text…"), Action("Heading…")
        set_tip(self.add_text, "Add a paragraph of your own below the current entry")
        set_tip(self.add_heading, "Add a heading below the current entry")
        self.add_text.clicked.connect(partial(self._add, False))
        self.add_heading.clicked.connect(partial(self._add, True))
        head.addWidget(self.add_text)
        head.addWidget(self.add_heading)
        column.addLayout(head)
        self.none = muted(
            "Nothing is pinned yet. On any desk, press P or Pin to keep what you see. It is then listed here, with the way back to it."
        )
        self.none.setWordWrap(True)
        column.addWidget(self.none)
        self.list = EntryList()
        self.list.moved.connect(self._move)
        self.list.removed.connect(self._remove)
        self.list.edited.connect(self.edit)
        self.list.opened.connect(self._open)
        self.list.currentItemChanged.connect(lambda *_: self._say_current())
        column.addWidget(self.list, 1)
        self.changed = muted("", 0.95)
        self.changed.setWordWrap(True)
        column.addWidget(self.changed)
        column.addWidget(self._actions())
        column.addWidget(heading("Standing parts", 1.0))
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 0)
        self.boxes: dict[str, TickBox] = {}
        for at, name in enumerate(STANDING):
            box = self.boxes[name] = TickBox(STANDING_TITLES[name])
            if name == _SURE:
                box.setEnabled(False)
                set_tip(box, "A report always says how sure its figures are")
            box.clicked.connect(partial(self._tick, name))
            grid.addWidget(box, at // 2, at % 2)
        column.addLayout(grid)
        self._content, self._area = left, scrolled(left)
        self._give_room()
        theme.changed.connect(self._give_room)
        return self._area

    def _give_room(self) -> None:
        """As wide as what is in it must be: letters may have another size now."""
        self._area.setMinimumWidth(self._content.minimumSizeHint().width() + 14)

    def _actions(self) -> QWidget:
        buttons = QWidget()
        row = Flow()
        buttons.setLayout(row)
        self.go = MainAction("Go there")
        set_tip(self.go, "Bring lens, desk, face and pick back to where this was pinned (Return)")
        self.go.clicked.connect(lambda: self.go_wanted.emit(self.list.current_number()))
        self.renew = Action("Renew")
        set_tip(self.renew, "Go there, and pin it again as it is now")
        self.renew.clicked.connect(lambda: self.renew_wanted.emit(self.list.current_number()))
        self.as_it_was = Action("Lens as it was")
        set_tip(self.as_it_was, "Add a lens with the settings of then, and go there")
        self.as_it_was.clicked.connect(lambda: self.as_it_was_wanted.emit(self.list.current_number()))
        self.edit_button, self.remove_button = Way("Edit…"), Way("Remove")
        self.edit_button.clicked.connect(lambda: self.edit(self.list.current_number()))
        self.remove_button.clicked.connect(lambda: self._remove(self.list.current_number()))
        for button in (self.go, self.renew, self.as_it_was, self.edit_button, self.remove_button):
            row.addWidget(button)
        return buttons

    # What is shown.

    def _state_changed(self) -> None:
        state = self.bench.state
        if (state.report, state.recipe.report, state.lens.name, state.groups) != self._shown_state:
            self.look_again()

    def refresh(self) -> None:
        state, results = self.bench.state, self.bench.results
        self._shown_state = (state.report, state.recipe.report, state.lens.name, state.groups)
        self._keys_said = results.keys_of(self.also)
        settings = state.recipe.report
        self.figures_only.setChecked(not settings.texts)
        for name, box in self.boxes.items():
            box.setChecked(name not in settings.leave_out)
        self.list.show_entries(state.report)
        self._give_room()
        self.none.setVisible(not state.report)
        self.list.setVisible(bool(state.report))
        parts = sum(name not in settings.leave_out for name in STANDING)
        self.figures.setText(f"{amount(len(state.findings), 'finding')}, {amount(parts, 'standing part')}")
        self._say_current()
        names = self.bench.documents.group_names().given
        recipe, name, entries, day = state.recipe, state.lens.name, state.report, datetime.date.today().isoformat()

        lacking = self.list.lacking(state.findings)

        def made() -> _Made:
            report = report_of(recipe, results, names, name, entries, day)
            changes: dict[int, Changes] = {
                one.number: changed_figures(one.figures, figures_of(one.way, recipe, results, _is_of_pick(one)))
                for one in entries
                if isinstance(one, Finding) and one.lens == name
            }
            return report, images_of(report), changes, [(at, one, small_picture(one)) for at, one in lacking]

        self.asker.ask("report", made, self._show)

    def draw_part(self, part: Part[Any]) -> None:
        if self.bench.results.keys_of(self.also) != self._keys_said:
            self.look_again()

    def _show(self, answer: _Made) -> None:
        self._report, images, changes, pictures = answer
        self.list.take_pictures(pictures)
        self._document = laid_out(self._report, images)
        self.page.show_document(self._document)
        self.list.show_changes(changes)
        self._say_current()

    def _say_current(self) -> None:
        entry = self.list.current_entry()
        is_finding = isinstance(entry, Finding)
        changes = self.list.changes_of(entry.number) if entry is not None else ()
        self.changed.setText(f"Since it was pinned: {changed_words(changes)}." if changes else "")
        self.changed.setVisible(bool(changes))
        self.go.setVisible(is_finding)
        self.renew.setVisible(is_finding)
        self.as_it_was.setVisible(isinstance(entry, Finding) and self._lens_differs(entry))
        for button in (self.edit_button, self.remove_button):
            button.setVisible(entry is not None)

    def _lens_differs(self, finding: Finding) -> bool:
        """True if no lens has the name and the settings that the finding was seen with."""
        return not any(
            lens.name == finding.lens
            and dataclasses.replace(lens.recipe, report=finding.recipe.report) == finding.recipe
            for lens in self.bench.state.lenses
        )

    def take_focus(self) -> None:
        # By the state, not by what is seen: the desk may be drawn for the first time only after this.
        (self.list if self.bench.state.report else self.page).setFocus(Qt.FocusReason.OtherFocusReason)

    # What is done.

    def _entry(self, number: int) -> Entry | None:
        return next((entry for entry in self.bench.state.report if entry.number == number), None)

    def _open(self, number: int) -> None:
        if isinstance(self._entry(number), Finding):
            self.go_wanted.emit(number)
        else:
            self.edit(number)

    def _move(self, number: int, to: int) -> None:
        self.bench.change(self.bench.state.with_entry_moved(number, to), "move in the report")

    def _remove(self, number: int) -> None:
        if number >= 0:
            self.bench.change(self.bench.state.without_entry(number), "remove from the report")

    def _tick(self, name: str, on: bool) -> None:
        out = [one for one in self.bench.recipe.report.leave_out if one != name]
        self.bench.set("report", "leave-out", out if on else [*out, name])

    def _add(self, is_heading: bool) -> None:
        def done(line: str, text: str) -> None:
            state = self.bench.state
            number = next_number(state.report)
            entry: Entry = Heading(number, line) if is_heading else Words(number, text)
            at = self.list.currentRow() + 1 if self.list.isVisible() else None
            self.bench.change(state.with_entry(entry, at), "add to the report")

        title = "Heading" if is_heading else "Paragraph"
        empty: tuple[str | None, str | None] = ("", None) if is_heading else (None, "")
        self.editor = EntryEditor(title, *empty, done, self.window() or self, "Heading", "Text")
        self.editor.open()

    def edit(self, number: int) -> None:
        """Have title and note of a finding changed, or the words of another entry."""
        entry = self._entry(number)
        if entry is None:
            return

        def done(line: str, text: str) -> None:
            own = self._entry(number)
            if isinstance(own, Finding):
                new: Entry = worded(own, line) if line != own.title else own
                assert isinstance(new, Finding)
                new = new.noted(text)
            elif own is not None:
                new = worded(own, line if isinstance(own, Heading) else text)
            else:
                return
            self.bench.change(self.bench.state.with_entry_changed(new), "edit the report")

        if isinstance(entry, Finding):
            self.editor = EntryEditor("Finding", entry.title, entry.note, done, self.window() or self)
        elif isinstance(entry, Heading):
            self.editor = EntryEditor("Heading", entry.text, None, done, self.window() or self, "Heading")
        else:
            self.editor = EntryEditor("Paragraph", None, entry.text, done, self.window() or self, "", "Text")
        self.editor.open()

    # What goes out.

    def own_pieces(self) -> list[Piece]:
        report = self._report
        return [report_piece(lambda: report, self._copy)] if report is not None else []

    def _copy(self) -> str:
        clipboard = QApplication.clipboard()
        if clipboard is None or self._report is None:
            return ""
        data = QMimeData()
        data.setHtml(html_of(self._report))
        data.setText(markdown_of(self._report, "report")[0])
        clipboard.setMimeData(data)
        return "The report was copied."


def _is_of_pick(finding: Finding) -> bool:
    """True if figures of the picked documents are among those of a finding."""
    return any(name == PICKED for name, _ in finding.figures)
