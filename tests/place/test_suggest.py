# SPDX-License-Identifier: GPL-3.0-or-later
"""Labels that are learned: the optimum, the split, the figures, the evidence; the same on any number of threads."""

import dataclasses
import itertools

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from scipy.optimize import minimize
from scipy.sparse import csr_array, vstack

from compare import test_compare as made_spaces
from jagged_lens.errors import RecipeError
from jagged_lens.gather import Label
from jagged_lens.lens import CORPUS, SPACE, THEMES, Results
from jagged_lens.parallel import set_threads, threads
from jagged_lens.place import (
    BANDS,
    PENALTIES,
    Part,
    SuggestSettings,
    bands_of,
    evidence,
    figures_of,
    suggested_for,
    suggestions_of,
    terms_for,
)
from jagged_lens.place.regression import Learner
from jagged_lens.place.row_space import SumsOfRows, space_of
from jagged_lens.place.suggest import SMALLER, _best, _Folds, _tried
from jagged_lens.progress import Told, unheard
from jagged_lens.weigh import Themes, themes


def made(n: int, m: int, v: int, seed: int = 0) -> tuple[csr_array, np.ndarray]:
    rng = np.random.default_rng(seed)
    own = rng.integers(0, v, n)
    x = (rng.random((n, m)) < 0.08) * rng.random((n, m))
    for value in range(v):
        x[own == value, value] += rng.random((own == value).sum())
    x /= np.maximum(np.linalg.norm(x, axis=1, keepdims=True), 1e-12)
    return csr_array(x), own


def objective(x: np.ndarray, own: np.ndarray, v: int, penalty: float):
    def loss(flat: np.ndarray) -> float:
        w, b = flat[: x.shape[1] * v].reshape(-1, v), flat[x.shape[1] * v :]
        scores = x @ w + b
        most = scores.max(axis=1)
        whole = np.log(np.exp(scores - most[:, None]).sum(axis=1)) + most
        return float((whole - scores[np.arange(len(own)), own]).mean() + penalty / 2 * (w**2).sum())

    return loss


@pytest.mark.parametrize("penalty", [1e-1, 1e-2, 1e-3])
@pytest.mark.parametrize("way", ["few", "sums", "dense"])
def test_what_is_learned_is_the_minimum(penalty: float, way: str, monkeypatch: pytest.MonkeyPatch) -> None:
    x, own = made(60, 9, 3)
    if way == "sums":
        monkeypatch.setattr("jagged_lens.place.row_space._SMALL", 0)
        monkeypatch.setattr("jagged_lens.place.row_space._SMALLISH", 0)
        assert isinstance(space_of(x, True), SumsOfRows)
    rows = x.toarray() if way == "dense" else x
    model = Learner(rows, own, 3).learned(penalty, 1e-8)
    loss = objective(x.toarray(), own, 3, penalty)
    best = minimize(loss, np.zeros(9 * 3 + 3), method="BFGS", options={"gtol": 1e-7})
    found = np.concatenate((model.weights.ravel(), model.intercepts))
    assert loss(found) <= best.fun + 1e-9
    # Intercepts are only told up to a number that is added to all.
    assert model.weights == pytest.approx(best.x[:27].reshape(9, 3), abs=2e-3)
    assert model.probabilities(rows).sum(axis=1) == pytest.approx(np.ones(60))


def test_learning_goes_on_from_one_penalty_to_the_next() -> None:
    x, own = made(80, 30, 4)
    learner = Learner(x, own, 4)
    for penalty in (1e-1, 1e-2):
        warm = learner.learned(penalty, 1e-9)
    cold = Learner(x, own, 4).learned(1e-2, 1e-9)
    assert warm.weights == pytest.approx(cold.weights, abs=1e-5)
    rough = Learner(x, own, 4, exact=False).learned(1e-2, 1e-4)
    assert rough.probabilities(x) == pytest.approx(cold.probabilities(x), abs=2e-2)


def label_of(results: Results, name: str) -> Label:
    label = next(one for one in results[CORPUS].labels if one.name == name)
    return label.take(results[SPACE].terms.rows)


