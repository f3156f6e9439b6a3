# SPDX-License-Identifier: GPL-3.0-or-later
"""A typed text taken through a lens weighs what it would as a document of it."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from jagged_lens.clean import Known
from jagged_lens.compare import one_against_all
from jagged_lens.lens import SPACE, THEMES, TOKENS, Results, recipe_of
from jagged_lens.place import Typed, taken_through
from jagged_lens.weigh import in_themes

TEXTS = [
    "Slugs took the beans overnight, slugs again.",
    "The beans were late and the frost took them.",
    "Blight on the tomatoes after rain.",
    "Rain, rain and slugs on the lettuce.",
    "Frost on the lettuce, late frost.",
]


def typed(results: Results, text: str, **sections: dict[str, Any]) -> Typed:
    recipe = recipe_of({**sections})
    return taken_through(
        text,
        results[SPACE],
        results[THEMES],
        recipe.clean,
        recipe.terms,
        recipe.weigh,
        Path("/"),
        Known.of(results[TOKENS]),
    )


@pytest.mark.parametrize(
    "sections",
    [
        {},
        {"terms": {"words": [1, 2], "least-documents": 1}},
        {"weigh": {"local": "share", "global": "entropy", "length": "L1"}, "terms": {"least-documents": 1}},
        {"clean": {"tokens": "characters"}, "terms": {"words": [3, 4], "least-documents": 1}},
        {"terms": {"columns": 16, "least-documents": 1}},
    ],
)
def test_a_document_of_the_lens_typed_again_is_the_same_row(chain: Callable[..., Results], sections: Any) -> None:
    results = chain(TEXTS, **sections)
    weights = results[SPACE].weights.toarray()
    for row, text in enumerate(TEXTS):
        found = typed(results, text, **sections)
        assert found.row == len(TEXTS)
        assert found.space.weights.toarray()[-1] == pytest.approx(weights[row], abs=1e-7)
        assert found.space.terms.counts.toarray()[-1].tolist() == results[SPACE].terms.counts.toarray()[row].tolist()


def test_unknown_words_are_told_and_left_out(chain: Callable[..., Results]) -> None:
    results = chain(TEXTS, terms={"least-documents": 1}, clean={"language": "en"})
    found = typed(
        results, "Slugs and hailstones on the dahlias", terms={"least-documents": 1}, clean={"language": "en"}
    )
    assert found.unknown == ("hailstones", "dahlias")
    assert found.unknown_share == pytest.approx(2 / 3)
    assert found.words == 3
    likeness = one_against_all(found.space, "cosine", found.row)[:-1]
    assert likeness.argmax() in (0, 3)
    nothing = typed(results, "hailstones", terms={"least-documents": 1}, clean={"language": "en"})
    assert nothing.unknown_share == 1
    assert nothing.space.empty[-1]
    assert np.isnan(one_against_all(nothing.space, "cosine", nothing.row)).all()
    assert typed(results, "").words == 0


def test_in_themes_it_lies_where_the_document_lies(chain: Callable[..., Results]) -> None:
    sections = {"terms": {"least-documents": 1}, "weigh": {"themes": 2}}
    results = chain(TEXTS, **sections)
    found = typed(results, TEXTS[3], **sections)
    rows = in_themes(found.space, found.themes).weights.toarray()
    assert rows[-1] == pytest.approx(rows[3], abs=1e-5)


def test_unknown_words_are_told_as_they_are_written(chain: Callable[..., Results]) -> None:
    results = chain(TEXTS, terms={"least-documents": 1}, clean={"language": "en", "word-form": "stem"})
    found = typed(results, "Slugs liked the Geraniums", clean={"language": "en", "word-form": "stem"})
    assert set(found.unknown) >= {"Geraniums"}
    assert not any(word in ("geranium", "like") for word in found.unknown)
