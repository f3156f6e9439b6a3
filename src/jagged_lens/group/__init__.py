"""Group: a vector space to groups of documents, and what tells them apart."""

from jagged_lens.group.key_terms import KeyTerms, document_frequencies, key_terms, key_terms_of_groups, log_likelihood
from jagged_lens.group.kmeans import Grouping, k_means, letter
from jagged_lens.group.settings import GroupSettings

__all__ = [
    "GroupSettings",
    "Grouping",
    "KeyTerms",
    "document_frequencies",
    "k_means",
    "key_terms",
    "key_terms_of_groups",
    "letter",
    "log_likelihood",
]
