# SPDX-License-Identifier: GPL-3.0-or-later
"""The Group desk, driven through its widgets."""

from __future__ import annotations

import csv
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu
from pytestqt.qtbot import QtBot
from scipy.cluster.hierarchy import is_valid_linkage

from jagged_lens.desktop.desks.group.cross import AgainstLabelFace
from jagged_lens.desktop.desks.group.desk import GroupDesk
from jagged_lens.desktop.desks.group.groups import GroupsFace
from jagged_lens.desktop.desks.group.how_many import HowManyFace
from jagged_lens.desktop.desks.group.members import MEMBERS
from jagged_lens.desktop.desks.group.ridge import RidgeFace
from jagged_lens.desktop.desks.group.terms import TermGroups
from jagged_lens.desktop.saving import Order
from jagged_lens.desktop.window import MainWindow
from jagged_lens.group import letter
from jagged_lens.lens import GROUPING, HOLDING, QUALITY, RIDGE, SPACE, SWEEP
from jagged_lens.progress import unheard

Settle = Callable[[MainWindow], None]
CTRL = Qt.KeyboardModifier.ControlModifier
LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def desk(window: MainWindow, settle: Settle) -> GroupDesk:
    window.show_step("group")
    settle(window)
    desk = window.desk
    assert isinstance(desk, GroupDesk)
    return desk


def brought_up(window: MainWindow, settle: Settle, face):  # type: ignore[no-untyped-def]
    desk = window.desks["group"]
    assert isinstance(desk, GroupDesk)
    QTest.mouseClick(desk.leaf_row.buttons[face.name], LEFT)
    settle(window)
    return desk.face(face)


def names(window: MainWindow) -> list[str]:
    return list(window.bench.results[GROUPING].names)


def choose(menu: QMenu, words: str) -> None:
    menu.aboutToShow.emit()
    action = next(one for one in menu.actions() if words in one.text())
    assert action.isEnabled()
    action.trigger()


def test_a_card_picks_its_group_and_tells_it_in_full(window: MainWindow, desk: GroupDesk, settle: Settle) -> None:
    face = desk.face(GroupsFace)
    grouping, quality = window.bench.results[GROUPING], window.bench.results[QUALITY]
    assert face.cards.listed.rowCount() == 10
    viewport = face.cards.viewport()
    assert viewport is not None
    assert face.one.chip.group == 0
    QTest.mouseClick(viewport, LEFT, pos=face.cards.visualRect(face.cards.model().index(0, 0)).center())  # type: ignore[union-attr]
    assert len(window.bench.pick) == grouping.sizes[0]
    QTest.mouseClick(viewport, LEFT, pos=face.cards.visualRect(face.cards.model().index(1, 0)).center())  # type: ignore[union-attr]
    settle(window)
    assert len(window.bench.pick) == grouping.sizes[1]
    one = face.one
    assert one.chip.group == 1
    assert f"{grouping.sizes[1]} documents · cohesion {grouping.tightness[1]:.2f}" in one.figures.text()
    assert one.telling.texts[0] == "beets: 100% in it, 0% elsewhere"
    assert "beets" in one.strongest.text()
    assert "beet 99%" in one.values.texts or "beet 100%" in one.values.texts
    near = np.argsort(-quality.nearness[1], kind="stable")
    assert [one.near.number(line) for line in range(3)] == [int(other) for other in near if other != 1][:3]
    assert face.members.listed.rowCount() == grouping.sizes[1]
    # The nearest group is gone to; the oddest of it is read.
    QTest.mouseClick(one.near, LEFT, pos=QPoint(20, 8))
    settle(window)
    assert one.chip.group == near[near != 1][0]
    one.oddest.click()
    settle(window)
    assert len(window.bench.pick) == 1
    assert window.side.reader.isVisible()
    # A term is clicked, a value too.
    QTest.mouseClick(one.telling, LEFT, pos=QPoint(10, int(one.telling.line_height() * 1.5)))
    assert len(window.bench.pick.terms) == 1
    QTest.mouseClick(one.values, LEFT, pos=QPoint(3, 5))
    assert len(window.bench.pick) > 1


