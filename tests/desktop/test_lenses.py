# SPDX-License-Identifier: GPL-3.0-or-later
"""Lenses, the pick and what hangs on documents, driven through the window."""

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QSettings, Qt
from PyQt6.QtGui import QColor, QTextCursor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from desktop.test_window import contrast
from jagged_lens.desktop.commands import preferences
from jagged_lens.desktop.commands.help import key_list, show_finder, start_tour
from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.desks.map.documents import DocumentMap
from jagged_lens.desktop.frame.finder import Finder
from jagged_lens.desktop.frame.tour import Tour
from jagged_lens.desktop.look import plain, theme
from jagged_lens.desktop.look.words import DESKS
from jagged_lens.desktop.sheets.preferences import Preferences
from jagged_lens.desktop.window import MainWindow

Settle = Callable[[MainWindow], None]
CTRL, ALT, SHIFT = (
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.AltModifier,
    Qt.KeyboardModifier.ShiftModifier,
)


def do(window: MainWindow, name: str) -> None:
    """What the menu does with the command of that name."""
    window.menus.actions[name].trigger()


def answers(monkeypatch: pytest.MonkeyPatch, *words: str) -> None:
    """What the user types into the next questions."""
    left = list(words)
    monkeypatch.setattr(plain, "_answer", lambda box: (left.pop(0), True))


def test_the_demo_opens_with_five_lenses_whose_profiles_become_known(window: MainWindow, qtbot: QtBot) -> None:
    lenses = window.bench.state.lenses
    assert [lens.name for lens in lenses] == ["Crops", "Troubles", "Too few groups", "Own rules", "By meaning"]
    qtbot.waitUntil(lambda: all(window.bench.profile(at) for at in range(5)), timeout=120_000)
    menu = window.spine.lens.menu()
    assert [action.text() for action in menu.actions()[:5]] == [lens.name for lens in lenses]
    menu.actions()[1].trigger()
    qtbot.waitUntil(lambda: not window.bench.working, timeout=120_000)
    assert window.bench.state.lens.name == "Troubles"
    assert window.spine.steps["terms"].settings.startswith("1 word")
    told = [window.bench.results["terms"].shown[c] for c in window.bench.results["key_terms"].columns(0)]
    assert {"slugs", "drought", "wind", "frost", "birds"} & set(told)


def test_a_lens_is_doubled_changed_renamed_moved_and_deleted(
    window: MainWindow, settle: Settle, monkeypatch: pytest.MonkeyPatch
) -> None:
    space = window.bench.results["space"]
    QTest.keyClick(window, Qt.Key.Key_D, CTRL)
    settle(window)
    assert window.bench.state.lens.name == "Crops, varied"
    assert window.bench.results["space"] is space  # computed once
    window.bench.set("group", "groups", 3)
    settle(window)
    answers(monkeypatch, "Crops")
    do(window, "Rename")
    assert window.bench.state.lens.name == "Crops 2"
    do(window, "Move up")
    assert [lens.name for lens in window.bench.state.lenses][:2] == ["Crops 2", "Crops"]
    QTest.keyClick(window, Qt.Key.Key_PageDown, CTRL)
    settle(window)
    assert len(window.bench.results["grouping"]) == 10
    window.bench.choose_lens(0)
    do(window, "Delete")
    settle(window)
    assert [lens.name for lens in window.bench.state.lenses] == [
        "Crops",
        "Troubles",
        "Too few groups",
        "Own rules",
        "By meaning",
    ]
    do(window, "Undo")
    assert len(window.bench.state.lenses) == 6
    do(window, "New lens")
    settle(window)
    assert window.bench.recipe.gather == window.bench.state.lenses[0].recipe.gather
    assert window.bench.recipe.group.groups == 0  # as fits their number


def test_hold_waits_until_it_is_let_go(window: MainWindow, settle: Settle) -> None:
    QTest.keyClick(window, Qt.Key.Key_H, CTRL)
    before = window.bench.results["grouping"]
    window.bench.set("group", "groups", 6)
    window.bench.set("compare", "pairs-from", 0.7)
    settle(window)
    assert window.bench.results["grouping"] is before
    assert not window.bench.step_ready("group")
    assert window.bench.step_ready("terms")
    assert "held" in window.spine.lens.accessibleName()
    QTest.keyClick(window, Qt.Key.Key_H, CTRL)
    settle(window)
    assert len(window.bench.results["grouping"]) == 6
    assert window.bench.step_ready("compare")


