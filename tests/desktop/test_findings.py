# SPDX-License-Identifier: GPL-3.0-or-later
"""Findings, driven through the window: pinned on every face, with the way back, and put in order on the Report desk."""

from __future__ import annotations

import datetime
import os
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pypdf
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QContextMenuEvent, QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from desktop.test_report import save_as
from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.desks.gather.desk import GatherDesk
from jagged_lens.desktop.desks.group.groups import GroupsFace
from jagged_lens.desktop.desks.group.how_many import HowManyFace
from jagged_lens.desktop.desks.report.desk import ReportDesk
from jagged_lens.desktop.look.words import DESKS
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import CORPUS, GROUPING, HOLDING, SPACE
from jagged_lens.project import Finding, Heading, ProjectFile, Words

Settle = Callable[[MainWindow], None]
ALT = Qt.KeyboardModifier.AltModifier


def press(window: MainWindow, key: Qt.Key, held: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    target = QApplication.focusWidget() or window
    QTest.keyClick(target, key, held)


def last(window: MainWindow) -> Finding:
    found = window.bench.state.report[-1]
    assert isinstance(found, Finding)
    return found


def report_desk(window: MainWindow, settle: Settle) -> ReportDesk:
    window.show_step("report")
    settle(window)
    desk = window.desks["report"]
    assert isinstance(desk, ReportDesk)
    return desk


def pick_group(window: MainWindow, settle: Settle, group: int) -> None:
    """Bring a group up on its desk, and pick its members."""
    window.show_step("group")
    window.desk.bring_up(GroupsFace)
    settle(window)
    face = window.desk.face(GroupsFace)
    face.cards.show_chosen([group])
    face._pick_group(group)
    settle(window)


def test_every_face_of_every_desk_can_be_pinned(window: MainWindow, settle: Settle) -> None:
    bench = window.bench
    count = 0
    for step in DESKS:
        if step == "report":
            continue
        window.show_step(step)
        desk = window.desk
        for kind in [*([None] if desk.picture or not desk.faces else []), *desk.faces]:
            if kind is not None:
                desk.bring_up(kind)
            elif desk.faces:
                desk.leaf_row.show_leaf(0)
            settle(window)
            QTest.mouseClick(desk.going_out.pin, Qt.MouseButton.LeftButton)
            count += 1
            found = last(window)
            assert len(bench.state.findings) == count
            assert found.way.desk == step
            assert found.way.face == (kind.name if kind is not None else "")
            assert found.title
            assert found.figures
            assert found.day == datetime.date.today().isoformat()
            assert (found.drawing is not None) != (found.rows is not None), f"{step} {found.way.face}"
            if found.drawing is not None:
                assert found.drawing.svg.startswith("<?xml") or found.drawing.png
            if found.rows is not None:
                assert 0 < len(found.rows.rows) <= 30
    assert count > 25
    desk = report_desk(window, settle)
    assert desk.list.count() == count
    assert desk.figures.text().startswith(f"{count} findings, 10 standing parts")
    assert desk.page.document is not None
    text = desk.page.document.toPlainText()
    for finding in bench.state.findings:
        assert " ".join(finding.title.split()) in text
    for _ in range(count):
        bench.undo()
    assert bench.state.report == ()


def test_a_group_is_pinned_with_its_figures_and_found_again(window: MainWindow, settle: Settle) -> None:
    bench = window.bench
    pick_group(window, settle, 2)
    keys = bench.documents.keys_of(bench.pick.rows)
    sizes = bench.results[GROUPING].sizes
    window.desk.setFocus()
    press(window, Qt.Key.Key_P)
    found = last(window)
    assert found.title.startswith("Group C, ")
    assert f"{sizes[2]} documents" in found.title
    assert ("documents in the group", f"{sizes[2]}") in found.figures
    assert list(found.way.pick) == keys
    assert found.rows is not None
    assert found.rows.of == sizes[2]
    assert window.pick_bar.isVisible()
    bench.pick.clear()
    bench.choose_lens(1)
    window.show_step("map")
    settle(window)
    desk = report_desk(window, settle)
    assert window.focusWidget() is desk.list  # at once, though it has just been drawn for the first time
    press(window, Qt.Key.Key_Return)
    settle(window)
    assert bench.state.lens.name == "Crops"
    assert window.step == "group"
    assert window.desk.in_front is window.desk.unmade(GroupsFace)
    assert bench.documents.keys_of(bench.pick.rows) == keys


def test_what_has_changed_since_is_said_in_numbers_renewed_or_gone_back_to(window: MainWindow, settle: Settle) -> None:
    bench = window.bench
    window.show_step("group")
    window.desk.bring_up(HowManyFace)
    settle(window)
    QTest.mouseClick(window.desk.going_out.pin, Qt.MouseButton.LeftButton)
    before = last(window)
    assert dict(before.figures)["groups"] == "10"
    bench.set("group", "groups", 4)
    settle(window)
    desk = report_desk(window, settle)
    assert "groups: then 10, now 4" in desk.changed.text()
    assert desk.as_it_was.isVisible()
    assert desk.renew.isVisible()
    assert last(window) == before  # nothing changes by itself

    QTest.mouseClick(desk.as_it_was, Qt.MouseButton.LeftButton)
    settle(window)
    assert bench.state.lens.name == f"Crops, {before.day}"
    assert bench.recipe.group.groups == 10
    assert (window.step, window.desk.in_front.name) == ("group", "How many")
    bench.undo()
    bench.choose_lens(0)
    settle(window)

    desk = report_desk(window, settle)
    QTest.mouseClick(desk.renew, Qt.MouseButton.LeftButton)
    settle(window)
    new = last(window)
    assert new.number == before.number
    assert dict(new.figures)["groups"] == "4"
    assert "4 groups" in new.title
    assert new.drawing != before.drawing
    desk = report_desk(window, settle)
    assert not desk.changed.isVisible()
    assert not desk.as_it_was.isVisible()


def test_a_lens_that_is_gone_is_said_and_comes_back_as_it_was(window: MainWindow, settle: Settle) -> None:
    bench = window.bench
    window.show_step("terms")
    settle(window)
    QTest.mouseClick(window.desk.going_out.pin, Qt.MouseButton.LeftButton)
    bench.change(bench.state.without_lens(), "delete")
    settle(window)
    desk = report_desk(window, settle)
    QTest.mouseClick(desk.go, Qt.MouseButton.LeftButton)
    assert window.step == "report"
    assert "The lens “Crops” is gone" in window.pick_bar.said.text()
    QTest.mouseClick(desk.as_it_was, Qt.MouseButton.LeftButton)
    settle(window)
    assert bench.state.lens.name.startswith("Crops, ")
    assert window.step == "terms"


def test_texts_that_are_read_are_pinned_with_their_marks(window: MainWindow, settle: Settle) -> None:
    window.show_step("compare")
    desk = window.desk
    assert isinstance(desk, CompareDesk)
    desk.bring_up(PairsFace)
    settle(window)
    desk.face(PairsFace).table.go_to(3)
    settle(window)
    desk.open_pair(3)
    settle(window)
    QTest.mouseClick(desk.reading_table.pin, Qt.MouseButton.LeftButton)
    found = last(window)
    assert len(found.quotes) == 2
    corpus = window.bench.results[CORPUS]
    rows = window.bench.pick.rows
    assert sorted("".join(text for text, _ in quote.runs) for quote in found.quotes) == sorted(
        corpus.texts[row] for row in rows
    )
    assert {"shared"} <= {mark for quote in found.quotes for _, mark in quote.runs}
    assert "similarity" in found.title
    desk.close_reading()

    window.show_step("map")
    row = int(window.bench.results[SPACE].terms.rows[5])
    window.bench.pick.set([row])
    settle(window)
    reader = window.side.reader
    window.side.show_reader()
    QTest.mouseClick(reader.pin, Qt.MouseButton.LeftButton)
    found = last(window)
    assert found.way.reading == corpus.keys[row]
    assert "".join(text for text, _ in found.quotes[0].runs) == corpus.texts[row]
    assert corpus.titles[row] in found.title
    window.bench.pick.clear()
    settle(window)
    count = len(window.bench.state.report)
    QTest.mouseClick(reader.pin, Qt.MouseButton.LeftButton)
    assert len(window.bench.state.report) == count
    assert "Read a document first" in window.pick_bar.said.text()


def test_chosen_rows_are_pinned_from_their_menu(window: MainWindow, settle: Settle) -> None:
    window.show_step("gather")
    settle(window)
    desk = window.desk
    assert isinstance(desk, GatherDesk)
    table = desk.table
    chosen = table.listed.order[:2].tolist()
    table._choose(chosen, chosen[1])
    at = table.viewport().mapTo(window, table.visualRect(table.currentIndex()).center())  # type: ignore[union-attr]
    window.contextMenuEvent(QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, window.mapToGlobal(at)))
    assert window.context is not None
    next(one for one in window.context.actions() if one.text() == "Pin these rows").trigger()
    rows = last(window).rows
    assert rows is not None
    assert [row[0] for row in rows.rows] == [table.listed.columns[0].text(int(at)) for at in chosen]
    window.context.close()


