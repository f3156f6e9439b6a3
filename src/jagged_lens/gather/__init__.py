# SPDX-License-Identifier: GPL-3.0-or-later
"""Gather: sources to a corpus."""

from jagged_lens.gather.corpus import NO_DATE, Corpus, Doubt, Label, Number, Page, Unread
from jagged_lens.gather.database import split_password, tables_in
from jagged_lens.gather.dates import text_of_day
from jagged_lens.gather.encoding import decoded
from jagged_lens.gather.entries import entries_but, entry_of, parted, values_by_label
from jagged_lens.gather.files import files_of
from jagged_lens.gather.find import Query, find, query_of
from jagged_lens.gather.keep import label_named, own_labels, rows_to_keep
from jagged_lens.gather.numbers import numbers_of
from jagged_lens.gather.pages import PageStore
from jagged_lens.gather.preview import Preview, preview, tables_of
from jagged_lens.gather.proposed import Proposed, proposed, together
from jagged_lens.gather.readers import ENDINGS
from jagged_lens.gather.roles import ROLES, Role, roles_in, source_with, warning
from jagged_lens.gather.settings import GatherSettings, settings_from
from jagged_lens.gather.source import Source, plain_source, source_of
from jagged_lens.gather.sources import Means, assembled, failed_source, gather, read_source, read_sources
from jagged_lens.gather.tables import TABLES
from jagged_lens.gather.units import wholes_of

__all__ = [
    "ENDINGS",
    "NO_DATE",
    "ROLES",
    "TABLES",
    "Corpus",
    "Doubt",
    "GatherSettings",
    "Label",
    "Means",
    "Number",
    "Page",
    "PageStore",
    "Preview",
    "Proposed",
    "Query",
    "Role",
    "Source",
    "Unread",
    "assembled",
    "decoded",
    "entries_but",
    "entry_of",
    "failed_source",
    "files_of",
    "find",
    "gather",
    "label_named",
    "numbers_of",
    "own_labels",
    "parted",
    "plain_source",
    "preview",
    "proposed",
    "query_of",
    "read_source",
    "read_sources",
    "roles_in",
    "rows_to_keep",
    "settings_from",
    "source_of",
    "source_with",
    "split_password",
    "tables_in",
    "tables_of",
    "text_of_day",
    "together",
    "values_by_label",
    "warning",
    "wholes_of",
]
