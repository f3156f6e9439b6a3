"""The command line."""

from jagged_lens.cli.commands import main

__all__ = ["main"]
