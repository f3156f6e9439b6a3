# SPDX-License-Identifier: GPL-3.0-or-later
"""Documents with everything that is known of them: one table, a row a document, with the columns that are wanted."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import Flag
from jagged_lens.export.run_files import Given
from jagged_lens.gather import NO_DATE
from jagged_lens.group import letter
from jagged_lens.language import CODES, UNKNOWN
from jagged_lens.lens import (
    CORPUS,
    FAMILIES,
    GROUPING,
    LAYOUT,
    NEIGHBOURS,
    OVERVIEW,
    QUALITY,
    SPACE,
    SUGGESTIONS,
    THEMES,
    TOKENS,
    Part,
    Results,
)
from jagged_lens.report import group_names

_FLAGS = {
    Flag.EMPTY: "empty",
    Flag.SAME: "same text",
    Flag.LANGUAGE: "another language",
    Flag.LONG: "unusually long",
    Flag.SHORT: "unusually short",
    Flag.REPLACED: "unreadable characters",
    Flag.SPACELESS: "no spaces",
}


@dataclass(frozen=True)
class Known:
    """One column: its name, and a value for each document: a text, a whole number, a number, or None where there is none."""

    name: str
    values: Sequence[str | int | float | None]


@dataclass(frozen=True)
class Wanted:
    """Columns that are chosen together. name: as the user sees it. usual: whether they are chosen at first. needs: results without which
    they are not there, beside those that every lens has."""

    key: str
    name: str
    usual: bool = True
    needs: tuple[Part[Any], ...] = ()


CHOICES = (
    Wanted("key", "Key"),
    Wanted("title", "Title"),
    Wanted("labels", "Labels"),
    Wanted("date", "Date"),
    Wanted("text", "Text", False),
    Wanted("cleaned", "Cleaned text", False),
    Wanted("words", "Words and language"),
    Wanted("attention", "Needs attention", False),
    Wanted("group", "Group and its name"),
    Wanted("closeness", "Closeness and silhouette", False),
    Wanted("family", "Family and standard", True, (FAMILIES,)),
    Wanted("nearest", "Nearest document and similarity"),
    Wanted("themes", "Themes or vectors", False),
    Wanted("map", "Place on the map and trust"),
    Wanted("suggestion", "Suggestion and probability", False, (SUGGESTIONS,)),
)
"""All choices, in the order of the columns."""


def known_columns(results: Results, given: Given, wanted: Iterable[str]) -> list[Known]:
    """The columns of a table of the n documents in the lens. wanted: keys of CHOICES; those whose results are not there are left out."""
    made: dict[str, Callable[[Results, Given], list[Known]]] = {
        "key": lambda r, g: [Known("key", _keys(r))],
        "title": lambda r, g: [Known("title", list(r[CORPUS].titles.take(_rows(r))))],
        "labels": _labels,
        "date": _date,
        "text": lambda r, g: [Known("text", list(r[CORPUS].texts.take(_rows(r))))],
        "cleaned": lambda r, g: [Known("cleaned", cleaned_texts(r, _rows(r)))],
        "words": _words,
        "attention": lambda r, g: [Known("attention", _attention(r))],
        "group": _group,
        "closeness": lambda r, g: [
            Known("closeness", _floats(np.where(r[GROUPING].group >= 0, r[GROUPING].closeness, np.float32(np.nan)))),
            Known("silhouette", _floats(r[QUALITY].silhouette)),
        ],
        "family": _family,
        "nearest": _nearest,
        "themes": _themes,
        "map": lambda r, g: [
            Known("x", _floats(r[LAYOUT].positions[:, 0])),
            Known("y", _floats(r[LAYOUT].positions[:, 1])),
            Known("trust", _floats(r[LAYOUT].trust)),
        ],
        "suggestion": _suggestion,
    }
    chosen = set(wanted)
    return [
        column
        for choice in CHOICES
        if choice.key in chosen and all(part in results for part in choice.needs)
        for column in made[choice.key](results, given)
    ]


def _rows(results: Results) -> NDArray[np.int32]:
    return results[SPACE].terms.rows


def _keys(results: Results) -> list[str]:
    return list(results[CORPUS].keys.take(_rows(results)))


def _floats(values: NDArray[np.floating]) -> list[float | None]:
    """Numbers in their own precision, None for NaN."""
    return [None if value != value else float(str(value)) for value in values]


def _labels(results: Results, given: Given) -> list[Known]:
    corpus, rows = results[CORPUS], _rows(results)
    found = []
    for label in (*corpus.labels, *given.labels):
        found.append(Known(f"label.{label.name}", [label.values[code] for code in label.codes[rows].tolist()]))
    return [*found, *(Known(one.name, _floats(one.values[rows].astype(np.float64))) for one in corpus.numbers)]


def _date(results: Results, given: Given) -> list[Known]:
    dates = results[CORPUS].dates
    if not len(dates):
        return []
    own = dates[_rows(results)].tolist()
    return [Known("date", [str(np.datetime64(day, "D")) if day != NO_DATE else None for day in own])]


def cleaned_texts(results: Results, rows: NDArray[np.int32]) -> list[str]:
    """The kept words of each document, in the forms in which they are counted. rows: int32, of the corpus."""
    tokens = results[TOKENS]
    words, kept = list(tokens.words), tokens.kept
    found = []
    for row in rows.tolist():
        span = slice(int(tokens.row_starts[row]), int(tokens.row_starts[row + 1]))
        forms = tokens.form[span][kept[span]]
        found.append(" ".join(words[number] for number in tokens.word[forms].tolist()))
    return found


def _words(results: Results, given: Given) -> list[Known]:
    rows, overview = _rows(results), results[OVERVIEW]
    codes = [CODES[code] if code != UNKNOWN else "" for code in overview.language[rows].tolist()]
    return [
        Known("words", overview.words[rows].tolist()),
        Known("kept_words", results[TOKENS].kept_by_row()[rows].tolist()),
        Known("language", codes),
    ]


def _attention(results: Results) -> list[str]:
    flags = results[OVERVIEW].flags[_rows(results)].tolist()
    return ["; ".join(words for flag, words in _FLAGS.items() if value & flag) for value in flags]


def _group(results: Results, given: Given) -> list[Known]:
    group, names = results[GROUPING].group.tolist(), group_names(results, given.groups)
    return [
        Known("group", [letter(one) if one >= 0 else "" for one in group]),
        Known("group_name", [names[one] if one >= 0 else "" for one in group]),
    ]


def _family(results: Results, given: Given) -> list[Known]:
    found = results[FAMILIES]
    n = len(_rows(results))
    family: list[int | None] = [None] * n
    standard = [""] * n
    for number in range(len(found)):
        for place in found.members[found.starts[number] : found.starts[number + 1]].tolist():
            family[place] = number + 1
            standard[place] = "yes" if place == found.standard[number] else "no"
    return [Known("family", family), Known("standard", standard)]


def _nearest(results: Results, given: Given) -> list[Known]:
    found, keys = results[NEIGHBOURS], _keys(results)
    if not found.row.shape[1]:
        return []
    nearest = found.row[:, 0].tolist()
    likeness = _floats(np.where(found.row[:, 0] >= 0, found.similarity[:, 0], np.float32(np.nan)))
    return [
        Known("nearest", [keys[at] if at >= 0 else "" for at in nearest]),
        Known("nearest_similarity", likeness),
    ]


def _themes(results: Results, given: Given) -> list[Known]:
    themes = results[THEMES]
    what = "dimension" if themes.of_vectors else "theme"
    return [Known(f"{what}_{at + 1}", _floats(column)) for at, column in enumerate(themes.shown.T)]


def _suggestion(results: Results, given: Given) -> list[Known]:
    found = results[SUGGESTIONS]
    if not len(found):
        return []
    suggested = [found.values[at] if at >= 0 else "" for at in found.suggested.tolist()]
    return [Known("suggestion", suggested), Known("probability", _floats(found.probability))]
