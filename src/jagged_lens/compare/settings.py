# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of Compare."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting


@dataclass(frozen=True, config=STRICT)
class CompareSettings:
    """The similarity of documents, and which pairs are listed."""

    measure: Literal["cosine", "euclidean", "hellinger"] = setting(
        "cosine",
        label="Measure",
        help="cosine: angle of the weights. euclidean: 1 ÷ (1 + distance of the weights). hellinger: Σ√(p q) of the shares of kept counts.",
        said={"cosine": "the cosine", "euclidean": "the Euclidean distance", "hellinger": "the Hellinger affinity"},
    )
    pairs_from: float = setting(
        0.8, label="List pairs from", help="Pairs at least this similar are listed.", above=0, high=1
    )
    copies_below: bool = setting(
        True,
        label="All copies",
        help="true: all near-duplicates are listed besides, however low their similarity: same wording, some words changed, "
        "one contains the other.",
        said={True: "and all copies below", False: "and no others"},
    )
    pairs_across: str = setting(
        "",
        label="Only across",
        help="A label: list only pairs whose documents have different values of it.",
        names_label=True,
        said={"": "any label"},
    )
    pairs_within: str = setting(
        "",
        label="Only within",
        help="A label: list only pairs whose documents have the same value of it.",
        names_label=True,
        said={"": "any label"},
    )
    neighbours: int = setting(
        12,
        label="Nearest",
        help="Number of nearest neighbours kept for each document.",
        low=1,
        high=1000,
        unit="documents",
    )
    exact: bool = setting(
        True,
        label="All exact",
        help="Matters from 20,000 documents. true: every document is compared with every other. false: only with those "
        "that share its heaviest terms, which is faster; the share of true neighbours found is measured and reported.",
        said={True: "exact", False: "approximate"},
    )


SENTENCES = (
    "Similarity is measured by {measure}.",
    "List pairs from {pairs-from} up, {copies-below}.",
    "List only pairs across values of {pairs-across}, only pairs within values of {pairs-within}.",
    "For each document, keep its {neighbours} nearest ({exact}).",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
