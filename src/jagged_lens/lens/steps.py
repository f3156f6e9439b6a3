"""The steps of a lens as a graph: what each needs, on which settings it depends, and the function that computes it."""

from __future__ import annotations

import dataclasses
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import clean, look_over, ships
from jagged_lens.compare import (
    EXACT_TO,
    Families,
    Neighbours,
    Pairs,
    families_of,
    find_pairs,
    nearest_neighbours,
    neighbours_by_candidates,
    shingles_of,
    similarity_distribution,
)
from jagged_lens.compare import (
    THEMES as CANDIDATE_THEMES,
)
from jagged_lens.errors import JaggedLensError, SourceError
from jagged_lens.gather import Corpus, Means, Source, assembled, failed_source, label_named, read_source, rows_to_keep
from jagged_lens.group import (
    CrossTable,
    Grouping,
    Holding,
    Sweep,
    Tree,
    by_label,
    cross_table,
    filled_rows,
    from_tree,
    holding_of,
    k_means,
    key_terms_of_groups,
    quality_of,
    sweep_of,
    tree_of,
)
from jagged_lens.lens.job import Job
from jagged_lens.lens.part import Part, Work
from jagged_lens.map import NEAREST, Laid, TermPoints, lay_out, lay_out_links, pca, term_points, trusted
from jagged_lens.named_file import file_state, path_of
from jagged_lens.parallel import threads
from jagged_lens.progress import portion
from jagged_lens.terms import NgramCounts, TermCounts, count_character_runs, count_ngrams, limit_terms, read_terms
from jagged_lens.weigh import VectorSpace, in_themes, themes, weigh

LOOKED_AT = 50
"""So many themes are computed for looking at them, whether the lens works on any or not."""


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


def _rows(work: Work) -> NDArray[np.int32]:
    """The corpus rows in the lens: all but those set aside and those that a filter or the sample leaves out."""
    job, corpus = work.job, work[CORPUS]
    words = np.diff(work[TOKENS].row_starts)
    rows = rows_to_keep(corpus, words, job.recipe.gather, job.aside, job.own, work.progress)
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


def _ngrams(work: Work) -> NgramCounts:
    terms = work.job.recipe.terms
    if work.job.recipe.clean.tokens == "characters":
        return count_character_runs(work[TOKENS], work[LENS_ROWS], terms.words, work.progress)
    return count_ngrams(work[TOKENS], work[LENS_ROWS], terms.words, terms.bridge, work.progress)


def _ngram_settings(job: Job) -> object:
    return job.recipe.terms.words, job.recipe.terms.bridge, job.recipe.clean.tokens == "characters"


def _list_state(job: Job) -> object:
    name = job.recipe.terms.only_list
    return _state_of(name, job.folder) if name else None


def _limited(work: Work) -> TermCounts:
    job, settings = work.job, work.job.recipe.terms
    listed = read_terms(settings.only_list, job.folder) if settings.only_list else None
    return limit_terms(work[NGRAMS], work[TOKENS], settings, job.recipe.clean, listed)


def _pair_settings(job: Job) -> object:
    c = job.recipe.compare
    named = [name for name in (c.pairs_across, c.pairs_within) if name]
    own = tuple(one for one in job.own if one[0] in named)
    return c.measure, c.pairs_from, c.copies_below, c.pairs_across, c.pairs_within, own


def _pairs(work: Work) -> Pairs:
    c, corpus, own = work.job.recipe.compare, work[CORPUS], work.job.own
    across, within = (
        label_named(corpus, name, own, f"[compare] {key}") if name else None
        for key, name in (("pairs-across", c.pairs_across), ("pairs-within", c.pairs_within))
    )
    return find_pairs(_vectors(work), work[SHINGLES], c, across, within, work.progress)


def _families(work: Work) -> Families:
    rows, texts = work[SPACE].terms.rows, work[CORPUS].texts
    lengths = np.array([len(texts[row]) for row in rows.tolist()], np.int64)
    return families_of(work[PAIRS], work[SHINGLES], rows, lengths, work.progress)


def _wanted(job: Job) -> int:
    """So many neighbours serve the table, the trust of the map and its ties."""
    return max(job.recipe.compare.neighbours, NEAREST, job.recipe.map.near if job.recipe.map.by == "t-sne" else 0)


def _vectors(work: Work) -> VectorSpace:
    """The rows that are compared, grouped and laid out: the weights, or the documents in themes."""
    return in_themes(work[SPACE], work[THEMES])


