# SPDX-License-Identifier: GPL-3.0-or-later
"""Every different form of a collection read by its language: how it is spelled, its core, its word form, and whether it is listed."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.own_rules import OwnRules
from jagged_lens.clean.reading import folding, in_list, listed_words, read_words
from jagged_lens.clean.settings import CleanSettings
from jagged_lens.clean.split import Split
from jagged_lens.clean.take_out import Reason
from jagged_lens.language import rules_of


@dataclass(frozen=True, eq=False)
class Forms:
    """For f forms: spelled, core and formed, as `reading.Read` has them. listed: uint8, the Reason for which a list takes the form (0:
    none). codes: the languages by which they were read."""

    spelled: list[str]
    core: list[str]
    formed: list[str]
    listed: NDArray[np.uint8]
    codes: tuple[str, ...]


def forms_read(found: Split, codes: list[str], settings: CleanSettings, own: OwnRules, folder: Path) -> Forms:
    """Read each form by its language. Words that an own rule keeps as written have no other form. codes: of each form, its language."""
    count = len(found.forms)
    spelled, core, formed = [""] * count, [""] * count, [""] * count
    listed = np.zeros(count, np.uint8)
    times = np.bincount(found.form, minlength=count)
    fold = folding(settings)
    as_written = {fold(word) for word in own.written}
    present = tuple(dict.fromkeys(codes))
    for code in present or ("",):
        own_forms = [at for at, of in enumerate(codes) if of == code] if len(present) > 1 else list(range(count))
        read = read_words([found.forms[at] for at in own_forms], code, settings, times[own_forms])
        stopped = listed_words(settings, code, folder)
        for at, spelling, bare, form in zip(own_forms, read.spelled, read.core, read.formed, strict=True):
            kept = bare if {bare, spelling} & as_written or bare in stopped.negations else form
            spelled[at], core[at], formed[at] = spelling, bare, kept
            if in_list(stopped.words, spelling, bare, kept):
                listed[at] = Reason.STOP_WORD
            elif settings.negations == "drop" and in_list(stopped.negations, spelling, bare, kept):
                listed[at] = Reason.NEGATION
    return Forms(spelled, core, formed, listed, present or ("",))


def held_ends(found: Split, codes: list[str]) -> NDArray[np.bool_]:
    """For each token, True if a full stop behind it ends no sentence, by the rules of its language: bool.

    Before a small letter none ends one, but in documents that are written without any capital.
    """
    held = np.zeros(len(found.form), np.bool_)
    at = np.flatnonzero(found.full_stop).astype(np.int64)
    row_end = found.row_starts[np.searchsorted(found.row_starts, at, "right")]
    after = at + 1
    while (further := (after < row_end) & (found.taken[np.minimum(after, len(held) - 1)] > 0)).any():
        after = after + further.astype(np.int64)
    at, after = at[after < row_end], after[after < row_end]
    if not len(at):
        return held
    forms = found.forms
    before, behind = found.form[at], found.form[after]
    small, on, begins = (np.zeros(len(forms), np.bool_) for _ in range(3))
    for number in np.unique(behind).tolist():
        small[number] = forms[number][0].islower()
    for number in np.unique(before).tolist():
        on[number] = rules_of(codes[number]).holds_on(forms[number])
    for number in np.unique(behind[on[before]]).tolist():
        begins[number] = rules_of(codes[number]).starts(forms[number])
    goes_on = small[behind]
    if goes_on.any():
        goes_on[goes_on] = _has_capitals(found)[np.searchsorted(found.row_starts, at[goes_on], "right") - 1]
    held[at] = goes_on | (on[before] & ~begins[behind])
    return held


def _has_capitals(found: Split) -> NDArray[np.bool_]:
    """For each document, True if any word begins with a capital: bool."""
    capital = np.array([form[0].isupper() for form in found.forms], np.bool_)
    return np.diff(np.concatenate(([0], np.cumsum(capital[found.form])))[found.row_starts]) > 0
