#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Makes slips in the code, one at a time, and lists those that no test of their room notices.

Usage: .venv/bin/python scripts/slips.py [--count 200] [--seed 1] [--room ROOM …] [--jobs 2] [--out FILE]

A slip is made by the syntax tree: another bound, another sign, any for all, a copy not made, another axis or order, a condition turned
round, a line left out. Each is made in a copy of the project, never in the project itself, and the tests of its room are run on it.
A slip that makes the tests fail, or never end, is caught. The others are printed with their place: either a test is missing, or
the slip changes nothing that anybody could notice.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
from collections import defaultdict
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

HERE = Path(__file__).resolve().parent.parent
PACKAGE = HERE / "src" / "jagged_lens"
SECONDS = 300

TESTS = {
    "cli": ["export", "test_foundations.py"],
    "clean": ["clean", "language"],
    "demo": ["demo/test_collection.py"],
    "language": ["language", "clean"],
    "lens": ["lens", "project/test_asked_for.py", "project/test_told.py"],
    "linux": ["linux"],
    "project": ["project"],
    "worker": ["worker", "lens/test_order.py", "project/test_bench.py"],
    "": ["test_foundations.py", "test_killable.py", "test_strings.py", "project/test_state.py"],
}
"""The tests of a room, where they are not those in the folder of its name. The desktop is tested through the window: see `_desktop`."""

COMPARED = {ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "=="}
WORDS = {"any": "all", "all": "any", "min": "max", "max": "min", "argmin": "argmax", "argmax": "argmin"}
WORDS |= {"floor": "ceil", "ceil": "floor", "cumsum": "copy"}


@dataclass(frozen=True)
class Slip:
    """One change of the text of a file: characters from `start` to `end` give way to `text`."""

    path: Path
    line: int
    start: int
    end: int
    text: str
    what: str

    @property
    def room(self) -> str:
        """The folder below the package, "" for the package itself."""
        parts = self.path.relative_to(PACKAGE).parts
        return parts[0] if len(parts) > 1 else ""


class Places:
    """Places in a source text, by line and column as the syntax tree counts them, in bytes."""

    def __init__(self, source: str) -> None:
        self.source = source
        self._lines = source.splitlines(keepends=True)
        self._starts = [0]
        for line in self._lines:
            self._starts.append(self._starts[-1] + len(line))

    def at(self, line: int, column: int) -> int:
        """The place in characters."""
        return self._starts[line - 1] + len(self._lines[line - 1].encode()[:column].decode())

    def span(self, node: ast.expr | ast.stmt) -> tuple[int, int]:
        """From where to where a node stands."""
        assert node.end_lineno is not None
        assert node.end_col_offset is not None
        return self.at(node.lineno, node.col_offset), self.at(node.end_lineno, node.end_col_offset)


def slips_in(path: Path) -> Iterator[Slip]:
    """All slips that can be made in a file."""
    source = path.read_text(encoding="utf-8")
    tree, places = ast.parse(source), Places(source)
    hints = {
        id(inner)
        for node in ast.walk(tree)
        for part in ("annotation", "returns")
        for inner in ast.walk(getattr(node, part, None) or ast.Pass())
    }
    for node in ast.walk(tree):
        if id(node) not in hints and isinstance(node, (ast.expr, ast.stmt)):
            for start, end, text, what in _of_node(node, places):
                yield Slip(path, node.lineno, start, end, text, what)


