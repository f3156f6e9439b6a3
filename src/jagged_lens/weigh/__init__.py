"""Weigh: counts to a vector space."""

from jagged_lens.weigh.settings import WeighSettings
from jagged_lens.weigh.term_rows import term_rows
from jagged_lens.weigh.weigh import VectorSpace, global_weights, local_weights, row_sums, weigh

__all__ = ["VectorSpace", "WeighSettings", "global_weights", "local_weights", "row_sums", "term_rows", "weigh"]
