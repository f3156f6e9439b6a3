"""Explain: where a number comes from."""

from jagged_lens.explain.marks import Marks, term_marks, unshared_words
from jagged_lens.explain.pair import PairParts, pair_parts

__all__ = ["Marks", "PairParts", "pair_parts", "term_marks", "unshared_words"]
