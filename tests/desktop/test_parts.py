# SPDX-License-Identifier: GPL-3.0-or-later
"""Widgets on their own: what they show and how they answer."""

from collections.abc import Iterator

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, QSettings, Qt
from PyQt6.QtGui import QColor, QTextCursor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from desktop.test_window import contrast
from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import heading
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.group_colours import group_colour, letter_ink
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.plots.bars import PartsBar
from jagged_lens.desktop.plots.histogram import LimitHistogram
from jagged_lens.desktop.plots.label_bars import LabelBars
from jagged_lens.desktop.plots.term_map import PlacedTerm, TermMap
from jagged_lens.desktop.reading.marked_text import MarkedText
from jagged_lens.desktop.sheets.about import about_text
from jagged_lens.desktop.sheets.preferences import Preferences
from jagged_lens.desktop.tables.arrangement import Column
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Label
from jagged_lens.strings import Strings


@pytest.fixture(autouse=True)
def light(qapp: QApplication) -> Iterator[None]:
    theme.use(qapp, "light")
    yield
    theme.use(qapp, "light")


@pytest.fixture
def table(qtbot: QtBot) -> TableView:
    names = ["leek", "Bean", "pea", "barley"]
    times = np.array([3, 1, 3, 2])
    view = TableView("Crops")
    qtbot.addWidget(view)
    view.resize(300, 200)
    view.show_rows(
        [
            Column("Name", lambda row: names[row], searched=True),
            Column("Times", lambda row: str(times[row]), times, right=True),
        ],
        4,
    )
    view.show()
    return view


def shown(table: TableView, column: int = 0) -> list[str]:
    return [table.listed.index(row, column).data() for row in range(table.listed.rowCount())]


def test_a_table_sorts_by_number_and_by_text_and_keeps_ties_in_order(table: TableView) -> None:
    table.sortByColumn(1, Qt.SortOrder.DescendingOrder)
    assert shown(table) == ["leek", "pea", "barley", "Bean"]
    table.sortByColumn(0, Qt.SortOrder.AscendingOrder)
    assert shown(table) == ["barley", "Bean", "leek", "pea"]
    assert not table.listed.unsorted


def test_a_table_filters_in_any_case_and_by_a_mask(table: TableView) -> None:
    table.listed.filter("EA")
    assert shown(table) == ["Bean", "pea"]
    table.listed.filter("ea", np.array([True, False, True, True]))
    assert shown(table) == ["pea"]
    table.listed.filter("")
    assert len(shown(table)) == 4


def test_a_table_tells_where_its_cursor_is_and_not_what_was_chosen_elsewhere(table: TableView, qtbot: QtBot) -> None:
    told: list[int] = []
    table.row_changed.connect(told.append)
    table.show_chosen([1, 2])
    assert told == []
    assert sorted(table.chosen_rows()) == [1, 2]
    table.step(1)
    assert told == [2]
    table.sortByColumn(0, Qt.SortOrder.AscendingOrder)
    table.go_to(3)
    assert table.current_row() == 3
    read: list[int] = []
    table.read_wanted.connect(read.append)
    QTest.keyClick(table, Qt.Key.Key_Space)
    assert read == [3]


def test_a_table_keeps_order_and_cursor_when_its_arrays_change(table: TableView) -> None:
    table.sortByColumn(1, Qt.SortOrder.AscendingOrder)
    table.go_to(3)
    table.show_rows(table.listed.columns, 4)
    assert table.current_row() == 3
    assert shown(table, 1) == ["1", "2", "3", "3"]


def test_an_empty_table_bears_everything(qtbot: QtBot) -> None:
    view = TableView("Nothing")
    qtbot.addWidget(view)
    view.show_rows([Column("Name", str)], 0)
    view.step(1)
    view.copy()
    view.sortByColumn(0, Qt.SortOrder.AscendingOrder)
    assert view.current_row() == -1
    assert QApplication.clipboard().text() == "Name"  # type: ignore[union-attr]


