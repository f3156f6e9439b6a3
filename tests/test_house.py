# SPDX-License-Identifier: GPL-3.0-or-later
"""The house itself: what is public says what it is, results are typed, no file is too long to be read."""

from __future__ import annotations

import ast
import re
import tomllib
import xml.etree.ElementTree as ElementTree
from collections.abc import Iterator
from pathlib import Path

import pytest

import jagged_lens

CORE = (
    "gather",
    "clean",
    "terms",
    "weigh",
    "compare",
    "group",
    "map",
    "contrast",
    "place",
    "explain",
    "lens",
    "worker",
    "project",
    "export",
)
ROOT = Path(__file__).parent.parent
ARRAY = re.compile(r"NDArray|csr_array")
KIND = re.compile(r"\b(u?int(8|16|32|64)|float(32|64)|bool|CSR)\b")


def public(body: list[ast.stmt], within: str = "") -> Iterator[tuple[str, ast.ClassDef | ast.FunctionDef]]:
    """The public classes, functions and methods of a module, with their names."""
    for node in body:
        if isinstance(node, (ast.ClassDef, ast.FunctionDef)) and not node.name.startswith("_"):
            yield f"{within}{node.name}", node
            if isinstance(node, ast.ClassDef):
                yield from public(node.body, f"{node.name}.")


def arrays(node: ast.ClassDef | ast.FunctionDef) -> bool:
    """Whether arrays go in, come out, or are held."""
    if isinstance(node, ast.FunctionDef):
        said = [*(one.annotation for one in node.args.args), node.returns]
    else:
        said = [one.annotation for one in node.body if isinstance(one, ast.AnnAssign)]
    return any(ARRAY.search(ast.unparse(one)) for one in said if one is not None)


@pytest.mark.parametrize("room", CORE)
def test_what_is_public_in_the_core_says_what_it_is_and_the_kinds_of_its_arrays(room: str) -> None:
    house = Path(jagged_lens.__file__).parent
    lacking = [
        f"{path.relative_to(house)}: {name}"
        for path in sorted((house / room).rglob("*.py"))
        for name, node in public(ast.parse(path.read_text("utf-8")).body)
        if not (said := ast.get_docstring(node) or "") or (arrays(node) and not KIND.search(said))
    ]
    assert not lacking


def test_no_result_is_got_by_a_string() -> None:
    house = Path(jagged_lens.__file__).parent
    by_name = re.compile(r"results(\[|\.get\()[\"']")
    assert not [path for path in house.rglob("*.py") if by_name.search(path.read_text("utf-8"))]


def test_no_file_holds_more_than_it_can_be_read_for() -> None:
    house = Path(jagged_lens.__file__).parent
    long = {
        path.name: count for path in house.rglob("*.py") if (count := len(path.read_text("utf-8").splitlines())) > 500
    }
    assert not long


def test_tool_tips_are_given_in_one_place_where_no_text_from_outside_becomes_markup() -> None:
    desktop = Path(jagged_lens.__file__).parent / "desktop"
    found = [
        str(path.relative_to(desktop))
        for path in desktop.rglob("*.py")
        if path != desktop / "look" / "plain.py"
        and any(
            isinstance(node, ast.Attribute) and node.attr in ("setToolTip", "setWhatsThis", "setInformativeText")
            for node in ast.walk(ast.parse(path.read_text("utf-8")))
        )
    ]
    assert found == []


def test_every_file_says_under_which_licence_it_is() -> None:
    for folder in ("src", "tests", "benchmarks", "scripts"):
        for path in (ROOT / folder).rglob("*.py"):
            text = path.read_text(encoding="utf-8")
            assert not text.strip() or "# SPDX-License-Identifier: GPL-3.0-or-later\n" in text[:200], path


def test_the_version_is_the_same_wherever_it_stands() -> None:
    assert tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["version"] == jagged_lens.__version__
    release = ElementTree.parse(
        ROOT / "src" / "jagged_lens" / "linux" / "example.larkmoor.JaggedLens.metainfo.xml"
    ).find(".//release")
    assert release is not None
    assert release.get("version") == jagged_lens.__version__
