# SPDX-License-Identifier: GPL-3.0-or-later
"""The steps on vectors from a file: the same figures as on the same vectors that were learned, with explanations that claim no more."""

from __future__ import annotations

import dataclasses
from pathlib import Path

import numpy as np
import pytest

from conftest import Silent, with_components
from jagged_lens.clean import Known
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import JaggedLensError
from jagged_lens.explain import contributions, membership, nearest_sentences
from jagged_lens.gather import Source
from jagged_lens.lens import (
    ARRIVALS,
    CORPUS,
    GIVEN,
    GROUPING,
    NEIGHBOURS,
    PAIRS,
    PLACED,
    QUALITY,
    SPACE,
    SUGGESTIONS,
    THEMES,
    TOKENS,
    Job,
    Recent,
    Results,
    compute,
    read_recipe,
    with_needs,
)
from jagged_lens.place import evidence, taken_through, terms_for
from jagged_lens.project import ENDING, ProjectFile, create, opened

HERE = demo_recipe().parent


def computed(job: Job, *parts: object) -> Results:
    wanted = with_needs(parts)  # type: ignore[arg-type]
    return compute(job, Recent(), Silent(), lambda: wanted)


@pytest.fixture(scope="module")
def learned() -> Results:
    recipe = with_components(opened(demo_recipe())).recipe.with_setting("weigh", "vectors", "learned")
    return computed(Job(recipe, HERE), PAIRS, NEIGHBOURS, GROUPING)


