# SPDX-License-Identifier: GPL-3.0-or-later

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st

from jagged_lens.cli import main
from jagged_lens.explain import term_marks
from jagged_lens.strings import Strings
from jagged_lens.terms import TermSettings
from jagged_lens.terms.hashing import column_names, hashed_columns

TEXTS = ["slugs took the first sowing", "late frost took the peas", "slugs and frost and slugs", "no rain at all"]


def by_hand(term: str, columns: int) -> int:
    """The formula as it is written down, in whole numbers."""
    h = sum((byte + 1) * pow(0x100000001B3, at, 2**64) for at, byte in enumerate(term.encode())) % 2**64
    for shift, factor in ((30, 0xBF58476D1CE4E5B9), (27, 0x94D049BB133111EB)):
        h = ((h ^ (h >> shift)) * factor) % 2**64
    return (h ^ (h >> 31)) % columns


@given(st.lists(st.text(max_size=12), max_size=12), st.integers(1, 1000))
def test_a_column_depends_on_the_term_alone(terms: list[str], columns: int) -> None:
    packed = Strings.of(terms)
    assert hashed_columns(packed, columns).tolist() == [by_hand(term, columns) for term in packed]


def test_columns_are_filled_evenly() -> None:
    filled = np.bincount(hashed_columns(Strings.of(f"term {number}" for number in range(20_000)), 100), minlength=100)
    assert filled.min() > 120
    assert filled.max() < 290  # 200 on average; six standard deviations on either side


def test_names_say_what_fell_in() -> None:
    names = column_names(Strings.of(["a", "b", "c", "d", "e"]), np.array([0, 1, 0, 0, 0]), 2)
    assert list(names) == ["a | c | d | +1", "b"]


def test_counts_of_terms_that_share_a_column_are_added(chain: Callable[..., dict[str, Any]]) -> None:
    rules = {"clean": {"stop-words": []}, "terms": {"least-documents": 1, "most-share": 1.0, "words": [1, 2]}}
    plain = chain(TEXTS, **rules)["terms"]
    rules["terms"]["columns"] = 6
    hashed = chain(TEXTS, **rules)["terms"]
    assert hashed.counts.shape[1] <= 6
    assert hashed.counts.sum() == plain.counts.sum()
    for row in range(len(TEXTS)):
        expected: Counter[int] = Counter()
        counts = plain.counts[[row]].toarray()[0]
        for at in np.flatnonzero(counts):
            expected[int(hashed.column[plain.kept[at]])] += int(counts[at])
        own = hashed.counts[[row]].toarray()[0]
        assert {int(at): int(own[at]) for at in np.flatnonzero(own)} == dict(expected)
    members = hashed.columns_of(np.arange(hashed.counts.shape[1]))
    assert set(members) == set(plain.terms)
    assert (np.diff(hashed.kept) > 0).all()


def test_marks_and_files_speak_of_the_terms_in_a_column(chain: Callable[..., dict[str, Any]], tmp_path: Path) -> None:
    rules = {
        "clean": {"stop-words": []},
        "terms": {"least-documents": 1, "most-share": 1.0, "words": [1, 1], "columns": 3},
    }
    results = chain(TEXTS, **rules)
    marks = term_marks(results["tokens"], results["terms"], TermSettings(words=(1, 1)), 0)
    assert len(marks.column) == len(TEXTS[0].split())
    (tmp_path / "r.toml").write_text(
        "[gather]\nfrom = '.'\n[clean]\nstop-words = []\n[terms]\nwords = [1, 1]\nleast-documents = 1\nmost-share = 1.0\ncolumns = 3\n"
    )
    done = CliRunner().invoke(main, ["run", str(tmp_path / "r.toml"), "--out", str(tmp_path / "out")])
    assert done.exit_code == 0, done.output
    lines = (tmp_path / "out" / "columns.csv").read_text().splitlines()
    assert lines[0] == "column,term,times"
    assert len(lines) - 1 == len(results["terms"].columns_of(np.arange(3)))
    assert (tmp_path / "out" / "counts.mtx").read_text().splitlines()[-1].split()[1] in ("1", "2", "3")
