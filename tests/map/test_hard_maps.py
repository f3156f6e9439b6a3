# SPDX-License-Identifier: GPL-3.0-or-later
"""Maps that hardly are any: a plane that is a line, points in one place, axes that take long to settle."""

import numpy as np
import pytest

from compare.test_compare import random_counts, space_of
from jagged_lens.errors import Stopped
from jagged_lens.map import near, nearest_on_map, pca

module = __import__("jagged_lens.weigh.krylov", fromlist=["leading_eigenvectors"])


@pytest.mark.parametrize("copies", [1, 7])
def test_a_plane_that_is_a_line_has_no_second_axis(copies: int) -> None:
    counts = np.zeros((4, 9), int)
    counts[:2, :4], counts[2:, 4:8] = 1, 1
    found = pca(space_of(np.repeat(counts, copies, axis=0), global_="none"), 1)
    assert np.linalg.norm(found.axes[0]) == pytest.approx(1, abs=1e-6)
    assert (found.axes[1] == 0).all()
    assert (found.positions[:, 1] == 0).all()
    assert found.explained == pytest.approx((1, 0), abs=1e-12)
    assert found.explained[1] == 0


def test_documents_that_are_all_the_same_have_no_axis() -> None:
    found = pca(space_of(np.tile(random_counts(3, 1)[[0]] + 1, (30, 1)), global_="none"), 1)
    assert (found.axes == 0).all()


def test_axes_are_the_same_when_there_is_room_for_a_few_blocks_only(monkeypatch: pytest.MonkeyPatch) -> None:
    space = space_of(random_counts(2, 300, 200))
    whole = pca(space, 1)
    monkeypatch.setattr(module, "_MOST_BLOCKS", 3)
    begun_again = pca(space, 1)
    assert whole.settled
    assert begun_again.settled
    assert begun_again.positions == pytest.approx(whole.positions, abs=1e-5, nan_ok=True)


def test_axes_that_have_not_settled_say_so(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "_MOST_BLOCKS", 1)
    monkeypatch.setattr(module, "_MOST_SEARCHES", 2)
    assert not pca(space_of(random_counts(2, 300, 200)), 1).settled


def test_thousands_of_points_in_one_place_are_not_compared_with_each_other(monkeypatch: pytest.MonkeyPatch) -> None:
    compared = []
    plain = near._squared
    monkeypatch.setattr(near, "_squared", lambda a, b: compared.append(plain(a, b).size) or plain(a, b))
    points = np.random.default_rng(0).random((4_000, 2))
    points[1_000:3_000] = points[5]
    found = nearest_on_map(points, 12)
    assert sum(compared) < 3_000_000
    assert found[2_000].tolist() == [5, *range(1_000, 1_011)]
    assert found[5].tolist() == list(range(1_000, 1_012))
    squared = ((points[:, None] - points[None]) ** 2).sum(2)
    np.fill_diagonal(squared, np.inf)
    assert np.array_equal(found, np.argsort(squared, axis=1, kind="stable")[:, :12])


def test_looking_for_the_nearest_points_can_be_stopped() -> None:
    def stop(share: float) -> None:
        if share > 0.3:
            raise Stopped

    with pytest.raises(Stopped):
        nearest_on_map(np.random.default_rng(0).random((4_000, 2)), 5, stop)
