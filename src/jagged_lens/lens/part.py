# SPDX-License-Identifier: GPL-3.0-or-later
"""The parts of a lens as nodes of a graph, and their results, which are typed by their part."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from jagged_lens.lens.job import Job
from jagged_lens.progress import Progress, never, unseen

T = TypeVar("T")


@dataclass(frozen=True, eq=False)
class Part(Generic[T]):
    """One node of the graph; its result is a T.

    name: of the result. step: which of the seven steps it belongs to. needs: the parts it is computed from. depends: the
    settings (and states of files) that change it. compute: gives the result. on_demand: computed only where somebody asks for it.
    unfinished: of a part that can be ended early, what tells a result that was from a whole one; "" for a whole one. remembered_as: the
    name under which its result is remembered, where another part with the same needs and settings may have computed it already.
    """

    name: str
    step: str
    needs: tuple[Part[Any], ...]
    depends: Callable[[Job], object]
    compute: Callable[[Work], T]
    on_demand: bool = False
    unfinished: Callable[[T], str] | None = None
    remembered_as: Callable[[Job], str] | None = None


class Results:
    """Results by their part: `results[SPACE]` is a VectorSpace. KeyError for one that is not there.

    The name of a part does as well where no type is checked, in a script.
    """

    def __init__(self, of: Mapping[str, Any] | None = None) -> None:
        self._of: dict[str, Any] = dict(of or {})

    def __getitem__(self, part: Part[T]) -> T:
        result: T = self._of[name_of(part)]
        return result

    def get(self, part: Part[T]) -> T | None:
        """The result of a part; None where it is not there."""
        return self._of.get(name_of(part))

    def __contains__(self, part: Part[Any]) -> bool:
        return name_of(part) in self._of

    def __iter__(self) -> Iterator[str]:
        return iter(self._of)

    def __len__(self) -> int:
        return len(self._of)

    def keys(self) -> list[str]:
        """Names of the parts that are there."""
        return list(self._of)

    def items(self) -> list[tuple[str, Any]]:
        """Name of each part and its result."""
        return list(self._of.items())


class ResultsSoFar(Results):
    """Results as they come."""

    def __setitem__(self, part: Part[T], result: T) -> None:
        self._of[name_of(part)] = result

    def drop(self, part: Part[Any]) -> None:
        """Forget the result of a part, if it is there."""
        self._of.pop(name_of(part), None)

    def clear(self) -> None:
        """Forget all results."""
        self._of.clear()


def name_of(part: Part[Any] | str) -> str:
    """The name of a part, or what is a name already."""
    return part if isinstance(part, str) else part.name


@dataclass(frozen=True)
class Work:
    """The context of computing a part: `work[SPACE]` is a result that it needs.

    progress: told the share done. preview: shown what there is of the result so far; a long part calls it now and then. enough:
    whether what there is so far is to be the result.
    """

    job: Job
    results: Results
    progress: Progress
    preview: Callable[[Any], None] = unseen
    enough: Callable[[], bool] = never

    def __getitem__(self, part: Part[T]) -> T:
        return self.results[part]
