# SPDX-License-Identifier: GPL-3.0-or-later
"""Texts sent to a service in batches, and its answers kept by the digest of each text, so that nothing is sent twice."""

from __future__ import annotations

import hashlib
import threading
from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass
from typing import Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray

from jagged_lens.errors import Stopped
from jagged_lens.language import sentence_spans
from jagged_lens.progress import Progress
from jagged_lens.vectors.keyed import GivenVectors
from jagged_lens.vectors.service import AT_ONCE, Described, Service, ServiceError

TRIES = 5
"""So many times a batch is sent at most."""
_CHARACTERS = 200_000  # in one request
_LONGEST_WAIT = 120.0
_PATIENCE = 5.0  # seconds for what is under way when all is stopped
_LOOK = 0.1  # seconds after which it is asked whether to go on

T = TypeVar("T")


@dataclass(frozen=True)
class Answer:
    """The vector of a text. vector: float32, d. parts: of how many parts of the text it is the mean."""

    vector: NDArray[np.float32]
    parts: int


class Answers(Protocol):
    """The answers of services, by model and digest of the text."""

    def version(self, model: str) -> str:
        """The version of a model whose answers are used: the newest; "" where there is none."""

    def answers(self, model: str, version: str, digests: Iterable[bytes]) -> dict[bytes, Answer]:
        """Those answers that are there."""

    def keep_answers(self, model: str, version: str, found: Sequence[tuple[bytes, Answer]]) -> None:
        """Keep some answers; that version is the newest from then on."""


def model_name(address: str, model: str) -> str:
    """The name under which the answers of a model are kept."""
    return f"{address}\n{model}"


def digest_of(text: str) -> bytes:
    """The digest of a text: 16 bytes, BLAKE2b of its UTF-8."""
    return hashlib.blake2b(text.encode("utf-8", "surrogatepass"), digest_size=16).digest()


@dataclass(frozen=True, eq=False)
class Unanswered:
    """The texts that a model has not been sent. texts: each once. known: how many documents have their answer. version: of the answers
    that are there. model: as of `model_name`, for which they were counted; they go to no other."""

    texts: tuple[str, ...]
    known: int
    version: str
    model: str

    @property
    def characters(self) -> int:
        """The characters of all its texts."""
        return sum(map(len, self.texts))


def unanswered(texts: Sequence[str], model: str, answers: Answers, version: str | None = None) -> Unanswered:
    """The different texts among some that have no answer. Blank texts are never sent. version: None for the newest that is known."""
    version = answers.version(model) if version is None else version
    digests = {digest_of(text): text for text in texts if text.strip()}
    there = answers.answers(model, version, digests)
    left = tuple(text for digest, text in digests.items() if digest not in there)
    return Unanswered(left, len(digests) - len(left), version, model)


def answered(texts: Sequence[str], model: str, answers: Answers) -> GivenVectors:
    """The vectors of documents by their texts, from the answers that are there. A document whose text has none has no vector."""
    digests = [digest_of(text) if text.strip() else b"" for text in texts]
    there = answers.answers(model, answers.version(model), {one for one in digests if one})
    widths = {len(one.vector) for one in there.values()}
    none = GivenVectors.none(len(digests))
    vectors = np.zeros((len(digests), widths.pop() if len(widths) == 1 else 0), np.float32)
    averaged = none.averaged
    for at, digest in enumerate(digests if vectors.shape[1] else ()):
        if (answer := there.get(digest)) is not None:
            vectors[at] = answer.vector
            averaged[at] = answer.parts > 1
    return GivenVectors(vectors, np.asarray(vectors.any(axis=1)), none.unmatched, none.twice, none.not_finite, averaged)


class NewVersionError(ServiceError):
    """The service has another version of its model than the answers that are there; more would be sent than was agreed to."""

    def __init__(self, host: str, version: str) -> None:
        super().__init__(
            f"the service now has version {version or 'unknown'} of its model, whose vectors cannot be compared with those kept",
            host,
            "Send the texts again to go on with the new version.",
        )
        self.version = version


@dataclass
class Sent:
    """The result of sending: answers that came, texts that the service refused as too long, and texts that were cut at sentences."""

    answers: int = 0
    refused: int = 0
    averaged: int = 0


def send(
    asked: Unanswered,
    service: Service,
    answers: Answers,
    progress: Progress,
    over: threading.Event,
    unit: float = 1.0,
) -> Sent:
    """Send texts in batches, a few at a time, and keep each answer as it comes.

    A batch that fails for a reason that may pass is sent again after 1, 2, 4 … times `unit` seconds, or after what the service asks for.
    A text that is longer than the service takes is cut at sentences. progress: told the share done; where it raises Stopped, what
    came before stays. Raises ServiceError where it is no use to go on; NewVersionError before any text is sent.
    """
    sent, done, whole, told_version = Sent(), 0, max(len(asked.texts), 1), ""
    with ThreadPoolExecutor(AT_ONCE, thread_name_prefix="vectors") as pool:
        under_way: dict[Future[list[Answer | None]], list[str]] = {}
        parts: dict[str, NDArray[np.float32] | None] = {}
        try:
            asking = pool.submit(_tried, service.described, over, unit)
            while not asking.done():
                progress(0.0)
                wait([asking], _LOOK)
            told = asking.result()
            if (asked.known or asked.version) and asked.version != told.version:
                raise NewVersionError(service.host, told.version)
            told_version = told.version
            todo, width = list(reversed(_batches(asked.texts, told))), told.dimensions
            while todo or under_way:
                # The first batch goes alone: what is wrong with the key or the address is wrong with all.
                while todo and len(under_way) < (AT_ONCE if done else 1):
                    job = todo.pop()
                    under_way[pool.submit(_answers_of, job, parts, told, service, width, over, unit)] = job
                finished, _ = wait(under_way, _LOOK, FIRST_COMPLETED)
                progress(done / whole)
                for future in finished:
                    job = under_way.pop(future)
                    found = future.result()
                    kept = [(digest_of(text), one) for text, one in zip(job, found, strict=True) if one is not None]
                    width = width or (len(kept[0][1].vector) if kept else 0)
                    answers.keep_answers(asked.model, told.version, kept)
                    done += len(job)
                    sent.answers += len(kept)
                    sent.refused += len(job) - len(kept)
                    sent.averaged += sum(one.parts > 1 for _, one in kept)
                    progress(done / whole)
        except Stopped:
            _keep_what_comes(under_way, asked.model, told_version, answers)
            over.set()
            raise
        except BaseException:
            over.set()
            for future in under_way:
                future.cancel()
            raise
    return sent


