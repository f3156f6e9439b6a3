# SPDX-License-Identifier: GPL-3.0-or-later
"""The notices of a computed lens: a step that leaves nothing and the responsible setting, rules without a match, languages."""

from __future__ import annotations

import math
import re
import weakref
from collections import Counter
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean import Flag, Reason, Tokens
from jagged_lens.compare import Kind, Pairs
from jagged_lens.gather import Corpus
from jagged_lens.group import BRANCHES, MOST_ROWS, SAMPLE, SAMPLES, from_samples
from jagged_lens.language import CODES, NAMES, UNKNOWN, is_spaceless
from jagged_lens.lens.part import Results
from jagged_lens.lens.recipe import Recipe
from jagged_lens.lens.to_groups import GROUPING, TREE
from jagged_lens.lens.to_map import NEIGHBOURS, PAIRS
from jagged_lens.lens.to_space import CORPUS, GIVEN, OVERVIEW, TERMS, TOKENS
from jagged_lens.line_lists import shown_list
from jagged_lens.terms import TermCounts, WhyNot

_BY_REASON = {
    Reason.STOP_WORD: ("stop-words", []),
    Reason.NUMBER: ("numbers", "keep"),
    Reason.SHORT: ("shortest", 1),
    Reason.LONG: ("longest", 1000),
    Reason.NEVER: ("own-rules", []),
    Reason.NEGATION: ("negations", "keep"),
    Reason.RECURRING_LINE: ("take-out", None),
    Reason.RECURRING_SENTENCE: ("take-out", None),
}

_MANY_PAIRS = 20  # of one family, from which on it is worth a word
_TEXTS = 40  # of a family that are looked at
_LOOKED_AT = 2_000  # characters at the beginning and at the end of each: boilerplate stands there
_last_found: tuple[weakref.ref[Pairs], str] | None = None
_SENTENCE_END = re.compile(r"(?<=[.!?])\s+|\n+")
_SHORTEST, _SHOWN = 12, 90  # letters of a sentence


@dataclass(frozen=True)
class Noticed:
    """For a step, in words. key: of the setting that it is about, "" for none. value: another that would help, None for none. serious:
    whether a step leaves nothing. setting_of: the step of the setting, where it is another one."""

    step: str
    words: str
    key: str = ""
    value: object = None
    serious: bool = False
    setting_of: str = ""


def noticed(recipe: Recipe, results: Results) -> list[Noticed]:
    """The notices from the available results, in the order of the steps."""
    found = []
    tokens: Tokens | None = results.get(TOKENS)
    if tokens is not None:
        found += _of_clean(recipe, tokens, results)
    terms: TermCounts | None = results.get(TERMS)
    if terms is not None and tokens is not None and not len(terms.kept) and tokens.account[-1].left:
        found.append(_no_terms(recipe, terms))
    found += _of_given(recipe, results)
    pairs, neighbours = results.get(PAIRS), results.get(NEIGHBOURS)
    if pairs is not None and neighbours is not None and not len(pairs) and neighbours.similarity.size:
        highest = float(neighbours.similarity.max(initial=0))
        if highest > 0:
            lower = math.floor(highest * 20) / 20 or 0.01
            words = f"No pair has a similarity of {recipe.compare.pairs_from:g} or more; the highest is {highest:.2f}."
            found.append(Noticed("compare", words, "pairs-from", lower))
    return found + _of_boilerplate(recipe, results) + _of_many(recipe, results) + _of_tree(recipe, results)


def _of_given(recipe: Recipe, results: Results) -> list[Noticed]:
    """That documents have no vector, where the lens works on vectors from outside."""
    given = results.get(GIVEN)
    if given is None or recipe.weigh.space not in ("file", "service") or not given.lacking:
        return []
    return [
        Noticed(
            "weigh",
            f"{given.lacking:,} of {len(given.there):,} documents have no vector, and so no place in pairs, groups and the map.",
        )
    ]


