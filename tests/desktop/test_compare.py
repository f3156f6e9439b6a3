# SPDX-License-Identifier: GPL-3.0-or-later

from collections.abc import Callable

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QTextCursor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.reading.marked_text import MarkedText
from jagged_lens.desktop.tables.array_model import ArrayModel
from jagged_lens.desktop.window import MainWindow
from jagged_lens.errors import RecipeError
from jagged_lens.explain import contributions

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def desk(window: MainWindow, settle: Callable[[MainWindow], None]) -> PairsFace:
    QTest.keyClick(window, Qt.Key.Key_5, Qt.KeyboardModifier.AltModifier)
    settle(window)
    assert isinstance(window.desk, CompareDesk)
    return window.desk.face(PairsFace)


def click_row(desk: PairsFace, row: int, settle: Callable[[MainWindow], None]) -> None:
    index = desk.table.listed.index(row, 1)
    desk.table.scrollTo(index)
    QTest.mouseClick(desk.table.viewport(), LEFT, Qt.KeyboardModifier.NoModifier, desk.table.visualRect(index).center())
    settle(desk.window())  # type: ignore[arg-type]


def shaded(text: MarkedText) -> dict[str, float]:
    """Words with a ground of their own, and how dark it is."""
    found = {}
    plain = text.toPlainText()
    for at in range(len(plain)):
        cursor = QTextCursor(text.document())
        cursor.setPosition(at + 1)
        ground = cursor.charFormat().background()
        if ground.style() != Qt.BrushStyle.NoBrush:
            start = max(plain.rfind(" ", 0, at) + 1, 0)
            found[plain[start : plain.find(" ", at)]] = 1 - ground.color().lightnessF()
    return found


def test_the_table_lists_the_pairs_and_the_head_counts_them(desk: PairsFace, window: MainWindow) -> None:
    pairs = window.bench.results["pairs"]
    assert desk.table.listed.rowCount() == len(pairs)
    above = int((pairs.similarity >= 0.4).sum())
    below = f" and {len(pairs) - above} copies below" if len(pairs) > above else ""
    words = f"{640 * 639 // 2:,} pairs · {above} from 0.40{below}, in {pairs.families} families"
    assert window.desk.figures.text() == words
    assert [button.count for button in desk.kinds] == np.bincount(pairs.kind, minlength=4).tolist()
    titles = window.bench.results["corpus"].titles
    assert desk.table.listed.index(3, 1).data() == titles[int(pairs.first[3])]


def test_a_click_reads_the_pair_side_by_side_with_shared_terms_marked(
    desk: PairsFace, window: MainWindow, settle: Callable[[MainWindow], None]
) -> None:
    click_row(desk, 8, settle)
    pairs, corpus, space = (window.bench.results[name] for name in ("pairs", "corpus", "space"))
    first, second = int(pairs.first[8]), int(pairs.second[8])
    reader = window.side.reader
    assert reader.heading.text() == f"Pair 9 of {len(pairs)}"
    assert reader.first.text.toPlainText() == corpus.texts[first]
    assert reader.second.text.toPlainText() == corpus.texts[second]
    assert window.bench.pick.rows == tuple(sorted((first, second)))
    parts = contributions(space, "cosine", first, second)
    heaviest = space.terms.shown[int(parts.columns[0])].split()[-1]
    marks = shaded(reader.first.text)
    assert any(heaviest in word.lower() for word in marks)
    assert "the" not in marks
    assert len(set(marks.values())) > 1


def test_why_this_number_adds_up(desk: PairsFace, window: MainWindow, settle: Callable[[MainWindow], None]) -> None:
    click_row(desk, 9, settle)
    similarity = window.bench.results["pairs"].similarity[9]
    assert desk.why.head.text() == f"Why {similarity:.3f}?"
    assert sum(part for _, part in desk.why.bar._parts) == pytest.approx(float(similarity), abs=1e-6)
    assert f"add up to {similarity:.4f}" in desk.why.sum.text()


def test_j_and_k_step_through_pairs_and_what_differs_is_underlined(
    desk: PairsFace, window: MainWindow, settle: Callable[[MainWindow], None]
) -> None:
    edited = int(np.flatnonzero(window.bench.results["pairs"].kind == 1)[-1])
    click_row(desk, edited, settle)
    QTest.keyClick(desk.table, Qt.Key.Key_J)
    settle(window)
    assert window.side.reader.heading.text().startswith(f"Pair {edited + 2} of")
    QTest.keyClick(desk.table, Qt.Key.Key_K)
    settle(window)
    assert window.side.reader.heading.text().startswith(f"Pair {edited + 1} of")
    text = window.side.reader.first.text
    inks = set()
    for at in range(text.document().characterCount() - 1):  # type: ignore[union-attr]
        cursor = QTextCursor(text.document())
        cursor.setPosition(at + 1)
        inks.add(cursor.charFormat().foreground().color().name())
    assert theme.colour("madder").name() in inks


