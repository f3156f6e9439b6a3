# SPDX-License-Identifier: GPL-3.0-or-later
"""Export: what goes out, in open formats."""

from jagged_lens.export.all_files import ALL_PARTS, RUN_JSON, given_by, write_all, write_run_json
from jagged_lens.export.arrays import write_rows, write_sparse, write_texts
from jagged_lens.export.counts import counts, counts_of_placed
from jagged_lens.export.decisions import write_decisions
from jagged_lens.export.groups import write_cross
from jagged_lens.export.known import CHOICES, Known, Wanted, cleaned_texts, known_columns
from jagged_lens.export.known_files import FORMATS, columns_of, write_known
from jagged_lens.export.links import write_links
from jagged_lens.export.matrices import write_matrix
from jagged_lens.export.places import write_figures, write_placed, write_suggestions
from jagged_lens.export.run_files import Given, document_keys, write_json, write_named_matrix, write_run, write_terms
from jagged_lens.export.run_folder import RunFolder
from jagged_lens.export.themes import write_themes
from jagged_lens.export.trees import newick, write_joins, write_newick, write_tree

__all__ = [
    "ALL_PARTS",
    "CHOICES",
    "FORMATS",
    "RUN_JSON",
    "Given",
    "Known",
    "RunFolder",
    "Wanted",
    "cleaned_texts",
    "columns_of",
    "counts",
    "counts_of_placed",
    "document_keys",
    "given_by",
    "known_columns",
    "newick",
    "write_all",
    "write_cross",
    "write_decisions",
    "write_figures",
    "write_joins",
    "write_json",
    "write_known",
    "write_links",
    "write_matrix",
    "write_named_matrix",
    "write_newick",
    "write_placed",
    "write_rows",
    "write_run",
    "write_run_json",
    "write_sparse",
    "write_suggestions",
    "write_terms",
    "write_texts",
    "write_themes",
    "write_tree",
]