def _of_boilerplate(recipe: Recipe, results: Results) -> list[Noticed]:
    """That one family makes most of the pairs, because its documents share a sentence and not because they are copies."""
    pairs, corpus, terms = results.get(PAIRS), results.get(CORPUS), results.get(TERMS)
    if pairs is None or corpus is None or terms is None or "recurring-sentences" in recipe.clean.take_out:
        return []
    near = pairs.family >= 0
    counts = np.bincount(pairs.family[near])
    if not len(counts) or counts.max() < _MANY_PAIRS or 2 * counts.max() < len(pairs):
        return []
    largest = pairs.family == counts.argmax()
    if 2 * int((pairs.kind[largest] == Kind.SAME).sum()) > int(largest.sum()):
        return []
    members = np.unique(np.concatenate((pairs.first[largest], pairs.second[largest])))
    sentence = _sentence_of(pairs, members, corpus, terms)
    if not sentence:
        return []
    words = (
        f"One family of {len(members):,} documents accounts for {int(largest.sum()):,} of the {len(pairs):,} pairs. "
        f"They share the sentence “{sentence}”. If that is boilerplate, remove it from the texts, and list no copies "
        "below the limit: copies are found on whole texts."
    )
    value = [*recipe.clean.take_out, "recurring-sentences"]
    return [Noticed("compare", words, "take-out", value, setting_of="clean")]


def _sentence_of(pairs: Pairs, members: NDArray[np.integer], corpus: Corpus, terms: TermCounts) -> str:
    """The sentence that the documents of the largest family share, cached while the pairs are the same: notices are asked for often."""
    global _last_found
    if _last_found is None or _last_found[0]() is not pairs:
        some = members[np.linspace(0, len(members) - 1, min(len(members), _TEXTS)).astype(np.int64)]
        texts = (corpus.texts[int(terms.rows[row])] for row in some.tolist())
        ends = [text if len(text) <= 2 * _LOOKED_AT else f"{text[:_LOOKED_AT]}\n{text[-_LOOKED_AT:]}" for text in texts]
        _last_found = (weakref.ref(pairs), _shared_sentence(ends))
    return _last_found[1]


def _shared_sentence(texts: list[str]) -> str:
    """The sentence or line that most of the texts have, of several the longest; "" where most have none in common."""
    found: Counter[str] = Counter()
    for text in texts:
        found.update({" ".join(one.split()) for one in _SENTENCE_END.split(text) if len(one) >= _SHORTEST})
    often = [one for one, count in found.items() if 2 * count > len(texts)]
    best = max(often, key=lambda one: (found[one], len(one), one), default="")
    return best if len(best) <= _SHOWN else best[: _SHOWN - 1] + "…"


def _of_many(recipe: Recipe, results: Results) -> list[Noticed]:
    """That very many documents are grouped by samples of them, or their tree is made over groups."""
    grouping, tree = results.get(GROUPING), results.get(TREE)
    if grouping is None:
        return []
    grouped = int((grouping.group >= 0).sum())
    if recipe.group.by == "k-means" and from_samples(grouped, len(grouping)):
        words = (
            f"The groups were found in {SAMPLES} random samples of {SAMPLE:,} documents; the best of them took in all {grouped:,}. "
            "Stability and curves are measured on one sample."
        )
        return [Noticed("group", words)]
    if recipe.group.by == "tree" and tree is not None and len(tree) > MOST_ROWS:
        words = (
            f"With more than {MOST_ROWS:,} documents the tree joins {BRANCHES} groups of k-means by Ward linkage. It shows no joins within "
            "them."
        )
        return [Noticed("group", words)]
    return []


def _of_tree(recipe: Recipe, results: Results) -> list[Noticed]:
    """That a tree cannot be cut into as many groups as are wanted."""
    tree, grouping = results.get(TREE), results.get(GROUPING)
    if tree is None or grouping is None or not len(tree) or recipe.group.by != "tree":
        return []
    wanted = min(recipe.group.number(len(tree)), len(tree))
    if len(grouping) >= wanted:
        return []
    height = float(tree.heights[len(tree) - len(grouping) - 1])
    equal = int((tree.heights == height).sum())
    words = (
        f"The tree has {equal:,} joins at exactly {height:.3g}, so it cannot be cut into {wanted:,} groups. It is cut "
        f"into {len(grouping):,}; the next possible number is {len(grouping) + equal:,}. Another linkage separates "
        "them."
    )
    return [Noticed("group", words, "linkage")]


