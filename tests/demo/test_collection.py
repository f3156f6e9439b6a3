# SPDX-License-Identifier: GPL-3.0-or-later
"""The Larkmoor collection is what it says it is."""

import csv
import re
from collections import Counter
from pathlib import Path

import pytest

from conftest import Silent
from jagged_lens.demo import demo_recipe
from jagged_lens.demo.collection import (
    LATE,
    LATE_COPIES,
    PLANTED,
    Collection,
    late_name,
    make,
    write,
)
from jagged_lens.demo.likeness import likeness, shingles_of, words_of
from jagged_lens.demo.world import CROPS
from jagged_lens.lens import ALWAYS, CORPUS, TERMS, Job, Recent, compute, read_recipe, with_needs

HERE = demo_recipe().parent


@pytest.fixture(scope="module")
def made() -> Collection:
    return make()


def test_what_ships_is_what_the_code_makes(tmp_path: Path) -> None:
    write(tmp_path)
    for path in sorted(tmp_path.rglob("*")):
        if path.is_file():
            assert path.read_bytes() == (HERE / path.relative_to(tmp_path)).read_bytes(), path.name


def test_it_holds_what_the_demo_needs(made: Collection) -> None:
    texts = [note.text for note in made.notes]
    lengths = [len(words_of(text)) for text in texts if text]
    assert len(texts) == 640
    assert texts.count("") == 2
    own = [len(words_of(note.text)) for note in made.notes if note.trouble and note.text]
    assert sum(40 <= length <= 160 for length in own) / len(own) > 0.95
    assert max(lengths) < 180
    assert len({note.crop for note in made.notes}) == 10
    assert sum("<" in text or "&" in text for text in texts) >= 6
    assert any("https://" in text for text in texts)
    footers = Counter(note.district for note in made.notes if "bring the envelope back" in note.text)
    assert footers.most_common(1)[0][0] == "Otter Bank"
    assert len(made.late) == LATE + 20


def test_some_late_notes_are_copies_and_the_others_are_not(made: Collection) -> None:
    text = {made.key(place): note.text for place, note in enumerate(made.notes)}
    assert Counter(kind for _, _, kind in made.late_copies) == LATE_COPIES
    for place, key, kind in made.late_copies:
        resemblance, containment = likeness(text[key], made.late[place].text)
        assert (words_of(text[key]) == words_of(made.late[place].text)) == (kind == "same")
        assert (resemblance >= 0.4) == (kind != "holds")
        assert containment >= 0.8 or kind == "edited"
    copies = {place for place, _, _ in made.late_copies}
    assert Counter(place for place, _ in made.late_twins) == Counter(range(LATE, LATE + 20))
    for place, note in enumerate(made.late):
        if place not in copies:
            alike = [likeness(one, note.text) for one in text.values() if one]
            assert all(resembles < 0.4 and held < 0.8 for resembles, held in alike), late_name(made, place)


def test_at_least_five_hundred_frames_were_written() -> None:
    folder = HERE.parent / "material"
    lines = [
        line
        for name in ("crops", "trade", "troubles", "common")
        for line in (folder / f"{name}.txt").read_text("utf-8").splitlines()
    ]
    frames = [line for line in lines if line and line[0] not in "#["]
    assert len(frames) == len(set(frames)) >= 500


def test_planted_pairs_are_of_the_kind_that_the_key_says(made: Collection) -> None:
    text = {made.key(place): note.text for place, note in enumerate(made.notes)}
    assert Counter(kind for _, _, kind in made.planted) == PLANTED
    for first, second, kind in made.planted:
        resemblance, containment = likeness(text[first], text[second])
        same = words_of(text[first]) == words_of(text[second])
        assert same == (kind == "same"), (first, second)
        assert (resemblance >= 0.4) == (kind in ("same", "edited"))
        assert (containment >= 0.8) == (kind in ("same", "holds")) or kind == "edited"
    with (HERE / "planted.csv").open(encoding="utf-8", newline="") as file:
        assert [tuple(row.values()) for row in csv.DictReader(file)] == made.planted