def test_groups_say_whether_they_hold_and_are_sorted_by_it(window: MainWindow, desk: GroupDesk, settle: Settle) -> None:
    face, holding = desk.face(GroupsFace), window.bench.results[HOLDING]
    assert holding.tries == 20
    assert window.spine.steps["group"].result == f"10 groups   {int((holding.groups >= 0.75).sum())} stable"
    face.sort.setCurrentText("stability")
    face.sort.textActivated.emit("stability")
    assert face.cards.listed.order.tolist() == np.argsort(holding.groups, kind="stable").tolist()
    least = int(np.argsort(holding.groups, kind="stable")[0])
    face.cards.go_to(least)
    settle(window)
    assert f"in {holding.came_back[least]} of 20 tries it came back" in face.one.holding.text()
    window.bench.set("group", "holding", False)
    settle(window)
    assert face.one.holding.text() == ""
    QTest.mouseClick(face.one.measure, LEFT)
    settle(window)
    assert "of 20 tries it came back" in face.one.holding.text()
    desk.field.setText("lettuce")
    assert face.cards.listed.rowCount() == 1
    QTest.keyClick(face.cards, Qt.Key.Key_A, CTRL)
    QTest.keyClick(face.cards, Qt.Key.Key_C, CTRL)
    assert "Silhouette" in QApplication.clipboard().text()  # type: ignore[union-attr]


def test_a_name_follows_its_group_and_waits_where_none_fits(
    window: MainWindow, desk: GroupDesk, settle: Settle
) -> None:
    face, bench = desk.face(GroupsFace), window.bench
    face.cards.go_to(1)
    settle(window)
    face.one.name.setFocus()
    QTest.keyClicks(face.one.name, "Roots")
    QTest.keyClick(face.one.name, Qt.Key.Key_Return)
    face.one.note.setFocus()
    QTest.keyClicks(face.one.note, "ask the moor plots")
    QTest.keyClick(face.one.note, Qt.Key.Key_Return)
    settle(window)
    assert face.cards.shown is not None
    assert face.cards.shown.titles[1] == "Roots"
    assert face.cards.shown.noted[1]
    keys = set(bench.documents.keys_of(np.flatnonzero(bench.results[GROUPING].group == 1)))
    bench.set("group", "groups", 11)
    settle(window)
    at = face.cards.shown.titles.index("Roots")
    rows = bench.results[SPACE].terms.rows[bench.results[GROUPING].group == at]
    assert len(set(bench.documents.keys_of(rows.tolist())) & keys) > len(keys) / 2
    bench.set("group", "groups", 2)
    settle(window)
    assert "Roots" not in face.cards.shown.titles
    assert face.about.text() == "1 name kept for later: no group here matches it any more."
    bench.undo()
    settle(window)
    assert "Roots" in face.cards.shown.titles
    for _ in range(3):
        bench.undo()
    settle(window)
    assert "Roots" not in face.cards.shown.titles
    assert face.about.text() == ""


def test_why_a_document_is_in_its_group_is_told_in_terms_that_add_up(
    window: MainWindow, desk: GroupDesk, settle: Settle
) -> None:
    face, quality = desk.face(GroupsFace), window.bench.results[QUALITY]
    grouping = window.bench.results[GROUPING]
    weak = int(np.flatnonzero(quality.weak)[0])
    window.bench.pick.set([int(window.bench.results[SPACE].terms.rows[weak])])
    QTest.mouseClick(face.leaves.buttons["Why is it here?"], LEFT)
    settle(window)
    why = face.why
    assert "Weak member" in why.words.text()
    assert (why.here.group, why.there.group) == (grouping.group[weak], quality.next[weak])
    assert face.cards.current_row() == grouping.group[weak]  # its group is the one that is told
    QTest.mouseClick(why.copy, LEFT)
    lines = [line.split("\t") for line in QApplication.clipboard().text().splitlines()]  # type: ignore[union-attr]
    lead = float(lines[-1][1])
    assert sum(float(value) for _, value in lines[1:-1]) == pytest.approx(lead, abs=1e-4)
    assert lead == pytest.approx(grouping.closeness[weak] - quality.next_closeness[weak], abs=1e-4)
    assert "▽" in face.members.listed.columns[3].text(int(np.flatnonzero(face.members.rows == weak)[0]))
    QTest.mouseClick(why.bars, LEFT, pos=QPoint(8, 8))
    settle(window)
    assert window.area.front == "weigh"  # the weight of the term is worked through


