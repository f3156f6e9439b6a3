"""Explain: where a number comes from."""

from jagged_lens.explain.aligned import Aligned, aligned
from jagged_lens.explain.cell import Worked, as_sheet, worked
from jagged_lens.explain.document_terms import DocumentTerms, document_terms
from jagged_lens.explain.hits import Hit, cleaned_spans, rule_hits
from jagged_lens.explain.marks import Marks, term_marks, unshared_words
from jagged_lens.explain.pair import Contributions, contributions

__all__ = [
    "Aligned",
    "Contributions",
    "DocumentTerms",
    "Hit",
    "Marks",
    "Worked",
    "aligned",
    "as_sheet",
    "cleaned_spans",
    "contributions",
    "document_terms",
    "rule_hits",
    "term_marks",
    "unshared_words",
    "worked",
]
