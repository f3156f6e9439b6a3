# SPDX-License-Identifier: GPL-3.0-or-later
"""Vectors of documents that come from outside: from a file, by key, or from a service over HTTP, by text."""

from jagged_lens.vectors.files import ENDINGS, KEYS_BESIDE, read_vectors
from jagged_lens.vectors.keyed import GivenVectors, KeyedVectors, joined
from jagged_lens.vectors.keys import has_keyring, keep_key, kept_key
from jagged_lens.vectors.sending import (
    Answer,
    Answers,
    NewVersionError,
    Sent,
    Unanswered,
    answered,
    digest_of,
    model_name,
    send,
    unanswered,
)
from jagged_lens.vectors.service import Described, Service, ServiceError, host_of, is_service

__all__ = [
    "ENDINGS",
    "KEYS_BESIDE",
    "Answer",
    "Answers",
    "Described",
    "GivenVectors",
    "KeyedVectors",
    "NewVersionError",
    "Sent",
    "Service",
    "ServiceError",
    "Unanswered",
    "answered",
    "digest_of",
    "has_keyring",
    "host_of",
    "is_service",
    "joined",
    "keep_key",
    "kept_key",
    "model_name",
    "read_vectors",
    "send",
    "unanswered",
]
