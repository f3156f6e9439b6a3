# SPDX-License-Identifier: GPL-3.0-or-later
"""A small web server on this machine with made-up Larkmoor pages: the stand-in for the web, in tests and in the demo.

It serves pages as the web has them: with navigation and scripts around the text, in several encodings and types, redirected,
missing, slow, too large, and one that its robots.txt asks to leave alone.
"""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Iterator
from http.server import BaseHTTPRequestHandler

from jagged_lens.demo.serving import StandIn, serving, until_interrupted

_SHELL = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>{title}</title>
<style>body {{ color: black }}</style><script>document.title = "changed by a script";</script></head>
<body><header><a href="/">Larkmoor Seed Library</a></header>
<nav><a href="/beans.html">Beans</a> <a href="/leeks.html">Leeks</a></nav>
<main><h1>{title}</h1>{text}</main>
<footer>Larkmoor Seed Library, Low Hythe. Borrow, sow, return.</footer></body></html>
"""

PAGES = {
    "/beans.html": (
        "Beans on the wet plots",
        "<p>Runner beans want a trench that holds water. On the moor the trench is dug in autumn and filled with old straw.</p>"
        "<p>Slugs take the first sowing more often than not; a second one in the last week of May has rarely failed.</p>",
    ),
    "/leeks.html": (
        "Leeks that stand the winter",
        "<p>The old strains stand until April. Earth them up twice, and leave the flag on: it keeps the frost from the shank.</p>",
    ),
    "/blight.html": (
        "Blight, and what to lend after it",
        "<p>After a year of blight no tomato seed goes out from the plots it was on.</p><ul><li>Burn the haulm.</li>"
        "<li>Lift early rather than late.</li></ul>",
    ),
    "/private/growers.html": ("Growers", "<p>This page asks not to be fetched.</p>"),
}
_TEXT = "Opening hours\n\nThe seed room is open on the first dry Saturday of each month.\n"


class _Handler(BaseHTTPRequestHandler):
    """Answers one request."""

    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        """Answer as the page asked for does."""
        path = self.path.partition("?")[0]
        server = self.server
        assert isinstance(server, _Server)
        server.asked.append((path, self.headers.get("User-Agent", "")))
        if path == "/robots.txt":
            self._send(b"User-agent: *\nDisallow: /private/\n", "text/plain")
        elif path in server.pages:
            title, text = server.pages[path]
            self._send(_SHELL.format(title=title, text=text).encode(), "text/html; charset=utf-8")
        elif path == "/hours.txt":
            self._send(_TEXT.encode("utf-16"), "text/plain")
        elif path == "/old-beans":
            self._redirect("/beans.html")
        elif path == "/round":
            self._redirect("/round")
        elif path == "/elsewhere":
            self._redirect("ftp://127.0.0.1/seeds")
        elif path == "/large":
            self._send(b"<p>" + b"slug " * 700_000, "text/html")
        elif path == "/seed.png":
            self._send(b"\x89PNG\r\n\x1a\n", "image/png")
        elif path == "/empty.html":
            self._send(b"", "text/html")
        elif path == "/slow":
            self.send_response(200)
            self.send_header("Content-Type", "text/html")
            self.send_header("Content-Length", "100000")
            self.end_headers()
            with contextlib.suppress(OSError):
                for _ in range(100):
                    if server.ending.wait(0.1):
                        break
                    self.wfile.write(b"slow ")
        elif path == "/flaky.html" and server.flaky > 0:
            server.flaky -= 1
            self._send(b"busy", "text/plain", 503)
        elif path == "/flaky.html":
            self._send(_SHELL.format(title="Flaky", text="<p>Here at the second try.</p>").encode(), "text/html")
        else:
            self._send(b"no such page", "text/plain", 404)

    def _send(self, content: bytes, kind: str, status: int = 200) -> None:
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(content)))
        self.end_headers()
        with contextlib.suppress(OSError):
            self.wfile.write(content)

    def _redirect(self, to: str) -> None:
        self.send_response(302)
        self.send_header("Location", to)
        self.send_header("Content-Length", "0")
        self.end_headers()

    def log_message(self, format: str, *args: object) -> None:  # noqa: A002 - the standard library's name
        """Nothing is written to the terminal."""


class _Server(StandIn):
    def __init__(self, port: int) -> None:
        super().__init__(port, _Handler)
        self.asked: list[tuple[str, str]] = []
        self.pages = dict(PAGES)
        self.flaky = 1

    @property
    def address(self) -> str:
        """The text at the start of its pages."""
        return f"http://127.0.0.1:{self.server_port}"


@contextlib.contextmanager
def page_server(port: int = 0) -> Iterator[_Server]:
    """Serve the pages on this machine alone, until the end of the block. port: 0 takes any that is free."""
    with serving(_Server(port)) as server:
        yield server


def serve_until_stopped(port: int, say: Callable[[str], object]) -> None:
    """Serve until the program is interrupted; `say` is told the addresses."""
    with page_server(port) as server:
        for path in [*PAGES, "/hours.txt", "/old-beans", "/missing.html"]:
            say(f"{server.address}{path}")
        until_interrupted()
