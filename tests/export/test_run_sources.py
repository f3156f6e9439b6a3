"""`jagged-lens run` on recipes with every kind of source, and on projects."""

from __future__ import annotations

import csv
import json
import sqlite3
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from gather import made_files as made
from jagged_lens.cli import main
from jagged_lens.demo.page_server import page_server
from jagged_lens.lens import Job, Recent, compute, read_recipe
from jagged_lens.project import Decision, LensState, ProjectFile, ProjectState, create
from jagged_lens.project.plain_state import plain


def run(path: Path, out: Path, *more: str) -> Result:
    return CliRunner().invoke(main, ["run", str(path), "--out", str(out), *more])


def documents(out: Path) -> list[dict[str, str]]:
    with (out / "documents.csv").open(encoding="utf-8", newline="") as file:
        return list(csv.DictReader(file))


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

        def failed(self, part: object, error: Exception) -> None:
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
        "A,'=C,later,,,no longer in the documents",
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
    assert "no project of Jagged Lens" in done.stderr
