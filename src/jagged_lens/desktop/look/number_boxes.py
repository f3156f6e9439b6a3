# SPDX-License-Identifier: GPL-3.0-or-later
"""Boxes for numbers, which are shown with a point and typed with a point or a comma, whatever the locale of the system is."""

from __future__ import annotations

import re

from PyQt6.QtGui import QValidator
from PyQt6.QtWidgets import QDoubleSpinBox, QSpinBox

from jagged_lens.gather import numbers_of

_DECIMAL = re.compile(r"[-+]?\d*[.,]?\d*")
_WHOLE = re.compile(r"[-+]?\d*(?:[.,'’\s]\d*)*")
_DIGIT = re.compile(r"\d")


def typed_decimal(text: str) -> float | None:
    """The number that is typed; None where there is none yet.

    >>> typed_decimal("0,95"), typed_decimal("0.95"), typed_decimal("-"), typed_decimal("1.234,5")
    (0.95, 0.95, None, 1234.5)
    """
    plain = text.strip()
    if _DECIMAL.fullmatch(plain):
        return float(plain.replace(",", ".")) if _DIGIT.search(plain) else None
    found = float(numbers_of([plain])[0])
    return found if found == found else None


class _Bare:
    """The text of a box between its prefix and its suffix."""

    def bare(self, text: str | None) -> str:
        """The number alone, as it is typed."""
        return (text or "").removeprefix(self.prefix()).removesuffix(self.suffix()).strip()  # type: ignore[attr-defined]

    def _validated(self, fits: bool, text: str | None, at: int) -> tuple[QValidator.State, str, int]:
        known = fits or text == self.specialValueText()  # type: ignore[attr-defined]
        done = known and bool(_DIGIT.search(self.bare(text)))
        state = QValidator.State.Acceptable if done else QValidator.State.Intermediate
        return (state if known else QValidator.State.Invalid), text or "", at


class DecimalBox(_Bare, QDoubleSpinBox):
    """A number with decimals."""

    def textFromValue(self, value: float) -> str:
        return f"{value:.{self.decimals()}f}"

    def valueFromText(self, text: str | None) -> float:
        found = typed_decimal(self.bare(text))
        return self.value() if found is None else found

    def validate(self, text: str | None, at: int) -> tuple[QValidator.State, str, int]:
        return self._validated(bool(_DECIMAL.fullmatch(self.bare(text))), text, at)


class WholeBox(_Bare, QSpinBox):
    """A whole number; marks between thousands may be typed."""

    def textFromValue(self, value: int) -> str:
        return str(value)

    def valueFromText(self, text: str | None) -> int:
        digits = re.sub(r"[.,'’\s]", "", self.bare(text))
        try:
            return int(digits)
        except ValueError:
            return self.value()

    def validate(self, text: str | None, at: int) -> tuple[QValidator.State, str, int]:
        return self._validated(bool(_WHOLE.fullmatch(self.bare(text))), text, at)
