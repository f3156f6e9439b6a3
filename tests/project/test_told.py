"""Slips that once went unnoticed: what is told of lenses, sources and results."""

from __future__ import annotations

import dataclasses
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest

from conftest import corpus_of
from jagged_lens.contrast import Scale, periods
from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import NO_DATE, Page, Source
from jagged_lens.group.agreement import mean_of_tries
from jagged_lens.lens import ALWAYS, DISTRIBUTION, TOKENS, Done, Failed, Finished, Job, Recipe, Results, cached
from jagged_lens.project import Bench, LensState, ProjectFile, ProjectState, create
from jagged_lens.project.profile import share_through
from jagged_lens.project.refreshed import compared
from jagged_lens.project.second import Second
from jagged_lens.strings import Strings


class Nobody:
    """A worker that never answers."""

    process_id = 0
    connection = SimpleNamespace(fileno=lambda: 0)

    def ask(self, *_: Any) -> int:
        return 1

    def reorder(self, *_: Any) -> None: ...
    def stop(self) -> None: ...


def test_another_title_is_a_change() -> None:
    before = corpus_of("slugs", "frost")
    after = dataclasses.replace(before, titles=Strings.of(["other", before.titles[1]]))
    assert compared(before, after, ()).changed == (before.keys[0],)
    assert compared(before, before, ()).nothing


def test_the_share_of_clean_is_that_of_the_words_kept(demo_results: dict[str, Any]) -> None:
    results = Results()
    results[TOKENS] = demo_results["tokens"]
    first, *_, last = demo_results["tokens"].account
    assert share_through("clean", results) == pytest.approx(last.left / first.left)
    assert 0.3 < last.left / first.left < 0.9
    assert share_through("map", results) == 0


def test_a_second_lens_in_which_something_failed_is_not_ready() -> None:
    job = Job(Recipe(), Path("/"))
    second = Second(Nobody(), lambda _: job, lambda: None, lambda: True)  # type: ignore[arg-type]
    second.choose("two")
    number = second.ask()
    for part in ALWAYS:
        second.hear(Done(number, part.name, "key", 0.1, object()))
    second.hear(Failed(number, "cross", JaggedLensError("there is no label")))
    second.hear(Finished(number, False, 0))
    assert not second.ready
    assert second.error is not None
    second.again()
    second.ask()
    for part in ALWAYS:
        second.hear(Done(number, part.name, "key", 0.1, object()))
    second.hear(Finished(number, False, 0))
    assert second.ready


def test_what_is_on_its_way_when_all_is_stopped_is_given_up_until_it_is_wanted_again() -> None:
    bench = Bench(ProjectState((LensState("one", Recipe()),), 0, Path("/")), Nobody())  # type: ignore[arg-type]
    bench.compute()
    bench.look_at("face", (DISTRIBUTION,))
    bench._computing.settle(True)
    assert bench.declined(DISTRIBUTION)
    assert DISTRIBUTION not in bench.order
    bench.demand(DISTRIBUTION)
    assert DISTRIBUTION in bench.order


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
