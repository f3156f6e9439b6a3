# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of labels that are suggested."""

from __future__ import annotations

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting


@dataclass(frozen=True, config=STRICT)
class SuggestSettings:
    """The label to learn from the documents that have it, and how that is tested."""

    label: str = setting(
        "",
        label="Label",
        help=(
            "The label to learn from the documents that have a value, and to suggest for those that have none. Empty: "
            "nothing is learned."
        ),
        names_label=True,
        said={"": "no label"},
    )
    held_out: float = setting(
        0.2,
        label="Held out",
        help="Share of the documents of each value that is kept out of learning, to measure how often suggestions are right.",
        low=0.05,
        high=0.9,
        unit="of each value",
    )
    seed: int = setting(
        1,
        label="Seed",
        help="Seed of the held-out documents. The same seed holds out the same ones.",
        low=0,
        high=2**31 - 1,
    )


SENTENCES = (
    "Suggest {label}.",
    "Hold out {held-out} of each value to test the suggestions.",
    "Random seed: {seed}",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
