# SPDX-License-Identifier: GPL-3.0-or-later
"""What is in front is computed first; what is computed on demand is shown as it grows, and stopped on its face."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from conftest import with_components
from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.waiting import wait_until
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import (
    DISTRIBUTION,
    GROUPING,
    PAIRS,
    Part,
)
from jagged_lens.project import Bench, opened
from jagged_lens.worker import Worker


@pytest.fixture(scope="module")
def large(qapp: QApplication, worker: Worker, tmp_path_factory: pytest.TempPathFactory) -> Iterator[MainWindow]:
    """A window on some thousands of documents, computed with the groups in front; one for all of these tests, in order."""
    folder = tmp_path_factory.mktemp("notes")
    rng = np.random.default_rng(3)
    words = np.array([f"w{number}" for number in range(4000)])
    lines = (" ".join(words[(rng.pareto(1.1, 40) * 9).astype(int) % 4000]) for _ in range(4000))
    (folder / "notes.csv").write_text("note\n" + "\n".join(lines) + "\n")
    theme.dress(qapp)
    bench = Bench(with_components(opened(folder / "notes.csv")), worker)
    window = MainWindow(bench, worker)
    window.show()
    window.show_step("group")
    bench.compute()
    wait_until(lambda: not bench.working, 60)
    yield window
    window.close()


def compare(window: MainWindow) -> PairsFace:
    desk = window.desks["compare"]
    assert isinstance(desk, CompareDesk)
    return desk.face(PairsFace)


def test_groups_in_front_are_shown_before_pairs_are_done(
    large: MainWindow, qtbot: QtBot, settle: Callable[[MainWindow], None]
) -> None:
    bench, table = large.bench, large.desks["group"].table  # type: ignore[attr-defined]
    settle(large)
    before = bench.results[GROUPING]
    assert DISTRIBUTION not in bench.results  # nobody has looked at it
    seen: list[tuple[str, bool]] = []

    def changed(part: Part) -> None:
        if bench.ready(part) and (not seen or seen[-1][0] != part.name):
            seen.append((part.name, bench.ready(PAIRS)))

    bench.set("terms", "least-documents", 5.0)
    bench.part_changed.subscribe(changed)
    qtbot.waitUntil(lambda: bench.ready(GROUPING) and bench.results[GROUPING] is not before, timeout=120_000)
    assert (GROUPING.name, False) in seen  # the pairs were not done then
    qtbot.waitUntil(
        lambda: f"{bench.results[GROUPING].sizes[0]:,}" in table.model().index(0, 1).data(), timeout=120_000
    )
    settle(large)
    order = [name for name, _ in seen]
    assert order.index("grouping") < order.index("pairs")
    assert bench.ready(PAIRS)


def test_the_distribution_grows_where_it_is_looked_at_and_is_stopped_there(
    large: MainWindow, qtbot: QtBot, settle: Callable[[MainWindow], None]
) -> None:
    bench, desk = large.bench, compare(large)
    grew: list[str] = []
    bench.part_changed.subscribe(lambda part: grew.append(desk.scale.text()) if DISTRIBUTION in bench.growing else None)
    large.show_step("compare")
    qtbot.waitUntil(lambda: DISTRIBUTION in bench.growing or bench.ready(DISTRIBUTION), timeout=120_000)
    settle(large)
    assert bench.ready(DISTRIBUTION)
    assert desk.scale.text() == "log scale"
    assert desk.state.isHidden()
    assert any("so far" in words for words in grew)
    bench.set("terms", "least-documents", 6.0)
    qtbot.waitUntil(lambda: DISTRIBUTION.name in bench.share, timeout=120_000)
    assert desk.state.isVisible()
    assert desk.state.button.text() == "Stop"
    QTest.mouseClick(desk.state.button, Qt.MouseButton.LeftButton)
    settle(large)
    assert bench.ready(PAIRS, GROUPING)  # everything else went on
    assert not bench.ready(DISTRIBUTION)
    assert desk.state.words.text() == "stopped"
    QTest.mouseClick(desk.state.button, Qt.MouseButton.LeftButton)
    settle(large)
    assert bench.ready(DISTRIBUTION)
    assert desk.state.isHidden()


def test_what_nobody_looks_at_is_not_computed_again(large: MainWindow, settle: Callable[[MainWindow], None]) -> None:
    large.show_step("compare")
    settle(large)
    large.show_step("group")
    large.bench.set("terms", "least-documents", 7.0)
    settle(large)
    assert not large.bench.ready(DISTRIBUTION)
    large.show_step("compare")
    settle(large)
    assert large.bench.ready(DISTRIBUTION)


def test_stopping_all_work_is_not_undone_by_what_is_looked_at(
    large: MainWindow, qtbot: QtBot, settle: Callable[[MainWindow], None]
) -> None:
    large.show_step("compare")
    settle(large)
    large.bench.set("terms", "least-documents", 8.0)
    large.bench.stop()
    settle(large)
    assert not large.bench.ready(DISTRIBUTION)
    assert compare(large).state.words.text() == "stopped"
    large.bench.compute()
    settle(large)
    assert large.bench.ready(PAIRS)
