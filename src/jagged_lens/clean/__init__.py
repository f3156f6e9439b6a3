"""Clean: a corpus to tokens, and the account of what was lost."""

from jagged_lens.clean.clean import Loss, Tokens, clean, folding
from jagged_lens.clean.look_over import Flag, Overview, look_over
from jagged_lens.clean.settings import CleanSettings
from jagged_lens.clean.split import Split, split
from jagged_lens.clean.stop_words import BUILT_IN, read_list, ships
from jagged_lens.clean.suggest import Suggestion, suggestions
from jagged_lens.clean.take_out import Reason
from jagged_lens.clean.trial import Trial, try_rules
from jagged_lens.clean.variants import spelling_variants
from jagged_lens.clean.word_forms import forms, stems

__all__ = [
    "BUILT_IN",
    "CleanSettings",
    "Flag",
    "Loss",
    "Overview",
    "Reason",
    "Split",
    "Suggestion",
    "Tokens",
    "Trial",
    "clean",
    "folding",
    "forms",
    "look_over",
    "read_list",
    "ships",
    "spelling_variants",
    "split",
    "stems",
    "suggestions",
    "try_rules",
]
