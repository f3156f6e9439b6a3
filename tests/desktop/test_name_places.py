# SPDX-License-Identifier: GPL-3.0-or-later

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jagged_lens.desktop.plots.height_scale import HeightScale
from jagged_lens.desktop.plots.name_places import NamePlaces

Box = tuple[float, float, float, float]


def meet(a: Box, b: Box) -> bool:
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


@settings(deadline=None, max_examples=60)
@given(st.integers(0, 1000), st.integers(1, 30), st.integers(0, 300))
def test_names_never_meet_nor_leave_the_map(seed: int, names: int, points: int) -> None:
    random = np.random.default_rng(seed)
    width, height = 700.0, 500.0
    card = (10.0, 380.0, 260.0, 490.0)
    free = NamePlaces(random.random((points, 2)) * (width, height), width, height, [card])
    placed: list[Box] = []
    for _ in range(names):
        size = (float(random.integers(40, 220)), 20.0)
        corner = free.place(random.random(2) * (width, height), size)
        if corner is None:
            continue
        box = (corner[0], corner[1], corner[0] + size[0], corner[1] + size[1])
        assert box[0] >= 0
        assert box[1] >= 0
        assert box[2] <= width
        assert box[3] <= height
        assert not any(meet(box, other) for other in [card, *placed])
        placed.append(box)
    assert placed


def test_a_name_stands_where_it_covers_the_fewest_points() -> None:
    crowd = np.column_stack((np.full(200, 300.0), np.linspace(240, 260, 200)))
    corner = NamePlaces(crowd, 600, 500, []).place(np.array([300.0, 250.0]), (100.0, 20.0))
    assert corner is not None
    inside = (
        (crowd[:, 0] > corner[0])
        & (crowd[:, 0] < corner[0] + 100)
        & (crowd[:, 1] > corner[1])
        & (crowd[:, 1] < corner[1] + 20)
    )
    assert inside.sum() == 0


def test_without_room_there_is_no_name() -> None:
    free = NamePlaces(np.zeros((0, 2)), 200, 100, [(0.0, 0.0, 200.0, 100.0)])
    assert free.place(np.array([100.0, 50.0]), (50.0, 20.0)) is None


def test_the_highest_joins_of_a_ridge_stand_apart_however_near_their_heights_are() -> None:
    crowded = np.sort(np.concatenate((np.linspace(0.2, 0.9, 200), 0.95 + np.arange(30) * 1e-4)))
    scale = HeightScale(crowded, 386)
    shares = scale.share_of(crowded)
    assert not scale.is_even
    assert (np.diff(shares) > 0).all()
    assert (np.diff(shares[-30:]) * 386 >= 5.7).all()
    for height in crowded[[0, 60, 210, 229]].tolist():
        assert scale.height_at(float(scale.share_of(np.array([height]))[0])) == pytest.approx(height)
    spread = HeightScale(np.linspace(0.1, 1, 10), 386)
    assert spread.is_even
    assert spread.share_of(np.array([0.53])) == pytest.approx([0.5])
    assert HeightScale(np.zeros(0), 10).height_at(0.5) == pytest.approx(0.5)
    same = HeightScale(np.ones(50), 386)  # all at one height: nothing can be parted
    assert same.is_even
