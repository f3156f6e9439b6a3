# SPDX-License-Identifier: GPL-3.0-or-later
"""Text cells of CSV that no spreadsheet takes for a formula, and back."""

from __future__ import annotations

import re

_RISKY = re.compile(r"'*[=+\-@\t\r\n]")


def guarded(text: str) -> str:
    """A text cell that no spreadsheet takes for a formula: an apostrophe stands before one that begins like a formula, or like one
    so guarded, so that no two texts become one.

    >>> guarded("=cmd()"), guarded("'=cmd()"), guarded("slugs"), guarded("'tis")
    ("'=cmd()", "''=cmd()", 'slugs', "'tis")
    """
    return f"'{text}" if _RISKY.match(text) else text


def is_number(cell: str) -> bool:
    """True if a cell is a number as it is shown: with commas between thousands, either minus, or as a percentage.

    >>> is_number("1,204"), is_number("\N{MINUS SIGN}3%"), is_number("3 of 4"), is_number("")
    (True, True, False, False)
    """
    try:
        float(cell.replace(",", "").replace("\N{MINUS SIGN}", "-").removesuffix("%"))
    except ValueError:
        return False
    return True


def unguarded(cell: str) -> str:
    """The text that `guarded` made a cell of.

    >>> unguarded("'=cmd()"), unguarded("''=cmd()"), unguarded("'tis")
    ('=cmd()', "'=cmd()", "'tis")
    """
    return cell[1:] if cell.startswith("'") and _RISKY.match(cell) else cell
