# SPDX-License-Identifier: GPL-3.0-or-later

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QImage, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from jagged_lens.desktop.desks.map.documents import DocumentMap
from jagged_lens.desktop.desks.map.terms import TermPoints
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.plots.map_canvas import Category, MapCanvas
from jagged_lens.desktop.plots.map_piles import Piles
from jagged_lens.desktop.saving import Order
from jagged_lens.desktop.window import MainWindow
from jagged_lens.group import letter
from jagged_lens.lens import LAID
from jagged_lens.map import separation
from jagged_lens.progress import unheard

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def canvas(window: MainWindow, qtbot: QtBot) -> MapCanvas:
    """The map at rest: names have found their places."""
    canvas: MapCanvas = window.desks["map"].canvas  # type: ignore[attr-defined]
    qtbot.waitUntil(lambda: not canvas._moving.isActive(), timeout=120_000)
    canvas.viewport().repaint()
    return canvas


def documents(window: MainWindow) -> DocumentMap:
    """The face with the documents."""
    face: DocumentMap = window.desks["map"].face(DocumentMap)
    return face


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
    written = (*canvas.names.plates, *canvas.names.region_plates, *canvas.piles._plates)
    over = [plate.adjusted(-9, -9, 9, 9) for plate, _ in written]
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
    assert window.side.reader.apart.text().startswith("Typical terms")


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
    plate, group = canvas.names.plates[0]
    QTest.mouseClick(canvas.viewport(), LEFT, Qt.KeyboardModifier.NoModifier, plate.center().toPoint())
    grouping = window.bench.results["grouping"]
    assert window.bench.pick.rows == tuple(np.flatnonzero(grouping.group == group).tolist())
    assert canvas.categories[group].letter == letter(group)


def test_names_never_cover_each_other_and_say_the_telling_terms(window: MainWindow, canvas: MapCanvas) -> None:
    plates = [plate for plate, _ in canvas.names.plates]
    assert len(plates) == 10
    for at, plate in enumerate(plates):
        assert canvas.rect().contains(plate.toRect())
        assert not any(plate.intersects(other) for other in plates[at + 1 :])
    telling, terms = window.bench.results["key_terms"], window.bench.results["terms"]
    assert canvas.categories[0].name == " · ".join(terms.shown[column] for column in telling.names(0))


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
    card = documents(window).hover_card
    row = lonely(canvas)
    QTest.mouseMove(canvas.viewport(), QPoint(*map(round, canvas.screen_positions()[row])))
    qtbot.waitUntil(card.isVisible, timeout=120_000)
    corpus = window.bench.results["corpus"]
    assert card.title.text() == corpus.titles[row]
    assert corpus.texts[row][:40] in card.words.toPlainText()
    assert canvas.rect().contains(card.geometry())


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


def choose(window: MainWindow, colour: str) -> None:
    """Choose what is coloured by, from the menu."""
    next(action for action in documents(window).tools.colour_menu.actions() if action.text() == colour).trigger()


def test_colours_by_label_and_trust_without_rings(window: MainWindow, canvas: MapCanvas, qtbot: QtBot) -> None:
    face = documents(window)
    names = [action.text() for action in face.tools.colour_menu.actions() if action.isCheckable()]
    heads = [action.text() for action in face.tools.colour_menu.actions() if action.text() and not action.isEnabled()]
    assert names[:7] == ["group", "crop", "variety", "district", "year", "soil", "season"]
    assert names[7:] == ["length", "trust", "similarity to the document read"]
    assert heads == ["Labels", "Amounts"]
    choose(window, "crop")
    label = window.bench.results["corpus"].labels[0]
    shown = [canvas.categories[int(number)].name for number in canvas.category]
    assert shown == [label.value(row) for row in range(640)]
    assert face.tools.colour_button.text() == "Colour: crop"
    assert 0 < canvas.rings < 640
    qtbot.mouseClick(face.tools.trust_button, LEFT)
    assert canvas.rings == 0
    assert face.legend.rings.isHidden()


def test_amounts_have_one_hue_the_deeper_the_more(window: MainWindow, canvas: MapCanvas) -> None:
    choose(window, "length")
    lengths = window.bench.results["tokens"].kept_by_row()[window.bench.results["terms"].rows]
    means = [lengths[canvas.category == number].mean() for number in range(len(canvas.categories))]
    assert means == sorted(means)
    light = [one.colour.lightness() for one in canvas.categories]
    assert light == sorted(light, reverse=True)
    hues = [one.colour.hue() for one in canvas.categories]
    assert max(hues) - min(hues) < 25
    assert not canvas.show_names  # shades lie everywhere


