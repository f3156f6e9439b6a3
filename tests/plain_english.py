# SPDX-License-Identifier: GPL-3.0-or-later
"""What a check can hear of plain English: stiff phrases, doubled words, missing articles, long sentences."""

from __future__ import annotations

import re

LONGEST = 25
"""The most words of a sentence."""

STIFF = (
    r"\banew\b",
    r"\bso many (?!that|as|pairs|documents that)",
    r"\b(?:the|its|their) nearest stay\b",
    r", of 100\b",
    r"\b(?:stands?|stood) among\b",
    r"\bstrangers\b",
    r"\bany day to any day\b",
    r"\btaken of these\b",
    r"\bdoes? not hold\b",
    r"\bholds? in part\b",
    r"\bwhether (?:it|they) holds?\b",
    r"\btells? (?:them|it|these) apart\b",
    r"\btold apart\b",
    r"\bworks? it through\b",
    r"\bas it was left\b",
    r"\bbrings? up\b",
    r"\bsteps? back\b",
    r"\btake(?:s|n)? them in\b",
    r"\bgives? no documents? at all\b",
    r"(?<!there )\bis no (?:list|text|number|date|label|rule|project|address|page|table|decision)\b",
    r"\bare no (?:numbers|dates|labels|addresses)\b",
    r"\bstands?\b(?! for\b| alone\b)",
    r"\bholds? (?:a|an|any|it|the|them|these|this|one of)\b",
    r"\bthat (?:is|are) (?:picked|shown|listed|tried|held out|read|chosen|looked at|not there)\b",
    r"\b(?:come|comes|came) (?:about|near)\b",
    r"\bgo(?:es)? by\b",
    r"\bin truth\b",
    r"\bfor want of\b",
    r"\bnothing (?:is|was) (?:left|there)\b",
    r"\bat the (?:left|right)\b",
    r"\bof each of these\b",
    r"\b1 (?:hits|documents|terms|pairs|groups|words|copies|families|rows)\b",
    r"\bhow far to believe\b",
    r"\bby itself\b(?! and)",
    r"\bwhat is (?:picked|read|taken|tried|in front|set aside|said|compared|dragged)\b",
    r"\bcommonest\b",
    r"\bnothing that was there\b",
    r"\bas alike as\b",
    r"\bthe more alike\b",
    r"\bturn(?:s)? the wheel to come near\b",
    r"\bround (?:it|them|points|this)\b",
)
"""Phrases that a professional stumbles over; the chapter *English* of the pages on the interface says what to write."""

STIFF_STARTS = (
    r"What\b",
    r"Whether\b",
    r"How (?:many|often|alike)\b",
    r"Of (?:each|every|some|those|all|n|g|k)\b",
    r"Why\b",
)
"""How the first line of a docstring must not begin: it says what comes out of what."""

_DOUBLED = re.compile(r"\b(?!had |that )([a-z]+) \1\b(?!-)")
_BARE = re.compile(
    r"\b(?:in|of|from|to|for|with|by|on|into|is|are|opens?|shows?|picks?|reads?|choose|add|delete|rename)"
    r" (?<!term by )(?<!Sort by )(lens|group|document|term)\b(?! (?:by|order|frequency|list|counts|vectors|mining|is|them)\b)"
)
_WHICH = re.compile(r"(\S+) which (?:is|are|has|have|can|was|were|does|do)\b")
_BEFORE_WHICH = {
    "of",
    "in",
    "on",
    "at",
    "to",
    "by",
    "as",
    "from",
    "with",
    "say",
    "says",
    "know",
    "also",
    "over",
    "and",
    "or",
    "see",
}
_SENTENCE = re.compile(r"(?<=[.!?])\s+|\n|;\s|:\s| · ")


def sentences_of(text: str) -> list[str]:
    """The sentences of a text, and the parts of one between colons and semicolons."""
    return [part.strip() for part in _SENTENCE.split(text) if part.strip()]


def faults_of(text: str) -> list[str]:
    """What is stiff or wrong in a text of the interface."""
    plain = re.sub(r"<[^>]+>|&", "", text)
    found = [phrase for phrase in STIFF if re.search(phrase, plain, re.IGNORECASE)]
    found += [f"doubled: {match[0]}" for match in _DOUBLED.finditer(plain)]
    found += [f"no article: {match[0]}" for match in _BARE.finditer(plain)]
    found += [
        f"which without a comma: {match[0]}"
        for match in _WHICH.finditer(plain)
        if match[1][-1] not in ",:;(" and match[1].lower() not in _BEFORE_WHICH
    ]
    found += [f"long: {one}" for one in sentences_of(plain) if len(one.split()) > LONGEST]
    return found


def faults_of_docstring(text: str) -> list[str]:
    """What is stiff or wrong in the first sentence of a docstring."""
    first = re.split(r"(?<=[.!?])\s+(?=[A-Z])", " ".join(text.strip().split("\n\n")[0].split()))[0]
    found = [f"starts: {start}" for start in STIFF_STARTS if re.match(start, first)]
    found += [f"doubled: {match[0]}" for match in _DOUBLED.finditer(first)]
    found += [f"long: {one}" for one in re.split(r"[.;:] ", first) if len(one.split()) > LONGEST]
    return found
