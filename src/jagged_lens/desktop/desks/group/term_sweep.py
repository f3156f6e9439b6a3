# SPDX-License-Identifier: GPL-3.0-or-later
"""The search for the number of groups of terms. Tried on demand, beside the window, and stopped by hand."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.desks.group.sweep_words import said, told
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.plots.sweep_curves import SweepCurves
from jagged_lens.group import GroupSettings, Sweep, sweep_of
from jagged_lens.parallel import steady_blas
from jagged_lens.progress import Progress
from jagged_lens.weigh import VectorSpace

_TOPIC = "how many groups of terms"
_MOST_GROUPS = 20
_LOOKED_AT = 200  # milliseconds between two looks at what there is by now


class TermSweep(QWidget):
    """taken(groups): so many are to be made."""

    taken = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self._asker = Asker(self)  # of its own: the questions of others do not wait for it
        self._asker.failed.connect(lambda text, _: self.words.setText(text))
        self._items: VectorSpace | None = None
        self._ids: NDArray[np.uint64] | None = None
        self._settings: GroupSettings | None = None
        self._present = 0
        self._newest: Sweep | None = None
        self._going = False
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        row = QHBoxLayout()
        self.button = Action("Try 2 to 20 groups")
        self.button.clicked.connect(self._clicked)
        row.addWidget(self.button)
        row.addStretch(1)
        self.take = Action("Use this number")
        self.take.setEnabled(False)
        self.take.clicked.connect(lambda: self.taken.emit(self.curves.current))
        row.addWidget(self.take)
        column.addLayout(row)
        self.curves = SweepCurves()
        self.curves.chosen.connect(lambda _: self._tell())
        self.curves.taken.connect(self.taken)
        column.addWidget(self.curves, 1)
        self.words = muted("", 0.92)
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self._look = QTimer(self)
        self._look.setInterval(_LOOKED_AT)
        self._look.timeout.connect(self._show)

    def show_items(
        self,
        items: VectorSpace | None,
        settings: GroupSettings | None,
        present: int,
        ids: NDArray[np.uint64] | None = None,
    ) -> None:
        """The terms that are to be grouped, in how many groups they are now, and what they are drawn by."""
        self._ids = ids
        same = items is not None and self._items is not None and items.terms is self._items.terms
        self._present = present
        if not same or settings is None or self._settings is None or settings.by != self._settings.by:
            self._end()
            self._newest = None
            self.curves.show_sweep(Sweep.none(0), 2, _MOST_GROUPS, present)
            self.words.setText("")
            self.take.setEnabled(False)
        self._items, self._settings = items, settings
        self._show()

    def _clicked(self) -> None:
        if self._going:
            self._end()
            return
        items, settings, ids = self._items, self._settings, self._ids
        if items is None or settings is None:
            return
        self._going = True
        wanted = GroupSettings(by=settings.by, linkage=settings.linkage, sweep=(2, _MOST_GROUPS))

        def preview(sweep: Sweep) -> None:
            self._newest = sweep

        def work(progress: Progress) -> Sweep:
            with steady_blas():
                return sweep_of(items, wanted, progress, preview, ids=ids)

        self.button.setText("Stop")
        self._look.start()
        self._asker.ask_stoppable(_TOPIC, work, lambda _: self._end())

    def _end(self) -> None:
        self._asker.forget(_TOPIC)
        self._going = False
        self._look.stop()
        self.button.setText("Try 2 to 20 groups")
        self._show()

    def _show(self) -> None:
        sweep = self._newest
        if sweep is not None:
            self.curves.show_sweep(sweep, 2, _MOST_GROUPS, self._present)
            self.take.setEnabled(len(sweep) > 0)
            self._tell()

    def _tell(self) -> None:
        if self._newest is not None:
            self.words.setText(f"{told(self._newest, self.curves.current)}. {said(self._newest)}")