def test_the_trust_of_the_map_is_the_one_computed(window: MainWindow, canvas: MapCanvas) -> None:
    layout, legend = window.bench.results["layout"], documents(window).legend
    assert legend.overall.text() == f"{layout.overall:.0%} of nearest neighbours kept."
    assert legend.rings.text().startswith(f"{canvas.rings / 638:.0%} of points are rings")
    assert layout.overall > 2.5 * layout.components
    assert window.spine.findChildren(QWidget)  # it is drawn
    assert window.side.legend_button.isVisible()


def test_the_legend_picks_fades_and_lights(window: MainWindow, canvas: MapCanvas, qtbot: QtBot) -> None:
    legend = documents(window).legend.legend
    grouping = window.bench.results["grouping"]
    assert legend.texts[2] == f"C {canvas.categories[2].name} {grouping.sizes[2]}"
    line = QPoint(60, int(legend.line_height() * 2.5))
    QTest.mouseMove(legend, line)
    assert canvas.lit == 2
    assert canvas._stepped_back().tolist() == (canvas.category != 2).tolist()
    qtbot.mouseClick(legend, LEFT, pos=line)
    assert legend.isVisible()  # the reader does not take its place
    assert window.bench.pick.rows == tuple(np.flatnonzero(grouping.group == 2).tolist())
    QTest.mouseMove(legend, QPoint(60, legend.height() - 1))
    qtbot.mouseClick(legend, Qt.MouseButton.RightButton, pos=line)
    assert canvas.faded == {2}
    legend.setFocus()
    QTest.keyClick(legend, Qt.Key.Key_F)
    assert canvas.faded == set()
    QTest.keyClick(legend, Qt.Key.Key_Down)
    QTest.keyClick(legend, Qt.Key.Key_Space)
    assert window.bench.pick.rows == tuple(np.flatnonzero(grouping.group == 3).tolist())


def test_labels_that_lie_together_are_told_and_strangers_picked(
    window: MainWindow, qtbot: QtBot, settle: Callable[[MainWindow], None]
) -> None:
    legend, results = documents(window).legend, window.bench.results
    crop = results["corpus"].labels[0]
    found = separation(crop.codes[results["terms"].rows], crop.none, results["neighbours"], results["layout"])
    assert legend.bars.texts[0] == (
        f"all {found.all_space * 100:.0f} {found.all_map * 100:.0f} {found.all_chance * 100:.0f}"
    )
    assert len(legend.bars.texts) == 1 + len(crop.values)
    legend.choice.setCurrentText("season")
    legend.choice.activated.emit(legend.choice.currentIndex())
    settle(window)
    assert legend.strangers.text().endswith("without a neighbour of the same value")
    right = legend.pick_strangers.mapTo(window, legend.pick_strangers.rect().topRight()).x()
    assert right < window.width()  # nothing is cut at the edge of the side
    legend.pick_strangers.click()
    season = next(label for label in results["corpus"].labels if label.name == "season")
    lonely_ones = window.bench.pick.rows
    assert lonely_ones
    neighbours = results["neighbours"].row
    for row in lonely_ones[:20]:
        assert not (season.codes[neighbours[row][:12]] == season.codes[row]).any()


def test_regions_and_titles_never_cover_each_other_or_a_name(
    window: MainWindow, canvas: MapCanvas, settle: Callable[[MainWindow], None]
) -> None:
    face = documents(window)
    settle(window)
    canvas.viewport().repaint()
    assert canvas.names.region_plates
    next(action for action in face.tools.title_actions.actions() if action.text().startswith("as room")).trigger()
    settle(window)
    canvas.viewport().repaint()
    few = len(canvas.names.title_plates)
    plates = [plate for plate, _ in (*canvas.names.plates, *canvas.names.region_plates, *canvas.names.title_plates)]
    for at, plate in enumerate(plates):
        assert not any(plate.intersects(other) for other in plates[at + 1 :])
    canvas.zoom(4.0)
    settle(window)
    canvas.viewport().repaint()
    assert few > 3
    assert canvas.lettered
    window.bench.pick.set([4, 5])
    face.tools.title_actions.actions()[2].trigger()
    assert [row for row, _ in canvas.names.titles] in ([4, 5], [5, 4], [4], [5], [])
    canvas.fit()
    settle(window)
    assert {row for row, _ in canvas.names.titles} == {4, 5}


