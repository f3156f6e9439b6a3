# SPDX-License-Identifier: GPL-3.0-or-later
"""Commands on what is picked."""

from __future__ import annotations

from jagged_lens.desktop.commands.asked import asked
from jagged_lens.desktop.commands.command import Command, Reach
from jagged_lens.desktop.commands.view import compare_one, pairs_of_pick
from jagged_lens.desktop.desks.group.desk import GroupDesk
from jagged_lens.desktop.desks.group.terms import TermGroups
from jagged_lens.desktop.look.plain import Message, message
from jagged_lens.lens import CORPUS
from jagged_lens.project import only_these, without_these


def group_terms(window: Reach) -> None:
    """Go to the groups and the map of the picked terms."""
    window.show_step("group")
    desk = window.desks["group"]
    assert isinstance(desk, GroupDesk)
    desk.bring_up(TermGroups)


def keep_pick(window: Reach) -> None:
    name = asked(window, "Keep the pick", "Name", f"Pick {len(window.bench.state.kept) + 1}")
    if name:
        window.bench.keep_pick(name)
        window.pick_bar.say(f"Kept as {name}.")


def forget_pick(window: Reach, name: str) -> None:
    window.bench.change(window.bench.state.without_kept(name), f"forget {name}")


def came_with_data(window: Reach, label: str) -> bool:
    """True if a label came with the documents, and cannot be one of the user's own; that is said."""
    if label not in (one.name for one in window.bench.results[CORPUS].labels):
        return False
    text = f"{label} came with the data. Choose another name for a label of your own."
    message(window, text, icon=Message.Icon.Information).exec()
    return True


def label_pick(window: Reach) -> None:
    bench = window.bench
    own = [label.name for label in bench.state.labels]
    label = asked(window, "Label the pick", "Label", own[-1] if own else "mine", own)
    if not label:
        return
    if came_with_data(window, label):
        return
    value = asked(window, "Label the pick", f"Value of {label} (leave empty to remove it)", "", empty=True)
    if value is not None:
        bench.label_pick(label, value)


def keep_only_these(window: Reach) -> None:
    """Narrow the lens to what is picked."""
    window.pick_bar.say(f"Only {only_these(window.bench)}. Undo reverts it; Gather shows the filter.")


def leave_these_out(window: Reach) -> None:
    """Leave what is picked out of the lens."""
    window.pick_bar.say(f"Without {without_these(window.bench)}. Undo reverts it; Gather shows the filter.")


def set_aside(window: Reach) -> None:
    reason = asked(window, "Set aside", "Reason", "", empty=True)
    if reason is not None:
        count = len(window.bench.pick)
        window.bench.set_pick_aside(reason)
        window.pick_bar.say(f"{count:,} set aside. Undo brings them back.")


def _bring_back(window: Reach) -> None:
    window.bench.bring_back(window.bench.documents.keys_of(window.bench.pick.rows))


def _pick_aside(window: Reach) -> None:
    bench = window.bench
    rows = bench.documents.rows_of(key for key, _ in bench.state.aside)
    bench.pick.set(rows)
    window.pick_bar.say("" if rows else "Nothing is set aside.")


def _picked(window: Reach) -> bool:
    return len(window.bench.pick) > 0


def _terms_picked(window: Reach) -> bool:
    return bool(window.bench.pick.terms)


PICK = (
    Command("&All", lambda window: window.bench.pick_all(), "Ctrl+Shift+A", "Pick all documents of the lens."),
    Command("&None", lambda window: window.bench.pick.clear(), "", "Clear the pick.", enabled=_picked),
    Command("&Invert", lambda window: window.bench.invert_pick(), "Ctrl+I", "Pick all documents that are not picked."),
    Command(
        "Add &nearest neighbours",
        lambda window: window.bench.grow_pick(),
        "Ctrl+G",
        "Add the nearest neighbours of the picked documents.",
        enabled=_picked,
    ),
    Command("&Keep as…", keep_pick, "Ctrl+M", "Save the pick under a name.", rule=True, enabled=_picked),
    Command(
        "&Label…", label_pick, "Ctrl+L", "Give the picked documents a value of a label of your own.", enabled=_picked
    ),
    Command(
        "&Only these",
        keep_only_these,
        "Ctrl+Return",
        "Narrow the lens to the picked documents.",
        rule=True,
        enabled=_picked,
    ),
    Command(
        "&Without these",
        leave_these_out,
        "Ctrl+Shift+Return",
        "Exclude the picked documents from the lens.",
        enabled=_picked,
    ),
    Command(
        "&Set aside…",
        set_aside,
        "Ctrl+Backspace",
        "Remove the picked documents from all lenses, with a reason.",
        enabled=_picked,
    ),
    Command("&Bring back", _bring_back, "", "Bring the picked documents back that were set aside.", enabled=_picked),
    Command("Pick documents set aside", _pick_aside, "", "Pick the documents that are set aside."),
    Command(
        "Compare with all",
        compare_one,
        "Ctrl+E",
        "Compare the document in the reader with all others.",
        rule=True,
        enabled=_picked,
    ),
    Command("Its pairs", pairs_of_pick, "", "List the pairs of the picked documents.", enabled=_picked),
    Command(
        "Group the picked terms",
        group_terms,
        "Ctrl+Shift+G",
        "Group and map the picked terms by the documents that contain them.",
        rule=True,
        enabled=_terms_picked,
    ),
    Command(
        "Documents of the picked terms",
        lambda window: window.bench.pick_documents_of_terms(),
        "",
        "Pick the documents that contain any of the picked terms.",
        enabled=_terms_picked,
    ),
    Command(
        "Cop&y",
        lambda window: window.pick_bar.copy_pick(),
        "Ctrl+Shift+C",
        "Copy key, title and labels, separated by tabs.",
        rule=True,
        enabled=_picked,
    ),
    Command("Show on &map", lambda window: window.show_step("map"), "", "Show the pick on the map.", enabled=_picked),
)
