# SPDX-License-Identifier: GPL-3.0-or-later
"""Tables, databases, archives and folders that were made to do harm or are badly broken: a clear word, in bounded time and
memory, and no text lost without a word."""

from __future__ import annotations

import io
import json
import os
import sqlite3
import warnings
import zipfile
from pathlib import Path

import pyarrow as pa
import pyarrow.parquet as pq
import pytest

from gather import made_files as made
from jagged_lens.errors import SourceError
from jagged_lens.gather import Corpus, Means, Preview, Source, files, preview, read_source
from jagged_lens.gather import apart as apart_module
from jagged_lens.gather.apart import File, read_apart
from jagged_lens.gather.corpus import Unread
from jagged_lens.gather.database import shown, split_password
from jagged_lens.gather.readers import Options, Piece, read_bytes
from jagged_lens.gather.tables import json_lines, separated
from jagged_lens.killable import EndedEarly, TookTooLong

preview_module = __import__("jagged_lens.gather.preview", fromlist=["preview"])
sources_module = __import__("jagged_lens.gather.sources", fromlist=["sources"])


def read(folder: Path, **settings: object) -> Corpus:
    return read_source(Source(**settings), Means(folder, 2))


def seen(folder: Path, **settings: object) -> Preview:
    return preview(Source(**settings), Means(folder, 2))


# Separated values and JSON Lines.


def test_a_quotation_mark_that_is_never_closed_swallows_nothing(tmp_path: Path) -> None:
    rows = "".join(f"{number},row number {number}\n" for number in range(3_000))
    (tmp_path / "a.csv").write_text(f'id,note\n1,"two\nlines"\n2,"open\n{rows}')
    corpus = read(tmp_path, file="a.csv", text=("note",))
    assert len(corpus) == 3_002
    assert corpus.texts[0] == "two\nlines"
    assert corpus.texts[3_001] == "row number 2999"
    assert corpus.notices[0] == (
        "a.csv: a quotation mark in line 4 is never closed; from there on, each line was read as one row."
    )


