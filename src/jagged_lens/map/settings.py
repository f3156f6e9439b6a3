# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of Map."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting


@dataclass(frozen=True, config=STRICT)
class MapSettings:
    """The settings for laying out documents in two dimensions."""

    by: Literal["pca", "scaling", "t-sne"] = setting(
        "t-sne",
        label="By",
        help="pca: the two directions in which the weights differ most. scaling: distances on the map match those in the "
        "space as closely as possible. t-sne: near documents lie together.",
        said={"pca": "principal components", "scaling": "scaling", "t-sne": "t-SNE"},
    )
    pull: float = setting(
        1.0,
        label="Pull",
        help="For by = t-sne: attraction against repulsion after the first rounds. About 4 draws neighbours tightly together, 30 is nearly "
        "a spectral layout.",
        when=("by", ("t-sne",)),
        low=0.1,
        high=100,
    )
    near: int = setting(
        15,
        label="Near",
        help="For by = t-sne: number of nearest neighbours that attract each document.",
        when=("by", ("t-sne",)),
        low=2,
        high=200,
        unit="documents",
    )
    seed: int = setting(
        1,
        label="Seed",
        help="Seed of the starting positions. PCA finds the same directions from any start.",
        low=0,
        high=2**31 - 1,
    )


SENTENCES = (
    "Documents are laid out by {by}.",
    "Each document is drawn to its {near} nearest neighbours, with strength {pull}.",
    "Random seed: {seed}",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
