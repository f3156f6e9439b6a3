# SPDX-License-Identifier: GPL-3.0-or-later
"""Cached results: what took long is kept in the project, so that a project that is opened again is there at once.

Only flat results of arrays and numbers; as an .npz archive (NumPy's open format) read without pickle, so that nothing in a
file is ever executed. A key says everything that a result depends on, and the version of the program that computed it. What
comes out of a project is checked like a recipe: a result of another shape or kind is thrown away, and computed anew.
"""

from __future__ import annotations

import dataclasses
import io
import math
import typing
import zipfile
from collections.abc import Callable
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens import __version__
from jagged_lens.compare import BINS, Kind, Neighbours, Pairs
from jagged_lens.compare.distribution import Distribution
from jagged_lens.errors import JaggedLensError
from jagged_lens.group import Grouping, Holding, Sweep, Tree
from jagged_lens.lens.job import Job
from jagged_lens.lens.part import Part, Results
from jagged_lens.lens.to_groups import GROUPING, HOLDING, RIDGE, SWEEP, TREE
from jagged_lens.lens.to_map import DISTRIBUTION, LAID, NEIGHBOURS, PAIRS, PROJECTION
from jagged_lens.lens.to_space import SPACE, THEMES
from jagged_lens.map import Laid, Projection
from jagged_lens.weigh import Themes

SECONDS = 0.5
"""A result that took longer to compute is cached."""

_SPARSE = ("data", "indices", "indptr", "shape")

Array = NDArray[Any]
T = TypeVar("T")


def recalled(job: Job, part: Part[T], key: str, results: Results) -> T | None:
    """The result of a part as it is kept in the project. None where it is not there, cannot be read, or does not fit the results that it
    was computed from."""
    if job.store is None or part.name not in _CHECKED:
        return None
    try:
        content = job.store.result(_name(key))
    except JaggedLensError:
        return None
    if content is None:
        return None
    n, m = results[SPACE].weights.shape
    if part is not THEMES and len(results[THEMES]):
        m = len(results[THEMES])
    return unpacked(part.name, content, (n, m))


def remember(job: Job, part: Part[T], key: str, result: T, seconds: float) -> None:
    """Keep a result in the project, if it took long. That it cannot be kept costs time later, and nothing now."""
    if seconds > SECONDS:
        keep(job, part, key, result)


def keep(job: Job, part: Part[T], key: str, result: T) -> None:
    """Keep a result in the project, however long it took."""
    if job.store is None or part.name not in _CHECKED:
        return
    try:
        job.store.keep_result(_name(key), part.name, packed(result))
    except JaggedLensError:
        return


def packed(result: Any) -> bytes:
    """A flat result as an .npz archive."""
    out = io.BytesIO()
    arrays: dict[str, Array] = {}
    for one in dataclasses.fields(result):
        value = getattr(result, one.name)
        if isinstance(value, csr_array):
            arrays |= {f"{one.name}.{name}": np.asarray(getattr(value, name)) for name in _SPARSE}
        else:
            arrays[one.name] = np.asarray(value)
    np.savez(out, allow_pickle=False, **arrays)
    return out.getvalue()


def unpacked(part: str, content: bytes, shape: tuple[int, int]) -> Any | None:
    """The result in an archive; None where it is not one of that part, for a space of that shape."""
    kind, fits = _CHECKED[part]
    hints = typing.get_type_hints(kind)
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            if any(one.compress_type != zipfile.ZIP_STORED for one in packed.infolist()):
                return None  # we never compress: nothing can grow while it is read
        with np.load(io.BytesIO(content), allow_pickle=False) as archive:
            result = kind(**{name: _value(archive, name, hints[name]) for name in hints})
        return result if fits(result, *shape) else None
    except (ValueError, TypeError, KeyError, EOFError, OSError, IndexError, SyntaxError, OverflowError, MemoryError):
        return None
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError):
        return None


def _value(archive: Any, name: str, hint: Any) -> Any:
    if hint is csr_array:
        data, indices, indptr, shape = (archive[f"{name}.{part}"] for part in _SPARSE)
        rows, columns = map(int, shape)
        sparse = csr_array((data, indices, indptr), shape=(rows, columns))
        sparse.check_format(full_check=True)
        return sparse
    array = archive[name]
    if hint in (int, float, bool, str):
        return hint(array)
    if typing.get_origin(hint) is tuple:
        if array.ndim != 1:
            raise ValueError(f"{name} is not a list")
        return tuple(array.tolist())
    return array


def _is(array: Array, kind: type, *shape: int) -> bool:
    return array.dtype == kind and array.shape == shape


def _all_between(array: Array, low: int, high: int) -> bool:
    """True if all are from `low` to before `high`."""
    return bool(((array >= low) & (array < high)).all())


def _neighbours(one: Neighbours, n: int, m: int) -> bool:
    k = one.row.shape[1]
    shapes = _is(one.row, np.int32, n, k) and _is(one.similarity, np.float32, n, k)
    return shapes and _all_between(one.row, -1, n) and bool(np.isfinite(one.similarity).all()) and 0 <= one.recall <= 1


