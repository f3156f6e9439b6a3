# SPDX-License-Identifier: GPL-3.0-or-later

from pathlib import Path

import pytest

from jagged_lens.errors import SourceError
from jagged_lens.gather import GatherSettings, gather


def csv(folder: Path, content: str | bytes, name: str = "notes.csv") -> Path:
    (folder / name).write_bytes(content.encode() if isinstance(content, str) else content)
    return folder


def test_rows_become_documents_with_keys_titles_and_labels(tmp_path: Path) -> None:
    csv(tmp_path, 'id,title,note,crop\nA,First,"Slugs, again.\nAll of them.",bean\nB,,Frost,\n')
    corpus = gather(GatherSettings(from_="notes.csv", key="id", text=("note",), labels=("crop",)), tmp_path)
    assert list(corpus.keys) == ["A", "B"]
    assert list(corpus.texts) == ["Slugs, again.\nAll of them.", "Frost"]
    assert list(corpus.titles) == ["First", "Frost"]
    assert [corpus.labels[0].value(row) for row in range(2)] == ["bean", ""]


def test_what_is_left_out_is_guessed(tmp_path: Path) -> None:
    csv(tmp_path, "plot;note;year\n12;the slugs took the first sowing;3\n14;no rain at all;4\n")
    corpus = gather(GatherSettings(from_="notes.csv"), tmp_path)
    assert list(corpus.keys) == ["notes.csv#1", "notes.csv#2"]
    assert corpus.texts[0] == "the slugs took the first sowing"


def test_several_text_columns_are_joined_by_a_blank_line(tmp_path: Path) -> None:
    csv(tmp_path, "a,b\none,two\n,three\n")
    corpus = gather(GatherSettings(from_="notes.csv", text=("a", "b")), tmp_path)
    assert list(corpus.texts) == ["one\n\ntwo", "three"]


@pytest.mark.parametrize(
    ("encoding", "said"), [("utf-8", False), ("utf-8-sig", False), ("utf-16", True), ("cp1252", True)]
)
def test_encodings_are_found_and_said(tmp_path: Path, encoding: str, said: bool) -> None:
    text = "note\n" + "The crème brûlée squash façade, naïve café garçon, déjà vu près du château.\n" * 6
    csv(tmp_path, text.encode(encoding))
    corpus = gather(GatherSettings(from_="notes.csv"), tmp_path)
    assert "crème brûlée" in corpus.texts[0]
    assert any("was read as" in notice for notice in corpus.notices) == said


def test_text_is_composed_and_line_ends_are_one(tmp_path: Path) -> None:
    (tmp_path / "a.txt").write_bytes("Cafe\u0301\r\nz\rx\0y".encode())
    corpus = gather(GatherSettings(from_="a.txt"), tmp_path)
    assert corpus.texts[0] == "Café\nz\nx\ufffdy"


def test_a_folder_gives_its_text_files_by_path(tmp_path: Path) -> None:
    for name in ("b.txt", "sub/a.TXT", "sub/skip.png", ".hidden.txt"):
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text(name)
    corpus = gather(GatherSettings(from_=str(tmp_path)), Path("/"))
    assert list(corpus.keys) == ["b.txt", "sub/a.TXT"]
    assert list(gather(GatherSettings(from_="**/*.TXT"), tmp_path).keys) == ["sub/a.TXT"]


def test_ragged_rows_are_kept_and_said(tmp_path: Path) -> None:
    csv(tmp_path, "note,crop\nslugs\nfrost,bean,more\n")
    corpus = gather(GatherSettings(from_="notes.csv", text=("note",), labels=("crop",)), tmp_path)
    assert [corpus.labels[0].value(row) for row in range(2)] == ["", "bean"]
    assert "2 of 2 rows" in corpus.notices[0]


def test_one_huge_field_is_read_whole(tmp_path: Path) -> None:
    csv(tmp_path, "note\n" + "slug " * 400_000 + "\n")
    assert len(gather(GatherSettings(from_="notes.csv"), tmp_path).texts[0]) == 1_999_999 + 1


@pytest.mark.parametrize(
    ("content", "settings", "words"),
    [
        ("id,note\nA,x\nA,y\n", {"key": "id"}, ['the key "A"', "1 and 2"]),
        ("id,note\n,x\n", {"key": "id", "text": ("note",)}, ["row 1 has no key"]),
        ("id,note\nA,x\n", {"text": ("notes",)}, ['no column "notes"', 'Did you mean "note"?']),
        ("id,note\nA,x\n", {"labels": ("crop",)}, ['no column "crop"', "id, note"]),
        ("", {}, ["the file is empty"]),
        ("note\n", {}, ["no documents"]),
    ],
)
def test_a_wrong_table_is_named_with_its_remedy(tmp_path: Path, content: str, settings: dict, words: list[str]) -> None:
    csv(tmp_path, content)
    with pytest.raises(SourceError) as caught:
        gather(GatherSettings(from_="notes.csv", **settings), tmp_path)
    for word in ["notes.csv", *words]:
        assert word in str(caught.value)


@pytest.mark.parametrize(
    ("name", "words"), [("gone.csv", "no such file"), ("*.tsv", "no file matches"), ("", "no source")]
)
def test_a_missing_source_is_said(tmp_path: Path, name: str, words: str) -> None:
    with pytest.raises(SourceError, match=words):
        gather(GatherSettings(from_=name), tmp_path)


def test_files_of_another_kind_are_refused_by_ending(tmp_path: Path) -> None:
    (tmp_path / "a.weird").write_bytes(b"some words")
    with pytest.raises(SourceError, match=r'ending in "\.weird"'):
        gather(GatherSettings(from_="a.weird"), tmp_path)
