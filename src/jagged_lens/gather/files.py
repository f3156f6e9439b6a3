# SPDX-License-Identifier: GPL-3.0-or-later
"""Files that hold texts: which are meant, and what becomes of what is found in them."""

from __future__ import annotations

import fnmatch
import glob
import os
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path, PurePosixPath

from jagged_lens.errors import SourceError
from jagged_lens.gather.apart import File, read_apart
from jagged_lens.gather.corpus import Doubt, Unread
from jagged_lens.gather.cut import pieces_of
from jagged_lens.gather.encoding import clean_text, guess_of, is_binary, said_together
from jagged_lens.gather.readers import ENDINGS, Options, Piece, Unreadable, read_bytes, reader_for
from jagged_lens.gather.readers.piece import Found
from jagged_lens.gather.records import Records
from jagged_lens.gather.rows import fixed_labels
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables import TABLES
from jagged_lens.named_file import open_plain, path_of, plain_file, shown_name
from jagged_lens.progress import Progress, unheard

_SIMPLE_MOST = 400_000_000
_LISTED = 6
MOST_LOOKED_AT = 1_000_000
_MOST_ASKED, _ASKED = 2_000, 65_536
_OF_TEXT = frozenset((".txt", ".text", ".log", ".md", ".markdown", ".csv", ".tsv", ".tab", ".jsonl", ".ndjson", ""))


def files_of(source: Source, folder: Path, progress: Progress = unheard) -> tuple[list[File], list[str]]:
    """The files that a source means, in order of name, and what was left out, in words.

    folder: what a relative path is relative to. A folder gives the files that a reader of texts takes, those of its
    subfolders too; links to folders are not followed. progress: told nothing, but may raise. SourceError where nothing is found.
    """
    try:
        path = path_of(source.file, folder)
        if path.is_dir():
            return _within(path, source, progress)
        if path.exists():
            plain_file(path)
            return [File(path, shown_name(path.name))], []
        if glob.has_magic(source.file):
            return _matching(path, source, progress)
    except OSError as error:
        raise SourceError(f"it cannot be read ({error.strerror})", source.file) from error
    raise SourceError(
        "there is no such file or folder", source.file, f"Jagged Lens looked for it in {folder.resolve()}."
    )


def _walked(base: Path, name: str, progress: Progress) -> Iterator[tuple[Path, str]]:
    """Every file below a folder, each with its path from there; nothing that is hidden, and no pipes or devices."""
    looked = 0
    for place, folders, names in os.walk(base):
        folders[:] = sorted(one for one in folders if not one.startswith("."))
        looked += len(names) + len(folders)
        progress(0.0)
        if looked > MOST_LOOKED_AT:
            raise SourceError(
                f"more than {MOST_LOOKED_AT:,} files are in it and its subfolders",
                name,
                "Choose a subfolder closer to the documents.",
            )
        for one in names:
            file = Path(place) / one
            if not one.startswith((".", "~$")) and (os.path.isfile(file) or not os.path.exists(file)):
                yield file, file.relative_to(base).as_posix()


def _within(path: Path, source: Source, progress: Progress) -> tuple[list[File], list[str]]:
    wanted = {f".{kind.lower().lstrip('.')}" for kind in source.kinds} or set(ENDINGS)
    found, others = [], Counter[str]()
    for file, inside in _walked(path, source.file, progress):
        ending = os.path.splitext(inside)[1].lower()
        if ending in wanted or (not ending and not source.kinds and _is_text(file)):
            found.append(File(file, shown_name(inside)))
        else:
            others[shown_name(ending) or "without ending"] += 1
    if not found:
        kinds = ", ".join(sorted(wanted))
        raise SourceError(
            "the folder contains no file that can be read",
            source.file,
            f"These are read: {kinds}. Add tables one by one.",
        )
    notices = []
    if others:
        listed = ", ".join(f"{count:,} {ending}" for ending, count in others.most_common(_LISTED))
        notices.append(f"{source.name}: files of other kinds were skipped: {listed}.")
    found.sort(key=lambda file: file.name)
    return found, notices


