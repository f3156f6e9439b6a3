# SPDX-License-Identifier: GPL-3.0-or-later
"""The standing parts of a report: what every lens can say of itself, in the figures of the window."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping

import numpy as np
import scipy

from jagged_lens import __version__
from jagged_lens.compare import KINDS_LONG, Kind
from jagged_lens.group import BREAKS, HOLDS, Holding, letter
from jagged_lens.group.key_terms import NAMING
from jagged_lens.language import NAMES
from jagged_lens.lens import (
    CORPUS,
    CROSS,
    FAMILIES,
    GROUPING,
    HOLDING,
    KEY_TERMS,
    LAYOUT,
    LENS_ROWS,
    NEIGHBOURS,
    PAIRS,
    PLACED,
    QUALITY,
    SECTIONS,
    SPACE,
    SUGGESTIONS,
    TERMS,
    THEMES,
    TOKENS,
    Recipe,
    Results,
    noticed,
    sentences_of,
    shown_settings_of,
    unusual_text,
)
from jagged_lens.map import separation
from jagged_lens.place import Part as Share
from jagged_lens.report.content import Listing, Paragraph, Part, Picture, Quoted, Section, Subheading, Table
from jagged_lens.report.map_picture import map_svg
from jagged_lens.sentences import amount, said
from jagged_lens.strings import Strings

STANDING = ("account", "groups", "map", "sure", "copies", "terms", "placed", "suggested", "settings", "again")
"""The names of the standing parts, in their order."""
STANDING_TITLES = {
    "account": "What came in",
    "groups": "What is in there",
    "map": "The map",
    "sure": "How sure",
    "copies": "Copies and near-duplicates",
    "terms": "Terms",
    "placed": "New documents",
    "suggested": "Suggested labels",
    "settings": "Settings",
    "again": "How to compute this again",
}
_TERMS = 30
_TYPICAL = 6
_NAMED = 6  # groups that are named in a sentence


def standing_sections(recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]]) -> list[Section]:
    """The standing parts of the report of a lens, but for those that its recipe leaves out. names: the user's name and note of groups.

    No text of a document is in them but titles and terms.
    """
    made = {
        "account": _account,
        "groups": _groups,
        "map": _map,
        "sure": _sure,
        "copies": _copies,
        "terms": _terms,
        "placed": _placed,
        "suggested": _suggested,
        "settings": _settings,
        "again": _again,
    }
    sections = []
    for name in STANDING:
        parts = made[name](recipe, results, names) if name not in recipe.report.leave_out else []
        if parts:
            sections.append(Section(name, STANDING_TITLES[name], tuple(parts)))
    return sections


def group_names(results: Results, names: Mapping[int, tuple[str, str]]) -> list[str]:
    """The name of each group: the user's, the value of the label, or its typical terms."""
    found = range(len(results[GROUPING]))
    return [group_name(results, group, names.get(group, ("", ""))[0]) or "no typical terms" for group in found]


def group_name(results: Results, group: int, own: str, terms: int = NAMING) -> str:
    """The name of a group: own, the user's; else the value of its label, or its most typical terms; "" where it has none."""
    if own:
        return own
    if results[GROUPING].names:
        return results[GROUPING].names[group]
    shown = results[TERMS].shown
    return " · ".join(shown[column] for column in results[KEY_TERMS].names(group)[:terms])


def _holding(results: Results) -> Holding:
    """The stability of the groups; of no tries where it was not measured."""
    found = results.get(HOLDING)
    return found if found is not None else Holding.none(len(results[GROUPING]))


