# SPDX-License-Identifier: GPL-3.0-or-later
"""The folder of a run, in which tables and matrices have the formats that were asked for."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from jagged_lens.lens import RunSettings


@dataclass(frozen=True)
class RunFolder:
    """A folder and the formats of what is written into it."""

    path: Path
    formats: RunSettings

    def __truediv__(self, name: str) -> Path:
        """The path of a file of the run: a table (.csv) or a matrix (.mtx) with the ending of its format.

        >>> str(RunFolder(Path("out"), RunSettings(tables="parquet")) / "groups.csv")
        'out/groups.parquet'
        """
        endings = {".csv": self.formats.tables, ".mtx": self.formats.matrices}
        path = self.path / name
        return path.with_suffix(f".{endings[path.suffix]}") if path.suffix in endings else path
