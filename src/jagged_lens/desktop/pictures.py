# SPDX-License-Identifier: GPL-3.0-or-later
"""Pictures of every view on the project in front, for the documentation and for machines without a screen."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtWidgets import QWidget

from jagged_lens.compare import Kind
from jagged_lens.desktop.commands import findings, sources
from jagged_lens.desktop.commands.preferences import prefer
from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.desks.contrast.desk import ContrastDesk
from jagged_lens.desktop.desks.contrast.lenses import LensesFace
from jagged_lens.desktop.desks.contrast.sides import SidesFace
from jagged_lens.desktop.desks.group.desk import GroupDesk
from jagged_lens.desktop.desks.group.groups import GroupsFace
from jagged_lens.desktop.desks.group.how_many import HowManyFace
from jagged_lens.desktop.desks.group.ridge import RidgeFace
from jagged_lens.desktop.desks.place.desk import PlaceDesk
from jagged_lens.desktop.desks.place.new_documents import NewDocumentsFace
from jagged_lens.desktop.desks.place.suggest import SuggestFace
from jagged_lens.desktop.desks.report.desk import ReportDesk
from jagged_lens.desktop.desks.report.pages import PAGE, paint_page
from jagged_lens.desktop.desks.terms.desk import TermsDesk
from jagged_lens.desktop.look.worn import dressed
from jagged_lens.desktop.sheets.preferences import Preferences
from jagged_lens.desktop.waiting import wait_until
from jagged_lens.desktop.window import MainWindow
from jagged_lens.gather import Source
from jagged_lens.lens import CORPUS, PAIRS, PLACED, SPACE, SUGGESTIONS, TERMS
from jagged_lens.project import Entry, Heading, Words, next_number, worded

_PATIENCE = 120
_GAP = 24  # pixels between two pages


def _show_term(window: MainWindow, term: str) -> None:
    """Show a term in its contexts, where the vocabulary has it."""
    desk = window.desks["terms"]
    assert isinstance(desk, TermsDesk)
    wait_until(lambda: desk.content.isVisible(), 10)
    vocabulary = list(window.bench.results[TERMS].vocabulary.terms)
    if term in vocabulary:
        desk.table_to(vocabulary.index(term))
        wait_until(
            lambda: bool(desk.card.lines.lines.contexts) and term in desk.card.lines.lines.contexts[0].term.lower(), 10
        )


def _show_groups(window: MainWindow, draw: Callable[[str], None]) -> None:
    """The other faces of the groups."""
    desk, bench = window.desks["group"], window.bench
    assert isinstance(desk, GroupDesk)
    for name, face in (("group-ridge", RidgeFace), ("group-how-many", HowManyFace)):
        desk.bring_up(face)
        if face is HowManyFace and not bench.recipe.group.sweep:
            bench.set("group", "sweep", (2, 16))
        wait_until(lambda: not bench.working and not window.asker.waiting, _PATIENCE)
        draw(name)
    desk.bring_up(GroupsFace)


def _show_compare(window: MainWindow, draw: Callable[[str], None]) -> None:
    """Pairs, a pair at the reading table, one document against all, and the grid."""
    desk, bench = window.desks["compare"], window.bench
    assert isinstance(desk, CompareDesk)
    wait_until(lambda: desk.content.isVisible() and bench.ready(PAIRS), 5)
    edited = np.flatnonzero(bench.results[PAIRS].kind == Kind.EDITED)
    at = int(edited[-1]) if len(edited) else -1
    wait_until(lambda: desk.face(PairsFace).table.shows(at), 5)
    desk.face(PairsFace).table.go_to(at)
    draw("compare")
    if at >= 0:
        desk.open_pair(at)
        wait_until(lambda: not window.asker.waiting, 10)
        draw("reading-table")
        desk.close_reading()
    desk.bring_up(PairsFace)


def _show_contrast(window: MainWindow, draw: Callable[[str], None]) -> None:
    """Two lenses, two sides of a label, and what goes along with a number."""
    desk, bench = window.desks["contrast"], window.bench
    assert isinstance(desk, ContrastDesk)
    window.show_step("contrast")
    lenses = desk.face(LensesFace)
    wait_until(lambda: bench.second.ready and not window.asker.waiting, _PATIENCE)
    lenses.leaf_row.show_leaf(2)
    draw("two-lenses")
    desk.bring_up(SidesFace)
    sides = desk.face(SidesFace)
    wait_until(lambda: sides.sides.by.count() > 0 and not window.asker.waiting, 10)
    if sides.sides.by.findText("season") >= 0:
        sides.sides.choose("season", "wet", "dry")
    wait_until(lambda: not window.asker.waiting, 10)
    sides.terms.tables[0].step(1)
    wait_until(lambda: not window.asker.waiting, 20)
    draw("two-sides")


def _show_place(window: MainWindow, draw: Callable[[str], None]) -> None:
    """New documents in the lens as it is, and a label that is suggested."""
    desk, bench = window.desks["place"], window.bench
    assert isinstance(desk, PlaceDesk)
    window.show_step("place")
    if (bench.state.folder / "late").is_dir():
        bench.place_source(Source(file="late"))
        wait_until(lambda: bench.ready(PLACED) and not window.asker.waiting, _PATIENCE)
        desk.face(NewDocumentsFace).table.go_to(3)
        wait_until(lambda: not window.asker.waiting, 10)
    draw("place")
    bench.stop_placing()
    desk.bring_up(SuggestFace)
    wait_until(lambda: bench.ready(SUGGESTIONS) and not window.asker.waiting, _PATIENCE)
    draw("suggest")


def _show_meaning(window: MainWindow, draw: Callable[[str], None]) -> None:
    """A pair of notes that say one thing in different words, in the lens that works on learned vectors."""
    bench = window.bench
    lenses = [at for at, lens in enumerate(bench.state.lenses) if lens.recipe.weigh.space == "learned"]
    if not lenses:
        return
    bench.choose_lens(lenses[0])
    window.show_step("compare")
    wait_until(lambda: not bench.working and not window.asker.waiting, _PATIENCE)
    desk = window.desks["compare"]
    assert isinstance(desk, CompareDesk)
    texts = bench.results[CORPUS].texts.take(bench.results[SPACE].terms.rows)
    dialect = np.array(["loddies" in text for text in texts])
    plain = np.array(["slugs" in text for text in texts]) & ~dialect
    pairs = bench.results[PAIRS]
    across = np.flatnonzero((dialect[pairs.first] & plain[pairs.second]) | (plain[pairs.first] & dialect[pairs.second]))
    if len(across):
        desk.open_pair(int(across[0]))
        wait_until(lambda: not window.asker.waiting, 10)
        draw("meaning")
        desk.close_reading()


def _show_report(window: MainWindow, draw: Callable[[str], None], folder: Path) -> Path | None:
    """Four findings under two headings, the page as it will be, and its first two pages."""
    bench = window.bench

    def still() -> None:
        wait_until(lambda: not bench.working and not window.asker.waiting, _PATIENCE)
        wait_until(lambda: False, 0.3)

    def write(made: Callable[[int, str], Entry], text: str) -> None:
        bench.change(bench.state.with_entry(made(next_number(bench.state.report), text)), "report")

    def pin(step: str, title: str = "") -> None:
        window.show_step(step)
        still()
        findings.pin(window)
        if title:
            bench.change(bench.state.with_entry_changed(worded(bench.state.report[-1], title)), "report")

    bench.pick.clear()
    bench.set("report", "title", "What the return notes tell")
    bench.set("report", "author", "The seed desk of Larkmoor")
    bench.set(
        "report",
        "leave-out",
        ["account", "groups", "map", "copies", "terms", "placed", "suggested", "settings", "again"],
    )
    write(Heading, "What is in these notes?")
    write(Words, "The notes fall into ten groups, by crop. Eight of them are stable; poppies and squash come and go.")
    pin("map", "Ten crops, ten groups")
    desk = window.desks["compare"]
    assert isinstance(desk, CompareDesk)
    window.show_step("compare")
    still()
    write(Heading, "What is told twice?")
    edited = np.flatnonzero(bench.results[PAIRS].kind == Kind.EDITED)
    desk.open_pair(int(edited[-1]))
    still()
    findings.pin(window)
    desk.close_reading()
    bench.pick.clear()
    window.show_step("report")
    still()
    draw("report")
    report = window.desks["report"]
    assert isinstance(report, ReportDesk)
    document = report.page.document
    if document is None:
        return None
    image = QImage(round(PAGE.width() * 2 + _GAP * 3), round(PAGE.height() + _GAP * 2), QImage.Format.Format_RGB32)
    image.fill(QColor("#e8e4da"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    for page in range(min(document.pageCount(), 2)):
        painter.save()
        painter.translate(_GAP + page * (PAGE.width() + _GAP), _GAP)
        painter.fillRect(QRectF(0, 0, PAGE.width(), PAGE.height()), QColor("white"))
        paint_page(painter, document, page)
        painter.restore()
    painter.end()
    path = folder / "report-pages.png"
    image.save(str(path))
    return path


def draw_all(window: MainWindow, folder: Path) -> list[Path]:
    """Draw each desk into `folder` once everything is computed, also the profiles of all lenses; gives the files."""
    folder.mkdir(parents=True, exist_ok=True)
    bench = window.bench
    wait_until(lambda: not bench.working, _PATIENCE)
    wait_until(lambda: all(bench.profile(lens) for lens in range(len(bench.state.lenses))), 10)
    drawn = []

    def draw(name: str, what: QWidget = window) -> None:
        wait_until(lambda: False, 0.4)
        path = folder / f"{name}.png"
        what.grab().save(str(path))
        drawn.append(path)

    for step in ("gather", "clean", "terms", "weigh", "group"):
        window.show_step(step)
        if step == "terms":
            _show_term(window, "slug")
        wait_until(lambda: not bench.working and not window.asker.waiting, _PATIENCE)
        draw(step)
        if step == "group":
            _show_groups(window, draw)
    sources.add_documents(window, bench.state.folder / bench.state.sources[0].file)
    wait_until(lambda: bool(window.sheet.table.roles), 10)
    draw("add-source", window.sheet)
    window.sheet.reject()
    bench.pick.clear()
    window.show_step("compare")
    _show_compare(window, draw)
    bench.pick.clear()
    window.show_step("map")
    draw("map")
    _show_contrast(window, draw)
    _show_place(window, draw)
    if (pages := _show_report(window, draw, folder)) is not None:
        drawn.append(pages)
    window.show_step("map")
    if len(bench.state.lenses) > 1:
        bench.choose_lens(1)
        wait_until(lambda: not bench.working, _PATIENCE)
        bench.pick.clear()
        prefer(window, Preferences(look="dark"))
        wait_until(dressed, 5)
        draw("another-lens-dark")
        prefer(window, Preferences(look="light"))
    _show_meaning(window, draw)
    return drawn
