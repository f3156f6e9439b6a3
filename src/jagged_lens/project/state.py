# SPDX-License-Identifier: GPL-3.0-or-later
"""Everything that the user can change, as one immutable state; undo is a list of states."""

from __future__ import annotations

import dataclasses
from collections.abc import Container, Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path

from jagged_lens.gather import Source, settings_from
from jagged_lens.lens import Recipe
from jagged_lens.project.decisions import Decision, decided, dropped, gone_of
from jagged_lens.project.findings import Entry, Finding, moved, replaced
from jagged_lens.project.group_names import GroupName, renamed


@dataclass(frozen=True)
class LensState:
    """One lens: its name and its recipe."""

    name: str
    recipe: Recipe


@dataclass(frozen=True)
class KeptPick:
    """A pick kept under a name: the keys of its documents."""

    name: str
    keys: frozenset[str]


@dataclass(frozen=True)
class OwnLabel:
    """A label of the user's own: pairs of document key and value. It behaves like one that came with the data.

    suggested_from: the label from which its values were suggested; "" where the user gave them.
    """

    name: str
    values: tuple[tuple[str, str], ...]
    suggested_from: str = ""

    def given(self, keys: Iterable[str], value: str) -> OwnLabel:
        """This label with a value given to some documents; "" takes it away."""
        changed = {**dict(self.values), **dict.fromkeys(keys, value)}
        values = tuple(sorted((key, one) for key, one in changed.items() if one))
        return dataclasses.replace(self, values=values)


