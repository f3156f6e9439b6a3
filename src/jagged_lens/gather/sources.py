"""From the `from` of a recipe to a corpus: which files are meant, and which reader takes each."""

from __future__ import annotations

import glob
from pathlib import Path

from jagged_lens.errors import SourceError
from jagged_lens.gather.corpus import Corpus
from jagged_lens.gather.records import Records
from jagged_lens.gather.settings import GatherSettings
from jagged_lens.gather.table import read_table
from jagged_lens.gather.text_file import read_text
from jagged_lens.progress import Progress, part, unheard

TABLES = (".csv", ".tsv")
TEXTS = (".txt",)


def source_files(settings: GatherSettings, folder: Path) -> list[tuple[Path, str]]:
    """The files that `settings` mean, with the names users know them by, in order of name.

    folder: what a relative path is relative to. A folder gives its .txt files, those of its subfolders too.
    SourceError where nothing is found.
    """
    if not settings.from_:
        raise SourceError("no source is named", remedy="Say from = the path of a table, a text file or a folder.")
    path = folder / Path(settings.from_).expanduser()
    if path.is_dir():
        found = sorted(file for file in path.rglob("*") if file.suffix.lower() in TEXTS and file.is_file())
        if not found:
            raise SourceError(
                "the folder holds no .txt file", settings.from_, "Name a folder with text files, or a table."
            )
        return [(file, file.relative_to(path).as_posix()) for file in found]
    if path.is_file():
        return [(path, path.name)]
    if glob.has_magic(settings.from_):
        matches = sorted(Path(match) for match in glob.glob(str(path), recursive=True))
        base = Path(*path.parts[: next(at for at, part_ in enumerate(path.parts) if glob.has_magic(part_))])
        if files := [(file, file.relative_to(base).as_posix()) for file in matches if file.is_file()]:
            return files
        raise SourceError("no file matches", settings.from_, "Check the pattern and the folder it is relative to.")
    raise SourceError("there is no such file or folder", settings.from_, f"It was looked for in {folder.resolve()}.")


def gather(settings: GatherSettings, folder: Path, progress: Progress = unheard) -> Corpus:
    """Read all documents that `settings` mean.

    SourceError where a file cannot be read, has an ending that no reader takes, or where nothing was found.
    """
    files = source_files(settings, folder)
    records = Records()
    for at, (path, name) in enumerate(files):
        within = part(progress, at / len(files), (at + 1) / len(files))
        within(0)
        ending = path.suffix.lower()
        try:
            if ending in TABLES:
                read_table(path, name, settings, records, within)
            elif ending in TEXTS:
                read_text(path, name, records)
            else:
                taken = ", ".join(TABLES + TEXTS)
                raise SourceError(f'files ending in "{ending}" cannot be read', name, f"This version reads {taken}.")
        except OSError as error:
            raise SourceError(f"cannot be read ({error.strerror})", name) from error
    if not records.keys:
        raise SourceError("there are no documents in it", settings.from_, "A table needs a row below its header.")
    return records.corpus()
