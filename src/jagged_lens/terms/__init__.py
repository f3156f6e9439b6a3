"""Terms: tokens to counts of terms."""

from jagged_lens.terms.characters import count_character_runs
from jagged_lens.terms.limits import TermCounts, Vocabulary, WhyNot, limit_terms
from jagged_lens.terms.ngrams import NgramCounts, continues, count_ngrams
from jagged_lens.terms.settings import TermSettings

__all__ = [
    "NgramCounts",
    "TermCounts",
    "TermSettings",
    "Vocabulary",
    "WhyNot",
    "continues",
    "count_character_runs",
    "count_ngrams",
    "limit_terms",
]
