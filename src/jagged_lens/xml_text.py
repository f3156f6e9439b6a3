# SPDX-License-Identifier: GPL-3.0-or-later
"""Text that XML can hold."""

from __future__ import annotations

import re

_NOT_XML = re.compile(r"[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")


def xml_text(text: str) -> str:
    r"""The text with the replacement character for each that XML 1.0 cannot hold.

    >>> xml_text("slug\x00s") == "slug\ufffds"
    True
    """
    return _NOT_XML.sub("\ufffd", text)
