# SPDX-License-Identifier: GPL-3.0-or-later
"""The store of the documents read from sources, so that a project reads its sources only once. The project file fulfils it."""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import Protocol

from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Corpus, PageStore, Source, files_of, plain_source
from jagged_lens.named_file import file_state, path_of
from jagged_lens.vectors import Answers, KeyedVectors


class Store(PageStore, Answers, Protocol):
    """Documents of sources by the stamp of what was read, and what was computed of them."""

    def documents(self, stamp: str) -> Corpus | None:
        """The documents that were kept under a stamp; None where they are not there."""

    def keep_documents(self, stamp: str, source: Source, corpus: Corpus) -> None:
        """Keep the documents that were read of a source under their stamp."""

    def vectors(self, name: str) -> tuple[str, KeyedVectors] | None:
        """The vectors that were kept of a file, by its name, and the stamp of the file when it was read."""

    def keep_vectors(self, name: str, stamp: str, found: KeyedVectors) -> None:
        """Keep the vectors of a file under its name."""

    def state_of_answers(self, model: str) -> tuple[str, int]:
        """The version of a model, and the number of its answers: another pair, other answers."""

    def result(self, key: str) -> bytes | None:
        """A cached result, packed, under its key."""

    def keep_result(self, key: str, part: str, content: bytes) -> None:
        """Keep a packed result of a part under its key."""


def stamp_of(source: Source, folder: Path) -> str:
    """A stamp of a source as it is now: its settings, and the size and time of every file that it means.

    Of a server or of web pages nothing can be known without asking: their stamp is that of their settings.
    """
    states: object = ()
    try:
        if source.kind == "file":
            states = [(file.name, file_state(file.path)) for file in files_of(source, folder)[0]]
        elif source.kind == "database" and "://" not in source.database:
            states = file_state(path_of(source.database, folder))
        elif source.kind == "links" and "://" not in source.links:
            states = file_state(path_of(source.links, folder))
    except (JaggedLensError, OSError):
        states = str(folder)
    made_of = repr((plain_source(source), states))
    return hashlib.blake2b(made_of.encode("utf-8", "surrogatepass"), digest_size=16).hexdigest()
