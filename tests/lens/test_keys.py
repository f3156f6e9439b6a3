# SPDX-License-Identifier: GPL-3.0-or-later
"""Keys prove themselves: a part names the settings that it reads, and reads those that it names."""

from __future__ import annotations

import copy
import dataclasses
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from conftest import Silent
from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Source
from jagged_lens.lens import PARTS, SECTIONS, Job, Part, Recent, Recipe, compute, keys_of, settings_of
from jagged_lens.progress import Progress, unheard

Read = set[tuple[str, str, str]]
"""Part, section and setting."""

ELSEWHERE = {
    ("tokens", "clean", "pattern"),  # in a process of its own, where nobody notes it
    ("tokens", "clean", "recurring_from"),  # of texts of several lines
}


class Reading(Silent):
    """Knows which part is being computed."""

    def __init__(self) -> None:
        super().__init__()
        self.part = ""

    def began(self, part: Part) -> Progress:
        self.part = part.name
        return unheard

    def done(self, part: Part, key: str, result: Any, seconds: float) -> None:
        self.part = ""

    def failed(self, part: Part, error: JaggedLensError, details: str = "") -> None:
        raise AssertionError(f"{part.name}: {error} {details}")


def recording(settings: Any, section: str, listener: Reading, read: Read) -> Any:
    """The same settings, which note whoever reads them."""
    names = {one.name for one in dataclasses.fields(settings)}

    class Recording(type(settings)):  # type: ignore[misc]
        def __getattribute__(self, name: str) -> Any:
            if name in names and listener.part:
                read.add((listener.part, section, name))
            return super().__getattribute__(name)

    made = object.__new__(Recording)
    for name in names:
        object.__setattr__(made, name, getattr(settings, name))
    return made


def others(section: str, name: str, value: Any) -> Iterator[Any]:
    """Other values of a setting; that a recipe would allow them does not matter for keys."""
    declared = next((one for one in settings_of(section).values() if one.name == name), None)
    choices = getattr(declared, "choices", None) or ()
    if isinstance(value, bool):
        yield not value
    elif isinstance(value, str):
        yield from (one for one in choices if one != value)
        if name == "vectors" and value != "learned":
            yield from ("learned", "other.npy")
        elif not choices:
            yield f"{value} other"
    elif isinstance(value, (int, float)):
        yield from (value + 1, value * 7 + 30)
    elif value and isinstance(value[0], Source):
        yield tuple(dataclasses.replace(one, encoding="cp1252") for one in value)
    else:
        yield (*value, "other") if not value or isinstance(value[0], str) else tuple(one + 1 for one in value)


def changed(recipe: Recipe, section: str, name: str, value: Any) -> Recipe:
    settings = copy.copy(getattr(recipe, section))
    object.__setattr__(settings, name, value)
    made = copy.copy(recipe)
    object.__setattr__(made, section, settings)
    return made


def job_of(recipe: Recipe, folder: Path) -> Job:
    return Job(recipe, folder, placing=(Source(pasted="slugs and frost"),))


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("keys")
    words = ["slugs", "frost", "beans", "peas", "rain", "mice", "leek", "barley", "wind", "blight"]
    rows = [
        f"{number},{' '.join(words[(number * 3 + step * (1 + number % 4)) % 10] for step in range(12))} the,"
        f"{('bean', 'pea', 'leek')[number % 3]},20{10 + number % 8}-05-01"
        for number in range(48)
    ]
    (folder / "notes.csv").write_text("id,note,crop,day\n" + "\n".join(rows))
    return folder


