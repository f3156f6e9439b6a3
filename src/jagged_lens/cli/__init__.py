# SPDX-License-Identifier: GPL-3.0-or-later
"""The command line."""

from jagged_lens.cli.commands import main

__all__ = ["main"]
