# SPDX-License-Identifier: GPL-3.0-or-later
"""What a document is called that has no title."""

from __future__ import annotations

import pytest

from jagged_lens.gather.records import Records


@pytest.mark.parametrize(
    ("keys", "titles"),
    [
        (("Runner bean", "Beet"), ("Runner bean", "Beet")),
        (("LM-0001", "LM-0002"), ("Slugs took the beans.", "Frost took all of the rest, and")),
        (("Runner bean", "17"), ("Slugs took the beans.", "Frost took all of the rest, and")),
    ],
)
def test_a_key_that_reads_as_a_name_is_the_title_where_nobody_gave_one(
    keys: tuple[str, str], titles: tuple[str, str]
) -> None:
    texts = ("Slugs took the beans. We sowed again.", "Frost took all of the rest, and\nwe went home.")
    records = Records()
    for key, text in zip(keys, texts, strict=True):
        records.add(key, text, "", "notes.csv", {})
    assert tuple(records.corpus().titles) == titles
    titled = Records()
    for key, text in zip(keys, texts, strict=True):
        titled.add(key, text, "Beds" if key == keys[0] else "", "notes.csv", {})
    assert tuple(titled.corpus().titles) == ("Beds", "Frost took all of the rest, and")
