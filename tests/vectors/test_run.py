# SPDX-License-Identifier: GPL-3.0-or-later
"""`jagged-lens run` with a service: it sends only with --send, nothing twice, and writes the key nowhere."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner, Result

from jagged_lens.cli.commands import main
from jagged_lens.demo import demo_recipe
from jagged_lens.demo.vector_server import Manner, VectorServer, vector_server

NOTES = [
    f"Slugs took row {number} of the beans, frost took the {number % 7} leeks behind them." for number in range(40)
]
KEY = "green-slug-3"


def made(texts: list[str]) -> list[list[float]]:
    return [[float(text.count(letter)) for letter in "aeiou 0123"] for text in texts]


@pytest.fixture
def server() -> Iterator[VectorServer]:
    with vector_server(made, 10, Manner(key=KEY, batch=16)) as found:
        yield found


@pytest.fixture
def recipe(server: VectorServer, tmp_path: Path) -> Path:
    with (tmp_path / "notes.csv").open("w", newline="") as file:
        csv.writer(file).writerows([("id", "note"), *((f"N{at}", text) for at, text in enumerate(NOTES))])
    (tmp_path / "late.csv").write_text("id,note\nL1,Slugs took the late beans.\n")
    path = tmp_path / "r.toml"
    path.write_text(
        f'[gather]\nfrom = "notes.csv"\nkey = "id"\ntext = ["note"]\n[weigh]\nvectors = "{server.address}"\n'
        '[map]\nby = "pca"\n[terms]\nleast-documents = 1\n'
    )
    return path


def called(*words: object, key: str = "") -> Result:
    return CliRunner().invoke(main, list(map(str, words)), env={"JAGGED_LENS_KEY": key})


def test_it_sends_only_when_told_to_and_nothing_twice(recipe: Path, server: VectorServer, tmp_path: Path) -> None:
    out = tmp_path / "out"
    done = called("run", recipe, "--out", out)
    assert done.exit_code == 2
    assert "no document has a vector of 127.0.0.1:" in done.output
    assert "--send" in done.output
    assert (server.sent.total(), server.described) == (0, 0)
    wrong = called("run", recipe, "--out", out, "--send")
    assert wrong.exit_code == 2
    assert "did not accept the key (401" in wrong.output
    done = called("run", recipe, "--out", out, "--send", key=KEY)
    assert done.exit_code == 0, done.output
    assert f"Sending 40 texts with {sum(map(len, NOTES)):,} characters to 127.0.0.1:" in done.output
    with (out / "vectors.csv").open(newline="") as file:
        rows = list(csv.reader(file))[1:]
    np.testing.assert_array_equal(np.array([row[1:] for row in rows], float), np.array(made(NOTES)))
    before = {path.name: path.read_bytes() for path in out.glob("*.csv")}
    again = called("run", recipe, "--out", out, "--send", key=KEY)
    assert "Nothing is sent: all 40 texts have their vectors." in again.output
    assert {path.name: path.read_bytes() for path in out.glob("*.csv")} == before
    assert called("run", recipe, "--out", out).exit_code == 0
    assert set(server.sent.values()) == {1}
    assert not [path for path in tmp_path.rglob("*") if path.is_file() and KEY.encode() in path.read_bytes()]


def test_new_documents_are_sent_with_the_old_ones(recipe: Path, server: VectorServer, tmp_path: Path) -> None:
    out = tmp_path / "out"
    done = called("place", recipe, tmp_path / "late.csv", "--out", out, "--send", key=KEY)
    assert done.exit_code == 0, done.output
    assert server.sent["Slugs took the late beans."] == 1
    with (out / "placed.csv").open(newline="") as file:
        (row,) = csv.DictReader(file)
    assert row["nearest"].startswith("N")


def test_send_needs_a_service(tmp_path: Path) -> None:
    done = called("run", demo_recipe(), "--out", tmp_path / "out", "--send")
    assert done.exit_code == 2
    assert "--send needs a service" in done.output
