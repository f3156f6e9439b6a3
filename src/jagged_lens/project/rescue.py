# SPDX-License-Identifier: GPL-3.0-or-later
"""From the documents in the window back into a project, where no file holds them any more."""

from __future__ import annotations

import dataclasses

import numpy as np

from jagged_lens.gather import Corpus, Source, wholes_of
from jagged_lens.lens import stamp_of
from jagged_lens.project.file import ProjectFile
from jagged_lens.project.state import ProjectState


def rescue(file: ProjectFile, state: ProjectState, corpus: Corpus, fresh: bool) -> dict[Source, str]:
    """Keep the documents of the sources of a state in a file. Gives the stamps of those of which there are any. ProjectError where
    that does not work.

    corpus: in whatever units. fresh: whether it is of these sources; else only those are kept that the state knows the stamps of.
    """
    whole = wholes_of(corpus)
    known = {stamp: source for source, stamp in state.stamps}
    stamps: dict[Source, str] = {}
    for number, (stamp, count) in enumerate(zip(whole.stamps, whole.counts, strict=True)):
        source = state.sources[number] if fresh else known.get(stamp)
        if source is None or not count:
            continue
        own = whole.take(np.flatnonzero(whole.source == number))
        if number == 0:  # of which source the others speak is not known
            own = dataclasses.replace(own, notices=whole.notices, unread=whole.unread)
        doubts = tuple(doubt for doubt in whole.doubts if doubt.source == number)
        stamps[source] = stamp or stamp_of(source, state.folder)
        file.keep_documents(stamps[source], source, dataclasses.replace(own, doubts=doubts))
    return stamps
