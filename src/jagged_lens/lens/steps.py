"""The steps of a lens as a graph: what each needs, on which settings it depends, and the function that computes it."""

from __future__ import annotations

import dataclasses
import hashlib
import os
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import Tokens, clean, look_over, ships
from jagged_lens.compare import find_pairs, nearest_neighbours, runs_of, similarity_distribution
from jagged_lens.errors import JaggedLensError, SourceError
from jagged_lens.gather import Corpus, Means, Source, assembled, failed_source, read_source, rows_to_keep
from jagged_lens.group import k_means, tell_groups
from jagged_lens.lens.recipe import Recipe
from jagged_lens.lens.store import Store, stamp_of
from jagged_lens.map import NEAREST, pca, trusted
from jagged_lens.named_file import file_state, path_of
from jagged_lens.parallel import threads
from jagged_lens.progress import Progress, part
from jagged_lens.terms import NgramCounts, TermCounts, count_character_runs, count_ngrams, limit_terms, read_terms
from jagged_lens.weigh import weigh

_SALT = os.urandom(16)


def _unheard(error: JaggedLensError) -> None:
    """A warning that nobody listens to."""


@dataclass(frozen=True)
class Job:
    """What all parts work for.

    recipe: the settings. folder: what its relative paths are relative to. aside: keys of the documents that are set aside.
    own: labels of the user's own, pairs of name and (key, value) pairs. taken: of sources the stamp of what is in the
    project; others are read. store: where that is kept. passwords: of databases, by their address. again: fetch pages anew.
    forgiving: go on without a source that cannot be read, where there are others. warned: told of what went wrong and cost no
    result.
    """

    recipe: Recipe
    folder: Path
    aside: frozenset[str] = frozenset()
    own: tuple[tuple[str, tuple[tuple[str, str], ...]], ...] = ()
    taken: tuple[tuple[Source, str], ...] = ()
    store: Store | None = None
    passwords: tuple[tuple[str, str], ...] = field(default=(), repr=False, compare=False)
    again: bool = False
    forgiving: bool = False
    warned: Callable[[JaggedLensError], None] = field(default=_unheard, repr=False, compare=False)

    @property
    def secret(self) -> str:
        """What tells passwords apart within this process, and tells nothing outside of it."""
        return hashlib.blake2b(repr(self.passwords).encode(), key=_SALT, digest_size=8).hexdigest()

    def stamp(self, source: Source) -> str:
        """The stamp of what was taken in of a source, or of what it would give now."""
        return dict(self.taken).get(source) or stamp_of(source, self.folder)


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


def _state_of(name: str, folder: Path) -> tuple[str, int, int]:
    """What a named file is known by."""
    try:
        path = path_of(name, folder)
    except OSError:
        return name, -1, -1
    return str(path), *file_state(path)


def _sources(job: Job) -> object:
    sources = job.recipe.gather.sources
    return [(source.name, job.stamp(source)) for source in sources], job.recipe.gather.unit, job.again


def _corpus(job: Job, progress: Progress) -> Corpus:
    """The documents of all sources: from the store where they are there, and else read, and kept in it."""
    sources = job.recipe.gather.sources
    means = Means(job.folder, threads(), dict(job.passwords), job.store, job.again)
    corpora, stamps = [], []
    wrong: JaggedLensError | None = None
    for at, source in enumerate(sources):
        within = part(progress, at / len(sources), (at + 1) / len(sources))
        stamp = job.stamp(source)
        corpus = _kept(job, stamp)
        if corpus is None:
            try:
                corpus = read_source(source, means, within)
            except JaggedLensError as error:
                if not job.forgiving:
                    raise
                wrong, stamp = error, ""
                corpus = failed_source(source, error)
            else:
                stamp = _keep(job, stamp, source, corpus)
        corpora.append(corpus)
        stamps.append(stamp)
    if wrong is not None and not any(map(len, corpora)):
        raise wrong
    return dataclasses.replace(assembled(corpora, sources, job.recipe.gather), stamps=tuple(stamps))


def _kept(job: Job, stamp: str) -> Corpus | None:
    """What the project holds of a source; None where it is not there or cannot be read."""
    try:
        return job.store.documents(stamp) if job.store is not None else None
    except JaggedLensError as error:
        job.warned(error)
        return None


