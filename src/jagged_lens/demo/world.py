# SPDX-License-Identifier: GPL-3.0-or-later
"""The world of the Larkmoor notes: crops, districts, seasons, years, and slips of the pen."""

from __future__ import annotations

CROPS = {
    "bean": ("runner beans", "Runner bean", ("Fen Scarlet", "Grey Heron", "Tall Widow")),
    "tomato": ("tomatoes", "Tomato", ("Ember Drop", "Old Parish", "Moor Lamp")),
    "squash": ("squash", "Squash", ("Grey Lantern", "Pale Bishop", "Owl Gourd")),
    "barley": ("barley", "Barley", ("Heron", "Moorcock", "Long Acre")),
    "lettuce": ("lettuce", "Lettuce", ("Winter Moss", "Tin Bell", "Red Verger")),
    "garlic": ("garlic", "Garlic", ("Mardle Hard", "Lamb Soft", "Sexton")),
    "poppy": ("poppies", "Poppy", ("Dusk", "Lady Soot", "Tinker")),
    "leek": ("leeks", "Leek", ("Salt Road", "Curlew", "Old Beam")),
    "pea": ("peas", "Pea", ("Tall Candle", "Purple Monk", "Sally Gate")),
    "beet": ("beets", "Beet", ("Bull Ring", "Drummer", "Cold Ember")),
}
DISTRICTS = {
    "Marlpit": "heavy clay",
    "Upper Sallow": "loam",
    "Otter Bank": "sand",
    "Low Hythe": "peat",
    "Cinder Row": "chalk",
    "Brackenside": "loam",
}
SEASONS = {
    "wet": ("slugs", "slugs", "slugs", "blight", "blight", "rust", "rust", "mice"),
    "dry": ("drought", "drought", "drought", "mildew", "mildew", "birds", "bolting"),
    "cold": ("frost", "frost", "frost", "slugs", "bolting", "mice"),
    "mild": ("birds", "birds", "mildew", "mice", "rust", "bolting", "blight"),
    "windy": ("wind", "wind", "wind", "birds", "drought"),
}
DIALECT = {"slug": "loddy", "slugs": "loddies", "Slug": "Loddy", "Slugs": "Loddies"}
DIALECT_DISTRICTS = ("Otter Bank", "Low Hythe")
# How often each season was in which year, out of ten: the wet years came first, the dry ones later.
YEARS = {
    "wet": (5, 3, 2, 0, 0),
    "dry": (0, 0, 2, 3, 5),
    "cold": (3, 3, 2, 1, 1),
    "mild": (2, 2, 2, 2, 2),
    "windy": (2, 2, 2, 2, 2),
}
SLIPS = {
    "which": "wich",
    "their": "thier",
    "until": "untill",
    "seedling": "seedlin",
    "seedlings": "seedlngs",
    "tomatoes": "tomatos",
    "received": "recieved",
    "weather": "wether",
    "growing": "growin",
    "through": "thru",
    "leaves": "leafs",
    "would": "woud",
    "again": "agian",
    "neighbours": "neigbours",
    "believe": "beleive",
    "morning": "mornig",
    "plants": "plnats",
    "because": "becuase",
}
# In which months each crop is sown and picked, and until when it keeps.
SOWN: dict[str, tuple[str, ...]] = {
    "bean": ("May", "June"), "tomato": ("February", "March", "April"), "squash": ("April", "May"), "barley": ("March", "April"),
    "lettuce": ("March", "April", "May"), "garlic": ("October", "November"), "poppy": ("March", "April"), "leek": ("March", "April"),
    "pea": ("March", "April"), "beet": ("April", "May"),
}  # fmt: skip
PICKED: dict[str, tuple[str, ...]] = {
    "bean": ("July", "August", "September"), "tomato": ("August", "September"), "squash": ("September", "October"),
    "barley": ("August", "September"), "lettuce": ("June", "July"), "garlic": ("July", "August"), "poppy": ("July", "August"),
    "leek": ("October", "November", "December"), "pea": ("June", "July"), "beet": ("August", "September", "October"),
}  # fmt: skip
GONE: dict[str, tuple[str, ...]] = {
    "bean": ("October", "November"), "tomato": ("October", "November"), "squash": ("February", "March"), "barley": ("March", "May"),
    "lettuce": ("July", "August"), "garlic": ("March", "April"), "poppy": ("October", "November"), "leek": ("March", "April"),
    "pea": ("July", "August"), "beet": ("February", "March"),
}  # fmt: skip
LITTLE_SAID = ("poppy", "squash")
"""Crops of which the notes tell little, so that their groups are loose."""
KIND = {"bean": "runner bean"}
FUNCTION_WORDS = frozenset(
    """
    about after again against also another before behind being between came come could down each else ever every everything from have
    having into itself just like more most much never none once only other others over same should some something such than that their
    them then there these they this those through under until upon very well were what when where which while whole will with without
    would your
    """.split()  # noqa: SIM905 - as a list it would be a page
)
