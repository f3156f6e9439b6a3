# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of the report of a lens. No result depends on them."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting

Standing = Literal["account", "groups", "map", "copies", "terms", "placed", "suggested", "settings", "again"]
"""The standing parts that can be left out. How sure the figures are is always in a report."""


@dataclass(frozen=True, config=STRICT)
class ReportSettings:
    """The title of the report, and what is in it."""

    title: str = setting(
        "",
        label="Title",
        help="The title of the report. Empty: the name of the lens.",
        said={"": "the name of the lens"},
    )
    author: str = setting(
        "",
        label="Author",
        help="The line below the title: who wrote the report.",
        said={"": "nobody"},
    )
    leave_out: tuple[Standing, ...] = setting(
        (),
        label="Left out",
        help="Parts of the report that are not wanted. How sure the figures are cannot be left out.",
        said={
            (): "nothing",
            "account": "what came in",
            "groups": "groups",
            "map": "map",
            "copies": "copies",
            "terms": "terms",
            "placed": "new documents",
            "suggested": "suggested labels",
            "settings": "settings",
            "again": "how to compute it again",
        },
    )
    texts: bool = setting(
        True,
        label="Texts",
        help="Whether texts of documents that were pinned are in the report, or figures only.",
        said={True: "with the texts that were pinned", False: "figures only"},
    )
    words: int = setting(
        200,
        label="Words of each text",
        help="Texts are cut after this number of words. 0: they are not cut.",
        low=0,
        high=100_000,
        when=("texts", ("True",)),
        said={0: "all"},
    )


SENTENCES = (
    "Title: {title}",
    "By {author}",
    "Left out: {leave-out}",
    "The report comes {texts}.",
    "Words shown of each text: {words}",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
