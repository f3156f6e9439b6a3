# SPDX-License-Identifier: GPL-3.0-or-later
"""New documents in a lens on learned vectors: placed from the command line, with the copies found on the texts as ever."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner

from export.test_places import rows
from jagged_lens.cli.commands import main
from jagged_lens.demo import demo_recipe

HERE = demo_recipe().parent


@pytest.fixture(scope="module")
def recipe(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("learned") / "learned.toml"
    text = demo_recipe().read_text("utf-8").replace('"notes.csv"', f'"{HERE / "notes.csv"}"')
    path.write_text(f'{text}\n[weigh]\nvectors = "learned"\ndimensions = 40\n', "utf-8")
    return path


def test_late_notes_are_placed_on_learned_vectors(recipe: Path, tmp_path: Path) -> None:
    done = CliRunner().invoke(main, ["place", str(recipe), str(HERE / "late"), "--out", str(tmp_path)])
    assert done.exit_code == 0, done.output
    found = {row["key"]: row for row in rows(tmp_path / "placed.csv")}
    planted = {row["late"]: row["note"] for row in rows(HERE / "late_planted.csv")}
    assert {key: row["copy_of"] for key, row in found.items() if row["copy_of"]} == planted
    assert all(np.isfinite(float(row["x"])) and float(row["similarity"]) > 0 for row in found.values())
    crop = {row["id"]: row["crop"] for row in rows(HERE / "notes.csv")}
    right = sum(crop[row["nearest"]] == key.split("/")[1].split("-")[0] for key, row in found.items())
    assert right >= 30  # of 50, where one in ten would be right by chance


def test_a_run_leaves_the_vectors(recipe: Path, tmp_path: Path) -> None:
    done = CliRunner().invoke(main, ["run", str(recipe), "--out", str(tmp_path)])
    assert done.exit_code == 0, done.output
    vectors = rows(tmp_path / "vectors.csv")
    documents = rows(tmp_path / "documents.csv")
    assert [row["key"] for row in vectors] == [row["key"] for row in documents]
    assert list(vectors[0]) == ["key", *(str(at) for at in range(1, 41))]
    assert not (tmp_path / "themes.csv").exists()
    counts = json.loads((tmp_path / "run.json").read_text("utf-8"))["counts"]["weigh"]
    assert counts["dimensions"] == 40
    assert counts["themes"] == 0
    assert counts["words"] > 500
    assert counts["seldom"] > 100
    x = np.array([[float(row[str(at)]) for at in range(1, 41)] for row in vectors])
    place = {row["key"]: at for at, row in enumerate(documents)}
    pair = rows(tmp_path / "pairs.csv")[30]
    a, b = x[place[pair["first"]]], x[place[pair["second"]]]
    assert a @ b / (np.linalg.norm(a) * np.linalg.norm(b)) == pytest.approx(float(pair["similarity"]), abs=1e-4)
