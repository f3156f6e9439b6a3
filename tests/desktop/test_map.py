from collections.abc import Callable

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.desks.map.desk import MapDesk
from jagged_lens.desktop.plots.map_canvas import MapCanvas
from jagged_lens.desktop.window import MainWindow
from jagged_lens.group import letter

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def canvas(window: MainWindow, qtbot: QtBot) -> MapCanvas:
    """The map at rest: names have found their places."""
    canvas: MapCanvas = window.desks["map"].canvas  # type: ignore[attr-defined]
    qtbot.waitUntil(lambda: not canvas._moving.isActive(), timeout=3000)
    canvas.viewport().repaint()
    return canvas


def placed(canvas: MapCanvas) -> np.ndarray:
    places = canvas.screen_positions()
    return places[~np.isnan(places[:, 0])]


def drag(canvas: MapCanvas, corners: list[tuple[float, float]], add: bool = False) -> None:
    """Draw a line with the left button held."""
    keys = Qt.KeyboardModifier.ShiftModifier if add else Qt.KeyboardModifier.NoModifier
    view = canvas.viewport()
    QTest.mousePress(view, LEFT, keys, QPoint(*map(round, corners[0])))
    for corner in corners[1:]:
        QTest.mouseMove(view, QPoint(*map(round, corner)))
    QTest.mouseRelease(view, LEFT, keys, QPoint(*map(round, corners[-1])))


def lonely(canvas: MapCanvas) -> int:
    """A point with nothing else near it, nor a name or a card over it."""
    places = np.nan_to_num(canvas.screen_positions(), nan=-1e6)
    gaps = np.linalg.norm(places[:, None] - places[None], axis=2)
    np.fill_diagonal(gaps, np.inf)
    over = [plate.adjusted(-9, -9, 9, 9) for plate, _ in canvas._name_places] + [
        QRectF(place) for place in canvas.covered
    ]
    free = np.array(
        [
            canvas.rect().contains(QPointF(*place).toPoint()) and not any(one.contains(QPointF(*place)) for one in over)
            for place in places
        ]
    )
    return int(np.where(free, gaps.min(axis=1), -1).argmax())


def test_a_lasso_picks_what_lies_inside_and_the_reader_lists_it(
    window: MainWindow, canvas: MapCanvas, settle: Callable[[MainWindow], None]
) -> None:
    places = canvas.screen_positions()
    left, right = np.nanquantile(places[:, 0], [0.2, 0.7])
    top, bottom = np.nanquantile(places[:, 1], [0.2, 0.7])
    drag(canvas, [(left, top), (right, top), (right, bottom), (left, bottom), (left, top + 1)])
    expected = [
        row for row, (x, y) in enumerate(places) if round(left) < x < round(right) and round(top) < y < round(bottom)
    ]
    picked = set(window.bench.pick.rows)
    assert len(expected) > 10
    assert len(picked ^ set(expected)) <= 2  # those on the line itself
    settle(window)
    assert window.pick_bar.count.text() == f"{len(picked)} picked"
    assert window.side.reader.heading.text() == f"{len(picked)} documents"
    assert window.side.reader.model.rowCount() == len(picked)
    assert window.side.reader.apart.text().startswith("Told apart by")


def test_clicks_pick_add_and_clear(window: MainWindow, canvas: MapCanvas) -> None:
    row = lonely(canvas)
    place = QPoint(*map(round, canvas.screen_positions()[row]))
    QTest.mouseClick(canvas.viewport(), LEFT, Qt.KeyboardModifier.NoModifier, place)
    assert window.bench.pick.rows == (row,)
    text = window.bench.results["corpus"].texts[row]
    assert window.side.reader.one.text.toPlainText() == text
    other = (row + 1) % 600
    window.bench.pick.set([other])
    QTest.mouseClick(canvas.viewport(), LEFT, Qt.KeyboardModifier.ShiftModifier, place)
    assert window.bench.pick.rows == tuple(sorted((row, other)))
    QTest.keyClick(window, Qt.Key.Key_Escape)
    assert window.bench.pick.rows == ()


def test_a_click_on_a_name_picks_its_group(window: MainWindow, canvas: MapCanvas) -> None:
    plate, group = canvas._name_places[0]
    QTest.mouseClick(canvas.viewport(), LEFT, Qt.KeyboardModifier.NoModifier, plate.center().toPoint())
    grouping = window.bench.results["grouping"]
    assert window.bench.pick.rows == tuple(np.flatnonzero(grouping.group == group).tolist())
    assert canvas.categories[group].letter == letter(group)


