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


def write_nested(path: Path, documents: int, seed: int = 0) -> None:
    """Write a CSV with one column, note: short texts of 28 to 63 words whose subjects lie within one another.

    A sixth of the words tell the field, one of 40; a sixth the subject, of 25 a field; one in seventeen the story, of one for 50 documents;
    the rest are anyone's. Near neighbours are there as in texts that people write: a few of one story, more of one subject. One in fifty
    is a copy with a word exchanged.
    """
    random = np.random.default_rng(seed)
    vocabulary = int(min(400_000, 20_000 + 60 * documents**0.65))
    words = np.array(["".join(random.choice(_LETTERS, random.integers(3, 10))) for _ in range(vocabulary)])
    ranks = np.arange(1, vocabulary + 1)
    running = np.cumsum(1 / (ranks + 2.7) ** 1.05)
    running /= running[-1]
    stories = max(documents // 50, 1)
    field, subject = random.integers(0, 40, stories), random.integers(0, 25, stories)
    own = {
        name: random.integers(200, vocabulary, (count, many))
        for name, count, many in (("field", 40, 800), ("subject", 1000, 120), ("story", stories, 20))
    }
    shares = np.array([0.62, 0.16, 0.16, 0.06])
    with path.open("w", encoding="utf-8", newline="") as file:
        rows = csv.writer(file)
        rows.writerow(("note",))
        last = ""
        for number in range(documents):
            if number % 50 == 49:
                copied = last.split()
                copied[int(random.integers(len(copied)))] = str(words[int(random.integers(vocabulary))])
                rows.writerow((" ".join(copied),))
                continue
            story = int(random.integers(stories))
            kinds = random.multinomial(int(random.integers(28, 64)), shares)
            common = np.minimum(np.searchsorted(running, random.random(kinds[0])), vocabulary - 1)
            places = (("field", field[story]), ("subject", field[story] * 25 + subject[story]), ("story", story))
            telling = [
                own[name][at][(random.random(count) ** 2 * own[name].shape[1]).astype(int)]
                for (name, at), count in zip(places, kinds[1:], strict=True)
            ]
            mixed = words[random.permutation(np.concatenate((common, *telling)))]
            last = " ".join(mixed)
            rows.writerow((last,))
