# SPDX-License-Identifier: GPL-3.0-or-later
"""The window when things go wrong, or are very large: it lives, loses nothing, and takes no text for markup."""

from __future__ import annotations

import contextlib
import dataclasses
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QAbstractListModel, QEvent, QModelIndex, QPoint, QSettings, Qt, QTimer
from PyQt6.QtGui import QHelpEvent, QTextCursor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QLabel, QMenu, QMessageBox, QPushButton, QToolTip, QWidget
from pytestqt.qtbot import QtBot

import jagged_lens.desktop as desktop
from jagged_lens.clean import CleanSettings
from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.commands import project, sources
from jagged_lens.desktop.desks.clean.trying import Trying
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import PlainLabel, ask_line, message, tip
from jagged_lens.desktop.reading.marked_text import MarkedText
from jagged_lens.desktop.sheets.add_source import AddSource
from jagged_lens.desktop.sheets.role_header import PreviewTable
from jagged_lens.desktop.window import MainWindow
from jagged_lens.errors import Stopped
from jagged_lens.gather import Means as Means
from jagged_lens.gather import Preview, Source, preview
from jagged_lens.lens import (
    STEPS,
)
from jagged_lens.progress import Progress
from jagged_lens.project import Bench, GroupName, Keeper, opened
from jagged_lens.worker import Worker

Settle = Callable[[MainWindow], None]
Sheet = tuple[AddSource, list[Source], Asker]
EVIL = "<img src='file:///etc/hostname'><b>bold</b>"


