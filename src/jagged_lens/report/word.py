# SPDX-License-Identifier: GPL-3.0-or-later
"""A report as a word processor's document (.docx, ISO/IEC 29500), to be worked on further."""

from __future__ import annotations

import io
from collections.abc import Callable

import docx
from docx.document import Document
from docx.enum.text import WD_ALIGN_PARAGRAPH
from docx.oxml import OxmlElement
from docx.oxml.ns import qn
from docx.shared import Cm, Pt, RGBColor
from docx.text.paragraph import Paragraph as Line

from jagged_lens.report.content import (
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
from jagged_lens.xml_text import xml_text

_WIDE = Cm(16)
_SMALL = Pt(9)


def docx_of(report: Report, pixels: Callable[[str], bytes]) -> bytes:
    """The report as the content of a .docx file. pixels: makes a PNG of an SVG."""
    made = docx.Document()
    core = made.core_properties
    core.title, core.author, core.comments = _plain(report.title)[:250], "", ""
    made.add_heading(_plain(report.title), 0)
    made.add_paragraph(_plain(report.under + (f", {report.day}" if report.day else "")))
    for section in report.sections:
        made.add_heading(_plain(section.title), 1)
        for part in section.parts:
            _add(made, part, pixels)
    written = io.BytesIO()
    made.save(written)
    return written.getvalue()


def _add(made: Document, part: Part, pixels: Callable[[str], bytes]) -> None:
    match part:
        case Paragraph(text):
            made.add_paragraph(_plain(text))
        case Listing(lines):
            for line in lines:
                made.add_paragraph(_plain(line), style="List Bullet")
        case Subheading(text):
            made.add_heading(_plain(text), 2)
        case Aside(text):
            made.add_paragraph().add_run(_plain(text)).font.size = _SMALL
        case Table():
            _add_table(made, part)
        case Picture():
            _add_picture(made, part, part.png or pixels(part.svg))
        case Quoted():
            made.add_paragraph().add_run(_plain(part.title)).bold = True
            _add_runs(made.add_paragraph(style="Quote"), part)


def _add_table(made: Document, table: Table) -> None:
    caption = made.add_paragraph()
    caption.paragraph_format.keep_with_next = True
    caption.add_run(_plain(table.caption)).bold = True
    columns = len(table.heads)
    grid = made.add_table(1 + len(table.rows), columns, style="Light Grid")
    repeated = OxmlElement("w:tblHeader")  # the heads stand on each page
    repeated.set(qn("w:val"), "true")
    grid.rows[0]._tr.get_or_add_trPr().append(repeated)
    cells = grid._cells  # asked for once: each look at a row makes them all anew
    for at, row in enumerate((table.heads, *table.rows)):
        for across, text in enumerate(row):
            line = cells[at * columns + across].paragraphs[0]
            line.add_run(_plain(text)).font.size = _SMALL
            if across in table.numbers:
                line.alignment = WD_ALIGN_PARAGRAPH.RIGHT
    made.add_paragraph()


def _add_picture(made: Document, picture: Picture, png: bytes) -> None:
    try:
        shape = made.add_picture(io.BytesIO(png), width=_WIDE)
    except Exception:  # no picture, out of a project that somebody else wrote; the library has no one word for that
        made.add_paragraph(_plain(picture.alternative))
        return
    shape._inline.docPr.set("descr", _plain(picture.alternative))
    if picture.caption:
        made.add_paragraph(_plain(picture.caption), style="Caption")


def _add_runs(line: Line, quoted: Quoted) -> None:
    for text, mark in quoted.runs:
        run = line.add_run(_plain(text, lines=True))
        run.italic = False
        if mark == "shared":
            run.bold = True
        elif mark == "differs":
            run.underline = True
            run.font.color.rgb = RGBColor(0x8C, 0x25, 0x34)
        elif mark == "removed":
            run.font.strike = True


def _plain(text: str, lines: bool = False) -> str:
    """The text without what cannot stand in XML. lines: whether its lines stay."""
    own = xml_text(text)
    return own if lines else " ".join(own.split())
