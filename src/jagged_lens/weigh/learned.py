# SPDX-License-Identifier: GPL-3.0-or-later
"""Vectors of words learned from the company that they keep, and documents as the weighted means of their words' vectors.

Positive pointwise mutual information of words within five kept words of each other in a sentence, with the counts of contexts to the
power 0.75; its truncated singular value decomposition, word vectors U √S (Levy & Goldberg, "Neural word embedding as implicit matrix
factorization", 2014). A document is the mean of its words' vectors by the weights of the lens, without the first direction that all
share (Arora, Liang & Ma, "A simple but tough-to-beat baseline for sentence embeddings", 2017).
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array, csr_array

from jagged_lens.parallel import steady_blas
from jagged_lens.progress import Progress, portion, unheard
from jagged_lens.terms import TermIndex
from jagged_lens.weigh.krylov import upright
from jagged_lens.weigh.singular import product, singular_vectors
from jagged_lens.weigh.themes import Themes
from jagged_lens.weigh.weigh import VectorSpace, row_sums

WINDOW = 5
"""The most kept words from a word to one in its context."""
LEAST = 5
"""The fewest occurrences of a word that gets a vector: of rarer ones the contexts say too little."""
_POWER = 0.75
_ROWS_AT_ONCE = 8_000


@dataclass(frozen=True, eq=False)
class WordVectors:
    """Vectors of w words, of which v occur often enough.

    number: int64, v, rising, each word's number in `Tokens.words`. vectors: float32, v × d. words: the w words. seldom: how many words
    have no vector.
    """

    number: NDArray[np.int64]
    vectors: NDArray[np.float32]
    words: dict[str, int]
    seldom: int

    def place_of(self, word: str) -> int:
        """The row of a word's vector; -1 if it has none."""
        number = self.words.get(word, -1)
        at = int(np.searchsorted(self.number, number)) if number >= 0 else len(self.number)
        return at if at < len(self.number) and self.number[at] == number else -1

    def used_alike(self, word: str, most: int) -> list[tuple[int, float]]:
        """The words used most alike: their numbers in `Tokens.words` and the cosine of their vectors, most similar first."""
        at = self.place_of(word)
        if at < 0:
            return []
        lengths = np.linalg.norm(self.vectors, axis=1)
        cosine = self.vectors @ self.vectors[at] / np.maximum(lengths * lengths[at], np.finfo(np.float32).tiny)
        cosine[at] = -2
        order = np.lexsort((np.arange(len(cosine)), -cosine))[:most]
        return [(int(self.number[one]), float(cosine[one])) for one in order if cosine[one] > 0]


def word_vectors(index: TermIndex, dimensions: int, progress: Progress = unheard) -> WordVectors:
    """Vectors of the words of an index, d at most; fewer where their contexts have no more directions."""
    times = np.bincount(index.word, minlength=len(index.words))
    number = np.flatnonzero(times >= LEAST)
    seldom = int(np.count_nonzero(times)) - len(number)
    place = np.full(len(index.words), -1, np.int64)
    place[number] = np.arange(len(number))
    information = _information(_contexts(index, place, len(number)))
    progress(0.2)
    wanted = min(dimensions, *information.shape)
    if wanted == 0 or not information.nnz:
        return WordVectors(number[:0], np.zeros((0, 0), np.float32), index.words, seldom + len(number))
    with steady_blas():
        vectors, squares = singular_vectors(information, wanted, portion(progress, 0.2, 1.0))
        own = product(information, vectors) / np.sqrt(np.sqrt(squares))
    return WordVectors(number, own.astype(np.float32), index.words, seldom)


