# SPDX-License-Identifier: GPL-3.0-or-later
"""Random numbers that hang on documents: each has its own for every start and draw, whoever else is there and in whatever order."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.mixing import mixed

_LEAST = 2.0**-54


def ids_of(keys: Iterable[str]) -> NDArray[np.uint64]:
    """A number for each key, the same wherever the key stands: uint64, n.

    >>> first, second = ids_of(["LM-0001", "LM-0002"]), ids_of(["LM-0002"])
    >>> bool(first[1] == second[0])
    True
    """
    digests = b"".join(hashlib.blake2b(key.encode("utf-8", "surrogatepass"), digest_size=8).digest() for key in keys)
    return np.frombuffer(digests, np.uint64).copy()


def ids_by_place(n: int) -> NDArray[np.uint64]:
    """Numbers for rows that have no keys: their places (uint64, n)."""
    return np.arange(n, dtype=np.uint64)


def uniform(ids: NDArray[np.uint64], *counter: int) -> NDArray[np.float64]:
    """For each id a number above 0 and below 1, other ones for each counter: float64, in the shape of `ids`.

    By the finalizer of Steele, Lea & Flood, "Fast splittable pseudorandom number generators", 2014.
    """
    said = hashlib.blake2b(repr(counter).encode(), digest_size=8).digest()
    z = mixed(ids ^ np.uint64(int.from_bytes(said, "little")))
    z = mixed(z + np.uint64(0x9E3779B97F4A7C15))
    return np.maximum((z >> np.uint64(11)).astype(np.float64) * 2.0**-53, _LEAST)


@dataclass(frozen=True, eq=False)
class Draws:
    """The numbers of S starts of n rows. ids: uint64, n × S; starts: the number of each start."""

    ids: NDArray[np.uint64]
    starts: tuple[int, ...]
    seed: int

    def noise(self, number: int) -> NDArray[np.float64]:
        """The term added to ln d in draw `number`, so that the largest sum is a draw in proportion to d: -ln(-ln u), float64, n × S.

        The Gumbel-max trick: Gumbel, "Statistical theory of extreme values", 1954.
        """
        columns = [uniform(self.ids[:, at], self.seed, start, number) for at, start in enumerate(self.starts)]
        return -np.log(-np.log(np.stack(columns, axis=1)))


def part_of(ids: NDArray[np.uint64], size: int, *counter: int) -> NDArray[np.int64]:
    """The places of `size` of some ids, drawn without replacement: int64, rising. One that goes changes hardly who else is drawn."""
    order = np.lexsort((ids, uniform(ids, *counter)))
    return np.sort(order[:size])
