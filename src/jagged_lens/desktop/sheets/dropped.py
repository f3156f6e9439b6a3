# SPDX-License-Identifier: GPL-3.0-or-later
"""The sheet for several files at once: a line each, with what was taken for what."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QVBoxLayout, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import PlainLabel, without_icons
from jagged_lens.desktop.look.words import BY_PROSE, amount, listed_roles
from jagged_lens.desktop.look.worn import wear
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.gather import Means, Proposed, Source, proposed


class DroppedSheet(QDialog):
    """Proposes sources. `done` gets those that stay; `change` opens one on its own sheet."""

    def __init__(
        self,
        sources: Sequence[Source],
        means: Means,
        asker: Asker,
        done: Callable[[list[Source]], None],
        change: Callable[[Source, Callable[[Source], None]], None],
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        wear(self)
        self.setWindowTitle("Add documents")
        self._asker, self._means = asker, means
        self._done, self._change_wanted = done, change
        self.found = [Proposed(source, None) for source in sources]
        column = QVBoxLayout(self)
        self.said = PlainLabel("Looking …")
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        self.table = TableView("Files to add")
        self.table.row_changed.connect(lambda _: self._offer())
        column.addWidget(self.table, 1)
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        without_icons(self.buttons)
        self.main = self._button("Add", QDialogButtonBox.ButtonRole.AcceptRole, self._accept)
        self.main.be_main()
        self.main.setDefault(True)
        self.change = self._button("Change…", QDialogButtonBox.ButtonRole.ActionRole, self._change)
        self.leave_out = self._button("Skip", QDialogButtonBox.ButtonRole.ActionRole, self._leave_out)
        self.buttons.rejected.connect(self.reject)
        column.addWidget(self.buttons)
        wide = self.fontMetrics().averageCharWidth()
        self.resize(min(wide * 116, parent.width() - 60), min(wide * 62, parent.height() - 60))
        self._show()
        asker.ask_stoppable("dropped files", lambda progress: proposed(sources, means, progress), self._know)

    def _button(self, words: str, role: QDialogButtonBox.ButtonRole, does: Callable[[], None]) -> Action:
        button = Action(words)
        self.buttons.addButton(button, role)
        button.setAutoDefault(False)
        button.clicked.connect(does)
        return button

    def _know(self, found: list[Proposed]) -> None:
        self.found = found
        self._show()

    def _show(self) -> None:
        found = self.found
        columns = [
            Column("Source", lambda row: found[row].source.name, searched=True),
            Column("Type", lambda row: _kind(found[row])),
            Column("Read as", lambda row: _taken(found[row]), ink=lambda row: "madder" if found[row].problem else None),
        ]
        self.table.show_rows(columns, len(found), 2)
        wrong = sum(bool(one.problem) for one in found)
        self.said.setText(
            f"{amount(len(found), 'source')}."
            + (f" {amount(wrong, 'of them', 'of them')} cannot be read and will be skipped." if wrong else "")
        )
        theme.tone(self.said, "madder" if wrong else "muted")
        self.main.setText(f"Add {len(found) - wrong:,}")
        self.main.setEnabled(len(found) > wrong)
        if found:
            self.table.go_to(min(max(self.table.current_row(), 0), len(found) - 1))
        self._offer()

    def _offer(self) -> None:
        there = 0 <= self.table.current_row() < len(self.found)
        self.change.setEnabled(there)
        self.leave_out.setEnabled(there)

    def _change(self) -> None:
        place = self.table.current_row()

        def changed(source: Source) -> None:
            self.found[place] = Proposed(source, None)
            self._show()
            sources = [source]
            self._asker.ask_stoppable(
                f"dropped file {place}",
                lambda progress: proposed(sources, self._means, progress),
                lambda one: self._put(place, one[0]),
            )

        self._change_wanted(self.found[place].source, changed)

    def _put(self, place: int, one: Proposed) -> None:
        self.found[place] = one
        self._show()

    def _leave_out(self) -> None:
        place = self.table.current_row()
        self.found = [one for at, one in enumerate(self.found) if at != place]
        self._show()

    def _accept(self) -> None:
        self.accept()
        self._done([one.source for one in self.found if not one.problem])

    def done(self, result: int) -> None:
        self._asker.forget("dropped files")
        super().done(result)


def _kind(one: Proposed) -> str:
    if one.found is None:
        return "" if one.problem else "looking …"
    if one.found.is_table:
        return f"a table of {amount(len(one.found.columns), 'column')}"
    return amount(one.found.files, "text") if one.found.files else "text"


def _taken(one: Proposed) -> str:
    if one.problem:
        return f"not read: {one.problem}"
    if one.found is None:
        return ""
    if one.found.is_table:
        return listed_roles(one.source) or BY_PROSE
    return "one document each" if one.found.files > 1 else "one document"
