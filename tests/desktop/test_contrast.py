# SPDX-License-Identifier: GPL-3.0-or-later
"""The Contrast desk, driven through its widgets."""

from __future__ import annotations

import os
import signal
from collections.abc import Callable

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox
from pytestqt.qtbot import QtBot

from jagged_lens.contrast import two_sides
from jagged_lens.desktop.desks.contrast.along import AlongFace
from jagged_lens.desktop.desks.contrast.chosen_sides import NOW, PICKS, REST
from jagged_lens.desktop.desks.contrast.desk import ContrastDesk
from jagged_lens.desktop.desks.contrast.lenses import LensesFace
from jagged_lens.desktop.desks.contrast.sides import SidesFace
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import (
    CORPUS,
    GROUPING,
    LAYOUT,
    NEIGHBOURS,
    SPACE,
    TERMS,
)
from jagged_lens.worker import Worker

Settle = Callable[[MainWindow], None]
LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def desk(window: MainWindow, settle: Settle) -> ContrastDesk:
    QTest.mouseClick(window.spine.below["contrast"], LEFT)
    settle(window)
    assert window.step == "contrast"
    desk = window.desk
    assert isinstance(desk, ContrastDesk)
    return desk


def brought_up(window: MainWindow, settle: Settle, kind):  # type: ignore[no-untyped-def]
    desk = window.desks["contrast"]
    assert isinstance(desk, ContrastDesk)
    QTest.mouseClick(desk.leaf_row.buttons[kind.name], LEFT)
    settle(window)
    return desk.face(kind)


def activate(box: QComboBox, words: str) -> None:
    """Choose an entry as a hand does."""
    at = box.findText(words)
    assert at >= 0, [box.itemText(one) for one in range(box.count())]
    box.setCurrentIndex(at)
    box.activated.emit(at)


def compared(window: MainWindow, qtbot: QtBot, settle: Settle) -> None:
    qtbot.waitUntil(lambda: window.bench.second.ready, timeout=120_000)
    settle(window)


def leaf(face, name: str) -> None:  # type: ignore[no-untyped-def]
    QTest.mouseClick(face.leaf_row.buttons[name], LEFT)


