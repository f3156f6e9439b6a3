# SPDX-License-Identifier: GPL-3.0-or-later
"""Near-duplicates: what finding all of them adds to finding pairs, families, links, and the alignment of two long texts.

Pairs at 0.8 and above with all copies besides, against the plain way: SciPy's product of the rows with all rows, block by block, and a
filter. The other rows are seconds, for orientation.
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
from jagged_lens.compare import CompareSettings, Pairs, families_of, find_pairs
from jagged_lens.explain import aligned
from jagged_lens.map import lay_out_links
from jagged_lens.parallel import steady_blas

_ROUNDS = 5
_BLOCK = 500
_NODES = 2_000
_WORDS = 10_000


def pairs_with_copies(table: str) -> None:
    """Print median seconds of the plain product with a filter, of pairs without and with copies below; megabytes, pairs, copies."""
    space, runs = space_of_table(table)
    across = space.weights.T.tocsr()

    def filtered() -> None:
        for start in range(0, space.weights.shape[0], _BLOCK):
            np.nonzero((space.weights[start : start + _BLOCK] @ across).toarray() >= 0.8)

    above, below = CompareSettings(copies_below=False), CompareSettings()
    with steady_blas():
        memory, pairs = memory_of(lambda: find_pairs(space, runs, below))
        figures = side_by_side(
            _ROUNDS, filtered, lambda: find_pairs(space, runs, above), lambda: find_pairs(space, runs, below)
        )
    print(*figures, memory, len(pairs), int((pairs.kind < 3).sum()))


def families_and_links(table: str) -> None:
    """Print seconds of pairs with copies, of families; how many families; seconds of the links."""
    space, runs = space_of_table(table)
    with steady_blas():
        seconds, pairs = timed(lambda: find_pairs(space, runs, CompareSettings()))
        own, families = timed(lambda: families_of(pairs, runs, space.terms.rows, np.ones(len(space.empty), np.int64)))
        laid, _ = timed(lambda: lay_out_links(_network()))
    print(seconds, own, len(families), laid)


def _network() -> Pairs:
    """Points in space that are linked where they are near: one part of most of them, and many small ones."""
    random = np.random.default_rng(0)
    points = random.normal(size=(_NODES, 3))
    squared = ((points[:, None] - points) ** 2).sum(axis=2)
    first, second = np.nonzero(np.triu(squared < 0.09, 1))
    order = np.argsort(squared[first, second], kind="stable")
    first, second = first[order].astype(np.int32), second[order].astype(np.int32)
    none = np.zeros(len(first), np.int32)
    likeness = (1 - squared[first, second]).astype(np.float32)
    return Pairs(first, second, likeness, none.astype(np.uint8), none, likeness, _NODES, _NODES, 0.8)


def alignment() -> float:
    """Median seconds of aligning two texts of 10,000 words, one of which has words changed and a stretch cut."""
    random = np.random.default_rng(0)
    words = [f"w{at}" for at in (random.zipf(1.3, _WORDS) % 3_000).tolist()]
    other = list(words)
    for at in random.integers(0, _WORDS, 800).tolist():
        other[at] = "changed"
    texts = " ".join(words), " ".join(other[:3_000] + other[3_400:])
    return side_by_side(_ROUNDS, lambda: aligned(*texts))[0]


def reading_table() -> None:
    """Print seconds from opening a pair of 10,000 words each at the reading table to its texts being drawn, to its bands, and to
    all marks."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from PyQt6.QtWidgets import QApplication

    from jagged_lens.desktop.desks.compare.desk import CompareDesk
    from jagged_lens.desktop.look import theme
    from jagged_lens.desktop.waiting import wait_until
    from jagged_lens.desktop.window import MainWindow
    from jagged_lens.lens import (
        LAYOUT,
        PAIRS,
    )
    from jagged_lens.project import Bench, opened
    from jagged_lens.worker import Worker

    random = np.random.default_rng(0)
    with tempfile.TemporaryDirectory() as place:
        base = [f"word{at}" for at in (random.zipf(1.3, _WORDS) % 3_000).tolist()]
        for number in range(4):
            words = list(base)
            for at in random.integers(0, _WORDS, 200 * number).tolist():
                words[at] = f"other{number}"
            (Path(place) / f"{number}.txt").write_text(" ".join(words))
        recipe = Path(place) / "long.toml"
        recipe.write_text(
            f'[gather]\nfrom = "{place}/*.txt"\n[terms]\nleast-documents = 1\nmost-share = 1.0\n[map]\nby = "pca"\n'
        )
        worker = Worker()
        app = QApplication([])
        theme.dress(app)
        bench = Bench(opened(recipe), worker)
        window = MainWindow(bench, worker)
        window.show()
        window.show_step("compare")
        bench.compute()
        wait_until(lambda: bench.ready(PAIRS, LAYOUT) and not bench.working and not window.asker.waiting, 60)
        desk = window.desks["compare"]
        assert isinstance(desk, CompareDesk)
        drawn, joined, marked = [], [], []
        for pair in range(len(bench.results[PAIRS])):
            begin = time.perf_counter()
            desk.open_pair(pair)
            app.processEvents()
            drawn.append(time.perf_counter() - begin)
            wait_until(lambda: bool(desk.reading_table.bands.shown()), 20)
            joined.append(time.perf_counter() - begin)
            wait_until(lambda: desk.reading_table._found is not None, 20)
            app.processEvents()
            marked.append(time.perf_counter() - begin)
            desk.close_reading()
        print(float(np.median(drawn)), float(np.median(joined)), float(np.median(marked)))
        window.close_anyway = True
        window.close()
        worker.close()


def main() -> None:
    with tempfile.TemporaryDirectory() as place:
        table = Path(place) / "20000.csv"
        write(table, 20_000, 60)
        filtered, above, below, memory, pairs, copies = fresh(pairs_with_copies, table)
        print(
            f"20,000 documents of 60 words, {pairs:,.0f} pairs, {copies:,.0f} copies: pairs alone {above:.2f} s ({filtered / above:.1f} × as "
            f"fast as the plain product), with all copies {below:.2f} s ({filtered / below:.1f} ×), {memory:,.0f} MB"
        )
        table = Path(place) / "60000.csv"
        write(table, 60_000, 60)
        seconds, own, families, laid = fresh(families_and_links, table)
        print(
            f"60,000 documents of 60 words: pairs with all copies {seconds:.1f} s, {families:,.0f} families in {own:.2f} s"
        )
        print(f"{_NODES:,} linked documents laid out in {laid:.2f} s")
    print(f"two texts of {_WORDS:,} words aligned in {alignment():.2f} s")
    drawn, joined, marked = fresh(reading_table)
    print(
        f"a pair of {_WORDS:,} words each at the reading table: texts after {drawn:.2f} s, bands after {joined:.2f} s, "
        f"all marks after {marked:.2f} s"
    )
