# SPDX-License-Identifier: GPL-3.0-or-later
"""Makes the Larkmoor collection from hand-written material: python -m jagged_lens.demo.collection FOLDER.

Every sentence frame in `material/` was written by hand; this puts them together, seeded, so that the collection is the same
each time. No two notes that are not planted as alike share more than a third of their runs of four words.
"""

from __future__ import annotations

import csv
import random
import re
import sys
from collections import Counter, defaultdict
from dataclasses import dataclass, field, replace
from email import policy
from email.message import EmailMessage
from importlib import resources
from pathlib import Path

from jagged_lens.demo.copying import VARIED
from jagged_lens.demo.likeness import likeness, shingles_of, words_of
from jagged_lens.demo.world import (
    CROPS,
    DIALECT,
    DIALECT_DISTRICTS,
    DISTRICTS,
    FUNCTION_WORDS,
    GONE,
    KIND,
    LITTLE_SAID,
    PICKED,
    SEASONS,
    SLIPS,
    SOWN,
    YEARS,
)

NOTES = 640
LATE = 30
SEED = 20
SHARED_AT_MOST = 1 / 3
PLANTED = {"same": 12, "edited": 24, "holds": 12, "subject": 20}
_COPIED = ("same", "edited", "holds")
LATE_COPIES = {"same": 2, "edited": 3, "holds": 2}

_REGISTERS = ("plain",) * 9 + ("terse",) * 4 + ("chatty",) * 4 + ("list",) * 2 + ("angry",) * 2
_FOOTER_DISTRICT = "Otter Bank"
_FOOTER = "Otter Bank Growers' Shelf. Please bring the envelope back to the counter."
MOST_HOLDERS = 10
"""In so many notes a run of four words may stand, but for those of the footer."""
USES = 9
"""In so many before any is copied."""


@dataclass(frozen=True)
class Note:
    """One return note, and the trouble that it was made from (which the collection does not say)."""

    crop: str
    variety: str
    plot: int
    district: str
    year: int
    season: str
    trouble: str
    text: str

    @property
    def title(self) -> str:
        return f"{CROPS[self.crop][1]} ‘{self.variety}’, plot {self.plot}"


@dataclass
class Collection:
    """The notes in order, their keys, the planted pairs (first, second, kind), the notes that come late, which of those are copies
    (place among them, key of the note, kind), and which tell a note's trouble in other words (place among them, key of the note), and
    the keys of the notes that call slugs by their name in the dialect."""

    notes: list[Note]
    planted: list[tuple[str, str, str]]
    late: list[Note]
    late_copies: list[tuple[int, str, str]] = field(default_factory=list)
    late_twins: list[tuple[int, str]] = field(default_factory=list)
    dialect: list[str] = field(default_factory=list)

    def key(self, place: int) -> str:
        return f"LM-{place + 1:04d}"


