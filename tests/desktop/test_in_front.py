# SPDX-License-Identifier: GPL-3.0-or-later
"""What is in front is known by its key: pairs, families, misfits, groups and new documents, whatever is computed anew."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QLocale, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractSpinBox, QApplication
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.desks.compare.families import FamiliesFace
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.desks.desk import AnyFace, Desk
from jagged_lens.desktop.desks.group.cross import AgainstLabelFace
from jagged_lens.desktop.desks.group.groups import GroupsFace
from jagged_lens.desktop.desks.place.new_documents import NewDocumentsFace
from jagged_lens.desktop.look.number_boxes import DecimalBox, WholeBox
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.row_names import RowNames
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.desktop.window import MainWindow
from jagged_lens.gather import Source
from jagged_lens.lens import CORPUS, CROSS, FAMILIES, GROUPING, LENS_ROWS, PAIRS, PLACED, SPACE, Part
from jagged_lens.project import Bench

Settle = Callable[[MainWindow], None]


def key(bench: Bench, place: int) -> str:
    return bench.results[CORPUS].keys[int(bench.results[SPACE].terms.rows[place])]


def pair_at(bench: Bench, row: int) -> tuple[str, str]:
    pairs = bench.results[PAIRS]
    return key(bench, int(pairs.first[row])), key(bench, int(pairs.second[row]))


def brought_up(window: MainWindow, settle: Settle, step: str, face: type[AnyFace]) -> AnyFace:
    """A face of a desk, in front and drawn."""
    window.show_step(step)
    desk = window.desk
    assert isinstance(desk, Desk)
    desk.bring_up(face)
    settle(window)
    return desk.face(face)


def shown(names: list[str], table: TableView) -> None:
    table.show_rows([Column("Name", lambda row: names[row])], len(names), names=RowNames(names.__getitem__, len(names)))


def test_a_row_stays_chosen_by_its_name_or_not_at_all(qtbot: QtBot) -> None:
    table = TableView("names")
    qtbot.addWidget(table)
    shown(list("abcdef"), table)
    table.go_to(3)
    assert table.current_row() == 3
    shown(list("fedcba"), table)
    assert (table.current_row(), table.chosen_rows()) == (2, [2])
    shown(list("abcef"), table)
    assert (table.current_row(), table.chosen_rows()) == (-1, [])


def test_after_apply_the_pair_in_front_is_the_one_that_was_and_keys_decide_on_it(
    window: MainWindow, settle: Settle
) -> None:
    bench = window.bench
    window.show_step("compare")
    settle(window)
    face = window.desk.face(PairsFace)  # type: ignore[attr-defined]
    pairs = bench.results[PAIRS]
    for row, choice in ((1, 1), (2, 2)):
        face.decided.choose(int(pairs.first[row]), int(pairs.second[row]), choice)
    face.table.go_to(8)
    settle(window)
    wanted = pair_at(bench, 8)
    face.decided.apply()
    settle(window)
    row = face.table.current_row()
    assert row != 8
    assert pair_at(bench, row) == wanted
    assert tuple(key(bench, place) for place in face._shown) == wanted
    assert [bench.results[CORPUS].keys[one] for one in bench.pick.rows] == list(wanted)
    QTest.keyClick(face.table, Qt.Key.Key_1)
    settle(window)
    last = bench.state.decisions[-1]
    assert (last.first, last.second, last.choice) == (*wanted, "first")
    # A pair that is gone makes way for the one that takes its rank.
    face.table.go_to(row)
    face.decided.apply()
    settle(window)
    assert face.table.current_row() == row
    assert tuple(key(bench, place) for place in face._shown) == pair_at(bench, row)


def test_neither_of_a_pair_is_lost_where_the_one_that_was_to_stay_is_set_aside(
    window: MainWindow, settle: Settle
) -> None:
    bench = window.bench
    window.show_step("compare")
    settle(window)
    face = window.desk.face(PairsFace)  # type: ignore[attr-defined]
    first, second = pair_at(bench, 0)
    face.decided.choose(int(bench.results[PAIRS].first[0]), int(bench.results[PAIRS].second[0]), 1)
    assert face.decided.goes() == {second: first}
    bench.change(bench.state.set_aside([first], "off topic"), "set aside")
    settle(window)
    assert face.decided.goes() == {}
    assert face.decided.waiting == 0
    assert not face.apply.isVisible()


def test_family_misfit_and_group_in_front_stay_when_other_documents_go(window: MainWindow, settle: Settle) -> None:
    bench = window.bench
    families = brought_up(window, settle, "compare", FamiliesFace)
    families.table.go_to(5)
    settle(window)
    standard = key(bench, int(bench.results[FAMILIES].standard[5]))
    against = brought_up(window, settle, "group", AgainstLabelFace)
    against.misfits.go_to(2)
    settle(window)
    misfit = key(bench, int(against._rows[2]))
    groups = brought_up(window, settle, "group", GroupsFace)
    groups.cards.go_to(4)
    settle(window)
    rows = bench.results[SPACE].terms.rows
    before = {bench.results[CORPUS].keys[int(row)] for row in rows[bench.results[GROUPING].group == 4]}
    gone = [key(bench, place) for place in bench.results[FAMILIES].of(0).tolist()]
    assert standard not in gone
    assert misfit not in gone
    bench.change(bench.state.set_aside(gone, "seen"), "set aside")
    settle(window)
    now = groups.one.group
    own = {key(bench, int(place)) for place in np.flatnonzero(bench.results[GROUPING].group == now)}
    assert len(own & before) / len(own | before) > 0.8
    assert groups.cards.current_row() == now
    brought_up(window, settle, "group", AgainstLabelFace)
    at = against.misfits.current_row()
    assert key(bench, int(against._rows[at])) == misfit or misfit not in [
        key(bench, int(place)) for place in bench.results[CROSS].misfits
    ]
    window.show_step("compare")
    settle(window)
    row = families.table.current_row()
    assert row != 5
    assert key(bench, int(bench.results[FAMILIES].standard[row])) == standard


def test_new_documents_stay_with_the_lens_they_were_placed_in(
    window: MainWindow, settle: Settle, qtbot: QtBot, tmp_path: Path
) -> None:
    bench = window.bench
    corpus = bench.results[CORPUS]
    (tmp_path / "late.csv").write_text(
        "id,text\n" + "".join(f'new{at},"{corpus.texts[at * 7].replace(chr(34), "")}"\n' for at in range(12))
    )
    window.show_step("place")
    bench.place_source(Source(file=str(tmp_path / "late.csv"), key="id", text=("text",)))
    settle(window)
    face = window.desk.face(NewDocumentsFace)  # type: ignore[attr-defined]

    def nearest() -> list[str]:
        below = face.table.listed.columns[0].below
        assert below is not None
        return [below(at) for at in range(12)]

    before, between = nearest(), []

    def look(part: Part[Any]) -> None:
        if part is SPACE and not bench.ready(PLACED):
            between.append(nearest())
            for at in range(12):
                face._show(at)  # it raised, or named other documents

    bench.part_changed.subscribe(look)
    bench.set("gather", "only", ["crop = bean"])
    settle(window)
    assert len(bench.results[LENS_ROWS]) < 200
    assert between
    assert all(one == before for one in between)
    assert bench.ready(PLACED)
    assert nearest() != before


@pytest.mark.parametrize("locale", ["de_DE", "C", "ar_EG", "tr_TR"])
def test_numbers_are_typed_with_point_or_comma_whatever_the_locale(
    qtbot: QtBot, qapp: QApplication, locale: str
) -> None:
    usual = QLocale()
    QLocale.setDefault(QLocale(locale))
    try:
        box, whole = DecimalBox(), WholeBox()
        for one in (box, whole):
            qtbot.addWidget(one)
            one.show()
        box.setDecimals(2)
        box.setRange(0, 2_000)
        box.setPrefix("below ")
        whole.setRange(0, 5_000)
        whole.setSuffix(" words")

        def typed(one: QAbstractSpinBox, text: str) -> float:
            edit = one.lineEdit()
            assert edit is not None
            one.setFocus()
            edit.selectAll()
            QTest.keyClicks(edit, text)
            one.interpretText()
            return float(one.value())  # type: ignore[attr-defined]

        assert [typed(box, text) for text in ("0.95", "0,5", ".25", "7")] == [0.95, 0.5, 0.25, 7]
        assert box.text() == "below 7.00"
        assert [typed(whole, text) for text in ("1200", "1,300", "1.400")] == [1200, 1300, 1400]
        assert whole.text() == "1400 words"
        assert typed(box, "x") == 7
    finally:
        QLocale.setDefault(usual)
