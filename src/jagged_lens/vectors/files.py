# SPDX-License-Identifier: GPL-3.0-or-later
"""Vectors from a file: NumPy's formats (.npy, .npz), a table with commas (.csv) or tabs (.tsv), and Parquet.

docs/formats.md says what each must contain.
"""

from __future__ import annotations

import csv
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from jagged_lens.errors import SourceError
from jagged_lens.named_file import path_of, plain_file, small_file
from jagged_lens.strings import Strings
from jagged_lens.vectors.keyed import KeyedVectors

ENDINGS = (".npy", ".npz", ".csv", ".tsv", ".parquet")
MOST_DIMENSIONS = 10_000
KEYS_BESIDE = ".keys.txt"
"""Beside vectors.npy, vectors.keys.txt has the keys, one a line."""
_MOST_KEYS = 500_000_000  # bytes
_NAMES = ("key", "keys", "id", "ids", "name", "names")
_HEAD = 1_000_000  # bytes in which the first line of a table ends


def read_vectors(name: str, folder: Path) -> KeyedVectors:
    """The vectors of a file with their keys. SourceError where it is not one of the formats, or has no keys or no numbers.

    name: as it is written in a recipe; a relative path is relative to `folder`. An .npy is mapped, not read.
    """
    try:
        path = path_of(name, folder)
        plain_file(path)
        ending = path.suffix.lower()
        if ending not in _READERS:
            raise SourceError(
                f"vectors do not come in a {ending or 'file without an ending'}",
                name,
                f"Use one of {', '.join(ENDINGS)}.",
            )
        found = _READERS[ending](path)
    except OSError as error:
        raise SourceError(
            f"the vectors cannot be read ({(error.strerror or str(error)).lower()})", name, "Choose another file."
        ) from error
    except zipfile.BadZipFile as error:
        raise _damaged(path, str(error)) from error
    return _checked(found, path)


def _checked(found: KeyedVectors, path: Path) -> KeyedVectors:
    vectors = found.vectors
    if vectors.ndim != 2 or not vectors.shape[1]:
        raise SourceError("it does not have a row of numbers for each key", path.name, "Save a table of numbers.")
    if not len(vectors):
        raise SourceError("it has no vectors", path.name, "Choose another file.")
    if vectors.dtype.kind not in "fiu":
        raise SourceError(f"its vectors are not real numbers ({vectors.dtype})", path.name, "Save them as float32.")
    if len(vectors) != len(found.keys):
        raise SourceError(
            f"there are {len(vectors):,} vectors and {len(found.keys):,} keys", path.name, "Save one key per vector."
        )
    if vectors.shape[1] > MOST_DIMENSIONS:
        raise SourceError(
            f"its vectors have {vectors.shape[1]:,} dimensions, more than {MOST_DIMENSIONS:,}",
            path.name,
            "Reduce them first.",
        )
    return found


def _damaged(path: Path, why: str) -> SourceError:
    return SourceError(f"the file is damaged ({why.splitlines()[0][:120] if why else 'no reason'})", path.name)


def _npy(path: Path) -> KeyedVectors:
    beside = path.with_name(path.stem + KEYS_BESIDE)
    try:
        vectors = np.load(path, mmap_mode="r", allow_pickle=False)
    except (ValueError, EOFError) as error:
        raise _damaged(path, str(error)) from error
    try:
        keys = small_file(beside, _MOST_KEYS).decode("utf-8-sig", "replace").splitlines()
    except OSError as error:
        raise SourceError(
            f"the keys of its vectors cannot be read ({(error.strerror or str(error)).lower()})",
            path.name,
            f"Write them to {beside.name} beside it, one per line, in the order of the vectors.",
        ) from error
    return KeyedVectors(Strings.of(keys), vectors)


def _npz(path: Path) -> KeyedVectors:
    try:
        with np.load(path, allow_pickle=False) as archive:
            arrays = {name: archive[name] for name in archive.files}
    except (ValueError, EOFError, KeyError) as error:
        raise _damaged(path, str(error)) from error
    keys = [name for name, one in arrays.items() if one.ndim == 1 and one.dtype.kind in "UiuS"]
    tables = [name for name, one in arrays.items() if one.ndim == 2 and one.dtype.kind in "fiu"]
    named = [name for name in keys if name.lower() in _NAMES] or keys
    if not named or not tables:
        raise SourceError(
            "it has no array of keys, or none of vectors",
            path.name,
            "Save two arrays: keys (texts) and vectors (a row of numbers per key).",
        )
    found = arrays[named[0]]
    texts = [one.decode("utf-8", "replace") for one in found.tolist()] if found.dtype.kind == "S" else found.tolist()
    return KeyedVectors(Strings.of(map(str, texts)), arrays[tables[0]], named[0])


