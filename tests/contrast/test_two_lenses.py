# SPDX-License-Identifier: GPL-3.0-or-later
"""Two lenses: kept neighbours, flows, movers, lone pairs and matched maps, by hand and by brute force."""

import dataclasses
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from jagged_lens.contrast import Seen, matched, term_shift, two_lenses
from jagged_lens.desktop.desks.contrast.words import agreeing
from jagged_lens.lens import GROUPING, LAYOUT, LENS_ROWS, NEIGHBOURS, PAIRS, SPACE, Results


def seen(results: Results) -> Seen:
    return Seen(
        results[LENS_ROWS],
        results[NEIGHBOURS],
        results[GROUPING],
        results[LAYOUT].positions,
        results[PAIRS],
    )


def test_a_lens_agrees_with_itself(demo_results: Results) -> None:
    one = seen(demo_results)
    found = two_lenses(one, one)
    assert found.adjusted_rand == 1
    assert found.mean_kept == 1
    assert len(found.moved) == 0
    assert not found.elsewhere.any()
    assert found.apart == pytest.approx(0, abs=1e-6)
    assert len(found.only_first) == len(found.only_second) == 0
    assert (found.flows == np.diag(np.diag(found.flows))).all()


def test_a_map_and_its_mirror_image_match(demo_results: Results) -> None:
    one = seen(demo_results)
    turned = one.positions @ np.array([[0, -3.0], [-3.0, 0]], np.float32) + np.float32(7)
    found = two_lenses(one, dataclasses.replace(one, positions=turned))
    assert found.apart == pytest.approx(0, abs=1e-5)
    assert np.allclose(found.positions, one.positions, atol=1e-4 * np.nanmax(np.abs(one.positions)), equal_nan=True)


def test_what_two_different_lenses_say_is_counted_one_by_one(chain: Callable[..., Results]) -> None:
    texts = [
        f"{a} {b} {c} seed"
        for a in ("frost", "slugs", "rain")
        for b in ("peas", "beans", "leek")
        for c in ("late", "soon")
    ]
    first = chain(texts, terms={"least-documents": 1}, group={"groups": 3}, compare={"pairs-from": 0.4})
    second = chain(
        texts,
        terms={"least-documents": 1, "words": [2, 2]},
        group={"groups": 4, "by": "tree"},
        compare={"pairs-from": 0.6},
    )
    # One document less in the second.
    one, other = seen(first), seen(second)
    found = two_lenses(one, other)
    neighbours = [set(one.rows[row[row >= 0]].tolist()) for row in one.neighbours.row[:, :12]]
    others = [set(other.rows[row[row >= 0]].tolist()) for row in other.neighbours.row[:, :12]]
    for place, (a, b) in enumerate(zip(neighbours, others, strict=True)):
        expected = len(a & b) / max(len(a), len(b)) if a or b else 1
        assert found.kept[place] == pytest.approx(expected)
    assert found.kept.min() < 1
    assert found.kept[found.moved].tolist() == sorted(found.kept[found.kept < 1].tolist())
    for g in range(3):
        for h in range(len(other.grouping)):
            both = (one.grouping.group == g) & (other.grouping.group == h)
            assert found.flows[g, h] == both.sum()
    listed = {(a, b) for a, b in zip(one.pairs.first.tolist(), one.pairs.second.tolist(), strict=True)}
    there = {(a, b) for a, b in zip(other.pairs.first.tolist(), other.pairs.second.tolist(), strict=True)}
    alone = {(int(one.pairs.first[at]), int(one.pairs.second[at])) for at in found.only_first}
    assert alone == listed - there
    assert alone
    for place in np.flatnonzero(found.elsewhere):
        own = one.grouping.group[place]
        assert found.flows[own].argmax() != other.grouping.group[place]


def test_documents_of_one_lens_alone_take_no_part(chain: Callable[..., Results], tmp_path: Path) -> None:
    texts = ["frost peas late", "frost peas soon", "slugs beans late", "slugs beans soon", "frost peas rain"]
    whole = seen(chain(texts, terms={"least-documents": 1}, group={"groups": 2}, compare={"pairs-from": 0.1}))
    only = {"from": str(tmp_path), "holding": "late"}
    part = seen(chain(texts, gather=only, terms={"least-documents": 1}, group={"groups": 2}))
    found = two_lenses(whole, part)
    assert found.rows.tolist() == part.rows.tolist()
    # A pair of which one document is not in the other lens cannot be missed there.
    assert len(whole.pairs) > 0
    for at in found.only_first:
        pair = whole.rows[[whole.pairs.first[at], whole.pairs.second[at]]]
        assert np.isin(pair, part.rows).all()
    assert len(found.rows) < 5
    assert found.flows.sum() == len(part.rows)
    assert (whole.rows[found.at_first] == part.rows[found.at_second]).all()


