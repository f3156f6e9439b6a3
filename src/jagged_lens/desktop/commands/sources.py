# SPDX-License-Identifier: GPL-3.0-or-later
"""Commands that bring documents in."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from jagged_lens.desktop.commands.command import Command, Reach
from jagged_lens.desktop.look.plain import message
from jagged_lens.desktop.look.words import amount, said_roles
from jagged_lens.desktop.sheets.add_source import AddSource
from jagged_lens.desktop.sheets.dropped import DroppedSheet
from jagged_lens.desktop.sheets.listing import Listing
from jagged_lens.gather import TABLES, Means, Preview, Source, preview, together
from jagged_lens.project import Refreshed, new_sources


def add_documents(window: Reach, path: Path | None = None) -> None:
    """Open the sheet on which a source is added."""
    bench = window.bench
    window.sheet = AddSource(
        bench.state.folder, window.source_asker, partial(add_source, window), window, passwords=bench.passwords
    )
    window.sheet.open()
    if path is not None:
        window.sheet.choose(path)


def add_source(window: Reach, source: Source, passwords: dict[str, str]) -> None:
    """Add a source that was described on the sheet; passwords: of its database."""
    window.bench.passwords.update(passwords)
    window.bench.add_source(source)
    window.show_step("gather")


def place_new(window: Reach) -> None:
    """Open the same sheet for documents that are to be seen through the lens as it is."""

    def done(source: Source, passwords: dict[str, str]) -> None:
        bench.passwords.update(passwords)
        bench.place_source(source)

    bench = window.bench
    window.sheet = AddSource(bench.state.folder, window.source_asker, done, window, passwords=bench.passwords)
    window.sheet.open()


def place_paths(window: Reach, paths: Sequence[Path]) -> None:
    """See files and folders through the lens at once, tables as those that are there."""
    bench = window.bench
    for number, path in enumerate(paths):
        window.source_asker.ask_stoppable(
            f"new documents of {number} {path}",
            lambda progress, path=path: new_sources(path, bench.state.sources),  # type: ignore[misc]
            partial(_place_found, window),
            partial(_not_added, window, path.name),
        )


def _place_found(window: Reach, found: Sequence[Source]) -> None:
    for source in found:
        window.bench.place_source(source)


def add_pasted(window: Reach) -> None:
    """Open the same sheet with what is on the clipboard."""
    add_documents(window)
    window.sheet.paste()


def change_source(window: Reach, number: int) -> None:
    """Open the sheet with a source that is there."""

    def done(source: Source, passwords: dict[str, str]) -> None:
        bench.passwords.update(passwords)
        bench.change_source(number, source)

    bench = window.bench
    state = bench.state
    if number >= len(state.sources):
        return
    window.sheet = AddSource(state.folder, window.source_asker, done, window, state.sources[number], bench.passwords)
    window.sheet.open()


def take_in(window: Reach, paths: Sequence[Path]) -> None:
    """Add files and folders at once, tables with the roles that their columns are guessed to have."""
    window.show_step("gather")
    folder = window.bench.state.folder
    means = Means(folder, 2)
    if len(paths) > 1:
        _propose(window, together(paths, folder), means)
        return
    for number, path in enumerate(paths):
        place = path.relative_to(folder) if path.is_relative_to(folder) else path
        source = Source(file=str(place))
        if path.suffix.lower() not in TABLES:
            window.bench.add_source(source)
            continue
        window.source_asker.ask_stoppable(
            f"roles of {number} {path}",
            lambda progress, source=source: preview(source, means, progress),  # type: ignore[misc]
            partial(_take_guessed, window),
            partial(_not_added, window, path.name),
        )


def _propose(window: Reach, sources: Sequence[Source], means: Means) -> None:
    """Several at once: one sheet says what each is taken for, before anything is added."""

    def change(source: Source, changed: Callable[[Source], None]) -> None:
        def described(new: Source, passwords: dict[str, str]) -> None:
            window.bench.passwords.update(passwords)
            changed(new)

        window.sheet = AddSource(
            means.folder, window.source_asker, described, window.dropped, source, window.bench.passwords
        )
        window.sheet.open()

    window.dropped = DroppedSheet(sources, means, window.source_asker, window.bench.add_sources, change, window)
    window.dropped.open()


def _take_guessed(window: Reach, found: Preview) -> None:
    window.bench.add_source(found.source)
    number = len(window.bench.state.sources) - 1
    text = f"{found.source.name}: {said_roles(found.source)}"
    window.pick_bar.offer(text, "Change…", lambda: change_source(window, number))


def _not_added(window: Reach, name: str, reason: str) -> None:
    window.pick_bar.say(f"{name} was not added.")
    window.open_box = message(window, f"{name} was not added.", reason)
    window.open_box.open()


def show_refreshed(window: Reach, found: Refreshed) -> None:
    """Show what reading the sources again has found; nothing is taken in before the user says so."""
    if found.nothing:
        window.bench.take_in_quietly(found)
        failed = f" {amount(len(found.unread), 'thing')} could not be read." if found.unread else ""
        window.pick_bar.say(f"Nothing has changed.{failed}")
        return
    rows = [
        ["new" if key in new else "changed" if key in changed else "gone", found.titles[key], key]
        for new, changed in [(set(found.new), set(found.changed))]
        for key in (*found.new, *found.changed, *found.gone)
    ]
    text = f"{len(found.new):,} new, {len(found.changed):,} changed, {len(found.gone):,} gone."
    if found.unread:
        text += f" {len(found.unread):,} could not be read: {found.unread[0]}"
    text += " Nothing has been added yet."
    window.listing = Listing(
        "Result of refreshing",
        text,
        ["What", "Title", "Key"],
        rows,
        window,
        ("Add them", lambda: window.bench.take_in(found)),
    )
    window.listing.show()


SOURCES = (
    Command(
        "&Add documents…",
        add_documents,
        "Ctrl+Shift+D",
        "Add files, folders, tables, a database or web pages.",
        rule=True,
    ),
    Command(
        "Add what is on the &clipboard…",
        add_pasted,
        "Ctrl+Shift+V",
        "Add a table with tabs, or texts, with the same preview.",
    ),
    Command(
        "&Place new documents…",
        place_new,
        "Ctrl+Alt+D",
        "View new documents through this lens without adding them.",
        enabled=lambda window: bool(window.bench.state.sources),
    ),
    Command(
        "&Refresh the sources",
        lambda window: window.bench.refresh(),
        "Shift+F5",
        "Read all sources again and list new, changed and missing documents.",
        enabled=lambda window: bool(window.bench.state.sources),
    ),
)