def _table(path: Path) -> KeyedVectors:
    import pyarrow
    import pyarrow.csv

    mark = "\t" if path.suffix.lower() == ".tsv" else ","
    with path.open("rb") as file:
        line = file.readline(_HEAD).decode("utf-8-sig", "replace")
    columns = next(csv.reader([line], delimiter=mark), [])
    key = _key_column(columns, columns)
    if len(columns) < 2:
        raise SourceError("it has fewer than two columns", path.name, "It needs a key and numbers in each row.")
    try:
        table = pyarrow.csv.read_csv(
            path,
            parse_options=pyarrow.csv.ParseOptions(delimiter=mark),
            convert_options=pyarrow.csv.ConvertOptions(column_types={key: pyarrow.string()}, strings_can_be_null=False),
        )
    except (pyarrow.ArrowException, ValueError) as error:
        raise _damaged(path, str(error)) from error
    return _of_arrow(table, key, path)


def _parquet(path: Path) -> KeyedVectors:
    import pyarrow
    import pyarrow.parquet
    from pyarrow import types

    try:
        table = pyarrow.parquet.read_table(path)
    except (pyarrow.ArrowException, ValueError) as error:
        raise _damaged(path, str(error)) from error
    texts = [one.name for one in table.schema if types.is_string(one.type) or types.is_large_string(one.type)]
    if not table.schema.names:
        raise SourceError("it has no columns", path.name, "It needs a key and numbers in each row.")
    return _of_arrow(table, _key_column(table.schema.names, texts or table.schema.names), path)


def _key_column(names: list[str], likely: list[str]) -> str:
    """The column with the keys: the first that is called so, else the first likely one."""
    return next((name for name in names if name.strip().lower() in _NAMES), likely[0] if likely else "")


def _of_arrow(table: Any, key: str, path: Path) -> KeyedVectors:
    import pyarrow
    from pyarrow import types

    keys = [str(one) if one is not None else "" for one in table.column(key).to_pylist()]
    rest = [name for name in table.schema.names if name != key]
    lists = [name for name in rest if _is_list(table.schema.field(name).type)]
    try:
        if lists:
            return KeyedVectors(Strings.of(keys), _of_lists(table.column(lists[0]).to_pylist(), path), key)
        if len(rest) == 1 and types.is_string(table.schema.field(rest[0]).type):
            return KeyedVectors(Strings.of(keys), _written(table.column(rest[0]).to_pylist(), path), key)
        vectors = np.empty((len(keys), len(rest)), np.float32)
        for at, name in enumerate(rest):
            column = table.column(name)
            if not (types.is_floating(column.type) or types.is_integer(column.type) or types.is_null(column.type)):
                raise SourceError(
                    f"the column “{name[:60]}” is not all numbers", path.name, "Remove it, or save numbers."
                )
            vectors[:, at] = column.cast(pyarrow.float32()).to_numpy(zero_copy_only=False)
    except (pyarrow.ArrowException, ValueError, TypeError) as error:
        raise _damaged(path, str(error)) from error
    return KeyedVectors(Strings.of(keys), vectors, key)


def _is_list(kind: Any) -> bool:
    from pyarrow import types

    return bool(types.is_list(kind) or types.is_large_list(kind) or types.is_fixed_size_list(kind))


def _written(cells: list[str], path: Path) -> NDArray[np.float32]:
    """Vectors that are written into one cell each, as a JSON list or as numbers with blanks or semicolons between."""

    def read(cell: str) -> list[float] | None:
        if not cell.strip():
            return None
        if cell.lstrip().startswith("["):
            return list(json.loads(cell))
        return [float(one) for one in cell.replace(";", " ").split()]

    try:
        return _of_lists([read(cell) for cell in cells], path)
    except (ValueError, TypeError, RecursionError) as error:
        raise SourceError(
            "a cell is not a list of numbers", path.name, "Write each vector as [0.1, 0.2, …]."
        ) from error


def _of_lists(lists: list[list[float] | None], path: Path) -> NDArray[np.float32]:
    """Lists of one length as rows; NaN where there is none."""
    lengths = {len(one) for one in lists if one}
    if len(lengths) != 1:
        many = "of different lengths" if lengths else "empty"
        raise SourceError(f"its vectors are {many}", path.name, "Each vector needs the same number of dimensions.")
    (length,) = lengths
    nothing = [np.nan] * length
    return np.array([one or nothing for one in lists], np.float32).reshape(len(lists), length)


_READERS: dict[str, Callable[[Path], KeyedVectors]] = {
    ".npy": _npy,
    ".npz": _npz,
    ".csv": _table,
    ".tsv": _table,
    ".parquet": _parquet,
}
