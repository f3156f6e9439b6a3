# SPDX-License-Identifier: GPL-3.0-or-later
"""The limit to which an archive may expand."""

from __future__ import annotations

import zipfile

from jagged_lens.gather.readers.piece import Unreadable

MOST_EXPANDED = 1_000_000_000
MOST_RATIO = 200
MOST_ENTRIES = 200_000
_FREE = 20_000_000  # below this a ratio does no harm


def guarded(archive: zipfile.ZipFile) -> None:
    """Unreadable where an archive would expand beyond reason."""
    entries = archive.infolist()
    expanded = sum(entry.file_size for entry in entries)
    packed = sum(entry.compress_size for entry in entries) or 1
    if len(entries) > MOST_ENTRIES:
        raise Unreadable(f"it holds {len(entries):,} files; at most {MOST_ENTRIES:,} are allowed")
    if expanded > MOST_EXPANDED or (expanded > _FREE and expanded / packed > MOST_RATIO):
        raise Unreadable(
            f"it would expand to {expanded / 1e6:,.0f} MB, {expanded / packed:,.0f} times its size; not opened"
        )
