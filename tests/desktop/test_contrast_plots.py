# SPDX-License-Identifier: GPL-3.0-or-later
"""The pictures of Contrast, each alone: ribbons, bars over periods, pairs of bars."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.desks.contrast.two_maps import TwoMaps
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.flows import Block, Flows
from jagged_lens.desktop.plots.map_canvas import Category
from jagged_lens.desktop.plots.period_bars import Line, PeriodBars
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.cells import PairOfBars, PartBars, side_colours
from jagged_lens.desktop.tables.table import TableView

LEFT = Qt.MouseButton.LeftButton
CTRL = Qt.KeyboardModifier.ControlModifier
COUNTS = np.array([[6, 0, 2], [1, 3, 0]])


@pytest.fixture
def flows(qtbot: QtBot, qapp: QApplication) -> Flows:
    theme.dress(qapp)
    flows = Flows()
    qtbot.addWidget(flows)
    flows.resize(600, 400)
    flows.show()
    colours = [QColor(name) for name in ("#803060", "#306080", "#608030")]
    left = [Block("A", "barley", colours[0]), Block("B", "beans", colours[1])]
    right = [Block(letter, letter.lower() * 4, colour) for letter, colour in zip("ABC", colours, strict=True)]
    flows.show_flows(COUNTS, left, right, ("one lens", "the other"))
    return flows


def test_ribbons_are_as_high_as_they_are_many_and_fill_their_blocks(flows: Flows) -> None:
    assert flows.ribbons == [(0, 0, 6), (1, 1, 3), (0, 2, 2), (1, 0, 1)]
    flows.grab()
    drawn = {(one.first, one.second): one for one in flows._ribbons}
    each = drawn[0, 0].left[1] / 6
    for (first, second), one in drawn.items():
        assert one.left[1] == one.right[1] == pytest.approx(each * COUNTS[first, second])
    # Ribbons of a block lie below each other without a gap, at both ends.
    assert drawn[0, 2].left[0] == pytest.approx(drawn[0, 0].left[0] + drawn[0, 0].left[1])
    assert drawn[1, 0].right[0] == pytest.approx(drawn[0, 0].right[0] + drawn[0, 0].right[1])
    assert flows.words(0) == "6 of 8 go from A barley to A aaaa"


def test_a_ribbon_and_a_block_are_chosen_by_hand_and_by_keys(flows: Flows, qtbot: QtBot) -> None:
    chosen: list[tuple[int, int, bool]] = []
    flows.chosen.connect(lambda *told: chosen.append(told))
    flows.grab()
    QTest.mouseClick(flows, LEFT, pos=flows.place_of(1, 1).toPoint())
    QTest.mouseClick(flows, LEFT, CTRL, flows.place_of(0, 0).toPoint())
    x1, x2 = flows._ends()
    QTest.mouseClick(flows, LEFT, pos=QPoint(int(x1) - 5, int(flows._left_tops[1]) + 3))
    QTest.mouseClick(flows, LEFT, pos=QPoint(int(x2) + 5, int(flows._right_tops[2]) + 3))
    QTest.mouseClick(flows, LEFT, pos=QPoint(int((x1 + x2) / 2), 2))  # beside everything
    assert chosen == [(1, 1, False), (0, 0, True), (1, -1, False), (-1, 2, False)]
    chosen.clear()
    flows.setFocus()
    for key in (Qt.Key.Key_Up, Qt.Key.Key_Up, Qt.Key.Key_Up, Qt.Key.Key_Return, Qt.Key.Key_Down, Qt.Key.Key_Space):
        QTest.keyClick(flows, key)
    assert chosen == [(0, 0, False), (1, 1, False)]
    assert flows.accessibleDescription() == "3 of 4 go from B beans to B bbbb"


def test_no_flows_are_drawn_of_nothing(flows: Flows) -> None:
    flows.show_flows(np.zeros((0, 0), np.int64), [], [], ("", ""))
    flows.grab()
    QTest.mouseClick(flows, LEFT, pos=QPoint(50, 50))
    QTest.keyClick(flows, Qt.Key.Key_Return)
    assert flows.ribbons == []


@pytest.fixture
def bars(qtbot: QtBot, qapp: QApplication) -> PeriodBars:
    theme.dress(qapp)
    bars = PeriodBars()
    qtbot.addWidget(bars)
    bars.resize(640, 300)
    lines = [
        Line("slugs", QColor("#803060"), np.array([4, 1, 0])),
        Line("drought", QColor("#306080"), np.array([0, 2, 10])),
    ]
    bars.show_lines(lines, ("2019", "2020", "2021"), np.array([10, 10, 20]))
    bars.show()
    return bars


def test_bars_say_how_many_of_how_many(bars: PeriodBars) -> None:
    assert bars.words(0, 0) == "slugs, 2019: 4 of 10 (40%)"
    assert bars.words(1, 2) == "drought, 2021: 10 of 20 (50%)"
    bars.show_lines([], (), np.zeros(0, np.int64))
    bars.grab()
    assert bars.accessibleDescription() == "nothing to show"


def test_bars_and_periods_are_chosen_by_hand_and_by_keys(bars: PeriodBars) -> None:
    chosen: list[tuple[int, int, bool]] = []
    bars.chosen.connect(lambda *told: chosen.append(told))
    QTest.mouseClick(bars, LEFT, pos=bars.bar_place(1, 2).toPoint())
    QTest.mouseClick(bars, LEFT, CTRL, bars.bar_place(0, 1).toPoint())
    QTest.mouseClick(bars, LEFT, pos=bars.bar_place(-1, 0).toPoint())
    QTest.mouseClick(bars, LEFT, pos=QPoint(3, 10))  # the name of the first line
    assert chosen == [(1, 2, False), (0, 1, True), (-1, 0, False), (0, -1, False)]
    chosen.clear()
    bars.setFocus()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Down, Qt.Key.Key_Return):
        QTest.keyClick(bars, key)
    assert chosen == [(1, 2, False)]
    assert bars.accessibleDescription() == "drought, 2021: 10 of 20 (50%)"


def test_the_highest_bar_of_a_line_is_that_of_the_largest_share(bars: PeriodBars) -> None:
    picture = bars.grab().toImage()
    colour = QColor("#306080")
    middles = [int(bars.bar_place(1, period).x()) for period in range(3)]
    heights = [sum(picture.pixelColor(x, y) == colour for y in range(picture.height())) for x in middles]
    assert heights[0] == 0
    assert heights[2] > 2 * heights[1] > 0


def painted(table: TableView, column: int) -> list[tuple[int, int]]:
    """How many pixels of a cell have the colour of the left side, and of the right one."""
    picture = table.viewport().grab().toImage()  # type: ignore[union-attr]
    found = []
    for row in range(table.listed.rowCount()):
        area = table.visualRect(table.listed.index(row, column))
        pixels = [
            picture.pixelColor(x, y) for x in range(area.left(), area.right()) for y in range(area.top(), area.bottom())
        ]
        found.append(tuple(sum(pixel == colour for pixel in pixels) for colour in side_colours()))
    return found  # type: ignore[return-value]


def test_a_pair_of_bars_is_as_long_as_both_shares(qtbot: QtBot, qapp: QApplication) -> None:
    theme.dress(qapp)
    table = TableView("Shares")
    qtbot.addWidget(table)
    table.resize(500, 200)
    table.setItemDelegateForColumn(1, PairOfBars(table))
    shares = [(1.0, 0.5), (0.0, 1.0), (0.25, 0.0)]
    table.show_rows(
        [
            Column("Term", lambda at: "abc"[at]),
            Column("Shares", lambda at: "", mark=lambda at: shares[at]),
        ],
        3,
        1,
    )
    table.show()
    (one, half), (none, whole), (quarter, nothing) = painted(table, 1)
    assert half == pytest.approx(one / 2, rel=0.05)
    assert whole == pytest.approx(one, rel=0.05)
    assert quarter == pytest.approx(one / 4, rel=0.1)
    assert none == nothing == 0


def test_the_tallest_part_is_the_largest(qtbot: QtBot, qapp: QApplication) -> None:
    theme.dress(qapp)
    table = TableView("Parts")
    qtbot.addWidget(table)
    table.resize(400, 120)
    table.setItemDelegateForColumn(0, PartBars(table))
    table.show_rows([Column("Parts", lambda at: "", mark=lambda at: (0.0, 0.1, 0.2))], 1, 0)
    table.show()
    picture = table.viewport().grab().toImage()  # type: ignore[union-attr]
    area = table.visualRect(table.listed.index(0, 0)).adjusted(6, 0, -6, 0)
    verdigris = theme.colour("verdigris")
    heights = [
        sum(
            picture.pixelColor(int(area.left() + area.width() * (at + 0.5) / 3), y) == verdigris
            for y in range(area.top(), area.bottom())
        )
        for at in range(3)
    ]
    assert heights[0] == 0
    assert heights[2] == pytest.approx(2 * heights[1], abs=2)


def test_lines_go_only_between_points_that_are_in_sight(qtbot: QtBot, qapp: QApplication) -> None:
    theme.dress(qapp)
    maps = TwoMaps()
    qtbot.addWidget(maps)
    maps.resize(700, 320)
    maps.show()
    rng = np.random.default_rng(1)
    positions = rng.random((30, 2))
    ends = np.column_stack((np.arange(30), np.arange(30)[::-1]))
    maps.show_maps(
        (positions, positions[::-1]), [Category("A", "a", QColor("#803060"))], (np.zeros(30, np.int64),) * 2, ends
    )
    maps.draw_lines(np.arange(30))
    qtbot.wait(20)
    whole = maps.segments()
    assert len(whole) == 30
    # A point and itself lie at the same place of both maps.
    assert whole[:, 1] == pytest.approx(whole[:, 3], abs=1.5)
    apart = whole[:, 2] - whole[:, 0]
    assert apart == pytest.approx(np.full(30, apart[0]), abs=1.5)
    maps.maps[0].zoom(6)
    qtbot.wait(20)
    assert len(maps.segments()) < 30
    maps.draw_lines(np.zeros(0, np.int64))
    assert not maps.lines.isVisible()
