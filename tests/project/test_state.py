# SPDX-License-Identifier: GPL-3.0-or-later
"""What the user can change, without a worker and without a window."""

from pathlib import Path

import pytest

from jagged_lens.demo import demo_recipe
from jagged_lens.errors import RecipeError, SourceError
from jagged_lens.gather import Source
from jagged_lens.lens import Recipe
from jagged_lens.project import (
    History,
    LensState,
    OwnLabel,
    Pick,
    ProjectError,
    ProjectState,
    new_sources,
    opened,
    refusal,
)
from jagged_lens.project.plain_state import plain, state_from

PLAIN = ProjectState(
    (LensState("one", Recipe()), LensState("two", Recipe().with_setting("group", "groups", 3))), 0, Path("/")
)


def names(state: ProjectState) -> list[str]:
    return [lens.name for lens in state.lenses]


def test_lenses_are_added_behind_the_one_in_front_and_named_apart() -> None:
    state = PLAIN.with_new_lens(Recipe(), "two")
    assert names(state) == ["one", "two 2", "two"]
    assert state.active == 1
    assert names(state.renamed("one")) == ["one", "one 2", "two"]
    assert names(state.renamed("  fresh   name ")) == ["one", "fresh name", "two"]


def test_the_last_lens_cannot_be_deleted() -> None:
    state = PLAIN.chosen(1).without_lens()
    assert names(state) == ["one"]
    assert state.active == 0
    assert state.without_lens() == state


@pytest.mark.parametrize(
    ("by", "order", "active"), [(1, ["two", "one"], 1), (5, ["two", "one"], 1), (-1, ["one", "two"], 0)]
)
def test_a_lens_is_moved_and_stays_in_front(by: int, order: list[str], active: int) -> None:
    state = PLAIN.moved(by)
    assert names(state) == order
    assert state.active == active


def test_a_kept_pick_replaces_one_of_its_name() -> None:
    state = PLAIN.with_kept("a", ["k1"]).with_kept("b", ["k2"]).with_kept("a", ["k3", "k3"])
    assert {one.name: one.keys for one in state.kept} == {"a": {"k3"}, "b": {"k2"}}
    assert [one.name for one in state.without_kept("b").kept] == ["a"]


def test_own_labels_are_given_changed_and_taken_away() -> None:
    state = PLAIN.with_label("mine", ["k2", "k1"], "odd").with_label("mine", ["k2"], "even")
    assert state.labels == (OwnLabel("mine", (("k1", "odd"), ("k2", "even"))),)
    gone = state.with_label("mine", ["k1", "k2"], "")
    assert gone.labels == ()


def test_documents_are_set_aside_with_a_reason_and_brought_back() -> None:
    state = PLAIN.set_aside(["k2", "k1"], "empty").set_aside(["k2"], "copy")
    assert state.aside == (("k1", "empty"), ("k2", "copy"))
    assert state.brought_back(["k1", "nobody"]).aside == (("k2", "copy"),)


def test_history_goes_back_and_forth_and_forgets_what_was_undone() -> None:
    history = History(PLAIN)
    second, third = PLAIN.renamed("2nd"), PLAIN.renamed("3rd")
    assert history.undo_text is None
    assert not history.undo()
    assert history.change(second, "rename")
    assert not history.change(second, "rename")  # nothing changed
    assert history.change(third, "rename again")
    history.undo()
    assert history.state == second
    assert (history.undo_text, history.redo_text) == ("rename", "rename again")
    history.undo()
    assert history.state == PLAIN
    assert history.redo()
    history.change(PLAIN.renamed("other"), "elsewhere")
    assert history.redo_text is None
    assert not history.redo()


def test_looking_at_another_lens_is_nothing_to_undo() -> None:
    history = History(PLAIN)
    history.look(PLAIN.chosen(1))
    assert history.state.lens.name == "two"
    assert history.undo_text is None


def test_the_pick_goes_back_and_forward() -> None:
    pick = Pick()
    pick.back()
    assert pick.rows == ()
    pick.set([1])
    pick.set([2, 3], reading=3)
    pick.clear()
    pick.back()
    assert (pick.rows, pick.reading) == ((2, 3), 3)
    pick.back()
    assert pick.rows == (1,)
    pick.forward()
    assert pick.rows == (2, 3)
    pick.set([9])
    pick.forward()
    assert pick.rows == (9,)
    pick.set_terms(["late", "frost", "late"])
    pick.clear()
    assert (pick.rows, pick.terms) == ((), ())
    pick.back()
    assert (pick.rows, pick.terms) == ((9,), ("late", "frost"))
    pick.back()
    assert (pick.rows, pick.terms) == ((9,), ())
    pick.forward()
    assert pick.terms == ("late", "frost")
    pick.forget()
    assert (pick.rows, pick.terms) == ((), ("late", "frost"))
    pick.back()
    assert pick.rows == ()


