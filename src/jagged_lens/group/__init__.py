"""Group: a vector space to groups of documents, and what tells them apart."""

from jagged_lens.group.kmeans import Grouping, k_means, letter
from jagged_lens.group.settings import GroupSettings
from jagged_lens.group.telling import Telling, log_likelihood, tell_groups, telling_terms

__all__ = [
    "GroupSettings",
    "Grouping",
    "Telling",
    "k_means",
    "letter",
    "log_likelihood",
    "tell_groups",
    "telling_terms",
]