def test_fewer_than_twelve_nearest_are_counted_as_many_as_there_are(chain: Callable[..., Results]) -> None:
    texts = ["frost peas", "frost beans", "slugs leeks", "slugs rain", "dust"]
    first = seen(chain(texts, terms={"least-documents": 1, "words": [1, 1]}))
    # The same but for one neighbour: what is not there is not the same.
    row = first.neighbours.row.copy()
    row[0, 0], row[1, 0] = -1, 4
    other = dataclasses.replace(first, neighbours=dataclasses.replace(first.neighbours, row=row))
    found = two_lenses(first, other)
    assert (first.neighbours.row[0] >= 0).sum() == 1
    assert found.kept.tolist() == [0, 0, 1, 1, 1]


def test_nothing_in_common_gives_no_figures(chain: Callable[..., Results], tmp_path: Path) -> None:
    texts = ["frost peas", "frost beans", "slugs peas", "slugs beans"]
    one = seen(
        chain(
            texts, gather={"from": str(tmp_path), "holding": "frost"}, terms={"least-documents": 1}, group={"groups": 1}
        )
    )
    other = seen(
        chain(
            texts, gather={"from": str(tmp_path), "holding": "slugs"}, terms={"least-documents": 1}, group={"groups": 1}
        )
    )
    found = two_lenses(one, other)
    assert len(found.rows) == 0
    assert np.isnan(found.mean_kept)
    assert np.isnan(found.adjusted_rand)
    assert np.isnan(found.apart)


@given(
    arrays(np.float64, (7, 2), elements=st.floats(-5, 5, width=32)),
    st.floats(0, 6.28),
    st.floats(0.1, 9),
    st.booleans(),
)
def test_any_turn_mirror_and_scale_is_found(points: Any, angle: float, scale: float, mirrored: bool) -> None:
    if np.linalg.matrix_rank(points - points.mean(axis=0), tol=0.1) < 2:
        return
    turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    if mirrored:
        turn = turn @ np.diag([1, -1])
    at = np.arange(7)
    found = matched(points, points @ turn * scale + 3, at, at)
    assert np.allclose(found.positions, points, atol=1e-6)
    assert found.apart == pytest.approx(0, abs=1e-6)


def test_no_other_turn_fits_better() -> None:
    rng = np.random.default_rng(3)
    first, second = rng.random((20, 2)), rng.random((20, 2))
    second[3] = np.nan
    found = matched(first, second, np.arange(20), np.arange(20))
    there = ~np.isnan(second[:, 0])
    own, target = second[there], first[there]

    def left(angle: float, mirror: int, scale: float) -> float:
        turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]]) @ np.diag([1, mirror])
        laid = (own - own.mean(axis=0)) @ turn * scale + target.mean(axis=0)
        return float(((laid - target) ** 2).sum())

    best = min(left(a, m, s) for a in np.linspace(0, 2 * np.pi, 120) for m in (1, -1) for s in np.linspace(0, 1, 60))
    own_left = float(((found.positions[there] - target) ** 2).sum())
    assert own_left <= best + 1e-9
    assert own_left == pytest.approx(best, rel=0.02)
    assert found.apart == pytest.approx(np.sqrt(own_left / ((target - target.mean(axis=0)) ** 2).sum()))


def test_terms_come_and_go_by_their_share(chain: Callable[..., Results]) -> None:
    texts = ["late frost took peas", "late frost took beans", "slugs took peas"]
    every = {"least-documents": 1, "most-share": 1.0}
    first = chain(texts, terms={**every, "words": [1, 1]}, weigh={"local": "presence", "global": "none"})
    second = chain(texts, terms={**every, "words": [2, 2]}, weigh={"local": "presence", "global": "none"})
    found = term_shift(first[SPACE], 0, second[SPACE], 0)
    share = dict(zip(found.terms, zip(found.before.tolist(), found.after.tolist(), strict=True), strict=True))
    assert share["frost"][0] == pytest.approx(1 / 4)
    assert share["frost"][1] == 0
    assert share["late frost"] == pytest.approx((0, 1 / 3))
    assert found.before.sum() == pytest.approx(1)
    assert found.after.sum() == pytest.approx(1)
    change = found.after - found.before
    assert (np.diff(change) <= 1e-12).all()


def test_chance_is_what_the_same_groups_reach_in_other_orders(demo_results: Results) -> None:
    one = seen(demo_results)
    group = one.grouping.group
    rng = np.random.default_rng(4)
    mixed = np.where(rng.random(len(group)) < 0.85, rng.permutation(group), group)
    weakly = dataclasses.replace(one, grouping=dataclasses.replace(one.grouping, group=mixed))
    found = two_lenses(one, weakly)
    assert 0 < found.by_chance < found.adjusted_rand < 0.1  # little, but five times what any order gives
    assert "little in common" in agreeing(found)
    by_chance = dataclasses.replace(one, grouping=dataclasses.replace(one.grouping, group=rng.permutation(group)))
    assert (
        "no more than by chance" in agreeing(two_lenses(one, by_chance)) or two_lenses(one, by_chance).by_chance < 0.02
    )
    same = two_lenses(one, one)
    assert "both come from the label crop" in agreeing(same, "crop")
    assert two_lenses(one, one).by_chance == same.by_chance
