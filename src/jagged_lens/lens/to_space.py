# SPDX-License-Identifier: GPL-3.0-or-later
"""The parts from the sources to the space: corpus, tokens, terms, weights, themes."""

from __future__ import annotations

import dataclasses
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import clean, look_over, ships, sizes_of
from jagged_lens.compare import shingles_of
from jagged_lens.errors import JaggedLensError, SourceError
from jagged_lens.gather import (
    Corpus,
    GatherSettings,
    Means,
    Source,
    assembled,
    failed_source,
    read_source,
    rows_to_keep,
)
from jagged_lens.lens.given import given, given_state
from jagged_lens.lens.job import Job
from jagged_lens.lens.part import Part, Work
from jagged_lens.line_lists import is_inside
from jagged_lens.named_file import file_state, path_of
from jagged_lens.parallel import threads
from jagged_lens.progress import portion
from jagged_lens.terms import (
    NgramCounts,
    TermCounts,
    count_character_runs,
    count_ngrams,
    index_of,
    limit_terms,
    read_terms,
)
from jagged_lens.weigh import (
    LEAST,
    ThemeNumbers,
    Themes,
    VectorSpace,
    WordVectors,
    adding_themes,
    by_given_vectors,
    documents_by_words,
    in_themes,
    theme_numbers,
    themes,
    weigh,
    word_vectors,
)

LOOKED_AT = 50
"""So many themes are computed for looking at them, whether the lens works on any or not."""
ADDING_LOOKED_AT = 20
"""So many, of those that add up."""


def _state_of(name: str, folder: Path) -> tuple[str, int, int]:
    """The identity of a named file."""
    try:
        path = path_of(name, folder)
    except OSError:
        return name, -1, -1
    return str(path), *file_state(path)


def _sources(job: Job) -> object:
    sources = job.recipe.gather.sources
    return [(source.name, job.stamp(source)) for source in sources], job.recipe.gather.unit, job.again


def _corpus(work: Work) -> Corpus:
    """The documents of all sources: from the store where they are there, and else read, and kept in it."""
    job = work.job
    sources = job.recipe.gather.sources
    means = Means(job.folder, threads(), dict(job.passwords), job.store, job.again)
    corpora, stamps = [], []
    wrong: JaggedLensError | None = None
    for at, source in enumerate(sources):
        within = portion(work.progress, at / len(sources), (at + 1) / len(sources))
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
    """The project's data of a source; None if it is absent or cannot be read."""
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
    """True if a source gave nothing because it could not be read."""
    return any(not stamp and not count for stamp, count in zip(corpus.stamps, corpus.counts, strict=False))


def _filters(job: Job) -> object:
    g = job.recipe.gather
    named = g.only or g.without or g.sample_of
    chosen = (g.only, g.without, g.holding, g.since, g.until, g.least_words, g.most_words, g.sample, g.sample_of)
    return chosen, g.seed if g.sample else 0, sorted(job.aside), job.own if named else ()


def _rows_of_lens(work: Work) -> NDArray[np.int32]:
    """The corpus rows in the lens: all but those set aside and those that a filter or the sample leaves out."""
    job, corpus = work.job, work[CORPUS]
    words, _ = sizes_of(work[TOKENS])
    rows = rows_to_keep(corpus, words, job.recipe.gather, job.aside, job.own, work.progress)
    if len(corpus) and not len(rows):
        raise SourceError(
            f"none of the {len(corpus):,} documents is left",
            "Gather",
            _emptied_by(work, words),
        )
    return rows


def _emptied_by(work: Work, words: NDArray[np.int64]) -> str:
    """The filter that alone leaves no document, or that all of them together do."""
    job, corpus, whole = work.job, work[CORPUS], work.job.recipe.gather
    plain = GatherSettings()
    for key in ("only", "without", "holding", "since", "until", "least_words", "most_words"):
        if getattr(whole, key) != getattr(plain, key):
            alone = dataclasses.replace(plain, **{key: getattr(whole, key)})
            if not len(rows_to_keep(corpus, words, alone, frozenset(), job.own)):
                value = getattr(whole, key)
                said = ", ".join(value) if isinstance(value, tuple) else value
                return f"The filter {key.replace('_', '-')} ({said}) leaves none. Change it or remove it."
    return "Widen the filters, or bring documents back that were set aside."


def _clean_state(job: Job) -> object:
    c = job.recipe.clean
    lists = [*(name for name in c.stop_words if not ships(name)), *c.word_lists]
    return c, [_state_of(name, job.folder) for name in lists if not is_inside(name)]


def _word_state(job: Job) -> object:
    """The settings of Clean by which a listed term is brought to the form of a term."""
    c = job.recipe.clean
    return c.case, c.accents, c.word_form, c.language, c.own_rules, c.word_lists, c.tokens


def _ngrams(work: Work) -> NgramCounts:
    terms = work.job.recipe.terms
    if work.job.recipe.clean.tokens == "characters":
        return count_character_runs(work[TOKENS], work[LENS_ROWS], terms.words, work.progress)
    return count_ngrams(work[TOKENS], work[LENS_ROWS], terms.words, terms.bridge, work.progress)


def _ngram_settings(job: Job) -> object:
    return job.recipe.terms.words, job.recipe.terms.bridge, job.recipe.clean.tokens == "characters"


