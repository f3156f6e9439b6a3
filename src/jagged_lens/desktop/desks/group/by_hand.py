# SPDX-License-Identifier: GPL-3.0-or-later
"""Groups that are a label of the user's own: values are renamed, merged and split, and documents moved, each in one step that is undone."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from jagged_lens.desktop.asking import Asker
from jagged_lens.gather import Label
from jagged_lens.group import ids_of, letter, split
from jagged_lens.lens import CORPUS, GROUPING, SPACE, THEMES
from jagged_lens.project import Shown
from jagged_lens.project.state import free_name, free_names
from jagged_lens.weigh import in_themes


def own_label(bench: Shown) -> str:
    """The label of the user's own by which the lens is grouped; "" where it is grouped otherwise."""
    settings = bench.recipe.group
    own = {label.name for label in bench.state.labels}
    if CORPUS in bench.results:
        own -= {label.name for label in bench.results[CORPUS].labels}
    return settings.label if settings.by == "label" and settings.label in own else ""


def members(bench: Shown, group: int) -> list[int]:
    """The corpus rows of a group."""
    rows = bench.results[SPACE].terms.rows
    return [int(row) for row in rows[bench.results[GROUPING].group == group]]


def keep_as_label(bench: Shown, name: str, titles: list[str]) -> None:
    """Make a label of the groups that are there, whose values are their titles, and group by it. A title that is taken gets a number."""
    grouping, corpus = bench.results[GROUPING], bench.results[CORPUS]
    values = free_names(title or letter(group) for group, title in enumerate(titles))
    rows = bench.results[SPACE].terms.rows.tolist()
    pairs = [
        (corpus.keys[row], values[group])
        for row, group in zip(rows, grouping.group.tolist(), strict=True)
        if group >= 0
    ]
    bench.change(bench.state.with_groups_as_label(name, pairs), f"keep groups as {name}")


def rename(bench: Shown, group: int, name: str) -> None:
    """Give the value of a group another name."""
    label, value = own_label(bench), bench.results[GROUPING].names[group]
    if label and name and name != value:
        bench.change(bench.state.with_value_renamed(label, value, name), f"rename {value}")


def move(bench: Shown, rows: Iterable[int], group: int) -> None:
    """Put documents (corpus rows) into a group."""
    label = own_label(bench)
    if label:
        value = bench.results[GROUPING].names[group]
        keys = bench.documents.keys_of(rows)
        bench.change(bench.state.with_label(label, keys, value), f"move {len(keys):,} into {value}")


def merge(bench: Shown, group: int, into: int) -> None:
    """Put all documents of one group into another."""
    label, names = own_label(bench), bench.results[GROUPING].names
    if label and group != into:
        state = bench.state.with_value_renamed(label, names[group], names[into])
        bench.change(state, f"merge {names[group]} into {names[into]}")


def split_picked(bench: Shown, group: int) -> bool:
    """Make a group of its own of the picked documents of a group; whether there were any, and others stay."""
    label, own = own_label(bench), members(bench, group)
    picked = sorted(set(own) & set(bench.pick.rows))
    if not label or not picked or len(picked) == len(own):
        return False
    value = bench.results[GROUPING].names[group]
    new = free_name(value, bench.results[GROUPING].names)
    bench.change(bench.state.with_label(label, bench.documents.keys_of(picked), new), f"split {value}")
    return True


def split_into(bench: Shown, asker: Asker, group: int, parts: int) -> None:
    """Split a group into so many by k-means; the largest part keeps the name."""
    label, names = own_label(bench), bench.results[GROUPING].names
    if not label:
        return
    space = in_themes(bench.results[SPACE], bench.results[THEMES])
    settings, state = bench.recipe.group, bench.state
    inside = np.flatnonzero(bench.results[GROUPING].group == group)
    rows, value = bench.results[SPACE].terms.rows[inside], names[group]

    def show(part: np.ndarray) -> None:
        if bench.state is not state:
            return
        new, taken = state, list(names)
        for number in range(1, int(part.max(initial=0)) + 1):
            taken.append(free_name(value, taken))
            new = new.with_label(label, bench.documents.keys_of(rows[part == number].tolist()), taken[-1])
        bench.change(new, f"split {value}")

    keys = bench.results[CORPUS].keys.take(bench.results[SPACE].terms.rows)
    asker.ask("split of a group", lambda: split(space, inside, parts, settings, ids_of(keys)), show)


def values_of(label: Label, rows: np.ndarray) -> list[tuple[str, int]]:
    """The values that some corpus rows have, and how many of them each, most frequent first."""
    codes, counts = np.unique(label.codes[rows], return_counts=True)
    order = np.argsort(-counts, kind="stable")
    return [(label.values[int(codes[at])] or "none", int(counts[at])) for at in order]