def _nearest(work: Work) -> Neighbours:
    compare, k = work.job.recipe.compare, _wanted(work.job)
    space = _vectors(work)
    if compare.exact or len(work[THEMES]) or len(space.empty) <= EXACT_TO:
        return nearest_neighbours(space, compare.measure, k, work.progress)
    found = themes(space, CANDIDATE_THEMES, portion(work.progress, 0, 0.4))
    return neighbours_by_candidates(space, found, compare.measure, k, portion(work.progress, 0.4, 1))


def _laid(work: Work) -> Laid:
    recipe = work.job.recipe
    return lay_out(
        _vectors(work),
        work[NEIGHBOURS],
        work[PROJECTION],
        recipe.compare.measure,
        recipe.map,
        work.progress,
        work.preview,
        work.enough,
        piled=True,
    )


def _grouped_by(job: Job) -> object:
    """The settings by which documents get into groups; those of a tree are in the tree."""
    g = job.recipe.group
    if g.by == "label":
        return g.by, g.label, tuple(own for own in job.own if own[0] == g.label)
    number = (g.by, g.groups if not g.group_size else 0, g.group_size)
    return number if g.by == "tree" else (*number, g.starts, g.seed)


def _grouping(work: Work) -> Grouping:
    settings, space = work.job.recipe.group, _vectors(work)
    if settings.by == "label":
        return by_label(space, label_named(work[CORPUS], settings.label, work.job.own, "[group] label"))
    if settings.by == "tree":
        return from_tree(space, work[TREE], settings)
    return k_means(space, settings, work.progress)


def _tree(work: Work) -> Tree:
    return tree_of(_vectors(work), work.job.recipe.group.linkage, work.progress)


def _by_tree(job: Job) -> bool:
    return job.recipe.group.by == "tree"


def _tried(job: Job) -> tuple[object, ...]:
    """The settings by which parts of the documents are grouped anew."""
    g = job.recipe.group
    return (g.by, g.linkage, g.seed) if g.by == "tree" else (g.by != "label", g.starts, g.seed)


def _holding(work: Work) -> Holding:
    settings, grouping = work.job.recipe.group, work[GROUPING]
    if not settings.holding:
        return Holding.none(len(grouping))
    return holding_of(_vectors(work), grouping, settings, work.progress, work.preview)


def _sweep(work: Work) -> Sweep:
    settings = work.job.recipe.group
    tree = work[TREE] if settings.by == "tree" else None
    return sweep_of(_vectors(work), settings, work.progress, work.preview, tree)


def _cross(work: Work) -> CrossTable:
    name, rows = work.job.recipe.group.against, work[SPACE].terms.rows
    if not name:
        return CrossTable.none(work[GROUPING])
    return cross_table(work[GROUPING], label_named(work[CORPUS], name, work.job.own, "[group] against"), rows)


def _rounds(laid: Laid) -> str:
    """What a map that was stopped on its way is told from a whole one by."""
    return f"{laid.rounds} rounds" if laid.stopped else ""


def _term_points(work: Work) -> TermPoints:
    recipe, space = work.job.recipe, work[SPACE]
    keys = work[CORPUS].keys.take(space.terms.rows)
    return term_points(space, keys, recipe.map, recipe.group, work.progress, work.preview, work.enough)


def _map_settings(job: Job) -> object:
    settings = job.recipe.map
    own = {"t-sne": (settings.pull, settings.near, settings.seed), "scaling": (settings.seed,), "pca": ()}
    return settings.by, own[settings.by], job.recipe.compare.measure


