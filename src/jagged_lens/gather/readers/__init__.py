# SPDX-License-Identifier: GPL-3.0-or-later
"""Readers of files that hold texts: one small file each, behind one registry.

A reader is a function from the bytes of a file to what is found in it, one thing after the other. To add one, write it
and name it in READERS.
"""

from jagged_lens.gather.readers.piece import Options, Piece, Reader, Unreadable
from jagged_lens.gather.readers.registry import ENDINGS, READERS, read_bytes, reader_for

__all__ = ["ENDINGS", "READERS", "Options", "Piece", "Reader", "Unreadable", "read_bytes", "reader_for"]
