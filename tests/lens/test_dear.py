from __future__ import annotations

import dataclasses
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from conftest import Silent
from jagged_lens.demo import demo_recipe
from jagged_lens.lens import Job, Recent, compute, dear, read_recipe
from jagged_lens.project import ProjectFile, create, file


@pytest.mark.parametrize("part", ["neighbours", "pairs", "distribution", "grouping", "projection"])
def test_a_dear_result_comes_back_as_it_was(demo_results: dict[str, Any], part: str) -> None:
    before = demo_results[part]
    after = dear.unpacked(part, dear.packed(before))
    for one in dataclasses.fields(before):
        old, new = getattr(before, one.name), getattr(after, one.name)
        assert type(old) is type(new)
        if isinstance(old, np.ndarray):
            assert old.dtype == new.dtype
            assert np.array_equal(old, new, equal_nan=old.dtype.kind == "f")
        else:
            assert old == new


def test_what_is_no_result_is_computed_anew() -> None:
    assert dear.unpacked("pairs", b"nothing") is None
    assert dear.unpacked("pairs", b"") is None
    pickled = __import__("io").BytesIO()
    np.savez(pickled, row=np.array([{"a": 1}], object), similarity=np.zeros(1))
    assert dear.unpacked("neighbours", pickled.getvalue()) is None  # an object would have to be unpickled


def test_a_project_that_is_opened_again_computes_no_dear_result_anew(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(dear, "SECONDS", 0.0)
    create(tmp_path / "p.jagged")
    job = Job(read_recipe(demo_recipe()), demo_recipe().parent, store=ProjectFile(tmp_path / "p.jagged"))
    first, second = Silent(), Silent()
    before = compute(job, Recent(), first)
    after = compute(job, Recent(), second)
    assert {"neighbours", "pairs", "grouping", "projection", "distribution"} <= set(first.computed)
    assert not {"neighbours", "pairs", "grouping", "projection", "distribution"} & set(second.computed)
    assert np.array_equal(before["layout"].positions, after["layout"].positions, equal_nan=True)
    assert np.array_equal(before["pairs"].similarity, after["pairs"].similarity)


def test_the_oldest_results_are_given_up_where_there_are_too_many(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(file, "MOST_RESULTS", 250)
    create(tmp_path / "p.jagged")
    project = ProjectFile(tmp_path / "p.jagged")
    for number in range(4):
        project.keep_result(f"k{number}", "pairs", b"x" * 100)
    assert [project.result(f"k{number}") is not None for number in range(4)] == [False, False, True, True]
