"""Plain text: each file becomes a document."""

from __future__ import annotations

from pathlib import Path

from jagged_lens.gather.encoding import decoded
from jagged_lens.gather.records import Records


def read_text(path: Path, name: str, records: Records) -> None:
    """Add the file at `path`, whose key is `name`, its path below the source."""
    text, encoding = decoded(path.read_bytes())
    if encoding != "utf-8":
        records.notices.append(f"{name} was read as {encoding}.")
    records.add(name, text, Path(name).stem, name, {})
