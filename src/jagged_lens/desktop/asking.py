"""Small questions to the results, answered in a thread of the pool: nothing is computed in the interface thread."""

from __future__ import annotations

import traceback
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QThreadPool, pyqtSignal

from jagged_lens.errors import JaggedLensError


class Asker(QObject):
    """Asks; of several questions on one topic only the newest is answered."""

    failed = pyqtSignal(str, str)
    _answered = pyqtSignal(str, int, object)
    _ended = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._newest: dict[str, tuple[int, Callable[[Any], None]]] = {}
        self._finished = False
        self._open = 0
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._answered.connect(self._hand_on)
        self._ended.connect(self._count_down)

    @property
    def waiting(self) -> bool:
        """Whether a question is still to be answered, or its answer to be shown."""
        return self._open > 0 and not self._finished

    def ask(self, topic: str, question: Callable[[], Any], then: Callable[[Any], None]) -> None:
        """Run `question` in a thread, then `then` with its answer in the interface thread."""
        if self._finished:
            return
        number = self._newest.get(topic, (0, then))[0] + 1
        self._newest[topic] = (number, then)
        self._open += 1

        def run() -> None:
            try:
                if self._newest[topic][0] == number:
                    self._answered.emit(topic, number, question())
            except JaggedLensError as error:
                self.failed.emit(str(error), "")
            except Exception as error:
                self.failed.emit(f"Something went wrong inside ({type(error).__name__}).", traceback.format_exc())
            finally:
                self._ended.emit()

        self._pool.start(run)

    def forget(self, topic: str) -> None:
        """Whatever was asked on this topic is not wanted any more."""
        if topic in self._newest:
            number, then = self._newest[topic]
            self._newest[topic] = (number + 1, then)

    def finish(self) -> None:
        """Wait for what is under way and ask no more; for the end of the window."""
        self._finished = True
        self._pool.clear()
        self._pool.waitForDone()

    def _hand_on(self, topic: str, number: int, answer: object) -> None:
        newest, then = self._newest[topic]
        if number == newest:
            then(answer)

    def _count_down(self) -> None:
        self._open -= 1
