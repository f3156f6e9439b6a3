# SPDX-License-Identifier: GPL-3.0-or-later
"""Zip archives of files that another reader takes."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable, Iterator

from jagged_lens.gather.corpus import Doubt, Unread
from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable
from jagged_lens.gather.readers.zip_limits import guarded

_OFFICE = (".docx", ".odt")


def read_archive(
    data: bytes,
    options: Options,
    read_member: Callable[[str, bytes, Options], Iterator[Found]],
    taken: Callable[[str], bool],
) -> Iterator[Found]:
    """Every member that `taken` says another reader takes, read by `read_member`."""
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
        guarded(archive)
    except (zipfile.BadZipFile, EOFError, NotImplementedError, OSError, ValueError) as error:
        raise Unreadable("it is damaged or cut off") from error
    left = 0
    with archive:
        for entry in sorted(archive.infolist(), key=lambda one: one.filename):
            name = entry.filename
            if entry.is_dir() or name.startswith("__MACOSX/"):
                continue
            if name.lower().endswith(".zip"):
                yield Unread(name, "archives inside archives are not opened")
                continue
            if not taken(name):
                left += 1
                continue
            if entry.flag_bits & 1:
                yield Unread(name, "it is protected by a password")
                continue
            try:
                data = archive.read(entry)
                if data.startswith(b"PK\x03\x04") and not name.lower().endswith(_OFFICE):
                    yield Unread(name, "archives inside archives are not opened")
                    continue
                for one in read_member(name, data, options):
                    if isinstance(one, Piece):
                        yield Piece(one.text, one.title, f"{name}/{one.name}" if one.name else name, one.date)
                    elif isinstance(one, str):
                        yield f"{name} {one}"
                    elif isinstance(one, Doubt):
                        yield Doubt(name, one.readings)
                    else:
                        yield Unread(f"{name}/{one.name}", one.reason)
            except Unreadable as reason:
                if "." not in name.rpartition("/")[2]:  # without an ending nobody said that it is text
                    left += 1
                    continue
                yield Unread(name, str(reason))
            except MemoryError:
                yield Unread(name, "reading it needs too much memory")
            except Exception:  # what a damaged entry makes a library stumble over costs this entry alone
                yield Unread(name, "it is damaged")
    if left:
        yield (
            "contains one file of another kind, which was skipped."
            if left == 1
            else f"has {left:,} files of other kinds, which were skipped."
        )