def _list_state(job: Job) -> object:
    name = job.recipe.terms.only_list
    return _state_of(name, job.folder) if name and not is_inside(name) else name


def _limited(work: Work) -> TermCounts:
    job, settings = work.job, work.job.recipe.terms
    listed = read_terms(settings.only_list, job.folder) if settings.only_list else None
    return limit_terms(work[NGRAMS], work[TOKENS], settings, job.recipe.clean, listed)


def _learning(job: Job) -> object:
    """The settings that learning words depends on; none where nothing is learned."""
    weigh = job.recipe.weigh
    return (weigh.vectors, weigh.dimensions) if weigh.vectors_from == "learned" else ()


def _words(work: Work) -> WordVectors:
    """The vectors of the words, where the lens works on them; else none."""
    weigh = work.job.recipe.weigh
    if weigh.vectors_from == "learned":
        found = word_vectors(index_of(work[TOKENS], work[LENS_ROWS], bridge=False), weigh.dimensions, work.progress)
        if not len(found.number):
            raise JaggedLensError(
                f"there is too little text to learn vectors: no two words that occur {LEAST} times are near each other",
                "Weigh",
                "Add documents, or let the later steps work on the terms.",
            )
        return found
    return WordVectors(np.zeros(0, np.int64), np.zeros((0, 0), np.float32), {}, 0)


def _reduction(job: Job) -> object:
    """The settings of what the later steps work on."""
    weigh = job.recipe.weigh
    if weigh.vectors:
        return weigh.vectors_from, weigh.dimensions if weigh.vectors_from == "learned" else 0
    return weigh.themes, weigh.themes and weigh.themes_by


def _themes(work: Work) -> Themes:
    """The themes or the vectors that the later steps work on; none where they work on the terms."""
    weigh = work.job.recipe.weigh
    if weigh.vectors_from == "learned":
        return documents_by_words(work[SPACE], work[WORDS])
    if weigh.vectors:
        return by_given_vectors(work[SPACE], work[GIVEN], weigh.vectors_from)
    made = adding_themes if weigh.themes and weigh.themes_by == "adding" else themes
    return made(work[SPACE], weigh.themes, work.progress)


def _themes_ahead(work: Work) -> Themes:
    """The themes to look at: those of the lens where they are enough, else more of them, or some."""
    own, weigh = work[THEMES], work.job.recipe.weigh
    if weigh.themes_by == "adding":
        return own if own.adding else adding_themes(work[SPACE], ADDING_LOOKED_AT, work.progress)
    return own if len(own) >= LOOKED_AT and own.by == "svd" else themes(work[SPACE], LOOKED_AT, work.progress)


def _theme_numbers(work: Work) -> ThemeNumbers:
    """Different numbers of themes that add up; none where the themes do not."""
    own = work[THEMES_AHEAD]
    return theme_numbers(work[SPACE], own, progress=work.progress) if own.adding else ThemeNumbers.none()


def nothing(job: Job) -> object:
    """No setting changes it."""
    return ()


CORPUS = Part("corpus", "gather", (), _sources, _corpus)
TOKENS = Part(
    "tokens",
    "clean",
    (CORPUS,),
    _clean_state,
    lambda work: clean(work[CORPUS], work.job.recipe.clean, work.job.folder, work.progress),
)
LENS_ROWS = Part("lens_rows", "gather", (CORPUS, TOKENS), _filters, _rows_of_lens)
NGRAMS = Part("ngrams", "terms", (LENS_ROWS, TOKENS), _ngram_settings, _ngrams)
TERMS = Part(
    "terms",
    "terms",
    (NGRAMS, TOKENS),
    lambda job: (job.recipe.terms, _word_state(job), _list_state(job)),
    _limited,
)
SPACE = Part(
    "space",
    "weigh",
    (TERMS,),
    lambda job: dataclasses.replace(job.recipe.weigh, themes=0, themes_by="svd", vectors="", dimensions=100, model=""),
    lambda work: weigh(work[TERMS], work.job.recipe.weigh),
)
WORDS = Part("words", "weigh", (LENS_ROWS, TOKENS), _learning, _words)
GIVEN = Part("given", "weigh", (CORPUS, LENS_ROWS), given_state, lambda work: given(work, CORPUS, LENS_ROWS))
THEMES = Part("themes", "weigh", (SPACE, WORDS, GIVEN), _reduction, _themes)
THEMES_AHEAD = Part(
    "themes_ahead",
    "weigh",
    (SPACE, THEMES),
    lambda job: job.recipe.weigh.themes_by,
    _themes_ahead,
    on_demand=True,
)
THEME_NUMBERS = Part("theme_numbers", "weigh", (SPACE, THEMES_AHEAD), nothing, _theme_numbers, on_demand=True)
SHINGLES = Part("shingles", "compare", (CORPUS,), nothing, lambda work: shingles_of(work[CORPUS], work.progress))
OVERVIEW = Part(
    "overview",
    "gather",
    (CORPUS, TOKENS, SHINGLES),
    nothing,
    lambda work: look_over(work[CORPUS], work[TOKENS], work[SHINGLES].wording),
)


def vectors(work: Work) -> VectorSpace:
    """The rows that are compared, grouped and laid out: the weights, or the documents in themes."""
    return in_themes(work[SPACE], work[THEMES])
