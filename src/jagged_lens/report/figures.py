# SPDX-License-Identifier: GPL-3.0-or-later
"""The figures behind what is seen, and a title for it: computed from results, so that those of then and of now can be compared."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from jagged_lens.compare import KINDS_LONG
from jagged_lens.explain import contributions
from jagged_lens.group import HOLDS, letter
from jagged_lens.lens import (
    CORPUS,
    FAMILIES,
    GROUPING,
    HOLDING,
    LAYOUT,
    LENS_ROWS,
    NEIGHBOURS,
    PAIRS,
    PLACED,
    QUALITY,
    SPACE,
    SUGGESTIONS,
    TERMS,
    THEMES,
    TOKENS,
    Part,
    Recipe,
    Results,
)
from jagged_lens.place import Part as Share
from jagged_lens.project import GroupName, Rows, Way, followed
from jagged_lens.report.standing import group_name, groups_table
from jagged_lens.sentences import amount

_LONGEST = 60
PICKED = "picked documents"
"""The name of the figure that those findings have that are about the pick."""


def figures_of(way: Way, recipe: Recipe, results: Results, about_pick: bool = True) -> dict[str, str]:
    """The figures behind what is seen at a desk: value by name, as they are shown. Those of results that are not there are left out.
    about_pick: with those of the picked documents and terms."""
    found = _of_desk(way.desk, results)
    if not about_pick or not _there(results, CORPUS, SPACE):
        return found
    places = places_of(way.pick, results)
    if way.pick:
        found[PICKED] = f"{len(places):,}"
    if len(places) == len(way.pick) == 1:
        found |= _of_document(places[0], results)
    elif len(places) == len(way.pick) == 2:
        found |= _of_pair(places[0], places[1], recipe, results)
    elif places and (group := group_of(way.pick, results)) >= 0:
        found |= _of_group(group, results)
    if len(way.terms) == 1:
        found |= _of_term(way.terms[0], results)
    return found


def places_of(keys: Sequence[str], results: Results) -> list[int]:
    """The places in the lens of the documents with some keys, those that are in it."""
    wanted = set(keys)
    if not wanted:
        return []
    found = {key: place for place, key in enumerate(_keys(results)) if key in wanted}
    return [found[key] for key in keys if key in found]


def group_of(keys: Sequence[str], results: Results) -> int:
    """The group that some documents make up, by the same overlap as names of groups go by; -1 where there is none."""
    if not _there(results, GROUPING, SPACE) or len(keys) < 2:
        return -1
    wanted = set(keys)
    places = {key: at for at, key in enumerate(_keys(results)) if key in wanted}
    grouping = results[GROUPING]
    found = followed((GroupName("", "", frozenset(keys)),), grouping.group, len(grouping), places)
    return next(iter(found.of), -1)


def groups_rows(results: Results, names: Mapping[int, tuple[str, str]]) -> Rows:
    """All groups as the rows of a finding. names: the user's."""
    table = groups_table(results, names)
    return Rows(table.caption, table.heads, table.rows, len(table.rows))


def title_of(
    way: Way, recipe: Recipe, results: Results, names: Mapping[int, tuple[str, str]], seen: str, about_pick: bool
) -> str:
    """A title for what is seen, in words. names: the user's names of groups. seen: what the face says of itself. about_pick: whether it
    shows the picked documents."""
    if not about_pick or (way.desk == "group" and group_of(way.pick, results) < 0):
        return seen
    places = places_of(way.pick, results) if _there(results, CORPUS, SPACE) else []
    if len(places) == len(way.pick) == 1:
        figures = _of_document(places[0], results)
        inside = f": {figures['group']}" if "group" in figures else ""
        return f"“{_short(way.pick[0], results)}”{inside}"
    if len(places) == len(way.pick) == 2:
        figures = _of_pair(places[0], places[1], recipe, results)
        both = " and ".join(f"“{_short(key, results)}”" for key in way.pick)
        return f"{both}: similarity {figures['similarity']}, {figures['kind']}" if figures else both
    group = group_of(way.pick, results) if places else -1
    if group >= 0 and _there(results, TERMS):
        figures = _of_group(group, results)
        stable = f", comes back in {figures['came back']} tries" if "came back" in figures else ""
        name = group_name(results, group, names.get(group, ("", ""))[0])
        return (
            f"Group {letter(group)}{f', {name}' if name else ''}: {figures['documents in the group']} documents{stable}"
        )
    if len(way.terms) == 1:
        figures = _of_term(way.terms[0], results)
        if "times" in figures:
            return f"The term “{way.terms[0]}”: in {figures['documents with the term']} documents"
    if len(places) > 2:
        return f"{amount(len(places), 'picked document')}. {seen}".rstrip(". ")
    return seen


def _keys(results: Results) -> list[str]:
    return list(results[CORPUS].keys.take(results[SPACE].terms.rows))


def _there(results: Results, *parts: Part[Any]) -> bool:
    return all(part in results for part in parts)


def _short(key: str, results: Results) -> str:
    """The title of a document, or its first words."""
    corpus, places = results[CORPUS], places_of([key], results)
    row = int(results[SPACE].terms.rows[places[0]]) if places else -1
    words = " ".join((corpus.titles[row] or corpus.texts[row][: 2 * _LONGEST]).split()) if row >= 0 else key
    return words if len(words) <= _LONGEST else f"{words[: _LONGEST - 1].rstrip()}…"


