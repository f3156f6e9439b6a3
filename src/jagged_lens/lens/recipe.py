# SPDX-License-Identifier: GPL-3.0-or-later
"""A recipe: the settings of all seven steps, which together are a lens, and what is asked of it besides."""

from __future__ import annotations

import dataclasses
import typing
from dataclasses import dataclass, field
from typing import Any

from jagged_lens.checking import checked, nearest
from jagged_lens.clean import CleanSettings
from jagged_lens.clean import settings as clean_settings
from jagged_lens.compare import CompareSettings
from jagged_lens.compare import settings as compare_settings
from jagged_lens.errors import RecipeError
from jagged_lens.gather import GatherSettings
from jagged_lens.gather import settings as gather_settings
from jagged_lens.group import GroupSettings
from jagged_lens.group import settings as group_settings
from jagged_lens.lens import report_settings, run_settings
from jagged_lens.lens.report_settings import ReportSettings
from jagged_lens.lens.run_settings import RunSettings
from jagged_lens.map import MapSettings
from jagged_lens.map import settings as map_settings
from jagged_lens.place import SuggestSettings
from jagged_lens.place import settings as suggest_settings
from jagged_lens.setting import Declared, declared
from jagged_lens.terms import TermSettings
from jagged_lens.terms import settings as term_settings
from jagged_lens.weigh import WeighSettings
from jagged_lens.weigh import settings as weigh_settings


@dataclass(frozen=True)
class Recipe:
    """One frozen settings dataclass a step, one of the label that is suggested, one of the report, and one of the files.

    Two equal recipes give the same results on the same documents.
    """

    gather: GatherSettings = field(default_factory=GatherSettings)
    clean: CleanSettings = field(default_factory=CleanSettings)
    terms: TermSettings = field(default_factory=TermSettings)
    weigh: WeighSettings = field(default_factory=WeighSettings)
    compare: CompareSettings = field(default_factory=CompareSettings)
    group: GroupSettings = field(default_factory=GroupSettings)
    map: MapSettings = field(default_factory=MapSettings)
    suggest: SuggestSettings = field(default_factory=SuggestSettings)
    report: ReportSettings = field(default_factory=ReportSettings)
    run: RunSettings = field(default_factory=RunSettings)

    def __post_init__(self) -> None:
        if self.weigh.works_on != "terms" and self.compare.measure == "hellinger":
            raise RecipeError(
                f'measure "hellinger" compares counts of terms, but [weigh] {self.weigh.works_on} replaces the terms',
                "[compare]",
                'Use "cosine" or "euclidean", or themes = 0 and vectors = "".',
            )

        if self.group.by == "theme" and not (self.weigh.works_on == "themes" and self.weigh.themes_by == "adding"):
            raise RecipeError(
                'by = "theme" needs themes that add up',
                "[group]",
                'Set themes and themes-by = "adding" in [weigh], or choose another way.',
            )
        if self.weigh.vectors_from == "learned" and self.clean.tokens == "characters":
            raise RecipeError(
                'vectors = "learned" needs words, but [clean] tokens = "characters" makes runs of characters',
                "[weigh]",
                'Use other tokens, or vectors = "".',
            )

    def with_setting(self, step: str, key: str, value: object) -> Recipe:
        """This recipe with one setting changed, or those that a derived choice stands for. RecipeError where the value is not allowed."""
        spread = shown_settings_of(step)[key].spread if key in _DERIVED.get(step, {}) else None
        if spread is not None:
            return self.with_settings(step, spread(getattr(self, step), str(value)))
        return self.with_settings(step, {key: value})

    def with_settings(self, step: str, values: dict[str, object]) -> Recipe:
        """This recipe with some settings of one step changed together."""
        settings = getattr(self, step)
        names = declared(type(settings))
        own = {key: getattr(settings, one.name) for key, one in names.items()}
        return dataclasses.replace(self, **{step: checked(f"[{step}]", type(settings), {**own, **values})})

    @property
    def seed(self) -> int:
        """The seed of the groups, the one a run is known by."""
        return self.group.seed


SECTIONS: tuple[str, ...] = tuple(one.name for one in dataclasses.fields(Recipe))
"""The names of the sections of a recipe."""

STEPS: tuple[str, ...] = SECTIONS[:7]
"""The names of the seven steps, in the order of the work."""

_TYPES: dict[str, type] = {name: kind for name, kind in typing.get_type_hints(Recipe).items() if name in SECTIONS}


_DERIVED: dict[str, dict[str, Declared]] = {"weigh": weigh_settings.DERIVED}

_SENTENCES: dict[str, tuple[str, ...]] = {
    "gather": gather_settings.SENTENCES,
    "clean": clean_settings.SENTENCES,
    "terms": term_settings.SENTENCES,
    "weigh": weigh_settings.SENTENCES,
    "compare": compare_settings.SENTENCES,
    "group": group_settings.SENTENCES,
    "map": map_settings.SENTENCES,
    "suggest": suggest_settings.SENTENCES,
    "report": report_settings.SENTENCES,
    "run": run_settings.SENTENCES,
}


def sentences_of(section: str) -> tuple[str, ...]:
    """The sentences in which the settings of a section are said, a key of a setting in braces."""
    return _SENTENCES[section]


def settings_of(section: str) -> dict[str, Declared]:
    """The settings of a section as they were declared, by recipe key."""
    return declared(_TYPES[section])


def shown_settings_of(section: str) -> dict[str, Declared]:
    """The settings of a section by recipe key, and the derived choices in its sentences, which stand for several of them."""
    return {**settings_of(section), **_DERIVED.get(section, {})}


def recipe_of(sections: dict[str, Any]) -> Recipe:
    """The recipe that nested dictionaries (a parsed recipe file) mean; what is left out has the default.

    RecipeError for an unknown section or key, or a value that is not allowed or not built yet.
    """
    steps = {}
    for name, values in sections.items():
        if name not in SECTIONS:
            raise RecipeError(f"there is no section [{name}]", remedy=nearest(name, SECTIONS, "Sections"))
        if not isinstance(values, dict):
            raise RecipeError(
                f"[{name}] must be a section with settings", remedy=f"Write [{name}] on a line of its own."
            )
        steps[name] = checked(f"[{name}]", _TYPES[name], values)
    return Recipe(**steps)
