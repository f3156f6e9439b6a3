"""The window: menu bar, spine, desks, side and pick bar."""

from __future__ import annotations

import html
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QByteArray, QEventLoop, QMimeData, QSettings, Qt, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence, QResizeEvent, QShortcut
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QLineEdit,
    QMainWindow,
    QMenu,
    QMessageBox,
    QSplitter,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.demo import demo_recipe
from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.commands.command import MENUS, Command
from jagged_lens.desktop.desks.clean.desk import CleanDesk
from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.gather.desk import GatherDesk
from jagged_lens.desktop.desks.group.desk import GroupDesk
from jagged_lens.desktop.desks.map.desk import MapDesk
from jagged_lens.desktop.desks.terms.desk import TermsDesk
from jagged_lens.desktop.desks.weigh.desk import WeighDesk
from jagged_lens.desktop.frame.desk_area import DeskArea
from jagged_lens.desktop.frame.find_bar import FindBar
from jagged_lens.desktop.frame.finder import Finder
from jagged_lens.desktop.frame.link import Link
from jagged_lens.desktop.frame.pick_bar import PickBar
from jagged_lens.desktop.frame.side import Side
from jagged_lens.desktop.frame.spine import Spine
from jagged_lens.desktop.frame.tour import Tour
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import PlainLabel, message, tip
from jagged_lens.desktop.look.words import TITLES, amount, said_roles, source_names
from jagged_lens.desktop.sheets.about import about_text
from jagged_lens.desktop.sheets.add_source import AddSource
from jagged_lens.desktop.sheets.listing import Listing
from jagged_lens.desktop.sheets.preferences import Preferences, PreferencesWindow
from jagged_lens.desktop.tables.columns import TableColumns
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import ENDINGS, TABLES, Means, Preview, Source, preview
from jagged_lens.lens import STEPS, Recipe, Worker, recipe_text
from jagged_lens.project import ENDING, Bench, Keeper, Refreshed, left_over, opened, unnamed_folder

_DESKS: tuple[type[Desk], ...] = (GatherDesk, CleanDesk, TermsDesk, WeighDesk, CompareDesk, GroupDesk, MapDesk)
_SETTINGS_FIRST = ("gather", "clean", "terms", "weigh", "group")
_COMPACT_BELOW = 1100
_FOLD_BELOW = 1180
_SIDE = 358  # pixels, where a letter is about so wide:
_LETTER = 6
_THREE_FROM = 1500
_MOST_RECENT = 12
_SAVING = 3.0  # seconds that closing waits for


