# SPDX-License-Identifier: GPL-3.0-or-later

from __future__ import annotations

from pathlib import Path

import pytest

from gather import made_files as made
from jagged_lens.errors import SourceError
from jagged_lens.gather import Corpus, Means, Source, read_source
from jagged_lens.gather.readers import Options, Piece, Unreadable, read_bytes
from jagged_lens.gather.readers.mail import without_replies
from jagged_lens.gather.readers.page_lines import Line, in_order

TEXT = made.SAID.format(7)


def read(folder: Path, **settings: object) -> Corpus:
    return read_source(Source(file=str(folder), **settings), Means(Path("/"), 2))


def pieces(name: str, data: bytes, **options: str) -> list[Piece]:
    return [one for one in read_bytes(name, data, Options(**options)) if isinstance(one, Piece)]


@pytest.mark.parametrize(
    ("name", "data", "text", "title"),
    [
        ("a.txt", TEXT.encode(), TEXT, ""),
        ("a.md", made.MARKDOWN, "Beans\n\nThe beans failed.\n\na\n\nb\n\n1\n\n2", "Beans"),
        ("a.html", made.HTML, "Leeks stood & froze.", "Leeks"),
        ("a.eml", made.mail_bytes(TEXT), TEXT, "A return note"),
        ("a.eml", made.mail_bytes(TEXT, html=True), TEXT, "A return note"),
        (
            "a.pdf",
            made.pdf_bytes(TEXT, "It rained on the gar-", "den of the moor."),
            f"{TEXT}\nIt rained on the garden of the moor.",
            "",
        ),
        ("a.docx", made.docx_bytes(TEXT), f"A return note\n\n{TEXT}\n\nin a table", ""),
        ("a.odt", made.odt_bytes(TEXT), f"A return note\n\n{TEXT}", ""),
        ("a.rtf", made.RTF, "The café on the moor was shut.\n\nIt rained.", ""),
    ],
)
def test_each_kind_is_read_back_as_it_was_written(name: str, data: bytes, text: str, title: str) -> None:
    (piece,) = pieces(name, data)
    assert "\n".join(line.rstrip() for line in piece.text.splitlines()) == text
    assert piece.title == title


def test_what_a_file_holds_counts_more_than_its_name() -> None:
    assert "rained" in pieces("a.txt", made.RTF)[0].text
    assert TEXT in pieces("note.pdf", made.docx_bytes(TEXT))[0].text
    assert TEXT in pieces("note.zip", made.docx_bytes(TEXT))[0].text
    assert pieces("page.txt", made.HTML)[0].title == "Leeks"
    said = [one for one in read_bytes("a.txt", made.pdf_bytes(TEXT), Options()) if isinstance(one, str)]
    assert said == ["is actually PDF, and was read as such."]


@pytest.mark.parametrize(
    ("name", "data", "reason"),
    [
        ("a.pdf", b"", "empty"),
        ("a.pdf", made.pdf_bytes(TEXT)[:300], "damaged"),
        ("a.pdf", made.pdf_bytes(TEXT, password="secret"), "protected by a password"),
        ("a.pdf", made.pdf_bytes(picture=True), "only page images"),
        ("a.docx", made.docx_bytes(TEXT)[:900], "damaged or cut off"),
        ("a.docx", b"\xd0\xcf\x11\xe0" + b"\0" * 600, "protected by a password or in an older format"),
        ("a.odt", made.zip_bytes({"content.xml": b"<nothing"}), "damaged"),
        ("a.rtf", b"no rtf", "not an RTF"),
        ("a.eml", b"\n\nno head", "no head"),
        ("a.mbox", b"no messages", "not a mailbox"),
        ("a.zip", b"PK\x03\x04 cut", "damaged or cut off"),
        ("a.txt", bytes(range(256)) * 20, "does not contain text"),
        ("a.txt", b"\x89PNG\r\n\x1a\n", "a picture"),
        ("a.txt", b"SQLite format 3\0" + b"\0" * 100, "database"),
        ("a.xyz", b"words", 'ending in ".xyz"'),
    ],
)
def test_what_gives_no_text_has_a_reason(name: str, data: bytes, reason: str) -> None:
    with pytest.raises(Unreadable, match=reason):
        list(read_bytes(name, data, Options()))


def test_mailboxes_and_archives_give_a_document_each(tmp_path: Path) -> None:
    (tmp_path / "a.mbox").write_bytes(made.mbox_bytes("first\n>From the moor", "second"))
    members = {
        "in/one.txt": b"one",
        "two.html": made.HTML,
        "pic.png": b"\x89PNG",
        "inner.zip": b"PK",
        "bad.pdf": b"%PDF-",
    }
    (tmp_path / "b.zip").write_bytes(made.zip_bytes(members))
    corpus = read(tmp_path)
    assert list(corpus.keys) == ["a.mbox/1", "a.mbox/2", "b.zip/in/one.txt", "b.zip/two.html"]
    assert corpus.texts[0] == "first\nFrom the moor"
    assert corpus.date(1) == "2021-05-03"
    assert {(one.name, one.reason) for one in corpus.unread} == {
        ("b.zip/bad.pdf", "it is damaged"),
        ("b.zip/inner.zip", "archives inside archives are not opened"),
    }
    assert any("attachments of 2 messages" in notice for notice in corpus.notices)
    assert any("one file of another kind" in notice for notice in corpus.notices)


