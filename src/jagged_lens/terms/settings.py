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
    )
    least_documents: float = setting(
        3,
        label="In at least",
        help="Terms in fewer documents are too rare. Below 1 it is a share of all documents.",
        above=0,
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
        low=0,
        unit="terms",
    )
    most_terms_of: Literal["all", "each-length"] = setting(
        "all", label="Counted over", help="Whether the limit holds for all terms together or for each length of term."
    )
    columns: int = setting(
        0,
        label="Columns",
        help="Hash the kept terms into so many columns; terms that share one are counted together. 0: a column for each term.",
        low=0,
        high=10_000_000,
    )
    only_list: str = setting(
        "",
        label="Only the list",
        help="A list of terms (text, one a line, or a CSV with a column term): terms that are not on it are left out.",
    )
    always_keep: tuple[str, ...] = setting((), label="Always keep", help="Terms kept whatever the limits say.")
    always_drop: tuple[str, ...] = setting(
        (), label="Always drop", help="Terms dropped whatever the limits say; stronger than always keep."
    )

    def __post_init__(self) -> None:
        in_order(self.words, 1, 8)
