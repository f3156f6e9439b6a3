"""A made-up collection: seeded Zipf–Mandelbrot words, 100 topics, planted copies, some words that are not ASCII."""

from __future__ import annotations

import csv
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