def recipes() -> dict[str, Recipe]:
    source = {"from": "notes.csv", "key": "id", "text": ["note"], "labels": ["crop"], "date": "day"}
    plain = (
        Recipe()
        .with_settings("gather", source)
        .with_settings("terms", {"least-documents": 1.0, "most-share": 1.0})
        .with_settings("clean", {"language": "en"})
        .with_settings("group", {"groups": 3})
        .with_settings("map", {"by": "pca"})
    )
    return {
        "k-means, t-SNE": plain.with_settings("map", {"by": "t-sne"}),
        "a tree, scaling": plain.with_settings(
            "group", {"by": "tree", "linkage": "ward", "holding": True, "sweep": (2, 3)}
        ).with_settings("map", {"by": "scaling"}),
        "a label, against another": plain.with_settings("group", {"by": "label", "label": "crop", "against": "year"}),
        "themes": plain.with_settings("terms", {"most-terms": 9})
        .with_settings("weigh", {"themes": 4})
        .with_settings("group", {"holding": True, "sweep": (2, 3)}),
        "filters": plain.with_settings(
            "gather",
            {
                "only": ["crop = bean", "crop = pea"],
                "without": ["year = 2011"],
                "sample": 12,
                "sample-of": "crop",
                "holding": "slugs",
                "since": "2010-01-01",
                "until": "2030-01-01",
                "unit": "sentence",
            },
        ),
        "a label to learn": plain.with_settings("suggest", {"label": "crop"}),
        "letters, distances": plain.with_settings("clean", {"tokens": "characters"})
        .with_settings("compare", {"measure": "euclidean", "pairs-within": "crop"})
        .with_settings("weigh", {"length": "none"}),
        "lemmas": plain.with_settings("clean", {"word-form": "lemma"}).with_settings(
            "compare", {"pairs-across": "crop"}
        ),
    }


@pytest.fixture(scope="module")
def runs(folder: Path) -> dict[str, tuple[Recipe, Read]]:
    """Of each recipe what its parts have read."""
    found = {}
    for name, recipe in recipes().items():
        listener, read = Reading(), set[tuple[str, str, str]]()
        sections = {one: recording(getattr(recipe, one), one, listener, read) for one in SECTIONS}
        spied = copy.copy(recipe)
        for section, settings in sections.items():
            object.__setattr__(spied, section, settings)
        compute(job_of(spied, folder), Recent(), listener, lambda: tuple(PARTS))
        found[name] = (recipe, read)
    return found


def test_a_part_names_every_setting_that_it_reads(runs: dict[str, tuple[Recipe, Read]], folder: Path) -> None:
    unnamed = []
    for name, (recipe, read) in runs.items():
        keys = keys_of(job_of(recipe, folder)).of
        for part, section, setting in sorted(read):
            value = getattr(getattr(recipe, section), setting)
            new = (
                keys_of(job_of(changed(recipe, section, setting, other), folder)).of
                for other in others(section, setting, value)
            )
            if all(one[part] == keys[part] for one in new):
                unnamed.append(f"{name}: {part} reads [{section}] {setting}, and its key does not know it")
    assert unnamed == [], "\n".join(unnamed)


def test_a_part_reads_every_setting_that_it_names(runs: dict[str, tuple[Recipe, Read]], folder: Path) -> None:
    """In one of the recipes at least: else a change of what does not matter would have it computed anew."""
    read = set().union(*(one for _, one in runs.values()))
    unread: set[tuple[str, str, str]] = set()
    for recipe, _ in runs.values():
        keys = keys_of(job_of(recipe, folder)).of
        for section in SECTIONS:
            for setting in {one.name for one in settings_of(section).values()}:
                value = getattr(getattr(recipe, section), setting)
                for other in others(section, setting, value):
                    new = keys_of(job_of(changed(recipe, section, setting, other), folder)).of
                    unread |= {
                        (part.name, section, setting)
                        for part in PARTS
                        if new[part.name] != keys[part.name]
                        and all(new[needed.name] == keys[needed.name] for needed in part.needs)
                    }
    unread -= read | ELSEWHERE
    assert not unread, sorted(unread)


def test_pairs_across_a_label_of_ones_own_depend_on_its_values_and_on_those_alone(folder: Path) -> None:
    recipe = next(iter(recipes().values()))
    own = (("mine", (("1", "yes"), ("2", "no"))), ("other", (("1", "yes"),)))
    across = recipe.with_setting("compare", "pairs-across", "mine")

    def key(recipe: Recipe, own: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]) -> str:
        return keys_of(dataclasses.replace(job_of(recipe, folder), own=own)).of["pairs"]

    assert key(across, own) != key(across, (("mine", (("1", "yes"), ("2", "yes"))), own[1]))
    assert key(across, own) == key(across, (own[0], ("other", (("1", "no"),))))
    assert key(recipe, own) == key(recipe, ())
