"""Map: a vector space to two dimensions, and how far they can be trusted."""

from jagged_lens.map.near import nearest_on_map
from jagged_lens.map.pca import Projection, pca
from jagged_lens.map.settings import MapSettings
from jagged_lens.map.trust import NEAREST, MapLayout, trusted

__all__ = ["NEAREST", "MapLayout", "MapSettings", "Projection", "nearest_on_map", "pca", "trusted"]
