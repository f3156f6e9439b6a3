# SPDX-License-Identifier: GPL-3.0-or-later
"""The report as a piece that leaves the window, in four formats."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from jagged_lens.desktop.desks.report.pages import pixels_of, write_pdf
from jagged_lens.desktop.saving import Kind, Piece
from jagged_lens.named_file import write_text
from jagged_lens.report import Report, html_of, markdown_of


def report_piece(made: Callable[[], Report], copy: Callable[[], str] | None = None) -> Piece:
    """The report in all its formats. made: makes it, in any thread."""

    def kind(words: str, ending: str) -> Kind:
        return Kind(words, ending, lambda path, order: write_report(path, made()))

    kinds = (
        kind("Web page (.html)", ".html"),
        kind("PDF (.pdf)", ".pdf"),
        kind("Word processor (.docx)", ".docx"),
        kind("Markdown, with its pictures beside it (.md)", ".md"),
    )
    return Piece("The report", "report", kinds, copy)


def write_report(path: Path, report: Report) -> None:
    """Write the report in the format of the ending. OSError where it cannot be written."""
    ending = path.suffix.lower()
    if ending == ".pdf":
        write_pdf(path, report)
    elif ending == ".docx":
        from jagged_lens.report.word import docx_of  # not at the start: its library takes a while to load

        path.write_bytes(docx_of(report, pixels_of))
    elif ending == ".md":
        text, pictures = markdown_of(report, path.stem)
        write_text(path, text)
        for name, content in pictures.items():
            path.with_name(name).write_bytes(content)
    else:
        write_text(path, html_of(report))
