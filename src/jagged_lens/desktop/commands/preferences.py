# SPDX-License-Identifier: GPL-3.0-or-later
"""The command that shows the preferences, and what changing them does."""

from __future__ import annotations

from functools import partial

from jagged_lens.desktop.commands.command import Command, Reach
from jagged_lens.desktop.sheets.preferences import Preferences, PreferencesWindow


def show_preferences(window: Reach) -> None:
    """Open the preferences."""
    window.preferences_window = PreferencesWindow(window.preferences, partial(prefer, window), window)
    window.preferences_window.show()


def prefer(window: Reach, preferences: Preferences) -> None:
    """Take over other preferences and keep them."""
    window.preferences = preferences
    preferences.write(window.memory)
    window.take_preferences()


PREFERENCES = (Command("Se&ttings…", show_preferences, "Ctrl+,", "Look, size of letters, memory, threads.", rule=True),)
