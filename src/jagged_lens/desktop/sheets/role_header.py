# SPDX-License-Identifier: GPL-3.0-or-later
"""The preview of a table: each column's role is set on its own header, with what is odd about the choice."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableView, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Choice
from jagged_lens.desktop.look.plain import set_tip, tip
from jagged_lens.gather import ROLES, Preview, Role, warning

_MOST_IN_SIGHT = 60
_LEAST, _MOST = 14, 46  # characters of a column


class _Rows(QAbstractTableModel):
    """The first rows, as texts."""

    def __init__(self) -> None:
        super().__init__()
        self.columns: Sequence[str] = ()
        self.rows: Sequence[Sequence[str]] = ()
        self.roles: list[Role] = []

    def show(self, columns: Sequence[str], rows: Sequence[Sequence[str]], roles: Sequence[Role]) -> None:
        self.beginResetModel()
        self.columns, self.rows, self.roles = columns, rows, list(roles)
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | QPersistentModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex | QPersistentModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.columns)

    def data(self, index: QModelIndex | QPersistentModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row = self.rows[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
            cell = row[index.column()] if index.column() < len(row) else ""
            return tip(cell) if role == Qt.ItemDataRole.ToolTipRole else cell
        if role == Qt.ItemDataRole.ForegroundRole and self.roles and self.roles[index.column()] == "leave out":
            return theme.colour("muted")
        return None

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            return self.columns[section]
        return None


class _RoleHeader(QHeaderView):
    """A header of two lines: the name of the column, and below it the choice of its role."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(Qt.Orientation.Horizontal, parent)
        self.roles: list[Role] = []
        self.choices: dict[int, Choice] = {}  # of the columns that have been in sight: a table can have thousands
        self.chosen: Callable[[int], None] = lambda at: None
        self.warned: list[bool] = []
        self.sectionResized.connect(self.place)
        self.setSectionsClickable(False)
        self.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)

    def sizeHint(self) -> QSize:
        size = super().sizeHint()
        line = self.fontMetrics().height()
        size.setHeight(int(line * (3.7 if self.roles else 1.7)))
        return size

    def place(self) -> None:
        """Put a choice below the name of each column in sight."""
        if not self.roles:
            return
        line, viewport = self.fontMetrics().height(), self.viewport()
        assert viewport is not None
        first, last = self.visualIndexAt(0), self.visualIndexAt(viewport.width() - 1)
        inside = range(max(first, 0), (last if last >= 0 else len(self.roles) - 1) + 1)
        for at, choice in self.choices.items():
            if at not in inside:
                choice.hide()
        for at in inside[:_MOST_IN_SIGHT]:
            choice = self.choice(at)
            left, width = self.sectionViewportPosition(at), self.sectionSize(at)
            choice.setGeometry(left + 3, int(line * 1.65), width - 6, int(line * 1.8))
            choice.show()

    def choice(self, at: int) -> Choice:
        """The choice of a column's role."""
        if at not in self.choices:
            model = self.model()
            assert model is not None
            choice = Choice(self.viewport())
            choice.addItems(ROLES)
            choice.setCurrentText(self.roles[at])
            name = model.headerData(at, Qt.Orientation.Horizontal, Qt.ItemDataRole.DisplayRole)
            choice.setAccessibleName(f"Role of {name}")
            choice.currentTextChanged.connect(lambda _: self.chosen(at))
            self.choices[at] = choice
        return self.choices[at]

    def forget(self) -> None:
        for choice in self.choices.values():
            choice.setParent(None)  # type: ignore[call-overload]
            choice.deleteLater()
        self.choices, self.roles = {}, []

    def paintSection(self, painter: QPainter | None, rect: QRect, logicalIndex: int) -> None:  # noqa: N803 - Qt's name
        assert painter is not None
        model = self.model()
        assert model is not None
        painter.save()
        painter.fillRect(rect, theme.colour("band"))
        painter.setFont(theme.ui_font(bold=True))
        wrong = logicalIndex < len(self.warned) and self.warned[logicalIndex]
        painter.setPen(theme.colour("madder" if wrong else "ink"))
        inside = rect.adjusted(6, 4, -4, 0)
        name = str(model.headerData(logicalIndex, Qt.Orientation.Horizontal, Qt.ItemDataRole.DisplayRole))
        shown = self.fontMetrics().elidedText(
            ("! " if wrong else "") + name, Qt.TextElideMode.ElideRight, inside.width()
        )
        painter.drawText(inside, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop, shown)
        painter.restore()


