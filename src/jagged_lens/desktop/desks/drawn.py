# SPDX-License-Identifier: GPL-3.0-or-later
"""A part of a desk drawn from results: when it is drawn, and what is computed while it is visible."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.reading.reader import Reader
from jagged_lens.desktop.saving import Piece
from jagged_lens.lens import Part
from jagged_lens.project import Rows, Shown, Verbs

WAITING = "Computing. The result appears here as soon as it is ready."


class Drawn(QWidget):
    """A picture of results. A subclass names those that it `needs` and draws them in `refresh`.

    It is refreshed only while it is seen, and when all of them belong to each other; until then the old picture stays, with the
    snapshot that it was drawn from (`bench.results`): its answers, menus and clicks work with that. As long as it is seen they are
    computed before all others.

    name: as it stands on its tab.

    also: results that are computed on demand, for as long as this is seen; `draw_part` draws each as it comes. previews_over: the
    results over which what there is of them so far is drawn, where not all of `needs` have to be there for that.
    """

    name = ""
    reads_itself = False  # it has its own place to read in, and wants the room of the side
    about_pick = False  # its view is of the picked documents, as that of a group is
    needs: tuple[Part[Any], ...] = ()
    also: tuple[Part[Any], ...] = ()
    previews_over: tuple[Part[Any], ...] = ()

    def __init__(self, bench: Verbs, asker: Asker, reader: Reader) -> None:
        super().__init__()
        self.bench = Shown(bench)
        self.asker = asker
        self.reader = reader
        self.before_preview = self.bench.results  # what was drawn before something on its way took its place
        self._stale = True
        self._drawn: tuple[str, ...] = ()  # the keys of the results that were drawn last
        self._also_drawn: tuple[str, ...] = ()  # and those of `also`
        self._due = QTimer(self)
        self._due.setSingleShot(True)
        self._due.setInterval(0)
        self._due.timeout.connect(self._refresh_if_ready)
        bench.part_changed.subscribe(self._part_changed)
        bench.settled.subscribe(self._due.start)

    def refresh(self) -> None:
        """Draw the results in `needs`, all of which are there and belong together."""

    def draw_part(self, part: Part[Any]) -> None:
        """Draw one of `also`: it is there, grows, is being computed, or was given up."""

    def own_pieces(self) -> Sequence[Piece]:
        """The pieces that can leave the window from here, beside the visible tables and picture. The piece to copy comes first."""
        return ()

    def own_words(self) -> str:
        """The words about this view in the title of a finding; "" where those at the head of the desk will do."""
        return ""

    def own_rows(self) -> Rows | None:
        """The rows that a finding takes from here, where those of no table that is seen will do."""
        return None

    def prepare(self) -> None:
        """Draw what is due, whether it is seen or not, before somebody works with this."""
        if self.bench.ready(*self.needs):
            self._draw_newest()

    def look_again(self) -> None:
        """Draw the same results again, when it is next seen: the look or what hangs on documents changed."""
        self._stale = True
        self._due.start()

    def read(self) -> None:
        """Bring the reader up."""
        self.reader.wanted.emit(True)

    def read_document(self, row: int) -> None:
        """Pick one document (a corpus row) and bring the reader up."""
        self.bench.pick.set([row])
        self.read()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._due.start()
        if event is None or not event.spontaneous():  # a window that is made small is still looked at
            self.look()

    def look(self) -> None:
        """Have what is seen here computed first."""
        self.bench.look_at(self, self.seen())

    def seen(self) -> tuple[Part[Any], ...]:
        """The results that are seen here, while it is in front."""
        return (*self.needs, *self.also)

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        if event is None or not event.spontaneous():
            self.bench.look_at(self, ())

    def _part_changed(self, part: Part[Any]) -> None:
        if part in self.needs:
            self._due.start()
        own, bench = part in self.also, self.bench
        seen = self._is_seen()  # what is not is told all at once when it is
        if own or (seen and self._drawn and bench.ready(part) and not bench.is_newest(part)):
            if self._drawn == bench.newest(self.needs):
                bench.take()  # what belongs to the picture, and has come since it was drawn
            elif own and self.previews_over and bench.grows(part) and bench.ready(*self.previews_over):
                if bench.results.has(*self.needs):
                    self.before_preview = bench.results
                bench.take()
        if own and self.isVisible():
            self.draw_part(part)

    def _refresh_if_ready(self) -> None:
        if self.bench.ready(*self.needs) and self._is_seen():
            self._draw_newest()

    def _draw_newest(self) -> None:
        newest = self.bench.newest(self.needs)
        self.bench.take()  # also what has come since it was drawn
        anew = self._stale or newest != self._drawn
        if anew:
            self._stale = False
            self._drawn = newest
            self._unveil()
            self.refresh()
        keys = self.bench.results.keys_of(self.also)
        if anew or keys != self._also_drawn:
            self._also_drawn = keys
            for part in self.also:
                self.draw_part(part)

    def _is_seen(self) -> bool:
        """True if it is worth drawing now."""
        return self.isVisible()

    def _unveil(self) -> None:
        """Whatever was shown in place of the picture goes away."""
