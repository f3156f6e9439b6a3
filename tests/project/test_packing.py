# SPDX-License-Identifier: GPL-3.0-or-later
"""A project packed for a colleague: what is kept is whole, what is not is nowhere in the file."""

from __future__ import annotations

import dataclasses
from pathlib import Path

import numpy as np
import pytest

from conftest import Silent
from jagged_lens.demo import demo_recipe
from jagged_lens.lens import CORPUS, GROUPING, Recent, compute, with_needs
from jagged_lens.project import (
    PACKED,
    Decision,
    Finding,
    Keeper,
    ProjectError,
    ProjectFile,
    ProjectState,
    Quote,
    Way,
    Words,
    job_at,
    opened,
    pack,
    said_without,
)
from jagged_lens.project.plain_state import with_pictures

SECRET = "a sentence that only stands in the texts"
PARTS = tuple(PACKED)


@pytest.fixture
def project(tmp_path: Path) -> tuple[ProjectFile, ProjectState]:
    """A project of its own table, which has read its documents."""
    folder = tmp_path / "secret place"
    folder.mkdir()
    (folder / "notes.csv").write_text("note\n" + "\n".join(f"{SECRET} slugs frost {at % 3} leeks" for at in range(12)))
    state = opened(folder / "notes.csv")
    keeper = Keeper(folder / "p.jagged", True, new=True)
    job = dataclasses.replace(job_at(demo_recipe(), None)[0], recipe=state.recipe, folder=folder, store=keeper.file)
    found = compute(job, Recent(), Silent(), lambda: with_needs([CORPUS]))
    finding = Finding(
        1, "Slugs", "mine", "2026-12-01", "x", state.recipe, Way("map"), quotes=(Quote("n", ((SECRET, ""),)),)
    )
    state = state.with_stamps(dict(zip(state.sources, found[CORPUS].stamps, strict=True)))
    state = state.with_entry(finding).with_entry(Words(2, "a note of mine")).with_label("mine", ["1"], "yes")
    state = state.with_decisions([Decision("1", "2", "first")]).set_aside(["3"], "because")
    keeper.save(lambda: with_pictures(state))
    assert keeper.flush()
    keeper.close()
    return ProjectFile(folder / "p.jagged"), state


def everything_in(path: Path) -> bytes:
    return path.read_bytes()


def test_a_whole_project_opens_without_its_sources(project: tuple[ProjectFile, ProjectState], tmp_path: Path) -> None:
    file, state = project
    pack(file, state, tmp_path / "new.jagged", PARTS)
    (file.path.parent / "notes.csv").unlink()
    packed = opened(tmp_path / "new.jagged")
    assert packed.without == ()
    assert packed.report == state.report
    assert packed.decisions == state.decisions
    assert packed.aside == state.aside
    assert packed.labels == state.labels
    assert packed.folder == tmp_path
    job, _ = job_at(tmp_path / "new.jagged", None)
    found = compute(job, Recent(), Silent(), lambda: with_needs([CORPUS, GROUPING]))
    assert len(found[CORPUS]) == 12
    assert np.all(found[GROUPING].group >= -1)
    ProjectFile(tmp_path / "new.jagged").verify()
    assert b"secret place" not in everything_in(tmp_path / "new.jagged")


def test_what_is_left_out_is_nowhere_in_the_file(project: tuple[ProjectFile, ProjectState], tmp_path: Path) -> None:
    file, state = project
    path = tmp_path / "new.jagged"
    assert SECRET.encode() in everything_in(file.path)
    pack(file, state, path, ["web pages", "decisions", "notes"])
    assert SECRET.encode() not in everything_in(path)
    packed = opened(path)
    assert packed.without == ("texts",)
    assert [entry.number for entry in packed.report] == [1, 2]
    assert said_without(packed.without) == "This project was packed without texts."

    pack(file, state, path, ["texts"])
    packed = opened(path)
    assert packed.without == ("web pages", "decisions", "notes")
    assert (packed.report, packed.labels, packed.decisions, packed.aside) == ((), (), (), ())
    assert b"a note of mine" not in everything_in(path)
    assert SECRET.encode() in everything_in(path)


def test_settings_are_always_in_it(project: tuple[ProjectFile, ProjectState], tmp_path: Path) -> None:
    file, state = project
    state = state.with_recipe(state.recipe.with_setting("group", "groups", 7))
    pack(file, state, tmp_path / "new.jagged", ())
    assert opened(tmp_path / "new.jagged").recipe.group.groups == 7


def test_what_was_there_stays_where_it_cannot_be_written(
    project: tuple[ProjectFile, ProjectState], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    file, state = project
    path = tmp_path / "new.jagged"
    path.write_text("before")
    monkeypatch.setattr("os.replace", lambda *_: (_ for _ in ()).throw(OSError(28, "No space left on device")))
    with pytest.raises(ProjectError, match="no space left"):
        pack(file, state, path, PARTS)
    assert path.read_text() == "before"
    assert sorted(one.name for one in tmp_path.iterdir()) == ["new.jagged", "secret place"]
