# SPDX-License-Identifier: GPL-3.0-or-later
"""The Gather desk: where documents come from, the documents as they came, and what needs attention."""

from __future__ import annotations

from functools import partial
from typing import Any

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from jagged_lens.clean import Flag, Overview
from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.gather.attention import FLAG_WORDS, Attention
from jagged_lens.desktop.desks.gather.filter_plates import FilterPlates
from jagged_lens.desktop.desks.gather.sources_strip import SourcesStrip
from jagged_lens.desktop.desks.gather.start_page import StartPage
from jagged_lens.desktop.look.cards import card, heading
from jagged_lens.desktop.look.controls import MainAction
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.keyed import PICKS
from jagged_lens.desktop.plots.label_bars import LabelBars
from jagged_lens.desktop.plots.lengths import LengthHistogram
from jagged_lens.desktop.sheets.listing import Listing
from jagged_lens.desktop.tables.arrangement import Column, Cut
from jagged_lens.desktop.tables.row_names import by_key
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.gather import Corpus, Label
from jagged_lens.lens import CORPUS, LENS_ROWS, NEIGHBOURS, OVERVIEW, Part, stamp_of


class GatherDesk(Desk):
    step = "gather"
    picture = "Documents"
    needs = (CORPUS, OVERVIEW, LENS_ROWS)
    also = (NEIGHBOURS,)
    empty_words = "Documents appear here, with their sources and what needs attention."

    def build(self) -> None:
        self.add = MainAction("Add documents…")
        set_tip(self.add, "Files, folders, tables, a database, web pages, or what is on the clipboard (Ctrl+Shift+D)")
        self.tools.addWidget(self.add)
        self.tools.addWidget(self.filter_field("Filter documents ( / )", lambda words: self.table.listed.filter(words)))
        self.start_page = StartPage()
        self.empty_body.addWidget(self.start_page)
        self.empty_body.addStretch(1)
        self.sources = SourcesStrip()
        self.sources.refresh_wanted.connect(lambda number: self.bench.refresh([number]))
        self.sources.retry_wanted.connect(lambda number: self.bench.refresh([number], failed_only=True))
        self.sources.remove_wanted.connect(lambda number: self.bench.remove_source(number))
        self.sources.pick_wanted.connect(self._pick_source)
        self.sources.unread_wanted.connect(self._show_links)
        column = self.layout()
        assert isinstance(column, QVBoxLayout)
        column.insertWidget(2, self.sources)  # there too where nothing could be read: it can be mended from here
        self._told: object = None
        self.filters = FilterPlates(self.bench)
        self.body.addWidget(self.filters)
        self.attention = Attention(self.bench)
        self.attention.wanted.connect(self._pick_rows)
        self.attention.unread_wanted.connect(self.show_unread)
        self.attention.notices_wanted.connect(self._show_notices)
        self.body.addWidget(self.attention)
        self._build_pictures()
        self.table = TableView("Documents")
        self.table.setProperty(PICKS, True)
        self.table.selectionModel().selectionChanged.connect(self._pick_chosen)  # type: ignore[union-attr]
        self.table.read_wanted.connect(self.read_document)
        self.body.addWidget(self.table, 1)
        self.bench.state_changed.subscribe(self.look_again)
        self._choosing = False
        self._changed: set[int] = set()
        self.bench.pick.changed.subscribe(self._show_pick)
        self.keys = [
            ("Space", "read the current document"),
            ("Ctrl+C", "copy the chosen rows"),
            ("Left, Right", "in the lengths: next bar; with Shift, widen the range"),
        ]

    def draw_part(self, part: Part[Any]) -> None:
        if self.bench.results.has(*self.needs, NEIGHBOURS):
            self.attention.show_found(self.bench.results[CORPUS], self.bench.results[OVERVIEW])

    def _build_pictures(self) -> None:
        row = QHBoxLayout()
        row.setSpacing(9)
        frame, column = card()
        column.setContentsMargins(12, 7, 12, 4)
        self.lengths_heading = heading("Words in a document")
        column.addWidget(self.lengths_heading)
        self.lengths = LengthHistogram()
        self.lengths.brushed.connect(self._brush)
        column.addWidget(self.lengths)
        row.addWidget(frame, 1)
        self._labels_card, column = card()
        column.setContentsMargins(12, 5, 6, 4)
        self.by_label = LabelBars("Label whose values are shown", "Documents by label")
        self.by_label.chosen.connect(self._pick_value)
        self.by_label.label_changed.connect(self._show_pick)
        self._labels_card.setFixedHeight(frame.sizeHint().height())
        column.addWidget(self.by_label)
        row.addWidget(self._labels_card, 1)
        holder = QWidget()
        holder.setLayout(row)
        row.setContentsMargins(0, 0, 0, 0)
        self.body.addWidget(holder)

    # Picking.

    def _pick_chosen(self) -> None:
        rows = self.table.chosen_rows()
        if rows:
            self._choosing = True
            self.bench.pick.set(rows, self.table.current_row())
            self._choosing = False

    def _show_pick(self) -> None:
        if not self.isVisible() or OVERVIEW not in self.bench.results or not self.bench.results.has(*self.needs):
            return
        rows = np.array(self.bench.pick.rows, np.int64)
        overview = self.bench.results[OVERVIEW]
        rows = rows[rows < len(overview.words)]
        self.lengths.show_picked(overview.words[rows])
        self.by_label.show_picked(rows)
        if not self._choosing:
            self.table.show_chosen(self.bench.pick.rows)

    def _pick_source(self, number: int) -> None:
        corpus = self.bench.results.get(CORPUS)
        if corpus is not None:
            self.bench.pick.set(np.flatnonzero(corpus.source == number).tolist())

    def _brush(self, low: int, high: int) -> None:
        words = self.bench.results[OVERVIEW].words
        self.bench.pick.set(np.flatnonzero((words >= low) & (words <= high)).tolist())

    def _pick_value(self, value: int, add: bool) -> None:
        label = self.by_label.label
        if label is not None:
            rows = np.flatnonzero(label.codes == value).tolist()
            self.bench.pick.set({*self.bench.pick.rows, *rows} if add else rows)

    # What is listed in windows of its own.

    def show_unread(self) -> None:
        """List what gave no document, and why."""
        unread = self.bench.results[CORPUS].unread
        words = f"{amount(len(unread), 'file or page', 'files and pages')} gave no document."
        rows = [[" ".join(one.name.split()), one.reason] for one in unread]
        self.listing = Listing("Not read", words, ["Name", "Reason"], rows, self)
        self.listing.show()

    def _show_links(self, number: int) -> None:
        pages = self.bench.results[CORPUS].pages
        failed = sum(bool(page.problem) for page in pages)
        rows = [
            [
                page.address,
                page.problem or "read",
                str(page.status or ""),
                page.kind,
                f"{page.size:,}" if page.size else "",
                page.landed if page.landed != page.address else "",
                page.day,
            ]
            for page in pages
        ]
        words = f"{amount(len(pages), 'link')}, {failed:,} of them gave no document."
        titles = ["Address", "Result", "Status", "Type", "Bytes", "Redirected to", "Fetched"]
        self.listing = Listing("Links", words, titles, rows, self)
        self.listing.show()

    # Drawing.

    def refresh(self) -> None:
        corpus, overview, kept = self.bench.results[CORPUS], self.bench.results[OVERVIEW], self.bench.results[LENS_ROWS]
        labels = self.bench.documents.labels()
        unit = self.bench.recipe.gather.unit
        figures = f"{amount(len(corpus), unit)} · {amount(int(overview.words.sum()), overview.unit)}"
        if len(kept) < len(corpus):
            figures += f" · {len(kept):,} in this lens"
        self.figures.setText(figures)
        self._told = None
        self.sources.show_sources(self.bench.state.sources, corpus, self._changed)
        self.filters.refresh()
        self.attention.show_found(corpus, overview)
        self.lengths_heading.setText(f"{overview.unit.capitalize()}s in a document")
        self.lengths.show_words(overview.words)
        self._labels_card.setVisible(bool(labels))
        self.by_label.show_labels(labels, lambda label: np.bincount(label.codes, minlength=len(label.values)))
        self._draw_table(corpus, overview, labels, kept)
        self._show_pick()
        self._look_for_changes()

    def _pick_rows(self, rows: list[int]) -> None:
        self.bench.pick.set(rows)
        self.read()

    def _refresh_if_ready(self) -> None:
        super()._refresh_if_ready()
        self.add.setVisible(bool(self.bench.state.sources))  # else it stands in the middle
        sources, error = self.bench.state.sources, self.bench.errors.get(CORPUS.name)
        self.sources.setVisible(bool(sources))
        if not self.bench.results.has(*self.needs) and (told := (sources, str(error or ""))) != self._told:
            self._told = told
            corpus = self.bench.results.get(CORPUS) if self.bench.results.has(CORPUS) else None
            self.sources.show_sources(sources, corpus, set(), str(error or ""))

    def _show_notices(self) -> None:
        rows = [[words] for words in self.bench.results[CORPUS].notices]
        self.listing = Listing("Notes", "Notices from reading.", ["Note"], rows, self)
        self.listing.show()

    def _draw_table(self, corpus: Corpus, overview: Overview, labels: tuple[Label, ...], kept: np.ndarray) -> None:
        words = overview.words
        flags = overview.flags

        shown: dict[tuple[int, int], str] = {}

        def flagged(row: int) -> str:
            of = (int(flags[row]), int(overview.language[row]))
            if of not in shown:
                found = [text for flag, text in FLAG_WORDS.items() if of[0] & flag and text]
                if of[0] & Flag.LANGUAGE:
                    found.append(overview.language_name(row))
                shown[of] = ", ".join(found)
            return shown[of]

        columns = [
            Column("Title", lambda row: corpus.titles[row], searched=True, texts=corpus.titles),
            Column("Key", lambda row: corpus.keys[row], searched=True, texts=corpus.keys, cut=Cut.MIDDLE),
            Column(
                f"{overview.unit.capitalize()}s", lambda row: f"{words[row]:,}", words, right=True, tip="None removed"
            ),
            Column(
                "Attention", flagged, flags, searched=True, tip="What is unusual about it", ink=lambda row: "madder"
            ),
        ]
        if len(corpus.dates):
            columns.append(Column("Date", corpus.date, corpus.dates, tip="As read, year first"))
        aside = dict(self.bench.state.aside)
        if aside:
            reasons = [aside.get(key) for key in corpus.keys]
            why = ["" if reason is None else reason or "yes" for reason in reasons]
            columns.append(
                Column("Set aside", lambda row: why[row], texts=why, searched=True, ink=lambda row: "madder")
            )
        if len(kept) + len(aside) < len(corpus):
            inside = np.zeros(len(corpus), bool)
            inside[kept] = True
            columns.append(
                Column("In lens", lambda row: "yes" if inside[row] else "no", ~inside, tip="Passes the filters")
            )
        if len(self.bench.state.sources) > 1:
            names = [source.name for source in self.bench.state.sources]
            columns.append(
                Column("Source", lambda row: names[corpus.source[row]], corpus.source, searched=True, cut=Cut.MIDDLE)
            )
        for label in labels:
            rank = np.argsort(np.argsort([value.casefold() for value in label.values], kind="stable"))
            columns.append(
                Column(
                    label.name,
                    lambda row, label=label: label.value(row),  # type: ignore[misc]
                    rank[label.codes],
                    searched=True,
                    texts=partial(label.values.take, label.codes),
                )
            )
        for number in corpus.numbers:
            columns.append(
                Column(
                    number.name,
                    lambda row, values=number.values: "" if np.isnan(values[row]) else f"{values[row]:g}",  # type: ignore[misc]
                    number.values,
                    right=True,
                )
            )
        self.table.show_rows(columns, len(corpus), 0, by_key(corpus.keys, np.arange(len(corpus))))

    # Sources that have changed outside.

    def _look_for_changes(self) -> None:
        """True if files differ from what was taken in of them; asked of the disk, not in the interface thread."""
        state = self.bench.state

        def differ() -> set[int]:
            taken = dict(state.stamps)
            return {
                number
                for number, source in enumerate(state.sources)
                if source.kind == "file" and taken.get(source) and taken[source] != stamp_of(source, state.folder)
            }

        self.asker.ask("changed sources", differ, self._show_changes)

    def _show_changes(self, changed: set[int]) -> None:
        if changed != self._changed:
            self._changed = changed
            self.sources.show_sources(self.bench.state.sources, self.bench.results.get(CORPUS), changed)
