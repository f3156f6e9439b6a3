# SPDX-License-Identifier: GPL-3.0-or-later
"""Results that two processes share without copying: arrays laid into anonymous memory, handed over as a descriptor.

A result is pickled with its arrays out of band (PEP 574); they are laid one after the other into a memory file and read
back as views of it. Nothing has a name in the file system, so nothing is left behind when a process is killed. Pickles
travel only between a window and the worker that it started itself, never to or from a file.
"""

from __future__ import annotations

import contextlib
import mmap
import os
import pickle
import resource
import struct
from collections import OrderedDict
from dataclasses import dataclass
from typing import Any

_ALIGN = 64
_MOST_OPEN = 4096
_FEW = 40  # results of two jobs, and a little more


@dataclass(frozen=True)
class Sealed:
    """The descriptor of the memory that a result lies in, and its size in bytes."""

    descriptor: int
    size: int


def seal(result: Any) -> Sealed:
    """Lay a result into memory of its own."""
    buffers: list[pickle.PickleBuffer] = []
    head = pickle.dumps(result, protocol=5, buffer_callback=buffers.append)
    views = [buffer.raw() for buffer in buffers]
    spans = []
    end = _up(16 + len(head) + 16 * len(views))
    for view in views:
        spans.append((end, view.nbytes))
        end = _up(end + view.nbytes)
    descriptor = os.memfd_create("jagged-lens", os.MFD_CLOEXEC)
    os.ftruncate(descriptor, end)
    with mmap.mmap(descriptor, end) as memory:
        memory[:16] = struct.pack("<QQ", len(head), len(views))
        memory[16 : 16 + len(head)] = head
        for at, span in enumerate(spans):
            struct.pack_into("<QQ", memory, 16 + len(head) + 16 * at, *span)
        for (start, size), view in zip(spans, views, strict=True):
            memory[start : start + size] = view
    return Sealed(descriptor, end)


def unseal(descriptor: int) -> Any:
    """The result that lies in the memory behind a descriptor, as a read-only view of it."""
    memory = memoryview(mmap.mmap(descriptor, 0, prot=mmap.PROT_READ))
    length, count = struct.unpack_from("<QQ", memory)
    spans = (struct.unpack_from("<QQ", memory, 16 + length + 16 * at) for at in range(count))
    return pickle.loads(memory[16 : 16 + length], buffers=[memory[start : start + size] for start, size in spans])


def _up(size: int) -> int:
    return -(-size // _ALIGN) * _ALIGN


def room_for_descriptors() -> int:
    """The number of results may be remembered, since each holds a descriptor open: half of what this process may have, after it has asked
    for as many as the system grants."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    if soft != hard:
        with contextlib.suppress(OSError, ValueError):
            resource.setrlimit(resource.RLIMIT_NOFILE, (hard, hard))
            soft = hard
    return max(min(soft, _MOST_OPEN) // 2, _FEW)


class SealedMemory:
    """The most recently used results, within a budget of bytes and of descriptors. The newest is always kept."""

    def __init__(self, budget: int, most: int = _MOST_OPEN // 2) -> None:
        self.budget = budget
        self._most = most
        self._kept: OrderedDict[str, Sealed] = OrderedDict()

    def get(self, key: str) -> Any | None:
        """The result under a key, as a read-only view; None where it is not remembered."""
        if key not in self._kept:
            return None
        self._kept.move_to_end(key)
        return unseal(self._kept[key].descriptor)

    def put(self, key: str, result: Any) -> Any:
        """Remember; gives back the result as a read-only view of what is remembered."""
        if key in self._kept:
            os.close(self._kept.pop(key).descriptor)
        self._kept[key] = sealed = seal(result)
        while len(self._kept) > 1 and (self._size > self.budget or len(self._kept) > self._most):
            os.close(self._kept.popitem(last=False)[1].descriptor)
        return unseal(sealed.descriptor)

    @property
    def _size(self) -> int:
        return sum(one.size for one in self._kept.values())

    def descriptor(self, key: str) -> int:
        """The descriptor of the memory that the result under a key lies in."""
        return self._kept[key].descriptor
