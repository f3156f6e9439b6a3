# SPDX-License-Identifier: GPL-3.0-or-later
"""The report: the figures of the window, a page that is whole, and nothing in it that runs or is fetched."""

from __future__ import annotations

import itertools
import re
from pathlib import Path
from xml.etree.ElementTree import Element

import html5lib
import numpy as np
import pytest
from click.testing import CliRunner
from markdown_it import MarkdownIt

from conftest import Silent
from jagged_lens.cli.commands import main
from jagged_lens.demo import demo_recipe
from jagged_lens.gather import Source
from jagged_lens.group import BREAKS, HOLDS, letter
from jagged_lens.lens import (
    ALWAYS,
    FAMILIES,
    GROUPING,
    HOLDING,
    LAYOUT,
    PAIRS,
    PLACED,
    SUGGESTIONS,
    Job,
    Recent,
    Results,
    compute,
    read_recipe,
    with_needs,
)
from jagged_lens.project import Finding, Heading, Keeper, LensState, ProjectState, Way
from jagged_lens.project.plain_state import with_pictures
from jagged_lens.report import STANDING, Picture, Quoted, Report, Table, html_of, markdown_of, report_of

SVG = "{http://www.w3.org/2000/svg}"
HOSTILE = "<script>alert('x')</script>\"&<img src=http://a.example/x onerror=y>"


@pytest.fixture(scope="module")
def results() -> Results:
    parts = with_needs([*ALWAYS, FAMILIES, HOLDING, SUGGESTIONS])
    return compute(Job(read_recipe(demo_recipe()), demo_recipe().parent), Recent(), Silent(), lambda: parts)


@pytest.fixture(scope="module")
def report(results: Results) -> Report:
    return report_of(
        read_recipe(demo_recipe()), results, {0: ("Barley folk", "Look at these again.")}, "Crops of Larkmoor"
    )


def page(text: str) -> Element:
    """The page as a tree, by a parser that forgives nothing."""
    parser = html5lib.HTMLParser(html5lib.getTreeBuilder("etree"), strict=True, namespaceHTMLElements=False)
    tree: Element = parser.parse(text)
    return tree


def section(report: Report, name: str) -> str:
    found = next(one for one in report.sections if one.name == name)
    return " ".join(repr(part) for part in found.parts)


def test_the_figures_are_those_of_the_lens(report: Report, results: Results) -> None:
    assert [one.name for one in report.sections] == [one for one in STANDING if one != "placed"]
    grouping, holding, layout = results[GROUPING], results[HOLDING], results[LAYOUT]
    groups = next(one for one in report.sections if one.name == "groups")
    table = next(part for part in groups.parts if isinstance(part, Table))
    assert table.rows[0][0] == "A Barley folk"
    assert [int(row[1]) for row in table.rows] == grouping.sizes.tolist()
    assert [row[5] for row in table.rows] == [f"{count} of 20" for count in holding.came_back]
    assert "Look at these again." in section(report, "groups")
    sure = section(report, "sure")
    assert f"{int((holding.groups >= HOLDS).sum())} of 10 groups are stable" in sure
    assert f"The map keeps {layout.overall:.0%} of the nearest neighbours" in sure
    assert f"{len(results[PAIRS])} pairs" in section(report, "copies")
    assert "640 documents were read" in section(report, "account")


def test_the_page_is_whole_and_can_be_read_without_seeing_it(report: Report) -> None:
    tree = page(html_of(report))
    assert tree.find("head/title").text == "Crops of Larkmoor"  # type: ignore[union-attr]
    assert [one.tag for one in tree.iter() if one.tag in ("h1", "h2")] == ["h1"] + ["h2"] * len(report.sections)
    for table in tree.iter("table"):
        assert table.find("caption") is not None
        assert all(head.get("scope") in ("col", "row") for head in table.iter("th"))
        width = len(table.findall("thead/tr/th"))
        assert all(len(row) == width for row in table.findall("tbody/tr"))
    assert len(list(tree.iter(SVG + "svg"))) == 1
    for picture in tree.iter(SVG + "svg"):
        assert picture.get("role") == "img"
        assert "A Barley folk" in picture.get("aria-label", "")
        assert any("Barley folk" in (text.text or "") for text in picture.iter(SVG + "text"))
    places = {one.get("href", "")[1:] for one in tree.iter("a")}
    assert places == {one.get("id") for one in tree.iter("h2")}