def test_marks_stand_where_they_should_beyond_the_basic_plane(qtbot: QtBot) -> None:
    text = MarkedText()
    qtbot.addWidget(text)
    words = "😀 slugs 😀😀 frost"
    start = words.index("frost")
    text.show_text(words, [(start, start + 5, 1.0)], [(2, 7)])
    assert text.toPlainText() == words
    marked, underlined = "", ""
    plain = words.encode("utf-16-le")
    for unit in range(len(plain) // 2):
        cursor = QTextCursor(text.document())
        cursor.setPosition(unit + 1)
        form = cursor.charFormat()
        character = plain[2 * unit : 2 * unit + 2].decode("utf-16-le", "replace")
        marked += character if form.background().style() != Qt.BrushStyle.NoBrush else ""
        underlined += character if form.foreground().color() == theme.colour("madder") else ""
    assert (marked, underlined) == ("frost", "slugs")
    text.show_text("plain again")
    cursor = QTextCursor(text.document())
    cursor.setPosition(1)
    assert cursor.charFormat().background().style() == Qt.BrushStyle.NoBrush


def test_text_that_looks_like_markup_is_shown_as_text(qtbot: QtBot) -> None:
    text = MarkedText()
    qtbot.addWidget(text)
    text.show_text("<b>bold</b> <img src='http://larkmoor.example/x.png'> &amp;")
    assert text.document().toPlainText() == "<b>bold</b> <img src='http://larkmoor.example/x.png'> &amp;"


def test_the_limit_is_moved_by_mouse_and_keys_within_its_range(qtbot: QtBot) -> None:
    picture = LimitHistogram()
    qtbot.addWidget(picture)
    picture.resize(400, 120)
    picture.show()
    picture.show_counts(np.arange(40.0), 0.5)
    told: list[float] = []
    picture.limit_set.connect(told.append)
    QTest.keyClick(picture, Qt.Key.Key_Right)
    QTest.keyClick(picture, Qt.Key.Key_PageUp)
    QTest.mouseClick(
        picture, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(round(picture.place_of(0.25)), 40)
    )
    QTest.mouseClick(picture, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(399, 40))
    assert told == [0.51, 0.61, pytest.approx(0.25, abs=0.006), 1.0]
    QTest.keyClick(picture, Qt.Key.Key_Right)
    assert told[-1] == 1.0


def test_bars_say_their_numbers_to_those_who_do_not_see_them(qtbot: QtBot) -> None:
    parts = PartsBar()
    qtbot.addWidget(parts)
    parts.resize(400, 100)
    parts.show_parts([("slugs", 0.5), ("copper tape", 0.3), ("frost", 0.01)])
    assert parts.accessibleName() == "Parts: slugs 0.50, copper tape 0.30, frost 0.01"
    named, others = parts.segments()
    assert len(named) == 2
    assert others is not None
    assert named[0].width() > named[1].width() > others.width()
    chosen: list[int] = []
    parts.chosen.connect(chosen.append)
    for place in (named[1].center(), others.center(), others.center()):
        QTest.mouseClick(parts, Qt.MouseButton.LeftButton, pos=place.toPoint())
    assert chosen == [1, 2, 2]
    parts.show_parts([("slugs", 0.5), *((f"small {at}", 0.01) for at in range(3))])
    others = parts.segments()[1]
    assert others is not None
    for _ in range(4):  # those that share a segment are gone through
        QTest.mouseClick(parts, Qt.MouseButton.LeftButton, pos=others.center().toPoint())
    assert chosen[3:] == [1, 2, 3, 1]
    parts.setFocus()
    QTest.keyClick(parts, Qt.Key.Key_Right)
    assert parts.accessibleDescription() == "small 1: 0.0100"
    QTest.keyClick(parts, Qt.Key.Key_Space)
    assert chosen[-1] == 2


@pytest.mark.parametrize("look", ["light", "dark"])
@pytest.mark.parametrize("colour_blind", [False, True])
def test_group_colours_differ_and_carry_their_letter_in_every_look(
    qapp: QApplication, look: str, colour_blind: bool
) -> None:
    theme.use(qapp, look, colour_blind)
    colours = [group_colour(number) for number in range(16)]
    assert len({colour.name() for colour in colours}) == 16
    assert all(contrast(letter_ink(), colour) >= 4.4 for colour in colours)
    assert all(contrast(colour, theme.colour("paper")) >= 2.5 for colour in colours)
    assert group_colour(3) == colours[3]


def test_only_the_newest_of_several_questions_is_answered(qtbot: QtBot) -> None:
    asker = Asker()
    answers: list[int] = []
    for number in range(5):
        asker.ask("sum", lambda number=number: number, answers.append)  # type: ignore[misc]
    asker.ask("other", lambda: 99, answers.append)
    qtbot.waitUntil(lambda: 99 in answers, timeout=120_000)
    assert sorted(answers) == [4, 99]
    asker.ask("sum", lambda: 7, answers.append)
    asker.forget("sum")
    assert asker.waiting
    qtbot.waitUntil(lambda: not asker.waiting, timeout=120_000)
    assert 7 not in answers
    asker.finish()
    asker.ask("sum", lambda: 8, answers.append)
    assert 8 not in answers


def test_a_question_that_fails_is_told_and_others_go_on(qtbot: QtBot) -> None:
    asker = Asker()
    told: list[tuple[str, str]] = []
    asker.failed.connect(lambda words, details: told.append((words, details)))

    def fails(error: Exception) -> None:
        raise error

    asker.ask("a", lambda: fails(JaggedLensError("no such thing", "row 3")), told.append)
    asker.ask("b", lambda: fails(ZeroDivisionError("x")), told.append)
    qtbot.waitUntil(lambda: len(told) == 2, timeout=120_000)
    assert told[0] == ("row 3: no such thing", "")
    assert "ZeroDivisionError" in told[1][0]
    assert "Traceback" in told[1][1]
    asker.finish()


def test_preferences_that_make_no_sense_have_their_default(tmp_path: object) -> None:
    memory = QSettings(f"{tmp_path}/window.ini", QSettings.Format.IniFormat)
    wanted = Preferences("dark", 1.3, True, 1.5, 1)
    wanted.write(memory)
    assert Preferences.read(memory) == wanted
    memory.setValue("look", "purple")
    memory.setValue("threads", "900")
    assert Preferences.read(memory).look == "system"
    assert Preferences.read(memory).threads == 64
    memory.setValue("memory", "lots")
    assert Preferences.read(memory) == Preferences()


def test_about_names_the_licence_of_everything_used() -> None:
    words, licences = about_text()
    assert "General Public License" in words
    assert all(line.partition(": ")[2] for line in licences.splitlines())
    assert "not installed" not in licences


def test_the_look_follows_the_system_only_when_asked(qapp: QApplication) -> None:
    theme.use(qapp, "dark")
    assert theme.now is theme.DARK
    assert QColor(theme.now.ink).lightnessF() > 0.8
    theme.use(qapp, "light")
    assert theme.now is theme.LIGHT


def test_all_letters_grow_together_and_back(qapp: QApplication, qtbot: QtBot) -> None:
    label, plain = heading("Beds", 1.5), PlainLabel("Beds")
    for one in (label, plain):
        qtbot.addWidget(one)
        one.show()
    before = [one.font().pointSizeF() for one in (label, plain)]
    read = theme.reading_font().pointSizeF()

    def are(times: float) -> bool:
        now = [one.font().pointSizeF() for one in (label, plain)]
        return now == pytest.approx([times * one for one in before])

    theme.use(qapp, "light", letters=1.5)
    qtbot.waitUntil(lambda: are(1.5), timeout=120_000)
    assert theme.reading_font().pointSizeF() == pytest.approx(1.5 * read)
    theme.use(qapp, "light")
    qtbot.waitUntil(lambda: are(1), timeout=120_000)


def many_terms() -> TermMap:
    places = np.random.default_rng(2).random((60, 2)).astype(np.float32)
    shown = TermMap()
    shown.resize(420, 260)
    shown.show_terms([PlacedTerm(f"term {at}", at % 4, f"{at} times") for at in range(60)], places)
    return shown


def test_names_of_terms_stand_beside_their_dots_and_never_on_each_other(qtbot: QtBot) -> None:
    shown = many_terms()
    qtbot.addWidget(shown)
    shown.show()
    shown.grab()
    boxes = list(shown._boxes.items())
    assert len(boxes) > 15
    for at, (number, box) in enumerate(boxes):
        assert not any(box.intersects(other) for _, other in boxes[:at])
        assert shown.rect().toRectF().contains(box)
        x, y = shown.points()[number]
        assert box.adjusted(-6, -6, 6, 6).contains(QPointF(x, y))
    hidden = next(number for number in range(60) if number not in shown._boxes)
    shown.go_to(hidden)
    shown.grab()
    assert hidden in shown._boxes  # the one that is marked is named first


def test_arrows_walk_from_term_to_term_in_their_direction(qtbot: QtBot) -> None:
    shown = many_terms()
    qtbot.addWidget(shown)
    QTest.keyClick(shown, Qt.Key.Key_Right)
    for key, axis, sign in (
        (Qt.Key.Key_Right, 0, 1),
        (Qt.Key.Key_Up, 1, -1),
        (Qt.Key.Key_Left, 0, -1),
        (Qt.Key.Key_Down, 1, 1),
    ):
        before = shown.points()[shown._current]
        QTest.keyClick(shown, key)
        moved = shown.points()[shown._current] - before
        assert moved[axis] * sign >= 0
    chosen: list[int] = []
    shown.chosen.connect(chosen.append)
    QTest.keyClick(shown, Qt.Key.Key_Space)
    assert chosen == [shown._current]


def test_terms_with_the_same_documents_are_all_told(qtbot: QtBot) -> None:
    shown = TermMap()
    qtbot.addWidget(shown)
    shown.resize(300, 200)
    assert shown.told_at(QPointF(10, 10)) == []
    terms = [PlacedTerm(f"term {at}", 0, "5 times") for at in range(16)]
    shown.show_terms(terms, np.array([[0, 0]] * 15 + [[1, 1]]))
    x, y = shown.points()[0]
    told = shown.told_at(QPointF(x, y))
    assert told[0] == "term 0: 5 times"
    assert told[-1] == "and 3 more"


def test_labels_as_bars_keep_the_choice_and_pick_by_value(qtbot: QtBot) -> None:
    bars = LabelBars("Label", "Documents by label")
    qtbot.addWidget(bars)
    bars.resize(260, 160)
    bars.show()
    crop = Label("crop", Strings.of(["pea", "leek", "beet"]), np.array([1, 1, 0, 1], np.int32))
    soil = Label("soil", Strings.of(["peat", "clay"]), np.array([0, 1, 1, 1], np.int32))

    def counted(label: Label) -> np.ndarray:
        return np.bincount(label.codes, minlength=len(label.values))

    bars.show_labels([crop, soil], counted)
    assert bars.bars._values == [("leek", 3), ("pea", 1)]  # a value that nothing has is no bar
    chosen: list[tuple[int, bool]] = []
    bars.chosen.connect(lambda value, add: chosen.append((value, add)))
    QTest.mouseClick(bars.bars, Qt.MouseButton.LeftButton, pos=QPoint(20, 5))
    bars.bars.setFocus()
    QTest.keyClick(bars.bars, Qt.Key.Key_Down)
    QTest.keyClick(bars.bars, Qt.Key.Key_Space, Qt.KeyboardModifier.ControlModifier)
    assert chosen == [(1, False), (0, True)]
    bars.choice.setCurrentText("soil")
    bars.choice.activated.emit(1)
    assert bars.bars._values == [("clay", 3), ("peat", 1)]
    bars.show_picked(np.array([1, 2]))
    assert bars.bars._picked == [2, 0]
    bars.show_labels([soil, crop], counted)
    assert bars.label is soil
    bars.show_labels([crop], counted)
    assert bars.label is crop
    bars.show_labels([], counted)
    assert bars.label is None
    assert bars.bars._values == []


def test_what_has_no_room_ends_in_dots(qtbot: QtBot) -> None:
    label = ElidedLabel("1,818 of 3,155 kept")
    qtbot.addWidget(label)
    label.resize(label.sizeHint())
    whole = label.grab().toImage()
    label.resize(60, label.height())
    narrow = label.grab().toImage()
    columns = [
        any(narrow.pixelColor(x, y) != narrow.pixelColor(0, 0) for y in range(narrow.height())) for x in range(58, 60)
    ]
    assert whole.width() > 60
    assert not any(columns)  # no letter is cut at the edge