def test_crops_are_suggested_and_tested_on_what_was_held_out(demo_results: Results) -> None:
    space, label = demo_results[SPACE], label_of(demo_results, "crop")
    found = suggestions_of(space, demo_results[THEMES], label, SuggestSettings("crop", 0.25))
    given_names = [label.value(row) for row in range(len(label.codes))]
    assert [found.values[code] for code in found.given] == given_names
    for value in range(len(found)):
        own = found.given == value
        assert (found.part[own] == Part.HELD_OUT).sum() == int(0.25 * own.sum() + 0.5)
    held = found.figures(Part.HELD_OUT)
    own = found.part == Part.HELD_OUT
    assert held.accuracy == pytest.approx((found.given[own] == found.suggested[own]).mean())
    assert held.accuracy > 0.95
    assert held.trivial < 0.2
    assert found.figures(Part.TRAINING).accuracy >= held.accuracy - 0.02
    assert found.held.documents.sum() == own.sum()
    # Evidence adds up to the lead of the score, and the lead to the ratio of probabilities.
    row = int(np.flatnonzero(own)[0])
    why = evidence(found, space, demo_results[THEMES], row, int(found.suggested[row]), int(found.second[row]))
    x = space.weights[[row]].toarray()[0].astype(float)
    scores = x / np.linalg.norm(x) @ found.weights.astype(float) + found.intercepts
    assert why.lead == pytest.approx(scores[found.suggested[row]] - scores[found.second[row]], abs=1e-4)
    assert scores.argmax() == found.suggested[row]
    likely = np.exp(scores - scores.max())
    assert found.probability[row] == pytest.approx((likely / likely.sum()).max(), abs=1e-5)
    columns, beyond = terms_for(found, demo_results[THEMES], 5)
    garlic = found.values.index("garlic")
    assert "garlic" in [space.terms.shown[int(column)] for column in columns[garlic]]
    assert (np.diff(beyond, axis=1) <= 0).all()


def test_the_penalty_with_the_lowest_loss_in_the_folds_is_taken(demo_results: Results) -> None:
    space = demo_results[SPACE]
    for name in ("crop", "season"):
        found = suggestions_of(space, demo_results[THEMES], label_of(demo_results, name), SuggestSettings(name))
        assert found.penalty == found.penalties[int(np.round(found.losses, 6).argmin())]
        assert found.penalty not in (found.penalties[0], found.penalties[-1]) or found.at_end
        assert found.losses.max() > 1.05 * found.losses.min()


def test_a_term_speaks_by_what_it_has_beyond_the_mean_of_all_values(demo_results: Results) -> None:
    space, label = demo_results[SPACE], label_of(demo_results, "soil")
    for found_themes in (demo_results[THEMES], themes(space, 20)):
        found = suggestions_of(space, found_themes, label, SuggestSettings("soil"))
        weights = found.weights.astype(float)
        if len(found_themes):
            weights = found_themes.terms.astype(float) @ weights
        columns, beyond = terms_for(found, found_themes, 7)
        for value in range(len(found)):
            speaks = weights[:, value] - weights.mean(axis=1)
            assert columns[value].tolist() == np.argsort(-speaks, kind="stable")[:7].tolist()
            assert beyond[value] == pytest.approx(np.sort(speaks)[::-1][:7])


def test_a_document_without_terms_gets_nothing_or_what_is_commonest(demo_results: Results) -> None:
    space, label = demo_results[SPACE], label_of(demo_results, "crop")
    empty = np.flatnonzero(space.empty)
    assert len(empty) == 2
    values = ["" if row == empty[0] else label.value(row) for row in range(len(label.codes))]
    found = suggestions_of(space, demo_results[THEMES], Label.of("crop", values), SuggestSettings("crop"))
    assert found.suggested[empty[0]] == found.second[empty[0]] == -1
    assert found.probability[empty[0]] == 0
    assert found.suggested[empty[1]] == int(found.intercepts.argmax())


def test_documents_without_a_value_get_a_suggestion(demo_results: Results) -> None:
    space, label = demo_results[SPACE], label_of(demo_results, "crop")
    hidden = np.arange(len(label.codes)) % 3 == 0
    values = ["" if gone else label.value(row) for row, gone in enumerate(hidden)]
    for found in (
        suggestions_of(space, demo_results[THEMES], Label.of("crop", values), SuggestSettings("crop")),
        suggestions_of(space, themes(space, 40), Label.of("crop", values), SuggestSettings("crop")),
    ):
        assert (found.part == Part.NEW).tolist() == hidden.tolist()
        named = np.array([found.values[code] for code in found.suggested[hidden]])
        real = np.array([label.value(row) for row in np.flatnonzero(hidden)])
        assert (named == real).mean() > 0.9


