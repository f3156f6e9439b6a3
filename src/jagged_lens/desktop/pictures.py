"""Pictures of every view on the project in front, for the documentation and for machines without a screen."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
from PyQt6.QtWidgets import QWidget

from jagged_lens.compare import Kind
from jagged_lens.desktop.commands import pick, sources
from jagged_lens.desktop.commands.preferences import prefer
from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.desks.group.cross import AgainstLabelFace
from jagged_lens.desktop.desks.group.desk import GroupDesk
from jagged_lens.desktop.desks.group.groups import GroupsFace
from jagged_lens.desktop.desks.group.how_many import HowManyFace
from jagged_lens.desktop.desks.group.ridge import RidgeFace
from jagged_lens.desktop.desks.group.terms import TermGroups
from jagged_lens.desktop.desks.map.documents import DocumentMap
from jagged_lens.desktop.desks.map.terms import TermPoints
from jagged_lens.desktop.desks.terms.desk import TermsDesk
from jagged_lens.desktop.desks.weigh.desk import WeighDesk
from jagged_lens.desktop.desks.weigh.formula import FormulaFace
from jagged_lens.desktop.desks.weigh.matrix import MatrixFace
from jagged_lens.desktop.desks.weigh.themes import ThemesFace
from jagged_lens.desktop.sheets.preferences import Preferences
from jagged_lens.desktop.waiting import wait_until
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import GROUPING, LAYOUT, PAIRS, TERM_POINTS, TERMS, THEMES_AHEAD

_PATIENCE = 120


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
    """All faces of the groups, and the most frequent terms grouped."""
    desk, bench = window.desks["group"], window.bench
    assert isinstance(desk, GroupDesk)
    for name, face in (
        ("group-ridge", RidgeFace),
        ("group-how-many", HowManyFace),
        ("group-against", AgainstLabelFace),
    ):
        desk.bring_up(face)
        if face is HowManyFace and not bench.recipe.group.sweep:
            bench.set("group", "sweep", (2, 16))
        wait_until(lambda: not bench.working and not window.asker.waiting, _PATIENCE)
        if face is AgainstLabelFace and desk.face(AgainstLabelFace).misfits.listed.rowCount() > 1:
            desk.face(AgainstLabelFace).misfits.go_to(1)
            wait_until(lambda: not window.asker.waiting, 10)
        draw(name)
    terms = window.bench.results[TERMS].terms
    window.bench.pick.set_terms(terms[: min(80, len(terms))])
    pick.group_terms(window)
    groups = desk.face(TermGroups)
    if wait_until(lambda: bool(groups.map.terms), 10):
        groups.table.go_to(0)
    draw("term-groups")
    bench.pick.set_terms(())
    desk.bring_up(GroupsFace)


def _show_weigh(window: MainWindow, draw: Callable[[str], None]) -> None:
    """The matrix and the themes."""
    desk, bench = window.desks["weigh"], window.bench
    assert isinstance(desk, WeighDesk)
    for name, face in (("matrix", MatrixFace), ("themes", ThemesFace)):
        desk.bring_up(face)
        wait_until(lambda: not window.asker.waiting and (face is MatrixFace or bench.ready(THEMES_AHEAD)), 20)  # noqa: B023
        if name == "themes" and desk.face(ThemesFace).table.listed.rowCount() > 1:
            desk.face(ThemesFace).table.go_to(1)
        draw(name)
    desk.bring_up(FormulaFace)


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


def _show_map(window: MainWindow, draw: Callable[[str], None]) -> None:
    """Terms as points, and all documents round one of them."""
    desk, bench = window.desks["map"], window.bench
    desk.bring_up(TermPoints)
    wait_until(lambda: bench.ready(TERM_POINTS) and not window.asker.waiting, _PATIENCE)
    draw("map-terms")
    desk.bring_up(DocumentMap)
    face = desk.face(DocumentMap)
    if len(bench.results[TERMS].rows) and bench.ready(LAYOUT):
        bench.pick.set([int(bench.results[TERMS].rows[0])])
        window.side.show_legend()
        face.tools.rings_button.click()
        wait_until(lambda: not window.asker.waiting, 10)
        draw("map-rings")
        face.tools.rings_button.click()
        wait_until(lambda: not window.asker.waiting, 10)


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
        if step == "weigh":
            _show_weigh(window, draw)
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
    _show_map(window, draw)
    if GROUPING in bench.results:
        terms, grouping, layout = bench.results[TERMS], bench.results[GROUPING], bench.results[LAYOUT]
        best = int(np.nanargmax(np.where(grouping.group >= 0, layout.trust, np.nan))) if len(grouping) else -1
        if best >= 0:
            bench.pick.set(terms.rows[grouping.group == grouping.group[best]].tolist(), int(terms.rows[best]))
        window.side.show_reader()
    window.put_beside("group")
    draw("beside")
    window.area.put_beside("")
    window.side.show()
    if len(bench.state.lenses) > 1:
        bench.choose_lens(1)
        wait_until(lambda: not bench.working, _PATIENCE)
        bench.pick.clear()
        prefer(window, Preferences(look="dark"))
        draw("another-lens-dark")
        prefer(window, Preferences(look="light"))
    return drawn
