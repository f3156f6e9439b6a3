# SPDX-License-Identifier: GPL-3.0-or-later
"""Language: what is known of languages: their names, commonest words, negations, elisions, abbreviations and scripts."""

from jagged_lens.language.apostrophes import core_of
from jagged_lens.language.detect import UNKNOWN, language_of, languages_of, most_common
from jagged_lens.language.names import CODES, NAMES, code_of, name_of
from jagged_lens.language.scripts import is_spaceless, needs_joiners, spaceless_share, word_count
from jagged_lens.language.sentences import SentenceRules, rules_of, sentence_spans
from jagged_lens.language.words import EARNEST, function_words, negations, wide_languages

__all__ = [
    "CODES",
    "EARNEST",
    "NAMES",
    "UNKNOWN",
    "SentenceRules",
    "code_of",
    "core_of",
    "function_words",
    "is_spaceless",
    "language_of",
    "languages_of",
    "most_common",
    "name_of",
    "needs_joiners",
    "negations",
    "rules_of",
    "sentence_spans",
    "spaceless_share",
    "wide_languages",
    "word_count",
]
