# SPDX-License-Identifier: GPL-3.0-or-later
"""The form of numbers and texts in a file."""

from __future__ import annotations

import csv
from collections.abc import Callable, Iterable, Iterator, Sequence
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.text_cells import unguarded


class Numbers(Iterable[str]):
    """A column of numbers, which become text only where a file of text is written. values: an array of them."""

    def __init__(self, values: NDArray[np.generic]) -> None:
        self.values = values

    def __iter__(self) -> Iterator[str]:
        return iter(numbers(self.values))


class Table:
    """A table given by its columns."""

    def __init__(self, header: Sequence[str], columns: Sequence[Iterable[str]]) -> None:
        self.header = list(header)
        self.columns = columns

    def __iter__(self) -> Iterator[list[str]]:
        """The rows, the header first."""
        yield self.header
        for row in zip(*self.columns, strict=True):
            yield list(row)


def numbers(values: NDArray[np.generic]) -> list[str]:
    """Each number as the shortest decimal that reads back the same in its own precision; NaN as nothing.

    >>> numbers(np.array([0.1, 1.0, np.nan], np.float32)), numbers(np.array([3, -1]))
    (['0.1', '1.0', ''], ['3', '-1'])
    """
    if values.dtype.kind in "iub":
        return [str(value) for value in values.tolist()]
    return ["" if value != value else str(value) for value in values]


def write_table(path: Path, content: Table) -> None:
    """Write a table in the format of its ending: CSV, or Parquet, in which numbers stay numbers, what is missing is null, and no text is
    guarded."""
    if path.suffix != ".parquet":
        write_csv(path, content)
        return
    import pyarrow
    import pyarrow.parquet

    columns = {
        kept: pyarrow.array(column.values, from_pandas=True)
        if isinstance(column, Numbers)
        else pyarrow.array([unguarded(cell) for cell in column], pyarrow.string())
        for kept, column in zip(apart(map(unguarded, content.header)), content.columns, strict=True)
    }
    pyarrow.parquet.write_table(pyarrow.table(columns), path)


def apart(heads: Iterable[str]) -> list[str]:
    """The heads of columns, with a number where one is there again.

    >>> apart(["crop", "", "crop"])
    ['crop', 'column', 'crop 2']
    """
    found: list[str] = []
    for head in heads:
        name, number = head or "column", 2
        while name in found:
            name, number = f"{head or 'column'} {number}", number + 1
        found.append(name)
    return found


def write_csv(path: Path, rows: Iterable[list[str]]) -> None:
    """Write the rows of a table as CSV (RFC 4180) in UTF-8."""
    with path.open("w", encoding="utf-8", newline="") as file:
        csv.writer(file, lineterminator="\r\n").writerows(rows)


def kept_apart(names: Sequence[str], plain: Callable[[str], str]) -> list[str]:
    """Names as a format can hold them; where that makes some of them one, a number tells them apart. plain: what it holds of one.

    >>> kept_apart(["a\x01", "a", "a\x02"], lambda name: "".join(filter(str.isprintable, name)))
    ['a 2', 'a', 'a 3']
    """
    taken = {name for name in names if plain(name) == name}
    found = []
    for name in names:
        own, number = plain(name), 2
        while own != name and own in taken:
            own, number = f"{plain(name)} {number}", number + 1
        taken.add(own)
        found.append(own)
    return found