@dataclass(frozen=True)
class ProjectState:
    """The lenses, which of them is in front, the folder that relative paths are relative to, and what hangs on documents.

    aside: pairs of document key and reason; those documents take part in no lens, from Terms on. stamps: of each source that of
    what was taken in of it, so that a source that changes outside changes nothing here until it is refreshed. refused: suggested
    rules that the user does not want to be shown again. decisions: on pairs of near-duplicates, in the order in which they were made.
    themes: names that the user gave to themes, by the terms that they were given for. groups: names and notes of groups.
    placing: sources of new documents that are seen through the lens, and are no documents of the project. report: findings, and the
    headings and paragraphs between them. without: the parts that were left out when the project was packed for somebody.
    """

    lenses: tuple[LensState, ...]
    active: int
    folder: Path
    kept: tuple[KeptPick, ...] = ()
    labels: tuple[OwnLabel, ...] = ()
    aside: tuple[tuple[str, str], ...] = ()
    stamps: tuple[tuple[Source, str], ...] = ()
    refused: frozenset[str] = frozenset()
    decisions: tuple[Decision, ...] = ()
    themes: tuple[tuple[tuple[str, ...], str], ...] = ()
    groups: tuple[GroupName, ...] = ()
    placing: tuple[Source, ...] = ()
    report: tuple[Entry, ...] = ()
    without: tuple[str, ...] = ()

    @property
    def lens(self) -> LensState:
        """The lens in front."""
        return self.lenses[self.active]

    @property
    def recipe(self) -> Recipe:
        """The recipe of the lens in front."""
        return self.lens.recipe

    def with_recipe(self, recipe: Recipe) -> ProjectState:
        """This state with another recipe in the lens in front."""
        return self._with_lens(dataclasses.replace(self.lens, recipe=recipe))

    @property
    def sources(self) -> tuple[Source, ...]:
        """The sources of the documents, for all lenses."""
        return self.recipe.gather.sources

    def with_shared(self, values: dict[str, object]) -> ProjectState:
        """This state with settings of Gather that all lenses share: sources, and what one document is."""
        lenses = tuple(
            dataclasses.replace(lens, recipe=lens.recipe.with_settings("gather", values)) for lens in self.lenses
        )
        return dataclasses.replace(self, lenses=lenses)

    def with_sources(self, sources: tuple[Source, ...]) -> ProjectState:
        """This state with other sources, in all lenses."""
        return self.with_shared(settings_from(sources))

    def with_stamps(self, taken: Mapping[Source, str]) -> ProjectState:
        """This state with the stamps of what was taken in of its sources; of those that are gone none is kept."""
        own = {**dict(self.stamps), **taken}
        return dataclasses.replace(
            self, stamps=tuple((source, own[source]) for source in self.sources if own.get(source))
        )

    def with_placing(self, sources: tuple[Source, ...]) -> ProjectState:
        """This state with other sources of new documents."""
        return dataclasses.replace(self, placing=sources)

    def renamed(self, name: str) -> ProjectState:
        """The lens in front under another name, in its findings too; a name that is taken gets a number."""
        taken = {lens.name for at, lens in enumerate(self.lenses) if at != self.active}
        own, before = free_name(name, taken), self.lens.name
        report = tuple(
            dataclasses.replace(entry, lens=own) if isinstance(entry, Finding) and entry.lens == before else entry
            for entry in self.report
        )
        return dataclasses.replace(self._with_lens(dataclasses.replace(self.lens, name=own)), report=report)

    def with_new_lens(self, recipe: Recipe, name: str) -> ProjectState:
        """One more lens behind the one in front, and in front."""
        new = LensState(free_name(name, {lens.name for lens in self.lenses}), recipe)
        at = self.active + 1
        return dataclasses.replace(self, lenses=(*self.lenses[:at], new, *self.lenses[at:]), active=at)

    def without_lens(self) -> ProjectState:
        """Without the lens in front, unless it is the only one."""
        if len(self.lenses) == 1:
            return self
        lenses = self.lenses[: self.active] + self.lenses[self.active + 1 :]
        return dataclasses.replace(self, lenses=lenses, active=min(self.active, len(lenses) - 1))

    def moved(self, by: int) -> ProjectState:
        """The lens in front moved up or down in the order."""
        to = min(max(self.active + by, 0), len(self.lenses) - 1)
        others = list(self.lenses[: self.active] + self.lenses[self.active + 1 :])
        others.insert(to, self.lens)
        return dataclasses.replace(self, lenses=tuple(others), active=to)

    def chosen(self, active: int) -> ProjectState:
        """Another lens in front."""
        return dataclasses.replace(self, active=active)

    def with_refused(self, rule: str) -> ProjectState:
        """This state with a suggested rule that is not to be shown again."""
        return dataclasses.replace(self, refused=self.refused | {rule})

    def with_kept(self, name: str, keys: Iterable[str]) -> ProjectState:
        """A pick kept under a name; one that had the name is replaced."""
        others = tuple(one for one in self.kept if one.name != name)
        return dataclasses.replace(self, kept=(*others, KeptPick(name, frozenset(keys))))

    def without_kept(self, name: str) -> ProjectState:
        """This state without the pick that was kept under a name."""
        return dataclasses.replace(self, kept=tuple(one for one in self.kept if one.name != name))

    def with_label(self, name: str, keys: Iterable[str], value: str) -> ProjectState:
        """A value of a label of the user's own given to some documents."""
        found = next((one for one in self.labels if one.name == name), OwnLabel(name, ()))
        others = tuple(one for one in self.labels if one.name != name)
        new = found.given(keys, value)
        return dataclasses.replace(self, labels=(*others, new) if new.values else others)

    def with_suggestions_taken(self, label: str, values: Iterable[tuple[str, str]]) -> ProjectState:
        """This state with suggested values of a label taken: they become a label of the user's own, which remembers that it was suggested.

        values: pairs of document key and value.
        """
        name, taken = suggested_name(label), list(values)
        before = next((one for one in self.labels if one.name == name), OwnLabel(name, (), label))
        new = dataclasses.replace(before, values=tuple(sorted({**dict(before.values), **dict(taken)}.items())))
        state = dataclasses.replace(self, labels=(*(one for one in self.labels if one.name != name), new))
        return state._without_refusals(label, taken)

    def with_suggestions_refused(self, label: str, values: Iterable[tuple[str, str]]) -> ProjectState:
        """This state with suggested values that are wrong."""
        refused = list(values)
        state = self._without_taken(label, refused)
        own = frozenset(refusal(label, key, value) for key, value in refused)
        return dataclasses.replace(state, refused=state.refused | own)

    def without_suggestions(self, label: str, values: Iterable[tuple[str, str]]) -> ProjectState:
        """This state in which some suggested values are neither taken nor refused."""
        open_again = list(values)
        return self._without_taken(label, open_again)._without_refusals(label, open_again)

    def _without_taken(self, label: str, values: Iterable[tuple[str, str]]) -> ProjectState:
        name, keys = suggested_name(label), [key for key, _ in values]
        return self.with_label(name, keys, "") if any(one.name == name for one in self.labels) else self

    def _without_refusals(self, label: str, values: Iterable[tuple[str, str]]) -> ProjectState:
        gone = frozenset(refusal(label, key, value) for key, value in values)
        return dataclasses.replace(self, refused=self.refused - gone)

    def with_value_renamed(self, name: str, value: str, new: str) -> ProjectState:
        """A value of a label of the user's own under another name; one that is there already takes its documents in."""
        keys = [key for label in self.labels if label.name == name for key, one in label.values if one == value]
        return self.with_label(name, keys, new)

    def with_groups_as_label(self, name: str, values: Iterable[tuple[str, str]]) -> ProjectState:
        """A label of the user's own that says the group of each document by its key, in place of one that had the name. The lens in front
        is grouped by it."""
        others = tuple(one for one in self.labels if one.name != name)
        label = OwnLabel(name, tuple(sorted(values)))
        state = dataclasses.replace(self, labels=(*others, label))
        return state.with_recipe(self.recipe.with_settings("group", {"by": "label", "label": name}))

    def with_group_named(self, before: GroupName | None, new: GroupName) -> ProjectState:
        """This state with a name and a note for a group, in place of those that it had before; without either it has none."""
        return dataclasses.replace(self, groups=renamed(self.groups, before, new))

    def set_aside(self, keys: Iterable[str], reason: str) -> ProjectState:
        """Some documents set aside, with the reason."""
        return dataclasses.replace(
            self, aside=tuple(sorted({**dict(self.aside), **dict.fromkeys(keys, reason)}.items()))
        )

    def brought_back(self, keys: Iterable[str]) -> ProjectState:
        """This state with some documents that were set aside back in it."""
        gone = set(keys)
        return dataclasses.replace(self, aside=tuple(one for one in self.aside if one[0] not in gone))

    def with_decisions(self, new: Iterable[Decision]) -> ProjectState:
        """This state with some decisions on pairs, each in place of what was decided of its pair before."""
        return dataclasses.replace(self, decisions=decided(self.decisions, new))

    def without_decisions(self, pairs: Iterable[frozenset[str]]) -> ProjectState:
        """This state without what was decided of some pairs of keys."""
        gone = set(pairs)
        return dataclasses.replace(self, decisions=tuple(one for one in self.decisions if one.pair not in gone))

    def with_decisions_applied(self, there: Container[str] | None = None) -> ProjectState:
        """This state with the documents set aside that go by the decisions; the reason names the one that stays.

        there: the keys of all documents, where they are known: none goes for one that is not among them.
        """
        aside = dict(self.aside)
        keys = {key for one in self.decisions for key in one.pair} if there is None else there
        goes = dropped(self.decisions, gone_of(self.decisions, keys, aside))
        new = {key: f"copy of {kept}" for key, kept in goes.items() if key not in aside}
        return dataclasses.replace(self, aside=tuple(sorted({**aside, **new}.items())))

    def with_theme_named(self, terms: tuple[str, ...], name: str) -> ProjectState:
        """This state with a name for the theme that has these terms; "" takes it away."""
        others = tuple(one for one in self.themes if one[0] != terms)
        return dataclasses.replace(self, themes=(*others, (terms, name)) if name else others)

    @property
    def findings(self) -> tuple[Finding, ...]:
        """The findings of the report, in their order."""
        return tuple(entry for entry in self.report if isinstance(entry, Finding))

    def with_entry(self, entry: Entry, at: int | None = None) -> ProjectState:
        """This state with one more entry in the report, at its end or at a place."""
        entries = list(self.report)
        entries.insert(len(entries) if at is None else at, entry)
        return dataclasses.replace(self, report=tuple(entries))

    def with_entry_changed(self, entry: Entry) -> ProjectState:
        """This state with an entry in place of that with its number."""
        return dataclasses.replace(self, report=replaced(self.report, entry))

    def without_entry(self, number: int) -> ProjectState:
        """This state without an entry of the report."""
        return dataclasses.replace(self, report=tuple(one for one in self.report if one.number != number))

    def with_entry_moved(self, number: int, to: int) -> ProjectState:
        """This state with an entry of the report at another place."""
        return dataclasses.replace(self, report=moved(self.report, number, to))

    def _with_lens(self, lens: LensState) -> ProjectState:
        return dataclasses.replace(self, lenses=(*self.lenses[: self.active], lens, *self.lenses[self.active + 1 :]))


