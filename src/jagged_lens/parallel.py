# SPDX-License-Identifier: GPL-3.0-or-later
"""Parallel work that gives the same bytes on any number of threads: fixed blocks, joined in order.

BLAS is held to one thread, since it splits sums differently for every number of threads.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from typing import TypeVar

from threadpoolctl import threadpool_limits

from jagged_lens.progress import Progress, unheard

Block = TypeVar("Block")
Result = TypeVar("Result")

_threads = os.cpu_count() or 1


def set_threads(count: int) -> None:
    """Use so many threads for work over blocks; results do not depend on it."""
    global _threads
    _threads = max(1, count)


def threads() -> int:
    """The number of threads work is done on."""
    return _threads


@contextmanager
def steady_blas() -> Iterator[None]:
    """Within it, BLAS works on one thread, so that sums come out the same everywhere."""
    with threadpool_limits(limits=1, user_api="blas"):
        yield


def blocks(length: int, size: int) -> list[slice]:
    """Slices of `size` rows that cover `length` rows.

    >>> blocks(5, 2)
    [slice(0, 2, None), slice(2, 4, None), slice(4, 5, None)]
    """
    return [slice(start, min(start + size, length)) for start in range(0, length, size)]


def over_blocks(work: Callable[[Block], Result], of: Sequence[Block], progress: Progress = unheard) -> Iterator[Result]:
    """`work` on each block, on all threads, its results in the order of the blocks.

    At most a few blocks are ahead of the one handed on, so that memory stays bounded.
    """
    if _threads == 1 or len(of) < 2:
        for done, block in enumerate(of):
            progress(done / len(of))
            yield work(block)
        return
    ahead = 2 * _threads
    with ThreadPoolExecutor(_threads) as pool:
        waiting = [pool.submit(work, block) for block in of[:ahead]]
        try:
            for done in range(len(of)):
                progress(done / len(of))
                result = waiting.pop(0).result()
                if done + ahead < len(of):
                    waiting.append(pool.submit(work, of[done + ahead]))
                yield result
        finally:
            for later in waiting:
                later.cancel()
