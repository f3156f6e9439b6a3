# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of the files that a run leaves. No result depends on them."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting


@dataclass(frozen=True, config=STRICT)
class RunSettings:
    """The formats of the tables and matrices in the folder of a run."""

    tables: Literal["csv", "parquet"] = setting(
        "csv",
        label="Tables",
        help="Format of the tables of a run. Parquet takes less room and time, and keeps numbers as numbers.",
        said={"csv": "CSV", "parquet": "Parquet"},
    )
    matrices: Literal["mtx", "npz"] = setting(
        "mtx",
        label="Matrices",
        help="Format of the matrices of a run: Matrix Market is text; NPZ is binary, and SciPy reads it at once.",
        said={"mtx": "Matrix Market", "npz": "NPZ"},
    )


SENTENCES = (
    "A run writes tables as {tables}",
    "and matrices as {matrices}.",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
