# SPDX-License-Identifier: GPL-3.0-or-later

from __future__ import annotations

import itertools
import time
from pathlib import Path

import numpy as np
import pytest

from gather import made_files as made
from jagged_lens.contrast.scale import _as_numbers
from jagged_lens.errors import SourceError
from jagged_lens.gather import Corpus, Label, Means, Source, preview, read_source, source_with, warning
from jagged_lens.gather.dates import NO_DATE, day_of, days_of
from jagged_lens.gather.numbers import number_of, numbers_of
from jagged_lens.gather.roles import guess_roles, look_at
from jagged_lens.gather.tables import open_table
from jagged_lens.gather.tables.separated import separator_of

ROLES = {"key": "id", "text": ("note",), "labels": ("crop",), "date": "day", "numbers": ("weight",)}
MAKERS = {
    "notes.csv": made.make_csv,
    "notes.xlsx": made.make_xlsx,
    "notes.ods": made.make_ods,
    "notes.jsonl": made.make_json_lines,
    "notes.parquet": made.make_parquet,
}


def read(folder: Path, **settings: object) -> Corpus:
    return read_source(Source(**settings), Means(folder))


@pytest.mark.parametrize("name", MAKERS)
def test_every_kind_of_table_gives_the_same_documents(tmp_path: Path, name: str) -> None:
    MAKERS[name](tmp_path / name)
    corpus = read(tmp_path, file=name, **ROLES)
    assert list(corpus.keys) == ["A", "B"]
    assert corpus.texts[1] == made.SAID.format(2)
    assert [corpus.labels[0].value(row) for row in range(2)] == ["bean", "pea"]
    assert [corpus.date(row) for row in range(2)] == ["2021-05-03", "2021-06-01"]
    assert corpus.numbers[0].values.tolist() == [2.5, 3.0]


@pytest.mark.parametrize("name", MAKERS)
def test_every_kind_of_table_has_a_preview_with_guessed_roles(tmp_path: Path, name: str) -> None:
    MAKERS[name](tmp_path / name)
    found = preview(Source(file=name), Means(tmp_path))
    assert found.columns == ("id", "note", "crop", "day", "weight")
    assert found.roles[:2] == ("key", "text")
    assert found.roles[3] == "date"
    assert found.rows[0][0] == "A"


def test_lines_that_are_no_objects_are_said(tmp_path: Path) -> None:
    made.make_json_lines(tmp_path / "a.jsonl")
    corpus = read(tmp_path, file="a.jsonl")
    assert corpus.notices == ("a.jsonl: 2 lines are not JSON objects and were skipped; the first is line 2.",)
    (tmp_path / "b.jsonl").write_text('{"a": {"b": {"c": "deep"}, "d": [1, 2]}}\n')
    assert preview(Source(file="b.jsonl"), Means(tmp_path)).columns == ("a.b.c", "a.d")


def test_a_sheet_is_chosen_by_name_and_the_first_that_holds_something_by_default(tmp_path: Path) -> None:
    made.make_xlsx(tmp_path / "a.xlsx")
    assert len(read(tmp_path, file="a.xlsx", text=("note",))) == 2
    with pytest.raises(SourceError, match="spreadsheet is empty"):
        read(tmp_path, file="a.xlsx", sheet="empty")
    with pytest.raises(SourceError, match="Its sheets are: empty, notes"):
        read(tmp_path, file="a.xlsx", sheet="gone")


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.xlsx", b"PK\x03\x04 cut", "damaged"),
        ("a.xlsx", b"\xd0\xcf\x11\xe0" + b"\0" * 99, "password"),
        ("a.ods", b"nothing", "damaged"),
        ("a.parquet", b"PAR1 cut", "not a Parquet"),
        ("a.jsonl", b"[1]\n[2]\n", "none of its lines"),
        ("a.csv", b"\0\x01\x02\x03" * 50, "not a text table"),
    ],
)
def test_broken_tables_are_said(tmp_path: Path, name: str, data: bytes, words: str) -> None:
    (tmp_path / name).write_bytes(data)
    with pytest.raises(SourceError, match=words):
        read(tmp_path, file=name)


@pytest.mark.parametrize(
    ("start", "mark"),
    [("a;b\n1,5;2\n3,5;4\n", ";"), ("a\tb\n1\t2\n", "\t"), ("note\nslugs, all of them\nno\n", ","), ("a|b\n1|2", "|")],
)
def test_separators_are_guessed(start: str, mark: str) -> None:
    assert separator_of(start) == mark


