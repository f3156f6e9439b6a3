# SPDX-License-Identifier: GPL-3.0-or-later
"""The differences in the settings of two lenses."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from jagged_lens.lens import STEPS, Recipe, settings_of
from jagged_lens.setting import Declared

_LATER = {("group", "against"), ("group", "sweep"), ("group", "holding")}
"""Settings that measure what is there, and change no result that is compared."""
_NAMED = 4  # entries of a list


@dataclass(frozen=True)
class Difference:
    """A setting that is another in the second lens: its step, its label, and both values in words."""

    step: str
    label: str
    before: str
    after: str


def differences(first: Recipe, second: Recipe) -> list[Difference]:
    """The settings that are not the same in both, in the order of the work, as far as they count beside the others."""
    found = []
    for step in STEPS:
        one, other = getattr(first, step), getattr(second, step)
        for key, setting in settings_of(step).items():
            before, after = getattr(one, setting.name), getattr(other, setting.name)
            if before != after and (step, key) not in _LATER and (_counts(one, setting) or _counts(other, setting)):
                found.append(Difference(step, setting.label, _value_words(before), _value_words(after)))
    return found


def _counts(settings: Any, setting: Declared) -> bool:
    """True if a setting counts beside the others of its step."""
    if setting.key == "linkage":  # it is always shown, since the ridge is drawn with it, but only a tree is cut
        return bool(settings.by == "tree")
    return setting.when is None or getattr(settings, setting.when[0]) in setting.when[1]


def _value_words(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, tuple):
        if len(value) == 2 and all(isinstance(one, int) for one in value):
            return f"{value[0]} to {value[1]}"
        return (
            ", ".join(_value_words(one) for one in value[:_NAMED])
            + (f" … ({len(value)})" if len(value) > _NAMED else "")
            or "none"
        )
    if isinstance(value, float):
        return f"{value:g}"
    return str(value) or "none"
