# SPDX-License-Identifier: GPL-3.0-or-later
"""The chain: compute what a recipe asks for, taking from memory what was computed before."""

from __future__ import annotations

import hashlib
import time
import traceback
from collections import OrderedDict
from collections.abc import Callable, Collection, Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any, Protocol, TypeVar

from jagged_lens.errors import JaggedLensError, Stopped, fault_of_ours, short_of_memory
from jagged_lens.lens.cached import keep, recalled, remember
from jagged_lens.lens.job import Job
from jagged_lens.lens.part import Part, Results, ResultsSoFar, Work
from jagged_lens.lens.steps import ALWAYS, PARTS
from jagged_lens.lens.to_space import CORPUS, failed_sources
from jagged_lens.parallel import steady_blas
from jagged_lens.progress import Progress

T = TypeVar("T")
_EARLY = " ended early"  # behind the key of the whole
_FAULT = " went wrong"
_TOO_FAR_TO_LEAVE = 0.5  # share of a part: so much done is not given up for another


class Memory(Protocol):
    """The store of results by key."""

    def get(self, key: str) -> Any | None:
        """The result under a key; None where it is not remembered."""

    def put(self, key: str, result: Any) -> Any:
        """Remember; gives back the result as it is remembered."""


class Recent:
    """The most recently used results, as many as there is room for."""

    def __init__(self, room: int = 200) -> None:
        self._room = room
        self._kept: OrderedDict[str, Any] = OrderedDict()

    def get(self, key: str) -> Any | None:
        """The result under a key; None where it is not remembered."""
        if key in self._kept:
            self._kept.move_to_end(key)
        return self._kept.get(key)

    def put(self, key: str, result: Any) -> Any:
        """Remember a result; gives it back."""
        self._kept[key] = result
        self._kept.move_to_end(key)
        while len(self._kept) > self._room:
            self._kept.popitem(last=False)
        return result


class Listener(Protocol):
    """Who is told how the work goes."""

    def began(self, part: Part[Any]) -> Progress:
        """A part is being computed; what is given back is told the share done, and may raise Stopped."""

    def grew(self, part: Part[T], preview: T) -> None:
        """The partial result so far."""

    def done(self, part: Part[T], key: str, result: T, seconds: float) -> None:
        """A result is there, computed or remembered."""

    def failed(self, part: Part[Any], error: JaggedLensError, details: str = "") -> None:
        """A part could not be computed. details: of a fault of ours, told the first time."""

    def deferred(self, part: Part[Any]) -> None:
        """A part that had begun makes way for another that is wanted first."""


@dataclass(frozen=True)
class Keys:
    """The key of each part's result: equal keys, equal results."""

    of: dict[str, str]


def keys_of(job: Job, parts: Iterable[Part[Any]] = PARTS, known: dict[str, str] | None = None) -> Keys:
    """Keys made of the keys of a part's inputs and its own settings. known: keys of parts that are known already."""
    keys: dict[str, str] = {}
    for part in parts:
        if known and part.name in known:
            keys[part.name] = known[part.name]
            continue
        name = part.remembered_as(job) if part.remembered_as is not None else part.name
        made_of = repr((name, part.depends(job), [keys[needed.name] for needed in part.needs]))
        keys[part.name] = hashlib.blake2b(made_of.encode("utf-8", "surrogatepass"), digest_size=16).hexdigest()
    return Keys(keys)


def with_needs(first: Iterable[Part[Any]], then: Iterable[Part[Any]] = ()) -> tuple[Part[Any], ...]:
    """Parts in the order in which to compute them: those wanted first, each after what it needs, then the others.

    >>> from jagged_lens.lens import GROUPING, SHINGLES
    >>> [part.name for part in with_needs([GROUPING], [CORPUS, SHINGLES])]
    ['corpus', 'tokens', 'lens_rows', 'ngrams', 'terms', 'space', 'words', 'given', 'themes', 'tree', 'grouping', 'shingles']
    """
    order: dict[Part[Any], None] = {}

    def add(part: Part[Any]) -> None:
        if part not in order:
            for needed in part.needs:
                add(needed)
            order[part] = None

    for part in (*first, *then):
        add(part)
    return tuple(order)


def _never(part: Part[Any]) -> bool:
    return False


def _always() -> tuple[Part[Any], ...]:
    return ALWAYS


class _Interrupted(Stopped):
    """Another part is wanted first."""


