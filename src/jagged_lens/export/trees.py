# SPDX-License-Identifier: GPL-3.0-or-later
"""A tree as a table and in the Newick format."""

from __future__ import annotations

import unicodedata
from pathlib import Path

from jagged_lens.export.cells import Numbers, Table, kept_apart, write_table
from jagged_lens.export.run_folder import RunFolder
from jagged_lens.group import Tree


def write_tree(folder: RunFolder | Path, tree: Tree, keys: list[str]) -> None:
    """Write tree.csv and tree.nwk. keys: of the rows of the space."""
    write_joins(folder / "tree.csv", tree)
    write_newick(folder / "tree.nwk", tree, keys)


def write_joins(path: Path, tree: Tree) -> None:
    """Write a tree as a table, as SciPy lays a linkage out."""
    sides = tree.joins[:, [0, 1, 3]].astype("int64")
    write_table(
        path,
        Table(
            ["left", "right", "distance", "size"],
            [Numbers(sides[:, 0]), Numbers(sides[:, 1]), Numbers(tree.heights), Numbers(sides[:, 2])],
        ),
    )


def write_newick(path: Path, tree: Tree, keys: list[str]) -> None:
    """Write a tree in the Newick format. keys: of the rows of the space."""
    path.write_text(newick(tree, [keys[row] for row in tree.rows.tolist()]), encoding="utf-8")


def newick(tree: Tree, names: list[str]) -> str:
    """A tree in the Newick format: names in quotes, each branch as long as the height that it climbs.

    names: of the leaves; signs that steer a terminal or end a line stand as spaces. Sides stand in the order of the leaves.
    """
    n = len(tree)
    if not n:
        return ";\n"
    quoted = ["'" + name.replace("'", "''") + "'" for name in kept_apart(names, _plain)]
    place = [0] * (2 * n - 1)
    for at, leaf in enumerate(tree.order.tolist()):
        place[leaf] = at
    height = [0.0] * n + tree.heights.tolist()
    sides = tree.joins[:, :2].astype("int64").tolist()
    for number, (left, right) in enumerate(sides):
        if place[right] < place[left]:
            sides[number] = [right, left]
        place[n + number] = place[left]  # any leaf of a branch says on which side of another it stands
    written: list[str] = []
    # What is still to be written, the next last: a node below a height, or what stands between and behind.
    waiting: list[tuple[int, float] | str] = [(2 * n - 2, height[2 * n - 2])]
    while waiting:
        one = waiting.pop()
        if isinstance(one, str):
            written.append(one)
            continue
        node, above = one
        length = f":{above - height[node]!r}" if node != 2 * n - 2 else ""
        if node < n:
            written.append(quoted[node] + length)
            continue
        left, right = sides[node - n]
        waiting += [f"){length}", (right, height[node]), ",", (left, height[node]), "("]
    return "".join(written) + ";\n"


def _plain(name: str) -> str:
    return "".join(" " if unicodedata.category(sign) in ("Cc", "Cs", "Zl", "Zp") else sign for sign in name)
