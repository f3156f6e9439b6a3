# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of Gather."""

from __future__ import annotations

from typing import Any, Literal

from pydantic.dataclasses import dataclass

from jagged_lens.gather.source import Source, is_plain_file, parse_sources, plain_sources
from jagged_lens.setting import STRICT, setting


@dataclass(frozen=True, config=STRICT)
class GatherSettings:
    """The sources of documents, what one document is, and which of them the lens uses.

    key, text, title, labels and date hold for each source that does not say its own.
    """

    from_: str | tuple[Source, ...] = setting(
        "",
        label="From",
        help="A table, a text, a folder or a pattern such as notes/*.txt; or a source with its own settings, or a list of them.",
        leaf=False,
        parse=parse_sources,
        plain=plain_sources,
        allowed='a path, a table such as {file = "notes.csv"} or {database = "notes.sqlite", table = "notes"}, or a list of these',
    )
    key: str = setting(
        "",
        label="Key",
        help="Column of unique document keys. If empty, a row is called file#row and a file by its path.",
        leaf=False,
    )
    text: tuple[str, ...] = setting(
        (),
        label="Text",
        help="Columns whose text is read, joined by a blank line. If empty, the column with the most words.",
        leaf=False,
    )
    title: str = setting(
        "",
        label="Title",
        help="Column of titles. If empty, a column named title, or else the key.",
        leaf=False,
    )
    labels: tuple[str, ...] = setting((), label="Labels", help="Columns whose values label the documents.", leaf=False)
    date: str = setting("", label="Date", help="Column of dates.", leaf=False)
    unit: Literal["document", "paragraph", "sentence", "line"] = setting(
        "document",
        label="Unit",
        help="What counts as one document: the whole text, or each paragraph, sentence or line.",
        said={"document": "a whole text", "paragraph": "a paragraph", "sentence": "a sentence", "line": "a line"},
    )
    only: tuple[str, ...] = setting(
        (),
        label="Only",
        help='Labels that documents must have, such as "crop = bean". Several values of one label: any of them.',
        entry="crop = bean",
        said={(): "any"},
    )
    without: tuple[str, ...] = setting(
        (),
        label="Without",
        help='Labels that documents must not have, such as "crop = bean".',
        entry="crop = bean",
        said={(): "none"},
    )
    holding: str = setting(
        "",
        label="Containing",
        help='Words that documents must contain: words, word* and "phrases".',
        said={"": "any words"},
    )
    since: str = setting(
        "",
        label="Since",
        help="Leave out documents dated before this day, such as 2021-05-01.",
        said={"": "the first day"},
    )
    until: str = setting("", label="Until", help="Leave out documents dated after this day.", said={"": "the last day"})
    least_words: int = setting(
        0, label="Least words", help="Leave out documents with fewer words.", low=0, said={0: "0"}
    )
    most_words: int = setting(
        0,
        label="Most words",
        help="Leave out documents with more words; 0 for no limit.",
        low=0,
        said={0: "any number of"},
    )
    sample: int = setting(
        0,
        label="Sample",
        help="Work on a random sample of this many documents; 0 takes all of them.",
        low=0,
        said={0: "all"},
    )
    sample_of: str = setting(
        "",
        label="For each value of",
        help="A label: the sample takes this many documents of each of its values.",
        names_label=True,
        said={"": "none"},
        when=("sample", ("*",)),
    )
    seed: int = setting(
        1,
        label="Seed",
        help="Seed of the sample. The same seed takes the same documents.",
        low=0,
        when=("sample", ("*",)),
    )

    @property
    def sources(self) -> tuple[Source, ...]:
        """The sources, each with its roles."""
        if not self.from_:
            return ()
        given = (Source(file=self.from_),) if isinstance(self.from_, str) else self.from_
        return tuple(source.with_roles_of(self.key, self.text, self.title, self.labels, self.date) for source in given)


SENTENCES = (
    "A document is {unit}.",
    "Labels required: {only}; labels excluded: {without}",
    "Containing: {holding}",
    "Dated: {since} to {until}",
    "Length: {least-words} to {most-words} words",
    "Sample: {sample}[ for each value of {sample-of}][, seed {seed}]",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""


def settings_from(sources: tuple[Source, ...]) -> dict[str, Any]:
    """The settings that name these sources, in the plainest way that a recipe has for them."""
    if not sources:
        return {"from": "", "key": "", "text": [], "title": "", "labels": [], "date": ""}
    if len(sources) == 1 and is_plain_file(sources[0]):
        one = sources[0]
        return {
            "from": one.file,
            "key": one.key,
            "text": list(one.text),
            "title": one.title,
            "labels": list(one.labels),
            "date": one.date,
        }
    return {"from": list(sources), "key": "", "text": [], "title": "", "labels": [], "date": ""}
