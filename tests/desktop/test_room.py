# SPDX-License-Identifier: GPL-3.0-or-later
"""Room for what is read, the same buttons on each desk, the empty page, and the way back after a break."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QSettings, Qt
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from conftest import with_components
from jagged_lens.compare import LONELY, loners
from jagged_lens.demo import demo_recipe
from jagged_lens.desktop.commands.preferences import prefer
from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.compare.families import FamiliesFace
from jagged_lens.desktop.desks.compare.grid import GridFace
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.desks.contrast.lenses import LensesFace
from jagged_lens.desktop.desks.gather.desk import GatherDesk
from jagged_lens.desktop.desks.map.documents import DocumentMap
from jagged_lens.desktop.sheets.preferences import Preferences
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import CORPUS, FAMILIES, NEIGHBOURS, SPACE
from jagged_lens.project import Bench, opened
from jagged_lens.worker import Worker

Settle = Callable[[MainWindow], None]
LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def compare(window: MainWindow, settle: Settle) -> CompareDesk:
    window.show_step("compare")
    settle(window)
    desk = window.desk
    assert isinstance(desk, CompareDesk)
    return desk


def test_the_side_folds_to_a_rail_and_is_remembered_face_by_face(
    window: MainWindow, compare: CompareDesk, settle: Settle
) -> None:
    rail, side = window.middle.rail, window.side
    assert rail.isVisible()  # pairs read for themselves
    assert not side.isVisible()
    wide = window.area.width()
    QTest.mouseClick(rail.buttons["Reader"], LEFT)
    assert side.isVisible()
    assert side.leaf == "Reader"
    assert not rail.isVisible()
    settle(window)
    assert window.area.width() < wide
    compare.bring_up(GridFace)
    settle(window)
    QTest.mouseClick(side.fold_button, LEFT)
    assert rail.isVisible()
    compare.bring_up(PairsFace)
    settle(window)
    assert side.isVisible()
    compare.bring_up(GridFace)
    settle(window)
    assert not side.isVisible()


def test_all_is_reached_in_a_small_window_with_large_letters(window: MainWindow, settle: Settle) -> None:
    try:
        prefer(window, Preferences(look="light", letters=1.5))
        window.resize(1024, 700)
        settle(window)
        for step in window.desks:
            window.show_step(step)
            settle(window)
            assert (window.width(), window.height()) == (1024, 700)
            bottom = window.pick_bar.mapTo(window, QPoint(0, window.pick_bar.height()))
            assert bottom.y() <= 700
        assert window.minimumSizeHint().height() <= 600
    finally:
        prefer(window, Preferences(look="light"))
        settle(window)


def test_each_desk_offers_its_tables_and_its_picture(window: MainWindow, settle: Settle) -> None:
    places = set()
    for step, desk in window.desks.items():
        window.show_step(step)
        settle(window)
        if not desk.content.isVisible():
            continue
        pieces = desk.pieces()
        assert any(piece.painting is not None for piece in pieces) or step == "report", step
        assert len({piece.words for piece in pieces}) == len(pieces), step
        places.add(
            window.area.mapFromGlobal(desk.going_out.mapToGlobal(QPoint(desk.going_out.width(), 0))).x()
            - window.area.width()
        )
    assert len(places) <= 2  # at the right end of the head; beside it a desk may have a scroll bar


def test_a_table_is_saved_from_the_head_and_one_is_told_where(
    window: MainWindow, compare: CompareDesk, settle: Settle, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    QTest.mouseClick(compare.going_out.save, LEFT)
    sheet = window.save_sheet
    at = next(at for at in range(sheet.list.count()) if sheet.list.item(at).text().startswith("Pairs, "))  # type: ignore[union-attr]
    sheet.list.setCurrentRow(at)
    sheet.folder.setText(str(tmp_path))
    QTest.mouseClick(sheet.save, LEFT)
    settle(window)
    lines = (tmp_path / "pairs.csv").read_text("utf-8").splitlines()
    face = compare.face(PairsFace)
    assert len(lines) == 1 + len(face.table.listed.order)
    assert lines[0].startswith("#,First document,Second document,Alike")
    assert window.pick_bar.offer_words.text() == f"Saved {tmp_path / 'pairs.csv'}"
    assert window.pick_bar.offered.text() == "Open the folder"
    QTest.mouseClick(compare.going_out.copy, LEFT)
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    assert len(clipboard.text().splitlines()) == len(lines)


def test_the_right_button_copies_saves_reads_and_narrows(
    window: MainWindow, compare: CompareDesk, settle: Settle
) -> None:
    table = compare.face(PairsFace).table
    table.go_to(3)
    settle(window)
    viewport = table.viewport()
    assert viewport is not None
    place = viewport.mapTo(window, table.visualRect(table.currentIndex()).center())
    QApplication.sendEvent(window, QContextMenuEvent(QContextMenuEvent.Reason.Mouse, place, window.mapToGlobal(place)))
    assert window.context is not None
    words = [one.text() for one in window.context.actions() if one.text()]
    assert words[:5] == ["Copy 1 row", "Copy all rows", "Copy without heads", "Save this table…", "Pin these rows"]
    assert {"Read", "Open in full width", "Only these", "Without these"} <= set(words)
    assert table.current_row() == 3
    window.context.close()


def test_families_are_decided_by_a_rule_after_a_look_at_what_goes(
    window: MainWindow, compare: CompareDesk, settle: Settle
) -> None:
    compare.bring_up(FamiliesFace)
    settle(window)
    face, bench = compare.face(FamiliesFace), window.bench
    families, corpus = bench.results[FAMILIES], bench.results[CORPUS]
    rows = bench.results[SPACE].terms.rows
    by_hand = families.of(0).tolist()
    face.decided.decide([(by_hand[1], by_hand[0], "first")], "decide: keep first")
    settle(window)
    menu = face.rules.menu()
    assert menu is not None
    menu.aboutToShow.emit()
    assert [one.text() for one in menu.actions()][:3] == [
        "Keep the standard",
        "Keep the longest",
        "Keep the first in the sources",
    ]
    menu.actions()[1].trigger()
    sheet = face.rules.sheet
    assert sheet is not None
    goes = int(families.sizes.sum()) - len(families) - (len(by_hand) - 1)
    assert sheet.table.listed.rowCount() == goes
    assert len(bench.state.decisions) == 1  # nothing is decided by looking
    sheet.accept()
    settle(window)
    kept = {one.kept for one in bench.state.decisions}
    for family in range(1, len(families)):
        members = families.of(family).tolist()
        length = {member: len(corpus.texts[int(rows[member])]) for member in members}
        stays = [member for member in members if corpus.keys[int(rows[member])] in kept]
        assert len(stays) == 1
        assert length[stays[0]] == max(length.values())
    assert corpus.keys[int(rows[by_hand[1]])] in kept  # what was decided by hand stays
    assert face.decided.waiting == goes + 1
    bench.undo()
    assert len(bench.state.decisions) == 1


def test_loners_are_marked_on_the_map(window: MainWindow, settle: Settle, monkeypatch: pytest.MonkeyPatch) -> None:
    window.show_step("map")
    settle(window)
    face = window.desk.face(DocumentMap)
    QTest.mouseClick(face.tools.loners_button, LEFT)
    results = window.bench.results
    alone = loners(results[NEIGHBOURS], results[SPACE].empty, LONELY)
    assert np.array_equal(face.canvas._marked, alone)
    assert ("loner" in face.summary()) == face.tools.loners_button.isChecked()
    QTest.mouseClick(face.tools.loners_button, LEFT)
    assert not len(face.canvas._marked)


def test_with_one_lens_contrast_offers_to_double_it(window: MainWindow, settle: Settle) -> None:
    bench = window.bench
    while len(bench.state.lenses) > 1:
        bench.change(bench.state.without_lens(), "delete a lens")
    window.show_step("contrast")
    settle(window)
    face = window.desk.face(LensesFace)
    assert face.double.isVisible()
    QTest.mouseClick(face.double, LEFT)
    settle(window)
    assert len(bench.state.lenses) == 2
    assert not face.double.isVisible()


def test_the_empty_page_offers_the_demo_and_what_was_open(qtbot: QtBot, worker: Worker, tmp_path: Path) -> None:
    memory = QSettings(str(tmp_path / "window.ini"), QSettings.Format.IniFormat)
    known = tmp_path / "beds.jagged"
    known.write_text("")
    memory.setValue("recent", [str(known), str(tmp_path / "gone.jagged")])
    bench = Bench(opened(None), worker)
    window = MainWindow(bench, worker, memory)
    qtbot.addWidget(window)
    window.show()
    window.show_step("gather")
    desk = window.desk
    assert isinstance(desk, GatherDesk)
    page = desk.start_page
    qtbot.waitUntil(page.isVisible, timeout=120_000)
    assert desk.fill.isVisible()
    assert [way.text() for way in page.ways] == ["beds.jagged"]
    assert page.tour.isVisible()
    QTest.mouseClick(page.demo, LEFT)
    qtbot.waitUntil(lambda: bool(bench.state.sources), timeout=120_000)
    bench.stop()
    window.close_anyway = True
    window.close()


def test_after_a_break_face_and_row_are_where_they_were(
    window: MainWindow, compare: CompareDesk, settle: Settle, qtbot: QtBot
) -> None:
    compare.bring_up(FamiliesFace)
    settle(window)
    compare.face(FamiliesFace).table.go_to(7)
    settle(window)
    standard = compare.face(FamiliesFace).table.current_name()
    window.recall.note()
    kept = dict(window.bench.current.window)
    assert kept["face"] == "Families"
    worker = Worker()
    bench = Bench(with_components(opened(demo_recipe())), worker)
    bench.behind.wanted = False
    again = MainWindow(bench, worker)
    qtbot.addWidget(again)
    again.show()
    bench.compute()
    again.recall.project(kept)
    settle(again)
    desk = again.desk
    assert isinstance(desk, CompareDesk)
    assert isinstance(desk.in_front, FamiliesFace)
    assert desk.face(FamiliesFace).table.current_name() == standard
    assert again.bench.pick.rows == window.bench.pick.rows
    again.close()
    worker.close()
