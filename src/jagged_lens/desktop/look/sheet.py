# SPDX-License-Identifier: GPL-3.0-or-later
"""The style sheet of a look."""

from __future__ import annotations

from jagged_lens.desktop.look.theme import Theme


def sheet(t: Theme) -> str:
    """The style sheet of a look."""
    return f"""
    *[tone="muted"] {{ color: {t.muted}; }}
    *[tone="madder"] {{ color: {t.madder}; }}
    *[tone="hairline"] {{ color: {t.hairline}; }}
    QMenuBar {{ background: {t.band}; color: {t.ink}; padding: 2px 4px; }}
    QMenuBar::item {{ padding: 4px 9px; background: transparent; }}
    QMenuBar::item:selected, QMenuBar::item:pressed {{ background: {t.tint}; }}
    QMenu {{ background: {t.card}; color: {t.ink}; border: 1px solid {t.hairline}; padding: 4px; }}
    QMenu {{ icon-size: 30px; }}
    QMenu::item {{ padding: 5px 22px 5px 22px; border-radius: 4px; }}
    QMenu::item:selected {{ background: {t.tint}; color: {t.ink}; }}
    QMenu::item:disabled {{ color: {t.muted}; }}
    QMenu::separator {{ height: 1px; background: {t.hairline}; margin: 4px 8px; }}
    QToolTip {{ background: {t.card}; color: {t.ink}; border: 1px solid {t.hairline}; padding: 4px 6px; }}
    QPushButton {{ background: {t.card}; color: {t.ink}; border: 1px solid {t.edge}; border-radius: 5px; padding: 3px 11px; }}
    QPushButton:hover {{ border-color: {t.verdigris}; }}
    QPushButton:focus {{ border: 2px solid {t.verdigris}; padding: 2px 10px; }}
    QPushButton:disabled {{ color: {t.muted}; background: {t.band}; border-color: {t.hairline}; }}
    QPushButton[opens="true"] {{ padding: 3px 24px 3px 11px; text-align: left; }}
    QPushButton[opens="true"]:focus {{ padding: 2px 23px 2px 10px; }}
    QPushButton[kind="main"] {{ background: {t.verdigris}; color: {t.on_verdigris}; border-color: {t.verdigris}; }}
    QPushButton[kind="main"]:focus {{ border-color: {t.ink}; }}
    QPushButton[kind="main"]:disabled {{ background: {t.band}; color: {t.muted}; border-color: {t.hairline}; }}
    QPushButton[kind="way"] {{ background: transparent; border: 1px solid transparent; color: {t.verdigris}; padding: 3px 6px; }}
    QPushButton[kind="way"]:hover {{ text-decoration: underline; }}
    QPushButton[kind="way"]:focus {{ border: 1px solid {t.verdigris}; }}
    QPushButton[kind="tab"], QPushButton[kind="leaf"] {{ background: transparent; color: {t.muted}; border: none; border-radius: 0px;
        border-bottom: 3px solid transparent; padding: 4px 7px 3px 7px; font-weight: bold; }}
    QPushButton[kind="leaf"] {{ border-bottom-width: 2px; font-weight: normal; padding: 2px 6px; }}
    QPushButton[kind="tab"]:hover, QPushButton[kind="leaf"]:hover {{ color: {t.ink}; border-bottom-color: {t.quiet}; }}
    QPushButton[kind="tab"]:checked, QPushButton[kind="leaf"]:checked {{ color: {t.ink}; border-bottom-color: {t.verdigris}; }}
    QPushButton[kind="tab"]:focus, QPushButton[kind="leaf"]:focus {{ background: {t.tint}; }}
    QPushButton[kind="switch"] {{ border-radius: 9px; padding: 2px 16px 2px 16px; }}
    QPushButton[kind="switch"]:focus {{ padding: 1px 15px 1px 15px; }}
    QPushButton[kind="switch"]:checked {{ background: {t.tint}; border-color: {t.verdigris}; padding: 2px 9px 2px 23px; }}
    QPushButton[kind="switch"]:checked:focus {{ padding: 1px 8px 1px 22px; }}
    QPushButton[kind="chip"] {{ border-color: {t.verdigris}; padding: 1px 9px; border-radius: 8px; }}
    QPushButton[kind="chip"][opens="true"] {{ padding: 1px 22px 1px 9px; }}
    QPushButton[kind="chip"][opens="true"]:focus {{ padding: 0px 21px 0px 8px; }}
    QPushButton[kind="choice"] {{ background: transparent; border: 1px solid transparent; padding: 3px 22px 3px 6px; }}
    QPushButton[kind="choice"]:hover, QComboBox:hover {{ background: {t.tint}; }}
    QPushButton[kind="choice"]:focus {{ border: 1px solid {t.verdigris}; padding: 3px 22px 3px 6px; }}
    QPushButton[kind="word"] {{ background: transparent; border: none; border-bottom: 1px solid {t.verdigris}; border-radius: 0px;
        color: {t.verdigris}; padding: 1px 2px; text-align: left; }}
    QPushButton[kind="word"][opens="true"] {{ padding: 1px 20px 1px 2px; }}
    QPushButton[kind="word"]:hover, QComboBox[word="true"]:hover {{ background: {t.tint}; }}
    QPushButton[kind="word"]:focus, QComboBox[word="true"]:focus {{ background: {t.tint}; border-bottom: 2px solid {t.verdigris}; }}
    QPushButton::menu-indicator {{ width: 0px; }}
    QComboBox {{ background: transparent; color: {t.ink}; border: 1px solid transparent; border-radius: 5px; padding: 2px 22px 2px 5px; }}
    QComboBox:focus, QComboBox:on {{ border: 1px solid {t.verdigris}; }}
    QComboBox:editable {{ background: {t.field}; border: 1px solid {t.edge}; }}
    QComboBox::drop-down {{ border: none; width: 0px; }}
    QComboBox:disabled {{ color: {t.muted}; }}
    QComboBox QAbstractItemView {{ background: {t.card}; color: {t.ink}; border: 1px solid {t.hairline};
        selection-background-color: {t.tint}; selection-color: {t.ink}; }}
    QComboBox[word="true"] {{ background: transparent; border: none; border-bottom: 1px solid {t.verdigris}; border-radius: 0px;
        color: {t.verdigris}; padding: 1px 18px 1px 2px; }}
    QLineEdit {{ background: {t.field}; color: {t.ink}; border: 1px solid {t.edge}; border-radius: 4px; padding: 2px 5px; }}
    QPlainTextEdit {{ background: {t.field}; color: {t.ink}; border: 1px solid {t.edge}; border-radius: 4px; }}
    QPlainTextEdit:focus {{ border: 1px solid {t.verdigris}; }}
    QLineEdit:focus {{ border: 1px solid {t.verdigris}; }}
    QAbstractSpinBox QLineEdit {{ border: none; padding: 0px; }}
    QCheckBox:focus {{ color: {t.verdigris}; }}
    QTableView {{ background: {t.card}; alternate-background-color: {t.paper}; color: {t.ink}; border: 1px solid {t.hairline};
        selection-background-color: {t.tint}; selection-color: {t.ink}; gridline-color: transparent; outline: none; }}
    QTableView:focus {{ border: 1px solid {t.verdigris}; }}
    QTableView::item {{ padding: 0px 6px; border: none; }}
    QHeaderView {{ background: {t.band}; }}
    QHeaderView::section {{ background: {t.band}; color: {t.muted}; border: none; padding: 5px 6px; font-weight: bold; }}
    QHeaderView::up-arrow, QHeaderView::down-arrow {{ subcontrol-position: top center; width: 8px; height: 6px; }}
    QFrame#card {{ background: {t.card}; border: 1px solid {t.hairline}; border-radius: 6px; }}
    QFrame#notice {{ background: {t.ochre_ground}; border: 1px solid {t.hairline}; border-radius: 6px; }}
    QFrame#notice QLabel {{ color: {t.on_ochre_ground}; }}
    QFrame#pickbar {{ background: {t.band}; border-top: 1px solid {t.hairline}; }}
    QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
    QTextBrowser, QListView {{ background: {t.card}; color: {t.ink}; border: none; }}
    QListView:focus, QTextBrowser:focus {{ border: 1px solid {t.verdigris}; }}
    QSplitter::handle {{ background: {t.hairline}; }}
    QScrollBar:vertical {{ background: transparent; width: 11px; margin: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: 11px; margin: 0; }}
    QScrollBar::handle {{ background: {t.quiet}; border-radius: 4px; margin: 2px; min-height: 26px; min-width: 26px; }}
    QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; height: 0; width: 0; }}
    """
