# SPDX-License-Identifier: GPL-3.0-or-later
"""The groups of each number of a sweep as strips of colour, and how documents go from each strip to the next, drawn from arrays: with
hundreds of groups there are tens of thousands of ribbons, far too many for a call each."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QImage

from jagged_lens.desktop.look.group_colours import group_colour
from jagged_lens.group import Sweep, counted_together

_LEAST_FLOW = 0.004  # share of the documents from which a flow is drawn
_SEEN = 0.43  # how much of a ribbon covers what is behind it
_FINE = 2  # rows of the picture to a pixel
_EDGE = 3.0  # pixels of a group from which on the next is set off from it


def columns_of(sweep: Sweep) -> list[NDArray[np.float64]]:
    """For each number where each of its groups begins and ends in a strip from 0 to 1 (float64, k × 2): the groups of the first by size,
    those of each further number near those of the number before that their documents come from."""
    columns: list[NDArray[np.float64]] = []
    before: NDArray[np.float64] | None = None
    for at, groups in enumerate(sweep.groups.tolist()):
        own = sweep.group[at]
        sizes = np.bincount(own[own >= 0], minlength=groups).astype(np.float64)
        if before is None:
            order = np.arange(groups)
        else:
            counts = counted_together(sweep.group[at - 1], own, len(before), groups)
            middle = (counts * before.mean(axis=1)[:, None]).sum(axis=0) / np.maximum(sizes, 1)
            order = np.argsort(middle, kind="stable")
        ends = np.cumsum(sizes[order]) / max(sizes.sum(), 1)
        column = np.empty((groups, 2))
        column[order, 1], column[order, 0] = ends, ends - sizes[order] / max(sizes.sum(), 1)
        columns.append(column)
        before = column
    return columns


def flows_of(sweep: Sweep, columns: Sequence[NDArray[np.float64]]) -> list[NDArray[np.float64]]:
    """For each two neighbouring numbers their flows: float64, f × 5: the group, where it leaves its strip (top, end), and where it comes
    into the next. The thinnest are left out."""
    flows = []
    for at in range(len(columns) - 1):
        from_, to = columns[at], columns[at + 1]
        share = counted_together(sweep.group[at], sweep.group[at + 1], len(from_), len(to)).astype(np.float64)
        share /= max(share.sum(), 1)
        left, right = np.argsort(from_[:, 0], kind="stable"), np.argsort(to[:, 0], kind="stable")
        ordered = share[left][:, right]
        leaves = from_[left, 0][:, None] + np.cumsum(ordered, axis=1) - ordered
        comes = to[right, 0][None, :] + np.cumsum(ordered, axis=0) - ordered
        one, other = np.nonzero(ordered >= _LEAST_FLOW)
        tops, ends, part = leaves[one, other], comes[one, other], ordered[one, other]
        flows.append(np.stack((left[one].astype(float), tops, tops + part, ends, ends + part), axis=1))
    return flows


def strips(
    columns: Sequence[NDArray[np.float64]],
    flows: Sequence[NDArray[np.float64]],
    lefts: NDArray[np.float64],
    wide: float,
    size: tuple[int, int],
) -> QImage:
    """The picture, without a ground. lefts: float64, the left edge of each strip. wide: how wide each is. size: width and height in
    pixels. No flows: none are drawn."""
    width, height = size
    high = height * _FINE
    whole = np.zeros((high, width, 4), np.uint8)
    most = max((len(column) for column in columns), default=0)
    colours = np.array([group_colour(group).getRgb()[:3] for group in range(most)], np.float64).reshape(-1, 3)
    for number, flow in enumerate(flows):
        begin, end = round(lefts[number] + wide), round(lefts[number + 1])
        if end > begin and len(flow):
            whole[:, begin:end] = _ribbons(flow, colours, end - begin, high)
    middles = (np.arange(high) + 0.5) / high
    for column, left in zip(columns, lefts.tolist(), strict=True):
        order = np.argsort(column[:, 0], kind="stable")
        ends = column[order, 1]
        at = np.minimum(np.searchsorted(ends, middles, side="right"), len(order) - 1)
        strip = np.concatenate((colours[order[at]], np.full((high, 1), 255.0)), axis=1).astype(np.uint8)
        tall = np.diff(column[order], axis=1)[:, 0] * height >= _EDGE
        edges = np.minimum(np.rint(ends[tall] * high).astype(np.int64), high - 1)
        strip[edges] = 0
        whole[:, round(left) : max(round(left + wide), round(left) + 1)] = strip[:, None]
    image = QImage(whole.tobytes(), width, high, 4 * width, QImage.Format.Format_RGBA8888)
    return image.copy()


def _ribbons(flow: NDArray[np.float64], colours: NDArray[np.float64], width: int, high: int) -> NDArray[np.uint8]:
    """Flows between two strips, high × width × 4: where some cross, their colours are mixed."""
    along = (np.arange(width) + 0.5) / width
    bend = along * along * (3 - 2 * along)
    top = (flow[:, 1, None] * (1 - bend) + flow[:, 3, None] * bend) * high
    end = (flow[:, 2, None] * (1 - bend) + flow[:, 4, None] * bend) * high
    first = np.clip(np.rint(top), 0, high).astype(np.int64)
    last = np.clip(np.maximum(np.rint(end), first + 1), 0, high).astype(np.int64)
    place = np.arange(width)[None, :]
    cells = (high + 1) * width
    ink = colours[flow[:, 0].astype(np.int64)]
    found = np.empty((4, high + 1, width))
    for channel in range(4):
        amount = np.broadcast_to((ink[:, channel] if channel < 3 else np.ones(len(flow)))[:, None], first.shape).ravel()
        begun = np.bincount((first * width + place).ravel(), amount, cells)
        done = np.bincount((last * width + place).ravel(), amount, cells)
        found[channel] = np.cumsum((begun - done).reshape(high + 1, width), axis=0)
    count = np.rint(found[3, :high])
    mixed = found[:3, :high] / np.maximum(count, 1)
    covered = 255 * (1 - (1 - _SEEN) ** count)
    return np.concatenate((mixed, covered[None])).transpose(1, 2, 0).round().clip(0, 255).astype(np.uint8)
