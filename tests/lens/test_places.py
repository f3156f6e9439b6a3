# SPDX-License-Identifier: GPL-3.0-or-later
"""The parts of Place in the graph: what they hang on, what they are computed from, what goes wrong and is told."""

import dataclasses
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from conftest import Silent
from jagged_lens.compare import Kind
from jagged_lens.errors import RecipeError, SourceError, Stopped
from jagged_lens.gather import Source
from jagged_lens.lens import (
    ALWAYS,
    ARRIVALS,
    CORPUS,
    PLACED,
    SPACE,
    SUGGESTIONS,
    THEMES,
    Job,
    Part,
    Recent,
    Results,
    compute,
    keys_of,
    recipe_of,
    with_needs,
)
from jagged_lens.place import Part as Use
from jagged_lens.progress import Progress

TEXTS = [
    ("late frost took the peas on the moor again", "frost"),
    ("slugs ate the lettuce in the wet year", "slugs"),
    ("late frost took the beans and the leeks", "frost"),
    ("slugs ate the beans and then the peas", "slugs"),
    ("frost on the leeks and frost on the beans", "frost"),
    ("slugs and more slugs in the wet lettuce", "slugs"),
]


@pytest.fixture
def job(tmp_path: Path) -> Job:
    lines = [f"{at};{text};{value}" for at, (text, value) in enumerate(TEXTS)]
    (tmp_path / "old.csv").write_text("id;note;trouble\n" + "\n".join(lines) + "\n")
    (tmp_path / "new.txt").write_text("late frost took the peas on the moor again")
    return Job(recipe(), tmp_path, placing=(Source(file="new.txt"),))


def recipe(**sections: dict[str, Any]) -> Any:
    usual = {
        "gather": {"from": "old.csv", "key": "id", "text": ["note"], "labels": ["trouble"]},
        "terms": {"least-documents": 1, "most-share": 1.0},
        "map": {"by": "pca"},
        "group": {"groups": 2},
    }
    return recipe_of({**usual, **sections})


def computed(job: Job, *parts: Part[Any], memory: Recent | None = None, listener: Silent | None = None) -> Results:
    return compute(job, memory or Recent(), listener or Silent(), lambda: with_needs(parts))


def test_the_old_documents_are_not_computed_anew_for_new_ones(job: Job) -> None:
    memory, first = Recent(), Silent()
    computed(job, *ALWAYS, PLACED, memory=memory, listener=first)
    assert "placed" in first.computed
    (job.folder / "more.txt").write_text("slugs everywhere")
    second = Silent()
    more = dataclasses.replace(job, placing=(*job.placing, Source(file="more.txt")))
    results = computed(more, *ALWAYS, PLACED, memory=memory, listener=second)
    assert second.computed == ["arrivals", "placed"]
    assert len(results[PLACED]) == 2


def test_the_place_hangs_on_the_lens_and_the_arrivals_do_not(job: Job) -> None:
    before = keys_of(job).of
    other = keys_of(dataclasses.replace(job, recipe=recipe(group={"groups": 3}))).of
    assert before["arrivals"] == other["arrivals"]
    assert before["placed"] != other["placed"]
    units = keys_of(dataclasses.replace(job, recipe=recipe(gather={"from": "old.csv", "unit": "sentence"}))).of
    assert before["arrivals"] != units["arrivals"]
    assert keys_of(dataclasses.replace(job, placing=())).of["arrivals"] != before["arrivals"]
    for name in ("corpus", "space", "grouping"):
        assert keys_of(dataclasses.replace(job, placing=())).of[name] == before[name]


def test_a_file_that_changes_is_read_again(job: Job) -> None:
    memory = Recent()
    assert computed(job, PLACED, memory=memory)[PLACED].copy_kind.tolist() == [Kind.SAME]
    (job.folder / "new.txt").write_text("hail and rust, nothing else")
    found = computed(job, PLACED, memory=memory)[PLACED]
    assert found.copy_of.tolist() == [-1]


def test_new_documents_come_in_the_units_of_the_lens(job: Job) -> None:
    (job.folder / "new.txt").write_text("Late frost again.\n\nSlugs ate the lettuce.\n\nNothing else.")
    by_paragraph = recipe(
        gather={"from": "old.csv", "key": "id", "text": ["note"], "labels": ["trouble"], "unit": "paragraph"}
    )
    found = computed(dataclasses.replace(job, recipe=by_paragraph), PLACED)[PLACED]
    assert len(found) == 3
    assert found.group[0] != found.group[1]


