# SPDX-License-Identifier: GPL-3.0-or-later
"""New documents in a lens that stays as it is, against brute force, and with the late notes of the demo."""

import csv
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from conftest import corpus_of
from jagged_lens.clean import Known
from jagged_lens.compare import Kind
from jagged_lens.lens import CORPUS, GROUPING, LAYOUT, LENS_ROWS, SPACE, THEMES, TOKENS, Results, recipe_of
from jagged_lens.place import Lens, Placed, placed


def in_lens(results: Results, new: list[str], **sections: dict[str, Any]) -> Placed:
    recipe = recipe_of(sections)
    lens = Lens(
        results[CORPUS].texts.take(results[LENS_ROWS]),
        results[SPACE],
        results[THEMES],
        results[GROUPING],
        results[LAYOUT].positions,
        recipe.compare.measure,
        Known.of(results[TOKENS]),
    )
    return placed(corpus_of(*new), lens, recipe.clean, recipe.terms, recipe.weigh, Path("/"))


def shingled(text: str) -> tuple[list[str], set[tuple[str, ...]]]:
    words = text.lower().replace(".", " ").replace(",", " ").split()
    return words, {tuple(words[at : at + 4]) for at in range(max(len(words) - 3, 1))} if words else set()


def kind_of(one: str, other: str) -> Kind:
    (words, a), (others, b) = shingled(one), shingled(other)
    if words == others and words:
        return Kind.SAME
    if a < b or b < a:
        return Kind.HOLDS
    if len(a & b) / max(len(a | b), 1) >= 0.4:
        return Kind.EDITED
    return Kind.HOLDS if len(a & b) / max(min(len(a), len(b)), 1) >= 0.8 else Kind.SUBJECT


def notes() -> list[str]:
    from jagged_lens.demo import demo_recipe

    with (demo_recipe().parent / "notes.csv").open(encoding="utf-8", newline="") as file:
        return [row["note"].replace("’", "'").replace("\n", " ") for row in csv.DictReader(file)][:160]


@pytest.mark.parametrize(
    "sections",
    [
        {},
        {"weigh": {"themes": 12}},
        {"compare": {"measure": "euclidean"}},
        {"compare": {"measure": "hellinger"}, "terms": {"words": [1, 1]}},
        {"group": {"by": "tree", "linkage": "ward"}, "clean": {"word-form": "written"}},
    ],
)
def test_half_a_collection_in_a_lens_of_the_other_half_is_brute_force(
    chain: Callable[..., Results], sections: Any
) -> None:
    old, new = notes()[::2], [*notes()[1::2], "", "zzz qqq"]
    new[3] = old[5]
    new[4] = " ".join(old[6].split()[:-9]) + " and so on it went."
    new[5] = " ".join(old[8].split()[:25])
    settings = {**sections, "map": {"by": "pca"}}
    results = chain(old, **settings)
    found = in_lens(results, new, **settings)
    recipe = recipe_of(settings)
    # Weights by brute force: the lens's own terms and weights, each new text counted with the lens's column names.
    space = results[SPACE]
    x, y = space.weights.toarray().astype(float), found.through.weights.toarray().astype(float)
    if recipe.weigh.themes:
        v = results[THEMES].terms.astype(float)
        x, y = x @ v, y @ v
    a, b = np.linalg.norm(x, axis=1, keepdims=True), np.linalg.norm(y, axis=1, keepdims=True)
    ux, uy = x / np.where(a > 0, a, 1), y / np.where(b > 0, b, 1)
    if recipe.compare.measure == "euclidean":
        alike = 1 / (1 + np.linalg.norm(y[:, None] - x[None], axis=2))
    elif recipe.compare.measure == "hellinger":
        p, q = (
            c.toarray() / np.maximum(c.toarray().sum(axis=1, keepdims=True), 1)
            for c in (found.through.counts, space.terms.counts)
        )
        alike = np.sqrt(p) @ np.sqrt(q).T
    else:
        alike = uy @ ux.T
    alike[b[:, 0] == 0] = 0
    cosines = uy @ results[GROUPING].centroids.toarray().astype(float).T
    for row in range(len(new)):
        best = np.sort(alike[row])[::-1][:10]
        assert found.nearest.similarity[row] == pytest.approx(np.where(best > 1e-12, best, 0), abs=1e-6)
        if not b[row, 0]:
            assert found.group[row] == -1
            assert np.isnan(found.positions[row]).all()
            continue
        assert alike[row, found.nearest.row[row, 0]] == pytest.approx(best[0], abs=1e-6)
        assert cosines[row, found.group[row]] == pytest.approx(cosines[row].max(), abs=1e-6)
        assert found.closeness[row] == pytest.approx(cosines[row].max(), abs=1e-6)
        assert found.kind[row] == kind_of(new[row], old[found.nearest.row[row, 0]])
        near = found.nearest.row[row][found.nearest.row[row] >= 0]
        weight = found.nearest.similarity[row][: len(near)]
        expected = (results[LAYOUT].positions[near] * weight[:, None]).sum(axis=0) / weight.sum()
        assert found.positions[row] == pytest.approx(expected, rel=1e-4, abs=1e-5)
        copies = [at for at, text in enumerate(old) if kind_of(new[row], text) != Kind.SUBJECT]
        assert (found.copy_of[row] in copies) if copies else found.copy_of[row] == -1
    assert found.copy_of[3] == 5
    assert found.copy_kind[3] == Kind.SAME
    assert found.copy_of[4:6].tolist() == [6, 8]


