# SPDX-License-Identifier: GPL-3.0-or-later
"""The reading table and decisions, from the keyboard; families, one against all, grid and links with mouse and keys."""

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from jagged_lens.compare import Kind, loners, one_against_all, rows_of, similarities
from jagged_lens.desktop.desks.compare.against import AgainstFace
from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.compare.families import FamiliesFace
from jagged_lens.desktop.desks.compare.grid import GridFace
from jagged_lens.desktop.desks.compare.links import LinksFace
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.saving import Order
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import CORPUS, FAMILIES, LINKS, NEIGHBOURS, PAIRS, SPACE
from jagged_lens.project import opened

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
Settle = Callable[[MainWindow], None]


@pytest.fixture
def desk(window: MainWindow, settle: Settle) -> CompareDesk:
    window.show_step("compare")
    settle(window)
    found = window.desk
    assert isinstance(found, CompareDesk)
    return found


def press(window: MainWindow, settle: Settle, *keys: Qt.Key) -> None:
    for key in keys:
        focus = QApplication.focusWidget()
        QTest.keyClick(focus if isinstance(focus, QWidget) else window, key)
        settle(window)


def key_of(window: MainWindow, place: int) -> str:
    results = window.bench.results
    return results[CORPUS].keys[int(results[SPACE].terms.rows[place])]


def test_return_reads_a_pair_in_full_width_and_escape_goes_back(
    desk: CompareDesk, window: MainWindow, settle: Settle
) -> None:
    pairs = window.bench.results[PAIRS]
    edited = int(np.flatnonzero(pairs.kind == Kind.EDITED)[-1])
    desk.face(PairsFace).table.go_to(edited)
    desk.take_focus()
    settle(window)
    press(window, settle, Qt.Key.Key_Return)
    table = desk.reading_table
    assert table.isVisible()
    assert table.size() == desk.size()
    assert not window.side.isVisible()
    assert table.heading.text() == f"Pair {edited + 1} of {len(pairs)}"
    assert (
        f"{pairs.similarity[edited]:.3f} · some words changed · family {pairs.family[edited] + 1}"
        == table.figures.text()
    )
    corpus, rows = window.bench.results[CORPUS], window.bench.results[SPACE].terms.rows
    texts = [corpus.texts[int(rows[side[edited]])] for side in (pairs.first, pairs.second)]
    assert [text.toPlainText() for text in table.texts] == texts
    assert table.bands.shown()
    found = table._found
    assert found is not None
    for side in (0, 1):  # what is underlined stands in this text, and the rest is the same in both
        alone = {texts[side][start:end].lower() for start, end in np.asarray(found.differs[side]).tolist()}
        assert alone
        assert not alone & {word.strip(".,;:!?").lower() for word in texts[1 - side].split()} or len(alone) > 1
    assert sum(part for _, part in table.bar._parts) == pytest.approx(float(pairs.similarity[edited]), abs=1e-5)
    press(window, settle, Qt.Key.Key_Escape)
    assert not table.isVisible()
    assert window.middle.rail.isVisible()  # the side is folded on this face, as it was before
    assert desk.face(PairsFace).table.current_row() == edited
    assert desk.face(PairsFace).table.hasFocus()


def test_a_click_on_a_part_walks_through_its_places_in_both_texts(
    desk: CompareDesk, window: MainWindow, settle: Settle, qtbot: QtBot
) -> None:
    desk.open_pair(40)
    settle(window)
    table = desk.reading_table
    qtbot.mouseClick(table.bar, LEFT, pos=QPoint(12, 8))
    words = [text.textCursor().selectedText() for text in table.texts]
    assert words[0]
    assert words[0].lower()[:3] == words[1].lower()[:3]
    name = table.bar._parts[0][0].split()[0].lower()
    assert words[0].lower().startswith(name[:3])