class PreviewTable(QTableView):
    """Emits `roles_changed` when a role was chosen by hand."""

    roles_changed = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.rows = _Rows()
        self.setModel(self.rows)
        self.header = _RoleHeader(self)
        self.header.chosen = self._role_chosen
        self.setHorizontalHeader(self.header)
        self.setAccessibleName("Preview: the first rows")
        self.setShowGrid(False)
        self.setAlternatingRowColors(True)
        self.setWordWrap(False)
        self.setTabKeyNavigation(False)
        self.setSelectionMode(QAbstractItemView.SelectionMode.NoSelection)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        down, scroll = self.verticalHeader(), self.horizontalScrollBar()
        assert down is not None
        assert scroll is not None
        down.hide()
        down.setDefaultSectionSize(int(self.fontMetrics().height() * 1.6))
        scroll.valueChanged.connect(self.header.place)
        self._preview: Preview | None = None

    def show_preview(self, preview: Preview | None) -> None:
        """Show other rows; None shows none."""
        self.header.forget()
        self._preview = preview
        if preview is None:
            self.rows.show((), (), ())
            return
        # While it is filled, the header must not place its choices anew for each of its columns.
        self.header.blockSignals(True)
        self.rows.show(preview.columns, preview.rows, preview.roles)
        wide = self.fontMetrics().averageCharWidth()
        for at, name in enumerate(preview.columns):
            longest = max([len(name) + 2, *(len(row[at]) for row in preview.rows[:30] if at < len(row))])
            self.setColumnWidth(at, wide * min(max(longest, _LEAST), _MOST) + 12)
        self.header.blockSignals(False)
        if preview.is_table:
            self.header.roles = list(preview.roles)
        self.header.setStretchLastSection(not preview.is_table)
        self._show_warnings()
        self.header.updateGeometry()
        self.updateGeometries()
        self.header.place()

    @property
    def roles(self) -> list[Role]:
        """The roles as they are chosen now."""
        return list(self.header.roles)

    @property
    def warnings(self) -> list[str]:
        """The oddities of the choices, in words that name the column."""
        if self._preview is None:
            return []
        looks = zip(self._preview.looks, self.roles, strict=True)
        return [f"{look.name}: {text}" for look, role in looks if (text := warning(look, role))]

    def _role_chosen(self, at: int) -> None:
        roles = self.header.roles
        roles[at] = ROLES[self.header.choices[at].currentIndex()]
        if roles[at] in ("key", "title", "date", "link"):  # of these a table has one
            for other in range(len(roles)):
                if other != at and roles[other] == roles[at]:
                    roles[other] = "leave out"
                    if choice := self.header.choices.get(other):
                        choice.blockSignals(True)
                        choice.setCurrentText("leave out")
                        choice.blockSignals(False)
        self.rows.roles = self.roles
        self._show_warnings()
        viewport = self.viewport()
        assert viewport is not None
        viewport.update()
        self.roles_changed.emit()

    def _show_warnings(self) -> None:
        if self._preview is None or not self._preview.is_table:
            self.header.warned = []
            return
        said = [warning(look, role) for look, role in zip(self._preview.looks, self.roles, strict=True)]
        self.header.warned = [bool(text) for text in said]
        for at, choice in self.header.choices.items():
            look = self._preview.looks[at]
            set_tip(choice, said[at] or f"{look.filled:.0%} filled, {look.words:.1f} words on average")
        viewport = self.header.viewport()
        assert viewport is not None
        viewport.update()

    def updateGeometries(self) -> None:
        super().updateGeometries()
        self.header.place()