def test_groups_kept_as_a_label_are_corrected_by_hand_and_every_step_is_undone(
    window: MainWindow, desk: GroupDesk, settle: Settle, monkeypatch: pytest.MonkeyPatch, qtbot: QtBot
) -> None:
    face, bench = desk.face(GroupsFace), window.bench
    face.cards.go_to(0)
    settle(window)
    before = bench.results[GROUPING].group.tolist()
    monkeypatch.setattr("jagged_lens.desktop.commands.lens.asked", lambda *_: "crop")
    monkeypatch.setattr(
        "jagged_lens.desktop.commands.pick.message", lambda *_, **__: type("M", (), {"exec": lambda _: 0})()
    )
    QTest.mouseClick(face.one.keep, LEFT)
    assert bench.recipe.group.by == "k-means"  # that name came with the data
    monkeypatch.setattr("jagged_lens.desktop.commands.lens.asked", lambda *_: "beds")
    QTest.mouseClick(face.one.keep, LEFT)
    settle(window)
    assert (bench.recipe.group.by, bench.recipe.group.label) == ("label", "beds")
    assert bench.results[GROUPING].group.tolist() == before
    other = names(window)[2]
    assert window.spine.steps["group"].settings == "by the label beds"
    # Rename, split, merge.
    face.one.name.selectAll()
    QTest.keyClicks(face.one.name, "Dry")
    QTest.keyClick(face.one.name, Qt.Key.Key_Return)
    settle(window)
    assert names(window)[0] == "Dry"
    choose(face.one.split_menu, "2 by k-means")
    settle(window)
    assert {"Dry", "Dry 2"} <= set(names(window))
    assert len(names(window)) == 11
    face.cards.go_to(names(window).index("Dry 2"))
    settle(window)
    choose(face.one.merge_menu, "Dry")
    settle(window)
    assert len(names(window)) == 10
    # The picked apart.
    face.cards.go_to(names(window).index("Dry"))
    settle(window)
    some = list(bench.pick.rows)[:5]
    bench.pick.set(some)
    choose(face.one.split_menu, "picked")
    settle(window)
    assert bench.results[GROUPING].sizes[-1] == 5
    # One moved by a key, one dragged onto a card.
    bench.pick.set([some[0]])
    settle(window)
    opened: list[bool] = []
    monkeypatch.setattr(type(face.one.move_here), "showMenu", lambda _: opened.append(True))
    QTest.keyClick(face.cards, Qt.Key.Key_M)
    assert opened == [True]
    shown = names(window)[face.one.group]
    assert shown != other
    choose(face.one.move_menu, other)
    settle(window)
    assert bench.documents.labels()[-1].value(some[0]) == other
    assert names(window)[face.one.group] == names(window)[face.cards.current_row()] == shown  # it stays in front
    face.cards.go_to(next(at for at, name in enumerate(names(window)) if name.startswith("lettuce")))
    settle(window)
    QTest.keyClick(face.members, Qt.Key.Key_Home)
    face.members.selectRow(2)
    moved = int(bench.results[SPACE].terms.rows[face.members.rows[2]])
    mime = QMimeData()
    mime.setData(MEMBERS, b"")
    target = face.cards.visualRect(face.cards.model().index(1, 0)).center()  # type: ignore[union-attr]
    into = names(window)[1]
    drop = QDropEvent(QPointF(target), Qt.DropAction.MoveAction, mime, LEFT, Qt.KeyboardModifier.NoModifier)
    face.cards.dropEvent(drop)
    settle(window)
    assert bench.documents.labels()[-1].value(moved) == into
    while bench.recipe.group.by == "label":
        assert bench.history.undo_text is not None
        bench.undo()
    settle(window)
    assert bench.results[GROUPING].group.tolist() == before
    assert not bench.state.labels


