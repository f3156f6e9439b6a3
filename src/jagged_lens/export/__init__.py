"""Export: what goes out, in open formats."""

from jagged_lens.export.links import write_links
from jagged_lens.export.run_files import write_json, write_run

__all__ = ["write_json", "write_links", "write_run"]