def _of_desk(desk: str, results: Results) -> dict[str, str]:
    made = {
        "gather": _of_gather,
        "clean": _of_clean,
        "terms": _of_terms,
        "weigh": _of_weigh,
        "compare": _of_compare,
        "group": _of_groups,
        "map": _of_map,
        "place": _of_place,
    }
    return made[desk](results) if desk in made else _of_gather(results)


def _of_gather(results: Results) -> dict[str, str]:
    if not _there(results, CORPUS, LENS_ROWS):
        return {}
    return {"documents read": f"{len(results[CORPUS]):,}", "documents in the lens": f"{len(results[LENS_ROWS]):,}"}


def _of_clean(results: Results) -> dict[str, str]:
    if not _there(results, TOKENS):
        return {}
    losses = results[TOKENS].account
    return {"words found": f"{losses[0].left:,}", "words kept": f"{losses[-1].left:,}"}


def _of_terms(results: Results) -> dict[str, str]:
    if not _there(results, TERMS):
        return {}
    terms = results[TERMS]
    return {"terms": f"{len(terms.vocabulary):,}", "terms kept": f"{len(terms.kept):,}"}


def _of_weigh(results: Results) -> dict[str, str]:
    if not _there(results, SPACE, THEMES):
        return {}
    themes = results[THEMES]
    kind = "dimensions" if themes.of_vectors else "themes"
    return {"non-zero weights": f"{results[SPACE].filled:.1%}"} | ({kind: f"{len(themes):,}"} if len(themes) else {})


def _of_compare(results: Results) -> dict[str, str]:
    if not _there(results, PAIRS):
        return {}
    found = {"close pairs": f"{len(results[PAIRS]):,}"}
    return found | ({"families": f"{len(results[FAMILIES]):,}"} if FAMILIES in results else {})


def _of_groups(results: Results) -> dict[str, str]:
    if not _there(results, GROUPING, QUALITY):
        return {}
    grouping, mean = results[GROUPING], float(results[QUALITY].mean)
    found = {"groups": f"{len(grouping):,}", "cohesion": f"{grouping.quality:.2f}"}
    if mean == mean:
        found["mean silhouette"] = f"{mean:.2f}"
    holding = results.get(HOLDING)
    if holding is not None and holding.tries and len(holding.groups) == len(grouping):
        found["stable groups"] = f"{int((holding.groups >= HOLDS).sum()):,}"
    return found


def _of_map(results: Results) -> dict[str, str]:
    if not _there(results, LAYOUT):
        return {}
    layout = results[LAYOUT]
    found = {"documents on the map": f"{int((~np.isnan(layout.positions[:, 0])).sum()):,}"}
    return found | ({"neighbours kept": f"{layout.overall:.0%}"} if layout.overall == layout.overall else {})


def _of_place(results: Results) -> dict[str, str]:
    found = {}
    placed, suggested = results.get(PLACED), results.get(SUGGESTIONS)
    if placed is not None and len(placed):
        found["new documents"] = f"{len(placed):,}"
    if suggested is not None and len(suggested):
        found["suggested right"] = f"{suggested.figures(Share.HELD_OUT).accuracy:.1%}"
    return found


def _of_document(place: int, results: Results) -> dict[str, str]:
    found = {}
    if _there(results, GROUPING):
        grouping = results[GROUPING]
        group = int(grouping.group[place])
        found["group"] = f"group {letter(group)}" if group >= 0 else "no group"
        if group >= 0:
            found["closeness"] = f"{grouping.closeness[place]:.2f}"
    if _there(results, NEIGHBOURS) and results[NEIGHBOURS].row.shape[1]:
        nearest = int(results[NEIGHBOURS].row[place, 0])
        if nearest >= 0:
            found["similarity of the nearest"] = f"{results[NEIGHBOURS].similarity[place, 0]:.3f}"
    return found


def _of_pair(first: int, second: int, recipe: Recipe, results: Results) -> dict[str, str]:
    first, second = min(first, second), max(first, second)
    pairs = results.get(PAIRS)
    if pairs is not None:
        at = np.flatnonzero((pairs.first == first) & (pairs.second == second))
        if len(at):
            kind = KINDS_LONG[int(pairs.kind[at[0]])].lower()
            return {"similarity": f"{pairs.similarity[at[0]]:.3f}", "kind": kind}
    if not _there(results, THEMES):
        return {}
    own = contributions(results[SPACE], recipe.compare.measure, first, second, results[THEMES])
    return {"similarity": f"{own.similarity:.3f}", "kind": "not a close pair"}


def _of_group(group: int, results: Results) -> dict[str, str]:
    grouping = results[GROUPING]
    found = {"documents in the group": f"{grouping.sizes[group]:,}", "cohesion": f"{grouping.tightness[group]:.2f}"}
    holding = results.get(HOLDING)
    if holding is not None and holding.tries and len(holding.groups) == len(grouping):
        found["came back"] = f"{holding.came_back[group]} of {holding.tries}"
    return found


def _of_term(term: str, results: Results) -> dict[str, str]:
    if not _there(results, TERMS):
        return {}
    terms = results[TERMS]
    column = next((at for at, one in enumerate(terms.terms) if one == term), -1)
    if column < 0:
        return {"documents with the term": "none, since the term is not kept"}
    number = int(terms.kept[column])
    return {
        "documents with the term": f"{terms.vocabulary.documents[number]:,}",
        "times": f"{terms.vocabulary.times[number]:,}",
    }
