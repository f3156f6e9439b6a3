# SPDX-License-Identifier: GPL-3.0-or-later
"""The report: what a lens shows, and how sure that is, for somebody who has not seen the window."""

from jagged_lens.report.content import (
    Aside,
    Listing,
    Paragraph,
    Part,
    Picture,
    Quoted,
    Report,
    Section,
    Subheading,
    Table,
)
from jagged_lens.report.figures import PICKED, figures_of, group_of, groups_rows, title_of
from jagged_lens.report.markdown import markdown_of
from jagged_lens.report.page import html_of
from jagged_lens.report.standing import STANDING, STANDING_TITLES, group_name, group_names
from jagged_lens.report.whole import report_of

__all__ = [
    "PICKED",
    "STANDING",
    "STANDING_TITLES",
    "Aside",
    "Listing",
    "Paragraph",
    "Part",
    "Picture",
    "Quoted",
    "Report",
    "Section",
    "Subheading",
    "Table",
    "figures_of",
    "group_name",
    "group_names",
    "group_of",
    "groups_rows",
    "html_of",
    "markdown_of",
    "report_of",
    "title_of",
]
