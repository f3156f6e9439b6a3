# SPDX-License-Identifier: GPL-3.0-or-later
"""A weight worked through: equal to the weights to the last digit, and so is what a spreadsheet makes of it."""

import math
import re

import numpy as np
import pytest

from compare.test_compare import random_counts, space_of
from jagged_lens.explain import Worked, as_sheet, worked
from jagged_lens.weigh import WeighSettings

LOCALS = ("presence", "count", "share", "log")
GLOBALS = ("none", "plain", "guarded", "lifted", "probabilistic", "entropy")


def recomputed(sheet: str) -> float:
    """The last cell of a sheet, by a little spreadsheet of our own."""
    rows = [line.split("\t") for line in sheet.splitlines()]

    def value(row: int) -> float:
        text = rows[row - 1][1]
        if not text.startswith("="):
            return float(text)
        formula = re.sub(r"B(\d+)", lambda match: repr(value(int(match[1]))), text[1:])
        given = {
            "LN": math.log,
            "LOG": lambda number, base: math.log(number) / math.log(base),
            "MAX": max,
            "IF": lambda test, then, other: then if test else other,
        }
        if formula.startswith("IF(") and "LN(0.0)" not in formula:
            try:
                return float(eval(formula, given))
            except (ValueError, ZeroDivisionError):  # a spreadsheet does not look at the other branch
                return 0.0
        return float(eval(formula, given))

    return value(len(rows))


@pytest.mark.parametrize("local", LOCALS)
@pytest.mark.parametrize("across", GLOBALS)
@pytest.mark.parametrize("length", ["none", "L1", "L2"])
@pytest.mark.parametrize("base", ["e", "2", "10"])
def test_worked_weights_equal_the_matrix(local: str, across: str, length: str, base: str) -> None:
    settings = WeighSettings(local=local, global_=across, length=length, log_base=base)  # type: ignore[arg-type]
    space = space_of(random_counts(2, 30), local=local, global_=across, length=length, log_base=base)
    dense = space.weights.toarray()
    counts = space.terms.counts.toarray()
    for row, column in [(0, 3), (1, 1), (7, 20), (12, 5), *np.argwhere(counts > 1)[:6].tolist()]:
        cell = worked(space, settings, row, column)
        assert np.float32(cell.weight) == dense[row, column]
        assert (cell.times, cell.all_times) == (counts[row, column], counts[row].sum())
        assert (cell.documents, cell.n) == ((counts[:, column] > 0).sum(), 30)
        assert cell.product == pytest.approx(cell.local * cell.global_)
        assert recomputed(as_sheet(cell)) == pytest.approx(cell.product / cell.length, rel=1e-12, abs=1e-15)


def test_by_hand() -> None:
    """Twice of five in its document, in one of three documents: (1 + ln 2) ln 3 ÷ length."""
    space = space_of(np.array([[2, 3], [0, 1], [0, 1]]))
    cell = worked(space, WeighSettings(), 0, 0)
    assert cell.local == pytest.approx(1 + math.log(2))
    assert cell.global_ == pytest.approx(math.log(3))
    assert cell.length == pytest.approx(
        (1 + math.log(2)) * math.log(3)
    )  # the other stands everywhere and weighs nothing
    assert cell.weight == 1
    assert isinstance(cell, Worked)
    assert worked(space, WeighSettings(), 1, 0).weight == 0
