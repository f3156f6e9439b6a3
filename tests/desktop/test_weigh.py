# SPDX-License-Identifier: GPL-3.0-or-later
"""The Weigh desk: the worked card, two weightings, the matrix, themes."""

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.desks.weigh.desk import WeighDesk
from jagged_lens.desktop.desks.weigh.formula import FormulaFace
from jagged_lens.desktop.desks.weigh.matrix import MatrixFace
from jagged_lens.desktop.desks.weigh.themes import ThemesFace
from jagged_lens.desktop.desks.weigh.two import TwoFace
from jagged_lens.desktop.window import MainWindow
from jagged_lens.explain import ranked_terms
from jagged_lens.lens import SPACE, THEMES, THEMES_AHEAD
from jagged_lens.project import theme_names
from jagged_lens.weigh import WeighSettings, weigh

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
Settle = Callable[[MainWindow], None]


@pytest.fixture
def desk(window: MainWindow, settle: Settle) -> WeighDesk:
    window.show_step("weigh")
    settle(window)
    found = window.desk
    assert isinstance(found, WeighDesk)
    return found


def test_the_card_works_the_read_document_through(desk: WeighDesk, window: MainWindow, settle: Settle) -> None:
    space = window.bench.results[SPACE]
    face = desk.face(FormulaFace)
    row = next(row for row in range(9, 640) if not space.weights[row, face._column] and space.weights[[row]].nnz > 5)
    window.bench.pick.set([int(space.terms.rows[row])])
    settle(window)
    weights = space.weights[[row]]
    assert face.weight == str(weights.data.max())
    assert face.lines[-1][1].text() == face.weight
    face.term.setCurrentIndex(4)
    face.term.activated.emit(4)
    settle(window)
    column = face._columns[4]
    assert face.lines[-1][1].text() == str(space.weights[row, column])
    assert f"df = {int((space.terms.counts[:, [column]].toarray() > 0).sum()):,}" in face.figures.text()
    QTest.mouseClick(face.copy_button, LEFT)
    sheet = QApplication.clipboard().text().splitlines()  # type: ignore[union-attr]
    assert sheet[-1] == "weight\t=B10/B7"
    assert sheet[7] == "within the document: log\t=1+LN(B2)"


def test_a_part_of_the_formula_is_chosen_on_the_desk(desk: WeighDesk, window: MainWindow, settle: Settle) -> None:
    face = desk.face(FormulaFace)
    choice = face.choices["global"]
    choice.setCurrentIndex(choice.findData("entropy"))
    choice.activated.emit(choice.currentIndex())
    settle(window)
    assert window.bench.recipe.weigh.global_ == "entropy"
    assert "Σ p ln p" in face.signs.text()
    assert "Σ p ln p" in face.lines[1][0].text()
    space = window.bench.results[SPACE]
    assert face.weight == str(space.weights[face._row, face._column])
    face.base.setCurrentText("2")
    face.base.activated.emit(1)
    settle(window)
    assert window.bench.recipe.weigh.log_base == "2"


def test_a_term_of_the_reader_and_of_a_pair_is_worked_through(window: MainWindow, settle: Settle, qtbot: QtBot) -> None:
    space = window.bench.results[SPACE]
    window.bench.pick.set([int(space.terms.rows[20])])
    window.side.show_reader()
    window.side.reader.terms_button.setChecked(True)
    settle(window)
    sheet = window.side.reader.term_sheet
    sheet.table.go_to(2)
    qtbot.mouseClick(sheet.work, LEFT)
    settle(window)
    assert window.step == "weigh"
    weigh_desk = window.desk
    assert isinstance(weigh_desk, WeighDesk)
    assert weigh_desk.face(FormulaFace).weight == str(space.weights[20, int(sheet._terms.columns[2])])  # type: ignore[union-attr]
    window.show_step("compare")
    settle(window)
    compare = window.desk
    assert isinstance(compare, CompareDesk)
    pairs = compare.face(PairsFace)
    pairs.table.go_to(67)
    settle(window)
    first, column = pairs._shown[0], pairs.why._columns[0]
    pairs.why.bar.setFocus()
    QTest.keyClick(pairs.why.bar, Qt.Key.Key_Space)
    settle(window)
    assert window.step == "weigh"
    assert weigh_desk.face(FormulaFace).weight == str(space.weights[first, column])


