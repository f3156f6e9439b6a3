# SPDX-License-Identifier: GPL-3.0-or-later
"""The recipe file: TOML, one section a step, our own keys."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import Any

import tomli_w

from jagged_lens.errors import RecipeError
from jagged_lens.lens.recipe import SECTIONS, Recipe, recipe_of, settings_of
from jagged_lens.named_file import small_file
from jagged_lens.setting import Declared


def read_recipe(path: Path) -> Recipe:
    """The recipe in a file. RecipeError names the file, the key, what is allowed and the nearest known key."""
    try:
        text = small_file(path).decode("utf-8-sig")
    except OSError as error:
        raise RecipeError(f"the recipe cannot be read ({error.strerror})", str(path)) from error
    except UnicodeDecodeError as error:
        raise RecipeError("the recipe is not UTF-8", str(path), "Save it as UTF-8.") from error
    try:
        sections = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise RecipeError(f"this is not valid TOML ({error})", str(path)) from error
    except (RecursionError, ValueError) as error:
        raise RecipeError("this is nested too deeply, or contains a number that is too large", str(path)) from error
    try:
        return recipe_of(sections)
    except RecipeError as error:
        where = f"{path.name}, {error.where}" if error.where else path.name
        raise RecipeError(error.what, where, error.remedy) from None


def sections_of(recipe: Recipe) -> dict[str, dict[str, Any]]:
    """All settings of a recipe as nested dictionaries, by recipe key."""
    return {
        step: {key: _plain(getattr(getattr(recipe, step), one.name), one) for key, one in settings_of(step).items()}
        for step in SECTIONS
    }


def recipe_text(recipe: Recipe) -> str:
    """The recipe as TOML."""
    return tomli_w.dumps(sections_of(recipe))


def unusual_text(recipe: Recipe) -> str:
    """The settings of a recipe that are not the default, as TOML: a recipe that means the same."""
    usual = sections_of(Recipe())
    found = {
        section: {key: value for key, value in values.items() if value != usual[section][key]}
        for section, values in sections_of(recipe).items()
    }
    return tomli_w.dumps({section: values for section, values in found.items() if values})


def _plain(value: object, setting: Declared) -> object:
    if setting.plain is not None:
        return setting.plain(value)
    return list(value) if isinstance(value, tuple) else value