def _of_clean(recipe: Recipe, tokens: Tokens, results: Results) -> list[Noticed]:
    found = []
    first, last = tokens.account[0].left, tokens.account[-1].left
    if first and not last:
        most = max(tokens.account[1:], key=lambda loss: loss.taken)
        key, value = _BY_REASON.get(most.rule, ("", None))
        rule = most.rule.name.lower().replace("_", " ")
        words = f"No words are left: the rule “{rule}” removed {most.taken:,} of {first:,}."
        found.append(Noticed("clean", words, key, value, serious=True))
    if first and not tokens.language and recipe.clean.language in ("detect", "each"):
        words = "The language is unknown: words are used as written, without a stop word list."
        found.append(Noticed("clean", words, "language"))
    overview = results.get(OVERVIEW)
    if overview is not None and recipe.clean.language == "detect":
        others = overview.other_languages()
        if others and overview.main_name:
            which = ", ".join(name for name, _ in others[:4])
            many = sum(len(rows) for _, rows in others)
            words = f"{many:,} documents are not in {overview.main_name}: {which}."
            found.append(Noticed("gather", words))
    if tokens.main != UNKNOWN and is_spaceless(CODES[tokens.main]) and not tokens.characters:
        words = f"{NAMES[CODES[tokens.main]]} does not separate words by spaces; runs of characters work better."
        found.append(Noticed("clean", words, "tokens", "characters"))
    elif overview is not None and len(spaceless := overview.rows(Flag.SPACELESS)):
        which = ", ".join(sorted({overview.language_name(row) for row in spaceless.tolist()}))
        are = "1 document is" if len(spaceless) == 1 else f"{len(spaceless):,} documents are"
        words = f"{are} in {which}, which has no spaces between words: each run of characters is read as one word."
        found.append(Noticed("clean", words, "tokens"))
    idle = [
        name.removeprefix("rule ")
        for name, count in tokens.hits
        if name.startswith(("rule ", "replace ")) and not count
    ]
    if idle:
        more = f" and {len(idle) - 3} more" if len(idle) > 3 else ""
        listed = ", ".join(f"“{rule.removeprefix('replace ')}”" for rule in idle[:3])
        found.append(Noticed("clean", f"Rules without a match: {listed}{more}.", "own-rules"))
    return found


def _no_terms(recipe: Recipe, terms: TermCounts) -> Noticed:
    """The limit of Terms that removes the most, and what would let some pass."""
    t, why = recipe.terms, terms.vocabulary.why_not
    n = len(terms.rows)
    if not len(why):
        longest = "words"
        return Noticed(
            "terms", f"No term is {t.words[0]} words long; the documents are too short.", longest, [1, 2], True
        )
    kinds = np.bincount(why, minlength=len(WhyNot))
    most = WhyNot(int(kinds.argmax()))
    if most == WhyNot.RARE:
        commonest = int(terms.vocabulary.documents.max())
        least = t.least_of(n)
        if least > commonest or t.least_times <= 1:
            words = f"No term occurs in at least {least:g} documents; the most common occurs in {commonest:,}."
            return Noticed("terms", words, "least-documents", float(min(commonest, 1 if commonest < 2 else 2)), True)
        return Noticed("terms", f"No term occurs {t.least_times:,} times.", "least-times", 1, True)
    if most == WhyNot.COMMON:
        words = f"Every term occurs in more than {t.most_share:.0%} of the {n:,} documents."
        return Noticed("terms", words, "most-share", 1.0, True)
    if most == WhyNot.UNLISTED:
        return Noticed("terms", f"No term is on the list {shown_list(t.only_list)}.", "only-list", "", True)
    if most == WhyNot.DROPPED:
        return Noticed("terms", "Every term is on the list Always drop.", "always-drop", [], True)
    return Noticed("terms", "The limits leave no terms.", "most-terms", 0, True)
