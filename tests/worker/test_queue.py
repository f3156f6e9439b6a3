# SPDX-License-Identifier: GPL-3.0-or-later
"""The queue of requests: no request is lost, answered twice, answered to somebody else, or begun for ever.

First with a worker whose every word hypothesis chooses, then with one made of a thread, then with a process.
"""

from __future__ import annotations

import time
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule

from jagged_lens.lens import ALWAYS, CORPUS, GROUPING, PAIRS, SPACE, Job, Recipe, with_needs
from jagged_lens.worker import (
    Began,
    Done,
    Ended,
    Ending,
    Finished,
    News,
    Planned,
    Queue,
    Request,
    Share,
    Urgency,
    Worker,
)
from worker.scripted import JOBS, Scripted, Somebody


class Requests(RuleBasedStateMachine):
    """Owners put, withdraw and stop; the worker works, fails, stops, dies; the window listens now and then."""

    def __init__(self) -> None:
        super().__init__()
        self.worker = Scripted()
        self.queue = Queue(self.worker)
        self.owners = [Somebody(urgency, self.worker) for urgency in Urgency]
        self.owners.append(Somebody(Urgency.BEHIND, self.worker))
        self.begun = 0  # how often something was begun because somebody did something
        self.asked_when_held = 0

    def _owner(self, which: int) -> Somebody:
        return self.owners[which % len(self.owners)]

    @rule(which=st.integers(0, 4), job=st.sampled_from(JOBS), few=st.booleans(), by_hand=st.booleans())
    def put(self, which: int, job: Job, few: bool, by_hand: bool) -> None:
        owner = self._owner(which)
        self.begun += 2
        owner.mine = request = Request(owner, owner.urgency, job, "something", with_needs([SPACE]) if few else ALWAYS)
        owner.told_to_stop = False
        self.queue.put(request, by_hand)

    @rule(which=st.integers(0, 4))
    def withdraw(self, which: int) -> None:
        owner = self._owner(which)
        owner.mine = None
        self.begun += 1
        self.queue.withdraw(owner)

    @rule(which=st.integers(0, 4))
    def stop(self, which: int) -> None:
        self.begun += 1
        self._owner(which).told_to_stop = True
        self.queue.stop(self._owner(which))

    @rule()
    def stop_all(self) -> None:
        self.begun += 1
        for owner in self.owners:
            owner.told_to_stop = True
        self.queue.stop_all()
        assert all(one.mine is None or self.queue.is_under_way(one) for one in self.owners)

    @rule(held=st.booleans())
    def hold(self, held: bool) -> None:
        self.begun += 1
        self.queue.hold(held)
        self.asked_when_held = len(self.worker.asked)

    @precondition(lambda self: self.worker.works)
    @rule(share=st.floats(0, 1))
    def work(self, share: float) -> None:
        part = self.worker.parts[0]
        self.worker.say(Began(self.worker.number, part))
        self.worker.say(Share(self.worker.number, part, share))

    @precondition(lambda self: self.worker.works)
    @rule(failing=st.sampled_from(["", "space", "corpus"]))
    def finish(self, failing: str) -> None:
        self.worker.finish(failing)

    @precondition(lambda self: self.worker.works and self.worker.stopped)
    @rule()
    def obey(self) -> None:
        self.worker.say(Finished(self.worker.number, True, 0))

    @rule(planned=st.booleans())
    def die(self, planned: bool) -> None:
        if planned and self.worker.works:
            self.worker.say(Ending.UNEXPECTED)
        else:
            self.worker.said.append(Ending.UNEXPECTED)

    @precondition(lambda self: self.worker.works)
    @rule()
    def does_not_obey(self) -> None:
        self.worker.said.append(Ending.NOT_STOPPED if self.worker.stopped else Ending.OLD_WORK)
        self.begun += 1

    @rule()
    def listen(self) -> None:
        self.queue.listen()

    @invariant()
    def the_most_urgent_is_under_way(self) -> None:
        now = self.queue.under_way
        waiting = [one for one in self.owners if one.mine is not None and not self.queue.is_under_way(one)]
        if self.queue.held:
            assert not any(self.queue.wants(one) for one in waiting)
            assert len(self.worker.asked) == self.asked_when_held
            return
        assert now is not None or all(one.urgency > Urgency.FRONT for one in waiting)
        if now is not None:
            assert all(now.request.urgency <= one.urgency for one in waiting)
            assert 0 <= now.share <= 1
            assert now.request is now.request.owner.mine  # type: ignore[attr-defined]

    @invariant()
    def what_is_behind_begins_only_when_all_is_there_in_front(self) -> None:
        front = next(one for one in self.owners if one.urgency is Urgency.FRONT)
        now = self.queue.under_way
        if now is not None and now.request.urgency > Urgency.FRONT:
            assert front.endings
            assert front.endings[-1] is Ended.DONE
            assert {part.name for part in ALWAYS} <= front.done

    @invariant()
    def nothing_is_begun_for_ever(self) -> None:
        # What is put is begun once, and once more when it has ended the worker; each other beginning was somebody's doing.
        assert len(self.worker.asked) <= self.begun

    def teardown(self) -> None:
        """With a worker that works, everything ends, or waits for what is in front."""
        self.queue.hold(False)
        for _ in range(40):
            if self.worker.works:
                self.worker.finish()
            self.queue.listen()
        left = [one for one in self.owners if one.mine is not None]
        assert all(one.urgency > Urgency.FRONT for one in left)
        assert self.queue.under_way is None
        front = next(one for one in self.owners if one.urgency is Urgency.FRONT)
        front.mine = request = Request(front, Urgency.FRONT, JOBS[0], "something")
        self.queue.put(request)
        for _ in range(40):
            if self.worker.works:
                self.worker.finish()
            self.queue.listen()
        assert all(one.mine is None for one in self.owners)