def test_a_table_without_a_header_gets_names_and_both_can_be_overruled(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text("12;the slugs took the first sowing\n14;no rain at all\n")
    found = preview(Source(file="a.csv"), Means(tmp_path))
    assert found.columns == ("column 1", "column 2")
    assert found.settings["header"] == "no"
    assert preview(Source(file="a.csv", header="yes"), Means(tmp_path)).columns[0] == "12"
    assert len(preview(Source(file="a.csv", separator=","), Means(tmp_path)).columns) == 1
    with pytest.raises(SourceError, match="longer than one character"):
        preview(Source(file="a.csv", separator="--"), Means(tmp_path))


def test_a_preview_reads_only_the_first_rows(tmp_path: Path) -> None:
    with (tmp_path / "big.csv").open("w") as file:
        file.write("id,note\n")
        for start in range(0, 1_000_000, 1000):
            file.write("".join(f"{row},the slugs took row {row}\n" for row in range(start, start + 1000)))
    begin = time.thread_time()
    found = preview(Source(file="big.csv"), Means(tmp_path))
    assert len(found.rows) == 200
    assert time.thread_time() - begin < 2.0  # reading all of it takes many times as long


def looks_of(**columns: list[str]) -> dict[str, object]:
    rows = list(zip(*columns.values(), strict=True))
    return {look.name: look for look in look_at(list(columns), rows)}


def test_roles_are_guessed_by_what_columns_hold() -> None:
    rows = 40
    columns = {
        "id": [f"N{row}" for row in range(rows)],
        "heading": [f"Beans of plot {row}" for row in range(rows)],
        "note": [f"The slugs took the first sowing of plot {row} in May" for row in range(rows)],
        "crop": ["bean", "pea"] * (rows // 2),
        "year": ["2021", "2022"] * (rows // 2),
        "day": [f"{1 + row % 28}.5.2021" for row in range(rows)],
        "weight": [f"{row}.5" for row in range(rows)],
        "link": [f"https://larkmoor.example/{row}" for row in range(rows)],
        "empty": [""] * rows,
    }
    roles = guess_roles(look_at(list(columns), list(zip(*columns.values(), strict=True))))
    expected = ["key", "title", "text", "label", "label", "date", "number", "leave out", "leave out"]
    assert roles == expected
    source = source_with(Source(file="x.csv"), list(columns), roles)
    assert (source.key, source.title, source.text, source.labels) == ("id", "heading", ("note",), ("crop", "year"))
    only_links = guess_roles(
        look_at(["name", "url"], [["Beans", "https://larkmoor.example/1"], ["Peas", "http://x.example"]])
    )
    assert only_links == ["title", "link"]


def test_an_odd_choice_of_role_is_warned_about_in_words() -> None:
    looks = looks_of(
        number=["1", "2", "3", "4", "5", "6", "7", "8", "9", "ten"],
        word=[f"K{n}" for n in range(10)],
        prose=[f"{n} slugs took the first sowing" for n in range(10)],
        double=["a"] * 10,
    )
    assert warning(looks["number"], "text") == "90% of these are numbers, not prose."
    assert "one distinct word" in warning(looks["word"], "text")
    assert "more than once" in warning(looks["double"], "key")
    assert "cannot be read as dates" in warning(looks["prose"], "date")
    assert "10% of these are not numbers" in warning(looks["number"], "number")
    assert "not http" in warning(looks["prose"], "link")
    assert (
        warning(looks["prose"], "text") == warning(looks["word"], "key") == warning(looks["prose"], "leave out") == ""
    )


def test_dates_are_read_in_the_order_that_makes_most_of_them_dates() -> None:
    assert day_of("1970-01-02") == 1
    assert days_of(["13/02/1970", "01/02/1970"]).tolist() == [43, 31]
    assert days_of(["02/13/1970", "01/02/1970"]).tolist() == [43, 1]
    assert days_of(["1971", "", "never"]).tolist() == [365, NO_DATE, NO_DATE]
    for text in ("2021-02-30", "32.13.2021", "12", "1.1", ""):
        assert day_of(text) == NO_DATE


def test_numbers_have_a_point_or_a_comma() -> None:
    assert [number_of(text) for text in ("2.5", "2,5", "-3", "x", "", "inf")] == [2.5, 2.5, -3.0, None, None, None]


def test_names_of_columns_are_told_apart(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text("note,note,\nthe slugs,took,all\n")
    found = preview(Source(file="a.csv", header="yes"), Means(tmp_path))
    assert found.columns == ("note", "note 2", "column 3")


def test_pasted_text_is_a_table_where_it_has_tabs_and_else_texts() -> None:
    table = preview(Source(pasted="id\tnote\n1\tthe slugs took all\n2\tno rain fell\n"), Means(Path("/")))
    assert table.is_table
    assert table.columns == ("id", "note")
    corpus = read_source(table.source, Means(Path("/")))
    assert list(corpus.texts) == ["the slugs took all", "no rain fell"]
    texts = Source(pasted="Slugs.\n\nRain.\nMuch.", cut="blank-line", labelled=("kind = paste",))
    corpus = read_source(texts, Means(Path("/")))
    assert list(corpus.texts) == ["Slugs.", "Rain.\nMuch."]
    assert corpus.labels[0].value(0) == "paste"
    assert len(preview(texts, Means(Path("/"))).rows) == 2
    with pytest.raises(SourceError, match="is not a label"):
        read_source(Source(pasted="x", labelled=("paste",)), Means(Path("/")))


def test_several_sources_are_one_corpus_with_keys_that_differ(tmp_path: Path) -> None:
    from jagged_lens.gather import GatherSettings, gather

    for folder in ("a", "b"):
        (tmp_path / folder).mkdir()
        (tmp_path / folder / "notes.csv").write_text(f"note,{folder}\nslugs in {folder},{folder}1\n")
    settings = GatherSettings(
        from_=(
            Source(file="a/notes.csv", labels=("a",)),
            Source(file="b/notes.csv", labels=("b",)),
            Source(pasted="rain"),
        )
    )
    corpus = gather(settings, tmp_path)
    assert list(corpus.keys) == ["notes.csv#1", "notes.csv/notes.csv#1", "pasted#1"]
    assert [[label.value(row) for row in range(3)] for label in corpus.labels] == [["a1", "", ""], ["", "b1", ""]]
    assert corpus.counts == (1, 1, 1)
    assert corpus.source.tolist() == [0, 1, 2]
    assert "1 keys were already in use" in corpus.notices[-1]
    assert not len(corpus.dates)


def test_rows_keep_their_values_whatever_comes_later() -> None:
    from jagged_lens.gather.records import Records

    records = Records()
    for row, (label, number) in enumerate(itertools.product(("x", "y"), ("1", None))):
        labels = {"late": label} if row > 1 else {}
        records.add(f"k{row}", "t", "", "o", labels, numbers={} if number is None else {"n": number})
    corpus = records.corpus()
    assert [corpus.labels[0].value(row) for row in range(4)] == ["", "", "y", "y"]
    assert np.isnan(corpus.numbers[0].values).tolist() == [False, True, False, True]


def test_an_address_behind_the_words_of_a_cell_is_a_column(tmp_path: Path) -> None:
    import openpyxl

    book = openpyxl.Workbook()
    sheet = book.active
    assert sheet is not None
    for row in (
        ["id", "plot", "note"],
        ["1", "the north plot", "slugs"],
        ["2", "the south plot", "frost"],
        ["3", "none", "rust"],
    ):
        sheet.append(row)
    sheet["B2"].hyperlink = "https://larkmoor.example/plots/1"
    sheet["B3"].hyperlink = "https://larkmoor.example/plots/2"
    book.save(tmp_path / "a.xlsx")
    table = open_table(tmp_path / "a.xlsx", "a.xlsx", Source(file="a.xlsx"))
    assert list(table.columns) == ["id", "plot", "note", "plot link"]
    assert [row[3] for row in table.rows] == [
        "https://larkmoor.example/plots/1",
        "https://larkmoor.example/plots/2",
        "",
    ]


def test_numbers_are_read_as_their_column_writes_them() -> None:
    def read(*cells: str) -> list[float]:
        return numbers_of(cells).tolist()

    assert read("950", "1,200", "12,500", "1,234,567") == [950, 1200, 12_500, 1_234_567]
    assert read("1,200", "2,5") == [1.2, 2.5]
    assert read("1.200", "2,5", "1.234.567,25") == [1200, 2.5, 1_234_567.25]
    assert read("1.200", "2.5") == [1.2, 2.5]
    assert read("1 200", "12’500", "−3", "+4.5", "1e3") == [1200, 12_500, -3, 4.5, 1000]
    assert np.isnan(read("1,2,3", "x", "", "1.2.3,4,5", "nan", "inf", "0,123,4", "1,23,456")).all()


def test_a_column_of_numbers_and_a_label_agree_on_thousands(tmp_path: Path) -> None:
    prices = ["950", "1,200", "12,500", "1,234,567", "none"]
    rows = "".join(f'slugs {at},"{price}"\n' for at, price in enumerate(prices))
    (tmp_path / "a.csv").write_text("text,price\n" + rows)
    source = Source(file="a.csv", text=("text",), numbers=("price",))
    corpus = read_source(source, Means(tmp_path))
    label = _as_numbers(Label.of("price", prices[:4]))
    assert label is not None
    assert corpus.numbers[0].values[:4].tolist() == label.tolist() == [950, 1200, 12_500, 1_234_567]
    assert corpus.notices == ('1 cell of "price" is not a number and was left empty: “none”.',)


@pytest.mark.parametrize(
    ("content", "texts"),
    [
        ('sep=;\nid;text\n1;"beans, peas"\n2;leeks\n', ["beans, peas", "leeks"]),
        ("sep=|\r\nid|text\r\n1|a,b\r\n2|c;d\r\n", ["a,b", "c;d"]),
        (
            'id,text\n1,"said \\"slugs, again\\" and left"\n2,plain\n3,"x"\n',
            ['said "slugs, again" and left', "plain", "x"],
        ),
        ('id,text\n1,"C:\\notes\\"\n2,"a ""b"" c"\n3,x\n', ["C:\\notes\\", 'a "b" c', "x"]),
    ],
)
def test_what_a_table_says_of_its_own_marks_is_heard(tmp_path: Path, content: str, texts: list[str]) -> None:
    (tmp_path / "a.csv").write_bytes(content.encode())
    corpus = read_source(Source(file="a.csv", key="id", text=("text",)), Means(tmp_path))
    assert list(corpus.texts) == texts
    assert not corpus.notices
