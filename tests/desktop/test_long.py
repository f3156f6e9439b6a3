# SPDX-License-Identifier: GPL-3.0-or-later
"""What is very long: lists, tables, strips of many groups, saved pictures."""

from __future__ import annotations

import os
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QSizeF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QWidget
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.worn import holds_parts, wear, wear_in_parts
from jagged_lens.desktop.plots.drawing_file import save_drawing
from jagged_lens.desktop.plots.sweep_strips import columns_of, flows_of, strips
from jagged_lens.desktop.sheets.list_editor import ListEditor
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.group import Sweep

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def editor(qtbot: QtBot, qapp: QApplication) -> ListEditor:
    theme.dress(qapp)
    parent = QWidget()
    qtbot.addWidget(parent)
    taken: list[tuple[str, ...]] = []
    editor = ListEditor("A list", "Help.", [f"entry {number}" for number in range(20_000)], taken.append, parent)
    editor.taken, editor.held = taken, parent  # type: ignore[attr-defined]
    editor.show()
    return editor


def shown(editor: ListEditor) -> list[str]:
    return [editor.listed.index(at).data() for at in range(editor.listed.rowCount())]


def test_a_long_list_is_searched_added_to_and_taken_from(editor: ListEditor, qtbot: QtBot) -> None:
    assert editor.count.text() == "20,000 entries"
    editor.search.setText("77")
    assert len(shown(editor)) == sum("77" in str(number) for number in range(20_000))
    editor.list.setFocus()
    editor.list.selectAll()
    QTest.keyClick(editor.list, Qt.Key.Key_Delete)
    assert shown(editor) == []
    editor.search.setText("")
    assert editor.listed.rowCount() == len(editor.entries) < 20_000
    editor.field.setText("entry 3")  # type: ignore[union-attr]
    editor.add()
    assert editor.entries.count("entry 3") == 1
    editor.field.setText("a new one")  # type: ignore[union-attr]
    editor.add()
    assert editor.list.currentIndex().data() == editor.entries[-1] == "a new one"
    # Edited where it stands.
    editor.listed.setData(editor.listed.index(0), "  changed ")
    assert editor.entries[0] == "changed"
    QTest.mouseClick(editor.main, LEFT)
    assert editor.taken == [editor.entries]  # type: ignore[attr-defined]


@pytest.mark.timeout(60)
def test_a_list_goes_out_and_comes_back_and_no_pipe_holds_the_window(
    editor: ListEditor, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "list.txt"), ""))
    editor.listed.add(["#frost", "c#", "/plot #\\d+/ = x", "a\ud800b"])
    before = editor.entries
    editor._export()
    editor.listed.remove(range(editor.listed.rowCount()))
    assert editor.entries == ()
    editor._read_lines(tmp_path / "list.txt")
    qtbot.waitUntil(lambda: len(editor.entries) == len(before), timeout=120_000)
    assert editor.entries[:-1] == before[:-1]
    assert editor.entries[-1] == "a\\ud800b"
    os.mkfifo(tmp_path / "pipe")
    for place in (tmp_path / "pipe", Path("/dev/zero"), tmp_path / "gone"):
        editor.wrong.hide()
        editor._read_lines(place)
        qtbot.waitUntil(editor.wrong.isVisible, timeout=120_000)
        assert "cannot be read" in editor.wrong.text()
    # One that cannot be written.
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "no folder" / "list.txt"), ""))
    editor._export()
    assert "cannot be written" in editor.wrong.text()


def test_all_rows_of_a_long_table_are_selected_without_asking_row_by_row(qtbot: QtBot, qapp: QApplication) -> None:
    theme.dress(qapp)
    table = TableView("Long")
    qtbot.addWidget(table)
    table.resize(500, 300)
    table.show()
    n = 100_000
    table.show_rows([Column("A", str), Column("B", lambda row: "b")], n)
    qtbot.waitUntil(lambda: not table.listed.pending)
    asked = 0
    plain = table.listed.rowCount

    def counted(*parent: object) -> int:
        nonlocal asked
        asked += 1
        return plain()

    table.listed.rowCount = counted  # type: ignore[method-assign]
    table.selectAll()
    table.grab()
    assert table.chosen_count() == n
    assert asked < 2_000


