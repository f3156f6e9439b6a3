# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of Terms."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, in_order, setting


@dataclass(frozen=True, config=STRICT)
class TermSettings:
    """The rules for what counts as a term, and which terms are kept."""

    words: tuple[int, int] = setting(
        (1, 2), label="Words in a term", help="From how many to how many consecutive words.", span=(1, 8), unit="words"
    )
    bridge: bool = setting(
        False,
        label="Bridge gaps",
        help="Let a term span words that were removed. It never crosses the end of a sentence.",
        said={False: "break", True: "do not break"},
    )
    least_documents: float = setting(
        0,
        label="In at least",
        help="Terms in fewer documents are too rare. Below 1: a share of all documents. 0: 3 from 50 documents up, 2 from "
        "10 up, else 1.",
        low=0,
        said={0: "1 to 3 (depends on their number)"},
        unit="documents",
    )
    least_times: int = setting(
        1, label="At least", help="Terms with fewer occurrences in all are too rare.", low=1, unit="times"
    )
    most_share: float = setting(
        0.6,
        label="In at most",
        help="Terms in a larger share of the documents are too common.",
        above=0,
        high=1,
        unit="of all documents",
    )
    most_terms: int = setting(
        0,
        label="At most",
        help="Keep at most this many terms: those with the most occurrences. 0: no limit.",
        said={0: "all"},
        low=0,
        unit="terms",
    )
    most_terms_of: Literal["all", "each-length"] = setting(
        "all",
        label="Counted over",
        help="Whether the limit applies to all terms together or to each length separately.",
        said={"all": "all together", "each-length": "each length separately"},
    )
    columns: int = setting(
        0,
        label="Columns",
        help="Hash the kept terms into this many columns; terms that share a column are counted together. 0: one column for each term.",
        said={0: "one for each term"},
        low=0,
        high=10_000_000,
    )
    only_list: str = setting(
        "",
        label="Only the list",
        help="A list of terms (text, one per line, or a CSV with a column term): terms that are not on it are dropped.",
        said={"": "the documents themselves"},
    )
    always_keep: tuple[str, ...] = setting(
        (), label="Always keep", help="Terms to keep whatever the limits say.", entry="late frost", said={(): "none"}
    )
    always_drop: tuple[str, ...] = setting(
        (),
        label="Always drop",
        help="Terms to drop whatever the limits say; overrides Always keep.",
        entry="late frost",
        said={(): "none"},
    )

    def __post_init__(self) -> None:
        in_order(self.words, 1, 8)

    def least_of(self, documents: int) -> float:
        """In how many of so many documents a term must stand; a share of them below 1.

        >>> [TermSettings().least_of(number) for number in (5, 20, 50)]
        [1, 2, 3]
        """
        if self.least_documents:
            return self.least_documents
        return 3 if documents >= 50 else 2 if documents >= 10 else 1


SENTENCES = (
    "A term has {words} words; removed words {bridge} it.",
    "Keep terms found in at least {least-documents} documents, at least {least-times} × in all, and in at most "
    "{most-share} of all documents.",
    "Of these, keep {most-terms}, counted over {most-terms-of}.",
    "Always keep: {always-keep}; always drop: {always-drop}",
    "Terms come from {only-list}.",
    "Columns: {columns}",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
