# SPDX-License-Identifier: GPL-3.0-or-later
"""E-mail (RFC 5322, MIME) and mailboxes of it (RFC 4155)."""

from __future__ import annotations

import email
import email.policy
import email.utils
import re
from collections.abc import Iterator
from email.message import EmailMessage

from jagged_lens.gather.corpus import Doubt, Unread
from jagged_lens.gather.encoding import claimed, decoded
from jagged_lens.gather.readers.html import page_text
from jagged_lens.gather.readers.piece import Found, Options, Piece, Unreadable

_BEGINS = re.compile(rb"(?:\A|\n\r?\n)From [^\n]*\n")
_QUOTED = re.compile(r"^[ \t]*[>|].*$", re.MULTILINE)
_BEFORE = re.compile(r"^[^\n]{0,300}(?:\n[^\n]{1,200})?:[ \t]*\n(?=\s*[>|])", re.MULTILINE)
_FOLLOWS = re.compile(
    r"^\s*(?:-{2,}\s*(?:Original Message|Forwarded message|Ursprüngliche Nachricht)\s*-{2,}|_{20,})\s*$", re.M | re.I
)
_BLANKS = re.compile(r"\n{3,}")


def read_mail(data: bytes, options: Options) -> Iterator[Found]:
    """One message. Its attachments are said, not read."""
    message = email.message_from_bytes(data, policy=email.policy.default)
    assert isinstance(message, EmailMessage)
    if not message.keys():
        raise Unreadable("it is not an e-mail: it has no headers")
    attached = sum(1 for part in message.walk() if part.get_content_disposition() == "attachment")
    if attached:
        yield f"{attached} attachment{'s' if attached > 1 else ''} not read."
    text, doubt = _body(message, options)
    if doubt:
        yield doubt
    yield Piece(text, _field(message, "subject"), date=_date(message))


def read_mailbox(data: bytes, options: Options) -> Iterator[Found]:
    """Every message of a mailbox."""
    starts = list(_BEGINS.finditer(data))
    if not starts:
        raise Unreadable("it is not a mailbox: no line starts a message")
    attached = 0
    for number, found in enumerate(starts, 1):
        end = starts[number].start() if number < len(starts) else len(data)
        content = re.sub(rb"^>(>*From )", rb"\1", data[found.end() : end], flags=re.MULTILINE)
        try:
            for one in read_mail(content, options):
                if isinstance(one, Piece):
                    yield Piece(one.text, one.title, str(number), one.date)
                elif isinstance(one, Doubt):
                    yield one
                else:
                    attached += 1
        except Unreadable as error:
            yield Unread(f"message {number}", str(error))
    if attached:
        yield f"attachments of {attached:,} messages not read."


def _field(message: EmailMessage, name: str) -> str:
    try:
        return str(message[name] or "")
    except Exception:  # a head that the parser itself cannot make sense of is a head that is not there
        return ""


def _date(message: EmailMessage) -> str:
    try:
        return email.utils.parsedate_to_datetime(_field(message, "date")).date().isoformat()
    except (ValueError, TypeError, IndexError):
        return ""


def _body(message: EmailMessage, options: Options) -> tuple[str, Doubt | None]:
    try:
        part = message.get_body(("plain", "html"))
    except Exception:
        part = None
    if part is None:
        part = next((one for one in message.walk() if one.get_content_maintype() == "text"), None)
    if part is None:
        return "", None
    content = part.get_payload(decode=True)
    raw = content if isinstance(content, bytes) else str(part.get_payload()).encode("utf-8", "replace")
    said = claimed(raw, str(part.get_content_charset() or ""))
    text, guess = decoded(raw, options.encoding or said, options.likely)
    text = text.replace("\r\n", "\n")
    if part.get_content_subtype() == "html":
        text = page_text(text)[1]
    text = without_replies(text) if options.replies == "drop" else text.strip()
    return text, Doubt("", guess.readings) if guess.readings else None


def without_replies(text: str) -> str:
    """A message without what it quotes: quoted lines, the line that announces them, and a message appended whole."""
    if found := _FOLLOWS.search(text):
        text = text[: found.start()]
    text = _QUOTED.sub("", _BEFORE.sub("", text))
    return _BLANKS.sub("\n\n", text).strip()
