# SPDX-License-Identifier: GPL-3.0-or-later
"""Several files and folders as sources: texts of one folder together, tables each with the roles that their columns seem to have."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from jagged_lens.errors import JaggedLensError
from jagged_lens.gather.preview import Preview, preview
from jagged_lens.gather.source import Source
from jagged_lens.gather.sources import Means
from jagged_lens.gather.tables import TABLES
from jagged_lens.progress import Progress, portion, unheard


@dataclass(frozen=True)
class Proposed:
    """A source as it would be taken in; found: its preview, None where it cannot be read; problem: why not."""

    source: Source
    found: Preview | None
    problem: str = ""


def together(paths: Sequence[Path], folder: Path) -> list[Source]:
    """The sources of some paths. Texts with one ending that are all those of their folder become one pattern; all else a source each.

    folder: that of the project, to which paths below it are relative.
    """
    alike: dict[tuple[Path, str], list[Path]] = {}
    for path in paths:
        if path.is_file() and path.suffix and path.suffix.lower() not in TABLES:
            alike.setdefault((path.parent, path.suffix), []).append(path)
    patterns = {}
    for (parent, suffix), files in alike.items():
        if len(files) > 1 and set(files) == {one for one in parent.iterdir() if one.is_file() and one.suffix == suffix}:
            patterns.update(dict.fromkeys(files, parent / f"*{suffix}"))
    names = dict.fromkeys(patterns.get(path, path) for path in paths)
    return [Source(file=str(one.relative_to(folder) if one.is_relative_to(folder) else one)) for one in names]


def proposed(sources: Sequence[Source], means: Means, progress: Progress = unheard) -> list[Proposed]:
    """Each source with its preview, and what was guessed in it."""
    found = []
    for at, source in enumerate(sources):
        try:
            seen = preview(source, means, portion(progress, at / len(sources), (at + 1) / len(sources)))
            found.append(Proposed(seen.source, seen, seen.problem))
        except JaggedLensError as error:
            found.append(Proposed(source, None, f"{error.what}. {error.remedy}".strip()))
    return found
