"""The window: menu bar, spine, desk, side and pick bar."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QByteArray, QSettings, Qt, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QKeySequence, QResizeEvent, QShortcut
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMainWindow,
    QMenu,
    QMessageBox,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from jagged_lens import __version__
from jagged_lens.demo import demo_recipe
from jagged_lens.desktop import theme
from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.desks.base import Desk
from jagged_lens.desktop.desks.clean import CleanDesk
from jagged_lens.desktop.desks.compare import CompareDesk
from jagged_lens.desktop.desks.gather import GatherDesk
from jagged_lens.desktop.desks.group import GroupDesk
from jagged_lens.desktop.desks.map import MapDesk
from jagged_lens.desktop.desks.terms import TermsDesk
from jagged_lens.desktop.desks.weigh import WeighDesk
from jagged_lens.desktop.link import Link
from jagged_lens.desktop.pick_bar import PickBar
from jagged_lens.desktop.side import Side
from jagged_lens.desktop.spine import Spine
from jagged_lens.desktop.words import TITLES
from jagged_lens.errors import JaggedLensError
from jagged_lens.lens import STEPS, Worker, recipe_text
from jagged_lens.project import Bench

_DESKS: tuple[type[Desk], ...] = (GatherDesk, CleanDesk, TermsDesk, WeighDesk, CompareDesk, GroupDesk, MapDesk)
_SETTINGS_FIRST = ("gather", "clean", "terms", "weigh", "group")
_COMPACT_BELOW = 1100
_FOLD_BELOW = 1180


class MainWindow(QMainWindow):
    """Everything the user sees; it holds no truth of its own, which lies in the bench."""

    def __init__(self, bench: Bench, worker: Worker, memory: QSettings | None = None) -> None:
        super().__init__()
        self.bench = bench
        self._memory = memory
        self.asker = Asker(self)
        self.asker.failed.connect(self._trouble)
        self.link = Link(bench, worker, self)
        self.spine = Spine(bench)
        self.side = Side(bench, self.asker)
        self.pick_bar = PickBar(bench)
        self.desks = {kind.step: kind(bench, self.asker, self.side) for kind in _DESKS}
        self.stack = QStackedWidget()
        for desk in self.desks.values():
            self.stack.addWidget(desk)
        self.splitter = QSplitter(Qt.Orientation.Horizontal)
        self.splitter.addWidget(self.stack)
        self.splitter.addWidget(self.side)
        self.splitter.setStretchFactor(0, 1)
        self.splitter.setCollapsible(0, False)
        self.splitter.setHandleWidth(1)
        self.side.setMinimumWidth(int(self.fontMetrics().averageCharWidth() * 38))
        self.splitter.setSizes([690, 358])
        middle = QHBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(self.spine)
        middle.addWidget(self.splitter, 1)
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(middle, 1)
        column.addWidget(self.pick_bar)
        self.setCentralWidget(whole)
        self._make_menus()
        self._make_keys()
        self.spine.chosen.connect(self.show_step)
        self.pick_bar.map_wanted.connect(lambda: self.show_step("map"))
        self.pick_bar.reader_wanted.connect(self.show_reader)
        bench.state_changed.subscribe(self._state_changed)
        bench.trouble.subscribe(self._trouble)
        self.resize(1280, 800)
        self._recall()
        self._state_changed()
        self.show_step("map")

    @property
    def desk(self) -> Desk:
        """The desk in front."""
        return self.desks[self.step]

    def show_step(self, step: str) -> None:
        """Bring the desk of a step to the front, and the leaf of the side that fits it."""
        self.step = step
        self.stack.setCurrentWidget(self.desks[step])
        self.spine.show_step(step)
        self.side.settings.show_step(step)
        if step in _SETTINGS_FIRST:
            self.side.show_settings()
        else:
            self.side.show_reader()
        self.desk.take_focus()

    def show_settings(self) -> None:
        self.side.show()
        self.side.show_settings()

    def show_reader(self) -> None:
        self.side.show()
        self.side.show_reader()

    def open_path(self, path: Path) -> None:
        """Open a recipe, a table, a text file or a folder; says why where it cannot be opened."""
        try:
            self.bench.open(path)
        except JaggedLensError as error:
            QMessageBox.warning(self, "Jagged Lens", f"{path.name} was not opened.\n\n{error}")
            return
        self.show_step("gather" if path.suffix.lower() != ".toml" else self.step)

    def _make_menus(self) -> None:
        bar = self.menuBar()
        assert bar is not None
        project = bar.addMenu("&Project")
        edit = bar.addMenu("&Edit")
        lens = bar.addMenu("&Lens")
        pick = bar.addMenu("P&ick")
        view = bar.addMenu("&View")
        help_ = bar.addMenu("&Help")
        assert project
        assert edit
        assert lens
        assert pick
        assert view
        assert help_
        self._add(project, "&Open…", "Ctrl+O", self._open_file)
        self._add(project, "Open &folder…", "Ctrl+Shift+O", self._open_folder)
        self._add(project, "Open the &demo", "", lambda: self.open_path(demo_recipe()))
        project.addSeparator()
        self._add(project, "&Save recipe as…", "Ctrl+S", self._save_recipe)
        project.addSeparator()
        self._add(project, "&Quit", "Ctrl+Q", self.close)
        self.undo = self._add(edit, "&Undo", "Ctrl+Z", self.bench.undo)
        self.redo = self._add(edit, "&Redo", "Ctrl+Shift+Z", self.bench.redo)
        self._add(lens, "&Compute anew", "F5", self.bench.compute)
        self._add(lens, "&Stop", "Ctrl+.", self.bench.stop)
        self._add(pick, "&Clear", "", self.bench.pick.clear)
        self._add(pick, "Cop&y", "Ctrl+Shift+C", self.pick_bar.copy_pick)
        self._add(pick, "Show on &map", "", lambda: self.show_step("map"))
        for number, step in enumerate(STEPS, 1):
            self._add(view, f"&{number}  {TITLES[step]}", f"Alt+{number}", partial(self.show_step, step))
        view.addSeparator()
        self._add(view, "&Settings of the step", "F8", self.show_settings)
        self._add(view, "&Reader", "F9", self.show_reader)
        self._add(view, "&Fold the side", "Ctrl+F9", lambda: self.side.setVisible(not self.side.isVisible()))
        self._add(help_, "&Keys of this desk", "F1", self._show_keys)
        self._add(help_, "&About", "", self._about)
        self._title = QLabel()
        self._title.setStyleSheet(f"color: {theme.now.muted}; padding: 6px 12px 0px 0px")
        self._title.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        bar.setCornerWidget(self._title)

    def _add(self, menu: QMenu, words: str, key: str, does: Callable[[], object]) -> QAction:
        action = QAction(words, self)
        if key:
            action.setShortcut(QKeySequence(key))
        action.triggered.connect(lambda _=False: does())
        menu.addAction(action)
        return action

    def _make_keys(self) -> None:
        """Single keys, which a field that is typed into keeps for itself."""
        for key, does in {
            "/": lambda: self.desk.find_in_front(),
            "J": lambda: self._step_pair(1),
            "K": lambda: self._step_pair(-1),
            "Escape": self._escape,
        }.items():
            shortcut = QShortcut(QKeySequence(key), self)
            shortcut.activated.connect(does)

    def _step_pair(self, by: int) -> None:
        if isinstance(self.desk, CompareDesk):
            self.desk.step_pair(by)

    def _escape(self) -> None:
        field = QApplication.focusWidget()
        if isinstance(field, QLineEdit) and field.text() and field.objectName() == "filter":
            field.clear()
        else:
            self.bench.pick.clear()

    def _open_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self,
            "Open",
            str(self.bench.state.folder),
            "Recipes, tables and texts (*.toml *.csv *.tsv *.txt);;All files (*)",
        )
        if name:
            self.open_path(Path(name))

    def _open_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Open a folder of text files", str(self.bench.state.folder))
        if name:
            self.open_path(Path(name))

    def _save_recipe(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, "Save recipe", str(self.bench.state.folder / "recipe.toml"), "Recipes (*.toml)"
        )
        if name:
            try:
                Path(name).write_text(recipe_text(self.bench.recipe), "utf-8")
            except OSError as error:
                QMessageBox.warning(self, "Jagged Lens", f"The recipe was not saved.\n\n{name}: {error.strerror}")
            else:
                self.pick_bar.say(f"Saved {Path(name).name}.")

    def _show_keys(self) -> None:
        common = [
            ("Alt+1 … 7", "the seven steps"),
            ("F8, F9", "settings, reader"),
            ("/", "filter what is in front"),
            ("Ctrl+Z", "undo"),
            ("Ctrl+.", "stop the work"),
            ("Esc", "clear the filter or the pick"),
        ]
        rows = "".join(
            f"<tr><td><b>{key}</b>&nbsp;&nbsp;&nbsp;</td><td>{words}</td></tr>"
            for key, words in [*self.desk.keys, *common]
        )
        box = QMessageBox(self)
        box.setWindowTitle(f"Keys of {TITLES[self.step]}")
        box.setText(f"<table cellpadding=3>{rows}</table>")
        box.exec()

    def _about(self) -> None:
        QMessageBox.about(
            self,
            "About Jagged Lens",
            f"Jagged Lens {__version__}\n\nWeighted n-gram vector spaces of documents: compared, grouped, mapped and read.\n\n"
            "Free software under the GNU General Public License, version 3 or later. It comes without any warranty.",
        )

    def _state_changed(self) -> None:
        source = self.bench.recipe.gather.from_
        name = Path(source).name if source else "no documents"
        self.setWindowTitle(f"{name} — Jagged Lens")
        self._title.setText(f"{name} — Jagged Lens")
        history = self.bench.history
        for action, words, verb in ((self.undo, history.undo_words, "&Undo"), (self.redo, history.redo_words, "&Redo")):
            action.setEnabled(words is not None)
            action.setText(f"{verb} {words}" if words else verb)

    def _trouble(self, words: str, details: str) -> None:
        self.pick_bar.say(words.split(". ")[0])
        if details:
            box = QMessageBox(QMessageBox.Icon.Warning, "Jagged Lens", words, QMessageBox.StandardButton.Ok, self)
            box.setDetailedText(details)
            box.open()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.spine.set_compact(self.width() < _COMPACT_BELOW)

    def _recall(self) -> None:
        if self._memory is None:
            return
        for key, restore in (("geometry", self.restoreGeometry), ("sides", self.splitter.restoreState)):
            kept = self._memory.value(key)
            if isinstance(kept, QByteArray):
                restore(kept)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if self._memory is not None:
            self._memory.setValue("geometry", self.saveGeometry())
            self._memory.setValue("sides", self.splitter.saveState())
        self.asker.finish()
        self.link.close()
        super().closeEvent(event)


def wait_until(done: Callable[[], bool], seconds: float) -> bool:
    """Let the window live until something is so; False where it was not in time. For pictures and tests."""
    from PyQt6.QtCore import QEventLoop

    loop = QEventLoop()
    ticks, limit = QTimer(), QTimer()
    ticks.timeout.connect(lambda: loop.quit() if done() else None)
    limit.timeout.connect(loop.quit)
    limit.setSingleShot(True)
    ticks.start(10)
    limit.start(int(seconds * 1000))
    loop.exec()
    return done()