@dataclass
class _Maker:
    """Frames and slots, and the runs that were used so far."""

    random: random.Random
    frames: dict[str, list[str]]
    slots: dict[str, list[str]]
    holders: dict[tuple[str, ...], list[int]] = field(default_factory=lambda: defaultdict(list))
    sizes: list[int] = field(default_factory=list)
    uses: Counter[str] = field(default_factory=Counter)
    drafted: list[str] = field(default_factory=list)

    def sentences(self, section: str, count: int, note: Note) -> list[str]:
        """Different frames of a section with their slots filled; none that was used as often as it may be."""
        able = [frame for frame in self.frames[section] if self.uses[frame] < USES or not _has_run(frame)]
        chosen = self.random.sample(able, min(count, len(able)))
        self.drafted += chosen
        return [self._filled(frame, note) for frame in chosen]

    def _filled(self, frame: str, note: Note) -> str:
        def slot(match: re.Match[str]) -> str:
            name = match[1]
            if name == "v":
                return note.variety
            if name == "crops":
                return CROPS[note.crop][0]
            if name == "kind":
                return KIND.get(note.crop, note.crop)
            of_crop: dict[str, dict[str, tuple[str, ...]]] = {"sow": SOWN, "pick": PICKED, "gone": GONE}
            if name in of_crop:
                return self.random.choice(of_crop[name][note.crop])
            return self.random.choice(self.slots[name])

        text = re.sub(r"\{(\w+)\}", slot, frame)
        return re.sub(r"(^|[.?!] )([a-z])", lambda match: match[1] + match[2].upper(), text)

    def note(self) -> Note:
        """A note that shares little with every note before it."""
        for _ in range(400):
            self.drafted = []
            draft = self._draft()
            words = words_of(draft.text)
            if 40 <= len(words) <= 140 and self.is_new(draft.text):
                self.remember(draft.text)
                self.uses.update(self.drafted)
                return draft
        raise AssertionError("the material does not reach for so many notes")

    def is_new(self, text: str) -> bool:
        """True if a text shares few runs with any before it, and none with as many as may share it."""
        own = shingles_of(text)
        if any(len(self.holders[run]) >= USES for run in own):
            return False
        shared = Counter(holder for run in own for holder in self.holders[run])
        return all(count <= SHARED_AT_MOST * min(len(own), self.sizes[holder]) for holder, count in shared.items())

    def remember(self, text: str) -> None:
        own = shingles_of(text)
        for run in own:
            self.holders[run].append(len(self.sizes))
        self.sizes.append(len(own))

    def _draft(self) -> Note:
        pick = self.random
        crop = pick.choice(sorted(CROPS))
        district = pick.choice(sorted(DISTRICTS))
        season = pick.choice(sorted(SEASONS))
        note = Note(
            crop,
            pick.choice(CROPS[crop][2]),
            pick.randint(1, 180),
            district,
            pick.randint(1, 5),
            season,
            pick.choice(SEASONS[season]),
            "",
        )
        return replace(note, text=self._text(note, pick.choice(_REGISTERS)))

    def _text(self, note: Note, register: str) -> str:
        pick = self.random

        def take(section: str, count: int) -> list[str]:
            return self.sentences(section, count, note)

        crop = take(note.crop, 1 if note.crop in LITTLE_SAID else 2)
        if note.crop not in LITTLE_SAID:
            crop += take(f"{note.crop}_trade", pick.randint(2, 3))
        trouble = take(note.trouble, pick.randint(2, 3))
        season = take(f"season_{note.season}", 1) if pick.random() < 0.6 else []
        soil = take(f"soil_{DISTRICTS[note.district]}", 1) if pick.random() < 0.3 else []
        if register == "terse":
            parts = take("open_terse", 1) + crop + trouble + take("terse", pick.randint(3, 5))
        elif register == "list":
            lines = take("list", pick.randint(5, 7))
            return "\n".join([*take("open_terse", 1), *(f"- {line}" for line in lines), *crop, *trouble])
        elif register == "angry":
            parts = take("open_angry", 1) + take("angry", 2) + trouble + crop + take("angry", 1) + take("close", 1)
        elif register == "chatty":
            parts = (
                take("open_chatty", 1)
                + season
                + crop
                + take("chatty", 2)
                + trouble
                + take("taste", 1)
                + take("seed", 1)
            )
        else:
            middle = season + soil + crop
            parts = (
                take("open_plain", 1)
                + middle
                + trouble
                + take("taste", pick.randint(0, 1))
                + take("seed", pick.randint(0, 1))
            )
            parts += take("close", pick.randint(0, 1))
        if len(parts) > 7 and pick.random() < 0.5:
            half = len(parts) // 2
            return " ".join(parts[:half]) + "\n\n" + " ".join(parts[half:])
        return " ".join(parts)


def _has_run(frame: str) -> bool:
    """True if four words of a frame stand together that no slot parts."""
    return any(len(words_of(part)) >= 4 for part in re.split(r"\{\w+\}", frame))


def make(seed: int = SEED) -> Collection:
    """The whole collection."""
    maker = _Maker(random.Random(seed), *_material())
    pick = maker.random
    for line in _lines("same_subject.txt"):
        maker.remember(line)
    count = NOTES - sum(PLANTED[kind] for kind in _COPIED) - 2 * PLANTED["subject"]
    notes = [maker.note() for _ in range(count - 10)]
    years = random.Random(seed + 2)
    notes = [replace(n, year=years.choices(range(1, 6), YEARS[n.season])[0]) for n in notes]
    notes = [_slipped(note, pick) if pick.random() < 0.25 else note for note in notes]
    for place in pick.sample(range(len(notes)), 16):
        notes[place] = replace(notes[place], text=_marked(notes[place], place, pick))
    notes = [replace(n, text=f"{n.text}\n\n{_FOOTER}") if n.district == _FOOTER_DISTRICT else n for n in notes]
    notes += [replace(pick.choice(notes), text="", plot=pick.randint(1, 180)) for _ in range(2)]
    notes += [_foreign(line, pick) for line in _lines("other_languages.txt")]
    pairs = _plant(notes, pick) + _told_twice(notes, pick)
    late = [maker.note() for _ in range(LATE)]
    order = list(range(len(notes)))
    pick.shuffle(order)
    new_place = {old: new for new, old in enumerate(order)}
    collection = Collection([notes[old] for old in order], [], late)
    for first, second, kind in pairs:
        a, b = sorted((new_place[first], new_place[second]))
        collection.planted.append((collection.key(a), collection.key(b), kind))
    collection.planted.sort()
    _plant_late(collection, random.Random(seed + 1))
    _tell_in_other_words(collection, random.Random(seed + 3))
    _say_in_dialect(collection)
    return collection


