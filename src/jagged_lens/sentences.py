# SPDX-License-Identifier: GPL-3.0-or-later
"""Settings said in sentences: a template with the keys of settings in braces, filled with their values in words."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from jagged_lens.line_lists import shown_list
from jagged_lens.setting import Declared

_KEY = re.compile(r"\{([a-z-]+)\}")
_OPTIONAL = re.compile(r"\[([^\]]*)\]")
_BRACKETS = re.compile(r"([^\[\]]+)|\[([^\]]*)\]")
_MOST = 3


@dataclass(frozen=True)
class Piece:
    """A stretch of words of a sentence, or the key of a setting that stands there. option: keys without which it is not said."""

    words: str = ""
    key: str = ""
    option: tuple[str, ...] = ()


def pieces_of(template: str) -> list[Piece]:
    """A sentence in pieces. What stands in square brackets is said only where the settings in it count.

    >>> [(piece.words or piece.key, piece.option) for piece in pieces_of("Taken are {sample}[, by seed {seed}].")]
    [('Taken are', ()), ('sample', ()), (', by seed', ('seed',)), ('seed', ('seed',)), ('.', ())]
    """
    found = []
    for outside, inside in _BRACKETS.findall(template):
        option = tuple(_KEY.findall(inside))
        for at, piece in enumerate(_KEY.split(outside or inside)):
            if at % 2:
                found.append(Piece("", piece, option))
            elif piece.strip():
                found.append(Piece(piece.strip(), "", option))
    return found


def value_words(setting: Declared, value: object) -> str:
    """The value of a setting as a sentence says it.

    A list names its first entries, or how many it has.
    """
    if isinstance(value, list):
        value = tuple(value)
    if setting.is_list and value:
        assert isinstance(value, tuple)
        words = [setting.said.get(entry, shown_list(str(entry))) for entry in value]
        return (
            ", ".join(words) if len(words) <= _MOST or setting.choices else f"{words[0]}, {words[1]} … ({len(words)})"
        )
    if value in setting.said:
        return setting.said[value]
    if setting.is_range and isinstance(value, tuple):
        return " to ".join(map(str, dict.fromkeys(value)))
    if isinstance(value, float):
        return (
            f"{100 * value:g}%" if setting.is_share or (0 < value < 1 and setting.unit == "documents") else f"{value:g}"
        )
    return f"{value:,}" if isinstance(value, int) else shown_list(str(value))


def said(sentences: Sequence[str], settings: object, declared: Mapping[str, Declared]) -> list[str]:
    """The settings of a step as sentences. A setting that does not count under the others leaves its sentence out, if it stands alone there."""
    lines = []
    for template in sentences:
        if any(declared[key].counts_in(settings) for key in _KEY.findall(template)):
            lines.append(_sentence(template, settings, declared))
    return lines


def _sentence(template: str, settings: object, declared: Mapping[str, Declared]) -> str:
    def option(match: re.Match[str]) -> str:
        return match[1] if all(declared[key].counts_in(settings) for key in _KEY.findall(match[1])) else ""

    def value(match: re.Match[str]) -> str:
        setting = declared[match[1]]
        return value_words(setting, getattr(settings, setting.name))

    return _KEY.sub(value, _OPTIONAL.sub(option, template))


def amount(number: float, one: str, many: str = "") -> str:
    """A number with its noun.

    >>> amount(1, "document"), amount(12500, "document"), amount(2, "family", "families")
    ('1 document', '12,500 documents', '2 families')
    """
    return f"{number:,} {one if number == 1 else many or one + 's'}"