def _nothing(job: Job) -> object:
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
LENS_ROWS = Part("lens_rows", "gather", (CORPUS, TOKENS), _filters, _rows)
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
    lambda job: dataclasses.replace(job.recipe.weigh, themes=0),
    lambda work: weigh(work[TERMS], work.job.recipe.weigh),
)
THEMES = Part(
    "themes",
    "weigh",
    (SPACE,),
    lambda job: job.recipe.weigh.themes,
    lambda work: themes(work[SPACE], work.job.recipe.weigh.themes, work.progress),
)
THEMES_AHEAD = Part(
    "themes_ahead",
    "weigh",
    (SPACE, THEMES),
    _nothing,
    lambda work: work[THEMES] if len(work[THEMES]) >= LOOKED_AT else themes(work[SPACE], LOOKED_AT, work.progress),
    on_demand=True,
)
SHINGLES = Part("shingles", "compare", (CORPUS,), _nothing, lambda work: shingles_of(work[CORPUS], work.progress))
OVERVIEW = Part(
    "overview",
    "gather",
    (CORPUS, TOKENS, SHINGLES),
    _nothing,
    lambda work: look_over(work[CORPUS], work[TOKENS], work[SHINGLES].wording),
)
PAIRS = Part(
    "pairs",
    "compare",
    (CORPUS, SPACE, THEMES, SHINGLES),
    _pair_settings,
    _pairs,
)
LINKS = Part(
    "links",
    "compare",
    (PAIRS,),
    _nothing,
    lambda work: lay_out_links(work[PAIRS], work.progress, work.preview),
    on_demand=True,
)
FAMILIES = Part("families", "compare", (CORPUS, SPACE, SHINGLES, PAIRS), _nothing, _families, on_demand=True)
NEIGHBOURS = Part(
    "neighbours",
    "compare",
    (SPACE, THEMES),
    lambda job: (job.recipe.compare.measure, job.recipe.compare.exact, _wanted(job)),
    _nearest,
)
RIDGE = Part("ridge", "group", (SPACE, THEMES), lambda job: job.recipe.group.linkage, _tree, on_demand=True)
TREE = Part(
    "tree",
    "group",
    (SPACE, THEMES),
    lambda job: job.recipe.group.linkage if _by_tree(job) else "",
    lambda work: _tree(work) if _by_tree(work.job) else Tree.none(),
    remembered_as=lambda job: RIDGE.name if _by_tree(job) else "tree",
)
GROUPING = Part("grouping", "group", (CORPUS, SPACE, THEMES, TREE), _grouped_by, _grouping)
KEY_TERMS = Part(
    "key_terms", "group", (GROUPING, TERMS), _nothing, lambda work: key_terms_of_groups(work[GROUPING], work[TERMS])
)
QUALITY = Part(
    "quality",
    "group",
    (SPACE, THEMES, GROUPING),
    _nothing,
    lambda work: quality_of(filled_rows(_vectors(work)), work[GROUPING], work.progress),
)
CROSS = Part(
    "cross",
    "group",
    (CORPUS, SPACE, GROUPING),
    lambda job: (job.recipe.group.against, tuple(own for own in job.own if own[0] == job.recipe.group.against)),
    _cross,
)
HOLDING = Part(
    "holding",
    "group",
    (SPACE, THEMES, GROUPING),
    lambda job: (job.recipe.group.holding, _tried(job)),
    _holding,
    on_demand=True,
)
SWEEP = Part(
    "sweep",
    "group",
    (SPACE, THEMES, TREE),
    lambda job: (job.recipe.group.sweep, _tried(job)),
    _sweep,
    on_demand=True,
)
PROJECTION = Part(
    "projection",
    "map",
    (SPACE, THEMES),
    lambda job: job.recipe.map.seed,
    lambda work: pca(_vectors(work), work.job.recipe.map.seed, work.progress),
)
LAID = Part("laid", "map", (SPACE, THEMES, NEIGHBOURS, PROJECTION), _map_settings, _laid, unfinished=_rounds)
LAYOUT = Part(
    "layout",
    "map",
    (LAID, PROJECTION, NEIGHBOURS),
    _nothing,
    lambda work: trusted(work[LAID], work[PROJECTION], work[NEIGHBOURS], work.progress),
)
TERM_POINTS = Part(
    "term_points",
    "map",
    (CORPUS, SPACE),
    lambda job: (job.recipe.map, job.recipe.group.groups, job.recipe.group.starts, job.recipe.group.seed),
    _term_points,
    on_demand=True,
    unfinished=lambda points: _rounds(points.layout.laid),
)
DISTRIBUTION = Part(
    "distribution",
    "compare",
    (SPACE, THEMES),
    lambda job: job.recipe.compare.measure,
    lambda work: similarity_distribution(_vectors(work), work.job.recipe.compare.measure, work.progress, work.preview),
    on_demand=True,
)

PARTS: tuple[Part[Any], ...] = (
    CORPUS,
    TOKENS,
    LENS_ROWS,
    NGRAMS,
    TERMS,
    SPACE,
    THEMES,
    SHINGLES,
    OVERVIEW,
    PAIRS,
    NEIGHBOURS,
    TREE,
    GROUPING,
    KEY_TERMS,
    QUALITY,
    CROSS,
    PROJECTION,
    LAID,
    LAYOUT,
    TERM_POINTS,
    DISTRIBUTION,
    THEMES_AHEAD,
    FAMILIES,
    LINKS,
    RIDGE,
    HOLDING,
    SWEEP,
)
"""All parts, each after what it needs; a new one is a row here."""

ALWAYS = tuple(part for part in PARTS if not part.on_demand)
"""Those that every lens has."""

PART = {part.name: part for part in PARTS}
"""A part by its name."""
