"""Group: a vector space to groups of documents, and what tells them apart."""

from jagged_lens.group.key_terms import KeyTerms, documents_of, key_terms, key_terms_of_groups, log_likelihood
from jagged_lens.group.kmeans import Grouping, k_means, letter
from jagged_lens.group.settings import GroupSettings

__all__ = [
    "GroupSettings",
    "Grouping",
    "KeyTerms",
    "documents_of",
    "k_means",
    "key_terms",
    "key_terms_of_groups",
    "letter",
    "log_likelihood",
]
