# SPDX-License-Identifier: GPL-3.0-or-later
"""The repulsion of n points on a plane, by a grid and the FFT.

φ(y) = Σ_j 1/(1 + |y - y_j|²) is a convolution. Points are spread on a grid by cubic B-splines, convolved with the kernel by FFT, and
read back by the same splines, whose blurring is divided out (Hockney & Eastwood, "Computer simulation using particles", 1988, ch. 5;
for t-SNE: Linderman et al., "Fast interpolation-based t-SNE", 2019). The force of t-SNE is -∇φ/2 and its normaliser is made of φ, so
that one charge is enough.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.fft import fft, ifft, irfft, irfft2, next_fast_len, rfft, rfft2
from scipy.sparse import csr_array

from jagged_lens.parallel import blocks, over_blocks, threads

_SPACING = (0.05, 0.5, 1.0)  # of the grid, in units of the map: at least, as long as there is room for it, and at most
_FEWEST = 48  # cells along a side, down to the least spacing
_ROOMY = 256  # cells along a side, up to which the spacing stays fine
_MOST = 1_500  # cells along a side: points that fly farther apart are pushed less exactly
_MARGIN = 8  # cells round the points, in which the splines' blurring is divided out
_POINTS_AT_ONCE = 6_000  # what is computed of them stays in the cache
_POINTS_FOR_THREADS = 40_000  # fewer are done before another thread has begun
_CELLS_FOR_THREADS = 40_000  # smaller grids are done before another thread has begun
_STEP = 1.15  # a grid grows and shrinks by so much at a time, so that its kernel is made anew only now and then

Floats = NDArray[np.float64]
Singles = NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class _Spread:
    """Some points on the grid.

    nodes: int32, 4 × 4 × p, those round each. within: float32, 2 × p, where in its cell it is. x, y: its splines and their slopes along
    either side, float32, 4 × p each.
    """

    nodes: NDArray[np.int32]
    within: Singles
    x: tuple[Singles, Singles]
    y: tuple[Singles, Singles]

    @classmethod
    def of(cls, place: Floats, tall: int) -> _Spread:
        """place: float64, 2 × p, in cells of a grid that is so many cells tall."""
        cell = np.floor(place)
        within = (place - cell).astype(np.float32)
        base = ((cell[0] - 1) * tall + cell[1] - 1).astype(np.int32)
        step = np.arange(4, dtype=np.int32)
        return cls(base + (step[:, None] * tall + step)[:, :, None], within, _splines(within[0]), _splines(within[1]))

    def read(self, field: Singles) -> Singles:
        """The value of a field at the points, and its slope along both sides (float32, 3 × p)."""
        (x, x_slope), (y, y_slope) = self.x, self.y
        found = np.zeros((3, len(self.within[0])), np.float32)
        for column in range(4):
            near = field[self.nodes[column]]
            along, up = _summed(near, y), _summed(near, y_slope)
            found[0] += along * x[column]
            found[1] += along * x_slope[column]
            found[2] += up * x[column]
        return found


def _summed(near: Singles, shares: Singles) -> Singles:
    """Σ of the four rows of one table times those of the other (float32, p)."""
    total: Singles = near[0] * shares[0]
    for row in range(1, 4):
        total += near[row] * shares[row]
    return total


class Repulsion:
    """Potential and its slope at all points, for points that move little by little."""

    def __init__(self) -> None:
        self._shape = (0, 0)
        self._spacing = 0.0
        self._kernel: NDArray[np.complex64] = np.zeros((0, 0), np.complex64)
        self._own = (1.0, 0.0)

    def at(self, points: Floats) -> tuple[float, Floats]:
        """The sum of φ over all n points, without their own shares, and minus half the slope of φ at each.

        points: float64, n × 2; gives a float and float64, n × 2.
        """
        x, y = points.T
        low, high = np.array([x.min(), y.min()]), np.array([x.max(), y.max()])
        wide, tall, spacing = self._fit(high - low)
        middle, corner = (low + high) / 2, np.array([wide // 2, tall // 2])

        def spread(part: slice) -> _Spread:
            return _Spread.of(((points[part] - middle) / spacing + corner).T, tall)

        def read(one: _Spread) -> Singles:
            return one.read(field)

        over = over_blocks if len(points) > _POINTS_FOR_THREADS else map
        parts = list(over(spread, blocks(len(points), _POINTS_AT_ONCE)))
        charge = _charge(parts, wide * tall).reshape(wide, tall)
        field = _convolved(charge, self._kernel).ravel()
        potential, force_x, force_y = np.concatenate(list(over(read, parts)), axis=1)
        within = np.concatenate([one.within for one in parts], axis=1)
        force = np.column_stack((force_x, force_y)) * (-0.5 / spacing)
        # A point also feels itself, as far as the grid blurs it: a wave across the cell, and a share of the potential.
        mean, wave_height = self._own
        force -= np.sin(2 * np.pi * within.T) * (np.pi * wave_height / spacing)
        return float(potential.sum(dtype=np.float64) - len(points) * mean), np.asarray(force, np.float64)

    def _fit(self, size: Floats) -> tuple[int, int, float]:
        """Cells across and up, and their spacing, for points that take up so much room."""
        longest = max(float(size.max()), 1e-12)
        least, fine, most = _SPACING
        spacing = max(min(max(longest / _FEWEST, least), max(fine, longest / _ROOMY), most), longest / _MOST)
        # Steps of the spacing: a kernel holds for many rounds.
        spacing = most * _STEP ** float(np.floor(np.log(spacing / most) / np.log(_STEP) + 1e-9))
        shape = _stepped(float(size[0]) / spacing), _stepped(float(size[1]) / spacing)
        if shape != self._shape or spacing != self._spacing:
            self._shape, self._spacing = shape, spacing
            self._kernel, self._own = _kernel(*shape, spacing)
        return *shape, spacing


def _stepped(cells: float) -> int:
    """Room for so many cells and the margin: one of few numbers, along which an FFT is fast."""
    return int(next_fast_len(int(np.ceil(_STEP ** np.ceil(np.log(cells + 2 * _MARGIN) / np.log(_STEP)))), True))


def _kernel(wide: int, tall: int, spacing: float) -> tuple[NDArray[np.complex64], tuple[float, float]]:
    """The transform of 1/(1 + d²) on a grid of double size, divided twice by that of the spline along each side. And what a point makes
    of itself: mean, and height of its wave across a cell."""
    x = np.minimum(np.arange(2 * wide), 2 * wide - np.arange(2 * wide)) * spacing
    y = np.minimum(np.arange(2 * tall), 2 * tall - np.arange(2 * tall)) * spacing
    wave = rfft2(1 / (1 + x[:, None] ** 2 + y[None, :] ** 2))
    across = (4 + 2 * np.cos(2 * np.pi * np.fft.fftfreq(2 * wide))) / 6
    up = (4 + 2 * np.cos(2 * np.pi * np.fft.rfftfreq(2 * tall))) / 6
    wave /= (across[:, None] * up[None, :]) ** 2
    near = irfft2(wave, (2 * wide, 2 * tall))
    apart = np.subtract.outer(np.arange(4), np.arange(4))
    own = np.empty((2, 2))
    for i, j in np.ndindex(2, 2):
        a, b = (np.outer(s, s) for s in (_splines(np.array([0.5 * at], np.float32))[0][:, 0] for at in (i, j)))
        own[i, j] = np.einsum("ab,abcd,cd->", a, near[apart[:, :, None, None], apart[None, None]], b)
    return wave.astype(np.complex64), (float(own.mean()), float(own[0].mean() - own[1].mean()) / 2)


def _convolved(charge: Singles, kernel: NDArray[np.complex64]) -> Singles:
    """The convolution of a grid with a kernel whose transform is given, on a grid of double size: along one side after the
    other, so that what is empty or not wanted is not transformed."""
    wide, tall = charge.shape
    workers = threads() if wide * tall > _CELLS_FOR_THREADS else 1
    wave = fft(rfft(charge, 2 * tall, axis=1, workers=workers), 2 * wide, axis=0, workers=workers, overwrite_x=True)
    wave *= kernel
    along = ifft(wave, axis=0, workers=workers, overwrite_x=True)[:wide]
    return np.asarray(irfft(along, 2 * tall, axis=1, workers=workers)[:, :tall], np.float32)


def _splines(t: Singles) -> tuple[Singles, Singles]:
    """The cubic B-spline at the four nodes round each place and its slope (4 × n each). t: from the second of them, 0 to 1."""
    r = 1 - t
    t2, r2 = t * t, r * r
    value = np.stack((r2 * r / 6, 2 / 3 - t2 + t2 * t / 2, 2 / 3 - r2 + r2 * r / 2, t2 * t / 6))
    slope = np.stack((-r2 / 2, 1.5 * t2 - 2 * t, 2 * r - 1.5 * r2, t2 / 2))
    return value.astype(np.float32, copy=False), slope.astype(np.float32, copy=False)


def _charge(parts: list[_Spread], size: int) -> Singles:
    """The share of all points on each node (size). One sparse row that names nodes again and again: its product adds up."""
    shares = np.concatenate([(one.x[0][:, None] * one.y[0]).ravel() for one in parts])
    nodes = np.concatenate([one.nodes.ravel() for one in parts])
    row = csr_array((shares, nodes, np.array([0, nodes.size], np.int32)), shape=(1, size))
    return np.asarray(row.T @ np.ones(1, np.float32))