def test_a_click_on_a_region_picks_it_and_zoom_names_smaller_ones(
    window: MainWindow, canvas: MapCanvas, settle: Callable[[MainWindow], None]
) -> None:
    settle(window)
    canvas.viewport().repaint()
    before = {text for text, *_ in canvas.names.regions}
    plate, number = canvas.names.region_plates[0]
    rows = documents(window).writing._regions[number].rows
    QTest.mouseClick(canvas.viewport(), LEFT, Qt.KeyboardModifier.NoModifier, plate.center().toPoint())
    assert window.bench.pick.rows == tuple(rows.tolist())
    canvas.zoom(2.5)
    settle(window)
    assert {text for text, *_ in canvas.names.regions} - before


def test_rings_round_a_document_are_exact_and_say_so(
    window: MainWindow, canvas: MapCanvas, settle: Callable[[MainWindow], None]
) -> None:
    face = documents(window)
    window.bench.pick.clear()
    face.tools.rings_button.click()
    assert face.forming.words.text().startswith("Read a document first")
    assert not face.tools.rings_button.isChecked()
    window.bench.pick.set([10])
    face.tools.rings_button.click()
    settle(window)
    results = window.bench.results
    neighbours = results["neighbours"]
    away = np.linalg.norm(canvas.positions[neighbours.row[10, :5]], axis=1)
    assert away == pytest.approx(1 - neighbours.similarity[10, :5], abs=1e-5)
    assert face.legend.overall.text() == "This picture is exact."
    assert [words for _, words in canvas.circles] == ["0.75 alike", "0.50 alike", "0.25 alike", "0.00 alike"]
    face.tools.rings_button.click()
    settle(window)
    assert np.array_equal(canvas.positions, results["layout"].positions, equal_nan=True)
    assert face.legend.overall.text().endswith("of nearest neighbours kept.")


def test_links_piles_and_likeness_come_from_compare(
    window: MainWindow, canvas: MapCanvas, settle: Callable[[MainWindow], None]
) -> None:
    face, pairs = documents(window), window.bench.results["pairs"]
    face.tools.links_button.click()
    assert len(canvas._links) == len(pairs)
    face.tools.links_button.click()
    assert len(canvas._links) == 0
    piles = canvas.piles.together(canvas.screen_positions())
    assert face.summary().endswith(f"{len(piles)} piles of copies")
    canvas.zoom(2.5)
    settle(window)
    canvas.viewport().repaint()
    plate, rows = canvas.piles._plates[0]
    QTest.mouseClick(canvas.viewport(), LEFT, Qt.KeyboardModifier.NoModifier, plate.center().toPoint())
    assert window.bench.pick.rows == tuple(sorted(rows.tolist()))
    window.bench.pick.set([20])
    choose(window, "similarity to the document read")
    settle(window)
    nearest = int(window.bench.results["neighbours"].row[20, 0])
    assert canvas.category[nearest] == canvas.category.max()


def test_a_picture_is_saved_with_its_legend(window: MainWindow, canvas: MapCanvas, tmp_path: Path) -> None:
    face = documents(window)
    kinds = {kind.ending: kind for kind in face.own_pieces()[0].kinds}
    for ending, begins in ((".png", b"\x89PNG"), (".svg", b"<?xml"), (".pdf", b"%PDF")):
        path = tmp_path / f"map{ending}"
        kinds[ending].write(path, Order(900, unheard))
        assert path.read_bytes().startswith(begins)
    assert canvas.categories[0].name.split(" · ")[0] in (tmp_path / "map.svg").read_text(encoding="utf-8")
    assert (tmp_path / "map.svg").read_text(encoding="utf-8").count("<circle") + (tmp_path / "map.svg").read_text(
        encoding="utf-8"
    ).count("<ellipse") > 600
    assert QImage(str(tmp_path / "map.png")).width() == 900
    with pytest.raises(OSError, match="No such file"):
        kinds[".svg"].write(tmp_path / "nowhere" / "map.svg", Order(900, unheard))
    QTest.mouseClick(window.desks["map"].going_out.copy, LEFT)
    assert QApplication.clipboard().image().width() == 1600  # type: ignore[union-attr]