@pytest.fixture
def kept(
    qtbot: QtBot, qapp: QApplication, worker: Worker, settle: Settle, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> Iterator[MainWindow]:
    """A window on a folder of six notes that is kept."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    theme.dress(qapp)
    for number in range(6):
        (tmp_path / f"{number}.txt").write_text(f"Late frost took the beans {number} times, and slugs took the peas.")
    bench = Bench(opened(tmp_path), worker, Keeper.unnamed())
    window = MainWindow(bench, worker, QSettings(str(tmp_path / "window.ini"), QSettings.Format.IniFormat))
    qtbot.addWidget(window)
    window.show()
    bench.set("terms", "least-documents", 1.0)
    settle(window)
    yield window
    window.close_anyway = True
    window.close()


# Text that looks like markup.


def rich_texts(widgets: list[QWidget]) -> list[str]:
    """What of the widgets Qt would show as markup that we did not write."""
    found = []
    for widget in widgets:
        if isinstance(widget, QLabel) and widget.textFormat() != Qt.TextFormat.PlainText and "<img" in widget.text():
            found.append(f"{type(widget).__name__} {widget.text()}")
        if "<img" in widget.toolTip():
            found.append(f"tool tip {widget.toolTip()}")
        if isinstance(widget, QAbstractItemView) and (model := widget.model()) is not None:
            for row in range(min(model.rowCount(), 20)):
                for column in range(1 if isinstance(model, QAbstractListModel) else model.columnCount(QModelIndex())):
                    told = model.index(row, column).data(Qt.ItemDataRole.ToolTipRole)
                    if "<img" in str(told or ""):
                        found.append(f"tool tip of a cell: {told}")
    return found


def hovered(widgets: list[QWidget]) -> list[str]:
    """What of the tool tips that come up under the pointer Qt shows as markup that we did not write: over each widget, the cells
    of each table, the titles of its columns, and the entries of each menu."""
    found = []
    for widget in widgets:
        with contextlib.suppress(RuntimeError):  # gone meanwhile
            if not widget.isVisible():
                continue
            places = [widget.rect().center(), QPoint(3, 3)]
            if isinstance(widget, QAbstractItemView):
                model = widget.model()
                rows = range(min(model.rowCount(), 4)) if model is not None else ()
                places = [
                    widget.visualRect(model.index(row, column)).center()
                    for row in rows
                    for column in range(
                        1 if isinstance(model, QAbstractListModel) else model.columnCount(QModelIndex())
                    )
                ]
                widget = widget.viewport() or widget
            for place in places:
                event = QHelpEvent(QEvent.Type.ToolTip, place, widget.mapToGlobal(place))
                QApplication.sendEvent(widget, event)
                if "<img" in QToolTip.text():
                    found.append(f"{type(widget).__name__}: {QToolTip.text()}")
    QToolTip.hideText()
    return found


def look_all_over() -> None:
    """No widget that there is, and no tool tip that comes up over one, holds markup from outside."""
    assert rich_texts(QApplication.allWidgets()) == []
    assert hovered(QApplication.allWidgets()) == []


def test_no_text_of_a_document_name_or_error_is_taken_for_markup(
    qtbot: QtBot, qapp: QApplication, worker: Worker, settle: Settle, tmp_path: Path
) -> None:
    theme.dress(qapp)
    name = "<img src='x'>.csv"
    rows = [f'"{EVIL}{number}","{EVIL} note {number} of frost and slugs","{EVIL}","{EVIL}"' for number in range(8)]
    (tmp_path / name).write_text(f'id,note,title,"{EVIL}"\n' + "\n".join(rows))
    source = Source(file=name, key="id", text=("note",), title="title", labels=(EVIL,))
    state = dataclasses.replace(opened(None), folder=tmp_path).with_sources((source,))
    bench = Bench(state.with_label(EVIL + "own", [f"{EVIL}1"], EVIL).renamed(EVIL), worker)
    window = MainWindow(bench, worker)
    qtbot.addWidget(window)
    window.show()
    bench.set("terms", "least-documents", 1.0)
    settle(window)
    bench.change(bench.state.with_kept(EVIL, ["x"]), "keep")
    bench.change(bench.state.with_group_named(None, GroupName(EVIL, EVIL, frozenset(["gone"]))), "name")
    bench.set("terms", "always-drop", (EVIL,))
    bench.set("clean", "replace", (f"{EVIL} = x",))
    settle(window)
    for step in STEPS:
        window.show_step(step)
        bench.pick.set([1])
        settle(window)
        bench.pick.set([1, 2, 3])
        settle(window)
        look_all_over()
        for face in window.desk.faces:
            window.desk.bring_up(face)
            settle(window)
        look_all_over()
    for menu in window.findChildren(QMenu):
        menu.popup(window.mapToGlobal(QPoint(50, 50)))
        QApplication.processEvents()
        assert rich_texts([menu]) == []
        assert hovered([menu]) == []
        menu.close()
    sources.change_source(window, 0)
    qtbot.waitUntil(lambda: window.sheet._seen is not None, timeout=120_000)
    look_all_over()
    window.sheet.reject()
    boxes: list[str] = []

    def look() -> None:
        box = QApplication.activeModalWidget()
        assert box is not None
        boxes.extend(one.text() for one in box.findChildren(QLabel) if one.textFormat() != Qt.TextFormat.PlainText)
        box.close()

    QTimer.singleShot(100, look)
    ask_line(window, EVIL, EVIL)
    assert boxes
    assert not [words for words in boxes if "<img" in words]
    bench.set("clean", "stop-words", (EVIL,))  # an error quotes it
    settle(window)
    window.tell_trouble(EVIL, EVIL)
    project.open_path(window, tmp_path / f"{EVIL.replace('/', '')}.toml")
    assert "<img" in window.open_box.text()
    assert window.open_box.textFormat() == Qt.TextFormat.PlainText
    assert "<img" not in window.open_box.informativeText()
    assert (
        rich_texts([one for one in QApplication.allWidgets() if one.objectName() != "qt_msgbox_informativelabel"]) == []
    )
    for box in window.findChildren(QMessageBox):
        box.close()
    window.close()


def test_what_looks_like_markup_is_escaped_where_qt_has_no_plain_text(qtbot: QtBot) -> None:
    assert tip("two lines\nand & more") == "two lines\nand & more"
    assert "<img" not in tip(EVIL)
    assert "&lt;img" in tip(EVIL)
    box = message(None, EVIL, EVIL)
    qtbot.addWidget(box)
    assert box.text() == EVIL
    assert PlainLabel(EVIL).textFormat() == Qt.TextFormat.PlainText


# Long texts.


def book(characters: int) -> str:
    words = "the slugs took the first sowing of the dwarf beans 😀 in the wet week after the late frost "
    return (words * (characters // len(words) + 1))[:characters]


def test_all_of_a_text_of_a_million_characters_can_be_read(qtbot: QtBot) -> None:
    text = MarkedText()
    qtbot.addWidget(text)
    text.resize(500, 600)
    text.show()
    whole = book(1_000_000)
    spans = np.array([(at, at + 5) for at in range(0, len(whole) - 5, 7)])
    begin = time.thread_time()
    text.show_text(whole, tokens=spans[::2], taken=spans[1::2])
    QApplication.processEvents()
    assert time.thread_time() - begin < 8  # many minutes where each word has a cursor of its own
    seen = []
    for part in (0, 1, 2, 40, 41, text.parts - 2, text.parts - 1):
        text.show_part(part)
        seen.append(shown(text))
    assert whole.startswith("".join(seen[:3]))
    assert "".join(seen[3:5]) in whole
    assert whole.endswith("".join(seen[5:]))
    assert text._bounds[0] == 0
    assert text._bounds[-1] == len(whole)
    assert text.toPlainText() == whole
    assert max(map(len, seen)) <= 8_000


def shown(text: MarkedText) -> str:
    """What can be selected and copied of the part that is shown."""
    text.selectAll()
    return text.createMimeDataFromSelection().text()


def test_parts_are_turned_by_keys_and_buttons_and_places_found_in_them(qtbot: QtBot) -> None:
    text = MarkedText()
    qtbot.addWidget(text)
    text.resize(400, 300)
    text.show()
    whole = book(30_000) + "END of it 😀😀 here"
    at = whole.index("END")
    text.show_text(whole, [(at, at + 3, 1.0)])
    buttons = {one.text(): one for one in text.findChildren(QPushButton)}
    assert buttons["Go on"].isVisible()
    assert not buttons["Before"].isVisible()
    QTest.mouseClick(buttons["Go on"], Qt.MouseButton.LeftButton)
    assert "Part 2 of" in " ".join(one.text() for one in text.findChildren(QLabel))
    bar = text.verticalScrollBar()
    assert bar is not None
    bar.setValue(bar.maximum())
    QTest.keyClick(text, Qt.Key.Key_PageDown)
    assert text._part == 2
    QTest.keyClick(text, Qt.Key.Key_PageUp)
    assert text._part == 1
    text.show_place(at, at + 3)
    assert text.textCursor().selectedText() == "END"
    assert text._part == text.parts - 1
    cursor = QTextCursor(text.document())
    cursor.setPosition(text.textCursor().selectionEnd())
    assert cursor.charFormat().background().style() != Qt.BrushStyle.NoBrush
    text.show_text(whole)  # the same text, marked anew, stays where it is
    assert text._part == text.parts - 1
    text.show_text("short")
    assert not buttons["Go on"].isVisible()


def test_a_long_paragraph_is_copied_without_the_breaks_that_are_made_for_showing_it(qtbot: QtBot) -> None:
    text = MarkedText()
    qtbot.addWidget(text)
    whole = book(7_500)
    text.show_text(whole, tokens=[(0, 3)])
    assert text.document().blockCount() > 3  # type: ignore[union-attr]
    assert shown(text) == whole
    whole = "x" * 7_900
    text.show_text(whole)
    assert shown(text) == whole


# Questions.


def test_a_question_without_an_end_keeps_no_window_open(qtbot: QtBot) -> None:
    asker = Asker()
    held = threading.Event()
    asker.ask("stuck", lambda: held.wait(600), lambda _: None)
    begin = time.monotonic()
    asker.finish(0.5)
    assert time.monotonic() - begin < 60
    held.set()


def test_a_question_is_stopped_when_a_newer_one_takes_its_place(qtbot: QtBot) -> None:
    asker = Asker()
    begun, stopped, answers = threading.Event(), threading.Event(), []

    def old(progress: Progress) -> str:
        begun.set()
        try:
            while True:
                progress(0)
                time.sleep(0.01)
        except Stopped:
            stopped.set()
            raise

    asker.ask_stoppable("topic", old, answers.append)
    assert begun.wait(10)
    asker.ask_stoppable("topic", lambda progress: "new", answers.append)
    qtbot.waitUntil(lambda: answers == ["new"], timeout=120_000)
    assert stopped.is_set()
    asker.finish()


def test_an_expression_without_an_end_is_tried_while_the_window_lives(
    window: MainWindow, qtbot: QtBot, settle: Settle, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("jagged_lens.clean.trial.SECONDS", 1.0)
    window.show_step("clean")
    window.desk.bring_up(Trying)
    settle(window)
    desk = window.desks["clean"].face(Trying)
    ticks: list[float] = []
    timer = desk._due.__class__(desk)
    timer.timeout.connect(lambda: ticks.append(time.monotonic()))
    timer.start(20)
    monkeypatch.setattr(desk, "_settings", lambda: {"tokens": "pattern", "pattern": r"(\w+ ?)+:"})
    desk.try_it()
    qtbot.waitUntil(lambda: "took longer than 1 seconds" in desk.outcome.text(), timeout=120_000)
    assert len(ticks) > 20


# Closing, and what cannot be kept.


def test_closing_asks_where_what_was_changed_is_not_saved(
    kept: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    keeper = kept.bench.keeper
    assert keeper is not None
    assert keeper.flush()
    keeper.path.rename(tmp_path / "away")
    kept.bench.label_pick("mine", "yes")
    kept.bench.set("group", "groups", 2)
    assert not kept.close()
    assert "not saved" in kept.open_box.text()
    choices = {one.text(): one for one in kept.open_box.buttons()}
    choices["Stay"].click()
    assert kept.isVisible()
    assert not kept.close()
    monkeypatch.setattr(project, "save_as", lambda kept: project.save_to(kept, tmp_path / "saved.jagged"))
    {one.text(): one for one in kept.open_box.buttons()}["Save as…"].click()
    assert kept.close()
    assert opened(tmp_path / "saved.jagged").recipe.group.groups == 2


def test_closing_without_saving_is_possible(kept: MainWindow, tmp_path: Path) -> None:
    assert kept.bench.keeper is not None
    assert kept.bench.keeper.flush()
    kept.bench.keeper.path.unlink()
    kept.bench.set("group", "groups", 2)
    assert not kept.close()
    {one.text(): one for one in kept.open_box.buttons()}["Close without saving"].click()
    assert not kept.isVisible()


def started(
    monkeypatch: pytest.MonkeyPatch, path: Path | None, worker: Worker, tmp_path: Path, qtbot: QtBot
) -> MainWindow:
    """The window as the command opens it."""
    shown: list[MainWindow] = []
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    monkeypatch.setattr(QApplication, "exec", lambda *_: 0)
    real = desktop.MainWindow

    def made(*arguments: object) -> MainWindow:
        shown.append(real(*arguments))  # type: ignore[arg-type]
        return shown[-1]

    monkeypatch.setattr(desktop, "MainWindow", made)
    assert desktop.show(path, worker) == 0
    qtbot.addWidget(shown[0])
    return shown[0]


def test_a_state_folder_that_cannot_be_written_does_not_keep_the_window_shut(
    qtbot: QtBot, qapp: QApplication, worker: Worker, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "state").write_text("a file where a folder should be")
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    window = started(monkeypatch, None, worker, tmp_path, qtbot)
    assert window.isVisible()
    assert "not saved automatically" in window.open_box.text()
    window.open_box.close()
    project.new_project(window)
    window.open_box.close()
    window.close()


@pytest.mark.parametrize(("name", "content"), [("gone.toml", None), ("broken.toml", b"[gather\n"), ("a.toml", b"\xff\xfe"),
                                               ("gone.csv", None), ("gone.jagged", None), ("a.jagged", b"nothing")])  # fmt: skip
def test_what_cannot_be_opened_is_said_on_the_screen(
    qtbot: QtBot,
    qapp: QApplication,
    worker: Worker,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    name: str,
    content: bytes | None,
) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    if content is not None:
        (tmp_path / name).write_bytes(content)
    window = started(monkeypatch, tmp_path / name, worker, tmp_path, qtbot)
    assert f"{name} was not opened" in window.open_box.text()
    assert window.open_box.informativeText()
    window.open_box.close()
    window.close()


def test_a_table_that_is_opened_has_the_roles_that_its_columns_seem_to_have(
    qtbot: QtBot, qapp: QApplication, worker: Worker, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, settle: Settle
) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    rows = "".join(
        f"N{number},late frost took the beans again {number},{'bean' if number % 2 else 'pea'}\n"
        for number in range(12)
    )
    (tmp_path / "notes.csv").write_text("id,note,crop\n" + rows)
    window = started(monkeypatch, tmp_path / "notes.csv", worker, tmp_path, qtbot)
    qtbot.waitUntil(lambda: bool(window.bench.state.sources), timeout=120_000)
    settle(window)
    assert window.bench.state.sources == (Source(file="notes.csv", key="id", text=("note",), labels=("crop",)),)
    corpus = window.bench.results["corpus"]
    assert corpus.keys[0] == "N0"
    assert corpus.titles[0] == "late frost took the beans again 0"  # without a title: its first words
    assert window.pick_bar.offered.isVisible()
    window.close()


# Sources.


@pytest.fixture
def sheet_of(qtbot: QtBot, qapp: QApplication, tmp_path: Path) -> Iterator[Callable[..., Sheet]]:
    """Opens the sheet for a source of a folder."""
    theme.dress(qapp)
    parent, asker = QWidget(), Asker()
    parent.resize(1200, 800)
    qtbot.addWidget(parent)

    def opened_for(source: Source) -> Sheet:
        done: list[Source] = []
        return AddSource(tmp_path, asker, lambda source, _: done.append(source), parent, source, {}), done, asker

    yield opened_for
    asker.finish()


SOURCES = (
    Source(file="notes.csv", key="id", text=("note",), labels=("crop",), numbers=("id2",)),
    Source(file="notes.csv", text=("note",), separator=",", header="yes", encoding="utf-8"),
    Source(file="texts", kinds=("txt",), path_labels=("", "year")),
    Source(file="texts", labelled=("origin = letters, cards", "crop = bean")),
    Source(pasted="a\n\nb", cut="at", cut_at=" *** "),
    Source(file="gone.csv", key="id", text=("note",), labels=("crop",)),
    Source(database="a.db", query="select 1", text=("x",)),
    Source(links="http://larkmoor.example/a", private=True, page_seconds=7),
)


@pytest.mark.parametrize("source", SOURCES, ids=range(len(SOURCES)))
@pytest.mark.parametrize("waits", [False, True])
def test_the_sheet_changes_nothing_that_the_user_did_not_change(
    sheet_of: Callable[..., Sheet], qtbot: QtBot, tmp_path: Path, source: Source, waits: bool
) -> None:
    rows = "".join(
        f"{number},slugs took the beans {number},{'bean' if number % 2 else 'pea'},{number}\n" for number in range(40)
    )
    (tmp_path / "notes.csv").write_text("id,note,crop,id2\n" + rows)
    (tmp_path / "texts").mkdir()
    (tmp_path / "texts" / "a.txt").write_text("frost")
    sheet, done, asker = sheet_of(source)
    if waits:
        qtbot.waitUntil(lambda: not asker.waiting, timeout=120_000)
        qtbot.wait(20)
    sheet._accept()
    assert done == [source]


def test_the_sheet_changes_what_the_user_changes(sheet_of: Callable[..., Sheet], qtbot: QtBot, tmp_path: Path) -> None:
    rows = "".join(
        f"{number},slugs took the beans {number},{'bean' if number % 2 else 'pea'}\n" for number in range(40)
    )
    (tmp_path / "notes.csv").write_text("id,note,crop\n" + rows)
    before = Source(file="notes.csv", key="id", text=("note",), labels=("crop",), labelled=("a = b, c",))
    sheet, done, asker = sheet_of(before)
    qtbot.waitUntil(lambda: sheet._seen is not None, timeout=120_000)
    sheet.table.header.choice(2).setCurrentText("leave out")
    sheet.table_options.header.setCurrentText("yes")
    sheet.text_options.labelled.setText("a = b, c, d = e")
    qtbot.waitUntil(lambda: not asker.waiting and not sheet._wait.isActive(), timeout=120_000)
    sheet._accept()
    assert done[0].labels == ()
    assert (done[0].key, done[0].text, done[0].header) == ("id", ("note",), "yes")
    assert done[0].labelled == ("a = b, c", "d = e")


def test_a_table_with_thousands_of_columns_has_choices_for_those_in_sight(qtbot: QtBot, tmp_path: Path) -> None:
    names = [f"column {number}" for number in range(3_000)]
    (tmp_path / "wide.csv").write_text(",".join(names) + "\n" + ",".join(["some words here"] * 3_000) + "\n")
    found: Preview = preview(Source(file="wide.csv"), Means(tmp_path))
    table = PreviewTable()
    qtbot.addWidget(table)
    table.resize(700, 300)
    table.show()
    table.show_preview(found)
    assert 1 < len(table.header.choices) < 100
    assert len(table.roles) == 3_000
    scroll = table.horizontalScrollBar()
    assert scroll is not None
    scroll.setValue(scroll.maximum())
    assert 2_999 in table.header.choices
    table.header.choice(2_999).setCurrentText("title")
    assert table.roles[2_999] == "title"


def test_the_only_source_can_be_mended_where_it_cannot_be_read(
    qtbot: QtBot, qapp: QApplication, worker: Worker, settle: Settle, tmp_path: Path
) -> None:
    theme.dress(qapp)
    bench = Bench(opened(tmp_path).with_sources((Source(file="gone.csv"),)), worker)
    window = MainWindow(bench, worker)
    qtbot.addWidget(window)
    window.show()
    window.show_step("gather")
    bench.compute()
    settle(window)
    strip = window.desks["gather"].sources  # type: ignore[attr-defined]
    assert strip.isVisible()
    words = {one.text() for one in strip.findChildren(QPushButton)}
    assert {"Change…", "Try again", "Remove", "More"} <= words
    assert "no such file" in strip.lines[0].state.text()
    strip.remove_wanted.emit(0)
    settle(window)
    assert not strip.isVisible()
    window.close()


# Rules.


def test_a_rule_that_is_switched_on_again_says_what_it_said_before(window: MainWindow, settle: Settle) -> None:
    bench = window.bench
    desk = window.desks["clean"]
    window.show_step("clean")
    bench.set("clean", "stop-words", ("en", "de"))
    bench.set("clean", "shortest", 4)
    settle(window)
    for name in ("STOP_WORD", "SHORT"):
        desk._switch(name)  # type: ignore[attr-defined]
        settle(window)
    assert bench.recipe.clean.stop_words == ()
    assert bench.recipe.clean.shortest == 1
    for name in ("STOP_WORD", "SHORT"):
        desk._switch(name)  # type: ignore[attr-defined]
        settle(window)
    assert bench.recipe.clean.stop_words == ("en", "de")
    assert bench.recipe.clean.shortest == 4
    assert CleanSettings().shortest == 2


def test_hits_in_a_book_are_found_beside_the_window(
    window: MainWindow, qtbot: QtBot, settle: Settle, tmp_path: Path
) -> None:
    (tmp_path / "book.txt").write_text("late frost and slugs on the shelf. " * 8000)
    window.bench.add_source(Source(file=str(tmp_path / "book.txt")))
    settle(window)
    row = len(window.bench.results["corpus"]) - 1
    window.bench.pick.set([row])
    reader = window.side.reader
    shown: list[int] = []
    real = reader.one.show_document
    reader.one.show_document = lambda corpus, row, marks=(), *more: (
        shown.append(len(marks)),
        real(corpus, row, marks, *more),
    )  # type: ignore[method-assign]
    reader.mark_hits("slugs")
    assert shown == [0]  # nothing waits for it
    settle(window)
    assert shown[-1] == 8000
    reader.mark_hits("frost")
    settle(window)
    reader.show_again()
    assert shown[-1] == 8000  # known already
    reader.mark_hits("")
    assert shown[-1] == 0
