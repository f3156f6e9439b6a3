# SPDX-License-Identifier: GPL-3.0-or-later

import re

import numpy as np
import pytest

from compare.test_compare import random_counts, space_of
from jagged_lens.export import newick
from jagged_lens.group import Tree, tree_of


def test_a_tree_worked_by_hand_is_written_in_newick_format() -> None:
    joins = np.array([[1, 2, 0.25, 2], [0, 3, 1.0, 3]])
    tree = Tree(joins, np.arange(3, dtype=np.int32), np.array([1, 2, 0], np.int32))
    assert newick(tree, ["plot 1", "leek's", "pea"]) == "(('leek''s':0.25,'pea':0.25):0.75,'plot 1':1.0);\n"


@pytest.mark.parametrize("leaves", [0, 1])
def test_trees_of_next_to_nothing_are_written_too(leaves: int) -> None:
    tree = Tree(np.zeros((0, 4)), np.arange(leaves, dtype=np.int32), np.arange(leaves, dtype=np.int32))
    assert newick(tree, ["a"][:leaves]) == ["", "'a'"][leaves] + ";\n"


def test_leaves_stand_in_their_order_and_as_deep_as_the_root_is_high() -> None:
    tree = tree_of(space_of(random_counts(4, 40)), "ward")
    names = [f"d{at}" for at in range(len(tree))]
    text = newick(tree, names)
    assert re.findall(r"'(d\d+)'", text) == [names[leaf] for leaf in tree.order]
    # A leaf's branches up to the root add up to its height.
    depth: dict[str, float] = {}
    open_lengths: list[float] = []
    length = 0.0
    for token in reversed(re.findall(r"[(),]|'d\d+'|:[\d.e-]+", text)):
        if token.startswith(":"):
            length = float(token[1:])
        elif token == ")":
            open_lengths.append(length)
            length = 0.0
        elif token == "(":
            open_lengths.pop()
        elif token.startswith("'"):
            depth[token] = sum(open_lengths) + length
    assert list(depth.values()) == pytest.approx([float(tree.heights[-1])] * len(tree))


def test_names_that_only_differ_by_what_newick_cannot_hold_stay_apart() -> None:
    joins = np.array([[1, 2, 0.25, 2], [0, 3, 1.0, 3]])
    tree = Tree(joins, np.arange(3, dtype=np.int32), np.array([1, 2, 0], np.int32))
    assert newick(tree, ["a\x1b", "a\n", "it's"]) == "(('a  2':0.25,'it''s':0.25):0.75,'a ':1.0);\n"
