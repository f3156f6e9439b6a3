# SPDX-License-Identifier: GPL-3.0-or-later
"""The documents of a lens: filters and a seeded sample. Rows are left out, never renumbered."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from jagged_lens.errors import RecipeError
from jagged_lens.gather.corpus import NO_DATE, Corpus, Label
from jagged_lens.gather.dates import day_of
from jagged_lens.gather.entries import parted, values_by_label
from jagged_lens.gather.find import query_of
from jagged_lens.gather.settings import GatherSettings
from jagged_lens.progress import Progress, unheard

_Own = tuple[tuple[str, tuple[tuple[str, str], ...]], ...]


def rows_to_keep(
    corpus: Corpus,
    words: NDArray[np.int64],
    settings: GatherSettings,
    aside: frozenset[str] = frozenset(),
    own: _Own = (),
    progress: Progress = unheard,
) -> NDArray[np.int32]:
    """The rows of the documents that are not set aside and pass every filter; of these the sample, if one is wanted.

    words: how many words each of the n documents has. aside: keys that are set aside. own: labels of the user's own, pairs of
    name and (key, value) pairs. Ascending int32. RecipeError for a label that is not there, or a day that is none.
    """
    keep = np.ones(len(corpus), bool)
    if aside:
        keep &= np.array([key not in aside for key in corpus.keys], bool)
    keep &= labelled(corpus, settings.only, own)
    if settings.without:
        keep &= ~any_label(corpus, settings.without, own)
    for text, name in ((settings.since, "since"), (settings.until, "until")):
        if text:
            day = day_of(text)
            if day == NO_DATE:
                raise RecipeError(f'"{text}" is not a date', f"[gather] {name}", "Write it as 2021-05-01.")
            days = corpus.dates if len(corpus.dates) else np.full(len(corpus), NO_DATE, np.int32)
            keep &= (days != NO_DATE) & ((days >= day) if name == "since" else (days <= day))
    if settings.least_words:
        keep &= words >= settings.least_words
    if settings.most_words:
        keep &= words <= settings.most_words
    query = query_of(settings.holding)
    if query.patterns:
        for row in np.flatnonzero(keep).tolist():
            if row % 2000 == 0:
                progress(row / len(corpus))
            keep[row] = query.holds(corpus.texts[row])
    rows = np.flatnonzero(keep).astype(np.int32)
    return sampled(corpus, rows, settings, own) if settings.sample else rows


def labelled(corpus: Corpus, only: tuple[str, ...], own: _Own = ()) -> NDArray[np.bool_]:
    """For each document, True if it has the labels asked for: of one label any of its values, of several labels all.

    bool, one for each document. RecipeError where there is no such label.
    """
    keep = np.ones(len(corpus), bool)
    for fits in _fitting(corpus, only, own, "[gather] only"):
        keep &= fits
    return keep


def any_label(corpus: Corpus, without: tuple[str, ...], own: _Own = ()) -> NDArray[np.bool_]:
    """For each document, True if it has any of the labels that are left out.

    bool, one for each document. RecipeError where there is no such label.
    """
    out = np.zeros(len(corpus), bool)
    for fits in _fitting(corpus, without, own, "[gather] without"):
        out |= fits
    return out


def _fitting(corpus: Corpus, entries: tuple[str, ...], own: _Own, where: str) -> list[NDArray[np.bool_]]:
    """For each label that is named, which documents have any of the values that are named of it."""
    for entry in entries:
        if parted(entry) is None:
            raise RecipeError(f'"{entry}" is not a label', where, 'Write it as "crop = bean".')
    found = []
    for name, listed in values_by_label(entries).items():
        values = set(listed)
        label = label_named(corpus, name, own, where)
        fits = np.array([value in values or value.strip() in values for value in label.values], bool)
        found.append(fits[label.codes] if len(fits) else np.zeros(len(corpus), bool))
    return found


def own_labels(keys: Iterable[str], own: _Own) -> tuple[Label, ...]:
    """Labels of the user's own, of the documents with these keys, in that order; "" where one has no value."""
    found = []
    listed = list(keys) if own else []
    for name, pairs in own:
        values = dict(pairs)
        found.append(Label.of(name, (values.get(key, "") for key in listed)))
    return tuple(found)


def label_named(corpus: Corpus, name: str, own: _Own, where: str) -> Label:
    """A label by its name. where: it is asked for. RecipeError where there is none."""
    for label in corpus.labels:
        if label.name == name:
            return label
    if mine := tuple(one for one in own if one[0] == name):
        return own_labels(corpus.keys, mine[:1])[0]
    names = [label.name for label in corpus.labels] + [one for one, _ in own]
    raise RecipeError(f'there is no label "{name}"', where, f"Labels: {', '.join(names) or 'none'}.")


def sampled(
    corpus: Corpus,
    rows: NDArray[np.int32],
    settings: GatherSettings,
    own: _Own = (),
) -> NDArray[np.int32]:
    """A random sample of rows without replacement, or so many of each value of a label; the same for the same seed.

    Each document has a number drawn for it by its place in the corpus; those with the smallest are taken. So a larger sample
    holds the smaller one, and a filter does not change who is drawn among those left. rows: int32, corpus rows; gives some of
    them, int32, rising.
    """
    drawn = np.random.default_rng(settings.seed).random(len(corpus))[rows]
    order = np.argsort(drawn, kind="stable")
    if not settings.sample_of:
        return np.sort(rows[order[: settings.sample]])
    codes = label_named(corpus, settings.sample_of, own, "[gather] sample-of").codes[rows][order]
    by_value = np.argsort(codes, kind="stable")
    starts = np.concatenate(([True], codes[by_value][1:] != codes[by_value][:-1]))
    first = np.maximum.accumulate(np.where(starts, np.arange(len(codes)), 0))
    taken = by_value[np.arange(len(codes)) - first < settings.sample]
    return np.sort(rows[order[taken]])
