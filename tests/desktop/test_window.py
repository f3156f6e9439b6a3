# SPDX-License-Identifier: GPL-3.0-or-later

import json
import os
import shutil
import signal
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QAbstractSpinBox, QApplication, QComboBox, QLineEdit, QWidget
from pytestqt.qtbot import QtBot

from jagged_lens.clean import list_name
from jagged_lens.demo import demo_recipe
from jagged_lens.desktop.desks.group.desk import GroupDesk
from jagged_lens.desktop.desks.terms.desk import TermsDesk
from jagged_lens.desktop.frame.settings_leaf import Control
from jagged_lens.desktop.frame.word_fields import BoxesField, WordButton
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.group_colours import group_colour
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import (
    STEPS,
    settings_of,
)
from jagged_lens.worker import Worker

Settle = Callable[[MainWindow], None]


def show(window: MainWindow, number: int) -> None:
    QTest.keyClick(window, Qt.Key(Qt.Key.Key_0 + number), Qt.KeyboardModifier.AltModifier)


def test_all_seven_steps_are_computed_and_say_so(window: MainWindow) -> None:
    for step in STEPS:
        button = window.spine.steps[step]
        assert window.bench.step_ready(step)
        assert any(character.isdigit() for character in button.result), step
    assert window.spine.steps["gather"].result == "640 documents"


def test_figures_equal_those_of_a_run(window: MainWindow, tmp_path: Path) -> None:
    subprocess.run(
        [sys.executable, "-m", "jagged_lens", "run", str(demo_recipe()), "--out", str(tmp_path)],
        check=True,
        timeout=300,
    )
    counts = json.loads((tmp_path / "run.json").read_text())["counts"]
    spine = {step: window.spine.steps[step].result for step in STEPS}
    assert spine["clean"].startswith(f"{counts['clean']['kept']:,} tokens")
    assert spine["terms"] == f"{counts['terms']['kept']:,} terms   of {counts['terms']['different']:,}"
    assert spine["compare"] == f"{counts['compare']['pairs']} close pairs"
    assert spine["group"] == f"10 groups   cohesion {counts['group']['quality']:.2f}"
    assert spine["map"] == f"{counts['map']['trust']:.0%} neighbours kept"


def test_a_click_on_the_spine_brings_its_desk_and_settings(window: MainWindow, qtbot: QtBot) -> None:
    for step in STEPS:
        qtbot.mouseClick(window.spine.steps[step], Qt.MouseButton.LeftButton)
        assert window.desk.step == step
        qtbot.waitUntil(window.desk.content.isVisible, timeout=120_000)
        assert window.spine.steps[step].isChecked()


def _controls(window: MainWindow) -> list[Control]:
    found = []
    for step in STEPS:
        window.side.settings.show_step(step)
        found += window.side.settings.controls[step].values()
    return found


