# SPDX-License-Identifier: GPL-3.0-or-later

from __future__ import annotations

import random
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gather.texts_of_languages import ENCODINGS, NOTES, OLD
from jagged_lens.gather import Corpus, Means, Source, read_source
from jagged_lens.gather.encoding import Guess, decoded, fitting, guess_of, guess_of_file, meant, said_together

CASES = [(code, encoding) for table in (ENCODINGS, OLD) for code, some in table.items() for encoding in some]


def read(folder: Path, **settings: object) -> Corpus:
    return read_source(Source(file=str(folder), **settings), Means(Path("/"), 1))


@pytest.mark.parametrize(("code", "encoding"), CASES)
def test_a_note_in_any_usual_encoding_is_read_as_it_was_written(code: str, encoding: str) -> None:
    text = NOTES[code]
    assert decoded(text.encode(encoding))[0] == text


@pytest.mark.parametrize("code", [code for code in ENCODINGS if code not in ("ja", "zh", "zh-hant", "ko", "th")])
def test_twenty_words_out_of_order_are_read_right_or_said_to_be_in_doubt(code: str) -> None:
    words, draw = NOTES[code].split(), random.Random(code)
    wrong = silent = 0
    for number in range(30):
        text = " ".join(draw.choices(words, k=20))
        encoding = ENCODINGS[code][number % len(ENCODINGS[code])]
        got, guess = decoded(text.encode(encoding))
        wrong += got != text
        silent += got != text and not any(other in (encoding, text) for other, _ in guess.readings)
    assert wrong <= 1
    assert not silent


@given(st.sampled_from(CASES), st.integers(0, 40))
@settings(max_examples=60, deadline=None)
def test_a_text_that_is_cut_in_the_middle_is_read_all_the_same(case: tuple[str, str], gone: int) -> None:
    code, encoding = case
    data = NOTES[code].encode(encoding)
    data = data[: len(data) - gone]
    text = data.decode(guess_of(data, whole=False).encoding, "ignore").rstrip("\ufffd")
    assert NOTES[code].startswith(text[:-1]) or encoding == "iso2022_jp"


def test_utf8_that_is_damaged_in_one_place_stays_utf8() -> None:
    data = (NOTES["de"] * 3).encode()
    text, guess = decoded(data[:200] + b"\xff" + data[200:])
    assert guess.encoding == "utf-8"
    assert "größeren Gärten" in text


def test_quotation_marks_and_pounds_of_english_are_read() -> None:
    text = "“It’s £20 — no more”, he said, and left the café at the edge of the moor for good."
    assert decoded(text.encode("cp1252"))[0] == text
    assert decoded(b"plain words")[1] == Guess("utf-8")


def test_what_is_not_certain_is_said_with_a_line_as_each_reads_it(tmp_path: Path) -> None:
    (tmp_path / "names.txt").write_bytes("plain\nKoš\nend".encode("iso8859_2"))
    corpus = read(tmp_path)
    (doubt,) = corpus.doubts
    readings = dict(doubt.readings)
    assert doubt.name == "names.txt"
    assert readings["iso8859_2"] == "Koš"
    assert len(set(readings.values())) == len(readings) > 1
    assert all(encoding in doubt.words for encoding in readings)
    assert not any("was read as" in notice for notice in corpus.notices)
    named = read(tmp_path, encoding="utf-8, iso8859_2")
    assert named.texts[0] == "plain\nKoš\nend"
    assert not named.doubts


def test_the_files_of_a_source_speak_together(tmp_path: Path) -> None:
    alone = guess_of("Koš".encode("iso8859_2"))
    assert alone.readings
    for number, text in enumerate([NOTES["sl"], NOTES["hr"], NOTES["cs"]]):
        (tmp_path / f"{number}.txt").write_bytes(text.encode("iso8859_2"))
    (tmp_path / "short.txt").write_bytes("Koš".encode("iso8859_2"))
    (tmp_path / "other.txt").write_bytes(NOTES["ru"].encode("cp1251"))
    (tmp_path / "plain.txt").write_text(NOTES["de"], "utf-8")
    corpus = read(tmp_path)
    texts = dict(zip(corpus.keys, corpus.texts, strict=True))
    assert texts["short.txt"] == "Koš"
    assert texts["other.txt"] == NOTES["ru"]
    assert texts["plain.txt"] == NOTES["de"]
    assert not corpus.doubts


def test_what_files_say_together_is_bounded() -> None:
    sure = Guess("cp1250", (("cp1250", 0.0), ("cp1252", -30.0)))
    said = said_together([sure] * 500 + [Guess("utf-8")])
    assert said["cp1250"] == 0
    assert -15 < said["cp1252"] < -5
    assert said_together([]) == {}


def test_a_named_list_of_encodings_takes_the_first_that_fits(tmp_path: Path) -> None:
    assert fitting("für".encode(), "utf-8, cp1252") == "utf-8"
    assert fitting("für".encode("cp1252"), "utf-8, cp1252") == "cp1252"
    (tmp_path / "a.txt").write_text("für", "utf-8")
    (tmp_path / "b.txt").write_bytes("für".encode("cp1252"))
    assert list(read(tmp_path, encoding="utf-8, cp1252").texts) == ["für", "für"]


def test_a_table_whose_first_megabyte_is_ascii_is_read_right(tmp_path: Path) -> None:
    rows = "".join(f"{number},slugs ate the beans on plot {number}\n" for number in range(40_000))
    (tmp_path / "a.csv").write_bytes(("id,text\n" + rows).encode() + f'last,"{NOTES["pl"]}"\n'.encode("cp1250"))
    with (tmp_path / "a.csv").open("rb") as file:
        guess, start = guess_of_file(file)
        assert (guess.encoding, file.tell()) == ("cp1250", 0)
        assert start.isascii()
    corpus = read(tmp_path / "a.csv", key="id", text=("text",))
    assert corpus.texts[len(corpus) - 1] == NOTES["pl"]


@pytest.mark.parametrize(
    ("label", "encoding"),
    [("ISO-8859-1", "cp1252"), ("Shift_JIS", "cp932"), ("x-sjis", "cp932"), ("ks_c_5601-1987", "cp949"), ("GB2312", "gb18030"),
     ("utf8", "utf-8"), ("none", ""), ("idna", "")],
)  # fmt: skip
def test_labels_of_encodings_mean_what_the_web_means_by_them(label: str, encoding: str) -> None:
    assert meant(label) == encoding


@pytest.mark.parametrize("code", ["pl", "ru", "ja", "el"])
def test_a_page_is_read_in_the_encoding_of_its_own_head(tmp_path: Path, code: str) -> None:
    encoding = ENCODINGS[code][0]
    padding = "<!-- " + "x" * 9_000 + " -->"
    for name, head in (
        ("late.html", f"<html><head>{padding}<meta http-equiv=Content-Type content='text/html; charset={encoding}'>"),
        ("xml.xhtml", f'<?xml version="1.0" encoding="{encoding}"?><html><head>'),
        ("wrong.html", "<html><head><meta charset=utf-8>"),
    ):
        page = f"{head}<title>x</title></head><body><p>{NOTES[code][:60]}</p></body></html>"
        (tmp_path / name).write_bytes(page.encode(encoding))
        assert read(tmp_path / name).texts[0] == NOTES[code][:60].strip(), name
