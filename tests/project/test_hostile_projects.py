# SPDX-License-Identifier: GPL-3.0-or-later
"""Project files that were damaged or made up, files that vanish or are replaced, locks that are removed, saving that fails."""

from __future__ import annotations

import json
import os
import sqlite3
import threading
import time
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Source
from jagged_lens.lens import Job
from jagged_lens.project import (
    Bench,
    Keeper,
    OwnLabel,
    ProjectError,
    ProjectFile,
    Reading,
    create,
    opened,
)
from jagged_lens.project import keeper as keeper_module
from jagged_lens.project.lock import Lock
from jagged_lens.project.plain_state import plain, state_from
from project.test_file import full_corpus, full_state


@pytest.fixture
def project(tmp_path: Path) -> ProjectFile:
    create(tmp_path / "p.jagged")
    file = ProjectFile(tmp_path / "p.jagged")
    file.save(plain(full_state()), {"step": "map"})
    file.keep_documents("stamp", full_state().sources[0], full_corpus())
    file.keep_result("key", "pairs", b"content")
    return file


def change(file: ProjectFile, *statements: str) -> None:
    connection = sqlite3.connect(file.path)
    for statement in statements:
        connection.execute(statement)
    connection.commit()
    connection.close()


@pytest.mark.parametrize(
    "statements",
    [
        (
            "drop table window",
            "create view window as with recursive r(x) as (select 1 union all select x from r) select * from r",
        ),
        ("create trigger t after update on state begin delete from documents; end",),
        ("create table more (x)",),
        ("drop table pages",),
        ("drop index documents_of",),
        ("alter table documents add column more",),
    ],
)
def test_what_no_project_holds_is_refused_before_it_is_read(project: ProjectFile, statements: tuple[str, ...]) -> None:
    change(project, *statements)
    with pytest.raises(ProjectError, match="damaged"):
        opened(project.path)


def deep(depth: int = 100_000) -> str:
    return "[" * depth + "]" * depth


@pytest.mark.parametrize("content", ["deep", "null", "[]", '"text"', "{", '{"lenses": 1e999}', "{}"])
def test_a_state_that_is_none_is_said(project: ProjectFile, content: str) -> None:
    text = deep() if content == "deep" else content
    change(project, f"update state set content = '{text}'")
    if content == "null":  # nothing was saved yet
        assert opened(project.path).sources == ()
        return
    with pytest.raises(ProjectError, match="damaged"):
        opened(project.path)


@pytest.mark.parametrize(
    ("path", "value"),
    [
        (("active",), float("inf")),
        (("active",), True),
        (("active",), "0"),
        (("active",), 99),
        (("folder",), 5),
        (("lenses", 0, "name"), ["a list"]),
        (("lenses", 0, "recipe"), None),
        (("lenses",), {"a": 1}),
        (("labels", 0, "name"), None),
        (("labels", 0, "values"), [["key", 5]]),
        (("labels", 0, "values"), [["key"]]),
        (("kept", 0, "keys"), [1, 2]),
        (("aside",), [[None, "x"]]),
        (("taken", 0, "stamp"), 7),
        (("refused",), [{}]),
    ],
)
def test_a_state_with_a_wrong_value_is_said(tmp_path: Path, path: tuple[Any, ...], value: object) -> None:
    content = json.loads(json.dumps(plain(full_state())))
    place = content
    for step in path[:-1]:
        place = place[step]
    place[path[-1]] = value
    with pytest.raises(ProjectError, match="damaged"):
        state_from(json.loads(json.dumps(content)), tmp_path / "p.jagged")


@pytest.mark.parametrize(
    "statement",
    [
        "update documents set labels = '[5]'",
        "update documents set labels = '[[1]]'",
        "update documents set labels = 'null'",
        f"update documents set labels = '{deep()}'",
        "update documents set numbers = '[\"x\"]'",
        "update documents set numbers = '[true]'",
        "update documents set date = '9999999-99-99'",
        "update documents set text = x'00ff'",
        "update snapshots set labels = '[1]'",
        'update snapshots set unread = \'[{"name": 1, "reason": 2}]\'',
        "update snapshots set pages = '[5]'",
    ],
)
def test_documents_that_are_none_are_said(project: ProjectFile, statement: str) -> None:
    change(project, statement)
    with pytest.raises(ProjectError, match="damaged"):
        project.documents("stamp")


