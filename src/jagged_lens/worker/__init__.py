# SPDX-License-Identifier: GPL-3.0-or-later
"""The worker: who asks for what, in which order it is computed, and the process that computes it."""

from jagged_lens.worker.news import (
    Began,
    Deferred,
    Done,
    Ending,
    Failed,
    Finished,
    Grew,
    News,
    Planned,
    Restarted,
    Share,
)
from jagged_lens.worker.queue import Queue, UnderWay
from jagged_lens.worker.request import Ended, Owner, Request, Urgency
from jagged_lens.worker.worker import Worker

__all__ = [
    "Began",
    "Deferred",
    "Done",
    "Ended",
    "Ending",
    "Failed",
    "Finished",
    "Grew",
    "News",
    "Owner",
    "Planned",
    "Queue",
    "Request",
    "Restarted",
    "Share",
    "UnderWay",
    "Urgency",
    "Worker",
]
