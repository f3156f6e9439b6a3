# SPDX-License-Identifier: GPL-3.0-or-later
"""Map: a vector space to two dimensions, and how far they can be trusted."""

from jagged_lens.map.laid import Laid
from jagged_lens.map.lay_out import lay_out
from jagged_lens.map.links import Links, lay_out_links
from jagged_lens.map.near import nearest_on_map
from jagged_lens.map.pca import Projection, pca
from jagged_lens.map.regions import Region, regions
from jagged_lens.map.rings import rings
from jagged_lens.map.scaling import scaling
from jagged_lens.map.separation import Separation, separation, strangers
from jagged_lens.map.settings import MapSettings
from jagged_lens.map.term_points import TermPoints, term_places, term_points
from jagged_lens.map.trust import NEAREST, MapLayout, trusted
from jagged_lens.map.tsne import t_sne

__all__ = [
    "NEAREST",
    "Laid",
    "Links",
    "MapLayout",
    "MapSettings",
    "Projection",
    "Region",
    "Separation",
    "TermPoints",
    "lay_out",
    "lay_out_links",
    "nearest_on_map",
    "pca",
    "regions",
    "rings",
    "scaling",
    "separation",
    "strangers",
    "t_sne",
    "term_places",
    "term_points",
    "trusted",
]
