# SPDX-License-Identifier: GPL-3.0-or-later
"""Everything goes out by one sheet: each piece of each view in each of its formats, and read again by what reads such files."""

from __future__ import annotations

import csv
import json
import threading
from collections.abc import Callable, Iterator
from pathlib import Path

import docx
import numpy as np
import openpyxl
import pyarrow.parquet
import pypdf
import pytest
from lxml import etree
from odf.opendocument import load
from odf.table import TableCell, TableRow
from PyQt6.QtCore import QSettings, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot
from scipy.io import mmread
from scipy.sparse import load_npz

from desktop.test_report import save_as
from jagged_lens.desktop import saving
from jagged_lens.desktop.commands.help import show_finder
from jagged_lens.desktop.desks.weigh.themes import ThemesFace
from jagged_lens.desktop.saving import Kind, Order, Piece
from jagged_lens.desktop.sheets.save_sheet import SaveSheet
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import CORPUS, LENS_ROWS, SPACE, THEMES_AHEAD

Settle = Callable[[MainWindow], None]
LEFT = Qt.MouseButton.LeftButton


def read(path: Path) -> object:
    """What is in a file, as something that is not empty; by another program's reader."""
    match path.suffix:
        case ".csv":
            return list(csv.reader(path.open(encoding="utf-8", newline="")))
        case ".xlsx":
            return list(openpyxl.load_workbook(path).worksheets[0].iter_rows(values_only=True))
        case ".ods":
            return load(path).getElementsByType(TableRow)
        case ".parquet":
            return pyarrow.parquet.read_table(path).to_pylist()
        case ".jsonl":
            return [json.loads(line) for line in path.read_text("utf-8").splitlines()]
        case ".png":
            image = QImage(str(path))
            assert image.width() == 900
            return image.height()
        case ".svg" | ".graphml":
            return len(etree.parse(path).getroot())
        case ".pdf":
            return pypdf.PdfReader(path).pages
        case ".npy":
            return np.load(path)
        case ".npz":
            return load_npz(path).nnz
        case ".mtx":
            return mmread(path).nnz
        case ".docx":
            return docx.Document(str(path)).paragraphs
        case _:
            return path.read_text("utf-8")


def visible_faces(window: MainWindow) -> Iterator[str]:
    for step, desk in window.desks.items():
        window.show_step(step)
        for kind in [*([None] if desk.picture or not desk.faces else []), *desk.faces]:
            if kind is not None:
                desk.bring_up(kind)
            elif desk.faces:
                desk.leaf_row.show_leaf(0)
            yield f"{step} {kind.name if kind is not None else ''}"


def test_each_piece_is_saved_in_each_format_and_read_again(window: MainWindow, settle: Settle, tmp_path: Path) -> None:
    done: set[tuple[str, str]] = set()
    for name in visible_faces(window):
        settle(window)
        for piece in window.desk.pieces():
            for kind in piece.kinds:
                what = piece.words.rsplit(",", 1)[0]
                slow = kind.ending in (".xlsx", ".ods") and any(ending == kind.ending for _, ending in done)
                if (what, kind.ending) in done or slow:
                    continue
                done.add((what, kind.ending))
                folder = tmp_path / f"{len(done)} {piece.stem}"
                folder.mkdir(exist_ok=True)
                path = folder / f"{piece.stem}{kind.ending}" if kind.ending else folder
                kind.write(path, Order(900, lambda share: None))
                found = read(path) if kind.ending else list(path.iterdir())
                assert np.size(found) if isinstance(found, np.ndarray) else found, f"{name}: {piece.words} {kind.words}"
    assert {ending for _, ending in done} >= {
        *(".csv", ".xlsx", ".ods", ".parquet", ".jsonl", ".png", ".svg", ".pdf"),
        *(".mtx", ".npz", ".npy", ".nwk", ".graphml", ".txt", ".html", ".docx", ".md", ""),
    }


def test_the_sheet_saves_and_remembers_folder_and_format(
    window: MainWindow, settle: Settle, qtbot: QtBot, tmp_path: Path
) -> None:
    window.memory = QSettings(str(tmp_path / "memory.ini"), QSettings.Format.IniFormat)
    window.show_step("terms")
    settle(window)
    QTest.mouseClick(window.desk.going_out.save, LEFT)
    sheet = window.save_sheet
    assert sheet.list.count() == len(window.desk.pieces())
    sheet.folder.setText(str(tmp_path / "nowhere"))
    assert not sheet.save.isEnabled()
    assert sheet.said.text() == "There is no such folder."
    sheet.list.setCurrentRow(next(at for at, one in enumerate(window.desk.pieces()) if one.stem == "vocabulary"))
    sheet.folder.setText(str(tmp_path))
    sheet.name.setText("")
    assert not sheet.save.isEnabled()
    (tmp_path / "words.ods").write_text("old")
    sheet.name.setText("words")
    sheet.format.setCurrentIndex(2)
    assert sheet.said.text() == "words.ods exists and will be replaced."
    QTest.keyClick(sheet.format, Qt.Key.Key_Return)
    settle(window)
    assert window.pick_bar.offer_words.text() == f"Saved {tmp_path / 'words.ods'}"
    cells = load(tmp_path / "words.ods").getElementsByType(TableRow)[1].getElementsByType(TableCell)
    assert str(cells[0]) == window.desk.vocabulary.table.listed.columns[0].text(  # type: ignore[attr-defined]
        int(window.desk.vocabulary.table.listed.order[0])  # type: ignore[attr-defined]
    )

    window.show_step("compare")
    settle(window)
    QTest.mouseClick(window.desk.going_out.save, LEFT)
    sheet = window.save_sheet
    assert sheet.folder.text() == str(tmp_path)
    assert sheet.kind.ending == ".ods"
    assert not sheet.width_box.isVisible()
    sheet.list.setCurrentRow(sheet.list.count() - 1)  # the picture
    assert sheet.width_box.isVisible()
    sheet.reject()


