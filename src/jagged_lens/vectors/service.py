# SPDX-License-Identifier: GPL-3.0-or-later
"""A service that makes vectors of texts, over HTTP. The protocol is our own and small: docs/formats.md describes it.

GET asks what the service says of itself; POST sends texts and gets a vector for each. The key goes out in the header Authorization
and is written nowhere.
"""

from __future__ import annotations

import datetime
import email.utils
import json
import threading
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from urllib.parse import urljoin, urlsplit

import httpcore
import httpx
import numpy as np
from numpy.typing import NDArray

from jagged_lens import __version__
from jagged_lens.errors import JaggedLensError
from jagged_lens.network import Limits, Refused, Transport

AT_ONCE = 3
"""The most batches that are under way at the same time."""
BATCH = 64
"""Texts in one request, where the service does not say how many it takes."""
SECONDS = 120.0
"""The time that a service has for one answer."""
_MOST_BYTES = 200_000_000
_MOST_REDIRECTS = 3
_MOST_DIMENSIONS = 10_000
_BUSY = (408, 425, 429, 500, 502, 503, 504)


class ServiceError(JaggedLensError):
    """A service that did not do what was asked. again: true if it may help to ask once more. wait: the seconds after which the service
    wants to be asked, None where it says nothing. too_large: true if it was sent more than it takes."""

    def __init__(
        self,
        what: str,
        where: str,
        remedy: str,
        again: bool = False,
        wait: float | None = None,
        too_large: bool = False,
    ) -> None:
        super().__init__(what, where, remedy)
        self.again = again
        self.wait = wait
        self.too_large = too_large


@dataclass(frozen=True)
class Described:
    """A service's description of itself. version: of its model, "" if it says none. dimensions: of its vectors; longest: the most
    characters of a text; batch: the most texts in one request; 0 where it says none."""

    version: str = ""
    dimensions: int = 0
    longest: int = 0
    batch: int = 0

    @property
    def at_once(self) -> int:
        """The most texts to send in one request."""
        return min(self.batch or BATCH, 1_000)


def host_of(address: str) -> str:
    """The host of an address with its port, as it is shown; "" for what is no address.

    >>> host_of("https://vectors.larkmoor.example:8443/v"), host_of("vectors.csv")
    ('vectors.larkmoor.example:8443', '')
    """
    try:
        parts = urlsplit(address)
        return parts.netloc.rpartition("@")[2] if parts.scheme in ("http", "https") and parts.hostname else ""
    except ValueError:
        return ""


def is_service(name: str) -> bool:
    """True if vectors of this name come from a service and not from a file.

    >>> is_service("http://127.0.0.1:8650/"), is_service("vectors.npy")
    (True, False)
    """
    return name.lower().startswith(("http://", "https://"))


