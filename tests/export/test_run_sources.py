# SPDX-License-Identifier: GPL-3.0-or-later
"""`jagged-lens run` on recipes with every kind of source, and on projects."""

from __future__ import annotations

import csv
import json
import sqlite3
from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner, Result
from scipy.sparse import csr_array

from gather import made_files as made
from jagged_lens.cli import main
from jagged_lens.demo.page_server import page_server
from jagged_lens.export import write_named_matrix
from jagged_lens.lens import Job, Recent, compute, read_recipe
from jagged_lens.project import Decision, LensState, ProjectFile, ProjectState, create, opened
from jagged_lens.project.plain_state import plain


def run(path: Path, out: Path, *more: str) -> Result:
    return CliRunner().invoke(main, ["run", str(path), "--out", str(out), *more])


def rows(path: Path) -> list[dict[str, str]]:
    with path.open(encoding="utf-8", newline="") as file:
        return list(csv.DictReader(file))


def documents(out: Path) -> list[dict[str, str]]:
    return rows(out / "documents.csv")


LIMITS = "\n[terms]\nleast-documents = 1\n"


def test_every_kind_of_source_is_taken_from_a_recipe(tmp_path: Path) -> None:
    for name, make in (("a.csv", made.make_csv), ("a.xlsx", made.make_xlsx), ("a.ods", made.make_ods)):
        make(tmp_path / name)
    made.make_json_lines(tmp_path / "a.jsonl")
    made.make_parquet(tmp_path / "a.parquet")
    (tmp_path / "letters").mkdir()
    (tmp_path / "letters" / "2021").mkdir()
    (tmp_path / "letters" / "2021" / "a.pdf").write_bytes(made.pdf_bytes("The slugs took all."))
    (tmp_path / "letters" / "bad.docx").write_bytes(b"PK\x03\x04 cut")
    with sqlite3.connect(tmp_path / "a.sqlite") as connection:
        connection.execute("CREATE TABLE notes (note TEXT)")
        connection.execute("INSERT INTO notes VALUES ('the slugs took the first sowing')")
    with page_server() as web:
        (tmp_path / "recipe.toml").write_text(
            f"""
[gather]
from = [
  {{file = "a.csv", text = ["note"], labels = ["crop"]}}, {{file = "a.xlsx", text = ["note"]}},
  {{file = "a.ods", text = ["note"]}}, {{file = "a.jsonl", text = ["note"]}}, {{file = "a.parquet", text = ["note"]}},
  {{file = "letters", path-labels = ["year"]}},
  {{database = "a.sqlite", query = "SELECT note FROM notes", text = ["note"]}},
  {{links = "{web.address}/beans.html", private = true}},
  {{pasted = "Slugs again.\\n\\nNo rain.", cut = "blank-line", labelled = ["origin = paste"]}},
]
{LIMITS}"""
        )
        done = run(tmp_path / "recipe.toml", tmp_path / "out")
    assert done.exit_code == 0, done.output
    assert "not read: bad.docx: it is damaged or cut off" in done.stderr
    rows = documents(tmp_path / "out")
    assert len(rows) == 5 * 2 + 1 + 1 + 1 + 2
    assert {row["label.origin"] for row in rows} == {"", "paste"}
    assert {row["label.year"] for row in rows} == {"", "2021"}
    counts = json.loads((tmp_path / "out" / "run.json").read_text())["counts"]["gather"]
    assert counts["documents"] == counts["in_lens"] == len(rows)
    assert counts["unread"] == [{"name": "bad.docx", "reason": "it is damaged or cut off"}]


def test_units_filters_and_samples_are_taken_from_a_recipe(tmp_path: Path) -> None:
    made.make_csv(tmp_path / "a.csv")
    (tmp_path / "r.toml").write_text(
        '[gather]\nfrom = "a.csv"\ntext = ["note"]\nlabels = ["crop"]\nunit = "sentence"\nonly = ["crop = bean"]\nsample = 1\n'
        + LIMITS
    )
    assert run(tmp_path / "r.toml", tmp_path / "out").exit_code == 0
    assert [row["key"] for row in documents(tmp_path / "out")] == ["a.csv#1#1"]
    (tmp_path / "r.toml").write_text('[gather]\nfrom = "a.csv"\nonly = ["crop = turnip"]\nlabels = ["crop"]\n')
    done = run(tmp_path / "r.toml", tmp_path / "no")
    assert done.exit_code == 2
    assert "none of the 2 documents is left" in done.stderr


