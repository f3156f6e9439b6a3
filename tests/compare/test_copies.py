# SPDX-License-Identifier: GPL-3.0-or-later
"""Near-duplicates below the limit, pairs across and within labels, and families, against comparing every pair."""

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from compare.test_compare import brute_kind, brute_resemblance, space_of
from conftest import corpus_of
from jagged_lens.compare import (
    CompareSettings,
    Families,
    Kind,
    Pairs,
    copy_families,
    families_of,
    find_pairs,
    kept_of_families,
    shingles_of,
)
from jagged_lens.gather import Label

WORDS = [f"w{number}" for number in range(60)]


def pairs_of(texts: list[str], most: int = 10_000, **settings_: object) -> Pairs:
    """The pairs of texts whose weights say nothing of them: each has a term of its own, so that no two are alike."""
    across, within = settings_.pop("across", None), settings_.pop("within", None)
    space = space_of(np.eye(len(texts), dtype=int))
    return find_pairs(space, shingles_of(corpus_of(*texts)), CompareSettings(**settings_), across, within, most=most)  # type: ignore[arg-type]


def families(texts: list[str], most: int = 10_000) -> Families:
    pairs = pairs_of(texts, most)
    lengths = np.array([len(text) for text in texts])
    return families_of(pairs, shingles_of(corpus_of(*texts)), np.arange(len(texts), dtype=np.int32), lengths)


def found_in(pairs: Pairs) -> dict[tuple[int, int], Kind]:
    return {
        (a, b): Kind(kind)
        for a, b, kind in zip(pairs.first.tolist(), pairs.second.tolist(), pairs.kind.tolist(), strict=True)
    }


def brute(texts: list[str]) -> dict[tuple[int, int], Kind]:
    found = {(a, b): brute_kind(texts[a], texts[b]) for a, b in itertools.combinations(range(len(texts)), 2)}
    return {pair: kind for pair, kind in found.items() if kind != Kind.SUBJECT}


