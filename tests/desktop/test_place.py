# SPDX-License-Identifier: GPL-3.0-or-later
"""The Place desk, driven through its widgets."""

from __future__ import annotations

import csv
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox
from pytestqt.qtbot import QtBot

from jagged_lens.compare import Kind
from jagged_lens.demo import demo_recipe
from jagged_lens.desktop.desks.place.desk import PlaceDesk
from jagged_lens.desktop.desks.place.new_documents import NewDocumentsFace
from jagged_lens.desktop.desks.place.suggest import SuggestFace
from jagged_lens.desktop.window import MainWindow
from jagged_lens.gather import Source
from jagged_lens.lens import CORPUS, LAYOUT, LENS_ROWS, PLACED, SPACE, SUGGESTIONS
from jagged_lens.place import Part

Settle = Callable[[MainWindow], None]
LEFT = Qt.MouseButton.LeftButton
LATE = demo_recipe().parent / "late"


@pytest.fixture
def desk(window: MainWindow, settle: Settle) -> PlaceDesk:
    QTest.mouseClick(window.spine.below["place"], LEFT)
    settle(window)
    desk = window.desk
    assert isinstance(desk, PlaceDesk)
    return desk


def activate(box: QComboBox, words: str) -> None:
    at = box.findText(words)
    assert at >= 0
    box.setCurrentIndex(at)
    box.activated.emit(at)


def drop(window: MainWindow, path: Path) -> None:
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    none = Qt.KeyboardModifier.NoModifier
    window.dropEvent(QDropEvent(QPointF(400, 300), Qt.DropAction.CopyAction, data, LEFT, none))


@pytest.fixture
def late(window: MainWindow, desk: PlaceDesk, settle: Settle) -> NewDocumentsFace:
    drop(window, LATE)
    settle(window)
    return desk.face(NewDocumentsFace)


def test_an_empty_desk_says_what_will_be_here(window: MainWindow, desk: PlaceDesk) -> None:
    face = desk.face(NewDocumentsFace)
    assert "View new documents through this lens" in face.figures.text()
    assert face.add.isVisible()
    for widget in (face.take, face.leave, face.down):
        assert not widget.isVisible()
    QTest.mouseClick(face.add, LEFT)
    assert window.sheet.isVisible()
    window.sheet.close()


def test_late_notes_are_seen_and_change_nothing(window: MainWindow, late: NewDocumentsFace, settle: Settle) -> None:
    bench = window.bench
    found = bench.results[PLACED]
    assert len(bench.results[CORPUS]) == 640
    assert len(found) == 50
    assert late.figures.text().startswith("50 new documents: 7 copies of old ones (2 same, 3 edited, 2 contains).")
    assert window.spine.below["place"].words == "50 new documents"
    table = late.table
    with (LATE.parent / "late_planted.csv").open(encoding="utf-8", newline="") as file:
        planted = {row["late"]: row for row in csv.DictReader(file)}
    for at in range(30):
        copy = table.listed.columns[2].text(at)
        kind = planted[found.corpus.keys[at]]["kind"] if found.corpus.keys[at] in planted else ""
        assert copy == {"holds": "contains"}.get(kind, kind)
    # The cursor reads it here, and its nearest in the reader.
    at = next(at for at in range(30) if found.copy_kind[at] == Kind.EDITED and found.copy_of[at] >= 0)
    table.go_to(at)
    settle(window)
    assert late.title.text() == found.corpus.titles[at]
    assert late.text.toPlainText() == found.corpus.texts[at]
    old = int(bench.results[SPACE].terms.rows[found.copy_of[at]])
    assert bench.pick.one == old
    assert "some words changed" in late.under.text()
    # On the map it is a diamond behind the old points, tied to its nearest.
    n = len(bench.results[LAYOUT].positions)
    assert len(late.map.positions) == n + 50
    assert late.map.categories[-1].shape == "diamond"
    assert (late.map.category[n:] == len(late.map.categories) - 1).all()
    assert np.array_equal(late.map.positions[n:], found.positions.astype(float), equal_nan=True)
    # Beside each other in full width.
    QTest.keyClick(table, Qt.Key.Key_Return)
    settle(window)
    desk = window.desk
    assert isinstance(desk, PlaceDesk)
    reading = desk.reading_table
    assert reading.isVisible()
    assert [text.toPlainText() for text in reading.texts] == [found.corpus.texts[at], bench.results[CORPUS].texts[old]]
    assert reading._found is not None
    assert reading._found.parts.similarity == pytest.approx(float(found.nearest.similarity[at, 0]), abs=1e-5)
    assert desk.close_reading()


