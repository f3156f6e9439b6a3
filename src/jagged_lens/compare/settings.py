# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of Compare."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting


@dataclass(frozen=True, config=STRICT)
class CompareSettings:
    """How alike two documents are, and which pairs are listed."""

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
        help="true: besides the pairs that are so alike, all near-duplicates are listed: same wording, some words changed, one holds the "
        "other, however little alike the weights make them.",
        said={True: "and all copies besides", False: "and no other"},
    )
    pairs_across: str = setting(
        "",
        label="Only across",
        help="A label: only pairs are listed whose documents have different values of it.",
        names_label=True,
        said={"": "any label"},
    )
    pairs_within: str = setting(
        "",
        label="Only within",
        help="A label: only pairs are listed whose documents have the same value of it.",
        names_label=True,
        said={"": "any label"},
    )
    neighbours: int = setting(
        12,
        label="Nearest",
        help="So many nearest neighbours are listed for each document.",
        low=1,
        high=1000,
        unit="documents",
    )
    exact: bool = setting(
        True,
        label="All exact",
        help="Nearest neighbours of more than 20,000 documents. true: every document is compared with every other. false: only with its "
        "nearest in 100 themes, which is faster; how many of the true ones that finds is measured and said.",
        said={True: "all compared exactly", False: "found by candidates"},
    )


SENTENCES = (
    "Two documents are as alike as {measure} says.",
    "Pairs from {pairs-from} on are listed, {copies-below}.",
    "Only pairs across values of {pairs-across}, only within those of {pairs-within}.",
    "Of each document the {neighbours} nearest are kept, {exact}.",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
