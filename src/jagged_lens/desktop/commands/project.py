# SPDX-License-Identifier: GPL-3.0-or-later
"""Commands on the project: open, save, leave."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from jagged_lens.demo import demo_recipe
from jagged_lens.desktop import saving
from jagged_lens.desktop.commands.command import Command, Reach
from jagged_lens.desktop.commands.preferences import PREFERENCES
from jagged_lens.desktop.commands.results import RESULTS
from jagged_lens.desktop.commands.sources import SOURCES, add_documents
from jagged_lens.desktop.frame import recent
from jagged_lens.desktop.look.plain import Message, message
from jagged_lens.desktop.sheets.pack_sheet import PackSheet
from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import ENDINGS, TABLES
from jagged_lens.lens import recipe_text, with_lists_inside
from jagged_lens.named_file import write_text
from jagged_lens.project import ENDING, Keeper, ProjectFile, hold, opened, pack, said_without

_SAVING = 3.0  # seconds that closing waits for


def open_path(window: Reach, path: Path) -> None:
    """Open a project, a recipe, a table, a text or a folder; says why where it cannot be opened."""
    project = path.suffix.lower() == ENDING
    keeper, reading, looked, unwritable = None, None, {}, ""
    try:
        window.recall.note()
        state = opened(path)
        if keeps(window):
            if project:
                keeper, reading, unwritable = hold(path)
                looked = ProjectFile(path).window()
            else:
                keeper = _unnamed(window)
        window.bench.open(path, keeper, state, reading)
    except JaggedLensError as error:
        if keeper is not None:
            keeper.close(worth_keeping=project)
        say_unopened(window, path, str(error))
        return
    recent.remember(window.memory, path)
    if project:
        window.recall.project(looked)
        if reading is not None:
            say_only_read(window, path, unwritable)
        if state.without:
            window.pick_bar.say(said_without(state.without))
    else:
        window.show_step("gather" if path.suffix.lower() != ".toml" else window.step)


def keeps(window: Reach) -> bool:
    """True if projects are kept; not so where pictures are drawn or tests look at a window alone."""
    return window.memory is not None


def say_unopened(window: Reach, path: Path, reason: str) -> None:
    """Say that a file was not opened, and why."""
    window.open_box = message(window, f"{path.name} was not opened.", reason)
    window.open_box.open()


def say_only_read(window: Reach, path: Path, reason: str) -> None:
    """Say that a project is open to be read, and what to do to keep what is changed."""
    window.pick_bar.say(f"{path.name} is read-only. Save it under another name to keep changes.")
    window.open_box = message(
        window,
        f"{path.name} can be read but not written. To keep changes, save it under another name.",
        reason,
        Message.Icon.Information,
    )
    window.open_box.open()


def say_unkept(window: Reach, reason: str) -> None:
    """Say that this project is not kept by itself."""
    window.pick_bar.say("This project is not saved automatically. Save it under a name.")
    window.open_box = message(window, "This project is not saved automatically. Save it under a name.", reason)
    window.open_box.open()


def _unnamed(window: Reach) -> Keeper | None:
    """The keeper of a project without a name; None, and a message, if the folder for those cannot be written."""
    try:
        return Keeper.unnamed()
    except JaggedLensError as error:
        say_unkept(window, str(error))
        return None


def offer_left_over(window: Reach, paths: list[Path]) -> None:
    """After a crash: offer what was kept of a project that had no name."""
    if not paths:
        return
    box = message(
        window,
        "Jagged Lens ended unexpectedly. The unnamed project that was open has been recovered.",
        "You can also open it later under Project, Open recent.",
        Message.Icon.Information,
    )
    open_it = box.addButton("Open it", Message.ButtonRole.AcceptRole)
    box.addButton("Not now", Message.ButtonRole.RejectRole)
    box.buttonClicked.connect(lambda button: open_path(window, paths[0]) if button is open_it else None)
    box.open()
    window.open_box = box


def new_project(window: Reach) -> None:
    """Leave this project, which is kept, for a new one without documents."""
    window.recall.note()
    window.bench.leave()
    window.bench.begin(_unnamed(window) if keeps(window) else None)
    window.show_step("gather")


def _open_file(window: Reach) -> None:
    texts = " ".join(f"*{ending}" for ending in sorted({*TABLES, *ENDINGS}))
    name, _ = QFileDialog.getOpenFileName(
        window,
        "Open",
        str(window.bench.state.folder),
        f"Projects and recipes (*{ENDING} *.toml);;Tables and texts ({texts});;All files (*)",
    )
    if not name:
        return
    path = Path(name)
    if path.suffix.lower() in (ENDING, ".toml"):
        open_path(window, path)
    else:  # a table or a text is looked at first, and becomes a new project
        new_project(window)
        add_documents(window, path)


def save(window: Reach) -> None:
    """Save now; a project without a name is given one."""
    keeper = window.bench.keeper
    if keeper is None or not keeper.named:
        save_as(window)
        return
    window.recall.note()
    window.bench.save()
    window.pick_bar.say(f"Saved {keeper.path.name}." if keeper.flush() else keeper.failure)
    window.say_state()


def save_as(window: Reach) -> None:
    """Ask for a name and save under it."""
    keeper = window.bench.keeper
    start = keeper.path if keeper is not None and keeper.named else window.bench.state.folder / f"project{ENDING}"
    name, _ = QFileDialog.getSaveFileName(window, "Save the project", str(start), f"Projects (*{ENDING})")
    if name:
        path = Path(name)
        save_to(window, path if path.suffix.lower() == ENDING else path.with_name(path.name + ENDING))


def save_to(window: Reach, path: Path) -> None:
    """Save the project under a name, and keep it there from now on."""
    window.recall.note()
    try:
        window.bench.save_as(path)
    except JaggedLensError as error:
        window.open_box = message(window, "The project was not saved.", str(error))
        window.open_box.open()
        return
    recent.remember(window.memory, path)
    window.pick_bar.say(f"Saved {path.name}. From now on it is saved automatically.")


def _save_recipe(window: Reach) -> None:
    bench = window.bench
    name, _ = QFileDialog.getSaveFileName(
        window, "Save recipe", str(bench.state.folder / "recipe.toml"), "Recipes (*.toml)"
    )
    if name:
        text = f"# {bench.state.lens.name}\n{recipe_text(bench.recipe)}"
        saving.save_to(window, Path(name), lambda beside: write_text(beside, text))


def _save_recipe_whole(window: Reach) -> None:
    bench = window.bench
    try:
        whole = with_lists_inside(bench.recipe, bench.state.folder)
    except (JaggedLensError, OSError) as error:
        window.open_box = message(window, "The recipe was not saved.", str(error))
        window.open_box.open()
        return
    name, _ = QFileDialog.getSaveFileName(
        window, "Save recipe with its lists", str(bench.state.folder / "recipe.toml"), "Recipes (*.toml)"
    )
    if name:
        text = f"# {bench.state.lens.name}\n{recipe_text(whole)}"
        saving.save_to(window, Path(name), lambda beside: write_text(beside, text))


def pack_project(window: Reach) -> None:
    """Choose what a colleague gets, and write it into a project of its own; this one stays as it is."""
    window.pack_sheet = PackSheet(partial(_pack, window), window)
    window.pack_sheet.open()


def _pack(window: Reach, keep: list[str]) -> None:
    keeper, reading = window.bench.keeper, window.bench.reading
    file = keeper.file if keeper is not None else reading
    if file is None:
        window.pick_bar.say("There is no project to pack yet.")
        return
    start = window.bench.state.folder / f"for-a-colleague{ENDING}"
    name, _ = QFileDialog.getSaveFileName(window, "Pack the project", str(start), f"Projects (*{ENDING})")
    if not name:
        return
    path = Path(name) if name.lower().endswith(ENDING) else Path(f"{name}{ENDING}")
    if path.absolute() == file.path.absolute():
        window.open_box = message(
            window, "The project was not packed.", "Choose another name than that of the project."
        )
        window.open_box.open()
        return
    if keeper is not None:
        keeper.flush()
    state = window.bench.state
    window.asker.ask_stoppable(
        "pack",
        lambda progress: pack(file, state, path, keep),
        lambda _: window.pick_bar.say(f"Packed {path.name}."),
        lambda words: window.pick_bar.say(words),
    )


def may_close(window: Reach) -> bool:
    """True if nothing would be lost if the window closed now; where something would be, the user is asked."""
    reason = "" if window.close_anyway else _unsaved(window)
    if reason and not window.property("ended"):  # where the session ends nobody answers
        _ask_before_closing(window, reason)
        return False
    return True


def _unsaved(window: Reach) -> str:
    """The reason why closing the window would lose something; "" if it would not."""
    keeper = window.bench.keeper
    if not keeps(window) or not window.bench.worth_keeping:
        return ""
    if keeper is None:
        return "This project is not saved automatically."
    window.recall.note()
    window.bench.save()
    if keeper.flush(_SAVING):
        return ""
    return keeper.failure or f"Saving is taking longer than {_SAVING:g} seconds."


def _ask_before_closing(window: Reach, reason: str) -> None:
    box = message(window, "The last changes are not saved.", reason)
    save_it = box.addButton("Save as…", Message.ButtonRole.AcceptRole)
    leave = box.addButton("Close without saving", Message.ButtonRole.DestructiveRole)
    stay = box.addButton("Stay", Message.ButtonRole.RejectRole)
    box.setDefaultButton(save_it)
    box.setEscapeButton(stay)

    def chosen(button: object) -> None:
        if button is save_it:
            save_as(window)
        elif button is leave:
            window.close_anyway = True
            window.close()

    box.buttonClicked.connect(chosen)
    box.open()
    window.open_box = box


PROJECT = (
    Command("&New", new_project, "Ctrl+N", "Start a new project without documents."),
    Command("&Open…", _open_file, "Ctrl+O", "Open a project, a recipe, a table or a text."),
    Command(
        "Open the &demo",
        lambda window: open_path(window, demo_recipe()),
        "",
        "Open the Larkmoor return notes.",
    ),
    *SOURCES,
    Command("&Save", save, "Ctrl+S", "Save the project. A named project is also saved automatically.", rule=True),
    Command("Save &as…", save_as, "Ctrl+Shift+S", "Save the project under another name."),
    Command("Save r&ecipe as…", _save_recipe, "", "Save the settings of this lens."),
    Command(
        "Save recipe with its lists…",
        _save_recipe_whole,
        "",
        "Save the settings of this lens with the word lists inside, so that no other file is needed.",
    ),
    Command(
        "Pac&k for a colleague…",
        pack_project,
        "",
        "Write a copy of the project to hand on, with or without texts, web pages, decisions and notes.",
    ),
    *RESULTS,
    *PREFERENCES,
    Command("&Quit", lambda window: window.close(), "Ctrl+Q", "Close the window.", rule=True),
)