def test_without_new_documents_there_is_nothing_and_no_harm(job: Job) -> None:
    found = computed(dataclasses.replace(job, placing=()), PLACED, ARRIVALS)
    assert len(found[PLACED]) == len(found[ARRIVALS]) == 0
    assert found[PLACED].through.weights.shape == (0, found[SPACE].weights.shape[1])


def test_what_cannot_be_read_is_named(job: Job) -> None:
    with pytest.raises(SourceError, match=r"gone\.txt"):
        computed(dataclasses.replace(job, placing=(Source(file="gone.txt"),)), PLACED)


def test_several_sources_are_placed_one_after_the_other(job: Job) -> None:
    (job.folder / "table.csv").write_text("a;b\n1;slugs ate the lettuce in the wet year\n2;zzz\n")
    both = (*job.placing, Source(file="table.csv", text=("b",)))
    found = computed(dataclasses.replace(job, placing=both), PLACED)[PLACED]
    assert found.corpus.keys[0] == "new.txt"
    assert found.copy_kind.tolist()[:2] == [Kind.SAME, Kind.SAME]
    assert found.group.tolist()[2] == -1
    assert found.through.unknown.tolist() == [0, 0, 1]


def test_suggestions_hang_on_their_label_alone(job: Job) -> None:
    def key(of: Job) -> str:
        return keys_of(of).of["suggestions"]

    named = dataclasses.replace(job, recipe=recipe(suggest={"label": "trouble"}))
    assert key(named) != key(job)
    own = (("mine", (("1", "yes"),)),)
    assert key(dataclasses.replace(named, own=own)) == key(named)
    mine = dataclasses.replace(job, recipe=recipe(suggest={"label": "mine"}), own=own)
    other = dataclasses.replace(mine, own=(("mine", (("1", "no"),)),))
    assert key(mine) != key(other)
    moved = dataclasses.replace(named, recipe=recipe(suggest={"label": "trouble"}, group={"groups": 3}))
    assert key(moved) == key(named)


def test_a_label_is_learned_on_terms_and_on_themes(job: Job) -> None:
    for sections in ({}, {"weigh": {"themes": 3}}):
        named = dataclasses.replace(job, recipe=recipe(suggest={"label": "trouble", "held-out": 0.34}, **sections))
        results = computed(named, SUGGESTIONS)
        found = results[SUGGESTIONS]
        assert sorted(found.values) == ["frost", "slugs"]
        assert (found.part == Use.HELD_OUT).sum() == 2
        assert found.weights.shape == (len(results[THEMES]) or results[SPACE].weights.shape[1], 2)
        assert found.figures(Use.TRAINING).accuracy == 1


def test_a_label_that_is_not_there_is_named(job: Job) -> None:
    with pytest.raises(RecipeError, match=r'\[suggest\] label: there is no label "weather"'):
        computed(dataclasses.replace(job, recipe=recipe(suggest={"label": "weather"})), SUGGESTIONS)


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"held-out": 0.01}, "0.05 to 0.9"),
        ({"held-out": 1.0}, "0.05 to 0.9"),
        ({"seed": -1}, "seed"),
        ({"labels": "x"}, "label"),
    ],
)
def test_wrong_settings_are_refused_by_name(values: dict[str, Any], words: str) -> None:
    with pytest.raises(RecipeError, match=words):
        recipe(suggest=values)


class _Ends(Silent):
    """Stops the work in the middle of one part."""

    def __init__(self, name: str, after: int) -> None:
        super().__init__()
        self.name, self.left = name, after

    def began(self, part: Part[Any]) -> Progress:
        def told(share: float) -> None:
            if part.name == self.name:
                self.left -= 1
                if self.left < 0:
                    raise Stopped

        return told


@pytest.mark.parametrize("after", [0, 2, 5])
@pytest.mark.parametrize("part", [PLACED, SUGGESTIONS])
def test_both_can_be_stopped_on_their_way(job: Job, part: Part[Any], after: int) -> None:
    named = dataclasses.replace(job, recipe=recipe(suggest={"label": "trouble"}))
    with pytest.raises(Stopped):
        computed(named, part, listener=_Ends(part.name, after))


def test_placing_a_document_of_the_lens_finds_itself(job: Job) -> None:
    for row, (text, _) in enumerate(TEXTS):
        (job.folder / "new.txt").write_text(text)
        results = computed(job, PLACED)
        found = results[PLACED]
        assert found.nearest.row[0, 0] == row
        assert found.nearest.similarity[0, 0] == pytest.approx(1)
        assert found.copy_of.tolist() == [row]
        mine = found.through.weights.toarray()[0]
        assert mine == pytest.approx(results[SPACE].weights.toarray()[row], abs=1e-7)
        assert len(results[CORPUS]) == len(TEXTS)
        assert np.isfinite(found.positions).all()
