# SPDX-License-Identifier: GPL-3.0-or-later

from __future__ import annotations

import dataclasses
import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from scipy.sparse import csr_array

from conftest import USUAL, Silent
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import JaggedLensError
from jagged_lens.lens import Job, Part, Recent, Recipe, cached, compute, keys_of, read_recipe
from jagged_lens.project import ProjectError, ProjectFile, create, file, opened
from jagged_lens.project.plain_state import plain, state_from


@pytest.mark.parametrize("part", ["neighbours", "pairs", "distribution", "grouping", "projection"])
def test_a_cached_result_comes_back_as_it_was(demo_results: dict[str, Any], part: str) -> None:
    before = demo_results[part]
    after = cached.unpacked(part, cached.packed(before), demo_results["space"].weights.shape)
    for one in dataclasses.fields(before):
        old, new = getattr(before, one.name), getattr(after, one.name)
        assert type(old) is type(new)
        if isinstance(old, np.ndarray):
            assert old.dtype == new.dtype
            assert np.array_equal(old, new, equal_nan=old.dtype.kind == "f")
        elif isinstance(old, csr_array):
            assert (old != new).nnz == 0
        else:
            assert old == new


def test_what_is_no_result_is_computed_anew() -> None:
    assert cached.unpacked("pairs", b"nothing", (3, 2)) is None
    assert cached.unpacked("pairs", b"", (3, 2)) is None
    pickled = __import__("io").BytesIO()
    np.savez(pickled, row=np.array([{"a": 1}], object), similarity=np.zeros(1))
    assert cached.unpacked("neighbours", pickled.getvalue(), (1, 1)) is None  # an object would have to be unpickled


def test_a_project_that_is_opened_again_computes_no_cached_result_anew(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(cached, "SECONDS", 0.0)
    create(tmp_path / "p.jagged")
    job = Job(read_recipe(demo_recipe()), demo_recipe().parent, store=ProjectFile(tmp_path / "p.jagged"))
    first, second = Silent(), Silent()
    before = compute(job, Recent(), first, lambda: USUAL)
    after = compute(job, Recent(), second, lambda: USUAL)
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


@pytest.mark.parametrize("part", ["neighbours", "pairs", "distribution", "grouping", "projection"])
def test_a_kept_result_that_does_not_fit_is_thrown_away(demo_results: dict[str, Any], part: str) -> None:
    whole = demo_results[part]
    shape = demo_results["space"].weights.shape
    assert (cached.unpacked(part, cached.packed(whole), (shape[0] + 1, shape[1])) is None) == (part != "distribution")
    for one in dataclasses.fields(whole):
        value = getattr(whole, one.name)
        wrong: list[Any] = [np.array(["a text"]), np.zeros((0, 3, 2), complex)]
        if isinstance(value, np.ndarray):
            wrong += [value[:-1], value.astype(complex), value[None]]
            spoiled = value.copy()
            spoiled.flat[0] = 2**30 if value.dtype.kind == "i" else 200 if value.dtype.kind == "u" else np.inf
            wrong.append(spoiled)
        for bad in wrong:
            spoiled_result = dataclasses.replace(whole, **{one.name: bad})
            if one.name not in ("exact", "settled"):
                assert cached.unpacked(part, cached.packed(spoiled_result), shape) is None, (one.name, bad)


def test_an_archive_that_grows_while_it_is_read_is_thrown_away(demo_results: dict[str, Any]) -> None:
    out = io.BytesIO()
    pairs = demo_results["neighbours"]
    np.savez_compressed(out, row=pairs.row, similarity=pairs.similarity)
    assert cached.unpacked("neighbours", out.getvalue(), demo_results["space"].weights.shape) is None


class _Failing(ProjectFile):
    """A project on a full disk, whose results cannot be read either."""

    def keep_result(self, *_: object) -> None:
        raise ProjectError("the project cannot be saved (disk full)", "p.jagged")

    def keep_documents(self, *_: object) -> None:
        raise ProjectError("the project cannot be saved (disk full)", "p.jagged")

    def result(self, key: str) -> bytes | None:
        raise ProjectError("the project is damaged", "p.jagged")


def test_a_project_that_cannot_be_written_costs_no_result(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(cached, "SECONDS", 0.0)
    create(tmp_path / "p.jagged")
    told: list[JaggedLensError] = []
    job = Job(
        read_recipe(demo_recipe()), demo_recipe().parent, store=_Failing(tmp_path / "p.jagged"), warned=told.append
    )
    results = compute(job, Recent(), Silent(), lambda: USUAL)
    assert len(results) == len(USUAL)
    assert results["corpus"].stamps == ("",)  # what is not kept is not called taken in
    assert ["disk full" in str(error) for error in told] == [True]


def test_a_project_that_moves_meanwhile_costs_no_result(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(cached, "SECONDS", 0.0)
    create(tmp_path / "p.jagged")

    class Moving(Silent):
        def done(self, part: Part, key: str, result: Any, seconds: float) -> None:
            if part.name == "space":
                (tmp_path / "p.jagged").rename(tmp_path / "elsewhere.jagged")

    job = Job(read_recipe(demo_recipe()), demo_recipe().parent, store=ProjectFile(tmp_path / "p.jagged"))
    assert len(compute(job, Recent(), Moving(), lambda: USUAL)) == len(USUAL)


def test_results_are_found_again_after_the_project_was_saved_and_opened(tmp_path: Path) -> None:
    recipe = Recipe().with_setting("gather", "from", "notes.csv").with_setting("compare", "pairs-from", 1)
    state = opened(demo_recipe()).with_recipe(recipe)
    create(tmp_path / "p.jagged")
    project = ProjectFile(tmp_path / "p.jagged")
    project.save(plain(state))
    again = state_from(project.state() or {}, project.path)
    assert keys_of(Job(again.recipe, again.folder)) == keys_of(Job(state.recipe, state.folder))
