# SPDX-License-Identifier: GPL-3.0-or-later
"""Settings in sentences, filters made where things are seen, and finding one's way: through the real widgets."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractSpinBox, QApplication, QLabel, QWidget
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.commands import help as help_commands
from jagged_lens.desktop.desks.gather.desk import GatherDesk
from jagged_lens.desktop.frame.settings_leaf import Sentence
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.window import MainWindow
from jagged_lens.gather import Label, Source
from jagged_lens.lens import (
    LENS_ROWS,
    OVERVIEW,
    TOKENS,
)
from jagged_lens.project import Bench, opened
from jagged_lens.worker import Worker

Settle = Callable[[MainWindow], None]
LEFT = Qt.MouseButton.LeftButton
CTRL = Qt.KeyboardModifier.ControlModifier


def desk(window: MainWindow, settle: Settle) -> GatherDesk:
    window.show_step("gather")
    settle(window)
    assert isinstance(window.desk, GatherDesk)
    return window.desk


def label(window: MainWindow, name: str) -> Label:
    return next(one for one in window.bench.documents.labels() if one.name == name)


def sentence(window: MainWindow, step: str, key: str) -> Sentence:
    return next(one for one in window.side.settings._sentences[step] if key in one.controls)


def read(one: Sentence) -> str:
    """The words of a sentence as they stand, in order."""
    found = []
    for widget in one.findChildren(QWidget):
        if isinstance(widget, QLabel) and not widget.isHidden() and widget.isVisibleTo(one):
            found.append(widget.text())
    return " ".join(found)


# Sentences.


def test_settings_are_said_and_changed_in_place_and_put_back(window: MainWindow, settle: Settle) -> None:
    window.show_step("terms")
    window.side.show_settings()
    settle(window)
    kept = sentence(window, "terms", "least-documents")
    assert "Keep terms found in at least" in read(kept)
    number = kept.controls["least-documents"].field
    assert isinstance(number, QAbstractSpinBox)
    assert number.text() == "3 (from the number of documents)"
    assert kept.controls["most-share"].field.text() == "60%"  # type: ignore[attr-defined]
    assert not kept.back.isVisibleTo(kept)
    number.setFocus()
    number.selectAll()
    QTest.keyClicks(number, "5")
    QTest.keyClick(number, Qt.Key.Key_Return)
    settle(window)
    assert window.bench.recipe.terms.least_documents == 5
    assert "in 5+ documents" in window.spine.steps["terms"].settings
    number.selectAll()
    QTest.keyClicks(number, "1%")
    QTest.keyClick(number, Qt.Key.Key_Return)
    settle(window)
    assert window.bench.recipe.terms.least_documents == 0.01
    assert kept.back.isVisibleTo(kept)
    QTest.mouseClick(kept.back, LEFT)
    settle(window)
    assert window.bench.recipe.terms.least_documents == 0
    assert not kept.back.isVisibleTo(kept)
    window.bench.set("terms", "most-share", 0.5)
    window.bench.set("terms", "least-times", 2)
    settle(window)
    steps = len(list(window.bench.history.past()))
    QTest.mouseClick(kept.back, LEFT)
    settle(window)
    terms = window.bench.recipe.terms
    assert (terms.most_share, terms.least_times) == (0.6, 1)
    assert len(list(window.bench.history.past())) == steps + 1


def test_the_language_is_said_by_name_and_overruled_by_name(window: MainWindow, settle: Settle) -> None:
    window.show_step("clean")
    window.side.show_settings()
    settle(window)
    assert window.spine.steps["clean"].settings == "English stems and stop words"
    field = window.side.settings.controls["clean"]["language"].field
    words = [field.itemText(at) for at in range(field.count())]  # type: ignore[attr-defined]
    assert words[:3] == ["English, the main language", "each document's own", "Afrikaans"]
    assert "German" in words
    assert "de" not in words
    field.setCurrentIndex(words.index("German"))  # type: ignore[attr-defined]
    settle(window)
    assert window.bench.recipe.clean.language == "de"
    assert window.spine.steps["clean"].settings == "German stems and stop words"
    assert "the" in list(window.bench.results[TOKENS].words)
    window.undo.trigger()
    settle(window)
    assert "the" not in list(window.bench.results[TOKENS].words)


def test_what_is_taken_out_is_ticked_in_a_menu_and_what_hangs_on_it_appears(window: MainWindow, settle: Settle) -> None:
    window.show_step("clean")
    window.side.show_settings()
    settle(window)
    assert sentence(window, "clean", "recurring-from").isHidden()
    boxes = window.side.settings.controls["clean"]["take-out"].field
    boxes.boxes["recurring-lines"].trigger()  # type: ignore[attr-defined]
    settle(window)
    assert "recurring-lines" in window.bench.recipe.clean.take_out
    assert not sentence(window, "clean", "recurring-from").isHidden()
    assert window.side.settings.controls["clean"]["recurring-from"].field.text() == "5%"  # type: ignore[attr-defined]


def test_a_list_is_edited_an_entry_a_line_with_its_hits(window: MainWindow, settle: Settle, tmp_path: Path) -> None:
    window.bench.set("clean", "own-rules", ["join: late frost", "never: zebras"])
    window.show_step("clean")
    window.side.show_settings()
    settle(window)
    control = window.side.settings.controls["clean"]["own-rules"]
    assert control.field.text() == "join: late frost, never: zebras"  # type: ignore[attr-defined]
    control.field.click()  # type: ignore[attr-defined]
    editor = control.editor
    shown = [editor.listed.index(at).data() for at in range(2)]
    joined = sum(text.lower().count("late frost") for text in window.bench.results["corpus"].texts)
    assert shown[0].startswith("join: late frost   ·   ")
    assert 0 < int(shown[0].split("·")[1].split()[0]) <= joined + 5
    assert shown[1] == "never: zebras   ·   0 hits"
    editor.list.doubleClicked.emit(editor.listed.index(1))
    assert editor.field.text() == "never: zebras"  # type: ignore[union-attr]
    editor.field.setText("no rule at all")  # type: ignore[union-attr]
    QTest.mouseClick(editor.main, LEFT)
    settle(window)
    # What is not a rule is said where everything else is, and can be mended.
    assert "is not a rule" in window.desk._notice.words.text()
    control.field.click()  # type: ignore[attr-defined]
    control.editor.list.setFocus()
    control.editor.list.selectAll()
    QTest.keyClick(control.editor.list, Qt.Key.Key_Delete)
    (tmp_path / "rules.txt").write_text("# ours\nnever: slugs\njoin: copper tape  # both\n")
    control.editor._read_lines(tmp_path / "rules.txt")
    settle(window)
    assert control.editor.entries == ("never: slugs", "join: copper tape")
    QTest.mouseClick(control.editor.main, LEFT)
    settle(window)
    assert window.bench.recipe.clean.own_rules == ("never: slugs", "join: copper tape")
    assert not window.desk._notice.isVisible()


# Only these, without these.


def test_a_bar_is_the_filter_by_the_right_button_and_a_plate_takes_it_off(
    window: MainWindow, settle: Settle, qtbot: QtBot
) -> None:
    front = desk(window, settle)
    bars = next(
        one for one in front.by_label.findChildren(QWidget) if hasattr(one, "chosen") and one is not front.by_label
    )
    place = bars.mapTo(window, QPoint(60, 8))
    event = QContextMenuEvent(QContextMenuEvent.Reason.Mouse, place, window.mapToGlobal(place))
    QApplication.sendEvent(window, event)
    assert window.context is not None
    crop = label(window, "crop")
    value = crop.value(window.bench.pick.rows[0])
    next(one for one in window.context.actions() if one.text() == "Only these").trigger()
    settle(window)
    assert window.bench.recipe.gather.only == (f"crop = {value}",)
    assert len(window.bench.results[LENS_ROWS]) == sum(crop.value(row) == value for row in range(640))
    plate = front.filters.plates[f"only crop: {value}"]
    menu = plate.menu()
    assert menu is not None
    menu.aboutToShow.emit()
    other = next(one for one in menu.actions() if one.isCheckable() and not one.isChecked())
    other.trigger()
    settle(window)
    assert len(window.bench.recipe.gather.only) == 2
    menu = next(one for words, one in front.filters.plates.items() if words.startswith("only crop")).menu()
    assert menu is not None
    menu.aboutToShow.emit()
    next(one for one in menu.actions() if one.text() == "Not these").trigger()
    settle(window)
    assert window.bench.recipe.gather.only == ()
    assert len(window.bench.recipe.gather.without) == 2
    menu = next(one for words, one in front.filters.plates.items() if words.startswith("not crop")).menu()
    assert menu is not None
    menu.aboutToShow.emit()
    next(one for one in menu.actions() if one.text() == "Remove").trigger()
    settle(window)
    assert len(window.bench.results[LENS_ROWS]) == 640


def test_a_range_a_pick_and_what_is_left_out_in_one_step_each(window: MainWindow, settle: Settle) -> None:
    front = desk(window, settle)
    words = window.bench.results[OVERVIEW].words
    front._brush(60, 90)
    QTest.mouseClick(window.pick_bar.only, LEFT)
    settle(window)
    gather = window.bench.recipe.gather
    inside = words[(words >= 60) & (words <= 90)]
    assert (gather.least_words, gather.most_words) == (inside.min(), inside.max())
    window.undo.trigger()
    settle(window)
    window.bench.pick.set([3, 5, 9])
    QTest.mouseClick(window.pick_bar.without, LEFT)
    settle(window)
    assert window.bench.recipe.gather.without == ("picked = yes",)
    assert len(window.bench.results[LENS_ROWS]) == 637
    assert not {3, 5, 9} & set(window.bench.results[LENS_ROWS].tolist())
    assert "not picked: yes" in front.filters.plates
    window.undo.trigger()
    settle(window)
    assert len(window.bench.results[LENS_ROWS]) == 640
    assert "picked" not in [one.name for one in window.bench.documents.labels()]


def test_other_languages_are_told_and_each_is_read_in_its_own(window: MainWindow, settle: Settle) -> None:
    front = desk(window, settle)
    chip = next(one for words, one in front.attention.chips.items() if words.endswith("in another language"))
    assert chip.text().endswith("in another language than English")
    menu = chip.menu()
    assert menu is not None
    names = [action.text().partition("  (")[0] for action in menu.actions()]
    assert {"German", "French", "Swedish", "Portuguese"} <= set(names)
    next(action for action in menu.actions() if action.text().startswith("Swedish")).trigger()
    assert len(window.bench.pick) == 1
    next(action for action in menu.actions() if action.text().startswith("Read each document")).trigger()
    settle(window)
    tokens = window.bench.results[TOKENS]
    assert tokens.each
    assert not {"und", "les", "och", "się"} & set(tokens.words)  # which no English list takes


# Finding one's way.


def test_ctrl_k_finds_a_setting_and_f8_puts_the_keyboard_there(
    window: MainWindow, settle: Settle, qtbot: QtBot
) -> None:
    help_commands.show_finder(window)
    QTest.keyClicks(window.finder.field, "own rules")
    qtbot.waitUntil(lambda: any("Clean: Own rules" in one.name for one in window.finder._found), timeout=120_000)
    window.finder.list.setCurrentRow([one.name for one in window.finder._found].index("Clean: Own rules"))
    QTest.keyClick(window.finder.field, Qt.Key.Key_Return)
    settle(window)
    assert window.step == "clean"
    assert window.side.settings.controls["clean"]["own-rules"].field.hasFocus()
    window.show_step("group")
    QTest.keyClick(window, Qt.Key.Key_F8)
    settle(window)
    assert window.side.settings.controls["group"]["by"].field.hasFocus()


def test_f1_twice_opens_the_guide_at_the_desk(window: MainWindow, settle: Settle) -> None:
    window.show_step("weigh")
    settle(window)
    QTest.keyClick(window, Qt.Key.Key_F1)
    assert window.keys_dialog.isVisible()
    QTest.keyClick(window.keys_dialog, Qt.Key.Key_F1)
    settle(window)
    guide = window.guide
    assert guide is not None
    assert guide.isVisible()
    assert not window.keys_dialog.isVisible()
    assert guide.page.textCursor().block().text() == "Weigh"  # type: ignore[attr-defined]
    guide.buttons["formulas"].click()  # type: ignore[attr-defined]
    assert "Porter" in guide.page.toPlainText()  # type: ignore[attr-defined]
    guide.field.setText("Dunning")  # type: ignore[attr-defined]
    QTest.keyClick(guide.field, Qt.Key.Key_Return)  # type: ignore[attr-defined]
    assert guide.page.textCursor().selectedText() == "Dunning"  # type: ignore[attr-defined]
    guide.close()


def test_a_step_that_leaves_nothing_names_the_setting_and_mends_it(window: MainWindow, settle: Settle) -> None:
    window.show_step("terms")
    window.bench.set("terms", "least-documents", 5000)
    settle(window)
    notice = window.desk._notice
    assert notice.isVisible()
    assert "No term occurs in at least 5000 documents" in notice.words.text()
    assert notice.change.text() == "In at least: 2"
    QTest.mouseClick(notice.change, LEFT)
    settle(window)
    assert len(window.bench.results["terms"].kept) > 1000
    assert not notice.isVisible()


def test_tab_goes_from_the_desk_to_the_side_to_the_pick_bar(window: MainWindow, settle: Settle) -> None:
    window.show_step("terms")
    window.side.show_settings()
    window.bench.pick.set([1, 2])
    settle(window)
    order = []
    widget = window.desk.table
    for _ in range(20_000):
        following = widget.nextInFocusChain()
        assert following is not None
        widget = following
        if not (widget.isVisible() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus):
            continue
        for name, part in (
            ("desk", window.area),
            ("side", window.side),
            ("bar", window.pick_bar),
            ("spine", window.spine),
        ):
            if part.isAncestorOf(widget) and (not order or order[-1] != name):
                order.append(name)
    start = order.index("side")
    assert order[start : start + 2] == ["side", "bar"]
    assert np.all([name in order for name in ("desk", "side", "bar")])


def test_a_script_without_spaces_is_noticed_and_read_as_runs(
    qtbot: QtBot, qapp: QApplication, worker: Worker, settle: Settle, tmp_path: Path
) -> None:
    sentences = [
        "今天早上我在花园里工作，天气还很冷。",
        "蛞蝓几乎吃光了所有的豆子。",
        "五月天气变好了，但是后来霜又回来了。",
    ]
    lines = [f"{at},{sentences[at % 3]}{sentences[at % 2]}" for at in range(12)]
    (tmp_path / "zh.csv").write_text("\n".join(["nr,note", *lines]) + "\n", "utf-8")
    theme.dress(qapp)
    bench = Bench(opened(tmp_path).with_sources((Source(file=str(tmp_path / "zh.csv")),)), worker)
    window = MainWindow(bench, worker)
    qtbot.addWidget(window)
    window.show()
    front = desk(window, settle)
    bench.compute()
    settle(window)
    assert "characters" in front.figures.text()
    assert front.lengths_heading.text() == "Characters in a document"
    assert "12 without spaces between words" in front.attention.chips
    assert bench.results["corpus"].titles[0].startswith("今天")
    window.show_step("clean")
    settle(window)
    assert "Chinese does not separate words by spaces" in window.desk._notice.words.text()
    QTest.mouseClick(window.desk._notice.change, LEFT)
    settle(window)
    assert (bench.recipe.clean.tokens, bench.recipe.terms.words) == ("characters", (2, 2))
    assert "五月" in list(bench.results["terms"].terms)
    assert not window.desk._notice.isVisible()
    desk(window, settle)
    assert "12 without spaces between words" not in front.attention.chips
    window.undo.trigger()
    assert bench.recipe.clean.tokens == "words"
    window.close()
