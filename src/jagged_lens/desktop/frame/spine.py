# SPDX-License-Identifier: GPL-3.0-or-later
"""The spine: the seven steps of the lens, each with its setting in words, its result in a number, and its tooth."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QAction,
    QColor,
    QFontMetricsF,
    QIcon,
    QKeyEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PyQt6.QtWidgets import QAbstractButton, QButtonGroup, QMenu, QSizePolicy, QVBoxLayout, QWidget

from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.profile import paint_profile, profile_picture
from jagged_lens.desktop.look.words import (
    BELOW,
    TITLES,
    below_words,
    result_words,
    setting_words,
    time_left,
    tooth_words,
)
from jagged_lens.lens import STEPS, Part
from jagged_lens.project import Bench, share_through
from jagged_lens.worker import Urgency

TOOTH = 28
_TICK = 500  # milliseconds between two looks at the clock


class Spine(QWidget):
    """Navigation, recipe, progress display and account of losses in one."""

    chosen = pyqtSignal(str)

    def __init__(self, bench: Bench, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._bench = bench
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 10, 0, 10)
        column.setSpacing(0)
        self.lens = LensPlate(bench, self)
        column.addWidget(self.lens)
        column.addSpacing(8)
        self._group = QButtonGroup(self)
        self.steps: dict[str, StepButton] = {}
        for number, step in enumerate(STEPS, 1):
            button = StepButton(number, step, bench, self)
            button.clicked.connect(lambda _, step=step: self.chosen.emit(step))
            self._group.addButton(button)
            self.steps[step] = button
            column.addWidget(button)
        column.addStretch(1)
        self.below: dict[str, BelowButton] = {}
        for number, desk in enumerate(BELOW, len(STEPS) + 1):
            below = BelowButton(number, desk, bench, self)
            below.clicked.connect(lambda _, desk=desk: self.chosen.emit(desk))
            self._group.addButton(below)
            self.below[desk] = below
            column.addWidget(below)
        bench.part_changed.subscribe(self._part_changed)
        bench.state_changed.subscribe(self.refresh)
        theme.changed.connect(self.update)
        self._tick = QTimer(self)
        self._tick.setInterval(_TICK)
        self._tick.timeout.connect(self._show_time)
        bench.queue.changed.subscribe(self._start_tick)
        self.refresh()

    def _start_tick(self, _: object = None) -> None:
        if not self._tick.isActive():
            self._tick.start()

    def _show_time(self) -> None:
        if self._bench.queue.under_way is None:
            self._tick.stop()
        for button in self._buttons:
            button.update()

    @property
    def _buttons(self) -> list[StepButton | BelowButton]:
        return [*self.steps.values(), *self.below.values()]

    def show_step(self, step: str) -> None:
        (self.steps.get(step) or self.below[step]).setChecked(True)
        self.update()

    def minimumSizeHint(self) -> QSize:
        """As wide as it is; where it has too little height, the space between steps and desks goes first."""
        return QSize(super().minimumSizeHint().width(), 200)

    def full_height(self) -> int:
        """The height with all its words."""
        line = QFontMetricsF(theme.ui_font()).height()
        return int(line * (4.3 + len(self.steps) * 4.55 + len(self.below) * 2.75)) + 30

    def set_compact(self, compact: bool) -> None:
        """Names and numbers only."""
        if compact == self.lens.compact:
            return
        for button in self._buttons:
            button.compact = compact
            button.updateGeometry()
            button.update()
        self.lens.compact = compact
        self.lens.updateGeometry()
        self.updateGeometry()

    def refresh(self) -> None:
        for button in self._buttons:
            button.refresh()
        self.lens.refresh()

    def _part_changed(self, part: Part[Any]) -> None:
        if part.step in self.steps:
            self.steps[part.step].refresh()
        else:
            self.below["place"].refresh()
        self.lens.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(0, 0, self.width() - TOOTH, self.height(), theme.colour("spine"))
        painter.fillRect(self.width() - TOOTH, 0, TOOTH, self.height(), theme.colour("paper"))


class LensPlate(QAbstractButton):
    """The lens in front: its name and its profile, the row of its teeth drawn small. A click lists all lenses."""

    def __init__(self, bench: Bench, parent: QWidget) -> None:
        super().__init__(parent)
        self._bench = bench
        self.compact = False
        self.actions_of_lens: list[QAction] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.clicked.connect(self.open_list)
        self.refresh()

    def refresh(self) -> None:
        state = self._bench.state
        count = len(state.lenses)
        self._under = f"{state.active + 1} of {count} lenses" if count > 1 else "1 lens"
        if self._bench.hold:
            self._under = "held"
        self.setAccessibleName(f"Lens {state.lens.name}, {self._under}")
        set_tip(
            self,
            "The lens: one complete way to look at the documents.\nIts profile shows how much each step lets through. "
            "Click to choose, duplicate, rename or add a lens.",
        )
        self.update()

    def menu(self) -> QMenu:
        """The list of all lenses, each with its profile, and what can be done with the one in front."""
        menu = QMenu(self)
        state = self._bench.state
        for at, lens in enumerate(state.lenses):
            action = QAction(QIcon(profile_picture(self._bench.profile(at))), lens.name, menu)
            action.setCheckable(True)
            action.setChecked(at == state.active)
            action.triggered.connect(partial(self._bench.choose_lens, at))
            menu.addAction(action)
        menu.addSeparator()
        menu.addActions(self.actions_of_lens)
        return menu

    def open_list(self) -> None:
        menu = self.menu()
        menu.popup(self.mapToGlobal(self.rect().bottomLeft()))

    def sizeHint(self) -> QSize:
        return QSize(100, int(QFontMetricsF(theme.ui_font()).height() * 4.3))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        plate = QRectF(10, 0, self.width() - TOOTH - 20, self.height())
        painter.setPen(QPen(theme.colour("gold"), 1.5) if self.hasFocus() else Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("spine_card"))
        painter.drawRoundedRect(plate.adjusted(1, 1, -1, -1), 5, 5)
        shares = [share_through(step, self._bench.results) for step in STEPS]
        paint_profile(painter, QRectF(plate.right() - 50, plate.top() + 9, 26, plate.height() - 18), shares)
        if self.compact:
            return
        painter.setPen(theme.colour("spine_ink"))
        painter.setFont(theme.ui_font(0.8))
        painter.drawText(QRectF(plate.right() - 20, plate.top(), 14, plate.height()), Qt.AlignmentFlag.AlignCenter, "▾")
        line = QFontMetricsF(theme.ui_font()).height()
        text = QRectF(plate.left() + 10, plate.top() + line * 0.45, plate.width() - 66, line * 1.15)
        font = theme.ui_font(1.08, bold=True)
        for words, ink, face in (
            ("Lens", "spine_muted", theme.ui_font(0.8)),
            (self._bench.state.lens.name, "spine_ink", font),
            (self._under, "gold" if self._bench.hold else "spine_muted", theme.ui_font(0.86)),
        ):
            painter.setPen(theme.colour(ink))
            painter.setFont(face)
            shown = QFontMetricsF(face).elidedText(words, Qt.TextElideMode.ElideRight, text.width())
            painter.drawText(text, Qt.AlignmentFlag.AlignVCenter, shown)
            text.translate(0, line * 1.15)


class _SpineButton(QAbstractButton):
    """A desk by its name on the spine."""

    def __init__(self, number: int, step: str, bench: Bench, parent: QWidget) -> None:
        super().__init__(parent)
        self.number = number
        self.step = step
        self.compact = False
        self._bench = bench
        self.setCheckable(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        else:
            super().keyPressEvent(event)

    def _computing(self) -> str:
        """The message while a part of this desk is computed, even for one face only: the share done and the time left. "" if there is
        none."""
        bench, now = self._bench, self._bench.queue.under_way
        part = now.part if now is not None and now.request.urgency is Urgency.FRONT else None
        own = now is not None and part is not None and part.step == self.step
        share = bench.step_share(self.step)
        if share is None and own and part is not None:
            share = bench.share.get(part.name, 0.0)
        if share is None:
            return ""
        time = time_left(now.seconds) if own and now is not None else ""
        return f"computing {share:.0%}, {time} left" if time else f"computing {share:.0%}"

    def _paint_focus(self, painter: QPainter, body: QRectF) -> None:
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("gold"), 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(body.adjusted(3, 3, -4, -4), 4, 4)


class StepButton(_SpineButton):
    """One step on the spine."""

    def refresh(self) -> None:
        self.settings = setting_words(self.step, self._bench.recipe, self._bench.results)
        error = self._bench.step_error(self.step)
        self.result = "needs attention" if error else result_words(self.step, self._bench.results)
        self.setText(TITLES[self.step])
        self.setAccessibleName(f"Step {self.number}, {TITLES[self.step]}")
        self.setAccessibleDescription(f"{self.settings}; {self.result or 'not computed yet'}")
        words = f"{TITLES[self.step]}  (Alt+{self.number})\n{self.settings}\n{error or self.result}\n{tooth_words(self.step)}"
        set_tip(self, words)
        self.update()

    def sizeHint(self) -> QSize:
        line = QFontMetricsF(theme.ui_font()).height()
        if self.compact:
            return QSize(int(line * 7.3) + TOOTH, int(line * 2.6))
        return QSize(max(206, int(line * 12.6)) + TOOTH, int(line * 4.55))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        active = self.isChecked()
        ground = theme.colour("verdigris" if active else "spine")
        body = QRectF(0, 0, self.width() - TOOTH, self.height())
        if active:
            painter.fillRect(body.adjusted(0, 2, 0, -2), ground)
        self._paint_tooth(painter, body, theme.colour("verdigris") if active else theme.colour("tooth"))
        ink = theme.colour("on_verdigris" if active else "spine_ink")
        soft = theme.colour("on_verdigris", 215) if active else theme.colour("spine_muted")
        line = QFontMetricsF(theme.ui_font()).height()
        left, top = (34.0, line * 0.62) if not self.compact else (28.0, line * 0.08)
        painter.setFont(theme.ui_font(0.86))
        painter.setPen(soft)
        painter.drawText(
            QRectF(0, top, left - 9, line * 1.2),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            str(self.number),
        )
        painter.setFont(theme.ui_font(1.12, bold=True))
        painter.setPen(ink)
        width = body.width() - left - 4
        painter.drawText(QRectF(left, top, width, line * 1.2), Qt.AlignmentFlag.AlignVCenter, TITLES[self.step])
        small = theme.ui_font(0.88)
        metrics = QFontMetricsF(small)
        painter.setFont(small)
        lines = [(soft, self.settings), (ink, self._under())] if not self.compact else [(ink, self._in_short())]
        for place, (pen, words) in enumerate(lines):
            painter.setPen(pen)
            row = QRectF(left, top + line * (1.25 + 1.08 * place), width, line * 1.1)
            painter.drawText(
                row, Qt.AlignmentFlag.AlignVCenter, metrics.elidedText(words, Qt.TextElideMode.ElideRight, width)
            )
        self._paint_focus(painter, body)

    def _in_short(self) -> str:
        """The number of the result alone, or how far it is."""
        share = self._bench.step_share(self.step)
        if share is not None:
            return f"{share:.0%}"
        return (
            self.result.split(" ")[0]
            if self.result and not self._bench.step_error(self.step)
            else "!"
            if self.result
            else "—"
        )

    def _under(self) -> str:
        if computing := self._computing():
            return computing
        return self.result or ("waiting" if self._bench.working else "not computed")

    def _paint_tooth(self, painter: QPainter, body: QRectF, ink: QColor) -> None:
        """Filled: how much came through; in outline: out of date; filling from the left while the step runs."""
        length = 5 + share_through(self.step, self._bench.results) * (TOOTH - 7)
        if not self.result:
            length = TOOTH * 0.5
        edge, middle, half = body.right(), body.center().y(), body.height() / 2 - 2
        tooth = QPolygonF(
            [QPointF(edge - 1, middle - half), QPointF(edge + length, middle), QPointF(edge - 1, middle + half)]
        )
        if self._bench.step_ready(self.step):
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(ink)
            painter.drawPolygon(tooth)
            return
        share = self._bench.step_share(self.step)
        if share:
            painter.save()
            painter.setClipRect(QRectF(edge - 1, body.top(), length * share + 1, body.height()))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(ink)
            painter.drawPolygon(tooth)
            painter.restore()
        painter.setPen(QPen(theme.colour("madder") if self._bench.step_error(self.step) else ink, 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(tooth)


class BelowButton(_SpineButton):
    """A desk below the steps: it belongs to no step, and has no tooth."""

    words = ""

    def refresh(self) -> None:
        bench = self._bench
        state = bench.state
        self.words = below_words(self.step, bench.recipe, bench.results, len(state.placing), len(state.findings))
        self.setText(TITLES[self.step])
        self.setAccessibleName(TITLES[self.step])
        self.setAccessibleDescription(self.words)
        set_tip(self, f"{TITLES[self.step]}  (Alt+{self.number % 10})\n{self.words}")
        self.update()

    def sizeHint(self) -> QSize:
        line = QFontMetricsF(theme.ui_font()).height()
        if self.compact:
            return QSize(int(line * 7.3) + TOOTH, int(line * 1.9))
        return QSize(max(206, int(line * 12.6)) + TOOTH, int(line * 2.75))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        active = self.isChecked()
        body = QRectF(0, 0, self.width() - TOOTH, self.height())
        if active:
            painter.fillRect(body.adjusted(0, 1, 0, -1), theme.colour("verdigris"))
        line = QFontMetricsF(theme.ui_font()).height()
        left = 34.0 if not self.compact else 28.0
        width = body.width() - left - 4
        painter.setFont(theme.ui_font(1.0, bold=True))
        painter.setPen(theme.colour("on_verdigris" if active else "spine_ink"))
        painter.drawText(QRectF(left, line * 0.3, width, line * 1.2), Qt.AlignmentFlag.AlignVCenter, TITLES[self.step])
        if not self.compact:
            small = theme.ui_font(0.86)
            painter.setFont(small)
            painter.setPen(theme.colour("on_verdigris", 215) if active else theme.colour("spine_muted"))
            shown = QFontMetricsF(small).elidedText(self._computing() or self.words, Qt.TextElideMode.ElideRight, width)
            painter.drawText(QRectF(left, line * 1.35, width, line * 1.1), Qt.AlignmentFlag.AlignVCenter, shown)
        self._paint_focus(painter, body)
