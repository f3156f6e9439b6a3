# SPDX-License-Identifier: GPL-3.0-or-later
"""The middle of the window: the desks and the side, which folds away to a rail of the names of its leaves."""

from __future__ import annotations

from PyQt6.QtCore import QByteArray, QSettings, Qt
from PyQt6.QtWidgets import QHBoxLayout, QSplitter, QWidget

from jagged_lens.desktop.frame.desk_area import DeskArea
from jagged_lens.desktop.frame.rail import Rail
from jagged_lens.desktop.frame.side import Side

_SIDE = 358  # pixels, where a letter is about so wide:
_LETTER = 6
_LEAST_SIDE = 43  # letters
_FOLD_BELOW = 1180  # pixels, at that width of a letter
_THREE_FROM = 1500


class Middle(QWidget):
    """True if the side is open is remembered for each face; at first it is folded where a face reads for itself.

    In a narrow window the side is always folded, and opens over the desk. The reading table takes the whole width for as long as
    it is open.
    """

    def __init__(self, area: DeskArea, side: Side, memory: QSettings | None) -> None:
        super().__init__()
        self._side, self._memory = side, memory
        self._open: dict[str, bool] = {}
        self._face, self._reads_itself = "", False
        self._narrow = self._reading = False
        self.splitter = QSplitter(Qt.Orientation.Horizontal)
        self.splitter.addWidget(area)
        self.splitter.addWidget(side)
        self.splitter.setStretchFactor(0, 1)
        self.splitter.setCollapsible(0, False)
        self.splitter.setHandleWidth(1)
        side.setMinimumWidth(self._letters(_LEAST_SIDE))
        self.rail = Rail(side)
        self.rail.hide()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.splitter, 1)
        row.addWidget(self.rail)
        self.splitter.setSizes([690, self._side_width(1280)])
        side.wanted.connect(self.open_side)
        side.folded.connect(self.fold_side)
        self.rail.fold_wanted.connect(self.fold_side)
        side.shown.connect(self._show_rail)

    def _letters(self, count: int) -> int:
        return self.fontMetrics().averageCharWidth() * count

    @property
    def _scale(self) -> float:
        """The width of letters relative to the usual."""
        return max(self.fontMetrics().averageCharWidth(), 1) / _LETTER

    def in_usual_letters(self, width: int) -> float:
        """A width in the pixels that it would have with letters of the usual width."""
        return width / self._scale

    def fit_letters(self) -> None:
        """Letters have another size."""
        self._side.setMinimumWidth(self._letters(_LEAST_SIDE))
        self.rail.updateGeometry()

    def _side_width(self, window: int) -> int:
        """The usual width of the side: wider where letters are larger, but never more than a third of the window."""
        wide = round(_SIDE * self._scale)
        return max(_SIDE, min(wide, window * 3 // 10))

    # What is in front.

    def face_changed(self, name: str, reads_itself: bool) -> None:
        """Another face is in front, by a name of its own: the side is as it was left there."""
        self._face, self._reads_itself = name, reads_itself
        self._settle()

    def give_way(self, reading: bool) -> None:
        """The reading table wants the whole width; the side comes back when it is closed."""
        self._reading = reading
        self._settle()

    def make_room(self) -> None:
        """Two desks stand beside each other: the side folds where there is no room for three, until another face comes up."""
        if self.in_usual_letters(self.width()) < _THREE_FROM:
            self._side.hide()

    def open_side(self) -> None:
        """Open the side, over the desk where the window is narrow."""
        if self._narrow:
            width = max(self._side_width(self.width()), self._side.minimumWidth())
            right = self.width() - self.rail.sizeHint().width()
            self._side.setGeometry(right - width, 0, width, self.height())
            self._side.show()
            self._side.raise_()
        else:
            self._remember(True)
            self._side.show()

    def fold_side(self) -> None:
        """Fold the side away."""
        if not self._narrow:
            self._remember(False)
        self._side.hide()

    def turn_side(self) -> None:
        """Fold the side away, or open it."""
        if self._side.isVisible():
            self.fold_side()
        else:
            self.open_side()

    def fit(self, window: int) -> None:
        """Go by the width of the window: the side stands beside the desk where there is room for both."""
        narrow = self.in_usual_letters(window) < _FOLD_BELOW
        if narrow == self._narrow:
            return
        self._narrow = narrow
        if narrow:
            self._side.setParent(self)
        else:
            self.splitter.addWidget(self._side)
            side = self._side_width(window)
            self.splitter.setSizes([self.width() - side, side])
        self._settle()

    def _settle(self) -> None:
        opened = not self._narrow and not self._reading and self._is_open()
        self._side.setVisible(opened)
        self._show_rail()

    def _show_rail(self) -> None:
        self.rail.setVisible(not self._reading and (self._narrow or self._side.isHidden()))

    # What is remembered.

    def _is_open(self) -> bool:
        if self._face not in self._open and self._memory is not None:
            kept = self._memory.value(f"side/{self._face}")
            if kept in ("open", "folded"):
                self._open[self._face] = kept == "open"
        return self._open.get(self._face, not self._reads_itself)

    def _remember(self, opened: bool) -> None:
        self._open[self._face] = opened
        if self._memory is not None:
            self._memory.setValue(f"side/{self._face}", "open" if opened else "folded")

    def recall(self) -> None:
        """Give the side the width that it was left with."""
        kept = self._memory.value("sides") if self._memory is not None else None
        if isinstance(kept, QByteArray):
            self.splitter.restoreState(kept)

    def keep(self) -> None:
        """Remember the width of the side."""
        if self._memory is not None:
            self._memory.setValue("sides", self.splitter.saveState())
