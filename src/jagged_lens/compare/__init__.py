"""Compare: a vector space to neighbours and pairs."""

from jagged_lens.compare.candidates import EXACT_TO, THEMES, neighbours_by_candidates
from jagged_lens.compare.distinct_rows import Distinct, distinct_rows
from jagged_lens.compare.distribution import BINS, Distribution, similarity_distribution
from jagged_lens.compare.measure import Rows, rows_of, similarities
from jagged_lens.compare.neighbours import Neighbours, best_of, nearest_in_full, nearest_neighbours
from jagged_lens.compare.one import one_against_all
from jagged_lens.compare.pairs import Pairs, find_pairs
from jagged_lens.compare.settings import CompareSettings
from jagged_lens.compare.shingles import Kind, Shingles, kinds_of_pairs, shingles_of

__all__ = [
    "BINS",
    "EXACT_TO",
    "THEMES",
    "CompareSettings",
    "Distinct",
    "Distribution",
    "Kind",
    "Neighbours",
    "Pairs",
    "Rows",
    "Shingles",
    "best_of",
    "distinct_rows",
    "find_pairs",
    "kinds_of_pairs",
    "nearest_in_full",
    "nearest_neighbours",
    "neighbours_by_candidates",
    "one_against_all",
    "rows_of",
    "shingles_of",
    "similarities",
    "similarity_distribution",
]
