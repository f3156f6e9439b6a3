"""Text to be read: the serif face, line height 1.5, at most 75 characters a line, terms marked by how much they add."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QEvent, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QTextBlockFormat, QTextCharFormat, QTextCursor
from PyQt6.QtWidgets import QFrame, QSizePolicy, QTextBrowser, QWidget

from jagged_lens.desktop import theme

Mark = tuple[int, int, float]
"""Start and end in code points, and a strength from 0 to 1."""

_LONGEST = 200_000


class MarkedText(QTextBrowser):
    """One document's text, as plain text whatever it holds."""

    def __init__(self, parent: QWidget | None = None, fits: bool = False) -> None:
        super().__init__(parent)
        self._fits = fits
        self.setOpenLinks(False)
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
        marks: Iterable[Mark] = (),
        differs: Iterable[tuple[int, int]] = (),
        tokens: Iterable[tuple[int, int]] = (),
        taken: Iterable[tuple[int, int]] = (),
    ) -> None:
        """Show a text; marks are shaded by strength, stretches that differ are underlined, tokens dotted, what was taken struck."""
        shown = text[:_LONGEST]
        # Qt sets plain text in the format under the cursor, which may be that of a mark of the last text.
        self.setCurrentCharFormat(QTextCharFormat())
        self.setPlainText(shown)
        cursor = QTextCursor(self.document())
        cursor.select(QTextCursor.SelectionType.Document)
        spacing = QTextBlockFormat()
        spacing.setLineHeight(145, QTextBlockFormat.LineHeightTypes.ProportionalHeight.value)  # type: ignore[arg-type]
        cursor.mergeBlockFormat(spacing)
        # Qt counts in UTF-16 units; our spans are code points.
        wide = [at for at, character in enumerate(shown) if ord(character) > 0xFFFF]
        for start, end, strength in marks:
            shade = QTextCharFormat()
            shade.setBackground(theme.mixed(theme.colour("card"), theme.colour("verdigris"), 0.12 + 0.42 * strength))
            self._format(start, end, shade, wide)
        for start, end in differs:
            line = QTextCharFormat()
            line.setForeground(theme.colour("madder"))
            line.setUnderlineStyle(QTextCharFormat.UnderlineStyle.SingleUnderline)
            self._format(start, end, line, wide)
        dotted = QTextCharFormat()
        dotted.setUnderlineStyle(QTextCharFormat.UnderlineStyle.DotLine)
        dotted.setUnderlineColor(theme.colour("verdigris"))
        struck = QTextCharFormat()
        struck.setForeground(theme.colour("muted"))
        struck.setFontStrikeOut(True)
        for spans, form in ((tokens, dotted), (taken, struck)):
            for start, end in spans:
                self._format(start, end, form, wide)
        self.moveCursor(QTextCursor.MoveOperation.Start)
        self.updateGeometry()

    def show_place(self, start: int, end: int) -> None:
        """Select a stretch (in code points) and bring it into sight."""
        text = self.toPlainText()
        wide = [at for at, character in enumerate(text) if ord(character) > 0xFFFF]
        cursor = QTextCursor(self.document())
        last = self.document().characterCount() - 1  # type: ignore[union-attr]
        cursor.setPosition(min(start + sum(at < start for at in wide), last))
        cursor.setPosition(min(end + sum(at < end for at in wide), last), QTextCursor.MoveMode.KeepAnchor)
        self.setTextCursor(cursor)
        self.ensureCursorVisible()

    def _format(self, start: int, end: int, form: QTextCharFormat, wide: list[int]) -> None:
        cursor = QTextCursor(self.document())
        last = self.document().characterCount() - 1  # type: ignore[union-attr]
        cursor.setPosition(min(start + sum(at < start for at in wide), last))
        cursor.setPosition(min(end + sum(at < end for at in wide), last), QTextCursor.MoveMode.KeepAnchor)
        cursor.mergeCharFormat(form)

    def sizeHint(self) -> QSize:
        if not self._fits:
            return super().sizeHint()
        document = self.document()
        assert document is not None
        document.setTextWidth(max(self.viewport().width(), 120))  # type: ignore[union-attr]
        return QSize(200, int(document.size().height()) + 6)

    def minimumSizeHint(self) -> QSize:
        return QSize(120, self.sizeHint().height()) if self._fits else super().minimumSizeHint()

    def resizeEvent(self, event: QEvent | None) -> None:  # type: ignore[override]
        super().resizeEvent(event)  # type: ignore[arg-type]
        if self._fits:
            self.updateGeometry()
