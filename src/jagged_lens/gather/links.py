# SPDX-License-Identifier: GPL-3.0-or-later
"""Links: the pages that a list of web addresses names, and only those, fetched politely over HTTP (RFC 9110).

robots.txt (RFC 9309) is respected, a few pages are fetched at a time, each within limits of time and size. Addresses of
private networks and of this machine are refused unless the source allows them; the address that was looked up and found
fit is the one that is connected to, so that a name cannot point elsewhere in between.
"""

from __future__ import annotations

import contextlib
import datetime
import re
import tempfile
import threading
import zlib
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from email.message import Message
from pathlib import Path
from urllib.parse import urljoin, urlsplit, urlunsplit

import httpcore
import httpx
from protego import Protego

from jagged_lens import __version__
from jagged_lens.gather.apart import File, read_apart
from jagged_lens.gather.corpus import Page
from jagged_lens.gather.encoding import claimed
from jagged_lens.gather.pages import PageStore
from jagged_lens.gather.readers import Options, Piece
from jagged_lens.gather.source import Source
from jagged_lens.network import Limits, Refused, Transport
from jagged_lens.progress import Progress

AGENT = f"JaggedLens/{__version__} (a text analyst's desktop; fetches only pages that its user listed)"
MOST_REDIRECTS = 5
MOST_LINKS = 20_000
_ROBOTS_BYTES = 500_000
_ENDINGS = {
    "text/html": ".html",
    "application/xhtml+xml": ".html",
    "text/plain": ".txt",
    "text/markdown": ".md",
    "application/pdf": ".pdf",
    "application/rtf": ".rtf",
    "text/rtf": ".rtf",
    "message/rfc822": ".eml",
    "application/vnd.openxmlformats-officedocument.wordprocessingml.document": ".docx",
    "application/vnd.oasis.opendocument.text": ".odt",
}
_UNSAID = (None, "", "utf-8", "utf8")
_ADDRESS = re.compile(r"https?://[^\s<>\"']+", re.IGNORECASE)
_ANY_SCHEME = re.compile(r"[a-z][a-z0-9+.-]*://\S+", re.IGNORECASE)
_HOST = re.compile(r"(?:[\w-]{1,63}\.)+[a-z]{2,24}(?::\d{1,5})?(?:[/?#][^\s<>\"']*)?", re.IGNORECASE)
_BEFORE_PAGE = "https://"


@dataclass(frozen=True)
class Fetched:
    """The result of fetching one page, and its content."""

    page: Page
    content: bytes


def addresses_in(text: str) -> list[str]:
    """The web addresses that stand in a text, in order, each once.

    A line that is an address but for its beginning, such as www.larkmoor.example/notes, is taken as https. One that is an address of
    another kind is given too, to be refused by name.
    """
    found: list[str] = []
    for line in map(str.strip, text.splitlines()):
        whole = with_scheme(line) or (line if _ANY_SCHEME.fullmatch(line) else "")
        found += [whole.rstrip(".,;)")] if whole else [one.rstrip(".,;)") for one in _ADDRESS.findall(line)]
    return list(dict.fromkeys(found))


def with_scheme(address: str) -> str:
    """An address that lacks its beginning, as https; "" where it is none, or has one.

    >>> with_scheme("www.larkmoor.example/notes"), with_scheme("slugs. Frost"), with_scheme("http://a.example")
    ('https://www.larkmoor.example/notes', '', '')
    """
    return _BEFORE_PAGE + address if "://" not in address and _HOST.fullmatch(address) else ""


