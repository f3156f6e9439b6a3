# SPDX-License-Identifier: GPL-3.0-or-later
"""The Larkmoor Seed Library: an invented lending library for seeds, whose borrowers send a return note for every variety."""

from pathlib import Path

_FOLDER = Path(__file__).parent / "larkmoor"


def demo_recipe() -> Path:
    """The recipe that the demo opens with; its notes lie beside it."""
    return _FOLDER / "larkmoor.toml"