def test_nothing_in_it_runs_or_is_fetched(report: Report) -> None:
    text = html_of(report)
    tree = page(text)
    assert not [one for one in tree.iter() if one.tag in ("script", "link", "img", "iframe", "object", "embed", "form")]
    assert not [name for one in tree.iter() for name in one.attrib if name.lower().startswith("on")]
    addresses = set(re.findall(r"(?:https?:)?//[\w.]+[^\s\"'<]*", text)) - {"http://www.w3.org/2000/svg"}
    assert not [one for one in addresses if f'"{one}' in text]


def test_the_page_is_for_all_readers(report: Report) -> None:
    """An accessibility check of our own: language, landmarks, order of headings, alternatives, scoped heads, names that are there once."""
    tree = page(html_of(report))
    assert tree.get("lang") == "en"
    assert {one.tag for one in tree.find("body")} == {"header", "nav", "main"}  # type: ignore[union-attr]
    levels = [int(one.tag[1]) for one in tree.iter() if one.tag in ("h1", "h2", "h3")]
    assert levels.count(1) == 1
    assert all(after <= before + 1 for before, after in itertools.pairwise(levels))
    for picture in (*tree.iter("img"), *tree.iter(SVG + "svg")):
        assert picture.get("alt") or (picture.get("role") == "img" and picture.get("aria-label"))
    for table in tree.iter("table"):
        assert table.find("caption") is not None
        assert all(head.get("scope") == "col" for head in table.findall("thead/tr/th"))
        assert all(row[0].tag == "th" and row[0].get("scope") == "row" for row in table.findall("tbody/tr"))
    ids = [one.get("id") for one in tree.iter() if one.get("id")]
    assert len(ids) == len(set(ids))
    for link in tree.iter("a"):
        assert (link.get("href") or "").removeprefix("#") in ids
    for part in tree.iter("section"):
        assert part.get("aria-labelledby") in ids


def test_the_recipe_in_it_gives_the_same_lens_again(report: Report, tmp_path: Path) -> None:
    part = next(one for one in next(s for s in report.sections if s.name == "again").parts if isinstance(one, Quoted))
    (tmp_path / "r.toml").write_text(part.runs[0][0], "utf-8")
    assert read_recipe(tmp_path / "r.toml") == read_recipe(demo_recipe())
    assert "near = " not in part.runs[0][0]  # what is as usual is left out


def test_new_documents_are_told_where_there_are_any(results: Results) -> None:
    recipe = read_recipe(demo_recipe())
    job = Job(recipe, demo_recipe().parent, placing=(Source(file="late"),))
    parts = with_needs([*ALWAYS, PLACED])
    found = compute(job, Recent(), Silent(), lambda: parts)
    told = next(one for one in report_of(recipe, found, {}).sections if one.name == "placed")
    table = next(part for part in told.parts if isinstance(part, Table))
    assert table.caption == "New documents, 30 of 50"
    assert table.rows[0][0] == found[PLACED].corpus.keys[0]
    assert "50 new documents were placed" in repr(told.parts[0])


def test_groups_that_are_not_stable_are_named(report: Report, results: Results) -> None:
    said = section(report, "sure")
    weak = np.flatnonzero(results[HOLDING].groups < BREAKS).tolist()
    assert weak
    for group in weak:
        assert f"Not stable: {letter(group)} " in said