def _account(recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]]) -> list[Part]:
    corpus, tokens, terms, space = results[CORPUS], results[TOKENS], results[TERMS], results[SPACE]
    inside, losses = len(results[LENS_ROWS]), tokens.account
    language = NAMES.get(tokens.language, "an unknown language")
    lines = [
        f"{amount(len(corpus), 'document')} were read; {inside:,} are in the lens, {len(corpus) - inside:,} are left out by filters "
        "or were set aside.",
        f"{losses[0].left:,} words were found, and {losses[-1].left:,} of them are kept. The main language is {language}.",
        f"{len(terms.vocabulary):,} different terms occur; {len(terms.kept):,} are kept.",
        f"{amount(int(space.empty.sum()), 'document')} without any kept term.",
    ]
    if corpus.unread:
        lines.append(
            f"{amount(len(corpus.unread), 'file')} could not be read: {', '.join(one.name for one in corpus.unread[:5])}."
        )
    taken = [(loss.rule.name.lower().replace("_", " "), loss.taken) for loss in losses[1:] if loss.taken]
    rows = tuple((name, f"{count:,}") for name, count in sorted(taken, key=lambda one: -one[1]))
    parts: list[Part] = [Listing(tuple(lines))]
    if rows:
        parts.append(Table("Words removed, by rule", ("Rule", "Words"), rows, frozenset({1})))
    if found := noticed(recipe, results):
        parts.append(Listing(tuple(f"Note: {one.words}" for one in found)))
    return parts


def groups_table(results: Results, names: Mapping[int, tuple[str, str]]) -> Table:
    """The groups as a table: name, documents, typical terms, figures and the most typical document of each. names: the user's."""
    grouping, key_terms, quality, holding = results[GROUPING], results[KEY_TERMS], results[QUALITY], _holding(results)
    corpus, rows, shown = results[CORPUS], results[TERMS].rows, results[TERMS].shown
    called = group_names(results, names)
    measured = holding.tries > 0 and len(holding.groups) == len(grouping)
    table = []
    for group in range(len(grouping)):
        typical = ", ".join(shown[column] for column in key_terms.columns(group)[:_TYPICAL])
        nearest = corpus.titles[int(rows[int(key_terms.typical[group])])]
        stable = f"{holding.came_back[group]} of {holding.tries}" if measured else "not measured"
        table.append(
            (
                f"{letter(group)} {called[group]}",
                f"{grouping.sizes[group]:,}",
                typical or "none",
                f"{grouping.tightness[group]:.2f}",
                _number(float(quality.groups[group])),
                stable,
                nearest,
            )
        )
    heads = ("Group", "Documents", "Typical terms", "Cohesion", "Silhouette", "Came back", "Most typical document")
    return Table("Groups", heads, tuple(table), frozenset({1, 3, 4, 5}))


def _groups(recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]]) -> list[Part]:
    grouping = results[GROUPING]
    if not len(grouping):
        return [Paragraph("No document could be grouped.")]
    called = group_names(results, names)
    parts: list[Part] = [
        Paragraph(f"{amount(int((grouping.group >= 0).sum()), 'document')} are in {amount(len(grouping), 'group')}."),
        groups_table(results, names),
    ]
    notes = [
        f"{letter(group)} {called[group]}: {note}"
        for group, (_, note) in sorted(names.items())
        if note and group < len(called)
    ]
    if notes:
        parts.append(Listing(tuple(notes)))
    cross = results[CROSS]
    if cross.values:
        parts.append(
            Paragraph(
                f"Against the label “{recipe.group.against}”: {cross.purity:.0%} of the documents have the most common value of their "
                f"group (purity); the adjusted Rand index is {cross.adjusted_rand:.2f}."
            )
        )
    return parts


def _map(recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]]) -> list[Part]:
    layout, grouping = results[LAYOUT], results[GROUPING]
    called = group_names(results, names)
    svg = map_svg(layout.positions, grouping.group, called)
    if not svg:
        return [Paragraph("No document has a place on the map.")]
    there = int((~np.isnan(layout.positions[:, 0])).sum())
    sizes = ", ".join(f"{letter(group)} {name} ({grouping.sizes[group]:,})" for group, name in enumerate(called))
    alternative = f"Map of {amount(there, 'document')} in the colors of their groups: {sizes}."
    caption = (
        f"{amount(there, 'document')}; near points are similar documents. {layout.overall:.0%} of the 12 nearest neighbours are kept, so "
        "single positions should not be trusted."
        if layout.overall == layout.overall
        else f"{amount(there, 'document')}."
    )
    return [Picture(svg, alternative, caption)]


