# SPDX-License-Identifier: GPL-3.0-or-later
"""How wide columns are, and how a table leaves the window."""

from __future__ import annotations

import csv
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.tables.arrangement import Column, Cut
from jagged_lens.desktop.tables.array_model import ArrayModel
from jagged_lens.desktop.tables.fitting import Width, common_beginning, fitted, is_used
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.desktop.tables.table_file import as_lines, table_of, write_shown

WIDTHS = st.builds(lambda least, more: Width(least + more, least), st.integers(10, 200), st.integers(0, 200))


@given(st.lists(WIDTHS, min_size=1, max_size=8), st.integers(50, 2000), st.data())
def test_columns_fill_the_room_and_none_is_narrower_than_it_can_be(
    wanted: list[Width], room: int, data: st.DataObject
) -> None:
    stretch = data.draw(st.integers(0, len(wanted) - 1))
    widths = fitted(wanted, range(len(wanted)), stretch, {}, room)
    assert all(widths[at] >= one.least for at, one in enumerate(wanted))
    whole = sum(widths.values())
    if sum(one.wide for one in wanted) <= room:  # the text column takes what is left
        assert whole == room
        assert all(widths[at] == one.wide for at, one in enumerate(wanted) if at != stretch)
    elif sum(one.least for one in wanted) <= room:  # what can be cut gives way
        assert room - len(wanted) <= whole <= room


def test_what_the_user_sized_stays() -> None:
    wanted = [Width(100, 50), Width(300, 100), Width(80, 80)]
    assert fitted(wanted, range(3), 1, {0: 170}, 600) == {0: 170, 1: 350, 2: 80}
    assert fitted(wanted, [0, 2], 1, {}, 600) == {0: 100, 2: 80}  # hidden: nobody takes what is left


@pytest.mark.parametrize(
    ("texts", "beginning"),
    [
        (["Allotment notes 12", "Allotment notes 130"], "Allotment notes "),
        (["notes/larkmoor/a.txt", "notes/larkmoor/b.txt"], "notes/larkmoor/"),
        (["Bean, plot 1", "Bean, plot 2"], "Bean, plot "),
        (["Bean 1", "Bean 2"], ""),  # too short to be worth it
        (["Allotment notes ", "Allotment notes "], ""),  # all of them
        (["Runner bean", "Beet"], ""),
    ],
)
def test_a_beginning_that_all_share_is_found(texts: list[str], beginning: str) -> None:
    assert common_beginning(texts) == beginning


def table(qtbot: QtBot, columns: list[Column], size: int) -> TableView:
    view = TableView("Notes")
    qtbot.addWidget(view)
    view.resize(700, 300)
    view.show()
    view.show_rows(columns, size)
    return view


TITLES = ["Allotment notes: beans", "Allotment notes: =SUM(leeks)", "Allotment notes: beet"]


def test_the_title_says_what_rows_share_and_files_have_them_whole(qtbot: QtBot, tmp_path: Path) -> None:
    view = table(qtbot, [Column("Title", lambda row: TITLES[row]), Column("Note", lambda row: "")], 3)
    listed = view.listed
    assert listed.headerData(0, view.horizontalHeader().orientation()) == "Title: Allotment notes: …"  # type: ignore[union-attr]
    assert [listed.index(row, 0).data() for row in range(3)] == ["…beans", "…=SUM(leeks)", "…beet"]
    assert view.isColumnHidden(1)  # empty throughout
    assert as_lines(view).splitlines() == ["Title", *TITLES]


def test_an_empty_column_comes_back_when_it_is_used(qtbot: QtBot) -> None:
    notes = ["", "", ""]

    def columns() -> list[Column]:
        return [Column("Title", lambda row: TITLES[row]), Column("Note", lambda row: notes[row], used=any(notes))]

    view = table(qtbot, columns(), 3)
    assert view.isColumnHidden(1)
    notes[1] = "late"
    view.renew(columns())
    assert not view.isColumnHidden(1)
    assert is_used(Column("Note", lambda row: "x" if row == 4999 else ""), 5000)


def test_two_texts_of_a_row_stand_below_each_other_and_apart_in_a_file(qtbot: QtBot, tmp_path: Path) -> None:
    seconds = ["pea", "=1+1", "beet"]
    pair = Column("Pair", lambda row: "bean", below=lambda row: seconds[row], names=("First", "Second"), searched=True)
    share = Column("Alike", lambda row: f"-0.{row}", right=True)
    view = table(qtbot, [pair, share], 3)
    one = table(qtbot, [share], 3)
    assert view.rowHeight(0) > 1.5 * one.rowHeight(0)
    assert view.listed.index(1, 0).data(ArrayModel.BELOW) == "=1+1"
    view.listed.filter("beet")
    assert view.listed.order.tolist() == [2]
    view.listed.filter("")
    view.selectRow(0)
    view.copy()
    assert QApplication.clipboard().text() == "First\tSecond\tAlike\nbean\tpea\t-0.0"  # type: ignore[union-attr]
    write_shown(tmp_path / "pairs.csv", *table_of(view))
    with (tmp_path / "pairs.csv").open(encoding="utf-8", newline="") as file:
        rows = list(csv.reader(file))
    assert rows == [
        ["First", "Second", "Alike"],
        ["bean", "pea", "-0.0"],
        ["bean", "'=1+1", "-0.1"],
        ["bean", "beet", "-0.2"],
    ]


def test_a_term_is_never_cut(qtbot: QtBot) -> None:
    terms = ["pea"] * 200
    terms[100] = "a term that is very much longer than all those that were looked at to know how wide it is"
    view = table(
        qtbot,
        [Column("Term", lambda row: terms[row], cut=Cut.NEVER), Column("Note", lambda row: "some more words " * 4)],
        200,
    )
    before = view.columnWidth(0)
    view.go_to(100)
    qtbot.wait(50)
    view.grab()
    qtbot.waitUntil(lambda: view.columnWidth(0) > view.fontMetrics().horizontalAdvance(terms[100]), timeout=120_000)
    assert view.columnWidth(0) > before
