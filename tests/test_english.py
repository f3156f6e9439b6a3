# SPDX-License-Identifier: GPL-3.0-or-later
"""The sentences of errors, notices, tips and docstrings are plain English, as far as a check can hear."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

import pytest

from plain_english import faults_of, faults_of_docstring

PACKAGE = Path(__file__).parents[1] / "src" / "jagged_lens"
FILES = [path for path in sorted(PACKAGE.rglob("*.py")) if "demo" not in path.parts]


def _text(node: ast.expr) -> str | None:
    """A literal as it reads, with 12 for what is filled in."""
    if isinstance(node, ast.Constant) and isinstance(node.value, str):
        return node.value
    if isinstance(node, ast.JoinedStr):
        return "".join(part.value if isinstance(part, ast.Constant) else "12" for part in node.values)
    return None


def _docstrings(tree: ast.Module) -> Iterator[ast.Constant]:
    for node in ast.walk(tree):
        body = getattr(node, "body", None)
        for one in body if isinstance(body, list) else ():
            if isinstance(one, ast.Expr) and isinstance(one.value, ast.Constant) and isinstance(one.value.value, str):
                yield one.value


def _literals(tree: ast.Module) -> Iterator[tuple[int, str]]:
    left_out = {id(one) for one in _docstrings(tree)}
    left_out |= {id(part) for one in ast.walk(tree) if isinstance(one, ast.JoinedStr) for part in one.values}
    for node in ast.walk(tree):
        text = _text(node) if isinstance(node, ast.expr) and id(node) not in left_out else None
        if text and len(text.split()) >= 2 and "{" not in text.replace("{12}", "").split("12")[0][:1]:
            yield node.lineno, text


def test_what_the_check_hears() -> None:
    assert faults_of("Of the 12 nearest, 52 stay near here, of 100.")
    assert faults_of("Show the the pairs of this lens.")
    assert faults_of("Go to the documents of lens.")
    assert faults_of("A rule which is switched off.")
    assert faults_of("1 hits")
    assert faults_of(" ".join(["word"] * 26) + ".")
    assert not faults_of("52% of nearest neighbours kept")
    assert not faults_of("Pick the documents that contain the term, which is underlined.")
    assert faults_of_docstring("What is asked whether a result so far is to do: it is not.")
    assert not faults_of_docstring("Always False: a result so far is never good enough to stop.")


@pytest.mark.parametrize("room", sorted({path.relative_to(PACKAGE).parts[0] for path in FILES}))
def test_sentences_in_the_code(room: str) -> None:
    heard = [
        f"{path.relative_to(PACKAGE)}:{line}: {fault} in “{text}”"
        for path in FILES
        if path.relative_to(PACKAGE).parts[0] == room
        for line, text in _literals(ast.parse(path.read_text("utf-8")))
        if not text.lstrip().startswith(("SELECT", "INSERT", "CREATE", "QPush", "<?xml", "l un d"))
        for fault in faults_of(text)
    ]
    assert not heard, "\n".join(heard)


@pytest.mark.parametrize("room", sorted({path.relative_to(PACKAGE).parts[0] for path in FILES}))
def test_first_lines_of_docstrings(room: str) -> None:
    heard = [
        f"{path.relative_to(PACKAGE)}:{one.lineno}: {fault} in “{one.value.strip().splitlines()[0]}”"
        for path in FILES
        if path.relative_to(PACKAGE).parts[0] == room
        for one in _docstrings(ast.parse(path.read_text("utf-8")))
        if isinstance(one.value, str)
        for fault in faults_of_docstring(one.value)
    ]
    assert not heard, "\n".join(heard)
