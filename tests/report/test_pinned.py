# SPDX-License-Identifier: GPL-3.0-or-later
"""Findings in a report: under their headings, in every format, with nothing in them that runs or loads."""

from __future__ import annotations

import dataclasses
import io
import struct
import zlib

import docx
import html5lib
import pytest
from lxml import etree
from markdown_it import MarkdownIt

from jagged_lens.demo import demo_recipe
from jagged_lens.lens import Recipe, read_recipe
from jagged_lens.project import Drawing, Entry, Finding, Heading, Quote, Rows, Way, Words
from jagged_lens.report import (
    Aside,
    Paragraph,
    Picture,
    Quoted,
    Report,
    Section,
    Subheading,
    Table,
    html_of,
    markdown_of,
)
from jagged_lens.report.pinned import pinned_sections
from jagged_lens.report.safe_svg import safe_svg
from jagged_lens.report.word import docx_of

HOSTILE = "<script>alert('x')</script>\"&<img src=http://a.example/x onerror=y>\x07]]>"
EVIL = """<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/hostname">]>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 40 20" onload="alert(1)">
<script>alert(2)</script><style>@import url(http://a.example/x.css);</style><foreignObject><b>no</b></foreignObject>
<a xlink:href="javascript:alert(3)"><text>lost</text></a><use xlink:href="http://a.example/y.svg#z"/>
<defs><linearGradient id="g"><stop offset="0" stop-color="#fff"/></linearGradient></defs>
<rect width="9" height="9" fill="url(#g)" onclick="alert(4)" style="background:url(http://a.example)"/>
<circle r="3" fill="url(http://a.example/z)"/><image href="http://a.example/p.png" width="3" height="3"/>
<text x="1">slugs &amp; frost &x;</text></svg>"""


def chunk(kind: bytes, content: bytes) -> bytes:
    return struct.pack(">I", len(content)) + kind + content + struct.pack(">I", zlib.crc32(kind + content))


PIXEL = (
    b"\x89PNG\r\n\x1a\n"
    + chunk(b"IHDR", struct.pack(">IIBBBBB", 1, 1, 8, 2, 0, 0, 0))
    + chunk(b"IDAT", zlib.compress(b"\0\xff\xff\xff"))
    + chunk(b"IEND", b"")
)


@pytest.fixture(scope="module")
def recipe() -> Recipe:
    return read_recipe(demo_recipe())


def finding(recipe: Recipe, number: int = 1) -> Finding:
    return Finding(
        number,
        f"Beans {HOSTILE}",
        f"First line\n\n{HOSTILE}",
        "2026-12-01",
        "Crops",
        recipe,
        Way("compare"),
        (("similarity", "0.842"),),
        Drawing(svg=EVIL),
        Rows("Pairs", ("Key", "Words", HOSTILE), (("a", "1,200", HOSTILE), ("b", "", "|"), ("c", "−3", "x")), 90),
        (
            Quote(
                HOSTILE, (("one two ", ""), ("three four", "shared"), (" five\nsix", "differs"), (" seven", "removed"))
            ),
        ),
    )


def report_with(entries: list[Entry], recipe: Recipe) -> Report:
    return Report(HOSTILE, "under", tuple(pinned_sections(entries, recipe)), "2026-12-01")


def test_headings_part_the_findings_and_those_before_them_have_their_own(recipe: Recipe) -> None:
    entries: list[Entry] = [
        finding(recipe, 1),
        Heading(2, "Copies"),
        Words(3, "One.\n\nTwo."),
        finding(recipe, 4),
        Heading(5, "Nothing yet"),
    ]
    sections = pinned_sections(entries, recipe)
    assert [one.title for one in sections] == ["Findings", "Copies", "Nothing yet"]
    assert sections[1].parts[:2] == (Paragraph("One."), Paragraph("Two."))
    assert [type(part) for part in sections[0].parts] == [
        Subheading,
        Paragraph,
        Paragraph,
        Picture,
        Table,
        Quoted,
        Aside,
        Aside,
    ]
    assert pinned_sections([Heading(1, "First")], recipe) == [Section("part-1", "First", ())]
    assert pinned_sections([], recipe) == []


def test_the_rows_say_how_many_there_were_and_numbers_stand_to_the_right(recipe: Recipe) -> None:
    table = next(part for part in pinned_sections([finding(recipe)], recipe)[0].parts if isinstance(part, Table))
    assert table.caption == "Pairs, 3 of 90 rows"
    assert table.numbers == {1}


def test_texts_are_cut_or_left_out(recipe: Recipe) -> None:
    def quoted(changed: Recipe) -> list[Quoted]:
        return [part for part in pinned_sections([finding(recipe)], changed)[0].parts if isinstance(part, Quoted)]

    assert quoted(recipe.with_setting("report", "texts", False)) == []
    (cut,) = quoted(recipe.with_setting("report", "words", 3))
    assert cut.runs == (("one two ", ""), ("three …", "shared"))
    (whole,) = quoted(recipe.with_setting("report", "words", 0))
    assert whole.runs == finding(recipe).quotes[0].runs


