# SPDX-License-Identifier: GPL-3.0-or-later
"""Pairs, neighbours and k-means against plain sparse products, in a process of their own, in turn on the same collection.

Pairs at 0.8 and above, and the 12 nearest, exactly: against SciPy's product of the rows with all rows, block by block, with a
filter or a partition behind it. One iteration of k-means with 20 groups: against one product of the rows with as many dense
centroids. Rows are 1-grams in at least 3 documents, weighed by default.
"""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from benchmarks.fresh import fresh, memory_of, side_by_side, timed
from benchmarks.synthetic import write
from jagged_lens.clean import CleanSettings, clean
from jagged_lens.compare import CompareSettings, Shingles, find_pairs, nearest_neighbours, rows_of, shingles_of
from jagged_lens.gather import GatherSettings, gather
from jagged_lens.group import GroupSettings, k_means
from jagged_lens.group.kmeans import centroids_of, nearest_centroid
from jagged_lens.parallel import steady_blas
from jagged_lens.terms import TermSettings, count_ngrams, limit_terms
from jagged_lens.weigh import VectorSpace, WeighSettings, weigh

_ROUNDS = 3
_BLOCK = 500  # rows of a product held at once
_NEAREST = 12
_GROUPS = 20


def space_of_table(table: str) -> tuple[VectorSpace, Shingles]:
    corpus = gather(GatherSettings(from_=table, text=("note",)), Path("/"))
    tokens = clean(corpus, CleanSettings(), Path("/"))
    settings = TermSettings(words=(1, 1))
    ngrams = count_ngrams(tokens, np.arange(len(corpus), dtype=np.int32), settings.words, False)
    return weigh(limit_terms(ngrams, tokens, settings, CleanSettings()), WeighSettings()), shingles_of(corpus)


def pairs_and_neighbours(table: str) -> None:
    """Print median seconds of the plain product with a filter, pairs, the product with a partition, neighbours; megabytes of
    each of ours; how many pairs there are, and how many the plain way finds."""
    space, runs = space_of_table(table)
    across = space.weights.T.tocsr()
    starts = range(0, space.weights.shape[0], _BLOCK)

    def blocks() -> Iterator[tuple[int, NDArray[np.float32]]]:
        for start in starts:
            yield start, (space.weights[start : start + _BLOCK] @ across).toarray()

    def filtered() -> int:
        total = 0
        for start, dots in blocks():
            first, second = np.nonzero(dots >= 0.8)
            total += int((second > first + start).sum())
        return total

    def parted() -> None:
        for _, dots in blocks():
            np.argpartition(dots, -_NEAREST - 1, axis=1)

    settings = CompareSettings(pairs_from=0.8)
    with steady_blas():
        of_pairs, pairs = memory_of(lambda: find_pairs(space, runs, settings))
        of_nearest, _ = memory_of(lambda: nearest_neighbours(space, "cosine", _NEAREST))
        figures = side_by_side(
            _ROUNDS,
            filtered,
            lambda: find_pairs(space, runs, settings),
            parted,
            lambda: nearest_neighbours(space, "cosine", _NEAREST),
        )
        print(*figures, of_pairs, of_nearest, len(pairs), filtered())


def a_round_of_k_means(table: str) -> None:
    """Print median seconds of one product of rows with centroids, and of a round: the nearest centroids, then new ones."""
    space, _ = space_of_table(table)
    rows = rows_of(space, "cosine").matrix
    narrow = rows.astype(np.float32)
    centroids = rows[:_GROUPS]
    across = np.ascontiguousarray(centroids.toarray().T, np.float32)

    def round_() -> None:
        centroids_of(rows, nearest_centroid(narrow, centroids)[0], _GROUPS)

    with steady_blas():
        product, one_round = side_by_side(3 * _ROUNDS, lambda: space.weights @ across, round_)
        whole, _grouping = timed(lambda: k_means(space, GroupSettings(groups=_GROUPS)))
    print(product, one_round, whole)


def main() -> None:
    with tempfile.TemporaryDirectory() as place:
        table = Path(place) / "20000.csv"
        write(table, 20_000, 60)
        filtered, pairs, parted, nearest, of_pairs, of_nearest, found, plainly = fresh(pairs_and_neighbours, table)
        print(f"20,000 documents of 60 words, {found:,.0f} pairs at 0.8 and above ({plainly:,.0f} by the plain way):")
        print(
            f"  pairs {pairs:.2f} s, {filtered / pairs:.1f} × as fast as the plain product ({filtered:.1f} s), {of_pairs:,.0f} MB"
        )
        print(
            f"  12 nearest {nearest:.2f} s, {parted / nearest:.1f} × as fast as it ({parted:.1f} s), {of_nearest:,.0f} MB"
        )
        table = Path(place) / "60000.csv"
        write(table, 60_000, 60)
        product, round_, whole = fresh(a_round_of_k_means, table)
        print(f"60,000 documents of 60 words, {_GROUPS} groups, all starts {whole:.1f} s:")
        print(f"  a round {round_:.2f} s, {round_ / product:.1f} × of one product of that shape ({product:.2f} s)")


if __name__ == "__main__":
    main()
