# SPDX-License-Identifier: GPL-3.0-or-later
"""The worker's process when things go wrong: it does not listen, it lacks descriptors, a part raises what nobody foresaw."""

from __future__ import annotations

import os
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest

from jagged_lens.lens import (
    Job,
    Recipe,
)
from jagged_lens.worker import Began, Done, Failed, Finished, News, Restarted, Worker
from jagged_lens.worker import worker as module
from jagged_lens.worker.sealed import SealedMemory, room_for_descriptors


class Broken:
    """A store whose reading breaks off with the error that also a closed window gives."""

    def documents(self, stamp: str) -> None:
        raise BrokenPipeError("not the window's pipe")


@pytest.fixture
def worker() -> Iterator[Worker]:
    worker = Worker()
    yield worker
    worker.close()


def notes(folder: Path, text: str, count: int = 20) -> Recipe:
    (folder / "notes.csv").write_text("title,note\n" + "".join(f"t{number},{text}\n" for number in range(count)))
    return Recipe().with_settings("gather", {"from": "notes.csv", "text": ["note"]})


def heard(worker: Worker, done: Callable[[News], bool], seconds: float = 60) -> list[News]:
    found: list[News] = []
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        for news in worker.news():
            found.append(news)
            if done(news):
                return found
        time.sleep(0.005)
    raise AssertionError(f"not heard: {found}")


class Stuck:
    """A store that does not answer, such as a drive that is gone."""

    def documents(self, stamp: str) -> None:
        time.sleep(1000)


@pytest.fixture
def stuck(tmp_path: Path, worker: Worker) -> Recipe:
    """The recipe that the worker is stuck in."""
    recipe = notes(tmp_path, "late frost")
    worker.ask(Job(recipe, tmp_path, store=Stuck()))  # type: ignore[arg-type]
    heard(worker, lambda news: isinstance(news, Began))
    return recipe


def test_an_expression_without_an_end_makes_way_for_new_work(tmp_path: Path, worker: Worker) -> None:
    recipe = notes(tmp_path, "a" * 60 + "!").with_settings("clean", {"tokens": "pattern", "pattern": "(a+)+b"})
    process = worker.process_id
    worker.ask(Job(recipe, tmp_path))
    heard(worker, lambda news: isinstance(news, Done) and news.part == "corpus")
    number = worker.ask(Job(recipe.with_settings("clean", {"tokens": "words"}), tmp_path))
    heard(worker, lambda news: isinstance(news, Finished) and news.number == number)
    assert worker.process_id == process


def test_asking_a_worker_that_does_not_listen_waits_for_nothing(tmp_path: Path, worker: Worker, stuck: Recipe) -> None:
    own = (("mine", tuple((f"notes.csv#{number}", "yes") for number in range(60_000))),)  # more than a pipe holds
    begin = time.monotonic()
    for shortest in (2, 3, 4):
        worker.ask(Job(stuck.with_setting("clean", "shortest", shortest), tmp_path, own=own))
    assert time.monotonic() - begin < 60
    worker.stop()
    heard(worker, lambda news: isinstance(news, Restarted) and not news.again, 20)


def test_old_work_that_does_not_make_way_for_new_is_ended(
    tmp_path: Path, worker: Worker, stuck: Recipe, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(module, "_PATIENCE_WITH_OLD_WORK", 0.5)
    worker.ask(Job(stuck, tmp_path))
    heard(worker, lambda news: isinstance(news, Restarted) and news.again, 20)
    number = worker.ask(Job(stuck, tmp_path))
    heard(worker, lambda news: isinstance(news, Finished) and news.number == number)


@pytest.mark.parametrize("asked", [False, True])
def test_a_worker_that_tells_of_a_result_and_holds_still_keeps_the_window_waiting_for_no_more_than_a_moment(
    tmp_path: Path, worker: Worker, monkeypatch: pytest.MonkeyPatch, asked: bool
) -> None:
    monkeypatch.setattr(module, "_PATIENCE_WITH_RESULT", 0.2)
    worker.ask(Job(notes(tmp_path, "late frost"), tmp_path))
    old = worker.process_id
    part = heard(worker, lambda news: isinstance(news, Done))[-1]

    class HeldUp:
        """A connection on which the news of a result has come, and the result does not."""

        def __init__(self) -> None:
            self.told = False

        def poll(self, seconds: float = 0.0) -> bool:
            return not self.told

        def recv(self) -> News:
            self.told = True
            return part

        def close(self) -> None:
            pass

    worker.connection = HeldUp()  # type: ignore[assignment]
    if asked:
        worker.stop()
    begin = time.monotonic()
    (said,) = list(worker.news())
    assert isinstance(said, Restarted)
    assert said.ending == (module.Ending.NOT_STOPPED if asked else module.Ending.UNEXPECTED)
    assert said.again != asked
    assert worker.process_id != old
    assert time.monotonic() - begin < 60


def test_an_error_that_nobody_foresaw_is_told_and_the_worker_lives(tmp_path: Path, worker: Worker) -> None:
    recipe = notes(tmp_path, "late frost and slugs")
    number = worker.ask(Job(recipe, tmp_path, store=Broken()))  # type: ignore[arg-type]
    found = heard(worker, lambda news: isinstance(news, Finished) and news.number == number)
    assert any(isinstance(news, Failed) for news in found)
    process = worker.process_id
    number = worker.ask(Job(recipe, tmp_path))
    heard(worker, lambda news: isinstance(news, Finished) and news.number == number)
    assert worker.process_id == process


def test_what_is_remembered_holds_few_descriptors() -> None:
    before = len(os.listdir("/proc/self/fd"))
    memory = SealedMemory(10**9, most=20)
    for number in range(200):
        memory.put(str(number), np.zeros(10))
        memory.put("the same", np.zeros(10))
    assert len(os.listdir("/proc/self/fd")) - before <= 21
    assert memory.get("199") is not None
    assert memory.get("100") is None
    assert 40 <= room_for_descriptors() <= 2048


def test_news_that_are_taken_in_slowly_leave_the_window_its_turn(tmp_path: Path, worker: Worker) -> None:
    number = worker.ask(Job(notes(tmp_path, "late frost and slugs"), tmp_path))
    found: list[News] = []
    turns = []
    end = time.monotonic() + 60
    while not (found and isinstance(found[-1], Finished) and found[-1].number == number):
        assert time.monotonic() < end
        time.sleep(0.3)  # much has come meanwhile
        begin, before = time.monotonic(), len(found)
        for news in worker.news():
            found.append(news)
            time.sleep(0.02)
        turns.append((len(found) - before, time.monotonic() - begin))
    assert max(count for count, _ in turns) <= 4
    assert len([news for news in found if isinstance(news, Done)]) > 10
