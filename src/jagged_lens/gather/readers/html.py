"""HTML: what is read of a page, without markup, scripts and navigation. Nothing in it is run or fetched."""

from __future__ import annotations

import re
from collections.abc import Iterator
from html.parser import HTMLParser

from lxml import etree, html

from jagged_lens.gather.encoding import decoded, encoding_of
from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable

# ruff: noqa: SIM905 - a list of names is easier read as one
_LEFT_OUT = frozenset(
    "script,style,noscript,template,nav,footer,aside,form,button,select,option,iframe,svg,math,object,embed,audio,video,"
    "canvas,head,dialog,menu".split(",")
)
_BLOCKS = frozenset(
    "address,article,blockquote,body,caption,center,dd,details,div,dl,dt,fieldset,figcaption,figure,h1,h2,h3,h4,h5,h6,"
    "header,hr,li,main,ol,p,pre,section,summary,table,tbody,tfoot,thead,tr,ul".split(",")
)
_APART = frozenset(
    ("p", "h1", "h2", "h3", "h4", "h5", "h6", "blockquote", "article", "section", "table", "ul", "ol", "pre")
)
_CHARSET = re.compile(rb"""<meta[^>]{0,200}?charset\s*=\s*["']?\s*([\w-]{2,40})""", re.IGNORECASE)
_SPACES = re.compile(r"[^\S\n]+")
_LINES = re.compile(r" ?\n ?")
_MANY = re.compile(r"\n{3,}")


def read_html(data: bytes, options: Options) -> Iterator[Found]:
    """The readable text of an HTML page, and its title."""
    encoding = options.encoding
    if not encoding and (said := _CHARSET.search(data[:4096])):
        name = said[1].decode("ascii", "replace").lower()
        try:
            data.decode(name)
        except (LookupError, UnicodeError):
            pass
        else:
            encoding = name
    text, _ = decoded(data, encoding or encoding_of(data))
    title, body = page_text(text)
    yield Piece(body, title)


def page_text(page: str) -> tuple[str, str]:
    """The title and the text of a page. Unreadable where it cannot be parsed at all."""
    if not page.strip():
        return "", ""
    parser = html.HTMLParser(encoding="utf-8", no_network=True, remove_comments=True, remove_pis=True, huge_tree=True)
    try:
        tree = etree.fromstring(page.encode("utf-8", "replace").replace(b"\0", b""), parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise Unreadable("it is no page that can be parsed") from error
    if tree is None:
        return "", ""
    if any("depth" in error.message for error in parser.error_log):
        return _shallow(page)  # what is nested too deep the parser leaves out, with all that follows it
    titles = tree.xpath("//head/title//text()") or tree.xpath("(//h1)[1]//text()")
    title = " ".join("".join(titles).split())
    body = tree.find("body")
    return title, _walk(body if body is not None else tree)


class _Shallow(HTMLParser):
    """The title and the text of a page without regard to how its elements are nested."""

    def __init__(self) -> None:
        super().__init__()
        self.title: list[str] = []
        self.parts: list[str] = []
        self._within = ""

    def handle_starttag(self, tag: str, attrs: object) -> None:
        if tag in ("title", "script", "style") and not self._within:
            self._within = tag
        elif tag in _BLOCKS or tag == "br":
            self.parts.append("\n\n" if tag in _APART else "\n")

    def handle_endtag(self, tag: str) -> None:
        if tag == self._within:
            self._within = ""
        elif tag in _BLOCKS:
            self.parts.append("\n\n" if tag in _APART else "\n")

    def handle_data(self, data: str) -> None:
        if not self._within:
            self.parts.append(data)
        elif self._within == "title":
            self.title.append(data)


def _shallow(page: str) -> tuple[str, str]:
    reader = _Shallow()
    reader.feed(page)
    reader.close()
    text = _SPACES.sub(" ", "".join(reader.parts))
    return " ".join("".join(reader.title).split()), _MANY.sub("\n\n", _LINES.sub("\n", text)).strip()


def _walk(root: etree._Element) -> str:
    """The text below an element: blocks on lines of their own, paragraphs with a blank line between them."""
    parts: list[str] = []
    breaks = 0  # line ends that are due before the next text
    skipped: etree._Element | None = None

    def add(text: str | None, as_it_is: bool = False) -> None:
        nonlocal breaks
        if not text:
            return
        shown = text if as_it_is else text.replace("\n", " ")
        if shown.strip() and breaks:
            parts.append("\n" * breaks)
            breaks = 0
        parts.append(shown)

    for event, element in etree.iterwalk(root, events=("start", "end")):
        tag = element.tag if isinstance(element.tag, str) else ""
        if event == "start":
            if skipped is not None:
                continue
            if tag in _LEFT_OUT or (tag == "header" and element.getparent() is root) or not tag:
                skipped = element
                continue
            if tag == "br":
                parts.append("\n")
            elif tag in ("td", "th"):
                parts.append(" ")
            elif tag in _BLOCKS:
                breaks = max(breaks, 2 if tag in _APART else 1)
            add(element.text, tag == "pre")
            continue
        if skipped is not None and element is not skipped:
            continue
        if skipped is None and tag in _BLOCKS:
            breaks = max(breaks, 2 if tag in _APART else 1)
        skipped = None
        if element is not root:
            add(element.tail)
    text = _SPACES.sub(" ", "".join(parts))
    return _MANY.sub("\n\n", _LINES.sub("\n", text)).strip()