class MainWindow(QMainWindow):
    """Everything the user sees; it holds no truth of its own, which lies in the bench."""

    def __init__(self, bench: Bench, worker: Worker, memory: QSettings | None = None) -> None:
        super().__init__()
        self.bench = bench
        self._worker = worker
        self._memory = memory
        self.preferences = Preferences.read(memory)
        self._take_preferences()  # before there is anything that would have to be dressed anew
        self.step = "map"
        self._close_anyway = False
        self._pick_to_recall: tuple[frozenset[str], str] | None = None
        self.asker = Asker(self)
        self.asker.failed.connect(self._trouble)
        self.source_asker = Asker(self)  # what asks a server or a drive keeps no other question waiting
        self.source_asker.failed.connect(self._trouble)
        self.link = Link(bench, worker, self)
        self.spine = Spine(bench)
        self.side = Side(bench, self.asker)
        self.pick_bar = PickBar(bench)
        self.find_bar = FindBar(bench, self.asker)
        self.desks = {kind.step: kind(bench, self.asker, self.side.reader) for kind in _DESKS}
        self.area = DeskArea(self.desks)
        self._lay_out()
        self.commands = self._commands()
        self._make_menus()
        self._make_keys()
        self.spine.chosen.connect(self.show_step)
        self.pick_bar.map_wanted.connect(partial(self.show_step, "map"))
        self.pick_bar.reader_wanted.connect(self.show_reader)
        self.pick_bar.aside_wanted.connect(self.set_aside)
        self.pick_bar.keep_wanted.connect(self.keep_pick)
        self.pick_bar.terms_wanted.connect(self.group_terms)
        self.find_bar.found.connect(self._found)
        self.side.wanted.connect(self._show_side)
        bench.state_changed.subscribe(self._state_changed)
        bench.trouble.subscribe(self._trouble)
        bench.refreshed.subscribe(self._refreshed)
        bench.part_changed.subscribe(self._recall_pick)
        gather = self.desks["gather"]
        assert isinstance(gather, GatherDesk)
        gather.add.clicked.connect(lambda: self.add_documents())
        for desk in self.desks.values():
            desk.fill.clicked.connect(lambda: self.add_documents())
        gather.sources.change_wanted.connect(self.change_source)
        self.setAcceptDrops(True)
        hints = QApplication.styleHints()
        assert hints is not None
        hints.colorSchemeChanged.connect(self._system_look_changed)
        self.side.reader.term_sheet.term_wanted.connect(self._show_term_of_reader)
        tables = self.findChildren(TableView)
        self.table_columns = {table.accessibleName(): TableColumns(table, memory) for table in tables}
        for table in tables:
            table.rows.asker.failed.connect(self._trouble)
        self.resize(1280, 800)
        self._recall()
        self._state_changed()
        self.show_step("map")

    @property
    def desk(self) -> Desk:
        """The desk in front."""
        return self.desks[self.step]

    def _lay_out(self) -> None:
        self.splitter = QSplitter(Qt.Orientation.Horizontal)
        self.splitter.addWidget(self.area)
        self.splitter.addWidget(self.side)
        self.splitter.setStretchFactor(0, 1)
        self.splitter.setCollapsible(0, False)
        self.splitter.setHandleWidth(1)
        self.side.setMinimumWidth(int(self.fontMetrics().averageCharWidth() * 43))
        self.splitter.setSizes([690, self._side_width()])
        self.splitter.setMinimumWidth(500)  # less than desk and side want together: below that the side folds
        self._folded = False
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
        column.addWidget(self.find_bar)
        column.addWidget(self.pick_bar)
        self.setCentralWidget(whole)

    def show_step(self, step: str) -> None:
        """Bring the desk of a step to the front, and the leaf of the side that fits it."""
        before, self.step = self.step, step
        self.area.show_step(step)
        self.spine.show_step(step)
        self.side.settings.show_step(step)
        if (step == "clean") != (before == "clean"):
            self.side.reader.cleaned_button.setChecked(step == "clean")
        if step in _SETTINGS_FIRST:
            self.side.bring_settings()
        else:
            self.side.bring_reader()
        self.desk.take_focus()

    def show_settings(self) -> None:
        self.side.show_settings()

    def show_reader(self) -> None:
        self.side.show_reader()

    def open_path(self, path: Path) -> None:
        """Open a project, a recipe, a table, a text or a folder; says why where it cannot be opened."""
        project = path.suffix.lower() == ENDING
        keeper, looked = None, {}
        try:
            self._note_window()
            state = opened(path)
            if self._keeps:
                if project:
                    keeper = Keeper(path, path.parent != unnamed_folder())
                    looked = keeper.file.window()
                else:
                    keeper = self._unnamed()
            self.bench.open(path, keeper, state)
        except JaggedLensError as error:
            if keeper is not None:
                keeper.close(worth_keeping=project)
            self.say_unopened(path, str(error))
            return
        self._remember_recent(path)
        if project:
            self.recall_project(looked)
        else:
            self.show_step("gather" if path.suffix.lower() != ".toml" else self.step)

    # The project.

    @property
    def _keeps(self) -> bool:
        """Whether projects are kept; not so where pictures are drawn or tests look at a window alone."""
        return self._memory is not None

    def say_unopened(self, path: Path, reason: str) -> None:
        self.open_box = message(self, f"{path.name} was not opened.", reason)
        self.open_box.open()

    def _unnamed(self) -> Keeper | None:
        """What keeps a project without a name; None, and a word about it, where the folder for those cannot be written."""
        try:
            return Keeper.unnamed()
        except JaggedLensError as error:
            self.say_unkept(str(error))
            return None

    def say_unkept(self, reason: str) -> None:
        """This project is not kept by itself."""
        self.pick_bar.say("This project is not kept by itself: save it under a name.")
        self.open_box = message(self, "This project is not kept by itself. Save it under a name.", reason)
        self.open_box.open()

    def new_project(self) -> None:
        """Leave this project, which is kept, for a new one without documents."""
        self._note_window()
        self.bench.leave()
        self.bench.begin(self._unnamed() if self._keeps else None)
        self.show_step("gather")

    def add_documents(self, path: Path | None = None) -> None:
        """The sheet on which a source is added."""
        self.sheet = AddSource(
            self.bench.state.folder, self.source_asker, self._add_source, self, passwords=self.bench.passwords
        )
        self.sheet.open()
        if path is not None:
            self.sheet.choose(path)

    def add_pasted(self) -> None:
        """The same sheet, with what is on the clipboard."""
        self.add_documents()
        self.sheet.paste()

    def _add_source(self, source: Source, passwords: dict[str, str]) -> None:
        self.bench.passwords.update(passwords)
        self.bench.add_source(source)
        self.show_step("gather")

    def change_source(self, number: int) -> None:
        """The sheet with a source that is there."""

        def done(source: Source, passwords: dict[str, str]) -> None:
            self.bench.passwords.update(passwords)
            self.bench.change_source(number, source)

        state = self.bench.state
        self.sheet = AddSource(state.folder, self.source_asker, done, self, state.sources[number], self.bench.passwords)
        self.sheet.open()

    def _refreshed(self, found: Refreshed) -> None:
        """What reading the sources again has found; nothing is taken in before the user says so."""
        if found.nothing:
            self.bench.take_in_quietly(found)
            failed = f" {amount(len(found.unread), 'thing')} could not be read." if found.unread else ""
            self.pick_bar.say(f"Nothing has changed.{failed}")
            return
        rows = [
            ["new" if key in new else "changed" if key in changed else "gone", found.titles[key], key]
            for new, changed in [(set(found.new), set(found.changed))]
            for key in (*found.new, *found.changed, *found.gone)
        ]
        words = f"{len(found.new):,} new, {len(found.changed):,} changed, {len(found.gone):,} gone."
        if found.unread:
            words += f" {len(found.unread):,} could not be read: {found.unread[0]}"
        words += " Nothing has been taken in yet."
        self.listing = Listing(
            "What refreshing has found",
            words,
            ["What", "Title", "Key"],
            rows,
            self,
            ("Take it in", lambda: self.bench.take_in(found)),
            [10, 46, 30],
        )
        self.listing.show()

    def save(self) -> None:
        """Save now; a project without a name is given one."""
        keeper = self.bench.keeper
        if keeper is None or not keeper.named:
            self._save_as()
            return
        self._note_window()
        self.bench.save()
        self.pick_bar.say(f"Saved {keeper.path.name}." if keeper.flush() else keeper.failure)
        self._state_changed()

    def _save_as(self) -> None:
        keeper = self.bench.keeper
        start = keeper.path if keeper is not None and keeper.named else self.bench.state.folder / f"project{ENDING}"
        name, _ = QFileDialog.getSaveFileName(self, "Save the project", str(start), f"Projects (*{ENDING})")
        if name:
            path = Path(name)
            self.save_to(path if path.suffix.lower() == ENDING else path.with_name(path.name + ENDING))

    def save_to(self, path: Path) -> None:
        """Save the project under a name, and keep it there from now on."""
        self._note_window()
        try:
            self.bench.save_as(path)
        except JaggedLensError as error:
            box = message(self, "The project was not saved.", str(error))
            box.open()
            self.open_box = box
            return
        self._remember_recent(path)
        self.pick_bar.say(f"Saved {path.name}. From now on it is saved by itself.")

    def _note_window(self) -> None:
        """What the window looks like goes with the project."""
        bench = self.bench
        corpus = bench.results.get("corpus")
        reading = bench.pick.reading
        bench.window = {
            "step": self.step,
            "beside": self.area.beside,
            "pick": bench.picked_keys(),
            "reading": corpus.keys[reading] if corpus is not None and reading >= 0 else "",
        }
        if self._pick_to_recall is not None:  # its documents are not there yet
            bench.window |= {"pick": sorted(self._pick_to_recall[0]), "reading": self._pick_to_recall[1]}

    def recall_project(self, kept: dict[str, object]) -> None:
        """Bring the window to what it was when the project was left; the pick once its documents are there."""
        step = str(kept.get("step", "map"))
        self.show_step(step if step in STEPS else "map")
        beside = str(kept.get("beside", ""))
        if beside in STEPS and beside != step:
            self.put_beside(beside)
        keys, reading = kept.get("pick"), kept.get("reading")
        if isinstance(keys, list) and keys:
            self._pick_to_recall = (frozenset(map(str, keys)), str(reading))

    def _recall_pick(self, part: str) -> None:
        if part != "corpus" or self._pick_to_recall is None or "corpus" not in self.bench.fresh:
            return
        keys, reading = self._pick_to_recall
        self._pick_to_recall = None
        first = self.bench.rows_of_keys([reading])
        self.bench.pick.set(self.bench.rows_of_keys(keys), first[0] if first else -1)

    def _remember_recent(self, path: Path) -> None:
        if self._memory is not None and path.parent != unnamed_folder():
            paths = [str(path.absolute()), *self.recent()]
            self._memory.setValue("recent", list(dict.fromkeys(paths))[:_MOST_RECENT])

    def recent(self) -> list[str]:
        """The files that were opened or saved last."""
        kept = self._memory.value("recent") if self._memory is not None else None
        return [str(one) for one in kept] if isinstance(kept, list) else [str(kept)] if kept else []

    def _list_recent(self) -> None:
        self._recent_menu.clear()
        for path in map(Path, self.recent()):
            if path.exists():
                action = self._recent_menu.addAction(f"{path.name}   {path.parent}", partial(self.open_path, path))
                assert action is not None
        unnamed = left_over() if self._keeps else []
        if unnamed:
            self._recent_menu.addSeparator()
        for path in unnamed:
            self._recent_menu.addAction(f"without a name, {path.stem[:16]}", partial(self.open_path, path))
        if self._recent_menu.isEmpty():
            none = self._recent_menu.addAction("nothing yet")
            assert none is not None
            none.setEnabled(False)

    def offer_left_over(self, paths: list[Path]) -> None:
        """After a crash: what was kept of a project that had no name."""
        if not paths:
            return
        box = message(
            self,
            "Jagged Lens ended unexpectedly. The project that was open, and had no name yet, was kept.",
            "It stays under Project, Open recent.",
            QMessageBox.Icon.Information,
        )
        open_it = box.addButton("Open it", QMessageBox.ButtonRole.AcceptRole)
        box.addButton("Not now", QMessageBox.ButtonRole.RejectRole)
        box.buttonClicked.connect(lambda button: self.open_path(paths[0]) if button is open_it else None)
        box.open()
        self.open_box = box

    # Files dragged onto the window.

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and _dropped(event.mimeData()):
            event.acceptProposedAction()

    def take_in(self, paths: list[Path]) -> None:
        """Add files and folders at once, tables with the roles that their columns are guessed to have."""
        self.show_step("gather")
        folder = self.bench.state.folder
        means = Means(folder, 2)
        for number, path in enumerate(paths):
            place = path.relative_to(folder) if path.is_relative_to(folder) else path
            source = Source(file=str(place))
            if path.suffix.lower() not in TABLES:
                self.bench.add_source(source)
                continue
            self.source_asker.ask_stoppable(
                f"roles of {number} {path}",
                lambda progress, source=source: preview(source, means, progress),  # type: ignore[misc]
                self._take_guessed,
                partial(self._not_added, path.name),
            )

    def _take_guessed(self, found: Preview) -> None:
        self.bench.add_source(found.source)
        number = len(self.bench.state.sources) - 1
        words = f"{found.source.name}: {said_roles(found.source)}"
        self.pick_bar.offer(words, "Change…", lambda: self.change_source(number))

    def _not_added(self, name: str, reason: str) -> None:
        self.pick_bar.say(f"{name} was not added.")
        self.open_box = message(self, f"{name} was not added.", reason)
        self.open_box.open()

    def dropEvent(self, event: QDropEvent | None) -> None:
        paths = _dropped(event.mimeData()) if event is not None else []
        if not paths:
            return
        assert event is not None
        event.acceptProposedAction()
        if paths[0].suffix.lower() in (ENDING, ".toml"):
            self.open_path(paths[0])
        else:
            self.take_in(paths)

    # The table of commands.

    def _commands(self) -> list[Command]:
        bench = self.bench
        picked = lambda: len(bench.pick) > 0  # noqa: E731
        several = lambda: len(bench.state.lenses) > 1  # noqa: E731
        project, edit, lens, pick, view, help_ = MENUS
        steps = [
            Command(
                view,
                f"&{number}  {TITLES[step]}",
                partial(self.show_step, step),
                f"Alt+{number}",
                f"Go to the desk {TITLES[step]}.",
            )
            for number, step in enumerate(STEPS, 1)
        ]
        return [
            Command(project, "&New", self.new_project, "Ctrl+N", "A new project without documents."),
            Command(project, "&Open…", self._open_file, "Ctrl+O", "Open a project, a recipe, a table or a text."),
            Command(
                project, "Open the &demo", lambda: self.open_path(demo_recipe()), "", "Open the Larkmoor return notes."
            ),
            Command(
                project,
                "&Add documents…",
                self.add_documents,
                "Ctrl+Shift+D",
                "Add files, folders, tables, a database or web pages.",
                rule=True,
            ),
            Command(
                project,
                "Add what is on the &clipboard…",
                self.add_pasted,
                "Ctrl+Shift+V",
                "A table with tabs, or texts; with the same preview.",
            ),
            Command(
                project,
                "&Refresh the sources",
                bench.refresh,
                "Shift+F5",
                "Read all sources again and see what is new, changed and gone.",
                enabled=lambda: bool(bench.state.sources),
            ),
            Command(
                project,
                "&Save",
                self.save,
                "Ctrl+S",
                "Save the project; a named one is also saved by itself.",
                rule=True,
            ),
            Command(project, "Save &as…", self._save_as, "Ctrl+Shift+S", "Save the project under another name."),
            Command(project, "Save r&ecipe as…", self._save_recipe, "", "Save the settings of this lens alone."),
            Command(
                project,
                "Se&ttings…",
                self._show_preferences,
                "Ctrl+,",
                "Look, reading size, memory, threads.",
                rule=True,
            ),
            Command(project, "&Quit", self.close, "Ctrl+Q", "Close the window.", rule=True),
            Command(
                edit,
                "&Undo",
                bench.undo,
                "Ctrl+Z",
                "Take the last change back.",
                enabled=lambda: bench.history.undo_words is not None,
            ),
            Command(
                edit,
                "&Redo",
                bench.redo,
                "Ctrl+Shift+Z",
                "Do again what was taken back.",
                enabled=lambda: bench.history.redo_words is not None,
            ),
            Command(
                edit,
                "&Find in all texts…",
                self.find_bar.open_bar,
                "Ctrl+F",
                "Words, word* and phrases; the hits become the pick.",
                rule=True,
            ),
            Command(edit, "Filter what is in front", self._find_in_front, "/", "Filter the table of this desk."),
            Command(
                lens,
                "&New lens",
                self.new_lens,
                "Ctrl+Shift+N",
                "One more lens with the default settings, on the same documents.",
            ),
            Command(
                lens, "&Double", self.double_lens, "Ctrl+D", "Try a variant: what is the same in both is computed once."
            ),
            Command(lens, "&Rename…", self.rename_lens, "F2", "Give this lens another name."),
            Command(lens, "De&lete", self.delete_lens, "", "Delete this lens; undo brings it back.", enabled=several),
            Command(
                lens,
                "Next lens",
                partial(self._next_lens, 1),
                "Ctrl+PgDown",
                "Bring the next lens to the front.",
                rule=True,
                enabled=several,
            ),
            Command(
                lens,
                "Previous lens",
                partial(self._next_lens, -1),
                "Ctrl+PgUp",
                "Bring the previous lens to the front.",
                enabled=several,
            ),
            Command(
                lens, "Move up", partial(self._move_lens, -1), "", "Move this lens up in the list.", enabled=several
            ),
            Command(
                lens, "Move down", partial(self._move_lens, 1), "", "Move this lens down in the list.", enabled=several
            ),
            Command(
                lens,
                "&Hold",
                lambda: bench.set_hold(not bench.hold),
                "Ctrl+H",
                "Change several settings before anything is computed.",
                rule=True,
            ),
            Command(lens, "&Compute anew", bench.compute, "F5", "Compute what is out of date."),
            Command(lens, "&Stop", bench.stop, "Ctrl+.", "Stop the work; what was there before stays."),
            Command(pick, "&All", bench.pick_all, "Ctrl+Shift+A", "Pick all documents of the lens."),
            Command(pick, "&None", bench.pick.clear, "", "Pick nothing.", enabled=picked),
            Command(pick, "&Invert", bench.invert_pick, "Ctrl+I", "Pick all that is not picked."),
            Command(
                pick,
                "&Grow by nearest",
                bench.grow_pick,
                "Ctrl+G",
                "Add the nearest neighbours of all that is picked.",
                enabled=picked,
            ),
            Command(
                pick, "&Keep as…", self.keep_pick, "Ctrl+M", "Keep the pick under a name.", rule=True, enabled=picked
            ),
            Command(
                pick,
                "&Label…",
                self.label_pick,
                "Ctrl+L",
                "Give what is picked a value of a label of your own.",
                enabled=picked,
            ),
            Command(
                pick,
                "&Set aside…",
                self.set_aside,
                "Ctrl+Backspace",
                "Take what is picked out of all lenses, with a reason.",
                enabled=picked,
            ),
            Command(
                pick, "&Bring back", self._bring_back, "", "Bring back what is picked and set aside.", enabled=picked
            ),
            Command(pick, "Pick what is set aside", self._pick_aside, "", "Pick the documents that are set aside."),
            Command(
                pick,
                "Group the picked terms",
                self.group_terms,
                "Ctrl+Shift+G",
                "Group and map the picked terms by the documents that hold them.",
                rule=True,
                enabled=lambda: bool(bench.pick.terms),
            ),
            Command(
                pick,
                "Documents of the picked terms",
                bench.pick_documents_of_terms,
                "",
                "Pick the documents that hold any of the picked terms.",
                enabled=lambda: bool(bench.pick.terms),
            ),
            Command(
                pick,
                "Cop&y",
                self.pick_bar.copy_pick,
                "Ctrl+Shift+C",
                "Copy key, title and labels, tab separated.",
                rule=True,
                enabled=picked,
            ),
            Command(
                pick,
                "Show on &map",
                partial(self.show_step, "map"),
                "",
                "Go to the map with this pick.",
                enabled=picked,
            ),
            *steps,
            Command(
                view, "&Beside…", self.toggle_beside, "Ctrl+\\", "Put another desk beside the one in front.", rule=True
            ),
            Command(
                view, "&Settings of the step", self.show_settings, "F8", "Bring up the settings of the step.", rule=True
            ),
            Command(view, "&Reader", self.show_reader, "F9", "Bring up the reader."),
            Command(view, "&Fold the side", self._fold, "Ctrl+F9", "Fold the side away, or open it."),
            Command(
                view,
                "Mark &terms",
                self.side.reader.terms_button.toggle,
                "Ctrl+T",
                "Mark the terms of the lens in the text, and list those of the document with their counts.",
                rule=True,
            ),
            Command(
                view,
                "Mark what is &cleaned",
                self.side.reader.cleaned_button.toggle,
                "Ctrl+Shift+T",
                "Strike what Clean takes in the text, dot the tokens that are kept.",
            ),
            Command(view, "Back", bench.pick.back, "Alt+Left", "To what was picked before."),
            Command(view, "Forward", bench.pick.forward, "Alt+Right", "To what was picked after."),
            Command(help_, "&Find a command, document or term…", self.show_finder, "Ctrl+K", "Anything by its name."),
            Command(help_, "&Keys of this desk", self._show_keys, "F1", "List the keys."),
            Command(help_, "&Tour", self.start_tour, "", "Five short cards that point at real things."),
            Command(help_, "&About", self._about, "", "Version and licences.", rule=True),
        ]

    def _make_menus(self) -> None:
        bar = self.menuBar()
        assert bar is not None
        self.actions_by_name: dict[str, QAction] = {}
        for title in MENUS:
            menu = bar.addMenu(title)
            assert menu is not None
            for command in self.commands:
                if command.menu == title:
                    if command.rule:
                        menu.addSeparator()
                    menu.addAction(self._action(command))
            if title == "&Project":
                self._recent_menu = QMenu("Open &recent", self)
                menu.insertMenu(self.actions_by_name["Open the demo"], self._recent_menu)
                self._recent_menu.aboutToShow.connect(self._list_recent)
            if title == "P&ick":
                menu.addSeparator()
                self._kept_menu = menu.addMenu("Kept picks")
                self._narrow_menu = menu.addMenu("Narrow to a kept pick")
                self._forget_menu = menu.addMenu("Forget a kept pick")
            menu.aboutToShow.connect(self._enable_commands)
            menu.aboutToHide.connect(self._free_keys)
        names = ("New lens", "Double", "Rename", "Delete", "Move up", "Move down", "Hold")
        self.spine.lens.actions_of_lens = [self.actions_by_name[name] for name in names]
        self.actions_by_name["Hold"].setCheckable(True)
        self.undo, self.redo = self.actions_by_name["Undo"], self.actions_by_name["Redo"]
        self._title = PlainLabel()
        theme.tone(self._title, "muted")
        self._title.setContentsMargins(0, 6, 12, 0)
        self._title.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        bar.setCornerWidget(self._title)

    def _action(self, command: Command) -> QAction:
        action = QAction(command.words, self)
        if len(command.key) > 1:  # a single key is a shortcut of its own, that a field keeps for itself
            action.setShortcut(QKeySequence(command.key))
        action.setStatusTip(command.help)
        action.setToolTip(command.help)
        action.triggered.connect(lambda _=False: command.does() if command.enabled() else None)
        self.actions_by_name[command.name] = action
        return action

    def _enable_commands(self) -> None:
        for command in self.commands:
            self.actions_by_name[command.name].setEnabled(command.enabled())

    def _free_keys(self) -> None:
        """Keys work whatever a menu showed last; a command that makes no sense now does nothing."""
        for action in self.actions_by_name.values():
            action.setEnabled(True)
        self._state_changed()

    def _make_keys(self) -> None:
        """Single keys, which a field that is typed into keeps for itself."""
        single: dict[str, Callable[[], None]] = {
            "/": self._find_in_front,
            "J": partial(self._step_pair, 1),
            "K": partial(self._step_pair, -1),
            "Escape": self._escape,
        }
        for key, does in single.items():
            shortcut = QShortcut(QKeySequence(key), self)
            shortcut.activated.connect(does)

    # Lenses.

    def new_lens(self) -> None:
        state = self.bench.state
        plain = Recipe(gather=state.recipe.gather)
        self.bench.change(state.with_new_lens(plain, "New lens"), "new lens")

    def double_lens(self) -> None:
        state = self.bench.state
        self.bench.change(state.with_new_lens(state.recipe, f"{state.lens.name}, varied"), "double the lens")

    def rename_lens(self) -> None:
        state = self.bench.state
        name = self._asked("Rename the lens", "Name", state.lens.name)
        if name:
            self.bench.change(state.renamed(name), "rename the lens")

    def delete_lens(self) -> None:
        state = self.bench.state
        self.bench.change(state.without_lens(), f"delete {state.lens.name}")

    def _next_lens(self, by: int) -> None:
        self.bench.choose_lens((self.bench.state.active + by) % len(self.bench.state.lenses))

    def _move_lens(self, by: int) -> None:
        self.bench.change(self.bench.state.moved(by), "move the lens")

    # The pick.

    def group_terms(self) -> None:
        """Go to the groups and the map of the picked terms."""
        self.show_step("terms")
        desk = self.desks["terms"]
        assert isinstance(desk, TermsDesk)
        desk.show_groups()

    def keep_pick(self) -> None:
        name = self._asked("Keep the pick", "Name", f"Pick {len(self.bench.state.kept) + 1}")
        if name:
            self.bench.keep_pick(name)
            self.pick_bar.say(f"Kept as {name}.")

    def forget_pick(self, name: str) -> None:
        self.bench.change(self.bench.state.without_kept(name), f"forget {name}")

    def label_pick(self) -> None:
        own = [label.name for label in self.bench.state.labels]
        label = self._asked("Label the pick", "Label", own[-1] if own else "mine", own)
        if not label:
            return
        if label in (one.name for one in self.bench.results["corpus"].labels):
            words = f"{label} came with the data. Choose another name for a label of your own."
            message(self, words, icon=QMessageBox.Icon.Information).exec()
            return
        value = self._asked("Label the pick", f"Value of {label} (empty takes it away)", "", empty=True)
        if value is not None:
            self.bench.label_pick(label, value)

    def set_aside(self) -> None:
        reason = self._asked("Set aside", "Reason", "", empty=True)
        if reason is not None:
            count = len(self.bench.pick)
            self.bench.set_pick_aside(reason)
            self.pick_bar.say(f"{count:,} set aside. Undo brings them back.")

    def _bring_back(self) -> None:
        self.bench.bring_back(self.bench.picked_keys())

    def _pick_aside(self) -> None:
        rows = self.bench.rows_of_keys(key for key, _ in self.bench.state.aside)
        self.bench.pick.set(rows)
        self.pick_bar.say("" if rows else "Nothing is set aside.")

    def _asked(
        self, title: str, label: str, text: str, choices: list[str] | None = None, empty: bool = False
    ) -> str | None:
        """A line of text from the user; None where they thought better of it, or left empty what must not be."""
        if choices:
            words, fine = QInputDialog.getItem(self, title, tip(label), choices, len(choices) - 1, True)
        else:
            words, fine = QInputDialog.getText(self, title, tip(label), QLineEdit.EchoMode.Normal, text)
        words = " ".join(words.split())
        return words if fine and (words or empty) else None

    def _found(self, words: str) -> None:
        self.side.reader.mark_hits(words)
        if words:
            self.side.bring_reader()

    # What is in front.

    def toggle_beside(self) -> None:
        """Put another desk beside this one, or take it away."""
        if self.area.beside:
            self.area.put_beside("")
            return
        menu = QMenu(self)
        for step in STEPS:
            if step != self.step:
                menu.addAction(TITLES[step], partial(self.put_beside, step))
        menu.setAccessibleName("Which desk stands beside this one")
        menu.popup(self.area.mapToGlobal(self.area.rect().topLeft()))
        self._beside_menu = menu

    def put_beside(self, step: str) -> None:
        """Put the desk of a step beside the one in front; where the window has no room for three, the side folds."""
        self.area.put_beside(step)
        if step and self.width() < _THREE_FROM:
            self.side.hide()

    def show_finder(self) -> None:
        self.finder = Finder(
            self.bench, self.asker, self.commands, self._read_found, self._read_term, self._take_keyboard, self
        )
        self.finder.show()
        self.finder.raise_()
        self.finder.field.setFocus()

    def _read_found(self, row: int) -> None:
        self.bench.pick.set([row])
        self.show_reader()

    def _read_term(self, column: int) -> None:
        self._show_term(column).pick_documents(int(self.bench.results["terms"].kept[column]))

    def _show_term_of_reader(self, column: int) -> None:
        self._show_term(column)
        self.show_reader()

    def _show_term(self, column: int) -> TermsDesk:
        """Go to a term (a column of the space) among all terms."""
        self.show_step("terms")
        desk = self.desks["terms"]
        assert isinstance(desk, TermsDesk)
        desk.catch_up()
        desk.table_to(int(self.bench.results["terms"].kept[column]))
        return desk

    def _find_in_front(self) -> None:
        self.desk.find_in_front()

    def _step_pair(self, by: int) -> None:
        if isinstance(self.desk, CompareDesk):
            self.desk.step_pair(by)

    def _escape(self) -> None:
        tour = self.findChild(Tour)
        if tour is not None and tour.isVisible():  # the window's own key comes before that of what lies over it
            tour.end()
            return
        finder = self.findChild(Finder)
        if finder is not None and finder.isVisible():
            finder.close_finder()
            return
        field = QApplication.focusWidget()
        if isinstance(field, QLineEdit) and field.text() and field.objectName() == "filter":
            field.clear()
        elif self.find_bar.isVisible():
            self.find_bar.close_bar()
        else:
            self.bench.pick.clear()

    # Files.

    def _open_file(self) -> None:
        texts = " ".join(f"*{ending}" for ending in sorted({*TABLES, *ENDINGS}))
        name, _ = QFileDialog.getOpenFileName(
            self,
            "Open",
            str(self.bench.state.folder),
            f"Projects and recipes (*{ENDING} *.toml);;Tables and texts ({texts});;All files (*)",
        )
        if not name:
            return
        path = Path(name)
        if path.suffix.lower() in (ENDING, ".toml"):
            self.open_path(path)
        else:  # a table or a text is looked at first, and becomes a new project
            self.new_project()
            self.add_documents(path)

    def _save_recipe(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, "Save recipe", str(self.bench.state.folder / "recipe.toml"), "Recipes (*.toml)"
        )
        if name:
            try:
                Path(name).write_text(f"# {self.bench.state.lens.name}\n{recipe_text(self.bench.recipe)}", "utf-8")
            except OSError as error:
                message(self, "The recipe was not saved.", f"{name}: {error.strerror}").exec()
            else:
                self.pick_bar.say(f"Saved {Path(name).name}.")

    # Help.

    def key_list(self) -> list[tuple[str, str]]:
        """The keys of the desk in front, then those of all desks: key and what it does."""
        common = [(command.key, command.help) for command in self.commands if command.key]
        return [*self.desk.keys, *common, ("Esc", "Close the find bar, clear the filter or the pick.")]

    def _show_keys(self) -> None:
        rows = "".join(
            f"<tr><td><b>{html.escape(key)}</b>&nbsp;&nbsp;&nbsp;</td><td>{html.escape(words)}</td></tr>"
            for key, words in self.key_list()
        )
        dialog = QDialog(self)
        dialog.setWindowTitle(f"Keys of {TITLES[self.step]}")
        column = QVBoxLayout(dialog)
        page = QTextBrowser()
        page.setAccessibleName("Keys")
        page.setHtml(f"<table cellpadding=2>{rows}</table>")
        column.addWidget(page)
        dialog.resize(int(self.fontMetrics().averageCharWidth() * 84), min(self.height() - 80, 640))
        dialog.open()
        self.keys_dialog = dialog

    def _about(self) -> None:
        box = QMessageBox(self)
        box.setWindowTitle("About Jagged Lens")
        words, licences = about_text()
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setText(words)
        box.setDetailedText(licences)
        box.open()
        self.about_box = box

    def start_tour(self) -> None:
        """Five cards, from wherever we are; the map is brought to the front for it."""
        self.show_step("map")
        pointed = (self.spine, self.area, self.side, self.spine.steps["compare"], self.spine.lens)
        self.tour = Tour(self, pointed)
        self.tour.ended.connect(self._tour_ended)

    def start_tour_once(self) -> None:
        """The tour for whoever has never seen it; afterwards it only comes when it is called."""
        if self._memory is not None and self._memory.value("tour-seen") is None:
            self.start_tour()

    def _take_keyboard(self) -> None:
        """What lay over the window is gone: the keyboard goes back to the desk."""
        self.activateWindow()
        self.desk.take_focus()

    def _tour_ended(self) -> None:
        self._take_keyboard()
        if self._memory is not None:
            self._memory.setValue("tour-seen", "true")

    # Preferences.

    def _show_preferences(self) -> None:
        self.preferences_window = PreferencesWindow(self.preferences, self.prefer, self)
        self.preferences_window.show()

    def prefer(self, preferences: Preferences) -> None:
        """Take over other preferences and keep them."""
        self.preferences = preferences
        preferences.write(self._memory)
        self._take_preferences()

    def _system_look_changed(self, _: Qt.ColorScheme) -> None:
        self._take_preferences()

    def _take_preferences(self) -> None:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        wanted = self.preferences
        self._worker.budget = int(wanted.memory * 1e9)
        self._worker.threads = wanted.threads
        theme.use(app, wanted.look, wanted.colour_blind, wanted.reading)

    # What changed.

    def _state_changed(self) -> None:
        keeper = self.bench.keeper
        if keeper is not None and keeper.named:
            name = keeper.path.name
        else:
            name = source_names(self.bench.recipe) if self.bench.state.sources else "no documents"
        self.setWindowTitle(f"{name} — Jagged Lens")
        self._title.setText(f"{name} — Jagged Lens")
        # The bar gives its corner the room that it asked for first: enough for most names.
        self._title.setMinimumWidth(self.fontMetrics().averageCharWidth() * 56)
        self._note_window()
        history = self.bench.history
        for action, words, verb in ((self.undo, history.undo_words, "&Undo"), (self.redo, history.redo_words, "&Redo")):
            action.setEnabled(words is not None)
            action.setText(f"{verb} {words}" if words else verb)
        self.actions_by_name["Hold"].setChecked(self.bench.hold)
        for menu, within in ((self._kept_menu, False), (self._narrow_menu, True)):
            if menu is not None:
                menu.clear()
                menu.setEnabled(bool(self.bench.state.kept))
                for one in self.bench.state.kept:
                    menu.addAction(f"{one.name}  ({len(one.keys):,})", partial(self.bench.pick_kept, one.name, within))
        if self._forget_menu is not None:
            self._forget_menu.clear()
            self._forget_menu.setEnabled(bool(self.bench.state.kept))
            for one in self.bench.state.kept:
                self._forget_menu.addAction(one.name, partial(self.forget_pick, one.name))

    def _trouble(self, words: str, details: str) -> None:
        self.pick_bar.say(words.split(". ")[0])
        if details:
            box = message(self, words, buttons=QMessageBox.StandardButton.Ok)
            box.setDetailedText(details)
            box.open()

    # Sizes.

    def _fold(self) -> None:
        self.side.setVisible(not self.side.isVisible())

    def _show_side(self) -> None:
        """A leaf was asked for: open the side, over the desk where the window is narrow."""
        if self._folded:
            width = max(self._side_width(), self.side.minimumWidth())
            self.side.setParent(self.splitter.parentWidget())
            place = self.splitter.geometry()
            self.side.setGeometry(place.right() - width + 1, place.top(), width, place.height())
        self.side.show()
        self.side.raise_()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.spine.set_compact(self.width() < _COMPACT_BELOW)
        narrow = self.width() < _FOLD_BELOW
        if narrow != self._folded:
            self._folded = narrow
            if not narrow:
                self.splitter.addWidget(self.side)
                side = self._side_width()
                self.splitter.setSizes([self.width() - self.spine.width() - side, side])
            self.side.setVisible(not narrow)

    def _unsaved(self) -> str:
        """Why something would be lost if the window closed now; "" where nothing would be."""
        keeper = self.bench.keeper
        if not self._keeps or not self.bench.worth_keeping:
            return ""
        if keeper is None:
            return "This project is not kept by itself."
        self._note_window()
        self.bench.save()
        if keeper.flush(_SAVING):
            return ""
        return keeper.failure or f"Saving takes longer than {_SAVING:g} seconds."

    def _ask_before_closing(self, reason: str) -> None:
        box = message(self, "What was changed last is not saved.", reason)
        save = box.addButton("Save as…", QMessageBox.ButtonRole.AcceptRole)
        leave = box.addButton("Close without saving", QMessageBox.ButtonRole.DestructiveRole)
        stay = box.addButton("Stay", QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(save)
        box.setEscapeButton(stay)

        def chosen(button: object) -> None:
            if button is save:
                self._save_as()
            elif button is leave:
                self._close_anyway = True
                self.close()

        box.buttonClicked.connect(chosen)
        box.open()
        self.open_box = box

    def _side_width(self) -> int:
        """The usual width of the side: wider where letters are larger, but never more than a third of the window."""
        wide = round(_SIDE * self.fontMetrics().averageCharWidth() / _LETTER)
        return max(_SIDE, min(wide, self.width() * 3 // 10))

    def _recall(self) -> None:
        if self._memory is None:
            return
        for key, restore in (("geometry", self.restoreGeometry), ("sides", self.splitter.restoreState)):
            kept = self._memory.value(key)
            if isinstance(kept, QByteArray):
                restore(kept)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if not self._close_anyway and (reason := self._unsaved()):
            assert event is not None
            event.ignore()
            self._ask_before_closing(reason)
            return
        if self._memory is not None:
            self._memory.setValue("geometry", self.saveGeometry())
            self._memory.setValue("sides", self.splitter.saveState())
        self._note_window()
        for asker in self.findChildren(Asker):
            asker.finish()
        self.link.close()
        self.bench.leave()
        super().closeEvent(event)


def _dropped(data: QMimeData | None) -> list[Path]:
    """The files and folders that are being dragged."""
    if data is None or not data.hasUrls():
        return []
    return [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]


def wait_until(done: Callable[[], bool], seconds: float) -> bool:
    """Let the window live until something is so; False where it was not in time. For pictures and tests."""
    loop = QEventLoop()
    ticks, limit = QTimer(), QTimer()
    ticks.timeout.connect(lambda: loop.quit() if done() else None)
    limit.timeout.connect(loop.quit)
    limit.setSingleShot(True)
    ticks.start(10)
    limit.start(int(seconds * 1000))
    loop.exec()
    return done()
