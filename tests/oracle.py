# SPDX-License-Identifier: GPL-3.0-or-later
"""The page of formulas once more, as slow plain Python: no arrays, no shared code. What the product computes must equal it."""

from __future__ import annotations

import itertools
import math
import unicodedata
from collections import Counter
from dataclasses import dataclass, field


def kind(character: str) -> str:
    return unicodedata.category(character)[0]


SPACELESS = ((0xE00, 0xF00), (0x1000, 0x10C0), (0x1780, 0x1800))  # Thai and Lao, Burmese, Khmer
INVISIBLE = "\u00ad\u200b\u200c\u200d\u2060\ufeff"


def tokens_of(text: str, letters: bool = False, join: bool = False) -> list[tuple[str, int, int]]:
    """(token, start, end) of a text, by looking at one character after the other."""

    def is_word(at: int) -> bool:
        return 0 <= at < len(text) and kind(text[at]) in ("LM" if letters else "LMN")

    def is_number(at: int) -> bool:
        return 0 <= at < len(text) and kind(text[at]) == "N"

    def stays(at: int) -> bool:
        if is_word(at):
            return True
        if not letters and text[at] in ".," and is_number(at - 1) and is_number(at + 1):
            return True
        if text[at] == "\u200b" and at and any(low <= ord(text[at - 1]) < high for low, high in SPACELESS):
            return False
        inside = text[at] in "'’" or (join and text[at] in "-\u2010\u2011")
        return ((not letters and inside) or text[at] in INVISIBLE) and is_word(at - 1) and is_word(at + 1)

    spans, at = [], 0
    while at < len(text):
        if not stays(at):
            at += 1
            continue
        start = at
        while at < len(text) and stays(at):
            at += 1
        spans.append((start, at))
    if not letters:
        spans = with_initialisms(text, spans)
    return [(spelled(text[start:end]), start, end) for start, end in spans]


def with_initialisms(text: str, spans: list[tuple[int, int]]) -> list[tuple[int, int]]:
    """Single letters with nothing but a full stop between them are one token, with the full stop behind the last."""
    found: list[tuple[int, int]] = []
    chained = False
    for start, end in spans:
        one = end - start == 1 and kind(text[start]) in "LM"
        before = found[-1] if found else (0, 0)
        if one and chained and before[1] + 1 == start and text[before[1]] == ".":
            found[-1] = (before[0], end)
        else:
            found.append((start, end))
        chained = one
    several = [(start, end) for start, end in found]
    return [
        (start, end + 1)
        if "." in text[start:end]
        and kind(text[start]) != "N"
        and text[end : end + 1] == "."
        and len(text[start:end].replace(".", "")) * 2 - 1 == end - start
        else (start, end)
        for start, end in several
    ]


def spelled(word: str) -> str:
    word = word.replace("’", "'").replace("\u2010", "-").replace("\u2011", "-")
    for sign in "\u00ad\u200b\u2060\ufeff":
        word = word.replace(sign, "")
    kept = ""
    for at, character in enumerate(word):
        shaped = at and (0x600 <= ord(word[at - 1]) < 0x900 or 0x900 <= ord(word[at - 1]) < 0xE00)
        if character not in "\u200c\u200d" or shaped:
            kept += character
    pairs = kept.rstrip(".").split(".")
    if len(pairs) > 1 and all(len(one) == 1 and kind(one) in "LM" for one in pairs) and not kept.endswith("."):
        return kept + "."
    return kept


def closes(text: str, at: int) -> bool:
    """Whether white space or the end of the text follows a mark, or does behind what closes a quotation."""
    behind = at + 1
    if behind < len(text) and text[behind] in "\"')]”’»":
        behind += 1
    return behind == len(text) or text[behind].isspace()


def ends_between(text: str, start: int, end: int) -> bool:
    """Whether a sentence may end between two places of a text."""
    start -= text[start - 1 : start] == "."
    for at in range(start, end):
        if text[at] in "。！？؟।" or (text[at] in ".!?…" and closes(text, at)):
            return True
    gap = text[start:end]
    feeds = [at for at, character in enumerate(gap) if character == "\n"]
    return any(gap[a + 1 : b].strip() == "" for a, b in itertools.pairwise(feeds))