def test_flipped_bytes_are_refused_or_read(project: ProjectFile) -> None:
    whole = project.path.read_bytes()
    random = np.random.default_rng(1)
    refused = 0
    for _ in range(60):
        spoiled = bytearray(whole)
        for at in random.integers(100, len(whole), 30):
            spoiled[at] ^= int(random.integers(1, 256))
        project.path.write_bytes(spoiled)
        try:
            opened(project.path)
            project.documents("stamp")
            project.result("key")
        except JaggedLensError:
            refused += 1
    assert 5 < refused <= 60


# Locks.


def test_a_project_is_one_whatever_links_lead_to_it(project: ProjectFile, tmp_path: Path) -> None:
    (tmp_path / "link.jagged").symlink_to(project.path)
    lock = Lock(project.path)
    with pytest.raises(ProjectError, match="open in another window"):
        Lock(tmp_path / "link.jagged")
    lock.release()
    Lock(tmp_path / "link.jagged").release()


def test_a_lock_whose_file_is_removed_while_another_waits_for_it(
    project: ProjectFile, monkeypatch: pytest.MonkeyPatch
) -> None:
    first = Lock(project.path)
    file_module = __import__("jagged_lens.project.lock", fromlist=["fcntl"])
    real = file_module.fcntl.flock

    def released_just_before(file: Any, how: int) -> None:
        monkeypatch.setattr(file_module.fcntl, "flock", real)
        first.release()
        real(file, how)

    monkeypatch.setattr(file_module.fcntl, "flock", released_just_before)
    second = Lock(project.path)
    with pytest.raises(ProjectError, match="open in another window"):
        Lock(project.path)
    second.release()


# The keeper.


def test_an_error_that_nobody_foresaw_is_told_and_saving_goes_on(tmp_path: Path) -> None:
    keeper = Keeper.unnamed(tmp_path)
    keeper.save(lambda: {"number": np.int64(3)})
    assert not keeper.flush(5)
    assert "internal error" in keeper.failure
    keeper.save(lambda: {"number": 3})
    assert keeper.flush(8)
    assert keeper.file.state() == {"number": 3}
    assert keeper.failure == ""
    keeper.close(worth_keeping=False)


def test_a_file_that_stands_in_the_place_of_the_project_is_left_alone(tmp_path: Path) -> None:
    create(tmp_path / "p.jagged")
    keeper = Keeper(tmp_path / "p.jagged", True)
    create(tmp_path / "other.jagged")
    ProjectFile(tmp_path / "other.jagged").save({"mine": 1})
    os.replace(tmp_path / "other.jagged", tmp_path / "p.jagged")
    keeper.save(lambda: {"yours": 1})
    assert not keeper.flush(5)
    assert "was replaced" in keeper.failure
    keeper.close()
    assert ProjectFile(tmp_path / "p.jagged").state() == {"mine": 1}


@pytest.mark.parametrize("how", ["deleted", "replaced", "damaged"])
def test_save_as_saves_what_is_known_where_the_file_is_gone(tmp_path: Path, how: str) -> None:
    create(tmp_path / "p.jagged")
    state = full_state()
    bench = Bench(state, _Nobody(), Keeper(tmp_path / "p.jagged", True))
    corpus = full_corpus()
    bench.results["corpus"] = __import__("dataclasses").replace(
        corpus, source=np.zeros(3, np.int32), counts=(3, 0), stamps=("stamp", "")
    )
    if how == "deleted":
        (tmp_path / "p.jagged").unlink()
    else:
        (tmp_path / "new").write_bytes(b"" if how == "replaced" else (tmp_path / "p.jagged").read_bytes()[:100])
        os.replace(tmp_path / "new", tmp_path / "p.jagged")
    bench.save_as(tmp_path / "q.jagged")
    assert bench.keeper is not None
    assert bench.keeper.flush(120)
    saved = ProjectFile(tmp_path / "q.jagged")
    saved.verify()
    found = saved.documents("stamp")
    assert found is not None
    assert list(found.texts) == list(corpus.texts)
    assert [found.date(row) for row in range(3)] == [corpus.date(row) for row in range(3)]
    assert opened(saved.path).lens.name == state.lens.name
    bench.leave()