def test_every_setting_that_the_core_has_can_be_changed_here(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(window.bench, "compute", lambda: None)
    shown = {(control.step, control.setting.key) for control in _controls(window)}
    for step in STEPS:
        for key, setting in settings_of(step).items():
            single = setting.choices and len(setting.choices) == 1
            assert ((step, key) in shown) == (setting.leaf and not single), key
    for control in _controls(window):
        before = getattr(getattr(window.bench.recipe, control.step), control.setting.name)
        _change(control)
        after = getattr(getattr(window.bench.recipe, control.step), control.setting.name)
        assert after != before, control.setting.key
        assert not control.wrong.isVisible()


def _change(control: Control) -> None:
    """Change what a control shows, as a hand would."""
    fields = [control.field, *control.field.findChildren(QWidget)]
    for field in fields:
        if isinstance(field, BoxesField):
            next(iter(field.boxes.values())).trigger()
        elif isinstance(field, WordButton):
            field.click()
            editor = control.editor
            line = editor.field.lineEdit() if isinstance(editor.field, QComboBox) else editor.field
            assert line is not None
            QTest.keyClicks(line, {"replace": "x = y", "own-rules": "x = y"}.get(control.setting.key, "crop = pea"))
            QTest.keyClick(line, Qt.Key.Key_Return)
            editor.main.click()  # type: ignore[union-attr]
        elif isinstance(field, QComboBox):
            field.setCurrentIndex((field.currentIndex() + 1) % field.count())
        elif isinstance(field, QAbstractSpinBox):
            field.setFocus()
            QTest.keyClick(field, Qt.Key.Key_Up if control.setting.key != "most-share" else Qt.Key.Key_Down)
            control._apply_if_waiting()
        elif isinstance(field, QLineEdit) and not isinstance(field.parent(), QAbstractSpinBox):
            QTest.keyClicks(field, "x = y, z" if control.setting.apart == ";" else "x")
            field.editingFinished.emit()
        else:
            continue
        return
    raise AssertionError(f"no field for {control.setting.key}")


def test_k_is_typed_the_spine_answers_and_undo_takes_it_back(window: MainWindow, settle: Settle, qtbot: QtBot) -> None:
    show(window, 6)
    field = window.side.settings.controls["group"]["groups"].field
    field.selectAll()
    qtbot.keyClicks(field, "5")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    settle(window)
    assert window.spine.steps["group"].settings == "k-means · 5"
    assert window.spine.steps["group"].result.startswith("5 groups")
    desk: GroupDesk = window.desk  # type: ignore[assignment]
    assert desk.table.listed.rowCount() == 5
    titles = [column.title for column in desk.table.listed.columns]
    assert titles == ["Group", "Documents", "Name", "Cohesion", "Silhouette", "Stability", "Weak members"]
    window.undo.trigger()
    settle(window)
    assert field.value() == 10
    assert desk.table.listed.rowCount() == 10


def test_what_is_not_allowed_is_said_under_its_field(window: MainWindow, qtbot: QtBot) -> None:
    show(window, 3)
    control = window.side.settings.controls["terms"]["words"]
    low = control.field.findChildren(QAbstractSpinBox)[0]
    low.setValue(5)  # type: ignore[attr-defined]
    qtbot.waitUntil(control.wrong.isVisible, timeout=120_000)
    assert "the smaller first" in control.wrong.text()
    assert window.bench.recipe.terms.words == (1, 2)


def test_a_fault_is_shown_on_the_desk_and_goes_when_it_is_mended(
    window: MainWindow, settle: Settle, qtbot: QtBot
) -> None:
    show(window, 2)
    control = window.side.settings.controls["clean"]["stop-words"]

    def lists(*names: str) -> None:
        control.field.click()  # type: ignore[attr-defined]
        editor = control.editor
        editor.list.selectAll()
        editor.take_off()
        for name in names:
            editor.field.setEditText(name)  # type: ignore[union-attr]
            editor.add()
        editor.main.click()  # type: ignore[union-attr]

    lists("missing.txt")
    settle(window)
    qtbot.wait(50)
    assert "missing.txt" in window.desk._notice.words.text()
    assert window.desk._notice.isVisible()
    assert window.spine.steps["clean"].result == "needs attention"
    lists(list_name("en"))
    assert window.bench.recipe.clean.stop_words == ("en",)
    settle(window)
    assert not window.desk._notice.isVisible()


def test_space_on_a_term_picks_its_documents(window: MainWindow, settle: Settle) -> None:
    show(window, 3)
    settle(window)
    desk: TermsDesk = window.desk  # type: ignore[assignment]
    desk.table.selectRow(4)
    QTest.keyClick(desk.table, Qt.Key.Key_Space)
    documents = int(desk.table.listed.index(4, 4).data())
    assert len(window.bench.pick) == documents
    desk.vocabulary.only_kept.click()
    assert desk.table.listed.rowCount() == len(window.bench.results["terms"].kept)


def test_one_pick_across_the_views(window: MainWindow, settle: Settle) -> None:
    show(window, 6)
    settle(window)
    desk: GroupDesk = window.desk  # type: ignore[assignment]
    desk.table.selectRow(2)
    settle(window)
    sizes = window.bench.results["grouping"].sizes
    assert window.pick_bar.count.text() == f"{sizes[2]} picked"
    show(window, 7)
    settle(window)
    assert len(window.desk.canvas._pick) == sizes[2]  # type: ignore[attr-defined]
    window.pick_bar.copy.click()
    lines = QApplication.clipboard().text().split("\n")  # type: ignore[union-attr]
    assert len(lines) == sizes[2] + 1
    assert lines[0].startswith("key\ttitle\tcrop")


def test_a_killed_worker_is_said_and_the_window_lives(
    window: MainWindow, settle: Settle, worker: Worker, qtbot: QtBot
) -> None:
    os.kill(worker.process_id, signal.SIGKILL)
    qtbot.waitUntil(lambda: "restarted" in window.pick_bar.said.text(), timeout=120_000)
    window.bench.set("group", "groups", 3)
    settle(window)
    assert len(window.bench.results["grouping"]) == 3


def unnamed(window: MainWindow) -> list[str]:
    """The controls in sight that say nothing to those who do not see them."""
    return [
        type(widget).__name__
        for widget in window.findChildren(QWidget)
        if widget.isVisible()
        and widget.focusPolicy() != Qt.FocusPolicy.NoFocus
        and not isinstance(widget.parent(), QAbstractSpinBox | QComboBox)
        and "qt_" not in widget.objectName()
        and not (widget.accessibleName() or (widget.text() if isinstance(widget, QAbstractButton) else ""))
    ]


def test_controls_have_accessible_names(window: MainWindow, settle: Settle) -> None:
    for number in range(1, 8):
        show(window, number)
        settle(window)
        assert unnamed(window) == [], f"on desk {number}"
        for face in window.desk.faces:
            window.desk.bring_up(face)
            settle(window)
            assert unnamed(window) == [], f"{face.name} on desk {number}"


def _luminance(colour: QColor) -> float:
    parts = [
        part / 12.92 if part <= 0.03928 else ((part + 0.055) / 1.055) ** 2.4
        for part in (colour.redF(), colour.greenF(), colour.blueF())
    ]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(a: QColor, b: QColor) -> float:
    high, low = sorted((_luminance(a), _luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize(
    ("ink", "ground"),
    [
        ("ink", "paper"), ("ink", "card"), ("ink", "band"), ("ink", "tint"), ("muted", "paper"), ("muted", "card"), ("muted", "band"),
        ("spine_ink", "spine"), ("spine_muted", "spine"), ("spine_muted", "spine_card"), ("on_verdigris", "verdigris"), ("verdigris", "paper"),
        ("verdigris", "card"), ("verdigris", "band"), ("madder", "card"), ("madder", "paper"), ("on_ochre_ground", "ochre_ground"),
    ],
)  # fmt: skip
def test_text_stands_out(ink: str, ground: str) -> None:
    assert contrast(theme.colour(ink), theme.colour(ground)) >= 4.5


def test_group_colours_carry_white_letters_and_differ() -> None:
    colours = [group_colour(number) for number in range(24)]
    assert len({colour.name() for colour in colours}) == 24
    assert all(contrast(QColor("white"), colour) >= 4.4 for colour in colours)


def test_a_smaller_window_shows_names_and_numbers_only(window: MainWindow, qtbot: QtBot) -> None:
    wide = window.spine.width()
    window.resize(1024, 700)
    qtbot.waitUntil(lambda: window.spine.width() < wide, timeout=120_000)
    assert window.width() == 1024


@pytest.mark.xvfb
def test_the_demo_opens_on_a_real_screen(tmp_path: Path) -> None:
    if not shutil.which("xvfb-run"):
        pytest.skip("xvfb-run is not installed")
    words = [
        "xvfb-run",
        "-a",
        "-s",
        "-screen 0 1400x900x24",
        sys.executable,
        "-m",
        "jagged_lens",
        "demo",
        "--pictures",
        str(tmp_path),
    ]
    done = subprocess.run(
        words,
        capture_output=True,
        text=True,
        timeout=300,
        env={**os.environ, "QT_QPA_PLATFORM": "xcb", "HOME": str(tmp_path)},
    )
    assert done.returncode == 0, done.stderr
    assert {path.stem for path in tmp_path.glob("*.png")} == {
        *STEPS,
        "reading-table",
        "add-source",
        "meaning",
        "group-how-many",
        "group-ridge",
        "another-lens-dark",
        "two-lenses",
        "two-sides",
        "report",
        "report-pages",
        "place",
        "suggest",
    }