def test_entries_are_written_ordered_and_taken_out(window: MainWindow, settle: Settle) -> None:
    bench = window.bench
    for step in ("terms", "weigh"):
        window.show_step(step)
        settle(window)
        QTest.mouseClick(window.desk.going_out.pin, Qt.MouseButton.LeftButton)
    desk = report_desk(window, settle)
    desk.list.setCurrentRow(1)
    QTest.mouseClick(desk.add_heading, Qt.MouseButton.LeftButton)
    assert not desk.editor.keep.isEnabled()
    QTest.keyClicks(desk.editor.line, "What is told twice?")
    QTest.mouseClick(desk.editor.keep, Qt.MouseButton.LeftButton)
    settle(window)
    QTest.mouseClick(desk.add_text, Qt.MouseButton.LeftButton)
    QTest.keyClicks(desk.editor.text, "Mildew is told of in every crop.")
    QTest.mouseClick(desk.editor.keep, Qt.MouseButton.LeftButton)
    settle(window)

    def kinds() -> list[str]:
        return [type(entry).__name__ for entry in bench.state.report]

    assert sorted(kinds()) == ["Finding", "Finding", "Heading", "Words"]
    heading = next(at for at, entry in enumerate(bench.state.report) if isinstance(entry, Heading))
    desk.list.setCurrentRow(heading)
    desk.list.setFocus()
    for _ in range(heading):
        QTest.keyClick(desk.list, Qt.Key.Key_Up, ALT)
        settle(window)
    assert isinstance(bench.state.report[0], Heading)
    assert desk.list.currentRow() == 0

    words = next(at for at, entry in enumerate(bench.state.report) if isinstance(entry, Words))
    desk.list.setCurrentRow(words)
    target = desk.list.visualRect(desk.list.model().index(0, 0))  # type: ignore[union-attr]
    drop = QDropEvent(
        QPointF(target.center().x(), target.bottom()),
        Qt.DropAction.MoveAction,
        desk.list.mimeData([desk.list.currentItem()]),
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    drop.source = lambda: desk.list  # type: ignore[method-assign]
    desk.list.dropEvent(drop)
    settle(window)
    assert isinstance(bench.state.report[1], Words)

    first = next(entry for entry in bench.state.report if isinstance(entry, Finding))
    desk.edit(first.number)
    desk.editor.line.selectAll()
    QTest.keyClicks(desk.editor.line, "Slugs come first")
    QTest.keyClicks(desk.editor.text, "Look at these.")
    QTest.mouseClick(desk.editor.keep, Qt.MouseButton.LeftButton)
    settle(window)
    own = next(entry for entry in bench.state.findings if entry.number == first.number)
    assert (own.title, own.note, own.named) == ("Slugs come first", "Look at these.", True)
    assert desk.page.document is not None
    text = desk.page.document.toPlainText()
    assert text.index("What is told twice?") < text.index("Mildew is told") < text.index("Slugs come first")
    assert "Look at these." in text

    desk.list.setCurrentRow(1)
    QTest.keyClick(desk.list, Qt.Key.Key_Delete)
    settle(window)
    assert "Words" not in kinds()
    bench.undo()
    settle(window)
    assert kinds()[1] == "Words"


def test_what_comes_later_comes_into_the_report(window: MainWindow, settle: Settle) -> None:
    window.bench.set("group", "groups", 8)
    desk = report_desk(window, settle)  # the stability is computed because it is looked at
    assert window.bench.ready(HOLDING)
    assert desk.page.document is not None
    text = desk.page.document.toPlainText()
    assert "of 8 groups are stable" in text
    assert "not measured" not in text


def test_standing_parts_are_switched_but_for_how_sure(window: MainWindow, settle: Settle) -> None:
    desk = report_desk(window, settle)
    assert desk.none.isVisible()
    assert not desk.boxes["sure"].isEnabled()
    QTest.mouseClick(desk.boxes["terms"], Qt.MouseButton.LeftButton, pos=QPoint(8, desk.boxes["terms"].height() // 2))
    settle(window)
    assert window.bench.recipe.report.leave_out == ("terms",)
    assert desk.page.document is not None
    assert "Most common terms" not in desk.page.document.toPlainText()
    window.bench.set("report", "title", "What the notes tell")
    window.bench.set("report", "author", "Ada Ferrier")
    settle(window)
    text = desk.page.document.toPlainText()
    assert text.startswith("What the notes tell\nAda Ferrier. 640 of 640 documents")


@pytest.mark.parametrize("ending", [".html", ".pdf", ".docx", ".md"])
def test_the_report_goes_out_with_its_findings(
    window: MainWindow, settle: Settle, qtbot: QtBot, tmp_path: Path, ending: str
) -> None:
    window.show_step("terms")
    settle(window)
    QTest.mouseClick(window.desk.going_out.pin, Qt.MouseButton.LeftButton)
    desk = report_desk(window, settle)
    path = tmp_path / f"out{ending}"
    QTest.mouseClick(desk.going_out.save, Qt.MouseButton.LeftButton)
    assert window.save_sheet.piece.words == "The report"
    save_as(window, tmp_path, "out", ending)
    qtbot.waitUntil(path.exists, timeout=120_000)
    settle(window)
    if ending == ".pdf":
        read = pypdf.PdfReader(path)
        text = "".join(page.extract_text() for page in read.pages)
        assert desk.page.document is not None
        assert len(read.pages) == desk.page.document.pageCount()
        assert "vocabulary:" in text
    elif ending == ".html":
        assert "<h3>Terms, vocabulary: " in path.read_text()
    elif ending == ".md":
        assert "### Terms, vocabulary" in path.read_text()
        assert (tmp_path / "out-map.svg").exists()


def test_nothing_to_pin_is_said(window: MainWindow, settle: Settle) -> None:
    report_desk(window, settle)
    press(window, Qt.Key.Key_P)
    assert "Pin on another desk" in window.pick_bar.said.text()
    assert window.bench.state.report == ()


KILLED = """
import os, sys, time
from PyQt6.QtWidgets import QApplication
app = QApplication(["x"])
from pathlib import Path
from jagged_lens.demo import demo_recipe
from jagged_lens.desktop.commands import findings
from jagged_lens.desktop.waiting import wait_until
from jagged_lens.desktop.window import MainWindow
from jagged_lens.project import Bench, Keeper, opened
from jagged_lens.worker import Worker
from jagged_lens.lens import TERMS
worker, keeper = Worker(), Keeper(Path(sys.argv[1]), True, new=True)
bench = Bench(opened(demo_recipe()), worker, keeper)
window = MainWindow(bench, worker)
window.show()
window.show_step("terms")
bench.compute()
wait_until(lambda: bench.ready(TERMS) and not window.desk.content.isHidden(), 120)
wait_until(lambda: False, 0.3)
for _ in range(3):
    findings.pin(window)
assert keeper.flush()
print(len(bench.state.report), flush=True)
os.kill(worker.pid if hasattr(worker, "pid") else os.getpid(), 9)
os.kill(os.getpid(), 9)
"""


def test_findings_outlive_a_kill(tmp_path: Path) -> None:
    path = tmp_path / "p.jagged"
    environment = {**os.environ, "XDG_STATE_HOME": str(tmp_path), "XDG_CACHE_HOME": str(tmp_path)}
    done = subprocess.run(
        [sys.executable, "-c", KILLED, str(path)], env=environment, capture_output=True, timeout=300, check=False
    )
    assert done.returncode == -9, done.stderr.decode()
    assert done.stdout.strip().endswith(b"3")
    file = ProjectFile(path)
    file.verify()
    content = file.state()
    assert content is not None
    assert [one["number"] for one in content["report"]] == [1, 2, 3]
    assert all(one["rows"]["rows"] for one in content["report"])
