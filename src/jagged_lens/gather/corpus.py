"""The corpus: all documents of a project, in an order that never changes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.strings import Strings


@dataclass(frozen=True, eq=False)
class Label:
    """One label of all documents, such as the crop. values: the distinct values; codes: int32, value of each row."""

    name: str
    values: Strings
    codes: NDArray[np.int32]

    @classmethod
    def of(cls, name: str, values: Iterable[str]) -> Label:
        """Distinct values in the order in which they first occur."""
        seen: dict[str, int] = {}
        codes = np.array([seen.setdefault(value, len(seen)) for value in values], np.int32)
        return cls(name, Strings.of(seen), codes)

    def value(self, row: int) -> str:
        return self.values[int(self.codes[row])]


@dataclass(frozen=True, eq=False)
class Corpus:
    """n documents. Outside, a document is its key; inside, its row.

    keys, texts (NFC), titles, origins (the file it came from): n strings each. notices: what was passed over while
    reading, in words.
    """

    keys: Strings
    texts: Strings
    titles: Strings
    origins: Strings
    labels: tuple[Label, ...] = ()
    notices: tuple[str, ...] = ()

    def __len__(self) -> int:
        return len(self.keys)