class Service:
    """One service, asked over a few connections. over: set where nothing is wanted any more; requests under way then end soon."""

    def __init__(
        self, address: str, model: str, key: str = "", over: threading.Event | None = None, seconds: float = SECONDS
    ) -> None:
        self.address = address
        self.host = host_of(address)
        if not self.host or "@" in urlsplit(address).netloc:
            raise ServiceError(
                "this is not the address of a service", address[:200], "It needs http:// or https:// and a host."
            )
        self._model = model
        self._key = key
        self._seconds = seconds
        self._limits = Limits(over or threading.Event())
        headers = {"User-Agent": f"JaggedLens/{__version__}", "Accept": "application/json", "Accept-Encoding": "gzip"}
        if key:
            headers["Authorization"] = f"Bearer {key}"
        try:
            self._client = httpx.Client(
                transport=Transport(True, AT_ONCE, self._limits),
                headers=headers,
                follow_redirects=False,
                timeout=httpx.Timeout(seconds, connect=min(10, seconds)),
                trust_env=False,
            )
        except (UnicodeEncodeError, ValueError):
            raise ServiceError(
                "the key contains characters that no key can have", self.host, "Enter it again."
            ) from None

    def close(self) -> None:
        """Close all connections."""
        self._client.close()

    def described(self) -> Described:
        """The service's description of itself; an empty one from a service that gives none."""
        status, _, content = self._asked("GET", None)
        if status in (404, 405, 501):
            return Described()
        found = self._object(content)
        numbers = {name: found.get(name, 0) for name in ("dimensions", "longest", "batch")}
        wrong = [name for name, one in numbers.items() if not isinstance(one, int) or isinstance(one, bool) or one < 0]
        if wrong:
            raise self._wrong(f"it says “{wrong[0]}” in a way that is not a number")
        return Described(str(found.get("version", ""))[:200], **numbers)

    def vectors_of(self, texts: Sequence[str], dimensions: int = 0) -> NDArray[np.float32]:
        """The vectors of some texts: float32, one row each. dimensions: that they must have, 0 for any. ServiceError where they do not come."""
        _, _, content = self._asked("POST", {"model": self._model, "texts": list(texts)})
        rows = self._object(content).get("vectors")
        if not isinstance(rows, list) or not all(isinstance(row, list) for row in rows):
            raise self._wrong("its answer has no list of vectors")
        if len(rows) != len(texts):
            raise self._wrong(f"it was sent {len(texts):,} texts and returned {len(rows):,} vectors")
        lengths = {len(row) for row in rows}
        if len(lengths) != 1 or not 0 < next(iter(lengths)) <= _MOST_DIMENSIONS:
            raise self._wrong("its vectors have different numbers of dimensions")
        if dimensions and lengths != {dimensions}:
            raise self._wrong(f"its vectors have {lengths.pop():,} dimensions; those before had {dimensions:,}")
        try:
            found = np.array(rows, np.float64)
        except (ValueError, TypeError, OverflowError):
            raise self._wrong("its vectors are not all numbers") from None
        with np.errstate(over="ignore"):
            single = found.astype(np.float32)
        if not np.isfinite(single).all():
            raise self._wrong("its vectors contain a number that is not finite")
        return single

    # One request.

    def _asked(self, method: str, sent: dict[str, Any] | None) -> tuple[int, str, bytes]:
        """Status, kind and content of the response to one request. ServiceError for one that is no use."""
        address = self.address
        try:
            for _ in range(_MOST_REDIRECTS + 1):
                self._limits.begin(self._seconds)
                with self._client.stream(method, address, json=sent) as response:
                    if response.is_redirect:
                        address = self._redirected(address, response)
                        continue
                    content = self._content(response)
                    return self._checked(method, response, content)
            raise self._wrong(f"it redirects more than {_MOST_REDIRECTS} times")
        except Refused as error:
            raise self._error(str(error), "Check the address.") from error
        except (httpx.TimeoutException, httpcore.TimeoutException):
            raise self._error(
                f"it did not answer within {self._seconds:g} seconds", "Try again later.", again=True
            ) from None
        except (httpx.HTTPError, httpx.InvalidURL, httpcore.ProtocolError, httpcore.NetworkError, OSError) as error:
            raise self._error(_lost(error), "Check that it is running, and try again.", again=True) from None

    def _redirected(self, address: str, response: httpx.Response) -> str:
        landed: str = urljoin(address, response.headers.get("location", ""))
        before, after = urlsplit(address), urlsplit(landed)
        if (before.scheme, before.netloc) != (after.scheme, after.netloc):
            raise self._wrong(f"it redirects to another host ({host_of(landed) or landed[:80]}), which gets nothing")
        if response.status_code not in (307, 308):
            raise self._wrong(f"it redirects in a way that loses the texts ({response.status_code})")
        return landed

    def _content(self, response: httpx.Response) -> bytes:
        packed = response.headers.get("content-encoding", "identity").strip().lower()
        if packed not in ("identity", "", "gzip", "x-gzip"):
            raise self._wrong(f"it uses a compression that is not supported ({packed[:40]})")
        unpacker = zlib.decompressobj(31) if "gzip" in packed else None
        parts, size = [], 0
        for chunk in response.iter_raw():
            try:
                data = unpacker.decompress(chunk, _MOST_BYTES + 1 - size) if unpacker else chunk
            except zlib.error:
                raise self._wrong("its answer is compressed and damaged") from None
            size += len(data)
            if size > _MOST_BYTES:
                raise self._wrong(f"its answer is larger than {_MOST_BYTES / 1e6:g} MB")
            parts.append(data)
            if self._limits.left() <= 0:
                raise httpx.ReadTimeout("the time limit was reached")
        return b"".join(parts)

    def _checked(self, method: str, response: httpx.Response, content: bytes) -> tuple[int, str, bytes]:
        status, kind = response.status_code, response.headers.get("content-type", "").partition(";")[0].strip().lower()
        if status == 200 or (method == "GET" and status in (404, 405, 501)):
            return status, kind, content
        said = f"{status} {response.reason_phrase}".strip()
        if status in (401, 403):
            remedy = "Enter the key again." if self._key else "Enter the key of the service."
            raise self._error(f"it did not accept the key ({said})", remedy)
        if status == 413:
            raise self._error(
                f"a text is too long for it ({said})",
                "Shorten the documents, or ask for a larger limit.",
                too_large=True,
            )
        if status in _BUSY:
            words = "it is asked too often" if status == 429 else "it is in trouble"
            raise self._error(f"{words} ({said})", "Try again later.", again=True, wait=_wait(response))
        raise self._error(f"it answered {said}", "Check the address and the name of the model.")

    def _object(self, content: bytes) -> dict[str, Any]:
        try:
            found = json.loads(content.decode("utf-8"))
        except (ValueError, RecursionError):
            if content.lstrip()[:1] == b"<":
                raise self._wrong("it returned a web page instead of JSON") from None
            raise self._error(
                "its answer is not JSON, or only part of it arrived", "Try again later.", again=True
            ) from None
        if not isinstance(found, dict):
            raise self._wrong("its answer is JSON of another form")
        return found

    def _wrong(self, what: str) -> ServiceError:
        return self._error(what, "Check the address, or ask whoever runs the service.")

    def _error(
        self, what: str, remedy: str, again: bool = False, wait: float | None = None, too_large: bool = False
    ) -> ServiceError:
        hidden = what.replace(self._key, "…") if self._key else what  # a service may send the key back
        return ServiceError(hidden, self.host, remedy, again, wait, too_large)


def _wait(response: httpx.Response) -> float | None:
    """The seconds that Retry-After asks for (RFC 9110: a number, or a date); None where it is not there."""
    said = response.headers.get("retry-after", "").strip()
    if said.isascii() and said.isdigit():
        return float(said)
    try:
        until = email.utils.parsedate_to_datetime(said)
        now = datetime.datetime.now(until.tzinfo or datetime.UTC)
        return max((until.replace(tzinfo=until.tzinfo or datetime.UTC) - now).total_seconds(), 0.0)
    except (ValueError, TypeError, IndexError, OverflowError):
        return None


def _lost(error: Exception) -> str:
    words = str(error).strip().splitlines()[0][:120] if str(error).strip() else type(error).__name__
    if isinstance(error, (httpx.ConnectError, httpcore.ConnectError, ConnectionError)):
        return f"it cannot be reached ({words})"
    return f"the connection was lost ({words})"
