# SPDX-License-Identifier: GPL-3.0-or-later
"""The report as a file, in the format that the user chooses."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from jagged_lens.desktop.desks.report.pages import png_of, write_pdf
from jagged_lens.desktop.saving import save_to
from jagged_lens.named_file import write_text
from jagged_lens.report import Report, docx_of, html_of, markdown_of

KINDS = {
    "Web page (*.html)": ".html",
    "PDF (*.pdf)": ".pdf",
    "Word processor (*.docx)": ".docx",
    "Markdown (*.md)": ".md",
}
"""The formats by their words in the dialog."""


def save_report(parent: QWidget, folder: Path, made: Callable[[], Report]) -> None:
    """Ask for a file, and have the report written beside the window. made: makes it, there."""
    start = str(folder / "report.html")
    name, kind = QFileDialog.getSaveFileName(parent.window(), "Save the report", start, ";;".join(KINDS))
    if not name:
        return
    path = Path(name)
    if path.suffix.lower() not in KINDS.values():
        path = path.with_name(path.name + KINDS.get(kind, ".html"))
    save_to(parent, path, lambda beside: write_report(beside, made()))


def write_report(path: Path, report: Report) -> None:
    """Write the report in the format of the ending. OSError where it cannot be written."""
    ending = path.suffix.lower()
    if ending == ".pdf":
        write_pdf(path, report)
    elif ending == ".docx":
        path.write_bytes(docx_of(report, png_of))
    elif ending == ".md":
        text, pictures = markdown_of(report, path.stem)
        write_text(path, text)
        for name, content in pictures.items():
            path.with_name(name).write_bytes(content)
    else:
        write_text(path, html_of(report))
