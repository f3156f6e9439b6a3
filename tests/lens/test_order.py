# SPDX-License-Identifier: GPL-3.0-or-later
"""The order of the parts: what is wanted first is computed first, others make way for it, and long parts show what they have."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest

from conftest import Silent
from jagged_lens.compare.distribution import Distribution, similarity_distribution
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import Stopped
from jagged_lens.lens import (
    ALWAYS,
    DISTRIBUTION,
    GROUPING,
    LAID,
    LAYOUT,
    PAIRS,
    PARTS,
    SHINGLES,
    SPACE,
    Job,
    Part,
    Recent,
    Recipe,
    Results,
    compute,
    keys_of,
    with_needs,
)
from jagged_lens.progress import Progress
from jagged_lens.worker import Done, Finished, Grew, News, Worker

FOLDER = demo_recipe().parent


def names(parts: tuple[Part, ...]) -> list[str]:
    return [part.name for part in parts]


def test_what_is_wanted_first_comes_first_with_what_it_needs() -> None:
    order = names(with_needs([GROUPING], ALWAYS))
    assert order.index("grouping") < min(order.index(name) for name in ("shingles", "pairs", "neighbours", "overview"))
    assert sorted(order) == sorted(names(ALWAYS))
    for part in with_needs([DISTRIBUTION, PAIRS], PARTS):
        assert all(order.index(needed.name) < order.index(part.name) for needed in part.needs if part.name in order)


def test_only_what_is_wanted_is_computed(demo: Recipe) -> None:
    listener = Silent()
    results = compute(Job(demo, FOLDER), Recent(), listener, lambda: with_needs([SHINGLES]))
    assert listener.computed == ["corpus", "shingles"] == list(results)
    assert "distribution" not in compute(Job(demo, FOLDER), Recent(), Silent())


class Turning(Silent):
    """Wants something else as soon as a part has got so far."""

    def __init__(self, at: str, share: float, first: tuple[Part, ...], then: tuple[Part, ...]) -> None:
        super().__init__()
        self.order, self._at, self._share, self._then = first, at, share, then
        self.left: list[str] = []

    def began(self, part: Part) -> Progress:
        self.computed.append(part.name)

        def progress(share: float) -> None:
            if part.name == self._at and share >= self._share:
                self.order = self._then

        return progress

    def deferred(self, part: Part) -> None:
        self.left.append(part.name)


@pytest.mark.parametrize(("share", "left"), [(0.0, ["pairs"]), (0.5, [])])
def test_a_part_makes_way_unless_half_of_it_is_done(demo: Recipe, share: float, left: list[str]) -> None:
    turning = Turning("pairs", share, with_needs([PAIRS], ALWAYS), with_needs([GROUPING], ALWAYS))
    before = compute(Job(demo, FOLDER), Recent(), Silent())
    after = compute(Job(demo, FOLDER), Recent(), turning, lambda: turning.order)
    assert turning.left == left
    assert turning.computed.count("pairs") == 1 + len(left)
    if left:
        assert turning.computed.index("grouping") < len(turning.computed) - turning.computed[::-1].index("pairs") - 1
    assert np.array_equal(before[PAIRS].similarity, after[PAIRS].similarity)
    assert np.array_equal(before[GROUPING].group, after[GROUPING].group)


def test_a_part_that_nobody_wants_any_more_is_left_however_far_it_is(demo: Recipe) -> None:
    turning = Turning("distribution", 0.6, with_needs([DISTRIBUTION]), with_needs([SPACE]))
    turning._share = 0.0
    results = compute(Job(demo, FOLDER), Recent(), turning, lambda: turning.order)
    assert turning.left == ["distribution"]
    assert DISTRIBUTION not in results
    assert SPACE in results


def test_a_distribution_shows_what_it_has_so_far(demo_results: Results, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("jagged_lens.compare.neighbours._CELLS_AT_ONCE", 20_000)
    shown: list[Distribution] = []
    whole = similarity_distribution(demo_results[SPACE], "cosine", preview=shown.append)
    assert len(shown) > 3
    assert not any(one.exact for one in shown)
    for one in shown:  # each is scaled to all pairs
        assert one.counts.sum() == pytest.approx(whole.counts.sum())
    assert np.allclose(shown[-1].counts, whole.counts)


@pytest.fixture
def worker() -> Iterator[Worker]:
    worker = Worker()
    yield worker
    worker.close()


def heard(worker: Worker, done: Callable[[News], bool], found: list[News]) -> None:
    end = time.monotonic() + 60
    while time.monotonic() < end:
        for news in worker.news():
            found.append(news)
            if done(news):
                return
        time.sleep(0.002)
    raise AssertionError(f"not heard: {found}")


def some_notes(folder: Path, count: int = 4000) -> Recipe:
    rng = np.random.default_rng(5)
    words = np.array([f"w{number}" for number in range(3000)])
    lines = (" ".join(words[(rng.pareto(1.1, 30) * 9).astype(int) % 3000]) for _ in range(count))
    (folder / "notes.csv").write_text("note\n" + "\n".join(lines) + "\n")
    return Recipe().with_settings("gather", {"from": "notes.csv", "text": ["note"]})


def test_the_worker_takes_another_order_while_it_works(tmp_path: Path, worker: Worker) -> None:
    found: list[News] = []
    number = worker.ask(Job(some_notes(tmp_path, 1500), tmp_path), with_needs([PAIRS], ALWAYS))
    heard(worker, lambda news: isinstance(news, Done) and news.part == "corpus", found)
    worker.reorder(with_needs([GROUPING, DISTRIBUTION], ALWAYS))
    heard(worker, lambda news: isinstance(news, Finished), found)
    done = [news.part for news in found if isinstance(news, Done)]
    assert done.index("grouping") < done.index("neighbours")
    assert done.count("corpus") == 1
    assert sorted(done) == sorted(names((*ALWAYS, DISTRIBUTION)))
    assert any(isinstance(news, Grew) and news.preview.counts.sum() > 0 for news in found)
    assert all(news.number == number for news in found)
    assert not worker.busy


def test_an_order_that_comes_when_all_is_done_is_done_too(tmp_path: Path, worker: Worker) -> None:
    found: list[News] = []
    worker.ask(Job(some_notes(tmp_path, 50), tmp_path), with_needs([SHINGLES]))
    time.sleep(2)  # it has said that it is done, and nobody has heard it yet
    worker.reorder(with_needs([SPACE]))
    heard(worker, lambda news: isinstance(news, Finished), found)
    assert any(isinstance(news, Done) and news.part == "space" for news in found)
    assert sum(isinstance(news, Finished) for news in found) == 1


def test_stopping_ends_what_was_reordered(tmp_path: Path, worker: Worker) -> None:
    found: list[News] = []
    worker.ask(Job(some_notes(tmp_path), tmp_path), ALWAYS)
    heard(worker, lambda news: isinstance(news, Done) and news.part == "corpus", found)
    worker.reorder(with_needs([DISTRIBUTION]))
    worker.stop()
    heard(worker, lambda news: isinstance(news, Finished) and news.stopped, found)
    assert not any(isinstance(news, Done) and news.part == "distribution" for news in found)


def test_stopped_out_of_the_order_ends_the_work(demo: Recipe) -> None:
    def none() -> tuple[Part, ...]:
        raise Stopped

    with pytest.raises(Stopped):
        compute(Job(demo, FOLDER), Recent(), Silent(), none)


def test_a_part_that_is_ended_early_stays_so_until_the_whole_is_asked_for(demo: Recipe) -> None:
    memory, heard_of = Recent(), Silent()
    demo = demo.with_setting("map", "by", "t-sne")
    early = compute(Job(demo, FOLDER), memory, heard_of, enough=lambda part: part is LAID)
    assert early[LAID].stopped
    assert early[LAID].rounds == 1
    assert len(early[LAYOUT].trust) == 640  # what is made of it goes on
    again = Silent()
    assert compute(Job(demo, FOLDER), memory, again)[LAID].rounds == 1
    assert again.computed == []
    whole = compute(Job(demo, FOLDER, to_the_end=frozenset(["laid"])), memory, again)
    assert again.computed == ["laid", "layout"]
    assert whole[LAID].rounds == whole[LAID].of == 750


def test_the_worker_ends_a_map_where_it_is_told_to(worker: Worker, tmp_path: Path) -> None:
    found: list[News] = []
    job = Job(some_notes(tmp_path), tmp_path)
    worker.ask(job, with_needs([LAYOUT]))
    heard(worker, lambda news: isinstance(news, Grew) and news.part == "laid", found)
    worker.reorder(with_needs([LAYOUT]), [LAID])
    heard(worker, lambda news: isinstance(news, Finished), found)
    (laid,) = [news for news in found if isinstance(news, Done) and news.part == "laid"]
    assert 0 < laid.result.rounds < 750
    assert laid.key != keys_of(job).of["laid"]
    assert any(isinstance(news, Done) and news.part == "layout" for news in found)
