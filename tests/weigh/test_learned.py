# SPDX-License-Identifier: GPL-3.0-or-later
"""Learned vectors: worked by hand, planted synonyms, documents as a linear map, the same on any number of threads."""

from __future__ import annotations

import math
import random
import re
from collections import Counter
from pathlib import Path

import numpy as np
import pytest

from conftest import Silent, corpus_of
from jagged_lens.clean import CleanSettings, clean
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import JaggedLensError, RecipeError
from jagged_lens.explain import contributions
from jagged_lens.lens import (
    PAIRS,
    SPACE,
    THEMES,
    WORDS,
    Job,
    Recent,
    Recipe,
    compute,
    read_recipe,
    recipe_of,
    with_needs,
)
from jagged_lens.parallel import set_threads, threads
from jagged_lens.terms import TermIndex, index_of
from jagged_lens.weigh.learned import _contexts, _information, word_vectors

PLAIN = CleanSettings(word_form="written", stop_words=(), language="en")


def index(texts: list[str]) -> TermIndex:
    corpus = corpus_of(*texts)
    tokens = clean(corpus, PLAIN, demo_recipe().parent)
    return index_of(tokens, np.arange(len(texts), dtype=np.int32), bridge=False)


def test_contexts_and_information_worked_by_hand() -> None:
    found = index(["aa bb. aa cc bb", "bb aa"])
    numbers = {word: found.words[word] for word in ("aa", "bb", "cc")}
    place = np.full(len(found.words), -1, np.int64)
    for at, word in enumerate(("aa", "bb", "cc")):
        place[numbers[word]] = at
    counts = _contexts(found, place, 3).toarray()
    # Sentences: aa bb | aa cc bb | bb aa. Pairs: ab, ac, ab, cb, ba.
    assert counts.tolist() == [[0, 3, 1], [3, 0, 1], [1, 1, 0]]
    own, contexts = np.array([4.0, 4.0, 2.0]), np.array([4.0, 4.0, 2.0]) ** 0.75
    got = _information(_contexts(found, place, 3)).toarray()
    assert got[0, 1] == pytest.approx(math.log(3 * contexts.sum() / (own[0] * contexts[1])))
    assert got[2, 0] == pytest.approx(max(0.0, math.log(contexts.sum() / (own[2] * contexts[0]))))


def test_a_word_that_is_replaced_by_another_is_used_alike() -> None:
    path = demo_recipe()
    texts = list(
        compute(Job(read_recipe(path), path.parent), Recent(), Silent(), lambda: with_needs([SPACE]))["corpus"].texts
    )
    words = Counter(word for text in texts for word in re.findall(r"[a-z]{5,}", text.lower()))
    chosen = [word for word, times in words.most_common(160) if times >= 40][::4][:10]
    coin = random.Random(3)
    changed = list(texts)
    for number, word in enumerate(chosen):
        made = f"zzq{chr(97 + number)}x"
        changed = [
            re.sub(
                rf"\b{word}\b",
                lambda match, made=made: made if coin.random() < 0.5 else match[0],
                text,
                flags=re.IGNORECASE,
            )
            for text in changed
        ]
    found = index(changed + texts)
    vectors = word_vectors(found, 100)
    names = {number: word for word, number in found.words.items()}
    hits = sum(
        f"zzq{chr(97 + number)}x" in [names[at] for at, _ in vectors.used_alike(word, 3)]
        for number, word in enumerate(chosen)
    )
    assert len(chosen) == 10
    assert hits >= 9


@pytest.fixture(scope="module")
def meaning() -> dict[str, object]:
    path = demo_recipe()
    recipe = read_recipe(path).with_setting("weigh", "vectors", "learned")
    parts = with_needs([SPACE, THEMES, WORDS, PAIRS])
    return compute(Job(recipe, path.parent), Recent(), Silent(), lambda: parts)