def test_terms_are_points_too_and_picked_like_on_the_desk_terms(
    window: MainWindow, qtbot: QtBot, settle: Callable[[MainWindow], None]
) -> None:
    desk, bench = window.desks["map"], window.bench
    qtbot.mouseClick(desk.leaf_row.buttons["Terms"], LEFT)
    settle(window)
    face = desk.face(TermPoints)
    qtbot.waitUntil(lambda: len(face.canvas.positions) == len(bench.results["terms"].kept), timeout=120_000)
    settle(window)
    places = np.nan_to_num(face.canvas.screen_positions(), nan=-1e6)
    drag(face.canvas, [(5, 5), (face.canvas.width() - 5, 5), (face.canvas.width() - 5, 300), (5, 300)])
    inside = ((places > 5) & (places < (face.canvas.width() - 5, 300))).all(axis=1).sum()
    assert abs(len(bench.pick.terms) - inside) <= 3
    bench.pick.set_terms(["bean"])
    assert len(face.canvas._pick) == 1
    assert desk.leaf_row.words.text().startswith(f"{len(places):,} terms in 10 groups")
    assert desk.legend.currentWidget() is face.legend
    qtbot.mouseClick(desk.leaf_row.buttons["Documents"], LEFT)
    documents(window).tools.terms_action.trigger()
    settle(window)
    assert "bean" in documents(window).canvas.names.laid_in[0]


def test_the_map_forms_before_the_eyes_and_can_be_left_as_it_is(
    window: MainWindow, qtbot: QtBot, settle: Callable[[MainWindow], None]
) -> None:
    face, bench = documents(window), window.bench
    bench.set("map", "pull", 2.0)
    qtbot.waitUntil(lambda: bench.growing.get(LAID) is not None, timeout=120_000)
    qtbot.waitUntil(lambda: face.forming.isVisible(), timeout=120_000)
    assert face.forming.words.text().startswith("The map is forming: round ")
    shown = bench.growing[LAID]
    assert np.array_equal(face.canvas.positions, shown.positions, equal_nan=True)
    face.forming.button.click()
    settle(window)
    laid = bench.results[LAID]
    assert 0 < laid.rounds < 750
    assert face.forming.words.text() == f"Stopped after {laid.rounds} of 750 rounds"
    assert f"stopped after {laid.rounds} of 750" in face.legend.way.text()
    assert np.array_equal(face.canvas.positions, laid.positions, equal_nan=True)
    assert bench.ready(LAID)
    face.forming.button.click()
    settle(window)
    assert bench.results[LAID].rounds == 750
    assert not face.forming.isVisible()


def test_a_map_that_forms_is_drawn_anew_only_where_it_has_changed(
    window: MainWindow, qtbot: QtBot, settle: Callable[[MainWindow], None], monkeypatch: pytest.MonkeyPatch
) -> None:
    face, bench, drawn = documents(window), window.bench, []
    real = face.canvas.show_points

    def spy(positions: np.ndarray, *others: object, **more: object) -> None:
        drawn.append(positions)
        real(positions, *others, **more)  # type: ignore[arg-type]

    monkeypatch.setattr(face.canvas, "show_points", spy)
    bench.set("map", "pull", 2.5)
    qtbot.waitUntil(lambda: bench.growing.get(LAID) is not None and len(drawn) > 0, timeout=120_000)
    before = len(drawn)
    assert drawn[-1] is bench.growing[LAID].positions
    for _ in range(5):  # news of the share that is done
        face.draw_part(LAID)
    assert len(drawn) == before
    bench.stop()
    settle(window)
    assert drawn[-1] is not drawn[before - 1]


def test_stop_keeps_the_map_as_it_is(window: MainWindow, qtbot: QtBot, settle: Callable[[MainWindow], None]) -> None:
    bench = window.bench
    bench.set("map", "pull", 1.5)
    qtbot.waitUntil(lambda: bench.growing.get(LAID) is not None, timeout=120_000)
    bench.stop()
    settle(window)
    assert 0 < bench.results[LAID].rounds < 750
    assert bench.ready(LAID)