def _keep_what_comes(
    under_way: dict[Future[list[Answer | None]], list[str]], model: str, version: str, answers: Answers
) -> None:
    """Keep the answers to what was sent already, if they come soon."""
    for future in under_way:
        future.cancel()
    finished, _ = wait([one for one in under_way if not one.cancelled()], _PATIENCE)
    for future in finished:
        if future.exception() is None:
            texts = under_way[future]
            found = zip(texts, future.result(), strict=True)
            answers.keep_answers(model, version, [(digest_of(text), one) for text, one in found if one is not None])


def _batches(texts: Sequence[str], told: Described) -> list[list[str]]:
    """Texts in batches: at most so many texts, and so many characters, in one."""
    jobs: list[list[str]] = []
    size = _CHARACTERS + 1
    for text in texts:
        if size + len(text) > _CHARACTERS or len(jobs[-1]) >= told.at_once:
            jobs.append([])
            size = 0
        jobs[-1].append(text)
        size += len(text)
    return jobs


def _answers_of(
    texts: list[str],
    known: dict[str, NDArray[np.float32] | None],
    told: Described,
    service: Service,
    width: int,
    over: threading.Event,
    unit: float,
) -> list[Answer | None]:
    """The answer to each text of a batch; None for one that the service refuses as too long, even alone.
    known: the vectors of parts of texts that were cut; those of this batch are added."""
    parts = [cut(text, told.longest) for text in texts]
    flat = [part for part in dict.fromkeys(part for of_one in parts for part in of_one) if part not in known]
    found: dict[str, NDArray[np.float32] | None] = {}
    for at in range(0, len(flat), told.at_once):
        some = flat[at : at + told.at_once]
        found |= zip(some, _vectors(some, service, width, over, unit), strict=True)
    known.update((part, found[part]) for of_one in parts if len(of_one) > 1 for part in of_one if part in found)
    result: list[Answer | None] = []
    for of_one in parts:
        own = [found[part] if part in found else known[part] for part in of_one]
        there = [one for one in own if one is not None]
        sizes = np.array([len(part) for part, one in zip(of_one, own, strict=True) if one is not None], np.float64)
        if len(there) < len(own) or len({len(one) for one in there}) != 1:
            result.append(None)
        else:
            mean = (np.stack(there).astype(np.float64) * sizes[:, None]).sum(axis=0) / sizes.sum()
            result.append(Answer(mean.astype(np.float32) if len(there) > 1 else there[0], len(there)))
    return result


def _vectors(
    texts: list[str], service: Service, width: int, over: threading.Event, unit: float
) -> list[NDArray[np.float32] | None]:
    """A vector for each text. A batch that is too large is halved, until it is one text."""
    try:
        return list(_tried(lambda: service.vectors_of(texts, width), over, unit))
    except ServiceError as error:
        if not error.too_large:
            raise
        if len(texts) == 1:
            return [None]
        half = len(texts) // 2
        return [
            *_vectors(texts[:half], service, width, over, unit),
            *_vectors(texts[half:], service, width, over, unit),
        ]


def _tried(ask: Callable[[], T], over: threading.Event, unit: float) -> T:
    """The answer to a question, which is asked again after a while, longer each time, if that may help."""
    for number in range(TRIES):
        try:
            return ask()
        except ServiceError as error:
            if not error.again or number == TRIES - 1 or over.is_set():
                raise
            seconds = error.wait if error.wait is not None else unit * 2**number
            if error.wait is not None and error.wait > _LONGEST_WAIT:
                raise
            if over.wait(seconds):
                raise
    raise AssertionError("a question is asked at least once")


def cut(text: str, longest: int) -> list[str]:
    """A text in parts of at most `longest` characters, cut between sentences; between words, or anywhere, where a sentence is longer.
    0: in one part.

    >>> cut("Slugs came. Frost followed. All lost.", 20)
    ['Slugs came.', 'Frost followed.', 'All lost.']
    """
    if not longest or len(text) <= longest:
        return [text]
    parts: list[str] = []
    for start, end in sentence_spans(text) or [(0, len(text))]:
        piece = text[start:end]
        if parts and len(parts[-1]) + 1 + len(piece) <= longest:
            parts[-1] = f"{parts[-1]} {piece}"
            continue
        while len(piece) > longest:
            space = piece.rfind(" ", 1, longest + 1)
            at = space if space > 0 else longest
            parts.append(piece[:at].rstrip())
            piece = piece[at:].lstrip()
        if piece:
            parts.append(piece)
    return [part for part in parts if part.strip()] or [text[:longest]]
