# SPDX-License-Identifier: GPL-3.0-or-later
"""The sentences of the Contrast desk."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby

from jagged_lens.contrast import TwoLenses
from jagged_lens.desktop.look.words import TITLES, amount
from jagged_lens.project import Difference

_AGREE = (
    (0.9, "nearly the same groups"),
    (0.65, "largely the same groups"),
    (0.3, "partly the same groups"),
    (-1.0, "groups with little in common"),
)
_CLEAR = 0.05


def differing(found: Sequence[Difference]) -> str:
    """The differences between two lenses, step by step.

    >>> differing([Difference("group", "By", "k-means", "tree"), Difference("group", "Groups", "10", "4")])
    'Group: by k-means → tree, groups 10 → 4'
    """
    if not found:
        return "Both lenses have the same settings."
    parts = []
    for step, some in groupby(found, key=lambda one: one.step):
        said = ", ".join(f"{one.label[:1].lower()}{one.label[1:]} {one.before} → {one.after}" for one in some)
        parts.append(f"{TITLES[step]}: {said}")
    return " · ".join(parts)


def agreeing(found: TwoLenses, label: str = "") -> str:
    """The agreement of two lenses, in figures and in words. label: the label whose values are the groups of both, "" if there is none."""
    if not len(found.rows):
        return "The two lenses have no document in common."
    n = len(found.rows)
    same = found.adjusted_rand
    words = next((words for least, words in _AGREE if same >= least), _AGREE[-1][1])
    if label:
        groups = f"the same groups: both come from the label {label}"
    elif same != same:
        groups = "no groups to compare"
    elif same <= found.by_chance:
        groups = f"groups that agree no more than by chance (adjusted Rand {same:.2f}; random orders reach {found.by_chance:.2f})"
    else:
        groups = f"{words} (adjusted Rand {same:.2f}; random orders reach {found.by_chance:.2f})"
    moved = len(found.moved)
    fit = "fit well" if found.apart < 0.3 else "fit in part" if found.apart < 0.75 else "hardly fit"
    apart = f" The maps {fit} (misfit after alignment: {found.apart:.0%})." if found.apart == found.apart else ""
    return (
        f"{amount(n, 'document')} in both: {groups}. On average {found.mean_kept:.0%} of the 12 nearest are kept; "
        f"{'no document loses any' if not moved else f'{moved:,} documents lose some'}; {int(found.elsewhere.sum()):,} "
        f"moved away from most of their group.{apart}"
    )


def going_with(superiority: float, chance: float, date: bool) -> str:
    """The association of a term with a number or a date.

    >>> going_with(0.72, 0.001, True), going_with(0.3, 0.01, False), going_with(0.6, 0.4, False)
    ('clearly later', 'clearly lower', 'could be chance')
    """
    if chance > _CLEAR:
        return "could be chance"
    far = abs(superiority - 0.5)
    way = ("later" if date else "higher") if superiority > 0.5 else ("earlier" if date else "lower")
    return f"{'strongly' if far >= 0.25 else 'clearly' if far >= 0.1 else 'slightly'} {way}"
