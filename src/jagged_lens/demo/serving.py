# SPDX-License-Identifier: GPL-3.0-or-later
"""The life of a stand-in server on this machine: as long as a block, or until the program is interrupted."""

from __future__ import annotations

import contextlib
import threading
import time
from collections.abc import Iterator
from http.server import ThreadingHTTPServer
from typing import TypeVar


class StandIn(ThreadingHTTPServer):
    """A server whose answers end with it. ending: set when it ends; answers that take their time wait for it."""

    daemon_threads = True

    def __init__(self, port: int, handler: type) -> None:
        super().__init__(("127.0.0.1", port), handler)
        self.ending = threading.Event()

    def handle_error(self, request: object, client_address: object) -> None:
        """Whoever asked is gone; that is nothing to say."""


Served = TypeVar("Served", bound=StandIn)


@contextlib.contextmanager
def serving(server: Served) -> Iterator[Served]:
    """Serve on this machine alone, until the end of the block."""
    thread = threading.Thread(target=server.serve_forever, kwargs={"poll_interval": 0.05}, daemon=True)
    thread.start()
    try:
        yield server
    finally:
        server.ending.set()
        server.shutdown()
        server.server_close()
        thread.join()


def until_interrupted() -> None:
    """Wait until the program is interrupted."""
    with contextlib.suppress(KeyboardInterrupt):
        while True:
            time.sleep(3600)
