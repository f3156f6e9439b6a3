# SPDX-License-Identifier: GPL-3.0-or-later
"""The result of reading sources again: new, changed and missing documents."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from jagged_lens.gather import Corpus, Source


@dataclass(frozen=True)
class Refreshed:
    """new, changed, gone: keys of documents, in order. titles: of all of these. taken: the stamps to take in.

    notices: what was found while reading; unread: what gave no document, as "name: reason".
    """

    new: tuple[str, ...]
    changed: tuple[str, ...]
    gone: tuple[str, ...]
    titles: dict[str, str]
    stamps: dict[Source, str]
    notices: tuple[str, ...]
    unread: tuple[str, ...]

    @property
    def nothing(self) -> bool:
        """True if no document is new, changed or gone."""
        return not (self.new or self.changed or self.gone)


def compared(before: Corpus, after: Corpus, sources: Sequence[Source]) -> Refreshed:
    """The differences between two readings. A document is changed where its text, title, date, a label or a number differs."""
    old = {key: row for row, key in enumerate(before.keys)}
    new = {key: row for row, key in enumerate(after.keys)}
    changed = [key for key, row in new.items() if key in old and _content(before, old[key]) != _content(after, row)]
    gone = [key for key in old if key not in new]
    added = [key for key in new if key not in old]
    titles = {key: after.titles[new[key]] for key in (*added, *changed)}
    titles.update({key: before.titles[old[key]] for key in gone})
    return Refreshed(
        tuple(added),
        tuple(changed),
        tuple(gone),
        titles,
        {source: stamp for source, stamp in zip(sources, after.stamps, strict=False) if stamp},
        after.notices,
        tuple(f"{one.name}: {one.reason}" for one in after.unread),
    )


def _content(corpus: Corpus, row: int) -> tuple[object, ...]:
    labels = tuple(sorted((label.name, value) for label in corpus.labels if (value := label.value(row))))
    numbers = tuple((one.name, float(one.values[row])) for one in corpus.numbers if one.values[row] == one.values[row])
    return corpus.texts[row], corpus.titles[row], corpus.date(row), labels, numbers