def test_ten_pairs_and_a_family_are_decided_by_keyboard_alone_and_survive_a_crash(
    desk: CompareDesk, window: MainWindow, settle: Settle, tmp_path: Path
) -> None:
    bench = window.bench
    bench.save_as(tmp_path / "notes.jagged")
    pairs = bench.results[PAIRS]
    before = len(bench.results[SPACE].empty)
    table = desk.face(PairsFace).table
    table.go_to(0)
    desk.take_focus()
    settle(window)
    press(window, settle, Qt.Key.Key_Return)
    keys = [Qt.Key.Key_1, Qt.Key.Key_2, Qt.Key.Key_3, Qt.Key.Key_4] * 3
    press(window, settle, *keys[:10])
    assert desk.review.at == 10
    choices = [one.choice for one in bench.state.decisions]
    assert choices == [("first", "second", "both", "later")[at % 4] for at in range(10)]
    assert bench.state.decisions[1].kept == key_of(window, int(pairs.second[1]))
    assert bench.results[PAIRS] is pairs  # the queue stands still
    assert "9 of 112 decided" in desk.reading_table.progress.text()
    press(window, settle, Qt.Key.Key_U, Qt.Key.Key_U)
    assert len(bench.state.decisions) == 8
    assert desk.review.at == 8
    press(window, settle, Qt.Key.Key_Escape)

    QTest.mouseClick(desk.leaf_row.buttons["Families"], LEFT)
    settle(window)
    assert desk.face(FamiliesFace).table.hasFocus()
    families = bench.results[FAMILIES]
    decided = {key for one in bench.state.decisions for key in (one.first, one.second)}
    family = next(
        at
        for at in range(len(families))
        if not decided & {key_of(window, member) for member in families.of(at).tolist()}
    )
    face = desk.face(FamiliesFace)
    face.table.go_to(family)
    desk.take_focus()
    press(window, settle, Qt.Key.Key_Return)
    assert desk.reading_table.heading.text().startswith(f"Family {family + 1}, member 2 of")
    press(window, settle, Qt.Key.Key_2)  # keep this one
    member = families.of(family)[1]
    assert bench.state.decisions[-1].kept == key_of(window, int(member))
    waiting = desk.decided.waiting
    assert f"{waiting} to set aside" in desk.reading_table.progress.text()
    press(window, settle, Qt.Key.Key_Escape)
    desk.leaf_row.show_leaf(0)
    settle(window)
    desk.face(PairsFace).apply.setFocus()
    press(window, settle, Qt.Key.Key_Space)
    assert len(bench.state.aside) == waiting > 0
    assert len(bench.results[SPACE].empty) == before - waiting
    assert all(reason.startswith("copy of ") for _, reason in bench.state.aside)
    bench.save()
    assert bench.keeper is not None
    bench.keeper.flush()  # nothing is closed: the process could be killed now
    again = opened(tmp_path / "notes.jagged")
    assert again.decisions == bench.state.decisions
    assert again.aside == bench.state.aside
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    settle(window)
    assert not bench.state.aside
    assert len(bench.results[PAIRS]) == len(pairs)


def test_marks_in_the_table_and_only_what_is_to_be_decided(
    desk: CompareDesk, window: MainWindow, settle: Settle
) -> None:
    face = desk.face(PairsFace)
    face.table.go_to(0)
    desk.take_focus()
    press(window, settle, Qt.Key.Key_1, Qt.Key.Key_4)
    listed = face.table.listed
    assert [listed.index(row, 6).data() for row in range(3)] == ["first", "later", ""]
    assert "1 of 112 decided" in face.progress.text()
    face.shown.setCurrentIndex(1)
    face.filter_rows()
    assert listed.rowCount() == 110
    face.shown.setCurrentIndex(3)
    face.filter_rows()
    assert listed.rowCount() == 1


