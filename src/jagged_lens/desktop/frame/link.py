# SPDX-License-Identifier: GPL-3.0-or-later
"""Between Qt's event loop and the worker: listen whenever there is something to hear."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QSocketNotifier, QTimer

from jagged_lens.project import Bench
from jagged_lens.worker import Worker


class Link(QObject):
    """Calls `bench.listen` when the worker has said something."""

    def __init__(self, bench: Bench, worker: Worker, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._bench = bench
        self._worker = worker
        self._notifier: QSocketNotifier | None = None
        self._watch()
        # A worker that does not stop says nothing: look after it now and then.
        self._timer = QTimer(self)
        self._timer.setInterval(500)
        self._timer.timeout.connect(self._listen)
        self._timer.start()

    def close(self) -> None:
        """Listen no more; the worker is left to whoever started it."""
        self._timer.stop()
        if self._notifier:
            self._notifier.setEnabled(False)
            self._notifier = None

    def _watch(self) -> None:
        if self._notifier:
            self._notifier.setEnabled(False)
            self._notifier.deleteLater()
        self._watched = self._worker.connection
        self._notifier = QSocketNotifier(self._watched.fileno(), QSocketNotifier.Type.Read, self)  # type: ignore[call-overload]
        self._notifier.activated.connect(self._listen)

    def _listen(self) -> None:
        if self._notifier is None:
            return
        self._bench.listen()
        if self._worker.connection is not self._watched:  # another worker was started
            self._watch()
