# SPDX-License-Identifier: GPL-3.0-or-later
"""Documents with everything known of them: the figures of the run, in every format the same, and nothing that a program would run."""

from __future__ import annotations

import csv
import json
from pathlib import Path

import openpyxl
import pyarrow.parquet
import pytest
from odf.opendocument import load
from odf.table import TableCell, TableRow
from scipy.sparse import csr_array, load_npz

from conftest import Silent
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import Stopped
from jagged_lens.export import (
    CHOICES,
    FORMATS,
    Given,
    Known,
    RunFolder,
    columns_of,
    known_columns,
    write_known,
    write_run,
    write_texts,
)
from jagged_lens.export.known_files import MOST_IN_A_CELL
from jagged_lens.lens import (
    ALWAYS,
    CORPUS,
    FAMILIES,
    GROUPING,
    HOLDING,
    SPACE,
    SUGGESTIONS,
    SWEEP,
    Job,
    Recent,
    Results,
    RunSettings,
    compute,
    read_recipe,
    with_needs,
)
from jagged_lens.text_cells import unguarded

ALL = [choice.key for choice in CHOICES]


@pytest.fixture(scope="module")
def results() -> Results:
    parts = with_needs([*ALWAYS, FAMILIES, HOLDING, SUGGESTIONS, SWEEP])
    return compute(Job(read_recipe(demo_recipe()), demo_recipe().parent), Recent(), Silent(), lambda: parts)


def by_name(columns: list[Known]) -> dict[str, list[object]]:
    return {one.name: list(one.values) for one in columns}


def test_the_columns_are_those_of_a_run(results: Results, tmp_path: Path) -> None:
    write_run(RunFolder(tmp_path, RunSettings()), results, 12)
    with (tmp_path / "documents.csv").open(newline="", encoding="utf-8") as file:
        run = list(csv.DictReader(file))
    with (tmp_path / "memberships.csv").open(newline="", encoding="utf-8") as file:
        members = {row["key"]: row for row in csv.DictReader(file)}
    found = by_name(known_columns(results, Given({0: ("Barley folk", "")}), ALL))
    assert found["key"] == [row["key"] for row in run]
    assert [str(one) if one is not None else "" for one in found["x"]] == [row["x"] for row in run]
    assert [str(one) if one is not None else "" for one in found["nearest_similarity"]] == [
        row["nearest_similarity"] for row in run
    ]
    assert found["nearest"] == [row["nearest"] for row in run]
    assert found["label.crop"] == [row["label.crop"] for row in run]
    assert found["kept_words"] == [int(row["tokens"]) for row in run]
    for key, closeness, silhouette in zip(found["key"], found["closeness"], found["silhouette"], strict=True):
        if closeness is not None:
            assert str(closeness) == members[str(key)]["closeness"]
            assert str(silhouette) == members[str(key)]["silhouette"]
    group = results[GROUPING].group
    assert found["group_name"][int((group == 0).argmax())] == "Barley folk"
    assert found["group"][0] == "ABCDEFGHIJ"[group[0]]
    families = {one for one in found["family"] if one is not None}
    assert len(families) == len(results[FAMILIES])
    assert sum(one == "yes" for one in found["standard"]) == len(families)
    assert found["text"] == list(results[CORPUS].texts)
    assert len(str(found["cleaned"][0]).split()) == found["kept_words"][0]
    assert "same text" in set(found["attention"])
    assert {len(column) for column in found.values()} == {640}


def test_what_was_not_computed_is_left_out_and_the_order_is_that_of_the_choices(results: Results) -> None:
    bare = Results({name: result for name, result in results.items() if name not in ("families", "suggestions")})
    found = known_columns(bare, Given(), ["suggestion", "map", "family", "key"])
    assert [one.name for one in found] == ["key", "x", "y", "trust"]


HOSTILE = [
    Known("=cmd", ["=1+1", "+SUM(A1)", "@x", "-2", "a\x00b\x0c", "line\nline", "", "'"]),
    Known("number", [0.1, None, 2, -0.0, 1e-30, 3, 4, 5]),
    Known("long", ["x" * 40_000, *["y"] * 7]),
]