def _sure(recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]]) -> list[Part]:
    grouping, quality, holding, layout = results[GROUPING], results[QUALITY], _holding(results), results[LAYOUT]
    corpus, tokens = results[CORPUS], results[TOKENS]
    words = []
    if holding.tries and len(holding.groups) == len(grouping):
        stable = int((holding.groups >= HOLDS).sum())
        words.append(
            f"{stable} of {amount(len(grouping), 'group')} are stable: they come back when four fifths of the documents are grouped again, in "
            f"{holding.tries} tries with a mean overlap of at least {HOLDS:.0%}."
        )
        called = group_names(results, names)
        weak = [f"{letter(group)} {called[group]}" for group in np.flatnonzero(holding.groups < BREAKS).tolist()]
        if weak:
            named = _listed(weak) if len(weak) <= _NAMED else f"{len(weak)} groups"
            words.append(f"Not stable: {named}. Do not rely on {'it' if len(weak) == 1 else 'them'}.")
    else:
        words.append(
            "The stability of the groups was not measured, so how far they depend on single documents is not known."
        )
    mean = float(quality.mean)
    if mean == mean:
        words.append(
            f"The mean silhouette is {mean:.2f} on a scale from −1 to 1; {amount(int(quality.weak.sum()), 'document')} are closer to the "
            "documents of another group."
        )
    if layout.overall == layout.overall:
        words.append(f"The map keeps {layout.overall:.0%} of the nearest neighbours.")
    recall = results[NEIGHBOURS].recall
    if recall < 1:
        words.append(f"Neighbours were found by lists of the heaviest terms, with a recall of {recall:.1%}.")
    if recipe.gather.sample:
        words.append(f"Only a seeded sample of {recipe.gather.sample:,} documents was looked at.")
    if not tokens.language:
        words.append("The language is not known, so words were used as written.")
    parts: list[Part] = [Paragraph(" ".join(words))]
    rows = []
    for label in corpus.labels:
        found = separation(label.codes[results[TERMS].rows], label.none, results[NEIGHBOURS], layout)
        if found.all_space == found.all_space:
            rows.append((label.name, f"{found.all_space:.0%}", f"{found.all_map:.0%}", f"{found.all_chance:.0%}"))
    if rows:
        heads = ("Label", "In the space", "On the map", "By chance")
        caption = "Share of the 12 nearest documents with the same value"
        parts.append(Table(caption, heads, tuple(rows), frozenset({1, 2, 3})))
    return parts


def _copies(recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]]) -> list[Part]:
    pairs = results[PAIRS]
    counts = [int((pairs.kind == kind).sum()) for kind in range(len(Kind))]
    rows = tuple((words, f"{count:,}") for words, count in zip(KINDS_LONG, counts, strict=True))
    found = results.get(FAMILIES)
    families = f" Near-duplicates are in {amount(len(found), 'family', 'families')}." if found is not None else ""
    return [
        Paragraph(
            f"{amount(len(pairs), 'pair')} have a similarity of {pairs.listed_from:.2f} or more, or are near-duplicates."
            f"{families}"
        ),
        Table("Pairs by kind", ("Kind", "Pairs"), rows, frozenset({1})),
    ]


def _terms(recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]]) -> list[Part]:
    terms = results[TERMS]
    if not len(terms.kept) or terms.column is not None:
        return []
    documents = terms.vocabulary.documents[terms.kept]
    order = np.argsort(-documents, kind="stable")[:_TERMS]
    rows = tuple(
        (terms.shown[int(at)], f"{documents[at]:,}", f"{terms.vocabulary.times[terms.kept[at]]:,}") for at in order
    )
    return [Table("Most common terms", ("Term", "Documents", "Times"), rows, frozenset({1, 2}))]


