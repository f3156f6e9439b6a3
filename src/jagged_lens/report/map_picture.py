# SPDX-License-Identifier: GPL-3.0-or-later
"""The map of a lens as SVG: points in the colours of their groups, and the names of the groups as text."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

import numpy as np
from numpy.typing import NDArray

from jagged_lens.group import group_rgb, letter

WIDTH, HEIGHT = 720, 520
_MARGIN = 14
_MOST_POINTS = 20_000
_SEED = 1


def map_svg(positions: NDArray[np.float32], group: NDArray[np.int32], names: Sequence[str]) -> str:
    """A map as SVG with text that can be selected. positions: float32, n × 2, NaN for a document without a place. group: int32, n, -1 for none.

    names: of the groups. Of more than 20,000 points a seeded sample is drawn.
    """
    placed = np.flatnonzero(~np.isnan(positions[:, 0]))
    if not len(placed):
        return ""
    if len(placed) > _MOST_POINTS:
        placed = np.sort(np.random.default_rng(_SEED).choice(placed, _MOST_POINTS, replace=False))
    places = positions[placed].astype(np.float64)
    low, high = places.min(axis=0), places.max(axis=0)
    scale = min((size - 2 * _MARGIN) / max(span, 1e-9) for size, span in zip((WIDTH, HEIGHT), high - low, strict=True))
    middle = (low + high) / 2
    x = WIDTH / 2 + (places[:, 0] - middle[0]) * scale
    y = HEIGHT / 2 - (places[:, 1] - middle[1]) * scale
    radius = 3.2 if len(placed) < 3_000 else 1.4
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {HEIGHT}" width="{WIDTH}" height="{HEIGHT}" role="img">'
    ]
    own = group[placed]
    for number in range(-1, len(names)):
        members = np.flatnonzero(own == number)
        if not len(members):
            continue
        ink = "#8a8590" if number < 0 else "#{:02x}{:02x}{:02x}".format(*group_rgb(number))
        circles = "".join(f'<circle cx="{x[at]:.1f}" cy="{y[at]:.1f}" r="{radius}"/>' for at in members)
        lines.append(f'<g fill="{ink}" fill-opacity="0.75">{circles}</g>')
    for number, name in enumerate(names):
        members = np.flatnonzero(own == number)
        if len(members):
            across, up = float(np.median(x[members])), float(np.median(y[members]))
            words = escape(f"{letter(number)} {name}")
            anchor = "start" if across < WIDTH * 0.2 else "end" if across > WIDTH * 0.8 else "middle"
            lines.append(
                f'<text x="{across:.1f}" y="{up:.1f}" text-anchor="{anchor}" font-family="sans-serif" font-size="13" '
                f'font-weight="bold" fill="#1d1a24" stroke="#ffffff" stroke-width="4" paint-order="stroke">{words}</text>'
            )
    return "\n".join([*lines, "</svg>"])