def test_another_desk_beside_this_one_on_the_same_pick(window: MainWindow, settle: Settle) -> None:
    window.put_beside("group")
    settle(window)
    assert window.side.isHidden()
    group, map_ = window.desks["group"], window.desks["map"]
    assert group.isVisible()
    assert map_.isVisible()
    group.table.selectRow(1)  # type: ignore[attr-defined]
    assert len(map_.canvas._pick) == window.bench.results["grouping"].sizes[1]  # type: ignore[attr-defined]
    window.show_step("group")  # the two change places
    assert window.area.beside == "map"
    assert map_.isVisible()
    QTest.keyClick(window, Qt.Key.Key_Backslash, CTRL)
    assert window.area.beside == ""
    window.show_step("map")
    assert not group.isVisible()


def test_the_pick_is_inverted_grown_kept_and_narrowed(
    window: MainWindow, settle: Settle, monkeypatch: pytest.MonkeyPatch
) -> None:
    bench = window.bench
    bench.pick.set([3, 4])
    QTest.keyClick(window, Qt.Key.Key_G, CTRL)
    near = bench.results["neighbours"].row[[3, 4], :12]
    assert set(bench.pick.rows) == {3, 4, *near[near >= 0].tolist()}
    answers(monkeypatch, "near")
    QTest.keyClick(window, Qt.Key.Key_M, CTRL)
    grown = bench.pick.rows
    QTest.keyClick(window, Qt.Key.Key_I, CTRL)
    assert len(bench.pick.rows) == 640 - len(grown)
    bench.pick.set([grown[0], 600, 601])
    assert [action.text() for action in window.menus.narrow.actions()] == [f"near  ({len(grown)})"]
    window.menus.narrow.actions()[0].trigger()
    assert bench.pick.rows == (grown[0],)
    window.menus.kept.actions()[0].trigger()
    assert bench.pick.rows == grown
    QTest.keyClick(window, Qt.Key.Key_Left, ALT)
    assert bench.pick.rows == (grown[0],)
    QTest.keyClick(window, Qt.Key.Key_Right, ALT)
    assert bench.pick.rows == grown
    QTest.keyClick(window, Qt.Key.Key_A, CTRL | SHIFT)
    assert len(bench.pick) == 640


def test_a_label_of_ones_own_behaves_like_one_that_came(
    window: MainWindow, settle: Settle, monkeypatch: pytest.MonkeyPatch
) -> None:
    desk: Any = window.desks["map"]
    window.bench.pick.set([1, 2, 5])
    answers(monkeypatch, "mine", "odd")
    QTest.keyClick(window, Qt.Key.Key_L, CTRL)
    settle(window)
    assert "mine" in [action.text() for action in desk.face(DocumentMap).tools.colour_menu.actions()]
    desk.face(DocumentMap).colour_by("mine")
    names = [desk.canvas.categories[int(number)].name for number in desk.canvas.category]
    assert [row for row, name in enumerate(names) if name == "odd"] == [1, 2, 5]
    window.bench.pick.set([2])
    assert "odd" in window.side.reader.one.meta.text()
    QTest.keyClick(window, Qt.Key.Key_Z, CTRL)
    settle(window)
    assert "odd" not in window.side.reader.one.meta.text()


def test_what_is_set_aside_takes_part_no_more_until_it_is_brought_back(
    window: MainWindow, settle: Settle, monkeypatch: pytest.MonkeyPatch
) -> None:
    bench = window.bench
    tokens = bench.results["tokens"]
    bench.pick.set([0, 7])
    answers(monkeypatch, "not a note")
    window.pick_bar.aside.click()
    settle(window)
    assert bench.documents.lens_rows().tolist() == [row for row in range(640) if row not in (0, 7)]
    assert bench.results["tokens"] is tokens  # setting aside never tokenises again
    assert len(window.desks["map"].canvas.positions) == 638  # type: ignore[attr-defined]
    bench.pick.set([8])
    window.show_step("map")
    assert window.desks["map"].canvas._pick.tolist() == [6]  # type: ignore[attr-defined]
    assert bench.documents.group_of(8) == bench.results["grouping"].group[6]
    assert bench.documents.group_of(7) == -1
    window.show_step("gather")
    settle(window)
    do(window, "Pick documents set aside")
    assert bench.pick.rows == (0, 7)
    assert "set aside: not a note" in window.side.reader.one.meta.text()
    do(window, "Bring back")
    settle(window)
    assert len(bench.documents.lens_rows()) == 640


def test_find_picks_and_marks(window: MainWindow, qtbot: QtBot, settle: Settle) -> None:
    QTest.keyClick(window, Qt.Key.Key_F, CTRL)
    qtbot.keyClicks(window.find_bar.field, 'slug* "beer"')
    qtbot.waitUntil(lambda: "now picked" in window.find_bar.said.text(), timeout=120_000)
    texts = window.bench.results["corpus"].texts
    assert window.bench.pick.rows
    assert all("slug" in texts[row].lower() and "beer" in texts[row].lower() for row in window.bench.pick.rows)
    shown = window.side.reader.one.text
    plain = shown.toPlainText()
    at = plain.lower().find("beer")
    cursor = QTextCursor(shown.document())
    cursor.setPosition(at + 1)
    assert cursor.charFormat().background().style() != Qt.BrushStyle.NoBrush
    QTest.keyClick(window.find_bar.field, Qt.Key.Key_Escape)
    assert not window.find_bar.isVisible()
    qtbot.keyClicks(window.find_bar.field, " zzz")
    qtbot.waitUntil(lambda: window.find_bar.said.text() == "in no document", timeout=120_000)