def _keep(job: Job, stamp: str, source: Source, corpus: Corpus) -> str:
    """Keep in the project what was read. Gives the stamp under which it is there, "" where it could not be kept."""
    try:
        if job.store is not None:
            job.store.keep_documents(stamp, source, corpus)
    except JaggedLensError as error:
        job.warned(error)
        return ""
    return stamp


def failed_sources(corpus: Corpus) -> bool:
    """Whether a source gave nothing because it could not be read."""
    return any(not stamp and not count for stamp, count in zip(corpus.stamps, corpus.counts, strict=False))


def _filters(job: Job) -> object:
    g = job.recipe.gather
    named = g.only or g.sample_of
    chosen = (g.only, g.holding, g.since, g.until, g.least_words, g.most_words, g.sample, g.sample_of)
    return chosen, g.seed if g.sample else 0, sorted(job.aside), job.own if named else ()


def _rows(job: Job, corpus: Corpus, tokens: Tokens, progress: Progress) -> NDArray[np.int32]:
    """The corpus rows in the lens: all but those set aside and those that a filter or the sample leaves out."""
    words = np.diff(tokens.row_starts)
    rows = rows_to_keep(corpus, words, job.recipe.gather, job.aside, job.own, progress)
    if len(corpus) and not len(rows):
        raise SourceError(
            f"none of the {len(corpus):,} documents is left",
            "Gather",
            "Widen the filters, or bring back what is set aside.",
        )
    return rows


def _clean_state(job: Job) -> object:
    c = job.recipe.clean
    lists = [*(name for name in c.stop_words if not ships(name)), *c.word_lists]
    return c, [_state_of(name, job.folder) for name in lists]


def _word_state(job: Job) -> object:
    """The settings of Clean by which a listed term is brought to the form of a term."""
    c = job.recipe.clean
    return c.case, c.accents, c.word_form, c.language, c.own_rules, c.word_lists, c.tokens


def _ngrams(job: Job, results: dict[str, Any], progress: Progress) -> NgramCounts:
    terms = job.recipe.terms
    if job.recipe.clean.tokens == "characters":
        return count_character_runs(results["tokens"], results["rows"], terms.words, progress)
    return count_ngrams(results["tokens"], results["rows"], terms.words, terms.bridge, progress)


def _list_state(job: Job) -> object:
    name = job.recipe.terms.only_list
    return _state_of(name, job.folder) if name else None


def _limited(job: Job, results: dict[str, Any], progress: Progress) -> TermCounts:
    settings = job.recipe.terms
    listed = read_terms(settings.only_list, job.folder) if settings.only_list else None
    return limit_terms(results["ngrams"], results["tokens"], settings, job.recipe.clean, listed)


def _wanted(job: Job) -> int:
    """So many neighbours serve both the table and the trust of the map."""
    return max(job.recipe.compare.neighbours, NEAREST)


PARTS: tuple[Part, ...] = (
    Part("corpus", "gather", (), _sources, lambda j, r, p: _corpus(j, p)),
    Part("tokens", "clean", ("corpus",), _clean_state, lambda j, r, p: clean(r["corpus"], j.recipe.clean, j.folder, p)),
    Part("rows", "gather", ("corpus", "tokens"), _filters, lambda j, r, p: _rows(j, r["corpus"], r["tokens"], p)),
    Part(
        "ngrams",
        "terms",
        ("rows", "tokens"),
        lambda j: (j.recipe.terms.words, j.recipe.terms.bridge, j.recipe.clean.tokens == "characters"),
        _ngrams,
    ),
    Part(
        "terms",
        "terms",
        ("ngrams", "tokens"),
        lambda j: (j.recipe.terms, _word_state(j), _list_state(j)),
        _limited,
    ),
    Part("space", "weigh", ("terms",), lambda j: j.recipe.weigh, lambda j, r, p: weigh(r["terms"], j.recipe.weigh)),
    Part("runs", "compare", ("corpus",), lambda j: (), lambda j, r, p: runs_of(r["corpus"], p)),
    Part(
        "overview",
        "gather",
        ("corpus", "tokens", "runs"),
        lambda j: (),
        lambda j, r, p: look_over(r["corpus"], r["tokens"], r["runs"].wording),
    ),
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
        lambda j, r, p: trusted(r["projection"], r["neighbours"], p),
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
