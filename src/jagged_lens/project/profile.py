# SPDX-License-Identifier: GPL-3.0-or-later
"""The profile of a lens: how much comes through each of its seven steps, from 0 to 1."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from jagged_lens.lens import CORPUS, GROUPING, LAYOUT, PAIRS, SPACE, STEPS, TERMS, TOKENS, Results


def share_through(step: str, results: Results) -> float:
    """The share that came through a step: the length of its tooth. 0 if there is no result.

    gather: documents that hold text. clean: words kept. terms: different terms kept. weigh: documents that keep any
    weight. compare: documents in a listed pair. group: mean cosine to the own centroid. map: trust.
    """
    try:
        share = float(np.nan_to_num(_SHARES[step](results)))
    except KeyError:
        return 0.0
    return min(max(share, 0.0), 1.0)


def profile(results: Results) -> tuple[float, ...]:
    """The seven shares of a lens."""
    return tuple(share_through(step, results) for step in STEPS)


def _in_pairs(results: Results) -> float:
    pairs = results[PAIRS]
    return float(pairs.paired / max(pairs.documents, 1))


def _with_text(results: Results) -> float:
    lengths = np.diff(results[CORPUS].texts.starts)
    return float((lengths > 0).mean()) if len(lengths) else 0.0


_SHARES: dict[str, Callable[[Results], float]] = {
    "gather": _with_text,
    "clean": lambda r: r[TOKENS].account[-1].left / max(r[TOKENS].account[0].left, 1),
    "terms": lambda r: len(r[TERMS].kept) / max(len(r[TERMS].vocabulary), 1),
    "weigh": lambda r: float((~r[SPACE].empty).mean()) if len(r[SPACE].empty) else 0.0,
    "compare": _in_pairs,
    "group": lambda r: r[GROUPING].quality,
    "map": lambda r: r[LAYOUT].overall,
}
