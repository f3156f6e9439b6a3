"""The preview of a table: each column's role is set on its own header, with what is odd about the choice."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QAbstractItemView, QComboBox, QHeaderView, QTableView, QWidget

from jagged_lens.desktop import theme
from jagged_lens.gather import ROLES, Preview, Role, warning

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
            return row[index.column()] if index.column() < len(row) else ""
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
        self.choices: list[QComboBox] = []
        self.warned: list[bool] = []
        self.sectionResized.connect(self.place)
        self.setSectionsClickable(False)
        self.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)

    def sizeHint(self) -> QSize:
        size = super().sizeHint()
        line = self.fontMetrics().height()
        size.setHeight(int(line * (3.7 if self.choices else 1.7)))
        return size

    def place(self) -> None:
        """Put each choice below the name of its column."""
        line = self.fontMetrics().height()
        for at, choice in enumerate(self.choices):
            left, width = self.sectionViewportPosition(at), self.sectionSize(at)
            choice.setGeometry(left + 3, int(line * 1.65), width - 6, int(line * 1.8))
            choice.show()

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
        for choice in self.header.choices:
            choice.setParent(None)  # type: ignore[call-overload]
            choice.deleteLater()
        self.header.choices = []
        self._preview = preview
        if preview is None:
            self.rows.show((), (), ())
            return
        self.rows.show(preview.columns, preview.rows, preview.roles)
        if preview.is_table:
            viewport = self.header.viewport()
            for name, role in zip(preview.columns, preview.roles, strict=True):
                choice = QComboBox(viewport)
                choice.addItems(ROLES)
                choice.setCurrentText(role)
                choice.setAccessibleName(f"Role of {name}")
                choice.currentTextChanged.connect(self._role_chosen)
                self.header.choices.append(choice)
        wide = self.fontMetrics().averageCharWidth()
        for at, name in enumerate(preview.columns):
            longest = max([len(name) + 2, *(len(row[at]) for row in preview.rows[:30] if at < len(row))])
            self.setColumnWidth(at, wide * min(max(longest, _LEAST), _MOST) + 12)
        self.header.setStretchLastSection(not preview.is_table)
        self._show_warnings()
        self.header.updateGeometry()
        self.updateGeometries()
        self.header.place()

    @property
    def roles(self) -> list[Role]:
        """The roles as they are chosen now."""
        return [ROLES[choice.currentIndex()] for choice in self.header.choices]

    @property
    def warnings(self) -> list[str]:
        """What is odd about the choices, in words that name the column."""
        if self._preview is None:
            return []
        looks = zip(self._preview.looks, self.roles, strict=True)
        return [f"{look.name}: {words}" for look, role in looks if (words := warning(look, role))]

    def _role_chosen(self) -> None:
        sender = self.sender()
        for role in ("key", "title", "date", "link"):  # of these a table has one
            chosen = [choice for choice in self.header.choices if choice.currentText() == role]
            for choice in chosen:
                if len(chosen) > 1 and choice is not sender:
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
        self.header.warned = [bool(words) for words in said]
        for choice, words, look in zip(self.header.choices, said, self._preview.looks, strict=True):
            choice.setToolTip(words or f"{look.filled:.0%} filled, {look.words:.1f} words on average")
        viewport = self.header.viewport()
        assert viewport is not None
        viewport.update()

    def updateGeometries(self) -> None:
        super().updateGeometries()
        self.header.place()
