# SPDX-License-Identifier: GPL-3.0-or-later
"""A made-up collection: seeded Zipf–Mandelbrot words, 100 topics, planted copies, some words that are not ASCII."""

from __future__ import annotations

import csv
import itertools
from pathlib import Path

import numpy as np

_LETTERS = list("abcdefghijklmnoprstuvwyzéöñ")


def write(
    path: Path, documents: int, mean_words: int, vocabulary: int = 60_000, topics: int = 100, seed: int = 0
) -> None:
    """Write a CSV with one column, note."""
    random = np.random.default_rng(seed)
    ranks = np.arange(1, vocabulary + 1)
    running = np.cumsum(1 / (ranks + 2.7) ** 1.05)
    running /= running[-1]
    words = np.array(["".join(random.choice(_LETTERS, random.integers(3, 10))) for _ in range(vocabulary)])
    own = [random.permutation(vocabulary)[:3000] for _ in range(topics)]
    texts: list[str] = []
    for number in range(documents):
        if number % 50 == 49:  # a planted copy with a word exchanged
            copied = texts[int(random.integers(number))].split()
            copied[int(random.integers(len(copied)))] = str(words[int(random.integers(vocabulary))])
            texts.append(" ".join(copied))
            continue
        length = max(5, int(random.normal(mean_words, mean_words * 0.3)))
        common = words[np.minimum(np.searchsorted(running, random.random(int(length * 0.6))), vocabulary - 1)]
        topic = own[int(random.integers(topics))]
        telling = words[topic[np.minimum((random.pareto(1.0, length - len(common)) * 8).astype(int), 2999)]]
        mixed = np.concatenate((common, telling))
        random.shuffle(mixed)
        texts.append(" ".join(mixed))
    with path.open("w", encoding="utf-8", newline="") as file:
        csv.writer(file).writerows([("note",), *((text,) for text in texts)])


def add_long(path: Path, characters: int) -> None:
    """Add a document of so many characters to a collection that was written: its texts one after the other."""
    with path.open(encoding="utf-8", newline="") as file:
        texts = [row[0] for row in itertools.islice(csv.reader(file), 1, 1 + characters // 200)]
    whole = " ".join(texts)
    whole = " ".join([whole] * (characters // len(whole) + 1))[:characters]
    with path.open("a", encoding="utf-8", newline="") as file:
        csv.writer(file).writerow((whole,))
