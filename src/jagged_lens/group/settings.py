"""The settings of Group."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting


@dataclass(frozen=True, config=STRICT)
class GroupSettings:
    """How documents are put into groups."""

    by: Literal["k-means"] = setting(
        "k-means", label="By", help="k-means on the cosine: rows and centroids have length 1.", later=("tree",)
    )
    groups: int = setting(9, label="Groups", help="How many groups are made.", low=1, high=1000, unit="groups")
    starts: int = setting(
        5, label="Starts", help="The best of so many starts is taken.", low=1, high=100, unit="starts"
    )
    linkage: Literal["single", "complete", "average", "ward"] = setting(
        "average", label="Linkage", help="For by = tree.", built=False
    )
    seed: int = setting(
        1, label="Seed", help="Another seed, other starts. The same seed gives the same groups.", low=0, high=2**31 - 1
    )
