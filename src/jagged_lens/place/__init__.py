# SPDX-License-Identifier: GPL-3.0-or-later
"""Place: new documents seen through a lens as it stands, and labels suggested for those that have none."""

from jagged_lens.place.figures import BANDS, Bands, Figures, bands_of, figures_of
from jagged_lens.place.placed import NEAR, Lens, Placed, placed
from jagged_lens.place.settings import SuggestSettings
from jagged_lens.place.suggest import (
    FOLDS,
    PENALTIES,
    Evidence,
    Part,
    Suggestions,
    evidence,
    suggested_for,
    suggestions_of,
    terms_for,
)
from jagged_lens.place.through import Through, through, with_rows, with_rows_in_themes
from jagged_lens.place.typed import Typed, taken_through

__all__ = [
    "BANDS",
    "FOLDS",
    "NEAR",
    "PENALTIES",
    "Bands",
    "Evidence",
    "Figures",
    "Lens",
    "Part",
    "Placed",
    "SuggestSettings",
    "Suggestions",
    "Through",
    "Typed",
    "bands_of",
    "evidence",
    "figures_of",
    "placed",
    "suggested_for",
    "suggestions_of",
    "taken_through",
    "terms_for",
    "through",
    "with_rows",
    "with_rows_in_themes",
]