def test_the_ridge_is_cut_by_dragging_and_picks_branches_at_any_level(
    window: MainWindow, desk: GroupDesk, settle: Settle, tmp_path: Path
) -> None:
    bench = window.bench
    bench.set("group", "linkage", "ward")
    face = brought_up(window, settle, RidgeFace)
    canvas, tree = face.canvas, bench.results[RIDGE]
    assert is_valid_linkage(tree.joins)
    assert "tree of 638 documents" in desk.leaf_row.words.text()
    assert not canvas._takes_effect  # the groups are those of k-means
    top = int(canvas._area().top())
    x = round(canvas.x_of(canvas.ridge.cut_between(6)))
    QTest.mousePress(canvas, LEFT, pos=QPoint(round(canvas.cut_x()), top + 60))
    QTest.mouseMove(canvas, QPoint(x, top + 60))
    assert canvas.groups == 6
    settle(window)
    assert len(canvas._bays) == 6  # named while it is dragged
    assert all(bay.name for bay in canvas._bays)
    assert bench.recipe.group.by == "k-means"  # it takes effect when it is let go
    QTest.mouseRelease(canvas, LEFT, pos=QPoint(x, top + 60))
    settle(window)
    assert (bench.recipe.group.by, len(bench.results[GROUPING])) == ("tree", 6)
    # What the ridge shows is the grouping: parts, letters, colours.
    starts, number = canvas.ridge.parts(6)
    own = bench.results[GROUPING].group[tree.rows[tree.order]]
    for at, (start, end) in enumerate(zip(starts, np.append(starts[1:], len(tree)), strict=True)):
        assert set(own[start:end].tolist()) == {int(number[at])}
    # A click picks the branch at the height of the pointer; the name beside it, the part.
    place, height = 100, canvas.ridge.cut_between(20)
    node = canvas.ridge.node_at(place, height)
    QTest.mouseClick(canvas, LEFT, pos=QPoint(round(canvas.x_of(height)), round(canvas.y_of(place + 0.5))))
    settle(window)
    assert len(bench.pick) == canvas.ridge.last[node] - canvas.ridge.first[node] + 1
    assert face.branch.text() == f"A branch of {len(bench.pick)} documents"
    assert face.telling.texts
    QTest.keyClick(canvas, Qt.Key.Key_Right)
    settle(window)
    assert canvas.current == canvas.ridge.above[node]
    wider = len(bench.pick)
    QTest.keyClick(canvas, Qt.Key.Key_Left)
    settle(window)
    assert 0 < len(bench.pick) < wider
    QTest.keyClick(canvas, Qt.Key.Key_Down)
    settle(window)
    assert canvas.ridge.first[canvas.current] > 0
    box, part = canvas._bay_places[2]
    QTest.mouseClick(canvas, LEFT, pos=box.center().toPoint())
    settle(window)
    assert len(bench.pick) == canvas.ridge.last[part] - canvas.ridge.first[part] + 1
    # A tooth that is pointed at says what it joins.
    join = int(canvas.ridge.join[starts[3] - 1])
    QTest.mouseMove(canvas, QPoint(round(canvas._area().left()) + 8, round(canvas.y_of(float(starts[3])))))
    assert canvas._over == join
    assert f"join at {canvas.ridge.height[join]:.3f}" in desk.leaf_row.words.text()
    # From the keyboard: one group more, and back.
    QTest.keyClick(canvas, Qt.Key.Key_Left, CTRL)
    settle(window)
    assert len(bench.results[GROUPING]) == 7
    bench.undo()
    bench.undo()
    settle(window)
    assert bench.recipe.group.by == "k-means"
    # Near enough, titles stand beside; a title is found.
    desk.field.setText("Salt Road’, plot 4")
    settle(window)
    titles = bench.results["corpus"].titles
    assert len(canvas._found) == sum("Salt Road’, plot 4" in title for title in titles) > 0
    for _ in range(20):
        QTest.keyClick(canvas, Qt.Key.Key_Plus)
    canvas.show_found(canvas._found)
    canvas.grab()
    assert not canvas._bay_places
    assert abs(canvas._top - canvas._found[0]) < canvas._area().height() / canvas._per
    QTest.keyClick(canvas, Qt.Key.Key_0)
    assert canvas._top == 0
    # Out.
    picture, forms = face.own_pieces()
    assert [kind.ending for kind in forms.kinds] == [".nwk", ".csv"]
    for kind in forms.kinds:
        kind.write(tmp_path / f"tree{kind.ending}", Order(0, unheard))
    with (tmp_path / "tree.csv").open() as file:
        assert len(list(csv.reader(file))) == len(tree)
    assert (tmp_path / "tree.nwk").read_text().count("'") == 2 * len(tree) + 2 * (
        tmp_path / "tree.nwk"
    ).read_text().count("''")
    assert [kind.ending for kind in picture.kinds] == [".png", ".svg", ".pdf"]
    for kind in picture.kinds:
        kind.write(tmp_path / f"ridge{kind.ending}", Order(2 * canvas.width(), unheard))
        assert (tmp_path / f"ridge{kind.ending}").stat().st_size > 4_000
    face.copy_picture()
    assert not QApplication.clipboard().image().isNull()  # type: ignore[union-attr]


