# SPDX-License-Identifier: GPL-3.0-or-later
"""Families decided by a rule: which member stays, with a preview of what goes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtWidgets import QMenu

from jagged_lens.compare import Families, kept_of_families
from jagged_lens.desktop.desks.compare.decided import Decided
from jagged_lens.desktop.look.controls import Action
from jagged_lens.desktop.look.plain import add_heading, plain_entry, set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.sheets.listing import Listing
from jagged_lens.gather import NO_DATE, Corpus
from jagged_lens.lens import CORPUS, FAMILIES, SPACE
from jagged_lens.project import FIRST, Shown

_MOST_VALUES = 40  # of a label, in the menu
_MOST_SHOWN = 2_000  # rows of the preview

Ranked = tuple[NDArray[np.float64], NDArray[np.bool_] | None]
Rule = Callable[[Corpus, NDArray[np.int32], Families], Ranked]
"""A rank of each document of the lens, and which may stay at all; of the documents, the corpus row of each, and the families."""


@dataclass(frozen=True)
class Preview:
    """The outcome of a rule. kept: for each family the member that stays, -1 if the rule does not decide. by_hand: families with
    decisions already. They are left alone. pairs: the member that stays and one to set aside."""

    words: str
    kept: NDArray[np.int64]
    by_hand: NDArray[np.bool_]
    pairs: list[tuple[int, int]]


def longest(corpus: Corpus, rows: NDArray[np.int32], families: Families) -> Ranked:
    """The longer the text, the higher."""
    rank = np.zeros(len(rows))
    for member in np.unique(families.members).tolist():
        rank[member] = len(corpus.texts[int(rows[member])])
    return rank, None


def newest(corpus: Corpus, rows: NDArray[np.int32], families: Families) -> Ranked:
    """The later the date, the higher; a document without one does not stay."""
    dates = corpus.dates[rows].astype(np.float64)
    return dates, corpus.dates[rows] != NO_DATE


def first_read(corpus: Corpus, rows: NDArray[np.int32], families: Families) -> Ranked:
    """The earlier in the sources, the higher."""
    return -rows.astype(np.float64), None


def standard(corpus: Corpus, rows: NDArray[np.int32], families: Families) -> Ranked:
    """All the same: the standard is the first of its family."""
    return np.zeros(len(rows)), None


def of_value(codes: NDArray[np.integer], value: int) -> Rule:
    """Only documents with a value of a label may stay."""
    return lambda corpus, rows, families: (np.zeros(len(rows)), codes[rows] == value)


class FamilyRules(Action):
    """A button with the rules in a menu. Each shows what it comes to before anything is decided."""

    def __init__(self, bench: Shown, decided: Decided) -> None:
        super().__init__("Decide by a rule")
        self._bench, self._decided = bench, decided
        set_tip(
            self,
            (
                "Keep one document of every family: the longest, the newest, the first, or the one with a label. A preview "
                "shows what will be set aside."
            ),
        )
        menu = QMenu(self)
        menu.aboutToShow.connect(self._fill)
        self.setMenu(menu)
        self.sheet: Listing | None = None

    def _fill(self) -> None:
        menu = self.menu()
        assert menu is not None
        menu.clear()
        corpus: Corpus = self._bench.results[CORPUS]
        rules: list[tuple[str, Rule]] = [
            ("Keep the standard", standard),
            ("Keep the longest", longest),
            ("Keep the first in the sources", first_read),
        ]
        if len(corpus.dates):
            rules.insert(2, ("Keep the newest", newest))
        for words, rule in rules:
            menu.addAction(words, partial(self.preview, words, rule))
        labels = [label for label in self._bench.documents.labels() if len(label.values) > 1]
        if labels:
            add_heading(menu, "Keep the one with a label")
        for label in labels:
            inside = menu.addMenu(plain_entry(label.name))
            assert inside is not None
            for code, value in list(enumerate(label.values))[:_MOST_VALUES]:
                words = f"Keep the one with {label.name} {value or 'none'}"
                inside.addAction(
                    plain_entry(value or "none"), partial(self.preview, words, of_value(label.codes, code))
                )

    def preview(self, words: str, rule: Rule) -> None:
        """Show what goes by a rule; nothing is decided yet."""
        results = self._bench.results
        if not results.has(CORPUS, SPACE, FAMILIES):
            return
        found = previewed(words, rule, results[CORPUS], results[SPACE].terms.rows, results[FAMILIES], self._decided)
        titles, rows = results[CORPUS].titles, results[SPACE].terms.rows
        family = {int(member): at for at in range(len(results[FAMILIES])) for member in results[FAMILIES].of(at)}
        listed = [
            (str(family[kept] + 1), titles[int(rows[kept])], titles[int(rows[other])])
            for kept, other in found.pairs[:_MOST_SHOWN]
        ]
        action = ("Decide", partial(self._decide, found)) if found.pairs else None
        self.sheet = Listing(words, said(found), ["Family", "Stays", "Goes"], listed, self, action)
        self.sheet.open()

    def _decide(self, found: Preview) -> None:
        self._decided.decide(((kept, other, FIRST) for kept, other in found.pairs), f"decide: {found.words.lower()}")


def previewed(
    words: str, rule: Rule, corpus: Corpus, rows: NDArray[np.int32], families: Families, decided: Decided
) -> Preview:
    """The outcome of a rule. Families of which something is decided are left alone."""
    kept = kept_of_families(families, *rule(corpus, rows, families))
    touched = decided.touched()
    members = [families.of(at).tolist() for at in range(len(families))]
    by_hand = np.array([any(member in touched for member in some) for some in members], np.bool_)
    pairs = [
        (int(kept[at]), other)
        for at, some in enumerate(members)
        if kept[at] >= 0 and not by_hand[at]
        for other in some
        if other != kept[at]
    ]
    return Preview(words, kept, by_hand, pairs)


def said(found: Preview) -> str:
    """The outcome of a rule, in one to three sentences."""
    families = len({kept for kept, _ in found.pairs})
    words = (
        f"{found.words}: {amount(len(found.pairs), 'document')} of {amount(families, 'family', 'families')} will be set "
        "aside when you apply the decisions."
    )
    if found.by_hand.any():
        words += (
            f" {amount(int(found.by_hand.sum()), 'family', 'families')} that you decided on by hand stay as they are."
        )
    left = int((found.kept < 0).sum())
    if left:
        words += f" The rule does not decide {amount(left, 'family', 'families')}."
    if len(found.pairs) > _MOST_SHOWN:
        words += f" The first {_MOST_SHOWN:,} are shown."
    return words + " Nothing is decided yet."
