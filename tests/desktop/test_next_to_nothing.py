# SPDX-License-Identifier: GPL-3.0-or-later
"""Contrast and Place on collections that are hardly any: each face says something, and nothing is a number that is none."""

from __future__ import annotations

import csv
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel, QWidget
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.desks.contrast.along import AlongFace
from jagged_lens.desktop.desks.contrast.lenses import LensesFace
from jagged_lens.desktop.desks.contrast.sides import SidesFace
from jagged_lens.desktop.desks.place.new_documents import NewDocumentsFace
from jagged_lens.desktop.desks.place.suggest import SuggestFace
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.desktop.window import MainWindow
from jagged_lens.gather import Source
from jagged_lens.lens import PLACED

Settle = Callable[[MainWindow], None]
LEFT = Qt.MouseButton.LeftButton


def said(face: QWidget) -> str:
    """All labels and cells of a face."""
    words = [label.text() for label in face.findChildren(QLabel)]
    for table in face.findChildren(TableView):
        model = table.listed
        words += [column.text(int(row)) for row in model.order for column in model.columns]
    return " ".join(words)


@pytest.mark.parametrize(
    "texts",
    [
        [],
        ["slugs ate the lettuce"],
        ["slugs", "slugs"],
        ["", ""],
        ["frost", "hail", "rust"],
    ],
)
def test_every_face_has_something_to_say(
    window: MainWindow, settle: Settle, qtbot: QtBot, tmp_path: Path, texts: list[str]
) -> None:
    with (tmp_path / "some.csv").open("w", newline="") as out:
        csv.writer(out).writerows(
            [
                ["id", "text", "kind", "year"],
                *([str(at), text, "ab"[at % 2], f"year {at}"] for at, text in enumerate(texts)),
            ]
        )
    content = (
        '[gather]\nfrom = "some.csv"\ntext = ["text"]\nkey = "id"\nlabels = ["kind", "year"]\n'
        '[terms]\nleast-documents = 1\nmost-share = 1.0\n[map]\nby = "pca"\n'
    )
    (tmp_path / "some.toml").write_text(content + '[suggest]\nlabel = "kind"\n')
    (tmp_path / "some.2.toml").write_text(f"# Other\n{content}[group]\ngroups = 2\n")
    (tmp_path / "new.txt").write_text("slugs and hail")
    bench = window.bench
    bench.open(tmp_path / "some.toml")
    settle(window)
    window.show_step("contrast")
    settle(window)
    desk = window.desk
    for kind in (LensesFace, SidesFace, AlongFace):
        QTest.mouseClick(desk.leaf_row.buttons[kind.name], LEFT)
        if kind is LensesFace and texts:
            second = bench.second
            qtbot.waitUntil(lambda: not second.name or second.ready or second.error is not None, timeout=120_000)  # noqa: B023
        settle(window)
        if not bench.ready(*desk.needs):  # there is no document: the desk says so
            continue
        face = desk.face(kind)
        for place in range(face.leaf_row.leaves.count()):
            face.leaf_row.show_leaf(place)
            settle(window)
            face.grab()
            assert "nan" not in said(face).lower().split()
    window.show_step("place")
    bench.place_source(Source(file="new.txt"))
    settle(window)
    desk = window.desk
    for kind in (NewDocumentsFace, SuggestFace):
        QTest.mouseClick(desk.leaf_row.buttons[kind.name], LEFT)
        settle(window)
        desk.face(kind).grab()
        assert "nan" not in said(desk.face(kind)).lower().split()
    if texts:
        assert len(bench.results[PLACED]) == 1
        known = "hail" in texts  # what all documents hold weighs nothing
        face = desk.face(NewDocumentsFace)
        assert face.table.listed.rowCount() == 1
        assert (face.table.listed.columns[3].text(0) != "none") == known


def test_without_a_label_there_is_nothing_to_tell_sides_by_but_picks(
    window: MainWindow, settle: Settle, tmp_path: Path
) -> None:
    (tmp_path / "plain.csv").write_text("text\nlate frost took the peas\nslugs took the beans\nlate slugs\nfrost\n")
    (tmp_path / "plain.toml").write_text(
        '[gather]\nfrom = "plain.csv"\ntext = ["text"]\n[terms]\nleast-documents = 1\n[map]\nby = "pca"\n'
    )
    window.bench.open(tmp_path / "plain.toml")
    settle(window)
    window.show_step("contrast")
    settle(window)
    QTest.mouseClick(window.desk.leaf_row.buttons["Two sides"], LEFT)
    settle(window)
    face = window.desk.face(SidesFace)
    assert face.sides.by.currentText() == "picks"
    assert "Pick documents on any desk, then choose it again." in face.figures.text()
    QTest.mouseClick(window.desk.leaf_row.buttons["Along a number or date"], LEFT)
    settle(window)
    assert "no date and no number" in window.desk.face(AlongFace).figures.text()
    QTest.mouseClick(window.desk.leaf_row.buttons["Two lenses"], LEFT)
    settle(window)
    lenses = window.desk.face(LensesFace)
    assert lenses.other.currentText() == "there is no other lens"
    assert not lenses.other.isEnabled()
    assert "There is only one lens" in lenses.figures.text()
