"""What is asked of the worker has an end: what fails, ends it, or is stopped is not begun again by itself."""

from __future__ import annotations

import dataclasses
import threading
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import pytest

from conftest import Silent
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import JaggedLensError, SourceError, Stopped
from jagged_lens.lens import (
    ALWAYS,
    CORPUS,
    DISTRIBUTION,
    SPACE,
    Finished,
    Job,
    Part,
    Recent,
    Recipe,
    compute,
    read_recipe,
    to_space,
    with_needs,
)
from jagged_lens.project import Keeper, ProjectFile, create
from jagged_lens.project.behind import Behind
from jagged_lens.project.refreshing import job_to_refresh
from jagged_lens.project.second import Second

FOLDER = demo_recipe().parent


class Asked:
    """Stands for the worker: notes what it is asked for."""

    def __init__(self) -> None:
        self.jobs: list[Job] = []
        self.stops = 0

    def ask(self, job: Job, parts: Sequence[Part[Any]] = ALWAYS) -> int:
        self.jobs.append(job)
        return len(self.jobs)

    def stop(self) -> None:
        self.stops += 1


def jobs(count: int) -> list[Job]:
    recipe = read_recipe(demo_recipe())
    return [Job(recipe.with_setting("group", "groups", 2 + number), FOLDER) for number in range(count)]


def test_a_lens_behind_that_ends_the_worker_twice_is_begun_no_more() -> None:
    worker = Asked()
    behind = Behind(worker)  # type: ignore[arg-type]
    first, second = jobs(2)
    for _ in range(2):
        assert behind.ask([first, second])
        assert worker.jobs[-1] == first
        behind.hear_restart()
    assert behind.ask([first, second])
    assert worker.jobs[-1] == second  # the other ones are computed all the same
    behind.hear(Finished(3, False, 0))
    assert behind.ask([first, second]) is None
    behind.try_again()
    assert behind.ask([first, second])
    assert worker.jobs[-1] == first


def test_a_stopped_lens_behind_has_no_profile_and_is_not_begun_again_by_itself() -> None:
    worker = Asked()
    behind = Behind(worker)  # type: ignore[arg-type]
    [job] = jobs(1)
    learned: list[bool] = []
    behind.learned.subscribe(lambda: learned.append(True))
    assert behind.ask([job])
    behind.hear(Finished(1, True, 0))
    assert job not in behind.known
    assert not learned
    assert behind.ask([job]) is None


def test_stop_beside_the_second_lens_stops_nothing_else() -> None:
    worker, its_turn = Asked(), [False]
    [job] = jobs(1)
    second = Second(worker, lambda name: job, lambda: None, lambda: its_turn[0])  # type: ignore[arg-type]
    second.choose("Troubles")
    second.stop()
    assert worker.stops == 0
    assert second.stopped
    second.again()
    its_turn[0] = True
    second.stop()
    assert worker.stops == 1


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
            words = "compare: something went wrong inside (ValueError). The details can be copied."
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
