# SPDX-License-Identifier: GPL-3.0-or-later
"""The sentences of two texts that are nearest across: an aid to reading where a similarity has no parts."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np

from jagged_lens.clean import CleanSettings, Known
from jagged_lens.gather import Corpus
from jagged_lens.language import sentence_spans
from jagged_lens.place import through
from jagged_lens.strings import Strings
from jagged_lens.terms import TermSettings
from jagged_lens.weigh import Themes, VectorSpace, WeighSettings

MOST_SENTENCES = 400
"""The most sentences of either text that are compared: the first ones."""


@dataclass(frozen=True)
class SentencePair:
    """A sentence of each of two texts, from and to in code points, and their similarity."""

    first: tuple[int, int]
    second: tuple[int, int]
    similarity: float


def nearest_sentences(
    texts: tuple[str, str],
    space: VectorSpace,
    themes: Themes,
    settings: tuple[CleanSettings, TermSettings, WeighSettings],
    folder: Path,
    known: Known,
    most: int = 5,
) -> list[SentencePair]:
    """The pairs of a sentence of each text with the largest cosine, each sentence once, most similar first.

    Sentences are taken through the lens like documents, and compared by learned vectors where `themes` are those, else by terms.
    """
    spans = [sentence_spans(text, known.language)[:MOST_SENTENCES] for text in texts]
    parts = [text[start:end] for text, of_one in zip(texts, spans, strict=True) for start, end in of_one]
    if not spans[0] or not spans[1]:
        return []
    one = Strings.of(parts)
    weights = through(
        Corpus(Strings.of(map(str, range(len(parts)))), one, one, one), space, *settings, folder, known
    ).weights
    rows = weights.astype(np.float64)
    dense = np.asarray(rows @ themes.terms.astype(np.float64)) if themes.learned else rows.toarray()
    lengths = np.linalg.norm(dense, axis=1)
    unit = dense / np.where(lengths > 0, lengths, 1)[:, None]
    here = len(spans[0])
    cosine = unit[:here] @ unit[here:].T
    found: list[SentencePair] = []
    while len(found) < most:
        first, second = np.unravel_index(int(cosine.argmax()), cosine.shape)
        if cosine[first, second] <= 0:
            break
        found.append(SentencePair(spans[0][first], spans[1][second], float(cosine[first, second])))
        cosine[first], cosine[:, second] = -1, -1
    return found
