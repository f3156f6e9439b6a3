# SPDX-License-Identifier: GPL-3.0-or-later
"""The store of fetched pages, so that a later run needs no network."""

from __future__ import annotations

from typing import Protocol

from jagged_lens.gather.corpus import Page


class PageStore(Protocol):
    """Kept pages by their address."""

    def page(self, address: str) -> tuple[Page, bytes] | None:
        """A page and its content, as they were fetched last; None where it was not."""

    def keep_page(self, page: Page, content: bytes) -> None:
        """Keep a page as it was fetched, under its address."""