def test_ctrl_k_finds_commands_documents_and_terms(window: MainWindow, qtbot: QtBot, settle: Settle) -> None:
    def found(words: str) -> Finder:
        qtbot.waitUntil(window.isActiveWindow, timeout=120_000)
        QTest.keyClick(window, Qt.Key.Key_K, CTRL)
        assert window.finder.field.text() == ""
        qtbot.keyClicks(window.finder.field, words)
        settle(window)
        return window.finder

    finder = found("go to desk comp")
    QTest.keyClick(finder.field, Qt.Key.Key_Return)
    assert window.step == "compare"
    finder = found("poppy dusk")
    kinds = [one.kind for one in finder._found]
    QTest.keyClick(finder.field, Qt.Key.Key_Down)
    chosen = finder._found[1]
    QTest.keyClick(finder.field, Qt.Key.Key_Return)
    assert "document" in kinds
    assert chosen.name.startswith("Poppy ‘Dusk’") or chosen.kind == "term"
    finder = found("copper tape")
    assert ("term", "copper tape") in [(one.kind, one.name) for one in finder._found]
    finder.list.setCurrentRow([one.name for one in finder._found].index("copper tape"))
    QTest.keyClick(finder.field, Qt.Key.Key_Return)
    settle(window)
    assert window.step == "terms"
    assert all("opper tape" in window.bench.results["corpus"].texts[row] for row in window.bench.pick.rows)
    # A word of the glossary, with its definition, opens the guide there.
    finder = found("adjusted rand")
    one = next(one for one in finder._found if one.kind == "word")
    assert one.name == "adjusted Rand index"
    assert one.key.startswith("agreement of two groupings")
    finder.list.setCurrentRow(finder._found.index(one))
    QTest.keyClick(finder.field, Qt.Key.Key_Return)
    settle(window)
    assert window.guide.isVisible()
    assert window.guide.page.textCursor().block().text().startswith("adjusted Rand index: agreement")
    window.guide.close()


def test_menus_keys_and_finder_tell_of_the_same_commands(window: MainWindow) -> None:
    names = {command.name for command in window.commands}
    shown = {
        action.text().replace("&", "").rstrip("…")
        for menu in window.menuBar().actions()
        for action in menu.menu().actions()
    }  # type: ignore[union-attr]
    assert names <= shown
    assert len({command.key for command in window.commands if command.key}) == sum(
        bool(command.key) for command in window.commands
    )
    assert ("Ctrl+K", "Find anything by its name.") in key_list(window)
    assert all(command.help.endswith(".") for command in window.commands)


def test_terms_of_the_lens_are_marked_on_demand(window: MainWindow, settle: Settle) -> None:
    window.bench.pick.set([4])
    text = window.side.reader.one.text

    def marked() -> int:
        count = 0
        for at in range(len(text.toPlainText())):
            cursor = QTextCursor(text.document())
            cursor.setPosition(at + 1)
            count += cursor.charFormat().background().style() != Qt.BrushStyle.NoBrush
        return count

    assert marked() == 0
    QTest.keyClick(window, Qt.Key.Key_T, CTRL)
    settle(window)
    assert marked() > 40


def test_the_dark_look_and_larger_text_are_taken_at_once_and_kept(
    window: MainWindow, settle: Settle, tmp_path: Any, qapp: QApplication
) -> None:
    window.memory = QSettings(str(tmp_path / "window.ini"), QSettings.Format.IniFormat)
    size = window.side.reader.one.text.font().pointSizeF()
    try:
        preferences.show_preferences(window)
        window.preferences_window.look.setCurrentIndex(2)
        window.preferences_window.letters.setValue(150)
        settle(window)
        edge = window.desk.mapTo(window, QPoint(4, 4))
        assert window.grab().toImage().pixelColor(edge).lightnessF() < 0.3
        assert window.side.reader.one.text.font().pointSizeF() == pytest.approx(size * 1.5)
        assert Preferences.read(window.memory).look == "dark"
    finally:
        theme.use(qapp, "light")
        window.memory = None


