# SPDX-License-Identifier: GPL-3.0-or-later
"""Findings: kept whole in a project, put in order, undone, and read with care."""

from __future__ import annotations

import dataclasses
import json
import sqlite3
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jagged_lens.demo import demo_recipe
from jagged_lens.lens import read_recipe
from jagged_lens.project import (
    Drawing,
    Entry,
    Finding,
    Heading,
    History,
    ProjectError,
    ProjectFile,
    ProjectState,
    Quote,
    Rows,
    Way,
    Words,
    changed_figures,
    create,
    next_number,
    opened,
    worded,
)
from jagged_lens.project.findings import moved
from jagged_lens.project.plain_state import state_from, with_pictures

SVG = "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 4 4'><text>späte Beete</text></svg>"
PNG = b"\x89PNG\r\n\x1a\n and so on"


def finding(number: int = 1, **changes: Any) -> Finding:
    made = Finding(
        number,
        "Group A, beans: 69 documents",
        "Look again.",
        "2026-12-01",
        "Crops",
        read_recipe(demo_recipe()),
        Way("group", "Groups", ("LM-0001",), ("LM-0001", "LM-0002"), "LM-0002", ("frost",)),
        (("documents in the group", "69"),),
        Drawing(svg=SVG),
        Rows("Members", ("Key", "Words"), (("LM-0001", "12"), ("LM-0002", "")), 69),
        (Quote("Beans", (("late ", ""), ("frost", "shared"), (" again", "differs"))),),
    )
    return dataclasses.replace(made, **changes)


def full_state() -> ProjectState:
    state = opened(demo_recipe())
    for entry in (
        Heading(1, "What is there"),
        finding(2),
        Words(3, "Two\nlines"),
        finding(4, drawing=Drawing(png=PNG)),
    ):
        state = state.with_entry(entry)
    return state


@pytest.fixture
def file(tmp_path: Path) -> ProjectFile:
    create(tmp_path / "p.jagged")
    return ProjectFile(tmp_path / "p.jagged")


def pictures_in(file: ProjectFile) -> int:
    with sqlite3.connect(file.path) as connection:
        count: int = connection.execute("SELECT count(*) FROM pictures").fetchone()[0]
    return count


def test_a_project_keeps_findings_whole(file: ProjectFile) -> None:
    state = full_state()
    file.save(with_pictures(state))
    file.verify()
    content = file.state()
    assert content is not None
    assert state_from(content, file.path).report == state.report


def test_each_picture_is_in_the_file_once_and_goes_with_its_finding(file: ProjectFile) -> None:
    state = full_state().with_entry(finding(5))  # its picture is there already
    file.save(with_pictures(state))
    assert pictures_in(file) == 2
    with sqlite3.connect(file.path) as connection:
        assert SVG not in connection.execute("SELECT content FROM state").fetchone()[0]
    file.save(with_pictures(state.without_entry(4)))
    assert pictures_in(file) == 1
    file.save(with_pictures(state.without_entry(4).without_entry(2).without_entry(5)))
    assert pictures_in(file) == 0


def test_a_project_without_findings_stays_one_that_older_versions_read(file: ProjectFile) -> None:
    def version() -> int:
        with sqlite3.connect(file.path) as connection:
            number: int = connection.execute("PRAGMA user_version").fetchone()[0]
        return number

    file.save(with_pictures(opened(demo_recipe())))
    assert version() == 1
    file.save(with_pictures(full_state()))
    assert version() == 2


def test_a_damaged_picture_takes_no_finding_with_it(file: ProjectFile) -> None:
    file.save(with_pictures(full_state()))
    with sqlite3.connect(file.path) as connection:
        connection.execute("UPDATE pictures SET content = ?", (b"not compressed",))
    content = file.state()
    assert content is not None
    report = state_from(content, file.path).report
    assert [entry.number for entry in report] == [1, 2, 3, 4]
    assert all(entry.drawing is None for entry in report if isinstance(entry, Finding))


@pytest.mark.parametrize(
    ("name", "value"),
    [
        ("title", 3),
        ("day", "tomorrow"),
        ("recipe", {"group": {"groups": -1}}),
        ("way", {}),
        ("figures", [["one"]]),
        ("rows", {"caption": "x", "heads": ["a"], "rows": [["b", "c"]], "of": 1}),
        ("quotes", [{"title": "x", "runs": [["text", "blink"]]}]),
        ("number", True),
        ("number", -1),
        ("picture", 5),
    ],
)
def test_what_is_no_finding_is_said_to_be_damaged(file: ProjectFile, name: str, value: object) -> None:
    content = json.loads(json.dumps({**with_pictures(full_state()), "pictures": None}))
    content["report"][1][name] = value
    with pytest.raises(ProjectError, match="damaged"):
        state_from({**content, "pictures": {}}, file.path)


def test_two_entries_of_one_number_are_said_to_be_damaged(file: ProjectFile) -> None:
    content = with_pictures(full_state())
    content["report"].append({"number": 1, "heading": "again"})
    with pytest.raises(ProjectError, match="damaged"):
        state_from(content, file.path)


def test_each_change_is_undone() -> None:
    history = History(full_state())
    before = history.state
    for change in (
        before.with_entry_moved(4, 0),
        before.with_entry_changed(worded(before.report[0], "Copies")),
        before.without_entry(3),
        before.with_entry(Heading(9, "New"), 1),
    ):
        assert history.change(change, "report")
        assert history.state.report != before.report
        assert history.undo()
        assert history.state == before


def test_findings_follow_the_name_of_their_lens() -> None:
    state = full_state().renamed("By crop")
    assert [entry.lens for entry in state.findings] == ["By crop", "By crop"]
    assert state.chosen(1).renamed("Other").findings == state.findings


def test_a_title_of_the_users_own_is_known_as_such() -> None:
    own = worded(finding(), "Beans come early")
    assert isinstance(own, Finding)
    assert own.named
    assert own.title == "Beans come early"
    assert not finding().noted("another").named


@given(st.permutations(range(1, 7)), st.integers(0, 5), st.integers(-2, 9))
def test_moving_keeps_all_others_in_their_order(numbers: list[int], which: int, to: int) -> None:
    entries: tuple[Entry, ...] = tuple(Words(number, "x") for number in numbers)
    found = [entry.number for entry in moved(entries, numbers[which], to)]
    assert sorted(found) == sorted(numbers)
    assert found[min(max(to, 0), 5)] == numbers[which]
    assert [one for one in found if one != numbers[which]] == [one for one in numbers if one != numbers[which]]


def test_numbers_are_never_given_twice() -> None:
    state = full_state()
    assert next_number(state.report) == 5
    assert next_number(()) == 1


def test_only_figures_that_are_others_now_are_told() -> None:
    then = (("documents", "69"), ("similarity", "0.058"), ("gone", "1"))
    assert changed_figures(then, {"documents": "71", "similarity": "0.058", "new": "2"}) == [("documents", "69", "71")]
