# SPDX-License-Identifier: GPL-3.0-or-later

import os
import signal
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from conftest import with_components
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import RecipeError, SourceError
from jagged_lens.lens import (
    ALWAYS,
    DISTRIBUTION,
    GROUPING,
    SPACE,
)
from jagged_lens.project import Bench, Pick, opened
from jagged_lens.worker import Worker

_PATIENCE = 60


def until(bench: Bench, done: Callable[[], bool]) -> None:
    end = time.monotonic() + _PATIENCE
    while not done():
        assert time.monotonic() < end, "nothing came"
        bench.listen()
        time.sleep(0.002)


@pytest.fixture(scope="module")
def worker() -> Iterator[Worker]:
    worker = Worker()
    yield worker
    worker.close()


@pytest.fixture
def bench(worker: Worker) -> Bench:
    bench = Bench(with_components(opened(demo_recipe())), worker)
    bench.compute()
    until(bench, lambda: not bench.working)
    return bench


@pytest.fixture
def long_work(tmp_path: Path) -> Path:
    """A table that keeps the worker busy for some seconds."""
    words = [f"word{number}" for number in range(900)]
    rows = [" ".join(words[(row * 7 + step * (row % 13 + 1)) % 900] for step in range(150)) for row in range(9000)]
    (tmp_path / "long.csv").write_text("note\n" + "\n".join(rows))
    return tmp_path / "long.csv"


def test_a_changed_setting_changes_what_depends_on_it_and_undo_takes_it_back(bench: Bench) -> None:
    space = bench.results["space"]
    bench.set("group", "groups", 4)
    until(bench, lambda: not bench.working)
    assert len(bench.results["grouping"]) == 4
    assert bench.results["space"] is space
    bench.undo()
    until(bench, lambda: not bench.working)
    assert len(bench.results["grouping"]) == 10
    bench.redo()
    until(bench, lambda: not bench.working)
    assert len(bench.results["grouping"]) == 4
    assert bench.history.undo_text == "group: groups"


def test_a_wrong_value_is_refused_and_changes_nothing(bench: Bench) -> None:
    before = bench.state
    with pytest.raises(RecipeError):
        bench.set("terms", "words", (4, 2))
    assert bench.state is before
    assert not bench.working


def test_stopped_work_leaves_the_old_results(bench: Bench, long_work: Path) -> None:
    old = dict(bench.results)
    bench.set("gather", "from", str(long_work))
    until(bench, lambda: "tokens" in bench.share or "tokens" in bench.fresh)
    bench.stop()
    until(bench, lambda: not bench.working)
    assert bench.results["grouping"] is old["grouping"]
    assert "grouping" not in bench.fresh
    bench.undo()
    until(bench, lambda: not bench.working)
    assert bench.ready("grouping", "layout", "pairs")


def test_a_killed_worker_is_restarted_and_said(bench: Bench, worker: Worker) -> None:
    said: list[str] = []
    bench.trouble.subscribe(lambda words, details: said.append(words))
    old = worker.process_id
    bench.set("group", "groups", 5)
    os.kill(old, signal.SIGKILL)
    until(bench, lambda: not bench.working)
    assert worker.process_id != old
    assert len(bench.results["grouping"]) == 5
    assert "restarted" in said[0]


def test_a_worker_that_does_not_stop_is_ended(bench: Bench, worker: Worker, long_work: Path) -> None:
    said: list[str] = []
    bench.trouble.subscribe(lambda words, details: said.append(words))
    bench.set("gather", "from", str(long_work))
    until(bench, lambda: "corpus" in bench.fresh)
    old = worker.process_id
    os.kill(old, signal.SIGSTOP)  # it will not hear
    bench.stop()
    until(bench, lambda: not bench.working)
    assert worker.process_id != old
    assert "did not stop" in said[0]


def test_a_fault_is_told_and_the_rest_is_computed(bench: Bench) -> None:
    said: list[str] = []
    bench.trouble.subscribe(lambda words, details: said.append(words))
    bench.set("clean", "stop-words", ("nowhere.txt",))
    until(bench, lambda: not bench.working)
    assert "nowhere.txt" in said[0]
    assert bench.step_error("clean") is not None
    assert bench.ready("corpus")
    assert not bench.ready("tokens")
    assert "tokens" in bench.results  # the old ones