def test_two_lenses_are_compared_in_figures_maps_movers_flows_and_pairs(
    window: MainWindow, desk: ContrastDesk, settle: Settle, qtbot: QtBot
) -> None:
    face = desk.face(LensesFace)
    assert face.other.currentText() == "Troubles"  # the one behind this
    compared(window, qtbot, settle)
    bench = window.bench
    here, there = bench.results, bench.second.results
    assert "adjusted Rand" in face.figures.text()
    assert "640 documents in both" in face.figures.text()
    assert "Terms: words in a term 1 to 2 → 1 to 1" in face.differ.text()
    assert "linkage" not in face.differ.text()  # of a tree that neither cuts
    # Movers: those first that kept fewest, with who came and who went.
    leaf(face, "Movers")
    settle(window)
    table = face.movers.table
    kept = [float(table.listed.columns[1].text(at).rstrip("%")) for at in range(20)]
    assert kept == sorted(kept)
    table.setFocus()
    table.setCurrentIndex(table.listed.index(5, 0))
    settle(window)
    row = bench.pick.one
    place, other = (int(np.flatnonzero(one[SPACE].terms.rows == row)[0]) for one in (here, there))
    own = set(here[SPACE].terms.rows[here[NEIGHBOURS].row[place, :12]].tolist())
    others = set(there[SPACE].terms.rows[there[NEIGHBOURS].row[other, :12]].tolist())
    states = [face.movers.near.listed.columns[1].text(at) for at in range(len(own | others))]
    assert states.count("stays") == len(own & others)
    assert states.count("came") == len(others - own)
    assert f"{len(own & others) / 12:.0%}" == table.listed.columns[1].text(5)
    assert "→" in face.movers.came.text() + face.movers.went.text()
    # Flows: a ribbon is a pick.
    leaf(face, "Flows")
    settle(window)
    first, second, count = face.flows.ribbons[0]
    inside = (here[GROUPING].group == first) & (there[GROUPING].group == second)
    assert count == inside.sum()
    QTest.mouseClick(face.flows, LEFT, pos=face.flows.place_of(first, second).toPoint())
    assert sorted(bench.pick.rows) == here[SPACE].terms.rows[inside].tolist()
    face.flows.setFocus()
    QTest.keyClick(face.flows, Qt.Key.Key_Down)
    QTest.keyClick(face.flows, Qt.Key.Key_Return)
    assert len(bench.pick) == face.flows.ribbons[1][2]
    # Maps: one pick in both, and lines from a point to itself.
    leaf(face, "Maps")
    settle(window)
    face.lines.setChecked(True)
    assert len(face.maps.segments()) == len(bench.pick)
    places = face.maps.maps[1].screen_positions()
    at = int(np.flatnonzero(~np.isnan(places[:, 0]))[7])
    viewport = face.maps.maps[1].viewport()
    assert viewport is not None
    QTest.mouseClick(viewport, LEFT, pos=QPoint(*np.round(places[at]).astype(int).tolist()))
    assert bench.pick.one == there[SPACE].terms.rows[at] or len(bench.pick) == 1
    assert len(face.maps.segments()) == 1
    # Pairs that only one lists are read side by side, and Esc goes back.
    leaf(face, "Pairs")
    settle(window)
    assert face.pairs.table.listed.rowCount() > 0
    face.pairs.table.setCurrentIndex(face.pairs.table.listed.index(0, 0))
    QTest.keyClick(face.pairs.table, Qt.Key.Key_Return)
    settle(window)
    assert desk.reading_table.isVisible()
    assert not desk.reading_table.buttons[0].isVisible()  # nothing is decided here
    QTest.keyClick(window, Qt.Key.Key_Escape)
    assert not desk.reading_table.isVisible()
    assert window.middle.rail.isVisible()  # the side is folded on this face, as it was before


def test_a_lens_and_its_double_are_the_same_until_one_is_changed(
    window: MainWindow, desk: ContrastDesk, settle: Settle, qtbot: QtBot
) -> None:
    window.bench.change(window.bench.state.with_new_lens(window.bench.recipe, "Crops again"), "double")
    settle(window)
    face = desk.face(LensesFace)
    activate(face.other, "Crops")
    compared(window, qtbot, settle)
    assert face.differ.text() == "Both lenses have the same settings."
    assert "adjusted Rand 1.00" in face.figures.text()
    assert "no document loses any" in face.figures.text()
    leaf(face, "Movers")
    leaf(face, "Pairs")
    assert face.movers.table.listed.rowCount() == 0
    assert "No document moved" in face.movers.title.text()
    assert face.pairs.said.text() == "Both lenses list the same pairs."
    window.bench.set("group", "groups", 4)
    settle(window)
    compared(window, qtbot, settle)
    assert "Group: groups 4 → 10" in face.differ.text()
    assert "adjusted Rand 1.00" not in face.figures.text()
    window.undo.trigger()
    settle(window)
    compared(window, qtbot, settle)
    assert "adjusted Rand 1.00" in face.figures.text()


def test_the_other_lens_can_be_stopped_and_computed_after_all(
    window: MainWindow, desk: ContrastDesk, settle: Settle, qtbot: QtBot
) -> None:
    face = desk.face(LensesFace)
    compared(window, qtbot, settle)
    activate(face.other, "Too few groups")
    assert not window.bench.second.ready
    QTest.mouseClick(face.stop, LEFT)
    assert face.state.text() == "stopped"
    assert not face.leaf_row.leaves.isVisible()
    QTest.mouseClick(face.stop, LEFT)
    compared(window, qtbot, settle)
    assert face.leaf_row.leaves.isVisible()
    assert "Too few groups" in face.maps.titles[1].text()