def test_j_and_k_go_through_them_and_a_word_filters(window: MainWindow, late: NewDocumentsFace, settle: Settle) -> None:
    late.table.setFocus()
    QTest.keyClick(late.table, Qt.Key.Key_J)
    first = late.table.current_row()
    QTest.keyClick(late.table, Qt.Key.Key_J)
    assert late.table.current_row() == first + 1
    QTest.keyClick(late.table, Qt.Key.Key_K)
    assert late.table.current_row() == first
    QTest.keyClicks(window.desk.field, "garlic")  # type: ignore[attr-defined]
    settle(window)
    assert 0 < late.table.listed.rowCount() < 30


def test_taken_in_they_are_documents_and_undo_brings_them_back(
    window: MainWindow, late: NewDocumentsFace, settle: Settle
) -> None:
    bench = window.bench
    QTest.mouseClick(late.take, LEFT)
    settle(window)
    assert len(bench.results[CORPUS]) == 690
    assert all(len(lens.recipe.gather.sources) == 2 for lens in bench.state.lenses)
    assert not bench.state.placing
    assert not late.take.isVisible()
    window.undo.trigger()
    settle(window)
    assert len(bench.results[CORPUS]) == 640
    assert late.table.listed.rowCount() == 50
    QTest.mouseClick(late.leave, LEFT)
    settle(window)
    assert not bench.state.placing
    assert not late.down.isVisible()


def test_another_lens_places_them_anew(window: MainWindow, late: NewDocumentsFace, settle: Settle) -> None:
    before = window.bench.results[PLACED].nearest.similarity.copy()
    window.bench.choose_lens(1)
    settle(window)
    assert not np.array_equal(window.bench.results[PLACED].nearest.similarity, before)
    assert "7 copies" in late.figures.text()  # runs of words are the same in every lens


def test_what_is_seen_goes_out_as_from_the_command_line(
    window: MainWindow, late: NewDocumentsFace, tmp_path: Path
) -> None:
    from click.testing import CliRunner

    from jagged_lens.cli import main

    late.save_table(tmp_path / "window.csv")
    recipe = tmp_path / "demo.toml"
    text = demo_recipe().read_text("utf-8").replace('"notes.csv"', f'"{demo_recipe().parent / "notes.csv"}"')
    recipe.write_text(text + '\n[map]\nby = "pca"\n', "utf-8")
    done = CliRunner().invoke(main, ["place", str(recipe), str(LATE), "--out", str(tmp_path / "out")])
    assert done.exit_code == 0, done.output
    assert (tmp_path / "window.csv").read_bytes() == (tmp_path / "out" / "placed.csv").read_bytes()


def test_a_label_is_suggested_for_new_documents_before_they_are_taken_in(
    window: MainWindow, late: NewDocumentsFace, settle: Settle
) -> None:
    window.bench.set("suggest", "label", "crop")
    settle(window)
    column = next(one for one in late.table.listed.columns if one.title == "crop?")
    found, corpus = window.bench.results[PLACED], window.bench.results[CORPUS]
    crop = next(label for label in corpus.labels if label.name == "crop")
    copies = [at for at in range(len(found)) if found.copy_kind[at] == Kind.SAME and found.copy_of[at] >= 0]
    rows = window.bench.results[LENS_ROWS]
    assert copies
    for at in copies:
        assert column.text(at).split()[0] == crop.value(int(rows[found.copy_of[at]]))
    assert len(corpus) == 640  # nothing was taken in


