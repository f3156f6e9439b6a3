"""A recipe: the settings of all seven steps, which together are a lens."""

from __future__ import annotations

import dataclasses
import difflib
import typing
from dataclasses import dataclass, field
from typing import Any

from pydantic import ValidationError

from jagged_lens.clean import CleanSettings
from jagged_lens.compare import CompareSettings
from jagged_lens.errors import RecipeError
from jagged_lens.gather import GatherSettings
from jagged_lens.group import GroupSettings
from jagged_lens.map import MapSettings
from jagged_lens.setting import Declared, declared
from jagged_lens.terms import TermSettings
from jagged_lens.weigh import WeighSettings


@dataclass(frozen=True)
class Recipe:
    """One frozen settings dataclass a step. Two equal recipes give the same results on the same documents."""

    gather: GatherSettings = field(default_factory=GatherSettings)
    clean: CleanSettings = field(default_factory=CleanSettings)
    terms: TermSettings = field(default_factory=TermSettings)
    weigh: WeighSettings = field(default_factory=WeighSettings)
    compare: CompareSettings = field(default_factory=CompareSettings)
    group: GroupSettings = field(default_factory=GroupSettings)
    map: MapSettings = field(default_factory=MapSettings)

    def with_setting(self, step: str, key: str, value: object) -> Recipe:
        """This recipe with one setting changed. RecipeError where the value is not allowed."""
        return self.with_settings(step, {key: value})

    def with_settings(self, step: str, values: dict[str, object]) -> Recipe:
        """This recipe with some settings of one step changed together."""
        settings = getattr(self, step)
        names = declared(type(settings))
        own = {key: getattr(settings, one.name) for key, one in names.items()}
        return dataclasses.replace(self, **{step: checked(step, type(settings), {**own, **values})})

    @property
    def seed(self) -> int:
        """The seed of the groups, the one a run is known by."""
        return self.group.seed


STEPS: tuple[str, ...] = tuple(one.name for one in dataclasses.fields(Recipe))
"""The names of the seven steps, in the order of the work."""

_TYPES: dict[str, type] = {name: kind for name, kind in typing.get_type_hints(Recipe).items() if name in STEPS}


def settings_of(step: str) -> dict[str, Declared]:
    """The settings of a step as they were declared, by recipe key."""
    return declared(_TYPES[step])


def recipe_of(sections: dict[str, Any]) -> Recipe:
    """The recipe that nested dictionaries (a parsed recipe file) mean; what is left out has the default.

    RecipeError for an unknown section or key, or a value that is not allowed or not built yet.
    """
    steps = {}
    for name, values in sections.items():
        if name not in STEPS:
            raise RecipeError(f"there is no section [{name}]", remedy=_nearest(name, STEPS, "Sections"))
        if not isinstance(values, dict):
            raise RecipeError(
                f"[{name}] must be a section with settings", remedy=f"Write [{name}] on a line of its own."
            )
        steps[name] = checked(name, _TYPES[name], values)
    return Recipe(**steps)


def checked(step: str, settings: type, values: dict[str, Any]) -> Any:
    """A settings dataclass of recipe keys and values. RecipeError names the key, what is allowed, the nearest key."""
    known = declared(settings)
    arguments = {}
    for key, value in values.items():
        where = f"[{step}] {key}"
        if key not in known:
            raise RecipeError("there is no such setting", where, _nearest(key, known, "Settings"))
        setting = known[key]
        items = value if isinstance(value, list) else [value]
        if late := [item for item in items if isinstance(item, str) and item in setting.later]:
            raise RecipeError(f'"{late[0]}" is not built in this version', where, f"Allowed: {setting.allowed}.")
        if not setting.built and value != setting.default:
            raise RecipeError("this setting is not built in this version", where, f"Allowed: {setting.allowed}.")
        if isinstance(value, dict):
            kinds = ", ".join(value) or "table"
            raise RecipeError(
                f"a source of this kind ({kinds}) is not built in this version", where, f"Allowed: {setting.allowed}."
            )
        arguments[setting.name] = tuple(value) if isinstance(value, list) else value
    try:
        return settings(**arguments)
    except ValidationError as error:
        raise _sentence(step, known, error) from None


def _sentence(step: str, known: dict[str, Declared], error: ValidationError) -> RecipeError:
    first = error.errors()[0]
    by_name = {setting.name: setting for setting in known.values()}
    setting = by_name.get(str(first["loc"][0])) if first["loc"] else None
    if setting is None:  # a rule about several settings together
        words = first["msg"].removeprefix("Value error, ")
        span = next((one for one in known.values() if one.is_range), None)
        return RecipeError(words, f"[{step}] {span.key}" if span and words.startswith("must be two") else f"[{step}]")
    given = _shown(first["input"])
    near = difflib.get_close_matches(str(first["input"]), setting.choices, 1)
    meant = f' Did you mean "{near[0]}"?' if near else ""
    return RecipeError(f"{given} is not allowed", f"[{step}] {setting.key}", f"Allowed: {setting.allowed}.{meant}")


def _nearest(name: str, known: typing.Iterable[str], what: str) -> str:
    names = list(known)
    near = difflib.get_close_matches(name, names, 1, 0.4)
    return f'The nearest is "{near[0]}". {what}: {", ".join(names)}.' if near else f"{what}: {', '.join(names)}."


def _shown(value: object) -> str:
    if isinstance(value, str):
        return f'"{value}"'
    if isinstance(value, bool):
        return str(value).lower()
    return repr(list(value)) if isinstance(value, tuple) else repr(value)