def _themes(one: Themes, n: int, m: int) -> bool:
    k = len(one.values)
    return (
        _is(one.terms, np.float32, m, 0 if one.given else k)
        and _is(one.values, np.float64, k)
        and _is(one.documents, np.float32, n, k)
        and math.isfinite(one.energy)
        and one.by in ("svd", "learned", "adding", "file", "service")
        and (_is(one.amounts, np.float32, n, k) if one.by == "adding" else not one.amounts.size)
        and 0 <= one.left <= 1
        and all(bool(np.isfinite(array).all()) for array in (one.terms, one.values, one.documents))
    )


def _laid(one: Laid, n: int, m: int) -> bool:
    return (
        _is(one.positions, np.float32, n, 2)
        and _is(one.rim, np.bool_, n)
        and not np.isinf(one.positions).any()
        and 0 <= one.rounds <= one.of
    )


def _pairs(one: Pairs, n: int, m: int) -> bool:
    p = len(one.first)
    kinds = {"first": np.int32, "second": np.int32, "similarity": np.float32, "kind": np.uint8, "family": np.int32}
    kinds |= {"resemblance": np.float32}
    return (
        all(_is(getattr(one, name), kind, p) for name, kind in kinds.items())
        and _all_between(one.second, 0, n)
        and _all_between(one.first, 0, n)
        and bool((one.first < one.second).all())
        and _all_between(one.kind, 0, len(Kind))
        and _all_between(one.family, -1, max(p, 1))
        and bool(np.isfinite(one.similarity).all() and np.isfinite(one.resemblance).all())
        and one.documents == n
        and 0 <= one.paired <= n
        and 0 < one.listed_from <= 1.01
        and 0 <= one.spared <= n
        and one.left_out >= 0
    )


def _distribution(one: Distribution, n: int, m: int) -> bool:
    return all(
        _is(array, np.float64, BINS) and bool((np.isfinite(array) & (array >= 0)).all())
        for array in (one.counts, one.error)
    )


def _grouping(one: Grouping, n: int, m: int) -> bool:
    g = len(one.sizes)
    return (
        _is(one.group, np.int32, n)
        and _all_between(one.group, -1, g)
        and _is(one.sizes, np.int32, g)
        and np.array_equal(np.bincount(one.group[one.group >= 0], minlength=g), one.sizes)
        and one.centroids.shape == (g, m)
        and one.centroids.dtype == np.float32
        and _is(one.closeness, np.float32, n)
        and _is(one.tightness, np.float32, g)
        and math.isfinite(one.quality)
        and bool(np.isfinite(one.closeness).all() and np.isfinite(one.tightness).all())
        and len(one.names) in (0, g)
        and all(isinstance(name, str) for name in one.names)
    )


def _tree(one: Tree, n: int, m: int) -> bool:
    leaves = len(one.rows)
    joins = max(leaves - 1, 0)
    if not (
        _is(one.joins, np.float64, joins, 4) and _is(one.rows, np.int32, leaves) and _is(one.order, np.int32, leaves)
    ):
        return False
    sides = one.joins[:, :2]
    return (
        leaves <= n
        and _all_between(one.rows, 0, n)
        and np.array_equal(np.sort(one.order), np.arange(leaves))
        and bool(np.isfinite(one.joins).all() and (np.diff(one.heights) >= 0).all())
        # Each leaf and each join but the last is a side of one join, which comes after it.
        and np.array_equal(np.sort(sides.ravel()), np.arange(max(leaves + joins - 1, 0)))
        and bool((sides < leaves + np.arange(joins)[:, None]).all())
    )


def _holding(one: Holding, n: int, m: int) -> bool:
    return one.overlaps.dtype == np.float32 and one.overlaps.ndim == 2 and not np.isinf(one.overlaps).any()


def _sweep(one: Sweep, n: int, m: int) -> bool:
    k = len(one.groups)
    curves = (one.tightness, one.silhouette, one.agreement, one.holding)
    return (
        _is(one.groups, np.int64, k)
        and all(_is(curve, np.float64, k) and not np.isinf(curve).any() for curve in curves)
        and _is(one.group, np.int32, k, n)
        and k <= one.of
        and bool((one.groups > 0).all() and (one.group >= -1).all())
        and bool((one.group < one.groups[:, None]).all())
    )


def _projection(one: Projection, n: int, m: int) -> bool:
    return (
        _is(one.positions, np.float32, n, 2)
        and _is(one.axes, np.float32, 2, m)
        and _is(one.mean, np.float32, m)
        and not np.isinf(one.positions).any()
        and bool(np.isfinite(one.axes).all() and np.isfinite(one.mean).all())
        and len(one.explained) == 2
        and all(math.isfinite(share) for share in one.explained)
    )


_CHECKED: dict[str, tuple[type, Callable[[Any, int, int], bool]]] = {
    NEIGHBOURS.name: (Neighbours, _neighbours),
    PAIRS.name: (Pairs, _pairs),
    DISTRIBUTION.name: (Distribution, _distribution),
    GROUPING.name: (Grouping, _grouping),
    TREE.name: (Tree, _tree),
    RIDGE.name: (Tree, _tree),
    HOLDING.name: (Holding, _holding),
    SWEEP.name: (Sweep, _sweep),
    PROJECTION.name: (Projection, _projection),
    THEMES.name: (Themes, _themes),
    LAID.name: (Laid, _laid),
}


def _name(key: str) -> str:
    return f"{__version__}-{key}"
