# SPDX-License-Identifier: GPL-3.0-or-later
"""The network of alike documents."""

import numpy as np
import pytest

from jagged_lens.compare import Pairs
from jagged_lens.map import lay_out_links
from jagged_lens.map.links import _packed


def pairs_of(links: list[tuple[int, int]], n: int) -> Pairs:
    first, second = (np.array([pair[side] for pair in links], np.int32) for side in (0, 1))
    similarity = np.linspace(0.9, 0.5, len(links)).astype(np.float32)
    none = np.zeros(len(links))
    return Pairs(first, second, similarity, none.astype(np.uint8), none.astype(np.int32), similarity, n, n, 0.5)


def test_parts_by_size_each_in_a_place_of_its_own() -> None:
    found = lay_out_links(pairs_of([(0, 9), (3, 4), (4, 5), (5, 3), (7, 8)], 12))
    assert found.rows.tolist() == [0, 3, 4, 5, 7, 8, 9]
    assert found.sizes.tolist() == [3, 2, 2]
    assert found.of == 7
    assert found.part[[1, 2, 3]].tolist() == [0, 0, 0]
    assert found.part[0] == found.part[6] != found.part[4] == found.part[5]
    boxes = [
        (found.positions[found.part == part].min(0), found.positions[found.part == part].max(0)) for part in range(3)
    ]
    for a in range(3):
        for b in range(a):
            assert (boxes[a][0] > boxes[b][1]).any() or (boxes[b][0] > boxes[a][1]).any()


def test_what_is_linked_lies_nearer_than_what_is_not() -> None:
    cliques = [(a, b) for low in (0, 8, 16) for a in range(low, low + 8) for b in range(a + 1, low + 8)]
    found = lay_out_links(pairs_of([*cliques, (0, 8), (8, 16)], 24))
    apart = np.linalg.norm(found.positions[:, None] - found.positions, axis=2)
    same = np.arange(24)[:, None] // 8 == np.arange(24) // 8
    assert apart[same & (apart > 0)].mean() < 0.5 * apart[~same].mean()
    assert apart[~np.eye(24, dtype=bool)].min() > 0.01


def test_of_too_many_those_of_the_most_similar_pairs_are_there() -> None:
    found = lay_out_links(pairs_of([(at, at + 1) for at in range(99)], 100), most=10)
    assert found.rows.tolist() == list(range(10))
    assert found.of == 100
    assert found.sizes.tolist() == [100]


def test_the_same_again_and_nothing_of_nothing() -> None:
    links = [(0, at) for at in range(1, 40)] + [(at, at + 1) for at in range(1, 39)]
    one, again = lay_out_links(pairs_of(links, 40)), lay_out_links(pairs_of(links, 40))
    assert one.positions.tolist() == again.positions.tolist()
    assert np.isfinite(one.positions).all()
    assert len(lay_out_links(pairs_of([], 4))) == 0


def test_links_are_the_pairs() -> None:
    pairs = pairs_of([(0, 9), (3, 4), (4, 5)], 12)
    found = lay_out_links(pairs)
    assert found.rows[found.first].tolist() == pairs.first[found.pair].tolist()
    assert found.rows[found.second].tolist() == pairs.second[found.pair].tolist()
    assert sorted(found.pair.tolist()) == [0, 1, 2]


def test_parts_are_packed_from_the_top_left_side_by_side_and_do_not_overlap() -> None:
    rng = np.random.default_rng(3)
    shapes = [rng.random((8, 2)) * size for size in (9, 7, 6, 5, 5, 4, 3, 3, 2, 2, 1)]
    placed = _packed(shapes)
    boxes = [(one.min(axis=0), one.max(axis=0)) for one in placed]
    for shape, one in zip(shapes, placed, strict=True):
        assert np.ptp(one, axis=0) == pytest.approx(np.ptp(shape, axis=0))
    for at, (low, high) in enumerate(boxes):
        for other_low, other_high in boxes[:at]:
            assert (high < other_low).any() or (low > other_high).any()
    assert boxes[1][0][0] > boxes[0][1][0]  # the second beside the first
    whole = np.ptp(np.concatenate(placed), axis=0)
    assert whole[0] < 2.5 * whole[1]
    assert whole[1] < 2.5 * whole[0]