@pytest.fixture(scope="module")
def file(learned: Results, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The learned vectors of the notes, and one for each late note but the last: those of two notes."""
    path = tmp_path_factory.mktemp("vectors") / "v.npz"
    late = computed(Job(read_recipe(demo_recipe()), HERE, placing=(Source(file="late"),)), ARRIVALS)[ARRIVALS]
    vectors = learned[THEMES].documents
    keys = [*learned[CORPUS].keys, *list(late.keys)[:-1]]
    new = vectors[np.arange(len(late) - 1) % 2]
    np.savez(path, keys=np.array(keys), vectors=np.concatenate((vectors, new)))
    return path


@pytest.fixture(scope="module")
def job(file: Path) -> Job:
    state = with_components(opened(demo_recipe()))
    recipe = state.recipe.with_setting("weigh", "vectors", str(file)).with_setting("suggest", "label", "crop")
    return Job(recipe, HERE, placing=(Source(file="late"),))


@pytest.fixture(scope="module")
def given(job: Job) -> Results:
    return computed(job, PAIRS, NEIGHBOURS, GROUPING, QUALITY, SUGGESTIONS, PLACED)


def test_pairs_neighbours_and_groups_are_those_of_the_same_vectors(learned: Results, given: Results) -> None:
    assert given[THEMES].by == "file"
    for part in (PAIRS, NEIGHBOURS, GROUPING):
        for field in dataclasses.fields(learned[part]):
            one, other = getattr(learned[part], field.name), getattr(given[part], field.name)
            if isinstance(one, np.ndarray):
                np.testing.assert_array_equal(one, other, err_msg=f"{part.name}.{field.name}")
    assert given[GIVEN].lacking == 2
    assert len(given[GIVEN].unmatched) == 49


def test_explanations_of_given_vectors_add_up_to_nothing_that_they_do_not_say(given: Results, job: Job) -> None:
    space, themes, pairs, tokens = given[SPACE], given[THEMES], given[PAIRS], given[TOKENS]
    first, second = int(pairs.first[-1]), int(pairs.second[-1])
    parts = contributions(space, "cosine", first, second, themes)
    assert parts.given
    assert parts.similarity == pytest.approx(float(pairs.similarity[-1]), abs=1e-6)
    assert parts.total == pytest.approx(contributions(space, "cosine", first, second).total)
    quality = given[QUALITY]
    row = int(np.flatnonzero(given[GROUPING].group == 2)[0])
    why = membership(space, given[GROUPING], row, 2, int(quality.next[row]), themes)
    assert why.given
    assert why.closeness == pytest.approx(float(given[GROUPING].closeness[row]), abs=1e-5)
    corpus, rows, recipe = given[CORPUS], space.terms.rows, job.recipe
    texts = (corpus.texts[int(rows[first])], corpus.texts[int(rows[second])])
    near = nearest_sentences(
        texts, space, themes, (recipe.clean, recipe.terms, recipe.weigh), HERE, Known.of(tokens), 3
    )
    assert [one.similarity for one in near] == sorted((one.similarity for one in near), reverse=True)
    assert len({one.first for one in near}) == len(near)
    for one in near:
        assert texts[0][slice(*one.first)].strip() == texts[0][slice(*one.first)]


def test_a_label_is_learned_and_its_lead_is_that_of_the_vector(given: Results) -> None:
    found, themes = given[SUGGESTIONS], given[THEMES]
    assert (found.suggested[found.given >= 0] == found.given[found.given >= 0]).mean() > 0.85
    row = int(np.flatnonzero(found.probability > 0)[3])
    first, second = int(found.suggested[row]), int(found.second[row])
    told = evidence(found, given[SPACE], themes, row, first, second)
    unit = themes.documents[row].astype(float) / np.linalg.norm(themes.documents[row])
    scores = unit @ found.weights.astype(float) + found.intercepts
    assert told.lead == pytest.approx(scores[first] - scores[second], abs=1e-5)
    assert not len(told.values)
    assert terms_for(found, themes)[0].shape[1] == 0


def test_new_documents_are_placed_by_their_keys(given: Results) -> None:
    placed = given[PLACED]
    assert placed.nearest.similarity[:-1, 0] == pytest.approx(1, abs=1e-5)
    assert set(placed.nearest.row[:-1, 0].tolist()) <= {
        0,
        1,
        *np.flatnonzero(given[NEIGHBOURS].similarity[:, 0] > 0.999),
    }
    assert placed.group[-1] == -1
    assert np.isnan(placed.positions[-1]).all()


def test_a_typed_text_is_compared_by_terms_and_says_so(given: Results, job: Job) -> None:
    recipe = job.recipe
    typed = taken_through(
        "slugs in the lettuce", given[SPACE], given[THEMES], recipe.clean, recipe.terms, recipe.weigh, HERE
    )
    assert typed.by_terms
    assert not len(typed.themes)
    vector = given[THEMES].documents[7]
    typed = taken_through(
        "slugs", given[SPACE], given[THEMES], recipe.clean, recipe.terms, recipe.weigh, HERE, vector=vector
    )
    assert not typed.by_terms
    np.testing.assert_array_equal(typed.themes.documents[-1], vector)


def test_the_project_keeps_the_vectors_when_the_file_is_gone(file: Path, job: Job, tmp_path: Path) -> None:
    path = tmp_path / f"p{ENDING}"
    create(path)
    moved = tmp_path / "v.npz"
    moved.write_bytes(file.read_bytes())
    recipe = job.recipe.with_setting("weigh", "vectors", str(moved))
    kept = Job(recipe, HERE, store=ProjectFile(path))
    before = computed(kept, GIVEN)[GIVEN]
    moved.unlink()
    ProjectFile(path).verify()
    after = computed(kept, GIVEN)[GIVEN]
    assert before.vectors.tobytes() == after.vectors.tobytes()
    assert list(before.unmatched) == list(after.unmatched)
    with pytest.raises(JaggedLensError, match="cannot be read"):
        computed(dataclasses.replace(kept, store=None), GIVEN)


def test_a_file_of_other_documents_says_so(job: Job, tmp_path: Path) -> None:
    np.savez(tmp_path / "v.npz", keys=np.array(["x", "y"]), vectors=np.eye(2))
    recipe = job.recipe.with_setting("weigh", "vectors", str(tmp_path / "v.npz"))
    with pytest.raises(JaggedLensError, match="none of the 640 documents has a vector"):
        computed(Job(recipe, HERE), GIVEN)
