# SPDX-License-Identifier: GPL-3.0-or-later
"""Two lenses, two sides, new documents and suggested labels on 20,000 documents.

Two lenses: words alone against words and pairs of words, both with 20 groups. Across: half against half, beside a sparse product of the two
halves by blocks. Placed: half of them in a lens of the other half. Suggested: 20 groups of k-means as a label, 15 % of it at random.
"""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np

from benchmarks.fresh import fresh, memory_of, timed
from benchmarks.nearness import space_of_table
from benchmarks.synthetic import write
from jagged_lens.compare import Neighbours, Pairs, nearest_neighbours, rows_of
from jagged_lens.contrast import Seen, nearest_across, two_lenses
from jagged_lens.gather import Label, Source
from jagged_lens.group import GroupSettings, k_means
from jagged_lens.lens import PLACED, Job, Recent, compute, recipe_of, with_needs
from jagged_lens.map import pca
from jagged_lens.parallel import steady_blas
from jagged_lens.place import Part, SuggestSettings, suggestions_of
from jagged_lens.weigh import VectorSpace, themes

_TALLY = 20_000


def _seen(space: VectorSpace) -> Seen:
    nearest: Neighbours = nearest_neighbours(space, "cosine", 12)
    none = np.zeros(0, np.int32)
    reals = np.zeros(0, np.float32)
    pairs = Pairs(none, none, reals, np.zeros(0, np.uint8), none, reals, len(space.empty), 0, 0.8)
    grouping = k_means(space, GroupSettings(groups=20, starts=1))
    return Seen(space.terms.rows, nearest, grouping, pca(space, 1).positions, pairs)


def lenses_and_sides(table: str) -> None:
    """Print seconds of the contrast of two lenses, of the nearest across two halves, and of a plain product of both."""
    one, _ = space_of_table(table)
    with steady_blas():
        seen = _seen(one)
        seconds, _ = timed(lambda: two_lenses(seen, seen))
        half = np.arange(len(one.empty)) % 2 == 0
        across, _ = timed(lambda: nearest_across(one, "cosine", half, ~half))
        matrix = rows_of(one, "cosine").matrix
        left, right = matrix[half], matrix[~half].T.tocsr()

        def plain() -> None:
            for start in range(0, left.shape[0], 400):
                alike = (left[start : start + 400] @ right).toarray()
                np.argpartition(-alike, 3, axis=1)

        product, _ = timed(plain)
    print(seconds, across, product)


def suggested(table: str, count: str) -> None:
    """Print seconds of suggestions, megabytes, and the share of the held-out part that is right. count: of themes."""
    space, _ = space_of_table(table)
    with steady_blas():
        group = k_means(space, GroupSettings(groups=20, starts=1)).group
        found = themes(space, int(count))
        rng = np.random.default_rng(0)
        own = np.where(rng.random(len(group)) < 0.15, rng.integers(0, 20, len(group)), group)
        label = Label.of("topic", [f"t{value}" for value in own.tolist()])
        memory, (seconds, got) = memory_of(
            lambda: timed(lambda: suggestions_of(space, found, label, SuggestSettings("topic")))
        )
    print(seconds, memory, got.figures(Part.HELD_OUT).accuracy)


def placed(table: str) -> None:
    """Print seconds in which half of the documents are seen through a lens of the other half."""
    lines = Path(table).read_text("utf-8").splitlines()
    with tempfile.TemporaryDirectory() as folder:
        for name, own in (("old.csv", lines[1::2]), ("new.csv", lines[2::2])):
            (Path(folder) / name).write_text("\n".join([lines[0], *own]) + "\n", "utf-8")
        recipe = recipe_of({"gather": {"from": "old.csv"}, "map": {"by": "pca"}, "group": {"groups": 20, "starts": 1}})
        memory = Recent()
        job = Job(recipe, Path(folder), placing=(Source(file="new.csv"),))
        told = _Quiet()
        compute(job, memory, told, lambda: with_needs([PLACED]))
    print(told.seconds["placed"], told.seconds["arrivals"])


class _Quiet:
    """Remembers the seconds of each part."""

    def __init__(self) -> None:
        self.seconds: dict[str, float] = {}

    def began(self, part):  # type: ignore[no-untyped-def]
        return lambda share: None

    def grew(self, part, preview):  # type: ignore[no-untyped-def]
        """Nobody looks."""

    def deferred(self, part):  # type: ignore[no-untyped-def]
        """Nothing is."""

    def failed(self, part, error, details=""):  # type: ignore[no-untyped-def]
        raise error

    def done(self, part, key, result, seconds):  # type: ignore[no-untyped-def]
        self.seconds[part.name] = seconds


def main() -> None:
    """Print the figures of Contrast and Place."""
    with tempfile.TemporaryDirectory() as folder:
        table = str(Path(folder) / "table.csv")
        write(Path(table), _TALLY, 60)
        seconds, across, product = fresh(lenses_and_sides, table)
        print(f"Two lenses, 20,000 documents: {seconds:.2f} s")
        print(
            f"Nearest across, half against half: {across:.1f} s, {product / across:.1f} × a plain product ({product:.1f} s)"
        )
        took, read = fresh(placed, table)
        print(f"Placed, 10,000 in a lens of 10,000: {took:.1f} s, read in {read:.1f} s")
        for count in ("0", "100"):
            seconds, memory, right = fresh(suggested, table, count)
            on = f"{count} themes" if count != "0" else "terms"
            print(
                f"Suggested, 20 values on {on}: {seconds:.1f} s, {memory:.0f} MB, {right:.1%} of the held-out part right"
            )
