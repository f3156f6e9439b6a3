# SPDX-License-Identifier: GPL-3.0-or-later
"""python -m jagged_lens and the command jagged-lens: what goes wrong before the libraries are there is said in a sentence, too."""

from __future__ import annotations

import os
import resource
import signal
import sys
from types import FrameType

_LEAST = 700_000_000  # bytes of address space; below them the libraries end in ways of their own


def main() -> None:
    """The command line."""
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, _leave)
    allowed = resource.getrlimit(resource.RLIMIT_AS)[0]
    if allowed not in (resource.RLIM_INFINITY, -1) and allowed < _LEAST:
        sys.exit(
            f"jagged-lens: not enough memory: it may use {allowed / 1e6:,.0f} MB and needs at least {_LEAST / 1e6:,.0f} MB. "
            "Raise the limit (ulimit -v)."
        )
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # we hold it to one thread, each of which takes memory
    try:
        from jagged_lens.cli import main as command
    except (ImportError, MemoryError, OSError) as error:
        words = " ".join(str(error).split()) or "there is not enough memory"
        sys.exit(f"jagged-lens: it cannot start: {words}. If memory is limited, allow at least 700 MB.")
    command()


def _leave(number: int, frame: FrameType | None) -> None:
    """End at once: whoever has something to save takes the signal over."""
    os.write(2, b"jagged-lens: stopped\n")
    os._exit(128 + number)


if __name__ == "__main__":
    main()
