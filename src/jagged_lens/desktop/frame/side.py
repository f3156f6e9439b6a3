# SPDX-License-Identifier: GPL-3.0-or-later
"""The side: the settings of the step in front, the reader, and the legend of a picture that has one."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QHideEvent, QPainter, QPaintEvent, QShowEvent
from PyQt6.QtWidgets import QButtonGroup, QFrame, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.frame.settings_leaf import SettingsLeaf
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Tab, Way
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.worn import wear_in_parts
from jagged_lens.desktop.reading.reader import Reader
from jagged_lens.project import Bench


class Side(QFrame):
    """Brings one of its leaves up. wanted: a leaf was asked for. folded: it is to fold away. shown: it was shown or hidden;
    legend_offered(bool): there is a legend, or none."""

    wanted = pyqtSignal()
    folded = pyqtSignal()
    shown = pyqtSignal()
    legend_offered = pyqtSignal(bool)

    def __init__(self, bench: Bench, asker: Asker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("side")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 8, 0, 0)
        column.setSpacing(0)
        row = QHBoxLayout()
        row.setContentsMargins(14, 0, 12, 2)
        row.setSpacing(6)
        self._group = QButtonGroup(self)
        self.settings_button = Tab("Settings")
        set_tip(self.settings_button, "Settings of this step (F8)")
        self.reader_button = Tab("Reader")
        set_tip(self.reader_button, "Read the pick (F9)")
        self.legend_button = Tab("Legend")
        set_tip(self.legend_button, "What the picture shows, and its trust (F7)")
        for button in (self.settings_button, self.reader_button, self.legend_button):
            button.setCheckable(True)
            self._group.addButton(button)
            row.addWidget(button)
        row.addStretch(1)
        self.fold_button = Way("»")
        self.fold_button.setAccessibleName("Fold the side panel")
        set_tip(self.fold_button, "Fold the side panel to give the picture more room (Ctrl+F9)")
        self.fold_button.clicked.connect(self.folded)
        row.addWidget(self.fold_button)
        column.addLayout(row)
        self.leaves = QStackedWidget()
        self.settings = SettingsLeaf(bench)
        self.reader = Reader(bench, asker)
        self.reader.wanted.connect(lambda unfold: self.show_reader() if unfold else self.bring_reader())
        self.leaves.addWidget(self.settings)
        self.leaves.addWidget(self.reader)
        column.addWidget(self.leaves, 1)
        self.settings_button.clicked.connect(self.show_settings)
        self.reader_button.clicked.connect(self.show_reader)
        self.legend_button.clicked.connect(self.show_legend)
        self.legend_button.hide()
        self._legend: QWidget | None = None
        self.bring_settings()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("card"))
        painter.fillRect(0, 0, 1, self.height(), theme.colour("hairline"))

    @property
    def leaf(self) -> str:
        """The name of the leaf in front."""
        button = self._group.checkedButton()
        return button.text() if button is not None else ""

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.shown.emit()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self.shown.emit()

    def offer_legend(self, legend: QWidget | None) -> None:
        """Offer the legend of what is in front; None: it has none."""
        if legend is not None and self.leaves.indexOf(legend) < 0:
            self.leaves.addWidget(legend)
            wear_in_parts(legend)
        if legend is None and self.leaves.currentWidget() is self._legend is not None:
            self.bring_settings()
        self._legend = legend
        self.legend_button.setVisible(legend is not None)
        self.legend_offered.emit(legend is not None)

    def show_settings(self) -> None:
        """Bring the settings up, and the side with them where it is folded."""
        self.bring_settings()
        self.wanted.emit()

    def show_reader(self) -> None:
        """Bring the reader up, and the side with it where it is folded."""
        self.bring_reader()
        self.wanted.emit()

    def bring_settings(self) -> None:
        self.settings_button.setChecked(True)
        self.leaves.setCurrentWidget(self.settings)

    def bring_reader(self) -> None:
        self.reader_button.setChecked(True)
        self.leaves.setCurrentWidget(self.reader)

    def show_legend(self) -> None:
        """Bring the legend up, and the side with it where it is folded."""
        if self._legend is not None:
            self.bring_legend()
            self.wanted.emit()

    def bring_legend(self) -> None:
        if self._legend is not None:
            self.legend_button.setChecked(True)
            self.leaves.setCurrentWidget(self._legend)
