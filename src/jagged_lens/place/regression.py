# SPDX-License-Identifier: GPL-3.0-or-later
"""Multinomial logistic regression: which of v values rows have, learned from rows that have one.

The mean log-loss plus ½ λ |W|², the intercepts free. Hastie, Tibshirani & Friedman, "The Elements of Statistical Learning", 2009, ch. 4.4;
minimised by the limited-memory quasi-Newton method of Nocedal, "Updating quasi-Newton matrices with limited storage", 1980, with a step
that is halved until it brings enough (Armijo, "Minimization of functions having Lipschitz continuous first partial derivatives", 1966).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.place.row_space import Array, Rows, Step, space_of
from jagged_lens.progress import Progress, unheard

_REMEMBERED = (3, 8)  # steps that the curvature is made of: the fewest and the most, and as many numbers as
_MOST_REMEMBERED = 16_000_000  # they may have, counted once of each
_MOST_STEPS = 400
_ENOUGH = 1e-4  # share of what the slope promises, that a step must bring
_HALVINGS = 30


@dataclass(frozen=True, eq=False)
class Model:
    """weights: float64, m × v; intercepts: float64, v. steps: how many it took."""

    weights: NDArray[np.float64]
    intercepts: NDArray[np.float64]
    steps: int = 0

    def scores(self, rows: Rows) -> NDArray[np.float64]:
        """x W + b of each row (float64, n × v)."""
        return np.asarray(rows @ self.weights) + self.intercepts

    def probabilities(self, rows: Rows) -> NDArray[np.float64]:
        """The probability of each value for each row (float64, n × v)."""
        return softmax(self.scores(rows))


def softmax(scores: NDArray[np.float64]) -> NDArray[np.float64]:
    """exp(s) ÷ Σ exp(s) of each row (float64, n × v)."""
    found = np.exp(scores - scores.max(axis=1, keepdims=True))
    return np.asarray(found / found.sum(axis=1, keepdims=True), np.float64)


def log_loss(scores: NDArray[np.float64], own: NDArray[np.integer]) -> NDArray[np.float64]:
    """-ln of the probability of each row's own value (float64, n). own: int64, n."""
    most = scores.max(axis=1)
    whole = np.log(np.exp(scores - most[:, None]).sum(axis=1)) + most
    return np.asarray(whole - scores[np.arange(len(own)), own])


class Learner:
    """Learns from n rows and their values, again and again with another λ, each time from where the last one ended.

    rows: float64 CSR, n × m, or dense, of length 1. own: int64, n, their values, from 0 to v - 1. exact: in double precision throughout.
    """

    def __init__(self, rows: Rows, own: NDArray[np.integer], v: int, exact: bool = True) -> None:
        self._own = own
        self._n = max(len(own), 1)
        self._space = space_of(rows, exact)
        self._at = self._space.nothing(v)
        fewest, most = _REMEMBERED
        self._remembered = min(max(_MOST_REMEMBERED // (self._n * v), fewest), most)

    def begin_at(self, other: Learner) -> None:
        """Begin where another one ended that learned from the same rows."""
        at = other._at
        self._at = self._space.nothing(at.intercepts.shape[0])
        self._at.own[:], self._at.intercepts[:] = at.own, at.intercepts
        self._at = self._space.from_own(self._at)

    def learned(self, penalty: float, accuracy: float, progress: Progress = unheard) -> Model:
        """The model for one λ. accuracy: the length of the gradient at which it is good enough."""
        space, at = self._space, self._at
        memory: list[tuple[Step, Step, float]] = []
        shares = self._shares(at)
        # How much p (1 - p) is on the average, which tells how much the slope will change along a step.
        curvature = max(float((shares * (1 - shares)).mean()), 1e-4)
        slope = space.slope(self._errors(shares), at, penalty)
        loss = self._loss(at, penalty)
        step = 0
        for step in range(_MOST_STEPS):
            progress(step / _MOST_STEPS)
            if np.sqrt(max(space.dot(slope, slope), 0)) <= accuracy:
                break
            direction = self._direction(slope, memory, curvature, penalty)
            falls = space.dot(direction, slope)
            if falls >= 0:  # rounding has spoilt the curvature: begin anew
                memory.clear()
                direction = space.bent(slope, curvature, penalty).scaled(-1)
                falls = space.dot(direction, slope)
            scored = space.scored(direction)
            length, loss = self._length(at, scored, penalty, loss, falls)
            if not length:
                break  # no step leads down any more: it is as good as can be told
            at = at.plus(length, scored)
            before, slope = slope, space.slope(self._errors(self._shares(at)), at, penalty)
            moved, changed = direction.scaled(length), slope.plus(-1, before)
            curved = space.dot(moved, changed)
            if curved > 0:
                memory.append((moved, changed, 1 / curved))
                del memory[: -self._remembered]
        self._at = at
        return Model(space.weights(at), at.intercepts.copy(), step)

    def _shares(self, at: Step) -> Array:
        return softmax(at.scores + at.intercepts.astype(at.scores.dtype))

    def _errors(self, shares: Array) -> Array:
        shares[np.arange(len(self._own)), self._own] -= 1
        shares /= self._n
        return shares

    def _square(self, one: Step, other: Step) -> float:
        """The dot product of the weights of two, without the intercepts, which are not in the penalty."""
        return self._space.dot(one, other) - float(np.vdot(one.intercepts, other.intercepts))

    def _loss(self, at: Step, penalty: float) -> float:
        scores = at.scores + at.intercepts
        return float(log_loss(scores, self._own).sum()) / self._n + 0.5 * penalty * self._square(at, at)

    def _length(self, at: Step, direction: Step, penalty: float, loss: float, falls: float) -> tuple[float, float]:
        """The step length along a direction, 0 if nothing is gained, and the loss there. No product with the rows is needed to tell.

        loss: where it begins; falls: the slope along the direction there.
        """
        scores = at.scores + at.intercepts
        change = direction.scores + direction.intercepts
        rows = np.arange(len(self._own))
        square, mixed = self._square(at, at), self._square(at, direction)
        steep = self._square(direction, direction)
        own, own_change = scores[rows, self._own], change[rows, self._own]
        length = 1.0
        for _ in range(_HALVINGS):
            here = scores + length * change
            most = here.max(axis=1)
            here -= most[:, None]
            np.exp(here, out=here)
            new = float((np.log(here.sum(axis=1)) + most - own - length * own_change).sum()) / self._n
            new += 0.5 * penalty * (square + 2 * length * mixed + length * length * steep)
            if new <= loss + _ENOUGH * length * falls:
                return length, new
            length /= 2
        return 0.0, loss

    def _direction(self, slope: Step, memory: list[tuple[Step, Step, float]], curvature: float, penalty: float) -> Step:
        """Against the slope, bent by the curvature of the last steps."""
        space = self._space
        found = slope.scaled(-1)
        shares = []
        for moved, changed, inverse in reversed(memory):
            share = inverse * space.dot(moved, found)
            found.add(-share, changed)
            shares.append(share)
        found = space.bent(found, curvature, penalty)
        for (moved, changed, inverse), share in zip(memory, reversed(shares), strict=True):
            found.add(share - inverse * space.dot(changed, found), moved)
        return found
