# SPDX-License-Identifier: GPL-3.0-or-later
"""Points that pull and push each other: against sums over all pairs, and on collections that hardly are any."""

import dataclasses

import numpy as np
import pytest

from compare.test_compare import random_counts, space_of
from jagged_lens.compare import Neighbours, nearest_neighbours
from jagged_lens.errors import Stopped
from jagged_lens.map import Laid, MapLayout, MapSettings, lay_out, pca, t_sne, trusted
from jagged_lens.map.affinities import affinities, squared_distances
from jagged_lens.map.repulsion import Repulsion
from jagged_lens.parallel import set_threads, threads
from jagged_lens.weigh import VectorSpace

module, attraction, repulsion = (
    __import__(f"jagged_lens.map.{name}", fromlist=["x"]) for name in ("tsne", "attraction", "repulsion")
)
WAYS = ("t-sne", "scaling", "pca")


def topics(seed: int, each: int, groups: int = 6) -> np.ndarray:
    """Counts of documents, some of each of several topics, with words of its own and words of all."""
    random = np.random.default_rng(seed)
    own = random.random((groups, 40)) < 0.3
    rows = []
    for topic in range(groups):
        for _ in range(each):
            row = np.zeros(groups * 40 + 30, int)
            row[topic * 40 : topic * 40 + 40] = (random.random(40) < 0.4) & own[topic]
            row[groups * 40 :] = random.random(30) < 0.3
            rows.append(row)
    return np.array(rows)


def laid_out(space: VectorSpace, by: str = "t-sne", **more: object) -> MapLayout:
    settings = MapSettings(by=by, **more)  # type: ignore[arg-type]
    neighbours = nearest_neighbours(space, "cosine", 15)
    projection = pca(space, 1)
    laid = lay_out(space, neighbours, projection, "cosine", settings, lambda _: None, lambda _: None, lambda: False)
    return trusted(laid, projection, neighbours)


@pytest.mark.parametrize(("n", "scale"), [(2, 0.3), (60, 1e-4), (400, 3), (400, 12), (900, 12)])
def test_repulsion_equals_the_sum_over_all_pairs(n: int, scale: float) -> None:
    points = np.random.default_rng(n).normal(size=(n, 2)) * scale
    apart = points[:, None] - points[None]
    kernel = 1 / (1 + (apart**2).sum(2))
    total, force = Repulsion().at(points)
    assert total == pytest.approx(kernel.sum() - n, rel=2e-3)
    expected = (apart * (kernel**2)[:, :, None]).sum(1)
    pulls = np.linalg.norm(apart, axis=2) * kernel**2
    assert np.sqrt(((force - expected) ** 2).sum()) < 0.025 * np.sqrt((pulls.sum(1) ** 2).sum())


def test_repulsion_of_points_on_a_line_and_in_one_place() -> None:
    total, force = Repulsion().at(np.zeros((5, 2)))
    assert total == pytest.approx(20, rel=1e-3)
    assert np.abs(force).max() < 1e-3
    total, _ = Repulsion().at(np.column_stack((np.linspace(-30, 30, 40), np.zeros(40))))
    line = np.linspace(-30, 30, 40)
    assert total == pytest.approx((1 / (1 + (line[:, None] - line) ** 2)).sum() - 40, rel=0.01)


def test_attraction_equals_the_sum_over_ties() -> None:
    space = space_of(random_counts(3, 50))
    ties = affinities(nearest_neighbours(space, "cosine", 8), 8, "cosine")
    tied = np.flatnonzero(np.diff(ties.indptr))
    ties = ties[tied][:, tied]
    places = np.random.default_rng(0).normal(size=(len(tied), 2))
    apart = places[:, None] - places[None]
    expected = (ties.toarray() / (1 + (apart**2).sum(2)))[:, :, None] * apart
    assert attraction.Attraction(ties).at(places) == pytest.approx(expected.sum(1), abs=1e-8)


def test_ties_have_the_perplexity_that_was_asked_for() -> None:
    similarity = np.sort(np.random.default_rng(1).random((30, 12)), axis=1)[:, ::-1].astype(np.float32)
    row = np.array([[at for at in range(30) if at != own][:12] for own in range(30)], np.int32)
    ties = affinities(Neighbours(row, similarity), 12, "cosine").toarray()
    assert ties.sum() == pytest.approx(1)
    assert ties == pytest.approx(ties.T)
    shares = __import__("jagged_lens.map.affinities", fromlist=["x"])._of_one_perplexity(
        squared_distances(similarity, "cosine"), np.ones((30, 12), bool), 4.0
    )
    entropy = -(shares * np.log(np.maximum(shares, 1e-300))).sum(1)
    assert np.exp(entropy) == pytest.approx(np.full(30, 4.0), rel=1e-6)


def test_squared_distances_by_measure() -> None:
    assert squared_distances(np.array([1.0, 0.5]), "cosine").tolist() == [0, 1]
    assert squared_distances(np.array([1.0, 0.25]), "hellinger").tolist() == [0, 0.75]
    assert squared_distances(np.array([1.0, 0.2]), "euclidean") == pytest.approx([0, 16])


