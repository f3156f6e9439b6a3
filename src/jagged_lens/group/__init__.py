# SPDX-License-Identifier: GPL-3.0-or-later
"""Group: a vector space to groups of documents, and what tells them apart."""

from jagged_lens.group.agreement import adjusted_rand, counted_together
from jagged_lens.group.colours import group_rgb
from jagged_lens.group.cross import CrossTable, cross_table
from jagged_lens.group.draws import ids_of
from jagged_lens.group.grouping import Grouping, filled_rows, letter
from jagged_lens.group.holding import BREAKS, HOLDS, Holding, holding_of
from jagged_lens.group.key_terms import KeyTerms, document_frequencies, key_terms, key_terms_of_groups
from jagged_lens.group.kmeans import SAMPLE, SAMPLES, from_samples
from jagged_lens.group.parts import TRIES
from jagged_lens.group.quality import Quality, quality_of
from jagged_lens.group.ridge import Ridge, ridge_of
from jagged_lens.group.settings import SWEEP, GroupSettings, fitting_number
from jagged_lens.group.sweep import Sweep, sweep_of
from jagged_lens.group.tree import Tree, cut
from jagged_lens.group.tree_of_groups import BRANCHES, MOST_ROWS, tree_of
from jagged_lens.group.ways import by_label, by_theme, from_tree, k_means, split

__all__ = [
    "BRANCHES",
    "BREAKS",
    "HOLDS",
    "MOST_ROWS",
    "SAMPLE",
    "SAMPLES",
    "SWEEP",
    "TRIES",
    "CrossTable",
    "GroupSettings",
    "Grouping",
    "Holding",
    "KeyTerms",
    "Quality",
    "Ridge",
    "Sweep",
    "Tree",
    "adjusted_rand",
    "by_label",
    "by_theme",
    "counted_together",
    "cross_table",
    "cut",
    "document_frequencies",
    "filled_rows",
    "fitting_number",
    "from_samples",
    "from_tree",
    "group_rgb",
    "holding_of",
    "ids_of",
    "k_means",
    "key_terms",
    "key_terms_of_groups",
    "letter",
    "quality_of",
    "ridge_of",
    "split",
    "sweep_of",
    "tree_of",
]