def test_opening_something_else_keeps_the_project_where_it_cannot_be_opened(bench: Bench, tmp_path: Path) -> None:
    (tmp_path / "bad.toml").write_text("[clean]\ntokens = 3\n")
    before = bench.state
    with pytest.raises(RecipeError):
        bench.open(tmp_path / "bad.toml")
    assert bench.state is before
    (tmp_path / "two.csv").write_text("note\nslugs\nfrost\n")
    bench.pick.set([3])
    bench.open(tmp_path / "two.csv")
    assert not len(bench.pick)
    until(bench, lambda: not bench.working)
    assert list(bench.results["corpus"].keys) == ["two.csv#1", "two.csv#2"]


def test_the_worker_ends_with_its_window() -> None:
    worker = Worker()
    process = worker.process_id
    worker.connection.close()
    end = time.monotonic() + 10
    while time.monotonic() < end and worker._life.is_alive():
        time.sleep(0.02)
    assert not worker._life.is_alive()
    assert process


def test_the_pick_tells_only_of_changes() -> None:
    pick, told = Pick(), []
    pick.changed.subscribe(lambda: told.append(pick.rows))
    pick.set([3, 1, 3])
    pick.set([1, 3])
    pick.add([2])
    pick.toggle(1)
    pick.clear()
    assert told == [(1, 3), (1, 2, 3), (2, 3), ()]


def test_a_missing_source_is_no_reason_to_stop(worker: Worker, tmp_path: Path) -> None:
    bench = Bench(opened(tmp_path / "gone.csv"), worker)
    bench.compute()
    until(bench, lambda: not bench.working)
    assert isinstance(bench.errors["corpus"], SourceError)


def test_refreshing_in_the_middle_of_work_leaves_nothing_undone(worker: Worker, tmp_path: Path) -> None:
    rows = [" ".join(f"word{(row * 7 + step * (row % 13 + 1)) % 900}" for step in range(50)) for row in range(2500)]
    (tmp_path / "notes.csv").write_text("note\n" + "\n".join(rows))
    bench = Bench(opened(tmp_path / "notes.csv"), worker)
    bench.compute()
    until(bench, lambda: "corpus" in bench.fresh and bench.working and bool(bench.share))
    told: list[object] = []
    bench.refreshed.subscribe(told.append)
    bench.refresh()
    bench.look_at("somebody", (GROUPING,))  # while the sources are read, nothing else is asked of that work
    until(bench, lambda: bool(told))
    assert bench.working
    until(bench, lambda: not bench.working)
    assert bench.ready(*ALWAYS)


def test_what_is_looked_at_last_comes_first_and_on_demand(bench: Bench) -> None:
    assert DISTRIBUTION not in bench.order
    bench.look_at("a", (GROUPING,))
    bench.look_at("b", (SPACE, DISTRIBUTION))
    until(bench, lambda: bench.ready(DISTRIBUTION) and not bench.working)
    order = [part.name for part in bench.order]
    assert order.index("distribution") < order.index("grouping") < order.index("pairs")
    bench.look_at("b", ())
    assert DISTRIBUTION not in bench.order
    bench.set("terms", "least-documents", 5.0)
    until(bench, lambda: not bench.working)
    assert not bench.ready(DISTRIBUTION)
    bench.set_hold(True)
    bench.look_at("b", (DISTRIBUTION,))
    assert not bench.working  # held
    bench.set_hold(False)
    until(bench, lambda: not bench.working)
    assert bench.ready(DISTRIBUTION)


def test_a_profile_that_was_cut_short_is_made_good_when_its_lens_is_computed(bench: Bench) -> None:
    whole = bench.profile(0)
    bench.behind.known[bench.job()] = (0.0,) * 7  # its work was stopped in the background
    bench.choose_lens(1)
    until(bench, lambda: not bench.working)
    bench.choose_lens(0)
    until(bench, lambda: not bench.working)
    bench.choose_lens(1)
    assert bench.profile(0) == whole
