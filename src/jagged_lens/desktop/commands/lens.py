# SPDX-License-Identifier: GPL-3.0-or-later
"""Commands on the lens in front."""

from __future__ import annotations

from jagged_lens.desktop.commands.asked import asked
from jagged_lens.desktop.commands.command import Command, Reach
from jagged_lens.desktop.commands.pick import came_with_data
from jagged_lens.desktop.desks.by_group import group_title
from jagged_lens.desktop.desks.group import by_hand
from jagged_lens.lens import CORPUS, GROUPING, KEY_TERMS, SPACE, TERMS, Recipe
from jagged_lens.project import Shown
from jagged_lens.project.state import free_name


def new_lens(window: Reach) -> None:
    state = window.bench.state
    plain = Recipe(gather=state.recipe.gather)
    window.bench.change(state.with_new_lens(plain, "New lens"), "new lens")


def double_lens(window: Reach) -> None:
    state = window.bench.state
    window.bench.change(state.with_new_lens(state.recipe, f"{state.lens.name}, varied"), "duplicate the lens")


def rename_lens(window: Reach) -> None:
    state = window.bench.state
    name = asked(window, "Rename the lens", "Name", state.lens.name)
    if name:
        window.bench.change(state.renamed(name), "rename the lens")


def delete_lens(window: Reach) -> None:
    state = window.bench.state
    window.bench.change(state.without_lens(), f"delete {state.lens.name}")


def keep_groups(window: Reach) -> None:
    """Make a label of the groups, and group by it."""
    bench = window.bench
    if not bench.ready(*_GROUPS):
        return
    taken = [label.name for label in bench.documents.labels()]
    name = asked(window, "Keep groups as a label", "Label", free_name("groups", taken))
    if not name or came_with_data(window, name):
        return
    shown = Shown(bench)
    shown.take()
    by_hand.keep_as_label(shown, name, [group_title(shown, group) for group in range(len(shown.results[GROUPING]))])


def _next(window: Reach, by: int) -> None:
    state = window.bench.state
    window.bench.choose_lens((state.active + by) % len(state.lenses))


def _move(window: Reach, by: int) -> None:
    window.bench.change(window.bench.state.moved(by), "move the lens")


def _grouped(window: Reach) -> bool:
    bench = window.bench
    return bench.ready(*_GROUPS) and len(bench.results[GROUPING]) > 0


def _several(window: Reach) -> bool:
    return len(window.bench.state.lenses) > 1


_GROUPS = (CORPUS, SPACE, TERMS, GROUPING, KEY_TERMS)
LENS = (
    Command("&New lens", new_lens, "Ctrl+Shift+N", "Add a lens with default settings on the same documents."),
    Command("&Duplicate", double_lens, "Ctrl+D", "Copy this lens to try a variant. What both share is computed once."),
    Command("&Rename…", rename_lens, "F2", "Give this lens another name."),
    Command("De&lete", delete_lens, "", "Delete this lens; undo brings it back.", enabled=_several),
    Command(
        "Keep groups as a la&bel…",
        keep_groups,
        "",
        "Turn the groups into a label of your own. You can then rename, merge, split and correct them.",
        rule=True,
        enabled=_grouped,
    ),
    Command(
        "Next lens",
        lambda window: _next(window, 1),
        "Ctrl+PgDown",
        "Bring the next lens to the front.",
        rule=True,
        enabled=_several,
    ),
    Command(
        "Previous lens",
        lambda window: _next(window, -1),
        "Ctrl+PgUp",
        "Bring the previous lens to the front.",
        enabled=_several,
    ),
    Command("Move up", lambda window: _move(window, -1), "", "Move this lens up in the list.", enabled=_several),
    Command("Move down", lambda window: _move(window, 1), "", "Move this lens down in the list.", enabled=_several),
    Command(
        "&Pause computing",
        lambda window: window.bench.set_hold(not window.bench.hold),
        "Ctrl+H",
        "Wait with computing while you change several settings.",
        rule=True,
    ),
    Command("&Compute again", lambda window: window.bench.compute_anew(), "F5", "Compute what is out of date."),
    Command("&Stop", lambda window: window.bench.stop(), "Ctrl+.", "Stop computing and keep the previous results."),
)

OF_ONE = ("New lens", "Duplicate", "Rename", "Delete", "Move up", "Move down", "Pause computing")
"""Those that stand in the list of lenses on the spine, too."""
