# SPDX-License-Identifier: GPL-3.0-or-later
"""What a picture shows is one snapshot: it stays while others are computed, and its rows are of its own documents."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

import jagged_lens.desktop
from conftest import corpus_of
from jagged_lens.lens import CORPUS, GROUPING, LENS_ROWS, SPACE, Recipe
from jagged_lens.project import Bench, LensState, ProjectState, Shown
from jagged_lens.worker import Done, Finished, Grew
from worker.scripted import Scripted

FIRST = corpus_of("slugs", "frost", "rain")  # d1, d2, d3
THEN = corpus_of("hail", "slugs", "frost", "rain")
THEN = THEN.__class__(**{**THEN.__dict__, "keys": THEN.keys.take([3, 0, 2, 1])})  # d4, d1, d3, d2


@pytest.fixture
def bench() -> tuple[Bench, Scripted]:
    lenses = (LensState("one", Recipe().with_setting("group", "groups", 2)),)
    worker = Scripted()
    return Bench(ProjectState(lenses, 0, Path("/")), worker), worker  # type: ignore[arg-type]


def come(bench: Bench, worker: Scripted, **results: object) -> None:
    """Results arrive under keys made of what they are."""
    for name, result in results.items():
        worker.say(Done(worker.number, name, f"{name} {id(result)}", 0.1, result))
    bench.listen()


def test_it_stays_until_the_newest_is_taken(bench: tuple[Bench, Scripted]) -> None:
    here, worker = bench
    here.compute()
    come(here, worker, corpus=FIRST, space="first")
    shown = Shown(here)
    assert not len(shown.results)
    shown.take()
    assert shown.results[SPACE] == "first"
    assert shown.results.has(CORPUS, SPACE)
    assert not shown.results.has(SPACE, GROUPING)
    assert shown.is_newest(SPACE)
    here.set("group", "groups", 5)
    assert here.recipe.group.groups == 5
    come(here, worker, space="second")
    assert here.results[SPACE] == "second"
    assert shown.results[SPACE] == "first"
    assert shown.results.recipe.group.groups == 2  # what it was computed with
    assert not shown.is_newest(SPACE)
    before = shown.results.keys_of((SPACE,))
    shown.take()
    assert shown.results[SPACE] == "second"
    assert not shown.results.has(CORPUS)  # those of the other recipe are not mixed in
    assert shown.results.keys_of((SPACE, CORPUS)) == (shown.newest((SPACE,))[0], "")
    assert shown.results.keys_of((SPACE,)) != before
    assert shown.results.recipe.group.groups == 5


def test_what_is_on_its_way_is_in_the_snapshot_that_was_taken_then(bench: tuple[Bench, Scripted]) -> None:
    here, worker = bench
    here.compute()
    worker.say(Grew(worker.number, "grouping", "half"))
    here.listen()
    shown = Shown(here)
    shown.take()
    assert shown.grows(GROUPING)
    come(here, worker, grouping="whole")
    assert shown.results.growing[GROUPING] == "half"
    assert not shown.grows(GROUPING)


def test_the_pick_is_of_the_same_documents_whoever_shows_which(bench: tuple[Bench, Scripted]) -> None:
    here, worker = bench
    here.compute()
    come(here, worker, corpus=FIRST, lens_rows=[0, 1, 2])
    old = Shown(here)
    old.take()
    old.pick.set([1, 2], 2)  # d2, d3
    assert here.pick.rows == (1, 2)
    come(here, worker, corpus=THEN)
    new = Shown(here)
    new.take()
    assert here.pick.rows == new.pick.rows == (2, 3)
    assert old.pick.rows == (1, 2)
    assert here.documents.keys_of([here.pick.reading]) == old.documents.keys_of([old.pick.reading]) == ["d3"]
    old.pick.set([0])  # d1, which is another row by now
    assert here.pick.rows == (1,)
    assert here.documents.keys_of(here.pick.rows) == ["d1"]
    old.pick.toggle(1)
    assert here.documents.keys_of(here.pick.rows) == ["d1", "d2"]
    assert old.pick.rows == (0, 1)
    new.pick.set([0])  # d4, which the old picture does not have
    assert old.pick.rows == ()
    assert old.pick.reading == -1
    assert old.pick.one == -1
    heard: list[tuple[int, ...]] = []
    old.pick.changed.subscribe(lambda: heard.append(old.pick.rows))
    here.pick.set([1, 3])
    assert heard == [(0, 1)]
    here.pick.set_terms(["slugs"])
    assert old.pick.terms == ("slugs",)
    old.pick.clear()
    assert not here.pick.rows
    old.pick.back()
    assert here.pick.rows == (1, 3)


def test_nothing_is_picked_of_a_project_that_was_left(bench: tuple[Bench, Scripted]) -> None:
    here, worker = bench
    here.compute()
    come(here, worker, corpus=FIRST)
    worker.say(Finished(worker.number, False, 0))
    here.listen()
    shown = Shown(here)
    shown.take()
    here.begin()
    shown.pick.set([1])
    assert here.pick.rows == ()
    assert shown.pick.rows == ()
    assert LENS_ROWS not in here.results


def test_a_picture_reaches_results_by_its_snapshot_alone() -> None:
    """mypy holds the rest: the bench of a picture is a `Shown`, which has no other results."""
    root = Path(jagged_lens.desktop.__file__).parent
    files = [*(root / "desks").rglob("*.py"), *(root / "reading").rglob("*.py")]
    assert len(files) > 60
    for path in files:
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            name = getattr(node, "id", None) or getattr(node, "attr", None) or getattr(node, "name", None)
            assert name not in ("Bench", "_rooms"), f"{path.name}: {name}"
            if isinstance(node, ast.Attribute) and ast.unparse(node.value).endswith("bench"):
                assert node.attr not in ("_front", "fresh", "growing"), f"{path.name}: {node.attr}"
            assert not (isinstance(node, ast.Call) and getattr(node.func, "id", "") == "id"), f"{path.name}: id()"
