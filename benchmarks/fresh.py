# SPDX-License-Identifier: GPL-3.0-or-later
"""A measurement in a process of its own, so that nothing computed before warms or burdens it, and its memory can be told."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

import numpy as np

Result = TypeVar("Result")


def fresh(measure: Callable[..., object], *arguments: object) -> list[float]:
    """The numbers that a function of a module, called with these arguments as strings, prints in a fresh process."""
    code = f"from {measure.__module__} import {measure.__name__}\nimport sys\nif __name__ == '__main__':\n    {measure.__name__}(*sys.argv[1:])"
    command = [sys.executable, "-c", code, *map(str, arguments)]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    if done.returncode:
        raise RuntimeError(done.stderr)
    return [float(number) for number in done.stdout.split()]


def timed(work: Callable[[], Result]) -> tuple[float, Result]:
    """How many seconds the work takes, and what it gives."""
    begin = time.perf_counter()
    result = work()
    return time.perf_counter() - begin, result


def side_by_side(rounds: int, *works: Callable[[], object]) -> list[float]:
    """Median seconds of several pieces of work, done in turn so that a busy moment of the machine meets all of them."""
    seconds = [[timed(work)[0] for work in works] for _ in range(rounds)]
    return [float(median) for median in np.median(np.array(seconds), axis=0)]


def memory_of(work: Callable[[], Result]) -> tuple[float, Result]:
    """How many megabytes more this process holds at most while it works than it held before; and what the work gives."""
    Path("/proc/self/clear_refs").write_text("5")  # the kernel forgets the highest mark
    before = _megabytes("VmRSS")
    result = work()
    return _megabytes("VmHWM") - before, result


def _megabytes(line: str) -> float:
    status = Path("/proc/self/status").read_text()
    return float(status.split(f"{line}:")[1].split()[0]) / 1024