def variants(seed: int, n: int = 60) -> list[str]:
    """Texts of 3 to 40 words, most of them made of another by cutting and changing words."""
    random = np.random.default_rng(seed)
    texts: list[list[str]] = []
    for _ in range(n):
        if texts and random.random() < 0.8:
            words = list(texts[random.integers(len(texts))])
            for _ in range(random.integers(0, 4)):
                words[random.integers(len(words))] = WORDS[random.integers(60)]
            start = random.integers(0, max(len(words) // 2, 1))
            words = words[start : start + random.integers(3, len(words) + 4)]
        else:
            words = [WORDS[at] for at in random.integers(0, 60, random.integers(3, 41))]
        texts.append(words)
    return [" ".join(words) for words in texts]


@pytest.mark.parametrize("seed", range(6))
def test_all_copies_and_no_others_are_found_however_little_alike_their_weights_are(seed: int) -> None:
    texts = variants(seed)
    pairs = pairs_of(texts)
    assert found_in(pairs) == brute(texts)
    assert len(found_in(pairs)) == len(pairs) > 20
    assert (pairs.similarity == 0).all()
    assert set(pairs.kind.tolist()) >= {Kind.EDITED, Kind.HOLDS}
    for a, b, resemblance in zip(pairs.first, pairs.second, pairs.resemblance, strict=True):
        assert resemblance == pytest.approx(brute_resemblance(texts[a], texts[b]), abs=1e-6)


@settings(max_examples=60)
@given(st.lists(st.lists(st.sampled_from("abc"), min_size=1, max_size=14), min_size=2, max_size=8))
def test_copies_of_texts_that_repeat_themselves(texts: list[list[str]]) -> None:
    joined = [" ".join(words) for words in texts]
    assert found_in(pairs_of(joined)) == brute(joined)


def test_at_the_very_bounds() -> None:
    """Runs 1 to 5 against 1 to 4 and 6 others: 4 of 5 held is enough; 4 of 10 resembling is, 4 of 11 is not."""
    five = "a b c d e f g h"  # five runs
    held = "a b c d e f g " + " ".join(f"x{at}" for at in range(20))  # four of them among many
    ten = "a b c d e f g p q r"  # seven runs, four of them common: 4 of 5 + 7 - 4 = 8
    assert found_in(pairs_of([five, held])) == {(0, 1): Kind.HOLDS}
    assert found_in(pairs_of([five, ten])) == {(0, 1): Kind.EDITED}
    seven = "a b c d e f g 1 2 3"  # seven runs
    other = "4 5 6 a b c d e f g"  # seven, four in common: 4 of 10
    assert found_in(pairs_of([seven, other])) == {(0, 1): Kind.EDITED}
    more = "4 5 6 7 a b c d e f g"  # eight: 4 of 11
    assert found_in(pairs_of([seven, more])) == {}


def test_without_copies_below_only_the_limit_counts() -> None:
    assert len(pairs_of(["a b c d e", "a b c d e"], copies_below=False)) == 0


def test_documents_that_weigh_nothing_are_in_no_pair() -> None:
    space = space_of(np.array([[1, 0], [0, 0], [0, 1]]))
    pairs = find_pairs(space, shingles_of(corpus_of("the of", "the of", "the of")), CompareSettings())
    assert found_in(pairs) == {(0, 2): Kind.SAME}


@pytest.mark.parametrize("seed", range(3))
def test_pairs_across_and_within_a_label(seed: int) -> None:
    texts = variants(seed)
    values = np.random.default_rng(seed).choice(["", "moor", "dale", "fell"], len(texts)).tolist()
    label = Label.of("district", values)
    all_ = brute(texts)
    given_ = {pair for pair in all_ if values[pair[0]] and values[pair[1]]}
    across = {pair for pair in given_ if values[pair[0]] != values[pair[1]]}
    assert set(found_in(pairs_of(texts, across=label))) == across
    assert set(found_in(pairs_of(texts, within=label))) == given_ - across
    assert across
    assert given_ - across
    other = Label.of("year", np.random.default_rng(9).choice(["1", "2"], len(texts)).tolist())
    years = [other.value(row) for row in range(len(texts))]
    both = {(a, b) for a, b in across if years[a] == years[b]}
    assert set(found_in(pairs_of(texts, across=label, within=other))) == both


def test_of_very_many_with_the_same_wording_each_is_listed_with_the_first() -> None:
    texts = ["one two three four five six", *["slugs ate the beans again"] * 40, "slugs ate the beans again today"]
    pairs = pairs_of(texts, most=1_000)  # 780 pairs of one wording are more than a tenth of that
    assert pairs.spared == 39
    assert {pair for pair, kind in found_in(pairs).items() if kind == Kind.SAME} == {(1, at) for at in range(2, 41)}
    assert {pair for pair, kind in found_in(pairs).items() if kind != Kind.SAME} == {(1, 41)}
    assert families(texts, most=1_000).sizes.tolist() == [41]


def test_of_too_many_copies_those_are_left_that_connect_their_family() -> None:
    base = [f"b{at}" for at in range(60)]
    texts = [" ".join([*base[:at], f"n{at}", *base[at + 1 :]]) for at in range(40)]
    pairs = pairs_of(texts, most=100)
    assert len(pairs) == 39
    assert pairs.left_out == 780 - 39
    assert families(texts, most=100).sizes.tolist() == [40]


def test_the_standard_resembles_the_others_most() -> None:
    base = [f"b{at}" for at in range(30)]
    middle = " ".join(base)
    texts = ["nothing like that at all", " ".join([*base, "x", "y", "z", "v"]), " ".join(base[8:]), middle, middle]
    found = families(texts)
    assert len(found) == 1
    assert found.standard.tolist() == [3]
    assert found.of(0).tolist() == [3, 4, 1, 2]
    expected = [brute_resemblance(middle, texts[row]) for row in (3, 4, 1, 2)]
    assert found.resemblances(0).tolist() == pytest.approx(expected, abs=1e-6)
    assert found.kinds.tolist() == [[1, 0, 5]]


@pytest.mark.parametrize("seed", range(4))
def test_standards_equal_brute_force(seed: int) -> None:
    texts = variants(seed)
    found = families(texts)
    assert sorted(found.members.tolist()) == sorted({row for pair in brute(texts) for row in pair})
    for number in range(len(found)):
        members = sorted(found.of(number).tolist())
        mean = {a: np.mean([brute_resemblance(texts[a], texts[b]) for b in members if b != a]) for a in members}
        best = min(members, key=lambda row: (-round(mean[row], 9), -len(texts[row]), row))
        assert found.standard[number] == found.of(number)[0] == best


def test_of_equally_good_standards_the_longest_text_is_taken() -> None:
    base = " ".join(f"b{at}" for at in range(30))
    texts = [f"{base} {' '.join(letter * size for _ in range(5))}" for letter, size in (("x", 2), ("y", 6), ("z", 4))]
    assert families(texts).standard.tolist() == [1]
    assert families([texts[0], *texts]).standard.tolist() == [0]  # two alike resemble each other wholly


def test_what_stands_whole_in_another_is_held_by_it_however_much_they_resemble() -> None:
    base = [f"b{at}" for at in range(30)]
    whole, part, changed = " ".join(base), " ".join(base[3:]), " ".join([*base[:15], "x", *base[16:]])
    found = found_in(pairs_of([whole, part, changed]))
    assert found == {(0, 1): Kind.HOLDS, (0, 2): Kind.EDITED, (1, 2): Kind.EDITED}


def test_copies_share_a_number_be_it_through_others() -> None:
    base = [f"b{at}" for at in range(40)]
    texts = [
        "nothing like it",
        " ".join(base),
        " ".join(base[:30]),
        " ".join([*base[:20], "x", *base[21:]]),
        "other words here",
    ]
    family = copy_families(shingles_of(corpus_of(*texts)), np.arange(5, dtype=np.int32))
    assert len(set(family[1:4].tolist())) == 1
    assert len(set(family.tolist())) == 3


def test_of_each_family_the_one_that_a_rule_ranks_highest_stays() -> None:
    long, short = (
        "slugs took the beans by the shed in the night of the late frost",
        "the leeks stood well in the wet bed by the wall",
    )
    texts = [f"{long} again", short, long, f"{long} and again", short]
    found = families(texts)
    assert [sorted(found.of(at).tolist()) for at in range(len(found))] == [[0, 2, 3], [1, 4]]
    lengths = np.array([len(text) for text in texts])
    assert kept_of_families(found, lengths).tolist() == [3, found.of(1)[0]]  # of equal ones the standard
    assert kept_of_families(found, -lengths).tolist() == [2, found.of(1)[0]]
    assert kept_of_families(found, np.zeros(5)).tolist() == found.standard.tolist()
    may = np.array([False, False, True, True, False])
    assert kept_of_families(found, np.arange(5), may).tolist() == [3, -1]
