# SPDX-License-Identifier: GPL-3.0-or-later
"""Settings and results in words, as they stand on the spine and at the head of each desk."""

from __future__ import annotations

from collections.abc import Callable

from jagged_lens.clean import DETECTED, Tokens, form_for
from jagged_lens.compare import KINDS_LONG as KINDS_LONG
from jagged_lens.gather import Source
from jagged_lens.group import HOLDS
from jagged_lens.language import NAMES
from jagged_lens.lens import (
    CORPUS,
    GROUPING,
    HOLDING,
    LAYOUT,
    NEIGHBOURS,
    PAIRS,
    PLACED,
    SPACE,
    STEPS,
    SUGGESTIONS,
    TERMS,
    THEMES,
    TOKENS,
    WORDS,
    Recipe,
    Results,
    shown_settings_of,
)
from jagged_lens.place import Part
from jagged_lens.sentences import amount as amount

TITLES = {
    "gather": "Gather",
    "clean": "Clean",
    "terms": "Terms",
    "weigh": "Weigh",
    "compare": "Compare",
    "group": "Group",
    "map": "Map",
    "contrast": "Contrast",
    "place": "Place",
    "report": "Report",
    "suggest": "Suggestions",
}
BELOW = ("contrast", "place", "report")
"""The desks below the seven steps."""
DESKS = (*STEPS, *BELOW)
"""All desks, in the order of the spine."""
WEAK = "▽"
"""Marks a weak member of its group: it is nearer to the documents of another."""
MEASURES = {"cosine": "cosine", "euclidean": "Euclidean", "hellinger": "Hellinger"}
KINDS = ("same", "edited", "contains", "same topic")
RULES = {
    "KEPT": "all words",
    "MARKUP": "without markup",
    "WEB_ADDRESS": "without web addresses",
    "MAIL_ADDRESS": "without mail addresses",
    "SYMBOL": "without symbols",
    "RECURRING_LINE": "without recurring lines",
    "RECURRING_SENTENCE": "without recurring sentences",
    "NEGATION": "without not, no, never",
    "PATTERN": "without own patterns",
    "JOINED": "phrases joined",
    "NEVER": "without words dropped by rule",
    "NUMBER": "without numbers",
    "SHORT": "without short words",
    "LONG": "without long words",
    "STOP_WORD": "without stop words",
}


BY_PROSE = "reads the column with prose"
"""Where no column of a table has a role."""


def said_roles(source: Source) -> str:
    """The reading of the columns of a table, in a sentence.

    >>> said_roles(Source(file="notes.csv", text=("note",)))
    'reads note as text.'
    """
    roles = listed_roles(source)
    return f"reads {roles}." if roles else f"{BY_PROSE}."


def listed_roles(source: Source) -> str:
    """Each column of a table that has a role, and which; "" where none has.

    >>> listed_roles(Source(file="notes.csv", text=("note",), labels=("crop", "year"), title="name"))
    'note as text, name as title, crop and year as labels'
    """
    parts = [
        (source.text, "text"),
        ((source.title,), "title"),
        ((source.key,), "key"),
        ((source.date,), "date"),
        ((source.column,), "link"),
        (source.labels, "label"),
        (source.numbers, "number"),
    ]
    said = []
    for names, what in parts:
        filled = [name for name in names if name]
        plural = "s" if len(filled) > 1 and what != "text" else ""
        said += [f"{' and '.join(filled)} as {what}{plural}"] if filled else []
    return ", ".join(said)


_TOLD_FROM = 2.0  # seconds that are left: what is over sooner needs no clock


def time_left(seconds: float | None) -> str:
    """The time that something still takes; "" where nothing is known of it, or where it is over at once.

    >>> time_left(12.4), time_left(120.0), time_left(1.0), time_left(None)
    ('12 s', '2 min', '', '')
    """
    if seconds is None or seconds < _TOLD_FROM:
        return ""
    return f"{seconds:.0f} s" if seconds < 90 else f"{seconds / 60:.0f} min"


def space_words(recipe: Recipe) -> str:
    """The space of the later steps: the terms, learned vectors …"""
    return shown_settings_of("weigh")["space"].said[recipe.weigh.space]


def plain(value: float) -> str:
    """A setting's number without needless zeros."""
    return f"{value:g}"