def test_a_worker_that_dies_twice_over_the_other_lens_does_not_begin_it_again(
    window: MainWindow, desk: ContrastDesk, settle: Settle, qtbot: QtBot, worker: Worker
) -> None:
    face = desk.face(LensesFace)
    compared(window, qtbot, settle)
    window.bench.change(
        window.bench.state.chosen(1)
        .with_recipe(window.bench.state.lenses[1].recipe.with_setting("terms", "least-documents", 2.0))
        .chosen(0),
        "another lens",
    )
    for _ in range(2):
        before = worker.process_id
        qtbot.waitUntil(lambda: window.bench.second.share > 0, timeout=120_000)
        os.kill(before, signal.SIGKILL)
        qtbot.waitUntil(lambda before=before: worker.process_id != before, timeout=120_000)
        window.bench.second.share = 0.0
    settle(window)
    assert face.state.text() == "stopped"
    assert "ended unexpectedly" in window.pick_bar.said.text()
    QTest.mouseClick(face.stop, LEFT)
    compared(window, qtbot, settle)
    assert face.leaf_row.leaves.isVisible()


def test_two_sides_of_a_label(window: MainWindow, desk: ContrastDesk, settle: Settle) -> None:
    face = brought_up(window, settle, SidesFace)
    activate(face.sides.by, "season")
    activate(face.sides.left, "wet")
    activate(face.sides.right, "dry")
    settle(window)
    results = window.bench.results
    label = next(one for one in results[CORPUS].labels if one.name == "season")
    rows = results[SPACE].terms.rows
    codes = [list(label.values).index(one) for one in ("wet", "dry")]
    left, right = (label.codes[rows] == code for code in codes)
    assert face.figures.text() == f"wet: {left.sum()} documents · dry: {right.sum()}."
    found = two_sides(results[TERMS].counts, left, right)
    shown = results[TERMS].shown
    told, common, others = face.terms.tables
    assert told.listed.columns[0].text(0) == shown[int(found.tells_left[0])] == "rust"
    assert others.listed.columns[0].text(0) == shown[int(found.tells_right[0])] == "drought"
    assert common.listed.columns[0].text(0) == shown[int(found.common[0])]
    assert (
        told.listed.columns[1].text(0)
        == f"{found.share_left[found.tells_left[0]]:.0%} · {found.share_right[found.tells_left[0]]:.0%}"
    )
    # Its contexts, each on its side, are read at their place.
    told.setCurrentIndex(told.listed.index(0, 0))
    settle(window)
    lines = face.terms.lines[0].lines.contexts
    assert lines
    assert all(left[np.searchsorted(rows, one.row)] for one in lines)
    assert all(right[np.searchsorted(rows, one.row)] for one in face.terms.lines[1].lines.contexts)
    face.terms.lines[0].clicked.emit(face.terms.lines[0].lines.index(0))
    assert window.bench.pick.one == lines[0].row
    QTest.mouseClick(face.terms.pick, LEFT)
    holds = results[TERMS].counts[:, [int(found.tells_left[0])]].toarray()[:, 0] > 0
    assert sorted(window.bench.pick.rows) == rows[holds & (left | right)].tolist()
    # Change over.
    QTest.mouseClick(face.sides.turn, LEFT)
    settle(window)
    assert face.terms.tables[0].listed.columns[0].text(0) == "drought"