def test_the_demo_is_one_project_with_five_lenses() -> None:
    state = opened(demo_recipe())
    assert names(state) == ["Crops", "Troubles", "Too few groups", "Own rules", "By meaning"]
    assert len({lens.recipe for lens in state.lenses}) == 5
    assert len({lens.recipe.gather for lens in state.lenses}) == 1


def test_a_table_or_nothing_is_opened_with_the_default_recipe(tmp_path: Path) -> None:
    state = opened(tmp_path / "a.csv")
    assert state.recipe.gather.from_ == "a.csv"
    assert state.folder == tmp_path
    assert opened(None).recipe == Recipe()


def test_one_bad_recipe_beside_the_first_is_named(tmp_path: Path) -> None:
    (tmp_path / "r.toml").write_text("# A lens.\n[gather]\nfrom='a.csv'\n")
    assert names(opened(tmp_path / "r.toml")) == ["A lens"]
    (tmp_path / "r.2.toml").write_text("[group]\ngroups = -1\n")
    with pytest.raises(RecipeError, match=r"r\.2\.toml.*groups"):
        opened(tmp_path / "r.toml")


# Suggested values.

TAKEN = [("a", "bean"), ("b", "pea")]


def test_suggestions_that_are_taken_are_a_label_that_remembers_where_they_came_from() -> None:
    state = PLAIN.with_suggestions_taken("crop", TAKEN)
    assert state.labels == (OwnLabel("crop (suggested)", (("a", "bean"), ("b", "pea")), "crop"),)
    more = state.with_suggestions_taken("crop", [("b", "leek"), ("c", "pea")])
    assert more.labels[0].values == (("a", "bean"), ("b", "leek"), ("c", "pea"))
    by_hand = more.with_label("crop (suggested)", ["a"], "beet")
    assert by_hand.labels[0].suggested_from == "crop"
    assert more.with_label("crop (suggested)", ["a", "b", "c"], "").labels == ()


def test_what_is_refused_is_not_taken_and_can_be_taken_after_all() -> None:
    state = PLAIN.with_suggestions_taken("crop", TAKEN).with_suggestions_refused("crop", [("a", "bean")])
    assert state.labels[0].values == (("b", "pea"),)
    assert refusal("crop", "a", "bean") in state.refused
    assert refusal("season", "a", "bean") not in state.refused
    again = state.with_suggestions_taken("crop", [("a", "bean")])
    assert again.refused == frozenset()
    assert dict(again.labels[0].values)["a"] == "bean"
    undecided = state.without_suggestions("crop", TAKEN)
    assert undecided.labels == ()
    assert undecided.refused == frozenset()


def test_suggestions_and_new_documents_come_back_out_of_a_project(tmp_path: Path) -> None:
    state = PLAIN.with_suggestions_taken("crop", TAKEN).with_suggestions_refused("crop", [("c", "pea")])
    state = state.with_placing((Source(file="late"), Source(pasted="one\n\ntwo", cut="blank-line")))
    back = state_from(plain(state), tmp_path / "x.jagged")
    assert back.labels == state.labels
    assert back.refused == state.refused
    assert back.placing == state.placing
    # A project of before knows neither.
    content = plain(PLAIN.with_label("mine", ["a"], "yes"))
    del content["placing"]
    for label in content["labels"]:
        del label["suggested-from"]
    assert state_from(content, tmp_path / "x.jagged").labels == (OwnLabel("mine", (("a", "yes"),)),)


@pytest.mark.parametrize("wrong", ["late", [{"file": 3}], [{"nothing": "x"}], 7])
def test_a_project_whose_new_documents_are_damaged_is_refused(wrong: object, tmp_path: Path) -> None:
    content = {**plain(PLAIN), "placing": wrong}
    with pytest.raises(ProjectError, match="damaged"):
        state_from(content, tmp_path / "x.jagged")


# Where new documents come from.


def test_a_table_with_the_columns_of_a_known_one_is_read_as_that(tmp_path: Path) -> None:
    known = (Source(file="old.csv", text=("note",), title="name", labels=("crop", "year"), key="id"),)
    (tmp_path / "new.csv").write_text("id,note,crop\n1,late frost took all the peas on the moor,pea\n")
    (found,) = new_sources(tmp_path / "new.csv", known)
    assert (found.text, found.key, found.title, found.labels) == (("note",), "id", "", ("crop",))
    (tmp_path / "other.csv").write_text("remark\nlate frost took all the peas on the moor\n")
    (plainly,) = new_sources(tmp_path / "other.csv", known)
    assert plainly == Source(file=str(tmp_path / "other.csv"))
    (folder,) = new_sources(tmp_path, known)
    assert folder.file == str(tmp_path)


def test_a_recipe_names_its_own_sources(tmp_path: Path) -> None:
    (tmp_path / "new.toml").write_text('[gather]\nfrom = "new.csv"\ntext = ["remark"]\n')
    (found,) = new_sources(tmp_path / "new.toml", ())
    assert found == Source(file=str(tmp_path / "new.csv"), text=("remark",))
    with pytest.raises(SourceError):
        new_sources(tmp_path / "nowhere.csv", (Source(file="old.csv", text=("note",)),))