def _placed(recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]]) -> list[Part]:
    found = results.get(PLACED)
    if found is None or not len(found):
        return []
    keys = results[CORPUS].keys.take(results[SPACE].terms.rows)
    called = group_names(results, names)
    near = found.nearest.row[:, 0].tolist() if found.nearest.row.shape[1] else [-1] * len(found)
    rows = [
        (
            found.corpus.keys[at],
            keys[near[at]] if near[at] >= 0 else "none",
            f"{found.nearest.similarity[at, 0]:.3f}" if near[at] >= 0 else "",
            f"{letter(group)} {called[group]}" if group >= 0 else "none",
            f"{found.through.unknown_share[at]:.0%}",
        )
        for at, group in enumerate(found.group[:_TERMS].tolist())
    ]
    cut = f", {len(rows)} of {len(found):,}" if len(rows) < len(found) else ""
    heads = ("Document", "Nearest", "Similarity", "Group", "Unknown words")
    copies = int((found.copy_of >= 0).sum())
    return [
        Paragraph(
            f"{amount(len(found), 'new document')} were placed in the lens, which they do not change. {amount(copies, 'copy', 'copies')} of "
            f"documents of the lens are among them."
        ),
        Table(f"New documents{cut}", heads, tuple(rows), frozenset({2, 4})),
    ]


def _suggested(recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]]) -> list[Part]:
    found = results.get(SUGGESTIONS)
    if found is None or not len(found):
        return []
    held = found.figures(Share.HELD_OUT)
    count = int(held.counts.sum())
    return [
        Paragraph(
            f"The label “{found.label}” was learned from the documents that have a value. Of {amount(count, 'document')} that were held out, "
            f"{held.accuracy:.1%} were suggested right; always suggesting the most common value would be right for {held.trivial:.1%}."
        )
    ]


def _settings(recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]]) -> list[Part]:
    parts: list[Part] = []
    for section in SECTIONS:
        if section in ("report", "run") or (section == "suggest" and not recipe.suggest.label):
            continue
        lines = said(sentences_of(section), getattr(recipe, section), shown_settings_of(section))
        parts += [Subheading(section.capitalize()), Listing(tuple(lines))]
    return parts


def _again(recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]]) -> list[Part]:
    corpus = results[CORPUS]
    digest = hashlib.blake2b(digest_size=16)
    for texts in (corpus.keys, corpus.texts):
        own = texts if isinstance(texts, Strings) else Strings.of(texts)
        digest.update(own.starts.tobytes())
        digest.update(own.data.tobytes())
    lines = [
        f"Jagged Lens {__version__} computes the same figures from the same documents and settings, on any number of threads. This report "
        f"was made with NumPy {np.__version__} and SciPy {scipy.__version__}.",
        f"The keys and texts of all documents have the digest {digest.hexdigest()} (BLAKE2b).",
        f"The seed of the groups is {recipe.group.seed}; the seed of the map is {recipe.map.seed}.",
        "“jagged-lens run recipe.toml --out results” writes all tables. These are the settings that are not the usual ones:",
    ]
    if len(themes := results[THEMES]):
        lines.insert(3, f"The later steps work on {amount(len(themes), 'dimension')}.")
    return [Listing(tuple(lines)), Quoted("recipe.toml", ((unusual_text(recipe), ""),))]


def _listed(names: list[str]) -> str:
    """Names in a sentence.

    >>> _listed(["peas"]), _listed(["peas", "beans", "leeks"])
    ('peas', 'peas, beans and leeks')
    """
    *first, last = names
    return f"{', '.join(first)} and {last}" if first else last


def _number(value: float) -> str:
    return f"{value:.2f}" if value == value else "none"