@pytest.mark.parametrize("by", ["scaling", "pca"])
def test_other_ways_of_mapping_say_what_they_are(
    window: MainWindow, by: str, settle: Callable[[MainWindow], None]
) -> None:
    window.bench.set("map", "by", by)
    settle(window)
    stress = window.bench.results[LAID].stress
    scaled = f"Scaling: distances match those in the space as closely as possible; stress {stress:.2f}"
    expected = scaled if by == "scaling" else "The two directions account for"
    assert documents(window).legend.way.text().startswith(expected)


def test_other_documents_leave_nothing_of_the_old_ones_on_the_map(
    window: MainWindow, canvas: MapCanvas, settle: Callable[[MainWindow], None]
) -> None:
    face, bench = documents(window), window.bench
    bench.set("map", "by", "pca")
    bench.pick.set([600])
    face.tools.links_button.click()
    face.tools.rings_button.click()
    face.tools.title_actions.actions()[1].trigger()
    settle(window)
    bench.set("gather", "sample", 40)
    settle(window)
    assert len(canvas.positions) == 40
    canvas.viewport().repaint()
    still_here = 600 in bench.results["terms"].rows
    assert face.tools.rings_button.isChecked() == still_here
    assert all(row < 40 for row, _ in canvas.names.titles)
    assert len(canvas._links) == len(bench.results["pairs"])
    bench.set("gather", "sample", 0)
    settle(window)
    assert len(canvas.positions) == 640


def test_a_label_that_is_looked_at_can_be_coloured_and_counted_at_once(
    window: MainWindow, canvas: MapCanvas, settle: Callable[[MainWindow], None]
) -> None:
    legend = documents(window).legend
    choose(window, "variety")
    counts = [int(text.rsplit(" ", 1)[1].replace(",", "")) for text in legend.legend.texts]
    assert counts[0] == max(counts)
    assert sum(counts) == 638
    assert legend.legend.texts[0].startswith("a ")  # groups have capital letters


def test_a_map_that_came_to_nothing_gives_way_to_the_old_one(
    window: MainWindow, canvas: MapCanvas, qtbot: QtBot, settle: Callable[[MainWindow], None]
) -> None:
    face, bench = documents(window), window.bench
    before = canvas.positions.copy()
    bench.set("map", "pull", 3.0)
    qtbot.waitUntil(lambda: not np.array_equal(canvas.positions, before, equal_nan=True), timeout=120_000)
    assert face.legend.overall.text() == "The map is forming."
    bench.stop()
    bench.stop()  # whoever is in a hurry does not even want what is there
    settle(window)
    if not bench.ready(LAID):
        assert np.array_equal(canvas.positions, before, equal_nan=True)
    assert face.legend.overall.text().endswith("of nearest neighbours kept.")


def test_a_pile_is_a_larger_point_and_many_points_are_smaller(window: MainWindow, qtbot: QtBot) -> None:
    canvas = MapCanvas()
    qtbot.addWidget(canvas)
    canvas.resize(500, 400)
    places = np.array([[0.0, 0.0], [0.0, 0.0], [0.0, 0.0], [0.0, 0.0], [10.0, 10.0]], np.float32)
    kinds = [Category("A", "beans", theme.colour("verdigris"))]
    canvas.show_points(places, np.ones(5, np.float32), np.zeros(5, np.int64), kinds)
    canvas.show()
    qtbot.waitExposed(canvas)
    canvas.fit()
    canvas.show_names = False

    def inked(at: int) -> int:
        """How many pixels round a point have its colour."""
        x, y = canvas.screen_positions()[at]
        picture = canvas.grab().toImage()
        near = [picture.pixelColor(int(x) + dx, int(y) + dy) for dx in range(-12, 13) for dy in range(-12, 13)]
        return sum(one == theme.colour("verdigris") for one in near)

    alone = inked(4)
    assert alone > 20
    lying = inked(0)  # on one another, their edges are a little stronger
    canvas.show_piles(Piles(np.arange(4), np.zeros(4)))
    assert inked(0) > 1.6 * lying
    assert inked(4) == alone
    rng = np.random.default_rng(1)
    many = np.concatenate((places[4:], rng.normal(size=(20_000, 2)).astype(np.float32) * 0.1))
    canvas.show_points(many, np.ones(20_001, np.float32), np.zeros(20_001, np.int64), kinds)
    canvas.fit()
    assert canvas._point() == pytest.approx(0.6)
    assert inked(0) < 0.6 * alone
