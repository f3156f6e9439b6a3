# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of Terms."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, in_order, setting


@dataclass(frozen=True, config=STRICT)
class TermSettings:
    """What counts as a term, and which terms are kept."""

    words: tuple[int, int] = setting(
        (1, 2), label="Words in a term", help="From so many to so many words in a row.", span=(1, 8), unit="words"
    )
    bridge: bool = setting(
        False,
        label="Bridge gaps",
        help="Let a term reach over words that were taken out. Sentence ends are never crossed.",
        said={False: "break", True: "do not break"},
    )
    least_documents: float = setting(
        0,
        label="In at least",
        help="Terms in fewer documents are too rare. Below 1 it is a share of all documents. 0: as fits their number, 3 from 50 documents on, "
        "2 from 10 on, 1 below.",
        low=0,
        said={0: "1 to 3 (as fits)"},
        unit="documents",
    )
    least_times: int = setting(
        1, label="At least", help="Terms that occur less often in all are too rare.", low=1, unit="times"
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
        help="Keep only so many terms, those with the highest times. 0: no limit.",
        said={0: "all"},
        low=0,
        unit="terms",
    )
    most_terms_of: Literal["all", "each-length"] = setting(
        "all",
        label="Counted over",
        help="Whether the limit holds for all terms together or for each length of term.",
        said={"all": "all together", "each-length": "each length by itself"},
    )
    columns: int = setting(
        0,
        label="Columns",
        help="Hash the kept terms into so many columns; terms that share one are counted together. 0: a column for each term.",
        said={0: "one for each term"},
        low=0,
        high=10_000_000,
    )
    only_list: str = setting(
        "",
        label="Only the list",
        help="A list of terms (text, one a line, or a CSV with a column term): terms that are not on it are left out.",
        said={"": "the documents themselves"},
    )
    always_keep: tuple[str, ...] = setting(
        (), label="Always keep", help="Terms kept whatever the limits say.", entry="late frost", said={(): "none"}
    )
    always_drop: tuple[str, ...] = setting(
        (),
        label="Always drop",
        help="Terms dropped whatever the limits say; stronger than always keep.",
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
    "A term is {words} words long; words that were taken {bridge} it.",
    "It is kept if it stands in at least {least-documents} documents, {least-times} × in all, and in no more than {most-share} of all "
    "documents.",
    "Of these {most-terms} are kept, counted over {most-terms-of}.",
    "Always kept: {always-keep}. Always dropped: {always-drop}.",
    "Terms are taken from {only-list}.",
    "Columns: {columns}.",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