def test_the_limit_is_dragged_on_the_picture(
    desk: PairsFace, window: MainWindow, settle: Callable[[MainWindow], None]
) -> None:
    picture = desk.histogram
    before = len(window.bench.results["pairs"])
    start, end = (QPoint(round(picture.place_of(value)), 20) for value in (0.5, 0.9))
    QTest.mousePress(picture, LEFT, Qt.KeyboardModifier.NoModifier, start)
    QTest.mouseMove(picture, end)
    QTest.mouseRelease(picture, LEFT, Qt.KeyboardModifier.NoModifier, end)
    settle(window)
    assert window.bench.recipe.compare.pairs_from == pytest.approx(0.9, abs=0.011)
    assert 0 < len(window.bench.results["pairs"]) == desk.table.listed.rowCount() < before
    QTest.keyClick(picture, Qt.Key.Key_Right)
    settle(window)
    assert window.bench.recipe.compare.pairs_from == pytest.approx(0.91, abs=0.011)
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    settle(window)
    assert len(window.bench.results["pairs"]) == before


def test_kinds_are_switched_off_and_titles_filtered(desk: PairsFace, window: MainWindow, qtbot: QtBot) -> None:
    pairs = window.bench.results["pairs"]
    qtbot.mouseClick(desk.kinds[3], LEFT)
    assert desk.table.listed.rowCount() == (pairs.kind != 3).sum()
    QTest.keyClick(desk.table, Qt.Key.Key_Slash)
    assert window.focusWidget() is window.desk.field
    qtbot.keyClicks(window.desk.field, "leek")
    shown = [
        desk.table.listed.index(row, 1).data() + desk.table.listed.index(row, 1).data(ArrayModel.BELOW)
        for row in range(desk.table.listed.rowCount())
    ]
    assert shown
    assert all("leek" in titles.lower() for titles in shown)
    QTest.keyClick(window.desk.field, Qt.Key.Key_Escape)
    assert window.desk.field.text() == ""


def test_rows_sort_and_copy_tab_separated(desk: PairsFace, window: MainWindow) -> None:
    desk.table.sortByColumn(2, Qt.SortOrder.AscendingOrder)
    values = [float(desk.table.listed.index(row, 2).data()) for row in range(desk.table.listed.rowCount())]
    assert values == sorted(values)
    desk.table.selectRow(0)
    QTest.keyClick(desk.table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    lines = QApplication.clipboard().text().split("\n")  # type: ignore[union-attr]
    assert lines[0].split("\t")[1:4] == ["First document", "Second document", "Alike"]
    assert lines[1].split("\t")[3] == f"{values[0]:.3f}"


def test_no_pair_is_said_with_what_to_do(
    desk: PairsFace, window: MainWindow, settle: Callable[[MainWindow], None]
) -> None:
    window.bench.set("gather", "text", ("season",))
    settle(window)
    window.bench.set("gather", "text", ("variety",))
    window.bench.set("terms", "least-documents", 119)
    settle(window)
    assert desk.none.isVisible()
    assert "Move the limit to the left" in desk.none.text()


@pytest.mark.parametrize("measure", ["euclidean", "hellinger"])
def test_other_measures_say_how_their_number_comes_about(
    desk: PairsFace, window: MainWindow, settle: Callable[[MainWindow], None], measure: str
) -> None:
    window.bench.set("compare", "measure", measure)
    settle(window)
    click_row(desk, 10, settle)
    parts = sum(part for _, part in desk.why.bar._parts)
    similarity = float(window.bench.results["pairs"].similarity[10])
    assert similarity == pytest.approx(1 / (1 + parts**0.5) if measure == "euclidean" else parts, abs=1e-5)


def test_a_pair_that_was_compared_in_themes_is_told_in_terms(
    window: MainWindow, settle: Callable[[MainWindow], None]
) -> None:
    whole = window.desks["compare"]
    assert isinstance(whole, CompareDesk)
    desk = whole.face(PairsFace)
    window.bench.set("weigh", "themes", 30)
    window.show_step("compare")
    settle(window)
    desk.table.go_to(3)
    settle(window)
    assert "terms of the first" in desk.why.figures.text()
    assert "what the 30 themes assign to the term in the second" in desk.why.sum.text()
    with pytest.raises(RecipeError, match="hellinger"):
        window.bench.set("compare", "measure", "hellinger")
