# SPDX-License-Identifier: GPL-3.0-or-later
"""A window on the demo, with one worker for all tests."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from conftest import with_components
from jagged_lens.demo import demo_recipe
from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.window import MainWindow
from jagged_lens.project import Bench, opened
from jagged_lens.worker import Worker

_MOMENT = 20  # milliseconds in which what was begun begins in turn
_ON_THE_MAP = ("test_map", "equal_those_of_a_run")


@pytest.fixture(scope="session")
def worker() -> Iterator[Worker]:
    worker = Worker()
    yield worker
    worker.close()


@pytest.fixture
def settle(qtbot: QtBot) -> Callable[[MainWindow], None]:
    """Waits until everything asked for is computed and drawn, and what that asked for in turn."""

    def wait(window: MainWindow) -> None:
        askers, timers = window.findChildren(Asker), window.findChildren(QTimer)

        def done() -> bool:
            nonlocal timers
            if window.bench.working or any(asker.waiting for asker in askers):
                return False
            try:
                return not any(timer.isSingleShot() and timer.isActive() for timer in timers)
            except RuntimeError:  # one of them is gone
                timers = window.findChildren(QTimer)
                return False

        qtbot.wait(_MOMENT)
        while True:
            qtbot.waitUntil(done, timeout=120_000)
            qtbot.wait(_MOMENT)
            # Looking through all widgets takes more time than the window has between two looks: not more often than need be.
            askers, timers = window.findChildren(Asker), window.findChildren(QTimer)
            if done():
                return

    return wait


@pytest.fixture
def window(
    request: pytest.FixtureRequest,
    qtbot: QtBot,
    qapp: QApplication,
    worker: Worker,
    settle: Callable[[MainWindow], None],
) -> Iterator[MainWindow]:
    theme.dress(qapp)
    state = opened(demo_recipe())
    if not any(name in request.node.nodeid for name in _ON_THE_MAP):
        state = with_components(state)
    bench = Bench(state, worker)
    bench.behind.wanted = "test_lenses" in request.node.nodeid  # elsewhere the other lenses only take time
    window = MainWindow(bench, worker)
    qtbot.addWidget(window)
    window.show()
    qtbot.waitExposed(window)
    bench.compute()
    settle(window)
    yield window
    window.close()
