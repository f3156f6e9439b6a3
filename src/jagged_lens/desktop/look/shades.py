# SPDX-License-Identifier: GPL-3.0-or-later
"""Shades of one hue for an amount, from pale to deep."""

from __future__ import annotations

from PyQt6.QtGui import QColor

from jagged_lens.desktop.look import theme


def shade(step: int, steps: int) -> QColor:
    """The shade of a step, from 0: of verdigris, the deeper the more. Even the palest stands out from the paper."""
    share = 0.28 + 0.72 * (step / max(steps - 1, 1))
    deep, paper = theme.colour("verdigris"), theme.colour("paper")
    return QColor(
        *(
            round(ground + (ink - ground) * share)
            for ink, ground in zip(deep.getRgb()[:3], paper.getRgb()[:3], strict=True)  # type: ignore[arg-type]
        )
    )
