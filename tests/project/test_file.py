# SPDX-License-Identifier: GPL-3.0-or-later

from __future__ import annotations

import dataclasses
import json
import os
import sqlite3
import subprocess
import sys
import textwrap
import time
from pathlib import Path

import numpy as np
import pytest

from conftest import corpus_of
from jagged_lens.demo import demo_recipe
from jagged_lens.gather import NO_DATE, Corpus, Number, Page, Source, Unread
from jagged_lens.lens import read_recipe
from jagged_lens.project import (
    Keeper,
    LensState,
    ProjectError,
    ProjectFile,
    ProjectState,
    crashed_projects,
    create,
    left_over,
    opened,
)
from jagged_lens.project.plain_state import plain, state_from
from jagged_lens.project.schema import VERSION


def full_state() -> ProjectState:
    state = opened(demo_recipe())
    state = state.with_sources((*state.sources, Source(pasted="Späte Notiz \ud800", cut="line")))
    state = state.with_kept("slugs", ["LM-0001", "LM-0002"]).with_label("mine", ["LM-0003"], "yes")
    return state.set_aside(["LM-0004"], "empty").with_stamps({state.sources[0]: "stamp"}).chosen(1)


def full_corpus() -> Corpus:
    made = corpus_of("Slugs = 1", "", "Frost über dem Moor", labels={"crop": ["bean", "", "bean"]})
    return dataclasses.replace(
        made,
        dates=np.array([0, NO_DATE, 18750], np.int32),
        numbers=(Number("weight", np.array([1.5, np.nan, -2.0])),),
        unread=(Unread("a\nb.pdf", "it is damaged"),),
        pages=(Page("http://a", "http://b", 200, "text/html", 5, "", "2026-01-02"),),
        notices=("a note",),
    )


@pytest.fixture
def file(tmp_path: Path) -> ProjectFile:
    create(tmp_path / "p.jagged")
    return ProjectFile(tmp_path / "p.jagged")


def test_a_state_comes_back_as_it_was(file: ProjectFile) -> None:
    state = full_state()
    file.save(plain(state), {"step": "terms"})
    content = file.state()
    assert content is not None
    assert state_from(content, file.path) == state
    assert opened(file.path) == state
    assert file.window() == {"step": "terms"}


def test_documents_come_back_as_they_were(file: ProjectFile) -> None:
    corpus = full_corpus()
    file.keep_documents("s", Source(file="a"), corpus)
    found = file.documents("s")
    assert found is not None
    for name in ("keys", "texts", "titles", "origins", "notices", "unread", "pages"):
        assert getattr(found, name) == getattr(corpus, name), name
    assert found.dates.tolist() == corpus.dates.tolist()
    assert np.array_equal(found.numbers[0].values, corpus.numbers[0].values, equal_nan=True)
    assert [found.labels[0].value(row) for row in range(3)] == ["bean", "", "bean"]
    assert file.documents("other") is None
    file.keep_documents("s", Source(file="a"), corpus_of("new"))
    assert len(file.documents("s") or ()) == 1


def test_what_no_state_needs_is_given_up(file: ProjectFile) -> None:
    page = Page("http://a", "http://b", 200, "text/html", 5, "", "2026-01-02")
    for address in ("http://a", "http://old"):
        file.keep_page(dataclasses.replace(page, address=address), b"words" * 50_000)
    file.keep_documents("old", Source(file="a"), corpus_of(*["slugs " * 1000] * 50))
    file.keep_documents("new", Source(file="a"), full_corpus())
    size = file.path.stat().st_size
    file.prune({"new"})
    assert file.documents("old") is None
    assert file.documents("new") is not None
    assert file.page("http://a") == (page, b"words" * 50_000)
    assert file.page("http://old") is None
    assert file.path.stat().st_size < size / 2


def test_the_folder_of_the_project_stands_in_for_one_that_is_gone(file: ProjectFile, tmp_path: Path) -> None:
    state = dataclasses.replace(full_state(), folder=tmp_path / "gone")
    assert state_from(plain(state), file.path).folder == tmp_path


