# SPDX-License-Identifier: GPL-3.0-or-later
"""Files that are written take their places whole; lists come back as they went out; text cells stay apart."""

from __future__ import annotations

import os
import stat
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jagged_lens.line_lists import entries_in, text_of
from jagged_lens.named_file import open_plain, write_text, write_whole
from jagged_lens.terms.term_list import read_terms, write_terms
from jagged_lens.text_cells import guarded, unguarded

# An entry is one line without white space around it, as a field of the window gives it.
ENTRY = st.text(st.sampled_from(list("ab#\\/ '=,é")), min_size=1, max_size=12).map(str.strip).filter(bool)


@given(st.lists(ENTRY, max_size=8))
def test_a_list_is_read_back_as_it_was_written(entries: list[str]) -> None:
    assert entries_in(text_of(entries)) == entries


def test_comments_of_a_list_that_somebody_wrote_are_left_out() -> None:
    text = "# ours\r\nslug, snail # of one kind\n\n/plot #\\d+/ = plot\rc\\# # a language\n   \n"
    assert entries_in(text) == ["slug, snail", "/plot #\\d+/ = plot", "c#"]


@given(st.text(st.sampled_from(list("'=+-@ab\t")), max_size=6))
def test_a_guarded_cell_is_no_formula_and_comes_back(text: str) -> None:
    cell = guarded(text)
    assert not cell.startswith(("=", "+", "-", "@", "\t"))
    assert unguarded(cell) == text


@given(st.lists(st.text(st.sampled_from(list("'=1")), max_size=4), unique=True))
def test_no_two_texts_become_one_cell(texts: list[str]) -> None:
    assert len({guarded(text) for text in texts}) == len(texts)


@pytest.mark.parametrize("name", ["terms.txt", "terms.csv"])
def test_terms_with_signs_come_back_from_a_list_of_them(tmp_path: Path, name: str) -> None:
    terms = ["c#", "=1", "'=1", "slug # snail"]
    write_terms(tmp_path / name, terms, [1, 2, 3, 4])
    assert list(read_terms(name, tmp_path)) == terms


def test_what_was_there_stays_where_writing_fails(tmp_path: Path) -> None:
    path = tmp_path / "a.txt"
    path.write_text("the text of yesterday")

    def half(beside: Path) -> None:
        beside.write_text("half")
        raise OSError(28, "No space left on device")

    with pytest.raises(OSError, match="No space"):
        write_whole(path, half)
    assert path.read_text() == "the text of yesterday"
    assert [file.name for file in tmp_path.iterdir()] == ["a.txt"]


def test_a_file_keeps_its_rights_and_a_link_its_place(tmp_path: Path) -> None:
    (tmp_path / "real").mkdir()
    path = tmp_path / "real" / "a.txt"
    path.write_text("before")
    path.chmod(0o640)
    (tmp_path / "link.txt").symlink_to(path)
    write_whole(tmp_path / "link.txt", lambda beside: write_text(beside, "after \ud800"))
    assert path.read_text() == "after \\ud800"
    assert stat.S_IMODE(path.stat().st_mode) == 0o640
    assert (tmp_path / "link.txt").is_symlink()


def test_several_files_come_into_a_folder_together(tmp_path: Path) -> None:
    def both(folder: Path) -> None:
        write_text(folder / "a.csv", "1")
        write_text(folder / "b.csv", "2")

    write_whole(tmp_path, both)
    assert sorted(file.name for file in tmp_path.iterdir()) == ["a.csv", "b.csv"]

    def one_and_a_fault(folder: Path) -> None:
        write_text(folder / "a.csv", "3")
        raise OSError(5, "Input/output error")

    with pytest.raises(OSError, match="Input"):
        write_whole(tmp_path, one_and_a_fault)
    assert (tmp_path / "a.csv").read_text() == "1"


def test_a_file_and_what_is_written_beside_it_are_both_there(tmp_path: Path) -> None:
    def matrix(path: Path) -> None:
        write_text(path, "matrix")
        write_text(path.with_name(f"{path.stem}.rows.csv"), "rows")

    write_whole(tmp_path / "weights.mtx", matrix)
    assert sorted(file.name for file in tmp_path.iterdir()) == ["weights.mtx", "weights.rows.csv"]


def test_what_a_killed_program_left_half_written_goes_with_the_next_file(tmp_path: Path) -> None:
    (tmp_path / ".half-written-999999999-abc").mkdir()
    (tmp_path / ".half-written-999999999-abc" / "a.txt").write_text("half")
    mine = tmp_path / f".half-written-{os.getpid()}-abc"  # of a program that is still at it
    mine.mkdir()
    write_whole(tmp_path / "a.txt", lambda beside: write_text(beside, "whole"))
    assert sorted(file.name for file in tmp_path.iterdir()) == sorted([mine.name, "a.txt"])


@pytest.mark.timeout(20)
def test_a_pipe_is_not_opened(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe")
    with pytest.raises(OSError, match="not a regular file"):
        open_plain(tmp_path / "pipe")
    with pytest.raises(OSError, match="not a regular file"):
        open_plain(Path("/dev/zero"))