def documents_by_words(space: VectorSpace, found: WordVectors) -> Themes:
    """The documents of a space in the vectors of their words, as a linear map of their weights.

    A term of several words has the mean of their vectors. The first direction that the documents share is taken out of the map.
    """
    x = space.weights
    m = x.shape[1]
    energy = float((x.data.astype(np.float64) ** 2).sum())
    dimensions = found.vectors.shape[1]
    map_ = np.zeros((m, dimensions))
    place = np.full(
        max(found.words.values(), default=-1) + 2, -1, np.int64
    )  # the last stands for a word that is not known
    place[found.number] = np.arange(len(found.number))
    for length, columns, numbers in _by_length(space.terms.terms, found.words):
        for at in range(length):
            own = place[numbers[:, at]]
            map_[columns[own >= 0]] += found.vectors[own[own >= 0]] / length
    with steady_blas():
        # In single precision: what is kept of it is, and the product takes half the time.
        documents = product(x, map_)
        sums = row_sums(x, np.abs(x.data.astype(np.float64)))
        means = documents / np.where(sums > 0, sums, 1)[:, None]
        common = _first_direction(means)
        map_ -= np.outer(map_ @ common, common)
        documents -= np.outer(documents @ common, common)
    values = np.linalg.norm(documents, axis=0)
    return Themes(map_.astype(np.float32), values, documents.astype(np.float32), energy, "learned")


def _by_length(
    terms: Iterable[str], words: dict[str, int]
) -> Iterator[tuple[int, NDArray[np.int64], NDArray[np.int64]]]:
    """Terms of each number of words: the number, their columns (int64, q), and the numbers of their words (int64, q × number; -1: unknown)."""
    found: dict[int, tuple[list[int], list[list[int]]]] = {}
    for column, term in enumerate(terms):
        own = [words.get(word, -1) for word in term.split(" ")]
        columns, numbers = found.setdefault(len(own), ([], []))
        columns.append(column)
        numbers.append(own)
    for length, (columns, numbers) in found.items():
        yield length, np.array(columns, np.int64), np.array(numbers, np.int64)


def _first_direction(rows: NDArray[np.float64]) -> NDArray[np.float64]:
    """The direction of largest uncentred spread of some rows (float64, d), of length 1; 0 where there is none."""
    if not rows.size or not rows.any():
        return np.zeros(rows.shape[1])
    square = np.zeros((rows.shape[1], rows.shape[1]))
    for at in range(0, len(rows), _ROWS_AT_ONCE):
        square += rows[at : at + _ROWS_AT_ONCE].T @ rows[at : at + _ROWS_AT_ONCE]
    return np.asarray(upright(np.linalg.eigh(square)[1][:, -1:])[:, 0])


def _contexts(index: TermIndex, place: NDArray[np.int64], v: int) -> csr_array:
    """The number of times each of v words has each in its context: float64, v × v, symmetric. place: int64, of each word, -1 for none."""
    counts = csr_array((v, v), dtype=np.float64)
    word = place[index.word]
    for step in range(1, WINDOW + 1):
        if len(word) <= step:
            break
        first, second = word[:-step], word[step:]
        together = (index.sentence[:-step] == index.sentence[step:]) & (index.row[:-step] == index.row[step:])
        together &= (first >= 0) & (second >= 0)
        first, second = first[together], second[together]
        counts = counts + coo_array((np.ones(len(first)), (first, second)), shape=(v, v)).tocsr()
    return csr_array(counts + counts.T)


def _information(counts: csr_array) -> csr_array:
    """The positive pointwise mutual information of words and contexts: float32 CSR, in the shape of the counts.

    In single precision and with short indices its products take half the time; the singular values are the same to a ten-millionth.
    """
    counts.sum_duplicates()
    counts.sort_indices()
    own = row_sums(counts, counts.data)
    contexts = own**_POWER
    if not counts.nnz:
        return counts
    rows = np.repeat(np.arange(counts.shape[0]), np.diff(counts.indptr))
    data = np.log(counts.data * contexts.sum() / (own[rows] * contexts[counts.indices]))
    found = csr_array((np.maximum(data, 0).astype(np.float32), counts.indices, counts.indptr), shape=counts.shape)
    found.eliminate_zeros()
    if found.nnz < 2**31:
        found = csr_array((found.data, found.indices.astype(np.int32), found.indptr.astype(np.int32)), found.shape)
    return found
