# SPDX-License-Identifier: GPL-3.0-or-later
"""What Clean suggests, and how long documents are, by the language of the documents."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from conftest import corpus_of
from jagged_lens.clean import CleanSettings, clean, look_over, sizes_of, suggestions
from jagged_lens.clean.look_over import Flag

HERE = Path("/")
ENGLISH = "The slugs took the plants in the morning, and not one of the plants was left in that row of ours."


def test_no_negation_no_known_word_and_no_word_of_another_language_is_suggested() -> None:
    german = "Die Schnecken haben den Plan der Planta gefressen, und wir säten im Mai noch einmal."
    texts = [ENGLISH] * 12 + [ENGLISH.replace("plants", "plnats", 1), ENGLISH.replace("plants", "planks", 1), german]
    rules = [one.rule for one in suggestions(clean(corpus_of(*texts), CleanSettings(), HERE))]
    assert "plnats = plants" in rules
    assert not [rule for rule in rules if rule.startswith(("planks", "planta"))]
    assert "never: not" not in rules
    assert "never: plants" in rules


def test_documents_without_spaces_are_as_long_as_they_have_characters() -> None:
    chinese = ["蛞蝓吃了豆子。我们又种了一次。", "霜来得很晚。豆子没有了。"]
    tokens = clean(corpus_of(*chinese), CleanSettings(), HERE)
    sizes, unit = sizes_of(tokens)
    assert (sizes.tolist(), unit) == ([13, 10], "character")
    assert look_over(corpus_of(*chinese), tokens, np.arange(2, dtype=np.int32)).rows(Flag.SPACELESS).tolist() == [0, 1]
    runs = clean(corpus_of(*chinese), CleanSettings(tokens="characters"), HERE)
    assert not look_over(corpus_of(*chinese), runs, np.arange(2, dtype=np.int32)).rows(Flag.SPACELESS).tolist()
    words, unit = sizes_of(clean(corpus_of(ENGLISH), CleanSettings(), HERE))
    assert (words.tolist(), unit) == ([len(ENGLISH.split())], "word")
