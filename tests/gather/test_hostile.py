# SPDX-License-Identifier: GPL-3.0-or-later
"""A folder of 200 files of every kind, many of them broken or made to do harm: each is read right or listed with its reason."""

from __future__ import annotations

import functools
import io
import os
import resource
import zipfile
import zlib
from pathlib import Path

import pytest

from gather import made_files as made
from jagged_lens.errors import SourceError, Stopped
from jagged_lens.gather import Means, Source, read_source
from jagged_lens.gather.apart import File, read_apart
from jagged_lens.gather.corpus import Unread
from jagged_lens.gather.readers import Options

MAKERS = {
    "txt": lambda text: text.encode(),
    "md": lambda text: text.encode(),
    "html": lambda text: f"<html><body><p>{text}</p></body></html>".encode(),
    "eml": lambda text: made.mail_bytes(text),
    "pdf": lambda text: made.pdf_bytes(text),
    "docx": lambda text: made.docx_bytes(text),
    "odt": lambda text: made.odt_bytes(text),
    "rtf": lambda text: (r"{\rtf1\ansi " + text + "}").encode(),
    "zip": lambda text: made.zip_bytes({"note.txt": text.encode()}),
    "mbox": lambda text: made.mbox_bytes(text),
}
ENTITIES = b"""<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "slugslugslug">%s]>""" % b"".join(
    b'<!ENTITY %c "&%c;&%c;&%c;&%c;&%c;&%c;&%c;&%c;">' % (98 + n, *[97 + n] * 8) for n in range(12)
)