def _newer(path: Path) -> None:
    with sqlite3.connect(path) as connection:
        connection.execute(f"PRAGMA user_version = {VERSION + 1}")


def _other(path: Path) -> None:
    with sqlite3.connect(path) as connection:
        connection.execute("PRAGMA application_id = 7")


def _state(path: Path, content: str) -> None:
    with sqlite3.connect(path) as connection:
        connection.execute("INSERT OR REPLACE INTO state VALUES (1, '', '', ?)", (content,))


def _hole(path: Path) -> None:
    data = bytearray(path.read_bytes())
    data[4096:8192] = b"\xaa" * 4096
    path.write_bytes(data)


@pytest.mark.parametrize(
    ("harm", "words"),
    [
        (_newer, "written by a newer version"),
        (_other, "not a Jagged Lens project"),
        (lambda path: path.write_bytes(b""), "not a Jagged Lens project, or it is damaged"),
        (lambda path: path.write_bytes(b"[gather]\n" * 100), "not a Jagged Lens project"),
        (lambda path: path.write_bytes(path.read_bytes()[: path.stat().st_size // 2]), "damaged"),
        (_hole, "damaged"),
        (lambda path: _state(path, "{"), "damaged"),
        (lambda path: _state(path, "[]"), "damaged"),
        (lambda path: _state(path, '{"lenses": []}'), "damaged"),
        (lambda path: _state(path, json.dumps({**plain(full_state()), "active": 7})), "damaged"),
        (lambda path: _state(path, json.dumps(plain(full_state())).replace("stop-words", "no-such-key")), "damaged"),
    ],
)
def test_a_file_that_is_not_ours_to_open_is_refused_and_left_untouched(
    file: ProjectFile, harm: object, words: str
) -> None:
    file.save(plain(full_state()))
    file.keep_documents("s", Source(file="a"), full_corpus())
    harm(file.path)  # type: ignore[operator]
    before = file.path.read_bytes()
    with pytest.raises(ProjectError, match=words):
        opened(file.path)
    assert file.path.read_bytes() == before


def test_a_project_that_is_not_there_is_said(tmp_path: Path) -> None:
    with pytest.raises(ProjectError, match="cannot be read"):
        opened(tmp_path / "gone.jagged")
    (tmp_path / "file").write_text("")
    with pytest.raises(ProjectError, match="cannot be written"):
        create(tmp_path / "file" / "p.jagged")


def test_nothing_is_made_anew_where_a_file_has_vanished(file: ProjectFile) -> None:
    file.path.unlink()
    with pytest.raises(ProjectError, match="cannot be saved"):
        file.save(plain(full_state()))
    assert not file.path.exists()


def test_one_window_holds_a_project_and_another_is_told(tmp_path: Path) -> None:
    create(tmp_path / "p.jagged")
    keeper = Keeper(tmp_path / "p.jagged", True)
    with pytest.raises(ProjectError, match="open in another window"):
        Keeper(tmp_path / "p.jagged", True)
    keeper.close()
    Keeper(tmp_path / "p.jagged", True).close()
    assert [path.name for path in tmp_path.iterdir()] == ["p.jagged"]


def test_the_newest_state_is_saved_and_goes_along_under_another_name(tmp_path: Path) -> None:
    keeper = Keeper.unnamed(tmp_path / "unnamed")
    state = full_state()
    for number in range(20):
        keeper.save(lambda number=number: plain(state.renamed(f"Lens {number}")), {"step": "map"})  # type: ignore[misc]
    assert keeper.flush()
    before = keeper.path
    assert state_from(keeper.file.state() or {}, before).lens.name == "Lens 19"
    keeper.move_to(tmp_path / "named.jagged")
    assert not before.exists()
    keeper.save(lambda: plain(state))
    keeper.close(stamps=set())
    assert opened(tmp_path / "named.jagged") == state
    assert left_over(tmp_path / "unnamed") == []


def test_a_failure_to_save_is_said_and_made_good_later(tmp_path: Path) -> None:
    keeper = Keeper.unnamed(tmp_path)
    away = keeper.path.with_suffix(".away")
    keeper.path.rename(away)
    keeper.save(lambda: plain(full_state()))
    assert not keeper.flush(5)
    assert "cannot be saved" in keeper.failure
    assert not keeper.saved
    away.rename(keeper.path)
    keeper.save(lambda: plain(full_state()))
    deadline = time.monotonic() + 8
    while not keeper.saved and time.monotonic() < deadline:
        time.sleep(0.05)
    assert keeper.saved
    keeper.close(worth_keeping=False)
    assert list(tmp_path.iterdir()) == []


def test_projects_without_a_name_are_found_again_after_a_crash(tmp_path: Path) -> None:
    kept = Keeper.unnamed(tmp_path)
    assert left_over(tmp_path) == []
    kept.close()
    assert left_over(tmp_path) == [kept.path]
    assert crashed_projects(tmp_path) == []
    program = f"""
        import os
        from pathlib import Path
        from jagged_lens.project import Keeper
        keeper = Keeper.unnamed(Path({str(tmp_path)!r}))
        print(keeper.path, flush=True)
        os.kill(os.getpid(), 9)
    """
    done = subprocess.run([sys.executable, "-c", textwrap.dedent(program)], capture_output=True, text=True)
    assert crashed_projects(tmp_path) == [Path(done.stdout.strip())]
    assert crashed_projects(tmp_path) == []  # it is offered once
    assert len(left_over(tmp_path)) == 2


KILLED = """
import os, random, signal, sys, time
from pathlib import Path
from conftest import corpus_of
from jagged_lens.gather import Source
from jagged_lens.project import ProjectFile, create, opened
from jagged_lens.project.plain_state import plain, state_from
path, rounds = Path(sys.argv[1]), int(sys.argv[2])
create(path)
file, state = ProjectFile(path), opened(None)
corpora = [corpus_of(*[f"round {n} " * 200] * 40) for n in range(3)]
chance = random.Random(7)
at_least = -1
for turn in range(rounds):
    reader, writer = os.pipe()
    child = os.fork()
    if not child:
        number = at_least + 1
        while True:
            corpus = corpora[number % 3]
            file.keep_documents(f"s{number % 5}", Source(pasted=str(number)), corpus)
            file.save(plain(state.renamed(f"Lens {number}")), {"number": number})
            os.write(writer, b"%d\\n" % number)
            number += 1
    time.sleep(chance.random() * 0.12)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    os.close(writer)
    said = os.read(reader, 1 << 20).split()
    os.close(reader)
    told = int(said[-1]) if said else at_least
    file.verify()
    content = file.state()
    if content is not None:
        number = file.window()["number"]
        assert state_from(content, path).lens.name == f"Lens {number}"  # state and window are of one moment
        assert told <= number <= told + 1, (told, number)  # what was said to be saved is there
        at_least = number
    for stamp in file.taken():
        assert len(file.documents(stamp)) == 40  # never a part of it
print("rounds", rounds, "saved", at_least)
"""


@pytest.mark.parametrize("kills", [20, pytest.param(100, marks=pytest.mark.long)])
def test_kills_lose_nothing_that_was_saved(tmp_path: Path, kills: int) -> None:
    environment = {**os.environ, "PYTHONPATH": str(Path(__file__).parents[1])}
    command = [sys.executable, "-c", KILLED, str(tmp_path / "p.jagged"), str(kills)]
    done = subprocess.run(command, capture_output=True, text=True, env=environment, timeout=300)
    assert done.returncode == 0, done.stderr
    rounds, saved = done.stdout.split()[1], int(done.stdout.split()[3])
    assert rounds == str(kills)
    assert saved > kills // 5  # the kills did come while something was being saved


def test_a_recipe_and_a_project_keep_the_same_settings(file: ProjectFile) -> None:
    recipe = read_recipe(demo_recipe())
    file.save(plain(ProjectState((LensState("one", recipe),), 0, Path("/"))))
    assert opened(file.path).recipe == recipe
