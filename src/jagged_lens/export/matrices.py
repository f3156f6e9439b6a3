# SPDX-License-Identifier: GPL-3.0-or-later
"""Matrices in the Matrix Market coordinate format (Boisvert, Pozo & Remington 1996), or as NPZ."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
from scipy.sparse import csr_array, save_npz

from jagged_lens.export.cells import numbers


def write_matrix(path: Path, matrix: csr_array, field: str) -> None:
    """Write a CSR matrix in the format of its ending: NPZ, or as text by row, numbered from 1. field: real or integer."""
    if path.suffix == ".npz":
        write_npz(path, matrix)
        return
    n, m = matrix.shape
    owner = np.repeat(np.arange(1, n + 1), np.diff(matrix.indptr))
    with path.open("w", encoding="utf-8", newline="\n") as file:
        file.write(f"%%MatrixMarket matrix coordinate {field} general\n{n} {m} {matrix.nnz}\n")
        for start in range(0, matrix.nnz, 500_000):
            part = slice(start, start + 500_000)
            lines = io.StringIO()
            cells = zip(
                owner[part].tolist(), (matrix.indices[part] + 1).tolist(), numbers(matrix.data[part]), strict=True
            )
            lines.writelines(f"{row} {column} {value}\n" for row, column, value in cells)
            file.write(lines.getvalue())


def write_npz(path: Path, matrix: csr_array) -> None:
    """Write a CSR matrix as NPZ, which SciPy reads, whatever the ending of the file."""
    with path.open("wb") as file:
        save_npz(file, matrix)