@pytest.mark.parametrize("ending", sorted(FORMATS))
def test_every_format_reads_back_and_runs_nothing(ending: str, tmp_path: Path) -> None:
    path = tmp_path / f"t{ending}"
    write_known(path, HOSTILE)
    if ending == ".csv":
        with path.open(newline="", encoding="utf-8") as file:
            rows = list(csv.reader(file))
        assert [row[0][:1] in "=+@-" and row[0] != "" for row in rows[1:4]] == [False] * 3
        assert [row[1] for row in rows[1:]] == ["0.1", "", "2", "-0.0", "1e-30", "3", "4", "5"]
        assert len(rows[1][2]) == 40_000
    elif ending == ".xlsx":
        sheet = openpyxl.load_workbook(path)["Table"]
        assert {cell.data_type for row in sheet.iter_rows() for cell in row} <= {"s", "inlineStr", "n"}
        assert [sheet.cell(at, 1).value for at in (1, 2, 3)] == ["=cmd", "=1+1", "+SUM(A1)"]
        assert [sheet.cell(at, 2).value for at in (2, 3, 4)] == [0.1, None, 2]
        assert len(sheet.cell(2, 3).value) == MOST_IN_A_CELL
    elif ending == ".parquet":
        found = pyarrow.parquet.read_table(path).to_pydict()
        assert found["=cmd"] == HOSTILE[0].values
        assert found["number"] == HOSTILE[1].values
    elif ending == ".ods":
        rows = [row.getElementsByType(TableCell) for row in load(path).getElementsByType(TableRow)]
        assert [str(row[0]) for row in rows[:3]] == ["=cmd", "=1+1", "+SUM(A1)"]
        assert {row[0].getAttribute("valuetype") for row in rows} == {"string"}
        assert not any(cell.getAttribute("formula") for row in rows for cell in row)
        assert [row[1].getAttribute("value") for row in rows[1:4]] == ["0.1", None, "2"]
    else:
        lines = [json.loads(line) for line in path.read_text("utf-8").split("\n") if line]
        assert [line["=cmd"] for line in lines] == HOSTILE[0].values
        assert lines[1]["number"] is None


def test_a_table_without_documents_has_its_heads(tmp_path: Path) -> None:
    for ending in FORMATS:
        write_known(tmp_path / f"t{ending}", [Known("key", []), Known("title", [])])
    assert (tmp_path / "t.csv").read_text() == "key,title\n"


def test_cells_that_are_shown_become_numbers_where_all_of_a_column_are() -> None:
    found = columns_of(
        ["Term", "Share", "Times", "Mixed", "Share"], [["slug", "7.5%", "1,204", "1", ""], ["frost", "", "−3", "x", ""]]
    )
    assert [one.name for one in found] == ["Term", "Share", "Times", "Mixed", "Share 2"]
    assert [list(one.values) for one in found] == [["slug", "frost"], [0.075, None], [1204, -3], ["1", "x"], ["", ""]]
    assert [list(one.values) for one in columns_of(["A"], [])] == [[]]


def test_progress_is_told_and_ends_the_work(tmp_path: Path) -> None:
    columns = [Known("number", list(range(5_000)))]

    def progress(share: float) -> None:
        if share > 0.5:
            raise Stopped

    for ending in (".csv", ".xlsx", ".ods", ".jsonl"):
        with pytest.raises(Stopped):
            write_known(tmp_path / f"t{ending}", columns, progress)


def test_names_of_files_never_leave_their_folder(tmp_path: Path) -> None:
    keys = ["../../up", "a/b", "A/B", "", ".", "..", ".hidden", "x" * 300, "con\n", "späte 🌱" * 40, "a_b"]
    write_texts(tmp_path, keys, [f"text {at}" for at in range(len(keys))])
    assert len(list(tmp_path.iterdir())) == len(keys)
    assert all(one.is_file() and not one.name.startswith(".") for one in tmp_path.iterdir())
    assert {one.read_text() for one in tmp_path.iterdir()} == {f"text {at}" for at in range(len(keys))}
    assert not (tmp_path.parent / "up.txt").exists()


def test_a_run_writes_the_same_as_parquet_and_npz(results: Results, tmp_path: Path) -> None:
    text, binary = tmp_path / "text", tmp_path / "binary"
    text.mkdir()
    binary.mkdir()
    write_run(RunFolder(text, RunSettings()), results, 12)
    write_run(RunFolder(binary, RunSettings(tables="parquet", matrices="npz")), results, 12)
    assert {one.stem for one in text.iterdir()} == {one.stem for one in binary.iterdir()}
    assert not [one for one in binary.iterdir() if one.suffix in (".csv", ".mtx")]
    for path in text.glob("*.csv"):
        with path.open(newline="", encoding="utf-8") as file:
            rows = list(csv.DictReader(file))
        found = pyarrow.parquet.read_table(binary / f"{path.stem}.parquet")
        assert found.num_rows == len(rows)
        assert found.column_names == [unguarded(name) for name in rows[0]]
        for kept, given in zip(found.columns, rows[0], strict=True):
            shown = [row[given] for row in rows]
            if pyarrow.types.is_string(kept.type):
                assert kept.to_pylist() == [unguarded(cell) for cell in shown]
            else:
                values = [float(cell) if cell else -9.0 for cell in shown]
                found_values = [-9.0 if value is None else value for value in kept.to_pylist()]
                assert found_values == pytest.approx(values, rel=1e-6), (path.stem, given)
    documents = pyarrow.parquet.read_table(binary / "documents.parquet")
    assert pyarrow.types.is_floating(documents.schema.field("trust").type)
    separation = pyarrow.parquet.read_table(binary / "separation.parquet")
    assert pyarrow.types.is_floating(separation.schema.field("space").type)
    space = results[SPACE]
    for name, matrix in (("counts", space.terms.counts), ("weights", space.weights)):
        assert (csr_array(load_npz(binary / f"{name}.npz")) != matrix).nnz == 0
