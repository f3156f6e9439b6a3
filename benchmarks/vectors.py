# SPDX-License-Identifier: GPL-3.0-or-later
"""Learned vectors, and 20 themes that add up, against 100 themes of the same weights, in turn on the same 60,000 short texts."""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np

from benchmarks.fresh import fresh, memory_of, side_by_side
from benchmarks.synthetic import write
from jagged_lens.clean import CleanSettings, clean
from jagged_lens.gather import GatherSettings, gather
from jagged_lens.terms import TermSettings, count_ngrams, index_of, limit_terms
from jagged_lens.weigh import WeighSettings, adding_themes, documents_by_words, themes, weigh, word_vectors

_TEXTS = 60_000
_DIMENSIONS = 100
_ADDING = 20


def learned(table: str) -> None:
    """Print median seconds of themes and of learned vectors, and the megabytes of each."""
    corpus = gather(GatherSettings(from_=table, text=("note",)), Path("/"))
    tokens = clean(corpus, CleanSettings(), Path("/"))
    rows = np.arange(len(corpus), dtype=np.int32)
    settings = TermSettings(words=(1, 1))
    space = weigh(
        limit_terms(count_ngrams(tokens, rows, (1, 1), False), tokens, settings, CleanSettings()), WeighSettings()
    )

    def vectors() -> None:
        documents_by_words(space, word_vectors(index_of(tokens, rows, bridge=False), _DIMENSIONS))

    of_themes, _ = memory_of(lambda: themes(space, _DIMENSIONS))
    of_vectors, _ = memory_of(vectors)
    of_adding, _ = memory_of(lambda: adding_themes(space, _ADDING))
    plain, ours = side_by_side(2, lambda: themes(space, _DIMENSIONS), vectors)
    _, adding = side_by_side(2, lambda: themes(space, _ADDING), lambda: adding_themes(space, _ADDING))
    print(plain, ours, adding, of_themes, of_vectors, of_adding)


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        table = Path(folder) / "notes.csv"
        write(table, _TEXTS, 40)
        plain, ours, adding, memory, own, of_adding = fresh(learned, table)
    print(
        f"learned vectors, {_TEXTS:,} texts, {_DIMENSIONS} dimensions: {ours:.1f} s; {_DIMENSIONS} themes {plain:.1f} s"
    )
    print(f"  ratio {ours / plain:.2f}; megabytes {own:.0f} against {memory:.0f}")
    print(f"{_ADDING} themes that add up: {adding:.1f} s; ratio {adding / plain:.2f}; megabytes {of_adding:.0f}")
