# SPDX-License-Identifier: GPL-3.0-or-later
"""The Clean desk: rules switched on the picture, what they took, suggestions, and rules that are tried."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from jagged_lens.clean import Reason
from jagged_lens.desktop.desks.clean.desk import CleanDesk
from jagged_lens.desktop.desks.clean.hits import Hits
from jagged_lens.desktop.desks.clean.suggested import Suggested
from jagged_lens.desktop.desks.clean.trying import Trying
from jagged_lens.desktop.desks.clean.words import Words
from jagged_lens.desktop.look import plain
from jagged_lens.desktop.window import MainWindow

Settle = Callable[[MainWindow], None]


def clean(window: MainWindow) -> CleanDesk:
    window.show_step("clean")
    desk = window.desks["clean"]
    assert isinstance(desk, CleanDesk)
    return desk


def test_a_rule_is_switched_on_its_line_and_its_hits_are_read(window: MainWindow, qtbot: QtBot, settle: Settle) -> None:
    desk = clean(window)
    settle(window)
    QTest.mouseClick(desk.bars, Qt.MouseButton.LeftButton, pos=desk.bars.box_of("RECURRING_LINE").toPoint())
    assert "recurring-lines" in window.bench.recipe.clean.take_out
    settle(window)
    line = next(line for line in desk._lines() if line.name == "RECURRING_LINE")
    assert line.on
    assert line.taken > 0
    assert any("shelf" in words for words, _ in window.bench.results["tokens"].recurring)
    place = desk.bars.box_of("RECURRING_LINE").toPoint()
    place.setX(120)
    QTest.mouseClick(desk.bars, Qt.MouseButton.LeftButton, pos=place)
    qtbot.waitUntil(lambda: bool(desk.face(Hits).found), timeout=120_000)
    desk.face(Hits).table.go_to(0)
    hit = desk.face(Hits).found[0]
    assert window.bench.pick.rows == (hit.row,)
    text = window.bench.results["corpus"].texts[hit.row]
    assert " ".join(text[hit.start : hit.end].split("\n")) == hit.taken
    window.undo.trigger()
    settle(window)
    assert "recurring-lines" not in window.bench.recipe.clean.take_out


def test_rules_are_switched_from_the_keyboard(window: MainWindow, settle: Settle) -> None:
    desk = clean(window)
    settle(window)
    desk.bars.setFocus()
    names = [line.name for line in desk._lines()]
    for _ in range(names.index("NUMBER")):
        QTest.keyClick(desk.bars, Qt.Key.Key_Down)
    QTest.keyClick(desk.bars, Qt.Key.Key_Space)
    settle(window)
    assert window.bench.recipe.clean.numbers == "keep"
    for name in ("STOP_WORD", "SHORT"):
        desk._switch(name)
        settle(window)
    c = window.bench.recipe.clean
    assert c.stop_words == ()
    assert c.shortest == 1
    losses = {loss.rule for loss in window.bench.results["tokens"].account}
    assert not {Reason.NUMBER, Reason.STOP_WORD, Reason.SHORT} & losses


def test_what_is_left_empty_is_picked_with_one_click(window: MainWindow, settle: Settle) -> None:
    desk = clean(window)
    settle(window)
    QTest.mouseClick(desk.pick_empty, Qt.MouseButton.LeftButton)
    tokens = window.bench.results["tokens"]
    assert list(window.bench.pick.rows) == np.flatnonzero(tokens.kept_by_row() == 0).tolist()
    assert len(window.bench.pick) == 2


def test_suggestions_are_ticked_and_taken_at_once_or_refused(window: MainWindow, qtbot: QtBot, settle: Settle) -> None:
    desk = clean(window)
    settle(window)
    QTest.mouseClick(desk.leaf_row.buttons["Suggested"], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(desk.face(Suggested).suggested), timeout=120_000)
    rules = [one.rule for one in desk.face(Suggested).suggested]
    assert rules[0] == "never: seed"
    assert "plnats = plants" in rules
    face = desk.face(Suggested)
    assert not face.take.isEnabled()
    wanted = ["plnats = plants", next(rule for rule in rules[1:] if rule != "plnats = plants")]
    for rule in wanted:
        face.table.go_to(rules.index(rule))
        QTest.keyClick(face.table, Qt.Key.Key_Space)
    assert face.take.text() == "Add 2"
    steps = len(list(window.bench.history.past()))
    QTest.mouseClick(face.take, Qt.MouseButton.LeftButton)
    settle(window)
    assert set(window.bench.recipe.clean.own_rules) == set(wanted)
    assert len(list(window.bench.history.past())) == steps + 1  # all at once
    assert "plnats" not in list(window.bench.results["tokens"].words)
    qtbot.waitUntil(lambda: "plnats = plants" not in [one.rule for one in face.suggested], timeout=120_000)
    face.table.go_to(0)
    QTest.keyClick(face.table, Qt.Key.Key_Space)
    QTest.mouseClick(face.refuse, Qt.MouseButton.LeftButton)
    settle(window)
    assert "never: seed" in window.bench.state.refused
    qtbot.waitUntil(lambda: face.suggested[0].rule != "never: seed", timeout=120_000)
    window.undo.trigger()
    assert "never: seed" not in window.bench.state.refused


def test_a_word_is_dropped_merged_and_kept_as_written_from_its_row(
    window: MainWindow, settle: Settle, monkeypatch: pytest.MonkeyPatch
) -> None:
    desk = clean(window)
    settle(window)
    face = desk.face(Words)
    tokens = window.bench.results["tokens"]

    def to(word: str) -> None:
        face.table.go_to(list(window.bench.results["tokens"].written).index(word))

    before = [term for term in window.bench.results["terms"].terms if "slug" in term.split(" ")]
    assert len(before) > 1
    to("slugs")
    QTest.mouseClick(face.holding, Qt.MouseButton.LeftButton)
    settle(window)
    assert not [term for term in window.bench.results["terms"].terms if "slug" in term.split(" ")]
    assert window.bench.recipe.clean.own_rules == ()  # no gap is left in the texts
    window.undo.trigger()
    settle(window)
    to("slugs")
    QTest.mouseClick(face.never, Qt.MouseButton.LeftButton)
    settle(window)
    assert window.bench.recipe.clean.own_rules == ("never: slugs",)
    assert "slug" not in list(window.bench.results["tokens"].words)
    assert ("rule never: slugs", int((tokens.form == list(tokens.written).index("slugs")).sum())) not in tokens.hits
    monkeypatch.setattr(plain, "_answer", lambda box: ("mice", True))
    to("voles") if "voles" in list(tokens.written) else to("Voles")
    QTest.mouseClick(face.same, Qt.MouseButton.LeftButton)
    settle(window)
    assert window.bench.recipe.clean.own_rules[-1] == "voles = mice"
    to("handful")
    QTest.mouseClick(face.written, Qt.MouseButton.LeftButton)
    settle(window)
    assert "handful" in list(window.bench.results["tokens"].words)


def test_a_rule_is_tried_on_a_document_while_typing(window: MainWindow, qtbot: QtBot, settle: Settle) -> None:
    desk = clean(window)
    settle(window)
    QTest.mouseClick(desk.leaf_row.buttons["Try a rule"], Qt.MouseButton.LeftButton)
    QTest.keyClicks(desk.face(Trying).rule, "join: late")
    qtbot.waitUntil(lambda: "is a single word" in desk.face(Trying).outcome.text(), timeout=120_000)
    assert not desk.face(Trying).add.isEnabled()
    QTest.keyClicks(desk.face(Trying).rule, " frost")
    qtbot.waitUntil(lambda: "sampled documents" in desk.face(Trying).outcome.text(), timeout=120_000)
    assert "late frost" in desk.face(Trying).text.toPlainText().lower()
    QTest.mouseClick(desk.face(Trying).add, Qt.MouseButton.LeftButton)
    settle(window)
    assert window.bench.recipe.clean.own_rules == ("join: late frost",)
    assert "late_frost" in list(window.bench.results["tokens"].words)
    desk.face(Trying).kind.setCurrentIndex(1)
    QTest.keyClicks(desk.face(Trying).rule, "/(/ = x")
    qtbot.waitUntil(lambda: "not a regular expression" in desk.face(Trying).outcome.text(), timeout=120_000)


def test_the_reader_strikes_what_was_taken(window: MainWindow, settle: Settle) -> None:
    clean(window)
    settle(window)
    reader = window.side.reader
    assert reader.cleaned_button.isChecked()
    window.bench.pick.set([0])
    document = reader.one.text.document()
    assert document is not None
    text = window.bench.results["corpus"].texts[0]
    cursor = reader.one.text.textCursor()
    cursor.setPosition(text.lower().index(" the ") + 2)
    assert cursor.charFormat().fontStrikeOut()
    window.show_step("map")
    assert not reader.cleaned_button.isChecked()
