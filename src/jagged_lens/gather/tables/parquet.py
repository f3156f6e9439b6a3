"""Apache Parquet, read by row groups."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

from jagged_lens.errors import SourceError
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables.table import Table, cell_text, named

_ROWS = 2000


def open_parquet(path: Path, name: str, source: Source) -> Table:
    import pyarrow
    import pyarrow.parquet

    try:
        file = pyarrow.parquet.ParquetFile(path)
        total = max(file.metadata.num_rows, 1)
        columns = list(file.schema_arrow.names)
    except (pyarrow.ArrowException, OSError) as error:
        raise SourceError("this is no Parquet file, or it is damaged", name) from error
    read = [0]

    def rows() -> Iterator[Sequence[str]]:
        try:
            for batch in file.iter_batches(_ROWS, use_threads=False):
                cells: list[list[Any]] = [column.to_pylist() for column in batch.columns]
                read[0] += batch.num_rows
                for row in zip(*cells, strict=True):
                    yield tuple(map(cell_text, row))
        except (pyarrow.ArrowException, OSError, UnicodeDecodeError) as error:
            raise SourceError("the Parquet file is damaged", name) from error

    return Table(named(columns), rows(), lambda: read[0] / total, close=file.close)