def suggested_name(label: str) -> str:
    """The name of the label that suggested values of another are taken into."""
    return f"{label} (suggested)"


def refusal(label: str, key: str, value: str) -> str:
    """The mark of a rejected suggestion."""
    return f"suggested\t{label}\t{key}\t{value}"


def free_name(name: str, taken: Iterable[str]) -> str:
    """The name, or with a number where it is taken.

    >>> free_name("Stems", ["Stems", "Stems 2"]), free_name(" ", [])
    ('Stems 3', 'Lens')
    """
    wanted = " ".join(name.split()) or "Lens"
    found, number, taken = wanted, 2, set(taken)
    while found in taken:
        found, number = f"{wanted} {number}", number + 1
    return found


def free_names(names: Iterable[str]) -> list[str]:
    """Names each of which is there once: the first of each as it is, further ones with a number.

    >>> free_names(["slug", "frost", "slug", "slug 2", "slug"])
    ['slug', 'frost', 'slug 2', 'slug 2 2', 'slug 3']
    """
    found: list[str] = []
    taken: set[str] = set()
    last: dict[str, int] = {}
    for name in names:
        wanted = " ".join(name.split()) or "Lens"
        own, number = wanted, last.get(wanted, 1)
        while own in taken:
            number += 1
            own = f"{wanted} {number}"
        last[wanted] = number
        taken.add(own)
        found.append(own)
    return found


