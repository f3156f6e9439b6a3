"""The chain: compute what a recipe asks for, taking from memory what was computed before."""

from __future__ import annotations

import hashlib
import time
from collections import OrderedDict
from collections.abc import Callable, Collection, Iterable
from dataclasses import dataclass
from typing import Any, Protocol

from jagged_lens.errors import JaggedLensError
from jagged_lens.lens.dear import recalled, remember
from jagged_lens.lens.steps import PARTS, Job, Part, failed_sources
from jagged_lens.parallel import steady_blas
from jagged_lens.progress import Progress


class Memory(Protocol):
    """Where results are remembered under their keys."""

    def get(self, key: str) -> Any | None: ...

    def put(self, key: str, result: Any) -> Any:
        """Remember; gives back the result as it is remembered."""


class Recent:
    """The most recently used results, as many as there is room for."""

    def __init__(self, room: int = 200) -> None:
        self._room = room
        self._kept: OrderedDict[str, Any] = OrderedDict()

    def get(self, key: str) -> Any | None:
        if key in self._kept:
            self._kept.move_to_end(key)
        return self._kept.get(key)

    def put(self, key: str, result: Any) -> Any:
        self._kept[key] = result
        self._kept.move_to_end(key)
        while len(self._kept) > self._room:
            self._kept.popitem(last=False)
        return result


class Witness(Protocol):
    """Who is told how the work goes."""

    def began(self, part: Part) -> Progress:
        """A part is being computed; what is given back is told the share done, and may raise Stopped."""

    def done(self, part: Part, key: str, result: Any, seconds: float) -> None: ...

    def failed(self, part: Part, error: JaggedLensError) -> None: ...


@dataclass(frozen=True)
class Keys:
    """The key of each part's result: equal keys, equal results."""

    of: dict[str, str]


def keys_of(job: Job, parts: Iterable[Part] = PARTS, known: dict[str, str] | None = None) -> Keys:
    """Keys made of the keys of a part's inputs and its own settings. known: keys of parts that are known already."""
    keys: dict[str, str] = {}
    for part in parts:
        if known and part.name in known:
            keys[part.name] = known[part.name]
            continue
        made_of = repr((part.name, part.depends(job), [keys[name] for name in part.needs]))
        keys[part.name] = hashlib.blake2b(made_of.encode("utf-8", "surrogatepass"), digest_size=16).hexdigest()
    return Keys(keys)


def compute(
    job: Job,
    memory: Memory,
    witness: Witness,
    changed: Callable[[], bool] = lambda: False,
    wanted: Collection[str] | None = None,
) -> dict[str, Any]:
    """Compute all parts, or those `wanted` by name; those that fail are told, and what needs them is left out.

    Raises Stopped where the witness's progress does. changed: asked between parts; True ends early.
    """
    keys = keys_of(job).of
    results: dict[str, Any] = {}
    with steady_blas():
        for part in PARTS:
            if wanted is not None and part.name not in wanted:
                continue
            if changed():
                break
            if not all(name in results for name in part.needs):
                continue
            key = keys[part.name]
            begin = time.perf_counter()
            result = memory.get(key)
            if result is None and part.name == "corpus" and (result := memory.get(key + job.secret)) is not None:
                key += job.secret
            if result is None and (kept := recalled(job, part.name, key, results)) is not None:
                result = memory.put(key, kept)
            if result is None:
                progress = witness.began(part)
                progress(0.0)
                try:
                    computed = part.compute(job, results, progress)
                    if part.name == "corpus" and failed_sources(computed):
                        key += job.secret  # with another password it may come
                    remember(job, part.name, key, computed, time.perf_counter() - begin)
                    result = memory.put(key, computed)
                except JaggedLensError as error:
                    witness.failed(part, error)
                    continue
                except MemoryError:
                    witness.failed(
                        part, JaggedLensError("there is not enough memory", part.step, "Use fewer documents or terms.")
                    )
                    continue
            if key != keys[part.name]:
                keys = keys_of(job, known={part.name: key}).of
            results[part.name] = result
            witness.done(part, key, result, time.perf_counter() - begin)
    return results
