# SPDX-License-Identifier: GPL-3.0-or-later
"""Commands that keep what is seen as a finding, and go back to it."""

from __future__ import annotations

import dataclasses
import datetime

from PyQt6.QtWidgets import QApplication, QWidget

from jagged_lens.desktop.commands.command import Command, Reach
from jagged_lens.desktop.desks.seen import Seen, seen_at, seen_in
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.desktop.tables.table_file import rows_of
from jagged_lens.lens import Recipe, settings_of
from jagged_lens.project import SHARED, Finding, next_number
from jagged_lens.report import figures_of, title_of


def pin(window: Reach) -> None:
    """Keep what is seen: the texts of the reader where the keyboard is in it, else what is in front."""
    focus = QApplication.focusWidget()
    reader = window.side.reader
    if isinstance(focus, QWidget) and reader.isAncestorOf(focus) and reader.shown_views():
        pin_reading(window)
    elif window.step == "report":
        window.pick_bar.say("Pin on another desk: what is seen there then goes into the report.")
    elif window.desk.content.isHidden():
        window.pick_bar.say("There is nothing to pin yet.")
    else:
        _keep(window, seen_at(window.desk))


def pin_reading(window: Reach) -> None:
    """Keep the texts that are read beside the desk, with their marks."""
    seen = seen_in(window.side.reader)
    if seen.quotes:
        _keep(window, seen)
    else:
        window.pick_bar.say("Read a document first; it can then be pinned with its marks.")


def pin_rows(window: Reach, table: TableView) -> None:
    """Keep the chosen rows of a table."""
    words = f"{table.accessibleName()}, {amount(table.chosen_count(), 'row')}"
    seen = Seen(words, table.chosen_count() == 1, rows=rows_of(table, chosen=True))
    _keep(window, seen)


def finding_of(window: Reach, seen: Seen, number: int) -> Finding:
    """The finding that what is seen now makes."""
    bench = window.bench
    shown = window.desk.in_front.bench
    results, names = shown.results, shown.documents.group_names().given
    way = window.recall.way()
    figures = figures_of(way, results.recipe, results, seen.about_pick)
    title = title_of(way, results.recipe, results, names, seen.words, seen.about_pick)
    return Finding(
        number,
        title,
        "",
        datetime.date.today().isoformat(),
        bench.state.lens.name,
        results.recipe,
        way,
        tuple(figures.items()),
        seen.drawing,
        seen.rows,
        seen.quotes,
    )


def _keep(window: Reach, seen: Seen) -> None:
    state = window.bench.state
    finding = finding_of(window, seen, next_number(state.report))
    window.bench.change(state.with_entry(finding), "pin")
    window.pick_bar.offer(f"Pinned: {finding.title}", "Go to the report", lambda: window.show_step("report"))


def _found(window: Reach, number: int) -> Finding | None:
    return next((one for one in window.bench.state.findings if one.number == number), None)


def go_back(window: Reach, number: int) -> None:
    """Bring lens, desk, face, pick and reader back to where a finding was pinned."""
    finding = _found(window, number)
    if finding is not None and _choose_lens(window, finding):
        window.recall.go(finding.way)


def _choose_lens(window: Reach, finding: Finding) -> bool:
    """Bring the lens of a finding to the front; False where it is gone."""
    names = [lens.name for lens in window.bench.state.lenses]
    if finding.lens not in names:
        window.pick_bar.say(f"The lens “{finding.lens}” is gone. “Lens as it was” adds it again.")
        return False
    window.bench.choose_lens(names.index(finding.lens))
    return True


def as_it_was(window: Reach, number: int) -> None:
    """Add a lens with the settings of a finding, and go back to it there."""
    finding = _found(window, number)
    if finding is None:
        return
    state = window.bench.state
    recipe = _with_shared(finding.recipe, state.recipe)
    name = f"{finding.lens}, {finding.day}"
    window.bench.change(state.with_new_lens(recipe, name), "lens as it was")
    window.recall.go(finding.way)


def _with_shared(recipe: Recipe, own: Recipe) -> Recipe:
    """The recipe with the sources of another, which all lenses of a project share."""
    return recipe.with_settings("gather", {key: getattr(own.gather, settings_of("gather")[key].name) for key in SHARED})


def renew(window: Reach, number: int) -> None:
    """Go back to a finding, and pin it again as it is now, in its place and with its note."""
    finding = _found(window, number)
    if finding is None or not _choose_lens(window, finding):
        return
    window.recall.go(finding.way)
    _Renewing(window, finding)


class _Renewing:
    """Waits until what is in front is drawn as it is now, and renews a finding. It gives up where the user goes elsewhere."""

    def __init__(self, window: Reach, finding: Finding) -> None:
        self._window = window
        self._finding = finding
        self._desk = finding.way.desk
        window.bench.settled.subscribe(self._try)
        window.bench.part_changed.subscribe(self._try)
        window.after_turns(self._try)

    def _try(self, _: object = None) -> None:
        window = self._window
        if window.step != self._desk or _found(window, self._finding.number) is None:
            self._end()
            return
        front = window.desk.in_front
        if not window.bench.ready(*front.needs):
            return
        self._end()
        window.desk.prepare()
        before = self._finding
        seen = (
            seen_at(window.desk)
            if not before.quotes
            else Seen(before.title, True, before.drawing, before.rows, before.quotes)
        )
        new = finding_of(window, seen, before.number)
        title = before.title if before.named else new.title
        new = dataclasses.replace(new, title=title, named=before.named, note=before.note)
        window.bench.change(window.bench.state.with_entry_changed(new), "renew the finding")
        window.pick_bar.offer(f"Renewed: {new.title}", "Go to the report", lambda: window.show_step("report"))

    def _end(self) -> None:
        self._window.bench.settled.leave(self._try)
        self._window.bench.part_changed.leave(self._try)


FINDINGS = (
    Command("&Pin what is seen", pin, "P", "Keep this view as a finding for the report, with the way back to it."),
    Command(
        "Pin the &text being read",
        pin_reading,
        "",
        "Keep the document or pair in the reader, with its marks.",
    ),
    Command("&Go to the report", lambda window: window.show_step("report"), "", "Findings and the page as it will be."),
)
