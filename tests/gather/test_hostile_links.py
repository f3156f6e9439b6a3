# SPDX-License-Identifier: GPL-3.0-or-later
"""Servers that mean no good: they drip, pack what grows without measure, break off; and addresses that are none."""

from __future__ import annotations

import gzip
import socket
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest

from jagged_lens.errors import SourceError, Stopped
from jagged_lens.gather import Means, Source, read_source
from jagged_lens.gather.links import without_fragment
from jagged_lens.network import is_public

_PLAIN = "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nConnection: close\r\n"


@contextmanager
def server(answer: Callable[[socket.socket, str], None]) -> Iterator[str]:
    """A server of this machine that answers each request as it likes."""
    listening = socket.create_server(("127.0.0.1", 0))

    def serve() -> None:
        while True:
            try:
                one, _ = listening.accept()
            except OSError:
                return
            threading.Thread(target=handle, args=(one,), daemon=True).start()

    def handle(one: socket.socket) -> None:
        with one:
            path = one.recv(65_536).decode().split(" ")[1]
            try:
                answer(one, path)
            except OSError:
                return

    threading.Thread(target=serve, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{listening.getsockname()[1]}"
    finally:
        listening.close()


def missing_robots(one: socket.socket, path: str) -> bool:
    if path == "/robots.txt":
        one.sendall(b"HTTP/1.1 404 Not Found\r\nContent-Length: 0\r\nConnection: close\r\n\r\n")
    return path == "/robots.txt"


def dripping(one: socket.socket, path: str) -> None:
    if not missing_robots(one, path):
        one.sendall(b"HTTP/1.1 200 OK\r\nX-Drip: ")
        for _ in range(600):
            one.sendall(b"x")
            time.sleep(0.1)


def test_a_head_that_drips_is_waited_for_no_longer_than_the_page_may_take() -> None:
    with server(dripping) as address:
        begin = time.monotonic()
        with pytest.raises(SourceError, match="no answer within 1 seconds"):
            read_source(Source(links=f"{address}/a", private=True, page_seconds=1), Means(Path("/")))
        assert time.monotonic() - begin < 150


def test_a_head_that_drips_can_be_stopped() -> None:
    with server(dripping) as address:
        begin = time.monotonic()

        def stop(share: float) -> None:
            if time.monotonic() - begin > 1:
                raise Stopped

        with pytest.raises(Stopped):
            read_source(Source(links=f"{address}/a", private=True, page_seconds=60), Means(Path("/")), stop)
        assert time.monotonic() - begin < 200


@pytest.mark.parametrize(
    ("body", "encoding", "reason"),
    [
        (gzip.compress(b"<p>slugs" + b"\0" * 40_000_000), "gzip", "larger than 1 MB"),
        (gzip.compress(gzip.compress(b"\0" * 40_000_000)), "gzip, gzip", "uses a compression that is not supported"),
        (gzip.compress(b"<p>slugs and frost</p>" * 500)[:-30], "gzip", "arrived incomplete"),
        (b"no gzip at all", "gzip", "damaged"),
    ],
    ids=["bomb", "packed twice", "cut off", "not packed"],
)
def test_packed_answers_are_unpacked_within_bounds_and_whole(body: bytes, encoding: str, reason: str) -> None:
    def answer(one: socket.socket, path: str) -> None:
        if not missing_robots(one, path):
            one.sendall(f"{_PLAIN}Content-Encoding: {encoding}\r\nContent-Length: {len(body)}\r\n\r\n".encode() + body)

    with server(answer) as address, pytest.raises(SourceError, match=reason):
        read_source(Source(links=f"{address}/a", private=True, page_megabytes=1), Means(Path("/")))


def test_a_packed_page_is_read() -> None:
    body = gzip.compress("<p>slugs and frost, früh</p>".encode())

    def answer(one: socket.socket, path: str) -> None:
        if not missing_robots(one, path):
            one.sendall(f"{_PLAIN}Content-Encoding: gzip\r\nContent-Length: {len(body)}\r\n\r\n".encode() + body)

    with server(answer) as address:
        assert (
            read_source(Source(links=f"{address}/a", private=True), Means(Path("/"))).texts[0]
            == "slugs and frost, früh"
        )


@pytest.mark.parametrize(
    ("rules", "path", "allowed"),
    [
        ("User-agent: *\nAllow: /\nDisallow: /private\n", "/private/x", False),
        ("User-agent: *\nDisallow: /private\nAllow: /private/open\n", "/private/open/x", True),
        ("User-agent: *\nDisallow: /*.html$\n", "/a.html", False),
        ("User-agent: *\nDisallow: /*.html$\n", "/a.html?x=1", True),
        ("User-agent: JaggedLens\nDisallow: /a\n\nUser-agent: *\nAllow: /\n", "/a", False),
        ("User-agent: Other\nDisallow: /\n", "/a", True),
    ],
)
def test_robots_txt_by_longest_match_and_wildcards(rules: str, path: str, allowed: bool) -> None:
    def answer(one: socket.socket, asked: str) -> None:
        body, kind = (rules.encode(), "text/plain") if asked == "/robots.txt" else (b"<p>slugs</p>", "text/html")
        head = f"HTTP/1.1 200 OK\r\nContent-Type: {kind}\r\nContent-Length: {len(body)}\r\nConnection: close\r\n\r\n"
        one.sendall(head.encode() + body)

    with server(answer) as address:
        if allowed:
            assert len(read_source(Source(links=address + path, private=True), Means(Path("/")))) == 1
        else:
            with pytest.raises(SourceError, match=r"robots\.txt disallows"):
                read_source(Source(links=address + path, private=True), Means(Path("/")))


def test_addresses_that_are_none_cost_themselves_alone() -> None:
    assert without_fragment("http://[]/#x") == "http://[]/#x"
    with server(
        lambda one, path: None if missing_robots(one, path) else one.sendall(f"{_PLAIN}\r\n<p>ok</p>".encode())
    ) as a:
        corpus = read_source(Source(links=f"http://[]/ {a}/a", private=True), Means(Path("/")))
    assert list(corpus.texts) == ["ok"]
    assert corpus.unread[0].name == "http://[]/"
    for address in ("fec0::1", "fec0:1::1", "fc00::1", "::ffff:127.0.0.1", "2002:a00:1::1"):
        assert not is_public(address), address
    assert is_public("2a00:1450::1")


def test_hosts_of_which_only_some_addresses_are_private_are_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    both = [(2, 1, 6, "", ("93.184.216.34", 80)), (2, 1, 6, "", ("10.0.0.1", 80))]
    monkeypatch.setattr(socket, "getaddrinfo", lambda *_, **__: both)
    with pytest.raises(SourceError, match="private network"):
        read_source(Source(links="http://larkmoor.example/a"), Means(Path("/")))
