# SPDX-License-Identifier: GPL-3.0-or-later
"""The case for and against a number of groups from a sweep, in words."""

from __future__ import annotations

import numpy as np

from jagged_lens.group import BREAKS, HOLDS, Sweep

_NEAR = 0.9  # so much of the highest silhouette is nearly as good
_LOW = 0.1  # a silhouette below it says that groups run into each other


def said(sweep: Sweep) -> str:
    """The case for and against the suggested number; if there is none, the reason."""
    if not len(sweep):
        return ""
    if not sweep.suggested:
        return (
            f"No number is suggested: with none of them does mean stability reach {BREAKS}. Other samples of the documents "
            f"give other groups. Any number is one way to divide them, not the number of kinds.{_best_of_each(sweep)}"
        )
    at = sweep.row(sweep.suggested)
    silhouette, holding, agreement = sweep.silhouette[at], sweep.holding[at], sweep.agreement[at]
    held = f"mean stability {holding:.2f}"
    for_ = [f"the highest silhouette ({silhouette:.3f}) among the stable numbers", held]
    against: list[str] = []
    if holding < HOLDS:
        against.append(f"some of its groups are not stable (below {HOLDS})")
    if silhouette < _LOW:
        against.append("a low silhouette: the groups run into each other")
    higher = sweep.groups[(sweep.silhouette > silhouette) & (sweep.holding < BREAKS)]
    if len(higher):
        against.append(
            f"{_listed(higher)} would be better separated, but {'is' if len(higher) == 1 else 'are'} not stable"
        )
    holding_better = sweep.groups[sweep.holding > holding + 0.02]
    if len(holding_better):
        against.append(f"{_listed(holding_better)} {'is' if len(holding_better) == 1 else 'are'} more stable")
    others = np.flatnonzero((sweep.silhouette >= _NEAR * silhouette) & (sweep.holding >= BREAKS))
    near = sweep.groups[others[others != at]]
    if len(near):
        against.append(f"{_listed(near)} {'is' if len(near) == 1 else 'are'} nearly as good")
    if agreement >= HOLDS:
        for_.append(f"the tries agree (Rand index {agreement:.2f})")
    words = f"For {sweep.suggested}: {'; '.join(for_)}."
    return words + (f" Against it: {'; '.join(against)}." if against else " Nothing here speaks against it.")


def _best_of_each(sweep: Sweep) -> str:
    """The number that is best by each measure, with its value."""
    measures = (
        ("stability", sweep.holding, 2),
        ("silhouette", sweep.silhouette, 3),
        ("agreement of the tries", sweep.agreement, 2),
        ("cohesion", sweep.tightness, 3),
    )
    found = []
    for name, values, places in measures:
        if not np.isnan(values).all():
            at = int(np.nanargmax(values))
            found.append(f"{name} with {sweep.groups[at]} ({values[at]:.{places}f})")
    return f" Best by each measure: {', '.join(found)}." if found else ""


def told(sweep: Sweep, groups: int) -> str:
    """The figures of one number."""
    at = sweep.row(groups)
    if at < 0:
        return ""
    return (
        f"{groups} groups: cohesion {sweep.tightness[at]:.3f}, silhouette {sweep.silhouette[at]:.3f}, stability "
        f"{sweep.holding[at]:.2f}, agreement {sweep.agreement[at]:.2f}"
    )


def _listed(numbers: np.ndarray) -> str:
    some = [str(one) for one in numbers[:4].tolist()]
    if len(numbers) > 4:
        return f"{', '.join(some)} and {len(numbers) - 4} more"
    return " and ".join([", ".join(some[:-1]), some[-1]]) if len(some) > 1 else some[0]
