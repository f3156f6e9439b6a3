# SPDX-License-Identifier: GPL-3.0-or-later
"""The end of the window from outside: a signal closes it as its user would, with all saved."""

from __future__ import annotations

import signal
import socket
from types import FrameType

from PyQt6.QtCore import QSocketNotifier
from PyQt6.QtWidgets import QWidget

SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


class EndBySignal:
    """Has a widget closed when a signal asks the program to end, as at the end of a session. It asks nothing then.

    Python sees to a signal only when its code runs, and in a window at rest none does: the bytes that it writes when a signal comes
    wake Qt up.
    """

    def __init__(self, window: QWidget) -> None:
        self._window = window
        self._near, self._far = socket.socketpair()
        for end in (self._near, self._far):
            end.setblocking(False)
        self._before = signal.set_wakeup_fd(self._far.fileno(), warn_on_full_buffer=False)
        self._notifier = QSocketNotifier(self._near.fileno(), QSocketNotifier.Type.Read, window)  # type: ignore[call-overload]
        self._notifier.activated.connect(self._wake)
        self._handlers = {number: signal.signal(number, self._end) for number in SIGNALS}
        self.asked = 0

    def _wake(self) -> None:
        self._near.recv(64)  # by now Python has called the handler

    def _end(self, number: int, frame: FrameType | None) -> None:
        self.asked = number
        self._window.setProperty("ended", number)
        self._window.close()

    def forget(self) -> None:
        """Let signals do what they did before."""
        for number, handler in self._handlers.items():
            signal.signal(number, handler)
        signal.set_wakeup_fd(self._before)
        self._notifier.setEnabled(False)
        self._near.close()
        self._far.close()
