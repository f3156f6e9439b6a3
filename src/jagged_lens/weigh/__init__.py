# SPDX-License-Identifier: GPL-3.0-or-later
"""Weigh: counts to a vector space."""

from jagged_lens.weigh.adding import adding_themes
from jagged_lens.weigh.blocks import block_means, blocks_of
from jagged_lens.weigh.given import by_given_vectors
from jagged_lens.weigh.krylov import leading_eigenvectors, right_vectors, upright
from jagged_lens.weigh.learned import LEAST, WordVectors, documents_by_words, word_vectors
from jagged_lens.weigh.settings import WeighSettings
from jagged_lens.weigh.singular import product
from jagged_lens.weigh.term_rows import term_rows
from jagged_lens.weigh.theme_numbers import ThemeNumbers, left_by_document, theme_numbers
from jagged_lens.weigh.themes import Themes, in_themes, themes
from jagged_lens.weigh.weigh import (
    VectorSpace,
    global_weights,
    lengths_of_rows,
    local_weights,
    row_sums,
    to_length,
    weigh,
)

__all__ = [
    "LEAST",
    "ThemeNumbers",
    "Themes",
    "VectorSpace",
    "WeighSettings",
    "WordVectors",
    "adding_themes",
    "block_means",
    "blocks_of",
    "by_given_vectors",
    "documents_by_words",
    "global_weights",
    "in_themes",
    "leading_eigenvectors",
    "left_by_document",
    "lengths_of_rows",
    "local_weights",
    "product",
    "right_vectors",
    "row_sums",
    "term_rows",
    "theme_numbers",
    "themes",
    "to_length",
    "upright",
    "weigh",
    "word_vectors",
]
