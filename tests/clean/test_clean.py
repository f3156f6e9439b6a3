# SPDX-License-Identifier: GPL-3.0-or-later

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import corpus_of
from jagged_lens.clean import CleanSettings, Reason, Tokens, clean, list_names, read_list
from jagged_lens.errors import SourceError
from jagged_lens.language import EARNEST

HERE = Path("/")


def kept(tokens: Tokens) -> list[str]:
    return [tokens.words[int(number)] for number in tokens.word[tokens.form[tokens.kept]]]


def cleaned(text: str, folder: Path = HERE, **settings: object) -> Tokens:
    defaults: dict[str, object] = {"stop_words": (), "word_form": "written", "shortest": 1, "language": "en"}
    return clean(corpus_of(text), CleanSettings(**{**defaults, **settings}), folder)


def test_the_order_of_the_work() -> None:
    tokens = cleaned(
        "The SLUGS ate 42 crèmes, a b slugged", stop_words=("en",), word_form="stem", accents="strip", shortest=2
    )
    assert kept(tokens) == ["slug", "ate", "creme", "slug"]
    reasons = [Reason(int(reason)) for reason in tokens.reason]
    assert reasons == [Reason.STOP_WORD, 0, 0, Reason.NUMBER, 0, Reason.SHORT, Reason.SHORT, 0]


def test_case_numbers_and_length() -> None:
    assert kept(cleaned("Frost frost", case="keep")) == ["Frost", "frost"]
    assert kept(cleaned("2026 ½ 2nd ２", numbers="keep")) == ["2026", "½", "2nd", "２"]
    assert kept(cleaned("2026 ½ 2nd ２")) == ["2nd"]
    assert kept(cleaned("a ab abc abcd", shortest=2, longest=3)) == ["ab", "abc"]


def test_a_list_is_brought_to_the_case_and_accents_of_the_tokens(tmp_path: Path) -> None:
    (tmp_path / "mine.txt").write_text("# ours\nCafé  # the drink\n\nDon’t\n", "utf-8")
    assert kept(cleaned("cafe Don't stop", tmp_path, stop_words=("mine.txt",), accents="strip")) == ["stop"]
    assert kept(cleaned("café cafe CAFÉ", tmp_path, stop_words=("mine.txt",))) == ["cafe"]
    assert kept(cleaned("café Café", tmp_path, stop_words=("mine.txt",), case="keep")) == ["café"]


def test_a_missing_list_is_named() -> None:
    with pytest.raises(
        SourceError, match=r"nolist\.txt.*cannot be read.*Lists that come with Jagged Lens: .detect., af"
    ):
        cleaned("x", stop_words=("nolist.txt",))


def test_lists_that_ship_have_each_word_once() -> None:
    for name in list_names():
        words = read_list(name, HERE)
        assert len(words) == len(set(words)) > (200 if name in EARNEST else 15), name


def test_a_stem_remembers_how_it_was_written() -> None:
    tokens = cleaned("Seeds seed seeded", word_form="stem")
    assert kept(tokens) == ["seed", "seed", "seed"]
    assert [tokens.spellings[int(at)] for at in tokens.folded[tokens.form]] == ["seeds", "seed", "seeded"]


@given(
    st.lists(st.text("aB1é <b>@.-' \n中", max_size=40), max_size=5),
    st.sampled_from(["words", "letters"]),
    st.sampled_from(["lower", "keep"]),
    st.sampled_from(["drop", "keep"]),
    st.integers(1, 3),
)
def test_every_token_is_kept_or_taken_once(texts: list[str], kind: str, case: str, numbers: str, shortest: int) -> None:
    settings = CleanSettings(tokens=kind, case=case, numbers=numbers, shortest=shortest)
    tokens = clean(corpus_of(*texts), settings, HERE)
    losses = tokens.account
    assert losses[0].left == len(tokens.form)
    assert losses[-1].left == losses[0].left - sum(loss.taken for loss in losses) == int(tokens.kept.sum())
    assert tokens.kept_by_row().sum() == tokens.kept.sum()
    assert np.all(tokens.word[tokens.form[tokens.kept]] >= 0)
