# SPDX-License-Identifier: GPL-3.0-or-later
"""Columns of tables are remembered as the user left them."""

from __future__ import annotations

import threading
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QPoint, QSettings, Qt
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.tables import array_model as tables
from jagged_lens.desktop.tables.arrangement import Arrangement, Column, Wanted
from jagged_lens.desktop.tables.columns import TableColumns
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.strings import Strings

BEDS = ["pea", "leek", "beet"]
SIZES = np.array([3, 1, 2])


def beds(qtbot: QtBot, memory: QSettings | None) -> tuple[TableView, TableColumns]:
    table = TableView("Beds")
    qtbot.addWidget(table)
    table.resize(500, 200)
    table.show()
    columns = TableColumns(table, memory)
    show(table)
    return table, columns


def show(table: TableView) -> None:
    columns = [
        Column("Crop", lambda row: BEDS[row], texts=BEDS),
        Column("Rows", lambda row: str(SIZES[row]), SIZES, right=True),
        Column("Note", lambda row: "sown late"),
    ]
    table.show_rows(columns, 3, 0)


def titles(table: TableView) -> list[str]:
    across = table.horizontalHeader()
    assert across is not None
    shown = [across.logicalIndex(at) for at in range(across.count())]
    return [table.listed.columns[at].title for at in shown if not across.isSectionHidden(at)]


@pytest.fixture
def memory(tmp_path: Path) -> QSettings:
    return QSettings(str(tmp_path / "window.ini"), QSettings.Format.IniFormat)


