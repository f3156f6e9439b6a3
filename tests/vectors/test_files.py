# SPDX-License-Identifier: GPL-3.0-or-later
"""Vectors from files: every format gives the same, and what cannot be used is said."""

from __future__ import annotations

import csv
import json
from pathlib import Path

import numpy as np
import pyarrow
import pyarrow.parquet
import pytest

from jagged_lens.errors import SourceError
from jagged_lens.vectors import joined, read_vectors

KEYS = ["N1", "N2", "Böhne, 3"]
VECTORS = np.array([[1.0, 0.25, -3.5], [0.1, 2e-7, 12345.678], [0.0, -1.0, 0.5]], np.float32)


def _write(folder: Path, name: str) -> None:
    path = folder / name
    if name == "v.npy":
        np.save(path, VECTORS)
        (folder / "v.keys.txt").write_text("\n".join(KEYS), encoding="utf-8")
    elif name == "v.npz":
        np.savez(path, vectors=VECTORS, keys=np.array(KEYS))
    elif name == "v.parquet":
        pyarrow.parquet.write_table(
            pyarrow.table({"a": VECTORS[:, 0], "id": KEYS, "b": VECTORS[:, 1], "c": VECTORS[:, 2]}), path
        )
    elif name == "lists.parquet":
        pyarrow.parquet.write_table(pyarrow.table({"note": KEYS, "vector": VECTORS.tolist()}), path)
    else:
        with path.open("w", newline="", encoding="utf-8") as file:
            out = csv.writer(file, delimiter="\t" if name.endswith(".tsv") else ",")
            if name.startswith("lists"):
                out.writerow(["key", "vector"])
                out.writerows([key, json.dumps(row)] for key, row in zip(KEYS, VECTORS.tolist(), strict=True))
            else:
                out.writerow(["key", "1", "2", "3"])
                out.writerows([key, *map(repr, row)] for key, row in zip(KEYS, VECTORS.tolist(), strict=True))


@pytest.mark.parametrize("name", ["v.npy", "v.npz", "v.csv", "v.tsv", "lists.csv", "v.parquet", "lists.parquet"])
def test_every_format_gives_the_same_vectors(tmp_path: Path, name: str) -> None:
    _write(tmp_path, name)
    found = read_vectors(name, tmp_path)
    assert list(found.keys) == KEYS
    np.testing.assert_array_equal(np.asarray(found.vectors, np.float32), VECTORS)


def test_an_npy_is_mapped_and_not_read(tmp_path: Path) -> None:
    _write(tmp_path, "v.npy")
    assert isinstance(read_vectors("v.npy", tmp_path).vectors, np.memmap)


def test_vectors_are_joined_by_key_and_what_cannot_be_used_is_listed(tmp_path: Path) -> None:
    keys = ["b", "a", "b", "x", "c", "d", "y"]
    vectors = np.arange(14, dtype=np.float64).reshape(7, 2) + 1
    vectors[4, 1], vectors[5] = np.nan, 0
    np.savez(tmp_path / "v.npz", keys=np.array(keys), vectors=vectors)
    found = joined(read_vectors("v.npz", tmp_path), ["a", "b", "c", "d", "e"], ["a", "b", "c", "d", "e", "y"])
    np.testing.assert_array_equal(found.vectors, [[3, 4], [1, 2], [0, 0], [0, 0], [0, 0]])
    assert found.there.tolist() == [True, True, False, False, False]
    assert (list(found.unmatched), list(found.twice), list(found.not_finite)) == (["x"], ["b"], ["c", "d"])
    assert found.lacking == 3


def test_a_number_too_large_for_single_precision_is_not_finite(tmp_path: Path) -> None:
    np.savez(tmp_path / "v.npz", keys=np.array(["a"]), vectors=np.array([[1e300, 1.0]]))
    assert list(joined(read_vectors("v.npz", tmp_path), ["a"]).not_finite) == ["a"]


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("v.txt", b"1 2 3", "do not come in a .txt"),
        ("v.npy", b"not numpy", "damaged"),
        ("v.npz", b"not a zip", "damaged"),
        ("v.parquet", b"PAR1 broken", "damaged"),
        ("v.csv", b"key\nN1\n", "fewer than two columns"),
        ("v.csv", b"key,1,crop\nN1,0.5,beans\n", "“crop” is not all numbers"),
        ("v.csv", b"key,vector\nN1,[1; 2\n", "not a list of numbers"),
        ("v.csv", b'key,vector\nN1,"[1, 2]"\nN2,"[1]"\n', "different lengths"),
        ("v.csv", b"key,1,2\n", "no vectors"),
        ("v.csv", b"", "fewer than two columns"),
        ("gone.npy", None, "cannot be read"),
    ],
)
def test_a_file_that_is_no_use_is_refused_in_a_sentence(
    tmp_path: Path, name: str, content: bytes | None, said: str
) -> None:
    if content is not None:
        (tmp_path / name).write_bytes(content)
    with pytest.raises(SourceError, match=said) as error:
        read_vectors(name, tmp_path)
    assert name in str(error.value)


def test_an_npy_without_its_keys_says_which_file_is_missing(tmp_path: Path) -> None:
    np.save(tmp_path / "v.npy", VECTORS)
    with pytest.raises(SourceError, match=r"v\.keys\.txt"):
        read_vectors("v.npy", tmp_path)
    (tmp_path / "v.keys.txt").write_text("a\nb\n")
    with pytest.raises(SourceError, match="3 vectors and 2 keys"):
        read_vectors("v.npy", tmp_path)


def test_objects_in_a_file_are_never_loaded(tmp_path: Path) -> None:
    np.save(tmp_path / "v.npy", np.array([{"a": 1}], object), allow_pickle=True)
    (tmp_path / "v.keys.txt").write_text("a\n")
    with pytest.raises(SourceError, match="damaged"):
        read_vectors("v.npy", tmp_path)