class History:
    """The states that there were, and where we are in them. Each change has words for the menu."""

    def __init__(self, state: ProjectState) -> None:
        self._states: list[tuple[str, ProjectState]] = [("", state)]
        self._at = 0

    @property
    def state(self) -> ProjectState:
        """The state that we are in."""
        return self._states[self._at][1]

    @property
    def undo_text(self) -> str | None:
        """The name of the change that undo would revert; None if there is none."""
        return self._states[self._at][0] if self._at else None

    @property
    def redo_text(self) -> str | None:
        """The name of the change that redo would repeat; None if there is none."""
        return self._states[self._at + 1][0] if self._at + 1 < len(self._states) else None

    def change(self, state: ProjectState, words: str) -> bool:
        """Go on to a new state; what was undone before is given up. False where nothing changed."""
        if state == self.state:
            return False
        del self._states[self._at + 1 :]
        self._states.append((words, state))
        self._at += 1
        return True

    def look(self, state: ProjectState) -> None:
        """Another view of the same project (which lens is in front): changed in place, nothing to undo."""
        self._states[self._at] = (self._states[self._at][0], state)

    def states(self) -> list[ProjectState]:
        """All states that undo and redo can lead to."""
        return [state for _, state in self._states]

    def past(self) -> list[ProjectState]:
        """The states that undo leads back through, the oldest first, and the present one."""
        return [state for _, state in self._states[: self._at + 1]]

    def undo(self) -> bool:
        """Go back to the state before; whether there is one to go forward to."""
        self._at -= bool(self._at)
        return self._at + 1 < len(self._states)

    def redo(self) -> bool:
        """Go forward again; False where there is nothing."""
        if self._at + 1 < len(self._states):
            self._at += 1
            return True
        return False
