# SPDX-License-Identifier: GPL-3.0-or-later
"""Clean: a corpus to tokens, and the account of what was lost."""

from jagged_lens.clean.clean import Known, clean
from jagged_lens.clean.look_over import Flag, Overview, look_over, sizes_of
from jagged_lens.clean.reading import word_names
from jagged_lens.clean.settings import CleanSettings
from jagged_lens.clean.split import Split, split
from jagged_lens.clean.stop_words import DETECTED, list_name, list_names, read_list, ships
from jagged_lens.clean.suggest import Suggestion, suggestions
from jagged_lens.clean.take_out import Reason
from jagged_lens.clean.tokens import Loss, Tokens
from jagged_lens.clean.trial import Trial, try_rules
from jagged_lens.clean.variants import spelling_variants
from jagged_lens.clean.word_forms import form_for, stems

__all__ = [
    "DETECTED",
    "CleanSettings",
    "Flag",
    "Known",
    "Loss",
    "Overview",
    "Reason",
    "Split",
    "Suggestion",
    "Tokens",
    "Trial",
    "clean",
    "form_for",
    "list_name",
    "list_names",
    "look_over",
    "read_list",
    "ships",
    "sizes_of",
    "spelling_variants",
    "split",
    "stems",
    "suggestions",
    "try_rules",
    "word_names",
]
