# SPDX-License-Identifier: GPL-3.0-or-later
"""The form of numbers and texts in a file."""

from __future__ import annotations

import csv
from collections.abc import Callable, Iterable, Iterator, Sequence
from pathlib import Path

import numpy as np
from numpy.typing import NDArray


def numbers(values: NDArray[np.generic]) -> list[str]:
    """Each number as the shortest decimal that reads back the same in its own precision; NaN as nothing.

    >>> numbers(np.array([0.1, 1.0, np.nan], np.float32)), numbers(np.array([3, -1]))
    (['0.1', '1.0', ''], ['3', '-1'])
    """
    if values.dtype.kind in "iub":
        return [str(value) for value in values.tolist()]
    return ["" if value != value else str(value) for value in values]


def table(header: list[str], columns: list[Iterable[str]]) -> Iterator[list[str]]:
    """The rows of a table given by its columns."""
    yield header
    for row in zip(*columns, strict=True):
        yield list(row)


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
