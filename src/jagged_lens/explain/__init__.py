"""Explain: where a number comes from."""

from jagged_lens.explain.document_terms import DocumentTerms, document_terms
from jagged_lens.explain.hits import Hit, cleaned_spans, rule_hits
from jagged_lens.explain.marks import Marks, term_marks, unshared_words
from jagged_lens.explain.pair import PairParts, pair_parts

__all__ = [
    "DocumentTerms",
    "Hit",
    "Marks",
    "PairParts",
    "cleaned_spans",
    "document_terms",
    "pair_parts",
    "rule_hits",
    "term_marks",
    "unshared_words",
]
