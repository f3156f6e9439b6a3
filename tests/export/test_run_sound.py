# SPDX-License-Identifier: GPL-3.0-or-later
"""Shingles that are stopped, killed, short of memory, or given names and expressions that mean no good."""

from __future__ import annotations

import csv
import json
import os
import resource
import signal
import subprocess
import sys
import time
from pathlib import Path
from xml.etree import ElementTree

import pytest
from click.testing import CliRunner

from export.test_run import FILES, SUGGESTED, run
from jagged_lens import cli
from jagged_lens.cli.running import _earlier as earlier_files
from jagged_lens.errors import Stopped
from jagged_lens.gather import Source
from jagged_lens.project import Keeper, opened
from jagged_lens.project.plain_state import plain

RECIPE = '[gather]\nfrom = "notes"\n[terms]\nleast-documents = 1\n[weigh]\nglobal = "none"\n'


@pytest.fixture
def notes(tmp_path: Path) -> Path:
    (tmp_path / "notes").mkdir()
    for number in range(5):
        (tmp_path / "notes" / f"{number}.txt").write_text(f"late frost and slugs took {'peas ' * number}")
    (tmp_path / "r.toml").write_text(RECIPE)
    return tmp_path


def started(folder: Path, recipe: str = "r.toml") -> subprocess.Popen[str]:
    return subprocess.Popen(
        [sys.executable, "-m", "jagged_lens", "run", recipe, "--out", "out"],
        cwd=folder,
        stderr=subprocess.PIPE,
        text=True,
    )


def children(process: int) -> list[int]:
    try:
        return [int(one) for one in Path(f"/proc/{process}/task/{process}/children").read_text().split()]
    except OSError:
        return []


@pytest.mark.parametrize("number", [signal.SIGINT, signal.SIGTERM])
def test_an_expression_without_an_end_is_stopped_by_a_signal(notes: Path, number: int) -> None:
    (notes / "notes" / "a.txt").write_text("a" * 60 + "!")
    (notes / "r.toml").write_text(RECIPE + '[clean]\ntokens = "pattern"\npattern = "(a+)+b"\n')
    process = started(notes)
    end = time.monotonic() + 40
    while not children(process.pid):
        assert time.monotonic() < end
        time.sleep(0.05)
    time.sleep(1.5)
    helpers = children(process.pid)
    process.send_signal(number)
    _, said = process.communicate(timeout=300)
    assert process.returncode == 130
    assert said == "jagged-lens: stopped; nothing was written\n"
    assert os.listdir(notes / "out") == []
    end = time.monotonic() + 20
    while any(Path(f"/proc/{helper}").exists() for helper in helpers):
        assert time.monotonic() < end
        time.sleep(0.05)


def test_what_a_killed_run_left_half_written_is_removed_and_what_a_living_one_writes_is_not(notes: Path) -> None:
    for process in ("999999999", str(os.getpid()), "nonsense"):
        (notes / "out" / f".half-written-{process}-abc").mkdir(parents=True)
    assert run("run", str(notes / "r.toml"), "--out", str(notes / "out"), home=notes).returncode == 0
    left = {path.name for path in (notes / "out").iterdir()}
    assert left == {*FILES, f".half-written-{os.getpid()}-abc"} - {"cross.csv", *SUGGESTED}


