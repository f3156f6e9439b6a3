# SPDX-License-Identifier: GPL-3.0-or-later
"""The project: what the user can change, undo, and the plain model behind the window."""

from jagged_lens.project.bench import Bench
from jagged_lens.project.decisions import (
    BOTH,
    CHOICES,
    FIRST,
    LATER,
    SECOND,
    Decision,
    dropped,
    going,
    gone_of,
    standing,
    state_of,
)
from jagged_lens.project.differences import Difference, differences
from jagged_lens.project.file import ProjectFile, Reading
from jagged_lens.project.findings import (
    Drawing,
    Entry,
    Figures,
    Finding,
    Heading,
    Quote,
    Rows,
    Way,
    Words,
    changed_figures,
    next_number,
    worded,
)
from jagged_lens.project.group_names import GroupName, GroupNames, followed, names_of
from jagged_lens.project.keeper import Keeper, crashed_projects, hold, left_over, unnamed_folder
from jagged_lens.project.narrowing import common_of, only_these, said_values, without_these
from jagged_lens.project.opening import job_at, new_sources, opened
from jagged_lens.project.packing import PACKED, TEXTS, pack, said_without
from jagged_lens.project.pick import Pick, Picked
from jagged_lens.project.profile import profile, share_through
from jagged_lens.project.refreshed import Refreshed
from jagged_lens.project.runs_of_characters import read_as_runs
from jagged_lens.project.schema import ENDING, NotWritableError, ProjectError, create
from jagged_lens.project.second import Second
from jagged_lens.project.sending import Sending, said_after
from jagged_lens.project.shown import Shown
from jagged_lens.project.snapshot import Snapshot
from jagged_lens.project.state import History, KeptPick, LensState, OwnLabel, ProjectState, refusal, suggested_name
from jagged_lens.project.theme_names import strongest, theme_names
from jagged_lens.project.verbs import SHARED, Verbs

__all__ = [
    "BOTH",
    "CHOICES",
    "ENDING",
    "FIRST",
    "LATER",
    "PACKED",
    "SECOND",
    "SHARED",
    "TEXTS",
    "Bench",
    "Decision",
    "Difference",
    "Drawing",
    "Entry",
    "Figures",
    "Finding",
    "GroupName",
    "GroupNames",
    "Heading",
    "History",
    "Keeper",
    "KeptPick",
    "LensState",
    "NotWritableError",
    "OwnLabel",
    "Pick",
    "Picked",
    "ProjectError",
    "ProjectFile",
    "ProjectState",
    "Quote",
    "Reading",
    "Refreshed",
    "Rows",
    "Second",
    "Sending",
    "Shown",
    "Snapshot",
    "Verbs",
    "Way",
    "Words",
    "changed_figures",
    "common_of",
    "crashed_projects",
    "create",
    "differences",
    "dropped",
    "followed",
    "going",
    "gone_of",
    "hold",
    "job_at",
    "left_over",
    "names_of",
    "new_sources",
    "next_number",
    "only_these",
    "opened",
    "pack",
    "profile",
    "read_as_runs",
    "refusal",
    "said_after",
    "said_values",
    "said_without",
    "share_through",
    "standing",
    "state_of",
    "strongest",
    "suggested_name",
    "theme_names",
    "unnamed_folder",
    "without_these",
    "worded",
]