TestRequests = Requests.TestCase
TestRequests.settings = settings(max_examples=120, stateful_step_count=40, deadline=None)


@pytest.fixture
def scripted() -> tuple[Queue, Scripted]:
    worker = Scripted()
    return Queue(worker), worker


def wanted(queue: Queue, worker: Scripted, urgency: Urgency, job: Job = JOBS[0], **more: Any) -> Somebody:
    owner = Somebody(urgency, worker)
    owner.mine = Request(owner, urgency, job, "the lens “first”", **more)
    queue.put(owner.mine)
    return owner


def again(queue: Queue, owner: Somebody, job: Job, by_hand: bool = True, **more: Any) -> None:
    owner.mine = Request(owner, owner.urgency, job, "the lens “first”", **more)
    queue.put(owner.mine, by_hand)


def test_what_ends_the_worker_twice_is_given_up_until_somebody_asks_for_it(scripted: tuple[Queue, Scripted]) -> None:
    queue, worker = scripted
    told: list[str] = []
    queue.trouble.subscribe(lambda words, details: told.append(words))
    front = wanted(queue, worker, Urgency.FRONT)
    for _ in range(2):
        worker.say(Ending.UNEXPECTED)
        queue.listen()
    assert front.endings == [Ended.GIVEN_UP]
    assert len(worker.asked) == 2
    assert told[0].endswith("was restarted. The work was started again.")
    assert told[1].endswith("This happened again: the lens “first” will not be computed until you press F5.")
    again(queue, front, JOBS[0], by_hand=False)
    assert front.endings == [Ended.GIVEN_UP] * 2
    assert len(worker.asked) == 2
    again(queue, front, JOBS[1], by_hand=False)  # other work is not to blame
    assert len(worker.asked) == 3
    again(queue, front, JOBS[0])
    assert len(worker.asked) == 4
    queue.withdraw(front)
    queue.forgive()
    again(queue, front, JOBS[0], by_hand=False)
    assert front.mine is not None


def test_a_worker_that_old_work_has_ended_is_not_laid_to_the_new_works_charge(scripted: tuple[Queue, Scripted]) -> None:
    queue, worker = scripted
    front = wanted(queue, worker, Urgency.FRONT)
    again(queue, front, JOBS[1])
    worker.said.append(Ending.UNEXPECTED)  # before it has said anything of the new work
    queue.listen()
    worker.say(Ending.UNEXPECTED)
    queue.listen()
    assert front.mine is not None
    worker.said.append(Ending.UNEXPECTED)  # nothing was before it: the request alone can have done that
    queue.listen()
    assert front.endings == [Ended.GIVEN_UP]


def test_what_makes_way_goes_on_afterwards(scripted: tuple[Queue, Scripted]) -> None:
    queue, worker = scripted
    front = wanted(queue, worker, Urgency.FRONT)
    sources = wanted(queue, worker, Urgency.SOURCES, JOBS[2], parts=(CORPUS,))
    assert worker.asked[-1] == (JOBS[2], (CORPUS,))
    assert queue.wants(front)
    worker.finish()
    queue.listen()
    assert sources.endings == [Ended.DONE]
    assert worker.asked[-1][0] is JOBS[0]
    worker.finish()
    queue.listen()
    assert front.endings == [Ended.DONE]
    assert len(worker.asked) == 3


def test_another_order_of_the_same_work_does_not_begin_it_anew(scripted: tuple[Queue, Scripted]) -> None:
    queue, worker = scripted
    front = wanted(queue, worker, Urgency.FRONT)
    again(queue, front, JOBS[0], parts=with_needs([PAIRS]))
    assert len(worker.asked) == 1
    assert worker.parts[-1] == "pairs"
    again(queue, front, Job(JOBS[0].recipe, Path("/"), anew=True))
    assert len(worker.asked) == 2
    again(queue, front, Job(JOBS[0].recipe, Path("/"), passwords=(("here", "another"),)))
    assert len(worker.asked) == 3
    again(queue, front, Job(JOBS[0].recipe, Path("/"), to_the_end=frozenset(["laid"])))
    assert len(worker.asked) == 4


