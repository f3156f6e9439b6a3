# SPDX-License-Identifier: GPL-3.0-or-later
"""What is asked of the worker has an end: what fails, ends it, or is stopped is not begun again by itself."""

from __future__ import annotations

import dataclasses
import threading
from pathlib import Path
from typing import Any

import pytest

from conftest import Silent
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import JaggedLensError, SourceError, Stopped
from jagged_lens.lens import (
    CORPUS,
    DISTRIBUTION,
    SPACE,
    Job,
    Part,
    Recent,
    Recipe,
    Results,
    compute,
    read_recipe,
    to_space,
    with_needs,
)
from jagged_lens.project import Bench, Keeper, LensState, ProjectFile, ProjectState, create
from jagged_lens.project.refreshing import job_to_refresh
from jagged_lens.worker import Done, Ending, Failed, Finished, Grew
from worker.scripted import Scripted

FOLDER = demo_recipe().parent


@pytest.fixture
def bench() -> tuple[Bench, Scripted]:
    """Two lenses, and a worker that is told what to say."""
    recipe = read_recipe(demo_recipe())
    lenses = tuple(LensState(f"lens {n}", recipe.with_setting("group", "groups", n)) for n in (2, 3, 4))
    worker = Scripted()
    return Bench(ProjectState(lenses, 0, FOLDER), worker), worker  # type: ignore[arg-type]


def groups(worker: Scripted) -> list[int]:
    """The lenses that the worker was asked for, by their number of groups."""
    return [job.recipe.group.groups for job, _ in worker.asked]


def done(bench: Bench, worker: Scripted, results: Results) -> None:
    """The worker has computed what it was asked for."""
    for name in worker.parts:
        worker.say(Done(worker.number, name, f"{name} {groups(worker)[-1]}", 0.1, results[name]))
    worker.say(Finished(worker.number, False, 0))
    bench.listen()


def test_a_lens_behind_that_ends_the_worker_twice_is_begun_no_more(
    bench: tuple[Bench, Scripted], demo_results: Results
) -> None:
    here, worker = bench
    said: list[str] = []
    here.trouble.subscribe(lambda words, details: said.append(words))
    here.compute()
    done(here, worker, demo_results)
    assert groups(worker) == [2, 3]
    for _ in range(2):
        worker.say(Ending.UNEXPECTED)
        here.listen()
    assert groups(worker) == [2, 3, 3, 4]  # the others are computed all the same
    assert "the lens “lens 3” will not be computed until you press F5" in said[-1]
    done(here, worker, demo_results)
    assert here.profile(2) is not None
    assert here.profile(1) is None
    here.set("map", "near", 14)
    here.undo()
    done(here, worker, demo_results)
    assert groups(worker)[4:] == [2, 2]
    here.compute_anew()
    done(here, worker, demo_results)
    assert groups(worker)[6:] == [2, 3]


def test_a_stopped_lens_behind_has_no_profile_and_is_not_begun_again_by_itself(
    bench: tuple[Bench, Scripted], demo_results: Results
) -> None:
    here, worker = bench
    learned: list[bool] = []
    here.behind.learned.subscribe(lambda: learned.append(True))
    here.compute()
    done(here, worker, demo_results)
    here.stop()
    worker.say(Finished(worker.number, True, 0))
    here.listen()
    assert groups(worker) == [2, 3, 4]
    assert here.profile(1) is None
    assert not learned
    done(here, worker, demo_results)
    assert learned == [True]
    assert worker.number == 3


def test_stop_beside_the_second_lens_stops_nothing_else(bench: tuple[Bench, Scripted], demo_results: Results) -> None:
    here, worker = bench
    here.compute()
    here.second.choose("lens 4")
    here.second.stop()
    assert here.second.stopped
    assert not worker.stopped  # it is at the lens in front
    here.second.again()
    done(here, worker, demo_results)
    assert groups(worker) == [2, 4]
    here.second.stop()
    assert worker.stopped
    worker.say(Finished(worker.number, True, 0))
    here.listen()
    assert here.second.stopped
    assert not here.second.lacking


