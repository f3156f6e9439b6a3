"""Clean and Terms against their baselines, in processes of their own, one after the other on the same made-up collection.

Clean (words, case, stop words, stems, spans kept): against tr | tr | sort | uniq -c in the C locale, which tells words apart
at blanks, lowers them and counts. Terms (1- to 3-grams to a sparse matrix): against our own Clean. A changed limit: Terms
alone, all else remembered.
"""

from __future__ import annotations

import csv
import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from benchmarks.synthetic import write

_ROUNDS = 5
_MEASURED = """
import sys, time
from pathlib import Path
import numpy as np
from jagged_lens.clean import CleanSettings, clean
from jagged_lens.gather import GatherSettings, gather
from jagged_lens.parallel import steady_blas
from jagged_lens.terms import TermSettings, count_ngrams, limit_terms
if __name__ == "__main__":
    corpus = gather(GatherSettings(from_=sys.argv[1], text=("note",)), Path("/"))
    settings = CleanSettings()
    rows = np.arange(len(corpus), dtype=np.int32)
    cleaning, counting, limiting = [], [], []
    with steady_blas():
        for _ in range(int(sys.argv[2])):
            begin = time.perf_counter()
            tokens = clean(corpus, settings, Path("/"))
            cleaning.append(time.perf_counter() - begin)
            begin = time.perf_counter()
            ngrams = count_ngrams(tokens, rows, (1, int(sys.argv[3])), False)
            limit_terms(ngrams, tokens, TermSettings(words=(1, int(sys.argv[3]))), settings)
            counting.append(time.perf_counter() - begin)
        for least in range(3, 10):
            begin = time.perf_counter()
            limit_terms(ngrams, tokens, TermSettings(words=(1, int(sys.argv[3])), least_documents=least), settings)
            limiting.append(time.perf_counter() - begin)
    print(*(float(np.median(times)) for times in (cleaning, counting, limiting)), len(tokens.form), len(ngrams.terms))
"""


def measured(path: Path, longest: int) -> list[float]:
    """Median seconds of Clean, Terms and a changed limit; how many tokens and different n-grams there were."""
    command = [sys.executable, "-c", _MEASURED, str(path), str(_ROUNDS), str(longest)]
    done = subprocess.run(command, capture_output=True, text=True, check=True)
    return [float(number) for number in done.stdout.split()]


def counted_by_shell(path: Path) -> float:
    """Median seconds of the pipe that splits, lowers, sorts and counts words."""
    pipe = f"tr -s '[:space:]' '\\n' < '{path}' | tr '[:upper:]' '[:lower:]' | sort | uniq -c > /dev/null"
    seconds = []
    for _ in range(_ROUNDS):
        begin = time.perf_counter()
        subprocess.run(["bash", "-c", pipe], check=True, env={**os.environ, "LC_ALL": "C"})
        seconds.append(time.perf_counter() - begin)
    return float(np.median(seconds))


def main() -> None:
    with tempfile.TemporaryDirectory() as place:
        for documents, longest in ((60_000, 3), (20_000, 2)):
            table, plain = Path(place) / f"{documents}.csv", Path(place) / f"{documents}.txt"
            write(table, documents, 60)
            with table.open(encoding="utf-8", newline="") as file:
                plain.write_text("\n".join(row[0] for row in csv.reader(file)), "utf-8")
            baseline = counted_by_shell(plain)
            cleaning, counting, limiting, tokens, ngrams = measured(table, longest)
            print(
                f"{documents:,} documents of 60 words, {tokens:,.0f} tokens, {ngrams:,.0f} different 1–{longest}-grams:"
            )
            print(f"  Clean {cleaning:.2f} s, {baseline / cleaning:.2f} × as fast as the pipe ({baseline:.2f} s)")
            print(f"  Terms {counting:.2f} s, {counting / cleaning:.2f} × of Clean")
            print(f"  a changed limit {limiting * 1000:.0f} ms")


if __name__ == "__main__":
    main()
