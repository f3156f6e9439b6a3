# SPDX-License-Identifier: GPL-3.0-or-later
"""Themes, neighbours of many documents, t-SNE, and everything from text to map, each beside its baseline."""

from __future__ import annotations

import resource
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
from scipy.fft import rfft2
from scipy.sparse.linalg import svds

from benchmarks.fresh import fresh, memory_of, timed
from benchmarks.nearness import space_of_table
from benchmarks.synthetic import write
from jagged_lens.compare import nearest_neighbours, neighbours_by_lists
from jagged_lens.lens import ALWAYS, Job, Recent, compute, read_recipe
from jagged_lens.map import MapSettings, pca, t_sne
from jagged_lens.parallel import steady_blas
from jagged_lens.progress import unheard
from jagged_lens.weigh import themes

_THEMES = 100
_NEAREST = 12
_ROUNDS = 500


def themes_and_neighbours(table: str) -> None:
    """Print seconds of ARPACK, of themes, of a dense product of that shape, of neighbours by lists, and of exact
    ones; megabytes of both of ours; the energy against ARPACK's, and the recall."""
    space, _ = space_of_table(table)
    plain, (_, sizes, _) = timed(lambda: svds(space.weights.astype(np.float64), k=_THEMES))
    of_themes, found = memory_of(lambda: themes(space, _THEMES))
    ours, _ = timed(lambda: themes(space, _THEMES))
    energy = float((found.values**2).sum() / (sizes**2).sum())
    dense = np.random.default_rng(0).random((space.weights.shape[0], _THEMES), np.float32)

    def product() -> None:
        for start in range(0, len(dense), 500):
            dense[start : start + 500] @ dense.T

    with steady_blas():
        whole, _ = timed(product)
        of_nearest, nearest = memory_of(lambda: neighbours_by_lists(space, "cosine", _NEAREST))
        listed, _ = timed(lambda: neighbours_by_lists(space, "cosine", _NEAREST))
        exact, true = timed(lambda: nearest_neighbours(space, "cosine", _NEAREST))
    reached = float((nearest.similarity >= true.similarity[:, -1:]).mean())
    print(plain, ours, whole, listed, exact, of_themes, of_nearest, energy, nearest.recall, reached)


def rounds_of_t_sne(table: str) -> None:
    """Print seconds of 500 forward real FFTs of four grids of 512 × 512, and of 500 rounds of t-SNE, neighbours given."""
    space, _ = space_of_table(table)
    grids = np.random.default_rng(0).random((4, 512, 512))
    with steady_blas():
        neighbours, start = nearest_neighbours(space, "cosine", 15), pca(space, 1).positions
        plain, _ = timed(lambda: [rfft2(grids, axes=(1, 2)) for _ in range(20)])
        done = [0]

        def enough() -> bool:
            done[0] += 1
            return done[0] == _ROUNDS

        memory, _ = memory_of(lambda: None)
        ours, _ = timed(lambda: t_sne(neighbours, start, "cosine", MapSettings(), unheard, lambda _: None, enough))
        whole, _ = timed(lambda: t_sne(neighbours, start, "cosine", MapSettings()))
    print(plain * _ROUNDS / 20, ours, whole, memory)


class _Seconds:
    """A listener that only counts."""

    def began(self, part: object) -> object:
        return unheard

    def grew(self, part: object, preview: object) -> None:
        """Nobody looks."""

    def done(self, part: object, key: str, result: object, seconds: float) -> None:
        print(f"    {part.name:12} {seconds:6.2f} s", file=sys.stderr)  # type: ignore[attr-defined]

    def failed(self, part: object, error: Exception, details: str = "") -> None:
        raise error

    def deferred(self, part: object) -> None:
        """Nothing is."""


def everything(recipe: str) -> None:
    """Print seconds from text to map with 24 groups, and megabytes of the process at most."""
    begin = time.perf_counter()
    job = Job(read_recipe(Path(recipe)), Path(recipe).parent)
    results = compute(job, Recent(), _Seconds(), lambda order=ALWAYS: order)  # type: ignore[arg-type]
    seconds = time.perf_counter() - begin
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(seconds, peak, len(results["terms"].kept), results["layout"].overall)  # type: ignore[index]


def main() -> None:
    with tempfile.TemporaryDirectory() as place:
        table = Path(place) / "60000.csv"
        write(table, 60_000, 60)
        plain, ours, whole, listed, exact, of_themes, of_nearest, energy, recall, reached = fresh(
            themes_and_neighbours, table
        )
        print("60,000 documents of 60 words:")
        print(
            f"  {_THEMES} themes {ours:.1f} s, {plain / ours:.1f} × as fast as ARPACK ({plain:.1f} s), energy {energy:.5f} of it, {of_themes:,.0f} MB"
        )
        print(
            f"  {_NEAREST} nearest by lists {listed:.1f} s, {listed / whole:.1f} × a dense product ({whole:.1f} s), recall said "
            f"{recall:.3f}, true {reached:.3f}, {of_nearest:,.0f} MB; exact {exact:.1f} s, {exact / whole:.1f} × it"
        )
        table = Path(place) / "20000.csv"
        write(table, 20_000, 60)
        plain, ours, whole, _ = fresh(rounds_of_t_sne, table)
        print(
            f"20,000 documents: {_ROUNDS} rounds of t-SNE {ours:.1f} s, {ours / plain:.1f} × the FFTs ({plain:.1f} s); all 750 {whole:.1f} s"
        )
        table = Path(place) / "long.csv"
        write(table, 20_000, 200)
        recipe = Path(place) / "long.toml"
        recipe.write_text(
            '[gather]\nfrom = "long.csv"\ntext = ["note"]\n[terms]\nwords = [1, 1]\nmost-terms = 40000\n[group]\ngroups = 24\n'
        )
        seconds, peak, terms, trust = fresh(everything, recipe)
        print(
            f"20,000 documents of 200 words, {terms:,.0f} terms, 24 groups, text to map: {seconds:.1f} s, {peak:,.0f} MB; trust {trust:.2f}"
        )


if __name__ == "__main__":
    main()
