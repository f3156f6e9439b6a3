# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of a recipe, checked against their declarations. An error names the key and what is allowed."""

from __future__ import annotations

import difflib
import typing
from typing import Any

from pydantic import ValidationError

from jagged_lens.errors import RecipeError
from jagged_lens.setting import Declared, declared


def checked(section: str, settings: type, values: dict[str, Any]) -> Any:
    """A settings dataclass of recipe keys and values. RecipeError names the key, what is allowed, the nearest key.

    section: what stands before the key in an error, such as "[gather]".
    """
    known = declared(settings)
    arguments = {}
    for key, value in values.items():
        where = f"{section} {key}"
        if key not in known:
            raise RecipeError("there is no such setting", where, nearest(key, known, "Settings"))
        setting = known[key]
        items = value if isinstance(value, list) else [value]
        if any(isinstance(item, int) and not -(2**63) <= item < 2**63 for item in items):
            raise RecipeError("this number is too large", where, f"Allowed: {setting.allowed}.")
        if setting.parse is not None:
            value = setting.parse(value, where)
        arguments[setting.name] = tuple(value) if isinstance(value, list) else value
    try:
        return settings(**arguments)
    except ValidationError as error:
        raise _sentence(section, known, error) from None


def nearest(name: str, known: typing.Iterable[str], what: str) -> str:
    """The names that exist, and the one nearest to a name that does not."""
    names = list(known)
    near = difflib.get_close_matches(name, names, 1, 0.4)
    return f'The nearest is "{near[0]}". {what}: {", ".join(names)}.' if near else f"{what}: {', '.join(names)}."


def _sentence(section: str, known: dict[str, Declared], error: ValidationError) -> RecipeError:
    first = error.errors()[0]
    by_name = {setting.name: setting for setting in known.values()}
    setting = by_name.get(str(first["loc"][0])) if first["loc"] else None
    words = first["msg"].removeprefix("Value error, ")
    if setting is None:  # a rule about several settings together
        span = next((one for one in known.values() if one.is_range), None)
        return RecipeError(words, f"{section} {span.key}" if span and words.startswith("must be two") else section)
    given = _shown(first["input"])
    near = difflib.get_close_matches(str(first["input"]), setting.choices, 1)
    meant = f' Did you mean "{near[0]}"?' if near else ""
    return RecipeError(f"{given} is not allowed", f"{section} {setting.key}", f"Allowed: {setting.allowed}.{meant}")


def _shown(value: object) -> str:
    if isinstance(value, str):
        return f'"{value}"'
    if isinstance(value, bool):
        return str(value).lower()
    return repr(list(value)) if isinstance(value, tuple) else repr(value)
