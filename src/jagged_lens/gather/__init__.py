"""Gather: sources to a corpus."""

from jagged_lens.gather.corpus import Corpus, Label
from jagged_lens.gather.encoding import decoded
from jagged_lens.gather.settings import GatherSettings
from jagged_lens.gather.sources import gather, source_files

__all__ = ["Corpus", "GatherSettings", "Label", "decoded", "gather", "source_files"]
