# SPDX-License-Identifier: GPL-3.0-or-later
"""The desktop: PyQt6 widgets that show the core. No other room imports it."""

from __future__ import annotations

import dataclasses
import sys
from pathlib import Path

import platformdirs
from PyQt6.QtCore import QSettings
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from jagged_lens.desktop.commands import project, sources
from jagged_lens.desktop.ending import EndBySignal
from jagged_lens.desktop.faults import Faults
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.window import MainWindow
from jagged_lens.errors import JaggedLensError, SourceError
from jagged_lens.gather import TABLES
from jagged_lens.linux import ID, icon_file
from jagged_lens.named_file import plain_file
from jagged_lens.project import ENDING, Bench, Keeper, crashed_projects, hold, opened
from jagged_lens.worker import Worker

_TURN = 0.0005
"""Seconds after which a thread that answers a question lets the window have its turn. Drawing asks for its turn once a cell: at the
usual ten times as much, a table that is drawn beside a question would stand still for half a second."""


def show(path: Path | None, worker: Worker, pictures: Path | None = None) -> int:
    """Open the window on a file (None: on nothing) and stay until it is closed; the exit status.

    worker: computes for the window; closed by whoever started it. pictures: draw every view into this folder instead, and
    leave. RecipeError where the file is a recipe that cannot be used.
    """
    crashed = crashed_projects() if pictures is None else []
    wrong: JaggedLensError | None = None
    table = path.expanduser().absolute() if path is not None and path.suffix.lower() in TABLES else None
    try:
        state = opened(path)
        if table is not None and pictures is None:
            plain_file(table)
            state = dataclasses.replace(
                opened(None), folder=table.parent
            )  # with the roles that are guessed in the window
    except (JaggedLensError, OSError) as error:
        if pictures is not None:
            raise
        # Whoever opened it from the desktop sees no terminal: the window says why.
        wrong = error if isinstance(error, JaggedLensError) else SourceError(f"it cannot be read ({error.strerror})")
        state = opened(None)
    project_file = path if path is not None and path.suffix.lower() == ENDING and wrong is None else None
    keeper, reading, unkept = None, None, ""
    try:
        if project_file is not None and pictures is None:
            keeper, reading, unkept = hold(project_file)
        elif pictures is None:
            keeper = Keeper.unnamed()
    except JaggedLensError as error:
        if project_file is not None:
            wrong, state = error, opened(None)
        unkept = str(error)  # a state folder that is full or cannot be written must not keep the window shut
    kept = keeper.file if keeper is not None else reading
    looked = kept.window() if kept is not None else {}
    sys.setswitchinterval(_TURN)
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("jagged-lens")
    app.setApplicationDisplayName("Jagged Lens")
    app.setDesktopFileName(ID)
    app.setWindowIcon(QIcon(str(icon_file())))
    theme.dress(app)
    memory = None
    if pictures is None:
        folder = Path(platformdirs.user_config_dir("jagged-lens"))
        memory = QSettings(str(folder / "window.ini"), QSettings.Format.IniFormat)
    bench = Bench(state, worker, keeper, reading)
    if state.sources:
        bench.compute()  # the worker works while the window is built
    faults = Faults(app)
    window = MainWindow(bench, worker, memory)
    faults.fault.connect(window.tell_trouble)
    window.show()
    if pictures is None:
        if reading is not None or (keeper is not None and keeper.named):
            window.recall.project(looked)
        elif path is None:
            window.show_step("gather")
        bench.save()
        project.offer_left_over(window, crashed)
        if wrong is not None and path is not None:
            project.say_unopened(window, path, str(wrong))
        elif reading is not None:
            project.say_only_read(window, reading.path, unkept)
        elif unkept:
            project.say_unkept(window, unkept)
        elif table is not None:
            sources.take_in(window, [table])
    ending = EndBySignal(window)
    if pictures is not None:
        from jagged_lens.desktop.pictures import draw_all

        for file in draw_all(window, pictures):
            print(file)
        window.close()
        return 0
    status = app.exec()
    ending.forget()
    faults.forget()
    return 128 + ending.asked if ending.asked else status
