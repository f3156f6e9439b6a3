# SPDX-License-Identifier: GPL-3.0-or-later
"""Scripts: open a lens without a window and get its results as arrays. This face is stable; see docs/python.md."""

from jagged_lens.script.found import Arrived, Documents, Groups, Matrix, Nearest, Pairs, Points, Vectors
from jagged_lens.script.lens import Lens, open_lens

__all__ = [
    "Arrived",
    "Documents",
    "Groups",
    "Lens",
    "Matrix",
    "Nearest",
    "Pairs",
    "Points",
    "Vectors",
    "open_lens",
]
