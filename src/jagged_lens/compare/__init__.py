# SPDX-License-Identifier: GPL-3.0-or-later
"""Compare: a vector space to neighbours and pairs."""

from jagged_lens.compare.by_lists import EXACT_TO, neighbours_by_lists
from jagged_lens.compare.by_thresholds import THRESHOLDS_FROM, neighbours_by_thresholds
from jagged_lens.compare.copies import copy_families
from jagged_lens.compare.distinct_rows import Distinct, distinct_rows
from jagged_lens.compare.distribution import BINS, Distribution, similarity_distribution
from jagged_lens.compare.families import Families, families_of
from jagged_lens.compare.grid import grid_of
from jagged_lens.compare.keeping import kept_of_families
from jagged_lens.compare.loners import LONELY, loners
from jagged_lens.compare.measure import Rows, rows_of, similarities
from jagged_lens.compare.neighbours import Neighbours, best_of, nearest_between, nearest_in_full, nearest_neighbours
from jagged_lens.compare.one import one_against_all
from jagged_lens.compare.pairs import Pairs, find_pairs
from jagged_lens.compare.settings import CompareSettings
from jagged_lens.compare.shingles import KINDS_LONG, Kind, Shingles, compared_by_runs, shingles_of

__all__ = [
    "BINS",
    "EXACT_TO",
    "KINDS_LONG",
    "LONELY",
    "THRESHOLDS_FROM",
    "CompareSettings",
    "Distinct",
    "Distribution",
    "Families",
    "Kind",
    "Neighbours",
    "Pairs",
    "Rows",
    "Shingles",
    "best_of",
    "compared_by_runs",
    "copy_families",
    "distinct_rows",
    "families_of",
    "find_pairs",
    "grid_of",
    "kept_of_families",
    "loners",
    "nearest_between",
    "nearest_in_full",
    "nearest_neighbours",
    "neighbours_by_lists",
    "neighbours_by_thresholds",
    "one_against_all",
    "rows_of",
    "shingles_of",
    "similarities",
    "similarity_distribution",
]
