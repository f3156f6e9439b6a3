# SPDX-License-Identifier: GPL-3.0-or-later
"""A report laid out on pages: for the picture of it beside the findings, and for PDF."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QBuffer, QMarginsF, QRectF, QSizeF, Qt, QUrl
from PyQt6.QtGui import (
    QColor,
    QFont,
    QImage,
    QPageLayout,
    QPageSize,
    QPainter,
    QPdfWriter,
    QTextBlock,
    QTextBlockFormat,
    QTextCharFormat,
    QTextCursor,
    QTextDocument,
    QTextFormat,
    QTextFrameFormat,
    QTextImageFormat,
    QTextLength,
    QTextTableFormat,
)

from jagged_lens.desktop.plots.drawing_file import image_of_svg, in_memory, png_of
from jagged_lens.report import (
    Aside,
    Listing,
    Paragraph,
    Part,
    Picture,
    Quoted,
    Report,
    Subheading,
    Table,
)

PAGE = QSizeF(794, 1123)
"""A4 at 96 pixels an inch."""
_MARGIN = 68.0
_ROOM = PAGE.width() - 2 * _MARGIN
_HIGHEST = 760.0  # of a picture
_SHARP = 2.5  # pixels of a picture for each of the page
_INK, _MUTED, _LINE, _SHADE, _DIFFERS = "#1d1a24", "#5f5a69", "#d9d4c8", "#bfe0d8", "#8c2534"
_FACE, _POINTS = "serif", 10.0
_KEPT = QTextFormat.Property.UserProperty.value


def images_of(report: Report) -> list[QImage]:
    """The pictures of a report as images, in their order. It takes no widget, so it can be called in any thread."""
    return [_image(part) for section in report.sections for part in section.parts if isinstance(part, Picture)]


def pixels_of(svg: str) -> bytes:
    """A drawing as PNG; nothing where it is no drawing."""
    image = _of_svg(svg)
    return b"" if image.isNull() else png_of(image)


def _image(picture: Picture) -> QImage:
    return QImage.fromData(picture.png) if picture.png else _of_svg(picture.svg)


def _of_svg(svg: str) -> QImage:
    return image_of_svg(svg, QSizeF(_ROOM, _HIGHEST) * _SHARP, Qt.GlobalColor.white)


def laid_out(report: Report, images: Sequence[QImage]) -> QTextDocument:
    """The report as a document of pages. images: from `images_of`."""
    made = QTextDocument()
    made.setUndoRedoEnabled(False)
    made.setLayoutEnabled(False)  # laid out once, when all is there
    made.setDocumentMargin(0)
    font = QFont(_FACE)
    font.setPointSizeF(_POINTS)
    made.setDefaultFont(font)
    made.setPageSize(PAGE)
    frame = made.rootFrame()
    assert frame is not None
    edges = QTextFrameFormat()
    edges.setMargin(_MARGIN)
    frame.setFrameFormat(edges)
    writer = _Writer(made, images)
    writer.line(report.title, 1.9, bold=True)
    writer.line(report.under + (f", {report.day}" if report.day else ""), 0.9, ink=_MUTED)
    for section in report.sections:
        writer.line(section.title, 1.3, bold=True, above=18, below=4, level=2)
        for part in section.parts:
            writer.add(part)
    made.setLayoutEnabled(True)
    made.pageCount()
    _keep_headings(made)
    return made


def _keep_headings(made: QTextDocument) -> None:
    """Begin a page with a heading or caption that would be alone at the foot of the one before."""
    block = made.begin()
    while block.isValid():
        following = block.next()
        if block.blockFormat().property(_KEPT) and following.isValid() and _page(made, block) != _page(made, following):
            form = block.blockFormat()
            form.setPageBreakPolicy(QTextFormat.PageBreakFlag.PageBreak_AlwaysBefore)
            QTextCursor(block).setBlockFormat(form)
            made.pageCount()
        block = following


def _page(made: QTextDocument, block: QTextBlock) -> int:
    """The page on which the first line of a block ends, from 0."""
    layout, lines = made.documentLayout(), block.layout()
    assert layout is not None
    assert lines is not None
    if not lines.lineCount():
        return int(layout.blockBoundingRect(block).top() // PAGE.height())
    line = lines.lineAt(0)
    top = layout.blockBoundingRect(block).top() + line.y()  # a line that had no room is pushed down within its block
    return int((top + line.height() - 1) // PAGE.height())


class _Writer:
    """Writes the parts of a report at the end of a document."""

    def __init__(self, made: QTextDocument, images: Sequence[QImage]) -> None:
        self._made = made
        self._images = iter(enumerate(images))
        self._cursor = QTextCursor(made)
        self._first = True

    def line(
        self,
        text: str,
        scale: float = 1.0,
        bold: bool = False,
        ink: str = _INK,
        above: float = 0,
        below: float = 5,
        level: int = 0,
        kept: bool = False,
    ) -> None:
        """A paragraph of one face. scale: of the letters. level: of a heading. kept: on one page with what follows."""
        block = QTextBlockFormat()
        block.setTopMargin(above)
        block.setBottomMargin(below)
        block.setHeadingLevel(level)
        if level or kept:
            block.setProperty(_KEPT, True)
        self._begin(block)
        self._cursor.insertText(" ".join(text.split()), _face(scale, bold, ink))

    def add(self, part: Part) -> None:
        """One part of a section."""
        match part:
            case Paragraph(text):
                self.line(text)
            case Listing(lines):
                for line in lines:
                    self.line(f"• {line}", below=2)
            case Subheading(text):
                self.line(text, 1.08, bold=True, above=10, level=3)
            case Aside(text):
                self.line(text, 0.84, ink=_MUTED, below=2)
            case Table():
                self._table(part)
            case Picture():
                self._picture(part)
            case Quoted():
                self.line(part.title, 0.95, bold=True, above=4, below=2, kept=True)
                self._quoted(part)

    def _begin(self, block: QTextBlockFormat) -> None:
        if self._first:
            self._cursor.setBlockFormat(block)
            self._first = False
        else:
            self._cursor.insertBlock(block)

    def _table(self, table: Table) -> None:
        self.line(table.caption, 0.95, bold=True, above=6, below=2, kept=True)
        form = QTextTableFormat()
        form.setBorder(0.5)
        form.setBorderBrush(QColor(_LINE))
        form.setBorderCollapse(True)
        form.setCellPadding(3)
        form.setHeaderRowCount(1)
        form.setWidth(QTextLength(QTextLength.Type.PercentageLength, 100))
        grid = self._cursor.insertTable(1 + len(table.rows), len(table.heads), form)
        assert grid is not None
        right, left = QTextBlockFormat(), QTextBlockFormat()
        right.setAlignment(Qt.AlignmentFlag.AlignRight)
        head, body = _face(0.85, False, _MUTED), _face(0.85)
        for at, row in enumerate((table.heads, *table.rows)):
            for across, text in enumerate(row):
                cursor = grid.cellAt(at, across).firstCursorPosition()
                cursor.setBlockFormat(right if across in table.numbers else left)
                cursor.insertText(" ".join(text.split()), head if at == 0 else body)
        self._cursor.movePosition(QTextCursor.MoveOperation.End)

    def _picture(self, picture: Picture) -> None:
        number, image = next(self._images)
        if image.isNull():
            self.line(picture.alternative, 0.84, ink=_MUTED)
            return
        name = QUrl(f"picture:{number}")
        self._made.addResource(QTextDocument.ResourceType.ImageResource.value, name, image)
        size = QSizeF(image.size())
        size.scale(_ROOM, _HIGHEST, Qt.AspectRatioMode.KeepAspectRatio)
        form = QTextImageFormat()
        form.setName(name.toString())
        form.setWidth(size.width())
        form.setHeight(size.height())
        block = QTextBlockFormat()
        block.setTopMargin(4)
        self._begin(block)
        self._cursor.insertImage(form)
        if picture.caption:
            self.line(picture.caption, 0.84, ink=_MUTED)

    def _quoted(self, quoted: Quoted) -> None:
        block = QTextBlockFormat()
        block.setLeftMargin(12)
        block.setRightMargin(12)
        block.setBottomMargin(6)
        self._begin(block)
        for text, mark in quoted.runs:
            face = _face(0.95)
            if mark == "shared":
                face.setBackground(QColor(_SHADE))
            elif mark == "differs":
                face.setForeground(QColor(_DIFFERS))
                face.setFontUnderline(True)
            elif mark == "removed":
                face.setForeground(QColor(_MUTED))
                face.setFontStrikeOut(True)
            self._cursor.insertText(text.replace("\n", "\u2028"), face)


def _face(scale: float = 1.0, bold: bool = False, ink: str = _INK) -> QTextCharFormat:
    face = QTextCharFormat()
    face.setFontPointSize(_POINTS * scale)
    face.setFontWeight(QFont.Weight.Bold if bold else QFont.Weight.Normal)
    face.setForeground(QColor(ink))
    return face


def paint_page(painter: QPainter, document: QTextDocument, page: int, number: bool = True) -> None:
    """Paint a page, from 0, at the origin; number: with its number at its foot."""
    painter.save()
    painter.translate(0, -page * PAGE.height())
    document.drawContents(painter, QRectF(0, page * PAGE.height(), PAGE.width(), PAGE.height()))
    painter.restore()
    if number:
        painter.save()
        font = QFont(_FACE)
        font.setPointSizeF(_POINTS * 0.84)
        painter.setFont(font)
        painter.setPen(QColor(_MUTED))
        foot = QRectF(_MARGIN, PAGE.height() - _MARGIN + 18, _ROOM, 24)
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight, f"{page + 1} of {document.pageCount()}")
        painter.restore()


def write_pdf(path: Path, report: Report) -> None:
    """Write the report as PDF. OSError where it cannot be written."""
    path.write_bytes(in_memory(lambda to: _write_pages(to, report)))


def _write_pages(to: QBuffer, report: Report) -> None:
    writer = QPdfWriter(to)
    writer.setPageLayout(
        QPageLayout(QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0))
    )
    writer.setResolution(96)
    writer.setTitle(report.title)
    document = laid_out(report, images_of(report))
    painter = QPainter(writer)
    for page in range(document.pageCount()):
        if page:
            writer.newPage()
        paint_page(painter, document, page)
    painter.end()