def test_it_says_what_is_computed_for_whom_and_how_long_still() -> None:
    now = [100.0]
    worker = Scripted()
    queue = Queue(worker, lambda: now[0])
    assert queue.under_way is None
    front = wanted(queue, worker, Urgency.FRONT, parts=(CORPUS, SPACE))
    said = queue.under_way
    assert said is not None
    assert (said.request.owner, said.part, said.share, said.seconds) == (front, None, 0, None)
    worker.say(Began(1, "corpus"))
    worker.say(Share(1, "corpus", 0.25))
    now[0] += 0.0
    queue.listen()
    now[0] += 3.0
    said = queue.under_way
    assert said is not None
    assert said.part is CORPUS
    assert said.share == pytest.approx(0.125)
    assert said.seconds == pytest.approx(9)
    assert said.at_least  # nothing is known of the space
    worker.say(Done(1, "corpus", "c1", 12.0))
    worker.say(Began(1, "space"))
    worker.say(Done(1, "space", "s1", 5.0))
    worker.say(Finished(1, False, 0))
    queue.listen()
    again(queue, front, JOBS[1], parts=(CORPUS, SPACE))
    worker.said.append(Planned(2, {"corpus": "c1", "space": "s2"}))
    worker.planned = True
    queue.listen()
    said = queue.under_way
    assert said is not None
    assert said.seconds == pytest.approx(5)  # the documents are there
    assert not said.at_least


class Waiting:
    """An owner that only notes how its requests ended, and which parts were done."""

    def __init__(self) -> None:
        self.done: list[str] = []
        self.endings: list[Ended] = []

    def hear(self, news: News) -> None:
        if isinstance(news, Done):
            self.done.append(news.part)

    def ended(self, how: Ended) -> None:
        self.endings.append(how)


@pytest.mark.parametrize("in_process", [True, False])
def test_with_a_worker_that_computes(tmp_path: Path, in_process: bool) -> None:
    (tmp_path / "notes.csv").write_text("note\n" + "".join(f"slugs ate row {row} again\n" for row in range(12)))
    recipe = Recipe().with_settings("gather", {"from": "notes.csv", "text": ["note"]})
    recipe = recipe.with_setting("map", "by", "pca")
    worker = Worker(in_process=in_process)
    try:
        queue = Queue(worker)
        front, beside, behind, sources = (Waiting() for _ in range(4))
        jobs = [Job(recipe.with_setting("group", "groups", 2 + at), tmp_path) for at in range(3)]
        queue.put(Request(behind, Urgency.BEHIND, jobs[2], "behind"))
        queue.put(Request(beside, Urgency.BESIDE, jobs[1], "beside"))
        queue.put(Request(front, Urgency.FRONT, jobs[0], "front", with_needs([GROUPING])))
        queue.put(Request(front, Urgency.FRONT, jobs[0], "front"))
        queue.put(Request(sources, Urgency.SOURCES, jobs[0], "sources", (CORPUS,)))
        end = time.monotonic() + 60
        while not behind.endings:
            assert time.monotonic() < end
            queue.listen()
            time.sleep(0.005)
        assert sources.done == ["corpus"]
        assert [one.endings for one in (sources, front, beside, behind)] == [[Ended.DONE]] * 4
        for owner in (front, beside, behind):
            assert sorted(owner.done) == sorted(part.name for part in ALWAYS)
        queue.put(Request(front, Urgency.FRONT, Job(recipe, tmp_path, anew=True), "front"))
        queue.stop_all()
        while len(front.endings) < 2:
            assert time.monotonic() < end
            queue.listen()
            time.sleep(0.005)
        assert front.endings[1] in (Ended.STOPPED, Ended.DONE)
        assert queue.under_way is None
    finally:
        worker.close()


def test_what_is_wanted_again_while_it_stops_is_begun_again(scripted: tuple[Queue, Scripted]) -> None:
    queue, worker = scripted
    front = wanted(queue, worker, Urgency.FRONT)
    queue.stop(front)
    again(queue, front, JOBS[0])
    assert len(worker.asked) == 2
    worker.finish()
    queue.listen()
    assert front.endings == [Ended.DONE]


def test_what_waits_is_dropped_when_all_is_stopped_and_what_is_under_way_is_stopped(
    scripted: tuple[Queue, Scripted],
) -> None:
    queue, worker = scripted
    front = wanted(queue, worker, Urgency.FRONT)
    beside = wanted(queue, worker, Urgency.BESIDE)
    front.told_to_stop = True
    queue.stop_all()
    assert beside.endings == [Ended.DROPPED]
    assert front.mine is not None
    worker.say(Finished(1, True, 0))
    queue.listen()
    assert front.endings == [Ended.STOPPED]
    assert queue.under_way is None
