"""The project: what the user can change, undo, and the plain model behind the window."""

from jagged_lens.project.bench import Bench, opened
from jagged_lens.project.pick import Pick
from jagged_lens.project.state import History, LensState, ProjectState

__all__ = ["Bench", "History", "LensState", "Pick", "ProjectState", "opened"]
