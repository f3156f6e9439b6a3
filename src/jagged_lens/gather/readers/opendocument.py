# SPDX-License-Identifier: GPL-3.0-or-later
"""The content of a paragraph of an OpenDocument file (ISO/IEC 26300), in texts and in sheets."""

from __future__ import annotations

from typing import Any

_MOST_SPACES = 1_000


def plain_paragraph(element: Any) -> str:
    """The text of a paragraph. A run of spaces is written as a number, which may be of any size: it is kept within bounds."""
    from odf import teletype
    from odf.namespaces import TEXTNS
    from odf.text import S

    for spaces in element.getElementsByType(S):
        try:
            count = int(spaces.getAttrNS(TEXTNS, "c") or 1)
        except ValueError:
            count = 1
        if not 0 < count <= _MOST_SPACES:
            spaces.setAttrNS(TEXTNS, "c", str(_MOST_SPACES if count > 0 else 1))
    return str(teletype.extractText(element))
