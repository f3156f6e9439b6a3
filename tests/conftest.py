# SPDX-License-Identifier: GPL-3.0-or-later
"""What tests of several rooms share: small corpora, chains without a window."""

from __future__ import annotations

import dataclasses
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).parent))

from jagged_lens.demo import demo_recipe
from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Corpus, Label
from jagged_lens.lens import (
    ALWAYS,
    DISTRIBUTION,
    FAMILIES,
    Job,
    Part,
    Recent,
    Recipe,
    Results,
    compute,
    read_recipe,
    with_needs,
)
from jagged_lens.progress import Progress, unheard
from jagged_lens.project import ProjectState
from jagged_lens.strings import Strings

# How long an example takes says something of the machine, and nothing of the code.
settings.register_profile("unhurried", deadline=None)
settings.load_profile("unhurried")

USUAL = with_needs([*ALWAYS, DISTRIBUTION, FAMILIES])
"""All parts but terms as points, which take seconds."""


def corpus_of(*texts: str, labels: dict[str, list[str]] | None = None) -> Corpus:
    """A corpus of texts, with keys d1, d2, …"""
    keys = Strings.of(f"d{number}" for number in range(1, len(texts) + 1))
    found = tuple(Label.of(name, values) for name, values in (labels or {}).items())
    return Corpus(keys, Strings.of(texts), keys, Strings.of("made" for _ in texts), found)


def with_components(state: ProjectState) -> ProjectState:
    """The same lenses with maps that are there at once: in most tests a setting is changed, and the map means nothing."""
    lenses = (dataclasses.replace(one, recipe=one.recipe.with_setting("map", "by", "pca")) for one in state.lenses)
    return dataclasses.replace(state, lenses=tuple(lenses))


class Silent:
    """A listener that only fails loudly, and remembers which parts were computed anew."""

    def __init__(self) -> None:
        self.computed: list[str] = []

    def began(self, part: Part) -> Progress:
        self.computed.append(part.name)
        return unheard

    def grew(self, part: Part, preview: Any) -> None:
        pass

    def deferred(self, part: Part) -> None:
        pass

    def done(self, part: Part, key: str, result: Any, seconds: float) -> None:
        pass

    def failed(self, part: Part, error: JaggedLensError, details: str = "") -> None:
        raise error


def results_of(folder: Path, texts: list[str], **sections: dict[str, Any]) -> Results:
    """All results of the chain on a folder of text files made of `texts`."""
    for number, text in enumerate(texts):
        (folder / f"{number:05d}.txt").write_bytes(text.encode("utf-8"))
    from jagged_lens.lens import recipe_of

    recipe = recipe_of({"gather": {"from": str(folder)}, **sections})
    return compute(Job(recipe, folder), Recent(), Silent(), lambda: USUAL)


@pytest.fixture(scope="session")
def demo() -> Recipe:
    """The recipe of the demo, but with a map that is there at once."""
    return read_recipe(demo_recipe()).with_setting("map", "by", "pca")


@pytest.fixture(scope="session")
def demo_results() -> Results:
    """All results of the demo, computed without a window. Not to be changed."""
    return compute(Job(read_recipe(demo_recipe()), demo_recipe().parent), Recent(), Silent(), lambda: USUAL)


@pytest.fixture
def chain(tmp_path: Path) -> Callable[..., Results]:
    """Computes all results of some texts."""
    return lambda texts, **sections: results_of(tmp_path, texts, **sections)
