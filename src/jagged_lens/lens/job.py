# SPDX-License-Identifier: GPL-3.0-or-later
"""A job: what all parts of the graph work for."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import Source
from jagged_lens.lens.recipe import Recipe
from jagged_lens.lens.store import Store, stamp_of

_SALT = os.urandom(16)


def _unheard(error: JaggedLensError) -> None:
    """A warning that nobody listens to."""


@dataclass(frozen=True)
class Job:
    """The shared context of all parts.

    recipe: the settings. folder: what its relative paths are relative to. aside: keys of the documents that are set aside.
    own: labels of the user's own, pairs of name and (key, value) pairs. stamps: of sources that of what is in the
    project; others are read. store: where that is kept. passwords: of databases, by their address. again: fetch pages anew.
    forgiving: go on without a source that cannot be read, where there are others. warned: told of what went wrong and cost no
    result. to_the_end: names of parts that are computed as a whole, even where they were ended early once. anew: try again what failed
    before: sources that could not be read, parts in which something went wrong inside.
    """

    recipe: Recipe
    folder: Path
    aside: frozenset[str] = frozenset()
    own: tuple[tuple[str, tuple[tuple[str, str], ...]], ...] = ()
    stamps: tuple[tuple[Source, str], ...] = ()
    store: Store | None = None
    passwords: tuple[tuple[str, str], ...] = field(default=(), repr=False, compare=False)
    again: bool = False
    forgiving: bool = False
    warned: Callable[[JaggedLensError], None] = field(default=_unheard, repr=False, compare=False)
    placing: tuple[Source, ...] = ()
    to_the_end: frozenset[str] = field(default=frozenset(), compare=False)
    anew: bool = field(default=False, compare=False)

    @property
    def secret(self) -> str:
        """A fingerprint that distinguishes passwords within this process and reveals nothing outside it."""
        return hashlib.blake2b(repr(self.passwords).encode(), key=_SALT, digest_size=8).hexdigest()

    def stamp(self, source: Source) -> str:
        """The stamp of what was taken in of a source, or of what it would give now."""
        return dict(self.stamps).get(source) or stamp_of(source, self.folder)