def test_titles_and_names_that_look_like_markup_stay_text(tmp_path: Path) -> None:
    lines = [f"{HOSTILE} slugs {word} frost leeks {word}" for word in ("beans", "peas", "beets", "barley") * 6]
    (tmp_path / "notes.csv").write_text(
        "title,note\n"
        + "\n".join(f'"{HOSTILE.replace(chr(34), chr(34) * 2)}","{line.replace(chr(34), "")}"' for line in lines)
    )
    (tmp_path / "r.toml").write_text(
        '[gather]\nfrom = "notes.csv"\ntext = ["note"]\ntitle = "title"\n[terms]\nleast-documents = 1\n[map]\nby = "pca"\n'
    )
    made = read_recipe(tmp_path / "r.toml")
    parts = with_needs([*ALWAYS, FAMILIES])
    found = compute(Job(made, tmp_path), Recent(), Silent(), lambda: parts)
    text = html_of(report_of(made, found, {0: (HOSTILE, HOSTILE)}, HOSTILE))
    tree = page(text)
    assert not [one for one in tree.iter() if one.tag in ("script", "img")]
    assert tree.find("body/header/h1").text == HOSTILE  # type: ignore[union-attr]
    assert any(HOSTILE in (one.text or "") for one in tree.iter(SVG + "text"))
    assert "The stability of the groups was not measured" in text


def test_parts_can_be_left_out(results: Results) -> None:
    recipe = read_recipe(demo_recipe()).with_setting("report", "leave-out", ["terms", "map"])
    found = report_of(recipe, results, {})
    assert {one.name for one in found.sections} == set(STANDING) - {"terms", "map", "placed"}
    assert not any(isinstance(part, Picture) for one in found.sections for part in one.parts)


def test_the_same_lens_gives_the_same_page(results: Results) -> None:
    recipe = read_recipe(demo_recipe())
    assert html_of(report_of(recipe, results, {})) == html_of(report_of(recipe, results, {}))
    assert np.isfinite(results[LAYOUT].overall)


def test_markdown_says_the_same_and_takes_no_text_for_markup(results: Results) -> None:
    named = {0: ("Barley | *folk* <b>x</b> [a](http://a.example)", "")}
    report = report_of(read_recipe(demo_recipe()), results, named, HOSTILE)
    text, pictures = markdown_of(report, "report")
    assert list(pictures) == ["report-map.svg"]
    tokens = MarkdownIt("commonmark").enable("table").parse(text)
    inline = [child for token in tokens for child in token.children or ()]
    assert not [one for one in (*tokens, *inline) if one.type in ("html_block", "html_inline", "link_open", "em_open")]
    rendered = html5lib.parse(MarkdownIt("commonmark").enable("table").render(text), namespaceHTMLElements=False)
    assert rendered.find("body/h1").text == HOSTILE
    assert [one.text for one in rendered.iter("h2")] == [one.title for one in report.sections]
    tables = [part for one in report.sections for part in one.parts if isinstance(part, Table)]
    found = list(rendered.iter("table"))
    assert len(found) == len(tables)
    for table, own in zip(found, tables, strict=True):
        cells = [["".join(cell.itertext()) for cell in row] for row in table.findall("tbody/tr")]
        assert cells == [[" ".join(cell.split()) for cell in row] for row in own.rows]
    (picture,) = rendered.iter("img")
    assert picture.get("src") == "report-map.svg"


def test_a_run_of_a_project_has_its_findings(tmp_path: Path) -> None:
    keeper = Keeper(tmp_path / "p.jagged", True, new=True)
    recipe = read_recipe(demo_recipe()).with_setting("map", "by", "pca")
    state = ProjectState((LensState("Crops", recipe),), 0, demo_recipe().parent)
    state = state.with_entry(Heading(1, "What is told twice?"))
    state = state.with_entry(Finding(2, "Slugs come first", "", "2026-12-01", "Crops", recipe, Way("map")))
    keeper.save(lambda: with_pictures(state))
    assert keeper.flush()
    keeper.close()
    done = CliRunner().invoke(main, ["run", str(tmp_path / "p.jagged"), "--out", str(tmp_path / "out")])
    assert done.exit_code == 0, done.output
    tree = page((tmp_path / "out" / "report.html").read_text("utf-8"))
    assert next(one.text for one in tree.iter("h2")) == "What is told twice?"
    assert "Slugs come first" in [one.text for one in tree.iter("h3")]