def test_the_lens_stays_as_it_is_and_unknown_words_are_told(chain: Callable[..., Results]) -> None:
    texts = ["late frost took peas", "late frost took beans", "slugs took peas", "slugs and rain on beans"]
    every = {"least-documents": 1, "most-share": 1.0}
    english = {"language": "en"}
    results = chain(texts, terms=every, clean=english)
    before = results[SPACE].weights.toarray().copy()
    found = in_lens(results, ["late frost on dahlias", "dahlias", "late frost took peas"], terms=every, clean=english)
    assert (results[SPACE].weights.toarray() == before).all()
    assert found.through.words.tolist() == [3, 1, 4]
    assert found.through.unknown.tolist() == [1, 1, 0]
    assert found.nearest.row[2, 0] == 0
    assert found.nearest.similarity[2, 0] == pytest.approx(1)
    assert found.group[1] == -1


def test_a_document_of_terms_without_weight_is_in_no_group(chain: Callable[..., Results]) -> None:
    texts = ["frost peas late", "frost beans late", "frost leeks soon"]
    every = {"least-documents": 1, "most-share": 1.0, "words": [1, 1]}
    results = chain(texts, terms=every)
    found = in_lens(results, ["frost", "frost peas"], terms=every)  # frost stands in all: its idf is 0
    assert found.through.counts.toarray().sum(axis=1).tolist() == [1, 2]
    assert found.group[0] == -1
    assert found.group[1] >= 0
    assert found.through.unknown.tolist() == [0, 0]
    assert (found.nearest.row[0] == -1).all()
    assert (found.through.weights.data != 0).all()


def test_lines_that_recur_in_the_lens_are_taken_out_of_new_documents(chain: Callable[..., Results]) -> None:
    footer = "\nBring the envelope back"
    texts = [f"{words}{footer}" for words in ("late frost peas", "late frost beans", "slugs peas", "slugs rain beans")]
    settings = {
        "clean": {"take-out": ["recurring-lines"], "recurring-from": 3.0},
        "terms": {"least-documents": 1, "most-share": 1.0},
    }
    results = chain(texts, **settings)
    found = in_lens(results, ["frost beans" + footer, "frost beans\nanother line"], **settings)
    assert found.through.words.tolist() == [2, 3]
    assert found.through.unknown.tolist() == [0, 1]


def test_of_several_copies_the_one_that_resembles_most_is_named(chain: Callable[..., Results]) -> None:
    words = [f"w{chr(97 + at // 26)}{chr(97 + at % 26)}" for at in range(60)]
    near, far = list(words), list(words)
    near[30] = "other"
    far[10] = far[25] = far[45] = "other"
    results = chain(
        [" ".join(far), " ".join(near), " ".join(words[:9])], terms={"least-documents": 1, "most-share": 1.0}
    )
    new = [" ".join(words), " ".join(far), " ".join([*words[:9], "more"])]
    found = in_lens(results, new, terms={"least-documents": 1, "most-share": 1.0})
    assert found.copy_of.tolist() == [1, 0, 2]  # the same comes first, then what resembles it most
    assert found.copy_kind.tolist() == [Kind.EDITED, Kind.SAME, Kind.HOLDS]


def test_nothing_new_and_nothing_old(chain: Callable[..., Results]) -> None:
    results = chain(["late frost", "late slugs", "late rain"], terms={"least-documents": 1})
    assert len(in_lens(results, [], terms={"least-documents": 1})) == 0
    none = Placed.none(7)
    assert len(none) == 0
    assert none.through.weights.shape == (0, 7)