def test_a_project_is_run_without_its_sources(tmp_path: Path) -> None:
    made.make_csv(tmp_path / "a.csv")
    (tmp_path / "r.toml").write_text('[gather]\nfrom = "a.csv"\nkey = "id"\ntext = ["note"]\n' + LIMITS)
    recipe = read_recipe(tmp_path / "r.toml")
    create(tmp_path / "p.jagged")
    project = ProjectFile(tmp_path / "p.jagged")

    class Quiet:
        def began(self, part: object) -> object:
            return lambda share: None

        def grew(self, *_: object) -> None: ...

        def done(self, *_: object) -> None: ...

        def failed(self, part: object, error: Exception, details: str = "") -> None:
            raise error

    corpus = compute(Job(recipe, tmp_path, store=project), Recent(), Quiet())["corpus"]  # type: ignore[arg-type]
    taken = tuple(zip(recipe.gather.sources, corpus.stamps, strict=True))
    lenses = (LensState("Plain", recipe), LensState("Bare", recipe.with_setting("clean", "stop-words", [])))
    project.save(plain(ProjectState(lenses, 0, tmp_path, stamps=taken, aside=(("B", "copy of A"),))))
    (tmp_path / "a.csv").unlink()
    assert run(tmp_path / "p.jagged", tmp_path / "out").exit_code == 0
    assert [row["key"] for row in documents(tmp_path / "out")] == ["A"]
    assert not (tmp_path / "out" / "decisions.csv").exists()
    decided = (Decision("A", "B", "first"), Decision("A", "=C", "later"))
    aside = (("B", "copy of A"),)
    project.save(plain(ProjectState(lenses, 0, tmp_path, stamps=taken, aside=aside, decisions=decided)))
    assert run(tmp_path / "p.jagged", tmp_path / "again").exit_code == 0
    assert (tmp_path / "again" / "decisions.csv").read_text("utf-8").splitlines() == [
        "first,second,decision,kept,dropped,state",
        "A,B,first,A,B,applied",
        "A,'=C,later,,,document no longer exists",
    ]
    assert run(tmp_path / "p.jagged", tmp_path / "bare", "--lens", "Bare").exit_code == 0
    assert int(documents(tmp_path / "bare")[0]["tokens"]) > int(documents(tmp_path / "out")[0]["tokens"])
    done = run(tmp_path / "p.jagged", tmp_path / "no", "--lens", "Gone")
    assert done.exit_code == 2
    assert "Its lenses are: Plain, Bare" in done.stderr


@pytest.mark.parametrize("content", [b"", b"SQLite format 3\0" + b"\0" * 200])
def test_what_is_no_project_is_one_clear_line(tmp_path: Path, content: bytes) -> None:
    (tmp_path / "p.jagged").write_bytes(content)
    done = run(tmp_path / "p.jagged", tmp_path / "out")
    assert done.exit_code == 2
    assert done.stderr.count("\n") == 1
    assert "not a Jagged Lens project" in done.stderr


SMALL = '[gather]\nfrom = "n.csv"\nkey = "id"\ntext = ["text"]\nlabels = ["crop"]\n[terms]\nleast-documents = 1\nmost-share = 1.0\n'


def small_table(folder: Path) -> None:
    notes = [
        f"{('slugs ate beans', 'frost took peas', 'wind broke leek')[at % 3]} w{at % 4} v{at % 5}" for at in range(12)
    ]
    (folder / "n.csv").write_text(
        "id,text,crop\n" + "".join(f"n{at},{note},b{at % 2}\n" for at, note in enumerate(notes))
    )


def test_a_second_run_into_a_folder_leaves_no_table_of_the_first(tmp_path: Path) -> None:
    small_table(tmp_path)
    pca = '[map]\nby = "pca"\n'
    (tmp_path / "one.toml").write_text(f'{SMALL}{pca}[group]\nby = "tree"\nagainst = "crop"\ngroups = 2\n')
    (tmp_path / "two.toml").write_text(f"{SMALL}{pca}[group]\ngroups = 2\n")
    out = tmp_path / "out"
    for name, there in (("one", True), ("two", False)):
        done = run(tmp_path / f"{name}.toml", out)
        assert done.exit_code == 0, done.output
        assert [(out / table).exists() for table in ("tree.csv", "tree.nwk", "cross.csv")] == [there] * 3
        (out / "own.csv").write_text("of the user")
    left = sorted(path.name for path in out.iterdir() if path.name != "own.csv")
    assert left == json.loads((out / "run.json").read_text("utf-8"))["files"]
    assert (out / "own.csv").read_text() == "of the user"


def test_labels_and_names_that_a_project_gave_go_into_the_tables(tmp_path: Path) -> None:
    small_table(tmp_path)
    recipe = tmp_path / "r.toml"
    recipe.write_text(f'{SMALL}[weigh]\nthemes = 2\n[map]\nby = "pca"\n[group]\ngroups = 2\n')
    assert run(recipe, tmp_path / "first").exit_code == 0
    by_first = sorted(rows(tmp_path / "first" / "term_themes.csv"), key=lambda row: -float(row["1"]))
    strongest = tuple(row["term"] for row in by_first[:10] if float(row["1"]) > 0)
    state = opened(recipe).with_label("mine", ["n1", "n2"], "yes").with_theme_named(strongest, "Eaten")
    create(tmp_path / "p.jagged")
    ProjectFile(tmp_path / "p.jagged").save(plain(state))
    out = tmp_path / "out"
    done = run(tmp_path / "p.jagged", out)
    assert done.exit_code == 0, done.output
    assert [row["label.mine"] for row in documents(out)][:4] == ["", "yes", "yes", ""]
    assert {row["label"] for row in rows(out / "separation.csv")} == {"crop", "mine"}
    assert [row["name"] for row in rows(out / "themes.csv")] == ["Eaten", ""]
    kept = {row["term"] for row in rows(out / "terms.csv") if row["kept"] == "yes"}
    assert {row["term"] for row in rows(out / "term_themes.csv")} == kept


def test_a_matrix_that_is_saved_says_what_its_rows_and_columns_are(tmp_path: Path) -> None:
    matrix = csr_array(np.array([[0, 2], [1, 0]]))
    write_named_matrix(tmp_path / "weights.mtx", matrix, "real", ["a", "b"], ["bean", "=pea"])
    assert [row["key"] for row in rows(tmp_path / "weights.rows.csv")] == ["a", "b"]
    assert [list(row.values()) for row in rows(tmp_path / "weights.columns.csv")] == [["1", "bean"], ["2", "'=pea"]]
