# SPDX-License-Identifier: GPL-3.0-or-later
"""Colours for any number of groups, generated, told apart by colour-blind readers too, and stable.

Candidates lie on a grid of lightness, chroma and hue in the Oklab space (Ottosson 2020), dark enough for white letters. Starting
at plum, the next is always the one farthest from all before it, seen normally, with protanopia and with deuteranopia
(Machado, Oliveira & Fernandes 2009). Group 3 has the same colour however many groups there are.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

_PROTAN = np.array([[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216], [-0.003882, -0.048116, 1.051998]])
_DEUTAN = np.array([[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413], [-0.011820, 0.042940, 0.968881]])
_TO_LMS = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)


def group_rgb(number: int, dark: bool = False, colour_blind: bool = False) -> tuple[int, int, int]:
    """The colour of group `number`, from 0: red, green and blue from 0 to 255. dark: on a dark ground, light enough for dark letters."""
    table = _colours(dark, colour_blind)
    return table[number % len(table)]


@lru_cache(maxsize=4)
def _colours(dark: bool, colour_blind: bool) -> list[tuple[int, int, int]]:
    lights = (0.70, 0.76, 0.82) if dark else (0.40, 0.48, 0.56)
    plum = (0.72, 0.13, 330.0) if dark else (0.46, 0.13, 330.0)
    grid = [(light, chroma, hue) for light in lights for chroma in (0.085, 0.135) for hue in np.arange(0, 360, 10.0)]
    linear = np.array([_linear(*point) for point in (plum, *grid)])
    shine = linear @ (0.2126, 0.7152, 0.0722)
    stands_out = shine >= 4.6 * (0.0064 + 0.05) - 0.05 if dark else shine <= 1.05 / 4.5 - 0.05
    linear = linear[((linear >= 0) & (linear <= 1)).all(axis=1) & stands_out]
    seen = np.stack([_lab(linear), _lab(np.clip(linear @ _PROTAN.T, 0, 1)), _lab(np.clip(linear @ _DEUTAN.T, 0, 1))])
    chosen = [0]
    distance = np.full(len(linear), np.inf)
    while len(chosen) < 60:
        # Lightness differences count less: small points of near lightness must still differ. For colour-blind readers
        # only what they see counts, and lightness in full.
        gaps = np.linalg.norm((seen - seen[:, chosen[-1:]]) * (1.0 if colour_blind else 0.7, 1, 1), axis=2)
        nearest = gaps[1:].min(axis=0) if colour_blind else gaps[0] * 0.5 + gaps.min(axis=0)
        distance = np.minimum(distance, nearest)
        chosen.append(int(distance.argmax()))
    codes = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * np.maximum(linear, 0) ** (1 / 2.4) - 0.055)
    return [(int(r), int(g), int(b)) for r, g, b in np.round(codes[chosen] * 255).tolist()]


def _linear(light: float, chroma: float, hue: float) -> NDArray[np.float64]:
    """Linear sRGB of a point in Oklab, given by lightness, chroma and hue in degrees."""
    angle = np.radians(hue)
    lab = np.array([light, chroma * np.cos(angle), chroma * np.sin(angle)])
    return np.asarray(np.linalg.inv(_TO_LMS) @ (np.linalg.inv(_TO_LAB) @ lab) ** 3)


def _lab(linear: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray(np.cbrt(linear @ _TO_LMS.T) @ _TO_LAB.T)
