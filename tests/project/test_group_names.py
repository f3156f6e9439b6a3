# SPDX-License-Identifier: GPL-3.0-or-later

from pathlib import Path

import numpy as np
import pytest

from jagged_lens.lens import Recipe
from jagged_lens.project import GroupName, followed
from jagged_lens.project.group_names import renamed
from jagged_lens.project.plain_state import plain, state_from
from jagged_lens.project.state import LensState, OwnLabel, ProjectState


def named(name: str, *keys: str) -> GroupName:
    return GroupName(name, "", frozenset(keys))


PLACES = {key: at for at, key in enumerate("abcdefgh")}


def test_each_name_goes_to_the_group_with_the_best_overlap_and_each_group_has_one() -> None:
    group = np.array([0, 0, 0, 1, 1, 1, -1, 2])
    found = followed(
        [named("Kale", "a", "b"), named("Peas", "a", "b", "c"), named("Beets", "d", "e", "f")], group, 3, PLACES
    )
    assert {at: one.name for at, one in found.of.items()} == {0: "Peas", 1: "Beets"}
    assert [one.name for one in found.waiting] == ["Kale"]


@pytest.mark.parametrize(("keys", "fits"), [("abx", True), ("abxyz", False), ("ab", True), ("adg", False), ("", False)])
def test_half_of_both_must_be_the_same(keys: str, fits: bool) -> None:
    found = followed([named("Kale", *keys)], np.array([0, 0, 0, 1, 1, 1, -1, 2]), 3, PLACES)
    assert bool(found.of) == fits
    assert bool(found.waiting) != fits


def test_a_name_is_replaced_and_goes_where_it_is_empty() -> None:
    kale, peas = named("Kale", "a"), named("Peas", "b")
    assert renamed([kale, peas], kale, named("Cabbage", "a")) == (peas, named("Cabbage", "a"))
    assert renamed([kale], kale, named("", "a")) == ()
    assert renamed([kale], None, GroupName("", "a note", frozenset("c")))[1].note == "a note"


def test_groups_become_a_label_whose_values_are_renamed_merged_and_kept(tmp_path: Path) -> None:
    state: ProjectState = ProjectState((LensState("Lens", Recipe()),), 0, tmp_path).with_label("beds", ["z"], "old")
    state = state.with_groups_as_label("beds", [("b", "Kale"), ("a", "Peas"), ("c", "Kale")])
    assert state.labels == (OwnLabel("beds", (("a", "Peas"), ("b", "Kale"), ("c", "Kale"))),)
    assert (state.recipe.group.by, state.recipe.group.label) == ("label", "beds")
    merged = state.with_value_renamed("beds", "Kale", "Peas")
    assert set(dict(merged.labels[0].values).values()) == {"Peas"}
    assert state.with_value_renamed("beds", "Kale", "Cabbage").labels[0].values[1] == ("b", "Cabbage")
    kept = merged.with_group_named(None, GroupName("Dry", "a note", frozenset("ab")))
    assert state_from(plain(kept), tmp_path / "x.jagged") == kept