def test_a_second_lens_in_which_something_failed_is_not_ready(
    bench: tuple[Bench, Scripted], demo_results: Results
) -> None:
    here, worker = bench
    here.compute()
    done(here, worker, demo_results)
    here.second.choose("lens 3")
    worker.say(Failed(worker.number, "quality", JaggedLensError("there is no label")))
    done(here, worker, demo_results)
    assert not here.second.ready
    assert here.second.error is not None
    here.second.again()
    done(here, worker, demo_results)
    assert here.second.ready


def test_what_is_on_its_way_when_all_is_stopped_is_given_up_until_it_is_wanted_again(
    bench: tuple[Bench, Scripted],
) -> None:
    here, worker = bench
    here.state_changed.subscribe(lambda: None)
    here.compute()
    here.look_at("face", (DISTRIBUTION,))
    assert "distribution" in worker.parts
    here.stop()
    worker.say(Finished(worker.number, True, 0))
    here.listen()
    assert here.declined(DISTRIBUTION)
    assert DISTRIBUTION not in here.order
    assert not here.working
    here.demand(DISTRIBUTION)
    assert DISTRIBUTION in here.order
    assert "distribution" in worker.parts


def test_a_map_that_was_stopped_stays_so_when_another_face_is_opened(bench: tuple[Bench, Scripted]) -> None:
    here, worker = bench
    here.compute()
    worker.say(Grew(worker.number, "laid", object()))
    here.listen()
    here.stop()
    assert worker.parts[-1] == "layout"  # what is made of it, and nothing else
    assert not worker.stopped
    here.look_at("face", (DISTRIBUTION,))
    assert "distribution" not in worker.parts
    here.stop()  # once more: at once
    assert worker.stopped


def test_what_is_changed_while_all_is_held_gives_up_what_is_under_way(bench: tuple[Bench, Scripted]) -> None:
    here, worker = bench
    here.compute()
    here.set_hold(True)
    assert here.working
    here.set("group", "groups", 7)
    assert worker.stopped
    assert not here.working
    worker.say(Finished(worker.number, True, 0))
    here.listen()
    here.look_at("face", (DISTRIBUTION,))
    assert groups(worker) == [2]
    here.set_hold(False)
    assert groups(worker) == [2, 7]


class Heard(Silent):
    def __init__(self) -> None:
        super().__init__()
        self.said: list[tuple[str, str, bool]] = []

    def failed(self, part: Part, error: JaggedLensError, details: str = "") -> None:
        self.said.append((part.name, str(error), bool(details)))


def test_a_fault_of_ours_in_a_part_is_told_once_and_costs_that_part_alone(demo: Recipe) -> None:
    calls: list[bool] = []

    def fault(work: Any) -> Any:
        calls.append(True)
        raise ValueError("a slip of ours")

    wanted = with_needs([DISTRIBUTION, SPACE])
    memory, before = Recent(), DISTRIBUTION.compute
    object.__setattr__(DISTRIBUTION, "compute", fault)
    try:
        job = Job(demo, FOLDER)
        for at in range(3):
            heard = Heard()
            results = compute(job, memory, heard, lambda: wanted)
            assert SPACE in results
            assert DISTRIBUTION not in results
            words = "compare: internal error (ValueError). The details can be copied."
            assert heard.said == [("distribution", words, at == 0)]
        assert len(calls) == 1
        compute(dataclasses.replace(job, anew=True), memory, Heard(), lambda: wanted)
        assert len(calls) == 2
    finally:
        object.__setattr__(DISTRIBUTION, "compute", before)
    assert DISTRIBUTION in compute(dataclasses.replace(job, anew=True), memory, Silent(), lambda: wanted)


@pytest.mark.parametrize(
    ("error", "words"),
    [
        (MemoryError(), "there is not enough memory"),
        (RuntimeError("can't start new thread"), "there is not enough memory"),
        (OSError(28, "No space left on device"), "it could not be computed (no space left on device)"),
    ],
)
def test_what_the_machine_lacks_is_no_fault_and_is_tried_again(demo: Recipe, error: Exception, words: str) -> None:
    def lacking(work: Any) -> Any:
        raise error

    memory, before = Recent(), DISTRIBUTION.compute
    wanted = with_needs([DISTRIBUTION])
    object.__setattr__(DISTRIBUTION, "compute", lacking)
    heard = Heard()
    try:
        compute(Job(demo, FOLDER), memory, heard, lambda: wanted)
    finally:
        object.__setattr__(DISTRIBUTION, "compute", before)
    assert words in heard.said[0][1]
    assert DISTRIBUTION in compute(Job(demo, FOLDER), memory, Silent(), lambda: wanted)


