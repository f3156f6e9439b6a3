"""Files that hold texts: which are meant, and what becomes of what is found in them."""

from __future__ import annotations

import glob
import os
from collections import Counter
from collections.abc import Iterator, Sequence
from pathlib import Path, PurePosixPath

from jagged_lens.errors import SourceError
from jagged_lens.gather.apart import File, read_apart
from jagged_lens.gather.corpus import Unread
from jagged_lens.gather.cut import pieces_of
from jagged_lens.gather.readers import ENDINGS, Options, Piece, Unreadable, read_bytes, reader_for
from jagged_lens.gather.readers.piece import Found
from jagged_lens.gather.records import Records
from jagged_lens.gather.rows import fixed_labels
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables import TABLES
from jagged_lens.progress import Progress

_SIMPLE_MOST = 400_000_000
_LISTED = 6


def files_of(source: Source, folder: Path) -> tuple[list[File], list[str]]:
    """The files that a source means, in order of name, and what was left out, in words.

    folder: what a relative path is relative to. A folder gives the files that a reader of texts takes, those of its
    subfolders too. SourceError where nothing is found.
    """
    path = folder / Path(source.file).expanduser()
    try:
        if path.is_dir():
            return _within(path, source)
        if path.is_file():
            return [File(path, path.name)], []
        if glob.has_magic(source.file):
            return _matching(path, source)
    except OSError as error:
        raise SourceError(f"it cannot be read ({error.strerror})", source.file) from error
    raise SourceError("there is no such file or folder", source.file, f"It was looked for in {folder.resolve()}.")


def _within(path: Path, source: Source) -> tuple[list[File], list[str]]:
    wanted = {f".{kind.lower().lstrip('.')}" for kind in source.kinds} or set(ENDINGS)
    found, others = [], Counter[str]()
    for place, folders, names in os.walk(path):
        folders[:] = sorted(name for name in folders if not name.startswith("."))
        for name in names:
            ending = os.path.splitext(name)[1].lower()
            if name.startswith((".", "~$")):
                continue
            if ending in wanted:
                file = Path(place) / name
                found.append(File(file, file.relative_to(path).as_posix()))
            else:
                others[ending or "without ending"] += 1
    if not found:
        kinds = ", ".join(sorted(wanted))
        raise SourceError(
            "the folder holds no file that is read", source.file, f"It takes {kinds}. Add tables one by one."
        )
    notices = []
    if others:
        listed = ", ".join(f"{count:,} {ending}" for ending, count in others.most_common(_LISTED))
        notices.append(f"{source.name}: files of other kinds were left out: {listed}.")
    found.sort(key=lambda file: file.name)
    return found, notices


def _matching(path: Path, source: Source) -> tuple[list[File], list[str]]:
    matches = sorted(Path(match) for match in glob.glob(str(path), recursive=True))
    base = Path(*path.parts[: next(at for at, part in enumerate(path.parts) if glob.has_magic(part))])
    found = [File(file, file.relative_to(base).as_posix()) for file in matches if file.is_file()]
    if not found:
        raise SourceError("no file matches", source.file, "Check the pattern and the folder it is relative to.")
    return found, []


def is_table(file: File) -> bool:
    return os.path.splitext(file.name)[1].lower() in TABLES


def add_files(files: Sequence[File], source: Source, records: Records, threads: int, progress: Progress) -> None:
    """Add what is found in each file. What cannot be read is listed with the reason, and the others go on."""
    alone = len(files) == 1
    for file in files if alone else ():
        if file.path.suffix.lower() not in ENDINGS and not _plain(file):
            taken = ", ".join(sorted({*ENDINGS, *TABLES}))
            raise SourceError(
                f'files ending in "{file.path.suffix}" cannot be read', file.name, f"This version reads {taken}."
            )
    fixed = fixed_labels(source)
    cut = source.cut != "no"
    used: set[str] = set()
    encodings: Counter[str] = Counter()
    for file, found in zip(files, _read(files, source, threads, progress), strict=True):
        several = sum(isinstance(one, Piece) for one in found) > 1 or any(
            isinstance(one, Piece) and one.name for one in found
        )
        for number, one in enumerate(found, 1):
            if isinstance(one, Unread):
                records.miss(one.name if one.name.startswith(file.name) else f"{file.name}/{one.name}", one.reason)
            elif isinstance(one, str):
                if one.startswith("was read as "):
                    encodings[one] += 1
                    if encodings[one] > 3:
                        continue
                records.notices.append(f"{file.name} {one}")
            else:
                name = f"{file.name}/{one.name or number}" if several else file.name
                labels = {**fixed, **path_labels(name, source)}
                for part in pieces_of(one, source):
                    key = free_key(f"{name}#{part.name}" if cut else name, used)
                    records.add(
                        key,
                        part.text,
                        part.title or os.path.splitext(os.path.basename(name))[0],
                        file.name,
                        labels,
                        part.date,
                    )
    for words, count in encodings.items():
        if count > 3:
            records.notices.append(f"… and {count - 3:,} more {words.replace('was', 'were')}")


def free_key(key: str, used: set[str]) -> str:
    """The key, or with a number where it is taken: two entries of an archive may have one name."""
    own, number = key, 2
    while own in used:
        own, number = f"{key} ({number})", number + 1
    used.add(own)
    return own


def path_labels(name: str, source: Source) -> dict[str, str]:
    """Labels from the parts of a path, from the left; the last part goes without its ending."""
    if not source.path_labels:
        return {}
    path = PurePosixPath(name)
    parts = [*path.parts[:-1], path.stem]
    return {label: part for label, part in zip(source.path_labels, parts, strict=False) if label}


def _plain(file: File) -> bool:
    """Whether a file with an ending that we do not know is text, or of a kind that shows itself."""
    with file.path.open("rb") as data:
        start = data.read(65_536)
    try:
        return reader_for(file.name, start) is not None
    except Unreadable as error:
        raise SourceError(str(error), file.name) from error


def _read(files: Sequence[File], source: Source, threads: int, progress: Progress) -> Iterator[list[Found]]:
    """What is found in each file, in order; in processes apart where there is need to."""
    options = Options(source.encoding, source.replies)
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
    """Whether a file, by its name, can be read here."""
    reader = ENDINGS.get(os.path.splitext(file.name)[1].lower())
    return reader is not None and not reader.apart


def _read_here(file: File, options: Options) -> list[Found] | None:
    """What is found in a plain text; None where a file turns out to be something else, to be read apart."""
    try:
        with file.path.open("rb") as opened:
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
