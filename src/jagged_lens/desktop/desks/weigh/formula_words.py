# SPDX-License-Identifier: GPL-3.0-or-later
"""The parts of the formula in words, as signs, and as numbers."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from jagged_lens.explain import Worked
from jagged_lens.weigh import WeighSettings, local_weights

LOG = {"e": "ln", "2": "log₂", "10": "log₁₀"}
LOCAL = {
    "presence": ("present or not", "1"),
    "count": ("count", "c"),
    "share": ("share of the document", "c ÷ Σc"),
    "log": ("log of the count", "1 + ln c"),
}
GLOBAL = {
    "none": ("none", "1"),
    "plain": ("idf, plain", "{log}(N / df)"),
    "guarded": ("idf, guarded", "{log}(N / (1 + df))"),
    "lifted": ("idf, lifted", "{log}((1 + N) / (1 + df)) + 1"),
    "probabilistic": ("idf, probabilistic", "max(0, {log}((N − df) / df))"),
    "entropy": ("entropy", "1 + Σ p ln p / ln N"),
}
LENGTH = {"none": ("as it is", "1"), "L1": ("sum of weights", "Σ|w|"), "L2": ("length", "√Σw²")}
PARTS = {
    "local": ("Within the document", LOCAL),
    "global": ("Over all documents", GLOBAL),
    "length": ("Divided by", LENGTH),
}
"""The parts of the formula by their recipe keys: what each is called, and its kinds."""


def formula(settings: WeighSettings) -> str:
    """The whole formula as signs."""
    local, across = LOCAL[settings.local][1], GLOBAL[settings.global_][1].format(log=LOG[settings.log_base])
    parts = [f"({local})" if " " in local and settings.local == "log" else local]
    if settings.global_ != "none":
        parts.append(f"({across})" if " + " in across else across)
    over = "" if settings.length == "none" else f"  ÷  {LENGTH[settings.length][1]}"
    return "w  =  " + "  ×  ".join(parts) + over


def local_curve(kind: str, most: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The local weight of counts from 1 to `most`, in a document of that many terms."""
    x = np.arange(1, most + 1)
    counts = csr_array((x.astype(np.int32), (np.zeros(len(x), np.int64), np.arange(len(x)))), shape=(1, len(x)))
    y = x / most if kind == "share" else local_weights(counts, kind)
    return x.astype(np.float64), np.asarray(y, np.float64)


def length_curve(kind: str, most: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The divisor of a document of 1 to `most` terms of weight 1."""
    x = np.arange(1, most + 1, dtype=np.float64)
    return x, {"none": np.ones(most), "L1": x, "L2": np.sqrt(x)}[kind]


def steps(cell: Worked) -> list[tuple[str, str]]:
    """The arithmetic of one weight: what each line says, and its number as far as it goes."""
    settings = cell.settings
    log = LOG[settings.log_base]
    c, df, n = cell.times, cell.documents, cell.n
    local = {
        "presence": "1",
        "count": f"c = {c:,}",
        "share": f"c ÷ Σc = {c:,} ÷ {cell.all_times:,}",
        "log": f"1 + ln c = 1 + ln {c:,}",
    }[settings.local]
    across = {
        "none": "1",
        "plain": f"{log}(N / df) = {log}({n:,} / {df:,})",
        "guarded": f"{log}(N / (1 + df)) = {log}({n:,} / {1 + df:,})",
        "lifted": f"{log}((1 + N) / (1 + df)) + 1 = {log}({1 + n:,} / {1 + df:,}) + 1",
        "probabilistic": f"max(0, {log}((N − df) / df)) = max(0, {log}({n - df:,} / {df:,}))",
        "entropy": f"1 + Σ p ln p / ln N = 1 + {cell.spread:.6f} / ln {n:,}",
    }[settings.global_]
    over = {
        "none": "the document keeps its length",
        "L1": "Σ|w| over all terms of the document",
        "L2": "√Σw² over all terms of the document",
    }[settings.length]
    return [
        (f"Within the document: {local if c else 'the document does not contain it'}", number(cell.local)),
        (f"Over all documents: {across}", number(cell.global_)),
        ("Product", number(cell.product)),
        (f"Divided by: {over}", number(cell.length)),
        ("Weight", number(cell.weight)),
    ]


def number(value: float) -> str:
    """A weight with the digits that its single precision has."""
    return str(np.float32(value))
