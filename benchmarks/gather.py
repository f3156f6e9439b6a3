# SPDX-License-Identifier: GPL-3.0-or-later
"""Gather: many small files, one large table; seconds, and memory of a fresh process above what its imports take.

The baseline of each is the plainest reading of the same bytes with the standard library, run beside it: every file opened
and decoded, every row of the table parsed; nothing is kept of it.
"""

from __future__ import annotations

import csv
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from benchmarks.synthetic import write

_FILES = 20_000
_FILE_BYTES = 2_000
_TABLE_BYTES = 500_000_000
_MEASURED = """
import re, sys, time
from pathlib import Path
from jagged_lens.gather import Means, Source, read_source
if __name__ == "__main__":
    peak = lambda: int(re.search(r"VmHWM:\\s+(\\d+)", Path("/proc/self/status").read_text())[1])
    before = peak()
    begin = time.perf_counter()
    corpus = read_source(Source(file=sys.argv[1], text=tuple(sys.argv[2:])), Means(Path("/"), 2))
    seconds = time.perf_counter() - begin
    print(len(corpus), seconds, (peak() - before) / 1024)
"""


def measured(path: Path, *text: str) -> tuple[int, float, float]:
    """Documents, seconds and megabytes of reading a source in a process of its own."""
    done = subprocess.run([sys.executable, "-c", _MEASURED, path, *text], capture_output=True, text=True, check=True)
    documents, seconds, megabytes = done.stdout.split()
    return int(documents), float(seconds), float(megabytes)


def main() -> None:
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        write(folder / "some.csv", 2000, 200)
        with (folder / "some.csv").open(encoding="utf-8", newline="") as file:
            texts = [row[0] for row in csv.reader(file)][1:]
        (folder / "files").mkdir()
        for number in range(_FILES):
            text = texts[number % len(texts)].encode()[:_FILE_BYTES].decode("utf-8", "ignore")
            (folder / "files" / f"{number:05}.txt").write_text(text, "utf-8")
        begin = time.perf_counter()
        for path in sorted((folder / "files").iterdir()):
            path.read_text("utf-8")
        baseline = time.perf_counter() - begin
        documents, seconds, megabytes = measured(folder / "files")
        print(
            f"{documents:,} files of 2 kB: {seconds:.2f} s ({seconds / baseline:.1f} × opening them), {megabytes:.0f} MB"
        )

        size = 0
        with (folder / "large.csv").open("w", encoding="utf-8", newline="") as file:
            rows = csv.writer(file)
            rows.writerow(["id", "note"])
            number = 0
            while size < _TABLE_BYTES:
                text = texts[number % len(texts)]
                rows.writerow([f"N{number}", text])
                size += len(text.encode()) + 10
                number += 1
        begin = time.perf_counter()
        with (folder / "large.csv").open(encoding="utf-8", newline="") as file:
            for _ in csv.reader(file):
                pass
        baseline = time.perf_counter() - begin
        documents, seconds, megabytes = measured(folder / "large.csv", "note")
        print(
            f"a table of {size / 1e6:.0f} MB, {documents:,} rows: {seconds:.1f} s ({seconds / baseline:.1f} × parsing it), "
            f"{megabytes:.0f} MB"
        )


if __name__ == "__main__":
    main()