def _is_text(path: Path) -> bool:
    """True if a file without an ending holds text."""
    try:
        with open_plain(path) as opened:
            start = opened.read(4096)
    except OSError:
        return False
    return bool(start.strip()) and not is_binary(start)


def _matching(path: Path, source: Source, progress: Progress) -> tuple[list[File], list[str]]:
    base = Path(*path.parts[: next(at for at, part in enumerate(path.parts) if glob.has_magic(part))])
    pattern = path.parts[len(base.parts) :]
    found = [
        File(file, shown_name(inside))
        for file, inside in _walked(base, source.file, progress)
        if _fits(tuple(inside.split("/")), pattern)
    ]
    if not found:
        raise SourceError("no file matches", source.file, "Check the pattern and the folder it is relative to.")
    return sorted(found, key=lambda file: file.name), []


def _fits(parts: tuple[str, ...], pattern: tuple[str, ...]) -> bool:
    """True if a path fits a pattern: ** stands for any number of folders, * and ? for characters of a name."""
    reached = {0}  # how much of the pattern can be used up by the parts so far
    for part in parts:
        reached = _through(reached, pattern)
        reached = {
            at if pattern[at] == "**" else at + 1 for at in reached if at < len(pattern) and _part(part, pattern[at])
        }
    return len(pattern) in _through(reached, pattern)


def _through(reached: set[int], pattern: tuple[str, ...]) -> set[int]:
    """With the places after each ** that is reached: it may stand for nothing."""
    found = set(reached)
    for at in range(len(pattern)):
        if at in found and pattern[at] == "**":
            found.add(at + 1)
    return found


def _part(part: str, pattern: str) -> bool:
    return pattern == "**" or fnmatch.fnmatchcase(part, pattern)


def is_table(file: File) -> bool:
    """True if a file is read as a table, by its ending."""
    return os.path.splitext(file.name)[1].lower() in TABLES


