# SPDX-License-Identifier: GPL-3.0-or-later
"""The text of About: the version, and the licence of everything that is used."""

from __future__ import annotations

import importlib.metadata
import platform
import re
from typing import Any

from jagged_lens import __version__

_USED = tuple(
    re.split(r"[^\w.-]", wanted)[0]
    for wanted in importlib.metadata.requires("jagged-lens") or ()
    if "extra ==" not in wanted
)
"""The packages that the project requires."""


def about_text() -> tuple[str, str]:
    """The words, and the list of licences."""
    text = (
        f"Jagged Lens {__version__}\n\nWeighted n-gram vector spaces of documents: compared, grouped, mapped and "
        "read.\n\nFree software under the GNU General Public License, version 3 or later. It comes without any "
        f"warranty.\nPython {platform.python_version()}. The details list the licences of its components."
    )
    return text, "\n".join(_licence(name) for name in _USED)


def _licence(name: str) -> str:
    try:
        about: Any = importlib.metadata.metadata(name)
    except importlib.metadata.PackageNotFoundError:
        return f"{name}: not installed"
    kinds = [line.split(" :: ")[-1] for line in about.get_all("Classifier") or [] if line.startswith("License")]
    said = (
        about.get("License-Expression")
        or ", ".join(kinds)
        or (about.get("License") or "see its own files").splitlines()[0]
    )
    return f"{name} {about['Version']}: {said}"
