"""The steps of a lens as a graph: what each needs, on which settings it depends, and the function that computes it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import clean, list_file
from jagged_lens.compare import find_pairs, nearest_neighbours, runs_of, similarity_distribution
from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Corpus, gather, source_files
from jagged_lens.group import k_means, tell_groups
from jagged_lens.lens.recipe import Recipe
from jagged_lens.map import NEAREST, pca, trusted
from jagged_lens.progress import Progress
from jagged_lens.terms import count_ngrams, limit_terms
from jagged_lens.weigh import weigh


@dataclass(frozen=True)
class Job:
    """What all parts work for: a recipe, the folder that its relative paths are relative to, and the keys of the documents
    that are set aside."""

    recipe: Recipe
    folder: Path
    aside: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Part:
    """One node of the graph.

    name: of the result. step: which of the seven steps it belongs to. needs: names of the results it is computed from.
    depends: the settings (and states of files) that change it. compute: job, the needed results, progress -> result.
    """

    name: str
    step: str
    needs: tuple[str, ...]
    depends: Callable[[Job], object]
    compute: Callable[[Job, dict[str, Any], Progress], Any]


def _file_state(path: Path) -> tuple[str, int, int]:
    try:
        stat = path.stat()
    except OSError:
        return str(path), -1, -1
    return str(path), stat.st_size, stat.st_mtime_ns


def _sources(job: Job) -> object:
    try:
        files = source_files(job.recipe.gather, job.folder)
    except JaggedLensError:
        return job.recipe.gather, str(job.folder)
    return job.recipe.gather, [(_file_state(path), name) for path, name in files]


def _clean_state(job: Job) -> object:
    files = (list_file(name, job.folder) for name in job.recipe.clean.stop_words)
    return job.recipe.clean, [_file_state(path) for path in files if path is not None]


def _word_state(job: Job) -> object:
    """The settings of Clean by which a listed term is brought to the form of a term."""
    c = job.recipe.clean
    return c.case, c.accents, c.word_form, c.language


def _rows(job: Job, corpus: Corpus) -> NDArray[np.int32]:
    """The corpus rows in the lens: all but those set aside."""
    if not job.aside:
        return np.arange(len(corpus), dtype=np.int32)
    return np.array([row for row, key in enumerate(corpus.keys) if key not in job.aside], np.int32)


def _wanted(job: Job) -> int:
    """So many neighbours serve both the table and the trust of the map."""
    return max(job.recipe.compare.neighbours, NEAREST)


PARTS: tuple[Part, ...] = (
    Part("corpus", "gather", (), _sources, lambda j, r, p: gather(j.recipe.gather, j.folder, p)),
    Part("tokens", "clean", ("corpus",), _clean_state, lambda j, r, p: clean(r["corpus"], j.recipe.clean, j.folder, p)),
    Part(
        "ngrams",
        "terms",
        ("corpus", "tokens"),
        lambda j: (j.recipe.terms.words, j.recipe.terms.bridge, sorted(j.aside)),
        lambda j, r, p: count_ngrams(
            r["tokens"], _rows(j, r["corpus"]), j.recipe.terms.words, j.recipe.terms.bridge, p
        ),
    ),
    Part(
        "terms",
        "terms",
        ("ngrams", "tokens"),
        lambda j: (j.recipe.terms, _word_state(j)),
        lambda j, r, p: limit_terms(r["ngrams"], r["tokens"], j.recipe.terms, j.recipe.clean),
    ),
    Part("space", "weigh", ("terms",), lambda j: j.recipe.weigh, lambda j, r, p: weigh(r["terms"], j.recipe.weigh)),
    Part("runs", "compare", ("corpus",), lambda j: (), lambda j, r, p: runs_of(r["corpus"], p)),
    Part(
        "pairs",
        "compare",
        ("space", "runs"),
        lambda j: (j.recipe.compare.measure, j.recipe.compare.pairs_from),
        lambda j, r, p: find_pairs(r["space"], r["runs"], j.recipe.compare, p),
    ),
    Part(
        "neighbours",
        "compare",
        ("space",),
        lambda j: (j.recipe.compare.measure, _wanted(j)),
        lambda j, r, p: nearest_neighbours(r["space"], j.recipe.compare.measure, _wanted(j), p),
    ),
    Part(
        "grouping",
        "group",
        ("space",),
        lambda j: j.recipe.group,
        lambda j, r, p: k_means(r["space"], j.recipe.group, p),
    ),
    Part(
        "telling", "group", ("grouping", "terms"), lambda j: (), lambda j, r, p: tell_groups(r["grouping"], r["terms"])
    ),
    Part(
        "projection", "map", ("space",), lambda j: j.recipe.map, lambda j, r, p: pca(r["space"], j.recipe.map.seed, p)
    ),
    Part(
        "layout",
        "map",
        ("projection", "neighbours"),
        lambda j: (),
        lambda j, r, p: trusted(r["projection"], r["neighbours"]),
    ),
    Part(
        "distribution",
        "compare",
        ("space",),
        lambda j: j.recipe.compare.measure,
        lambda j, r, p: similarity_distribution(r["space"], j.recipe.compare.measure, p),
    ),
)
"""In an order in which each comes after what it needs; the picture of all pairs last, since nothing waits for it."""
