# SPDX-License-Identifier: GPL-3.0-or-later
"""Web addresses that stand behind the words of spreadsheet cells (hyperlinks of ISO/IEC 29500), read beside the cells."""

from __future__ import annotations

import re
import zipfile
from collections.abc import Iterator, Sequence
from itertools import chain
from pathlib import Path, PurePosixPath

from lxml import etree

_CHUNK = 1 << 20
_BEGIN, _END = b"<hyperlinks", b"</hyperlinks>"
_MOST_BYTES = 50_000_000  # of the list of links
_REF = re.compile(r"([A-Z]{1,3})(\d{1,7})")
_ID = "{http://schemas.openxmlformats.org/officeDocument/2006/relationships}id"
_NAMESPACES = (
    b'<h xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" '
    b'xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships">'
)
Links = dict[int, dict[int, str]]


def links_of(path: Path, sheet: str) -> Links:
    """The addresses behind cells: by row from 0, then by column from 0. sheet: the part of the archive. Empty where there are none, or
    they cannot be read."""
    with zipfile.ZipFile(path) as archive:
        part = PurePosixPath(sheet.lstrip("/"))
        rels = str(part.parent / "_rels" / f"{part.name}.rels")
        if rels not in archive.namelist() or str(part) not in archive.namelist():
            return {}
        parser = etree.XMLParser(resolve_entities=False, no_network=True, recover=True)
        targets = {
            one.get("Id"): one.get("Target", "")
            for one in etree.fromstring(archive.read(rels), parser)
            if one.get("TargetMode") == "External"
        }
        if not targets:
            return {}
        with archive.open(str(part)) as data:
            listed = _listed(iter(lambda: data.read(_CHUNK), b""))
        if not listed:
            return {}
        found: Links = {}
        prefixed = b":hyperlinks" in listed[:60]
        for one in etree.fromstring(_NAMESPACES + listed + b"</h>", parser).iter() if not prefixed else ():
            ref = _REF.match(one.get("ref") or "")
            address = targets.get(one.get(_ID), "")
            if ref and address.startswith(("http://", "https://")):
                found.setdefault(int(ref[2]) - 1, {})[_column(ref[1])] = address
        return found


def with_links(rows: Iterator[Sequence[str]], links: Links) -> Iterator[Sequence[str]]:
    """The rows with a further column for each that has addresses behind its words; the first row names it after the words' column."""
    columns = sorted({column for row in links.values() for column in row})
    first = next(rows, None)
    if first is None:
        return
    width = max(len(first), columns[-1] + 1)
    names = [first[column] if column < len(first) else "" for column in columns]
    head = [f"{name or 'column'} link" for name in names] if not any(c in links.get(0, {}) for c in columns) else None
    for number, row in enumerate(chain([first], rows)):
        own = [links.get(number, {}).get(column, "") for column in columns]
        yield [*row, *[""] * (width - len(row)), *(head if number == 0 and head else own)]


def _listed(chunks: Iterator[bytes]) -> bytes:
    """The list of hyperlinks at the end of a sheet, without what stands before it."""
    kept, inside = b"", False
    for chunk in chunks:
        kept += chunk
        if not inside and (at := kept.find(_BEGIN)) >= 0:
            kept, inside = kept[at:], True
        if inside and (at := kept.find(_END)) >= 0:
            return kept[: at + len(_END)]
        if not inside:
            kept = kept[-len(_BEGIN) :]
        elif len(kept) > _MOST_BYTES:
            return b""
    return b""


def _column(letters: str) -> int:
    number = 0
    for letter in letters:
        number = 26 * number + ord(letter) - 64
    return number - 1