@functools.cache
def bomb() -> bytes:
    """A small archive of 600 MB of zeros."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive, archive.open("a.txt", "w") as member:
        for _ in range(600):
            member.write(b"\0" * 1_000_000)
    return out.getvalue()


def pdf_bomb() -> bytes:
    """A page whose content expands to 300 MB."""
    packed = zlib.compress(b"(slug) Tj " * 30_000_000, 1)
    content = b"<< /Length %d /Filter /FlateDecode >> stream\n%s\nendstream" % (len(packed), packed)
    objects = [
        b"<< /Type /Catalog /Pages 2 0 R >>",
        b"<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
        b"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 600 800] /Contents 4 0 R >>",
        content,
    ]
    body = b"%PDF-1.4\n" + b"".join(b"%d 0 obj\n%s\nendobj\n" % (n, one) for n, one in enumerate(objects, 1))
    return body + b"trailer << /Root 1 0 R >>\n%%EOF"


def entity_docx() -> bytes:
    members = {}
    with zipfile.ZipFile(io.BytesIO(made.docx_bytes("x"))) as archive:
        members = {name: archive.read(name) for name in archive.namelist()}
    head = ENTITIES.replace(b"<!DOCTYPE x", b"<!DOCTYPE w:document")
    text = members["word/document.xml"].partition(b"?>")[2].replace(b">x<", b">&m;<")
    members["word/document.xml"] = head + text
    return made.zip_bytes(members)


def entity_odt() -> bytes:
    with zipfile.ZipFile(io.BytesIO(made.odt_bytes("x"))) as archive:
        members = {name: archive.read(name) for name in archive.namelist()}
    members["content.xml"] = ENTITIES + members["content.xml"].partition(b"?>")[2].replace(b">x<", b">&m;<")
    return made.zip_bytes(members)


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("hostile")
    for number in range(5):
        for kind, make in MAKERS.items():
            (folder / f"good-{number:02}.{kind}").write_bytes(make(made.SAID.format(number)))
    for kind, make in MAKERS.items():
        data = make(made.SAID.format(99))
        (folder / f"empty.{kind}").write_bytes(b"")
        (folder / f"cut.{kind}").write_bytes(data[: len(data) // 3])
        (folder / f"wrong.{'pdf' if kind == 'txt' else 'txt'}.{kind}").write_bytes(data[::-1])
    others = {
        "locked.pdf": made.pdf_bytes("x", password="secret"),
        "locked.zip": made.zip_bytes({"a.txt": b"x"}, password_flag=True),
        "locked.docx": b"\xd0\xcf\x11\xe0" + b"\0" * 2000,
        "bomb.zip": bomb(),
        "bomb.pdf": pdf_bomb(),
        "bomb.docx": entity_docx(),
        "bomb.odt": entity_odt(),
        "bomb.html": ENTITIES + b"<p>&m;</p>",
        "deep.html": b"<b>" * 100_000,
        "nul.txt": b"slugs\0and all the frost of the moor ",
        "line.txt": b"slug " * 4_000_000,
        "utf16.txt": "Frost über dem Moor".encode("utf-16"),
        "cp1252.txt": ("Die Brücke über den Fluß war früh grün. " * 5).encode("cp1252"),
        "name\nwith newline.txt": b"slugs",
        "name with =1+1.txt": b"frost",
        "quotes.md": b"> " * 30_000 + b"x",
        "brackets.md": b"[" * 50_000,
        "parts.eml": b"Content-Type: multipart/mixed; boundary=a\n\n"
        + b"--a\nContent-Type: multipart/mixed; boundary=a\n\n" * 3000,
        "groups.rtf": b"{\\rtf1" + b"{" * 100_000,
    }
    for name, data in others.items():
        (folder / name).write_bytes(data)
    (folder / "gone.txt").symlink_to(folder / "nowhere")
    return folder


def test_every_file_is_read_right_or_listed_with_its_reason(folder: Path) -> None:
    assert len(list(folder.iterdir())) >= 80
    corpus = read_source(Source(file=str(folder)), Means(Path("/"), 2))
    texts = dict(zip(corpus.keys, corpus.texts, strict=True))
    for number in range(5):
        for kind in MAKERS:
            name = f"good-{number:02}.{kind}"
            found = [text for key, text in texts.items() if key.split("/")[0] == name]
            assert len(found) == 1, name
            assert made.SAID.format(number) in found[0], name
    listed = {one.name.split("/")[0] for one in corpus.unread}
    read = {key.split("/")[0] for key in corpus.keys}
    for path in folder.iterdir():
        assert path.name in read | listed, path.name
    reasons = {one.name: one.reason for one in corpus.unread}
    for name, words in {
        "locked.pdf": "password",
        "locked.docx": "password",
        "locked.zip/a.txt": "password",
        "bomb.zip": "expand to 600 MB",
        "empty.pdf": "empty",
        "gone.txt": "cannot be read",
    }.items():
        assert words in reasons[name], name
    assert all(len(text) < 1_000_000 for name, text in texts.items() if name != "line.txt")
    assert texts["nul.txt"].startswith("slugs\ufffdand")
    assert texts["utf16.txt"] == "Frost über dem Moor"
    assert texts["cp1252.txt"].startswith("Die Brücke über den Fluß")
    assert len(texts["line.txt"]) == 20_000_000
    assert texts["name\nwith newline.txt"] == "slugs"
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    assert peak < 3000, peak


def test_a_reader_that_hangs_or_dies_costs_its_own_file_alone(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("jagged_lens.gather.apart._SECONDS_PER_MB", 0.0)
    (tmp_path / "hangs.html").write_text("<p>slugs <b>and</b> frost</p>\n" * 1_000_000)  # takes seconds
    (tmp_path / "good.eml").write_bytes(made.mail_bytes("fine"))
    files = [File(tmp_path / name, name) for name in ("hangs.html", "good.eml")]
    found = list(read_apart(files, Options(), 1, lambda share: None, seconds=1.0))
    assert isinstance(found[0][0], Unread)
    assert "took longer than" in found[0][0].reason
    assert found[1][-1].text == "fine"  # type: ignore[union-attr]


@pytest.mark.timeout(60)
@pytest.mark.parametrize("name", ["notes.csv", "notes.xlsx", "notes.txt", "notes.eml", "notes.jsonl", "notes.db"])
def test_a_pipe_is_not_waited_for(tmp_path: Path, name: str) -> None:
    os.mkfifo(tmp_path / name)
    source = Source(database=name, table="notes", text=("note",)) if name.endswith(".db") else Source(file=name)
    with pytest.raises(SourceError, match="not a regular file"):
        read_source(source, Means(tmp_path))
    [found] = read_apart([File(tmp_path / name, name)], Options(), 1, lambda share: None)
    assert isinstance(found[0], Unread)
    assert found[0].reason.endswith("(it is not a regular file)")


def test_reading_stops_when_it_is_asked_to(tmp_path: Path) -> None:
    for number in range(40):
        (tmp_path / f"{number}.pdf").write_bytes(made.pdf_bytes("words"))

    def progress(share: float) -> None:
        if share > 0.1:
            raise Stopped

    with pytest.raises(Stopped):
        read_source(Source(file=str(tmp_path)), Means(Path("/"), 2), progress)


@pytest.mark.parametrize("kind", ["xlsx", "ods"])
def test_a_spreadsheet_that_would_expand_beyond_reason_is_refused(tmp_path: Path, kind: str) -> None:
    (tmp_path / f"a.{kind}").write_bytes(bomb())
    with pytest.raises(SourceError, match="expand to 600 MB"):
        read_source(Source(file=f"a.{kind}"), Means(tmp_path))


def test_entities_in_a_spreadsheet_do_not_expand(tmp_path: Path) -> None:
    made.make_xlsx(tmp_path / "a.xlsx")
    with zipfile.ZipFile(tmp_path / "a.xlsx") as archive:
        members = {name: archive.read(name) for name in archive.namelist()}
    name = next(one for one, data in members.items() if b">bean<" in data)
    before, _, after = members[name].partition(b"?>")
    root = (after or before).lstrip()[1:].split(b" ")[0].split(b">")[0]
    members[name] = ENTITIES.replace(b"<!DOCTYPE x", b"<!DOCTYPE " + root) + (after or before).replace(
        b">bean<", b">&m;<"
    )
    (tmp_path / "b.xlsx").write_bytes(made.zip_bytes(members))
    with pytest.raises(SourceError, match="damaged"):
        read_source(Source(file="b.xlsx", text=("crop",)), Means(tmp_path))
    made.make_ods(tmp_path / "a.ods")
    with zipfile.ZipFile(tmp_path / "a.ods") as archive:
        members = {name: archive.read(name) for name in archive.namelist()}
    members["content.xml"] = ENTITIES + members["content.xml"].partition(b"?>")[2].replace(b">bean<", b">&m;<")
    (tmp_path / "b.ods").write_bytes(made.zip_bytes(members))
    with pytest.raises(SourceError, match="damaged"):
        read_source(Source(file="b.ods", text=("crop",)), Means(tmp_path))


def test_files_are_read_however_many_are_open(tmp_path: Path) -> None:
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (min(max(soft, 2048), hard), hard))
    held = [os.dup(2) for _ in range(1100)]
    try:
        (tmp_path / "good.eml").write_bytes(made.mail_bytes("fine"))
        (found,) = read_apart([File(tmp_path / "good.eml", "good.eml")], Options(), 1, lambda share: None)
        assert not isinstance(found[0], Unread)
    finally:
        for descriptor in held:
            os.close(descriptor)
        resource.setrlimit(resource.RLIMIT_NOFILE, (soft, hard))
