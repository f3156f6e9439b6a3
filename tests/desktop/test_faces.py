# SPDX-License-Identifier: GPL-3.0-or-later
"""A desk with further pictures: a row of buttons, each face drawn when it is brought up, with a word of its own."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import CORPUS, DISTRIBUTION, SPACE, Part


class Counted(Face):
    name = "Counted"
    needs = (CORPUS,)

    def build(self) -> None:
        self.drawn = 0
        self.label = PlainLabel()
        self.body.addWidget(self.label)

    def summary(self) -> str:
        return f"{len(self.bench.results[CORPUS]):,} in all"

    def refresh(self) -> None:
        self.drawn += 1
        self.label.setText(f"{len(self.bench.results[CORPUS]):,} documents")
        self.say()


class OnDemand(Face):
    name = "On demand"
    needs = (SPACE,)
    also = (DISTRIBUTION,)

    def build(self) -> None:
        self.parts: list[Part] = []

    def draw_part(self, part: Part) -> None:
        self.parts.append(part)


class Pictures(Desk):
    step = "gather"
    picture = "Own"
    needs = (CORPUS,)
    faces = (Counted, OnDemand)

    def build(self) -> None:
        self.own = PlainLabel("own picture")
        self.body.addWidget(self.own)


class Demanding(Desk):
    step = "gather"
    picture = "Own"
    needs = (CORPUS,)
    also = (DISTRIBUTION,)
    faces = (Counted,)


def test_what_a_desk_wants_on_demand_is_not_wanted_behind_a_face(window: MainWindow, qtbot: QtBot) -> None:
    desk = Demanding(window.bench, window.asker, window.side.reader)
    qtbot.addWidget(desk)
    desk.show()
    assert DISTRIBUTION in window.bench.order
    desk.bring_up(Counted)
    assert DISTRIBUTION not in window.bench.order
    desk.leaf_row.show_leaf(0)
    assert DISTRIBUTION in window.bench.order
    desk.hide()
    assert DISTRIBUTION not in window.bench.order


def test_a_desk_with_faces(window: MainWindow, qtbot: QtBot, settle: Callable[[MainWindow], None]) -> None:
    desk = Pictures(window.bench, window.asker, window.side.reader)
    qtbot.addWidget(desk)
    desk.show()
    qtbot.waitUntil(desk.own.isVisible, timeout=120_000)
    assert list(desk.leaf_row.buttons) == ["Own", "Counted", "On demand"]
    counted = desk.face(Counted)
    assert not counted.drawn  # nobody has seen it
    QTest.mouseClick(desk.leaf_row.buttons["Counted"], Qt.MouseButton.LeftButton)
    assert counted.label.isVisible()
    assert counted.label.text() == "640 documents"
    assert desk.leaf_row.words.text() == "640 in all"
    assert not desk.own.isVisible()
    desk.leaf_row.show_leaf(0)
    assert desk.own.isVisible()
    assert desk.leaf_row.words.text() == ""
    desk.bring_up(Counted)
    assert counted.drawn == 1  # nothing has changed
    # What a face wants on demand is computed while it is seen.
    assert DISTRIBUTION not in window.bench.order
    desk.bring_up(OnDemand)
    assert DISTRIBUTION in window.bench.order
    qtbot.waitUntil(lambda: window.bench.ready(DISTRIBUTION), timeout=120_000)
    assert DISTRIBUTION in desk.face(OnDemand).parts
    desk.leaf_row.show_leaf(0)
    assert DISTRIBUTION not in window.bench.order
