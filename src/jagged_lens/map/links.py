# SPDX-License-Identifier: GPL-3.0-or-later
"""The network of documents that are alike, laid out by forces, each connected part by itself and all packed side by side.

Linked points pull each other, more the more alike they are; all points of a part push each other off with the square of nearness
(Fruchterman & Reingold, "Graph drawing by force-directed placement", 1991). A part begins on its first two eigenvectors of the
normalised links.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array
from scipy.sparse.csgraph import connected_components

from jagged_lens.compare import Pairs
from jagged_lens.progress import Progress, portion, unheard, unseen
from jagged_lens.weigh import leading_eigenvectors, upright

MOST_NODES = 2_000
"""So many documents are laid out at most."""
_ROUNDS = 90
_DENSE = 400  # documents of a part whose links are taken as a full matrix
_SEED = 1
_ROOM = 2.2  # between the middles of two documents, in the lengths of a link


@dataclass(frozen=True, eq=False)
class Links:
    """d documents that are linked, and e links.

    rows: int32, d, rising. positions: float32, d × 2. first, second: int32, e, places in `rows`. pair: int64, e, which of the pairs each
    is. part: int32, d, the connected part of each, from 0 by falling size. of: how many documents are linked at all; where there are
    more than are laid out, those of the most similar pairs are. sizes: int64, of all connected parts, falling.
    """

    rows: NDArray[np.int32]
    positions: NDArray[np.float32]
    first: NDArray[np.int32]
    second: NDArray[np.int32]
    pair: NDArray[np.int64]
    part: NDArray[np.int32]
    of: int
    sizes: NDArray[np.int64]

    def __len__(self) -> int:
        return len(self.rows)


def lay_out_links(
    pairs: Pairs, progress: Progress = unheard, preview: Callable[[Links], None] = unseen, most: int = MOST_NODES
) -> Links:
    """The network of all listed pairs; of more than `most` documents those of the most similar pairs."""
    linked = np.unique(np.concatenate((pairs.first, pairs.second)))
    _, all_parts = _parts(pairs.first, pairs.second, pairs.documents)
    sizes = np.sort(np.bincount(all_parts[linked]))[::-1] if len(linked) else np.zeros(0, np.int64)
    chosen = _strongest(pairs, most)
    rows, ends = np.unique(np.concatenate((pairs.first[chosen], pairs.second[chosen])), return_inverse=True)
    first, second = np.split(ends.ravel().astype(np.int32), 2)
    count, part = _parts(first, second, len(rows))
    by_size = np.argsort(-np.bincount(part, minlength=count), kind="stable")
    number = np.empty(count, np.int32)
    number[by_size] = np.arange(count, dtype=np.int32)
    part = number[part]
    strength = np.maximum(pairs.similarity[chosen].astype(np.float64), 0.05)
    shapes: list[NDArray[np.float64]] = []
    order = np.argsort(part, kind="stable")
    starts = np.searchsorted(part[order], np.arange(count + 1))
    of_link = np.argsort(part[first], kind="stable")
    link_starts = np.searchsorted(part[first][of_link], np.arange(count + 1))
    place = np.empty(len(rows), np.int64)
    place[order] = np.arange(len(rows)) - starts[part[order]]

    def made(positions: NDArray[np.float64]) -> Links:
        return Links(
            rows.astype(np.int32),
            positions.astype(np.float32),
            first,
            second,
            chosen,
            part,
            len(linked),
            sizes[sizes > 0],
        )

    for one in range(count):
        progress(starts[one] / max(len(rows), 1))
        links = of_link[link_starts[one] : link_starts[one + 1]]
        share = portion(progress, starts[one] / len(rows), starts[one + 1] / len(rows))
        shapes.append(
            _settled(
                int(starts[one + 1] - starts[one]),
                place[first[links]],
                place[second[links]],
                strength[links],
                share,
            )
        )
        if one == 0 and count > 1:
            so_far = np.full((len(rows), 2), np.nan)
            so_far[order[: starts[1]]] = shapes[0]
            preview(made(so_far))
    positions = np.zeros((len(rows), 2))
    if count:
        positions[order] = np.concatenate(_packed(shapes))
    return made(positions)


def _parts(first: NDArray[np.integer], second: NDArray[np.integer], n: int) -> tuple[int, NDArray[np.int32]]:
    links = csr_array((np.ones(len(first), np.int8), (first, second)), shape=(n, n))
    count, part = connected_components(links, directed=False)
    return int(count), part.astype(np.int32)


def _strongest(pairs: Pairs, most: int) -> NDArray[np.int64]:
    """The pairs among the documents of the most similar pairs, as many as make `most` documents (int64)."""
    ends = np.stack((pairs.first, pairs.second), axis=1).ravel()
    new = np.zeros(len(ends), np.bool_)
    new[np.unique(ends, return_index=True)[1]] = True
    documents = np.cumsum(new)[1::2]
    last = int(np.searchsorted(documents, most, "right"))
    inside = np.zeros(pairs.documents, np.bool_)
    inside[ends[: 2 * last]] = True
    return np.flatnonzero(inside[pairs.first] & inside[pairs.second])


def _settled(
    n: int,
    first: NDArray[np.integer],
    second: NDArray[np.integer],
    strength: NDArray[np.float64],
    progress: Progress,
) -> NDArray[np.float64]:
    """Positions (float64, n × 2) of one connected part, its links about as long as 1."""
    if n == 1:
        return np.zeros((1, 2))
    if n == 2:
        return np.array([[-0.5, 0.0], [0.5, 0.0]])
    links = csr_array((strength, (first, second)), shape=(n, n))
    links = csr_array(links + links.T)
    degree: NDArray[np.float64] = np.asarray(links.sum(axis=1)).ravel()
    positions = _start(links, degree, n)
    pull = csr_array((links.data, links.indices, links.indptr), shape=links.shape)
    step = 0.3 * np.sqrt(n)
    for round_ in range(_ROUNDS):
        if round_ % 10 == 0:
            progress(round_ / _ROUNDS)
        near = positions.astype(np.float32)
        squares = np.einsum("ij,ij->i", near, near)
        push = near @ near.T
        push *= -2
        push += squares[:, None]
        push += squares
        push += np.float32(0.01)
        np.reciprocal(push, out=push)
        whole = push.sum(axis=1, dtype=np.float64)
        force = positions * whole[:, None] - push @ near
        force -= positions * degree[:, None] - pull @ positions
        length = np.maximum(np.linalg.norm(force, axis=1), 1e-12)
        positions += force * np.minimum(1, step / length)[:, None] * 0.5 / np.maximum(1, degree / 4)[:, None]
        step *= 0.955
    middle: NDArray[np.float64] = positions - positions.mean(axis=0)
    return middle


def _start(links: csr_array, degree: NDArray[np.float64], n: int) -> NDArray[np.float64]:
    """The second and third eigenvector of D^-1/2 W D^-1/2, with a little seeded noise so that equal points part."""
    noise = np.random.default_rng(_SEED).normal(0, 0.05, (n, 2))
    scale = 1 / np.sqrt(np.maximum(degree, 1e-12))
    if n < 4:
        return np.random.default_rng(_SEED).normal(0, 1, (n, 2))
    if n <= _DENSE:
        vectors = np.linalg.eigh((links * scale[:, None] * scale).toarray())[1][:, ::-1][:, :3]
        return _spread(vectors, scale, n) + noise

    def times(vectors: NDArray[np.float64]) -> NDArray[np.float64]:
        moved: NDArray[np.float64] = scale[:, None] * (links @ (scale[:, None] * vectors))
        return moved + vectors  # shifted: all eigenvalues from 0 to 2

    vectors, _, _ = leading_eigenvectors(times, n, 3, _SEED, accuracy=0.01)
    return _spread(vectors, scale, n) + noise


def _spread(vectors: NDArray[np.float64], scale: NDArray[np.float64], n: int) -> NDArray[np.float64]:
    found: NDArray[np.float64] = vectors[:, 1:3] * scale[:, None]
    spread = np.maximum(np.abs(found).max(axis=0), 1e-12)
    turned: NDArray[np.float64] = upright(found / spread * 0.7 * np.sqrt(n))
    return turned


def _packed(shapes: list[NDArray[np.float64]]) -> list[NDArray[np.float64]]:
    """Each part moved to a place of its own: the largest first, in rows of about equal width from top to bottom."""
    sizes = [np.ptp(shape, axis=0) + _ROOM for shape in shapes]
    wide = max(1.5 * float(np.sqrt(sum(float(w * h) for w, h in sizes))), max(float(w) for w, _ in sizes))
    placed = []
    left = top = row = 0.0
    for shape, (width, height) in zip(shapes, sizes, strict=True):
        if left + width > wide and left > 0:
            left, top, row = 0.0, top - row, 0.0
        corner = shape.min(axis=0)
        placed.append(shape - [corner[0] - left - _ROOM / 2, corner[1] - top + float(height) - _ROOM / 2])
        left += float(width)
        row = max(row, float(height))
    return placed