def nested(numbers: list[int], n: int = 600) -> Sweep:
    """Groups that are cut finer and finer along one line."""
    line = (np.arange(n) + 0.5) / n
    group = np.stack([(line * k).astype(np.int32) for k in numbers])
    nothing = np.zeros(len(numbers))
    return Sweep(np.array(numbers), nothing, nothing, nothing, nothing, group, len(numbers))


def test_flows_worked_by_hand(qapp: QApplication) -> None:
    sweep = nested([2, 4])
    columns = columns_of(sweep)
    [flow] = flows_of(sweep, columns)
    # Each half goes into two quarters, which lie beside it.
    assert flow[:, 0].tolist() == [0, 0, 1, 1]
    assert flow[:, 1].tolist() == pytest.approx([0, 0.25, 0.5, 0.75])
    assert flow[:, 3].tolist() == pytest.approx([0, 0.25, 0.5, 0.75])
    assert (flow[:, 2] - flow[:, 1]).tolist() == pytest.approx([0.25] * 4)
    assert (flow[:, 4] - flow[:, 3]).tolist() == pytest.approx([0.25] * 4)


def test_strips_show_each_group_in_its_colour_and_its_flows_between(qapp: QApplication) -> None:
    theme.dress(qapp)
    sweep = nested([2, 3])
    columns = columns_of(sweep)
    image = strips(columns, flows_of(sweep, columns), np.array([10.0, 50.0]), 12.0, (80, 60))
    assert (image.width(), image.height()) == (80, 120)

    def ink(x: int, share: float) -> QColor:
        return image.pixelColor(x, int(share * 120))

    assert ink(15, 0.2).alpha() == ink(15, 0.8).alpha() == 255
    assert ink(15, 0.2).rgb() != ink(15, 0.8).rgb()
    assert len({ink(55, share).rgb() for share in (0.1, 0.5, 0.9)}) == 3
    assert 60 < ink(35, 0.1).alpha() < 200  # a ribbon, through which the ground is seen
    assert ink(5, 0.5).alpha() == ink(75, 0.5).alpha() == 0
    plain = strips(columns, [], np.array([10.0, 50.0]), 12.0, (80, 60))
    assert plain.pixelColor(35, 12).alpha() == 0


def test_a_picture_that_cannot_be_written_leaves_the_one_that_was_there(
    qapp: QApplication, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def paint(painter: QPainter, shapes: bool) -> None:
        painter.drawText(10, 20, "slugs")

    written = Path.write_bytes

    def full(path: Path, content: bytes) -> int:
        written(path, content[:100])
        raise OSError(28, "No space left on device")

    for ending in (".png", ".svg", ".pdf"):
        path = tmp_path / f"a{ending}"
        path.write_text("the picture of yesterday")
        monkeypatch.setattr(Path, "write_bytes", full)
        with pytest.raises(OSError, match="No space"):
            save_drawing(path, QSizeF(100, 80), 200, "t", paint)
        assert path.read_text() == "the picture of yesterday"
        monkeypatch.undo()
        save_drawing(path, QSizeF(100, 80), 200, "t", paint)
        head = {".png": b"\x89PNG", ".svg": b"<?xml", ".pdf": b"%PDF"}[ending]
        assert path.read_bytes().startswith(head)
    assert QImage(str(tmp_path / "a.png")).width() == 200
    assert len(list(tmp_path.iterdir())) == 3


def test_what_is_not_seen_is_dressed_when_it_is_shown(qtbot: QtBot, qapp: QApplication) -> None:
    theme.use(qapp, "light")
    window = QWidget()
    qtbot.addWidget(window)
    seen, hidden, holder = QWidget(window), QWidget(window), QWidget(window)
    inside = QWidget(holder)
    holds_parts(holder)
    hidden.hide()
    wear_in_parts(window)
    window.show()
    light = seen.styleSheet()
    assert light
    assert (hidden.styleSheet(), holder.styleSheet(), window.styleSheet()) == ("", "", "")
    assert inside.styleSheet() == light
    theme.use(qapp, "dark")
    assert seen.styleSheet() == light  # in a turn of its own
    qtbot.waitUntil(lambda: seen.styleSheet() not in ("", light) and inside.styleSheet() == seen.styleSheet())
    assert hidden.styleSheet() == ""
    hidden.show()
    assert hidden.styleSheet() == seen.styleSheet()
    late = QWidget(window)
    late.show()
    wear(late)
    assert late.styleSheet() == seen.styleSheet()
    theme.use(qapp, "light")
