# SPDX-License-Identifier: GPL-3.0-or-later
"""Contrast: two lenses, two sides of a collection, and what goes along with a number or a date."""

from jagged_lens.contrast.across import EACH, Across, nearest_across
from jagged_lens.contrast.along import PARTS, Along, Periods, along, periods
from jagged_lens.contrast.matched import Matched, matched
from jagged_lens.contrast.ranks import RankSums, corrected, rank_sums
from jagged_lens.contrast.scale import DATE, Columns, Scale, scale_of, scales_of
from jagged_lens.contrast.two_lenses import Seen, TermShift, TwoLenses, term_shift, two_lenses
from jagged_lens.contrast.two_sides import COMMON_FROM, TwoSides, groups_by_side, themes_by_side, two_sides

__all__ = [
    "COMMON_FROM",
    "DATE",
    "EACH",
    "PARTS",
    "Across",
    "Along",
    "Columns",
    "Matched",
    "Periods",
    "RankSums",
    "Scale",
    "Seen",
    "TermShift",
    "TwoLenses",
    "TwoSides",
    "along",
    "corrected",
    "groups_by_side",
    "matched",
    "nearest_across",
    "periods",
    "rank_sums",
    "scale_of",
    "scales_of",
    "term_shift",
    "themes_by_side",
    "two_lenses",
    "two_sides",
]
