# SPDX-License-Identifier: GPL-3.0-or-later
"""The bar at the bottom: what is picked and what can be done with it, and how the work goes."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QSize, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QProgressBar, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Button, Way
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.look.words import TITLES, amount, time_left
from jagged_lens.lens import CORPUS
from jagged_lens.project import Bench
from jagged_lens.worker import UnderWay, Urgency

_PAUSE = 40  # milliseconds between two looks at how far the work is
_SECOND = 1000


class PickBar(QFrame):
    """Actions on the pick at the left, the progress of the work and its stop at the right."""

    map_wanted = pyqtSignal()
    reader_wanted = pyqtSignal()
    keep_wanted = pyqtSignal()
    aside_wanted = pyqtSignal()
    only_wanted = pyqtSignal()
    without_wanted = pyqtSignal()
    terms_wanted = pyqtSignal()

    def __init__(self, bench: Bench, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("pickbar")
        self._bench = bench
        self.setMinimumHeight(int(self.fontMetrics().height() * 1.9))
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 2, 12, 2)
        row.setSpacing(8)
        self.count = PlainLabel()
        self.count.setFont(theme.ui_font(bold=True))
        row.addWidget(self.count)
        self.read = self._action("Read", "Show the pick in the reader (F9)", self.reader_wanted.emit)
        self.on_map = self._action("Show on map", "Show the pick on the map", self.map_wanted.emit)
        self.keep = self._action("Keep as…", "Save this pick under a name (Ctrl+M)", self.keep_wanted.emit)
        self.aside = self._action(
            "Set aside…", "Remove the picked documents from all lenses (Ctrl+Backspace)", self.aside_wanted.emit
        )
        self.only = self._action(
            "Only these",
            "Narrow the lens to the picked documents (Ctrl+Return); undo reverts it",
            self.only_wanted.emit,
        )
        self.without = self._action(
            "Without these", "Exclude the picked documents from the lens (Ctrl+Shift+Return)", self.without_wanted.emit
        )
        self.copy = self._action(
            "Copy", "Copy key, title and labels of the picked documents, separated by tabs", self.copy_pick
        )
        self.clear = self._action("Clear", "Clear the pick (Esc)", bench.pick.clear)
        for button in (self.read, self.on_map, self.only, self.without, self.keep, self.aside, self.copy, self.clear):
            row.addWidget(button)
        self.terms = PlainLabel()
        self.terms.setFont(theme.ui_font(bold=True))
        row.addWidget(self.terms)
        self.group_terms = self._action(
            "Group them", "Group and map the picked terms by the documents that contain them", self.terms_wanted.emit
        )
        self.of_terms = self._action(
            "Their documents", "Pick the documents that contain any of these terms", bench.pick_documents_of_terms
        )
        self.clear_terms = self._action(
            "Clear terms", "Clear the pick of terms (Esc)", lambda: bench.pick.set_terms(())
        )
        for button in (self.group_terms, self.of_terms, self.clear_terms):
            row.addWidget(button)
        row.addStretch(1)
        self.said = ElidedLabel()
        self._tells_progress = False  # and not what somebody else wants to be said
        theme.tone(self.said, "muted")
        row.addWidget(self.said)
        # What is offered stays while the work that it began is told of.
        self.offer_words = ElidedLabel()
        self.offer_words.setMaximumWidth(self.fontMetrics().averageCharWidth() * 90)
        theme.tone(self.offer_words, "muted")
        row.addWidget(self.offer_words)
        self.offered = self._action("", "", self._take_offer)
        self.offered.hide()
        self.offer_words.hide()
        self._offer: Callable[[], object] | None = None
        self._offered_for: object = None
        row.addWidget(self.offered)
        self.bar = QProgressBar()
        self.bar.setRange(0, 1000)
        self.bar.setTextVisible(False)
        self.bar.setFixedSize(120, 8)
        self.bar.setAccessibleName("Progress of the work")
        row.addWidget(self.bar)
        self.stop = self._action("Stop", "Stop computing and keep the previous results (Ctrl+.)", bench.stop)
        row.addWidget(self.stop)
        bench.pick.changed.subscribe(self.refresh)
        bench.state_changed.subscribe(self._withdraw)
        bench.pick.terms_changed.subscribe(self.refresh)
        # The bar paints at once whenever its value is set, and with it whatever else is due: not at every word of the worker.
        self._due = QTimer(self)
        self._due.setSingleShot(True)
        self._due.setInterval(_PAUSE)
        self._due.timeout.connect(self._show_progress)
        bench.queue.changed.subscribe(self._progress)
        self._clock = QTimer(self)  # the time that is left goes down while nothing is said
        self._clock.setInterval(_SECOND)
        self._clock.timeout.connect(self._show_progress)
        self.refresh()
        self._show_progress()

    def _action(self, text: str, tip: str, does: object) -> Button:
        button = Way(text)
        set_tip(button, tip)
        button.setAccessibleName(text)
        button.clicked.connect(lambda _: does())  # type: ignore[operator]
        return button

    def refresh(self) -> None:
        count, terms = len(self._bench.pick), len(self._bench.pick.terms)
        self.count.setText(f"{count:,} picked" if count else "Nothing picked")
        self.count.setVisible(count > 0 or not terms)
        self.terms.setText(f"{amount(terms, 'term')} picked")
        for widget in (self.terms, self.group_terms, self.of_terms, self.clear_terms):
            widget.setVisible(terms > 0)
        for button in (self.read, self.clear):
            button.setVisible(count > 0)
        self._fit()

    def minimumSizeHint(self) -> QSize:
        """A width that makes no window wider: actions without room are left to the Pick menu."""
        return QSize(200, super().minimumSizeHint().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """Show as many of the actions on the pick as there is room for."""
        row, spared = self.layout(), (self.on_map, self.aside, self.keep, self.without, self.copy, self.only)
        assert row is not None
        picked = len(self._bench.pick) > 0
        for button in spared:
            button.setVisible(picked)
        for button in spared if picked else ():
            if row.minimumSize().width() <= self.width():
                break
            button.hide()

    def copy_pick(self) -> None:
        corpus = self._bench.results[CORPUS]
        labels = self._bench.documents.labels()
        lines = ["\t".join(["key", "title", *(label.name for label in labels)])]
        for row in self._bench.pick.rows:
            values = (label.value(row) for label in labels)
            lines.append("\t".join([corpus.keys[row], corpus.titles[row], *values]))
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText("\n".join(lines))
        self.say(f"{len(lines) - 1:,} rows copied.")

    def say(self, words: str) -> None:
        """A short word at the right of the bar."""
        self.said.setText(words)
        self._tells_progress = False
        self._hide_offer()

    def offer(self, words: str, action: str, does: Callable[[], object]) -> None:
        """A short word, and what can be done about it."""
        self.say("")
        self._offer, self._offered_for = does, self._bench.state.sources
        self.offer_words.setText(words)
        self.offer_words.show()
        self.offered.setText(action)
        self.offered.setAccessibleName(f"{action} {words}")
        self.offered.show()
        self._fit()

    def _hide_offer(self) -> None:
        self.offered.hide()
        self.offer_words.hide()
        self._fit()

    def _withdraw(self) -> None:
        """Withdraw offers for sources that no longer exist or have changed."""
        if self._bench.state.sources != self._offered_for:
            self._hide_offer()

    def _take_offer(self) -> None:
        self._hide_offer()
        if self._offer is not None:
            self._offer()

    def _progress(self, _: object = None) -> None:
        if not self._due.isActive():
            self._due.start()

    def _show_progress(self) -> None:
        now = self._bench.queue.under_way
        if self.bar.isHidden() == (now is not None):
            self.bar.setVisible(now is not None)
            self.stop.setVisible(now is not None)
            self._fit()
        if now is not None:
            self.bar.setValue(int(1000 * now.share))
            self.said.setText(said_of(now))
            self._tells_progress = True
            if not self._clock.isActive():
                self._clock.start()
        else:
            self._clock.stop()
            if self._tells_progress:
                self.said.setText("")
                self._tells_progress = False


def said_of(now: UnderWay) -> str:
    """The current work, its lens, and the time left, in words."""
    request = now.request
    step = TITLES[now.part.step] if now.part is not None else ""
    if request.urgency is Urgency.SOURCES:
        words = "Reading the sources again"
    elif request.urgency is Urgency.FRONT:
        words = f"Computing {step}"
    else:
        words = f"Computing {step} for {request.name}"
    time = time_left(now.seconds)
    return f"{words}, {'at least' if now.at_least else 'about'} {time} left" if time else words
