# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of Group."""

from __future__ import annotations

from typing import Literal

from pydantic import model_validator
from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting

SWEEP = (2, 200)
"""The fewest and the most groups that a sweep goes over."""
_NUMBERED = ("by", ("k-means", "tree"))


@dataclass(frozen=True, config=STRICT)
class GroupSettings:
    """The settings for grouping documents."""

    by: Literal["k-means", "tree", "label", "theme"] = setting(
        "k-means",
        label="By",
        help="k-means: on the cosine; rows and centroids have length 1. tree: the two nearest groups are joined, again and "
        "again. label: the values of a label are the groups. theme: each document is in the group of its strongest theme; needs themes "
        "that add up.",
        said={"k-means": "k-means", "tree": "a tree", "label": "a label", "theme": "the strongest theme"},
    )
    groups: int = setting(
        0,
        label="Groups",
        help="Number of groups. 0: chosen from the number of documents, about 10 for 640, 20 for 3,000, 40 for 20,000.",
        said={0: "chosen from the number of documents"},
        low=0,
        high=1000,
        unit="groups",
        when=_NUMBERED,
    )
    group_size: int = setting(
        0,
        label="Group size",
        help="Average number of documents in a group; overrides Groups. 0: Groups applies.",
        said={0: "as it comes"},
        low=0,
        high=10_000_000,
        unit="documents",
        when=_NUMBERED,
    )
    starts: int = setting(
        5,
        label="Starts",
        help="Number of random starts; the best result is kept.",
        low=1,
        high=100,
        unit="starts",
        when=("by", ("k-means",)),
    )
    linkage: Literal["single", "complete", "average", "ward"] = setting(
        "average",
        label="Linkage",
        help="Distance between two groups of the tree. single, complete, average: the smallest, the largest, the mean 1 - "
        "cosine of their documents. ward: the growth of squared distances to the centroid when they are joined.",
        said={"single": "the smallest", "complete": "the largest", "average": "the mean", "ward": "Ward's"},
    )
    label: str = setting(
        "",
        label="Label",
        help="With by = label: its values are the groups.",
        names_label=True,
        when=("by", ("label",)),
        said={"": "none yet"},
    )
    against: str = setting("", label="Against", help="A label that the groups are compared with.", leaf=False)
    sweep: tuple[int, ...] = setting(
        (),
        label="Sweep",
        help="Two numbers, the fewest and the most groups to try; each number measured. Empty: no sweep.",
        leaf=False,
        allowed=f"two whole numbers from {SWEEP[0]} to {SWEEP[1]}, the smaller first, or []",
    )
    holding: bool = setting(
        False,
        label="Stability",
        help="true: 20 random subsets of four fifths of the documents are grouped again, to measure which groups come back.",
        said={True: "measured", False: "not measured"},
    )
    seed: int = setting(
        1, label="Seed", help="Seed of the random starts. The same seed gives the same groups.", low=0, high=2**31 - 1
    )

    @property
    def searched(self) -> bool:
        """True if groups are searched for, so that their number is a choice and they may come back or not."""
        return self.by in ("k-means", "tree")

    @model_validator(mode="after")
    def _fits(self) -> GroupSettings:
        if self.sweep and not (len(self.sweep) == 2 and SWEEP[0] <= self.sweep[0] <= self.sweep[1] <= SWEEP[1]):
            raise ValueError(
                f"sweep must be two whole numbers from {SWEEP[0]} to {SWEEP[1]}, the smaller first, or empty"
            )
        return self

    def number(self, rows: int) -> int:
        """The number of groups for a number of rows.

        >>> [GroupSettings().number(rows) for rows in (5, 100, 640, 3_000, 20_000, 1_000_000)]
        [2, 5, 10, 20, 40, 190]
        """
        if self.group_size:
            return min(max(round(rows / self.group_size), 1), 1000)
        return self.groups or fitting_number(rows)


def fitting_number(rows: int) -> int:
    """The default number of groups for a number of rows: 0.75 n^0.4, in fives from 13 up. A beginning, and no finding: the sweep of *How
    many* tries numbers."""
    number = max(0.75 * float(rows) ** 0.4, 2.0)
    return int(min(5 * round(number / 5) if number >= 13 else round(number), 1000))


SENTENCES = (
    "Groups are made by {by}.",
    "Label: {label}",
    "Number of groups: {groups}",
    "Average group size: {group-size}",
    "Keep the best of {starts} starts.",
    "The tree joins groups by {linkage} distance.",
    "Stability: {holding}",
    "Random seed: {seed}",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
