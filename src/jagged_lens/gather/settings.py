"""The settings of Gather."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting


@dataclass(frozen=True, config=STRICT)
class GatherSettings:
    """Where documents come from and which column is what."""

    from_: str = setting(
        "",
        label="From",
        help="A table (.csv, .tsv), a text file, a folder of .txt files, or a pattern such as notes/*.txt.",
    )
    key: str = setting(
        "", label="Key", help="Column of unique document keys. Left empty, a row is file#row and a file its path."
    )
    text: tuple[str, ...] = setting(
        (),
        label="Text",
        help="Columns whose text is read, joined by a blank line. Left empty, the wordiest column is taken.",
    )
    title: str = setting(
        "", label="Title", help="Column of titles. Left empty, a column named title is taken, or else the key."
    )
    labels: tuple[str, ...] = setting((), label="Labels", help="Columns whose values label the documents.")
    unit: Literal["document"] = setting(
        "document", label="Unit", help="What counts as one document.", later=("paragraph", "sentence", "line")
    )
    sample: int = setting(
        0, label="Sample", help="Take a seeded random sample of so many documents; 0 takes all.", low=0, built=False
    )