def test_names_never_cover_each_other_and_say_the_telling_terms(window: MainWindow, canvas: MapCanvas) -> None:
    plates = [plate for plate, _ in canvas._name_places]
    assert len(plates) == 10
    for at, plate in enumerate(plates):
        assert canvas.rect().contains(plate.toRect())
        assert not any(plate.intersects(other) for other in plates[at + 1 :])
    telling, terms = window.bench.results["key_terms"], window.bench.results["terms"]
    assert canvas.categories[0].name == " · ".join(terms.shown[column] for column in telling.columns(0)[:3])


def test_wheel_zooms_and_right_drag_moves(canvas: MapCanvas, qtbot: QtBot) -> None:
    def spread() -> float:
        return float(np.ptp(placed(canvas)[:, 0]))

    before = spread()
    middle = QPointF(canvas.width() / 2, canvas.height() / 2)
    turn = QWheelEvent(
        middle,
        middle,
        QPoint(),
        QPoint(0, 240),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(canvas.viewport(), turn)
    assert spread() > before * 1.2
    place = canvas.screen_positions()[0]
    view = canvas.viewport()
    QTest.mousePress(view, Qt.MouseButton.RightButton, Qt.KeyboardModifier.NoModifier, QPoint(200, 200))
    QTest.mouseMove(view, QPoint(260, 230))
    QTest.mouseRelease(view, Qt.MouseButton.RightButton, Qt.KeyboardModifier.NoModifier, QPoint(260, 230))
    assert canvas.screen_positions()[0] == pytest.approx(np.add(place, [60, 30]), abs=1.5)
    QTest.keyClick(canvas, Qt.Key.Key_0)
    assert spread() == pytest.approx(before, rel=0.02)


def test_hovering_shows_a_card_with_the_text(window: MainWindow, canvas: MapCanvas, qtbot: QtBot) -> None:
    desk: MapDesk = window.desks["map"]  # type: ignore[assignment]
    row = lonely(canvas)
    QTest.mouseMove(canvas.viewport(), QPoint(*map(round, canvas.screen_positions()[row])))
    qtbot.waitUntil(desk.hover_card.isVisible, timeout=3000)
    corpus = window.bench.results["corpus"]
    assert desk.hover_title.text() == corpus.titles[row]
    assert corpus.texts[row][:40] in desk.hover_text.toPlainText()
    assert canvas.rect().contains(desk.hover_card.geometry())


def test_arrows_walk_and_shift_widens(window: MainWindow, canvas: MapCanvas) -> None:
    canvas.setFocus()
    QTest.keyClick(canvas, Qt.Key.Key_Right)
    (start,) = window.bench.pick.rows
    QTest.keyClick(canvas, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert len(window.bench.pick.rows) == 2
    places = canvas.screen_positions()
    (other,) = set(window.bench.pick.rows) - {start}
    assert places[other][1] < places[start][1]
    QTest.keyClick(canvas, Qt.Key.Key_Space)
    assert len(window.bench.pick.rows) == 1


def test_colours_by_label_and_trust_without_rings(window: MainWindow, canvas: MapCanvas, qtbot: QtBot) -> None:
    desk: MapDesk = window.desks["map"]  # type: ignore[assignment]
    names = [action.text() for action in desk.colour_menu.actions()]
    assert names == ["group", "crop", "variety", "district", "year", "soil", "season"]
    desk.colour_menu.actions()[1].trigger()
    label = window.bench.results["corpus"].labels[0]
    shown = [canvas.categories[int(number)].name for number in canvas.category]
    assert shown == [label.value(row) for row in range(640)]
    assert desk.colour_button.text() == "Colour: crop ▾"
    assert 0 < canvas.rings < 640
    qtbot.mouseClick(desk.trust_button, LEFT)
    assert canvas.rings == 0
    assert desk.trust_card.isHidden()


def test_the_trust_of_the_map_is_the_one_computed(window: MainWindow) -> None:
    desk: MapDesk = window.desks["map"]  # type: ignore[assignment]
    assert desk.overall.text() == f"{window.bench.results['layout'].overall:.0%} stay near on this map"
