# SPDX-License-Identifier: GPL-3.0-or-later
"""The menus and shortcuts of a window, made of the tables of commands."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QKeySequence, QShortcut
from PyQt6.QtWidgets import QMenu

from jagged_lens.desktop.commands import MENUS
from jagged_lens.desktop.commands.command import Command, Reach
from jagged_lens.desktop.commands.lens import OF_ONE
from jagged_lens.desktop.commands.pick import forget_pick
from jagged_lens.desktop.commands.project import keeps, open_path
from jagged_lens.desktop.commands.view import SINGLE_KEYS
from jagged_lens.desktop.frame import recent
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.project import left_over

_OF_MENUS, _SHORTEST, _LONGEST = 77, 16, 56  # letters of the menus, and of what the project is called


class Menus:
    """The menu bar of a window.

    actions: by the name of their command. recent: lists the files opened last; kept, narrow, forget: list the kept picks. title:
    what the project is called, in the corner of the bar.
    """

    def __init__(self, window: Reach) -> None:
        self._window = window
        self.actions: dict[str, QAction] = {}
        bar = window.menuBar()
        assert bar is not None
        for title, commands in MENUS:
            menu = bar.addMenu(title)
            assert menu is not None
            for command in commands:
                if command.rule:
                    menu.addSeparator()
                menu.addAction(self._action(command))
            if title == "&Project":
                self.recent = QMenu("Open &recent", menu)
                menu.insertMenu(self.actions["Open the demo"], self.recent)
                self.recent.aboutToShow.connect(self.list_recent)
            if title == "P&ick":
                menu.addSeparator()
                self.kept, self.narrow, self.forget = (
                    QMenu(words, menu) for words in ("Kept picks", "Narrow to a kept pick", "Forget a kept pick")
                )
                for inside in (self.kept, self.narrow, self.forget):
                    menu.addMenu(inside)
            menu.aboutToShow.connect(self._enable)
            menu.aboutToHide.connect(self._free_keys)
        window.spine.lens.actions_of_lens = [self.actions[name] for name in OF_ONE]
        self.actions["Pause computing"].setCheckable(True)
        self.title = ElidedLabel()
        theme.tone(self.title, "muted")
        self.title.setContentsMargins(0, 6, 12, 0)
        self.title.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        bar.setCornerWidget(self.title)
        for key, does in SINGLE_KEYS.items():
            QShortcut(QKeySequence(key), window).activated.connect(partial(does, window))

    def say_state(self, name: str) -> None:
        """Say what the project is called, what undo would take back, and which picks are kept."""
        window, bench = self._window, self._window.bench
        self.title.setText(f"{name} — Jagged Lens")
        self.fit()
        history = bench.history
        for action, words, verb in (
            (self.actions["Undo"], history.undo_text, "&Undo"),
            (self.actions["Redo"], history.redo_text, "&Redo"),
        ):
            action.setEnabled(words is not None)
            action.setText(f"{verb} {words}" if words else verb)
        self.actions["Pause computing"].setChecked(bench.hold)
        for menu in (self.kept, self.narrow, self.forget):
            menu.clear()
            menu.setEnabled(bool(bench.state.kept))
        for one in bench.state.kept:
            size = f"{one.name}  ({len(one.keys):,})"
            self.kept.addAction(size, partial(bench.pick_kept, one.name, False))
            self.narrow.addAction(size, partial(bench.pick_kept, one.name, True))
            self.forget.addAction(one.name, partial(forget_pick, window, one.name))

    def fit(self) -> None:
        """Give the title the room beside the menus: enough for most names, where the window has it."""
        letter = self._window.fontMetrics().averageCharWidth()
        room = self._window.width() - letter * _OF_MENUS
        self.title.setFixedWidth(min(max(room, letter * _SHORTEST), letter * _LONGEST))

    def _action(self, command: Command) -> QAction:
        action = QAction(command.words, self._window)
        if len(command.key) > 1:  # a single key is a shortcut of its own, that a field keeps for itself
            action.setShortcut(QKeySequence(command.key))
        action.setStatusTip(command.help)
        set_tip(action, command.help)
        window = self._window
        action.triggered.connect(lambda _=False: command.does(window) if command.enabled(window) else None)
        self.actions[command.name] = action
        return action

    def _enable(self) -> None:
        for command in self._window.commands:
            self.actions[command.name].setEnabled(command.enabled(self._window))

    def _free_keys(self) -> None:
        """Keys work whatever a menu showed last; a command that makes no sense now does nothing."""
        for action in self.actions.values():
            action.setEnabled(True)
        self._window.say_state()

    def list_recent(self) -> None:
        """List the files that were opened last, and projects without a name."""
        menu, window = self.recent, self._window
        menu.clear()
        for path in map(Path, recent.paths(window.memory)):
            if path.exists():
                menu.addAction(f"{path.name}   {path.parent}", partial(open_path, window, path))
        unnamed = left_over() if keeps(window) else []
        if unnamed:
            menu.addSeparator()
        for path in unnamed:
            menu.addAction(f"without a name, {path.stem[:16]}", partial(open_path, window, path))
        if menu.isEmpty():
            none = menu.addAction("nothing yet")
            assert none is not None
            none.setEnabled(False)
