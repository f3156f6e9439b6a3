# SPDX-License-Identifier: GPL-3.0-or-later
"""HTML: what is read of a page, without markup, scripts and navigation. Nothing in it is run or fetched."""

from __future__ import annotations

import re
from collections.abc import Iterator
from html.parser import HTMLParser

from lxml import etree, html

from jagged_lens.gather.encoding import claimed, meant
from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable
from jagged_lens.gather.readers.text import text_of

# ruff: noqa: SIM905 - a list of names is easier read as one
_LEFT_OUT = frozenset(
    "script,style,noscript,template,nav,footer,aside,form,button,select,option,iframe,svg,math,object,embed,audio,video,"
    "canvas,head,dialog,menu".split(",")
)
_BLOCKS = frozenset(
    "address,article,blockquote,body,caption,center,dd,details,div,dl,dt,fieldset,figcaption,figure,h1,h2,h3,h4,h5,h6,"
    "header,hr,li,main,ol,p,pre,section,summary,table,tbody,td,tfoot,th,thead,tr,ul".split(",")
)
_CHARSET = re.compile(
    rb"""<meta\s[^>]{0,400}?charset\s*=\s*["']?\s*([\w:.-]{2,40})|\A\s*<\?xml\s[^>]{0,200}?encoding\s*=\s*["']([\w:.-]{2,40})["']""",
    re.IGNORECASE,
)
_HEAD = 65_536  # bytes in which a page says its encoding
_SPACES = re.compile(r"[^\S\n]+")
_LINES = re.compile(r" ?\n ?")
_MANY = re.compile(r"\n{3,}")


def read_html(data: bytes, options: Options) -> Iterator[Found]:
    """The readable text of an HTML page, and its title."""
    text, words = text_of(data, options, options.encoding or options.said or said_encoding(data))
    yield from words
    title, body = page_text(text)
    yield Piece(body, title)


def said_encoding(data: bytes) -> str:
    """The encoding that a page names in its head, as Python knows it; "" if there is none or the bytes contradict it."""
    found = _CHARSET.search(data[:_HEAD].replace(b"\0", b""))
    if not found:
        return ""
    label = (found[1] or found[2]).decode("ascii", "replace")
    # A page whose head can be read byte by byte is in neither of them (HTML standard).
    return claimed(data, "utf-8" if meant(label).startswith(("utf-16", "utf-32")) else label)


def page_text(page: str) -> tuple[str, str]:
    """The title and the text of a page. Unreadable where it cannot be parsed at all."""
    if not page.strip():
        return "", ""
    parser = html.HTMLParser(encoding="utf-8", no_network=True, remove_comments=True, remove_pis=True, huge_tree=True)
    try:
        tree = etree.fromstring(page.encode("utf-8", "replace").replace(b"\0", b""), parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise Unreadable("it cannot be parsed as a web page") from error
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
            self.parts.append("\n" if tag == "br" else "\n\n")

    def handle_endtag(self, tag: str) -> None:
        if tag == self._within:
            self._within = ""
        elif tag in _BLOCKS:
            self.parts.append("\n\n")

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


_ROLES = frozenset(
    "navigation,banner,contentinfo,search,complementary,menu,menubar,toolbar,dialog,alertdialog,alert".split(",")
)
_FRAME_NAMES = frozenset(
    "nav,navbar,navigation,menu,menus,sidebar,breadcrumb,breadcrumbs,cookie,cookies,consent,banner,masthead,header,footer,topbar,"
    "related,share,sharing,social,newsletter,subscribe,advert,adverts,ad,ads,promo,popup,modal,pagination,pager,comments,toc".split(
        ","
    )
)
_NAME_PARTS = re.compile(r"[A-Z]?[a-z]+|[A-Z]+(?![a-z])")


def _beside_article(root: etree._Element) -> frozenset[etree._Element]:
    """The elements of a page outside <article> and <main>, if its text is in one of these; else none."""
    own = list(root.iter("article", "main"))
    if not own:
        return frozenset()
    inside = {one for article in own for one in article.iter()} | {
        one for article in own for one in article.iterancestors()
    }
    return frozenset(one for one in root.iter() if one not in inside)


def _is_frame(element: etree._Element, beside: frozenset[etree._Element]) -> bool:
    """True if an element is a menu, a banner or the like: by its role, and beside an article by a word in its id or class."""
    if element.get("role", "").strip().lower() in _ROLES:
        return True
    if element not in beside:
        return False
    names = f"{element.get('id', '')} {element.get('class', '')}"
    return any(part.lower() in _FRAME_NAMES for part in _NAME_PARTS.findall(names))


def _walk(root: etree._Element) -> str:
    """The text below an element, with a blank line between blocks: paragraphs, headings, entries of lists, cells of tables."""
    parts: list[str] = []
    due = False  # a blank line before the next text
    beside = _beside_article(root)
    skipped: etree._Element | None = None

    def add(text: str | None, as_it_is: bool = False) -> None:
        nonlocal due
        if not text:
            return
        shown = text if as_it_is else text.replace("\n", " ")
        if shown.strip() and due:
            parts.append("\n\n")
            due = False
        parts.append(shown)

    for event, element in etree.iterwalk(root, events=("start", "end")):
        tag = element.tag if isinstance(element.tag, str) else ""
        if event == "start":
            if skipped is not None:
                continue
            if (
                tag in _LEFT_OUT
                or (tag == "header" and element.getparent() is root)
                or not tag
                or _is_frame(element, beside)
            ):
                skipped = element
                continue
            if tag == "br":
                parts.append("\n")
            elif tag in _BLOCKS:
                due = True
            add(element.text, tag == "pre")
            continue
        if skipped is not None and element is not skipped:
            continue
        if skipped is None and tag in _BLOCKS:
            due = True
        skipped = None
        if element is not root:
            add(element.tail)
    text = _SPACES.sub(" ", "".join(parts))
    return _MANY.sub("\n\n", _LINES.sub("\n", text)).strip()
