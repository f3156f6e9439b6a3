# SPDX-License-Identifier: GPL-3.0-or-later
"""Explain: where a number comes from."""

from jagged_lens.explain.aligned import Aligned, aligned
from jagged_lens.explain.cell import Worked, as_sheet, worked
from jagged_lens.explain.document_terms import DocumentTerms, document_terms
from jagged_lens.explain.hits import Hit, cleaned_spans, rule_hits
from jagged_lens.explain.marks import Marks, term_marks, unshared_words
from jagged_lens.explain.membership import Membership, membership
from jagged_lens.explain.pair import Contributions, contributions
from jagged_lens.explain.sentences import SentencePair, nearest_sentences
from jagged_lens.explain.two_weightings import Ranking, ranked_documents, ranked_terms

__all__ = [
    "Aligned",
    "Contributions",
    "DocumentTerms",
    "Hit",
    "Marks",
    "Membership",
    "Ranking",
    "SentencePair",
    "Worked",
    "aligned",
    "as_sheet",
    "cleaned_spans",
    "contributions",
    "document_terms",
    "membership",
    "nearest_sentences",
    "ranked_documents",
    "ranked_terms",
    "rule_hits",
    "term_marks",
    "unshared_words",
    "worked",
]