def test_groups_map_and_the_nearest_across(window: MainWindow, desk: ContrastDesk, settle: Settle) -> None:
    face = brought_up(window, settle, SidesFace)
    activate(face.sides.by, "crop")
    activate(face.sides.left, "bean")
    activate(face.sides.right, REST)
    settle(window)
    assert "not bean" in face.figures.text()
    leaf(face, "Groups and themes")
    settle(window)
    counts = np.array([[int(face.groups.listed.columns[side].text(at)) for side in (2, 3)] for at in range(10)])
    grouping = window.bench.results[GROUPING]
    assert counts.sum(axis=1).tolist() == grouping.sizes.tolist()
    index = face.groups.listed.index(int(counts[:, 0].argmax()), 0)
    viewport = face.groups.viewport()
    assert viewport is not None
    QTest.mouseClick(viewport, LEFT, pos=face.groups.visualRect(index).center())
    assert len(window.bench.pick) == grouping.sizes[counts[:, 0].argmax()]
    assert face.themes.listed.rowCount() == 20
    leaf(face, "Nearest across")
    settle(window)
    alike = [float(face.across.listed.columns[1].text(at)) for at in range(10)]
    assert alike == sorted(alike, reverse=True)
    assert alike[0] > 0.3
    face.across.setCurrentIndex(face.across.listed.index(0, 0))
    QTest.keyClick(face.across, Qt.Key.Key_Return)
    settle(window)
    assert desk.reading_table.isVisible()
    window.desk.close_reading()  # type: ignore[attr-defined]
    leaf(face, "Map")
    settle(window)
    bean = (face.map.category == 1).sum()
    assert (face.map.category == 2).sum() == len(face.map.category) - bean
    assert [one.shape for one in face.map.categories] == ["dot", "dot", "square"]
    assert np.array_equal(face.map.positions, window.bench.results[LAYOUT].positions.astype(float), equal_nan=True)


def test_a_pick_against_a_kept_pick_stays_what_it_was(window: MainWindow, desk: ContrastDesk, settle: Settle) -> None:
    bench = window.bench
    bench.pick.set(range(0, 50))
    bench.keep_pick("first fifty")
    bench.pick.set(range(40, 100))
    face = brought_up(window, settle, SidesFace)
    activate(face.sides.by, PICKS)
    activate(face.sides.left, NOW)
    activate(face.sides.right, "first fifty")
    settle(window)
    assert face.figures.text().startswith(f"{NOW}: 50 documents · first fifty: 40.")
    assert "10 documents on both sides were left out of both." in face.figures.text()
    bench.pick.set([5])
    settle(window)
    assert face.figures.text().startswith(f"{NOW}: 50 documents")


def test_terms_along_the_years(window: MainWindow, desk: ContrastDesk, settle: Settle) -> None:
    face = brought_up(window, settle, AlongFace)
    assert face.along.currentText() == "year"
    assert "640 documents with a year, from 1 to 5" in face.figures.text()
    goes = {face.table.listed.columns[0].text(at): face.table.listed.columns[1].text(at) for at in range(6)}
    assert goes["slugs"] == "clearly lower"
    assert goes["drought"] == "clearly higher"
    leaf(face, "Over periods")
    settle(window)
    bench = window.bench
    years = next(one for one in bench.results[CORPUS].labels if one.name == "year")
    QTest.mouseClick(face.bars, LEFT, pos=face.bars.bar_place(-1, 2).toPoint())
    assert {years.value(row) for row in bench.pick.rows} == {"year 3"}
    assert len(bench.pick) == sum(years.value(row) == "year 3" for row in range(640))
    QTest.mouseClick(face.bars, LEFT, pos=face.bars.bar_place(1, 0).toPoint())
    rows = bench.results[SPACE].terms.rows
    expected = [int(row) for row in rows[bench.results[GROUPING].group == 1] if years.value(int(row)) == "year 1"]
    assert sorted(bench.pick.rows) == expected
    activate(face.shown, "the most strongly associated terms")
    assert "drought" in face.bars.words(0, 0) or "drought" in face.bars.words(1, 0)
    face.bars.setFocus()
    QTest.keyClick(face.bars, Qt.Key.Key_Right)
    QTest.keyClick(face.bars, Qt.Key.Key_Space)
    assert {years.value(row) for row in bench.pick.rows} <= {f"year {at}" for at in range(1, 6)}


def test_what_is_copied_of_a_table_is_tab_separated(window: MainWindow, desk: ContrastDesk, settle: Settle) -> None:
    face = brought_up(window, settle, AlongFace)
    face.table.selectRow(0)
    face.table.copy()
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    first = clipboard.text().splitlines()
    assert first[0].split("\t")[:3] == ["Term", "Goes", "P(larger)"]
    assert len(first[1].split("\t")) == 6
