# SPDX-License-Identifier: GPL-3.0-or-later
"""Very many points of a map are counted in cells."""

import numpy as np
import pytest
from PyQt6.QtGui import QColor, QImage, QPainter
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.plots import map_canvas
from jagged_lens.desktop.plots.map_canvas import Category, MapCanvas
from jagged_lens.desktop.plots.map_raster import CELL, in_view, raster

RED, BLUE, GREY = QColor(200, 0, 0), QColor(0, 0, 200), QColor(90, 90, 90)


def pixel(image: QImage, x: float, y: float) -> QColor:
    return image.pixelColor(int(x // CELL), int(y // CELL))


def counted(places: list[tuple[float, float]], looks: list[int], back: list[bool] | None = None) -> QImage:
    return raster(
        np.array(places), np.array(looks), np.array(back or [False] * len(looks)), (60, 40), (RED, BLUE, GREY)
    )


def test_a_cell_has_the_colour_of_most_of_its_points_and_is_stronger_the_more_there_are() -> None:
    image = counted(
        [(10, 10)] * 5 + [(10.5, 10.5)] * 2 + [(40, 30)] + [(np.nan, np.nan), (-4, 5), (70, 5)],
        [0] * 5 + [2] * 3 + [0] * 3,
    )
    assert pixel(image, 10, 10).getRgb()[:3] == (200, 0, 0)
    assert pixel(image, 40, 30).getRgb()[:3] == (0, 0, 200)
    assert pixel(image, 10, 10).alpha() > 2 * pixel(image, 40, 30).alpha() > 0
    assert pixel(image, 25, 25).alpha() == 0
    assert sum(image.pixelColor(x, y).alpha() > 0 for x in range(image.width()) for y in range(image.height())) == 2


def test_rings_are_fainter_and_what_has_stepped_back_is_faintest() -> None:
    image = counted([(10, 10), (20, 10), (30, 10), (30, 10)], [0, 1, 0, 2], [False, False, True, False])
    full, ring = pixel(image, 10, 10), pixel(image, 20, 10)
    assert 0 < ring.alpha() < full.alpha()
    assert pixel(image, 30, 10).getRgb()[:3] == (0, 0, 200)
    image = counted([(10, 10), (20, 10)], [0, 0], [False, True])
    assert 0 < pixel(image, 20, 10).alpha() < pixel(image, 10, 10).alpha()
    assert pixel(image, 20, 10).getRgb()[:3] == (90, 90, 90)


def test_points_in_view() -> None:
    assert in_view(np.array([[1, 1], [np.nan, 2], [61, 3], [59, 39]]), (60, 40)) == 2


def test_from_afar_points_are_counted_and_from_near_they_are_drawn(
    qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(map_canvas, "RASTER_FROM", 1_500)
    canvas = MapCanvas()
    qtbot.addWidget(canvas)
    canvas.resize(400, 300)
    canvas.show()
    random = np.random.default_rng(1)
    positions = random.normal(size=(2_000, 2))
    categories = [Category("A", "barley", RED), Category("B", "beet", BLUE)]
    canvas.show_points(positions, np.ones(2_000, np.float32), (positions[:, 0] > 0).astype(np.int64), categories)
    seen: list[int] = []
    real = map_canvas.raster

    def spy(places: np.ndarray, *others: object) -> QImage:
        seen.append(len(places))
        return real(places, *others)  # type: ignore[arg-type]

    monkeypatch.setattr(map_canvas, "raster", spy)

    def painted() -> QImage:
        qtbot.waitUntil(lambda: not canvas._moving.isActive())
        image = QImage(400, 300, QImage.Format.Format_ARGB32)
        image.fill(QColor("white"))
        painter = QPainter(image)
        canvas.paint(painter)
        painter.end()
        return image

    for _ in range(3):  # until its size and what it shows have settled
        painted()
        qtbot.wait(50)
    painted()
    canvas._layer_of = ()
    seen.clear()
    image = painted()
    assert seen == [2_000]
    middle = canvas.screen_positions()
    left, right = (middle[side].mean(axis=0) for side in (positions[:, 0] < -0.5, positions[:, 0] > 0.5))

    def reddish(at: np.ndarray) -> int:
        spots = [image.pixelColor(int(at[0]) + x, int(at[1]) + y) for x in range(-20, 21) for y in range(-20, 21)]
        return sum(spot.red() - spot.blue() for spot in spots)

    assert reddish(left) > 0 > reddish(right)
    painted()
    assert seen == [2_000]  # as it was painted last
    canvas.zoom(2.9)
    painted()
    assert seen == [2_000]


def test_a_map_without_any_place_can_be_moved(qtbot: QtBot) -> None:
    canvas = MapCanvas()
    qtbot.addWidget(canvas)
    canvas.resize(300, 200)
    canvas.show()
    nowhere = np.full((4, 2), np.nan)
    canvas.show_points(nowhere, np.zeros(4, np.float32), np.full(4, -1), ())
    canvas.zoom(1.5)
    assert canvas._moving.isActive()
    image = QImage(300, 200, QImage.Format.Format_ARGB32)
    painter = QPainter(image)
    canvas.paint(painter)
    painter.end()
