# SPDX-License-Identifier: GPL-3.0-or-later
"""Commands on what was decided of pairs."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from jagged_lens.desktop.commands.command import Command, Reach
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.saving import save_to
from jagged_lens.desktop.sheets.listing import Listing
from jagged_lens.export import write_decisions
from jagged_lens.lens import CORPUS
from jagged_lens.project import Bench, Decision, standing

_WORDS = {"first": "keep the first", "second": "keep the second", "both": "keep both", "later": "later"}


def decisions_of(bench: Bench) -> list[tuple[Decision, str]]:
    """All decisions, and how each stands."""
    state, corpus = bench.state, bench.results.get(CORPUS)
    keys = corpus.keys if corpus is not None else ()
    return standing(state.decisions, keys, bench.documents.lens_rows().tolist(), dict(state.aside))


def list_decisions(window: Reach) -> None:
    """List what was decided of pairs."""
    bench, corpus = window.bench, window.bench.results.get(CORPUS)
    found = decisions_of(bench)
    keys = {key for one, _ in found for key in (one.first, one.second)}
    titles = (
        {corpus.keys[row]: corpus.titles[row] for row in bench.documents.rows_of(keys)} if corpus is not None else {}
    )
    rows = [
        (titles.get(one.first, one.first), titles.get(one.second, one.second), _WORDS[one.choice], state)
        for one, state in found
    ]
    words = (
        f"{amount(len(rows), 'decision')}. Decisions change a lens only when they are applied."
        if rows
        else "No decisions yet. On the Compare desk, keys 1 to 4 decide on a pair."
    )
    action = ("Save as CSV…", lambda: _save(window)) if rows else None
    titles_ = ["First document", "Second document", "Decision", "Status"]
    window.listing = Listing("Decisions on pairs", words, titles_, rows, window, action)
    window.listing.open()


def _save(window: Reach) -> None:
    start = str(window.bench.state.folder / "decisions.csv")
    name, _ = QFileDialog.getSaveFileName(window, "Save the decisions", start, "Tables (*.csv)")
    if name:
        save_decisions(window, Path(name))


def save_decisions(window: Reach, path: Path) -> None:
    found = decisions_of(window.bench)
    save_to(window, path, lambda beside: write_decisions(beside, found))


def forget_decisions(window: Reach) -> None:
    """Forget what was decided of pairs whose documents are not there any more."""
    bench = window.bench
    gone = [one.pair for one, state in decisions_of(bench) if state == "document no longer exists"]
    bench.change(bench.state.without_decisions(gone), "delete decisions")


def _any(window: Reach) -> bool:
    return bool(window.bench.state.decisions)


DECISIONS = (
    Command("Decisions on pairs…", list_decisions, "", "List the decisions on pairs, and save them.", rule=True),
    Command(
        "Delete decisions on missing documents",
        forget_decisions,
        "",
        "Delete the decisions on documents that no longer exist.",
        enabled=_any,
    ),
)
