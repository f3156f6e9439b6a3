# SPDX-License-Identifier: GPL-3.0-or-later
"""The window: start to first picture; the longest stretch of work of the interface thread in one go, in CPU seconds of that thread (what
other programs do on the machine does not count), during a run and for each thing that a hand does; frames a second of the map."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np

from benchmarks.synthetic import add_long, write

_STARTS = 3
_POINTS = 20_000
_DRAWN = 60_000
_FRAMES = 60
_LIMITS = (4.0, 5.0, 6.0)
_REACH = 0.1  # seconds
_LONG = 1_000_000  # characters of one document among the others


def start_to_first_picture() -> tuple[float, float]:
    """Median seconds from starting the process to the demo's map being drawn, while it forms, and until it has come to rest; warm,
    offscreen."""
    code = (
        "import sys, time\n"
        "from jagged_lens.worker import Worker\n"
        "if __name__ == '__main__':\n"
        "    worker = Worker()\n"
        "    from PyQt6.QtWidgets import QApplication\n"
        "    from jagged_lens.demo import demo_recipe\n"
        "    from jagged_lens.desktop.look import theme\n"
        "    from jagged_lens.desktop.waiting import wait_until\n"
        "    from jagged_lens.desktop.window import MainWindow\n"
        "    from jagged_lens.project import Bench, opened\n"
        "    app = QApplication([]); theme.dress(app)\n"
        "    bench = Bench(opened(demo_recipe()), worker); bench.compute(); window = MainWindow(bench, worker); window.show()\n"
        "    desk = window.desks['map']\n"
        "    wait_until(lambda: desk.content.isVisible() and len(desk.canvas.positions) > 0, 60)\n"
        "    window.grab(); first = time.time()\n"
        "    wait_until(lambda: bench.ready('layout'), 60)\n"
        "    window.grab()\n"
        "    print(first, time.time()); window.close(); worker.close()\n"
    )
    seconds = []
    with tempfile.TemporaryDirectory() as folder:
        script = Path(folder) / "start.py"
        script.write_text(code)
        for _ in range(_STARTS + 1):  # the first one warms the disk
            begin = time.time()
            done = subprocess.run(
                [sys.executable, str(script)],
                capture_output=True,
                text=True,
                check=True,
                env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
            )
            seconds.append([float(moment) - begin for moment in done.stdout.split()[-2:]])
    first, rest = np.median(seconds[1:], axis=0).tolist()
    return first, rest


@lru_cache(maxsize=1)
def application() -> Any:
    """The one application, kept until the process ends."""
    from PyQt6.QtWidgets import QApplication

    return QApplication([])


def longest_stretches(documents: int = _POINTS, words: int = 60) -> tuple[float, float, dict[str, float]]:
    """CPU seconds of the interface thread between two beats of a 10 ms timer: the most while a collection is computed and shown; how long
    that took by the clock; and the most of each thing that a hand does then."""
    from PyQt6.QtCore import QTimer

    from jagged_lens.desktop.look import theme
    from jagged_lens.desktop.waiting import wait_until
    from jagged_lens.desktop.window import MainWindow
    from jagged_lens.project import Bench, opened
    from jagged_lens.worker import Worker

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "synthetic.csv"
        write(path, documents, words)
        add_long(path, _LONG)
        worker = Worker()
        theme.dress(application())
        bench = Bench(opened(path), worker)
        bench.behind.wanted = False
        window = MainWindow(bench, worker)
        window.show()
        wait_until(lambda: False, 1)
        beats: list[tuple[float, str]] = []
        timer = QTimer()
        timer.timeout.connect(lambda: beats.append((time.thread_time(), ",".join(bench.share))))
        timer.start(10)
        begin = time.perf_counter()
        bench.compute()
        wait_until(lambda: not bench.working, 600)
        took = time.perf_counter() - begin
        wait_until(lambda: False, 1)
        most = float(np.diff([at for at, _ in beats]).max())
        if "--verbose" in sys.argv:
            by_part: dict[str, float] = {}
            for gap, (_, name) in zip(np.diff([at for at, _ in beats]).tolist(), beats[1:], strict=True):
                by_part[name] = max(by_part.get(name, 0.0), gap)
            print("    most by part: " + ", ".join(f"{name} {gap * 1000:.0f}" for name, gap in by_part.items()))
        at_work = _stretches_at_work(window, beats)
        window.close_anyway = True
        window.close()
        worker.close()
    return most, took, at_work


def _stretches_at_work(window: Any, beats: list[tuple[float, str]]) -> dict[str, float]:
    """The longest stretch while desks and faces are shown, documents picked and found, tables sorted, filtered and selected, groups kept
    as a label, the look changed."""
    import dataclasses

    from PyQt6.QtCore import Qt

    from jagged_lens.desktop.asking import Asker
    from jagged_lens.desktop.desks.compare.family_rules import longest
    from jagged_lens.desktop.desks.group import by_hand
    from jagged_lens.desktop.sheets.list_editor import ListEditor
    from jagged_lens.desktop.waiting import wait_until

    bench = window.bench
    size = len(bench.results["corpus"])
    found: dict[str, float] = {}

    def do(what: str, does: Callable[[], object]) -> None:
        begin, at = time.thread_time(), len(beats)
        does()
        wait_until(lambda: False, 0.5)  # what is typed is looked for a moment later
        askers = window.findChildren(Asker)
        wait_until(lambda: not bench.working and not any(asker.waiting for asker in askers), 30)
        wait_until(lambda: False, 0.2)
        found[what] = float(np.diff([begin, *(moment for moment, _ in beats[at:])]).max())
        if "--verbose" in sys.argv:
            print(f"    {what}: {found[what] * 1000:.0f}", flush=True)

    def terms() -> Any:
        window.show_step("terms")
        return window.desks["terms"]

    def look(name: str) -> None:
        window.preferences = dataclasses.replace(window.preferences, look=name)
        window.take_preferences()

    reader = window.side.reader
    doings = {
        **{f"to {step}": lambda step=step: window.show_step(step) for step in window.desks},
        "pick all": lambda: bench.pick.set(range(size)),
        "pick half": lambda: bench.pick.set(range(0, size, 2)),
        "find": lambda: (window.find_bar.show(), window.find_bar.field.setText("ba*")),
        "sort terms": lambda: terms().table.sortByColumn(0, Qt.SortOrder.AscendingOrder),
        "filter terms": lambda: terms().field.setText("ba"),
        "all terms again": lambda: terms().field.setText(""),
        "select all terms": lambda: terms().table.selectAll(),
        "select all documents": lambda: (window.show_step("gather"), window.desks["gather"].table.selectAll()),
        "another limit": lambda: bench.set("terms", "least-documents", 4.0),
        "read a million": lambda: (window.side.show_reader(), bench.pick.set([size - 1])),
        "its next part": lambda: reader.one.text.show_part(1),
        "it cleaned": reader.cleaned_button.click,
        "no more": reader.cleaned_button.click,
        "its terms": reader.terms_button.click,
        "its last part": lambda: reader.one.text.show_part(reader.one.text.parts - 1),
    }
    for what, does in doings.items():
        do(what, does)
    for sight in ("", ", again"):
        for step, desk in window.desks.items():
            window.show_step(step)
            for face in getattr(desk, "faces", ()):
                do(f"{step}, {face.name}{sight}", lambda desk=desk, face=face: desk.bring_up(face))  # type: ignore[misc]
    window.show_step("compare")
    compare = window.desks["compare"]
    pairs, families = (next(face for face in compare.faces if face.name == name) for name in ("Pairs", "Families"))
    compare.bring_up(families)
    rules = compare.front_face.rules
    do("a rule for all families", lambda: rules.preview("Keep the longest", longest))
    if rules.sheet is not None:
        do("decided so", rules.sheet.accept)
        do("and back", bench.undo)
    if len(bench.results["pairs"]):
        do("the longest pair", lambda: compare.open_pair(0))
        do("back from it", compare.close_reading)
    do("the pairs again", lambda: compare.bring_up(pairs))
    do("select all pairs", lambda: compare.front_face.table.selectAll())
    do("1,000 groups", lambda: bench.set("group", "groups", 1000))
    do("kept as a label", lambda: by_hand.keep_as_label(bench, "kept", ["frost"] * len(bench.results["grouping"])))
    do("undone", bench.undo)
    entries = [f"entry {number}" for number in range(100_000)]
    editors: list[Any] = []
    do("a list of 100,000", lambda: editors.append(ListEditor("A list", "", entries, lambda _: None, window)))
    do("searched", lambda: editors[0].search.setText("77"))
    for name in ("dark", "light"):
        do(f"{name} look", lambda name=name: look(name))  # type: ignore[misc]
    return found


def groups_in_front(documents: int = _POINTS, words: int = 60) -> tuple[float, float, float]:
    """Seconds after a changed limit, with Group in front: until new groups are shown, until the pairs are there, and until all
    is; medians of a few limits."""
    from jagged_lens.desktop.look import theme
    from jagged_lens.desktop.waiting import wait_until
    from jagged_lens.desktop.window import MainWindow
    from jagged_lens.lens import (
        PAIRS,
    )
    from jagged_lens.project import Bench, opened
    from jagged_lens.worker import Worker

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "synthetic.csv"
        write(path, documents, words)
        worker = Worker()
        theme.dress(application())
        bench = Bench(opened(path), worker)
        window = MainWindow(bench, worker)
        window.show()
        window.show_step("group")
        bench.compute()
        wait_until(lambda: not bench.working, 600)
        found = []
        for least in _LIMITS:
            table, begin = window.desks["group"].table, time.perf_counter()  # type: ignore[attr-defined]
            shown: list[float] = []
            reset = table.listed.modelReset.connect(lambda shown=shown: shown.append(time.perf_counter()))
            bench.set("terms", "least-documents", least)
            wait_until(lambda: not bench.ready(PAIRS), 10)
            wait_until(lambda shown=shown: bool(shown) and bench.ready(PAIRS), 600)  # type: ignore[misc]
            pairs = time.perf_counter() - begin
            wait_until(lambda: not bench.working, 600)
            table.listed.modelReset.disconnect(reset)
            found.append((shown[0] - begin, pairs, time.perf_counter() - begin))
        window.close()
        worker.close()
    groups, pairs, whole = np.median(found, axis=0).tolist()
    return groups, pairs, whole


def frames_of_the_map() -> dict[str, float]:
    """Frames a second of panning, zooming and hovering over many points, rasterised."""
    from PyQt6.QtCore import QPoint, QPointF

    from jagged_lens.desktop.look import theme
    from jagged_lens.desktop.look.group_colours import group_colour
    from jagged_lens.desktop.plots.map_canvas import Category, MapCanvas

    theme.dress(application())
    random = np.random.default_rng(1)
    group = random.integers(0, 24, _DRAWN)
    positions = (random.normal(size=(24, 2))[group] * 4 + random.normal(size=(_DRAWN, 2))).astype(np.float32)
    canvas = MapCanvas()
    canvas.resize(690, 720)
    canvas.show()
    canvas.show_points(
        positions,
        random.random(_DRAWN).astype(np.float32),
        group,
        [Category(str(g), f"group {g}", group_colour(g)) for g in range(24)],
    )
    canvas.grab()

    def timed(move: object) -> float:
        begin = time.perf_counter()
        for frame in range(_FRAMES):
            move(frame)  # type: ignore[operator]
            canvas.grab()
        return _FRAMES / (time.perf_counter() - begin)

    found = {
        "pan": timed(lambda frame: canvas.box.translateBy(x=0.05 * (-1) ** (frame // 10), y=0.02)),
        "zoom": timed(lambda frame: canvas.zoom(1.05 if frame % 20 < 10 else 1 / 1.05)),
        "hover": timed(
            lambda frame: canvas.set_hover(
                canvas.point_at(QPointF(QPoint(100 + 7 * frame, 300))), QPointF(100 + 7 * frame, 300)
            )
        ),
    }
    canvas.close()
    return found


def _say_stretches() -> None:
    most, took, at_work = longest_stretches()
    print(
        f"interface thread in one go        {most * 1000:6.0f} ms CPU (reach 100, stretch 50; {_POINTS:,} documents in {took:.0f} s)"
    )
    worst = sorted(at_work, key=at_work.__getitem__, reverse=True)
    over = [what for what in worst if at_work[what] > _REACH]
    print(
        f"the same at work, of {len(at_work)} things   {at_work[worst[0]] * 1000:6.0f} ms CPU (reach 100; above it {len(over)}; the most: "
        + ", ".join(f"{what} {at_work[what] * 1000:.0f}" for what in worst[: max(len(over), 4)])
        + ")"
    )


def main() -> None:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    if "--stretches" in sys.argv:
        _say_stretches()
        return
    first, rest = start_to_first_picture()
    print(f"start to first picture, warm      {first:6.2f} s     (reach 3, stretch 1.5; at rest after {rest:.2f} s)")
    _say_stretches()
    groups, pairs, whole = groups_in_front()
    print(
        f"new groups after a limit, in front {groups:5.2f} s     (pairs after {pairs:.2f} s, all after {whole:.1f} s)"
    )
    for what, frames in frames_of_the_map().items():
        print(f"{_DRAWN:,} points, {what:<6}              {frames:6.0f} frames/s (reach 30, stretch 60)")


if __name__ == "__main__":
    main()
