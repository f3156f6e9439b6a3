# SPDX-License-Identifier: GPL-3.0-or-later
"""The report from the Project menu: the lens in front, with its names, as one page."""

from __future__ import annotations

import datetime
from collections.abc import Callable
from pathlib import Path

import openpyxl
import pytest
from click.testing import CliRunner
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from jagged_lens.cli.commands import main
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import CORPUS, GROUPING, QUALITY, recipe_text

Settle = Callable[[MainWindow], None]


def save_as(window: MainWindow, folder: Path, name: str, ending: str) -> None:
    """Say on the sheet where and as what it is to be saved."""
    sheet = window.save_sheet
    sheet.format.setCurrentIndex([kind.ending for kind in sheet.piece.kinds].index(ending))
    sheet.folder.setText(str(folder))
    sheet.name.setText(name)
    QTest.mouseClick(sheet.save, Qt.MouseButton.LeftButton)


def test_the_report_of_the_lens_in_front_is_saved(
    window: MainWindow, settle: Settle, qtbot: QtBot, tmp_path: Path
) -> None:
    command = next(one for one in window.commands if one.words.replace("&", "") == "Save report…")
    assert command.enabled(window)
    command.does(window)
    save_as(window, tmp_path, "beans", ".html")
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
    command.does(window)
    save_as(window, tmp_path, "beans", ".md")
    qtbot.waitUntil((tmp_path / "beans.md").exists, timeout=120_000)
    settle(window)
    assert "beans-map.svg" in (tmp_path / "beans.md").read_text("utf-8")
    assert (tmp_path / "beans-map.svg").read_text("utf-8").startswith("<svg")
    window.bench.set("group", "groups", 4)
    assert not command.enabled(window)
    settle(window)
    assert command.enabled(window)


def test_all_results_are_the_files_of_a_run(
    window: MainWindow, settle: Settle, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    bench = window.bench
    command = next(one for one in window.commands if one.words.replace("&", "") == "Save all results…")
    (tmp_path / "ours").mkdir()
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_, **__: str(tmp_path / "ours"))
    command.does(window)
    qtbot.waitUntil((tmp_path / "ours" / "run.json").exists, timeout=120_000)
    settle(window)
    recipe = tmp_path / "recipe.toml"
    text = recipe_text(bench.recipe).replace('"notes.csv"', f'"{bench.state.folder / "notes.csv"}"')
    recipe.write_text(text)
    done = CliRunner().invoke(main, ["run", str(recipe), "--out", str(tmp_path / "run")])
    assert done.exit_code == 0, done.output
    ours = {path.name for path in (tmp_path / "ours").iterdir()}
    assert ours == {path.name for path in (tmp_path / "run").iterdir()}
    for name in sorted(ours - {"run.json", "report.html"}):
        assert (tmp_path / "ours" / name).read_bytes() == (tmp_path / "run" / name).read_bytes(), name


def test_results_of_a_lens_that_is_changed_meanwhile_are_not_saved(
    window: MainWindow, settle: Settle, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    told: list[str] = []
    window.bench.trouble.subscribe(lambda words, details: told.append(words))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_, **__: str(tmp_path))
    window.bench.set("group", "sweep", (2, 12))
    settle(window)
    next(one for one in window.commands if one.words.replace("&", "") == "Save all results…").does(window)
    window.bench.set("group", "groups", 5)
    settle(window)
    assert not list(tmp_path.iterdir())
    assert any("not saved" in words for words in told)


def test_documents_go_out_with_the_columns_that_are_ticked(
    window: MainWindow, settle: Settle, qtbot: QtBot, tmp_path: Path
) -> None:
    command = next(one for one in window.commands if one.words.replace("&", "") == "Save documents as a table…")
    command.does(window)
    sheet = window.columns
    assert sheet.boxes["key"].isChecked()
    assert not sheet.boxes["suggestion"].isEnabled()  # no label was learned yet
    sheet.boxes["text"].setChecked(True)
    sheet.boxes["map"].setChecked(False)
    QTest.mouseClick(sheet.save, Qt.MouseButton.LeftButton)
    save_as(window, tmp_path, "notes", ".xlsx")
    path = tmp_path / "notes.xlsx"
    qtbot.waitUntil(path.exists, timeout=120_000)
    settle(window)
    rows = list(openpyxl.load_workbook(path)["Table"].iter_rows(values_only=True))
    assert len(rows) == 641
    assert rows[0][:2] == ("key", "title")
    assert "text" in rows[0]
    assert "x" not in rows[0]
    corpus = window.bench.results[CORPUS]
    assert rows[1][rows[0].index("text")] == corpus.texts[0]
