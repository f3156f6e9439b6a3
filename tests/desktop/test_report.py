# SPDX-License-Identifier: GPL-3.0-or-later
"""The report from the Project menu: the lens in front, with its names, as one page."""

from __future__ import annotations

import datetime
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import GROUPING, QUALITY

Settle = Callable[[MainWindow], None]


def test_the_report_of_the_lens_in_front_is_saved(
    window: MainWindow, settle: Settle, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    command = next(one for one in window.commands if one.words.replace("&", "") == "Save report…")
    assert command.enabled(window)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "beans"), ""))
    command.does(window)
    path = tmp_path / "beans.html"
    qtbot.waitUntil(path.exists, timeout=120_000)
    settle(window)
    text = path.read_text("utf-8")
    results = window.bench.results
    assert "<title>Crops</title>" in text
    assert datetime.date.today().isoformat() in text
    assert f"The mean silhouette is {float(results[QUALITY].mean):.2f}" in text
    for size in results[GROUPING].sizes.tolist():
        assert f'<td class="number">{size}</td>' in text
    window.bench.set("group", "groups", 4)
    assert not command.enabled(window)
    settle(window)
    assert command.enabled(window)