def _of_node(node: ast.expr | ast.stmt, places: Places) -> Iterator[tuple[int, int, str, str]]:
    source = places.source

    def between(left: ast.expr, right: ast.expr) -> tuple[int, int]:
        return places.span(left)[1], places.span(right)[0]

    match node:
        case ast.Compare(left=left, ops=[op], comparators=[right]) if type(op) in COMPARED:
            start, end = between(left, right)
            yield start, end, f" {COMPARED[type(op)]} ", "bound"
        case ast.BinOp(left=left, op=ast.Add() | ast.Sub() as op, right=right):
            if not any(
                isinstance(side, (ast.JoinedStr, ast.Constant, ast.List, ast.Tuple)) for side in (left, right)
            ) or any(isinstance(side, ast.Constant) and isinstance(side.value, (int, float)) for side in (left, right)):
                start, end = between(left, right)
                if source[start:end].strip() in "+-":
                    yield start, end, " - " if isinstance(op, ast.Add) else " + ", "sign"
        case ast.UnaryOp(op=ast.USub(), operand=operand) if not isinstance(operand, ast.Constant):
            yield places.span(node)[0], places.span(operand)[0], "", "sign"
        case ast.UnaryOp(op=ast.Not(), operand=operand):
            yield places.span(node)[0], places.span(operand)[0], "", "condition"
        case ast.BoolOp(op=op, values=[first, second, *_]):
            start, end = between(first, second)
            word = "or" if isinstance(op, ast.And) else "and"
            text = source[start:end]
            other = "and" if isinstance(op, ast.And) else "or"
            if text.strip() == other:
                yield start, end, text.replace(other, word), "condition"
        case ast.Call(func=ast.Attribute(attr="copy", value=value), args=[], keywords=[]):
            start, end = places.span(value)[1], places.span(node)[1]
            yield start, end, "", "copy"
        case ast.Call(func=ast.Attribute(attr=name, value=value) as func) if name in WORDS:
            start, end = places.span(value)[1], places.span(func)[1]
            yield start, end, f".{WORDS[name]}", "word"
        case ast.Call(func=ast.Name(id=name) as func) if name in WORDS:
            start, end = places.span(func)
            yield start, end, WORDS[name], "word"
        case ast.Subscript(value=value, slice=ast.Slice(lower=None, upper=None, step=ast.UnaryOp())):
            yield places.span(value)[1], places.span(node)[1], "", "order"
        case ast.Subscript(slice=ast.Constant(value=int(number)) as inner) if (
            not isinstance(number, bool) and number >= 0
        ):
            start, end = places.span(inner)
            yield start, end, str(number + 1), "bound"
        case ast.If(test=test) | ast.While(test=test) | ast.IfExp(test=test):
            start, end = places.span(test)
            yield start, end, f"not ({source[start:end]})", "condition"
        case ast.Expr(value=ast.Call()) | ast.AugAssign() | ast.Assign(targets=[ast.Subscript() | ast.Attribute()]):
            start, end = places.span(node)
            yield start, end, "pass", "left out"
        case ast.Raise() | ast.Continue() | ast.Break():
            start, end = places.span(node)
            yield start, end, "pass", "left out"
        case _:
            pass
    if isinstance(node, ast.Call):
        for word in node.keywords:
            start, end = places.span(word.value)
            if word.arg == "axis" and isinstance(word.value, ast.Constant) and word.value.value in (0, 1):
                yield start, end, str(1 - word.value.value), "axis"
            if word.arg == "reverse" and isinstance(word.value, ast.Constant):
                yield start, end, str(not word.value.value), "order"


def tests_of(slip: Slip) -> list[str]:
    """The tests that are to notice a slip."""
    if slip.room == "desktop":
        return _desktop(slip.path.relative_to(PACKAGE / "desktop"))
    return [f"tests/{name}" for name in TESTS.get(slip.room, [slip.room])]


def _desktop(path: Path) -> list[str]:
    folder = path.parts[1] if path.parts[0] == "desks" and len(path.parts) > 2 else ""
    own = {
        "group": ["group", "lenses"],
        "compare": ["compare", "review", "in_front"],
        "contrast": ["contrast", "contrast_plots"],
        "map": ["map"],
        "place": ["place"],
        "gather": ["gather"],
        "clean": ["clean"],
        "terms": ["terms"],
        "weigh": ["weigh"],
    }.get(folder, [])
    if path.parts[0] == "plots":
        own = ["map", "contrast_plots", "group", "terms", "weigh", "compare"]
    if path.parts[0] == "tables":
        own = ["table_columns", "terms", "compare"]
    return [f"tests/desktop/test_{name}.py" for name in own] or ["tests/desktop"]