def test_long_saving_tells_its_progress_and_is_stopped(
    window: MainWindow, settle: Settle, qtbot: QtBot, tmp_path: Path
) -> None:
    going, path = threading.Event(), tmp_path / "long.txt"
    path.write_text("before")

    def write(to: Path, order: Order) -> None:
        to.write_text("half")
        order.progress(0.25)
        going.wait(60)
        order.progress(0.5)

    saving.save_piece(window, path, Kind("Text", ".txt", write), 900)
    qtbot.waitUntil(lambda: window.pick_bar.offer_words.text() == "Saving long.txt: 25%", timeout=60_000)
    assert window.pick_bar.offered.text() == "Stop"
    QTest.mouseClick(window.pick_bar.offered, LEFT)
    going.set()
    settle(window)
    assert path.read_text() == "before"
    assert sorted(one.name for one in tmp_path.iterdir()) == ["long.txt"]
    assert window.pick_bar.said.text() == "long.txt was not saved."


def test_a_full_disk_is_said(
    window: MainWindow, settle: Settle, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    said: list[str] = []

    class Box:
        def exec(self) -> None:
            return

    monkeypatch.setattr(saving, "message", lambda parent, words, more: said.append(f"{words} {more}") or Box())

    def write(path: Path) -> None:
        raise OSError(28, "No space left on device")

    piece = Piece("Words", "words", saving.one_kind("Text", ".txt", write))
    window.save_sheet = SaveSheet([piece], tmp_path, None, window)
    window.save_sheet.show()
    assert not window.save_sheet.list.isVisible()
    save_as(window, tmp_path, "words.txt", ".txt")
    settle(window)
    assert said == [f"words.txt was not saved. {tmp_path / 'words.txt'}: No space left on device"]
    assert not list(tmp_path.iterdir())


def test_cleaned_texts_and_themes_have_the_keys_of_their_documents(
    window: MainWindow, settle: Settle, tmp_path: Path
) -> None:
    window.show_step("clean")
    settle(window)
    piece = next(one for one in window.desk.pieces() if one.stem == "cleaned")
    (tmp_path / "texts").mkdir()
    piece.kinds[0].write(tmp_path / "texts", Order(0, lambda share: None))
    keys = list(window.bench.results[CORPUS].keys.take(window.bench.results[LENS_ROWS]))
    assert sorted(one.stem for one in (tmp_path / "texts").iterdir()) == sorted(keys)
    piece.kinds[1].write(tmp_path / "c.csv", Order(0, lambda share: None))
    with (tmp_path / "c.csv").open(encoding="utf-8", newline="") as file:
        for row in csv.DictReader(file):
            assert (tmp_path / "texts" / f"{row['key']}.txt").read_text("utf-8") == row["cleaned"].removeprefix("'")

    window.show_step("weigh")
    window.desk.bring_up(ThemesFace)
    settle(window)
    piece = next(one for one in window.desk.pieces() if one.stem == "document_themes")
    piece.kinds[0].write(tmp_path / "t.npy", Order(0, lambda share: None))
    assert np.array_equal(np.load(tmp_path / "t.npy"), window.bench.results[THEMES_AHEAD].shown)
    assert (tmp_path / "t.keys.txt").read_text("utf-8").splitlines() == keys

    piece = next(one for one in window.desk.pieces() if one.stem == "weights")
    piece.kinds[1].write(tmp_path / "w.npz", Order(0, lambda share: None))
    weights = window.bench.results[SPACE].weights
    assert (load_npz(tmp_path / "w.npz") != weights).nnz == 0
    assert (tmp_path / "w.rows.txt").read_text("utf-8").splitlines() == keys
    assert len((tmp_path / "w.columns.txt").read_text("utf-8").splitlines()) == weights.shape[1]


@pytest.mark.parametrize("typed", ["export", "save", "csv", "excel", "picture", "parquet", "svg"])
def test_the_finder_finds_saving_by_what_one_would_type(window: MainWindow, settle: Settle, typed: str) -> None:
    window.show_step("compare")
    settle(window)
    show_finder(window)
    QTest.keyClicks(window.finder.field, typed)
    settle(window)
    texts = [window.finder.list.item(at).text() for at in range(window.finder.list.count())]  # type: ignore[union-attr]
    assert any("Save from this view" in text for text in texts), texts
    window.finder.close_finder()
