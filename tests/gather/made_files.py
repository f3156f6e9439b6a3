# SPDX-License-Identifier: GPL-3.0-or-later
"""Files of every kind, made by the counterpart of the reader that is tested on them."""

from __future__ import annotations

import io
import zipfile
from email.message import EmailMessage
from pathlib import Path

import docx
import openpyxl
import pyarrow
import pyarrow.parquet
from odf.opendocument import OpenDocumentSpreadsheet, OpenDocumentText
from odf.table import Table, TableCell, TableRow
from odf.text import H, P
from reportlab.pdfgen import canvas

SAID = "The slugs took the first sowing on plot {}."


def docx_bytes(text: str) -> bytes:
    document, out = docx.Document(), io.BytesIO()
    document.add_heading("A return note", 1)
    document.add_paragraph(text)
    document.add_table(1, 2).cell(0, 1).text = "in a table"
    document.save(out)
    return out.getvalue()


def odt_bytes(text: str) -> bytes:
    document, out = OpenDocumentText(), io.BytesIO()
    document.text.addElement(H(outlinelevel=1, text="A return note"))
    document.text.addElement(P(text=text))
    document.write(out)
    return out.getvalue()


def pdf_bytes(*lines: str, password: str = "", picture: bool = False, columns: bool = False) -> bytes:
    out = io.BytesIO()
    encrypt = None
    if password:
        from reportlab.lib.pdfencrypt import StandardEncryption

        encrypt = StandardEncryption(password, strength=40)
    page = canvas.Canvas(out, encrypt=encrypt)
    if picture:
        from PIL import Image
        from reportlab.lib.utils import ImageReader

        page.drawImage(ImageReader(Image.new("RGB", (40, 40), "green")), 100, 500)
    places = list(enumerate(lines))
    for number, line in places:
        left, down = (60, number) if not columns or number < len(lines) / 2 else (330, number - len(lines) // 2)
        page.drawString(left, 760 - 18 * down, line)
    page.save()
    return out.getvalue()


def mail_bytes(text: str, subject: str = "A return note", html: bool = False) -> bytes:
    message = EmailMessage()
    message["Subject"], message["From"], message["To"] = subject, "plot-3@larkmoor.example", "room@larkmoor.example"
    message["Date"] = "Mon, 03 May 2021 10:00:00 +0000"
    message.set_content(f"<p>{text}</p>" if html else text, subtype="html" if html else "plain")
    message.add_attachment(b"seeds", maintype="application", subtype="octet-stream", filename="seeds.bin")
    return message.as_bytes()


def mbox_bytes(*texts: str) -> bytes:
    return b"\n".join(b"From plot Mon May  3 2021\n" + mail_bytes(text) for text in texts)


def zip_bytes(members: dict[str, bytes], password_flag: bool = False) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in members.items():
            archive.writestr(name, data)
    packed = bytearray(out.getvalue())
    if password_flag:  # the bit that says "encrypted", in the local and in the central head
        for magic, offset in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
            at = packed.find(magic)
            while at >= 0:
                packed[at + offset] |= 1
                at = packed.find(magic, at + 4)
    return bytes(packed)


LENS_ROWS = [
    ["id", "note", "crop", "day", "weight"],
    ["A", SAID.format(1), "bean", "2021-05-03", 2.5],
    ["B", SAID.format(2), "pea", "2021-06-01", 3],
]


def make_xlsx(path: Path) -> None:
    book = openpyxl.Workbook()
    book.active.title = "empty"
    sheet = book.create_sheet("notes")
    for row in LENS_ROWS:
        sheet.append(row)
    book.save(path)


def make_ods(path: Path) -> None:
    document, sheet = OpenDocumentSpreadsheet(), Table(name="notes")
    for row in LENS_ROWS:
        line = TableRow()
        for cell in row:
            kind = {"valuetype": "float", "value": cell} if isinstance(cell, (int, float)) else {"valuetype": "string"}
            made = TableCell(**kind)
            made.addElement(P(text=str(cell)))
            line.addElement(made)
        sheet.addElement(line)
    document.spreadsheet.addElement(sheet)
    document.save(str(path))


def make_parquet(path: Path) -> None:
    columns = {name: [row[at] for row in LENS_ROWS[1:]] for at, name in enumerate(LENS_ROWS[0])}
    columns["weight"] = [float(value) for value in columns["weight"]]
    pyarrow.parquet.write_table(pyarrow.table(columns), path)


def make_json_lines(path: Path) -> None:
    import json

    lines = [json.dumps(dict(zip(LENS_ROWS[0], row, strict=True))) for row in LENS_ROWS[1:]]
    path.write_text("\n".join([lines[0], "not json", "", lines[1], "[1]"]) + "\n")


def make_csv(path: Path) -> None:
    path.write_text("\n".join(",".join(map(str, row)) for row in LENS_ROWS) + "\n")


RTF = rb"{\rtf1\ansi\ansicpg1252\deff0 The caf\'e9 on the moor was shut.\par It rained.}"
HTML = (
    b"<!doctype html><html><head><title>Leeks</title><script>steal()</script></head><body><nav>Home</nav>"
    b"<main><p>Leeks stood &amp; froze.</p></main><footer>foot</footer></body></html>"
)
MARKDOWN = b"# Beans\n\nThe *beans* [failed](http://larkmoor.example).\n\n| a | b |\n|---|---|\n| 1 | 2 |\n"
