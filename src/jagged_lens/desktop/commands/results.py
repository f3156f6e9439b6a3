# SPDX-License-Identifier: GPL-3.0-or-later
"""All results of the lens in front into a folder: the files of `jagged-lens run`, and its report alone."""

from __future__ import annotations

import datetime
import os
from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from jagged_lens.demo import demo_recipe
from jagged_lens.desktop import saving
from jagged_lens.desktop.commands.command import Command, Reach
from jagged_lens.desktop.desks.going_out import table_piece
from jagged_lens.desktop.desks.report.saving import report_piece
from jagged_lens.desktop.saving import Piece, table_kinds
from jagged_lens.desktop.sheets.columns_wanted import ColumnsWanted
from jagged_lens.desktop.sheets.save_sheet import SaveSheet
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.export import ALL_PARTS, CHOICES, given_by, known_columns, write_all
from jagged_lens.lens import ALWAYS, Part, Results
from jagged_lens.project import Shown
from jagged_lens.report import Report, report_of

_WHO = "all results"
_COLUMNS = "columns of documents"


def _is_complete(window: Reach) -> bool:
    """True if all that every lens has belongs to the lens as it is."""
    return not window.bench.working and window.bench.ready(*ALWAYS)


def _shown(window: Reach) -> Shown:
    """The lens in front with the results that belong to it."""
    shown = Shown(window.bench)
    shown.take()
    return shown


def save_report(window: Reach) -> None:
    """Save the report of the lens in front, with what is there of what is computed on demand."""
    state, results, job = window.bench.state, _shown(window).results, window.bench.job()
    day = datetime.date.today().isoformat()

    def made() -> Report:
        names = given_by(state, job, results).groups
        return report_of(state.recipe, results, names, state.lens.name, state.report, day)

    _open_sheet(window, [report_piece(made)])


def save_view(window: Reach) -> None:
    """Save a piece of the view in front: a table, the picture, the figures."""
    pieces = window.desk.pieces()
    if pieces:
        _open_sheet(window, pieces)
    else:
        window.pick_bar.say("There is nothing to save yet.")


def save_table(window: Reach, table: TableView) -> None:
    """Save a table as it is shown."""
    _open_sheet(window, [table_piece(table)])


def _open_sheet(window: Reach, pieces: Sequence[Piece]) -> None:
    folder = window.bench.state.folder
    if folder == demo_recipe().parent or not os.access(folder, os.W_OK):
        folder = Path.home()
    window.save_sheet = SaveSheet(pieces, folder, window.memory, window)
    window.save_sheet.open()


def save_documents(window: Reach) -> None:
    """Choose columns, and save a table of the documents in the lens with everything known of them."""
    results = _shown(window).results
    absent = [choice.key for choice in CHOICES if not all(part in results for part in choice.needs)]
    usual = [choice.key for choice in CHOICES if choice.usual]
    before = window.memory.value(_COLUMNS) if window.memory is not None else None
    ticked = [key for key in str(before).split(",") if key] if before else usual
    window.columns = ColumnsWanted(CHOICES, ticked, absent, lambda keys: _save_columns(window, keys), window)
    window.columns.open()


def _save_columns(window: Reach, keys: list[str]) -> None:
    if window.memory is not None:
        window.memory.setValue(_COLUMNS, ",".join(keys))
    state, job, results = window.bench.state, window.bench.job(), _shown(window).results
    kinds = table_kinds(lambda: known_columns(results, given_by(state, job, results), keys))
    _open_sheet(window, [Piece("The documents as a table", "documents", kinds)])


def save_results(window: Reach) -> None:
    """Save all results of the lens in front; what is computed on demand is computed first, and can be stopped as ever."""
    chosen = QFileDialog.getExistingDirectory(window, "Save all results into a folder", str(window.bench.state.folder))
    if chosen:
        _Saving(window, Path(chosen))


class _Saving:
    """Waits until all parts are there, and writes them. It gives up where the lens changes or the work is stopped."""

    def __init__(self, window: Reach, folder: Path) -> None:
        self._window = window
        self._folder = folder
        self._recipe = window.bench.recipe
        self._open = True
        bench = window.bench
        bench.settled.subscribe(self._try)
        bench.part_changed.subscribe(self._part_changed)
        bench.look_at(_WHO, ALL_PARTS)
        self._try()

    def _part_changed(self, part: Part[object]) -> None:
        if part in ALL_PARTS:
            self._try()

    def _try(self) -> None:
        bench = self._window.bench
        if not self._open:
            return
        if bench.recipe != self._recipe or any(bench.declined(part) for part in ALL_PARTS):
            self._end()
            bench.trouble.emit("The results were not saved: the lens was changed, or the work stopped.", "")
        elif wrong := [bench.errors[part.name] for part in ALL_PARTS if part.name in bench.errors]:
            self._end()
            bench.trouble.emit(f"The results were not saved. {wrong[0]}", "")
        elif bench.ready(*ALL_PARTS):
            self._end()
            results: Results = _shown(self._window).results
            state, job = bench.state, bench.job()

            def write(half: Path) -> None:
                write_all(half, job, state, results, state.lens.name)

            saving.save_to(self._window, self._folder, write)

    def _end(self) -> None:
        self._open = False
        bench = self._window.bench
        bench.settled.leave(self._try)
        bench.part_changed.leave(self._part_changed)
        bench.look_at(_WHO, ())


RESULTS = (
    Command(
        "Save from this &view…",
        save_view,
        "Ctrl+Shift+E",
        "Export a table, the picture or figures of this view: CSV, Excel (.xlsx), .ods, Parquet, JSON, PNG, SVG, PDF.",
        rule=True,
    ),
    Command(
        "Save &documents as a table…",
        save_documents,
        "",
        "Export a row per document with everything known of it, as CSV, Excel (.xlsx), .ods, Parquet or JSON Lines.",
        enabled=_is_complete,
    ),
    Command(
        "Save all res&ults…",
        save_results,
        "",
        "Save all tables of this lens into a folder, with the report: the files of jagged-lens run.",
        enabled=_is_complete,
    ),
    Command(
        "Save re&port…",
        save_report,
        "",
        "Save a report of this lens as a web page, PDF, .docx or Markdown: what is in there, and how sure.",
        enabled=_is_complete,
    ),
)
