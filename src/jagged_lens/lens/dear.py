"""Dear results: what took long is kept in the project, so that a project that is opened again is there at once.

Only flat results of arrays and numbers; as an .npz archive (NumPy's open format) read without pickle, so that nothing in a
file is ever executed. A key says everything that a result depends on, and the version of the program that computed it.
"""

from __future__ import annotations

import dataclasses
import io
import typing
import zipfile
from typing import Any

import numpy as np

from jagged_lens import __version__
from jagged_lens.compare import Neighbours, Pairs
from jagged_lens.compare.distribution import Distribution
from jagged_lens.group import Grouping
from jagged_lens.lens.steps import Job
from jagged_lens.map.pca import Projection

SECONDS = 0.5
"""A result that took longer to compute is dear."""

_TYPES: dict[str, type] = {
    "neighbours": Neighbours,
    "pairs": Pairs,
    "distribution": Distribution,
    "grouping": Grouping,
    "projection": Projection,
}


def recalled(job: Job, part: str, key: str) -> Any | None:
    """The result of a part as it is kept in the project; None where it is not, or cannot be read."""
    if job.store is None or part not in _TYPES:
        return None
    content = job.store.result(_name(key))
    return unpacked(part, content) if content is not None else None


def remember(job: Job, part: str, key: str, result: Any, seconds: float) -> None:
    """Keep a result in the project, if it is dear."""
    if job.store is not None and part in _TYPES and seconds > SECONDS:
        job.store.keep_result(_name(key), part, packed(result))


def packed(result: Any) -> bytes:
    """A flat result as an .npz archive."""
    out = io.BytesIO()
    np.savez(
        out,
        allow_pickle=False,
        **{one.name: np.asarray(getattr(result, one.name)) for one in dataclasses.fields(result)},
    )
    return out.getvalue()


def unpacked(part: str, content: bytes) -> Any | None:
    """The result in an archive; None where it is not one of that part."""
    kind = _TYPES[part]
    hints = typing.get_type_hints(kind)
    try:
        with np.load(io.BytesIO(content), allow_pickle=False) as archive:
            values = {name: _value(archive[name], hints[name]) for name in hints if name in archive.files}
        return kind(**values)
    except (ValueError, TypeError, KeyError, EOFError, OSError, zipfile.BadZipFile):
        return None


def _value(array: np.ndarray[Any, Any], hint: Any) -> Any:
    if hint in (int, float, bool):
        return hint(array)
    return tuple(array.tolist()) if typing.get_origin(hint) is tuple else array


def _name(key: str) -> str:
    return f"{__version__}-{key}"
