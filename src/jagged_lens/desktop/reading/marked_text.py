# SPDX-License-Identifier: GPL-3.0-or-later
"""Text to be read: the serif face, line height 1.5, at most 75 characters a line, terms marked by how much they add.

A long text is shown part by part, all of it: a widget of Qt that held a million characters with their marks at once would stand
still for many seconds.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QEvent, QMimeData, QPoint, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QTextBlockFormat, QTextCharFormat, QTextCursor
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QSizePolicy, QTextBrowser, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Way
from jagged_lens.desktop.look.plain import PlainLabel, set_tip

Mark = tuple[int, int, float]
"""Start and end in code points, and a strength from 0 to 1."""

Spans = Iterable[tuple[int, int]] | NDArray[np.integer]
"""Starts and ends in code points."""

_WHOLE = 8_000  # characters that are shown at once
_PART = 6_000  # of a longer text
_BROKEN = 3_000  # a paragraph longer than that is broken, so that one line's layout is not that of thousands
_LINE = 1_600
_LEVELS = 12  # of strength
_DIFFERS, _TOKEN, _TAKEN, _FLAGS = 1, 2, 4, 8
# What Qt takes for something else than a character.
_STRANGE = str.maketrans(
    {"\r": " ", "\u2028": "\n", "\u2029": "\n", "\ufdd0": "\ufffd", "\ufdd1": "\ufffd", "\0": "\ufffd"}
)


@dataclass(frozen=True)
class _Marks:
    """Spans of a text: start and end (int64) and strength (float64) of each; those that differ, tokens, what was taken."""

    strong: tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float64]]
    flagged: tuple[tuple[int, NDArray[np.int64]], ...]

    def over(self, first: int, last: int) -> NDArray[np.int64]:
        """The mark of each character from `first` to before `last`: its strength in levels, times 8, and its flags."""
        level, flags = np.zeros(last - first, np.int64), np.zeros(last - first, np.int64)
        starts, ends, strength = self.strong
        for at in np.flatnonzero((starts < last) & (ends > first)).tolist():
            steps = 1 + round(float(np.clip(strength[at], 0, 1)) * (_LEVELS - 1))
            level[max(starts[at] - first, 0) : ends[at] - first] = steps
        for flag, spans in self.flagged:
            for start, end in spans[(spans[:, 0] < last) & (spans[:, 1] > first)].tolist():
                flags[max(start - first, 0) : end - first] |= flag
        return level * _FLAGS + flags


class MarkedText(QTextBrowser):
    """One document's text, as plain text whatever it holds."""

    def __init__(self, parent: QWidget | None = None, fits: bool = False) -> None:
        super().__init__(parent)
        self._fits = fits
        self._text = ""
        self._marks = _marks((), (), (), ())
        self._bounds = [0, 0]
        self._part = 0
        self._places = np.zeros(1, np.int64)  # where each character of the part stands in Qt's document
        self._bar = _PartBar(self)
        self._bar.before.clicked.connect(lambda: self.show_part(self._part - 1))
        self._bar.behind.clicked.connect(lambda: self.show_part(self._part + 1))
        self.setOpenLinks(False)
        self.setUndoRedoEnabled(False)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self._take_look()
        theme.changed.connect(self._take_look)
        self.setAccessibleName("Text of the document")
        self.document().setDocumentMargin(2)  # type: ignore[union-attr]
        if fits:  # as high as its text
            self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def _take_look(self) -> None:
        self.setFont(theme.reading_font())
        self.setMaximumWidth(max(int(QFontMetricsF(self.font()).averageCharWidth() * 75), 300))

    def show_text(
        self,
        text: str,
        marks: Iterable[Mark] | NDArray[np.float64] = (),
        differs: Spans = (),
        tokens: Spans = (),
        taken: Spans = (),
    ) -> None:
        """Show a text; marks are shaded by strength, stretches that differ are underlined, tokens dotted, what was taken struck."""
        same = text == self._text
        self._text = text
        self._marks = _marks(marks, differs, tokens, taken)
        self._bounds = _bounds(text)
        self._part = min(self._part, self.parts - 1) if same else 0
        self._draw()
        self.moveCursor(QTextCursor.MoveOperation.Start)

    def runs(self, most: int = 40_000) -> list[tuple[str, str]]:
        """The text in runs with the names of their marks, as far as a number of characters."""
        shown = self._text[:most].translate(_STRANGE)
        how = self._marks.over(0, len(shown))
        edges = [0, *(np.flatnonzero(np.diff(how)) + 1).tolist(), len(shown)]
        return [
            (shown[start:end], _mark_name(int(how[start]))) for start, end in itertools.pairwise(edges) if end > start
        ]

    @property
    def parts(self) -> int:
        """In how many parts the text is shown."""
        return len(self._bounds) - 1

    def show_part(self, part: int) -> None:
        """Show another part of a long text, from its beginning."""
        if 0 <= part < self.parts and part != self._part:
            self._part = part
            self._draw()
            self.moveCursor(QTextCursor.MoveOperation.Start)

    def toPlainText(self) -> str:
        """The whole text, whichever part of it is shown."""
        return self._text

    def show_place(self, start: int, end: int) -> None:
        """Select a stretch (in code points) and bring it into sight."""
        part = int(np.searchsorted(self._bounds, start, "right")) - 1
        self.show_part(min(max(part, 0), self.parts - 1))
        first = self._bounds[self._part]
        last = len(self._places) - 1
        cursor = QTextCursor(self.document())
        cursor.setPosition(int(self._places[min(max(start - first, 0), last)]))
        cursor.setPosition(int(self._places[min(max(end - first, 0), last)]), QTextCursor.MoveMode.KeepAnchor)
        self.setTextCursor(cursor)
        self.ensureCursorVisible()

    def point_at(self, y: int) -> int:
        """The place in the text (in code points) that is shown at a height of the viewport."""
        position = self.cursorForPosition(QPoint(4, y)).position()
        return self._bounds[self._part] + int(np.searchsorted(self._places, position))

    def y_of(self, point: int) -> float:
        """The position of the line of a place in the text in the viewport, its middle in pixels; far above or below for another part."""
        first, last = self._bounds[self._part : self._part + 2]
        if not first <= point <= last:
            return -1e6 if point < first else 1e6
        cursor = QTextCursor(self.document())
        cursor.setPosition(int(self._places[min(point - first, len(self._places) - 1)]))
        return self.cursorRect(cursor).center().y()

    def bring_to(self, point: int, y: int) -> None:
        """Scroll so that a place in the text stands about at a height of the viewport."""
        part = min(max(int(np.searchsorted(self._bounds, point, "right")) - 1, 0), self.parts - 1)
        self.show_part(part)
        bar = self.verticalScrollBar()
        assert bar is not None
        bar.setValue(bar.value() + round(self.y_of(point)) - y)

    def _draw(self) -> None:
        first, last = self._bounds[self._part : self._part + 2]
        shown = self._text[first:last].translate(_STRANGE)
        breaks = _breaks(shown)
        points = np.frombuffer(shown.encode("utf-32-le", "replace"), np.uint32)
        units = 1 + (points > 0xFFFF).astype(np.int64)  # Qt counts in UTF-16 units
        units[breaks - 1] += 1
        self._places = np.concatenate((np.zeros(1, np.int64), np.cumsum(units)))
        how = self._marks.over(first, last)
        edges = np.unique(np.concatenate(([0, len(shown)], np.flatnonzero(np.diff(how)) + 1, breaks))).tolist()
        broken = set(breaks.tolist())
        self.clear()
        cursor = QTextCursor(self.document())
        cursor.beginEditBlock()
        spacing = QTextBlockFormat()
        spacing.setLineHeight(145, QTextBlockFormat.LineHeightTypes.ProportionalHeight.value)  # type: ignore[arg-type]
        cursor.setBlockFormat(spacing)
        formats: dict[int, QTextCharFormat] = {}
        for start, end in itertools.pairwise(edges):
            if start in broken:
                cursor.insertBlock()
            kind = int(how[start])
            if kind not in formats:
                formats[kind] = _format(kind)
            cursor.insertText(shown[start:end], formats[kind])
        cursor.endEditBlock()
        self._bar.say(self._part, self.parts)
        self.setViewportMargins(0, 0, 0, self._bar.sizeHint().height() if self.parts > 1 else 0)
        if self._fits:
            tall = self.parts > 1
            policy = Qt.ScrollBarPolicy
            self.setVerticalScrollBarPolicy(policy.ScrollBarAsNeeded if tall else policy.ScrollBarAlwaysOff)
        self._place_bar()
        self.updateGeometry()

    def createMimeDataFromSelection(self) -> QMimeData:
        """The selection as in the original text: without the line breaks made for display."""
        cursor = self.textCursor()
        ends = np.searchsorted(self._places, (cursor.selectionStart(), cursor.selectionEnd()))
        first = self._bounds[self._part]
        data = QMimeData()
        data.setText(self._text[first + int(ends[0]) : first + int(ends[1])])
        return data

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # type: ignore[override]
        assert event is not None
        bar = self.verticalScrollBar()
        assert bar is not None
        if event.key() == Qt.Key.Key_PageDown and bar.value() == bar.maximum() and self._part + 1 < self.parts:
            self.show_part(self._part + 1)
        elif event.key() == Qt.Key.Key_PageUp and bar.value() == bar.minimum() and self._part > 0:
            self.show_part(self._part - 1)
            bar.setValue(bar.maximum())
        else:
            super().keyPressEvent(event)

    def sizeHint(self) -> QSize:
        if not self._fits:
            return super().sizeHint()
        if self.parts > 1:
            return QSize(200, self.fontMetrics().height() * 24)
        document = self.document()
        assert document is not None
        document.setTextWidth(max(self.viewport().width(), 120))  # type: ignore[union-attr]
        return QSize(200, int(document.size().height()) + 6)

    def minimumSizeHint(self) -> QSize:
        return QSize(120, self.sizeHint().height()) if self._fits else super().minimumSizeHint()

    def resizeEvent(self, event: QEvent | None) -> None:  # type: ignore[override]
        super().resizeEvent(event)  # type: ignore[arg-type]
        self._place_bar()
        if self._fits:
            self.updateGeometry()

    def _place_bar(self) -> None:
        high = self._bar.sizeHint().height()
        self._bar.setGeometry(0, self.height() - high, self.width(), high)


