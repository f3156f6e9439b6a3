"""The settings of Map."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting


@dataclass(frozen=True, config=STRICT)
class MapSettings:
    """How documents are laid out in two dimensions."""

    by: Literal["pca"] = setting(
        "pca", label="By", help="pca: the two directions in which the weights differ most.", later=("scaling", "t-sne")
    )
    pull: float = setting(1.0, label="Pull", help="For by = t-sne: attraction against repulsion.", built=False)
    near: int = setting(12, label="Near", help="For by = t-sne: neighbours of the graph.", built=False)
    seed: int = setting(
        1,
        label="Seed",
        help="Where the search for the two directions starts. PCA finds the same ones from anywhere.",
        low=0,
        high=2**31 - 1,
    )
