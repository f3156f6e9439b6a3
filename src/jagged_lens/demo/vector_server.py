# SPDX-License-Identifier: GPL-3.0-or-later
"""A small service of vectors on this machine: the stand-in for one that runs a model, in tests and in the demo.

It keeps to the protocol of docs/formats.md, and can be told to go wrong in each way in which services do.
"""

from __future__ import annotations

import contextlib
import json
import threading
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from http.server import BaseHTTPRequestHandler

from jagged_lens.demo.serving import StandIn, serving, until_interrupted

FAULTS = ("few", "lengths", "nan", "page", "half", "key", "large", "often", "trouble", "silence", "elsewhere", "drops")
"""Ways to go wrong: fewer vectors than texts, vectors of different lengths, numbers that are not finite, a web page in place of JSON, half
an answer, 401, 413, 429, 500, no answer, a redirect to another host, and a connection that is dropped."""


@dataclass
class Manner:
    """The manner in which the service answers. fault: one of FAULTS, "" for none; times: in so many answers, -1 for all. key: that it wants,
    "" for none. version, longest, batch: as it says of itself; longest: in characters, 0 for any. wait: said in Retry-After, "" for
    nothing. seconds: each answer takes. described: false for a service that says nothing of itself."""

    fault: str = ""
    times: int = -1
    key: str = ""
    version: str = "1"
    longest: int = 0
    batch: int = 32
    wait: str = ""
    seconds: float = 0.0
    described: bool = True
    lock: threading.Lock = field(default_factory=threading.Lock)

    def goes_wrong(self) -> str:
        """The fault of this answer; "" for none."""
        with self.lock:
            if not self.fault or not self.times:
                return ""
            self.times -= 1
            return self.fault


class _Handler(BaseHTTPRequestHandler):
    """Answers one request."""

    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        """Say what the service is."""
        server, manner = self.server, self._manner()
        assert isinstance(server, VectorServer)
        server.described += 1
        if manner.key and self.headers.get("Authorization") != f"Bearer {manner.key}":
            self._send(b'{"error": "no such key"}', 401)
        elif not manner.described:
            self._send(b"", 404)
        else:
            told = {"version": manner.version, "dimensions": server.dimensions, "batch": manner.batch}
            self._send(json.dumps(told | ({"longest": manner.longest} if manner.longest else {})).encode())

    def do_POST(self) -> None:
        """Give a vector for each text, or go wrong."""
        server, manner = self.server, self._manner()
        assert isinstance(server, VectorServer)
        asked = json.loads(self.rfile.read(int(self.headers.get("Content-Length", 0))))
        texts = [str(one) for one in asked["texts"]]
        fault = manner.goes_wrong()
        with manner.lock:
            server.requests.append(len(texts))
            server.sent.update(texts)
        if manner.seconds:
            server.ending.wait(manner.seconds)
        if manner.key and self.headers.get("Authorization") != f"Bearer {manner.key}":
            self._send(b'{"error": "no such key"}', 401)
        elif manner.longest and any(len(text) > manner.longest for text in texts):
            self._send(b'{"error": "too long"}', 413)
        else:
            self._answer(server, texts, fault, manner)

    def _answer(self, server: VectorServer, texts: list[str], fault: str, manner: Manner) -> None:
        if fault == "large" and len(texts) > 1:
            self._send(b'{"error": "too many"}', 413)
            return
        vectors = [list(map(float, one)) for one in server.vectors(texts)]
        if fault == "few":
            vectors = vectors[:-1]
        elif fault == "lengths":
            vectors[-1] = vectors[-1][:-1]
        elif fault == "nan":
            vectors[0][0] = float("nan")
        content = json.dumps({"vectors": vectors}).encode()
        if fault == "page":
            self._send(b"<!doctype html><title>Low Hythe</title><p>Nobody is here.</p>", kind="text/html")
        elif fault == "half":
            self._send(content, cut=len(content) // 2)
        elif fault == "key":
            self._send(f'{{"error": "{self.headers.get("Authorization", "")}"}}'.encode(), 401)
        elif fault == "often":
            self._send(b'{"error": "slower"}', 429, wait=manner.wait)
        elif fault == "trouble":
            self._send(b'{"error": "out of memory"}', 500)
        elif fault == "silence":
            server.ending.wait(3600)
        elif fault == "elsewhere":
            self._send(b"", 307, to=f"http://localhost:{server.server_port}/there")
        elif fault == "drops":
            self.close_connection = True
            self.connection.close()
        else:
            self._send(content)

    def _manner(self) -> Manner:
        assert isinstance(self.server, VectorServer)
        return self.server.manner

    def _send(
        self,
        content: bytes,
        status: int = 200,
        kind: str = "application/json",
        cut: int = 0,
        wait: str = "",
        to: str = "",
    ) -> None:
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(content)))
        for name, value in (("Retry-After", wait), ("Location", to)):
            if value:
                self.send_header(name, value)
        self.end_headers()
        with contextlib.suppress(OSError):
            self.wfile.write(content[:cut] if cut else content)
        self.close_connection = self.close_connection or bool(cut)

    def log_message(self, format: str, *args: object) -> None:  # noqa: A002 - the standard library's name
        """Nothing is written to the terminal."""


class VectorServer(StandIn):
    """The service. vectors: makes them. sent: how often each text came; requests: texts in each; described: how often it was asked what it
    is."""

    def __init__(
        self, port: int, vectors: Callable[[list[str]], Sequence[Sequence[float]]], dimensions: int, manner: Manner
    ) -> None:
        super().__init__(port, _Handler)
        self.vectors = vectors
        self.dimensions = dimensions
        self.manner = manner
        self.sent: Counter[str] = Counter()
        self.requests: list[int] = []
        self.described = 0

    @property
    def address(self) -> str:
        """The address to enter in the settings of Weigh."""
        return f"http://127.0.0.1:{self.server_port}/vectors"


@contextlib.contextmanager
def vector_server(
    vectors: Callable[[list[str]], Sequence[Sequence[float]]],
    dimensions: int,
    manner: Manner | None = None,
    port: int = 0,
) -> Iterator[VectorServer]:
    """Give out vectors on this machine alone, until the end of the block. port: 0 takes any that is free."""
    with serving(VectorServer(port, vectors, dimensions, manner or Manner())) as server:
        yield server


def vectors_until_stopped(
    port: int,
    vectors: Callable[[list[str]], Sequence[Sequence[float]]],
    dimensions: int,
    manner: Manner,
    say: Callable[[str], object],
) -> None:
    """Give out vectors until the program is interrupted; `say` is told the address."""
    with vector_server(vectors, dimensions, manner, port) as server:
        say(server.address)
        until_interrupted()