def test_of_penalties_that_lose_as_little_the_first_is_taken() -> None:
    assert _best(np.array([0.7, 0.50000004, 0.5, 0.9])) == 1
    assert _best(np.array([0.7, 0.51, 0.5, 0.9])) == 2


def test_threads_and_seeds(demo_results: Results) -> None:
    space, label = demo_results[SPACE], label_of(demo_results, "season")
    before = threads()
    try:
        found = []
        for count in (1, 2, 5):
            set_threads(count)
            found.append(suggestions_of(space, demo_results[THEMES], label, SuggestSettings("season")))
    finally:
        set_threads(before)
    for one in found[1:]:
        assert one.probability.tobytes() == found[0].probability.tobytes()
        assert one.weights.tobytes() == found[0].weights.tobytes()
        assert one.losses.tobytes() == found[0].losses.tobytes()
    other = suggestions_of(space, demo_results[THEMES], label, SuggestSettings("season", seed=2))
    assert (other.part != found[0].part).any()


def test_what_cannot_be_learned_is_refused_by_name(demo_results: Results) -> None:
    space = demo_results[SPACE]
    n = len(space.empty)
    for values, words in (
        (["a"] * n, "one value"),
        ([""] * n, "no document"),
        ([str(at) for at in range(n)], "640 values"),
    ):
        with pytest.raises(RecipeError, match=words):
            suggestions_of(
                space,
                Themes(np.zeros((1, 0)), np.zeros(0), np.zeros((n, 0)), 0.0),
                Label.of("x", values),
                SuggestSettings("x"),
            )


def test_a_value_with_one_document_is_learned_from_and_never_held_out(demo_results: Results) -> None:
    space = demo_results[SPACE]
    values = ["rare" if at == 5 else ("odd" if at % 2 else "even") for at in range(len(space.empty))]
    found = suggestions_of(space, demo_results[THEMES], Label.of("x", values), SuggestSettings("x", 0.5))
    assert found.part[5] == Part.TRAINING
    assert not np.isnan(found.losses).any()


def test_what_no_other_document_has_is_not_asked_for_in_the_folds() -> None:
    x, own = made(60, 9, 2)
    plain = _Folds(x, own, 2, 1, Told(unheard)).losses(PENALTIES, 1)
    own[5] = 2
    with_one = _Folds(x, own, 3, 1, Told(unheard)).losses(PENALTIES, 1)
    # Were the fold asked that holds it, it would be told with a probability next to nothing.
    assert with_one[0] == pytest.approx(plain[0], abs=0.05)


def test_figures_by_hand() -> None:
    given_values = np.array([0, 0, 0, 1, 1, 2])
    suggested = np.array([0, 0, 1, 1, 0, 1])
    found = figures_of(given_values, suggested, 4, 0)
    assert found.counts[:3, :3].tolist() == [[2, 1, 0], [1, 1, 0], [0, 1, 0]]
    assert found.accuracy == 0.5
    assert found.trivial == 0.5
    assert found.precision[:2].tolist() == pytest.approx([2 / 3, 1 / 3])
    assert np.isnan(found.precision[2:]).all()
    assert found.recall[:3].tolist() == pytest.approx([2 / 3, 1 / 2, 0])
    assert found.f1[:3].tolist() == pytest.approx([2 / 3, 2 / 5, 0])
    assert np.isnan(found.f1[3])
    assert found.macro_f1 == pytest.approx((2 / 3 + 2 / 5) / 3)
    never = figures_of(np.array([0, 0]), np.array([0, 1]), 2, 0)
    assert never.f1[0] == pytest.approx(2 / 3)
    assert np.isnan(never.f1[1])  # it is suggested, and no document has it
    assert never.macro_f1 == pytest.approx(2 / 3)
    nothing = figures_of(np.zeros(0, int), np.zeros(0, int), 2, 0)
    assert np.isnan(nothing.accuracy)
    assert np.isnan(nothing.macro_f1)


@example([(one, True) for one in (0.0, 0.5, 0.75, 1.0)])
@given(st.lists(st.tuples(st.floats(0, 1, width=32), st.booleans()), max_size=40))
def test_bands_count_every_suggestion_once(found: list[tuple[float, bool]]) -> None:
    probability = np.array([one for one, _ in found], np.float32)
    right = np.array([one for _, one in found], bool)
    bands = bands_of(probability, right)
    for at, (low, high) in enumerate(itertools.pairwise(BANDS)):
        inside = [
            ok
            for one, ok in found
            if low <= np.float64(np.float32(one)) and (np.float64(np.float32(one)) < high or high == 1)
        ]
        assert bands.documents[at] == len(inside)
        if inside:
            assert bands.right[at] == pytest.approx(sum(inside) / len(inside))


