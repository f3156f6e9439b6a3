# SPDX-License-Identifier: GPL-3.0-or-later
"""Questions that need the index of terms: where a term stands, its collocates, which phrases there are."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from jagged_lens.desktop.asking import Asker
from jagged_lens.lens import LENS_ROWS, TOKENS
from jagged_lens.project import Shown
from jagged_lens.terms import TermIndex, index_of

Answer = TypeVar("Answer")


class TermAsker:
    """Asks in the background; the index is made once for the tokens and documents of a lens."""

    def __init__(self, bench: Shown, asker: Asker) -> None:
        self._bench = bench
        self._asker = asker
        self._known: tuple[tuple[object, ...], TermIndex] | None = None

    def ask(self, purpose: str, question: Callable[[TermIndex], Answer], show: Callable[[Answer], None]) -> None:
        """Ask a question of the index and show its answer; a newer question of the same purpose takes its place."""
        results = self._bench.results
        tokens, rows, bridge = results[TOKENS], results[LENS_ROWS], self._bench.results.recipe.terms.bridge
        of = (*results.keys_of((TOKENS, LENS_ROWS)), bridge)
        known = self._known[1] if self._known is not None and self._known[0] == of else None

        def work() -> tuple[TermIndex, Answer]:
            index = known or index_of(tokens, rows, bridge)
            return index, question(index)

        def answered(answer: tuple[TermIndex, Answer]) -> None:
            self._known = (of, answer[0])
            show(answer[1])

        self._asker.ask(purpose, work, answered)