def test_an_archive_with_a_password_is_listed_file_by_file(tmp_path: Path) -> None:
    (tmp_path / "a.zip").write_bytes(made.zip_bytes({"a.txt": b"words"}, password_flag=True))
    with pytest.raises(SourceError, match="protected by a password"):
        read(tmp_path)


def test_quoted_replies_are_left_out_by_choice() -> None:
    text = "It came early.\n\nOn Sunday plot 4\nwrote:\n> did it come?\n> yes\n\nThe rest stood.\n\n----- Original Message -----\nold\n"
    assert without_replies(text) == "It came early.\n\nThe rest stood."
    mail = made.mail_bytes(text)
    assert "did it come" in pieces("a.eml", mail)[0].text
    assert "did it come" not in pieces("a.eml", mail, replies="drop")[0].text


def test_two_columns_are_read_one_after_the_other() -> None:
    lines = [f"left {number}" for number in range(5)] + [f"right {number}" for number in range(5)]
    (piece,) = pieces("a.pdf", made.pdf_bytes(*lines, columns=True))
    assert piece.text.split() == " ".join(lines).split()
    shuffled = [Line(60.0 if at < 5 else 330.0, 700.0 - 18 * (at % 5), 12, line) for at, line in enumerate(lines)]
    assert [line.text for line in in_order(shuffled[::-1], 595)] == lines


def test_a_page_is_read_without_what_stands_around_its_text() -> None:
    page = (
        b"<body><header>site</header><main><article><header><h1>Title</h1></header>one<br>two<p>a <b>b</b>c</p>"
        b"<pre>x\n  y</pre></article></main><aside>ad</aside><form>no</form><p hidden>z</p></body>"
    )
    (piece,) = pieces("a.html", page)
    assert piece.text == "Title\n\none\ntwo\n\na bc\n\nx\ny\n\nz"
    assert piece.title == "Title"
    assert pieces("a.html", "<meta charset=cp1252><p>caf\xe9</p>".encode("cp1252"))[0].text == "café"
    assert pieces("a.html", b"")[0].text == ""
    deep = b"<div>" * 20_000 + b"deep" + b"</div>" * 20_000
    assert pieces("a.html", deep)[0].text in ("deep", "")


def test_a_text_is_cut_into_many_documents(tmp_path: Path) -> None:
    (tmp_path / "all.txt").write_text("Beans failed.\nAll.\n***\nLeeks stood.\n\nFor long.\n***\n\n***\nEnd")
    keys = lambda **settings: list(read(tmp_path / "all.txt", **settings).keys)  # noqa: E731
    assert list(read(tmp_path / "all.txt", cut="at", cut_at="***").texts) == [
        "Beans failed.\nAll.",
        "Leeks stood.\n\nFor long.",
        "End",
    ]
    assert keys(cut="line")[:2] == ["all.txt#1", "all.txt#2"]
    assert len(keys(cut="blank-line")) == 3
    assert len(keys(cut="at", cut_at=r"/^\*+$/")) == 3
    assert read(tmp_path / "all.txt", cut="at", cut_at="***").titles[1] == "Leeks stood."


def test_parts_of_the_path_become_labels(tmp_path: Path) -> None:
    for name in ("2021/north/plot-7.txt", "2022/south/plot-9.txt", "loose.txt"):
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text(name)
    corpus = read(tmp_path, path_labels=("year", "", "plot"), labelled=("kind = note",))
    labels = {label.name: [label.value(row) for row in range(len(corpus))] for label in corpus.labels}
    assert labels == {"kind": ["note"] * 3, "year": ["2021", "2022", ""], "plot": ["plot-7", "plot-9", ""]}


def test_the_only_file_of_a_source_that_stands_too_high_gives_no_label_of_a_folder(tmp_path: Path) -> None:
    (tmp_path / "loose.txt").write_text("words")
    labels = {label.name: label.value(0) for label in read(tmp_path, path_labels=("year", "plot")).labels}
    assert not any(labels.values())
    assert read(tmp_path, path_labels=("plot",)).labels[0].value(0) == "loose"


def test_encodings_are_overruled(tmp_path: Path) -> None:
    (tmp_path / "a.txt").write_bytes("Йорк".encode("cp1251"))
    assert read(tmp_path, encoding="cp1251").texts[0] == "Йорк"
    with pytest.raises(SourceError, match='no text encoding "utf-9"'):
        read(tmp_path / "a.txt", encoding="utf-9")
