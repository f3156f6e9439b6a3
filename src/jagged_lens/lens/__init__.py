"""The lens: a recipe, the graph of its steps, memory of results, and the worker that computes them."""

from jagged_lens.lens.chain import Memory, Recent, Witness, compute, keys_of
from jagged_lens.lens.recipe import STEPS, Recipe, recipe_of, settings_of
from jagged_lens.lens.recipe_file import read_recipe, recipe_text, sections_of
from jagged_lens.lens.steps import PARTS, Job, Part
from jagged_lens.lens.store import Store, stamp_of
from jagged_lens.lens.worker import Began, Done, Failed, Finished, News, Planned, Restarted, Share, Worker

__all__ = [
    "PARTS",
    "STEPS",
    "Began",
    "Done",
    "Failed",
    "Finished",
    "Job",
    "Memory",
    "News",
    "Part",
    "Planned",
    "Recent",
    "Recipe",
    "Restarted",
    "Share",
    "Store",
    "Witness",
    "Worker",
    "compute",
    "keys_of",
    "read_recipe",
    "recipe_of",
    "recipe_text",
    "sections_of",
    "settings_of",
    "stamp_of",
]