def test_width_order_sort_and_hidden_columns_come_back(qtbot: QtBot, memory: QSettings) -> None:
    table, columns = beds(qtbot, memory)
    across = table.horizontalHeader()
    assert across is not None
    viewport = across.viewport()
    # Drag the edge between the titles of the second and the third column.
    edge = QPoint(across.sectionViewportPosition(2) - 1, across.height() // 2)
    QTest.mousePress(viewport, Qt.MouseButton.LeftButton, pos=edge)
    QTest.mouseMove(viewport, edge + QPoint(20, 0))
    QTest.mouseMove(viewport, edge + QPoint(41, 0))
    QTest.mouseRelease(viewport, Qt.MouseButton.LeftButton, pos=edge + QPoint(41, 0))
    wide = across.sectionSize(1)
    QTest.mouseClick(viewport, Qt.MouseButton.LeftButton, pos=QPoint(across.sectionViewportPosition(1) + 20, 8))
    assert [BEDS[row] for row in table.listed.order] == ["leek", "beet", "pea"]
    across.moveSection(2, 0)
    next(entry for entry in columns.menu().actions() if entry.text() == "Note").trigger()
    assert titles(table) == ["Crop", "Rows"]
    across.moveSection(across.visualIndex(1), 0)

    again, kept = beds(qtbot, memory)
    assert titles(again) == ["Rows", "Crop"]
    assert [BEDS[row] for row in again.listed.order] == ["leek", "beet", "pea"]
    new = again.horizontalHeader()
    assert new is not None
    assert new.sectionSize(1) == wide
    actions = {entry.text(): entry for entry in kept.menu().actions()}
    assert not actions["Crop"].isEnabled()
    assert not actions["Note"].isChecked()
    actions["Reset columns"].trigger()
    assert titles(again) == ["Crop", "Rows", "Note"]
    assert new.sectionSize(1) < wide
    assert titles(beds(qtbot, memory)[0]) == ["Crop", "Rows", "Note"]


def test_what_a_table_does_by_itself_is_not_kept_and_rubbish_is_passed_over(qtbot: QtBot, memory: QSettings) -> None:
    table, _ = beds(qtbot, memory)
    table.resize(300, 200)
    table.resize(700, 200)
    show(table)
    assert not memory.allKeys()
    memory.setValue("columns/Beds/Crop|Rows|Note", '{"order": 3}')
    assert titles(beds(qtbot, memory)[0]) == ["Crop", "Rows", "Note"]
    memory.setValue("columns/Beds/Crop|Rows|Note", "{{")
    assert titles(beds(qtbot, memory)[0]) == ["Crop", "Rows", "Note"]


def test_only_the_column_that_is_to_stretch_takes_what_is_left(qtbot: QtBot) -> None:
    table = TableView("Beds")
    qtbot.addWidget(table)
    table.resize(600, 200)
    table.show()
    columns = [Column("Crop", lambda row: BEDS[row]), Column("Note", lambda row: "sown late")]
    table.listed.show(columns, 3)
    table.resize(640, 200)  # resized before it knows which one stretches
    table.listed.show([], 0)
    table.show_rows(columns, 3, 1)
    viewport = table.viewport()
    assert viewport is not None
    crop = table.columnWidth(0)
    assert crop < 120
    assert crop + table.columnWidth(1) == viewport.width()
    table.resize(200, 200)
    wanted = table.columnWidth(1)  # as wide as its words
    assert wanted > QFontMetricsF(table.font()).horizontalAdvance("sown late")
    table.resize(900, 200)
    assert table.columnWidth(0) == crop
    table.resize(200, 200)  # too narrow for both: the table is moved to and fro instead
    assert table.columnWidth(0) == crop
    assert table.columnWidth(1) == wanted


def test_a_filter_finds_in_any_searched_column_whatever_the_case_and_the_lines(qtbot: QtBot) -> None:
    table = TableView("Notes")
    qtbot.addWidget(table)
    notes = ["Late\nfrost", "STRASSE", "late pea", ""]
    table.show_rows(
        [
            Column("Crop", lambda row: ["pea", "leek", "beet", "late"][row], searched=True),
            Column("Note", lambda row: notes[row], searched=True, texts=lambda: notes),
            Column("Not searched", lambda row: "late"),
        ],
        4,
    )
    for words, expected in (
        ("late", [0, 2, 3]),
        ("frost", [0]),
        ("straße", [1]),
        ("pea", [0, 2]),
        ("e f", [0]),
        ("zz", []),
    ):
        table.listed.filter(words)
        assert table.listed.order.tolist() == expected
    table.listed.filter("late", np.array([False, False, True, True]))
    assert table.listed.order.tolist() == [2, 3]


@pytest.fixture
def long_table(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> TableView:
    """A table that is arranged in another thread."""
    monkeypatch.setattr(tables, "_MOST_AT_ONCE", 2)
    table = TableView("Beds")
    qtbot.addWidget(table)
    show(table)
    table.show()
    return table


def arranged(qtbot: QtBot, table: TableView) -> list[str]:
    qtbot.waitUntil(lambda: not table.listed.pending, timeout=120_000)
    return [BEDS[row] for row in table.listed.order]


def test_a_long_table_is_arranged_beside_the_window(qtbot: QtBot, long_table: TableView) -> None:
    table = long_table
    assert arranged(qtbot, table) == ["pea", "leek", "beet"]
    table.go_to(1)
    table.sortByColumn(0, Qt.SortOrder.AscendingOrder)
    assert [BEDS[row] for row in table.listed.order] == ["pea", "leek", "beet"]  # until it is known better
    assert arranged(qtbot, table) == ["beet", "leek", "pea"]
    assert table.current_row() == 1
    assert table.chosen_rows() == [1]
    table.sortByColumn(1, Qt.SortOrder.DescendingOrder)
    table.listed.filter("", np.array([True, False, True]))
    assert arranged(qtbot, table) == ["pea", "beet"]
    table.sortByColumn(-1, Qt.SortOrder.AscendingOrder)
    table.listed.filter("")
    assert arranged(qtbot, table) == BEDS


def test_sorting_keeps_the_row_in_sight_or_shows_the_top(qtbot: QtBot) -> None:
    table = TableView("Numbers")
    qtbot.addWidget(table)
    table.resize(300, 200)
    numbers = np.arange(500)[::-1]
    table.show_rows([Column("Number", lambda row: str(numbers[row]), numbers)], 500, 0)
    table.show()
    bar, viewport = table.verticalScrollBar(), table.viewport()
    assert bar is not None
    assert viewport is not None
    table.go_to(300)
    table.sortByColumn(0, Qt.SortOrder.AscendingOrder)
    assert table.current_row() == 300
    assert viewport.rect().contains(table.visualRect(table.currentIndex()))
    bar.setValue(bar.maximum())
    table.sortByColumn(0, Qt.SortOrder.DescendingOrder)
    assert table.current_row() == 300
    assert bar.value() == 0
    bar.setValue(120)
    numbers = numbers + 1  # other arrays, the same order
    table.show_rows([Column("Number", lambda row: str(numbers[row]), numbers)], 500, 0)
    assert bar.value() == 120


def test_what_is_gone_to_while_rows_are_arranged_is_gone_to_afterwards(qtbot: QtBot, long_table: TableView) -> None:
    table = long_table
    table.listed.filter("", np.array([True, False, False]))
    arranged(qtbot, table)
    seen: list[int] = []
    table.row_changed.connect(seen.append)
    table.sortByColumn(0, Qt.SortOrder.AscendingOrder)
    table.listed.filter("")
    table.go_to(2)
    arranged(qtbot, table)
    assert seen == [2]
    assert table.current_row() == 2


def test_whoever_waits_for_a_long_table_is_told_so(qtbot: QtBot, long_table: TableView) -> None:
    go = threading.Event()

    def texts() -> list[str]:
        go.wait(10)
        return BEDS

    long_table.show_rows([Column("Crop", lambda row: BEDS[row], texts=texts)], 3, 0)
    long_table.sortByColumn(0, Qt.SortOrder.AscendingOrder)
    qtbot.waitUntil(long_table.waiting.isVisible, timeout=120_000)
    assert long_table.waiting.text() == "Arranging 3 rows…"
    go.set()
    assert arranged(qtbot, long_table) == ["beet", "leek", "pea"]
    assert not long_table.waiting.isVisible()


@given(
    st.lists(st.text("aAßs\n é", max_size=5), max_size=12),
    st.text("aAßs é", max_size=2),
    st.booleans(),
    st.booleans(),
)
def test_rows_are_arranged_as_one_by_one(texts: list[str], words: str, falling: bool, packed: bool) -> None:
    column = Column("Crop", lambda row: texts[row], searched=True, texts=Strings.of(texts) if packed else None)
    found = Arrangement([column], len(texts)).rows(Wanted(0, falling, words.casefold().strip()))
    lines = [text.casefold().replace("\n", " ") for text in texts]
    expected = sorted(range(len(texts)), key=lines.__getitem__, reverse=falling)
    assert found.tolist() == [row for row in expected if words.casefold().strip() in lines[row]]


def test_texts_that_stay_are_not_looked_through_again() -> None:
    asked: list[str] = []

    def texts() -> list[str]:
        asked.append("texts")
        return BEDS

    def column() -> Column:
        return Column("Crop", lambda row: BEDS[row], searched=True, texts=texts)

    first = Arrangement([column()], 3)
    assert first.rows(Wanted(words="ee")).tolist() == [1, 2]
    again = first.after([column()], 3)
    assert again.rows(Wanted(0, words="e")).tolist() == [2, 1, 0]
    assert len(asked) == 1
