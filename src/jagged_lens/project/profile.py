"""The profile of a lens: how much comes through each of its seven steps, from 0 to 1."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from jagged_lens.lens import STEPS


def share_through(step: str, results: dict[str, Any]) -> float:
    """How much came through a step: the length of its tooth. 0 where its result is not there.

    gather: documents that hold text. clean: words kept. terms: different terms kept. weigh: documents that keep any
    weight. compare: documents in a listed pair. group: mean cosine to the own centroid. map: trust.
    """
    try:
        share = float(np.nan_to_num(_SHARES[step](results)))
    except KeyError:
        return 0.0
    return min(max(share, 0.0), 1.0)


def profile(results: dict[str, Any]) -> tuple[float, ...]:
    """The seven shares of a lens."""
    return tuple(share_through(step, results) for step in STEPS)


def _in_pairs(results: dict[str, Any]) -> float:
    pairs = results["pairs"]
    return float(pairs.paired / max(pairs.documents, 1))


def _with_text(results: dict[str, Any]) -> float:
    lengths = np.diff(results["corpus"].texts.starts)
    return float((lengths > 0).mean()) if len(lengths) else 0.0


_SHARES: dict[str, Callable[[dict[str, Any]], float]] = {
    "gather": _with_text,
    "clean": lambda r: r["tokens"].account[-1].left / max(r["tokens"].account[0].left, 1),
    "terms": lambda r: len(r["terms"].kept) / max(len(r["terms"].vocabulary), 1),
    "weigh": lambda r: float((~r["space"].empty).mean()) if len(r["space"].empty) else 0.0,
    "compare": _in_pairs,
    "group": lambda r: r["grouping"].quality,
    "map": lambda r: r["layout"].overall,
}
