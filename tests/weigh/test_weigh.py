# SPDX-License-Identifier: GPL-3.0-or-later

import itertools
import math
from pathlib import Path

import numpy as np
import pytest

from conftest import corpus_of
from jagged_lens.clean import CleanSettings, clean
from jagged_lens.terms import TermCounts, TermSettings, count_ngrams, limit_terms
from jagged_lens.weigh import WeighSettings, weigh
from oracle import Rules, kept_terms, ngrams_of, weights_of

TEXTS = [
    "Slugs took the beans. Slugs!",
    "Frost took beans and more beans",
    "Мороз взял бобы, слизни взяли остальное. Бобы!",
    "霜 と ナメクジ 霜",
    "",
    "the the the slugs",
    "الصقيع أخذ الفول. الصقيع",
    "all of the beans, the slugs and the frost",
]
LOCAL = ("presence", "count", "share", "log")
ACROSS = ("none", "plain", "guarded", "lifted", "probabilistic", "entropy")
LENGTH = ("none", "L1", "L2")


def counted(texts: list[str]) -> TermCounts:
    how = CleanSettings(stop_words=(), word_form="written", shortest=1)
    tokens = clean(corpus_of(*texts), how, Path("/"))
    settings = TermSettings(least_documents=1, most_share=1.0)
    ngrams = count_ngrams(tokens, np.arange(len(texts), dtype=np.int32), (1, 2), False)
    return limit_terms(ngrams, tokens, settings, how)


@pytest.mark.parametrize(("local", "across", "length"), list(itertools.product(LOCAL, ACROSS, LENGTH)))
@pytest.mark.parametrize("base", ["e", "2", "10"])
def test_weights_equal_the_plain_reading(local: str, across: str, length: str, base: str) -> None:
    terms = counted(TEXTS)
    space = weigh(terms, WeighSettings(local=local, global_=across, length=length, log_base=base))
    rules = Rules(shortest=1)
    documents = [ngrams_of(text, rules) for text in TEXTS]
    number = {"e": math.e, "2": 2.0, "10": 10.0}[base]
    expected = weights_of(documents, kept_terms(documents, rules), local, across, length, number)
    dense = space.weights.toarray()
    names = list(terms.terms)
    for row, weights in enumerate(expected):
        for column, name in enumerate(names):
            value = weights.get(name, 0.0)
            assert dense[row, column] == pytest.approx(value, abs=1e-6 * max(1, abs(value)))
    assert not np.any(space.weights.data == 0)
    assert space.empty[4]


def test_the_worked_example_of_the_formulas_page() -> None:
    space = weigh(counted(["slugs slugs frost", "slugs rain"]), WeighSettings(length="none"))
    cells = dict(zip(space.terms.terms, space.weights.toarray()[0].tolist(), strict=True))
    assert cells["slugs"] == 0.0
    assert cells["frost"] == pytest.approx(math.log(2))
    assert cells["slugs slugs"] == pytest.approx(math.log(2))


def test_a_term_in_every_document_is_weighed_as_said() -> None:
    texts = ["all", "all"]
    assert weigh(
        counted(texts), WeighSettings(global_="guarded", length="none")
    ).weights.data.tolist() == pytest.approx([math.log(2 / 3)] * 2)
    for across in ("plain", "probabilistic", "entropy"):
        assert weigh(counted(texts), WeighSettings(global_=across)).empty.all()
