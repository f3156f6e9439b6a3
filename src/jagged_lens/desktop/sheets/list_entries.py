# SPDX-License-Identifier: GPL-3.0-or-later
"""The entries of a list as a view shows them: of very many, too, searched without a wait."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QObject, QPersistentModelIndex, Qt

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import tip
from jagged_lens.desktop.look.words import amount

_ROOT = QModelIndex()
_Index = QModelIndex | QPersistentModelIndex


class ListEntries(QAbstractListModel):
    """Entries, each once, and which of them are shown.

    offered: words of entries. hits: how often each was found; one with hits is not edited in its place.
    """

    def __init__(self, offered: Mapping[str, str], hits: Mapping[str, int], parent: QObject) -> None:
        super().__init__(parent)
        self._offered, self._hits = offered, hits
        self._entries: dict[str, str] = {}  # and what is searched of each
        self._shown: list[str] = []
        self._wanted = ""

    @property
    def entries(self) -> tuple[str, ...]:
        """All entries, in their order."""
        return tuple(self._entries)

    def add(self, entries: Iterable[str]) -> None:
        """Put entries behind the others; one that is there already stays where it is."""
        self.beginResetModel()
        for entry in entries:
            if entry and entry not in self._entries:
                self._entries[entry] = self._words(entry).casefold()
        self._look()
        self.endResetModel()

    def remove(self, rows: Iterable[int]) -> None:
        """Take entries off the list, by their rows in the view."""
        gone = {self._shown[row] for row in rows}
        self.beginResetModel()
        self._entries = {entry: words for entry, words in self._entries.items() if entry not in gone}
        self._look()
        self.endResetModel()

    def search(self, words: str) -> None:
        """Show only the entries that hold these words."""
        self.beginResetModel()
        self._wanted = words.casefold()
        self._look()
        self.endResetModel()

    def _look(self) -> None:
        wanted = self._wanted
        self._shown = (
            [entry for entry, words in self._entries.items() if wanted in words] if wanted else [*self._entries]
        )

    def entry(self, row: int) -> str:
        """The entry at a row of the view."""
        return self._shown[row]

    def editable(self, row: int) -> bool:
        """True if an entry is edited where it stands."""
        entry = self._shown[row]
        return entry not in self._offered and entry not in self._hits

    def _words(self, entry: str) -> str:
        words = self._offered.get(entry, entry)
        return f"{words}   ·   {amount(self._hits[entry], 'hit')}" if entry in self._hits else words

    def rowCount(self, parent: _Index = _ROOT) -> int:
        return 0 if parent.isValid() else len(self._shown)

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        known = super().flags(index)
        return known | Qt.ItemFlag.ItemIsEditable if index.isValid() and self.editable(index.row()) else known

    def data(self, index: _Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid():
            return None
        entry = self._shown[index.row()]
        unfound = entry in self._hits and not self._hits[entry]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return self._words(entry)
        if role == Qt.ItemDataRole.ForegroundRole and unfound:
            return theme.colour("madder")
        if role == Qt.ItemDataRole.ToolTipRole:
            return tip("No match in these documents" if unfound else entry)
        return None

    def setData(self, index: _Index, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        old, new = self._shown[index.row()], str(value).strip()
        if role != Qt.ItemDataRole.EditRole or new == old:
            return False
        changed: Sequence[str] = [new if entry == old else entry for entry in self._entries]
        self._entries = {}
        self.add(changed)
        return True
