# SPDX-License-Identifier: GPL-3.0-or-later
"""Pieces that leave the window as a file or into a folder, and the message of each: where it went, or why it could not be written."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QWidget

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look.plain import message
from jagged_lens.desktop.plots.drawing_file import Painting, save_drawing
from jagged_lens.export import FORMATS, Known, write_known
from jagged_lens.named_file import write_whole
from jagged_lens.progress import Progress


@dataclass(frozen=True)
class Order:
    """Tells how a file is to be written. width: of a picture in pixels. progress: told of the share that is done; it raises where that is
    not wanted any more."""

    width: int
    progress: Progress


@dataclass(frozen=True)
class Kind:
    """A format that a piece can be saved in.

    words: its name. ending: of the file; "" where files go into a folder. write: writes it there, in any thread; drawn: True where
    only the interface thread can. pixels: whether a width in pixels counts.
    """

    words: str
    ending: str
    write: Callable[[Path, Order], object]
    drawn: bool = False
    pixels: bool = False


@dataclass(frozen=True)
class Piece:
    """Something that can leave the window.

    words: its name in the sheet. stem: the name of its file, without ending. kinds: the formats, the usual first. copy: puts it on the
    clipboard and gives what is said of that, where it can be copied. painting: where it is the picture in front, so that no other
    picture of it is offered; own: False where that is no more than the widgets as they are seen.
    """

    words: str
    stem: str
    kinds: tuple[Kind, ...]
    copy: Callable[[], str] | None = None
    painting: Callable[[], Painting] | None = None
    own: bool = True


TABLE_WORDS = {
    ".csv": "CSV table (.csv)",
    ".xlsx": "Spreadsheet (.xlsx)",
    ".ods": "OpenDocument spreadsheet (.ods)",
    ".parquet": "Parquet (.parquet)",
    ".jsonl": "JSON Lines (.jsonl)",
}
"""The formats of tables by their ending."""


def table_kinds(columns: Callable[[], list[Known]], csv: Callable[[Path], object] | None = None) -> tuple[Kind, ...]:
    """The formats of a table. columns: makes it. csv: writes it as CSV, where a run has such a file."""

    def write(path: Path, order: Order) -> None:
        if csv is not None and path.suffix.lower() == ".csv":
            csv(path)
        else:
            write_known(path, columns(), order.progress)

    return tuple(Kind(TABLE_WORDS[ending], ending, write) for ending in FORMATS)


def picture_kinds(painting: Callable[[], Painting]) -> tuple[Kind, ...]:
    """The formats of a picture."""

    def write(path: Path, order: Order) -> None:
        made = painting()
        save_drawing(path, made.size, order.width, made.title, made.paint)

    return (
        Kind("Picture of pixels (.png)", ".png", write, drawn=True, pixels=True),
        Kind("Drawing of lines and areas (.svg)", ".svg", write, drawn=True),
        Kind("Page (.pdf)", ".pdf", write, drawn=True),
    )


def one_kind(words: str, ending: str, write: Callable[[Path], object]) -> tuple[Kind, ...]:
    """The one format of a piece that is written in a moment."""
    return (Kind(words, ending, lambda path, order: write(path)),)


class _Announcer(QObject):
    saved = pyqtSignal(QWidget, Path)
    share = pyqtSignal(QWidget, Path, float)


_announcer = _Announcer()
saved = _announcer.saved
"""saved(window, path): a file was written, or files into a folder, for somebody in this window."""
share = _announcer.share
"""share(window, path, share): how much of a file is written."""
_SAVER = "saver"


def save_piece(parent: QWidget, path: Path, kind: Kind, width: int) -> None:
    """Have a piece written in one of its formats. width: of a picture, in pixels."""
    if kind.drawn:
        save_drawn(parent, path, lambda beside: kind.write(beside, Order(width, lambda share: None)))
    else:
        save_slowly(parent, path, lambda beside, progress: kind.write(beside, Order(width, progress)))


def save_to(parent: QWidget, path: Path, save: Callable[[Path], object]) -> None:
    """Have a file written beside the window, and what belongs beside it, or files into a folder. A box says it where they cannot
    be, and what was there before then stays."""
    save_slowly(parent, path, lambda beside, progress: save(beside))


def save_slowly(parent: QWidget, path: Path, save: Callable[[Path, Progress], object]) -> None:
    """The same for what takes its time: it tells its progress, and is stopped by `stop_saving`."""
    window = parent.window()
    assert window is not None

    def told(progress: Progress, done: float) -> None:
        progress(done)
        _announcer.share.emit(window, path, done)

    _saver(window).ask_stoppable(
        str(path),
        lambda progress: _tried(path, lambda beside: save(beside, partial(told, progress))),
        partial(_say, window, path),
    )


def stop_saving(window: QWidget, path: Path) -> None:
    """Give up a file on its way; what was there before stays."""
    _saver(window).forget(str(path))


def _saver(window: QWidget) -> Asker:
    found = next(iter(window.findChildren(Asker, _SAVER)), None)
    if found is None:
        found = Asker(window)
        found.setObjectName(_SAVER)
    return found


def save_drawn(parent: QWidget, path: Path, save: Callable[[Path], object]) -> None:
    """Have a picture written, which only this thread can draw; the same is said of it."""
    window = parent.window()
    assert window is not None
    _say(window, path, _tried(path, save))


def _tried(path: Path, save: Callable[[Path], object]) -> str:
    """The error; "" if there was none."""
    try:
        write_whole(path, save)
    except OSError as error:
        return error.strerror or str(error)
    return ""


def _say(window: QWidget, path: Path, wrong: str) -> None:
    if wrong:
        message(window, f"{path.name} was not saved.", f"{path}: {wrong}").exec()
    else:
        saved.emit(window, path)
