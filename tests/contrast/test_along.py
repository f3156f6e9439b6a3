# SPDX-License-Identifier: GPL-3.0-or-later
"""Along a number or a date: rank sums against SciPy, correction by hand, parts, scales and periods."""

import dataclasses

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.sparse import csr_array
from scipy.stats import false_discovery_control, mannwhitneyu

from conftest import corpus_of
from jagged_lens.contrast import Columns, Scale, along, corrected, periods, rank_sums, scale_of, scales_of
from jagged_lens.gather import NO_DATE, Corpus, Number


def test_rank_sums_are_those_of_the_textbook_test() -> None:
    rng = np.random.default_rng(2)
    values = rng.integers(0, 9, 80).astype(float)  # many ties
    present = rng.random((80, 6)) < np.linspace(0.05, 0.6, 6)
    present[:, 2] = values > 5
    found = rank_sums(values, csr_array(present.astype(np.int32)))
    for at in range(6):
        inside, outside = values[present[:, at]], values[~present[:, at]]
        test = mannwhitneyu(inside, outside, use_continuity=False, method="asymptotic")
        assert found.superiority[at] == pytest.approx(test.statistic / (len(inside) * len(outside)))
        assert found.p[at] == pytest.approx(test.pvalue, rel=1e-9)


def test_a_set_of_nothing_or_all_says_nothing() -> None:
    found = rank_sums(np.array([1.0, 2, 3]), csr_array(np.array([[1, 0, 1], [1, 0, 0], [1, 0, 0]])))
    assert found.superiority.tolist() == [0.5, 0.5, 0.0]
    assert found.p[:2].tolist() == [1, 1]
    same = rank_sums(np.full(4, 2.0), csr_array(np.array([[1], [1], [0], [0]])))
    assert same.superiority.tolist() == [0.5]
    assert same.p.tolist() == [1]


@given(st.lists(st.floats(0, 1), min_size=1, max_size=30))
def test_many_tests_are_corrected_as_scipy_does(p: list[float]) -> None:
    assert corrected(np.array(p)) == pytest.approx(false_discovery_control(p))


def test_five_parts_hold_equally_many_and_equal_values_stay_together() -> None:
    values = np.array([1.0, 2, 3, 4, 5, 6, 7, 8, 9, 10, np.nan])
    counts = csr_array(np.array([[1, 0]] * 2 + [[0, 1]] * 7 + [[1, 1]] + [[1, 1]]))
    found = along(counts, values)
    assert found.sizes.tolist() == [2, 2, 2, 2, 2]
    assert found.edges.tolist() == [[1, 2], [3, 4], [5, 6], [7, 8], [9, 10]]
    assert found.documents.tolist() == [3, 8]
    assert found.shares[0].tolist() == [1, 0, 0, 0, 0.5]
    assert found.superiority[0] == pytest.approx((0 + 0 + 7) / (3 * 7))
    tied = along(csr_array(np.ones((6, 1))), np.array([1.0, 1, 1, 1, 2, 2]))
    assert sorted(tied.sizes.tolist(), reverse=True)[:2] == [4, 2]
    seven = along(csr_array(np.ones((7, 1))), np.arange(7.0))
    assert seven.sizes.tolist() == [1, 2, 1, 2, 1]  # the same from either end
    nothing = along(counts, np.full(11, np.nan))
    assert nothing.documents.sum() == 0
    assert not np.isnan(nothing.shares).any()


def columns(corpus: Corpus) -> Columns:
    return Columns.of(corpus, corpus.labels, np.arange(len(corpus)))


def test_labels_that_are_numbers_are_scales() -> None:
    corpus = columns(
        corpus_of(
            *"abcd",
            labels={
                "year": ["year 2", "year 10", "year 2", ""],
                "crop": ["bean", "pea", "bean", "leek"],
                "plain": ["1998", "1999", "2001", "2001"],
                "mixed": ["plot 3", "bed 4", "plot 5", "plot 6"],
                "one": ["5", "5", "5", "5"],
            },
        )
    )
    assert scales_of(corpus) == ["year", "plain"]
    found = scale_of(corpus, "year")
    assert found is not None
    assert found.values[:3].tolist() == [2, 10, 2]
    assert np.isnan(found.values[3])
    assert scale_of(corpus, "crop") is None
    assert scale_of(corpus, "date") is None


def test_dates_and_columns_of_numbers_are_scales() -> None:
    corpus = columns(
        dataclasses.replace(
            corpus_of("a", "b"),
            dates=np.array([10, NO_DATE], np.int32),
            numbers=(Number("weight", np.array([np.nan, 2.5])), Number("none", np.full(2, np.nan))),
        )
    )
    assert scales_of(corpus) == ["date", "weight"]
    date = scale_of(corpus, "date")
    assert date is not None
    assert date.kind == "date"
    assert date.values[0] == 10
    assert np.isnan(date.values[1])


def days(*dates: str) -> Scale:
    values = np.array([np.datetime64(one, "D").astype(int) if one else np.nan for one in dates], float)
    return Scale("date", "date", values)


@pytest.mark.parametrize(
    ("dates", "names", "of"),
    [
        (("2021-03-01", "2021-03-03", ""), ["2021-03-01", "2021-03-02", "2021-03-03"], [0, 2, -1]),
        (("2021-01-15", "2021-03-31"), ["2021-01", "2021-02", "2021-03"], [0, 2]),
        (("2010-02-01", "2019-12-31"), ["2010 Jan–Mar"], [0, 39]),
        (("2001-06-01", "2030-06-01"), ["2001"], [0, 29]),
        (("1900-06-01", "2019-06-01"), ["1900–1902"], [0, 39]),
    ],
)
def test_periods_of_dates_are_as_short_as_forty_allow(dates: tuple[str, ...], names: list[str], of: list[int]) -> None:
    found = periods(days(*dates))
    assert list(found.names[: len(names)]) == names
    assert found.of.tolist() == of
    assert len(found.names) <= 40
    assert found.sizes.sum() == sum(map(bool, dates))


def test_periods_of_numbers() -> None:
    whole = periods(Scale("year", "number", np.array([3.0, 5, np.nan, 5])))
    assert whole.names == ("3", "4", "5")
    assert whole.sizes.tolist() == [1, 0, 2]
    assert whole.counted(np.array([False, True, True, True])).tolist() == [0, 0, 2]
    broken = periods(Scale("x", "number", np.linspace(0, 1, 101)))
    assert len(broken.names) == 20
    assert broken.sizes.sum() == 101
    assert broken.of[0] == 0
    assert broken.of[-1] == 19
    assert periods(Scale("x", "number", np.full(3, np.nan))).names == ()


@pytest.mark.parametrize(
    ("values", "of", "names"),
    [
        ([0.5, 0.5, 0.5], [0, 0, 0], ("0.5",)),
        ([2.5, np.nan], [0, -1], ("2.5",)),
        ([1.0, np.inf, 2.0], [0, -1, 1], ("1", "2")),
    ],
)
def test_columns_that_are_all_the_same_or_without_end_have_periods(
    values: list[float], of: list[int], names: tuple[str, ...]
) -> None:
    found = periods(Scale("price", "number", np.array(values)))
    assert (found.of.tolist(), found.names) == (of, names)