def test_a_source_that_cannot_be_read_is_named(window: MainWindow, desk: PlaceDesk, settle: Settle) -> None:
    window.bench.place_source(Source(file="nowhere.csv"))
    settle(window)
    face = desk.face(NewDocumentsFace)
    assert "nowhere.csv" in face.figures.text()
    assert face.leave.isVisible()
    for widget in (face.take, face.down):
        assert not widget.isVisible()
    QTest.mouseClick(face.leave, LEFT)
    settle(window)
    assert "nowhere" not in face.figures.text()
    assert len(window.bench.results[CORPUS]) == 640


def test_what_was_placed_before_is_not_shown_for_what_cannot_be_read(
    window: MainWindow, late: NewDocumentsFace, settle: Settle
) -> None:
    assert late.down.isVisible()
    window.bench.place_source(Source(file="nowhere.csv"))
    settle(window)
    assert "nowhere.csv" in late.figures.text()
    for widget in (late.take, late.down):
        assert not widget.isVisible()
    window.undo.trigger()
    settle(window)
    assert late.down.isVisible()
    assert late.table.listed.rowCount() == 50
    assert late.figures.text().startswith("50 new documents")


def test_new_documents_come_back_with_the_project(window: MainWindow, late: NewDocumentsFace, tmp_path: Path) -> None:
    from jagged_lens.project.plain_state import plain, state_from

    state = state_from(plain(window.bench.state), tmp_path / "p.jagged")
    assert state.placing == window.bench.state.placing


# Labels that are suggested.


@pytest.fixture
def suggest(window: MainWindow, desk: PlaceDesk, settle: Settle) -> SuggestFace:
    QTest.mouseClick(desk.leaf_row.buttons["Suggest a label"], LEFT)
    settle(window)
    return desk.face(SuggestFace)


def leaf(face: SuggestFace, name: str) -> None:
    QTest.mouseClick(face.leaf_row.buttons[name], LEFT)


def test_a_label_is_learned_and_its_figures_are_shown(window: MainWindow, suggest: SuggestFace, settle: Settle) -> None:
    bench = window.bench
    assert suggest.label.currentText() == "crop"
    found = bench.results[SUGGESTIONS]
    held = found.figures(Part.HELD_OUT)
    assert f"Of {held.counts.sum()} held-out documents, {held.accuracy:.1%} are right" in suggest.told.text()
    table = suggest.figures.tables[Part.HELD_OUT]
    for at in range(10):
        assert table.listed.columns[1 + at].text(at) == str(held.counts[at, at])
        assert suggest.figures.scores.listed.columns[4].text(at) == f"{held.f1[at]:.3f}"
    assert suggest.figures.held.accessibleDescription().endswith("right")
    # A cell is a pick.
    index = table.listed.index(2, 3)
    viewport = table.viewport()
    assert viewport is not None
    QTest.mouseClick(viewport, LEFT, pos=table.visualRect(index).center())
    assert len(bench.pick) == held.counts[2, 2]
    # Another label, from the settings of the recipe; undo brings the first back.
    activate(suggest.label, "season")
    settle(window)
    assert bench.recipe.suggest.label == "season"
    assert bench.results[SUGGESTIONS].label == "season"
    assert window.spine.below["place"].words.startswith("suggests season")
    window.undo.trigger()
    settle(window)
    assert suggest.label.currentText() == "crop"
    activate(suggest.label, "choose a label")
    settle(window)
    assert suggest.told.text().startswith("Choose a label.")
    assert not suggest.leaf_row.isVisible()


