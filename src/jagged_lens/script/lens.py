# SPDX-License-Identifier: GPL-3.0-or-later
"""A lens in a script: opened from a recipe or a project, computed part by part, asked for typed results. No window, no second way of computing."""

from __future__ import annotations

import dataclasses
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from jagged_lens.compare import KINDS_LONG
from jagged_lens.errors import JaggedLensError
from jagged_lens.export import ALL_PARTS, given_by, write_all
from jagged_lens.group import Holding, letter
from jagged_lens.lens import (
    CORPUS,
    GROUPING,
    HOLDING,
    KEY_TERMS,
    LAYOUT,
    LENS_ROWS,
    NEIGHBOURS,
    PAIRS,
    PLACED,
    QUALITY,
    SPACE,
    TERMS,
    THEMES,
    Job,
    Part,
    Recent,
    Recipe,
    Results,
    compute,
    with_needs,
)
from jagged_lens.named_file import write_whole
from jagged_lens.progress import Progress, unheard
from jagged_lens.project import ProjectState, job_at, new_sources
from jagged_lens.report import group_names
from jagged_lens.script.found import Arrived, Documents, Groups, Matrix, Nearest, Pairs, Points, Vectors

_TERMS_OF_A_GROUP = 6


def open_lens(path: str | Path, lens: str | None = None) -> Lens:
    """The lens of a recipe (.toml), or of a project (.jagged). lens: which one of a project; else the one in front. JaggedLensError where it
    cannot be opened. Nothing is computed yet, and nothing is ever written into a project."""
    found = Path(path).expanduser().absolute()
    job, state = job_at(found, lens)
    return Lens(job, state, state.lens.name if state is not None else found.stem)


