"""Place: new documents seen through a lens as it stands."""

from jagged_lens.place.typed import Typed, taken_through

__all__ = ["Typed", "taken_through"]
