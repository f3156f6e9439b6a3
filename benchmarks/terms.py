# SPDX-License-Identifier: GPL-3.0-or-later
"""Clean and Terms against their baselines, in a process of their own, in turn on the same made-up collection.

Clean (words, case, stop words, stems, spans kept): against tr | tr | sort | uniq -c in the C locale, which tells words apart
at blanks, lowers them and counts. Terms (1- to 3-grams to a sparse matrix): against our own Clean. A changed limit: Terms
alone, all else remembered.
"""

from __future__ import annotations

import csv
import os
import subprocess
import tempfile
from pathlib import Path

import numpy as np

from benchmarks.fresh import fresh, memory_of, side_by_side, timed
from benchmarks.synthetic import write
from jagged_lens.clean import CleanSettings, Tokens, clean
from jagged_lens.gather import GatherSettings, gather
from jagged_lens.parallel import steady_blas
from jagged_lens.terms import NgramCounts, TermCounts, TermSettings, count_ngrams, limit_terms

_ROUNDS = 5


def clean_and_terms(table: str, plain: str, longest: str) -> None:
    """Print median seconds of the pipe, Clean, Terms and a changed limit; tokens, different n-grams; megabytes that each needs."""
    corpus = gather(GatherSettings(from_=table, text=("note",)), Path("/"))
    settings, words = CleanSettings(), (1, int(longest))
    rows = np.arange(len(corpus), dtype=np.int32)

    def cleaned() -> Tokens:
        return clean(corpus, settings, Path("/"))

    def counted() -> NgramCounts:
        ngrams = count_ngrams(tokens, rows, words, False)
        limited(3, ngrams)
        return ngrams

    def limited(least: int, of: NgramCounts) -> TermCounts:
        return limit_terms(of, tokens, TermSettings(words=words, least_documents=least), settings)

    with steady_blas():
        of_clean, tokens = memory_of(cleaned)
        of_terms, ngrams = memory_of(counted)
        pipe, cleaning, counting = side_by_side(_ROUNDS, lambda: _pipe(Path(plain)), cleaned, counted)
        limiting = np.median([timed(lambda least=least: limited(least, ngrams))[0] for least in range(3, 10)])  # type: ignore[misc]
    print(pipe, cleaning, counting, limiting, len(tokens.form), len(ngrams.terms), of_clean, of_terms)


def _pipe(path: Path) -> None:
    pipe = f"tr -s '[:space:]' '\\n' < '{path}' | tr '[:upper:]' '[:lower:]' | sort | uniq -c > /dev/null"
    subprocess.run(["bash", "-c", pipe], check=True, env={**os.environ, "LC_ALL": "C"})


def main() -> None:
    with tempfile.TemporaryDirectory() as place:
        for documents, longest in ((60_000, 3), (20_000, 2)):
            table, plain = Path(place) / f"{documents}.csv", Path(place) / f"{documents}.txt"
            write(table, documents, 60)
            with table.open(encoding="utf-8", newline="") as file:
                plain.write_text("\n".join(row[0] for row in csv.reader(file)), "utf-8")
            pipe, cleaning, counting, limiting, tokens, ngrams, of_clean, of_terms = fresh(
                clean_and_terms, table, plain, longest
            )
            print(
                f"{documents:,} documents of 60 words, {tokens:,.0f} tokens, {ngrams:,.0f} different 1–{longest}-grams:"
            )
            print(
                f"  Clean {cleaning:.2f} s, {pipe / cleaning:.2f} × as fast as the pipe ({pipe:.2f} s), {of_clean:,.0f} MB"
            )
            print(f"  Terms {counting:.2f} s, {counting / cleaning:.2f} × of Clean, {of_terms:,.0f} MB")
            print(f"  a changed limit {limiting * 1000:.0f} ms")


if __name__ == "__main__":
    main()
