# SPDX-License-Identifier: GPL-3.0-or-later
"""From the sources of a recipe to a corpus."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from jagged_lens.errors import JaggedLensError, SourceError
from jagged_lens.gather.apart import File
from jagged_lens.gather.corpus import Corpus, joined
from jagged_lens.gather.cut import pieces_of
from jagged_lens.gather.dates import with_periods
from jagged_lens.gather.encoding import decoded
from jagged_lens.gather.files import add_files, encodings_of, files_of, is_table
from jagged_lens.gather.pages import PageStore
from jagged_lens.gather.readers import Piece
from jagged_lens.gather.records import Records
from jagged_lens.gather.rows import Places, add_rows, fixed_labels, rows_with_links
from jagged_lens.gather.settings import GatherSettings
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables import is_hard, open_table
from jagged_lens.gather.tables.separated import open_pasted
from jagged_lens.gather.units import units_of
from jagged_lens.killable import call_killable
from jagged_lens.named_file import path_of, small_file
from jagged_lens.progress import Progress, portion, unheard


@dataclass(frozen=True)
class Means:
    """The context for reading sources, beside their settings.

    folder: what relative paths are relative to. threads: so many processes read files. passwords: of databases, by their
    address. pages: where fetched pages are kept. again: fetch pages anew that are kept already.
    """

    folder: Path
    threads: int = 1
    passwords: Mapping[str, str] = field(default_factory=dict, repr=False)
    pages: PageStore | None = None
    again: bool = False


MOST_MEMORY = 6_000_000_000
"""Bytes of address space that reading a source may take where a file or a server could claim to hold any number of rows."""


def read_source(source: Source, means: Means, progress: Progress = unheard) -> Corpus:
    """The documents of one source. SourceError where it cannot be read at all, or gives nothing.

    What could be made to hang or to eat memory is read in a process of its own, which is ended as soon as progress raises.
    """
    if is_hard_source(source, means.folder):
        return call_killable(
            read_source_here, source, means, progress=progress, memory=MOST_MEMORY, what=f"reading {source.name}"
        )
    return read_source_here(source, means, progress)


def is_hard_source(source: Source, folder: Path) -> bool:
    """True if a source must be read where it can be killed: a database, a spreadsheet, Parquet, an expression to cut at."""
    if source.kind == "database" or source.has_expression:
        return True
    if source.kind == "pasted" or (source.kind == "links" and source.lists_links):
        return False
    try:
        return is_hard(path_of(source.file or source.links, folder))
    except OSError:
        return False


def read_source_here(source: Source, means: Means, progress: Progress = unheard) -> Corpus:
    """The documents of one source, read in this process."""
    records = Records()
    try:
        if source.kind == "file":
            _read_files(source, means, records, progress)
        elif source.kind == "database":
            from jagged_lens.gather.database import opened_table

            with opened_table(source, means.folder, means.passwords) as table:
                add_rows(table, source, source.name, records, progress)
        elif source.kind == "pasted":
            _read_pasted(source, records, progress)
        else:
            _read_links(source, means, records, progress)
    except OSError as error:
        raise SourceError(f"cannot be read ({error.strerror})", source.name) from error
    except UnicodeError as error:
        raise unfitting(source) from error
    if not len(records):
        if records.unread:
            first = records.unread[0]
            raise SourceError(f"none of it could be read: {first.name}: {first.reason}", source.name)
        raise SourceError("it contains no documents", source.name, "A table needs a row below its header.")
    return records.corpus()


def gather(settings: GatherSettings, folder: Path, progress: Progress = unheard) -> Corpus:
    """Read all documents that the sources of a recipe mean, and make units of them.

    SourceError where a source cannot be read, or where nothing was found.
    """
    return read_sources(settings.sources, settings, Means(folder), progress)


def read_sources(
    sources: tuple[Source, ...], settings: GatherSettings, means: Means, progress: Progress = unheard
) -> Corpus:
    """The documents of some sources as one corpus, in the units of the settings. SourceError where one cannot be read, or none is named."""
    corpora = [
        read_source(source, means, portion(progress, at / len(sources), (at + 1) / len(sources)))
        for at, source in enumerate(sources)
    ]
    return assembled(corpora, sources, settings)


def assembled(corpora: list[Corpus], sources: tuple[Source, ...], settings: GatherSettings) -> Corpus:
    """The documents of all sources as one corpus, in units. SourceError where no source is named."""
    if not corpora:
        raise SourceError("no source is given", remedy="Set from to the path of a table, a text file or a folder.")
    return units_of(with_periods(joined(corpora, [source.name for source in sources])), settings.unit)


def failed_source(source: Source, error: JaggedLensError) -> Corpus:
    """A source that could not be read, among others that could: no documents, and the reason."""
    records = Records()
    records.miss(source.name, f"{error.what}. {error.remedy}".rstrip(". ") + ".")
    return records.corpus()


def unfitting(source: Source) -> SourceError:
    """The error of a source whose bytes are not in the encoding that it says."""
    return SourceError(
        f'it is not valid in the encoding "{source.encoding}"', source.name, "Leave it empty to have it detected."
    )


def _read_files(source: Source, means: Means, records: Records, progress: Progress) -> None:
    files, notices = files_of(source, means.folder, progress)
    records.notices.extend(notices)
    likely = encodings_of(files, source)
    tables = [file for file in files if is_table(file)]
    for at, file in enumerate(tables):
        _read_table(file, source, likely, records, portion(progress, at / len(files), (at + 1) / len(files)))
    texts = [file for file in files if not is_table(file)]
    if texts:
        add_files(texts, source, likely, records, means.threads, portion(progress, len(tables) / len(files), 1))


def _read_table(file: File, source: Source, likely: Mapping[str, float], records: Records, progress: Progress) -> None:
    table = open_table(file.path, file.name, source, likely)
    try:
        add_rows(table, source, file.name, records, progress)
    finally:
        table.close()


def _read_pasted(source: Source, records: Records, progress: Progress) -> None:
    """A pasted text: a table where columns are named, and else one document, or what it is cut into."""
    if source.text:
        add_rows(open_pasted(source), source, "pasted", records, progress)
        return
    labels = fixed_labels(source)
    for number, piece in enumerate(pieces_of(Piece(source.pasted), source), 1):
        records.add(f"pasted#{number}", piece.text, piece.title, "pasted", labels)


def _read_links(source: Source, means: Means, records: Records, progress: Progress) -> None:
    """The pages that are listed; what else stands in the rows of their table stays beside them."""
    from jagged_lens.gather.links import MOST_LINKS, fetch_pages, read_pages

    rows = list(_listed(source, means, records))
    first: dict[str, int] = {}
    for number, (_, _, address) in enumerate(rows, 1):
        if address in first:
            records.miss(address, f"it is already in the list, at place {first[address]}")
        first.setdefault(address, number)
    if len(first) > MOST_LINKS:
        raise SourceError(f"{len(first):,} links are too many: at most {MOST_LINKS:,} are allowed", source.name)
    fetched = fetch_pages(list(first), source, means.pages, means.again, portion(progress, 0, 0.9))
    pages = {
        page.address: (page, piece) for page, piece in read_pages(fetched, means.threads, portion(progress, 0.9, 1))
    }
    for number, (places, row, address) in enumerate(rows, 1):
        if first[address] != number:
            continue
        page, piece = pages[address]
        records.pages.append(page)
        if piece is None:
            records.miss(address, page.problem)
        elif places is None:
            records.add(address, piece.text, piece.title, address, fixed_labels(source), piece.date)
        else:
            key = places.key_of(row, number) if places.key >= 0 else address
            places.add(row, key, records, piece.text, piece.title)


def _listed(source: Source, means: Means, records: Records) -> Iterator[tuple[Places | None, Sequence[str], str]]:
    """The positions of the columns, the cells and the address of each link."""
    from jagged_lens.gather.links import addresses_in, without_fragment

    if source.lists_links:
        for address in addresses_in(source.links):
            yield None, (), without_fragment(address)
        return
    files, _ = files_of(dataclasses.replace(source, links="", file=source.links, column=""), means.folder)
    file = files[0]
    if not is_table(file):
        for address in addresses_in(decoded(small_file(file.path))[0]):
            yield None, (), without_fragment(address)
        return
    table = open_table(file.path, file.name, source)
    try:
        places = None
        for _, row, address in rows_with_links(table, source, file.name):
            places = places or Places(table.columns, source, file.name, [row])
            yield places, row, without_fragment(address)
        records.notices.extend(table.notices)
        records.doubts.extend(table.doubts)
    finally:
        table.close()