def number_range(low: int, high: int) -> str:
    return str(low) if low == high else f"{low}–{high}"


def setting_words(step: str, recipe: Recipe, results: Results) -> str:
    """The settings of a step in a few words; with what a default comes to where its result is known."""
    if step == "clean":
        return _clean(recipe, results.get(TOKENS))
    if step == "terms":
        known = results.get(TERMS)
        return _terms(recipe, len(known.rows) if known is not None else 0)
    return _SETTINGS[step](recipe)


def result_words(step: str, results: Results) -> str:
    """The result of a step, in one or two numbers; "" if it is not known."""
    try:
        return _RESULTS[step](results)
    except KeyError:
        return ""


def tooth_words(step: str) -> str:
    """The quantity that a step's tooth measures."""
    return {
        "gather": "Tooth: share of documents with text.",
        "clean": "Tooth: share of words kept.",
        "terms": "Tooth: share of different terms kept.",
        "weigh": "Tooth: share of documents with any weight.",
        "compare": "Tooth: share of documents in a listed pair.",
        "group": "Tooth: cohesion of the groups.",
        "map": "Tooth: trust of the map.",
    }[step]


def _gather(recipe: Recipe) -> str:
    g = recipe.gather
    words = source_names(recipe)
    if g.unit != "document":
        words += f" · {g.unit}s"
    if g.only or g.without or g.holding or g.since or g.until or g.least_words or g.most_words:
        words += " · filtered"
    return words + (f" · sample of {g.sample:,}" if g.sample else "")


def source_names(recipe: Recipe) -> str:
    """The source of a recipe by name, or how many there are."""
    sources = recipe.gather.sources
    return sources[0].name if len(sources) == 1 else f"{len(sources)} sources" if sources else "no source yet"


def _clean(recipe: Recipe, tokens: Tokens | None) -> str:
    c = recipe.clean
    code = tokens.language if tokens is not None else c.language if c.language in NAMES else ""
    language = f"{NAMES[code]} " if code else ""
    if c.language == "each":
        form = {"stem": "stems", "lemma": "lemmas", "written": "as written"}[c.word_form]
        words = [f"{form} of each language" if c.word_form != "written" else form]
    else:
        made = form_for(c.word_form, code) if tokens is not None or code else c.word_form
        words = [{"stem": f"{language}stems", "lemma": f"{language}lemmas", "written": "words as written"}[made]]
    if tokens is not None and not tokens.language:
        words[0] = "language not known"
    if c.tokens in ("letters", "characters"):
        words.insert(0, c.tokens)
    if c.case == "keep":
        words.append("case kept")
    lists = _lists_of(c.stop_words, language)
    if language and words[-1] == f"{language}stems" and lists == f"{language}stop words":
        return " · ".join([*words[:-1], f"{language}stems and stop words"])
    return " · ".join([*words, lists])


def _lists_of(lists: tuple[str, ...], language: str) -> str:
    if not lists:
        return "no stop words"
    if len(lists) > 1:
        return f"{len(lists)} lists of stop words"
    if lists[0] == DETECTED:
        return f"{language}stop words"
    code = lists[0].removesuffix("-wide")
    return f"{NAMES[code]} stop words" if code in NAMES else "own stop words"


def language_words(tokens: Tokens | None) -> str:
    """That the language is that of most documents, and which it is, as far as that is known."""
    if tokens is None:
        return "that of most of them"
    return f"{NAMES[tokens.language]}, the main language" if tokens.language else "unknown: choose one"


def _terms(recipe: Recipe, documents: int) -> str:
    t = recipe.terms
    words = f"{number_range(*t.words)} {'word' if t.words[1] == 1 else 'words'}"
    least = t.least_of(documents) if documents or t.least_documents else 0
    if not least:
        return words
    return f"{words} · in {f'{least:.0%} of' if least < 1 else f'{plain(least)}+'} documents"


def _weigh(recipe: Recipe) -> str:
    w = recipe.weigh
    across = {"none": "", "plain": " × idf", "entropy": " × entropy"}.get(w.global_, f" × {w.global_} idf")
    length = {"none": "any length", "L1": "sum 1", "L2": "unit length"}[w.length]
    words = f"{ {'log': 'log count'}.get(w.local, w.local) }{across} · {length}"
    if w.vectors:
        return f"{space_words(recipe)} · {words}"
    if not w.themes:
        return words
    return f"{words} · {amount(w.themes, 'theme')}{' that add up' if w.themes_by == 'adding' else ''}"


