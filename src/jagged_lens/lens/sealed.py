"""Results that two processes share without copying: arrays laid into anonymous memory, handed over as a descriptor.

A result is pickled with its arrays out of band (PEP 574); they are laid one after the other into a memory file and read
back as views of it. Nothing has a name in the file system, so nothing is left behind when a process is killed. Pickles
travel only between a window and the worker that it started itself, never to or from a file.
"""

from __future__ import annotations

import mmap
import os
import pickle
import struct
from collections import OrderedDict
from dataclasses import dataclass
from typing import Any

_ALIGN = 64


@dataclass(frozen=True)
class Sealed:
    """A result, the descriptor of the memory that it lies in, and its size in bytes."""

    result: Any
    descriptor: int
    size: int


def seal(result: Any) -> Sealed:
    """Lay a result into memory of its own; the one given back is a read-only view of that."""
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
    return Sealed(unseal(descriptor), descriptor, end)


def unseal(descriptor: int) -> Any:
    """The result that lies in the memory behind a descriptor, as a read-only view of it."""
    memory = memoryview(mmap.mmap(descriptor, 0, prot=mmap.PROT_READ))
    length, count = struct.unpack_from("<QQ", memory)
    spans = (struct.unpack_from("<QQ", memory, 16 + length + 16 * at) for at in range(count))
    return pickle.loads(memory[16 : 16 + length], buffers=[memory[start : start + size] for start, size in spans])


def _up(size: int) -> int:
    return -(-size // _ALIGN) * _ALIGN


class SealedMemory:
    """The most recently used results within a budget of bytes. The newest is always kept."""

    def __init__(self, budget: int) -> None:
        self.budget = budget
        self._kept: OrderedDict[str, Sealed] = OrderedDict()

    def get(self, key: str) -> Any | None:
        if key not in self._kept:
            return None
        self._kept.move_to_end(key)
        return self._kept[key].result

    def put(self, key: str, result: Any) -> Any:
        self._kept[key] = sealed = seal(result)
        while len(self._kept) > 1 and sum(one.size for one in self._kept.values()) > self.budget:
            os.close(self._kept.popitem(last=False)[1].descriptor)
        return sealed.result

    def descriptor(self, key: str) -> int:
        return self._kept[key].descriptor