def test_pairs_across_a_label_are_a_setting_beside_the_list(
    desk: CompareDesk, window: MainWindow, settle: Settle
) -> None:
    face = desk.face(PairsFace)
    before = len(window.bench.results[PAIRS])
    face.label.setCurrentText("crop")
    face.scope.setCurrentIndex(1)
    face.scope.activated.emit(1)
    settle(window)
    assert window.bench.recipe.compare.pairs_across == "crop"
    pairs, corpus = window.bench.results[PAIRS], window.bench.results[CORPUS]
    crop = next(label for label in corpus.labels if label.name == "crop")
    rows = window.bench.results[SPACE].terms.rows
    assert (crop.codes[rows[pairs.first]] != crop.codes[rows[pairs.second]]).all()
    across = len(pairs)
    face.scope.setCurrentIndex(2)
    face.scope.activated.emit(2)
    settle(window)
    assert window.bench.recipe.compare.pairs_within == "crop"
    assert across + len(window.bench.results[PAIRS]) == before


def test_one_against_all_lists_and_draws_every_other_document(
    desk: CompareDesk, window: MainWindow, settle: Settle, qtbot: QtBot
) -> None:
    bench = window.bench
    row = int(bench.results[SPACE].terms.rows[5])
    bench.pick.set([row])
    QTest.keyClick(window, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)
    settle(window)
    face = desk.face(AgainstFace)
    assert face.isVisible()
    expected = one_against_all(bench.results[SPACE], "cosine", 5)
    order = np.argsort(-np.nan_to_num(expected), kind="stable")
    titles, rows = bench.results[CORPUS].titles, bench.results[SPACE].terms.rows
    assert face.table.listed.index(0, 1).data() == titles[int(rows[order[0]])]
    assert face.table.listed.rowCount() == (expected > 0).sum()
    away = np.linalg.norm(face.canvas.positions[: len(expected)], axis=1)
    others = ~np.isnan(expected)
    assert away[others] == pytest.approx(1 - expected[others], abs=1e-5)
    face.table.go_to(2)
    settle(window)
    assert face.why.head.text() == f"Why {expected[order[2]]:.3f}?"
    assert window.side.reader.first.text.toPlainText() == bench.results[CORPUS].texts[row]
    x, y, radius = face.canvas._ring()
    start, end = QPoint(round(x + radius), round(y)), QPoint(round(x + radius * 1.1), round(y))
    QTest.mousePress(face.canvas.viewport(), LEFT, NONE, start)
    QTest.mouseMove(face.canvas.viewport(), end)
    QTest.mouseRelease(face.canvas.viewport(), LEFT, NONE, end)
    assert face.limit.value() < 0.3
    assert len(bench.pick.rows) == int((np.nan_to_num(expected) >= np.float32(face.limit.value())).sum())


def test_a_typed_text_is_compared_and_its_unknown_words_are_said(
    desk: CompareDesk, window: MainWindow, settle: Settle, qtbot: QtBot
) -> None:
    desk.bring_up(AgainstFace)
    settle(window)
    face = desk.face(AgainstFace)
    qtbot.mouseClick(face.type_button, LEFT)
    qtbot.keyClicks(face.text, "Slugs ate the lettuce behind the zeppelin")
    qtbot.wait(500)
    settle(window)
    assert "zeppelin" in face.about.text()
    assert "not among the terms" in face.about.text()
    corpus = window.bench.results[CORPUS]
    assert face._answer is not None
    best = corpus.texts[int(window.bench.results[SPACE].terms.rows[face._answer.order[0]])].lower()
    assert "slug" in best or "lettuce" in best
    face.text.clear()
    qtbot.wait(500)
    settle(window)
    assert "No word of the text is among the terms yet" in face.about.text()


