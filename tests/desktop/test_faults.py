# SPDX-License-Identifier: GPL-3.0-or-later
"""Faults of ours, signals and little memory: what is said, what is noted, and that the window lives or ends as it should."""

from __future__ import annotations

import os
import resource
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QSettings, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QAbstractSpinBox, QApplication, QLabel, QLineEdit, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from jagged_lens.desktop import faults as faults_module
from jagged_lens.desktop.commands import project, sources
from jagged_lens.desktop.ending import EndBySignal
from jagged_lens.desktop.faults import Faults, log_file
from jagged_lens.desktop.window import MainWindow
from jagged_lens.gather import Source
from jagged_lens.project import ProjectFile, create, opened
from jagged_lens.project import keeper as keeper_module
from jagged_lens.project.plain_state import plain


@pytest.fixture
def faults(qapp: QApplication, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Faults]:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    made = Faults()
    yield made
    made.forget()


def clicked(does: object) -> None:
    button = QPushButton()
    button.clicked.connect(does)
    button.click()


def fail() -> None:
    raise ValueError("the words of a document")


def test_a_fault_in_a_slot_is_told_once_and_noted_without_words_of_a_document(
    faults: Faults, qtbot: QtBot, capsys: pytest.CaptureFixture[str]
) -> None:
    told: list[tuple[str, str]] = []
    faults.fault.connect(lambda words, details: told.append((words, details)))
    for _ in range(5):
        clicked(fail)
    clicked(lambda: [][0])
    assert [words for words, _ in told] == [
        "Internal error (ValueError). You can go on working.",
        "Internal error (IndexError). You can go on working.",
    ]
    assert "the words of a document" in told[0][1]
    assert "test_faults.py" in told[0][1]
    noted = log_file().read_text()
    assert "ValueError" in noted
    assert "test_faults.py" in noted
    assert "the words of a document" not in noted
    assert noted.count("ValueError") == 1
    assert capsys.readouterr().err.count("Traceback") == 2


def test_a_fault_in_a_thread_is_told_too_and_the_log_does_not_grow_without_end(
    faults: Faults, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    told: list[str] = []
    faults.fault.connect(lambda words, _: told.append(words))
    thread = threading.Thread(target=fail)
    thread.start()
    thread.join()
    qtbot.waitUntil(lambda: len(told) == 1, timeout=120_000)
    monkeypatch.setattr(faults_module, "_MOST", 10)
    clicked(lambda: [][0])
    assert "IndexError" in log_file().read_text()
    assert "ValueError" not in log_file().read_text()
    assert "ValueError" in log_file().with_suffix(".old").read_text()


def test_faults_are_taken_where_nothing_can_be_noted(
    faults: Faults, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "file").write_text("")
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "file"))
    told: list[str] = []
    faults.fault.connect(lambda words, _: told.append(words))
    clicked(fail)
    assert len(told) == 1


def test_the_window_says_a_fault_in_a_box_whose_details_can_be_copied(window: MainWindow, qtbot: QtBot) -> None:
    window.tell_trouble("Internal error (ValueError). You can go on working.", "places\nand words")
    box = window.open_box
    assert box.isVisible()
    assert "ValueError" in box.text()
    copy = next(one for one in box.findChildren(QPushButton) if one.text() == "Copy details")
    QTest.mouseClick(copy, Qt.MouseButton.LeftButton)
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    assert clipboard.text().endswith("places\nand words")
    assert box.isVisible()  # to be read on
    box.close()


def test_the_only_source_goes_while_a_document_is_read(window: MainWindow, qtbot: QtBot) -> None:
    bench = window.bench
    bench.pick.set([5])
    window.side.show_reader()
    bench.remove_source(0)
    bench.pick.set([7])
    qtbot.waitUntil(lambda: not bench.working, timeout=120_000)
    bench.pick.set([])
    bench.undo()
    qtbot.waitUntil(lambda: not bench.working, timeout=120_000)