def test_mistakes_are_read_with_what_spoke_for_either_value(
    window: MainWindow, suggest: SuggestFace, settle: Settle
) -> None:
    activate(suggest.label, "season")
    settle(window)
    leaf(suggest, "Mistakes")
    settle(window)
    found = window.bench.results[SUGGESTIONS]
    wrong = (found.given >= 0) & (found.given != found.suggested)
    assert suggest.wrong.listed.rowCount() == wrong.sum() > 0
    assert "held out" in {suggest.wrong.listed.columns[4].text(at) for at in range(int(wrong.sum()))}
    suggest.wrong.setFocus()
    QTest.keyClick(suggest.wrong, Qt.Key.Key_J)
    settle(window)
    place = window.bench.documents.place_of(window.bench.pick.one)
    assert wrong[place]
    one, other = found.values[found.suggested[place]], found.values[found.given[place]]
    assert f"{one} is " in suggest.evidence.words.text()
    assert f"for {other}" in suggest.evidence.words.text()
    assert suggest.evidence.bars.texts


def test_terms_that_speak_for_a_value(window: MainWindow, suggest: SuggestFace, settle: Settle) -> None:
    leaf(suggest, "Terms")
    activate(suggest.value, "garlic")
    settle(window)
    assert suggest.terms.listed.columns[0].text(0) == "garlic"
    speaks = [float(suggest.terms.listed.columns[1].text(at)) for at in range(20)]
    assert speaks == sorted(speaks, reverse=True)


def test_suggestions_are_taken_and_refused(window: MainWindow, suggest: SuggestFace, settle: Settle) -> None:
    bench = window.bench
    leaf(suggest, "Suggestions")
    assert "Every document has a value of crop" in suggest.taking.said.text()
    bench.place_source(Source(file="late"))
    bench.take_placed_in()
    settle(window)
    taking = suggest.taking
    assert taking.table.listed.rowCount() == 50
    # One is taken, one refused, then all others that are sure.
    taking.table.selectRow(0)
    QTest.mouseClick(taking.take, LEFT)
    label = next(one for one in bench.state.labels if one.name == "crop (suggested)")
    assert label.suggested_from == "crop"
    assert len(label.values) == 1
    assert taking.table.listed.columns[3].text(0) == "taken"
    taking.table.selectRow(1)
    QTest.mouseClick(taking.refuse, LEFT)
    assert taking.table.listed.columns[3].text(1) == "refused"
    taking.limit.setValue(0.6)
    found = bench.results[SUGGESTIONS]
    new = found.part == Part.NEW
    sure = int((new & (found.probability >= np.float32(0.6))).sum())
    assert taking.count.text() == str(sure - 2)
    QTest.mouseClick(taking.all, LEFT)
    settle(window)
    values = dict(next(one for one in bench.state.labels if one.name == "crop (suggested)").values)
    assert len(values) == sure - 1
    own = {bench.results[CORPUS].keys[row]: row for row in range(640, 690)}
    right = [key.split("/")[1].startswith(value) for key, value in values.items() if key in own]
    assert sum(right) / len(right) > 0.9
    # It behaves like any label, and comes back out of a project.
    from jagged_lens.project.plain_state import plain, state_from

    assert "crop (suggested)" in [one.name for one in bench.documents.labels()]
    assert state_from(plain(bench.state), Path("/tmp/p.jagged")).labels == bench.state.labels
    taking.table.selectRow(0)
    QTest.mouseClick(taking.back, LEFT)
    assert taking.table.listed.columns[3].text(0) == ""
    window.undo.trigger()
    settle(window)
    assert taking.table.listed.columns[3].text(0) == "taken"


def test_a_label_that_cannot_be_learned_says_why(
    window: MainWindow, suggest: SuggestFace, settle: Settle, qtbot: QtBot
) -> None:
    bench = window.bench
    bench.pick.set(range(10))
    bench.label_pick("mine", "good")
    settle(window)
    activate(suggest.label, "mine")
    settle(window)
    assert "one value" in suggest.told.text()
    assert "2 to 200 values" in suggest.told.text()
    assert not suggest.leaf_row.isVisible()


def test_tables_go_out(window: MainWindow, suggest: SuggestFace, tmp_path: Path) -> None:
    suggest.save_tables(tmp_path)
    assert sorted(one.name for one in tmp_path.iterdir()) == ["confusion.csv", "scores.csv", "suggestions.csv"]
