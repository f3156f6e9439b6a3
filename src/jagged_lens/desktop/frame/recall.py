# SPDX-License-Identifier: GPL-3.0-or-later
"""The state of the window is saved with the project and restored with it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from jagged_lens.desktop.desks.desk import Desk
from jagged_lens.desktop.frame.desk_area import DeskArea
from jagged_lens.desktop.look.words import DESKS
from jagged_lens.desktop.tables.table import TableView
from jagged_lens.lens import CORPUS, Part
from jagged_lens.project import Bench, Way


class Recall:
    """Notes which desks and which face were shown, which row of it, what was picked and read; brings them back, as documents are there."""

    def __init__(
        self,
        bench: Bench,
        area: DeskArea,
        desks: Mapping[str, Desk],
        show_step: Callable[[str], None],
        put_beside: Callable[[str], None],
    ) -> None:
        self._bench = bench
        self._desks = desks
        self._area = area
        self._show_step = show_step
        self._put_beside = put_beside
        self._pick: tuple[frozenset[str], str] | None = None
        bench.part_changed.subscribe(self._part_changed)

    def note(self) -> None:
        """Note what the window looks like now."""
        bench = self._bench
        corpus = bench.results.get(CORPUS)
        reading = bench.pick.reading
        bench.current.window = {
            "step": self._area.front,
            "beside": self._area.beside,
            "face": self._desks[self._area.front].in_front.name,
            "row": self._row(),
            "pick": bench.documents.keys_of(bench.pick.rows),
            "reading": corpus.keys[reading] if corpus is not None and reading >= 0 else "",
        }
        if self._pick is not None:  # its documents are not there yet
            bench.current.window |= {"pick": sorted(self._pick[0]), "reading": self._pick[1]}

    def way(self) -> Way:
        """The way back to what is seen now."""
        bench, reading = self._bench, self._bench.pick.reading
        known = bench.results.get(CORPUS)
        desk = self._desks[self._area.front]
        return Way(
            self._area.front,
            desk.in_front.name if desk.in_front is not desk else "",
            tuple(self._row()),
            tuple(bench.documents.keys_of(bench.pick.rows)),
            known.keys[reading] if known is not None and reading >= 0 else "",
            tuple(bench.pick.terms),
        )

    def go(self, way: Way) -> None:
        """Go back to where something was seen: desk, face, row, pick and reader. What is not there any more is left out."""
        self._show_step(way.desk if way.desk in DESKS else "map")
        self._go_back_to(way.face, list(way.row))
        self._bench.pick.set_terms(way.terms)
        if self._bench.ready(CORPUS):
            self._set_pick(way.pick, way.reading)
        elif way.pick:
            self._pick = (frozenset(way.pick), way.reading)

    def _set_pick(self, keys: Iterable[str], reading: str) -> None:
        found, first = self._bench.documents.rows_of(keys), self._bench.documents.rows_of([reading])
        self._bench.pick.set(found, first[0] if first else -1)

    def _row(self) -> list[str]:
        """The name of the current row of the face in front: one key, or those of a pair."""
        table = getattr(self._desks[self._area.front].in_front, "table", None)
        name = table.current_name() if isinstance(table, TableView) else None
        return [name] if isinstance(name, str) else [str(key) for key in name] if isinstance(name, tuple) else []

    def _go_back_to(self, face: str, row: object) -> None:
        """Bring the face up that was in front, with the cursor where it was."""
        desk = self._desks[self._area.front]
        kind = next((one for one in desk.faces if one.name == face), None)
        if kind is not None:
            desk.bring_up(kind)
        elif desk.picture and desk.faces:
            desk.leaf_row.show_leaf(0)
        table = getattr(desk.in_front, "table", None)
        if isinstance(table, TableView) and isinstance(row, list) and row:
            table.await_name(row[0] if len(row) == 1 else tuple(row))

    def project(self, kept: dict[str, object]) -> None:
        """Bring the window to what it was when the project was left."""
        step = str(kept.get("step", "map"))
        self._show_step(step if step in DESKS else "map")
        self._go_back_to(str(kept.get("face", "")), kept.get("row"))
        beside = str(kept.get("beside", ""))
        if beside in DESKS and beside != step:
            self._put_beside(beside)
        keys, reading = kept.get("pick"), kept.get("reading")
        if isinstance(keys, list) and keys:
            self._pick = (frozenset(map(str, keys)), str(reading))

    def _part_changed(self, part: Part[Any]) -> None:
        if part is not CORPUS or self._pick is None or not self._bench.ready(CORPUS):
            return
        keys, reading = self._pick
        self._pick = None
        self._set_pick(keys, reading)
