# SPDX-License-Identifier: GPL-3.0-or-later
"""A command, and what it can reach in the window. The window is a Reach; commands know nothing else of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QSettings
from PyQt6.QtWidgets import QDialog, QMainWindow

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.frame.desk_area import DeskArea
from jagged_lens.desktop.frame.find_bar import FindBar
from jagged_lens.desktop.frame.finder import Finder
from jagged_lens.desktop.frame.middle import Middle
from jagged_lens.desktop.frame.pick_bar import PickBar
from jagged_lens.desktop.frame.recall import Recall
from jagged_lens.desktop.frame.side import Side
from jagged_lens.desktop.frame.spine import Spine
from jagged_lens.desktop.frame.tour import Tour
from jagged_lens.desktop.look.plain import Message
from jagged_lens.desktop.sheets.add_source import AddSource
from jagged_lens.desktop.sheets.columns_wanted import ColumnsWanted
from jagged_lens.desktop.sheets.dropped import DroppedSheet
from jagged_lens.desktop.sheets.listing import Listing
from jagged_lens.desktop.sheets.pack_sheet import PackSheet
from jagged_lens.desktop.sheets.preferences import Preferences, PreferencesWindow
from jagged_lens.desktop.sheets.save_sheet import SaveSheet
from jagged_lens.project import Bench


class Reach(QMainWindow):
    """A window with its bench, its parts, and what lies over it.

    memory: what is remembered between windows; None where nothing is: pictures are drawn, or tests look at a window alone.
    source_asker: asks servers and drives, so that they keep no other question waiting. The last window of
    each kind is held here, so that it lives as long as it is shown.
    """

    bench: Bench
    memory: QSettings | None
    asker: Asker
    source_asker: Asker
    spine: Spine
    side: Side
    middle: Middle
    area: DeskArea
    pick_bar: PickBar
    find_bar: FindBar
    desks: dict[str, Desk]
    recall: Recall
    preferences: Preferences
    close_anyway: bool  # though something is not saved
    commands: tuple[Command, ...]  # all of them, in the order of the menus

    open_box: Message
    about_box: Message
    sheet: AddSource
    dropped: DroppedSheet
    columns: ColumnsWanted
    save_sheet: SaveSheet
    listing: Listing
    finder: Finder
    tour: Tour
    keys_dialog: QDialog
    guide: QDialog | None = None
    preferences_window: PreferencesWindow
    pack_sheet: PackSheet

    @property
    def step(self) -> str:
        """The step whose desk is in front."""
        return self.area.front

    @property
    def desk(self) -> Desk:
        """The desk in front."""
        return self.desks[self.step]

    def show_step(self, step: str) -> None:
        """Bring the desk of a step to the front, and the leaf of the side that fits it."""
        raise NotImplementedError

    def after_turns(self, does: Callable[[], object]) -> None:
        """Do something once the desk that is brought up has been drawn."""
        raise NotImplementedError

    def put_beside(self, step: str) -> None:
        """Put the desk of a step beside the one in front; where the window has no room for three, the side folds."""
        raise NotImplementedError

    def take_preferences(self) -> None:
        """Go by the preferences as they are now."""
        raise NotImplementedError

    def say_state(self) -> None:
        """Show what the project is called, and what undo would take back."""
        raise NotImplementedError

    def take_keyboard(self) -> None:
        """Return the keyboard to the desk when what covered the window is gone."""
        self.activateWindow()
        self.desk.take_focus()


def _always(window: Reach) -> bool:
    return True


@dataclass(frozen=True)
class Command:
    """Something the user can do.

    words: its name, with & before the letter of the menu; does: called with the window; key: its shortcut; help: what it does,
    in a sentence; rule: a line before it in the menu; enabled: whether it can be done now.
    """

    words: str
    does: Callable[[Reach], object]
    key: str = ""
    help: str = ""
    rule: bool = False
    enabled: Callable[[Reach], bool] = _always

    @property
    def name(self) -> str:
        """The words without the mark of the menu letter and the dots."""
        return self.words.replace("&", "").rstrip("…")
