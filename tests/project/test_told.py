# SPDX-License-Identifier: GPL-3.0-or-later
"""Slips that once went unnoticed: what is told of lenses, sources and results."""

from __future__ import annotations

import dataclasses
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from conftest import corpus_of
from jagged_lens.contrast import Scale, periods
from jagged_lens.gather import NO_DATE, Page, Source
from jagged_lens.group.agreement import mean_of_tries
from jagged_lens.lens import (
    TOKENS,
    ResultsSoFar,
    cached,
)
from jagged_lens.project import ProjectFile, create
from jagged_lens.project.profile import share_through
from jagged_lens.project.refreshed import compared
from jagged_lens.strings import Strings


def test_another_title_is_a_change() -> None:
    before = corpus_of("slugs", "frost")
    after = dataclasses.replace(before, titles=Strings.of(["other", before.titles[1]]))
    assert compared(before, after, ()).changed == (before.keys[0],)
    assert compared(before, before, ()).nothing


def test_the_share_of_clean_is_that_of_the_words_kept(demo_results: dict[str, Any]) -> None:
    results = ResultsSoFar()
    results[TOKENS] = demo_results["tokens"]
    first, *_, last = demo_results["tokens"].account
    assert share_through("clean", results) == pytest.approx(last.left / first.left)
    assert 0.3 < last.left / first.left < 0.9
    assert share_through("map", results) == 0


def test_pruning_gives_up_the_pages_of_snapshots_that_go(tmp_path: Path) -> None:
    create(tmp_path / "p.jagged")
    file = ProjectFile(tmp_path / "p.jagged")
    pages = [Page(f"http://{name}", f"http://{name}", 200, "text/html", 3, "", "2026-01-01") for name in ("old", "new")]
    for page in pages:
        file.keep_page(page, b"one")
        file.keep_documents(
            page.address, Source(links=page.address), dataclasses.replace(corpus_of("a text"), pages=(page,))
        )
    assert file.prune({"http://new"})
    assert file.page("http://old") is None
    assert file.page("http://new") is not None


def test_a_cached_pair_has_its_first_document_first(demo_results: dict[str, Any]) -> None:
    pairs = demo_results["pairs"]
    shape = demo_results["space"].weights.shape
    assert cached.unpacked("pairs", cached.packed(pairs), shape) is not None
    turned = dataclasses.replace(pairs, first=pairs.second, second=pairs.first)
    assert cached.unpacked("pairs", cached.packed(turned), shape) is None
    same = dataclasses.replace(pairs, second=pairs.first)
    assert cached.unpacked("pairs", cached.packed(same), shape) is None


def test_a_try_in_which_no_member_of_a_group_was_drawn_does_not_count() -> None:
    overlaps = np.array([[0.5, np.nan, np.nan], [1.0, 0.4, np.nan]])
    assert mean_of_tries(overlaps).tolist()[:2] == [0.75, 0.4]
    assert np.isnan(mean_of_tries(overlaps)[2])


@pytest.mark.parametrize(("days", "first"), [(40, "2026-01-01"), (41, "2026-01")])
def test_forty_periods_are_the_most(days: int, first: str) -> None:
    begin = int(np.datetime64("2026-01-01", "D").astype(int))
    scale = Scale("day", "date", np.array([begin, begin + days - 1], float))
    found = periods(scale)
    assert found.names[0] == first
    assert len(found.names) <= 40
    assert begin > NO_DATE
