# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of Weigh."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting


@dataclass(frozen=True, config=STRICT)
class WeighSettings:
    """A weight is local × global, then the row is brought to a length."""

    local: Literal["presence", "count", "share", "log"] = setting(
        "log",
        label="In its document",
        help="presence: 1. count: c. share: c ÷ all counts of the document. log: 1 + ln c.",
        said={
            "presence": "1, if it is there",
            "count": "its count",
            "share": "its share of the counts",
            "log": "1 + ln of its count",
        },
    )
    global_: Literal["none", "plain", "guarded", "lifted", "probabilistic", "entropy"] = setting(
        "plain",
        label="In all documents",
        help="none: 1. plain: ln(N/df). guarded: ln(N/(1+df)). lifted: ln((1+N)/(1+df)) + 1. "
        "probabilistic: ln((N-df)/df), at least 0. entropy: 1 + Σ p ln p / ln N.",
        said={
            "none": "nothing more",
            "plain": "plain idf",
            "guarded": "guarded idf",
            "lifted": "lifted idf",
            "probabilistic": "probabilistic idf",
            "entropy": "its entropy",
        },
    )
    length: Literal["none", "L1", "L2"] = setting(
        "L2",
        label="Length",
        help="L1: weights of a document add up to 1. L2: their squares do.",
        said={"none": "as they are", "L1": "to the sum 1", "L2": "to the length 1"},
    )
    log_base: Literal["e", "2", "10"] = setting(
        "e",
        label="Log base",
        help="The base of the logarithm in the weight over all documents.",
        when=("global_", ("plain", "guarded", "lifted", "probabilistic")),
    )
    themes: int = setting(
        0,
        label="Themes",
        help="Reduce the terms to so many themes (truncated SVD), on which the later steps work; 0: they work on the terms themselves.",
        said={0: "none, they work on the terms"},
        low=0,
        high=2000,
        unit="themes",
    )


SENTENCES = (
    "In its document a term weighs {local}.",
    "That is multiplied by {global}.",
    "Logarithms are to the base {log-base}.",
    "Weights of a document are brought {length}.",
    "Themes on which later steps work: {themes}.",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
