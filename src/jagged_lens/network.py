# SPDX-License-Identifier: GPL-3.0-or-later
"""Connections to other machines that end in time: each request has its seconds, and all end where they are no longer wanted.

A name is looked up once, and the address that was found fit is the one that is connected to, so that a name cannot point elsewhere in
between.
"""

from __future__ import annotations

import contextlib
import ipaddress
import socket
import threading
import time
from collections.abc import Iterable, Iterator
from typing import Any

import httpcore
import httpx

_LOOK = 0.25  # seconds after which a waiting request looks whether it is still wanted


class Refused(Exception):  # noqa: N818 - a reason in words
    """Something that is not fetched, or does not come as it should; the message is the reason."""


class Limits:
    """Until when the request of this thread may go on, and whether any may."""

    def __init__(self, over: threading.Event) -> None:
        self.over = over
        self._of = threading.local()

    def begin(self, seconds: float) -> None:
        """Give the request of this thread so many seconds from now."""
        self._of.deadline = time.monotonic() + seconds

    def left(self) -> float:
        """The seconds that are left to the request of this thread."""
        return float(self._of.deadline - time.monotonic())


class _Timed(httpcore.NetworkStream):
    """A connection on which no answer takes longer than the request may: a server that sends a byte now and then would
    otherwise be waited for without an end."""

    def __init__(self, stream: httpcore.NetworkStream, limits: Limits) -> None:
        self._stream = stream
        self._limits = limits

    def read(self, max_bytes: int, timeout: float | None = None) -> bytes:
        while True:
            left = self._limits.left()
            if left <= 0 or self._limits.over.is_set():
                raise httpcore.ReadTimeout("the time limit was reached")
            try:
                return self._stream.read(max_bytes, min(left, _LOOK))
            except httpcore.ReadTimeout:
                continue

    def write(self, buffer: bytes, timeout: float | None = None) -> None:
        self._stream.write(buffer, max(self._limits.left(), 0.01))

    def close(self) -> None:
        self._stream.close()

    def start_tls(
        self, ssl_context: Any, server_hostname: str | None = None, timeout: float | None = None
    ) -> httpcore.NetworkStream:
        left = max(self._limits.left(), 0.01)
        return _Timed(self._stream.start_tls(ssl_context, server_hostname, left), self._limits)

    def get_extra_info(self, info: str) -> Any:
        return self._stream.get_extra_info(info)


class Transport(httpx.BaseTransport):
    """HTTP over connections that are checked where they are made. private: true where private networks are allowed."""

    def __init__(self, private: bool, connections: int, limits: Limits) -> None:
        self._pool = httpcore.ConnectionPool(
            ssl_context=httpx.create_ssl_context(trust_env=False),
            max_connections=connections,
            network_backend=_CheckedNetwork(private, limits),
        )

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        """The response to a request; its content comes as it is read."""
        url = httpcore.URL(
            scheme=request.url.raw_scheme, host=request.url.raw_host, port=request.url.port, target=request.url.raw_path
        )
        asked = httpcore.Request(
            method=request.method,
            url=url,
            headers=request.headers.raw,
            content=request.stream,
            extensions=request.extensions,
        )
        answer = self._pool.handle_request(asked)
        return httpx.Response(
            answer.status, headers=answer.headers, stream=_Stream(answer.stream), extensions=answer.extensions
        )

    def close(self) -> None:
        """Close all connections."""
        self._pool.close()


class _Stream(httpx.SyncByteStream):
    def __init__(self, stream: Any) -> None:
        self._stream = stream

    def __iter__(self) -> Iterator[bytes]:
        yield from self._stream

    def close(self) -> None:
        if hasattr(self._stream, "close"):
            self._stream.close()


class _CheckedNetwork(httpcore.SyncBackend):
    """Looks a name up itself, and connects to an address only if that is one of the public network, or allowed."""

    def __init__(self, private: bool, limits: Limits) -> None:
        self._private = private
        self._limits = limits

    def connect_tcp(
        self,
        host: str,
        port: int,
        timeout: float | None = None,
        local_address: str | None = None,
        socket_options: Iterable[Any] | None = None,
    ) -> httpcore.NetworkStream:
        try:
            found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)
        except (socket.gaierror, UnicodeError) as error:
            raise Refused("there is no such host") from error
        addresses = list(dict.fromkeys(str(entry[4][0]) for entry in found))
        if not self._private and not all(is_public(address) for address in addresses):
            raise Refused("it is in a private network; if that is intended, allow it in the source")
        for address in addresses[:-1]:
            with contextlib.suppress(httpcore.ConnectError, httpcore.ConnectTimeout):
                return self._to(address, port, timeout, local_address, socket_options)
        return self._to(addresses[-1], port, timeout, local_address, socket_options)

    def _to(
        self, address: str, port: int, timeout: float | None, local_address: str | None, socket_options: Any
    ) -> httpcore.NetworkStream:
        seconds = min(timeout or self._limits.left(), max(self._limits.left(), 0.01))
        return _Timed(super().connect_tcp(address, port, seconds, local_address, socket_options), self._limits)


def is_public(address: str) -> bool:
    """True if an IP address belongs to the public network; what is embedded in an IPv6 address counts too."""
    ip = ipaddress.ip_address(address.partition("%")[0])
    if isinstance(ip, ipaddress.IPv6Address):
        inner = ip.ipv4_mapped or ip.sixtofour or (ip.teredo or (None, None))[1]
        if inner is not None:
            return inner.is_global
        if ip in ipaddress.ip_network("64:ff9b::/96"):
            return ipaddress.IPv4Address(int(ip) & 0xFFFFFFFF).is_global
    site_local = (
        isinstance(ip, ipaddress.IPv6Address) and ip.is_site_local
    )  # fec0::/10, given up by RFC 3879 but still used
    return ip.is_global and not ip.is_multicast and not site_local
