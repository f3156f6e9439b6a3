# SPDX-License-Identifier: GPL-3.0-or-later
"""Weights of terms as sums of rows: where a linear model is learned whose terms are many more than the values that it tells apart.

Of a model that is penalised by its squared length, the weights are a sum of the rows that it is learned from, W = Xᵀ A (the representer
theorem: Kimeldorf & Wahba, "Some results on Tchebycheffian spline functions", 1971). A step of the search is then kept as A and as its
scores X W, a dot product of two such is that of one's A with the other's scores, and how the loss changes along a step takes no product
with X at all. Each space also knows its directions of large spread, from which a step is bent at once the right way (the randomised
range finder of Halko, Martinsson & Tropp, "Finding structure with randomness", 2011).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import eigh
from scipy.sparse import csr_array

from jagged_lens.parallel import blocks, over_blocks

_DIRECTIONS = 64
_SMALL = 1_000  # rows that span a space of their own, and
_SMALLISH = 2_000  # where they are long
_RANK = 1e-10  # share of the largest, below which a direction is rounding
_ROWS_AT_ONCE = 8_000

Array = NDArray[Any]
Rows = csr_array | NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Step:
    """A model, or a difference of two. own: its coordinates. scores: float, n × v, x W of each row (none where a space does not need them
    on the way). intercepts: float64, v."""

    own: Array
    scores: Array
    intercepts: NDArray[np.float64]

    def plus(self, times: float, other: Step) -> Step:
        """This one and so many times another."""
        return Step(
            self.own + times * other.own,
            self.scores + times * other.scores,
            self.intercepts + times * other.intercepts,
        )

    def add(self, times: float, other: Step) -> None:
        """Add so many times another to this one, in its own arrays."""
        for mine, its in ((self.own, other.own), (self.scores, other.scores), (self.intercepts, other.intercepts)):
            mine += times * its

    def scaled(self, times: float) -> Step:
        """So many times this one."""
        return Step(self.own * times, self.scores * times, self.intercepts * times)


class Space(Protocol):
    """The next starting point of the search."""

    def nothing(self, v: int) -> Step:
        """The model all of whose weights are 0."""

    def slope(self, errors: Array, at: Step, penalty: float) -> Step:
        """The gradient, for the errors of the rows (P - Y) ÷ n (float, n × v)."""

    def dot(self, one: Step, other: Step) -> float:
        """The dot product of two."""

    def bent(self, slope: Step, curvature: float, penalty: float) -> Step:
        """The gradient times the inverse of what its change is expected to be. curvature: the mean of p (1 - p)."""

    def scored(self, step: Step) -> Step:
        """The same step with its scores."""

    def from_own(self, step: Step) -> Step:
        """The step of which only the coordinates and the intercepts are known."""

    def weights(self, at: Step) -> NDArray[np.float64]:
        """The weights of the terms or themes (float64, m × v)."""


def space_of(rows: Rows, exact: bool) -> Space:
    """The space for n rows of length 1. exact: in double precision, else products in single."""
    n = rows.shape[0]
    if isinstance(rows, np.ndarray):
        return _of_columns(rows, exact)
    if n <= _SMALL or (n <= _SMALLISH and n * n <= rows.nnz):
        return _of_few(rows, exact)
    return SumsOfRows(rows, exact)


class Coordinates:
    """Rows in few coordinates that are uncorrelated: z (float, n × k), the columns of which have squared lengths `spread`. Back (float64,
    m × k) leads from weights of them to those of the terms."""

    def __init__(self, z: Array, back: NDArray[np.float64] | csr_array, exact: bool) -> None:
        self._kind: type[np.floating] = np.float64 if exact else np.float32
        self._spread = (z**2).sum(axis=0)
        self._z = np.ascontiguousarray(z, self._kind)
        self._across = np.ascontiguousarray(self._z.T)
        self._back = back
        self._unscored = np.zeros((0, 0), self._kind)

    def nothing(self, v: int) -> Step:
        """The model all of whose weights are 0."""
        n, k = self._z.shape
        return Step(np.zeros((k, v)), np.zeros((n, v), self._kind), np.zeros(v))

    def slope(self, errors: Array, at: Step, penalty: float) -> Step:
        """The gradient, for the errors of the rows (float64 or float32, n × v)."""
        own = self._across @ errors + penalty * at.own
        return Step(own, self._unscored, errors.sum(axis=0, dtype=np.float64))

    def dot(self, one: Step, other: Step) -> float:
        """The dot product of two."""
        return float(np.vdot(one.own, other.own) + np.vdot(one.intercepts, other.intercepts))

    def bent(self, slope: Step, curvature: float, penalty: float) -> Step:
        """The gradient times the inverse of what its change is expected to be."""
        expected = curvature * self._spread / max(len(self._z), 1) + penalty
        return Step(slope.own / expected[:, None], self._unscored, slope.intercepts / curvature)

    def scored(self, step: Step) -> Step:
        """The same step with its scores."""
        return Step(step.own, self._z @ step.own.astype(self._kind), step.intercepts)

    def from_own(self, step: Step) -> Step:
        """The step of which only the coordinates and the intercepts are known."""
        return self.scored(step)

    def weights(self, at: Step) -> NDArray[np.float64]:
        """The weights of the themes or terms (float64, m × v)."""
        return np.asarray(self._back @ at.own)


def _of_columns(rows: NDArray[np.float64], exact: bool) -> Coordinates:
    """Dense rows of few columns, turned so that these are uncorrelated."""
    _, turned = np.linalg.eigh(rows.T @ rows)
    return Coordinates(rows @ turned, turned, exact)


def _of_few(rows: csr_array, exact: bool) -> Coordinates:
    """Few rows, in coordinates of what they span: X = Z Vᵀ with X Xᵀ = U S² Uᵀ, Z = U S and V = Xᵀ U S⁻¹."""
    gram = np.asarray((rows @ rows.T.tocsr()).toarray())
    values, vectors = np.linalg.eigh(gram)
    real = values > _RANK * max(float(values.max(initial=0)), 1e-300)
    sizes = np.sqrt(values[real])
    return Coordinates(vectors[:, real] * sizes, np.asarray(rows.T @ (vectors[:, real] / sizes)), exact)


class SumsOfRows:
    """Many rows of many columns; own is A (n × v)."""

    def __init__(self, rows: csr_array, exact: bool) -> None:
        kind: type[np.floating] = np.float64 if exact else np.float32
        own = csr_array((rows.data.astype(kind), rows.indices, rows.indptr), shape=rows.shape)
        # What is computed in single precision is one of several on threads of their own.
        self._rows, self._across = (_parts(one) if exact else [one] for one in (own, own.T.tocsr()))
        self._size = rows.shape[0]
        self._kind = kind
        self._find_directions()

    def _find_directions(self) -> None:
        """B with BᵀKB = I and BᵀK²B diagonal, K = X Xᵀ: directions V = Xᵀ B, orthogonal to each other, along which the rows spread most."""
        n = self._size
        drawn = np.random.default_rng(1).standard_normal((n, min(_DIRECTIONS, n))).astype(self._kind)
        basis, _ = np.linalg.qr(self._product(drawn))
        images = self._product(basis)
        inner, outer = basis.T.astype(np.float64) @ images, images.T.astype(np.float64) @ images
        inner = (inner + inner.T) / 2 + 1e-9 * np.trace(inner) * np.eye(len(inner))
        spread, turn = eigh((outer + outer.T) / 2, inner)
        self._spread = np.maximum(spread, 0)
        self._basis = np.ascontiguousarray(basis @ turn, self._kind)
        self._images = np.ascontiguousarray(images @ turn, self._kind)

    def _product(self, columns: Array) -> Array:
        """X Xᵀ times a few columns."""
        return _times(self._rows, _times(self._across, columns))

    def nothing(self, v: int) -> Step:
        """The model all of whose weights are 0."""
        n = self._size
        return Step(np.zeros((n, v), self._kind), np.zeros((n, v), self._kind), np.zeros(v))

    def slope(self, errors: Array, at: Step, penalty: float) -> Step:
        """The gradient, for the errors of the rows (float64 or float32, n × v)."""
        own = (errors + penalty * at.own).astype(self._kind)
        return Step(own, self._product(own), errors.sum(axis=0, dtype=np.float64))

    def dot(self, one: Step, other: Step) -> float:
        """The dot product of two."""
        return float(np.vdot(one.own, other.scores)) + float(np.vdot(one.intercepts, other.intercepts))

    def bent(self, slope: Step, curvature: float, penalty: float) -> Step:
        """The gradient times the inverse of what its change is expected to be."""
        expected = curvature * self._spread / max(len(self._basis), 1) + penalty
        rest = 1 / float(expected[0])
        beyond = ((1 / expected - rest)[:, None] * (self._basis.T @ slope.scores)).astype(self._kind)
        own, scores = self._basis @ beyond, self._images @ beyond
        own += rest * slope.own
        scores += rest * slope.scores
        return Step(own, scores, slope.intercepts / curvature)

    def scored(self, step: Step) -> Step:
        """The same step, which has its scores."""
        return step

    def from_own(self, step: Step) -> Step:
        """The step of which only the coordinates and the intercepts are known."""
        return Step(step.own, self._product(step.own), step.intercepts)

    def weights(self, at: Step) -> NDArray[np.float64]:
        """The weights of the themes or terms (float64, m × v)."""
        return _times(self._across, at.own).astype(np.float64)


def _parts(matrix: csr_array) -> list[csr_array]:
    """Fixed blocks of rows."""
    return [csr_array(matrix[block]) for block in blocks(matrix.shape[0], _ROWS_AT_ONCE)]


def _times(parts: list[csr_array], columns: Array) -> Array:
    """Blocks of rows times a few columns."""
    found = list(over_blocks(lambda part: np.asarray(part @ columns), parts))
    return np.concatenate(found) if len(found) > 1 else found[0]