@dataclass
class Rules:
    letters: bool = False
    join: bool = False
    lower: bool = True
    strip: bool = False
    drop_numbers: bool = True
    shortest: int = 1
    longest: int = 40
    stop: frozenset[str] = frozenset()
    words: tuple[int, int] = (1, 2)
    bridge: bool = False
    least: float = 1
    least_times: int = 1
    most_share: float = 1.0
    most_terms: int = 0
    extra: dict[str, object] = field(default_factory=dict)

    def fold(self, token: str) -> str:
        token = token.lower() if self.lower else token
        if self.strip:
            bare = (c for c in unicodedata.normalize("NFD", token) if unicodedata.category(c) != "Mn")
            token = unicodedata.normalize("NFC", "".join(bare))
        return token

    def kept(self, token: str) -> bool:
        between = [c for c in token if kind(c) != "N"]
        if self.drop_numbers and token and set(between) <= set(".,'") and kind(token[0]) == "N":
            return False
        return self.shortest <= len(token) <= self.longest and token not in self.stop


def ngrams_of(text: str, rules: Rules) -> Counter[str]:
    """How often a text holds each n-gram."""
    text = unicodedata.normalize("NFC", text)
    found = [(rules.fold(token), start, end) for token, start, end in tokens_of(text, rules.letters, rules.join)]
    runs: list[list[str]] = [[]]
    last_end = None
    for token, start, end in found:
        if last_end is not None and ends_between(text, last_end, start):
            runs.append([])
        last_end = end
        if rules.kept(token):
            runs[-1].append(token)
        elif not rules.bridge:
            runs.append([])
    counts: Counter[str] = Counter()
    for run in runs:
        for length in range(rules.words[0], rules.words[1] + 1):
            counts.update(" ".join(run[at : at + length]) for at in range(len(run) - length + 1))
    return counts


def kept_terms(documents: list[Counter[str]], rules: Rules) -> list[str]:
    """The terms within the limits, by times falling, then code point."""
    times: Counter[str] = Counter()
    df: Counter[str] = Counter()
    for counts in documents:
        times.update(counts)
        df.update(counts.keys())
    n = len(documents)
    terms = [
        term
        for term in times
        if (df[term] / n if rules.least < 1 else df[term]) >= rules.least
        and times[term] >= rules.least_times
        and df[term] / n <= rules.most_share
    ]
    terms.sort(key=lambda term: (-times[term], term))
    return terms[: rules.most_terms] if rules.most_terms else terms


def weights_of(
    documents: list[Counter[str]], terms: list[str], local: str, across: str, length: str, base: float
) -> list[dict[str, float]]:
    """The weight of every kept term in every document."""
    n = len(documents)
    df = {term: sum(counts[term] > 0 for counts in documents) for term in terms}
    times = {term: sum(counts[term] for counts in documents) for term in terms}
    rows = []
    for counts in documents:
        total = sum(counts[term] for term in terms)
        row = {}
        for term in terms:
            c = counts[term]
            if c:
                own = {"presence": 1.0, "count": c, "share": c / total, "log": 1 + math.log(c)}[local]
                row[term] = own * _across(across, term, documents, n, df[term], times[term], base)
        size = {"none": 1.0, "L1": sum(map(abs, row.values())), "L2": math.sqrt(sum(w * w for w in row.values()))}[
            length
        ]
        rows.append({term: w / size for term, w in row.items()} if size else dict.fromkeys(row, 0.0))
    return rows


def _across(kind_: str, term: str, documents: list[Counter[str]], n: int, df: int, times: int, base: float) -> float:
    if kind_ == "plain":
        return math.log(n / df, base)
    if kind_ == "guarded":
        return math.log(n / (1 + df), base)
    if kind_ == "lifted":
        return math.log((1 + n) / (1 + df), base) + 1
    if kind_ == "probabilistic":
        return max(0.0, math.log((n - df) / df, base)) if df < n else 0.0
    if kind_ == "entropy":
        if n == 1:
            return 0.0
        shares = [counts[term] / times for counts in documents if counts[term]]
        weight = 1 + sum(p * math.log(p) for p in shares) / math.log(n)
        return 0.0 if abs(weight) < 1e-12 else weight
    return 1.0
