# SPDX-License-Identifier: GPL-3.0-or-later
"""Readers of tables: CSV and TSV, spreadsheets, JSON Lines, Parquet. Each gives rows of texts, one after the other."""

from jagged_lens.gather.tables.registry import TABLES, is_hard, open_table
from jagged_lens.gather.tables.table import Table

__all__ = ["TABLES", "Table", "is_hard", "open_table"]
