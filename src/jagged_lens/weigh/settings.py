# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of Weigh."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.errors import ChosenElsewhereError
from jagged_lens.setting import STRICT, derived, setting
from jagged_lens.vectors import is_service

Space = Literal["terms", "themes", "adding", "learned", "file", "service"]
USUAL_THEMES = 100
USUAL_ADDING = 20
"""Numbers of themes to begin with."""


@dataclass(frozen=True, config=STRICT)
class WeighSettings:
    """A weight is local × global, then the row is brought to a length."""

    local: Literal["presence", "count", "share", "log"] = setting(
        "log",
        label="In its document",
        help="presence: 1. count: c. share: c ÷ all counts of the document. log: 1 + ln c.",
        said={
            "presence": "1 if present",
            "count": "the count",
            "share": "the share of the counts",
            "log": "1 + ln of the count",
        },
    )
    global_: Literal["none", "plain", "guarded", "lifted", "probabilistic", "entropy"] = setting(
        "plain",
        label="In all documents",
        help="none: 1. plain: ln(N/df). guarded: ln(N/(1+df)). lifted: ln((1+N)/(1+df)) + 1. "
        "probabilistic: ln((N-df)/df), at least 0. entropy: 1 + Σ p ln p / ln N.",
        said={
            "none": "none",
            "plain": "plain idf",
            "guarded": "guarded idf",
            "lifted": "lifted idf",
            "probabilistic": "probabilistic idf",
            "entropy": "entropy",
        },
    )
    length: Literal["none", "L1", "L2"] = setting(
        "L2",
        label="Length",
        help="L1: the weights of a document add up to 1. L2: their squares do.",
        said={"none": "not at all", "L1": "to the sum 1", "L2": "to the length 1"},
    )
    log_base: Literal["e", "2", "10"] = setting(
        "e",
        label="Log base",
        help="Base of the logarithm in the weight over all documents.",
        when=("global_", ("plain", "guarded", "lifted", "probabilistic")),
    )
    themes: int = setting(
        0,
        label="Themes",
        help="Reduce the terms to this many themes (truncated SVD) for the later steps. 0: the later steps work on the terms.",
        said={0: "none (the terms themselves)"},
        low=0,
        high=2000,
        unit="themes",
        when=("space", ("themes", "adding")),
    )
    themes_by: Literal["svd", "adding"] = setting(
        "svd",
        label="Themes by",
        help="svd: singular value decomposition; each theme has two ends. adding: themes that add up; a document is a sum of "
        "non-negative amounts of themes, which are easier to name.",
        said={"svd": "singular value decomposition", "adding": "adding up"},
        when=("space", ("themes", "adding")),
        leaf=False,
    )
    vectors: str = setting(
        "",
        label="Vectors",
        help="Vectors for the later steps in place of terms and themes. learned: from the company of words, so that documents in other "
        "words come together. Or the path of a file (.npy, .npz, .csv, .tsv, .parquet), or the address of a service.",
        said={"": "none", "learned": "learned from the company of words"},
        when=("space", ("file", "service")),
        allowed='"", "learned", the path of a file, or the address of a service',
    )
    dimensions: int = setting(
        100,
        label="Dimensions",
        help="Dimensions of the learned vectors; fewer if the words have fewer.",
        low=2,
        high=1000,
        when=("space", ("learned",)),
    )
    model: str = setting(
        "",
        label="Model",
        help="Name of the model that a service uses; the service says which it has.",
        said={"": "the usual one of the service"},
        when=("space", ("service",)),
    )

    @property
    def vectors_from(self) -> Literal["", "learned", "file", "service"]:
        """The origin of the vectors; "" if the later steps work on terms or themes."""
        if self.vectors in ("", "learned"):
            return "learned" if self.vectors else ""
        return "service" if is_service(self.vectors) else "file"

    @property
    def works_on(self) -> str:
        """The name of the space of the later steps: terms, themes or vectors."""
        return "vectors" if self.vectors else "themes" if self.themes else "terms"

    @property
    def space(self) -> Space:
        """The space of the later steps."""
        if self.vectors_from:
            return self.vectors_from
        if not self.themes:
            return "terms"
        return "adding" if self.themes_by == "adding" else "themes"


def _spread(settings: WeighSettings, value: str) -> dict[str, object]:
    """The settings by which the later steps work on another space."""
    if value == settings.space:
        return {}
    if value in ("file", "service"):
        raise ChosenElsewhereError(
            f"no {value} is chosen yet", "[weigh] vectors", "Choose it on the desk Weigh, under Space."
        )
    themes = settings.themes or (USUAL_ADDING if value == "adding" else USUAL_THEMES)
    plain: dict[str, object] = {"vectors": "", "themes": 0}
    beside: dict[str, dict[str, object]] = {
        "terms": {},
        "themes": {"themes": themes, "themes-by": "svd"},
        "adding": {"themes": themes, "themes-by": "adding"},
        "learned": {"vectors": "learned"},
    }
    return plain | beside.get(value, {})


DERIVED = {
    "space": derived(
        "space",
        Space,
        "terms",
        label="Space",
        help="What pairs, groups and the map compare: the terms themselves, fewer themes made of them, or vectors. Copies are always found on "
        "the texts.",
        said={
            "terms": "the terms",
            "themes": "themes",
            "adding": "themes that add up",
            "learned": "learned vectors",
            "file": "vectors from a file",
            "service": "vectors from a service",
        },
        spread=_spread,
    )
}
"""Choices that stand for several settings."""

SENTENCES = (
    "Weight within the document: {local}",
    "Weight over all documents: {global}",
    "Base of its logarithm: {log-base}",
    "Scale each document {length}.",
    "The later steps work on: {space}",
    "Number of themes: {themes}",
    "Dimensions: {dimensions}",
    "Vectors from: {vectors}",
    "Model of the service: {model}",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
