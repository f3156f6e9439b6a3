# SPDX-License-Identifier: GPL-3.0-or-later
"""The later steps on learned vectors, through the window: chosen on Weigh, said, explained, and words used alike on Terms."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.desks.group.groups import GroupsFace
from jagged_lens.desktop.desks.group.terms import TermGroups
from jagged_lens.desktop.desks.map.terms import TermPoints
from jagged_lens.desktop.desks.terms.desk import TermsDesk
from jagged_lens.desktop.desks.weigh.desk import WeighDesk
from jagged_lens.desktop.desks.weigh.themes import ThemesFace
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import GROUPING, NEIGHBOURS, TERM_POINTS, TERMS, THEME_NUMBERS, THEMES, THEMES_AHEAD, WORDS

Settle = Callable[[MainWindow], None]


@pytest.fixture
def learned(window: MainWindow, settle: Settle) -> MainWindow:
    window.bench.set("weigh", "vectors", "learned")
    settle(window)
    return window


def test_the_space_is_said_and_undo_brings_the_terms_back(learned: MainWindow, settle: Settle) -> None:
    bench = learned.bench
    assert bench.results[THEMES].learned
    step = learned.spine.steps["weigh"]
    assert step.settings.startswith("learned vectors")
    assert step.result == f"vectors of {len(bench.results[WORDS].number):,} words"
    nearest = bench.results[NEIGHBOURS].row.copy()
    learned.undo.trigger()
    settle(learned)
    assert not len(bench.results[THEMES])
    assert (nearest != bench.results[NEIGHBOURS].row).any()


def test_a_pair_is_told_in_terms_that_add_up(learned: MainWindow, settle: Settle) -> None:
    learned.show_step("compare")
    settle(learned)
    face = learned.desk.face(PairsFace)  # type: ignore[attr-defined]
    face.table.go_to(30)
    settle(learned)
    assert "what the learned vectors assign to the term in the second" in face.why.sum.text()


def test_words_used_alike_are_shown_and_counted_as_one(learned: MainWindow, settle: Settle) -> None:
    learned.show_step("terms")
    settle(learned)
    desk = learned.desk
    assert isinstance(desk, TermsDesk)
    terms = learned.bench.results[TERMS]
    row = int(terms.kept[list(terms.terms).index("slug")])
    desk.table_to(row)
    settle(learned)
    assert "Used alike: " in desk.card.collocates.text()
    assert desk.card.same.isVisible()
    words = [action.text().rsplit(" ", 1)[0] for action in desk.card.same_menu.actions()]
    assert len(words) == len(set(words)) == 8
    desk.card.same_menu.actions()[0].trigger()
    settle(learned)
    assert learned.bench.recipe.clean.own_rules == (f"{words[0].lower()} = slugs",)
    learned.undo.trigger()
    settle(learned)
    assert learned.bench.recipe.clean.own_rules == ()


def test_without_learned_vectors_nothing_is_said_of_them(window: MainWindow, settle: Settle) -> None:
    window.show_step("terms")
    settle(window)
    desk = window.desk
    assert isinstance(desk, TermsDesk)
    desk.table_to(int(window.bench.results[TERMS].kept[0]))
    settle(window)
    assert "Used alike" not in desk.card.collocates.text()
    assert not desk.card.same.isVisible()
    assert not len(np.asarray(window.bench.results[WORDS].number))


def test_themes_that_add_up_are_listed_by_size_with_what_they_leave(window: MainWindow, settle: Settle) -> None:
    window.bench.set("weigh", "themes-by", "adding")
    window.show_step("weigh")
    desk = window.desk
    assert isinstance(desk, WeighDesk)
    desk.bring_up(ThemesFace)
    settle(window)
    face = desk.face(ThemesFace)
    found = window.bench.results[THEMES_AHEAD]
    assert found.adding
    assert len(found) == 20
    assert face.about.text() == (
        f"20 themes that add up leave {found.left:.1%} of all squared weights · {found.rounds} rounds"
    )
    titles = [column.title for column in face.table.listed.columns]
    assert "Strongest terms" in titles
    assert "Low end" not in titles
    words = [face.table.listed.columns[titles.index("Strongest terms")].text(row) for row in range(8)]
    assert any(one.startswith("barley") for one in words)
    assert window.spine.steps["weigh"].result.endswith("non-zero")  # the later steps work on the terms all the same
    window.bench.set("weigh", "themes", 10)
    settle(window)
    assert window.spine.steps["weigh"].settings.endswith("10 themes that add up")
    assert len(window.bench.results[THEMES]) == 10


def test_themes_that_add_up_tell_what_documents_are_made_of_and_how_many_there_might_be(
    window: MainWindow, settle: Settle
) -> None:
    window.bench.set("weigh", "themes-by", "adding")
    window.show_step("weigh")
    desk = window.desk
    assert isinstance(desk, WeighDesk)
    desk.bring_up(ThemesFace)
    settle(window)
    face = desk.face(ThemesFace)
    assert THEME_NUMBERS not in window.bench.results
    face.leaves.show_leaf(3)
    settle(window)
    found = window.bench.results[THEMES_AHEAD]
    columns = face.shares.table.listed.columns
    shares = columns[1].mark(8)  # type: ignore[misc]
    assert sum(shares) == pytest.approx(1, abs=1e-5)
    assert columns[2].text(8).startswith(str(int(np.argmax(found.amounts[8])) + 1))
    assert columns[3].text(8).endswith("%")
    face.leaves.show_leaf(4)
    settle(window)
    numbers = window.bench.results[THEME_NUMBERS]
    assert numbers.numbers.tolist() == [2, 5, 10, 15, 20, 30, 40]
    titles = [column.title for column in face.table.listed.columns]
    stability = face.table.listed.columns[titles.index("Stability")]
    assert stability.text(0).startswith(f"{numbers.own[0]:.2f}")
    face.numbers.table.go_to(2)
    QTest.mouseClick(face.numbers.use, Qt.MouseButton.LeftButton)
    settle(window)
    assert window.bench.recipe.weigh.space == "adding"
    assert len(window.bench.results[THEMES]) == 10
    face.made_by.setCurrentIndex(0)
    face.made_by.activated.emit(0)
    settle(window)
    assert face.leaves.front == 0
    assert not face.leaves.buttons["How many"].isVisible()


def test_terms_lie_together_by_meaning(learned: MainWindow, settle: Settle) -> None:
    learned.show_step("map")
    face = learned.desk.face(TermPoints)  # type: ignore[attr-defined]
    learned.desk.bring_up(TermPoints)
    settle(learned)
    points, terms = learned.bench.results[TERM_POINTS], learned.bench.results[TERMS]
    names = [terms.terms[int(column)] for column in points.columns]
    nearest = [names[int(at)] for at in points.neighbours.row[names.index("loddi"), :5]]
    assert "slug" in nearest
    assert "used alike" in face.hint.text()
    learned.show_step("group")
    settle(learned)
    of_terms = learned.desk.face(TermGroups)  # type: ignore[attr-defined]
    learned.desk.bring_up(TermGroups)
    settle(learned)
    assert "by meaning" in of_terms.words.text()
    learned.bench.set("weigh", "vectors", "")
    settle(learned)
    assert "by meaning" not in of_terms.words.text()


def test_groups_by_theme_are_not_said_to_be_measured(window: MainWindow, settle: Settle) -> None:
    bench = window.bench
    for step, settings in (("weigh", {"themes": 10, "themes-by": "adding"}), ("group", {"by": "theme"})):
        recipe = bench.recipe.with_settings(step, settings)
        bench.change(bench.state.with_recipe(recipe), "settings")
    window.show_step("group")
    settle(window)
    assert window.spine.steps["group"].settings == "by the strongest theme"
    face = window.desk.face(GroupsFace)  # type: ignore[attr-defined]
    assert len(bench.results[GROUPING]) == 10
    assert face.one.holding.text() == ""
    assert "theme" in face.one.strongest.text()


def test_groups_on_learned_vectors_name_no_dimensions(learned: MainWindow, settle: Settle) -> None:
    learned.show_step("group")
    settle(learned)
    face = learned.desk.face(GroupsFace)  # type: ignore[attr-defined]
    assert face.one.strongest.text() == ""
    assert face.one.telling.texts