def test_two_weightings_side_by_side_and_the_other_is_taken(
    desk: WeighDesk, window: MainWindow, settle: Settle, qtbot: QtBot
) -> None:
    space = window.bench.results[SPACE]
    window.bench.pick.set([int(space.terms.rows[9])])
    desk.bring_up(TwoFace)
    settle(window)
    face = desk.face(TwoFace)
    left, right = face.picture._sides
    expected = ranked_terms(space, 9)
    assert [of for of, _, _ in left] == expected.of[:30].tolist()
    other = weigh(space.terms, WeighSettings(local="count", global_="none"))
    assert [of for of, _, _ in right] == ranked_terms(other, 9).of[:30].tolist()
    for a, b in face.picture.joined():
        assert left[a][0] == right[b][0]
    QTest.mouseClick(face.picture, LEFT, NONE, QPoint(20, 8))  # a term: on to its documents
    settle(window)
    assert face.of.currentIndex() == 1
    assert left[0][1] in face.which.text()
    column = left[0][0]
    assert {of for of, _, _ in face.picture._sides[0]} <= set(np.flatnonzero(space.terms.counts[:, [column]].toarray()))
    qtbot.mouseClick(face.take, LEFT)
    settle(window)
    assert (window.bench.recipe.weigh.local, window.bench.recipe.weigh.global_) == ("count", "none")
    assert not face.take.isEnabled()
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    settle(window)
    assert window.bench.recipe.weigh.local == "log"


def test_the_matrix_shows_cells_picks_and_turns(
    desk: WeighDesk, window: MainWindow, settle: Settle, qtbot: QtBot
) -> None:
    desk.bring_up(MatrixFace)
    settle(window)
    face, space = desk.face(MatrixFace), window.bench.results[SPACE]
    picture = face.picture
    assert "38,651 of 1,682,560 cells" in desk.leaf_row.words.text()
    picture.zoom(60, picture._area().topLeft() + QPoint(4, 4).toPointF())
    qtbot.wait(120)
    settle(window)
    seen = picture._of
    assert seen is not None
    assert seen.near
    dense = space.weights[face._order.rows[seen.top : seen.bottom]].toarray()
    expected = dense[:, face._columns.rows[seen.left : seen.right]]
    assert np.array_equal(picture._values, expected)
    row, column = np.argwhere(expected > 0)[0]
    place = picture.place_of(seen.top + int(row), seen.left + int(column))
    QTest.mouseDClick(picture, LEFT, NONE, place.toPoint())
    settle(window)
    assert desk.face(FormulaFace).isVisible()
    assert desk.face(FormulaFace).weight == str(expected[row, column])
    desk.bring_up(MatrixFace)
    settle(window)
    a, b = (picture.place_of(seen.top + at, seen.left + at).toPoint() for at in (0, 1))
    QTest.mousePress(picture, LEFT, NONE, a)
    QTest.mouseMove(picture, b)
    QTest.mouseRelease(picture, LEFT, NONE, b)
    assert len(window.bench.pick.rows) == 2
    assert window.bench.pick.terms == tuple(
        space.terms.terms[int(at)] for at in face._columns.rows[seen.left : seen.left + 2]
    )
    face.turn.click()
    qtbot.wait(120)
    settle(window)
    assert picture._shape == (len(face._columns.rows), len(face._order.rows))
    face.value.setCurrentIndex(1)
    face.value.activated.emit(1)
    qtbot.wait(120)
    settle(window)
    assert picture._of is not None


