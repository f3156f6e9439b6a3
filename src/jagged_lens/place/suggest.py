# SPDX-License-Identifier: GPL-3.0-or-later
"""Labels suggested: learned from the documents that have a value, tested on some that were held out, said of those that have none."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.compare import rows_of
from jagged_lens.errors import RecipeError
from jagged_lens.gather import Label
from jagged_lens.parallel import blocks, over_blocks, steady_blas
from jagged_lens.place.figures import Bands, Figures, bands_of, figures_of
from jagged_lens.place.regression import Learner, Model, log_loss
from jagged_lens.place.row_space import Rows
from jagged_lens.place.settings import SuggestSettings
from jagged_lens.progress import Progress, Told, unheard
from jagged_lens.weigh import Themes, VectorSpace, in_themes

PENALTIES = (1e-2, 1e-3, 1e-4, 1e-5, 1e-6)
"""λ that are tried; where the best is the first or the last of them, those beyond are tried until the loss rises."""
LARGER, SMALLER = (1e-1, 1.0, 10.0), (1e-7, 1e-8, 1e-9)
FOLDS = 5
MOST_VALUES = 200
_ACCURACY = 3e-6
_FEW = 5_000  # documents: of more, the folds, which only choose λ, are learned
_ROUGHLY = 1e-3  # only so far, in single precision; of fewer so far:
_EXACTLY = 1e-5
_ROWS_AT_ONCE = 4_000
_MOSTLY_FILLED = 0.3


class Part(IntEnum):
    """The use of a document: learning, testing, or neither."""

    TRAINING = 0
    HELD_OUT = 1
    NEW = 2


@dataclass(frozen=True, eq=False)
class Suggestions:
    """For n documents of a lens and v values, most frequent first.

    given: int32, n, the value that each has, -1: none. part: uint8, n, a Part. suggested, second: int32, n, the likeliest value and the
    next, -1 where there is none (a document without terms that has no value). probability: float32, n. weights: float32, m × v of the terms
    or themes; intercepts: float64, v. penalty: the λ that was chosen; penalties: those that were tried, falling; losses: float64, the mean
    log-loss in the folds of each. once: bool, n, of the documents that have a value one of each family of copies with it: those that are
    learned from and counted.
    """

    label: str
    values: tuple[str, ...]
    given: NDArray[np.int32]
    part: NDArray[np.uint8]
    suggested: NDArray[np.int32]
    second: NDArray[np.int32]
    probability: NDArray[np.float32]
    weights: NDArray[np.float32]
    intercepts: NDArray[np.float64]
    penalty: float
    losses: NDArray[np.float64]
    penalties: tuple[float, ...] = PENALTIES
    once: NDArray[np.bool_] | None = None

    @classmethod
    def none(cls, n: int) -> Suggestions:
        """For no label."""
        nothing = np.full(n, -1, np.int32)
        return cls(
            "",
            (),
            nothing,
            np.full(n, Part.NEW, np.uint8),
            nothing,
            nothing,
            np.zeros(n, np.float32),
            np.zeros((0, 0), np.float32),
            np.zeros(0),
            0.0,
            np.zeros(0),
        )

    def __len__(self) -> int:
        return len(self.values)

    @property
    def commonest(self) -> int:
        """The value that most documents have that were learned from: the trivial guess."""
        own = self.given[self.counted(Part.TRAINING)]
        return int(np.bincount(own, minlength=max(len(self.values), 1)).argmax())

    @property
    def at_end(self) -> bool:
        """True if the λ that was chosen is the largest or the smallest that is ever tried, so that another might be better still."""
        return self.penalty in (LARGER[-1], SMALLER[-1])

    def counted(self, part: Part) -> NDArray[np.bool_]:
        """The documents of a part that are counted: of copies with the same value one (bool, n)."""
        own = (self.part == part) & (self.given >= 0)
        return np.asarray(own if self.once is None else own & self.once)

    def figures(self, part: Part) -> Figures:
        """The quality of the suggestions for the documents of a part that have a value."""
        own = self.counted(part)
        return figures_of(self.given[own], self.suggested[own], len(self.values), self.commonest)

    @property
    def held(self) -> Bands:
        """Calibration on the held-out documents."""
        own = self.counted(Part.HELD_OUT)
        return bands_of(self.probability[own], self.given[own] == self.suggested[own])


def suggestions_of(
    space: VectorSpace,
    themes: Themes,
    label: Label,
    settings: SuggestSettings,
    progress: Progress = unheard,
    family: NDArray[np.integer] | None = None,
) -> Suggestions:
    """Suggest the values of a label. label: its codes of the n documents of the space, in their order. family: int64, n, equal for
    near-copies, which are held out or learned from together, and counted once. None: there are none.

    Learned from x̂, or where there are themes from X V brought to length 1. RecipeError where fewer than two values have documents, or more
    than MOST_VALUES have.
    """
    values, given = _values(label, settings)
    family = np.arange(len(given)) if family is None else np.asarray(family)
    once = _once(given, family)
    part = _parts(given, family, len(values), settings)
    rows = _learned_rows(space, themes)
    training = np.flatnonzero((part == Part.TRAINING) & once)
    own = given[training]
    with steady_blas():
        told = Told(progress)
        learned = _taken(rows, training)
        penalties, losses = _tried(learned, own, len(values), settings.seed, told)
        penalty = penalties[_best(losses)]
        told.at(0.85)
        roughly = Learner(learned, own, len(values), exact=False)
        roughly.learned(penalty, _ACCURACY * 30, told.again)
        learner = Learner(learned, own, len(values))
        learner.begin_at(roughly)
        told.at(0.9)
        model = learner.learned(penalty, _ACCURACY, told.again)
        first, second, probability = _answers(model, rows)
    unknown = (given < 0) & np.asarray(in_themes(space, themes).empty)
    return Suggestions(
        label.name,
        values,
        given,
        part,
        np.where(unknown, -1, first).astype(np.int32),
        np.where(unknown, -1, second).astype(np.int32),
        np.where(unknown, 0, probability).astype(np.float32),
        model.weights.astype(np.float32),
        model.intercepts,
        penalty,
        losses,
        penalties,
        once,
    )


def _values(label: Label, settings: SuggestSettings) -> tuple[tuple[str, ...], NDArray[np.int32]]:
    codes = label.codes
    there, counts = np.unique(codes[codes != label.none], return_counts=True)
    if not 2 <= len(there) <= MOST_VALUES:
        many = f"{len(there):,} values" if len(there) != 1 else "one value"
        raise RecipeError(
            f'the documents have {many} of the label "{label.name}"'
            if len(there)
            else f'no document has a value of "{label.name}"',
            "[suggest] label",
            f"Choose a label with 2 to {MOST_VALUES} values.",
        )
    there = there[np.argsort(-counts, kind="stable")]
    place = np.full(len(label.values) + 1, -1, np.int32)
    place[there] = np.arange(len(there))
    return tuple(label.values[code] for code in there.tolist()), place[codes]


def _once(given: NDArray[np.int32], family: NDArray[np.integer]) -> NDArray[np.bool_]:
    """The first document of each family and value among those that have a value (bool, n)."""
    found = np.zeros(len(given), np.bool_)
    valued = np.flatnonzero(given >= 0)
    _, first = np.unique(np.stack((family[valued].astype(np.int64), given[valued])), axis=1, return_index=True)
    found[valued[first]] = True
    return found


def _parts(
    given: NDArray[np.int32], family: NDArray[np.integer], values: int, settings: SuggestSettings
) -> NDArray[np.uint8]:
    """For each value the held-out share of its families, rounded, at most all but one; a family goes by its first document with a value."""
    part = np.where(given >= 0, Part.TRAINING, Part.NEW).astype(np.uint8)
    drawn = np.random.default_rng(settings.seed).random(len(given))
    valued = np.flatnonzero(given >= 0)
    _, first = np.unique(family[valued], return_index=True)
    heads = valued[first]
    for value in range(values):
        own = heads[given[heads] == value]
        number = min(int(settings.held_out * len(own) + 0.5), len(own) - 1)
        if number > 0:
            out = family[own[np.argsort(drawn[own], kind="stable")[:number]]]
            part[valued[np.isin(family[valued], out)]] = Part.HELD_OUT
    for value in range(values):  # one whose documents are all copies of others that were held out
        own = valued[given[valued] == value]
        if len(own) and not (part[own] == Part.TRAINING).any():
            part[valued[family[valued] == family[own[0]]]] = Part.TRAINING
    return part


def _folds(own: NDArray[np.int32], values: int, seed: int) -> NDArray[np.int64]:
    """The fold of each document: the documents of each value are spread evenly."""
    drawn = np.random.default_rng([seed, 1]).random(len(own))
    order = np.lexsort((drawn, own))
    fold = np.empty(len(own), np.int64)
    fold[order] = np.arange(len(own)) % FOLDS
    return fold


def _learned_rows(space: VectorSpace, themes: Themes) -> Rows:
    """The rows at length 1: float64, sparse of terms, dense of themes."""
    found = rows_of(in_themes(space, themes), "cosine").matrix
    filled = found.nnz > _MOSTLY_FILLED * max(found.shape[0] * found.shape[1], 1)
    return np.ascontiguousarray(found.toarray()) if filled else found


def _taken(rows: Rows, some: NDArray[np.integer]) -> Rows:
    return csr_array(rows[some]) if isinstance(rows, csr_array) else rows[some]


def _best(losses: NDArray[np.float64]) -> int:
    """The place of the smallest loss; where two are as good, that of the larger λ, the simpler model."""
    return int(np.argmin(np.round(losses, 6)))


def _tried(
    rows: Rows, own: NDArray[np.int32], values: int, seed: int, told: Told
) -> tuple[tuple[float, ...], NDArray[np.float64]]:
    """The λ that were tried, falling, and the mean log-loss of each over the folds, each said by what was learned from the others."""
    folds = _Folds(rows, own, values, seed, told)
    penalties, losses = list(PENALTIES), list(folds.losses(PENALTIES, 0.7))
    for beyond, end in ((SMALLER, -1), (LARGER, 0)):
        for penalty in beyond:
            if _best(np.array(losses)) != (len(losses) - 1 if end else 0):
                break
            (loss,) = folds.losses((penalty,), 0.75)
            penalties.insert(len(penalties) if end else 0, penalty)
            losses.insert(len(losses) if end else 0, loss)
    return tuple(penalties), np.array(losses)


class _Folds:
    """Folds of rows, of each of which a model is learned from the others; the models go on from where they were."""

    def __init__(self, rows: Rows, own: NDArray[np.int32], values: int, seed: int, told: Told) -> None:
        self._told, self._done = told, 0.0
        self._few = len(own) <= _FEW
        self._learners: list[tuple[Learner, Rows, NDArray[np.int32]]] = []
        fold = _folds(own, values, seed)
        for number in range(FOLDS):
            inside, outside = np.flatnonzero(fold != number), np.flatnonzero(fold == number)
            # A value that no other document has cannot be learned.
            outside = outside[np.isin(own[outside], own[inside])]
            if len(inside) and len(outside):
                learner = Learner(_taken(rows, inside), own[inside], values, self._few)
                self._learners.append((learner, _taken(rows, outside), own[outside]))

    def losses(self, penalties: tuple[float, ...], until: float) -> NDArray[np.float64]:
        """The mean log-loss of each λ, of all that were left out. until: the share of the work that is done then."""
        accuracy = _EXACTLY if self._few else _ROUGHLY

        def tried(number: int) -> NDArray[np.float64]:
            learner, apart, own = self._learners[number]
            found = np.zeros(len(penalties) + 1)
            for at, penalty in enumerate(penalties):
                model = learner.learned(penalty, accuracy, self._told.again)
                found[at] = log_loss(model.scores(apart), own).sum()
            found[-1] = len(own)
            return found

        total = np.zeros(len(penalties) + 1)
        for done, found in enumerate(over_blocks(tried, range(len(self._learners)))):
            total += found
            self._told.at(self._done + (until - self._done) * (done + 1) / len(self._learners))
        self._done = until
        return np.asarray(total[:-1] / max(total[-1], 1))


def _answers(model: Model, rows: Rows) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.float64]]:
    """The likeliest value of each row, the next one, and the probability of the first."""
    firsts, seconds, sure = [np.zeros(0, np.int64)], [np.zeros(0, np.int64)], [np.zeros(0)]
    for block in blocks(rows.shape[0], _ROWS_AT_ONCE):
        found = model.probabilities(rows[block])
        at = np.arange(len(found))
        first = found.argmax(axis=1)
        sure.append(found[at, first])
        found[at, first] = -1
        firsts.append(first)
        seconds.append(found.argmax(axis=1))
    return np.concatenate(firsts), np.concatenate(seconds), np.concatenate(sure)


def suggested_for(
    found: Suggestions, weights: csr_array | NDArray[np.float32], themes: Themes
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """The likeliest value of each of d further texts, and its probability, by what was learned from the documents of the lens.

    weights: float32 CSR, d × m, of the texts in the lens; float32, d × k, where it works on vectors that were given. The result: int64, d,
    -1 for a text without a weight; float64, d.
    """
    rows: Rows = weights.astype(np.float64)
    if len(themes) and not themes.given:
        rows = np.asarray(rows @ themes.terms.astype(np.float64))
    squares = rows.multiply(rows) if isinstance(rows, csr_array) else rows * rows
    length = np.sqrt(np.asarray(squares.sum(axis=1), np.float64)).ravel()
    one = 1 / np.where(length > 0, length, 1)
    rows = csr_array(rows.multiply(one[:, None])) if isinstance(rows, csr_array) else rows * one[:, None]
    first, _, probability = _answers(Model(found.weights.astype(np.float64), found.intercepts), rows)
    return np.where(length > 0, first, -1), np.where(length > 0, probability, 0.0)


def terms_for(found: Suggestions, themes: Themes, most: int = 200) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """The terms for each value: columns (int64, v × most) and coefficients above the mean of all values (float64, v × most), largest
    first. None where the lens works on vectors that were given."""
    weights = found.weights.astype(np.float64)
    if themes.given:
        return np.zeros((len(found.values), 0), np.int64), np.zeros((len(found.values), 0))
    if len(themes):
        weights = themes.terms.astype(np.float64) @ weights
    beyond = (weights - weights.mean(axis=1, keepdims=True)).T
    order = np.argsort(-beyond, axis=1, kind="stable")[:, :most]
    return order, np.take_along_axis(beyond, order, axis=1)


@dataclass(frozen=True, eq=False)
class Evidence:
    """The evidence in one document for a value and against another. columns (int64), values (float64): its terms, and their contributions
    to the lead of the score, largest first. intercept: the contribution of the values' own frequency. vector: that of a vector that was
    given, which no term explains. All add up to the lead."""

    value: int
    other: int
    columns: NDArray[np.int64]
    values: NDArray[np.float64]
    intercept: float
    vector: float = 0.0

    @property
    def lead(self) -> float:
        """By how much the score of the value is ahead: ln of how many times as likely it is."""
        return float(self.values.sum()) + self.intercept + self.vector


def evidence(found: Suggestions, space: VectorSpace, themes: Themes, row: int, value: int, other: int) -> Evidence:
    """x̂_t (W_t,value - W_t,other) of each term of a document; in themes x_t (V (W_value - W_other))_t ÷ ‖Vᵀx‖. space: of the terms."""
    own = slice(int(space.weights.indptr[row]), int(space.weights.indptr[row + 1]))
    columns, x = space.weights.indices[own].astype(np.int64), space.weights.data[own].astype(np.float64)
    apart = (found.weights[:, value] - found.weights[:, other]).astype(np.float64)
    lead = float(found.intercepts[value] - found.intercepts[other])
    if themes.given:
        own_vector = themes.documents[row].astype(np.float64)
        size = float(np.linalg.norm(own_vector))
        nothing = np.zeros(0, np.int64)
        return Evidence(value, other, nothing, np.zeros(0), lead, float(own_vector @ apart) / size if size else 0.0)
    if len(themes):
        v = themes.terms[columns].astype(np.float64)
        each, length = v @ apart, float(np.linalg.norm(x @ v))
    else:
        each, length = apart[columns], float(np.linalg.norm(x))
    values = x * each / length if length > 0 else np.zeros(len(x))
    order = np.argsort(-values, kind="stable")
    return Evidence(value, other, columns[order], values[order], lead)
