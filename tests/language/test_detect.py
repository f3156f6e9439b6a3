# SPDX-License-Identifier: GPL-3.0-or-later

from __future__ import annotations

import random

from gather.texts_of_languages import NOTES
from jagged_lens.language import language_of
from jagged_lens.language.detect import votes_of

KANJI = "各種情報源参考文献抽出整形標準的電子記事着信出力形式書畑豆葉雨霜春夏虫種収穫"
ENDINGS = ("する", "した", "です", "から", "ない", "について", "のは", "を", "に", "が")


def test_each_note_is_told_by_its_words_or_not_at_all() -> None:
    told = {code: language_of(text) for code, text in NOTES.items() if code not in ("da", "no", "zh-hant")}
    assert {code: one for code, one in told.items() if one != code} == {"sk": "", "fi": ""}


def test_a_letter_that_stands_alone_is_no_word_in_front_of_an_apostrophe() -> None:
    text = "Este es el compilador de C de la casa, un compilador de C bastante portable con optimización."
    assert language_of(text) == "es"
    assert language_of("C'est le jardin de la maison, et c'est dans la terre que les fèves sont semées.") == "fr"
    assert "fr" not in votes_of(["c", "d", "l"])


def test_japanese_is_told_by_its_kana_wherever_they_stand() -> None:
    draw = random.Random(1)
    for _ in range(100):
        runs = [
            "".join(draw.sample(KANJI, draw.randint(2, 4))) + draw.choice(ENDINGS) for _ in range(draw.randint(5, 12))
        ]
        text = "".join(run + draw.choice(("", "、", "。", " lib 3 ")) for run in runs)
        assert language_of(text) == "ja", text


def test_chinese_with_a_name_in_kana_stays_chinese() -> None:
    assert language_of(NOTES["zh"] + "店名是の。") == "zh"
