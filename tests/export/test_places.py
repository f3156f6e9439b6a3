# SPDX-License-Identifier: GPL-3.0-or-later
"""What `place` leaves, and the files of suggested labels: every figure from the files of before."""

import csv
import dataclasses
import json
from collections import Counter, defaultdict
from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner

from jagged_lens.cli import main
from jagged_lens.demo import demo_recipe
from jagged_lens.export import write_suggestions
from jagged_lens.place import Part, Suggestions

HERE = demo_recipe().parent


def rows(path: Path) -> list[dict[str, str]]:
    with path.open(encoding="utf-8", newline="") as file:
        return list(csv.DictReader(file))


@pytest.fixture(scope="module")
def out(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("placed")
    done = CliRunner().invoke(main, ["place", str(demo_recipe()), str(HERE / "late"), "--out", str(folder)])
    assert done.exit_code == 0, done.output
    return folder


def test_every_late_copy_of_the_demo_is_found_and_no_other(out: Path) -> None:
    found = {row["key"]: row for row in rows(out / "placed.csv")}
    assert len(found) == 50
    planted = {row["late"]: (row["note"], row["kind"]) for row in rows(HERE / "late_planted.csv")}
    assert {key: (row["copy_of"], row["copy_kind"]) for key, row in found.items() if row["copy_of"]} == planted
    twins = {row["late"] for row in rows(HERE / "late_twins.csv")}  # in other words, so that many are unknown
    for key, (note, kind) in planted.items():
        assert (found[key]["nearest"], found[key]["kind"]) == (note, kind)
    for row in found.values():
        assert 0 <= float(row["similarity"]) <= 1
        assert 0 <= float(row["unknown"]) < (0.2 if row["key"] not in twins else 1)
        assert np.isfinite(float(row["x"]))
    counts = json.loads((out / "run.json").read_text("utf-8"))["counts"]
    assert counts["gather"] == {"documents": 640, "new": 50}
    assert counts["place"]["copies"] == {"same": 2, "edited": 3, "holds": 2}
    assert sorted(path.name for path in out.iterdir()) == ["placed.csv", "run.json"]


def test_late_notes_lie_with_their_crop(out: Path, tmp_path: Path) -> None:
    """The groups of the demo are its crops, nearly: a late note falls into the group of its own."""
    crop = {row["id"]: row["crop"] for row in rows(HERE / "notes.csv")}
    right = [crop[row["nearest"]] == row["key"].split("/")[1].split("-")[0] for row in rows(out / "placed.csv")]
    assert sum(right) >= 20  # about 3 by chance: troubles are told in them as well


def test_a_table_is_read_as_that_of_the_recipe(tmp_path: Path) -> None:
    some = rows(HERE / "notes.csv")[:12]
    with (tmp_path / "new.csv").open("w", encoding="utf-8", newline="") as file:
        names = ["remark", *(name for name in some[0] if name != "soil")]
        writer = csv.DictWriter(file, names, extrasaction="ignore")
        writer.writeheader()
        writer.writerows(
            {**row, "remark": "a long remark about the paper on which this note was written " * 3} for row in some
        )
    done = CliRunner().invoke(
        main, ["place", str(demo_recipe()), str(tmp_path / "new.csv"), "--out", str(tmp_path / "out")]
    )
    assert done.exit_code == 0, done.output
    for row, one in zip(rows(tmp_path / "out" / "placed.csv"), some, strict=True):
        assert row["key"] == one["id"]
        assert row["title"] == one["title"]
        if row["nearest"]:
            assert row["copy_of"]
            assert row["copy_kind"] == "same"
            assert float(row["similarity"]) == pytest.approx(1, abs=1e-6)


@pytest.mark.parametrize(
    ("new", "words"),
    [("nowhere.csv", "nowhere.csv"), ("empty", "empty"), ("larkmoor.9-none.toml", "larkmoor.9-none.toml")],
)
def test_what_cannot_be_placed_is_named(tmp_path: Path, new: str, words: str) -> None:
    (tmp_path / "empty").mkdir()
    done = CliRunner().invoke(main, ["place", str(demo_recipe()), str(tmp_path / new), "--out", str(tmp_path / "out")])
    assert done.exit_code == 2
    assert words in done.output
    assert not (tmp_path / "out" / "placed.csv").exists()


@pytest.fixture(scope="module")
def whole(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("suggested")
    recipe = folder / "some.toml"
    with (folder / "some.csv").open("w", encoding="utf-8", newline="") as file:
        some = rows(HERE / "notes.csv")
        for at, row in enumerate(some):
            row["crop"] = "" if at % 5 == 0 else row["crop"]
        writer = csv.DictWriter(file, list(some[0]))
        writer.writeheader()
        writer.writerows(some)
    recipe.write_text(
        '[gather]\nfrom = "some.csv"\nkey = "id"\ntext = ["note"]\nlabels = ["crop"]\n[map]\nby = "pca"\n'
        '[suggest]\nlabel = "crop"\nheld-out = 0.3\nseed = 4\n'
    )
    done = CliRunner().invoke(main, ["run", str(recipe), "--out", str(folder / "out")])
    assert done.exit_code == 0, done.output
    return folder / "out"


def test_the_figures_of_suggestions_come_out_of_their_rows(whole: Path) -> None:
    found = rows(whole / "suggestions.csv")
    assert [row["key"] for row in found] == [row["key"] for row in rows(whole / "documents.csv")]
    parts = defaultdict(list)
    for row in found:
        if row["part"] == "new" or row["counted"] == "yes":
            parts[row["part"]].append((row["given"], row["suggested"]))
        assert (row["given"] == "") == (row["part"] == "new")
    assert len(parts["new"]) == 128
    confusion = {
        (row["part"], row["given"], row["suggested"]): int(row["documents"]) for row in rows(whole / "confusion.csv")
    }
    for part in ("training", "held-out"):
        assert {key[1:]: count for key, count in confusion.items() if key[0] == part} == Counter(parts[part])
    commonest = Counter(one for one, _ in parts["training"]).most_common(1)[0][0]
    counts = json.loads((whole / "run.json").read_text("utf-8"))["counts"]["suggest"]
    for row in rows(whole / "scores.csv"):
        own = parts[row["part"]]
        given = [one for one in own if one[0] == row["value"]]
        said = [one for one in own if one[1] == row["value"]]
        right = sum(a == b for a, b in given)
        assert int(row["documents"]) == len(given)
        assert float(row["recall"]) == pytest.approx(right / len(given))
        assert float(row["precision"]) == pytest.approx(right / len(said))
        assert float(row["f1"]) == pytest.approx(2 * right / (len(given) + len(said)))
    for part in ("training", "held-out"):
        own = parts[part]
        f1 = [float(row["f1"]) for row in rows(whole / "scores.csv") if row["part"] == part]
        assert counts[part]["accuracy"] == pytest.approx(sum(a == b for a, b in own) / len(own))
        assert counts[part]["macro_f1"] == pytest.approx(sum(f1) / len(f1))
        assert counts[part]["trivial"] == pytest.approx(sum(a == commonest for a, _ in own) / len(own))
    assert counts["held-out"]["accuracy"] > 0.9
    assert {name: counts[name] for name in ("accuracy", "macro_f1", "trivial")}.items() <= counts["held-out"].items()
    truth = {row["id"]: row["crop"] for row in rows(HERE / "notes.csv")}
    new = [row for row in found if row["part"] == "new" and row["suggested"]]
    assert sum(truth[row["key"]] == row["suggested"] for row in new) / len(new) > 0.9


def test_a_document_that_gets_no_suggestion_has_no_probability(tmp_path: Path) -> None:
    found = dataclasses.replace(
        Suggestions.none(2),
        values=("bean", "=pea"),
        given=np.array([-1, 1], np.int32),
        part=np.array([Part.NEW, Part.HELD_OUT], np.uint8),
        suggested=np.array([-1, 0], np.int32),
        probability=np.array([0, 0.75], np.float32),
    )
    write_suggestions(tmp_path / "suggestions.csv", found, ["a", "b"])
    assert [list(row.values()) for row in rows(tmp_path / "suggestions.csv")] == [
        ["a", "", "", "", "new", "no"],
        ["b", "'=pea", "bean", "0.75", "held-out", "yes"],
    ]
