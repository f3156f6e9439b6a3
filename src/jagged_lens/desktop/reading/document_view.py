# SPDX-License-Identifier: GPL-3.0-or-later
"""One document: its title, labels and text."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import (
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Way
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.reading.marked_text import Mark, MarkedText, Spans
from jagged_lens.gather import Corpus
from jagged_lens.lens import CORPUS, OVERVIEW
from jagged_lens.project import Shown

_META_LABELS = 5


def meta(bench: Shown, row: int) -> str:
    """The labels of a document, how long it is, and why it is set aside, in one line."""
    corpus: Corpus = bench.results[CORPUS]
    own = {label.name for label in bench.state.labels}
    shown = [label for at, label in enumerate(bench.documents.labels()) if at < _META_LABELS or label.name in own]
    values = [value for label in shown if (value := label.value(row))]
    reason = dict(bench.state.aside).get(corpus.keys[row])
    aside = [f"set aside: {reason}" if reason else "set aside"] if reason is not None else []
    # Of a whole book the words are not counted whenever it is shown.
    counted = bench.results[OVERVIEW].words if bench.results.has(OVERVIEW) else None
    words = int(counted[row]) if counted is not None else len(corpus.texts[row].split())
    return " · ".join([*values, amount(words, "word"), *aside])


class DocumentView(QWidget):
    """Title, labels and text of one document."""

    def __init__(self, bench: Shown, fits: bool = False, mark: str = "") -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        self._bench = bench
        self._mark = mark
        self._row = -1
        self.title = PlainLabel()
        self.title.setFont(theme.ui_font(1.02, bold=True))
        self.title.setWordWrap(True)
        self.title.setTextFormat(Qt.TextFormat.PlainText)
        self.meta = PlainLabel()
        self.meta.setFont(theme.ui_font(0.9))
        theme.tone(self.meta, "muted")
        self.meta.setWordWrap(True)
        self.meta.setTextFormat(Qt.TextFormat.PlainText)
        self.text = MarkedText(self, fits)
        self.origin = Way()
        set_tip(self.origin, "Open the file or page that this document came from")
        self.origin.clicked.connect(self._open_origin)
        column.addWidget(self.title)
        column.addWidget(self.meta)
        column.addWidget(self.origin, 0, Qt.AlignmentFlag.AlignLeft)
        column.addWidget(self.text, 0 if fits else 1)

    def show_document(
        self,
        corpus: Corpus,
        row: int,
        marks: Sequence[Mark] | NDArray[np.float64] = (),
        differs: Spans = (),
        cleaned: tuple[Spans, Spans] = ((), ()),
    ) -> None:
        title = corpus.titles[row]
        self.title.setText(f"{self._mark}  {title}" if self._mark else title)
        self._row = row
        self.meta.setText(meta(self._bench, row))
        self.origin.setText(corpus.origins[row])
        self.origin.setVisible(self._bench.documents.origin(row) is not None)
        text = corpus.texts[row]
        self.text.setAccessibleName(f"Text of {title}")
        self.text.show_text(text if text.strip() else "(This document is empty.)", marks, differs, *cleaned)

    def _open_origin(self) -> None:
        origin = self._bench.documents.origin(self._row)
        if origin is not None:
            QDesktopServices.openUrl(QUrl(origin) if isinstance(origin, str) else QUrl.fromLocalFile(str(origin)))
