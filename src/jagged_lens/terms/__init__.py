# SPDX-License-Identifier: GPL-3.0-or-later
"""Terms: tokens to counts of terms."""

from jagged_lens.terms.characters import count_character_runs
from jagged_lens.terms.contexts import Collocate, Context, Phrase, collocates, contexts, phrases, written_forms
from jagged_lens.terms.index import TermIndex, index_of
from jagged_lens.terms.limits import TermCounts, Vocabulary, WhyNot, limit_terms, why_not_kept
from jagged_lens.terms.log_likelihood import log_likelihood
from jagged_lens.terms.ngrams import NgramCounts, continues, count_ngrams, in_order
from jagged_lens.terms.rank_curve import ZipfMandelbrot, fit_zipf_mandelbrot
from jagged_lens.terms.settings import TermSettings
from jagged_lens.terms.term_list import read_terms, write_terms

__all__ = [
    "Collocate",
    "Context",
    "NgramCounts",
    "Phrase",
    "TermCounts",
    "TermIndex",
    "TermSettings",
    "Vocabulary",
    "WhyNot",
    "ZipfMandelbrot",
    "collocates",
    "contexts",
    "continues",
    "count_character_runs",
    "count_ngrams",
    "fit_zipf_mandelbrot",
    "in_order",
    "index_of",
    "limit_terms",
    "log_likelihood",
    "phrases",
    "read_terms",
    "why_not_kept",
    "write_terms",
    "written_forms",
]