def compute(
    job: Job,
    memory: Memory,
    listener: Listener,
    wanted: Callable[[], Sequence[Part[Any]]] = _always,
    enough: Callable[[Part[Any]], bool] = _never,
) -> Results:
    """Results of the wanted parts; those that fail are told, and what needs them is left out.

    wanted: asked again and again; the parts in the order in which to compute them (as of `with_needs`), the same object as
    long as nothing has changed. Where another part comes first now, the one under way makes way for it, unless more than
    half of it is done. enough: asked again and again whether a part that can be ended early is to be; its result then has a key of
    its own, and stands for the whole until a job asks for that. Raises Stopped where `wanted` or the listener's progress does.
    """
    keys = keys_of(job).of
    results, seen = ResultsSoFar(), set[Part[Any]]()
    with steady_blas():
        while (part := _next(order := wanted(), results, seen)) is not None:
            key = keys[part.name]
            begin = time.perf_counter()
            result = memory.get(key)
            if (
                result is None
                and part is CORPUS
                and not job.anew
                and (result := memory.get(key + job.secret)) is not None
            ):
                key += job.secret
            if result is None and not job.anew and (fault := memory.get(key + _FAULT)) is not None:
                listener.failed(part, fault_of_ours(fault, part.step))
                seen.add(part)
                continue
            if result is None and (kept := recalled(job, part, key, results)) is not None:
                result = memory.put(key, kept)
            if result is None and part.unfinished is not None and part.name not in job.to_the_end:
                key, result = _ended_early(job, part, key, results, memory)
            if result is None:
                progress = _making_way(part, order, listener.began(part), wanted, lambda new: _next(new, results, seen))
                try:
                    progress(0.0)
                    work = Work(job, results, progress, partial(listener.grew, part), partial(enough, part))
                    computed = part.compute(work)
                    if part is CORPUS and failed_sources(computed):
                        key += job.secret  # with another password it may come
                    if part.unfinished is not None and (told := part.unfinished(computed)):
                        memory.put(key + _EARLY, told)
                        keep(job, part, key + _EARLY, computed)
                        key += told
                    else:
                        remember(job, part, key, computed, time.perf_counter() - begin)
                    result = memory.put(key, computed)
                except _Interrupted:
                    listener.deferred(part)
                    continue
                except Stopped:
                    raise
                except JaggedLensError as error:
                    listener.failed(part, error)
                except Exception as error:
                    lack = _lack(part, error)
                    if lack is None:  # a fault of ours: told once, and not tried again by itself
                        memory.put(key + _FAULT, type(error).__name__)
                        listener.failed(part, fault_of_ours(type(error).__name__, part.step), traceback.format_exc())
                    else:
                        listener.failed(part, lack)
            seen.add(part)
            if result is None:
                continue
            if key != keys[part.name]:
                keys = keys_of(job, known={part.name: key}).of
            results[part] = result
            listener.done(part, key, result, time.perf_counter() - begin)
    return results


def _lack(part: Part[Any], error: Exception) -> JaggedLensError | None:
    """The resource that the machine lacked; None if the machine was not at fault."""
    if short_of_memory(error):
        return JaggedLensError("there is not enough memory", part.step, "Use fewer documents or terms.")
    if isinstance(error, OSError) and error.strerror:
        return JaggedLensError(f"it could not be computed ({error.strerror.lower()})", part.step)
    return None


def _ended_early(job: Job, part: Part[T], key: str, results: Results, memory: Memory) -> tuple[str, T | None]:
    """The result of a part that was ended early once, and its key; the key of the whole and None where there is none. It stays
    until the whole is asked for."""
    told = memory.get(key + _EARLY)
    if told is not None and (result := memory.get(key + told)) is not None:
        return key + told, result
    kept = recalled(job, part, key + _EARLY, results)
    if kept is None or part.unfinished is None or not (told := part.unfinished(kept)):
        return key, None
    memory.put(key + _EARLY, told)
    return key + told, memory.put(key + told, kept)


def _next(order: Sequence[Part[Any]], results: Results, seen: Collection[Part[Any]]) -> Part[Any] | None:
    """The first part that can be computed now; None where there is none."""
    return next(
        (part for part in order if part not in seen and all(needed in results for needed in part.needs)),
        None,
    )


def _making_way(
    part: Part[Any],
    known: Sequence[Part[Any]],
    progress: Progress,
    wanted: Callable[[], Sequence[Part[Any]]],
    following: Callable[[Sequence[Part[Any]]], Part[Any] | None],
) -> Progress:
    """A progress that raises _Interrupted where another part is wanted before this one, or this one not at all. known: the order
    by which this one was chosen."""

    def watched(share: float) -> None:
        nonlocal known
        progress(share)
        order = wanted()
        if order is not known:
            known = order
            if part not in order or (share < _TOO_FAR_TO_LEAVE and following(order) is not part):
                raise _Interrupted

    return watched
