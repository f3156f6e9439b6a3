"""The Map desk: the documents in two dimensions, coloured by group or label, and how far the picture can be trusted."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPoint, QPointF, QSize, Qt
from PyQt6.QtGui import QAction, QActionGroup, QFontMetricsF
from PyQt6.QtWidgets import QFrame, QMenu, QPushButton, QVBoxLayout

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import card, muted
from jagged_lens.desktop.look.group_colours import group_colour
from jagged_lens.desktop.look.plain import PlainLabel
from jagged_lens.desktop.look.words import amount
from jagged_lens.desktop.plots.map_canvas import Category, MapCanvas
from jagged_lens.desktop.reading.document_view import meta
from jagged_lens.desktop.reading.marked_text import MarkedText
from jagged_lens.group import letter
from jagged_lens.lens import CORPUS, GROUPING, KEY_TERMS, LAYOUT, NEIGHBOURS, TERMS

_NAMED = 3
_MOST_VALUES = 60


class MapDesk(Desk):
    step = "map"
    picture = "Map"
    needs = (CORPUS, TERMS, GROUPING, KEY_TERMS, LAYOUT, NEIGHBOURS)

    def build(self) -> None:
        self._colour_by = "group"
        self._labels_shown: list[str] = []
        self.colour_button = QPushButton("Colour: group")
        self.colour_button.setToolTip("What the colours stand for")
        self.colour_menu = QMenu(self)
        self.colour_button.setMenu(self.colour_menu)
        self.names_button = QPushButton("Names")
        self.names_button.setCheckable(True)
        self.names_button.setChecked(True)
        self.names_button.setToolTip("Show what each colour stands for on the map; a click on a name picks its points")
        self.names_button.toggled.connect(self._show_names)
        self.trust_button = QPushButton("Trust")
        self.trust_button.setCheckable(True)
        self.trust_button.setChecked(True)
        self.trust_button.setToolTip("Draw points whose place cannot be trusted as rings")
        self.fit_button = QPushButton("Show all")
        self.fit_button.setToolTip("Show all points (0)")
        for button in (self.colour_button, self.names_button, self.trust_button, self.fit_button):
            self.tools.addWidget(button)
        self.canvas = MapCanvas()
        self.body.addWidget(self.canvas, 1)
        self.hint = muted(
            "Drag round points to pick them · click a point or a name · wheel zooms · right drag moves", 0.88
        )
        self.body.addWidget(self.hint)
        self.trust_button.toggled.connect(self._show_trust)
        self.fit_button.clicked.connect(self.canvas.fit)
        self.canvas.picked.connect(self._picked)
        self.canvas.hovered.connect(self._hovered)
        self.canvas.read_wanted.connect(self._read)
        self._build_trust_card()
        self._build_hover_card()
        self.bench.pick.changed.subscribe(self._show_pick)
        theme.changed.connect(self.look_again)
        self.bench.state_changed.subscribe(self._labels_changed)
        self.keys = [
            ("← ↑ → ↓", "walk to the nearest point in that direction; with Shift the pick grows"),
            ("Space", "read the point"),
            ("+  −  0", "zoom in, zoom out, show all"),
            ("Shift", "while clicking or drawing: add to the pick"),
        ]

    def _build_trust_card(self) -> None:
        self.trust_card, column = card()
        self.trust_card.setParent(self.canvas)
        column.setSpacing(2)
        column.addWidget(muted("Of the 12 nearest, on average", 0.88))
        self.overall = PlainLabel()
        self.overall.setFont(theme.ui_font(1.08, bold=True))
        column.addWidget(self.overall)
        self.variance = muted("", 0.85)
        column.addWidget(self.variance)
        column.addWidget(muted("Rings: don't trust their place.\nDashed lines: near in the lens, far here.", 0.85))
        self.canvas.installEventFilter(self)

    def _build_hover_card(self) -> None:
        self.hover_card = QFrame(self.canvas)
        self.hover_card.setObjectName("card")
        column = QVBoxLayout(self.hover_card)
        column.setContentsMargins(12, 8, 12, 8)
        column.setSpacing(2)
        self.hover_title = PlainLabel()
        self.hover_title.setFont(theme.ui_font(bold=True))
        self.hover_title.setTextFormat(Qt.TextFormat.PlainText)
        self.hover_meta = muted("", 0.86)
        self.hover_meta.setTextFormat(Qt.TextFormat.PlainText)
        self.hover_meta.setWordWrap(True)
        self.hover_text = MarkedText(fits=True)
        column.addWidget(self.hover_title)
        column.addWidget(self.hover_meta)
        column.addWidget(self.hover_text)
        self.hover_card.setFixedWidth(int(QFontMetricsF(theme.ui_font()).averageCharWidth() * 50))
        self.hover_card.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.hover_card.hide()

    def eventFilter(self, watched: object, event: object) -> bool:  # type: ignore[override]
        if watched is self.canvas and hasattr(event, "size"):
            self._place_trust_card()
        return False

    def _place_trust_card(self) -> None:
        """In the corner where it hides the fewest points; at the lower left if that is as good as any."""
        self.trust_card.adjustSize()
        size = self.trust_card.size()
        left, right = 10, self.canvas.width() - size.width() - 10
        top, bottom = 10, self.canvas.height() - size.height() - 10
        places = self.canvas.screen_positions()

        def hidden(corner: QPoint) -> int:
            inside = np.abs(places - (corner.x() + size.width() / 2, corner.y() + size.height() / 2))
            return int((inside < (size.width() / 2 + 5, size.height() / 2 + 5)).all(axis=1).sum())

        corners = [QPoint(left, bottom), QPoint(right, bottom), QPoint(left, top), QPoint(right, top)]
        self.trust_card.move(min(corners, key=hidden))
        self.canvas.covered = [self.trust_card.geometry()] if self.trust_button.isChecked() else []

    def _labels_changed(self) -> None:
        """Labels of the user's own can be coloured by like those that came with the data."""
        if [label.name for label in self.bench.documents.labels()] != self._labels_shown or self._colour_by in (
            label.name for label in self.bench.state.labels
        ):
            self.look_again()

    def refresh(self) -> None:
        results = self.bench.results
        layout, neighbours = results[LAYOUT], results[NEIGHBOURS]
        placed = int((~np.isnan(layout.positions[:, 0])).sum())
        without = len(layout.positions) - placed
        share = sum(layout.projection.explained)
        none = f" · {without:,} without a place" if without else ""
        self.figures.setText(f"{amount(placed, 'document')}{none}")
        unsettled = (
            "" if layout.projection.settled else " They have not quite settled: others could hold a little more."
        )
        self.variance.setText(f"The two directions hold {share:.1%} of the variance.{unsettled}")
        known = layout.overall == layout.overall
        self.overall.setText(
            f"{layout.overall:.0%} stay near on this map" if known else "There are too few points to tell"
        )
        self._labels_shown = [label.name for label in self.bench.documents.labels()]
        self._fill_colour_menu(self._labels_shown)
        self.canvas.neighbours_of = lambda row: neighbours.row[row, :12]
        category, categories = self._categories()
        self.canvas.show_points(layout.positions, layout.trust, category, categories)
        self._show_pick()
        self._place_trust_card()

    def _fill_colour_menu(self, labels: list[str]) -> None:
        if self._colour_by not in ("group", *labels):
            self._colour_by = "group"
        self.colour_menu.clear()
        choices = QActionGroup(self.colour_menu)
        for name in ("group", *labels):
            action = QAction(name, self.colour_menu)
            action.setCheckable(True)
            action.setChecked(name == self._colour_by)
            action.triggered.connect(lambda _, name=name: self.colour_by(name))
            choices.addAction(action)
            self.colour_menu.addAction(action)
        self.colour_button.setText(f"Colour: {self._colour_by} ▾")

    def colour_by(self, name: str) -> None:
        """Colour by "group" or by the label of that name."""
        self._colour_by = name
        self.refresh()

    def _categories(self) -> tuple[NDArray[np.int64], Sequence[Category]]:
        results = self.bench.results
        terms = results[TERMS]
        if self._colour_by == "group":
            key_terms = results[KEY_TERMS]
            found = []
            for group in range(len(results[GROUPING])):
                words = " · ".join(terms.shown[column] for column in key_terms.columns(group)[:_NAMED])
                found.append(Category(letter(group), words or "no telling terms", group_colour(group)))
            return results[GROUPING].group.astype(np.int64), found
        label = next(label for label in self.bench.documents.labels() if label.name == self._colour_by)
        codes = label.codes[terms.rows].astype(np.int64)
        # The most frequent values have colours; what is left is one of "others", without one.
        order = np.argsort(-np.bincount(codes, minlength=len(label.values)), kind="stable")[:_MOST_VALUES]
        rank = np.full(len(label.values), -1, np.int64)
        rank[order] = np.arange(len(order))
        return rank[codes], [
            Category("", label.values[int(value)] or "(none)", group_colour(place)) for place, value in enumerate(order)
        ]

    def _show_trust(self, shown: bool) -> None:
        self.trust_card.setVisible(shown)
        self._place_trust_card()
        self.canvas.set_rings(shown)

    def _show_names(self, shown: bool) -> None:
        self.canvas.show_names = shown
        self.canvas.viewport().update()

    def _rows(self) -> NDArray[np.int32]:
        return self.bench.results[TERMS].rows  # type: ignore[no-any-return]

    def _show_pick(self) -> None:
        if TERMS not in self.bench.results:
            return
        pick = self.bench.pick
        rows = self._rows()
        if len(rows) != len(self.canvas.positions):
            return
        inside = np.flatnonzero(np.isin(rows, np.array(pick.rows, np.int64)))
        reading = np.flatnonzero(rows == pick.reading)
        self.canvas.show_pick(inside, int(reading[0]) if len(reading) else -1)

    def _picked(self, rows: NDArray[np.int64], add: bool) -> None:
        documents = self._rows()[rows].tolist()
        reading = documents[0] if len(documents) == 1 else -1
        if add:
            self.bench.pick.set((*self.bench.pick.rows, *documents), reading)
        else:
            self.bench.pick.set(documents, reading)
        if documents:
            self.reader.wanted.emit(False)

    def _read(self, row: int) -> None:
        self.read_document(int(self._rows()[row]))

    def _hovered(self, row: int, place: QPointF) -> None:
        if row < 0 or row >= len(self._rows()):
            self.hover_card.hide()
            return
        corpus = self.bench.results[CORPUS]
        document = int(self._rows()[row])
        text = " ".join(corpus.texts[document][:260].split())
        self.hover_title.setText(corpus.titles[document])
        self.hover_meta.setText(meta(self.bench, document))
        self.hover_text.setFixedWidth(self.hover_card.width() - 26)
        self.hover_text.show_text(text[:180].rsplit(" ", 1)[0] + " …" if len(text) > 180 else text)
        self.hover_text.setFixedHeight(self.hover_text.sizeHint().height())
        self.hover_card.adjustSize()
        size = self.hover_card.size()
        self.hover_card.move(_beside(place, size, self.canvas.size()))
        self.hover_card.show()
        self.hover_card.raise_()


def _beside(place: QPointF, size: QSize, room: QSize) -> QPoint:
    """Where a card of that size stands beside a place without leaving the room."""
    x = place.x() + 18 if place.x() + 18 + size.width() < room.width() else place.x() - 18 - size.width()
    y = min(max(place.y() - size.height() / 2, 4), room.height() - size.height() - 4)
    return QPoint(int(max(x, 4)), int(y))
