# SPDX-License-Identifier: GPL-3.0-or-later

import itertools
import re
import unicodedata
from unittest import mock

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jagged_lens.clean import alike, split
from jagged_lens.clean.alike import PADDING, numbered, packed
from jagged_lens.clean.take_out import Reason
from oracle import ends_between, tokens_of

CHARACTERS = "abcÄé’'-‐_.!?… \n\t1２½«»中文ねこпривет שלום الْعَرَبِيَّة हिन्दी ไทย😀，。\u00ad\u200b\u200c\u0301\u200d"
TEXTS = st.lists(st.text(CHARACTERS, max_size=60).map(lambda t: unicodedata.normalize("NFC", t)), max_size=6)


def words(text: str, **how: bool) -> list[str]:
    found = split([text], **how)
    return [found.forms[number] for number in found.form]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("Don’t pick 'Fen Scarlet' beans", ["Don't", "pick", "Fen", "Scarlet", "beans"]),
        ("rock''n''roll o' clock 'twas", ["rock", "n", "roll", "o", "clock", "twas"]),
        ("self-sown snake_case x2 3.5", ["self", "sown", "snake", "case", "x2", "3.5"]),
        ("crème BRÛLÉE 中文 ねこ", ["crème", "BRÛLÉE", "中文", "ねこ"]),
        ("", []),
        (" .,;", []),
    ],
)
def test_words(text: str, expected: list[str]) -> None:
    assert words(text) == expected


def test_hyphens_joined_and_letters_alone() -> None:
    assert words("self-sown -x- a--b", join_hyphens=True) == ["self-sown", "x", "a", "b"]
    assert words("don't x2y 3", letters_only=True) == ["don", "t", "x", "y"]


@given(TEXTS, st.booleans(), st.booleans())
def test_tokens_and_sentence_ends_equal_the_plain_reading(texts: list[str], letters: bool, join: bool) -> None:
    found = split(texts, letters_only=letters, join_hyphens=join)
    for row, text in enumerate(texts):
        own = slice(found.row_starts[row], found.row_starts[row + 1])
        spans = list(zip(found.start[own].tolist(), (found.start[own] + found.length[own]).tolist(), strict=True))
        expected = tokens_of(text, letters, join)
        assert [found.forms[number] for number in found.form[own]] == [token for token, _, _ in expected]
        assert spans == [(start, end) for _, start, end in expected]
        ends = [ends_between(text, a[2], b[1]) for a, b in itertools.pairwise(expected)]
        assert found.sentence_end[own].tolist()[:-1] == ends


SPANS = st.lists(st.text("abé😀", min_size=1, max_size=12), max_size=30)


@pytest.mark.parametrize("rounds", [12, 1, 0])
@given(words_=SPANS)
def test_spans_are_told_apart_whatever_the_hash_does(rounds: int, words_: list[str]) -> None:
    data = " ".join(words_).encode()
    lengths = np.array([len(word.encode()) for word in words_], np.int64)
    starts = np.cumsum(lengths + 1) - lengths - 1
    low, high, longer = packed(data + bytes(PADDING), starts, starts + lengths)
    with mock.patch.object(alike, "_ROUNDS", rounds):  # with none, all are told apart one by one
        number, first = numbered(low, high)
    known: dict[str, int] = {}
    assert number.tolist() == [known.setdefault(word, len(known)) for word in words_]
    assert [words_[at] for at in first] == list(known)
    assert {word.decode() for word in longer} == {word for word in words_ if len(word.encode()) > 16}


def test_longer_forms_and_other_apostrophes_are_one_form_across_blocks(monkeypatch: pytest.MonkeyPatch) -> None:
    module = __import__("jagged_lens.clean.split", fromlist=["_CHUNK"])
    monkeypatch.setattr(module, "_CHUNK", 7)
    found = split(["Gartenarbeitsgemeinschaft don't", "don’t Gartenarbeitsgemeinschaften", "Gartenarbeitsgemeinschaft"])
    assert found.forms == ["Gartenarbeitsgemeinschaft", "don't", "Gartenarbeitsgemeinschaften"]
    assert found.form.tolist() == [0, 1, 1, 2, 0]


def test_a_nul_in_a_text_only_separates() -> None:
    found = split(["slug\0frost", "", "ripe"], pattern=re.compile(r"\S+"))
    assert np.diff(found.row_starts).tolist() == [1, 0, 1]
    assert split(["slug\0frost", "ripe"]).forms == ["slug", "frost", "ripe"]


def test_chunks_do_not_change_the_result(monkeypatch: pytest.MonkeyPatch) -> None:
    texts = ["slugs took it. all", "", "frost, then slugs", "it took"] * 5
    whole = split(texts)
    module = __import__("jagged_lens.clean.split", fromlist=["_CHUNK"])
    monkeypatch.setattr(module, "_CHUNK", 7)
    pieces = split(texts)
    for name in ("row_starts", "start", "length", "sentence_end"):
        assert np.array_equal(getattr(whole, name), getattr(pieces, name)), name
    assert [whole.forms[at] for at in whole.form] == [pieces.forms[at] for at in pieces.form]


@pytest.mark.parametrize(
    ("text", "kept", "taken"),
    [
        ("big <b>red</b> squash", ["big", "red", "squash"], {Reason.MARKUP}),
        ("see https://larkmoor.example/notes?x=1. Next", ["see", "Next"], {Reason.WEB_ADDRESS}),
        ("(www.larkmoor.example) ok", ["ok"], {Reason.WEB_ADDRESS}),
        ("mail plot.12@larkmoor.example now", ["mail", "now"], {Reason.MAIL_ADDRESS}),
        ("a &amp; b &#233; <!-- hidden words --> c", ["a", "b", "c"], {Reason.MARKUP}),
        ("<script>var x = 1;</script>seen", ["seen"], {Reason.MARKUP}),
        ("1 < 2 and x > y, R&D", ["1", "2", "and", "x", "y", "R", "D"], set()),
    ],
)
def test_taken_out(text: str, kept: list[str], taken: set[Reason]) -> None:
    found = split([text], take_out=("markup", "web-addresses", "mail-addresses"))
    assert [found.forms[number] for number, out in zip(found.form, found.taken, strict=True) if not out] == kept
    assert {Reason(int(out)) for out in found.taken if out} == taken


def test_a_sentence_ends_behind_an_address_that_is_taken_out() -> None:
    found = split(["see www.moor.example. Next"], take_out=("web-addresses",))
    assert found.sentence_end.tolist()[-2:] == [True, True]