def test_no_phrase_but_the_footer_stands_in_more_than_ten_notes(made: Collection) -> None:
    holders = Counter(run for note in made.notes for run in shingles_of(note.text))
    often = {run for run, count in holders.items() if count > 10}
    assert often
    assert often <= shingles_of("Otter Bank Growers' Shelf. Please bring the envelope back to the counter.")


def test_slots_are_filled_with_what_fits(made: Collection) -> None:
    texts = [note.text for note in [*made.notes, *made.late]]
    assert not [
        text
        for text in texts
        if re.search(r"[{}]|\b[Aa]n? (?:a|an|the)\b|\ba (?!one|use)[aeiou]|\ban [^aeiouh\W]", text)
    ]
    months = {"garlic": "October|November", "bean": "May|June", "tomato": "February|March|April", "pea": "March|April"}
    for note in made.notes:
        for month in re.findall(r"(?:[Ss]own|borrowed|Planted the garlic) in ([A-Z][a-z]+)\b", note.text):
            assert re.fullmatch(months.get(note.crop, r"\w+"), month), note.text


def test_pairs_on_the_same_subject_were_written_by_hand(made: Collection) -> None:
    hand = (HERE.parent / "material" / "same_subject.txt").read_text("utf-8").splitlines()
    text = {made.key(place): note.text for place, note in enumerate(made.notes)}
    pairs = [(text[first], text[second]) for first, second, kind in made.planted if kind == "subject"]
    assert len(pairs) == 20
    assert all(first in hand and second in hand for first, second in pairs)


def test_notes_that_are_not_planted_share_at_most_a_third_of_their_runs(made: Collection) -> None:
    connected = {frozenset(pair[:2]) for pair in made.planted}
    runs = {made.key(place): shingles_of(note.text) for place, note in enumerate(made.notes) if note.text}
    holders: dict[tuple[str, ...], list[str]] = {}
    for key, own in runs.items():
        for run in own:
            holders.setdefault(run, []).append(key)
    shared: Counter[tuple[str, str]] = Counter()
    for keys in holders.values():
        if len(keys) <= 200:  # the footer of one district, which all its notes share
            shared.update((a, b) for at, a in enumerate(keys) for b in keys[at + 1 :])
    for (a, b), count in shared.items():
        if frozenset((a, b)) not in connected:
            assert count <= len(runs[a] | runs[b]) / 3, (a, b)


def test_late_notes_in_other_words_share_no_term_with_their_twins_but_those_of_the_crop(made: Collection) -> None:
    path = demo_recipe()
    results = compute(Job(read_recipe(path), path.parent), Recent(), Silent(), lambda: with_needs([*ALWAYS]))
    place_of = {made.key(place): place for place in range(len(made.notes))}
    terms, rows = results[TERMS], {int(row): at for at, row in enumerate(results[TERMS].rows)}
    sample = {results[CORPUS].keys[row]: at for row, at in rows.items()}
    with (HERE / "late_twins.csv").open(encoding="utf-8", newline="") as file:
        twins = [(late_name(made, place), key) for place, key in made.late_twins]
        assert [(row["late"], row["note"]) for row in csv.DictReader(file)] == twins
    for place, key in made.late_twins:
        late, twin = made.late[place], made.notes[place_of[key]]
        assert (late.crop, late.trouble) == (twin.crop, twin.trouble)
        own = {terms.shown[column] for column in terms.counts[[sample[key]]].nonzero()[1]}
        said = {word.strip(".,").lower() for word in late.text.split()}
        crop = [*CROPS[late.crop][0].split(), late.crop]
        assert not {one for one in own & said if one not in crop}, (key, own & said)
        stem = {"slugs": "slug", "birds": "bird", "bolting": "bolt", "mice": "mouse"}.get(late.trouble, late.trouble)
        assert stem not in late.text.lower()