def test_numbers_of_groups_are_tried_shown_as_they_come_and_taken(
    window: MainWindow, desk: GroupDesk, settle: Settle, qtbot: QtBot
) -> None:
    bench = window.bench
    bench.change(
        bench.state.with_recipe(bench.recipe.with_settings("group", {"by": "tree", "linkage": "ward"})), "tree"
    )
    face = brought_up(window, settle, HowManyFace)
    assert "Nothing has been tried yet" in face.words.text()
    face.low.setValue(3)
    face.high.setValue(12)
    grew: list[int] = []
    bench.part_changed.subscribe(lambda part: grew.append(len(face._sweep() or ())) if part is SWEEP else None)
    QTest.mouseClick(face.try_them, LEFT)
    settle(window)
    sweep = bench.results[SWEEP]
    assert sweep.groups.tolist() == list(range(3, 13))
    assert bench.recipe.group.sweep == (3, 12)
    said = (
        f"For {sweep.suggested}: the highest silhouette"
        if sweep.suggested
        else "No number is suggested: with none of them"
    )
    assert said in face.words.text()
    face.flows.click()
    face.curves.grab()
    QTest.mouseClick(face.curves, LEFT, pos=QPoint(round(face.curves.x_of(5)), 60))
    assert face.figures.text() == (
        f"5 groups: cohesion {sweep.tightness[2]:.3f}, silhouette {sweep.silhouette[2]:.3f}, stability "
        f"{sweep.holding[2]:.2f}, agreement {sweep.agreement[2]:.2f}"
    )
    QTest.mouseClick(face.take, LEFT)
    settle(window)
    assert len(bench.results[GROUPING]) == 5
    assert bench.results[GROUPING].group.tolist() == sweep.group[2].tolist()
    assert bench.ready(SWEEP)  # taking one number changes nothing that was tried
    QTest.keyClick(face.curves, Qt.Key.Key_Right)
    QTest.keyClick(face.curves, Qt.Key.Key_Return)
    settle(window)
    assert len(bench.results[GROUPING]) == 6
    bench.undo()
    bench.undo()
    bench.undo()
    settle(window)
    assert "Nothing has been tried yet" in face.words.text()


