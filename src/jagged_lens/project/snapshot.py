# SPDX-License-Identifier: GPL-3.0-or-later
"""A snapshot: results that belong together, as they were at one moment."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from jagged_lens.lens import Part, Recipe, Results, name_of


class Snapshot(Results):
    """Results of one recipe; whatever is computed afterwards, they stay.

    recipe: that they were computed with. growing: previews of what was under way then.
    """

    def __init__(
        self, recipe: Recipe, of: Mapping[str, Any], keys: Mapping[str, str], growing: Mapping[str, Any]
    ) -> None:
        super().__init__(of)
        self.recipe = recipe
        self.growing = Results(growing)
        self._keys = dict(keys)

    def has(self, *parts: Part[Any]) -> bool:
        """True if the results of all these parts are in it."""
        return all(part in self for part in parts)

    def keys_of(self, parts: Iterable[Part[Any]]) -> tuple[str, ...]:
        """The keys of the results of some parts, "" for one that is not there: equal keys, equal results."""
        return tuple(self._keys.get(name_of(part), "") if part in self else "" for part in parts)
