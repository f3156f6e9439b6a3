# SPDX-License-Identifier: GPL-3.0-or-later
"""The Terms desk: limits dragged on the curve, the vocabulary, contexts, phrases, lists."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QItemSelectionModel, QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.desks.group.desk import GroupDesk
from jagged_lens.desktop.desks.group.terms import TermGroups
from jagged_lens.desktop.desks.terms.desk import TermsDesk
from jagged_lens.desktop.desks.terms.glance import Glance
from jagged_lens.desktop.desks.terms.phrases import Phrases
from jagged_lens.desktop.desks.terms.within import Inside
from jagged_lens.desktop.saving import Order
from jagged_lens.desktop.tables import array_model as tables
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.window import MainWindow
from jagged_lens.terms import WhyNot, read_terms

Settle = Callable[[MainWindow], None]


@pytest.fixture
def desk(window: MainWindow, settle: Settle) -> TermsDesk:
    window.show_step("terms")
    settle(window)
    desk = window.desks["terms"]
    assert isinstance(desk, TermsDesk)
    return desk


def go_to(desk: TermsDesk, term: str) -> int:
    row = list(desk.bench.results["terms"].vocabulary.terms).index(term)
    desk.table_to(row)
    return row


def test_a_limit_is_dragged_and_counts_live_but_runs_only_when_let_go(
    window: MainWindow, desk: TermsDesk, settle: Settle
) -> None:
    before = len(window.bench.results["terms"].kept)
    start = desk.curve.line_place("least").toPoint()
    QTest.mousePress(desk.curve, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(desk.curve, QPoint(start.x() - 60, start.y()))
    live = desk.curve._kept
    assert live < before
    assert len(window.bench.results["terms"].kept) == before
    assert window.bench.recipe.terms.least_documents == 0  # as fits the number of documents: 3
    QTest.mouseRelease(desk.curve, Qt.MouseButton.LeftButton, pos=QPoint(start.x() - 60, start.y()))
    settle(window)
    assert window.bench.recipe.terms.least_documents > 3
    assert len(window.bench.results["terms"].kept) == live
    window.undo.trigger()
    settle(window)
    assert len(window.bench.results["terms"].kept) == before


def test_the_upper_limit_is_dragged_and_both_are_moved_by_keys(
    window: MainWindow, desk: TermsDesk, settle: Settle
) -> None:
    start = desk.curve.line_place("share").toPoint()
    QTest.mousePress(desk.curve, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(desk.curve, QPoint(start.x() + 150, start.y()))
    QTest.mouseRelease(desk.curve, Qt.MouseButton.LeftButton, pos=QPoint(start.x() + 150, start.y()))
    settle(window)
    share = window.bench.recipe.terms.most_share
    vocabulary = window.bench.results["terms"].vocabulary
    assert share < 0.6
    assert (vocabulary.why_not == WhyNot.COMMON).any()
    assert not (vocabulary.documents[vocabulary.why_not == WhyNot.KEPT] > share * 640 + 1e-6).any()
    desk.curve.setFocus()
    QTest.keyClick(desk.curve, Qt.Key.Key_Left)
    settle(window)
    assert window.bench.recipe.terms.least_documents == 4
    QTest.keyClick(desk.curve, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    settle(window)
    assert window.bench.recipe.terms.most_share == pytest.approx(share + 0.05)


def test_curve_and_table_point_at_each_other(window: MainWindow, desk: TermsDesk, qtbot: QtBot) -> None:
    row = go_to(desk, "slug")
    vocabulary = window.bench.results["terms"].vocabulary
    assert desk.curve._marked == (vocabulary.documents > vocabulary.documents[row]).sum() + (
        (vocabulary.documents[:row] == vocabulary.documents[row]).sum()
    )
    x = desk.curve._x(101)
    QTest.mouseMove(desk.curve, QPoint(int(x), 60))
    qtbot.waitUntil(lambda: abs(desk.curve._marked - 100) < 4, timeout=120_000)
    QTest.mouseClick(desk.curve, Qt.MouseButton.LeftButton, pos=QPoint(int(x), 60))
    assert abs(int(desk.limits.ranks.of[desk.table.current_row()]) - 100) < 4
    assert desk.limits.ranks.line is not None
    assert 0.3 < desk.limits.ranks.line.exponent < 3


def test_a_term_is_read_in_its_contexts(window: MainWindow, desk: TermsDesk, qtbot: QtBot) -> None:
    row = go_to(desk, "slug")
    times = int(window.bench.results["terms"].vocabulary.times[row])
    qtbot.waitUntil(lambda: len(desk.card.lines.lines.contexts) == times, timeout=120_000)
    assert all("slug" in one.term.lower() for one in desk.card.lines.lines.contexts)
    assert "slugs" in desk.card.collocates.text()
    assert "In the same sentences" in desk.card.collocates.text()
    desk.card.order.setCurrentIndex(2)
    desk.card.order.activated.emit(2)
    rights = [one.right.casefold().split() for one in desk.card.lines.lines.contexts]
    assert rights == sorted(rights)
    desk.card.lines.clicked.emit(desk.card.lines.lines.index(3))
    one = desk.card.lines.lines.contexts[3]
    assert window.bench.pick.rows == (one.row,)
    assert window.side.reader.one.text.textCursor().selectedText() == one.term


def test_times_by_label_are_bars_and_pick_their_documents(window: MainWindow, desk: TermsDesk) -> None:
    row = go_to(desk, "slug")
    desk.card.by_label.choice.setCurrentText("crop")
    desk.card.by_label.choice.activated.emit(desk.card.by_label.choice.currentIndex())
    assert (
        sum(times for _, times in desk.card.by_label.bars._values)
        == window.bench.results["terms"].vocabulary.times[row]
    )
    QTest.mouseClick(
        desk.card.by_label.bars, Qt.MouseButton.LeftButton, pos=QPoint(20, desk.card.by_label.bars.line_height() // 2)
    )
    crop = next(label for label in window.bench.documents.labels() if label.name == "crop")
    assert {crop.value(one) for one in window.bench.pick.rows} == {desk.card.by_label.bars._values[0][0]}
    texts = window.bench.results["corpus"].texts
    assert all("slug" in texts[one].lower() for one in window.bench.pick.rows)


def test_terms_are_always_kept_and_dropped_from_their_row(window: MainWindow, desk: TermsDesk, settle: Settle) -> None:
    row = go_to(desk, "slug")
    QTest.mouseClick(desk.drop_button, Qt.MouseButton.LeftButton)
    settle(window)
    vocabulary = window.bench.results["terms"].vocabulary
    assert vocabulary.why_not[row] == WhyNot.DROPPED
    rare = int(np.flatnonzero(vocabulary.why_not == WhyNot.RARE)[0])
    desk.table_to(rare)
    QTest.mouseClick(desk.keep_button, Qt.MouseButton.LeftButton)
    settle(window)
    assert window.bench.results["terms"].vocabulary.why_not[rare] == WhyNot.KEPT
    QTest.mouseClick(desk.free_button, Qt.MouseButton.LeftButton)
    settle(window)
    assert window.bench.recipe.terms.always_keep == ()
    assert window.bench.recipe.terms.always_drop == ("slug",)


def test_the_frequent_terms_at_a_glance_are_picked_by_a_line(window: MainWindow, desk: TermsDesk) -> None:
    QTest.mouseClick(desk.leaf_row.buttons["At a glance"], Qt.MouseButton.LeftButton)
    strips = desk.face(Glance).strips
    start = strips.line_place().toPoint()
    end = QPoint(start.x(), int(start.y() + 5 * strips.line_height()))
    QTest.mousePress(strips, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(strips, end)
    QTest.mouseRelease(strips, Qt.MouseButton.LeftButton, pos=end)
    terms = window.bench.results["terms"]
    frequency = strips.frequency
    expected = terms.kept[terms.vocabulary.times[terms.kept] >= frequency]
    assert len(expected) == 5
    assert sorted(desk.table.chosen_rows()) == sorted(expected.tolist())
    assert set(window.bench.pick.terms) == {terms.vocabulary.terms[row] for row in expected}
    assert window.pick_bar.terms.text() == "5 terms picked"
    strips.setFocus()
    QTest.keyClick(strips, Qt.Key.Key_Down)
    assert len(desk.table.chosen_rows()) == len(window.bench.pick.terms) == 6
    QTest.mouseClick(strips, Qt.MouseButton.LeftButton, pos=QPoint(30, int(strips.line_height() * 2.5)))
    assert desk.table.current_row() == int(terms.kept[terms.vocabulary.lengths[terms.kept] == 1][1])


def test_phrases_are_found_and_joined(window: MainWindow, desk: TermsDesk, qtbot: QtBot, settle: Settle) -> None:
    QTest.mouseClick(desk.leaf_row.buttons["Phrases"], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(desk.face(Phrases).found), timeout=120_000)
    shown = [one.shown for one in desk.face(Phrases).found]
    assert "otter bank" in shown
    desk.face(Phrases).table.go_to(shown.index("otter bank"))
    QTest.mouseClick(desk.face(Phrases).join, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "join: otter bank" in window.bench.recipe.clean.own_rules, timeout=120_000)
    settle(window)
    assert "otter_bank" in list(window.bench.results["terms"].terms)


def test_a_vocabulary_is_kept_as_a_list_and_reapplied(
    window: MainWindow, desk: TermsDesk, settle: Settle, tmp_path: Path
) -> None:
    kept = list(window.bench.results["terms"].terms)
    for name, kind in zip(("terms.txt", "terms.csv"), desk.lists.pieces()[0].kinds, strict=True):
        kind.write(tmp_path / name, Order(0, lambda share: None))
        assert read_terms(name, tmp_path) == tuple(kept)
    window.bench.set("terms", "least-documents", 1.0)
    settle(window)
    assert len(window.bench.results["terms"].kept) > len(kept)
    window.bench.set("terms", "only-list", str(tmp_path / "terms.txt"))
    settle(window)
    assert list(window.bench.results["terms"].terms) == kept
    assert (window.bench.results["terms"].vocabulary.why_not == WhyNot.UNLISTED).any()


def test_the_vocabulary_within_a_value_of_a_label_and_within_the_pick(
    window: MainWindow, desk: TermsDesk, qtbot: QtBot, settle: Settle
) -> None:
    desk.within.choices.aboutToShow.emit()
    crop = next(action.menu() for action in desk.within.choices.actions() if action.text() == "crop")
    assert crop is not None
    value = crop.actions()[0]
    name = value.text().rpartition("   ")[0]
    value.trigger()
    qtbot.waitUntil(lambda: desk.vocabulary.there is not None, timeout=120_000)
    assert desk.within.text() == f"Within crop: {name}"
    label = next(label for label in window.bench.documents.labels() if label.name == "crop")
    inside = [row for row in window.bench.results["lens_rows"] if label.value(int(row)) == name]
    counts = window.bench.results["terms"].counts[inside]
    terms = window.bench.results["terms"]
    titles = [column.title for column in desk.table.listed.columns]
    assert {"Times there", "Docs there", "G²", "Here", "Elsewhere", "Difference"} <= set(titles)
    shares = [desk.table.listed.columns[titles.index(one)] for one in ("Here", "Elsewhere", "Difference")]
    row, n = int(terms.kept[7]), len(terms.rows)
    held = int((window.bench.results["terms"].counts[inside][:, [7]].toarray() > 0).sum())
    other = (int(terms.vocabulary.documents[row]) - held) / (n - len(inside))
    assert [one.text(row) for one in shares] == [
        f"{held / len(inside):.1%}",
        f"{other:.1%}",
        f"{100 * (held / len(inside) - other):+.1f}",
    ]
    kept = [row for row in desk.table.listed.order.tolist() if terms.vocabulary.why_not[row] == WhyNot.KEPT]
    columns = np.searchsorted(terms.kept, kept)
    there = desk.table.listed.columns[titles.index("Times there")]
    assert [int(there.text(row).replace(",", "").split(" of ")[0]) for row in kept] == np.asarray(counts.sum(axis=0))[
        columns
    ].tolist()
    assert len(kept) == int((np.asarray(counts.sum(axis=0)) > 0).sum())
    # The most telling term of a crop is its name.
    desk.table.sortByColumn(titles.index("G²"), Qt.SortOrder.DescendingOrder)
    assert name.lower()[:4] in terms.vocabulary.terms[int(desk.table.listed.order[0])]
    # Another limit leaves the choice as it is.
    window.bench.set("terms", "least-documents", 5.0)
    settle(window)
    qtbot.waitUntil(lambda: desk.vocabulary.there is not None, timeout=120_000)
    # A term that is not there is shown all the same when it is gone to.
    far = int(np.flatnonzero(desk.vocabulary.there.documents == 0)[0])  # type: ignore[union-attr]
    desk.table_to(far)
    assert desk.table.current_row() == far
    assert desk.within.text() == "Within all"
    window.bench.pick.set([0, 1])
    desk.within.choose(Inside(picked=True))
    qtbot.waitUntil(lambda: desk.vocabulary.there is not None and desk.vocabulary.there.size == 2, timeout=120_000)
    window.bench.pick.set([0, 1, 2])
    qtbot.waitUntil(lambda: desk.vocabulary.there is not None and desk.vocabulary.there.size == 3, timeout=120_000)
    window.bench.pick.clear()
    qtbot.waitUntil(lambda: desk.vocabulary.there is None, timeout=120_000)


def test_picked_terms_are_grouped_and_mapped_like_documents(window: MainWindow, desk: TermsDesk, qtbot: QtBot) -> None:
    terms = window.bench.results["terms"]
    desk.table.show_chosen([])
    rows = terms.kept[:40].tolist()
    selection = desk.table.selectionModel()
    assert selection is not None
    for row in rows:
        place = int(np.flatnonzero(desk.table.listed.order == row)[0])
        selection.select(
            desk.table.listed.index(place, 0),
            QItemSelectionModel.SelectionFlag.Select | QItemSelectionModel.SelectionFlag.Rows,
        )
    assert len(window.bench.pick.terms) == 40
    QTest.mouseClick(window.pick_bar.group_terms, Qt.MouseButton.LeftButton)
    group_desk = window.desks["group"]
    assert isinstance(group_desk, GroupDesk)
    groups = group_desk.face(TermGroups)
    qtbot.waitUntil(groups.isVisible, timeout=120_000)
    qtbot.waitUntil(lambda: len(groups.map.terms) == 40, timeout=120_000)
    assert "40 picked terms" in groups.words.text()
    letters = {groups.table.listed.columns[0].text(row) for row in range(40)}
    assert letters == set("ABCDEFGH")
    assert "in 8 groups" in groups.words.text()
    groups.count.setValue(3)
    qtbot.waitUntil(lambda: {term.group for term in groups.map.terms} == {0, 1, 2}, timeout=120_000)
    # A term in the map is the one in the list, in the vocabulary and in its contexts.
    window.grab()
    number, box = next(
        (at, box) for at, box in groups.map._boxes.items() if groups.map._at(QPointF(*groups.map.points()[at])) == at
    )
    QTest.mouseClick(groups.map, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert groups.table.current_row() == number
    assert desk.table.current_row() == rows[number]
    assert desk.card.name.text() == groups.map.terms[number].name
    assert len(window.bench.pick.terms) == 40  # looking at one picks nothing else
    QTest.keyClick(groups.map, Qt.Key.Key_Right)
    assert groups.map._current != number
    QTest.keyClick(groups.map, Qt.Key.Key_Space)
    assert groups.table.current_row() == groups.map._current
    x, y = groups.map.points()[number]
    assert any(groups.map.terms[number].name in told for told in groups.map.told_at(QPointF(x, y)))
    # A group becomes the pick; its documents too.
    own = groups.map.terms[groups.table.current_row()].group
    size = sum(term.group == own for term in groups.map.terms)
    QTest.mouseClick(groups.pick_group, Qt.MouseButton.LeftButton)
    assert len(window.bench.pick.terms) == size
    QTest.mouseClick(window.pick_bar.of_terms, Qt.MouseButton.LeftButton)
    columns = [list(terms.terms).index(term) for term in window.bench.pick.terms]
    held = np.flatnonzero(np.asarray(terms.counts[:, columns].sum(axis=1)).ravel() > 0)
    assert list(window.bench.pick.rows) == terms.rows[held].tolist()
    QTest.keyClick(window, Qt.Key.Key_Escape)
    assert window.bench.pick.terms == ()
    assert window.bench.pick.rows == ()
    qtbot.waitUntil(lambda: "60 most frequent" in groups.words.text(), timeout=120_000)
    assert desk.table.chosen_count() == 1
    # Back to the documents and the terms, then to the terms alone.
    QTest.keyClick(window, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
    assert len(window.bench.pick.terms) == size
    assert list(window.bench.pick.rows) == terms.rows[held].tolist()
    window.show_step("terms")
    qtbot.waitUntil(lambda: desk.table.chosen_count() == size, timeout=120_000)
    QTest.keyClick(window, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
    assert len(window.bench.pick.terms) == size
    assert window.bench.pick.rows == ()


def test_a_key_groups_picked_terms_also_after_a_menu_was_open(
    window: MainWindow, desk: TermsDesk, qtbot: QtBot
) -> None:
    group = window.menus.actions["Group the picked terms"]
    menu = next(action.menu() for action in window.menuBar().actions() if action.text() == "P&ick")  # type: ignore[union-attr]
    assert menu is not None
    menu.popup(QPoint(0, 0))
    assert not group.isEnabled()
    menu.close()
    window.bench.pick.set_terms(list(desk.bench.results["terms"].terms[:20]))
    QTest.keyClick(window, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    group_desk = window.desks["group"]
    assert isinstance(group_desk, GroupDesk)
    groups = group_desk.face(TermGroups)
    qtbot.waitUntil(groups.isVisible, timeout=120_000)
    qtbot.waitUntil(lambda: len(groups.map.terms) == 20, timeout=120_000)
    menu.popup(QPoint(0, 0))
    assert group.isEnabled()
    menu.close()


def test_the_terms_of_a_document_are_listed_found_in_its_text_and_among_all(window: MainWindow, settle: Settle) -> None:
    reader, sheet = window.side.reader, window.side.reader.term_sheet
    window.bench.pick.set([12])
    window.side.show_reader()
    settle(window)
    assert not sheet.isVisible()
    QTest.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    settle(window)
    terms = window.bench.results["terms"]
    at = int(np.flatnonzero(terms.rows == 12)[0])
    counts = terms.counts.toarray()[at]
    assert sheet.words.text() == f"{(counts > 0).sum()} terms, counted {counts.sum()} times"
    shown = [[sheet.table.listed.index(row, column).data() for column in range(4)] for row in range(3)]
    for name, times, documents, _ in shown:
        column = list(terms.shown).index(name)
        assert times == str(counts[column])
        assert documents == str((terms.counts.toarray()[:, column] > 0).sum())
    assert [one[3] for one in shown] == sorted((one[3] for one in shown), reverse=True)

    index = sheet.table.listed.index(1, 0)
    QTest.mouseClick(
        sheet.table.viewport(),
        Qt.MouseButton.LeftButton,
        pos=sheet.table.visualRect(index).center(),
    )
    assert reader.one.text.textCursor().selectedText().lower() == shown[1][0]
    QTest.keyClick(sheet.table, Qt.Key.Key_Return)
    settle(window)
    desk = window.desk
    assert isinstance(desk, TermsDesk)
    assert desk.table.listed.index(desk.table.currentIndex().row(), 0).data() == shown[1][0]
    assert window.bench.pick.rows == (12,)


def test_a_document_without_terms_says_so(window: MainWindow, settle: Settle) -> None:
    empty = int(np.flatnonzero(window.bench.results["space"].empty)[0])
    window.bench.pick.set([int(window.bench.results["terms"].rows[empty])])
    window.side.show_reader()
    window.side.reader.terms_button.click()
    settle(window)
    assert window.side.reader.term_sheet.words.text() == "It contains no term of this lens."
    assert not window.side.reader.term_sheet.table.isVisible()
    row = int(window.bench.results["terms"].rows[5])
    window.bench.pick.set([row])
    settle(window)
    assert f"{window.bench.results['terms'].counts[[5]].nnz} terms" in window.side.reader.term_sheet.words.text()
    window.bench.set_pick_aside("")
    settle(window)
    assert window.side.reader.term_sheet.words.text() == "It is not part of this lens: it has no terms."


def test_a_window_that_closes_waits_for_the_table_that_is_being_sorted(
    window: MainWindow, desk: TermsDesk, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(tables, "_MOST_AT_ONCE", 10)
    begun, go = threading.Event(), threading.Event()

    def texts() -> list[str]:
        begun.set()
        go.wait(10)
        return ["late"] * 20

    desk.table.show_rows([Column("Term", lambda row: "late", texts=texts)], 20, 0)
    desk.table.sortByColumn(0, Qt.SortOrder.AscendingOrder)
    assert begun.wait(5)
    threading.Timer(0.2, go.set).start()
    window.close()
    assert go.is_set()
    assert not desk.table.listed.asker.waiting
