# SPDX-License-Identifier: GPL-3.0-or-later
"""Very many documents: grouped by samples of them, and tried on one."""

import numpy as np
import pytest

from compare.test_compare import space_of
from jagged_lens.group import GroupSettings, adjusted_rand, counted_together, holding_of, k_means, sweep_of
from jagged_lens.parallel import set_threads, threads
from jagged_lens.weigh import VectorSpace

kmeans, parts = (__import__(f"jagged_lens.group.{name}", fromlist=["x"]) for name in ("kmeans", "parts"))


@pytest.fixture(autouse=True)
def few_are_many(monkeypatch: pytest.MonkeyPatch) -> None:
    for module in (kmeans, parts):
        monkeypatch.setattr(module, "WHOLE_TO", 300)
        monkeypatch.setattr(module, "SAMPLE", 120)


def topics(each: int, groups: int = 5) -> tuple[VectorSpace, np.ndarray]:
    """Documents of some topics, and the topic of each."""
    random = np.random.default_rng(2)
    topic = random.permutation(np.repeat(np.arange(groups), each))
    counts = (random.random((len(topic), 40 * groups)) < 0.02).astype(int)
    for row, own in enumerate(topic.tolist()):
        counts[row, own * 40 + random.choice(40, 15, replace=False)] += 1
    return space_of(counts, global_="none"), topic


def test_groups_of_samples_take_in_all() -> None:
    space, topic = topics(100)
    settings = GroupSettings(groups=5, starts=9)
    grouping = k_means(space, settings)
    assert adjusted_rand(counted_together(grouping.group.astype(np.int64), topic, 5, 5)) > 0.95
    assert grouping.sizes.sum() == 500
    before, found = threads(), []
    for count in (1, 3):
        set_threads(count)
        found.append(k_means(space, settings).group.tobytes())
    set_threads(before)
    assert found[0] == found[1] == grouping.group.tobytes()


def test_another_seed_draws_other_samples_and_a_few_rows_are_grouped_whole() -> None:
    drawn: list[int] = []
    real = kmeans.part_of

    def spy(ids: np.ndarray, size: int, *counter: int) -> np.ndarray:
        drawn.append(size)
        return real(ids, size, *counter)

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(kmeans, "part_of", spy)
        k_means(topics(60)[0], GroupSettings(groups=5))
        assert not drawn
        k_means(topics(61)[0], GroupSettings(groups=5))
        assert drawn == [120, 120, 120]


@pytest.mark.parametrize("by", ["k-means", "tree"])
def test_stability_and_curves_are_measured_on_a_sample(by: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(parts, "MOST_ROWS", 300)
    space, _ = topics(100)
    settings = GroupSettings(by=by, linkage="ward", groups=5, sweep=(4, 5), holding=True)  # type: ignore[arg-type]
    holding = holding_of(space, k_means(space, settings), settings)
    assert holding.sample == 120
    assert (holding.groups > 0.9).all()
    sweep = sweep_of(space, settings)
    assert sweep.documents == 120
    assert sweep.groups.tolist() == [4, 5]
    assert sweep.suggested == 5
    assert holding_of(topics(50)[0], k_means(topics(50)[0], settings), settings).sample == 0
