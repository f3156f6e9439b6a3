"""All commands in one table: the menus, Ctrl+K and the list of keys (F1) read it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Command:
    """Something the user can do. menu: where it stands ("" only by key or Ctrl+K); words: its name; key: its shortcut;
    help: what it does, in a sentence; rule: a line before it in the menu; enabled: whether it can be done now."""

    menu: str
    words: str
    does: Callable[[], object]
    key: str = ""
    help: str = ""
    rule: bool = False
    enabled: Callable[[], bool] = lambda: True

    @property
    def name(self) -> str:
        """The words without the mark of the menu letter and the dots."""
        return self.words.replace("&", "").rstrip("…")


MENUS = ("&Project", "&Edit", "&Lens", "P&ick", "&View", "&Help")
