# SPDX-License-Identifier: GPL-3.0-or-later
"""The weight of a term in a document: every step of the formula with its numbers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_array

from jagged_lens.terms import TermCounts
from jagged_lens.weigh import VectorSpace, WeighSettings, lengths_of_rows, local_weights


@dataclass(frozen=True)
class Worked:
    """One weight, worked through.

    term: as it is shown. times: c, how often the document holds it; all_times: Σc, over all terms of the document. documents: df of
    n. spread: Σ p ln p of the term's shares of documents, for the weight by entropy. local, global_, product, length: the three parts;
    weight = product ÷ length, rounded to float32 as in weights.mtx; 0 where the document does not hold the term.
    """

    term: str
    times: int
    all_times: int
    documents: int
    n: int
    spread: float
    local: float
    global_: float
    product: float
    length: float
    weight: float
    settings: WeighSettings


def worked(space: VectorSpace, settings: WeighSettings, row: int, column: int) -> Worked:
    """The weight of a column in a row, worked through. The weights are equal to those of the space to the last digit."""
    terms: TermCounts = space.terms
    counts = terms.counts
    own = slice(int(counts.indptr[row]), int(counts.indptr[row + 1]))
    columns, times = counts.indices[own], counts.data[own]
    one = csr_array((times, columns, np.array([0, len(times)])), shape=(1, counts.shape[1]))
    local = local_weights(one, settings.local)
    products = local * space.global_weights[columns]
    length = float(lengths_of_rows(one, products, settings.length)[0])
    at = np.flatnonzero(columns == column)
    there = len(at) > 0
    of_term = counts.data[counts.indices == column].astype(np.float64)
    shares = of_term / of_term.sum() if len(of_term) else of_term
    product = float(products[at[0]]) if there else 0.0
    return Worked(
        terms.shown[column],
        int(times[at[0]]) if there else 0,
        int(times.sum()),
        len(of_term),
        counts.shape[0],
        float((shares * np.log(shares)).sum()) if len(shares) else 0.0,
        float(local[at[0]]) if there else 0.0,
        float(space.global_weights[column]),
        product,
        length,
        float(np.float32(product / length)),
        settings,
    )


def as_sheet(cell: Worked) -> str:
    """The steps as tab-separated rows (name, value) that a spreadsheet computes again when they are put into its cell A1.

    The values come first, the formulas refer to them; logarithms in the base of the lens.
    """
    settings = cell.settings
    local = {"presence": "=1", "count": "=B2", "share": "=B2/B3", "log": "=1+LN(B2)"}[settings.local]
    log = "LN({})" if settings.log_base == "e" else f"LOG({{}},{settings.log_base})"
    across = {
        "none": "=1",
        "plain": "=" + log.format("B5/B4"),
        "guarded": "=" + log.format("B5/(1+B4)"),
        "lifted": "=" + log.format("(1+B5)/(1+B4)") + "+1",
        "probabilistic": f"=IF(B4<B5,MAX(0,{log.format('(B5-B4)/B4')}),0)",
        "entropy": "=IF(B5>1,1+B6/LN(B5),0)",
    }[settings.global_]
    if not cell.times:
        local = "=0"
    rows = [
        ("occurrences in the document, c", str(cell.times)),
        ("occurrences of all terms in the document, Σc", str(cell.all_times)),
        ("documents with the term, df", str(cell.documents)),
        ("documents, N", str(cell.n)),
        ("Σ p ln p over the documents", repr(cell.spread)),
        (f"length of the document ({settings.length})", repr(cell.length)),
        (f"within the document: {settings.local}", local),
        (f"over all documents: {settings.global_}", across),
        ("product", "=B8*B9"),
        ("weight", "=B10/B7"),
    ]
    return "\n".join(f"{name}\t{value}" for name, value in [("weight of", f'"{cell.term}"'), *rows]) + "\n"