def encodings_of(files: Sequence[File], source: Source) -> dict[str, float]:
    """The joint evidence of the files of a source for each encoding, as logarithms; nothing if the source names one.

    The first 64 KB of at most 2,000 of them are looked at, evenly spread.
    """
    if source.encoding or len(files) < 2:
        return {}
    guesses = []
    for file in files[:: -(-len(files) // _MOST_ASKED)]:
        if os.path.splitext(file.name)[1].lower() in _OF_TEXT:
            try:
                with open_plain(file.path) as opened:
                    start = opened.read(_ASKED)
            except OSError:
                continue
            if not start.isascii() and not is_binary(start):
                guesses.append(guess_of(start, len(start) < _ASKED))
    return said_together(guesses)


def add_files(
    files: Sequence[File],
    source: Source,
    likely: Mapping[str, float],
    records: Records,
    threads: int,
    progress: Progress,
) -> None:
    """Add what is found in each file. What cannot be read is listed with the reason, and the others go on."""
    alone = len(files) == 1
    for file in files if alone else ():
        if file.path.suffix.lower() not in ENDINGS and not _plain(file):
            taken = ", ".join(sorted({*ENDINGS, *TABLES}))
            raise SourceError(
                f'files ending in "{file.path.suffix}" cannot be read', file.name, f"These are read: {taken}."
            )
    fixed = fixed_labels(source)
    cut = source.cut != "no"
    most = deepest(files)
    keys = Keys()
    encodings: Counter[str] = Counter()
    for file, found in zip(files, _read(files, source, likely, threads, progress), strict=True):
        several = sum(isinstance(one, Piece) for one in found) > 1 or any(
            isinstance(one, Piece) and one.name for one in found
        )
        for number, one in enumerate(found, 1):
            if isinstance(one, Unread):
                records.miss(one.name if one.name.startswith(file.name) else f"{file.name}/{one.name}", one.reason)
            elif isinstance(one, Doubt):
                records.doubts.append(Doubt(f"{file.name}/{one.name}" if one.name else file.name, one.readings))
            elif isinstance(one, str):
                if one.startswith("was read as "):
                    encodings[one] += 1
                    if encodings[one] > 3:
                        continue
                records.notices.append(f"{file.name} {one}")
            else:
                name = f"{file.name}/{one.name or number}" if several else file.name
                labels = {**fixed, **path_labels(name, source, most)}
                for part in pieces_of(one, source):
                    records.add(
                        keys.free(f"{name}#{part.name}" if cut else name),
                        part.text,
                        part.title or os.path.splitext(os.path.basename(name))[0],
                        file.name,
                        labels,
                        part.date,
                    )
    for words, count in encodings.items():
        if count > 3:
            records.notices.append(f"… and {count - 3:,} more {words.replace('was', 'were')}")


class Keys:
    """Keys that are given once each: two entries of an archive may have one name, two names may differ by Unicode form alone."""

    def __init__(self) -> None:
        self._next: dict[str, int] = {}

    def free(self, key: str) -> str:
        """The key, or with a number where it is taken."""
        own = key = clean_text(key)
        while own in self._next:
            self._next[key] += 1
            own = f"{key} ({self._next[key]})"
        self._next[own] = 1
        return own


def deepest(files: Sequence[File]) -> int:
    """The number of parts the longest of the paths has."""
    return max((len(PurePosixPath(file.name).parts) for file in files), default=0)


def path_labels(name: str, source: Source, most: int) -> dict[str, str]:
    """Labels from the parts of a path, from the left.

    The name of the file, without its ending, is the last label of all, of a file that stands as deep as any (`most` parts): one that
    stands too high has nothing to say for a folder.
    """
    if not source.path_labels:
        return {}
    path = PurePosixPath(name)
    parts = list(path.parts[:-1])
    if len(path.parts) >= max(most, len(source.path_labels)):
        parts.append(path.stem)
    return {label: part for label, part in zip(source.path_labels, parts, strict=False) if label}


def _plain(file: File) -> bool:
    """True if a file with an ending that we do not know is text, or of a kind that shows itself."""
    with open_plain(file.path) as data:
        start = data.read(65_536)
    try:
        return reader_for(file.name, start) is not None
    except Unreadable as error:
        raise SourceError(str(error), file.name) from error


def _read(
    files: Sequence[File], source: Source, likely: Mapping[str, float], threads: int, progress: Progress
) -> Iterator[list[Found]]:
    """The documents found in each file, in order, in separate processes if needed."""
    options = Options(source.encoding, source.replies, likely)
    simple = [_is_simple(file) for file in files]
    hard = [file for file, here in zip(files, simple, strict=True) if not here]
    done = 0
    apart = read_apart(hard, options, threads, lambda share: progress(done / len(files))) if hard else iter(())
    try:
        for file, here in zip(files, simple, strict=True):
            found = _read_here(file, options) if here else next(apart)
            if found is None:  # not what its name says
                found = next(read_apart([file], options, 1, lambda _, at=done: progress(at / len(files))))  # type: ignore[misc]
            yield found
            done += 1
            if done % 50 == 0 or not here:
                progress(done / len(files))
    finally:
        if hard:
            apart.close()  # type: ignore[attr-defined]


def _is_simple(file: File) -> bool:
    """True if a file, by its name, can be read here."""
    reader = ENDINGS.get(os.path.splitext(file.name)[1].lower())
    return reader is not None and not reader.apart


def _read_here(file: File, options: Options) -> list[Found] | None:
    """The content of a plain text; None if a file turns out to be something else, to be read in a separate process."""
    try:
        with open_plain(file.path) as opened:
            if os.fstat(opened.fileno()).st_size > _SIMPLE_MOST:
                return [Unread(file.name, f"it is larger than {_SIMPLE_MOST // 1_000_000} MB")]
            data = opened.read()
        reader = reader_for(file.name, data[:65_536])
        if reader is not None and reader.apart:
            return None
        return list(read_bytes(file.name, data, options))
    except Unreadable as error:
        return [Unread(file.name, str(error))]
    except OSError as error:
        return [Unread(file.name, f"it cannot be read ({error.strerror})")]
