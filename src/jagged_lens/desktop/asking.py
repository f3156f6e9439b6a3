# SPDX-License-Identifier: GPL-3.0-or-later
"""Small questions to the results, answered in a thread: nothing is computed in the interface thread."""

from __future__ import annotations

import contextlib
import queue
import threading
import time
import traceback
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from jagged_lens.errors import JaggedLensError, Stopped
from jagged_lens.progress import Progress


class Asker(QObject):
    """Asks, one question after the other; of several questions on one topic only the newest is answered.

    A question that is given its progress is stopped as soon as a newer one takes its place. The thread is one that the program
    does not wait for when it ends: a question that never ends cannot keep a window open.
    """

    failed = pyqtSignal(str, str)
    _answered = pyqtSignal(str, int, object)
    _ended = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._newest: dict[str, tuple[int, Callable[[Any], None]]] = {}
        self._finished = False
        self._open = 0
        self._questions: queue.SimpleQueue[Callable[[], None] | None] = queue.SimpleQueue()
        self._thread: threading.Thread | None = None
        self._answered.connect(self._hand_on)
        self._ended.connect(self._count_down)

    @property
    def waiting(self) -> bool:
        """True if a question is still to be answered, or its answer to be shown."""
        return self._open > 0 and not self._finished

    def ask(self, topic: str, question: Callable[[], Any], then: Callable[[Any], None]) -> None:
        """Run `question` in the thread, then `then` with its answer in the interface thread."""
        self.ask_stoppable(topic, lambda progress: question(), then)

    def ask_stoppable(
        self,
        topic: str,
        question: Callable[[Progress], Any],
        then: Callable[[Any], None],
        wrong: Callable[[str], None] | None = None,
    ) -> None:
        """The same with a question that tells its progress, and is stopped by it where it is not wanted any more.

        wrong: told in the interface thread of what went wrong, in place of `failed`.
        """
        if self._finished:
            return
        number = self._newest.get(topic, (0, then))[0] + 1
        self._newest[topic] = (number, then)
        self._open += 1

        def wanted() -> bool:
            return not self._finished and self._newest[topic][0] == number

        def progress(share: float) -> None:
            if not wanted():
                raise Stopped

        def run() -> None:
            try:
                if wanted():
                    self._tell("_answered", topic, number, question(progress))
            except Stopped:
                pass
            except JaggedLensError as error:
                self._fail(topic, number, wrong, str(error), "")
            except Exception as error:
                text = f"Internal error ({type(error).__name__})."
                self._fail(topic, number, wrong, text, traceback.format_exc())
            finally:
                self._tell("_ended")

        if self._thread is None:
            self._thread = threading.Thread(target=self._serve, daemon=True, name="questions")
            self._thread.start()
        self._questions.put(run)

    def forget(self, topic: str) -> None:
        """Whatever was asked on this topic is not wanted any more."""
        if topic in self._newest:
            number, then = self._newest[topic]
            self._newest[topic] = (number + 1, then)

    def finish(self, seconds: float = 2.0) -> None:
        """Ask no more, and wait a little for what is under way; for the end of the window."""
        self._finished = True
        self._questions.put(None)
        if self._thread is not None:
            until = time.monotonic() + seconds
            while self._thread.is_alive() and time.monotonic() < until:
                self._thread.join(0.05)

    def _serve(self) -> None:
        while (run := self._questions.get()) is not None:
            run()

    def _fail(self, topic: str, number: int, wrong: Callable[[str], None] | None, text: str, details: str) -> None:
        if wrong is None:
            self._tell("failed", text, details)
        else:
            self._tell("_answered", topic, number, _Wrong(text, wrong))

    def _tell(self, signal: str, *news: object) -> None:
        with contextlib.suppress(RuntimeError):  # the window is gone
            getattr(self, signal).emit(*news)

    def _hand_on(self, topic: str, number: int, answer: object) -> None:
        newest, then = self._newest[topic]
        if number == newest:
            if isinstance(answer, _Wrong):
                answer.told(answer.words)
            else:
                then(answer)

    def _count_down(self) -> None:
        self._open -= 1


class _Wrong:
    """Errors, and whom to tell about them."""

    def __init__(self, text: str, told: Callable[[str], None]) -> None:
        self.words = text
        self.told = told
