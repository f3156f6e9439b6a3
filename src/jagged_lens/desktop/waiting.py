# SPDX-License-Identifier: GPL-3.0-or-later
"""Waiting while the window lives, for pictures, benchmarks and tests."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEventLoop, QTimer


def wait_until(done: Callable[[], bool], seconds: float) -> bool:
    """Let the window live until something is so; False where it was not in time."""
    loop = QEventLoop()
    ticks, limit = QTimer(), QTimer()
    ticks.timeout.connect(lambda: loop.quit() if done() else None)
    limit.timeout.connect(loop.quit)
    limit.setSingleShot(True)
    ticks.start(10)
    limit.start(int(seconds * 1000))
    loop.exec()
    return done()
