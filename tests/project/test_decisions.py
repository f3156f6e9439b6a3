# SPDX-License-Identifier: GPL-3.0-or-later
"""Decisions on pairs of keys: replaced, never all of a family, kept as plain values, and how each stands."""

from pathlib import Path

import pytest

from jagged_lens.lens import Recipe
from jagged_lens.project import (
    BOTH,
    FIRST,
    LATER,
    SECOND,
    Decision,
    LensState,
    ProjectError,
    ProjectState,
    dropped,
    going,
    gone_of,
    standing,
    state_of,
)
from jagged_lens.project.plain_state import plain, state_from


def state(*decisions: Decision) -> ProjectState:
    return ProjectState((LensState("one", Recipe()),), 0, Path("/"), decisions=decisions)


def test_a_newer_decision_takes_the_place_of_that_on_the_same_pair() -> None:
    found = state(Decision("a", "b", FIRST), Decision("a", "c", BOTH)).with_decisions([Decision("b", "a", LATER)])
    assert found.decisions == (Decision("a", "c", BOTH), Decision("b", "a", LATER))
    assert found.without_decisions([frozenset("ab")]).decisions == (Decision("a", "c", BOTH),)


def test_what_goes_and_what_stays_for_it() -> None:
    assert dropped([Decision("a", "b", FIRST), Decision("c", "d", SECOND)]) == {"b": "a", "c": "d"}
    assert dropped([Decision("a", "b", BOTH), Decision("a", "b", LATER)]) == {}


def test_of_documents_that_would_all_go_for_each_other_one_stays() -> None:
    ring = [Decision("a", "b", FIRST), Decision("b", "c", FIRST), Decision("c", "a", FIRST)]
    assert going(ring) == {"b": "a", "c": "b"}
    assert dropped(ring) == {"b": "a", "c": "a"}
    assert state(*ring).with_decisions_applied().aside == (("b", "copy of a"), ("c", "copy of a"))


def test_none_goes_for_one_that_is_not_there_to_stay() -> None:
    one = state(Decision("a", "b", FIRST), Decision("b", "c", FIRST))
    assert one.set_aside(["a"], "off topic").with_decisions_applied().aside == (("a", "off topic"), ("c", "copy of b"))
    assert one.with_decisions_applied({"b", "c"}).aside == (("c", "copy of b"),)
    assert one.with_decisions_applied({"a", "c"}).aside == (("b", "copy of a"), ("c", "copy of a"))
    pairs = [Decision("a", "b", FIRST), Decision("a", "c", FIRST)]
    assert state(*pairs).set_aside(["a"], "torn").with_decisions_applied().aside == (("a", "torn"),)
    told = dict(standing(pairs, ["a", "b", "c"], [1, 2], {"a": "torn"}))
    assert set(told.values()) == {"not in this lens"}
    goes = going(pairs, gone_of(pairs, {"a", "b", "c"}, {"a"}))
    assert goes == {}
    assert state_of(pairs[0], {"a": True, "b": True}, goes, {"a"}) == "skipped: the one to keep was set aside"


def test_applying_twice_changes_nothing() -> None:
    once = state(Decision("a", "b", FIRST), Decision("b", "c", FIRST)).with_decisions_applied()
    assert once.with_decisions_applied() == once


def test_applying_leaves_the_reason_of_what_was_set_aside_before() -> None:
    before = state(Decision("a", "b", FIRST)).set_aside(["b"], "torn")
    assert before.with_decisions_applied().aside == (("b", "torn"),)


def test_how_decisions_stand() -> None:
    one = Decision("a", "b", FIRST)
    there, goes = {"a": True, "b": True, "c": False}, {"b": "a"}
    assert state_of(one, there, goes, {}) == "to be applied"
    assert state_of(one, there, goes, {"b": "copy of a"}) == "applied"
    assert state_of(Decision("a", "x", FIRST), there, goes, {}) == "document no longer exists"
    assert state_of(Decision("a", "c", BOTH), there, goes, {}) == "not in this lens"
    assert state_of(Decision("a", "b", BOTH), there, goes, {}) == "noted"
    assert state_of(Decision("c", "b", FIRST), {**there, "c": True}, goes, {}) == "goes anyway"
    assert state_of(Decision("b", "a", FIRST), there, goes, {}).startswith("skipped")


def test_decisions_and_names_of_themes_are_plain_values_and_come_back() -> None:
    before = state(Decision("a", "b", FIRST)).with_theme_named(("slug", "frost"), "Trouble")
    content = plain(before)
    again = state_from(content, Path("/p.jagged"))
    assert again.decisions == before.decisions
    assert again.themes == before.themes
    del content["decisions"], content["themes"]  # of a project of before
    assert state_from(content, Path("/p.jagged")).decisions == ()


@pytest.mark.parametrize("wrong", [["a", "b", "third"], ["a", "a", "first"], ["a", "b"], "abc", ["a", "b", 1]])
def test_a_decision_that_is_none_is_refused(wrong: object) -> None:
    content = plain(state())
    content["decisions"] = [wrong]
    with pytest.raises(ProjectError, match="damaged"):
        state_from(content, Path("/p.jagged"))
