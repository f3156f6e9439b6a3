# SPDX-License-Identifier: GPL-3.0-or-later
"""A good citizen of the desktop: entry, icon, AppStream file and MIME type, put in place for one user."""

from __future__ import annotations

import shutil
import subprocess
import sys
from importlib import resources
from pathlib import Path

ID = "example.larkmoor.JaggedLens"
"""By which desktops and software centres know the program: a reversed domain, here one that is kept for examples (RFC 2606)."""

_NAME = "jagged-lens"
_PLACES = {
    f"{ID}.desktop": "applications",
    f"{_NAME}.svg": "icons/hicolor/scalable/apps",
    f"{_NAME}-48.png": "icons/hicolor/48x48/apps",
    f"{_NAME}-256.png": "icons/hicolor/256x256/apps",
    f"{ID}.metainfo.xml": "metainfo",
    f"{_NAME}.xml": "mime/packages",
}
"""Where each file goes below the data folder (XDG base directory, icon theme and shared MIME specifications)."""

_BEFORE = {f"{_NAME}.desktop": "applications", f"{_NAME}.metainfo.xml": "metainfo"}
"""The files of versions up to 0.2: a second entry in the menu."""


def icon_file(name: str = f"{_NAME}.svg") -> Path:
    """The icon that ships."""
    return Path(str(resources.files("jagged_lens.linux").joinpath(name)))


def install(data: Path, command: str | None = None) -> list[Path]:
    """Put the files below a data folder ($XDG_DATA_HOME); the entry starts `command`, by default the one that runs now.

    Gives the files written. What knows of new entries is told, where it is installed.
    """
    for name, place in _BEFORE.items():
        (data / place / name).unlink(missing_ok=True)
    command = command or shutil.which(_NAME) or str(Path(sys.argv[0]).absolute())
    written = []
    for name, place in _PLACES.items():
        target = data / place / (f"{_NAME}.png" if name.endswith(".png") else name)
        target.parent.mkdir(parents=True, exist_ok=True)
        content = icon_file(name).read_bytes()
        if name.endswith(".desktop"):
            quoted = command.replace("\\", "\\\\").replace('"', '\\"')
            content = content.replace(b"Exec=jagged-lens", f'Exec="{quoted}"'.encode())
        target.write_bytes(content)
        written.append(target)
    for tool, folder in (("update-desktop-database", "applications"), ("update-mime-database", "mime")):
        if shutil.which(tool):
            subprocess.run([tool, str(data / folder)], check=False, capture_output=True)
    return written