def test_what_was_offered_of_a_source_goes_with_it(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    bench = window.bench
    before = len(bench.state.sources)
    bench.add_source(Source(pasted="slugs and frost"))
    window.pick_bar.offer("Added.", "Change…", lambda: sources.change_source(window, before))
    assert window.pick_bar.offered.isVisible()
    bench.undo()
    assert not window.pick_bar.offered.isVisible()
    sources.change_source(window, before)  # however it comes to be asked for
    qtbot.waitUntil(lambda: not bench.working, timeout=120_000)


def test_a_signal_closes_the_window_as_its_user_would(qtbot: QtBot) -> None:
    window = QLabel("a window")
    qtbot.addWidget(window)
    window.show()
    before = signal.getsignal(signal.SIGTERM)
    ending = EndBySignal(window)
    try:
        os.kill(os.getpid(), signal.SIGTERM)
        qtbot.waitUntil(lambda: not window.isVisible(), timeout=120_000)
        assert ending.asked == signal.SIGTERM
    finally:
        ending.forget()
    assert signal.getsignal(signal.SIGTERM) == before


def test_a_project_that_cannot_be_written_to_opens_to_be_read(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    window.memory = QSettings(str(tmp_path / "window.ini"), QSettings.Format.IniFormat)
    path = tmp_path / "p.jagged"
    create(path)
    ProjectFile(path).save(plain(window.bench.state.renamed("Read only")), {})
    before = path.read_bytes()
    monkeypatch.setattr(keeper_module.os, "access", lambda where, how: False)
    project.open_path(window, path)
    assert window.bench.state.lens.name == "Read only"
    assert "can be read but not written" in window.open_box.text()
    assert "p.jagged (read-only)" in window.windowTitle()
    window.open_box.close()
    qtbot.waitUntil(lambda: not window.bench.working, timeout=120_000)
    window.bench.pick.set([1])
    window.bench.keep_pick("mine")
    assert path.read_bytes() == before
    assert not project.may_close(window)  # it asks
    window.open_box.close()
    project.save_to(window, tmp_path / "mine.jagged")
    assert window.bench.keeper is not None
    assert window.bench.keeper.flush(20)
    assert path.read_bytes() == before
    assert [one.name for one in opened(tmp_path / "mine.jagged").kept] == ["mine"]
    assert "mine.jagged" in window.windowTitle()
    window.bench.leave()
    window.memory = None


def test_that_a_project_is_not_saved_stays_in_sight_until_it_is(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    project.save_to(window, tmp_path / "p.jagged")
    assert window.windowTitle().startswith("p.jagged — ")
    (tmp_path / "p.jagged").unlink()
    window.bench.pick.set([1])
    window.bench.keep_pick("mine")
    qtbot.waitUntil(lambda: window.windowTitle().startswith("p.jagged (not saved) — "), timeout=120_000)
    window.pick_bar.say("Something else.")
    assert "(not saved)" in window.windowTitle()
    project.save_to(window, tmp_path / "q.jagged")
    assert window.windowTitle().startswith("q.jagged — ")
    qtbot.waitUntil(lambda: window.bench.keeper is not None and window.bench.keeper.saved, timeout=120_000)
    assert "(not saved)" not in window.windowTitle()
    window.bench.leave()


def test_what_takes_the_keyboard_says_what_it_is(window: MainWindow, qtbot: QtBot) -> None:
    for step in window.desks:
        window.show_step(step)
        qtbot.waitUntil(lambda: not window.bench.working, timeout=120_000)
        nameless = [
            f"{type(one).__name__} in {type(one.parent()).__name__}"
            for one in window.findChildren(QWidget)
            if one.focusPolicy() != Qt.FocusPolicy.NoFocus
            and one.isVisible()
            and not (one.accessibleName() or (isinstance(one, QAbstractButton) and one.text()))
            and not (isinstance(one, QLineEdit) and one.placeholderText())
            and not isinstance(one.parent(), QAbstractSpinBox)
        ]
        assert nameless == []


PROGRAM = [sys.executable, "-m", "jagged_lens"]


def begun(*arguments: str) -> subprocess.Popen[str]:
    home = tempfile.mkdtemp()
    env = {**os.environ, "HOME": home, "XDG_STATE_HOME": home, "XDG_CONFIG_HOME": home, "QT_QPA_PLATFORM": "offscreen"}
    return subprocess.Popen(
        [*PROGRAM, *arguments],
        env=env,
        stderr=subprocess.PIPE,
        stdout=subprocess.DEVNULL,
        text=True,
        start_new_session=True,
    )


def catches(process: int, number: int) -> bool:
    """Whether a process has taken a signal over (the mask of caught signals, proc(5))."""
    said = Path(f"/proc/{process}/status").read_text()
    mask = next(line for line in said.splitlines() if line.startswith("SigCgt"))
    return (
        bool(int(mask.split()[1], 16) >> (number - 1) & 1)
        and b"jagged_lens" in Path(f"/proc/{process}/cmdline").read_bytes()
    )


@pytest.mark.parametrize("number", [signal.SIGINT, signal.SIGTERM])
@pytest.mark.parametrize("after", [0.0, 0.7, 1.4, 2.2])
def test_a_signal_while_it_starts_ends_it_without_a_traceback(number: signal.Signals, after: float) -> None:
    """Also of the worker, which hears it as well where it comes from a terminal."""
    process = begun("demo")
    while not catches(process.pid, signal.SIGTERM):  # which it takes over last: before that Python is on its way
        time.sleep(0.005)
    time.sleep(after)
    os.killpg(process.pid, number)
    _, said = process.communicate(timeout=300)
    assert process.returncode == 128 + number
    assert "Traceback" not in said


def test_little_memory_is_said_before_any_library_says_it() -> None:
    done = subprocess.run(
        [*PROGRAM, "info"],
        capture_output=True,
        text=True,
        preexec_fn=lambda: resource.setrlimit(resource.RLIMIT_AS, (300_000_000,) * 2),
    )
    assert done.returncode == 1
    assert done.stderr == (
        "jagged-lens: not enough memory: it may use 300 MB and needs at least 700 MB. Raise the limit (ulimit -v).\n"
    )
