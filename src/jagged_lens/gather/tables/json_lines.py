"""JSON Lines: an object a line; objects inside it become columns named outer.inner."""

from __future__ import annotations

import io
import itertools
import json
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

from jagged_lens.errors import SourceError
from jagged_lens.gather.encoding import encoding_of, known_encoding
from jagged_lens.gather.source import Source
from jagged_lens.gather.tables.table import Table, cell_text

_LOOKED_AT = 200
_DEEPEST = 4


def open_json_lines(path: Path, name: str, source: Source) -> Table:
    """The columns are the keys of the first objects. SourceError where the first line is no object."""
    raw = path.open("rb")
    size = max(path.stat().st_size, 1)
    encoding = known_encoding(source.encoding) if source.encoding else encoding_of(raw.read(1 << 20), False)
    raw.seek(0)
    text = io.TextIOWrapper(raw, encoding, "replace")
    table = Table([], iter(()), lambda: raw.tell() / size, settings={"encoding": encoding.removesuffix("-sig")})
    table.close = text.close
    objects = _objects(text, table, name)
    first = list(itertools.islice(objects, _LOOKED_AT))
    if not first:
        raise SourceError("no line of it is a JSON object", name, "JSON Lines has one object a line.")
    table.columns = list(dict.fromkeys(key for one in first for key in one))
    table.rows = _rows(itertools.chain(first, objects), table.columns)
    return table


def _rows(objects: Iterator[dict[str, str]], columns: list[str]) -> Iterator[Sequence[str]]:
    for one in objects:
        yield [one.get(column, "") for column in columns]


def _objects(lines: io.TextIOBase, table: Table, name: str) -> Iterator[dict[str, str]]:
    wrong, first_wrong = 0, 0
    for number, line in enumerate(lines, 1):
        if not line.strip():
            continue
        try:
            value = json.loads(line)
        except (ValueError, RecursionError):
            value = None
        if isinstance(value, dict):
            yield dict(_flat(value, "", 0))
        else:
            wrong += 1
            first_wrong = first_wrong or number
    if wrong:
        table.notices.append(
            f"{name}: {wrong:,} lines are no JSON objects and were left out, the first at line {first_wrong:,}."
        )


def _flat(value: dict[str, Any], before: str, depth: int) -> Iterator[tuple[str, str]]:
    for key, one in value.items():
        if isinstance(one, dict) and depth < _DEEPEST:
            yield from _flat(one, f"{before}{key}.", depth + 1)
        elif isinstance(one, (dict, list)) and any(isinstance(inner, (dict, list)) for inner in one):
            yield before + key, json.dumps(one, ensure_ascii=False)
        else:
            yield before + key, cell_text(one)