def test_a_project_that_vanishes_between_two_looks_is_none(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for number in range(3):
        create(tmp_path / f"{number}.jagged")
    real = Path.glob

    def vanishing(self: Path, pattern: str) -> list[Path]:
        found = sorted(real(self, pattern))
        found[0].unlink()
        return found

    monkeypatch.setattr(Path, "glob", vanishing)
    assert len(keeper_module.left_over_candidates(tmp_path)) == 2


def test_a_save_that_takes_long_keeps_nobody_waiting(tmp_path: Path) -> None:
    keeper = Keeper.unnamed(tmp_path)
    held = threading.Event()
    keeper.save(lambda: {"waited": held.wait(600)})
    begin = time.monotonic()
    assert not keeper.flush(0.5)
    assert time.monotonic() - begin < 60
    held.set()
    assert keeper.flush(120)
    keeper.close(worth_keeping=False)


# What is given up, and what a run leaves alone.


def test_giving_up_documents_can_be_broken_off_and_gone_on_with(project: ProjectFile) -> None:
    source = Source(file="a.csv")
    for number in range(3):
        project.keep_documents(f"old {number}", source, full_corpus())
    assert not project.prune({"stamp"}, seconds=-1)
    assert project.documents("old 0") is None
    assert project.documents("stamp") is not None
    project.keep_documents("new", source, full_corpus())  # under a number that may be that of one given up
    found = project.documents("new")
    assert found is not None
    assert len(found) == 3
    assert project.prune({"stamp", "new"})
    connection = sqlite3.connect(project.path)
    assert connection.execute("select count(*) from documents").fetchone() == (6,)
    connection.close()


def test_a_result_that_is_used_is_not_the_oldest(project: ProjectFile) -> None:
    change(project, "update results set used = '2020-01-01T00:00:00+00:00'")
    assert project.result("key") == b"content"
    connection = sqlite3.connect(project.path)
    assert connection.execute("select used from results").fetchone()[0] > "2021"
    connection.close()
    change(project, "update results set content = 5")
    assert project.result("key") is None


def test_a_run_only_reads_the_project(project: ProjectFile) -> None:
    before = project.path.read_bytes()
    reading = Reading(project.path)
    assert reading.documents("stamp") is not None
    reading.keep_documents("more", Source(file="a.csv"), full_corpus())
    reading.keep_result("more", "pairs", b"x")
    assert project.path.read_bytes() == before


# The bench.


class _Nobody:
    """A worker that is asked, and never answers."""

    busy = False

    def __init__(self) -> None:
        self.asked: list[Job] = []

    def ask(self, job: Job, wanted: tuple[str, ...] | None = None) -> int:
        self.asked.append(job)
        return len(self.asked)


def test_labels_of_ones_own_are_made_once(monkeypatch: pytest.MonkeyPatch) -> None:
    state = full_state()
    bench = Bench(state, _Nobody())
    bench.results["corpus"] = full_corpus()
    labels = bench.documents.labels()
    assert bench.documents.labels() is labels
    assert [label.name for label in labels] == ["crop", "mine"]
    bench.change(state.with_label("mine", ["d2"], "no"), "label")
    assert bench.documents.labels()[1].value(1) == "no"
    bench.results["corpus"] = full_corpus()
    assert bench.documents.labels() is not labels
    assert isinstance(state.labels[0], OwnLabel)


def test_a_corrected_password_asks_again() -> None:
    source = Source(database="postgresql://reader@host/name", table="t")
    state = full_state()
    bench = Bench(state.with_sources((*state.sources, source)), _Nobody())
    told: list[str] = []
    bench.state_changed.subscribe(lambda: told.append("changed"))
    bench.passwords[source.database] = "right"
    bench.change_source(2, source)
    worker = bench.queue._worker
    assert isinstance(worker, _Nobody)
    assert len(worker.asked) == 1
    assert dict(worker.asked[0].passwords) == {source.database: "right"}
    assert "right" not in repr(worker.asked[0])


def test_the_key_of_a_failed_source_depends_on_the_password_and_tells_nothing() -> None:
    def job(password: str) -> Job:
        return Job(full_state().recipe, Path("/"), passwords=(("a", password),))

    assert job("one").secret == job("one").secret != job("two").secret
    assert "one" not in job("one").secret
