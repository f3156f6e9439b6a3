# SPDX-License-Identifier: GPL-3.0-or-later
"""A lens narrowed to the documents that are picked, or to all but them: as a filter that says in words what they have in common."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.gather import NO_DATE, Corpus, Label, entries_but, entry_of, parted, text_of_day
from jagged_lens.lens import CORPUS, OVERVIEW
from jagged_lens.project.bench import Bench
from jagged_lens.project.state import ProjectState, free_name

_KEPT = "picked"
_YES = "yes"
_MOST_VALUES = 12


@dataclass(frozen=True)
class Common:
    """The property that some documents, and no others of the lens, share: values of a label, or a range of words or of days.

    values: (label, value) pairs. words, days: the smallest and largest; None where that is not it.
    """

    values: tuple[tuple[str, str], ...] = ()
    words: tuple[int, int] | None = None
    days: tuple[int, int] | None = None


def common_of(
    rows: NDArray[np.int64],
    lens: NDArray[np.int64],
    labels: Sequence[Label],
    words: NDArray[np.int64] | None,
    days: NDArray[np.int32] | None,
) -> Common:
    """The property that the documents at `rows`, and no others of the lens, share.

    rows, lens: int64, corpus rows, rising. labels: of the whole corpus. words: int64, days: int32, of every document of the corpus. The
    label that says it with the fewest values is taken, then a range of words, then one of days.
    """
    rows = np.intersect1d(rows, lens)
    if not len(rows) or len(rows) == len(lens):
        return Common()
    best: tuple[tuple[str, str], ...] = ()
    for label in labels:
        all_of = np.bincount(label.codes[lens], minlength=len(label.values))
        own = np.bincount(label.codes[rows], minlength=len(label.values))
        there = np.flatnonzero(own)
        if (
            (own[there] == all_of[there]).all()
            and 0 < len(there) <= _MOST_VALUES
            and (not best or len(there) < len(best))
        ):
            best = tuple((label.name, label.values[int(code)]) for code in there)
    if best:
        return Common(best)
    for name, values in (("words", words), ("days", days)):
        if values is None or not len(values):
            continue
        low, high = int(values[rows].min()), int(values[rows].max())
        if name == "days" and low == NO_DATE:
            continue
        if name == "words" and not high:  # no number of words says *without a word*: 0 is no limit
            continue
        if int(((values[lens] >= low) & (values[lens] <= high)).sum()) == len(rows):
            return Common(words=(low, high)) if name == "words" else Common(days=(low, high))
    return Common()


def only_these(bench: Bench) -> str:
    """Narrow the lens in front to the picked documents, in one step that undo takes back. Gives the filter in words."""
    common, state = _common(bench), bench.state
    gather = bench.recipe.gather
    settings: dict[str, object]
    if common.words:
        settings = {"least-words": common.words[0], "most-words": common.words[1]}
        said = f"{common.words[0]:,} to {common.words[1]:,} words"
    elif common.days:
        since, until = (text_of_day(day) for day in common.days)
        settings, said = {"since": since, "until": until}, f"{since} to {until}"
    else:
        values = common.values
        if not values:
            state, values = _kept_apart(bench)
        others = entries_but(gather.only, {name for name, _ in values})
        settings = {"only": [*others, *(entry_of(name, value) for name, value in values)]}
        said = said_values(values)
    recipe = bench.recipe.with_settings("gather", settings)
    bench.change(state.with_recipe(recipe), f"only {said}")
    return said


def without_these(bench: Bench) -> str:
    """Leave the picked documents out of the lens in front, in one step that undo takes back. Gives the filter in words."""
    common, state = _common(bench), bench.state
    values = common.values
    if not values:
        state, values = _kept_apart(bench)
    gather = bench.recipe.gather
    named = {parted(entry) for entry in gather.without}
    left_out = [*gather.without, *(entry_of(*one) for one in values if one not in named)]
    only = [entry for entry in gather.only if parted(entry) not in values]
    recipe = bench.recipe.with_settings("gather", {"without": left_out, "only": only})
    said = said_values(values)
    bench.change(state.with_recipe(recipe), f"without {said}")
    return said


def said_values(values: Sequence[tuple[str, str]]) -> str:
    """Values of one label in words.

    >>> said_values([("crop", "bean"), ("crop", "pea")])
    'crop: bean or pea'
    """
    name = values[0][0]
    listed = [value or "none" for _, value in values]
    return f"{name}: {' or '.join(listed) if len(listed) < 4 else f'{listed[0]} and {len(listed) - 1} more'}"


def _common(bench: Bench) -> Common:
    corpus: Corpus = bench.results[CORPUS]
    overview = bench.results.get(OVERVIEW)
    rows = np.array(bench.pick.rows, np.int64)
    lens = np.asarray(bench.documents.lens_rows(), np.int64)
    outside = np.setdiff1d(rows, lens)
    if len(outside):  # picked from all documents, such as in Gather
        lens = np.arange(len(corpus), dtype=np.int64)
    words = overview.words if overview is not None else None
    days = corpus.dates if len(corpus.dates) else None
    return common_of(rows, lens, bench.documents.labels(), words, days)


def _kept_apart(bench: Bench) -> tuple[ProjectState, tuple[tuple[str, str], ...]]:
    """The state with a label of the user's own for the pick, for nothing else tells it; and its value."""
    taken = [label.name for label in bench.documents.labels()]
    name = free_name(_KEPT, taken)
    return bench.state.with_label(name, bench.documents.keys_of(bench.pick.rows), _YES), ((name, _YES),)
