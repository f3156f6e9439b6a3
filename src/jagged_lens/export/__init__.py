"""Export: what goes out, in open formats."""

from jagged_lens.export.decisions import write_decisions
from jagged_lens.export.links import write_links
from jagged_lens.export.matrices import write_matrix
from jagged_lens.export.run_files import document_keys, write_json, write_run, write_terms
from jagged_lens.export.themes import write_themes

__all__ = [
    "document_keys",
    "write_decisions",
    "write_json",
    "write_links",
    "write_matrix",
    "write_run",
    "write_terms",
    "write_themes",
]