def fetch_pages(
    addresses: Sequence[str], source: Source, store: PageStore | None, again: bool, progress: Progress
) -> list[Fetched]:
    """Fetch pages, in the order of their addresses.

    store: pages that are in it are taken from it, unless `again`; a page that cannot be fetched again is the one that was
    kept. Raises Stopped where progress does, after those under way have ended.
    """
    kept = {address: found for address in addresses if store is not None and (found := store.page(address))}
    wanted = [address for address in addresses if again or address not in kept]
    got: dict[str, Fetched] = {}
    over = threading.Event()
    with _Fetcher(source, over) as fetcher, ThreadPoolExecutor(source.at_a_time) as pool:
        futures = [(address, pool.submit(fetcher.fetch, address)) for address in wanted]
        try:
            for number, (address, future) in enumerate(futures):
                while not future.done():
                    progress(number / len(wanted))
                    with contextlib.suppress(TimeoutError):
                        future.result(0.1)
                got[address] = one = future.result()
                if store is not None and not one.page.problem:
                    store.keep_page(one.page, one.content)
        except BaseException:
            over.set()
            for _, future in futures:
                future.cancel()
            raise
    result = []
    for address in addresses:
        new = got.get(address)
        # A page that does not come again is the one that came before.
        result.append(
            new if new is not None and not (new.page.problem and address in kept) else Fetched(*kept[address])
        )
    return result


def read_pages(fetched: Sequence[Fetched], threads: int, progress: Progress) -> Iterator[tuple[Page, Piece | None]]:
    """The text of each page, read apart; with the reason in the page where it gives none."""
    with tempfile.TemporaryDirectory(prefix="jagged-lens-pages-") as folder:
        files = []
        for number, one in enumerate(fetched):
            if not one.page.problem:
                kind, _, charset = one.page.kind.partition("; charset=")
                path = Path(folder) / f"{number}{_ENDINGS[kind]}"
                path.write_bytes(one.content)
                files.append(File(path, path.name, claimed(one.content, charset)))
        read = read_apart(files, Options(), threads, progress)
        for one in fetched:
            if one.page.problem:
                yield one.page, None
                continue
            found = next(read)
            piece = next((each for each in found if isinstance(each, Piece)), None)
            if piece is None:
                reasons = [getattr(each, "reason", "") for each in found]
                yield replace(one.page, problem=next(filter(None, reasons), "it contains no text")), None
            else:
                yield one.page, piece


