# SPDX-License-Identifier: GPL-3.0-or-later
"""The files that were opened or saved last, remembered between windows."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QSettings

from jagged_lens.project import unnamed_folder

_MOST = 12


def remember(memory: QSettings | None, path: Path) -> None:
    """Put a file first among those that were opened or saved last; not a project without a name."""
    if memory is not None and path.parent != unnamed_folder():
        found = [str(path.absolute()), *paths(memory)]
        memory.setValue("recent", list(dict.fromkeys(found))[:_MOST])


def paths(memory: QSettings | None) -> list[str]:
    """The files that were opened or saved last, the newest first."""
    kept = memory.value("recent") if memory is not None else None
    return [str(one) for one in kept] if isinstance(kept, list) else [str(kept)] if kept else []