def test_a_run_that_is_stopped_while_it_puts_files_in_place_says_so(
    notes: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    real, count = os.replace, [0]

    def replace(before: str, after: str) -> None:
        count[0] += 1
        if count[0] == 4:
            raise Stopped
        real(before, after)

    monkeypatch.setattr(os, "replace", replace)
    monkeypatch.chdir(notes)
    done = CliRunner().invoke(cli.main, ["run", "r.toml", "--out", "out"])
    assert done.exit_code == 130
    assert "3 of 14 files in out are new" in done.output
    assert len(os.listdir("out")) == 3


def test_too_little_memory_is_said_and_nothing_hangs(notes: Path) -> None:
    for megabytes in (250, 700):
        done = subprocess.run(
            [sys.executable, "-m", "jagged_lens", "run", "r.toml", "--out", "out"],
            cwd=notes,
            capture_output=True,
            text=True,
            timeout=300,
            preexec_fn=lambda limit=megabytes * 1_000_000: resource.setrlimit(resource.RLIMIT_AS, (limit, limit)),
            env={**os.environ, "OPENBLAS_NUM_THREADS": "1"},
        )
        assert "Traceback" not in done.stderr
        if done.returncode:
            assert "memory" in done.stderr
        assert done.returncode or megabytes > 250


def test_names_cannot_command_the_terminal_and_need_not_be_utf_8(notes: Path) -> None:
    (notes / "notes" / "\x1b[2Jevil.pdf").write_bytes(b"%PDF-1.4 cut")
    Path(os.fsdecode(os.fsencode(notes / "notes") + b"/b\xe9.pdf")).write_bytes(b"%PDF-1.4 cut")
    done = run("run", str(notes / "r.toml"), "--out", str(notes / "out"), home=notes)
    assert done.returncode == 0
    assert "\x1b" not in done.stderr
    assert "evil.pdf" in done.stderr
    unread = json.loads((notes / "out" / "run.json").read_text())["counts"]["gather"]["unread"]
    assert [one["name"] for one in unread] == ["\x1b[2Jevil.pdf", "b\\xe9.pdf"]


def test_keys_that_xml_cannot_hold_stay_apart_in_the_network(tmp_path: Path) -> None:
    alike = [f"note{sign}x" for sign in "\x01\x02\ufffd"]
    lines = [{"k": key, "t": "slug bean frost pea rain came late"} for key in alike]
    lines += [{"k": f"z{at}", "t": f"kale{at} mulch{at} hoe{at} leek{at}"} for at in range(6)]
    (tmp_path / "n.jsonl").write_text("".join(json.dumps(line) + "\n" for line in lines))
    (tmp_path / "r.toml").write_text(
        '[gather]\nfrom = {file = "n.jsonl", key = "k", text = ["t"]}\n[terms]\nleast-documents = 1\n'
    )
    assert run("run", str(tmp_path / "r.toml"), "--out", str(tmp_path / "out"), home=tmp_path).returncode == 0
    graph = ElementTree.parse(tmp_path / "out" / "links.graphml").getroot()
    ids = [node.get("id") for node in graph.iter("{http://graphml.graphdrawing.org/xmlns}node")]
    edges = [
        (edge.get("source"), edge.get("target")) for edge in graph.iter("{http://graphml.graphdrawing.org/xmlns}edge")
    ]
    assert sorted(map(str, ids)) == ["note\ufffdx", "note\ufffdx 2", "note\ufffdx 3"]
    assert len(edges) == 3
    assert {frozenset(edge) for edge in edges} == {frozenset((a, b)) for a in ids for b in ids if a != b}


def test_a_document_without_a_title_has_its_first_words(notes: Path) -> None:
    (notes / "notes.csv").write_text(
        "id,note\n1,late frost took the second sowing of the dwarf beans and more\n2,slugs\n"
    )
    (notes / "r.toml").write_text(RECIPE.replace('"notes"', '"notes.csv"\ntext = ["note"]'))
    assert run("run", str(notes / "r.toml"), "--out", str(notes / "out"), home=notes).returncode == 0
    with (notes / "out" / "documents.csv").open(newline="") as file:
        titles = [row["title"] for row in csv.DictReader(file)]
    assert titles == ["late frost took the second sowing of the dwarf …", "slugs"]


def test_a_run_of_a_project_that_a_window_has_open_writes_nothing_into_it(notes: Path) -> None:
    keeper = Keeper.unnamed(notes / "projects")
    state = opened(notes / "r.toml").with_sources((Source(file="notes"),))
    keeper.save(lambda: plain(state))
    assert keeper.flush(20)
    before = keeper.path.read_bytes()
    done = run("run", str(keeper.path), "--out", str(notes / "out"), home=notes)
    assert done.returncode == 0, done.stderr
    assert keeper.path.read_bytes() == before
    keeper.close()


@pytest.mark.parametrize(
    "text",
    [
        "[gather]\nfrom = " + "[" * 3000 + "]" * 3000,
        "[terms]\nleast-documents = 99999999999999999999999999\n",
        "[map]\nseed = " + "9" * 6000,
        '[clean]\ntokens = "pattern"\npattern = "a{99999999999}"\n',
        "[clean]\nreplace = ['/" + "(" * 1500 + ")" * 400 + "/ = x']\n",
        '[gather]\nfrom = "~nobody_such/notes.csv"\n',
        '[gather]\nfrom = {database = "postgresql://a@b/c?password=hunter2", table = "t"}\n',
        '[gather]\nfrom = "a\\u0000b"\n',
    ],
)
def test_hostile_recipes_are_refused_in_one_line(notes: Path, text: str) -> None:
    (notes / "r.toml").write_text(text)
    done = run("run", str(notes / "r.toml"), "--out", str(notes / "out"), home=notes)
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    assert done.stderr.startswith("jagged-lens: ")
    assert "hunter2" not in done.stderr


@pytest.mark.parametrize("name", ["pipe", "/dev/zero"])
def test_recipes_and_lists_that_are_no_plain_files_are_not_read(notes: Path, name: str) -> None:
    os.mkfifo(notes / "pipe")
    done = run("run", str(notes / name), "--out", str(notes / "out"), home=notes)
    assert done.returncode == 2
    assert "not a regular file" in done.stderr
    for step, key in (("clean", "stop-words"), ("clean", "word-lists"), ("terms", "only-list")):
        value = f'"{name}"' if key == "only-list" else f'["{name}"]'
        (notes / "r.toml").write_text(f'[gather]\nfrom = "notes"\n[{step}]\n{key} = {value}\n')
        said = CliRunner().invoke(cli.main, ["run", str(notes / "r.toml"), "--out", str(notes / "out")])
        assert said.exit_code == 2, key
        assert "not a regular file" in said.output


def test_only_files_of_the_folder_itself_are_taken_for_those_of_an_earlier_run(tmp_path: Path) -> None:
    out = tmp_path / "out"
    (out / "sub").mkdir(parents=True)
    for place in (out / "pairs.csv", out / "sub" / "kept.csv", tmp_path / "kept.csv"):
        place.write_text("kept")
    told = ["pairs.csv", "../kept.csv", "sub/kept.csv", str(tmp_path / "kept.csv"), "gone.csv", "sub", "", 5, None]
    (out / "run.json").write_text(json.dumps({"files": told}))
    assert earlier_files(out) == [out / "pairs.csv"]
    for content in ("{", "[]", '"x"', "null"):
        (out / "run.json").write_text(content)
        assert earlier_files(out) == []