def test_a_sweep_is_stopped_and_what_came_stays_to_be_gone_on_with(
    window: MainWindow, desk: GroupDesk, settle: Settle, qtbot: QtBot
) -> None:
    bench = window.bench
    face = brought_up(window, settle, HowManyFace)
    face.high.setValue(16)
    QTest.mouseClick(face.try_them, LEFT)
    qtbot.waitUntil(lambda: len(face._sweep() or ()) >= 2, timeout=120_000)
    QTest.mouseClick(face.state.button, LEFT)
    settle(window)
    tried = len(bench.results[SWEEP])
    assert 2 <= tried < 15
    assert face.words.text().startswith(f"{tried} of 15 numbers tried; stopped. ")
    assert face.take.isEnabled()
    face.curves.chosen.emit(3)
    assert not face.state.isVisible()
    QTest.mouseClick(face.try_them, LEFT)  # once more: all of them
    qtbot.waitUntil(lambda: bench.working, timeout=120_000)
    settle(window)
    assert len(bench.results[SWEEP]) == 15
    assert "stopped" not in face.words.text()


def test_groups_stand_against_a_label_and_misfits_are_read_one_after_the_other(
    window: MainWindow, desk: GroupDesk, settle: Settle, tmp_path: Path
) -> None:
    bench = window.bench
    face = brought_up(window, settle, AgainstLabelFace)
    cross = bench.results["cross"]
    assert f"Purity {cross.purity:.3f}" in face.figures.text()
    assert desk.leaf_row.words.text() == f"purity {cross.purity:.2f} · adjusted Rand index {cross.adjusted_rand:.2f}"
    # A cell is the pick; its group, where the group is clicked.
    value = cross.values[int(cross.counts[0].argmax())]
    index = face.table.model().index(0, 2 + cross.values.index(value))  # type: ignore[union-attr]
    QTest.mouseClick(face.table.viewport(), LEFT, pos=face.table.visualRect(index).center())
    assert len(bench.pick) == cross.counts[0, cross.values.index(value)] > 30
    labels = {label.name: label for label in bench.documents.labels()}
    assert {labels["crop"].value(row) for row in bench.pick.rows} == {value}
    face.kind.setCurrentText("share of the group")
    face.kind.activated.emit(1)
    share = cross.counts[0] / cross.counts[0].sum()
    assert face.table.listed.columns[2 + cross.values.index(value)].text(0) == f"{share[cross.values.index(value)]:.0%}"
    # Misfits, by J and K, with both reasons.
    assert face.misfits.listed.rowCount() == len(cross.misfits)
    read = []
    for _ in range(3):
        QTest.keyClick(face.table, Qt.Key.Key_J)
        settle(window)
        row = bench.pick.one
        place = bench.documents.place_of(row)
        assert place in cross.misfits
        assert f"Nearest of {labels['crop'].value(row)}: " in face.near_words.text()
        assert face.why.here.group == cross.group[place]
        read.append(row)
    assert len(set(read)) == 3
    QTest.keyClick(face.table, Qt.Key.Key_K)
    settle(window)
    assert bench.pick.one == read[1]
    QTest.mouseClick(face.near, LEFT)
    assert labels["crop"].value(bench.pick.reading) == labels["crop"].value(read[1])
    face.save_table(tmp_path / "cross.csv")
    with (tmp_path / "cross.csv").open() as file:
        rows = list(csv.reader(file))
    assert rows[0] == ["group", *cross.values]
    assert np.array(rows[1:], int)[:, 1:].tolist() == cross.counts.tolist()
    # Another label, and none.
    face.label.setCurrentText("soil")
    face.label.activated.emit(face.label.currentIndex())
    settle(window)
    assert bench.recipe.group.against == "soil"
    assert "soil" not in face.figures.text()
    assert bench.results["cross"].purity < 0.6
    face.label.setCurrentIndex(0)
    face.label.activated.emit(0)
    settle(window)
    assert "Choose a label" in face.figures.text()
    assert not face.table.isVisible()


