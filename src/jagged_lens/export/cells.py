"""How numbers and texts stand in a file."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

_RISKY = ("=", "+", "-", "@", "\t", "\r", "\n")


def guarded(text: str) -> str:
    """A text cell that no spreadsheet takes for a formula.

    >>> guarded("=cmd()"), guarded("slugs"), guarded("")
    ("'=cmd()", 'slugs', '')
    """
    return f"'{text}" if text.startswith(_RISKY) else text


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
