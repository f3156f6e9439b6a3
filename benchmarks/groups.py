# SPDX-License-Identifier: GPL-3.0-or-later
"""Trees against SciPy's linkage, k-means against plain starts, the sweep on the demo, the ridge on the screen.

Ward of 20,000 rows of 100 themes and average of 5,000 documents on their terms, distances included: SciPy's linkage runs beside ours in the
same process, once each at 20,000 since it takes minutes. The ridge of 20,000 leaves is panned and its cut dragged on Qt's offscreen
platform, a frame drawn after each step.
"""

from __future__ import annotations

import os
import tempfile
import time
from pathlib import Path

import numpy as np

from benchmarks.fresh import fresh, memory_of, side_by_side, timed
from benchmarks.nearness import space_of_table
from benchmarks.synthetic import write
from jagged_lens.demo import demo_recipe
from jagged_lens.group import GroupSettings, filled_rows, k_means, sweep_of, tree_of
from jagged_lens.group.grouping import FilledRows
from jagged_lens.group.kmeans import best_of_starts
from jagged_lens.group.tree import joins_of
from jagged_lens.lens import SPACE, THEMES, Job, Recent, compute, read_recipe, with_needs
from jagged_lens.parallel import steady_blas
from jagged_lens.weigh import in_themes, themes

_LEAVES = 20_000
_FEWER = 5_000


def ward_on_themes(table: str) -> None:
    """Print seconds of Ward by SciPy and by us, megabytes of each, and the largest difference of a height."""
    from scipy.cluster.hierarchy import linkage

    space, _ = space_of_table(table)
    with steady_blas():
        rows = filled_rows(in_themes(space, themes(space, 100)))
        x = rows.x.toarray()
        memory, (seconds, joins) = memory_of(lambda: timed(lambda: joins_of(rows, "ward")))
        theirs, (plain, found) = memory_of(lambda: timed(lambda: linkage(x, "ward")))
    print(plain, seconds, theirs, memory, float(np.abs(joins[:, 2] - found[:, 2]).max()))


def average_on_terms(table: str) -> None:
    """Print median seconds of pdist and average linkage by SciPy on dense rows, and of ours."""
    from scipy.cluster.hierarchy import linkage
    from scipy.spatial.distance import pdist

    space, _ = space_of_table(table)
    whole = filled_rows(space)
    rows = FilledRows(whole.x[:_FEWER], np.arange(_FEWER), _FEWER)
    dense = rows.x.toarray()
    with steady_blas():
        print(*side_by_side(1, lambda: linkage(pdist(dense, "cosine"), "average"), lambda: joins_of(rows, "average")))


def starts(table: str) -> None:
    """Print the mean cosine of k-means with five starts, and of the best of ten one by one."""
    space, _ = space_of_table(table)
    rows = filled_rows(space)
    with steady_blas():
        ours = k_means(space, GroupSettings(groups=20)).quality
        from jagged_lens.group.grouping import grouping_of

        best = max(grouping_of(rows, *best_of_starts(rows.x, 20, 1, 1000 + seed)).quality for seed in range(10))
    print(ours, best)


class _Silent:
    def began(self, part: object) -> object:
        return lambda share: None

    def __getattr__(self, name: str) -> object:
        return lambda *_: None


def sweep_of_demo() -> None:
    """Print seconds of the sweep from 2 to 30 on the demo by k-means and by a tree, and of the first number."""
    path = demo_recipe()
    order = with_needs([SPACE, THEMES])
    results = compute(Job(read_recipe(path), path.parent), Recent(), _Silent(), lambda: order)  # type: ignore[arg-type]
    with steady_blas():
        came: list[float] = []
        begin = time.perf_counter()
        sweep_of(
            results[SPACE], GroupSettings(sweep=(2, 30)), preview=lambda _: came.append(time.perf_counter() - begin)
        )
        tree, _ = timed(lambda: sweep_of(results[SPACE], GroupSettings(by="tree", linkage="ward", sweep=(2, 30))))
    print(came[-1], tree, came[0])


def ridge_on_screen(table: str) -> None:
    """Print frames a second while a ridge is panned, near and far, and while its cut is dragged."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from PyQt6.QtWidgets import QApplication

    from jagged_lens.desktop.look import theme
    from jagged_lens.desktop.plots.ridge import RidgeCanvas
    from jagged_lens.group import ridge_of

    app = QApplication([])
    theme.dress(app)
    space, _ = space_of_table(table)
    with steady_blas():
        ridge = ridge_of(tree_of(in_themes(space, themes(space, 30)), "ward"))
    canvas = RidgeCanvas()
    canvas.resize(680, 600)
    canvas.show()
    own = np.arange(len(ridge)) % 12
    canvas.show_ridge(ridge, lambda place: f"document {place}", own, 12, True)
    frames: list[float] = []
    for zoom in (8.0, 600.0):
        canvas.fit()
        canvas.zoom(zoom)
        begin = time.perf_counter()
        for step in range(60):
            canvas._top = step * len(ridge) / 80
            canvas._hold()
            canvas.grab()
        frames.append(60 / (time.perf_counter() - begin))
    canvas.fit()
    begin = time.perf_counter()
    for step in range(60):
        canvas._move_cut(2 + 3 * step)
        canvas.grab()
    frames.append(60 / (time.perf_counter() - begin))
    print(*frames)


def main() -> None:
    with tempfile.TemporaryDirectory() as place:
        table = Path(place) / "20000.csv"
        write(table, _LEAVES, 60)
        plain, ours, theirs, memory, apart = fresh(ward_on_themes, table)
        print(f"20,000 rows of 100 themes, Ward: {ours:.1f} s, {plain / ours:.1f} × as fast as SciPy ({plain:.1f} s); ")
        print(
            f"  {memory:,.0f} MB, 1/{theirs / max(memory, 1):.0f} of SciPy's {theirs:,.0f} MB; heights differ by {apart:.1e}"
        )
        plain, ours = fresh(average_on_terms, table)
        print(
            f"5,000 documents on terms, average, distances included: {ours:.1f} s, {ours / plain:.2f} × SciPy ({plain:.1f} s)"
        )
        ours, best = fresh(starts, table)
        print(
            f"k-means, 20 groups: mean cosine {ours:.5f} with five starts, {best:.5f} the best of ten others ({ours / best - 1:+.2%})"
        )
        far, near, cut = fresh(ridge_on_screen, table)
        print(
            f"ridge of 20,000 leaves: {far:.0f} and {near:.0f} frames/s panned far and near, {cut:.0f} while the cut is dragged"
        )
    sweep, tree, first = fresh(sweep_of_demo)
    print(
        f"sweep from 2 to 30 on the demo: {sweep:.1f} s by k-means (the first after {first:.2f} s), {tree:.1f} s by a tree"
    )
