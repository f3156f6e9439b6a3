"""Gather: sources to a corpus."""

from jagged_lens.gather.corpus import Corpus, Label
from jagged_lens.gather.encoding import decoded
from jagged_lens.gather.find import Query, find, query_of
from jagged_lens.gather.settings import GatherSettings
from jagged_lens.gather.sources import gather, source_files

__all__ = [
    "Corpus",
    "GatherSettings",
    "Label",
    "Query",
    "decoded",
    "find",
    "gather",
    "query_of",
    "source_files",
]