def test_the_line_on_the_scree_plot_sets_how_many_themes(desk: WeighDesk, window: MainWindow, settle: Settle) -> None:
    desk.bring_up(ThemesFace)
    settle(window)
    face = desk.face(ThemesFace)
    found = window.bench.results[THEMES_AHEAD]
    assert len(found) == 50
    assert face.table.listed.rowCount() == 50
    assert face.table.listed.index(1, 2).data() == f"{found.shares[1]:.2%}"
    assert face.first.isVisible()
    start, end = (QPoint(round(face.scree.place_of(number + 0.5)), 30) for number in (0, 12))
    QTest.mousePress(face.scree, LEFT, NONE, start)
    QTest.mouseMove(face.scree, end)
    QTest.mouseRelease(face.scree, LEFT, NONE, end)
    settle(window)
    assert window.bench.recipe.weigh.themes == 12
    assert len(window.bench.results[THEMES]) == 12
    assert "12 themes" in desk.leaf_row.words.text()
    face.scree.setFocus()
    QTest.keyClick(face.scree, Qt.Key.Key_Left)
    settle(window)
    assert window.bench.recipe.weigh.themes == 11


def test_themes_are_named_and_the_name_stays_when_the_lens_changes(
    desk: WeighDesk, window: MainWindow, settle: Settle, qtbot: QtBot
) -> None:
    desk.bring_up(ThemesFace)
    settle(window)
    face = desk.face(ThemesFace)
    face.table.go_to(3)
    settle(window)
    high = [name for _, name, amount in face.terms._things if amount > 0]
    face.called.setFocus()
    qtbot.keyClicks(face.called, "Beets")
    QTest.keyClick(face.called, Qt.Key.Key_Return)
    settle(window)
    assert face.table.listed.index(3, 1).data() == "Beets"
    window.bench.set("terms", "least-documents", 4)
    settle(window)
    named = theme_names(
        window.bench.results[THEMES_AHEAD], window.bench.results[SPACE].terms.terms, window.bench.state.themes
    )
    assert list(named.values()) == ["Beets"]
    theme = next(iter(named))
    face.table.go_to(theme)
    settle(window)
    assert len({name for _, name, amount in face.terms._things if amount > 0} & set(high)) >= 3
    face.called.clear()
    face.called.setFocus()
    QTest.keyClick(face.called, Qt.Key.Key_Return)
    assert not window.bench.state.themes


def test_two_themes_and_loadings_follow_the_pick(desk: WeighDesk, window: MainWindow, settle: Settle) -> None:
    desk.bring_up(ThemesFace)
    settle(window)
    face, bench = desk.face(ThemesFace), window.bench
    found, rows = bench.results[THEMES_AHEAD], bench.results[SPACE].terms.rows
    face.leaves.show_leaf(1)
    settle(window)
    placed = ~bench.results[SPACE].empty
    assert np.allclose(face.canvas.positions[placed], found.documents[placed][:, [1, 2]], atol=1e-6)
    bench.pick.set([int(rows[7])])
    assert face.canvas._pick.tolist() == [7]
    face.leaves.show_leaf(2)
    best = int(np.abs(found.documents[7]).argmax())
    assert face.loadings._things[0][0] == best
    bench.pick.set_terms([bench.results[SPACE].terms.terms[30]])
    assert face.loadings._things[0][2] == pytest.approx(float(found.terms[30][np.abs(found.terms[30]).argmax()]))


def test_matrices_and_themes_go_out_as_a_run_writes_them(
    desk: WeighDesk, window: MainWindow, settle: Settle, tmp_path: Path
) -> None:
    desk.bring_up(ThemesFace)
    settle(window)
    desk.out.save_weights(tmp_path / "weights.mtx")
    desk.out.save_counts(tmp_path / "counts.mtx")
    desk.out.save_terms(tmp_path / "terms.csv")
    desk.out.save_themes(tmp_path)
    head = (tmp_path / "weights.mtx").read_text().splitlines()[:2]
    assert head == ["%%MatrixMarket matrix coordinate real general", "640 2629 38651"]
    assert len((tmp_path / "themes.csv").read_text("utf-8").splitlines()) == 51
    assert len((tmp_path / "document_themes.csv").read_text("utf-8").splitlines()) == 641


def test_a_weight_that_is_not_nothing_is_worked_through_at_first(window: MainWindow, settle: Settle) -> None:
    window.show_step("weigh")
    settle(window)
    face = window.desks["weigh"].face(FormulaFace)
    assert not face.table.currentIndex().isValid()  # the keyboard goes to the table, and takes no term by that
    assert float(face.weight) > 0
