# SPDX-License-Identifier: GPL-3.0-or-later
"""The window: puts spine, desks, side and pick bar together, and passes on what they say to each other."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QByteArray, QMimeData, QSettings, QSize, Qt, QTimer, QUrl
from PyQt6.QtGui import (
    QAction,
    QCloseEvent,
    QContextMenuEvent,
    QDesktopServices,
    QDragEnterEvent,
    QDropEvent,
    QResizeEvent,
)
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.demo import demo_recipe
from jagged_lens.desktop import saving
from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.commands import MENUS, findings, lens, pick, project, results, sources
from jagged_lens.desktop.commands.command import Reach
from jagged_lens.desktop.commands.help import go_to_term, show_term, start_tour
from jagged_lens.desktop.commands.menus import Menus
from jagged_lens.desktop.desks.clean.desk import CleanDesk
from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.contrast.desk import ContrastDesk
from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.gather.desk import GatherDesk
from jagged_lens.desktop.desks.group.desk import GroupDesk
from jagged_lens.desktop.desks.map.desk import MapDesk
from jagged_lens.desktop.desks.place.desk import PlaceDesk
from jagged_lens.desktop.desks.report.desk import ReportDesk
from jagged_lens.desktop.desks.seen import reading_table_of
from jagged_lens.desktop.desks.terms.desk import TermsDesk
from jagged_lens.desktop.desks.weigh.desk import WeighDesk
from jagged_lens.desktop.frame import recent
from jagged_lens.desktop.frame.context_menu import context_menu
from jagged_lens.desktop.frame.desk_area import DeskArea
from jagged_lens.desktop.frame.find_bar import FindBar
from jagged_lens.desktop.frame.link import Link
from jagged_lens.desktop.frame.middle import Middle
from jagged_lens.desktop.frame.pick_bar import PickBar
from jagged_lens.desktop.frame.recall import Recall
from jagged_lens.desktop.frame.side import Side
from jagged_lens.desktop.frame.spine import Spine
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import Message, message
from jagged_lens.desktop.look.words import source_names
from jagged_lens.desktop.look.worn import wear_in_parts
from jagged_lens.desktop.sheets.preferences import Preferences
from jagged_lens.desktop.tables.columns import TableColumns
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.project import ENDING, Bench
from jagged_lens.worker import Worker

_DESKS: tuple[type[Desk], ...] = (
    GatherDesk,
    CleanDesk,
    TermsDesk,
    WeighDesk,
    CompareDesk,
    GroupDesk,
    MapDesk,
    ContrastDesk,
    PlaceDesk,
    ReportDesk,
)
_SETTINGS_FIRST = ("gather", "clean", "terms", "weigh", "group")
_COMPACT_BELOW = 1100  # pixels, where a letter is about so wide:
_LETTER = 6


class MainWindow(Reach):
    """Everything the user sees; it holds no truth of its own, which lies in the bench."""

    def __init__(self, bench: Bench, worker: Worker, memory: QSettings | None = None) -> None:
        super().__init__()
        self.bench = bench
        self._worker = worker
        self.memory = memory
        self.preferences = Preferences.read(memory)
        self.take_preferences()  # before there is anything that would have to be dressed anew
        self.close_anyway = False
        self.asker = Asker(self)
        self.source_asker = Asker(self)
        for asker in (self.asker, self.source_asker):
            asker.failed.connect(self.tell_trouble)
        self.link = Link(bench, worker, self)
        self.spine = Spine(bench)
        self.side = Side(bench, self.asker)
        self.pick_bar = PickBar(bench)
        self.find_bar = FindBar(bench, self.asker)
        self.desks = {kind.step: kind(bench, self.asker, self.side.reader) for kind in _DESKS}
        self.area = DeskArea(self.desks)
        self.recall = Recall(bench, self.area, self.desks, self.show_step, self.put_beside)
        self._lay_out()
        self.commands = tuple(command for _, commands in MENUS for command in commands)
        self.menus = Menus(self)
        self._connect()
        self.setAcceptDrops(True)
        self._recent: tuple[Path, ...] = ()  # what the empty page offers
        self._turns: list[Callable[[], object]] = []
        self._turn = QTimer(self)
        self._turn.setSingleShot(True)
        self._turn.setInterval(0)
        self._turn.timeout.connect(self._next_turn)
        self.table_columns: dict[str, TableColumns] = {}
        self._take_tables(self)
        for desk in self.desks.values():
            desk.face_made.connect(self._take_tables)
        self.resize(self._first_size())
        wear_in_parts(self)
        self._recall_sizes()
        self.show_step("map")
        self.say_state()

    def _take_tables(self, within: QWidget) -> None:
        """Remember the columns of the tables in a part of the window, and hear of their troubles."""
        for table in within.findChildren(TableView):
            self.table_columns[table.accessibleName()] = TableColumns(table, self.memory)
            table.listed.asker.failed.connect(self.tell_trouble)

    def _lay_out(self) -> None:
        self.middle = Middle(self.area, self.side, self.memory)
        across = QHBoxLayout()
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(0)
        across.addWidget(self.spine)
        across.addWidget(self.middle, 1)
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(across, 1)
        column.addWidget(self.find_bar)
        column.addWidget(self.pick_bar)
        self.setCentralWidget(whole)

    def _connect(self) -> None:
        """Pass on what the parts say."""
        bench = self.bench
        self.spine.chosen.connect(self.show_step)
        self.pick_bar.map_wanted.connect(partial(self.show_step, "map"))
        self.pick_bar.reader_wanted.connect(self.side.show_reader)
        self.pick_bar.aside_wanted.connect(partial(pick.set_aside, self))
        self.pick_bar.only_wanted.connect(partial(pick.keep_only_these, self))
        self.pick_bar.without_wanted.connect(partial(pick.leave_these_out, self))
        self.pick_bar.keep_wanted.connect(partial(pick.keep_pick, self))
        self.pick_bar.terms_wanted.connect(partial(pick.group_terms, self))
        self.find_bar.found.connect(self._found)
        self.side.reader.term_sheet.term_wanted.connect(self._show_term_of_reader)
        bench.state_changed.subscribe(self.say_state)
        bench.trouble.subscribe(self.tell_trouble)
        bench.refreshed.subscribe(partial(sources.show_refreshed, self))
        compare = self.desks["compare"]
        assert isinstance(compare, CompareDesk)
        compare.reading.connect(self.middle.give_way)
        compare.term_wanted.connect(self._work_through)
        self.side.reader.term_sheet.weight_wanted.connect(self._work_through_of_reader)
        self.side.settings.elsewhere.connect(self._show_space)
        group = self.desks["group"]
        assert isinstance(group, GroupDesk)
        group.keep_wanted.connect(partial(lens.keep_groups, self))
        group.term_wanted.connect(self._work_through)
        group.term_chosen.connect(partial(go_to_term, self))
        contrast, place = self.desks["contrast"], self.desks["place"]
        assert isinstance(contrast, ContrastDesk)
        assert isinstance(place, PlaceDesk)
        contrast.double_wanted.connect(partial(lens.double_lens, self))
        contrast.reading.connect(self.middle.give_way)
        place.reading.connect(self.middle.give_way)
        place.term_wanted.connect(self._work_through)
        place.add_wanted.connect(partial(sources.place_new, self))
        gather = self.desks["gather"]
        assert isinstance(gather, GatherDesk)
        gather.start_page.chosen.connect(partial(project.open_path, self))
        gather.start_page.demo_wanted.connect(partial(project.open_path, self, demo_recipe()))
        gather.start_page.tour_wanted.connect(partial(start_tour, self))
        gather.sources.change_wanted.connect(partial(sources.change_source, self))
        report = self.desks["report"]
        assert isinstance(report, ReportDesk)
        report.go_wanted.connect(partial(findings.go_back, self))
        report.renew_wanted.connect(partial(findings.renew, self))
        report.as_it_was_wanted.connect(partial(findings.as_it_was, self))
        self.side.reader.pin_wanted.connect(partial(findings.pin_reading, self))
        for desk in self.desks.values():
            desk.going_out.said.connect(self.pick_bar.say)
            desk.going_out.pin_wanted.connect(partial(findings.pin, self))
            desk.going_out.save_wanted.connect(partial(results.save_view, self))
            if (reading := reading_table_of(desk)) is not None:
                reading.pin_wanted.connect(partial(findings.pin, self))
            desk.face_shown.connect(self._face_changed)
        saving.saved.connect(self._say_saved)
        saving.share.connect(self._say_share)
        for button in (gather.add, *(desk.fill for desk in self.desks.values())):
            button.clicked.connect(lambda: sources.add_documents(self))
        hints = QApplication.styleHints()
        assert hints is not None
        hints.colorSchemeChanged.connect(self._system_look_changed)

    # What is in front.

    def show_step(self, step: str) -> None:
        before = self.step
        self.area.show_step(step)
        self.spine.show_step(step)
        self.side.settings.show_step(step)
        if (step == "clean") != (before == "clean"):
            self.side.reader.cleaned_button.setChecked(step == "clean")
        self.side.offer_legend(self.desk.legend)
        if step in _SETTINGS_FIRST:
            self.side.bring_settings()
        elif self.desk.legend is not None:
            self.side.bring_legend()
        else:
            self.side.bring_reader()
        self.desk.take_focus()
        # In turns of their own, behind the focus: a table that has rows by then would put its cursor on the first.
        self._turns = [self._face_changed, self.side.settings.make_page_if_seen, self.desk.prepare]
        self._turn.start()

    def _show_space(self, step: str, space: str) -> None:
        desk = self.desks[step]
        assert isinstance(desk, WeighDesk)
        self.show_step(step)
        desk.want_space(space)

    def after_turns(self, does: Callable[[], object]) -> None:
        self._turns.append(does)
        self._turn.start()

    def _next_turn(self) -> None:
        """Do one of what is left of bringing a desk up; the window has its turn between two of them."""
        if self._turns:
            self._turns.pop(0)()
        if self._turns:
            self._turn.start()

    def _face_changed(self) -> None:
        """Fold or open the side as it was left at the face that is in front now."""
        front = self.desk.in_front
        self.middle.face_changed(f"{self.step}/{front.name}", front.reads_itself)

    def put_beside(self, step: str) -> None:
        self.area.put_beside(step)
        if step:
            self.middle.make_room()

    def _found(self, text: str) -> None:
        self.side.reader.mark_hits(text)
        if text:
            self.side.bring_reader()

    def _show_term_of_reader(self, column: int) -> None:
        show_term(self, column)
        self.side.show_reader()

    def _work_through(self, row: int, column: int) -> None:
        """Show how a weight comes about, of a document of the lens (its row there) and a term."""
        desk = self.desks["weigh"]
        assert isinstance(desk, WeighDesk)
        self.show_step("weigh")
        desk.show_cell(row, column)

    def _work_through_of_reader(self, column: int) -> None:
        place = self.bench.documents.place_of(self.bench.pick.one)
        if place >= 0:
            self._work_through(place, column)

    # What changed.

    @property
    def undo(self) -> QAction:
        """The entry of the menu that takes the last change back."""
        return self.menus.actions["Undo"]

    @property
    def redo(self) -> QAction:
        """The entry of the menu that does again what was taken back."""
        return self.menus.actions["Redo"]

    def say_state(self) -> None:
        keeper = self.bench.keeper
        if keeper is not None and keeper.named:
            name = keeper.path.name
        elif self.bench.reading is not None:
            name = f"{self.bench.reading.path.name} (read-only)"
        else:
            name = source_names(self.bench.recipe) if self.bench.state.sources else "no documents"
        if keeper is not None and keeper.failure:  # stays in sight, where the words about it make way for others
            name += " (not saved)"
        self.setWindowTitle(f"{name} — Jagged Lens")
        self.menus.say_state(name)
        if not self.bench.state.sources:
            self._offer_recent()
        self.recall.note()

    def _offer_recent(self) -> None:
        """Offer on the empty page what was opened last."""
        gather = self.desks["gather"]
        assert isinstance(gather, GatherDesk)
        found = tuple(path for path in map(Path, recent.paths(self.memory)) if path.exists())
        if found != self._recent:
            self._recent = found
            gather.start_page.offer(found)

    def tell_trouble(self, text: str, details: str) -> None:
        """Say what went wrong; where there are details, in a box in which they can be copied."""
        self.say_state()  # it may be about saving
        self.pick_bar.say(text.split(". ")[0])
        if details:
            box = message(self, text, buttons=Message.StandardButton.Ok)
            box.setDetailedText(details)
            copy = box.addButton("Copy details", Message.ButtonRole.ActionRole)
            clipboard = QApplication.clipboard()
            if copy is not None and clipboard is not None:
                copy.clicked.disconnect()  # the box stays
                copy.clicked.connect(lambda: clipboard.setText(f"{text}\n{details}"))
            box.open()
            self.open_box = box

    def _say_saved(self, window: QWidget, path: Path) -> None:
        """Say where something went, and offer to show it."""
        if window is self:
            folder = path if path.is_dir() else path.parent
            self.pick_bar.offer(
                f"Saved {path}", "Open the folder", lambda: QDesktopServices.openUrl(QUrl.fromLocalFile(str(folder)))
            )

    def _say_share(self, window: QWidget, path: Path, share: float) -> None:
        """Say how much of a file is written, and offer to stop that."""
        if window is self and share < 1:
            self.pick_bar.offer(f"Saving {path.name}: {share:.0%}", "Stop", partial(self._stop_saving, path))

    def _stop_saving(self, path: Path) -> None:
        saving.stop_saving(self, path)
        self.pick_bar.say(f"{path.name} was not saved.")

    def _system_look_changed(self, _: Qt.ColorScheme) -> None:
        self.take_preferences()

    def take_preferences(self) -> None:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        wanted = self.preferences
        self._worker.budget = int(wanted.memory * 1e9)
        self._worker.threads = wanted.threads
        theme.use(app, wanted.look, wanted.colour_blind, wanted.letters)
        self.fit_letters()

    # Files dragged onto the window.

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and _dropped(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        paths = _dropped(event.mimeData()) if event is not None else []
        if not paths:
            return
        assert event is not None
        event.acceptProposedAction()
        if self.step == "place":
            sources.place_paths(self, paths)
        elif paths[0].suffix.lower() in (ENDING, ".toml"):
            project.open_path(self, paths[0])
        else:
            sources.take_in(self, paths)

    # Sizes.

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """The fallback menu: where a click picks documents, the actions on them."""
        if event is not None:
            actions = (
                ("Only these", partial(pick.keep_only_these, self)),
                ("Without these", partial(pick.leave_these_out, self)),
                ("Keep as…", partial(pick.keep_pick, self)),
            )
            self.context = context_menu(
                self, event, self.bench, actions, partial(findings.pin_rows, self), partial(results.save_table, self)
            )

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """Fold what has no room: the side, and the words of the spine."""
        if hasattr(self, "menus"):
            self.menus.fit()
        letters = self.middle.in_usual_letters(self.width())
        bar = self.menuBar()
        high = self.height() - self.pick_bar.sizeHint().height() - (bar.sizeHint().height() if bar is not None else 0)
        self.spine.set_compact(letters < _COMPACT_BELOW or high < self.spine.full_height())
        self.middle.fit(self.width())

    def fit_letters(self) -> None:
        """Letters have another size: what was measured by them is measured anew."""
        if hasattr(self, "middle"):
            self.middle.fit_letters()
            self._fit()

    def _first_size(self) -> QSize:
        """The size at the first start: what letters of this size need, but never more than the screen has. Pictures and tests have one of
        their own."""
        screen = self.screen()
        if self.memory is None or screen is None:
            return QSize(1280, 800)
        scale = max(self.fontMetrics().averageCharWidth() / _LETTER, 1.0)
        room = screen.availableSize()
        frame = QSize(0, self.fontMetrics().height() * 2)  # the title that the desktop puts above it
        wanted = QSize(round(1280 * scale), round(800 * scale)).expandedTo(room * 4 / 5)
        return wanted.boundedTo(room - frame)

    def _recall_sizes(self) -> None:
        if self.memory is None:
            return
        kept = self.memory.value("geometry")
        if isinstance(kept, QByteArray):
            self.restoreGeometry(kept)
        self.middle.recall()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if not project.may_close(self):
            assert event is not None
            event.ignore()
            return
        if self.memory is not None:
            self.memory.setValue("geometry", self.saveGeometry())
            self.middle.keep()
        self.recall.note()
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