def _plant_late(collection: Collection, pick: random.Random) -> None:
    """Put copies of notes in the place of some late ones, each of a note of its own that has no other copy."""
    taken = {key for pair in collection.planted for key in pair[:2]}
    able = [
        at
        for at, note in enumerate(collection.notes)
        if len(words_of(note.text)) >= 60
        and note.trouble
        and note.district != _FOOTER_DISTRICT
        and "<" not in note.text
        and collection.key(at) not in taken
    ]
    sources = iter(pick.sample(able, len(able)))
    places = iter(sorted(pick.sample(range(LATE), sum(LATE_COPIES.values()))))
    for kind, count in LATE_COPIES.items():
        done = 0
        while done < count:
            source = next(sources)
            note = collection.notes[source]
            text = VARIED[kind](note.text, pick, done / count)
            if text is not None:
                place = next(places)
                collection.late[place] = replace(note, text=text, plot=note.plot + 1)
                collection.late_copies.append((place, collection.key(source), kind))
                done += 1
    collection.late_copies.sort()


def _tell_in_other_words(collection: Collection, pick: random.Random) -> None:
    """Add the late notes that tell a trouble in other words, each with the first note of its crop and trouble that shares none of them."""
    planted = {key for pair in collection.planted for key in pair[:2]} | {key for _, key, _ in collection.late_copies}
    for line in _lines("other_words.txt"):
        crop, trouble, text = line.split("|")
        twin = next(
            at
            for at, note in enumerate(collection.notes)
            if (note.crop, note.trouble) == (crop, trouble)
            and collection.key(at) not in planted
            and not _telling(note.text) & _telling(text) - _telling(" ".join(CROPS[crop][:2]))
        )
        planted.add(collection.key(twin))
        collection.late_twins.append((len(collection.late), collection.key(twin)))
        source = collection.notes[twin]
        collection.late.append(replace(source, text=text, plot=pick.randint(1, 180)))


def _say_in_dialect(collection: Collection) -> None:
    """Have the growers of two districts call slugs by another name, in the notes that nothing else was planted in."""
    planted = {key for pair in collection.planted for key in pair[:2]}
    planted |= {key for _, key, _ in collection.late_copies} | {key for _, key in collection.late_twins}
    for place, note in enumerate(collection.notes):
        text = re.sub(r"\b[Ss]lugs?\b", lambda match: DIALECT[match[0]], note.text)
        if note.district in DIALECT_DISTRICTS and text != note.text and collection.key(place) not in planted:
            collection.notes[place] = replace(note, text=text)
            collection.dialect.append(collection.key(place))


def _telling(text: str) -> set[str]:
    """The beginnings of the words of a text that say something."""
    return {word[:4].rstrip("s") for word in words_of(text) if len(word) > 3 and word not in FUNCTION_WORDS}


def late_name(collection: Collection, place: int) -> str:
    """The file of a late note, in a folder a district."""
    note = collection.late[place]
    return f"{note.district.lower().replace(' ', '-')}/{note.crop}-{place + 1:02d}.eml"


def _slipped(note: Note, pick: random.Random) -> Note:
    """With a slip or two of the pen."""
    text = note.text
    for word in pick.sample(sorted(SLIPS), 6):
        text = re.sub(rf"\b{word}\b", SLIPS[word], text, count=1)
    return replace(note, text=text)


def _marked(note: Note, place: int, pick: random.Random) -> str:
    """As it came out of some form: markup, or an address in it."""
    sentences = note.text.split(". ")
    kind = place % 4
    if kind == 0:
        return "<p>" + ".</p>\n<p>".join(sentences) + "</p>"
    if kind == 1:
        return f"{note.text} More at https://larkmoor.example/plots/{note.plot}?year={note.year}."
    if kind == 2:
        return f"{note.text} Write to plot{note.plot}@larkmoor.example if you want some."
    return f"<b>{note.variety}</b>&nbsp;&ndash; {note.text}"


def _foreign(line: str, pick: random.Random) -> Note:
    crop, _, text = line.partition("|")
    variety = pick.choice(CROPS[crop][2])
    season = pick.choice(sorted(SEASONS))
    district = pick.choice(sorted(set(DISTRICTS) - {_FOOTER_DISTRICT}))
    return Note(
        crop, variety, pick.randint(1, 180), district, pick.randint(1, 5), season, "", text.replace("{v}", variety)
    )