def test_other_penalties_are_tried_until_the_loss_turns(monkeypatch: pytest.MonkeyPatch) -> None:
    rng = np.random.default_rng(3)
    own = (np.arange(300) % 2).astype(np.int32)
    x = np.zeros((300, 40))
    x[np.arange(300), own] = 1  # told apart without any doubt: the smaller, the better
    penalties, losses = _tried(csr_array(x), own, 2, 1, Told(unheard))
    assert penalties[-1] < PENALTIES[-1]
    assert list(penalties) == sorted({*PENALTIES, *penalties}, reverse=True)
    assert penalties[_best(losses)] < PENALTIES[-1] or penalties[-1] == SMALLER[0]
    noise = rng.random((300, 40))  # nothing to learn: the larger, the better
    noise /= np.linalg.norm(noise, axis=1, keepdims=True)
    penalties, losses = _tried(csr_array(noise), rng.integers(0, 2, 300).astype(np.int32), 2, 1, Told(unheard))
    assert penalties[0] > PENALTIES[0]
    assert list(penalties) == sorted(penalties, reverse=True)
    assert penalties[_best(losses)] >= PENALTIES[0]


def test_an_end_of_what_is_tried_is_said(demo_results: Results) -> None:
    space, label = demo_results[SPACE], label_of(demo_results, "crop")
    found = suggestions_of(space, demo_results[THEMES], label, SuggestSettings("crop"))
    assert not found.at_end
    assert dataclasses.replace(found, penalty=SMALLER[-1]).at_end


def test_of_equal_losses_the_simpler_model_is_taken() -> None:
    assert _best(np.array([0.5, 0.3000001, 0.3, 0.4])) == 1


def test_copies_stay_on_one_side_and_count_once(demo_results: Results) -> None:
    space, label = demo_results[SPACE], label_of(demo_results, "crop")
    n = len(space.empty)
    family = np.arange(n)
    for value in range(len(label.values)):  # of each value the first ten are copies of each other
        own = np.flatnonzero(label.codes == value)[:10]
        family[own] = own[0]
    found = suggestions_of(space, demo_results[THEMES], label, SuggestSettings("crop", 0.5), family=family)
    for head in np.unique(family):
        assert len(set(found.part[family == head].tolist())) == 1
    counted = np.concatenate([np.flatnonzero(found.counted(part)) for part in (Part.TRAINING, Part.HELD_OUT)])
    assert sorted(family[counted].tolist()) == np.unique(family).tolist()
    assert int(found.figures(Part.HELD_OUT).counts.sum()) == int(found.counted(Part.HELD_OUT).sum())
    for value in range(len(found)):
        units = len(np.unique(family[found.given == value]))
        assert (found.given[found.counted(Part.HELD_OUT)] == value).sum() == int(0.5 * units + 0.5)


def test_a_value_that_only_copies_have_is_learned_from() -> None:
    x, own = made(60, 9, 2)
    values = [f"v{value}" for value in own.tolist()]
    values[7] = "rare"
    family = np.arange(60)
    family[7] = 6
    space = made_spaces.space_of((x.toarray() > 0).astype(int))
    no_themes = themes(space, 0)
    for seed in range(8):
        label = Label.of("x", values)
        found = suggestions_of(space, no_themes, label, SuggestSettings("x", 0.5, seed=seed), family=family)
        assert found.part[7] == found.part[6] == Part.TRAINING


@pytest.mark.parametrize("count", [0, 30])
def test_further_texts_get_what_documents_of_the_lens_with_the_same_weights_get(
    demo_results: Results, count: int
) -> None:
    space, label = demo_results[SPACE], label_of(demo_results, "crop")
    held = themes(space, count) if count else demo_results[THEMES]
    found = suggestions_of(space, held, label, SuggestSettings("crop", 0.25))
    nothing = csr_array((1, space.weights.shape[1]), dtype=np.float32)
    rows = csr_array(vstack([space.weights[:50], nothing], "csr"))
    first, sure = suggested_for(found, rows, held)
    assert first[:50].tolist() == np.where(space.empty[:50], -1, found.suggested[:50]).tolist()
    assert sure[:50] == pytest.approx(np.where(space.empty[:50], 0, found.probability[:50]), abs=1e-5)
    assert (first[50], sure[50]) == (-1, 0)
