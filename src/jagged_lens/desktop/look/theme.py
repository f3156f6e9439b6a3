# SPDX-License-Identifier: GPL-3.0-or-later
"""The look: warm paper and dark aubergine ink. All colours of the interface are here; saturated colour belongs to the data."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QObject, QPointF, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPainter, QPalette, QPen, QPolygonF
from PyQt6.QtWidgets import QApplication, QWidget


@dataclass(frozen=True)
class Theme:
    """One look. Names as in the design: what a colour is, not where it is used."""

    paper: str
    band: str
    card: str
    ink: str
    muted: str
    hairline: str
    spine: str
    spine_ink: str
    spine_muted: str
    spine_card: str
    verdigris: str
    on_verdigris: str
    tint: str
    madder: str
    ochre: str
    ochre_ground: str
    on_ochre_ground: str
    quiet: str
    edge: str
    tooth: str
    gold: str
    field: str
    dark: bool


LIGHT = Theme(
    paper="#FAF8F3",
    band="#F1EEE6",
    card="#FFFFFF",
    ink="#26222E",
    muted="#655F6E",
    hairline="#DDD8CE",
    spine="#2B2538",
    spine_ink="#F4F1F8",
    spine_muted="#A9A0BA",
    spine_card="#3D3549",
    verdigris="#13695C",
    on_verdigris="#FFFFFF",
    tint="#E1EDEA",
    madder="#9C2F3D",
    ochre="#8A5A00",
    ochre_ground="#F3D28A",
    on_ochre_ground="#26222E",
    quiet="#BDB6C9",
    edge="#877F93",
    tooth="#2B2538",
    gold="#D9B75F",
    field="#FFFFFF",
    dark=False,
)
DARK = Theme(
    paper="#1E1B26",
    band="#23202C",
    card="#27232F",
    ink="#EDE9F2",
    muted="#A9A2B6",
    hairline="#3B3547",
    spine="#15121B",
    spine_ink="#F4F1F8",
    spine_muted="#A9A0BA",
    spine_card="#2A2533",
    verdigris="#5CC2B0",
    on_verdigris="#15121B",
    tint="#26423F",
    madder="#E58A95",
    ochre="#E6BC62",
    ochre_ground="#E6BC62",
    on_ochre_ground="#15121B",
    quiet="#564F66",
    edge="#8A829B",
    tooth="#4A4359",
    gold="#D9B75F",
    field="#342F40",
    dark=True,
)

now = LIGHT
colour_blind = False
_usual_size = 0.0  # of the letters of the desktop, in points


class _Announcer(QObject):
    changed = pyqtSignal()


_WORN = "jagged-lens-look"
_announcer = _Announcer()
changed = _announcer.changed
"""Emitted when the look, the colours or the size of letters changed; whoever holds colours of its own takes them anew."""


def ui_font(scale: float = 1.0, bold: bool = False) -> QFont:
    """The desktop's own face, as large as the user has it, times `scale`."""
    font = QFont(QApplication.font())
    font.setPointSizeF(font.pointSizeF() * scale)
    font.setBold(bold)
    return font


def reading_font(scale: float = 1.0) -> QFont:
    """The serif face for text that is read."""
    families = QFontDatabase.families()
    face = next(
        (name for name in ("Source Serif 4", "Noto Serif", "DejaVu Serif", "Liberation Serif") if name in families),
        "serif",
    )
    font = QFont(face)
    font.setStyleHint(QFont.StyleHint.Serif)
    font.setPointSizeF(QApplication.font().pointSizeF() * 1.12 * scale)
    return font


def colour(name: str, alpha: int = 255) -> QColor:
    """A colour of the look by its name in Theme."""
    found = QColor(getattr(now, name))
    found.setAlpha(alpha)
    return found


def mixed(a: QColor, b: QColor, share: float) -> QColor:
    """`share` of b in a."""
    return QColor(*(round(x + (y - x) * share) for x, y in zip(a.getRgb()[:3], b.getRgb()[:3], strict=True)))