def test_topics_lie_apart_and_neighbours_stay_near() -> None:
    space = space_of(topics(1, 30), global_="none")
    layout = laid_out(space)
    topic = np.repeat(np.arange(6), 30)
    in_space = nearest_neighbours(space, "cosine", 12).row
    same = (topic[layout.nearest] == topic[:, None]).mean()
    assert same > 0.95 * (topic[in_space] == topic[:, None]).mean() > 0.5
    assert layout.overall > 1.5 * layout.components
    assert layout.laid.rounds == layout.laid.of == 750


@pytest.mark.parametrize("pull", [0.1, 30])
def test_any_pull_gives_two_dimensions(pull: float) -> None:
    laid = laid_out(space_of(topics(2, 15), global_="none"), pull=pull).laid
    assert np.isfinite(laid.positions).all()
    spread = np.linalg.svd(laid.positions - laid.positions.mean(0), compute_uv=False)
    assert spread[1] > 0.02 * spread[0] > 0


@pytest.mark.parametrize("whole_to", [0, 1_000])
def test_the_same_bytes_on_any_number_of_threads(monkeypatch: pytest.MonkeyPatch, whole_to: int) -> None:
    monkeypatch.setattr(attraction, "_TIES_AT_ONCE", 300)
    monkeypatch.setattr(attraction, "_FEW_TIES", 0)
    monkeypatch.setattr(repulsion, "_POINTS_FOR_THREADS", 0)
    monkeypatch.setattr(repulsion, "_POINTS_AT_ONCE", 50)
    monkeypatch.setattr(module, "WHOLE_TO", whole_to)
    monkeypatch.setattr(module, "ROUNDS", 60)
    space = space_of(topics(3, 40))
    neighbours, start = nearest_neighbours(space, "cosine", 15), pca(space, 1).positions
    before, found = threads(), []
    for count in (1, 2, 3):
        set_threads(count)
        found.append(t_sne(neighbours, start, "cosine", MapSettings()).positions.tobytes())
    set_threads(before)
    assert found[0] == found[1] == found[2]


def test_a_map_shows_itself_on_its_way_and_can_be_left_as_it_is(monkeypatch: pytest.MonkeyPatch) -> None:
    space = space_of(topics(4, 10))
    neighbours, start = nearest_neighbours(space, "cosine", 15), pca(space, 1).positions
    shown: list[Laid] = []
    laid = t_sne(neighbours, start, "cosine", MapSettings(), preview=shown.append, enough=lambda: len(shown) == 3)
    assert laid.stopped
    assert laid.rounds == shown[-1].rounds + 1
    assert [one.rounds for one in shown] == [1, 6, 11]
    assert all(one.of == 750 for one in shown)

    def stop(share: float) -> None:
        if share > 0.02:
            raise Stopped

    with pytest.raises(Stopped):
        t_sne(neighbours, start, "cosine", MapSettings(), stop)


DEGENERATE = {
    "none": np.zeros((0, 3), int),
    "one": np.ones((1, 3), int),
    "two": np.array([[1, 1, 0], [0, 1, 1]]),
    "three": np.array([[1, 1, 0], [0, 1, 1], [1, 0, 1]]),
    "all the same": np.ones((40, 3), int),
    "without neighbours": np.eye(12, dtype=int),
    "all empty": np.zeros((4, 3), int),
    "two islands": np.kron(np.eye(2, dtype=int), np.ones((15, 4), int)) * np.arange(1, 31)[:, None],
    "a hub of copies": np.vstack((np.tile(topics(5, 1)[0], (200, 1)), topics(5, 10))),
}


@pytest.mark.parametrize("by", WAYS)
@pytest.mark.parametrize("name", DEGENERATE)
def test_hardly_anything_to_lay_out(name: str, by: str) -> None:
    space = space_of(DEGENERATE[name], global_="none")
    layout = laid_out(space, by)
    positions = layout.positions[~space.empty]
    assert np.isnan(layout.positions[space.empty]).all()
    assert np.isfinite(positions).all()
    assert not np.isnan(layout.trust[~space.empty]).any() or len(positions) < 2
    if len(positions) > 3:
        away = np.linalg.norm(positions - np.median(positions, axis=0), axis=1)
        assert away.max() <= 12 * max(np.median(away), 1e-9) or np.median(away) < 1e-3


def test_rows_without_neighbours_lie_on_the_rim_and_are_not_trusted() -> None:
    counts = np.zeros((63, 250), int)
    counts[:60, :240] = topics(6, 10)[:, :240]
    counts[60:, 240:243] = np.eye(3, dtype=int)
    space = space_of(counts, global_="none")
    layout = laid_out(space)
    lonely = np.flatnonzero(layout.laid.rim)
    assert set(lonely) >= {60, 61, 62}
    assert (layout.trust[lonely] == 0).all()
    inner = layout.positions[~layout.laid.rim & ~space.empty]
    middle = (inner.min(0) + inner.max(0)) / 2
    farthest = np.linalg.norm(inner - middle, axis=1).max()
    away = np.linalg.norm(layout.positions[lonely] - middle, axis=1)
    assert away == pytest.approx(np.full(len(lonely), 1.08 * farthest), rel=1e-4)


def test_hubs_of_copies_do_not_fly_off() -> None:
    space = space_of(np.vstack((np.tile(topics(7, 1)[0], (300, 1)), topics(7, 40))), global_="none")
    layout = laid_out(space)
    size = np.ptp(layout.positions[300:], axis=0).max()
    assert np.ptp(layout.positions[:300], axis=0).max() < size
    assert dataclasses.replace(layout.laid).rounds == 750