def test_the_grid_names_reads_and_picks(desk: CompareDesk, window: MainWindow, settle: Settle, qtbot: QtBot) -> None:
    desk.bring_up(GridFace)
    settle(window)
    face = desk.face(GridFace)
    picture = face.picture
    bench = window.bench
    picture.zoom(40, picture._area().center())
    qtbot.wait(120)
    settle(window)
    window_now = picture._of
    assert window_now is not None
    assert window_now.near
    order = face._order.rows
    first, second = order[window_now.top], order[window_now.left + 1]
    exact = similarities(rows_of(bench.results[SPACE], "cosine"), np.array([first]), np.array([second]))[0]
    assert picture._values[0, 1] == pytest.approx(exact, abs=1e-6)
    place = picture.place_of(window_now.top, window_now.left + 1)
    QTest.mouseMove(picture, place.toPoint())
    picture.pointed.emit(*picture.cell_at(place))
    settle(window)
    assert face.about.text().endswith(f"{exact:.3f}")
    QTest.mouseClick(picture, LEFT, NONE, place.toPoint())
    settle(window)
    rows = bench.results[SPACE].terms.rows
    assert set(bench.pick.rows) == {int(rows[first]), int(rows[second])}
    QTest.keyClick(picture, Qt.Key.Key_Return)
    settle(window)
    assert desk.reading_table.isVisible()
    press(window, settle, Qt.Key.Key_Escape)
    a, b = (picture.place_of(window_now.top + at, window_now.left + at).toPoint() for at in (0, 2))
    QTest.mousePress(picture, LEFT, NONE, a)
    QTest.mouseMove(picture, b)
    QTest.mouseRelease(picture, LEFT, NONE, b)
    chosen = {*order[window_now.top : window_now.top + 3], *order[window_now.left : window_now.left + 3]}
    assert set(bench.pick.rows) == {int(rows[place]) for place in chosen}


def test_links_list_parts_and_loners_and_go_out(
    desk: CompareDesk, window: MainWindow, settle: Settle, tmp_path: Path
) -> None:
    desk.bring_up(LinksFace)
    settle(window)
    face, bench = desk.face(LinksFace), window.bench
    links, pairs = bench.results[LINKS], bench.results[PAIRS]
    assert len(links.pair) == len(pairs)
    assert face.parts.listed.rowCount() == len(links.sizes)
    face.parts.go_to(0)
    settle(window)
    assert len(bench.pick.rows) == links.sizes[0]
    face.below.setValue(0.3)
    alone = loners(bench.results[NEIGHBOURS], bench.results[SPACE].empty, 0.3)
    assert face.loners.listed.rowCount() == len(alone) > 0
    place = face.canvas.screen_positions()[3]
    QTest.mouseClick(face.canvas.viewport(), LEFT, NONE, QPointF(*place).toPoint())
    assert bench.pick.rows == (int(bench.results[SPACE].terms.rows[links.rows[3]]),)
    face.own_pieces()[0].kinds[0].write(tmp_path / "links.graphml", Order(0, lambda share: None))
    text = (tmp_path / "links.graphml").read_text("utf-8")
    assert text.count("<edge ") == len(pairs)
    assert text.count("<node ") == len(links)


def test_reading_closes_when_the_pairs_change(desk: CompareDesk, window: MainWindow, settle: Settle) -> None:
    desk.open_pair(3)
    settle(window)
    window.bench.set("compare", "pairs-from", 0.6)
    settle(window)
    assert not desk.reading_table.isVisible()


def test_a_decision_made_the_other_way_round_is_shown_as_the_list_has_it(
    desk: CompareDesk, window: MainWindow, settle: Settle
) -> None:
    pairs = window.bench.results[PAIRS]
    first, second = int(pairs.first[2]), int(pairs.second[2])
    desk.decided.choose(second, first, 1)
    settle(window)
    assert window.bench.state.decisions[0].kept == key_of(window, second)
    assert desk.face(PairsFace).table.listed.index(2, 6).data() == "second"
    desk.open_two(second, first)
    settle(window)
    assert desk.reading_table.decided.text() == "decided: keep second"
    window.bench.undo()
    settle(window)
    assert desk.face(PairsFace).table.listed.index(2, 6).data() == ""
