# SPDX-License-Identifier: GPL-3.0-or-later
"""Entries such as crop = bean: a label and one of its values, as filters name them."""

from __future__ import annotations

import json
from collections.abc import Collection, Sequence


def entry_of(label: str, value: str) -> str:
    """The entry that names a value of a label; a name that could be misread stands in quotes, as in JSON.

    >>> entry_of("crop", "bean"), entry_of("a = b", "c")
    ('crop = bean', '"a = b" = c')
    """
    plain = label == label.strip() and "=" not in label and not label.startswith('"') and label
    return f"{label if plain else json.dumps(label, ensure_ascii=False)} = {value}"


def parted(entry: str) -> tuple[str, str] | None:
    """The label and the value that an entry names; None where it names none.

    >>> parted("year=2021"), parted('"a = b" = c'), parted("words")
    (('year', '2021'), ('a = b', 'c'), None)
    """
    text = entry.strip()
    if text.startswith('"'):
        try:
            name, end = json.JSONDecoder().raw_decode(text)
        except ValueError:
            name, end = "", 0
        rest = text[end:].lstrip()
        if isinstance(name, str) and rest.startswith("="):
            return name, rest[1:].strip()
    name, mark, value = text.partition("=")
    return (name.strip(), value.strip()) if mark else None


def values_by_label(entries: Sequence[str]) -> dict[str, list[str]]:
    """The values that entries name of each label, in their order.

    >>> values_by_label(["crop = bean", "year=2021", "crop = pea"])
    {'crop': ['bean', 'pea'], 'year': ['2021']}
    """
    found: dict[str, list[str]] = {}
    for name, value in filter(None, map(parted, entries)):
        found.setdefault(name, []).append(value)
    return found


def entries_but(entries: Sequence[str], names: Collection[str]) -> list[str]:
    """The entries that are of none of these labels, as they are written.

    >>> entries_but(["crop = bean", "year=2021"], ["crop"])
    ['year=2021']
    """
    return [entry for entry in entries if (parted(entry) or ("", ""))[0] not in names]
