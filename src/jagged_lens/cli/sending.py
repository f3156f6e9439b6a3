# SPDX-License-Identifier: GPL-3.0-or-later
"""Texts sent to a service of vectors without a window, and what the stand-in for such a service answers."""

from __future__ import annotations

import dataclasses
import os
import re
import threading
from collections.abc import Callable, Iterable, Sequence
from pathlib import Path

import numpy as np

from jagged_lens.demo import demo_recipe
from jagged_lens.errors import RecipeError
from jagged_lens.gather import Corpus, Page, Source
from jagged_lens.lens import WORDS, Job, Listener, Recent, compute, read_recipe, with_needs
from jagged_lens.progress import Progress
from jagged_lens.project import ENDING, ProjectFile, create, said_after
from jagged_lens.vectors import (
    Answer,
    KeyedVectors,
    Service,
    Unanswered,
    host_of,
    kept_key,
    model_name,
    send,
    unanswered,
)

ANSWERS = f"answers{ENDING}"
"""The file in the folder of a run that keeps the answers of a service, so that the next run sends nothing twice."""
KEY = "JAGGED_LENS_KEY"
"""The environment variable with the key of a service."""
_DIMENSIONS = 50


class AnswersBeside:
    """The store of a run: what a project has is read, and nothing is written into it; answers are kept beside, in the folder of the run."""

    def __init__(self, path: Path, project: ProjectFile | None) -> None:
        self._beside = ProjectFile(path)
        self._project = project

    @property
    def _files(self) -> list[ProjectFile]:
        return [one for one in (self._project, self._beside) if one is not None and one.path.exists()]

    def documents(self, stamp: str) -> Corpus | None:
        """The documents of a source, of the project."""
        return self._project.documents(stamp) if self._project is not None else None

    def keep_documents(self, stamp: str, source: Source, corpus: Corpus) -> None:
        """A run keeps no documents."""

    def page(self, address: str) -> tuple[Page, bytes] | None:
        """A page of the project."""
        return self._project.page(address) if self._project is not None else None

    def keep_page(self, page: Page, content: bytes) -> None:
        """A run keeps no pages."""

    def vectors(self, name: str) -> tuple[str, KeyedVectors] | None:
        """The vectors of a file, of the project."""
        return self._project.vectors(name) if self._project is not None else None

    def keep_vectors(self, name: str, stamp: str, found: KeyedVectors) -> None:
        """A run keeps no vectors of files."""

    def result(self, key: str) -> bytes | None:
        """A result of the project."""
        return self._project.result(key) if self._project is not None else None

    def keep_result(self, key: str, part: str, content: bytes) -> None:
        """A run keeps no results."""

    def version(self, model: str) -> str:
        """The version of the answers beside, or else of those in the project."""
        return next((version for one in reversed(self._files) if (version := one.version(model))), "")

    def answers(self, model: str, version: str, digests: Iterable[bytes]) -> dict[bytes, Answer]:
        """The answers of both."""
        asked = list(digests)
        found: dict[bytes, Answer] = {}
        for one in self._files:
            found |= one.answers(model, version, asked)
        return found

    def keep_answers(self, model: str, version: str, found: Sequence[tuple[bytes, Answer]]) -> None:
        """Keep some answers beside."""
        if not self._beside.path.exists():
            create(self._beside.path)
        self._beside.keep_answers(model, version, found)

    def state_of_answers(self, model: str) -> tuple[str, int]:
        """The version of a model, and the number of its answers in both."""
        states = [one.state_of_answers(model) for one in self._files]
        return self.version(model), sum(count for _, count in states)


def with_answers(job: Job, out: Path) -> Job:
    """The job with the answers of its service, where its recipe names one."""
    if job.recipe.weigh.vectors_from != "service":
        return job
    project = job.store if isinstance(job.store, ProjectFile) else None
    return dataclasses.replace(job, store=AnswersBeside(out / ANSWERS, project))


def send_texts(job: Job, texts: Sequence[str], progress: Progress, say: Callable[[str], object]) -> None:
    """Send the texts that have no answer yet, and keep the answers; what is sent is said before. RecipeError where no service is named."""
    weigh, store = job.recipe.weigh, job.store
    if weigh.vectors_from != "service" or store is None:
        raise RecipeError("--send needs a service", "[weigh] vectors", "Write the address of the service there.")
    model = model_name(weigh.vectors, weigh.model)
    asked = unanswered(texts, model, store)
    if not asked.texts:
        say(f"Nothing is sent: all {asked.known:,} texts have their vectors.")
        return
    say(said_before(asked, weigh.vectors))
    over = threading.Event()
    host = host_of(weigh.vectors)
    service = Service(weigh.vectors, weigh.model, os.environ.get(KEY) or kept_key(host), over)
    try:
        say(said_after(send(asked, service, store, progress, over)))
    finally:
        over.set()
        service.close()


def said_before(asked: Unanswered, address: str) -> str:
    """The sentence on what is sent, and where."""
    return f"Sending {len(asked.texts):,} texts with {asked.characters:,} characters to {host_of(address)}."


def demo_vectors(listener: Listener) -> tuple[Callable[[list[str]], Sequence[Sequence[float]]], int]:
    """A function that gives texts the mean of the learned vectors of their words in the demo; and their dimensions."""
    recipe = read_recipe(demo_recipe()).with_settings("weigh", {"vectors": "learned", "dimensions": _DIMENSIONS})
    parts = with_needs([WORDS])
    words = compute(Job(recipe, demo_recipe().parent), Recent(), listener, lambda: parts)[WORDS]

    def vectors(texts: list[str]) -> list[list[float]]:
        found = []
        for text in texts:
            places = [at for word in re.findall(r"\w+", text.lower()) if (at := words.place_of(word)) >= 0]
            mean = words.vectors[places].mean(axis=0, dtype=np.float64) if places else np.zeros(words.vectors.shape[1])
            mean[0] += 1e-6 * (1 + len(text))  # a text without known words has a vector too
            found.append([float(one) for one in mean])
        return found

    return vectors, words.vectors.shape[1]
