# SPDX-License-Identifier: GPL-3.0-or-later
"""Vectors from outside for the documents of a lens: from the project, from a file, or from the answers of a service. Nothing is sent here."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Corpus
from jagged_lens.lens.job import Job
from jagged_lens.lens.part import Part, Work
from jagged_lens.named_file import file_state, path_of
from jagged_lens.vectors import GivenVectors, KeyedVectors, answered, host_of, joined, model_name, read_vectors


def _stamp(job: Job) -> str:
    """The state of the file of vectors; "" where there is none."""
    try:
        size, changed = file_state(path_of(job.recipe.weigh.vectors, job.folder))
    except OSError:
        return ""
    return f"{size} {changed}" if size >= 0 else ""


def given_state(job: Job) -> object:
    """The settings, and the state of the file or of the answers, on which the vectors depend."""
    weigh = job.recipe.weigh
    if weigh.vectors_from == "file":
        return weigh.vectors, str(job.folder), _stamp(job)
    if weigh.vectors_from == "service":
        model = model_name(weigh.vectors, weigh.model)
        return model, job.store.state_of_answers(model) if job.store is not None else ()
    return ()


def given(work: Work, corpus: Part[Corpus], rows: Part[NDArray[np.int32]]) -> GivenVectors:
    """The vectors of the documents in the lens, where it works on vectors from outside; else none. rows: int32, n, those in the lens."""
    job, source = work.job, work.job.recipe.weigh.vectors_from
    if source in ("", "learned"):
        return GivenVectors.none()
    documents, chosen = work[corpus], work[rows]
    keys, texts = documents.keys.take(chosen), documents.texts.take(chosen)
    found = given_for(job, list(keys), texts, documents.keys)
    if not found.there.any():
        raise nothing_given(job, len(keys))
    return found


def given_for(job: Job, keys: Sequence[str], texts: Sequence[str], others: Sequence[str] = ()) -> GivenVectors:
    """The vectors of some documents by their keys, from a file, or by their texts, from the answers of a service.

    others: keys of documents that are known besides.
    """
    weigh = job.recipe.weigh
    if weigh.vectors_from == "file":
        return joined(_of_file(job), keys, others)
    if job.store is None:
        return GivenVectors.none(len(keys))
    return answered(texts, model_name(weigh.vectors, weigh.model), job.store)


def _of_file(job: Job) -> KeyedVectors:
    """The vectors of a file: those in the project, unless the file is there and has changed since."""
    name, stamp, store = job.recipe.weigh.vectors, _stamp(job), job.store
    kept = store.vectors(name) if store is not None else None
    if kept is not None and (not stamp or kept[0] == stamp):
        return kept[1]
    found = read_vectors(name, job.folder)
    if store is not None:
        try:
            store.keep_vectors(name, stamp, found)
        except JaggedLensError as error:
            job.warned(error)
    return found


def nothing_given(job: Job, documents: int) -> JaggedLensError:
    """The error where no document has a vector."""
    name = job.recipe.weigh.vectors
    if job.recipe.weigh.vectors_from == "service":
        return JaggedLensError(
            f"no document has a vector of {host_of(name)} yet",
            "Weigh",
            "Send the texts: on the desk Weigh under Space, or with jagged-lens run --send.",
        )
    return JaggedLensError(
        f"none of the {documents:,} documents has a vector in {name}: no key of the file is that of a document",
        "Weigh",
        "Save the vectors under the keys that Gather shows.",
    )
