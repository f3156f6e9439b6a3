"""Lists of words that are never used: ours for English function words, or a text file of the user's."""

from __future__ import annotations

import unicodedata
from collections.abc import Callable, Iterable
from importlib import resources
from pathlib import Path

from jagged_lens.errors import SourceError
from jagged_lens.gather import decoded

BUILT_IN = ("en",)


def list_file(name: str, folder: Path) -> Path | None:
    """The file that a stop word list is read from; None for one that ships with us."""
    return None if name in BUILT_IN else folder / Path(name).expanduser()


def read_list(name: str, folder: Path) -> list[str]:
    """The entries of a list: UTF-8, one a line, from # on a comment.

    SourceError where it is neither the name of a list of ours nor a file that can be read.
    """
    path = list_file(name, folder)
    if path is None:
        text = resources.files("jagged_lens.clean").joinpath(f"lists/{name}.txt").read_text("utf-8")
    else:
        try:
            text, _ = decoded(path.read_bytes())
        except OSError as error:
            raise SourceError(
                f"the stop word list cannot be read ({error.strerror})",
                name,
                f"Lists that ship: {', '.join(BUILT_IN)}.",
            ) from error
    entries = (line.partition("#")[0].strip() for line in text.splitlines())
    return [entry for entry in entries if entry]


def stop_words(names: Iterable[str], folder: Path, folded: Callable[[str], str]) -> frozenset[str]:
    """All entries of the lists, brought to the case and accents of the tokens by `folded`."""
    entries = (entry for name in names for entry in read_list(name, folder))
    return frozenset(folded(unicodedata.normalize("NFC", entry).replace("’", "'")) for entry in entries)