def test_terms_are_grouped_by_a_tree_that_is_cut_and_numbers_are_tried(
    window: MainWindow, desk: GroupDesk, settle: Settle
) -> None:
    face = brought_up(window, settle, TermGroups)
    QTest.mouseClick(face.leaves.buttons["Ridge"], LEFT)
    face.way.setCurrentText("ward")
    face.way.activated.emit(face.way.currentIndex())
    settle(window)
    canvas = face.ridge
    assert "60 most frequent terms in 8 groups" in face.words.text()
    assert canvas._takes_effect
    assert len(canvas._bays) == 8
    QTest.keyClick(canvas, Qt.Key.Key_Left, CTRL)
    settle(window)
    assert face.count.value() == 9
    assert "in 9 groups" in face.words.text()
    node = canvas.ridge.node_at(0, canvas.ridge.cut_between(9))
    QTest.keyClick(canvas, Qt.Key.Key_Down)
    settle(window)
    assert canvas.ridge is not None
    assert len(window.bench.pick.terms) == canvas.ridge.last[node] - canvas.ridge.first[node] + 1
    window.bench.pick.set_terms(())
    settle(window)
    QTest.mouseClick(face.leaves.buttons["How many"], LEFT)
    QTest.mouseClick(face.sweep.button, LEFT)
    settle(window)
    assert len(face.sweep.curves.sweep or ()) == 19
    assert face.sweep.words.text().startswith(f"{face.sweep.curves.current} groups: ")
    QTest.mouseClick(face.sweep.take, LEFT)
    settle(window)
    assert face.count.value() == face.sweep.curves.current
    face.table.setFocus()
    QTest.keyClick(face.table, Qt.Key.Key_Space)
    settle(window)
    assert window.area.front == "terms"  # the term among all


def test_settings_that_do_not_count_are_not_shown_and_a_label_is_chosen_from_those_that_there_are(
    window: MainWindow, desk: GroupDesk, settle: Settle
) -> None:
    controls = window.side.settings.controls["group"]
    assert controls["starts"].isVisibleTo(window)
    assert not controls["label"].isVisibleTo(window)
    controls["by"].field.choose("label")  # type: ignore[attr-defined]
    settle(window)
    assert controls["label"].isVisibleTo(window)
    assert not controls["groups"].isVisibleTo(window)
    assert 'there is no label ""' in str(window.bench.errors["grouping"])
    controls["label"].field.choose("season")  # type: ignore[attr-defined]
    settle(window)
    assert window.spine.steps["group"].settings == "by the label season"
    assert len(names(window)) == len(window.bench.results[GROUPING]) > 1
    assert [letter(group) for group in range(2)] == ["A", "B"]
    assert desk.face(GroupsFace).cards.shown.titles == names(window)  # type: ignore[union-attr]


def test_every_face_has_something_to_say_of_next_to_nothing(
    window: MainWindow, desk: GroupDesk, settle: Settle, tmp_path: Path
) -> None:
    for texts in ([], ["slugs ate the lettuce"], ["slugs", "slugs"], ["", ""], ["frost", "hail", "rust"]):
        file = tmp_path / f"{len(texts)}-{'-'.join(texts)[:6]}.csv"
        with file.open("w", newline="") as out:
            csv.writer(out).writerows([["id", "text"], *([str(at), text] for at, text in enumerate(texts))])
        recipe = tmp_path / f"{file.stem}.toml"
        recipe.write_text(
            f'[gather]\nfrom = "{file.name}"\ntext = ["text"]\nkey = "id"\n[terms]\nleast-documents = 1\nmost-share = 1.0\n'
            '[group]\nby = "tree"\nholding = true\nsweep = [2, 9]\n[map]\nby = "pca"\n'
        )
        window.bench.open(recipe)
        settle(window)
        for face in (RidgeFace, HowManyFace, AgainstLabelFace, TermGroups, GroupsFace):
            shown = brought_up(window, settle, face)
            shown.grab()
            said = " ".join(label.text() for label in shown.findChildren(type(desk.figures)))
            assert "nan" not in said.lower()