def test_a_last_row_in_quotation_marks_is_no_open_one(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text('id,note\n1,"two\nlines"')
    corpus = read(tmp_path, file="a.csv", text=("note",))
    assert list(corpus.texts) == ["two\nlines"]
    assert corpus.notices == ()


def test_nul_late_in_a_table_is_shown_as_what_cannot_be_read(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text("id,note\n" + "1,slugs took the beans\n" * 50_000 + "2,late\0frost\n")
    assert read(tmp_path, file="a.csv", text=("note",)).texts[50_000] == "late\ufffdfrost"


@pytest.mark.parametrize("same", [True, False])
def test_more_columns_than_anyone_can_look_at_are_refused(tmp_path: Path, same: bool) -> None:
    names = ",".join("c" if same else f"c{number}" for number in range(100_000))
    (tmp_path / "a.csv").write_text(names + "\n" + "x," * 99_999 + "y\n")
    for look in (read, seen):
        with pytest.raises(SourceError, match="100,000 columns; at most 16,384"):
            look(tmp_path, file="a.csv")


def test_cells_beyond_the_columns_are_passed_over(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text("id,note\n" + ("1,slugs" + "," * 300_000 + "\n") * 5)
    assert len(read(tmp_path, file="a.csv", text=("note",))) == 5
    assert {len(row) for row in seen(tmp_path, file="a.csv").rows} == {2}


def test_lines_that_are_too_long_are_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(separated, "MOST_CHARACTERS", 10_000)
    monkeypatch.setattr(json_lines, "MOST_CHARACTERS", 10_000)
    (tmp_path / "a.csv").write_text("id,note\n1," + "slug " * 5_000)
    with pytest.raises(SourceError, match="longer than"):
        read(tmp_path, file="a.csv")
    lines = ['{"note": "frost"}', json.dumps({"note": "slug " * 5_000}), '{"note": "peas"}']
    (tmp_path / "a.jsonl").write_text("\n".join(lines))
    corpus = read(tmp_path, file="a.jsonl")
    assert list(corpus.texts) == ["frost", "peas"]
    assert "1 lines are longer than" in corpus.notices[0]


def test_columns_that_come_late_are_read_where_they_are_named_and_else_said(tmp_path: Path) -> None:
    early = "".join(json.dumps({"a": f"note {number}"}) + "\n" for number in range(300))
    (tmp_path / "a.jsonl").write_text(early + '{"a": "x", "b": "late words"}\n')
    assert read(tmp_path, file="a.jsonl", text=("b",)).texts[300] == "late words"
    assert "1 columns first appear far down" in read(tmp_path, file="a.jsonl").notices[0]
    assert "b (object 301)" in read(tmp_path, file="a.jsonl").notices[0]
    with pytest.raises(SourceError, match='no column "z"'):
        read(tmp_path, file="a.jsonl", text=("z",))
    (tmp_path / "empty.jsonl").write_text("{}\n{}\n")
    with pytest.raises(SourceError, match="no columns"):
        read(tmp_path, file="empty.jsonl")


@pytest.mark.parametrize(
    "encoding", ["idna", "punycode", "base64", "rot13", "undefined", "unicode_escape", "a\0b", "x"]
)
@pytest.mark.parametrize("name", ["a.csv", "a.jsonl", "a.txt"])
def test_what_is_no_encoding_of_text_is_refused_by_name(tmp_path: Path, encoding: str, name: str) -> None:
    (tmp_path / name).write_bytes(b'{"note": "slugs"}\n')
    with pytest.raises(SourceError, match="no text encoding"):
        read(tmp_path, file=name, encoding=encoding)


@pytest.mark.parametrize("encoding", ["utf-16", "utf-32", "utf-16-le", "utf-7"])
@pytest.mark.parametrize("name", ["a.csv", "a.jsonl", "a.txt"])
def test_an_encoding_that_does_not_fit_is_no_traceback(tmp_path: Path, encoding: str, name: str) -> None:
    (tmp_path / name).write_bytes(b'id,note\n1,"slugs and frost"\n2,peas')
    if name == "a.txt" and encoding != "utf-7":
        assert len(read(tmp_path, file=name, encoding=encoding)) == 1
    elif encoding in ("utf-16", "utf-32"):
        for look in (read, seen):
            with pytest.raises(SourceError, match=r"none of its lines|no documents|not valid|no header|no columns"):
                look(tmp_path, file=name, encoding=encoding)


# Parquet and spreadsheets.


def test_times_beyond_all_calendars_and_names_that_come_twice_in_parquet(tmp_path: Path) -> None:
    table = {
        "note": ["a b", "c d"],
        "day": pa.array([2**31 - 1, 20_000], pa.int32()).cast(pa.date32()),
        "stamp": pa.array([2**62, 86_400_000_005], pa.int64()).cast(pa.timestamp("us")),
        "fine": pa.array([10**18, 1], pa.int64()).cast(pa.timestamp("ns")),
        "lists": pa.array([[2**40], [5]], pa.list_(pa.int64())).cast(pa.list_(pa.timestamp("s"))),
        "twice": pa.StructArray.from_arrays([pa.array([1, 2]), pa.array([3, 4])], names=["q", "q"]),
    }
    pq.write_table(pa.table(table), tmp_path / "a.parquet")
    found = seen(tmp_path, file="a.parquet")
    assert found.rows[0] == ("a b", "", "", "2001-09-09 01:46:40", "", "")
    assert found.rows[1] == (
        "c d",
        "2024-10-04",
        "1970-01-02 00:00:00.000005",
        "1970-01-01 00:00:00.000000001",
        "1970-01-01 00:00:05",
        "",
    )
    assert "5 cells could not be written as text" in found.notices[0]
    pq.write_table(pa.table({}), tmp_path / "b.parquet")
    with pytest.raises(SourceError, match="no columns"):
        read(tmp_path, file="b.parquet")


def test_a_table_that_grows_beyond_all_memory_is_ended(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sources_module, "MOST_MEMORY", 2_500_000_000)
    packed = pa.DictionaryArray.from_arrays(pa.array([0] * 400_000, pa.int32()), pa.array(["slug " * 2_000]))
    pq.write_table(pa.table({"note": packed}), tmp_path / "a.parquet")
    assert (tmp_path / "a.parquet").stat().st_size < 100_000
    with pytest.raises(EndedEarly, match=r"a\.parquet.*memory"):
        read(tmp_path, file="a.parquet")


def test_a_spreadsheet_that_claims_a_thousand_million_rows(tmp_path: Path) -> None:
    made.make_xlsx(tmp_path / "a.xlsx")
    with zipfile.ZipFile(tmp_path / "a.xlsx") as archive:
        members = {name: archive.read(name) for name in archive.namelist()}
    name = max((one for one in members if "worksheets/sheet" in one), key=lambda one: len(members[one]))
    members[name] = members[name].replace(b'<row r="3"', b'<row r="1000000000"').replace(b'"A3"', b'"A1000000000"')
    (tmp_path / "b.xlsx").write_bytes(made.zip_bytes(members))
    assert len(seen(tmp_path, file="b.xlsx").rows) == 1
    assert len(read(tmp_path, file="b.xlsx")) == 1


def ods_of(folder: Path, rows: bytes) -> None:
    made.make_ods(folder / "base.ods")
    with zipfile.ZipFile(folder / "base.ods") as archive:
        members = {name: archive.read(name) for name in archive.namelist()}
    content = members["content.xml"]
    start, end = content.index(b"<table:table-row"), content.rindex(b"</table:table-row>") + 18
    members["content.xml"] = content[:start] + rows + content[end:]
    (folder / "a.ods").write_bytes(made.zip_bytes(members))


def cells(*texts: bytes, repeated: int = 1) -> bytes:
    cell = b'<table:table-cell office:value-type="string" table:number-columns-repeated="%d"><text:p>%s</text:p></table:table-cell>'
    return b"".join(cell % (repeated, text) for text in texts)


def row_of(inside: bytes, times: int = 1) -> bytes:
    return b'<table:table-row table:number-rows-repeated="%d">%s</table:table-row>' % (times, inside)


def test_rows_and_cells_and_spaces_that_are_repeated_without_measure(tmp_path: Path) -> None:
    ods_of(tmp_path, row_of(cells(b"id", b"note")) + row_of(cells(b"slugs", repeated=9_000), 9_000))
    assert len(read(tmp_path, file="a.ods", text=("note",))) == 111
    space = b'slugs<text:s text:c="1000000000"/>frost'
    ods_of(tmp_path, row_of(cells(b"id", b"note")) + row_of(cells(b"1", space)))
    assert len(read(tmp_path, file="a.ods", text=("note",)).texts[0]) == 1_010
    ods_of(tmp_path, row_of(cells(b"id", b"note")) + row_of(cells(b"1", repeated=9_000) * 3))
    with pytest.raises(SourceError, match="cells"):
        read(tmp_path, file="a.ods")


@pytest.mark.parametrize("kind", ["xlsx", "ods"])
def test_a_spreadsheet_whose_stream_is_broken_is_damaged(tmp_path: Path, kind: str) -> None:
    (made.make_xlsx if kind == "xlsx" else made.make_ods)(tmp_path / f"a.{kind}")
    with zipfile.ZipFile(tmp_path / f"a.{kind}") as archive:
        whole = {name: archive.read(name) + b" " * 5_000 for name in archive.namelist()}
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in whole.items():
            archive.writestr(name, data)
    broken = bytearray(out.getvalue())
    with zipfile.ZipFile(io.BytesIO(out.getvalue())) as archive:
        for entry in archive.infolist():
            at = entry.header_offset + 60 + len(entry.filename)
            broken[at : at + 12] = b"\xff" * 12
    (tmp_path / f"b.{kind}").write_bytes(broken)
    with pytest.raises(SourceError, match="damaged"):
        read(tmp_path, file=f"b.{kind}")


# Databases.


def test_a_query_without_an_end_is_ended_and_the_limit_is_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(preview_module, "SECONDS", 1.5)
    with sqlite3.connect(tmp_path / "a.db") as connection:
        connection.execute("create table t (a)")
    endless = "with recursive r(x) as (select 1 union all select x + 1 from r) select max(x) from r"
    with pytest.raises(TookTooLong, match=r"took longer than 1\.5 seconds"):
        seen(tmp_path, database="a.db", query=endless)


def test_what_is_no_database_file(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe.db")
    for name in ("pipe.db", "a\0b", "gone-\udce9.db", "~nobody_such/a.db"):
        with pytest.raises(SourceError):
            seen(tmp_path, database=name, table="t")


@pytest.mark.parametrize("query", ["?password=hunter2", "?x=1&PASSWORD=hunter2", "?sslpassword=hunter2"])
def test_a_password_among_the_fields_of_an_address_is_refused_and_never_shown(query: str) -> None:
    address = f"postgresql://reader@host/name{query}"
    with pytest.raises(ValueError, match="a recipe must not contain"):
        Source(database=address, table="t")
    assert "hunter2" not in shown(address)
    assert split_password(address)[1] == "hunter2"


# Files, folders and archives.


def test_links_that_go_round_pipes_and_devices(tmp_path: Path) -> None:
    (tmp_path / "a.txt").write_text("slugs")
    for name in ("x", "y", "z"):
        (tmp_path / name).symlink_to(tmp_path)
    os.mkfifo(tmp_path / "pipe.txt")
    (tmp_path / "zero.txt").symlink_to("/dev/zero")
    assert list(read(tmp_path.parent, file=str(tmp_path)).keys) == ["a.txt"]
    assert list(read(tmp_path, file="**/*.txt").keys) == ["a.txt"]
    for name in ("pipe.txt", "zero.txt"):
        with pytest.raises(SourceError, match="not a regular file"):
            read(tmp_path, file=name)


def test_a_pattern_that_means_the_whole_machine_has_an_end(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(files, "MOST_LOOKED_AT", 500)
    with pytest.raises(SourceError, match="more than 500 files are in it"):
        read(tmp_path, file="/usr/**/*.nothing")


def test_patterns(tmp_path: Path) -> None:
    for name in ("a.txt", "one/b.txt", "one/two/c.txt", "one/two/d.md", "three/e.txt"):
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text(name)
    for pattern, names in {
        "*.txt": ["a.txt"],
        "**/*.txt": ["a.txt", "one/b.txt", "one/two/c.txt", "three/e.txt"],
        "one/**": ["b.txt", "two/c.txt", "two/d.md"],
        "*/?.txt": ["one/b.txt", "three/e.txt"],
        "**/two/*": ["one/two/c.txt", "one/two/d.md"],
    }.items():
        assert list(read(tmp_path, file=pattern).keys) == names, pattern


def test_names_that_differ_by_unicode_form_or_are_no_utf_8(tmp_path: Path) -> None:
    for name in ("e\u0301.txt", "\xe9.txt"):
        (tmp_path / name).write_text(name)
    (Path(os.fsdecode(os.fsencode(tmp_path) + b"/b\xe9.txt"))).write_text("frost")
    (Path(os.fsdecode(os.fsencode(tmp_path) + b"/b\xe8.pdf"))).write_bytes(b"%PDF-1.4 cut")
    corpus = read(tmp_path.parent, file=str(tmp_path))
    assert sorted(corpus.keys) == sorted(["b\\xe9.txt", "\xe9.txt", "\xe9.txt (2)"])
    assert corpus.unread[0].name == "b\\xe8.pdf"


def test_archives_inside_archives_equal_names_and_damaged_members(tmp_path: Path) -> None:
    inner = made.zip_bytes({f"n{number}.txt": b"slugs" for number in range(50)})
    (tmp_path / "a.zip").write_bytes(made.zip_bytes({"other.txt": inner, "good.txt": b"frost"}))
    corpus = read(tmp_path, file="a.zip")
    assert list(corpus.texts) == ["frost"]
    assert corpus.unread == (Unread("a.zip/other.txt", "archives inside archives are not opened"),)
    out = io.BytesIO()
    with warnings.catch_warnings(action="ignore"), zipfile.ZipFile(out, "w") as archive:
        for number in range(3_000):
            archive.writestr("n.txt", f"slugs {number}")
    (tmp_path / "b.zip").write_bytes(out.getvalue())
    assert read(tmp_path, file="b.zip").keys[2_999] == "b.zip/n.txt (3000)"
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in "abc":
            archive.writestr(f"{name}.txt", f"{name} frost and peas " * 400)
    broken = bytearray(out.getvalue())
    with zipfile.ZipFile(io.BytesIO(out.getvalue())) as archive:
        at = archive.getinfo("b.txt").header_offset + 40
    broken[at : at + 10] = b"\xff" * 10
    (tmp_path / "c.zip").write_bytes(broken)
    corpus = read(tmp_path, file="c.zip")
    assert list(corpus.keys) == ["c.zip/a.txt", "c.zip/c.txt"]
    assert corpus.unread == (Unread("c.zip/b.txt", "it is damaged"),)


def test_a_reader_that_says_something_unforeseen_costs_its_own_file(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for name in ("a.html", "b.html"):
        (tmp_path / name).write_text(f"<p>{name}")
    real = json.loads
    monkeypatch.setattr(
        apart_module.json, "loads", lambda line: [7] if "a.html" in str(said := real(line)) and "text" in said else said
    )
    found = list(read_apart([File(tmp_path / n, n) for n in ("a.html", "b.html")], Options(), 1, lambda share: None))
    assert isinstance(found[0][-1], Unread)
    assert isinstance(found[1][-1], Piece)


# Texts that a parser would leave out without a word.


def text_of(name: str, data: bytes) -> str:
    return next(one.text for one in read_bytes(name, data, Options()) if isinstance(one, Piece))


@pytest.mark.parametrize("depth", [5, 300, 2_000, 10_000])
def test_nothing_is_lost_in_deep_html(depth: int) -> None:
    page = (
        "<title>T</title>"
        + "".join(f"<div>w{n} " for n in range(depth))
        + "deepest"
        + "</div>" * depth
        + "<p>after</p>"
    )
    text = text_of("a.html", page.encode())
    assert text.split() == [f"w{n}" for n in range(depth)] + ["deepest", "after"]


@pytest.mark.parametrize("depth", [5, 12, 60, 200])
def test_nothing_is_lost_in_deep_markdown_lists(depth: int) -> None:
    text = text_of("a.md", ("".join("  " * n + f"- item{n}\n" for n in range(depth)) + "\n\nafter\n").encode())
    assert [word for word in text.split() if word != "-"] == [f"item{n}" for n in range(depth)] + ["after"]


def test_insertions_and_controls_of_word_are_read_and_what_is_taken_out_is_not() -> None:
    with zipfile.ZipFile(io.BytesIO(made.docx_bytes("PLACE"))) as archive:
        members = {name: archive.read(name) for name in archive.namelist()}
    document = members["word/document.xml"]
    run = b"<w:r><w:t>%s</w:t></w:r>"
    paragraph = (
        b'<w:p><w:r><w:t xml:space="preserve">one </w:t></w:r><w:ins w:id="1" w:author="x">'
        + run % b"put in"
        + b'</w:ins><w:del w:id="2" w:author="x"><w:r><w:delText>taken</w:delText></w:r></w:del>'
        + b'<w:moveFrom w:id="3" w:author="x">'
        + run % b"moved"
        + b"</w:moveFrom></w:p>"
        + b"<w:sdt><w:sdtContent><w:p>"
        + run % b"controlled"
        + b"</w:p></w:sdtContent></w:sdt>"
        + b"<w:tbl><w:tr><w:tc><w:p>"
        + run % b"left"
        + b"</w:p></w:tc><w:sdt><w:sdtContent><w:tc><w:p>"
        + run % b"right"
        + b"</w:p></w:tc></w:sdtContent></w:sdt></w:tr></w:tbl>"
    )
    start = document.index(b"<w:p>") if b"<w:p>" in document else document.index(b"<w:p ")
    end = document.index(b"</w:p>") + 6
    members["word/document.xml"] = document[:start] + paragraph + document[end:]
    text = text_of("a.docx", made.zip_bytes(members))
    assert text.split("\n\n")[:4] == ["one put in", "controlled", "left", "right"]
