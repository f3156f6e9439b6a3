"""The Terms desk: which terms are kept, set by hand on their curve; the vocabulary; a term in its contexts."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from functools import partial
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QFileDialog,
    QMenu,
    QPushButton,
    QScrollArea,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.desks.leaf_row import LeafRow
from jagged_lens.desktop.desks.terms.term_asking import TermAsker
from jagged_lens.desktop.desks.terms.term_card import TermCard, TermPicture
from jagged_lens.desktop.desks.terms.term_groups import TermGroups
from jagged_lens.desktop.desks.terms.within import Inside, Within
from jagged_lens.desktop.look.cards import card
from jagged_lens.desktop.look.plain import message
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.rank_curve import RankCurve
from jagged_lens.desktop.plots.term_strips import TermStrips
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.group import log_likelihood
from jagged_lens.lens import CORPUS, NGRAMS, ROWS, TERMS, TOKENS
from jagged_lens.terms import (
    NgramCounts,
    Phrase,
    Vocabulary,
    WhyNot,
    ZipfMandelbrot,
    company,
    contexts,
    fit_zipf_mandelbrot,
    in_order,
    phrases,
    why_not_kept,
    write_terms,
    written_forms,
)

_WHY = {
    WhyNot.KEPT: "kept",
    WhyNot.RARE: "too rare",
    WhyNot.COMMON: "too common",
    WhyNot.LIMIT: "beyond the limit",
    WhyNot.DROPPED: "dropped",
    WhyNot.UNLISTED: "not on the list",
}
_INK = {
    WhyNot.KEPT: "verdigris",
    WhyNot.RARE: "muted",
    WhyNot.COMMON: "madder",
    WhyNot.LIMIT: "muted",
    WhyNot.DROPPED: "madder",
    WhyNot.UNLISTED: "muted",
}
_LEAVES = ("Vocabulary", "At a glance", "Phrases")


_MOST_PICKED = 20_000


@dataclass(frozen=True, eq=False)
class _Ranks:
    """Terms by documents falling: which term has each rank, which rank each term, the documents by rank, the line that fits."""

    terms: NDArray[np.int64]
    of: NDArray[np.int64]
    falling: NDArray[np.int32]
    line: ZipfMandelbrot | None


def _ranks(documents: NDArray[np.int32], n: int) -> _Ranks:
    """documents: of each term, in how many of n it stands."""
    _, terms = in_order(n - documents.astype(np.int64), n)
    of = np.empty(len(terms), np.int64)
    of[terms] = np.arange(len(terms))
    falling = documents[terms]
    return _Ranks(terms, of, falling, fit_zipf_mandelbrot(falling))


_NO_RANKS = _ranks(np.zeros(0, np.int32), 0)


@dataclass(frozen=True, eq=False)
class _There:
    """How often each term of the vocabulary occurs in some of the documents, in how many of them, and how telling it is for
    them (G²)."""

    words: str
    size: int
    times: NDArray[np.int64]
    documents: NDArray[np.int64]
    ratio: NDArray[np.float32]

    def columns(self, vocabulary: Vocabulary) -> list[Column]:
        """The columns that show it."""
        inside = f"within {self.words}"
        return [
            Column(
                "Times there",
                lambda row: f"{self.times[row]:,} of {vocabulary.times[row]:,}",
                self.times,
                right=True,
                tip=f"Times {inside}, of all times",
            ),
            Column(
                "Docs there",
                lambda row: f"{self.documents[row]:,} of {vocabulary.documents[row]:,}",
                self.documents,
                right=True,
                tip=f"Documents {inside} ({self.size:,}) that hold the term, of all that do",
            ),
            Column(
                "G²",
                lambda row: f"{self.ratio[row]:,.1f}",
                self.ratio,
                right=True,
                tip=f"Log-likelihood ratio: how far the term tells the documents {inside} from the others; 0 where it does not",
            ),
        ]


class TermsDesk(Desk):
    step = "terms"
    needs = (CORPUS, TOKENS, ROWS, NGRAMS, TERMS)

    def build(self) -> None:
        self.only_kept = QPushButton("Kept only")
        self.only_kept.setCheckable(True)
        self.only_kept.setToolTip("List only the terms that are kept")
        self.only_kept.toggled.connect(self._filter)
        self.lists = QPushButton("Lists")
        self.lists.setToolTip("Keep the vocabulary as a list, or keep only the terms of one")
        menu = QMenu(self.lists)
        menu.addAction("Save the kept terms as a list…", self._save_list)
        menu.addAction("Keep only the terms of a list…", self._choose_list)
        self.forget_list = menu.addAction("Use no list", lambda: self.bench.set("terms", "only-list", ""))
        self.lists.setMenu(menu)
        self.field = self.filter_field("Filter terms ( / )", self._filter)
        self.within = Within(self.bench)
        self.within.chosen.connect(self._look_within)
        self.bench.pick.changed.subscribe(self._pick_changed)
        for widget in (self.within, self.only_kept, self.lists, self.field):
            self.tools.addWidget(widget)
        frame, column = card()
        column.setContentsMargins(10, 6, 8, 4)
        self.curve = RankCurve()
        self.curve.limits_moved.connect(self._moved)
        self.curve.limits_set.connect(self._limits)
        self.curve.hovered.connect(self._hovered)
        self.curve.chosen.connect(self._chosen_rank)
        column.addWidget(self.curve)
        self.body.addWidget(frame)
        self._build_leaves()
        self._why: NDArray[np.uint8] | None = None
        self._ranked: NgramCounts | None = None  # those that the ranks are of
        self._ranks = _NO_RANKS
        self._row = -1
        self._there: _There | None = None
        self._phrases: list[Phrase] = []
        self._places = TermAsker(self.bench, self.asker)
        self.keys = [
            ("Space", "pick the documents that hold the term"),
            ("Left, Right", "on the curve: move the lower limit, with Shift the upper one"),
            ("Up, Down", "at a glance: move the line that picks the terms above it"),
            ("Arrows, Space", "on the map of terms: walk from term to term, and show one"),
            ("Ctrl+C", "copy the chosen rows"),
        ]

    def _build_leaves(self) -> None:
        self.leaf_row = LeafRow(("Vocabulary", "At a glance", "Phrases", "Groups"))
        self.leaf_row.shown.connect(self._leaf_shown)
        self.keep_button = self._flat("Keep", "Always keep the chosen terms, whatever the limits say", self.always_keep)
        self.drop_button = self._flat("Drop", "Always drop the chosen terms, whatever the limits say", self.always_drop)
        self.free_button = self._flat("By limits", "Let the limits decide on the chosen terms again", self.by_limits)
        for button in (self.keep_button, self.drop_button, self.free_button):
            self.leaf_row.add(button)
        self.body.addWidget(self.leaf_row)
        self.split = QSplitter(Qt.Orientation.Vertical)
        self.leaves = self.leaf_row.leaves
        self.table = TableView("Vocabulary")
        self.table.row_changed.connect(self._show_term)
        self.table.read_wanted.connect(self.pick_documents)
        self.table.selectionModel().selectionChanged.connect(self._choose_terms)  # type: ignore[union-attr]
        self.bench.pick.terms_changed.subscribe(self._show_picked_terms)
        self.leaves.addWidget(self.table)
        self.strips = TermStrips()
        self.strips.chosen.connect(self.table_to)
        self.strips.picked.connect(self._pick_terms)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setWidget(self.strips)
        self.leaves.addWidget(area)
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        self.phrases = TableView("Phrases")
        column.addWidget(self.phrases, 1)
        self.join = QPushButton("Join it")
        self.join.setToolTip("Make the phrase under the cursor one word: an own rule of Clean")
        self.join.clicked.connect(self.join_phrase)
        column.addWidget(self.join, 0, Qt.AlignmentFlag.AlignLeft)
        self.leaves.addWidget(page)
        self.groups = TermGroups(self.bench, self.asker)
        self.groups.chosen.connect(self.table_to)
        self.leaves.addWidget(self.groups)
        self.split.addWidget(self.leaves)
        self.card = TermCard()
        self.card.context_chosen.connect(self._read_context)
        self.card.documents_wanted.connect(self._pick)
        self.card.value_chosen.connect(self._pick_value)
        self.split.addWidget(self.card)
        self.split.setStretchFactor(0, 3)
        self.split.setStretchFactor(1, 2)
        self.split.setChildrenCollapsible(False)
        self.body.addWidget(self.split, 1)

    def _flat(self, words: str, tip: str, does: object) -> QPushButton:
        button = QPushButton(words)
        button.setProperty("flat", "true")
        button.setToolTip(tip)
        button.clicked.connect(lambda: does())  # type: ignore[operator]
        return button

    # What is in front.

    def _leaf_shown(self, place: int) -> None:
        if place == 2:
            self._ask_phrases()
        elif place == 3:
            self.groups.ask()

    def show_groups(self) -> None:
        """Bring the groups of the picked terms up."""
        self.leaf_row.show_leaf(3)

    def _filter(self, _: object = None) -> None:
        terms = self.bench.results.get(TERMS)
        shown = terms.vocabulary.why_not == WhyNot.KEPT if terms is not None and self.only_kept.isChecked() else None
        if self._there is not None:
            there = self._there.documents > 0
            shown = there if shown is None else shown & there
        self.table.rows.filter(self.field.text(), shown)
        self.phrases.rows.filter(self.field.text())

    def table_to(self, row: int) -> None:
        """Go to a term of the vocabulary, and show it; the pick of terms stays."""
        self.table.show_chosen([row])
        if not self.table.shows(row):
            self.field.clear()
            self.only_kept.setChecked(False)
            if self._there is not None and not self._there.documents[row]:
                self.within.choose(Inside())
            self.table.show_chosen([row])
        self._show_term(row)

    # The pick of terms.

    def _choose_terms(self) -> None:
        """Several rows that are chosen are the pick of terms; a single one is only looked at."""
        count = self.table.chosen_count()
        if count > _MOST_PICKED:
            self.leaf_row.words.setText(f"{count:,} rows chosen: more than {_MOST_PICKED:,} terms are no pick")
        rows = self.table.chosen_rows() if 1 < count <= _MOST_PICKED else []
        terms = self.bench.results[TERMS].vocabulary.terms
        self.bench.pick.set_terms(terms.take(np.array(rows, np.int64)) if rows else ())

    def _show_picked_terms(self) -> None:
        terms = self.bench.results.get(TERMS)
        if terms is None or not self.isVisible():
            return
        picked = terms.vocabulary.terms.rows_of(set(self.bench.pick.terms))
        if picked and sorted(picked.values()) != sorted(self.table.chosen_rows()):
            self.table.show_chosen(list(picked.values()))
        elif not picked and 1 < self.table.chosen_count() <= _MOST_PICKED:
            self.table.show_chosen([self.table.current_row()])
        if self.leaf_row.front == 3:
            self.groups.ask()

    # Terms within some of the documents.

    def _look_within(self) -> None:
        """Count the terms within the documents that are chosen, and list them with these counts beside them."""
        if not self.bench.ready(*self.needs) or self.content.isHidden():
            return
        ngrams, choice = self.bench.results[NGRAMS], self.within.choice
        inside = self.within.rows(ngrams.rows, self.bench.documents.labels()) if choice else None
        if inside is None:
            self._show_within(None)
            return

        def counted() -> _There:
            times, documents = ngrams.within(inside)
            size, n = float(inside.sum()), float(len(inside))
            every = ngrams.documents.astype(np.float64)
            ratio = log_likelihood(documents.astype(np.float64), every, size, n).astype(np.float32)
            return _There(choice.words(), int(size), times, documents, ratio)

        def show(there: _There) -> None:
            if self.bench.results.get(NGRAMS) is ngrams and choice == self.within.choice:
                self._show_within(there)

        self.asker.ask("terms within", counted, show)

    def _show_within(self, there: _There | None) -> None:
        before, self._there = self._there, there
        if before is not None or there is not None:
            self._list_terms()
            self._filter()

    def _pick_changed(self) -> None:
        if self.within.choice.picked and self.isVisible():
            self._look_within()

    def pick_documents(self, row: int) -> None:
        """The documents of a term become the pick."""
        self.bench.pick.set(self._documents_of(row)[0].tolist())
        self.read()

    def _documents_of(self, row: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """The corpus rows that hold a term of the vocabulary, and how often."""
        documents, counts = self.bench.results[NGRAMS].holders(row)
        return self.bench.results[NGRAMS].rows[documents].astype(np.int64), counts.astype(np.int64)

    def _pick(self) -> None:
        if self._row >= 0:
            self.pick_documents(self._row)

    # The curve.

    def _rank_terms(self) -> None:
        """Rank the terms by their documents; which of them are kept makes no difference to that."""
        ngrams = self.bench.results[NGRAMS]
        if self._ranked is ngrams:
            self._draw_curve()
            return

        def ranked() -> _Ranks:
            return _ranks(ngrams.documents, len(ngrams.rows))

        def show(ranks: _Ranks) -> None:
            if self.bench.results.get(NGRAMS) is ngrams and self.bench.ready(*self.needs):
                self._ranked, self._ranks = ngrams, ranks
                self._draw_curve()
                self._mark(self._row)

        self._ranked, self._ranks = None, _NO_RANKS
        self.asker.ask("ranks of the terms", ranked, show)

    def _draw_curve(self) -> None:
        terms, settings = self.bench.results[TERMS], self.bench.recipe.terms
        falling, line = self._ranks.falling, self._ranks.line
        limits = settings.least_documents, settings.most_share
        self.curve.show_terms(falling, len(terms.rows), *limits, len(terms.kept), line)
        self.curve.setStatusTip(
            f"Zipf–Mandelbrot: {line.scale:,.0f} / (rank + {line.shift:.1f}) ^ {line.exponent:.2f}" if line else ""
        )

    def _would_keep(self, least: float, share: float) -> NDArray[np.uint8]:
        """Why each term would not be kept under other limits of documents; the other limits as they are."""
        terms, settings = self.bench.results[TERMS], self.bench.recipe.terms
        vocabulary = terms.vocabulary
        named = vocabulary.named if vocabulary.named is not None else np.zeros(len(vocabulary), np.uint8)
        moved = dataclasses.replace(settings, least_documents=float(least), most_share=float(share))
        return why_not_kept(vocabulary.words, vocabulary.times, vocabulary.documents, named, len(terms.rows), moved)

    def _moved(self, least: float, share: float) -> None:
        """A limit is being dragged: count and grey at once; nothing is computed before it is let go."""
        self._why = self._would_keep(least, share)
        self.curve.show_kept(int((self._why == WhyNot.KEPT).sum()))
        viewport = self.table.viewport()
        assert viewport is not None
        viewport.update()

    def _limits(self, least: float, share: float) -> None:
        changed = self.bench.recipe.with_settings("terms", {"least-documents": least, "most-share": share})
        self.bench.change(self.bench.state.with_recipe(changed), "terms: limits")

    def _hovered(self, rank: int) -> None:
        row = int(self._ranks.terms[rank]) if 0 <= rank < len(self._ranks.terms) else self._row
        self._mark(row)

    def _chosen_rank(self, rank: int) -> None:
        if 0 <= rank < len(self._ranks.terms):
            self.leaf_row.show_leaf(0)
            self.table_to(int(self._ranks.terms[rank]))

    def _mark(self, row: int) -> None:
        if row < 0 or row >= len(self._ranks.of):
            self.curve.mark(-1)
            return
        vocabulary = self.bench.results[TERMS].vocabulary
        rank = int(self._ranks.of[row])
        documents, times = int(vocabulary.documents[row]), int(vocabulary.times[row])
        words = f"rank {rank + 1:,} · {amount(documents, 'doc')} · {amount(times, 'time')}"
        self.curve.mark(rank, self._shown(row), words)

    # Always keep and always drop.

    def _chosen_terms(self) -> list[str]:
        terms = self.bench.results.get(TERMS)
        return [terms.vocabulary.terms[row] for row in self.table.chosen_rows()] if terms is not None else []

    def _listed(self, to: str) -> None:
        """Put the chosen terms on one of the two lists, or on neither."""
        chosen = self._chosen_terms()
        if not chosen:
            return
        t = self.bench.recipe.terms
        keep = [term for term in t.always_keep if term not in chosen] + (chosen if to == "keep" else [])
        drop = [term for term in t.always_drop if term not in chosen] + (chosen if to == "drop" else [])
        changed = self.bench.recipe.with_settings("terms", {"always-keep": keep, "always-drop": drop})
        words = chosen[0] if len(chosen) == 1 else amount(len(chosen), "term")
        self.bench.change(self.bench.state.with_recipe(changed), f"{to or 'by the limits'}: {words}")

    def always_keep(self) -> None:
        self._listed("keep")

    def always_drop(self) -> None:
        self._listed("drop")

    def by_limits(self) -> None:
        self._listed("")

    def _pick_terms(self, frequency: int) -> None:
        """Choose every term at or above a frequency in the vocabulary."""
        terms = self.bench.results[TERMS]
        rows = terms.kept[terms.vocabulary.times[terms.kept] >= frequency] if frequency else np.zeros(0, np.int64)
        self.bench.pick.set_terms(terms.vocabulary.terms.at_rows(rows))
        self.leaf_row.words.setText(
            f"{amount(len(rows), 'term')} with {frequency:,} times or more" if frequency else ""
        )

    # Lists.

    def _save_list(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, "Save the kept terms", str(self.bench.state.folder / "terms.txt"), "Lists of terms (*.txt *.csv)"
        )
        if name:
            self.save_list(Path(name))

    def save_list(self, path: Path) -> None:
        """Save the kept terms, a term a line, or as CSV."""
        terms = self.bench.results[TERMS]
        try:
            write_terms(path, terms.terms, terms.vocabulary.times[terms.kept].tolist())
        except OSError as error:
            message(self, "The list was not saved.", f"{path}: {error.strerror}").exec()

    def _choose_list(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self,
            "Keep only the terms of a list",
            str(self.bench.state.folder),
            "Lists of terms (*.txt *.csv *.tsv);;All files (*)",
        )
        if name:
            self.bench.set("terms", "only-list", name)

    # The term under the cursor.

    def _shown(self, row: int) -> str:
        terms = self.bench.results[TERMS]
        column = int(np.searchsorted(terms.kept, row))
        if terms.column is None and column < len(terms.kept) and int(terms.kept[column]) == row:
            return terms.shown[column]
        return terms.vocabulary.terms[row]

    def _show_term(self, row: int) -> None:
        """The term in its contexts, the words that keep company with it, how it is written, and its times by label."""
        self._row = row
        self._mark(row)
        results = self.bench.results
        corpus, vocabulary = results[CORPUS], results[TERMS].vocabulary
        term = vocabulary.terms[row]
        self.card.show_term(
            self._shown(row), int(vocabulary.times[row]), self.bench.documents.labels(), *self._documents_of(row)
        )
        if self.bench.recipe.clean.tokens == "characters":
            self.card.show_picture(TermPicture([], [], []))
            return
        self._places.ask(
            "a term",
            lambda index: TermPicture(contexts(corpus, index, term), company(index, term), written_forms(index, term)),
            self.card.show_picture,
        )

    def _read_context(self, row: int, start: int, end: int) -> None:
        """Read the document at the place of a context."""
        self.read_document(row)
        self.reader.show_place(start, end)

    def _pick_value(self, value: int, add: bool) -> None:
        """Pick the documents of one label value that hold the term."""
        label = self.card.by_label.label
        if label is not None and self._row >= 0:
            rows, _ = self._documents_of(self._row)
            chosen = rows[label.codes[rows] == value].tolist()
            self.bench.pick.set({*self.bench.pick.rows, *chosen} if add else chosen)
            self.read()

    # Phrases.

    def _ask_phrases(self) -> None:
        self._places.ask("phrases", phrases, self._list_phrases)

    def _list_phrases(self, found: list[Phrase]) -> None:
        self._phrases = found
        times = np.array([one.times for one in found], np.int64)
        ratio = np.array([one.ratio for one in found])
        columns = [
            Column("Phrase", lambda row: found[row].shown, searched=True),
            Column("Times", lambda row: f"{times[row]:,}", times, right=True),
            Column(
                "G²",
                lambda row: f"{ratio[row]:,.1f}",
                ratio,
                right=True,
                tip="Log-likelihood ratio: how far from chance",
            ),
        ]
        self.phrases.show_rows(columns, len(found), [30, 9, 12], 0)
        if found:
            self.phrases.go_to(0)

    def join_phrase(self) -> None:
        """Make the phrase under the cursor one word, by an own rule of Clean."""
        place = self.phrases.current_row()
        if not 0 <= place < len(self._phrases):
            return
        words = " ".join(self._phrases[place].words)
        self._places.ask("ways of a phrase", lambda index: written_forms(index, words), partial(self._join, words))

    def _join(self, words: str, ways: list[tuple[str, int]]) -> None:
        own = list(self.bench.recipe.clean.own_rules)
        own += [rule for way, _ in ways or [(words, 0)] if (rule := f"join: {way.replace('_', ' ')}") not in own]
        self.bench.set("clean", "own-rules", own)

    # Drawing.

    def refresh(self) -> None:
        terms = self.bench.results[TERMS]
        vocabulary = terms.vocabulary
        self._why = vocabulary.why_not
        settings = self.bench.recipe.terms
        low, high = settings.words
        unit = "character" if self.bench.recipe.clean.tokens == "characters" else "word"
        lengths = f"{low}–{high}-{unit}" if low != high else f"{low}-{unit}"
        said = f"{len(terms.kept):,} of {len(vocabulary):,} kept"
        self.figures.setToolTip(f"{len(vocabulary):,} different {lengths} terms, {len(terms.kept):,} of them kept")
        if terms.column is not None:
            inside = int((terms.column >= 0).sum())
            shared = inside - len(terms.kept)
            said = f"{inside:,} terms in {len(terms.kept):,} columns · {shared:,} collisions"
        self.figures.setText(said)
        self._rank_terms()
        assert self.forget_list is not None
        self.forget_list.setEnabled(bool(settings.only_list))
        self._draw_strips()
        self._there = None
        self._list_terms()
        self._look_within()
        if self.leaf_row.front == 2:
            self._ask_phrases()
        elif self.leaf_row.front == 3:
            self.groups.ask()

    def _draw_strips(self) -> None:
        terms = self.bench.results[TERMS]
        strips = []
        words = terms.vocabulary.words[terms.kept]
        for length in np.unique(words).tolist():
            at = np.flatnonzero(words == length)[:100]  # the vocabulary is in order of times
            title = f"{length} {'word' if length == 1 else 'words'}"
            entries = [
                (terms.shown[int(c)], int(terms.vocabulary.times[terms.kept[c]]), int(terms.kept[c])) for c in at
            ]
            strips.append((title, entries))
        self.strips.show_strips(strips)

    def _list_terms(self) -> None:
        terms = self.bench.results[TERMS]
        vocabulary = terms.vocabulary
        n = max(len(terms.rows), 1)

        def why(row: int) -> WhyNot:
            assert self._why is not None
            return WhyNot(int(self._why[row]))

        counted = [
            Column("Times", lambda row: f"{vocabulary.times[row]:,}", vocabulary.times, right=True),
            Column("Documents", lambda row: f"{vocabulary.documents[row]:,}", vocabulary.documents, right=True),
            Column("Share", lambda row: f"{vocabulary.documents[row] / n:.1%}", vocabulary.documents, right=True),
        ]
        columns = [
            Column(
                "Term",
                self._shown,
                searched=True,
                tip="As it is written most often",
                texts=terms.all_shown,
                ink=lambda row: None if why(row) == WhyNot.KEPT else "muted",
            ),
            Column(
                "Counted as",
                lambda row: vocabulary.terms[row],
                searched=True,
                tip="What is counted: the word forms of Clean, joined by one space",
                texts=self.bench.results[NGRAMS].terms,  # the same ones whatever the limits
            ),
            Column("Words", lambda row: str(vocabulary.words[row]), vocabulary.words, right=True),
            *(self._there.columns(vocabulary) if self._there is not None else counted),
            Column("Kept", lambda row: _WHY[why(row)], vocabulary.why_not, ink=lambda row: _INK[why(row)]),
        ]
        if terms.column is not None:
            hashed, names = terms.column, terms.shown
            columns.append(
                Column(
                    "Column",
                    lambda row: f"{hashed[row] + 1}: {names[int(hashed[row])]}" if hashed[row] >= 0 else "",
                    hashed,
                    tip="The hashed column that it is counted in, and the terms that share it",
                )
            )
        widths = [17, 16, 7, *([7, 11, 9] if self._there is None else [12, 12, 8]), 13, 30]
        self.table.show_rows(columns, len(vocabulary), widths[: len(columns)], 0)
        if self.only_kept.isChecked() or self._there is not None:
            self._filter()
        if self.table.current_row() < 0 and len(vocabulary):
            first = int(terms.kept[0]) if len(terms.kept) else 0
            self.table.go_to(first)
        elif 0 <= self.table.current_row() < len(vocabulary):
            self._show_term(self.table.current_row())
