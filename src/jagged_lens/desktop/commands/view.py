# SPDX-License-Identifier: GPL-3.0-or-later
"""Commands that bring something to the front."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QApplication, QLineEdit, QMenu

from jagged_lens.desktop.commands.command import Command, Reach
from jagged_lens.desktop.commands.findings import pin
from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.contrast.desk import ContrastDesk
from jagged_lens.desktop.desks.group.desk import GroupDesk
from jagged_lens.desktop.desks.place.desk import PlaceDesk
from jagged_lens.desktop.frame.finder import Finder
from jagged_lens.desktop.frame.tour import Tour
from jagged_lens.desktop.look.words import DESKS, TITLES
from jagged_lens.desktop.look.worn import wear


def toggle_beside(window: Reach) -> None:
    """Put another desk beside this one, or take it away."""
    if window.area.beside:
        window.area.put_beside("")
        return
    menu = QMenu(window)
    wear(menu)
    for step in DESKS:
        if step != window.step:
            menu.addAction(TITLES[step], lambda step=step: window.put_beside(step))  # type: ignore[misc]
    menu.setAccessibleName("Second desk")
    menu.popup(window.area.mapToGlobal(window.area.rect().topLeft()))


def fold_side(window: Reach) -> None:
    window.middle.turn_side()


def step_pair(window: Reach, by: int) -> None:
    """Next or previous pair, group or misfit, where those are in front."""
    if isinstance(window.desk, CompareDesk):
        window.desk.step_pair(by)
    elif isinstance(window.desk, (GroupDesk, PlaceDesk)):
        window.desk.step_on(by)


def decide(window: Reach, choice: int) -> None:
    """Decide on the pair or the member of a family in front, 1 to 4."""
    if isinstance(window.desk, CompareDesk):
        window.desk.choose(choice)


def take_back(window: Reach) -> None:
    """Take the last decision back, where pairs are in front."""
    if isinstance(window.desk, CompareDesk):
        window.desk.take_back()


def move_picked(window: Reach) -> None:
    """Offer the groups that what is picked can be moved to, where groups are a label of the user's own."""
    if isinstance(window.desk, GroupDesk):
        window.desk.offer_groups()


def compare_one(window: Reach) -> None:
    """Compare the document that is read with all others."""
    row = window.bench.pick.one
    desk = window.desks["compare"]
    assert isinstance(desk, CompareDesk)
    window.show_step("compare")
    if row >= 0:
        desk.show_against(row)


def pairs_of_pick(window: Reach) -> None:
    """List the pairs of what is picked."""
    desk = window.desks["compare"]
    assert isinstance(desk, CompareDesk)
    window.show_step("compare")
    desk.show_pairs_of_pick()


def escape(window: Reach) -> None:
    """Leave what lies on top: the tour, the finder, a filter, the find bar; then the pick."""
    tour = window.findChild(Tour)
    if tour is not None and tour.isVisible():  # the window's own key comes before that of what lies over it
        tour.end()
        return
    finder = window.findChild(Finder)
    if finder is not None and finder.isVisible():
        finder.close_finder()
        return
    if isinstance(window.desk, (CompareDesk, ContrastDesk, PlaceDesk)) and window.desk.close_reading():
        return
    field = QApplication.focusWidget()
    if isinstance(field, QLineEdit) and field.text() and field.objectName() == "filter":
        field.clear()
    elif window.find_bar.isVisible():
        window.find_bar.close_bar()
    else:
        window.bench.pick.clear()


def copy_picture(window: Reach) -> None:
    """Copy what is in front as a picture."""
    clipboard = QApplication.clipboard()
    if clipboard is not None:
        clipboard.setPixmap(window.desk.grab())
        window.pick_bar.say("The picture is copied.")


def _show(step: str) -> Callable[[Reach], None]:
    return lambda window: window.show_step(step)


def _into_settings(window: Reach) -> None:
    window.side.show_settings()
    window.side.settings.focus()


VIEW = (
    *(
        Command(f"&{number % 10}  {TITLES[step]}", _show(step), f"Alt+{number % 10}", f"Go to desk {TITLES[step]}.")
        for number, step in enumerate(DESKS, 1)
    ),
    Command("Se&cond desk…", toggle_beside, "Ctrl+\\", "Show a second desk beside the one in front.", rule=True),
    Command(
        "&Settings of the step",
        _into_settings,
        "F8",
        "Show the settings of the step and move the keyboard there.",
        rule=True,
    ),
    Command("&Legend", lambda window: window.side.show_legend(), "F7", "Show the legend of the map."),
    Command("&Reader", lambda window: window.side.show_reader(), "F9", "Show the reader."),
    Command("&Fold the side", fold_side, "Ctrl+F9", "Fold or open the side panel."),
    Command(
        "Mark &terms",
        lambda window: window.side.reader.terms_button.toggle(),
        "Ctrl+T",
        "Mark the terms of the lens in the text and list them with their counts.",
        rule=True,
    ),
    Command(
        "Mark what &Clean removes",
        lambda window: window.side.reader.cleaned_button.toggle(),
        "Ctrl+Shift+T",
        "Strike through what Clean removes; dot the tokens that are kept.",
    ),
    Command("Copy as a picture", copy_picture, "", "Copy this desk as a picture.", rule=True),
    Command("Back", lambda window: window.bench.pick.back(), "Alt+Left", "Go to the previous pick."),
    Command("Forward", lambda window: window.bench.pick.forward(), "Alt+Right", "Go to the next pick."),
)

SINGLE_KEYS: dict[str, Callable[[Reach], None]] = {
    "/": lambda window: window.desk.find_in_front(),
    "J": lambda window: step_pair(window, 1),
    "K": lambda window: step_pair(window, -1),
    "1": lambda window: decide(window, 1),
    "2": lambda window: decide(window, 2),
    "3": lambda window: decide(window, 3),
    "4": lambda window: decide(window, 4),
    "U": take_back,
    "M": move_picked,
    "P": pin,
    "Escape": escape,
}
"""Keys that a field that is typed into keeps for itself."""
