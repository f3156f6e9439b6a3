# SPDX-License-Identifier: GPL-3.0-or-later
"""The space of the later steps, through the window: one choice, vectors from a file, and from a service that gets nothing without a click."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from jagged_lens.demo.vector_server import Manner, VectorServer, vector_server
from jagged_lens.desktop.desks.compare.against import AgainstFace
from jagged_lens.desktop.desks.compare.desk import CompareDesk
from jagged_lens.desktop.desks.compare.pairs import PairsFace
from jagged_lens.desktop.desks.weigh.desk import WeighDesk
from jagged_lens.desktop.desks.weigh.space import SpaceFace
from jagged_lens.desktop.window import MainWindow
from jagged_lens.lens import CORPUS, GIVEN, THEMES

LEFT = Qt.MouseButton.LeftButton
Settle = Callable[[MainWindow], None]
DIMENSIONS = 12


def made(texts: list[str]) -> list[list[float]]:
    """A vector for each text, from its first letters."""
    found = []
    for text in texts:
        drawn = random.Random(text[:30])
        found.append([drawn.gauss(0, 1) for _ in range(DIMENSIONS)])
    return found


@pytest.fixture
def face(window: MainWindow, settle: Settle) -> SpaceFace:
    window.show_step("weigh")
    desk = window.desk
    assert isinstance(desk, WeighDesk)
    desk.bring_up(SpaceFace)
    settle(window)
    return desk.face(SpaceFace)


def choose(face: SpaceFace, space: str) -> None:
    face.choice.setCurrentIndex(face.choice.findData(space))
    face.choice.activated.emit(face.choice.currentIndex())


def rows_of(face: SpaceFace) -> list[tuple[str, str]]:
    """Key and reason of each row that is listed."""
    return [(key, reason) for _, key, reason in face._unused]


def test_one_choice_sets_what_the_later_steps_work_on(face: SpaceFace, window: MainWindow, settle: Settle) -> None:
    bench = window.bench
    for space, by in (("themes", "svd"), ("adding", "adding"), ("learned", "learned")):
        choose(face, space)
        settle(window)
        assert bench.recipe.weigh.space == space
        assert bench.results[THEMES].by == by
    assert face.number.isVisible()
    face.number.setValue(40)
    settle(window)
    assert bench.recipe.weigh.dimensions == 40
    assert len(bench.results[THEMES]) == 40
    assert "occur too seldom" in face.table_head.text()
    choose(face, "terms")
    settle(window)
    assert not len(bench.results[THEMES])
    assert (bench.recipe.weigh.vectors, bench.recipe.weigh.themes) == ("", 0)
    window.undo.trigger()
    assert bench.recipe.weigh.space == "learned"
    assert face.choice.currentData() == "learned"


def test_the_settings_lead_to_what_a_file_needs(face: SpaceFace, window: MainWindow, settle: Settle) -> None:
    window.desk.leaf_row.show_leaf(0)
    control = window.side.settings.controls["weigh"]["space"]
    control.field.choose("file")  # type: ignore[attr-defined]
    settle(window)
    assert window.bench.recipe.weigh.space == "terms"
    assert face.isVisible()
    assert face.file.path.isVisible()
    assert face.choice.currentData() == "file"


def test_a_file_is_previewed_then_used_and_what_did_not_match_is_listed(
    face: SpaceFace, window: MainWindow, settle: Settle, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    corpus = window.bench.results[CORPUS]
    keys = [*corpus.keys[:600], "LM-9999", corpus.keys[3]]
    vectors = np.array(made([*corpus.texts[:600], "x", "y"]), np.float32)
    vectors[5, 2] = np.nan
    path = tmp_path / "mine.npz"
    np.savez(path, keys=np.array(keys), vectors=vectors)
    choose(face, "file")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, **__: (str(path), ""))
    QTest.mouseClick(face.file.choose, LEFT)
    settle(window)
    told = face.file.told.text()
    assert "602 vectors of 12 dimensions." in told
    assert "599 of 640 documents have one." in told
    assert "LM-9999" in told
    assert window.bench.recipe.weigh.space == "terms"
    QTest.mouseClick(face.file.use, LEFT)
    settle(window)
    found = window.bench.results[GIVEN]
    assert window.bench.recipe.weigh.space == "file"
    assert int(found.there.sum()) == 599
    rows = rows_of(face)
    assert rows.count(("LM-9999", "no such document")) == 1
    assert (corpus.keys[3], "key occurs twice; the first counts") in rows
    assert (corpus.keys[5], "not finite, or all 0") in rows
    assert sum(reason == "no vector" for _, reason in rows) == 40
    assert "41 of 640 documents have no vector" in window.desk._notice.words.text()


def test_a_pair_of_given_vectors_is_not_split_into_terms(
    face: SpaceFace, window: MainWindow, settle: Settle, tmp_path: Path
) -> None:
    corpus = window.bench.results[CORPUS]
    np.savez(tmp_path / "v.npz", keys=np.array(list(corpus.keys)), vectors=np.array(made(list(corpus.texts))))
    window.bench.set("weigh", "vectors", str(tmp_path / "v.npz"))
    settle(window)
    window.show_step("compare")
    settle(window)
    desk = window.desk
    assert isinstance(desk, CompareDesk)
    pairs = desk.face(PairsFace)
    pairs.table.go_to(0)
    settle(window)
    assert "not a sum" in pairs.why.figures.text()
    assert "cannot be split" in pairs.why.sum.text()
    assert pairs.why.sentences.isVisible()
    assert not pairs.why.bar.isVisible()
    desk.bring_up(AgainstFace)
    against = desk.face(AgainstFace)
    QTest.mouseClick(against.type_button, LEFT)
    against.text.setPlainText("slugs at the lettuce by night")
    settle(window)
    assert "a typed text has no vector in the file" in against.about.text()
    assert not against.send.isVisible()


# A service.


@pytest.fixture
def server() -> Iterator[VectorServer]:
    with vector_server(made, DIMENSIONS, Manner(batch=64, longest=4000)) as found:
        yield found


@pytest.fixture
def service(face: SpaceFace, window: MainWindow, settle: Settle, server: VectorServer, tmp_path: Path) -> SpaceFace:
    window.bench.save_as(tmp_path / "vectors.jagged")
    choose(face, "service")
    face.service.address.setText(server.address)
    face.service.address.editingFinished.emit()
    settle(window)
    return face


def wait_for_answers(qtbot: QtBot, window: MainWindow, settle: Settle) -> None:
    qtbot.waitUntil(lambda: window.bench.sending.share is None, timeout=120_000)
    settle(window)


def test_nothing_is_sent_but_by_the_button(
    service: SpaceFace, window: MainWindow, settle: Settle, server: VectorServer, qtbot: QtBot
) -> None:
    card, corpus = service.service, window.bench.results[CORPUS]
    different = {text for text in corpus.texts if text.strip()}
    characters = sum(map(len, different))
    assert f"Send transmits {len(different)} texts with {characters:,} characters to 127.0.0.1:" in card.told.text()
    window.bench.set("terms", "words", (1, 1))
    card.model.setText("larkmoor")
    card.model.editingFinished.emit()
    window.bench.compute_anew()
    settle(window)
    assert (server.sent.total(), server.described) == (0, 0)
    QTest.mouseClick(card.send, LEFT)
    wait_for_answers(qtbot, window, settle)
    assert set(server.sent) == different
    assert set(server.sent.values()) == {1}
    assert card.outcome.text() == f"{len(different)} vectors came."
    assert f"All {len(different)} different texts have their vectors." in card.told.text()
    assert not card.send.isVisible()
    assert window.bench.results[THEMES].by == "service"
    assert int(window.bench.results[GIVEN].there.sum()) == 638
    choose(service, "terms")
    settle(window)
    window.undo.trigger()
    settle(window)
    assert window.bench.results[THEMES].by == "service"
    assert server.sent.total() == len(different)


def test_what_was_counted_for_one_service_is_never_sent_to_another(
    service: SpaceFace, window: MainWindow, settle: Settle, server: VectorServer
) -> None:
    card, bench = service.service, window.bench
    asked = card._asked
    assert asked is not None
    with vector_server(made, DIMENSIONS) as other:
        bench.set("weigh", "vectors", other.address)
        bench.sending.begin(asked)  # what a click would do that came before the card could follow
        assert bench.sending.share is None
        settle(window)
        assert card.address.text() == other.address
        assert f"characters to {other.address.split('/')[2]}." in card.told.text()
        assert (server.sent.total(), other.sent.total(), other.described) == (0, 0, 0)


def test_a_key_that_is_wrong_is_said_and_the_right_one_is_written_nowhere(
    service: SpaceFace, window: MainWindow, settle: Settle, server: VectorServer, qtbot: QtBot, tmp_path: Path
) -> None:
    server.manner.key = "blue-slug-7"
    card = service.service
    QTest.mouseClick(card.send, LEFT)
    wait_for_answers(qtbot, window, settle)
    assert "did not accept the key (401 Unauthorized)" in card.outcome.text()
    card.address.setText("http://127.0.0.1:9/other")
    card.address.editingFinished.emit()
    settle(window)
    assert card.outcome.text() == ""  # it was said of another service
    card.address.setText(server.address)
    card.address.editingFinished.emit()
    settle(window)
    assert "did not accept the key" in card.outcome.text()
    card.key.setText("blue-slug-7")
    card.key.editingFinished.emit()
    QTest.mouseClick(card.send, LEFT)
    wait_for_answers(qtbot, window, settle)
    assert card.outcome.text().endswith("vectors came.")
    window.bench.save()
    window.bench.keeper.flush()  # type: ignore[union-attr]
    assert not [path for path in tmp_path.rglob("*") if path.is_file() and b"blue-slug-7" in path.read_bytes()]


def test_sending_stops_keeps_what_came_and_goes_on(
    service: SpaceFace, window: MainWindow, settle: Settle, server: VectorServer, qtbot: QtBot
) -> None:
    server.manner.batch, server.manner.seconds = 16, 0.15
    card, sending = service.service, window.bench.sending
    QTest.mouseClick(card.send, LEFT)
    qtbot.waitUntil(lambda: (sending.share or 0) > 0.1, timeout=120_000)
    assert card.stop.isVisible()
    QTest.mouseClick(card.stop, LEFT)
    wait_for_answers(qtbot, window, settle)
    assert card.outcome.text() == "Stopped. The vectors that came are kept."
    came = int(window.bench.results[GIVEN].there.sum())
    assert 0 < came < 600
    server.manner.seconds = 0
    QTest.mouseClick(card.send, LEFT)
    wait_for_answers(qtbot, window, settle)
    assert int(window.bench.results[GIVEN].there.sum()) == 638
    assert max(server.sent.values()) == 1


def test_a_typed_text_is_compared_by_its_vector_after_a_click(
    service: SpaceFace, window: MainWindow, settle: Settle, server: VectorServer, qtbot: QtBot
) -> None:
    QTest.mouseClick(service.service.send, LEFT)
    wait_for_answers(qtbot, window, settle)
    window.show_step("compare")
    desk = window.desk
    assert isinstance(desk, CompareDesk)
    desk.bring_up(AgainstFace)
    settle(window)
    against = desk.face(AgainstFace)
    QTest.mouseClick(against.type_button, LEFT)
    text = window.bench.results[CORPUS].texts[12] + " And that is all."
    against.text.setPlainText(text)
    settle(window)
    assert "the text was not sent to 127.0.0.1:" in against.about.text()
    assert text not in server.sent
    QTest.mouseClick(against.send, LEFT)
    qtbot.waitUntil(lambda: text in server.sent, timeout=120_000)
    wait_for_answers(qtbot, window, settle)
    assert "compared by terms" not in against.about.text()
    answer = against._answer
    assert answer is not None
    assert answer.order[0] == 12  # the vectors of the stand-in go by the first letters
    assert answer.similarity[12] == pytest.approx(1, abs=1e-5)
    assert not against.send.isVisible()
