# SPDX-License-Identifier: GPL-3.0-or-later
"""Paragraphs, headings, entries of lists and cells stay apart in every kind of file; pages of PDF in reading order."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

import docx
import pytest
from odf.opendocument import OpenDocumentText
from odf.table import Table, TableCell, TableRow
from odf.text import H, P
from reportlab.lib.styles import ParagraphStyle, getSampleStyleSheet
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import BaseDocTemplate, Frame, PageTemplate, Paragraph

from gather import made_files as made
from jagged_lens.gather import gather
from jagged_lens.gather.readers import Options, Piece, read_bytes
from jagged_lens.gather.readers.page_lines import Line, joined_words, paragraphs, without_running
from jagged_lens.lens import Recipe

HEADING = "Slugs and frost"
BODY = ["Beans grow on the wet plots. They need water.", "Leeks stand in winter", "Peas climb up the wire."]
CELLS = ["plot", "north wall"]


def docx_bytes() -> bytes:
    document, out = docx.Document(), io.BytesIO()
    document.add_heading(HEADING, 1)
    for text in BODY:
        document.add_paragraph(text)
    row = document.add_table(1, 2).rows[0]
    for cell, text in zip(row.cells, CELLS, strict=True):
        cell.text = text
    document.save(out)
    return out.getvalue()


def odt_bytes() -> bytes:
    document, out = OpenDocumentText(), io.BytesIO()
    document.text.addElement(H(outlinelevel=1, text=HEADING))
    for text in BODY:
        document.text.addElement(P(text=text))
    table, row = Table(name="t"), TableRow()
    for text in CELLS:
        cell = TableCell()
        cell.addElement(P(text=text))
        row.addElement(cell)
    table.addElement(row)
    document.text.addElement(table)
    document.write(out)
    return out.getvalue()


RTF = (
    "{\\rtf1\\ansi\\ansicpg1250{\\info{\\title Slug\\u233?s {\\b and} Le\\'9a}}\\pard "
    + "\\par\n".join([HEADING, *BODY])
    + "\\par\\trowd plot\\cell north wall\\cell\\row}"
).encode()
HTML = (
    f"<html><body><h1>{HEADING}</h1><p>{BODY[0]}</p><ul><li>{BODY[1]}</li><li>{BODY[2]}</li></ul>"
    f"<table><tr><td>{CELLS[0]}</td><td>{CELLS[1]}</td></tr></table></body></html>"
).encode()


def piece(name: str, data: bytes) -> Piece:
    return next(one for one in read_bytes(name, data, Options()) if isinstance(one, Piece))


@pytest.mark.parametrize(
    ("name", "data"), [("a.docx", docx_bytes()), ("a.odt", odt_bytes()), ("a.rtf", RTF), ("a.html", HTML)]
)
def test_each_paragraph_and_cell_stands_apart(tmp_path: Path, name: str, data: bytes) -> None:
    assert piece(name, data).text.split("\n\n") == [HEADING, *BODY, *CELLS]
    (tmp_path / name).write_bytes(data)
    settings = Recipe().with_settings("gather", {"from": name, "unit": "sentence"}).gather
    assert list(gather(settings, tmp_path).texts) == [
        HEADING,
        "Beans grow on the wet plots.",
        "They need water.",
        *BODY[1:],
        *CELLS,
    ]


def test_the_title_in_the_head_of_rtf_is_read() -> None:
    assert piece("a.rtf", RTF).title == "Slugés and Leš"


def test_of_several_encodings_the_first_that_fits_reads_what_rtf_escapes() -> None:
    data = rb"{\rtf1\ansi Z\'e1hon a le\'9a}"
    assert next(iter(read_bytes("a.rtf", data, Options("utf-8, cp1250")))).text == "Záhon a leš"  # type: ignore[union-attr]


def note(number: int) -> str:
    return (
        f"Plot {number} was sown in May and the slugs took {number} of the beans before the frost came over the moor. "
        * 3
    )


def book(columns: int, head: str) -> tuple[bytes, list[str]]:
    """A PDF of many pages, one or two columns, with a head and numbers of pages; and its paragraphs."""
    out, style = io.BytesIO(), getSampleStyleSheet()

    def around(canvas: Canvas, document: BaseDocTemplate) -> None:
        canvas.drawString(72, 812, head)
        canvas.drawCentredString(297, 30, f"Page {document.page}")

    width = (475 - 20 * (columns - 1)) / columns
    frames = [Frame(60 + at * (width + 20), 60, width, 730, leftPadding=0, rightPadding=0) for at in range(columns)]
    document = BaseDocTemplate(out, pagesize=(595, 842))
    document.addPageTemplates(PageTemplate("all", frames, onPage=around))
    told = [note(number) for number in range(40)]
    document.build([Paragraph(text, ParagraphStyle("own", parent=style["BodyText"])) for text in told])
    return out.getvalue(), [text.strip() for text in told]


@pytest.mark.parametrize("columns", [1, 2])
def test_a_pdf_is_read_paragraph_by_paragraph_without_heads_and_feet(columns: int) -> None:
    data, told = book(columns, "Return notes of the library")
    found = list(read_bytes("a.pdf", data, Options()))
    text = next(one.text for one in found if isinstance(one, Piece))
    read = [" ".join(one.split()) for one in text.split("\n\n")]
    assert " ".join(read) == " ".join(told)
    assert len(set(read) & set(told)) >= len(told) - 4  # a paragraph may end with its page
    assert any("running headers and footers" in one for one in found if isinstance(one, str))


def test_where_a_line_stands_is_told_by_both_matrices() -> None:
    out = io.BytesIO()
    canvas = Canvas(out)
    for number in range(7):
        canvas.saveState()
        canvas.translate(72, 700 - 70 * number)
        text = canvas.beginText(0, 28)
        for line in (f"paragraph {number} begins", f"goes on {number}", f"ends {number}."):
            text.textLine(line)
        canvas.drawText(text)
        canvas.restoreState()
    canvas.save()
    assert piece("a.pdf", out.getvalue()).text.split("\n\n") == [
        f"paragraph {number} begins\ngoes on {number}\nends {number}." for number in range(7)
    ]


def test_lines_become_paragraphs_by_distance_indent_and_size() -> None:
    lines = [
        Line(60, 700, 16, "A heading"),
        Line(60, 680, 11, "One line of the first"),
        Line(60, 667, 11, "and its second line"),
        Line(60, 654, 11, "and its third line"),
        Line(74, 641, 11, "indented, the next begins"),
        Line(60, 628, 11, "and goes on"),
        Line(60, 600, 11, "apart, the last"),
    ]
    assert paragraphs([lines]).split("\n\n") == [
        "A heading",
        "One line of the first\nand its second line\nand its third line",
        "indented, the next begins\nand goes on",
        "apart, the last",
    ]
    over = [[Line(60, 100, 11, "it goes on over")], [Line(60, 700, 11, "the end of the page.")]]
    assert paragraphs(over) == "it goes on over\nthe end of the page."


def test_what_stands_on_most_pages_goes_and_what_stands_on_one_stays() -> None:
    pages = [
        [
            Line(60, 800, 9, f"Larkmoor {2020 + number}"),
            *(Line(60, 700 - 14 * at, 11, f"line {at} of note {'abcde'[number]}") for at in range(6)),
            Line(300, 30, 9, f"- {number} -"),
        ]
        for number in range(5)
    ]
    kept, gone = without_running(pages)
    assert gone == 10
    assert [len(page) for page in kept] == [6] * 5
    alone = [Line(60, 800, 9, "Larkmoor"), *pages[0][1:7], Line(300, 30, 9, "Page 1 of 1")]
    assert without_running([alone]) == ([alone[:-1]], 1)


@pytest.mark.parametrize(
    ("text", "whole"),
    [
        ("the gar-\nden", "the garden"),
        ("Lark-\nMoor", "Lark-Moor"),
        ("SEED LI-\nBRARY", "SEED LIBRARY"),
        ("сли-\nзни", "слизни"),
        ("že-\nžulka", "žežulka"),
        ("soft\u00ad\nened", "softened"),
        ("plot 3-\n4", "plot 3-4"),
    ],
)
def test_divided_words_are_put_together(text: str, whole: str) -> None:
    assert joined_words(text) == whole


def stored(members: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        for name, data in members.items():
            archive.writestr(name, data)
    return out.getvalue()


def test_archives_are_told_from_office_files_by_what_they_hold() -> None:
    texts = {
        "notes/a.docx": made.docx_bytes("in word"),
        "b.odt": made.odt_bytes("in odt"),
        "sword/c.txt": b"in a folder",
    }
    for data in (stored(texts), stored(dict(reversed(texts.items())))):
        found = " ".join(one.text for one in read_bytes("all.zip", data, Options()) if isinstance(one, Piece))
        assert all(words in found for words in ("in word", "in odt", "in a folder"))


def test_files_without_an_ending_are_read_where_they_hold_text(tmp_path: Path) -> None:
    (tmp_path / "README").write_text("slugs took the beans")
    (tmp_path / "core").write_bytes(bytes(range(256)) * 20)
    corpus = gather(Recipe().with_settings("gather", {"from": "."}).gather, tmp_path)
    assert list(corpus.texts) == ["slugs took the beans"]
    assert any("1 without ending" in notice for notice in corpus.notices)
    packed = stored({"README": b"frost on the peas", "core": bytes(range(256)) * 20})
    assert [one.text for one in read_bytes("a.zip", packed, Options()) if isinstance(one, Piece)] == [
        "frost on the peas"
    ]


def test_menus_and_banners_beside_an_article_are_left_out() -> None:
    around = (
        '<div class="site-nav">menu words</div><div id="cookieBanner">cookie words</div><div role="navigation">role words</div>'
        '<div class="wrap sidebar-right">side words</div>'
    )
    article = '<article><div class="header">head words</div><p>Slugs took the beans.</p></article>'
    page = f'<body><div class="page">{around}{article}</div></body>'
    assert piece("a.html", page.encode()).text == "head words\n\nSlugs took the beans."
    alone = '<body><div class="menu">words of a menu</div><p>Slugs.</p></body>'
    assert piece("a.html", alone.encode()).text == "words of a menu\n\nSlugs."