def test_documents_are_a_linear_map_of_their_weights(meaning: dict[str, object]) -> None:
    space, found = meaning[SPACE], meaning[THEMES]
    assert found.learned
    assert found.documents.shape == (640, 100)
    expected = space.weights.astype(np.float64) @ found.terms.astype(np.float64)
    assert np.allclose(found.documents, expected, atol=1e-4)
    lengths = np.linalg.norm(found.documents, axis=1)
    filled = lengths > 0
    means = found.documents[filled] / lengths[filled, None]
    assert np.linalg.norm(means.mean(axis=0)) < 0.2  # no direction that all share


def test_the_parts_of_a_pair_add_up_to_its_similarity(meaning: dict[str, object]) -> None:
    pairs, space, found = meaning[PAIRS], meaning[SPACE], meaning[THEMES]
    rows = {int(row): at for at, row in enumerate(space.terms.rows)}
    for at in range(0, len(pairs), 7):
        first, second = rows[int(pairs.first[at])], rows[int(pairs.second[at])]
        parts = contributions(space, "cosine", first, second, found)
        assert parts.learned
        assert parts.values.sum() == pytest.approx(float(pairs.similarity[at]), abs=1e-5)


def test_words_that_occur_seldom_are_counted_and_have_no_vector(meaning: dict[str, object]) -> None:
    words = meaning[WORDS]
    assert words.seldom > 0
    assert len(words.number) + words.seldom <= len(words.words)
    assert words.place_of("nosuchword") == -1
    assert words.used_alike("nosuchword", 3) == []


def test_the_same_vectors_on_any_number_of_threads(meaning: dict[str, object]) -> None:
    path = demo_recipe()
    recipe = read_recipe(path).with_setting("weigh", "vectors", "learned")
    before = threads()
    set_threads(1)
    try:
        other = compute(Job(recipe, path.parent), Recent(), Silent(), lambda: with_needs([THEMES]))
    finally:
        set_threads(before)
    assert other[THEMES].documents.tobytes() == meaning[THEMES].documents.tobytes()


def test_too_little_text_is_an_error_that_names_the_remedy(tmp_path: Path) -> None:
    (tmp_path / "few.csv").write_text("note\nslugs again\nno rain\n", "utf-8")
    recipe = recipe_of({"gather": {"from": "few.csv"}, "weigh": {"vectors": "learned"}})
    with pytest.raises(JaggedLensError, match="too little text to learn vectors"):
        compute(Job(recipe, tmp_path), Recent(), Silent(), lambda: with_needs([THEMES]))


def test_runs_of_characters_fit_no_vectors() -> None:
    recipe = Recipe().with_setting("weigh", "vectors", "learned")
    with pytest.raises(RecipeError, match="needs words"):
        recipe.with_setting("clean", "tokens", "characters")


def test_counts_alone_fit_no_vectors() -> None:
    recipe = Recipe().with_setting("compare", "measure", "hellinger")
    with pytest.raises(RecipeError, match="vectors replaces the terms"):
        recipe.with_setting("weigh", "vectors", "learned")


def test_word_pairs_are_parts_of_the_similarity(meaning: dict[str, object]) -> None:
    pairs, space, found = meaning[PAIRS], meaning[SPACE], meaning[THEMES]
    rows = {int(row): at for at, row in enumerate(space.terms.rows)}
    first, second = rows[int(pairs.first[-1])], rows[int(pairs.second[-1])]
    parts = contributions(space, "cosine", first, second, found)
    values = [value for _, _, value in parts.word_pairs]
    assert len(values) == 40
    assert values == sorted(values, reverse=True)
    s, t, value = parts.word_pairs[0]
    a, b = space.weights[[first]].toarray()[0], space.weights[[second]].toarray()[0]
    e = found.terms.astype(np.float64)
    lengths = np.linalg.norm(a @ e) * np.linalg.norm(b @ e)
    assert value == pytest.approx(a[s] * b[t] * (e[s] @ e[t]) / lengths, rel=1e-6)
    every = np.multiply.outer(a, b)[np.ix_(np.flatnonzero(a), np.flatnonzero(b))]
    inner = (e[np.flatnonzero(a)] @ e[np.flatnonzero(b)].T) * every / lengths
    assert inner.sum() == pytest.approx(parts.total, abs=1e-6)