def _compare(recipe: Recipe) -> str:
    c = recipe.compare
    words = f"{MEASURES[c.measure]} · from {c.pairs_from:.2f}"
    if c.pairs_across or c.pairs_within:
        return f"{words} · {'across' if c.pairs_across else 'within'} {c.pairs_across or c.pairs_within}"
    return f"{words} · all copies" if c.copies_below else words


def _group(recipe: Recipe) -> str:
    g = recipe.group
    if g.by == "label":
        return f"by the label {g.label}" if g.label else "by a label"
    if g.by == "theme":
        return "by the strongest theme"
    number = (
        f"{g.group_size:,} per group" if g.group_size else f"{g.groups}" if g.groups else "from the number of documents"
    )
    return f"k-means · {number}" if g.by == "k-means" else f"tree · {g.linkage} · {number}"


def _map(recipe: Recipe) -> str:
    m = recipe.map
    return {"pca": "principal components", "scaling": "scaling"}.get(m.by, f"t-SNE · pull {plain(m.pull)}")


def _tokens_words(results: Results) -> str:
    losses = results[TOKENS].account
    lost = 1 - losses[-1].left / max(losses[0].left, 1)
    return f"{amount(losses[-1].left, 'token')}   −{lost:.0%}"


def _compare_words(results: Results) -> str:
    recall = results[NEIGHBOURS].recall
    return amount(len(results[PAIRS]), "close pair") + (f"   recall {recall:.1%}" if recall < 1 else "")


def _weigh_words(results: Results) -> str:
    themes = results[THEMES]
    if themes.learned:
        return f"vectors of {amount(len(results[WORDS].number), 'word')}"
    if themes.given:
        return f"vectors of {amount(len(themes), 'dimension')}"
    if len(themes):
        return f"{amount(len(themes), 'theme')} of {amount(len(results[TERMS].kept), 'term')}"
    return f"{results[SPACE].filled:.1%} non-zero"


def _group_words(results: Results) -> str:
    words = amount(len(results[GROUPING]), "group")
    holding = results.get(HOLDING)
    if holding is not None and holding.tries and len(holding.groups) == len(results[GROUPING]):
        return f"{words}   {int((holding.groups >= HOLDS).sum())} stable"
    return f"{words}   cohesion {results[GROUPING].quality:.2f}"


def _trust_words(results: Results) -> str:
    overall = results[LAYOUT].overall
    return "no positions to trust" if overall != overall else f"{overall:.0%} neighbours kept"


_SETTINGS: dict[str, Callable[[Recipe], str]] = {
    "gather": _gather,
    "weigh": _weigh,
    "compare": _compare,
    "group": _group,
    "map": _map,
}
_RESULTS: dict[str, Callable[[Results], str]] = {
    "gather": lambda r: amount(len(r[CORPUS]), "document"),
    "clean": _tokens_words,
    "terms": lambda r: f"{amount(len(r[TERMS].kept), 'term')}   of {len(r[TERMS].vocabulary):,}",
    "weigh": _weigh_words,
    "compare": _compare_words,
    "group": _group_words,
    "map": _trust_words,
}


def below_words(desk: str, recipe: Recipe, results: Results, placing: int, findings: int) -> str:
    """The short text of a desk below the steps. placing: the number of sources of new documents; findings: of those that were pinned."""
    if desk == "contrast":
        return "lenses · sides · along"
    if desk == "report":
        return amount(findings, "finding") if findings else "findings · page"
    placed, suggested = results.get(PLACED), results.get(SUGGESTIONS)
    if placing:
        return amount(len(placed), "new document") if placed is not None and len(placed) else "new documents"
    if recipe.suggest.label:
        known = suggested is not None and suggested.label == recipe.suggest.label
        right = f" · {suggested.figures(Part.HELD_OUT).accuracy:.0%} right" if known and suggested is not None else ""
        return f"suggests {recipe.suggest.label}{right}"
    return "new documents · labels"
