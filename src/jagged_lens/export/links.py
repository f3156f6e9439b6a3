# SPDX-License-Identifier: GPL-3.0-or-later
"""The network of alike documents as GraphML (Brandes et al., "GraphML progress report", 2002)."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from xml.sax.saxutils import escape, quoteattr

import numpy as np
from numpy.typing import NDArray

from jagged_lens.compare import Kind, Pairs
from jagged_lens.export.cells import kept_apart, numbers
from jagged_lens.gather import Corpus, Label
from jagged_lens.group import letter
from jagged_lens.xml_text import xml_text

_HEAD = """<?xml version="1.0" encoding="UTF-8"?>
<graphml xmlns="http://graphml.graphdrawing.org/xmlns">
"""


def write_links(
    path: Path,
    corpus: Corpus,
    rows: NDArray[np.integer],
    pairs: Pairs,
    group: NDArray[np.integer],
    labels: Sequence[Label],
) -> None:
    """Write all documents that are in a pair, with title, group and labels, and all pairs, with similarity and kind.

    rows: int32, n, the corpus row of each document. group: int64, n, -1 for none.
    """
    linked = np.unique(np.concatenate((pairs.first, pairs.second))).tolist()
    with path.open("w", encoding="utf-8", errors="replace", newline="\n") as file:
        file.write(_HEAD)
        names = ["title", "group", *(f"label.{label.name}" for label in labels)]
        for at, name in enumerate(names):
            file.write(f'<key id="d{at}" for="node" attr.name={_quoted(name)} attr.type="string"/>\n')
        file.write('<key id="similarity" for="edge" attr.name="similarity" attr.type="double"/>\n')
        file.write('<key id="kind" for="edge" attr.name="kind" attr.type="string"/>\n')
        file.write('<graph edgedefault="undirected">\n')
        ids = kept_apart([corpus.keys[int(rows[place])] for place in linked], xml_text)
        for place, own in zip(linked, ids, strict=True):
            row = int(rows[place])
            values = [corpus.titles[row], letter(int(group[place])) if group[place] >= 0 else ""]
            values += [label.value(row) for label in labels]
            data = "".join(
                f'<data key="d{at}">{escape(xml_text(value))}</data>' for at, value in enumerate(values) if value
            )
            file.write(f"<node id={_quoted(own)}>{data}</node>\n")
        likeness = numbers(pairs.similarity)
        of_place = dict(zip(linked, ids, strict=True))
        for at in range(len(pairs)):
            first, second = (of_place[int(side[at])] for side in (pairs.first, pairs.second))
            file.write(
                f"<edge source={_quoted(first)} target={_quoted(second)}>"
                f'<data key="similarity">{likeness[at]}</data>'
                f'<data key="kind">{Kind(int(pairs.kind[at])).name.lower()}</data></edge>\n'
            )
        file.write("</graph>\n</graphml>\n")


def _quoted(text: str) -> str:
    return quoteattr(xml_text(text))
