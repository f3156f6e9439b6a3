# SPDX-License-Identifier: GPL-3.0-or-later
"""The columns of a table as the user left them: how wide, in which order, which are hidden, what it is sorted by."""

from __future__ import annotations

import json
from typing import Any

from PyQt6.QtCore import QObject, QPoint, QSettings, Qt
from PyQt6.QtWidgets import QHeaderView, QMenu

from jagged_lens.desktop.tables.table import TableView


class TableColumns(QObject):
    """Lets columns be moved and, from the menu of their titles, hidden. And remembers all that, by the titles of the columns, from one
    start to the next. Without a memory it is remembered as long as the table lives."""

    def __init__(self, table: TableView, memory: QSettings | None) -> None:
        super().__init__(table)
        self._table = table
        self._memory = memory
        self._known: dict[str, str] = {}
        self._restoring = False
        across = table.horizontalHeader()
        assert across is not None
        self._across: QHeaderView = across
        across.setSectionsMovable(True)
        across.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        across.customContextMenuRequested.connect(self._show_menu)
        across.sectionResized.connect(lambda *_: self._keep())
        across.sectionMoved.connect(lambda *_: self._keep())
        across.sortIndicatorChanged.connect(lambda *_: self._keep())
        table.columns_shown.connect(self.restore)
        if table.listed.columns:
            self.restore()

    def _titles(self) -> list[str]:
        return [column.title for column in self._table.listed.columns]

    def _key(self) -> str:
        return f"columns/{self._table.accessibleName()}/{'|'.join(self._titles())}".replace("\\", "")

    def _keep(self) -> None:
        """Keep what the user did; what the table does by itself, such as filling its room, is not of the user."""
        titles, across = self._titles(), self._across
        if self._restoring or self._table.fitting or len(titles) != across.count() or not titles:
            return
        place = across.sortIndicatorSection()
        kept = {
            "order": [titles[across.logicalIndex(at)] for at in range(len(titles))],
            "hidden": [title for at, title in enumerate(titles) if at in self._table.put_away],
            "widths": {title: across.sectionSize(at) for at, title in enumerate(titles) if at in self._table.sized},
            "sorted": [titles[place], across.sortIndicatorOrder().value] if 0 <= place < len(titles) else [],
        }
        self._known[self._key()] = json.dumps(kept)
        if self._memory is not None:
            self._memory.setValue(self._key(), self._known[self._key()])

    def restore(self) -> None:
        """Bring the columns that are shown to what they were when they were shown last."""
        kept = self._read()
        if kept is None:
            return
        titles, across = self._titles(), self._across
        self._restoring = True
        try:
            for to, title in enumerate(name for name in kept["order"] if name in titles):
                across.moveSection(across.visualIndex(titles.index(title)), to)
            for at, title in enumerate(titles):
                if title in kept["hidden"] and at > 0:
                    self._table.put_away.add(at)
                    across.setSectionHidden(at, True)
                if title in kept["widths"]:
                    across.resizeSection(at, int(kept["widths"][title]))
                    self._table.sized.add(at)
            if kept["sorted"] and kept["sorted"][0] in titles:
                title, order = kept["sorted"]
                self._table.sortByColumn(titles.index(title), Qt.SortOrder(order))
        finally:
            self._restoring = False

    def _read(self) -> dict[str, Any] | None:
        text = self._known.get(self._key())
        if text is None and self._memory is not None:
            text = self._memory.value(self._key())
        try:
            kept = json.loads(str(text)) if text else None
        except ValueError:
            return None
        wanted = {"order": list, "hidden": list, "widths": dict, "sorted": list}
        fits = isinstance(kept, dict) and all(isinstance(kept.get(name), kind) for name, kind in wanted.items())
        return kept if fits else None

    def menu(self) -> QMenu:
        """The menu of the titles: which columns are shown."""
        menu = QMenu(self._table)
        for at, title in enumerate(self._titles()):
            entry = menu.addAction(title, lambda at=at: self._show_column(at, self._across.isSectionHidden(at)))  # type: ignore[misc]
            assert entry is not None
            entry.setCheckable(True)
            entry.setChecked(not self._across.isSectionHidden(at))
            entry.setEnabled(at > 0)  # one stays, so that there is always a title to ask for the others
        menu.addSeparator()
        menu.addAction("Reset columns", self._forget)
        return menu

    def _show_column(self, at: int, shown: bool) -> None:
        (self._table.put_away.discard if shown else self._table.put_away.add)(at)
        self._table.unused.discard(at)
        self._across.setSectionHidden(at, not shown)
        self._table.fit()
        self._keep()

    def _forget(self) -> None:
        self._restoring = True
        for at in range(self._across.count()):
            self._across.setSectionHidden(at, at in self._table.unused)
            self._across.moveSection(self._across.visualIndex(at), at)
        self._table.put_away.clear()
        self._table.first_widths()
        self._restoring = False
        self._known.pop(self._key(), None)
        if self._memory is not None:
            self._memory.remove(self._key())

    def _show_menu(self, place: QPoint) -> None:
        self.menu().popup(self._across.mapToGlobal(place))
