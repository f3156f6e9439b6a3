# SPDX-License-Identifier: GPL-3.0-or-later
"""The errors, each with the sentence that a user needs."""

from __future__ import annotations

_LONGEST = 1_500  # characters of each part of a sentence


class JaggedLensError(Exception):
    """Something the user can understand and mend.

    what: what happened, as a sentence without full stop. where: the file, row, key or document it is about ("" if
    none). remedy: what to do about it ("" if nothing is known).
    """

    def __init__(self, what: str, where: str = "", remedy: str = "") -> None:
        super().__init__(what, where, remedy)
        self.what = _short(what)
        self.where = _short(where)
        self.remedy = _short(remedy)

    @property
    def sentence(self) -> str:
        """The error and its remedy, to be read where it happened."""
        return f"{self.what[:1].upper()}{self.what[1:]}. {self.remedy}"

    def __str__(self) -> str:
        text = f"{self.where}: {self.what}" if self.where else self.what
        return f"{text}. {self.remedy}" if self.remedy else text


def _short(words: str) -> str:
    """A part of a sentence that can be read: what it quotes may be a megabyte long."""
    return words if len(words) <= _LONGEST else f"{words[:_LONGEST]}…"


class RecipeError(JaggedLensError):
    """A recipe that cannot be used as it is written."""


class ChosenElsewhereError(RecipeError):
    """A value that needs more than a choice from a list, as a file; it is chosen in another place."""


class SourceError(JaggedLensError):
    """A source of documents that cannot be read as asked."""


class TooManyError(JaggedLensError):
    """A setting that would give more results than can be held."""


class Stopped(Exception):  # noqa: N818 - a wish of the user, not an error
    """The user asked for the work to stop; raised out of a `progress` call."""


def short_of_memory(error: BaseException) -> bool:
    """True if the machine had too little memory: for data, or for another thread."""
    return isinstance(error, MemoryError) or (isinstance(error, RuntimeError) and "start new thread" in str(error))


def fault_of_ours(kind: str, where: str = "") -> JaggedLensError:
    """The message for an internal error. kind: of the exception."""
    return JaggedLensError(f"internal error ({kind})", where, "The details can be copied.")