@pytest.mark.parametrize(
    ("ink", "ground"),
    [
        ("ink", "paper"), ("muted", "card"), ("muted", "paper"), ("muted", "band"), ("ink", "tint"), ("verdigris", "card"), ("madder", "card"),
        ("on_verdigris", "verdigris"), ("spine_muted", "spine"), ("spine_muted", "spine_card"), ("on_ochre_ground", "ochre_ground"),
    ],
)  # fmt: skip
def test_text_stands_out_in_the_dark_look(ink: str, ground: str) -> None:
    assert contrast(QColor(getattr(theme.DARK, ink)), QColor(getattr(theme.DARK, ground))) >= 4.5


def test_escape_closes_the_finder_and_leaves_the_pick(window: MainWindow) -> None:
    window.bench.pick.set([1, 2])
    show_finder(window)
    QTest.keyClick(window, Qt.Key.Key_Escape)
    assert not window.finder.isVisible()
    assert window.bench.pick.rows == (1, 2)


def test_a_kept_pick_is_forgotten_and_comes_back(window: MainWindow) -> None:
    window.bench.pick.set([1, 2])
    window.bench.keep_pick("two")
    assert window.menus.forget is not None
    window.menus.forget.actions()[0].trigger()
    assert window.bench.state.kept == ()
    window.undo.trigger()
    assert [one.name for one in window.bench.state.kept] == ["two"]


def test_escape_leaves_the_tour_and_nothing_else(window: MainWindow) -> None:
    window.bench.pick.set([1, 2])
    start_tour(window)
    tour = window.findChild(Tour)
    assert tour is not None
    QTest.keyClick(window, Qt.Key.Key_Escape)
    assert not tour.isVisible()
    assert window.bench.pick.rows == (1, 2)


def test_the_tour_has_five_cards(window: MainWindow) -> None:
    start_tour(window)
    tour = window.findChild(Tour)
    assert tour is not None
    seen = []
    for _ in range(5):
        seen.append(tour._heading.text())
        assert tour.rect().contains(tour.card.geometry())
        QTest.keyClick(tour, Qt.Key.Key_Return)
    assert len(set(seen)) == 5
    assert not tour.isVisible()


def test_a_narrow_window_folds_the_side_and_opens_it_over_the_desk(window: MainWindow, qtbot: QtBot) -> None:
    window.resize(1024, 700)
    qtbot.waitUntil(lambda: not window.side.isVisible() and window.area.width() > 800, timeout=120_000)
    width = window.area.width()
    QTest.keyClick(window, Qt.Key.Key_F9)
    assert window.side.isVisible()
    assert window.area.width() == width
    assert window.side.geometry().right() >= window.area.geometry().right()
    window.resize(1280, 800)
    qtbot.waitUntil(lambda: window.side.parent() is window.middle.splitter, timeout=120_000)
    assert window.side.isVisible()


def test_from_the_keyboard_alone(
    window: MainWindow, qtbot: QtBot, settle: Settle, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Open, go to Compare, read three pairs, double the lens, change k, see the map, pick a group, keep it."""

    def press(key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        QTest.keyClick(window.focusWidget() or window, key, modifier)
        settle(window)

    press(Qt.Key.Key_5, ALT)
    assert isinstance(window.desk, CompareDesk)
    table = window.desk.face(PairsFace).table
    read = []
    for _ in range(3):
        press(Qt.Key.Key_J)
        read.append(window.side.reader.heading.text())
    assert len(set(read)) == 3
    assert table.hasFocus()
    press(Qt.Key.Key_D, CTRL)
    press(Qt.Key.Key_6, ALT)
    press(Qt.Key.Key_F8)
    assert window.side.settings.controls["group"]["by"].field.hasFocus()
    field: QWidget = window.side.settings.controls["group"]["groups"].field
    for _ in range(60):
        if window.focusWidget() is field:
            break
        press(Qt.Key.Key_Tab)
    assert window.focusWidget() is field
    press(Qt.Key.Key_A, CTRL)
    qtbot.keyClicks(field, "7")
    press(Qt.Key.Key_Return)
    assert len(window.bench.results["grouping"]) == 7
    press(Qt.Key.Key_7, ALT)
    assert window.desks["map"].canvas.hasFocus()  # type: ignore[attr-defined]
    press(Qt.Key.Key_6, ALT)
    press(Qt.Key.Key_Down)
    answers(monkeypatch, "a group")
    press(Qt.Key.Key_M, CTRL)
    kept = window.bench.state.kept[0]
    sizes = window.bench.results["grouping"].sizes.tolist()
    assert kept.name == "a group"
    assert len(kept.keys) in sizes
    press(Qt.Key.Key_7, ALT)
    assert len(window.desks["map"].canvas._pick) == len(kept.keys)  # type: ignore[attr-defined]
    assert set(DESKS) == set(window.desks)
    assert np.isin(window.bench.pick.rows, window.bench.documents.lens_rows()).all()
