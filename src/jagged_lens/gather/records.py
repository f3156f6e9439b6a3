"""What a reader hands on: records, each one document to be."""

from __future__ import annotations

from dataclasses import dataclass, field

from jagged_lens.errors import SourceError
from jagged_lens.gather.corpus import Corpus, Label
from jagged_lens.gather.encoding import clean_text
from jagged_lens.strings import Strings


@dataclass
class Records:
    """Documents while they are gathered: lists of the same length, grown by the readers."""

    keys: list[str] = field(default_factory=list)
    texts: list[str] = field(default_factory=list)
    titles: list[str] = field(default_factory=list)
    origins: list[str] = field(default_factory=list)
    labels: dict[str, list[str]] = field(default_factory=dict)
    notices: list[str] = field(default_factory=list)

    def add(self, key: str, text: str, title: str, origin: str, labels: dict[str, str]) -> None:
        self.keys.append(clean_text(key))
        self.texts.append(clean_text(text))
        self.titles.append(" ".join(clean_text(title).split()) or key)
        self.origins.append(origin)
        for name, value in labels.items():
            self.labels.setdefault(name, [""] * (len(self.keys) - 1)).append(" ".join(clean_text(value).split()))
        for values in self.labels.values():
            values.extend([""] * (len(self.keys) - len(values)))

    def corpus(self) -> Corpus:
        """The corpus. SourceError where two documents have one key."""
        first: dict[str, int] = {}
        for row, key in enumerate(self.keys, 1):
            if key in first:
                raise SourceError(
                    f'the key "{key}" stands at documents {first[key]} and {row}',
                    self.origins[row - 1],
                    "Keys must be unique: choose another key column, or leave key empty.",
                )
            first[key] = row
        return Corpus(
            Strings.of(self.keys),
            Strings.of(self.texts),
            Strings.of(self.titles),
            Strings.of(self.origins),
            tuple(Label.of(name, values) for name, values in self.labels.items()),
            tuple(self.notices),
        )
