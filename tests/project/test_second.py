# SPDX-License-Identifier: GPL-3.0-or-later
"""A second lens beside the one in front, without a window."""

import time
from collections.abc import Iterator

import numpy as np
import pytest

from conftest import with_components
from jagged_lens.demo import demo_recipe
from jagged_lens.gather import Source
from jagged_lens.lens import (
    ARRIVALS,
    CORPUS,
    GROUPING,
    PLACED,
    SPACE,
    SUGGESTIONS,
    TERMS,
)
from jagged_lens.project import Bench, differences, opened
from jagged_lens.worker import Worker
from project.test_bench import until


@pytest.fixture(scope="module")
def worker() -> Iterator[Worker]:
    worker = Worker()
    yield worker
    worker.close()


@pytest.fixture
def bench(worker: Worker) -> Bench:
    bench = Bench(with_components(opened(demo_recipe())), worker)
    bench.behind.wanted = False
    bench.compute()
    until(bench, lambda: not bench.working)
    return bench


def test_it_is_computed_beside_the_results_in_front(bench: Bench) -> None:
    own = bench.results[SPACE]
    heard: list[float] = []
    bench.second.changed.subscribe(lambda: heard.append(bench.second.share))
    bench.second.choose("Troubles")
    until(bench, lambda: bench.second.ready)
    assert bench.results[SPACE] is own
    assert bench.second.results[TERMS].counts.shape != own.terms.counts.shape
    assert heard[-1] == 1
    assert heard == sorted(heard)
    assert bench.profile(1) is not None  # it is known without another round behind


def test_it_follows_its_lens_and_the_one_in_front_may_change(bench: Bench) -> None:
    bench.second.choose("Troubles")
    until(bench, lambda: bench.second.ready)
    before = bench.second.results[GROUPING]
    bench.set("group", "groups", 4)
    until(bench, lambda: not bench.working and bench.second.ready)
    assert bench.second.results[GROUPING] is before  # another lens was changed
    changed = bench.state.lenses[1].recipe.with_setting("group", "groups", 3)
    bench.change(bench.state.chosen(1).with_recipe(changed).chosen(0), "three groups there")
    assert not bench.second.ready
    until(bench, lambda: bench.second.ready)
    assert len(bench.second.results[GROUPING]) == 3
    bench.undo()
    until(bench, lambda: bench.second.ready)
    assert len(bench.second.results[GROUPING]) == 10


def test_a_lens_that_goes_is_no_second_one(bench: Bench) -> None:
    bench.second.choose("Troubles")
    until(bench, lambda: bench.second.ready)
    bench.change(bench.state.chosen(1).without_lens().chosen(0), "delete")
    assert bench.second.name == ""
    assert not bench.second.ready
    assert not bench.second.lacking


def test_while_all_is_held_it_waits(bench: Bench) -> None:
    bench.set_hold(True)
    bench.second.choose("Troubles")
    for _ in range(20):
        bench.listen()
        time.sleep(0.005)
    assert bench.second.share == 0
    bench.set_hold(False)
    until(bench, lambda: bench.second.ready)


def test_what_fails_in_it_is_said_and_leaves_the_front_alone(bench: Bench) -> None:
    wrong = bench.state.lenses[1].recipe.with_setting("gather", "only", ("nothing = such",))
    bench.change(bench.state.chosen(1).with_recipe(wrong).chosen(0), "a filter that fits nothing")
    until(bench, lambda: not bench.working)
    bench.second.choose("Troubles")
    until(bench, lambda: bench.second.error is not None)
    assert 'there is no label "nothing"' in str(bench.second.error)
    assert not bench.second.ready
    assert not bench.errors
    bench.undo()
    until(bench, lambda: bench.second.ready)
    assert bench.second.error is None


def test_stopped_it_waits_to_be_wanted_again(bench: Bench) -> None:
    bench.second.choose("Own rules")
    bench.second.stop()
    until(bench, lambda: bench.second.stopped)
    assert not bench.second.lacking
    bench.second.again()
    until(bench, lambda: bench.second.ready)


# What differs in two recipes, in words.


def test_only_what_counts_is_told_to_differ(bench: Bench) -> None:
    recipe = bench.recipe
    assert differences(recipe, recipe) == []
    other = recipe.with_settings(
        "group", {"by": "tree", "linkage": "average", "starts": 9, "seed": 7, "holding": False}
    )
    told = {one.label: (one.before, one.after) for one in differences(recipe, other)}
    assert told["By"] == ("k-means", "tree")
    assert told["Linkage"] == ("ward", "average")
    assert told["Starts"] == ("5", "9")  # it counts in one of them
    assert "Holding" not in told
    same = recipe.with_setting("group", "linkage", "single")
    assert differences(recipe, same) == []  # neither is a tree
    words = recipe.with_settings("terms", {"words": (1, 3), "always-drop": tuple("abcdef"), "bridge": True})
    said = {one.label: one.after for one in differences(recipe, words) if one.step == "terms"}
    assert said["Words in a term"] == "1 to 3"
    assert "a, b, c, d … (6)" in said.values()
    assert "yes" in said.values()


# New documents, and labels that are suggested.


def test_new_documents_are_placed_only_while_somebody_looks(bench: Bench) -> None:
    bench.place_source(Source(file="late"))
    until(bench, lambda: not bench.working)
    assert PLACED not in bench.results
    bench.look_at("a face", (PLACED,))
    until(bench, lambda: bench.ready(PLACED))
    assert len(bench.results[PLACED]) == len(bench.results[ARRIVALS]) == 50
    assert len(bench.results[CORPUS]) == 640
    before = bench.results[PLACED]
    bench.set("map", "by", "scaling")
    until(bench, lambda: not bench.working and bench.ready(PLACED))
    after = bench.results[PLACED]
    assert np.array_equal(before.nearest.row, after.nearest.row)
    assert not np.array_equal(before.positions, after.positions)
    bench.stop_placing()
    until(bench, lambda: not bench.working)
    assert len(bench.results[PLACED]) == 0


def test_taken_in_they_are_gone_from_the_new_ones(bench: Bench) -> None:
    bench.place_source(Source(file="late"))
    bench.take_placed_in()
    until(bench, lambda: not bench.working)
    assert len(bench.results[CORPUS]) == 690
    assert bench.state.placing == ()
    bench.undo()
    assert bench.state.placing == (Source(file="late"),)


def test_a_label_of_the_users_own_is_learned_and_follows_its_changes(bench: Bench) -> None:
    rows = bench.results[SPACE].terms.rows[bench.results[GROUPING].group == 1].tolist()
    bench.pick.set(rows)
    bench.label_pick("mine", "yes")
    others = bench.results[SPACE].terms.rows[bench.results[GROUPING].group == 2].tolist()
    bench.pick.set(others)
    bench.label_pick("mine", "no")
    bench.set("suggest", "label", "mine")
    bench.look_at("a face", (SUGGESTIONS,))
    until(bench, lambda: bench.ready(SUGGESTIONS))
    found = bench.results[SUGGESTIONS]
    assert sorted(found.values) == ["no", "yes"]
    assert (found.given >= 0).sum() == len(rows) + len(others)
    bench.pick.set(rows[:5])
    bench.label_pick("mine", "")
    until(bench, lambda: bench.ready(SUGGESTIONS) and not bench.working)
    assert (bench.results[SUGGESTIONS].given >= 0).sum() == len(rows) + len(others) - 5