class _Fetcher:
    """One client for all pages of a source, and what each host's robots.txt says."""

    def __init__(self, source: Source, over: threading.Event) -> None:
        self._source = source
        self._limits = Limits(over)
        self._robots: dict[str, Protego | str] = {}
        self._lock = threading.Lock()
        self._hosts: dict[str, threading.Lock] = {}
        self._client = httpx.Client(
            transport=Transport(source.private, source.at_a_time, self._limits),
            headers={
                "User-Agent": AGENT,
                "Accept": "text/html, text/plain, application/pdf;q=0.9, */*;q=0.5",
                "Accept-Encoding": "gzip",
            },
            follow_redirects=False,
            timeout=httpx.Timeout(source.page_seconds, connect=min(10, source.page_seconds)),
            trust_env=False,
        )

    def __enter__(self) -> _Fetcher:
        return self

    def __exit__(self, *_: object) -> None:
        self._client.close()

    def fetch(self, address: str) -> Fetched:
        """Fetch one page; why it did not come stands in it."""
        day = datetime.datetime.now(datetime.UTC).date().isoformat()
        page = Page(address, address, 0, "", 0, "", day)
        try:
            for _ in range(MOST_REDIRECTS + 1):
                _check_scheme(page.landed)
                self._limits.begin(self._source.page_seconds)
                self._check_robots(page.landed)
                self._limits.begin(self._source.page_seconds)
                with self._client.stream("GET", page.landed) as response:
                    page = replace(page, status=response.status_code)
                    if response.is_redirect:
                        landed = urljoin(page.landed, response.headers.get("location", ""))
                        page = replace(page, landed=landed)
                        continue
                    if response.status_code != 200:
                        raise Refused(f"the server answers {response.status_code} {response.reason_phrase}".rstrip())
                    head = Message()
                    head["content-type"] = response.headers.get("content-type", "text/html")
                    kind, charset = head.get_content_type().lower(), head.get_content_charset()
                    page = replace(page, kind=f"{kind}; charset={charset}" if charset not in _UNSAID else kind)
                    if kind not in _ENDINGS:
                        raise Refused(f"it is {kind or 'of an unknown type'}, which is not read")
                    content = self._content(response, self._source.page_megabytes * 1_000_000)
                    return Fetched(replace(page, size=len(content)), content)
            raise Refused(f"it redirects more than {MOST_REDIRECTS} times")
        except Refused as error:
            return Fetched(replace(page, problem=str(error)), b"")
        except (httpx.TimeoutException, httpcore.TimeoutException):
            words = "stopped" if self._limits.over.is_set() else f"no answer within {self._source.page_seconds} seconds"
            return Fetched(replace(page, problem=words), b"")
        except (
            httpx.HTTPError,
            httpx.InvalidURL,
            httpcore.ProtocolError,
            httpcore.NetworkError,
            OSError,
            ValueError,
        ) as error:
            return Fetched(replace(page, problem=f"it cannot be fetched ({_short(error)})"), b"")

    def _content(self, response: httpx.Response, most: int) -> bytes:
        """The response, unpacked. At most `most` bytes are held, however large a packed response would grow."""
        packed = response.headers.get("content-encoding", "identity").strip().lower()
        if packed not in ("identity", "", "gzip", "x-gzip"):
            raise Refused(f'it uses a compression that is not supported ("{packed[:40]}")')
        unpacker = zlib.decompressobj(31) if "gzip" in packed else None
        parts, size = [], 0
        for chunk in response.iter_raw():
            try:
                data = unpacker.decompress(chunk, most + 1 - size) if unpacker else chunk
            except zlib.error as error:
                raise Refused("it is compressed and damaged") from error
            size += len(data)
            parts.append(data)
            if size > most or (unpacker and unpacker.unconsumed_tail):
                raise Refused(f"it is larger than {most / 1e6:g} MB")
            if self._limits.left() <= 0:
                raise Refused(f"it did not arrive within {self._source.page_seconds} seconds")
            if self._limits.over.is_set():
                raise Refused("stopped")
        if unpacker and not unpacker.eof:
            raise Refused("it is compressed and arrived incomplete")
        return b"".join(parts)

    def _check_robots(self, address: str) -> None:
        parts = urlsplit(address)
        host = f"{parts.scheme}://{parts.netloc}"
        with self._lock:
            lock = self._hosts.setdefault(host, threading.Lock())
        with lock:
            if host not in self._robots:
                self._robots[host] = self._read_robots(host)
        rules = self._robots[host]
        if isinstance(rules, str):
            raise Refused(rules)
        if not rules.can_fetch(address, AGENT.partition("/")[0]):
            raise Refused("the site's robots.txt disallows it")

    def _read_robots(self, host: str) -> Protego | str:
        address = f"{host}/robots.txt"
        for _ in range(MOST_REDIRECTS + 1):
            _check_scheme(address)
            with self._client.stream("GET", address) as response:
                if response.is_redirect:
                    address = urljoin(address, response.headers.get("location", ""))
                    continue
                if response.status_code >= 500:  # RFC 9309: a server in trouble is left alone
                    return f"the site's robots.txt cannot be read ({response.status_code})"
                if response.status_code != 200:
                    break
                return Protego.parse(self._content(response, _ROBOTS_BYTES).decode("utf-8", "replace"))
        return Protego.parse("")


def _check_scheme(address: str) -> None:
    parts = urlsplit(address)
    if parts.scheme not in ("http", "https"):
        raise Refused(f"only http and https addresses are fetched, not {parts.scheme or 'this'}")
    if not parts.hostname:
        raise Refused("the address has no host")
    if parts.username or parts.password:
        raise Refused("addresses that contain a user name or password are not fetched")


def without_fragment(address: str) -> str:
    """An address without the place inside the page; one that is none stays as it is, to be refused by name."""
    try:
        urlsplit(address)
    except ValueError:
        return address
    return urlunsplit(urlsplit(address)._replace(fragment=""))


def _short(error: Exception) -> str:
    return str(error).strip().splitlines()[0][:120] if str(error).strip() else type(error).__name__
