# SPDX-License-Identifier: GPL-3.0-or-later
"""What the guide says of the demo is what the demo gives."""

from __future__ import annotations

import csv
import re
import threading
from collections import Counter
from http.server import ThreadingHTTPServer
from pathlib import Path

import numpy as np
import pytest

from conftest import Silent
from jagged_lens.clean import Flag
from jagged_lens.demo import demo_recipe
from jagged_lens.group import BREAKS, HOLDS
from jagged_lens.group.agreement import adjusted_rand
from jagged_lens.lens import (
    ALWAYS,
    CORPUS,
    GROUPING,
    HOLDING,
    KEY_TERMS,
    LAYOUT,
    NEIGHBOURS,
    OVERVIEW,
    SUGGESTIONS,
    SWEEP,
    TERMS,
    WORDS,
    Job,
    Recent,
    Results,
    compute,
    read_recipe,
    with_needs,
)
from jagged_lens.map import separation
from jagged_lens.place import Part
from jagged_lens.vectors import Service

PAGE = (Path(__file__).parents[2] / "docs" / "guide.md").read_text("utf-8")
GUIDE = re.sub(r"\s+", " ", PAGE)
NUMBERS = ["none", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"]


def lens(name: str, *more: object) -> Results:
    path = demo_recipe().parent / name
    parts = with_needs([*ALWAYS, OVERVIEW, KEY_TERMS, *more])  # type: ignore[list-item]
    return compute(Job(read_recipe(path), path.parent), Recent(), Silent(), lambda: parts)


@pytest.fixture(scope="module")
def crops() -> Results:
    return lens("larkmoor.toml", HOLDING, SUGGESTIONS)


@pytest.fixture(scope="module")
def troubles() -> Results:
    return lens("larkmoor.2-troubles.toml")


def said(words: str) -> None:
    assert words in GUIDE, words


def label(results: Results, name: str) -> list[str]:
    found = next(one for one in results[CORPUS].labels if one.name == name)
    return [found.value(int(row)) for row in results[TERMS].rows]


def share(results: Results, term: str, season: str) -> float:
    terms = results[TERMS]
    held = terms.counts[:, [list(terms.terms).index(term)]].toarray().ravel() > 0
    inside = np.array([value == season for value in label(results, "season")])
    return float(held[inside].mean())


def test_what_needs_attention(crops: Results) -> None:
    overview = crops[OVERVIEW]
    empty, other, same = (len(overview.rows(flag)) for flag in (Flag.EMPTY, Flag.LANGUAGE, Flag.SAME))
    said(
        f"In the demo {NUMBERS[empty]} notes are empty, {NUMBERS[other]} are in other languages, and {same} occur twice"
    )
    footers = sum("bring the envelope back" in text for text in crops[CORPUS].texts)
    said(f"footer that {footers} notes of one district carry")


def test_groups(crops: Results, troubles: Results) -> None:
    holding, shown = crops[HOLDING], crops[TERMS].shown
    assert len(crops[GROUPING]) == 10
    stable = int((holding.groups >= HOLDS).sum())
    said(f"In the demo's first lens {NUMBERS[stable]} of ten groups are stable")
    least = int(np.argmin(holding.groups))
    name = " · ".join(shown[column] for column in crops[KEY_TERMS].names(least))
    assert holding.groups[least] < BREAKS
    said(f"In the demo *{name}* is not: in {holding.came_back[least]} of {holding.tries} tries it came back.")
    crop = label(crops, "crop")
    groups = crops[GROUPING].group
    of = [Counter(crop[row] for row in np.flatnonzero(groups == one)) for one in range(len(crops[GROUPING]))]
    misfits = sum(sum(counts.values()) - max(counts.values()) for counts in of)
    said(f"In the demo {misfits} notes are in the group of another crop")
    few = lens("larkmoor.3-few.toml", SWEEP)
    assert len(few[GROUPING]) == 4
    said(f"In the lens *Too few groups*, with four of them, {NUMBERS[few[SWEEP].suggested]} are suggested.")
    firsts = [troubles[TERMS].shown[troubles[KEY_TERMS].columns(one)[0]] for one in range(10)]
    names = {"bolted": "bolting"}
    said(f"the ten groups are ten troubles: {', '.join(names.get(one, one) for one in firsts)}.")


def test_pairs_told_twice(crops: Results) -> None:
    planted = [line.split(",") for line in (demo_recipe().parent / "planted.csv").read_text("utf-8").splitlines()]
    pairs = [(first, second) for first, second, kind in planted if kind == "subject"]
    keys = [crops[CORPUS].keys[int(row)] for row in crops[TERMS].rows]
    nearest = {key: keys[crops[NEIGHBOURS].row[at, 0]] for at, key in enumerate(keys)}
    assert len(pairs) == 20
    assert all(nearest[first] == second and nearest[second] == first for first, second in pairs)
    said("twenty pairs tell of the same thing in other words; each is the nearest of the other")


def test_the_map(crops: Results) -> None:
    layout = crops[LAYOUT]
    said(f"in the demo {layout.overall:.0%}. With two principal components it would be {layout.components:.0%}.")
    crop = next(one for one in crops[CORPUS].labels if one.name == "crop")
    found = separation(crop.codes[crops[TERMS].rows], crop.none, crops[NEIGHBOURS], layout)
    said(f"In the demo it is {found.all_space:.0%}, {found.all_map:.0%} and {found.all_chance:.0%} for the crop.")


def test_learned_vectors(crops: Results) -> None:
    path = demo_recipe()
    recipe = read_recipe(path).with_setting("weigh", "vectors", "learned")
    learned = compute(Job(recipe, path.parent), Recent(), Silent(), lambda: with_needs([NEIGHBOURS, LAYOUT]))
    shares = []
    for results in (crops, learned):
        crop = next(one for one in results[CORPUS].labels if one.name == "crop")
        found = separation(crop.codes[results[TERMS].rows], crop.none, results[NEIGHBOURS], results[LAYOUT])
        shares.append(f"{found.all_space:.0%}")
    said(f"{shares[0]} of the 12 nearest notes tell of the same crop; with learned vectors it is {shares[1]}.")


def test_contrasts(crops: Results, troubles: Results) -> None:
    said(f"*Slugs* occur in {share(crops, 'slug', 'wet'):.0%} ")
    said(f"of the notes of wet seasons and in {share(crops, 'slug', 'dry'):.0%} of dry ones")
    said(f"*drought* in {share(crops, 'drought', 'dry'):.0%} of the dry ones")
    said(f"with {len(crops[TERMS].kept):,} terms some look different by chance")
    one, other = crops[GROUPING].group, troubles[GROUPING].group
    both = (one >= 0) & (other >= 0)
    table = np.zeros((10, 10), np.int64)
    np.add.at(table, (one[both], other[both]), 1)
    said(f"(adjusted Rand {adjusted_rand(table):.2f})")


def test_suggestions(crops: Results) -> None:
    held = crops[SUGGESTIONS].figures(Part.HELD_OUT)
    count = int(held.counts.sum())
    right, usual = round(held.accuracy * count), round(held.trivial * count)
    said(f"for the crop {right} of {count}, where always suggesting the most common would be right for {usual}.")


def test_notes_in_another_word_come_together_by_meaning(troubles: Results) -> None:
    with (demo_recipe().parent / "dialect.csv").open(encoding="utf-8", newline="") as file:
        notes = [row["note"] for row in csv.DictReader(file)]
    shares = []
    meaning = lens("larkmoor.5-meaning.toml")
    for results in (troubles, meaning):
        corpus, rows = results[CORPUS], results[TERMS].rows
        place = {corpus.keys[int(row)]: at for at, row in enumerate(rows)}
        near = results[NEIGHBOURS].row[[place[note] for note in notes], :6]
        texts = [corpus.texts[int(rows[at])] for at in near.ravel()]
        shares.append(np.mean([bool(re.search(r"\b[Ss]lugs?\b", text)) for text in texts]))
    assert len(notes) == 16
    said("Sixteen notes from Otter Bank and Low Hythe call slugs *loddies*")
    said(f"{shares[0]:.0%} tell of slugs by that name in *Troubles*, and {shares[1]:.0%} in *By meaning*")
    words = meaning[WORDS]
    number, _ = words.used_alike("loddi", 1)[0]
    assert next(word for word, at in words.words.items() if at == number) == "slug"


def test_the_adapter_of_the_guide_is_a_service() -> None:
    code = next(
        block for block in re.findall(r"```python\n(.*?)```", PAGE, re.DOTALL) if "ThreadingHTTPServer" in block
    )
    assert len(code.splitlines()) <= 36
    parts: dict[str, object] = {"__name__": "adapter"}
    exec(compile(code, "adapter", "exec"), parts)
    server = ThreadingHTTPServer(("127.0.0.1", 0), parts["Handler"])  # type: ignore[arg-type]
    threading.Thread(target=server.serve_forever, daemon=True).start()
    service = Service(f"http://127.0.0.1:{server.server_port}/", "")
    try:
        assert service.described().dimensions == 12
        assert service.vectors_of(["Eel", "x"]).tolist()[0][0] == pytest.approx(2 / 3)
    finally:
        service.close()
        server.shutdown()
        server.server_close()