def passes(folder: Path, tests: list[str], slip: Slip | None = None) -> bool:
    """Whether some tests pass on a new copy of the project, below a folder, with a slip or without. What a slip does to files stays there."""
    copy = folder / "copy"
    shutil.rmtree(folder, ignore_errors=True)
    for name in ("src", "tests", "docs", "scripts"):
        shutil.copytree(HERE / name, copy / name, ignore=shutil.ignore_patterns("__pycache__"))
    for name in ("pyproject.toml", "CONTRIBUTING.md", "README.md", "CHANGELOG.md"):
        shutil.copy(HERE / name, copy / name)
    if slip is not None:
        there = copy / slip.path.relative_to(HERE)
        whole = there.read_text(encoding="utf-8")
        there.write_text(whole[: slip.start] + slip.text + whole[slip.end :], encoding="utf-8")
    place = {**os.environ, "PYTHONPATH": str(copy / "src"), "QT_QPA_PLATFORM": "offscreen"}
    for name in ("TMPDIR", "HOME", "XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"):
        (folder / name).mkdir()
        place[name] = str(folder / name)
    command = [sys.executable, "-m", "pytest", "-q", "-x", "--no-header", "-p", "no:cacheprovider", *tests]
    process = subprocess.Popen(
        command, cwd=copy, env=place, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True
    )
    try:
        return process.wait(SECONDS) == 0
    except subprocess.TimeoutExpired:
        return False
    finally:
        if process.poll() is None:
            os.killpg(process.pid, signal.SIGKILL)
            process.wait()


def chosen(count: int, seed: int, rooms: list[str]) -> list[Slip]:
    """So many slips, of each room in proportion to the root of its lines: a small room is asked, too."""
    of_room: dict[str, list[Slip]] = defaultdict(list)
    lines: dict[str, int] = defaultdict(int)
    for path in sorted(PACKAGE.rglob("*.py")):
        found = list(slips_in(path))
        if found and (not rooms or found[0].room in rooms):
            of_room[found[0].room] += found
            lines[found[0].room] += path.read_text(encoding="utf-8").count("\n")
    pick = random.Random(seed)
    taken: list[Slip] = []
    for room in sorted(of_room):
        share = max(1, round(count * lines[room] ** 0.5 / sum(one**0.5 for one in lines.values())))
        taken += pick.sample(of_room[room], min(share, len(of_room[room])))
    pick.shuffle(taken)
    return taken[:count]


def main() -> None:
    """Make the slips, and list the survivors."""
    parser = argparse.ArgumentParser(description=(__doc__ or "").partition("\n")[0])
    parser.add_argument("--count", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--room", action="append", default=[], help="only this room; can be given several times")
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("--out", type=Path, help="a file to which every slip is written as soon as it is known")
    wanted = parser.parse_args()
    slips = chosen(wanted.count, wanted.seed, wanted.room)
    with tempfile.TemporaryDirectory(prefix="slips-") as base, ThreadPoolExecutor(wanted.jobs) as pool:
        folders: Queue[Path] = Queue()
        for number in range(wanted.jobs):
            folders.put(Path(base) / str(number))

        def passed(tests: list[str], slip: Slip | None = None) -> bool:
            folder = folders.get()
            try:
                return passes(folder, tests, slip)
            finally:
                folders.put(folder)

        # Tests that fail on the project as it is would notice every slip.
        all_tests = sorted({tuple(tests_of(slip)) for slip in slips})
        sound = dict(zip(all_tests, pool.map(passed, map(list, all_tests)), strict=True))
        for tests in (one for one in all_tests if not sound[one]):
            print(f"these fail without any slip, and are not asked: {' '.join(tests)}", flush=True)

        def tried(slip: Slip) -> bool:
            noticed = not passed(tests_of(slip), slip)
            before = slip.path.read_text(encoding="utf-8")[slip.start : slip.end]
            told = f"{slip.path.relative_to(HERE)}:{slip.line} {slip.what}: {before.strip()!r} -> {slip.text.strip()!r}"
            line = f"{'caught  ' if noticed else 'SURVIVED'} {told}"
            print(line, flush=True)
            if wanted.out:
                with wanted.out.open("a", encoding="utf-8") as out:
                    out.write(line + "\n")
            return noticed

        noticed = list(pool.map(tried, [slip for slip in slips if sound[tuple(tests_of(slip))]]))
    print(f"{len(noticed)} slips, {len(noticed) - sum(noticed)} survived")


if __name__ == "__main__":
    main()
