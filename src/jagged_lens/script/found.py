# SPDX-License-Identifier: GPL-3.0-or-later
"""Typed results: arrays beside the keys of their documents and the terms of their columns. In a notebook each shows itself as a table."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from html import escape

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

_SHOWN = 10


class Shown:
    """Something that has rows, the first of which are shown in a notebook."""

    def __len__(self) -> int:
        raise NotImplementedError

    def heads(self) -> tuple[str, ...]:
        """The titles of the columns that are shown."""
        raise NotImplementedError

    def row(self, at: int) -> tuple[object, ...]:
        """The cells of a row, from 0."""
        raise NotImplementedError

    def _repr_html_(self) -> str:
        """An HTML table of the first rows. Whatever comes from documents is text, never markup."""
        name = type(self).__name__
        lines = [f"<table><caption>{name}, {len(self):,} rows</caption><thead><tr>"]
        lines += [f'<th scope="col">{escape(head)}</th>' for head in self.heads()]
        lines.append("</tr></thead><tbody>")
        for at in range(min(len(self), _SHOWN)):
            lines.append("<tr>" + "".join(f"<td>{escape(_cell(cell))}</td>" for cell in self.row(at)) + "</tr>")
        return "".join([*lines, "</tbody></table>"])


def _cell(value: object) -> str:
    if isinstance(value, (float, np.floating)):
        return f"{value:.3f}" if value == value else ""
    words = " ".join(str(value).split())
    return words if len(words) <= 120 else f"{words[:119]}…"


@dataclass(frozen=True, eq=False)
class Documents(Shown):
    """The n documents of the lens. labels: the values of each label, "" for none."""

    keys: Sequence[str]
    titles: Sequence[str]
    texts: Sequence[str]
    labels: dict[str, list[str]]

    def __len__(self) -> int:
        return len(self.keys)

    def heads(self) -> tuple[str, ...]:
        return ("key", "title", *self.labels, "text")

    def row(self, at: int) -> tuple[object, ...]:
        return (self.keys[at], self.titles[at], *(values[at] for values in self.labels.values()), self.texts[at])


@dataclass(frozen=True, eq=False)
class Matrix(Shown):
    """A sparse matrix of documents and terms. values: CSR, n × m: float32 weights, or int32 counts."""

    keys: Sequence[str]
    terms: Sequence[str]
    values: csr_array

    def __len__(self) -> int:
        return len(self.keys)

    def heads(self) -> tuple[str, ...]:
        return ("key", "terms with the largest values")

    def row(self, at: int) -> tuple[object, ...]:
        found = sorted(self.of(at), key=lambda one: -one[1])[:6]
        return (self.keys[at], ", ".join(f"{term} {value:.3g}" for term, value in found))

    def of(self, at: int) -> Iterator[tuple[str, float]]:
        """The terms of a row, from 0, with their values."""
        span = slice(self.values.indptr[at], self.values.indptr[at + 1])
        for column, value in zip(self.values.indices[span], self.values.data[span], strict=True):
            yield self.terms[int(column)], float(value)


@dataclass(frozen=True, eq=False)
class Pairs(Shown):
    """Pairs, the most similar first. first, second: places of documents, int32, p. similarity: float32, p. kind: of each in words."""

    keys: Sequence[str]
    first: NDArray[np.int32]
    second: NDArray[np.int32]
    similarity: NDArray[np.float32]
    kind: Sequence[str]

    def __len__(self) -> int:
        return len(self.first)

    def heads(self) -> tuple[str, ...]:
        return ("first", "second", "similarity", "kind")

    def row(self, at: int) -> tuple[object, ...]:
        own = (self.keys[int(self.first[at])], self.keys[int(self.second[at])])
        return (*own, self.similarity[at], self.kind[at])


@dataclass(frozen=True, eq=False)
class Nearest(Shown):
    """The k nearest of each document, best first. place: int32, n × k, of the nearest, -1 for none; similarity: float32, n × k."""

    keys: Sequence[str]
    place: NDArray[np.int32]
    similarity: NDArray[np.float32]

    def __len__(self) -> int:
        return len(self.keys)

    def heads(self) -> tuple[str, ...]:
        return ("key", "nearest", "similarity")

    def row(self, at: int) -> tuple[object, ...]:
        place = int(self.place[at, 0]) if self.place.shape[1] else -1
        return (self.keys[at], *((self.keys[place], self.similarity[at, 0]) if place >= 0 else ("", float("nan"))))


@dataclass(frozen=True, eq=False)
class Groups(Shown):
    """Groups of documents. group: int32, n, the group of each document, -1 for none; closeness: float32, n. names, sizes (int64), cohesion and
    silhouette (float32): of each of the k groups. terms: the typical terms of each. stability: float32, k, NaN where not measured."""

    keys: Sequence[str]
    group: NDArray[np.int32]
    closeness: NDArray[np.float32]
    names: Sequence[str]
    sizes: NDArray[np.int64]
    cohesion: NDArray[np.floating]
    silhouette: NDArray[np.floating]
    stability: NDArray[np.floating]
    terms: Sequence[Sequence[str]]

    def __len__(self) -> int:
        return len(self.names)

    def heads(self) -> tuple[str, ...]:
        return ("group", "documents", "typical terms", "cohesion", "silhouette", "stability")

    def row(self, at: int) -> tuple[object, ...]:
        figures = (self.cohesion[at], self.silhouette[at], self.stability[at])
        return (self.names[at], f"{self.sizes[at]:,}", ", ".join(self.terms[at]), *figures)

    def members(self, group: int) -> list[str]:
        """The keys of the documents of a group, from 0."""
        return [self.keys[int(at)] for at in np.flatnonzero(self.group == group)]


@dataclass(frozen=True, eq=False)
class Points(Shown):
    """The map. positions: float32, n × 2, NaN for a document without a place. trust: float32, n, the share of the nearest that are kept;
    overall: of all."""

    keys: Sequence[str]
    positions: NDArray[np.float32]
    trust: NDArray[np.floating]
    overall: float

    def __len__(self) -> int:
        return len(self.keys)

    def heads(self) -> tuple[str, ...]:
        return ("key", "x", "y", "trust")

    def row(self, at: int) -> tuple[object, ...]:
        return (self.keys[at], *self.positions[at], self.trust[at])


@dataclass(frozen=True, eq=False)
class Vectors(Shown):
    """The dimensions that the later steps work on, where those are not the terms: themes or vectors. rows: float32, n × d."""

    keys: Sequence[str]
    rows: NDArray[np.float32]

    def __len__(self) -> int:
        return len(self.keys)

    def heads(self) -> tuple[str, ...]:
        return ("key", *(str(at + 1) for at in range(min(self.rows.shape[1], 6))))

    def row(self, at: int) -> tuple[object, ...]:
        return (self.keys[at], *self.rows[at, :6])


@dataclass(frozen=True, eq=False)
class Arrived(Shown):
    """New documents seen through the lens. nearest: keys of the nearest document of the lens, "" for none; similarity: float32, d. group: int32, d,
    -1 for none. positions: float32, d × 2, NaN for none. unknown: float64, d, the share of words that the lens does not know."""

    keys: Sequence[str]
    nearest: Sequence[str]
    similarity: NDArray[np.float32]
    group: NDArray[np.int32]
    positions: NDArray[np.float32]
    unknown: NDArray[np.floating]
    group_name: Callable[[int], str]

    def __len__(self) -> int:
        return len(self.keys)

    def heads(self) -> tuple[str, ...]:
        return ("key", "nearest", "similarity", "group", "unknown words")

    def row(self, at: int) -> tuple[object, ...]:
        name = self.group_name(int(self.group[at])) if self.group[at] >= 0 else ""
        return (self.keys[at], self.nearest[at], self.similarity[at], name, f"{self.unknown[at]:.0%}")