def _plant(notes: list[Note], pick: random.Random) -> list[tuple[int, int, str]]:
    """Add the planted notes; each from a note of its own that is long enough."""
    able = [
        at for at, note in enumerate(notes) if len(words_of(note.text)) >= 60 and note.trouble and "<" not in note.text
    ]
    sources = iter(pick.sample(able, len(able)))
    holders = Counter(run for note in notes for run in shingles_of(note.text))
    footer = shingles_of(_FOOTER)
    pairs = []
    for kind in _COPIED:
        count = PLANTED[kind]
        done = 0
        while done < count:
            source = next(sources)
            text = VARIED[kind](notes[source].text, pick, done / count)
            again = random.Random(source)
            while text is not None and _also_in(text, notes, source):
                text = VARIED[kind](notes[source].text, again, done / count)
            if text is None or any(holders[run] >= MOST_HOLDERS and run not in footer for run in shingles_of(text)):
                continue
            holders.update(shingles_of(text))
            other = replace(notes[source], text=text, plot=notes[source].plot + 1)
            pairs.append((source, len(notes), kind))
            notes.append(other)
            done += 1
    return pairs


def _also_in(text: str, notes: list[Note], source: int) -> bool:
    """True if another note than its source contains most of a text."""
    return any(
        likeness(note.text, text)[1] >= 0.8
        for at, note in enumerate(notes)
        if at != source and len(note.text) >= len(text) > 0
    )


def _told_twice(notes: list[Note], pick: random.Random) -> list[tuple[int, int, str]]:
    """Add the pairs of notes that tell of the same thing, both written by hand."""
    lines = _lines("same_subject.txt")
    pairs = []
    for at in range(0, len(lines), 3):
        crop, variety, season, trouble = lines[at].split("|")
        place = len(notes)
        year = pick.choices(range(1, 6), YEARS[season])[0]
        for text in lines[at + 1 : at + 3]:
            district = pick.choice(sorted(set(DISTRICTS) - {_FOOTER_DISTRICT}))
            notes.append(Note(crop, variety, pick.randint(1, 180), district, year, season, trouble, text))
        pairs.append((place, place + 1, "subject"))
    return pairs


def _material() -> tuple[dict[str, list[str]], dict[str, list[str]]]:
    frames: dict[str, list[str]] = {}
    section: list[str] = []
    for name in ("crops.txt", "trade.txt", "troubles.txt", "common.txt"):
        for line in _lines(name):
            if line.startswith("["):
                section = frames.setdefault(line[1:-1], [])
            else:
                section.append(line)
    pairs = (line.partition(": ") for line in _lines("slots.txt"))
    return frames, {name: values.split("|") for name, _, values in pairs}


def _lines(name: str) -> list[str]:
    text = resources.files("jagged_lens.demo").joinpath(f"material/{name}").read_text("utf-8")
    return [line for line in text.splitlines() if line and not line.startswith("#")]


def write(folder: Path) -> None:
    """Write notes.csv, planted.csv, dialect.csv, the late notes as mails, a folder a district, late_planted.csv and late_twins.csv."""
    collection = make()
    with (folder / "notes.csv").open("w", encoding="utf-8", newline="") as file:
        rows = csv.writer(file)
        rows.writerow(["id", "title", "crop", "variety", "plot", "district", "year", "soil", "season", "note"])
        for place, n in enumerate(collection.notes):
            soil = DISTRICTS[n.district]
            rows.writerow(
                [
                    collection.key(place),
                    n.title,
                    n.crop,
                    n.variety,
                    n.plot,
                    n.district,
                    f"year {n.year}",
                    soil,
                    n.season,
                    n.text,
                ]
            )
    with (folder / "planted.csv").open("w", encoding="utf-8", newline="") as file:
        csv.writer(file).writerows([("first", "second", "kind"), *collection.planted])
    with (folder / "dialect.csv").open("w", encoding="utf-8", newline="") as file:
        csv.writer(file).writerows([("note",), *((key,) for key in collection.dialect)])
    for place, note in enumerate(collection.late):
        path = folder / "late" / late_name(collection, place)
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(_mail(note))
    with (folder / "late_planted.csv").open("w", encoding="utf-8", newline="") as file:
        copies = ((late_name(collection, place), key, kind) for place, key, kind in collection.late_copies)
        csv.writer(file).writerows([("late", "note", "kind"), *copies])
    with (folder / "late_twins.csv").open("w", encoding="utf-8", newline="") as file:
        csv.writer(file).writerows(
            [("late", "note"), *((late_name(collection, place), key) for place, key in collection.late_twins)]
        )


def _mail(note: Note) -> bytes:
    """A note as it comes by mail: its title is the subject."""
    mail = EmailMessage(policy=policy.SMTPUTF8.clone(linesep="\n"))
    mail["From"] = f"plot{note.plot}@larkmoor.example"
    mail["To"] = "counter@larkmoor.example"
    mail["Subject"] = note.title
    mail.set_content(note.text, cte="8bit")
    return bytes(mail)


if __name__ == "__main__":
    write(Path(sys.argv[1]))