class Lens:
    """A lens. Each method gives the results of one part, and computes what it needs first; what was computed is remembered.

    The results are those of the window and of `jagged-lens run`, bit for bit.
    """

    def __init__(self, job: Job, state: ProjectState | None, name: str, memory: Recent | None = None) -> None:
        self._job = job
        self._state = state
        self.name = name
        self._memory = memory or Recent()

    @property
    def recipe(self) -> Recipe:
        """The settings."""
        return self._job.recipe

    def with_setting(self, step: str, key: str, value: object) -> Lens:
        """This lens with another value for a setting, by its names in a recipe. RecipeError where it is not allowed."""
        job = dataclasses.replace(self._job, recipe=self.recipe.with_setting(step, key, value))
        return Lens(job, self._state, self.name, self._memory)

    def documents(self) -> Documents:
        """The documents of the lens, with those labels too that a project gave them."""
        found = self._results(CORPUS, LENS_ROWS)
        corpus, rows = found[CORPUS], found[LENS_ROWS]
        labels = {one.name: [one.values[code] for code in one.codes[rows].tolist()] for one in corpus.labels}
        keys = list(corpus.keys.take(rows))
        for name, values in self._job.own:
            given = dict(values)
            labels[name] = [given.get(key, "") for key in keys]
        return Documents(keys, list(corpus.titles.take(rows)), list(corpus.texts.take(rows)), labels)

    def counts(self) -> Matrix:
        """The counts of the kept terms in each document."""
        found = self._results(CORPUS, TERMS)
        return Matrix(self._keys(found), list(found[TERMS].terms), found[TERMS].counts)

    def weights(self) -> Matrix:
        """The weighted rows of the documents in the space of the kept terms."""
        found = self._results(CORPUS, SPACE)
        return Matrix(self._keys(found), list(found[SPACE].terms.terms), found[SPACE].weights)

    def vectors(self) -> Vectors:
        """The themes or vectors that the later steps work on; without columns where they work on the terms."""
        found = self._results(CORPUS, SPACE, THEMES)
        return Vectors(self._keys(found), np.asarray(found[THEMES].shown, np.float32))

    def pairs(self) -> Pairs:
        """The close pairs and the near-duplicates."""
        found = self._results(CORPUS, SPACE, PAIRS)
        pairs = found[PAIRS]
        kinds = [KINDS_LONG[kind].lower() for kind in pairs.kind.tolist()]
        return Pairs(self._keys(found), pairs.first, pairs.second, pairs.similarity, kinds)

    def nearest(self) -> Nearest:
        """The nearest documents of each."""
        found = self._results(CORPUS, SPACE, NEIGHBOURS)
        asked = found[NEIGHBOURS].nearest(self.recipe.compare.neighbours)
        return Nearest(self._keys(found), asked.row, asked.similarity)

    def groups(self) -> Groups:
        """The groups, with the names that a project gave them. Their stability is measured where the recipe says so."""
        wanted = (HOLDING,) if self.recipe.group.holding else ()
        found = self._results(CORPUS, LENS_ROWS, TERMS, THEMES, GROUPING, KEY_TERMS, QUALITY, *wanted)
        grouping, key_terms, shown = found[GROUPING], found[KEY_TERMS], found[TERMS].shown
        given = given_by(self._state, self._job, found).groups
        holding = found.get(HOLDING) or Holding.none(len(grouping))
        stable = holding.groups if holding.tries else np.full(len(grouping), np.nan, np.float32)
        names = [f"{letter(at)} {name}" for at, name in enumerate(group_names(found, given))]
        terms = [[shown[column] for column in key_terms.columns(at)[:_TERMS_OF_A_GROUP]] for at in range(len(grouping))]
        return Groups(
            self._keys(found),
            grouping.group,
            grouping.closeness,
            names,
            np.asarray(grouping.sizes, np.int64),
            grouping.tightness,
            found[QUALITY].groups,
            stable,
            terms,
        )

    def points(self) -> Points:
        """The map."""
        found = self._results(CORPUS, SPACE, LAYOUT)
        layout = found[LAYOUT]
        return Points(self._keys(found), layout.positions, layout.trust, layout.overall)

    def place(self, path: str | Path) -> Arrived:
        """New documents, of a file, a folder or a recipe, seen through the lens. Its own results do not change."""
        job = dataclasses.replace(self._job, placing=new_sources(Path(path), self.recipe.gather.sources))
        found = self._results(CORPUS, SPACE, PLACED, job=job)
        placed, keys, k = found[PLACED], self._keys(found), found[PLACED].nearest.row.shape[1]
        near = placed.nearest.row[:, 0].tolist() if k else [-1] * len(placed)
        alike = placed.nearest.similarity[:, 0] if k else np.full(len(placed), np.nan, np.float32)
        return Arrived(
            list(placed.corpus.keys),
            [keys[at] if at >= 0 else "" for at in near],
            alike,
            placed.group,
            placed.positions,
            placed.through.unknown_share,
            partial(letter),
        )

    def save(self, folder: str | Path) -> None:
        """Write all files of `jagged-lens run` into a folder. OSError where that does not work; what was there before then stays."""
        found = self._results(*ALL_PARTS)
        out = Path(folder)
        out.mkdir(parents=True, exist_ok=True)
        write_whole(out, lambda half: write_all(half, self._job, self._state, found, self.name))

    def _repr_html_(self) -> str:
        return self.documents()._repr_html_()

    def _keys(self, found: Results) -> list[str]:
        rows = found[SPACE].terms.rows if SPACE in found else found[TERMS].rows
        return list(found[CORPUS].keys.take(rows))

    def _results(self, *parts: Part[Any], job: Job | None = None) -> Results:
        wanted = with_needs(parts)
        return compute(job or self._job, self._memory, _Raising(), lambda: wanted)


class _Raising:
    """A listener that hears nothing but errors, which it raises."""

    def began(self, part: Part[Any]) -> Progress:
        return unheard

    def grew(self, part: Part[Any], preview: object) -> None:
        return

    def done(self, part: Part[Any], key: str, result: object, seconds: float) -> None:
        return

    def failed(self, part: Part[Any], error: JaggedLensError, details: str = "") -> None:
        raise error

    def deferred(self, part: Part[Any]) -> None:
        return