class _PartBar(QWidget):
    """Says which part of a long text is shown, and leads to the others."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 2, 6, 2)
        row.setSpacing(6)
        self.before, self.behind, self.words = Way("Before"), Way("Go on"), PlainLabel()
        set_tip(self.before, "Previous part (Page Up at the beginning)")
        set_tip(self.behind, "Next part (Page Down at the end)")
        self.before.setAccessibleName("Previous part of the text")
        self.behind.setAccessibleName("Next part of the text")
        self.words.setTextFormat(Qt.TextFormat.PlainText)
        theme.tone(self.words, "muted")
        row.addWidget(self.words, 1)
        row.addWidget(self.before)
        row.addWidget(self.behind)
        self.hide()

    def say(self, part: int, parts: int) -> None:
        self.setVisible(parts > 1)
        self.words.setText(f"Part {part + 1:,} of {parts:,}")
        self.before.setVisible(part > 0)
        self.behind.setVisible(part + 1 < parts)


def _marks(marks: Iterable[Mark] | NDArray[np.float64], differs: Spans, tokens: Spans, taken: Spans) -> _Marks:
    strong = marks if isinstance(marks, np.ndarray) else np.array(list(marks), np.float64).reshape(-1, 3)
    flagged = tuple(
        (flag, np.asarray(spans if isinstance(spans, np.ndarray) else list(spans), np.int64).reshape(-1, 2))
        for flag, spans in ((_DIFFERS, differs), (_TOKEN, tokens), (_TAKEN, taken))
    )
    return _Marks((strong[:, 0].astype(np.int64), strong[:, 1].astype(np.int64), strong[:, 2]), flagged)


def _mark_name(kind: int) -> str:
    level, flags = divmod(kind, _FLAGS)
    return "removed" if flags & _TAKEN else "differs" if flags & _DIFFERS else "shared" if level else ""


def _format(kind: int) -> QTextCharFormat:
    level, flags = divmod(kind, _FLAGS)
    form = QTextCharFormat()
    if level:
        strength = (level - 1) / (_LEVELS - 1)
        form.setBackground(theme.mixed(theme.colour("card"), theme.colour("verdigris"), 0.12 + 0.42 * strength))
    if flags & _DIFFERS:
        form.setForeground(theme.colour("madder"))
        form.setUnderlineStyle(QTextCharFormat.UnderlineStyle.SingleUnderline)
    if flags & _TOKEN:
        form.setUnderlineStyle(QTextCharFormat.UnderlineStyle.DotLine)
        form.setUnderlineColor(theme.colour("verdigris"))
    if flags & _TAKEN:
        form.setForeground(theme.colour("muted"))
        form.setFontStrikeOut(True)
    return form


def _bounds(text: str) -> list[int]:
    """The starts of the parts of a text, and its end: at the end of a line or else of a word."""
    if len(text) <= _WHOLE:
        return [0, len(text)]
    bounds = [0]
    while len(text) - bounds[-1] > _WHOLE:
        bounds.append(_end_near(text, bounds[-1] + _PART, _PART // 4))
    return [*bounds, len(text)]


def _end_near(text: str, at: int, back: int) -> int:
    for mark in ("\n", " "):
        found = text.rfind(mark, at - back, at)
        if found >= 0:
            return found + 1
    return at


def _breaks(shown: str) -> NDArray[np.int64]:
    """The breaks of long paragraphs for display: between words, as far as there are any."""
    breaks: list[int] = []
    start = 0
    for line in shown.split("\n"):
        end = start + len(line)
        while end - start > _BROKEN:
            start = _end_near(shown, start + _LINE, _LINE // 2)
            breaks.append(start)
        start = end + 1
    return np.array(breaks, np.int64)
