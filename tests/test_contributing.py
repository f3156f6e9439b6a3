# SPDX-License-Identifier: GPL-3.0-or-later
"""The worked examples of CONTRIBUTING do what they say, put where they say."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
USED = """
import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from jagged_lens.demo import demo_recipe
from jagged_lens.desktop.desks.compare.least_like import LeastLike
from jagged_lens.desktop.desks.compare.links import LinksFace
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.dot_strip import DotStrip
from jagged_lens.desktop.waiting import wait_until
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import CORPUS, LEAST_LIKE, LINKS, NEIGHBOURS, OVERVIEW, SPACE
from jagged_lens.project import Bench, opened
from jagged_lens.worker import Worker

def main():
    app = QApplication([])
    theme.dress(app)
    worker = Worker()
    bench = Bench(opened(demo_recipe()), worker)
    bench.behind.wanted = False
    bench.set("map", "by", "pca")
    window = MainWindow(bench, worker)
    window.show()
    assert wait_until(lambda: not bench.working, 60)
    assert LEAST_LIKE not in bench.results  # nobody looks at it
    window.show_step("compare")
    desk = window.desk
    QTest.mouseClick(desk.leaf_row.buttons["Least like"], Qt.MouseButton.LeftButton)
    face = desk.face(LeastLike)
    assert wait_until(lambda: bench.ready(LEAST_LIKE) and face.table.listed.columns, 60)
    first = int(bench.results[LEAST_LIKE][0])
    assert bench.results[NEIGHBOURS].similarity[first, 0] == bench.results[NEIGHBOURS].similarity[:, 0].min()
    title = bench.results[CORPUS].titles[int(bench.results[SPACE].terms.rows[first])]
    assert face.table.listed.index(0, 0).data() == title
    desk.bring_up(LinksFace)
    assert wait_until(lambda: bench.ready(LINKS), 60)
    window.menus.actions["The longest"].trigger()
    assert bench.pick.rows == (int(bench.results[OVERVIEW].words.argmax()),)
    strip = DotStrip("shares")
    strip.resize(200, 24)
    strip.show_values(np.array([0.1, 0.5, 0.9]))
    chosen = []
    strip.chosen.connect(chosen.append)
    strip.grab()
    QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=QPointF(110, 12).toPoint())
    assert chosen == [1]
    window.close()
    worker.close()
    print("all is there")


if __name__ == "__main__":
    main()
"""


def put(block: str, package: Path) -> None:
    """Put an example where its first line says."""
    head, _, code = block.partition("\n")
    if found := re.fullmatch(r"# new: (\S+)", head):
        path = package / found[1]
        assert not path.exists(), f"{path} is there already"
        path.write_text(code)
    elif found := re.fullmatch(r"# end of: (\S+)", head):
        path = package / found[1]
        path.write_text(path.read_text() + "\n\n" + code)
    else:
        found = re.fullmatch(r"# (\S+), (after|before|instead of): (.*)", head)
        assert found, f"it is not said where this goes: {head}"
        path, anchor = package / found[1], found[3] + "\n"
        text = path.read_text()
        assert text.count(anchor) == 1, f"{found[1]}: {anchor}"
        path.write_text(text.replace(anchor, {"after": anchor + code, "before": code + anchor}.get(found[2], code)))


def test_the_examples_work_as_they_stand(tmp_path: Path) -> None:
    shutil.copytree(ROOT / "src", tmp_path / "src", ignore=shutil.ignore_patterns("__pycache__"))
    blocks = re.findall(r"```python\n(.*?)```", (ROOT / "CONTRIBUTING.md").read_text(), re.DOTALL)
    assert len(blocks) >= 9
    for block in blocks:
        put(block, tmp_path / "src" / "jagged_lens")
    place = {**os.environ, "PYTHONPATH": str(tmp_path / "src"), "QT_QPA_PLATFORM": "offscreen"}
    (tmp_path / "used.py").write_text(USED)
    done = subprocess.run(
        [sys.executable, str(tmp_path / "used.py")],
        cwd=tmp_path,
        env=place,
        capture_output=True,
        text=True,
        timeout=300,
    )
    assert done.stdout.strip() == "all is there", done.stderr
