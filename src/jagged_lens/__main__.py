"""python -m jagged_lens and the command jagged-lens: a word where not even the libraries can be loaded, then the command line."""

from __future__ import annotations

import sys


def main() -> None:
    """The command line."""
    try:
        from jagged_lens.cli import main as command
    except (ImportError, MemoryError, OSError) as error:
        words = " ".join(str(error).split()) or "there is not enough memory"
        sys.exit(
            f"jagged-lens: it cannot be started: {words}. Where memory is limited, it needs about 500 MB to begin."
        )
    command()


if __name__ == "__main__":
    main()