def test_other_settings_than_those_of_the_lens_are_told(recipe: Recipe) -> None:
    own = dataclasses.replace(finding(recipe), recipe=recipe.with_setting("group", "groups", 7))
    said = [part.text for part in pinned_sections([own], recipe)[0].parts if isinstance(part, Aside)]
    assert said == ["Figures: similarity: 0.842.", "Seen in the lens “Crops” on 2026-12-01, with Groups 7."]


def test_a_drawing_comes_without_what_runs_or_loads() -> None:
    text = safe_svg(EVIL, "p1", HOSTILE)
    tree = etree.fromstring(text)
    assert {etree.QName(one).localname for one in tree.iter()} == {
        "svg",
        "use",
        "defs",
        "linearGradient",
        "stop",
        "rect",
        "circle",
        "image",
        "text",
    }
    for gone in (
        "alert(1)",
        "alert(2)",
        "alert(3)",
        "alert(4)",
        "a.example/x.css",
        "y.svg",
        "p.png",
        "a.example)",
        "a.example/z",
    ):
        assert gone not in text
    assert 'fill="url(#p1-g)"' in text
    assert "slugs &amp; frost" in text
    assert tree.get("aria-label") == " ".join(HOSTILE.replace("\x07", "\ufffd").split())
    assert safe_svg("no drawing", "p", "") == ""
    assert safe_svg("<html xmlns='http://www.w3.org/1999/xhtml'/>", "p", "") == ""


def test_the_page_takes_hostile_findings_for_text(recipe: Recipe) -> None:
    text = html_of(report_with([finding(recipe), Heading(2, HOSTILE), Words(3, HOSTILE)], recipe))
    parser = html5lib.HTMLParser(html5lib.getTreeBuilder("etree"), strict=True, namespaceHTMLElements=False)
    tree = parser.parse(text)
    assert not [one for one in tree.iter() if one.tag in ("script", "img", "link", "iframe")]
    assert not [name for one in tree.iter() for name in one.attrib if name.lower().startswith("on")]
    quote = tree.find("body/main/section/figure/blockquote")
    assert quote is not None
    assert "".join(quote.itertext()) == "one two three four five\nsix seven"
    assert [one.tag for one in quote] == ["mark", "ins", "del"]
    assert [one.text for one in tree.iter("h2")] == ["Findings", HOSTILE.replace("\x07", "\ufffd")]


def test_a_picture_of_pixels_stands_in_the_page_itself(recipe: Recipe) -> None:
    own = dataclasses.replace(finding(recipe), drawing=Drawing(png=PIXEL), title="Beans")
    text = html_of(report_with([own], recipe))
    assert '<img src="data:image/png;base64,iVBORw0KGgo' in text
    assert 'alt="Beans"' in text


def test_markdown_takes_hostile_findings_for_text(recipe: Recipe) -> None:
    text, pictures = markdown_of(report_with([finding(recipe), finding(recipe, 2)], recipe), "r")
    assert list(pictures) == ["r-part-0.svg", "r-part-0-2.svg"]
    tokens = MarkdownIt("commonmark").enable("table").enable("strikethrough").parse(text)
    inline = [child for token in tokens for child in token.children or ()]
    assert not [one for one in (*tokens, *inline) if one.type in ("html_block", "html_inline", "link_open")]
    assert [one.type for one in tokens].count("blockquote_open") == 2
    assert {"strong_open", "em_open", "s_open"} <= {one.type for one in inline}
    for content in pictures.values():
        assert b"alert(2)" not in content


def test_a_picture_that_is_none_leaves_its_words(recipe: Recipe) -> None:
    own = dataclasses.replace(finding(recipe), drawing=Drawing(png=b"\x89PNG\r\n\x1a\n nothing"), title="Beans")
    made = docx.Document(io.BytesIO(docx_of(report_with([own], recipe), lambda svg: b"")))
    assert not made.inline_shapes
    assert [one.text for one in made.paragraphs].count("Beans") == 2


def test_a_word_processor_reads_all_of_it(recipe: Recipe) -> None:
    report = report_with([finding(recipe), Heading(2, "Copies"), Words(3, "Lines of our own.")], recipe)
    made = docx.Document(io.BytesIO(docx_of(report, lambda svg: PIXEL)))
    clean = " ".join(HOSTILE.replace("\x07", "\ufffd").split())
    styles = [(one.style.name, one.text) for one in made.paragraphs]
    assert ("Title", clean) in styles
    assert ("Heading 1", "Copies") in styles
    assert ("Heading 2", f"Beans {clean}") in styles
    assert ("Normal", "Lines of our own.") in styles
    (table,) = made.tables
    assert [[cell.text for cell in row.cells] for row in table.rows] == [
        ["Key", "Words", clean],
        ["a", "1,200", clean],
        ["b", "", "|"],
        ["c", "−3", "x"],
    ]
    assert len(made.inline_shapes) == 1
    quote = next(one for one in made.paragraphs if one.style.name == "Quote")
    assert [(run.text, bool(run.bold), bool(run.underline), bool(run.font.strike)) for run in quote.runs] == [
        ("one two ", False, False, False),
        ("three four", True, False, False),
        (" five\nsix", False, True, False),
        (" seven", False, False, True),
    ]
