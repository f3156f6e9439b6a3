# SPDX-License-Identifier: GPL-3.0-or-later
"""Arrays as NumPy's files, with the names of their rows beside them; and texts as files of a folder."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.export.matrices import write_npz
from jagged_lens.progress import Progress, unheard
from jagged_lens.xml_text import xml_text

_NOT_IN_NAMES = re.compile(r'[\x00-\x1f\x7f/\\:*?"<>|]')
_LONGEST = 200  # bytes of the name of a file
_AT_ONCE = 200


def write_rows(path: Path, rows: NDArray[np.floating], keys: Sequence[str]) -> None:
    """Write rows as NPY, and the key of each on a line of NAME.keys.txt: Weigh reads these as vectors from a file. rows: n × d, float32 or
    float64, written as they are."""
    with path.open("wb") as file:
        np.save(file, np.ascontiguousarray(rows), allow_pickle=False)
    lines = "\n".join(" ".join(key.splitlines()) for key in keys)
    path.with_name(f"{path.stem}.keys.txt").write_text(f"{lines}\n", "utf-8", "backslashreplace")


def write_sparse(path: Path, matrix: csr_array, rows: Sequence[str], columns: Iterable[str]) -> None:
    """Write a matrix (CSR) as NPZ, which SciPy reads, and the names of its rows and columns, a line each, in NAME.rows.txt and
    NAME.columns.txt."""
    write_npz(path, matrix)
    for kind, names in (("rows", rows), ("columns", columns)):
        lines = "\n".join(" ".join(name.splitlines()) for name in names)
        path.with_name(f"{path.stem}.{kind}.txt").write_text(f"{lines}\n", "utf-8", "backslashreplace")


def write_texts(folder: Path, keys: Sequence[str], texts: Sequence[str], progress: Progress = unheard) -> None:
    """Write each text into a file of its own, named by its key; a name that is there already gets a number."""
    taken: set[str] = set()
    for at, (key, text) in enumerate(zip(keys, texts, strict=True)):
        if at % _AT_ONCE == 0:
            progress(at / len(keys))
        name = own = file_name(key)
        number = 2
        while own.casefold() in taken:
            own, number = f"{name} {number}", number + 1
        taken.add(own.casefold())
        (folder / f"{own}.txt").write_text(text, "utf-8", "backslashreplace")


def file_name(key: str) -> str:
    """A key as the name of a file, without ending.

    >>> file_name("notes/3: beans"), file_name("..")
    ('notes_3_ beans', '__')
    """
    name = _NOT_IN_NAMES.sub("_", xml_text(key)).encode()[:_LONGEST].decode("utf-8", "ignore").strip(" ")
    shown = name.lstrip(".")
    return "_" * (len(name) - len(shown)) + shown or "_"
