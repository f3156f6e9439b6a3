# SPDX-License-Identifier: GPL-3.0-or-later
"""What was shown as kept is there: other windows, other names of the same file, clocks that go back, drives that are gone."""

from __future__ import annotations

import dataclasses
import datetime
import os
import shutil
import sqlite3
import stat
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest

from conftest import Silent
from jagged_lens.demo import demo_recipe
from jagged_lens.lens import (
    CORPUS,
    LAID,
    Job,
    Recent,
    compute,
    read_recipe,
)
from jagged_lens.project import (
    Bench,
    Keeper,
    LensState,
    NotWritableError,
    ProjectError,
    ProjectFile,
    ProjectState,
    Reading,
    create,
    opened,
)
from jagged_lens.project import file as file_module
from jagged_lens.project import keeper as keeper_module
from jagged_lens.project import lock as lock_module
from jagged_lens.project.plain_state import plain
from jagged_lens.worker import Worker


@pytest.fixture(scope="module")
def worker() -> Iterator[Worker]:
    worker = Worker()
    yield worker
    worker.close()


@pytest.fixture(autouse=True)
def at_home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))


def until_done(bench: Bench, seconds: float = 60) -> None:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        bench.listen()
        keeper = bench.keeper
        if not bench.working and (keeper is None or keeper.saved or keeper.failure):
            return
        time.sleep(0.02)
    raise AssertionError("it did not come to an end")


FOLDER = demo_recipe().parent
NOTES = "id,text,day\n" + "".join(
    f'{number},"Slugs ate bean {number}. Frost came late.\n\nRain {number} fell.",20{10 + number % 9}-05-01\n'
    for number in range(30)
)


@pytest.mark.parametrize("unit", ["document", "sentence", "paragraph"])
@pytest.mark.parametrize("kept_before", [True, False])
def test_documents_are_saved_elsewhere_where_project_and_source_are_gone(
    tmp_path: Path, worker: Worker, unit: str, kept_before: bool
) -> None:
    drive = tmp_path / "drive"
    drive.mkdir()
    (drive / "n.csv").write_text(NOTES)
    (drive / "r.toml").write_text(
        f'[gather]\nfrom = {{file = "n.csv", key = "id", text = ["text"], date = "day"}}\nunit = "{unit}"\n'
    )
    keeper = None
    if kept_before:
        keeper = Keeper(drive / "p.jagged", True, new=True)
    bench = Bench(opened(drive / "r.toml"), worker, keeper)
    bench.behind.wanted = False
    said: list[str] = []
    bench.trouble.subscribe(lambda words, _: said.append(words))
    bench.compute()
    until_done(bench)
    before = bench.results[CORPUS]
    shutil.rmtree(drive)
    bench.pick.set([1])
    bench.keep_pick("mine")
    bench.save_as(tmp_path / "safe.jagged")
    until_done(bench)
    bench.leave()
    assert not [words for words in said if "are not in it" in words]
    again = Bench(opened(tmp_path / "safe.jagged"), worker, Keeper(tmp_path / "safe.jagged", True))
    again.behind.wanted = False
    again.compute()
    until_done(again)
    after = again.results[CORPUS]
    assert list(after.keys) == list(before.keys)
    assert list(after.texts) == list(before.texts)
    assert [label.name for label in after.labels] == [label.name for label in before.labels] == ["year", "month"]
    assert again.state.kept[0].keys == bench.state.kept[0].keys
    again.leave()


def test_what_of_the_documents_is_not_saved_is_said(tmp_path: Path, worker: Worker) -> None:
    (tmp_path / "n.csv").write_text(NOTES)
    (tmp_path / "r.toml").write_text('[gather]\nfrom = {file = "n.csv", key = "id", text = ["text"]}\n')
    bench = Bench(opened(tmp_path / "r.toml"), worker)
    said: list[str] = []
    bench.trouble.subscribe(lambda words, _: said.append(words))
    bench.save_as(tmp_path / "p.jagged")  # nothing was read yet
    assert said == ["The documents from n.csv are missing from it and are read again."]
    bench.leave()


def test_a_project_that_another_window_has_is_not_emptied_by_saving_over_it(tmp_path: Path, worker: Worker) -> None:
    other = Keeper(tmp_path / "thesis.jagged", True, new=True)
    other.save(lambda: {"work": "of a year"})
    assert other.flush()
    bench = Bench(ProjectState((LensState("one", opened(None).recipe),), 0, tmp_path), worker)
    with pytest.raises(ProjectError, match="open in another window"):
        bench.save_as(tmp_path / "thesis.jagged")
    assert bench.keeper is None
    assert ProjectFile(tmp_path / "thesis.jagged").state() == {"work": "of a year"}
    other.save(lambda: {"work": "of two"})
    assert other.flush()
    other.close()


def test_a_project_is_one_under_every_name(tmp_path: Path) -> None:
    create(tmp_path / "p.jagged")
    os.link(tmp_path / "p.jagged", tmp_path / "hard.jagged")
    os.symlink(tmp_path / "p.jagged", tmp_path / "soft.jagged")
    first = Keeper(tmp_path / "p.jagged", True)
    for name in ("p", "hard", "soft"):
        with pytest.raises(ProjectError, match="open in another window"):
            Keeper(tmp_path / f"{name}.jagged", True)
    # After it is saved elsewhere the old file is free, and the new one is not.
    first.move_to(tmp_path / "q.jagged")
    os.link(tmp_path / "q.jagged", tmp_path / "q2.jagged")
    with pytest.raises(ProjectError, match="open in another window"):
        Keeper(tmp_path / "q2.jagged", True)
    Keeper(tmp_path / "hard.jagged", True).close()
    first.close()
    Keeper(tmp_path / "q2.jagged", True).close()


