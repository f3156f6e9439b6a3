# SPDX-License-Identifier: GPL-3.0-or-later
"""The exports of the desk: matrices, the terms with their weights, themes."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.desktop.saving import Kind, Piece, one_kind, table_kinds
from jagged_lens.export import (
    Known,
    document_keys,
    write_named_matrix,
    write_rows,
    write_sparse,
    write_terms,
    write_themes,
)
from jagged_lens.lens import CORPUS, SPACE, THEMES, THEMES_AHEAD
from jagged_lens.project import Shown, theme_names


class Out:
    """Each piece in its usual format is what a run would write."""

    def __init__(self, bench: Shown) -> None:
        self._bench = bench

    def pieces(self) -> list[Piece]:
        """The matrices and the terms, and the themes and the vectors of documents where there are any."""
        results = self._bench.results
        if not results.has(CORPUS, SPACE):
            return []
        space = results[SPACE]
        pieces = [
            Piece("Weights as a matrix", "weights", self._matrix(self.save_weights, space.weights)),
            Piece("Counts as a matrix", "counts", self._matrix(self.save_counts, space.terms.counts)),
            Piece("Terms with their weights", "terms", one_kind("CSV table (.csv)", ".csv", self.save_terms)),
        ]
        if results.has(THEMES_AHEAD) and not results[THEMES_AHEAD].of_vectors:
            themes = results[THEMES_AHEAD]
            kinds = one_kind("Three CSV tables in a folder", "", self.save_themes)
            pieces.append(Piece("Themes: shares, documents and terms", "themes", kinds))
            pieces.append(Piece("Themes of the documents", "document_themes", self._rows(themes.shown, "theme")))
        if results.has(THEMES) and results[THEMES].of_vectors:
            kinds = self._rows(results[THEMES].documents, "dimension")
            pieces.append(Piece("Vectors of the documents", "vectors", kinds))
        return pieces

    def _matrix(self, save: Callable[[Path], None], matrix: csr_array) -> tuple[Kind, ...]:
        results = self._bench.results

        def write(path: Path) -> None:
            terms = results[SPACE].terms
            write_sparse(path, matrix, list(results[CORPUS].keys.take(terms.rows)), list(terms.terms))

        words = "SciPy archive, with the names beside it (.npz)"
        return (
            *one_kind("Matrix Market, with the names beside it (.mtx)", ".mtx", save),
            *one_kind(words, ".npz", write),
        )

    def _rows(self, rows: NDArray[np.floating], what: str) -> tuple[Kind, ...]:
        """The formats of a row a document."""
        results = self._bench.results

        def keys() -> list[str]:
            return list(results[CORPUS].keys.take(results[SPACE].terms.rows))

        def columns() -> list[Known]:
            numbers = [Known(f"{what}_{at + 1}", column.tolist()) for at, column in enumerate(rows.T)]
            return [Known("key", keys()), *numbers]

        words = "NumPy array, with the keys beside it (.npy)"
        return (*one_kind(words, ".npy", lambda path: write_rows(path, rows, keys())), *table_kinds(columns))

    def save_weights(self, path: Path) -> None:
        """Write the weights in Matrix Market format, and what its rows and columns are beside it."""
        self._save(path, self._bench.results[SPACE].weights, "real")

    def save_counts(self, path: Path) -> None:
        """Write the counts in Matrix Market format, and what its rows and columns are beside it."""
        self._save(path, self._bench.results[SPACE].terms.counts, "integer")

    def _save(self, path: Path, matrix: csr_array, field: str) -> None:
        results = self._bench.results
        terms = results[SPACE].terms
        write_named_matrix(path, matrix, field, document_keys(results[CORPUS], terms), list(terms.terms))

    def save_terms(self, path: Path) -> None:
        """Write all terms with their weights."""
        write_terms(path, self._bench.results[SPACE])

    def save_themes(self, folder: Path) -> None:
        """Write the themes that are looked at into a folder."""
        results = self._bench.results
        terms = results[SPACE].terms
        found = results[THEMES_AHEAD]
        named = theme_names(found, terms.terms, self._bench.state.themes)
        write_themes(folder, found, terms, document_keys(results[CORPUS], terms), named)