def test_a_stop_is_no_fault(demo: Recipe) -> None:
    def stopped(work: Any) -> Any:
        raise Stopped

    before = DISTRIBUTION.compute
    object.__setattr__(DISTRIBUTION, "compute", stopped)
    try:
        with pytest.raises(Stopped):
            compute(Job(demo, FOLDER), Recent(), Heard(), lambda: with_needs([DISTRIBUTION]))
    finally:
        object.__setattr__(DISTRIBUTION, "compute", before)


def test_a_file_that_could_not_be_read_is_read_when_that_is_asked_for(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "a.csv").write_text("text\nslugs ate\nfrost came\n")
    (tmp_path / "b.csv").write_text("text\nrain fell\n")
    plain, gone = to_space.read_source, [True]

    def read(source: Any, *rest: Any) -> Any:
        if gone[0] and source.file == "b.csv":
            raise SourceError("it cannot be read (input/output error)", "b.csv")
        return plain(source, *rest)

    monkeypatch.setattr(to_space, "read_source", read)
    recipe = Recipe().with_settings("gather", {"from": ["a.csv", "b.csv"], "text": ["text"]})
    job, memory = Job(recipe, tmp_path, forgiving=True), Recent()
    assert len(compute(job, memory, Silent(), lambda: (CORPUS,))[CORPUS]) == 2
    gone[0] = False
    assert len(compute(job, memory, Silent(), lambda: (CORPUS,))[CORPUS]) == 2  # not by itself
    again = job_to_refresh(job, recipe.gather.sources[1:], False)
    assert len(compute(again, memory, Silent(), lambda: (CORPUS,))[CORPUS]) == 3
    assert len(compute(job, memory, Silent(), lambda: (CORPUS,))[CORPUS]) == 3


def test_a_state_that_could_not_be_saved_never_takes_the_place_of_a_newer_one(tmp_path: Path) -> None:
    create(tmp_path / "p.jagged")
    keeper = Keeper(tmp_path / "p.jagged", True)
    under_way, go_on = threading.Event(), threading.Event()

    def first() -> dict[str, Any]:
        under_way.set()
        go_on.wait(10)
        raise ValueError("it cannot be made")

    keeper.save(first)
    assert under_way.wait(10)
    keeper.save(lambda: {"number": 2})  # while the first is still being made
    go_on.set()
    keeper.flush()
    keeper.save(lambda: {"number": 3})
    assert keeper.flush(20)
    assert ProjectFile(tmp_path / "p.jagged").state() == {"number": 3}
    keeper.close()


def test_a_lens_that_is_chosen_comes_to_the_front_and_one_that_is_not_there_does_not(
    bench: tuple[Bench, Scripted],
) -> None:
    here, worker = bench
    told: list[int] = []
    here.state_changed.subscribe(lambda: told.append(here.state.active))
    here.compute()
    here.choose_lens(2)
    assert here.state.active == 2
    assert groups(worker) == [2, 4]
    here.choose_lens(2)
    here.choose_lens(3)
    here.choose_lens(-1)
    assert told == [2]
    assert here.history.undo_text is None  # nothing was changed that could be undone


def test_where_no_source_can_be_read_it_is_said_why_and_one_of_several_is_gone_on_without(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text("text\nslugs ate\n")
    recipe = Recipe().with_settings("gather", {"from": ["a.csv", "gone.csv"], "text": ["text"]})
    found = compute(Job(recipe, tmp_path, forgiving=True), Recent(), Silent(), lambda: (CORPUS,))[CORPUS]
    assert len(found) == 1
    assert [one.name for one in found.unread] == ["gone.csv"]
    (tmp_path / "a.csv").unlink()
    with pytest.raises(SourceError, match=r"gone\.csv"):
        compute(Job(recipe, tmp_path, forgiving=True), Recent(), Silent(), lambda: (CORPUS,))
