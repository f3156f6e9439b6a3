# SPDX-License-Identifier: GPL-3.0-or-later
"""The report: what a lens shows, and how sure that is, for somebody who has not seen the window."""

from jagged_lens.report.content import Listing, Paragraph, Picture, Report, Section, Table
from jagged_lens.report.markdown import markdown_of
from jagged_lens.report.page import html_of
from jagged_lens.report.standing import STANDING, group_name, group_names, report_of

__all__ = [
    "STANDING",
    "Listing",
    "Paragraph",
    "Picture",
    "Report",
    "Section",
    "Table",
    "group_name",
    "group_names",
    "html_of",
    "markdown_of",
    "report_of",
]