def draw_focus(painter: QPainter, rect: QRect) -> None:
    """The frame of a picture that has the keyboard."""
    painter.setPen(QPen(colour("verdigris"), 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(QRectF(rect).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)


def draw_tick_box(painter: QPainter, box: QRectF, ticked: bool) -> None:
    """A box that can be ticked, of 12 by 12 pixels."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(colour("muted"), 1))
    painter.setBrush(colour("verdigris") if ticked else colour("field"))
    painter.drawRoundedRect(box, 3, 3)
    if ticked:
        painter.setPen(QPen(colour("on_verdigris"), 1.8))
        painter.drawPolyline(QPolygonF([box.topLeft() + QPointF(*at) for at in ((3, 6), (5.4, 8.6), (9.4, 3.4))]))


def tone(widget: QWidget, name: str) -> None:
    """Give a widget's text a tone of the look, which follows when the look changes."""
    widget.setProperty("tone", name)
    style = widget.style()
    if style is not None and widget.testAttribute(Qt.WidgetAttribute.WA_WState_Polished):
        style.polish(widget)  # it has been shown in another tone


def use(app: QApplication, look: str, for_colour_blind: bool = False, letters: float = 1.0) -> None:
    """Change to the light or dark look, or that of the system; and the colours and the size of all letters."""
    global now, colour_blind
    hints = app.styleHints()
    system = hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark
    now = DARK if look == "dark" or (look == "system" and system) else LIGHT
    colour_blind = for_colour_blind
    set_letters(app, letters)
    dress(app)
    changed.emit()


def set_letters(app: QApplication, scale: float) -> None:
    """Make all letters so many times as large as the desktop has them, also those of widgets with a font of their own."""
    global _usual_size
    before = app.font().pointSizeF()
    _usual_size = _usual_size or before
    wanted = _usual_size * scale
    if abs(wanted - before) < 0.01:
        return
    own = [(one, QFont(one.font())) for one in app.allWidgets() if one.testAttribute(Qt.WidgetAttribute.WA_SetFont)]
    font = QFont(app.font())
    font.setPointSizeF(wanted)
    app.setFont(font)
    for one, font in own:
        font.setPointSizeF(font.pointSizeF() * wanted / before)
        one.setFont(font)


def dress(app: QApplication) -> None:
    """Put the palette of the look on the application, if it does not wear it already. The style sheet is worn by parts of windows
    (`worn`), so that only what is seen is dressed anew."""
    if app.property(_WORN) == now.paper:
        return
    if app.property(_WORN) is None:
        app.setStyle("Fusion")
    app.setProperty(_WORN, now.paper)
    palette = QPalette()
    roles = {
        QPalette.ColorRole.Window: "paper",
        QPalette.ColorRole.WindowText: "ink",
        QPalette.ColorRole.Base: "field",
        QPalette.ColorRole.AlternateBase: "paper",
        QPalette.ColorRole.Text: "ink",
        QPalette.ColorRole.Button: "card",
        QPalette.ColorRole.ButtonText: "ink",
        QPalette.ColorRole.BrightText: "madder",
        QPalette.ColorRole.ToolTipBase: "card",
        QPalette.ColorRole.ToolTipText: "ink",
        QPalette.ColorRole.Highlight: "verdigris",
        QPalette.ColorRole.HighlightedText: "on_verdigris",
        QPalette.ColorRole.Link: "verdigris",
        QPalette.ColorRole.PlaceholderText: "muted",
    }
    for role, name in roles.items():
        palette.setColor(role, colour(name))
    for role in (QPalette.ColorRole.WindowText, QPalette.ColorRole.Text, QPalette.ColorRole.ButtonText):
        palette.setColor(QPalette.ColorGroup.Disabled, role, colour("muted"))
    app.setPalette(palette)
