"""The project: what the user can change, undo, and the plain model behind the window."""

from jagged_lens.project.bench import Bench, opened
from jagged_lens.project.pick import Pick
from jagged_lens.project.profile import profile, share_through
from jagged_lens.project.state import History, KeptPick, LensState, OwnLabel, ProjectState

__all__ = [
    "Bench",
    "History",
    "KeptPick",
    "LensState",
    "OwnLabel",
    "Pick",
    "ProjectState",
    "opened",
    "profile",
    "share_through",
]
