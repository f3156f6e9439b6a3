# SPDX-License-Identifier: GPL-3.0-or-later
"""The parts that all desks share: a head with figures, a body, and the page shown while there is nothing or an error."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any, TypeVar

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.desks.drawn import WAITING, Drawn
from jagged_lens.desktop.desks.face import Face
from jagged_lens.desktop.desks.going_out import GoingOut, picture_of, tables_in
from jagged_lens.desktop.desks.leaf_row import LeafRow
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.controls import Action, MainAction
from jagged_lens.desktop.look.elided import ElidedLabel
from jagged_lens.desktop.look.plain import PlainLabel, set_tip
from jagged_lens.desktop.look.words import TITLES
from jagged_lens.desktop.reading.reader import Reader
from jagged_lens.desktop.saving import Piece
from jagged_lens.lens import Part, noticed, settings_of
from jagged_lens.project import Verbs, read_as_runs
from jagged_lens.sentences import value_words

AnyFace = TypeVar("AnyFace", bound=Face)


class Desk(Drawn):
    """The picture of one step, with its head; it says what is missing while it cannot be drawn.

    faces: further pictures, each with a button. picture: the name on the button of the desk's own picture; where it has none, that
    stays, and the subclass puts the row of buttons (`leaf_row`) and the faces (`leaf_row.leaves`) somewhere in it. face_made(face): the
    widgets of a face are there, and were not before. face_shown: another face is in front.
    """

    step = ""
    faces: tuple[type[Face], ...] = ()
    picture = ""
    face_made = pyqtSignal(QWidget)
    face_shown = pyqtSignal()
    empty_words = "There are no documents yet. Add some to see results here."

    def __init__(self, bench: Verbs, asker: Asker, reader: Reader) -> None:
        super().__init__(bench, asker, reader)
        self.keys: list[tuple[str, str]] = []
        self.legend: QWidget | None = None  # what the side shows beside it
        self._words = ""  # that the faces are filtered by
        self._waved_off: set[str] = set()
        column = QVBoxLayout(self)
        column.setContentsMargins(22, 12, 14, 10)
        column.setSpacing(9)
        head = QHBoxLayout()
        head.setSpacing(10)
        title = PlainLabel(TITLES[self.step])
        title.setFont(theme.ui_font(1.5, bold=True))
        head.addWidget(title)
        self.figures = ElidedLabel()
        theme.tone(self.figures, "muted")
        head.addWidget(self.figures, 1, Qt.AlignmentFlag.AlignVCenter)
        self.tools = QHBoxLayout()
        self.tools.setSpacing(6)
        head.addLayout(self.tools)
        self.going_out = GoingOut(self.pieces)
        head.addWidget(self.going_out)
        column.addLayout(head)
        self._notice = Notice()
        column.addWidget(self._notice)
        self._waiting = PlainLabel(WAITING)
        theme.tone(self._waiting, "muted")
        self._waiting.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column.addWidget(self._waiting, 1)
        self.fill = MainAction("Add documents…")
        set_tip(self.fill, "Files, folders, tables, a database, web pages, or what is on the clipboard (Ctrl+Shift+D)")
        self.fill.hide()
        column.addWidget(self.fill, 0, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop)
        self._below = QWidget()  # what stands below the one action while there is nothing
        self.empty_body = _column(self._below)
        self._below.hide()
        column.addWidget(self._below, 1)
        self.content = QWidget()
        self.body = _column(self.content)
        self.content.hide()
        column.addWidget(self.content, 1)
        self._make_faces()
        self.build()

    def _make_faces(self) -> None:
        self._faces = {kind: kind(self.bench, self.asker, self.reader) for kind in self.faces}
        if not self.faces:
            return
        own = [self.picture] if self.picture else []
        self.leaf_row = LeafRow([*own, *(face.name for face in self.faces)])
        if own:
            page = QWidget()
            self.body.addWidget(self.leaf_row)
            self.body.addWidget(self.leaf_row.leaves, 1)
            self.body = _column(page)
            self.leaf_row.leaves.addWidget(page)
        for face in self._faces.values():
            self.leaf_row.leaves.addWidget(face)
            face.said.connect(self.leaf_row.words.setText)
            face.made.connect(partial(self._made, face))
        self.leaf_row.shown.connect(lambda place: self._say(place - len(own)))

    def _say(self, place: int) -> None:
        """Draw the face that was brought up, and say something of it."""
        face = list(self._faces.values())[place] if place >= 0 else None
        self.look()
        if face is not None:
            face.make()
            face.look()
            face.prepare()
        known = face is not None and face.bench.results.has(*face.needs)
        self.leaf_row.words.setText(face.summary() if face is not None and known else "")
        self.face_shown.emit()

    def prepare(self) -> None:
        super().prepare()
        if self.in_front is not self:
            self.in_front.prepare()

    def seen(self) -> tuple[Part[Any], ...]:
        behind = bool(self.faces and self.picture) and self.leaf_row.front > 0
        return self.needs if behind else super().seen()

    def face(self, kind: type[AnyFace]) -> AnyFace:
        """One of the faces of this desk, with its widgets."""
        face = self.unmade(kind)
        face.make()
        return face

    def unmade(self, kind: type[AnyFace]) -> AnyFace:
        """One of the faces, whether its widgets are there or not: for what it says when they are."""
        face = self._faces[kind]
        assert isinstance(face, kind)
        return face

    @property
    def front_face(self) -> Face:
        """The face in front, of a desk that has no picture of its own."""
        face = self.leaf_row.leaves.currentWidget()
        assert isinstance(face, Face)
        face.make()
        return face

    def _made(self, face: Face) -> None:
        face.filter(self._words)
        self.face_made.emit(face)

    def show_faces(self) -> None:
        """Put the buttons and the faces under the head, for a desk that has no picture of its own."""
        column = self.body
        column.addWidget(self.leaf_row)
        column.addWidget(self.leaf_row.leaves, 1)

    @property
    def in_front(self) -> Drawn:
        """The face in front, made or not; this desk where that is its own picture."""
        place = self.leaf_row.front - bool(self.picture) if self.faces else -1
        return list(self._faces.values())[place] if place >= 0 else self

    def pieces(self) -> list[Piece]:
        """The parts of the picture in front that can be copied and saved."""
        if self.content.isHidden():
            return []
        front = self.in_front
        own = [*(front.own_pieces() if front is not self else ()), *self.own_pieces()]
        whole = [] if any(piece.painting is not None for piece in own) else [picture_of(self.content, self.step)]
        return [*own, *tables_in(self.content), *whole]

    def bring_up(self, kind: type[Face]) -> None:
        """Bring a face up."""
        self.leaf_row.show_leaf(self.leaf_row.leaves.indexOf(self._faces[kind]))

    def filter_faces(self, text: str) -> None:
        """Show only what has these words, on all faces."""
        self._words = text
        for face in self._faces.values():
            if face.is_made:
                face.filter(text)

    @property
    def title(self) -> str:
        """The name of this desk."""
        return TITLES[self.step]

    def build(self) -> None:
        """Make the widgets of the body, once."""

    def take_focus(self) -> None:
        """Give the keyboard to what this desk is mainly about."""
        main = getattr(self, "canvas", None) or getattr(self, "table", None)
        if isinstance(main, QWidget):
            main.setFocus(Qt.FocusReason.OtherFocusReason)

    def find_in_front(self) -> None:
        """Handle the key /: go to the field that filters this table."""
        field = self.findChild(QLineEdit, "filter")
        if field is not None:
            field.setFocus(Qt.FocusReason.ShortcutFocusReason)
            field.selectAll()

    def filter_field(self, text: str, changed: Callable[[str], None] | None = None) -> QLineEdit:
        """A field that filters the faces, and what else is told of its words; / goes to it."""
        field = QLineEdit()
        field.setObjectName("filter")
        field.setPlaceholderText(text)
        field.setAccessibleName(text)
        field.setClearButtonEnabled(True)
        field.setMaximumWidth(230)
        field.textChanged.connect(self.filter_faces)
        if changed is not None:
            field.textChanged.connect(changed)
        return field

    def _refresh_if_ready(self) -> None:
        bench = self.bench
        error = next((bench.errors[part.name] for part in self.needs if part.name in bench.errors), None)
        error = error or (next(iter(bench.errors.values()), None) if not bench.ready(*self.needs) else None)
        super()._refresh_if_ready()
        self._say_notice(str(error) if error else "")
        if bench.ready(*self.needs) and not self.content.isHidden():
            return
        if not bench.state.sources:
            self._show_empty()
        elif self.content.isHidden():
            self._waiting.setVisible(error is None)
            self._waiting.setText(WAITING)
            self._waiting.setAlignment(Qt.AlignmentFlag.AlignCenter)
            self.fill.hide()
            self._below.hide()

    def _say_notice(self, error: str) -> None:
        """Say what is wrong, or what there is to notice of this step, with the setting that would help."""
        found = noticed(self.bench.results.recipe, self.bench.results) if not error and self.step != "gather" else []
        own = [one for one in found if one.step == self.step and one.words not in self._waved_off]
        if not own:
            self._notice.say(error)
            return
        one = own[0]
        if one.value is not None:
            step = one.setting_of or one.step
            words = value_words(settings_of(step)[one.key], one.value)
            change = partial(self.bench.set, step, one.key, one.value)
            if one.key == "tokens":
                change = partial(read_as_runs, self.bench)
            self._notice.say(one.words, f"{settings_of(step)[one.key].label}: {words}", change)
        elif one.serious:
            self._notice.say(one.words)
        else:
            self._notice.say(one.words, "Close", partial(self._wave_off, one.words))

    def _wave_off(self, words: str) -> None:
        """Do not say this again while the window is open."""
        self._waved_off.add(words)
        self._notice.say("")

    def _unveil(self) -> None:
        self.content.show()
        for widget in (self._waiting, self.fill, self._below):
            widget.hide()

    def _show_empty(self) -> None:
        """There is no source yet: what will be here, and the one action that fills it."""
        self.content.hide()
        self.figures.setText("")
        self._stale = True
        self._waiting.setText(self.empty_words)
        self._waiting.setAlignment(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom)
        for widget in (self._waiting, self.fill, self._below):
            widget.show()


def _column(page: QWidget) -> QVBoxLayout:
    column = QVBoxLayout(page)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(9)
    return column


class Notice(QFrame):
    """A sentence that asks for attention, which can be copied."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 7, 8, 7)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        self.words.setTextFormat(Qt.TextFormat.PlainText)
        self.words.setAccessibleName("Notice")
        self.words.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        row.addWidget(self.words, 1)
        copy = Action("Copy")
        copy.setAccessibleName("Copy this notice")
        copy.clicked.connect(lambda: QApplication.clipboard().setText(self.words.text()))  # type: ignore[union-attr]
        self.change = MainAction()
        self._does: Callable[[], None] | None = None
        self.change.clicked.connect(lambda: self._does() if self._does is not None else None)
        row.addWidget(self.change)
        row.addWidget(copy)
        self.hide()

    def say(self, text: str, action: str = "", does: Callable[[], None] | None = None) -> None:
        """Say something; action: what can be done about it."""
        self.words.setText(text)
        self.change.setText(action)
        self.change.setVisible(does is not None)
        self._does = does
        self.setVisible(bool(text))