def test_a_lock_needs_no_folder_of_the_state(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "file").write_text("")
    monkeypatch.setattr(lock_module.platformdirs, "user_state_dir", lambda _: str(tmp_path / "file"))
    create(tmp_path / "p.jagged")
    keeper = Keeper(tmp_path / "p.jagged", True)
    with pytest.raises(ProjectError, match="open in another window"):
        Keeper(tmp_path / "p.jagged", True)
    keeper.close()


def test_a_clock_that_went_back_costs_neither_the_own_project_nor_those_of_today(tmp_path: Path) -> None:
    folder = tmp_path / "unnamed"
    tomorrow = time.time() + 86_400
    for number in range(keeper_module._MOST_UNNAMED):
        create(folder / f"{number:02d}.jagged")
        os.utime(folder / f"{number:02d}.jagged", (tomorrow + number,) * 2)
    today = []
    for _ in range(3):
        keeper = Keeper.unnamed(folder)
        keeper.save(lambda: {"of": "today"})
        assert keeper.flush()
        today.append(keeper.path)
        keeper.close()
    Keeper.unnamed(folder).close()
    assert all(path.exists() for path in today)
    left = {path.name for path in folder.glob("*.jagged")}
    assert "11.jagged" in left  # of those that were newest by their dates the last go last
    assert "00.jagged" not in left


def test_a_result_of_today_is_not_given_up_before_one_of_tomorrow(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(file_module, "MOST_RESULTS", 250)
    create(tmp_path / "p.jagged")
    project = ProjectFile(tmp_path / "p.jagged")
    project.keep_result("tomorrow", "pairs", b"x" * 100)
    tomorrow = datetime.datetime.now(datetime.UTC) + datetime.timedelta(1)
    connection = sqlite3.connect(tmp_path / "p.jagged")
    connection.execute("update results set used = ?", (tomorrow.isoformat(timespec="seconds"),))
    connection.commit()
    connection.close()
    for number in range(2):
        project.keep_result(f"today {number}", "pairs", b"x" * 100)
    assert [project.result(key) is not None for key in ("tomorrow", "today 0", "today 1")] == [False, True, True]
    assert project.result("today 0") is not None  # now the newest
    project.keep_result("last", "pairs", b"x" * 100)
    assert [project.result(f"today {number}") is not None for number in range(2)] == [True, False]
    project.keep_result("too large", "pairs", b"x" * 251)
    assert project.result("last") is not None
    assert project.result("too large") is None


def test_a_project_that_is_read_is_not_written_to(tmp_path: Path) -> None:
    create(tmp_path / "p.jagged")
    ProjectFile(tmp_path / "p.jagged").keep_result("key", "pairs", b"content")
    before = (tmp_path / "p.jagged").read_bytes()
    assert Reading(tmp_path / "p.jagged").result("key") == b"content"
    assert (tmp_path / "p.jagged").read_bytes() == before
    ProjectFile(tmp_path / "p.jagged").result("key")
    assert (tmp_path / "p.jagged").read_bytes() != before


def test_a_project_that_cannot_be_written_to_is_told_from_one_that_is_open_elsewhere(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    create(tmp_path / "p.jagged")
    monkeypatch.setattr(keeper_module.os, "access", lambda path, how: False)
    with pytest.raises(NotWritableError, match="cannot be written to"):
        Keeper(tmp_path / "p.jagged", True)
    monkeypatch.undo()
    Keeper(tmp_path / "p.jagged", True).close()  # it was let go of


def test_a_project_on_a_drive_that_is_gone_is_not_called_damaged(tmp_path: Path) -> None:
    with pytest.raises(ProjectError, match="cannot be read") as wrong:
        ProjectFile(tmp_path / "gone" / "p.jagged").documents("stamp")
    assert "damaged" not in str(wrong.value)
    with pytest.raises(ProjectError, match="cannot be read"):
        ProjectFile(tmp_path / "gone" / "p.jagged").state()


def test_a_map_that_was_ended_early_is_the_same_after_it_is_opened_again(tmp_path: Path) -> None:
    create(tmp_path / "p.jagged")
    recipe = read_recipe(demo_recipe()).with_setting("map", "by", "t-sne")
    job = Job(recipe, FOLDER, store=ProjectFile(tmp_path / "p.jagged"))
    early = compute(job, Recent(), Silent(), enough=lambda part: part is LAID)
    again = Silent()
    later = compute(job, Recent(), again)  # as in another window: nothing is remembered but what is in the project
    assert early[LAID].stopped
    assert later[LAID].rounds == early[LAID].rounds
    assert np.array_equal(later[LAID].positions, early[LAID].positions, equal_nan=True)
    assert "laid" not in again.computed
    whole = compute(dataclasses.replace(job, to_the_end=frozenset(["laid"])), Recent(), Silent())
    assert whole[LAID].rounds == whole[LAID].of
    assert compute(job, Recent(), Silent())[LAID].rounds == whole[LAID].of


def test_the_state_of_a_project_survives_a_lock_file_of_another_time(tmp_path: Path) -> None:
    """What is left of a lock after a crash keeps nobody out."""
    create(tmp_path / "p.jagged")
    ProjectFile(tmp_path / "p.jagged").save(plain(opened(None)))
    (tmp_path / ".p.jagged.lock").write_text("")
    assert stat.S_ISREG((tmp_path / ".p.jagged.lock").stat().st_mode)
    Keeper(tmp_path / "p.jagged", True).close()
    assert not (tmp_path / ".p.jagged.lock").exists()
