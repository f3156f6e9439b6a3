# SPDX-License-Identifier: GPL-3.0-or-later

from __future__ import annotations

import csv
from pathlib import Path

import pytest

from jagged_lens.errors import SourceError
from jagged_lens.terms import read_terms, write_terms


@pytest.mark.parametrize("name", ["a.txt", "a.csv"])
def test_a_list_comes_back_as_it_was(tmp_path: Path, name: str) -> None:
    terms = ["slug", "late frost", "=sum", "Été"]
    write_terms(tmp_path / name, terms, [4, 3, 2, 1])
    assert read_terms(name, tmp_path) == tuple(terms)
    if name.endswith("csv"):
        assert "'=sum" in (tmp_path / name).read_text("utf-8")


def test_the_terms_of_a_run_are_a_list(tmp_path: Path) -> None:
    (tmp_path / "terms.csv").write_text("term,times,kept\nslug,9,yes\nrare,1,no\nslug,9,yes\n")
    assert read_terms("terms.csv", tmp_path) == ("slug",)
    (tmp_path / "plain.txt").write_text("# mine\nslug\n\nfrost # cold\n")
    assert read_terms("plain.txt", tmp_path) == ("slug", "frost")


def test_lines_of_a_list_end_in_any_way(tmp_path: Path) -> None:
    for end in (b"\n", b"\r\n", b"\r"):
        (tmp_path / "a.csv").write_bytes(end.join([b"term,kept", b"slug,yes", b"bean,no", b'"late frost",yes', b""]))
        assert read_terms("a.csv", tmp_path) == ("slug", "late frost")


def test_a_line_that_no_table_has_is_said(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text("term\nslug\n" + "x" * 2_000)
    most = csv.field_size_limit(1_000)
    try:
        with pytest.raises(SourceError, match="line 3 of the list is not valid CSV"):
            read_terms("a.csv", tmp_path)
    finally:
        csv.field_size_limit(most)


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("a.csv", "word\nslug\n", 'no column "term"'),
        ("a.txt", "# none\n", "no terms"),
        ("a.txt", None, "cannot be read"),
    ],
)
def test_what_is_no_list_is_said(tmp_path: Path, name: str, content: str | None, words: str) -> None:
    if content is not None:
        (tmp_path / name).write_text(content)
    with pytest.raises(SourceError, match=words):
        read_terms(name, tmp_path)
