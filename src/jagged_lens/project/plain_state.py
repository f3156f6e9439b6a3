# SPDX-License-Identifier: GPL-3.0-or-later
"""A project's state as plain values, for the file, and back. What is read is checked like a recipe; nothing is executed."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from jagged_lens.errors import JaggedLensError
from jagged_lens.gather import plain_source, source_of
from jagged_lens.lens import recipe_of, sections_of
from jagged_lens.project.decisions import CHOICES, Decision
from jagged_lens.project.group_names import GroupName
from jagged_lens.project.plain_findings import entries_from, pictures_of, plain_entries
from jagged_lens.project.plain_values import a_list, a_text, pairs, texts
from jagged_lens.project.schema import ProjectError
from jagged_lens.project.state import KeptPick, LensState, OwnLabel, ProjectState


def plain(state: ProjectState) -> dict[str, Any]:
    """The state as dictionaries, lists, texts and numbers."""
    return {
        "lenses": [{"name": lens.name, "recipe": sections_of(lens.recipe)} for lens in state.lenses],
        "active": state.active,
        "folder": str(state.folder),
        "kept": [{"name": one.name, "keys": sorted(one.keys)} for one in state.kept],
        "labels": [
            {"name": one.name, "values": [list(pair) for pair in one.values], "suggested-from": one.suggested_from}
            for one in state.labels
        ],
        "aside": [list(pair) for pair in state.aside],
        "refused": sorted(state.refused),
        "decisions": [[one.first, one.second, one.choice] for one in state.decisions],
        "themes": [[list(terms), name] for terms, name in state.themes],
        "groups": [{"name": one.name, "note": one.note, "keys": sorted(one.keys)} for one in state.groups],
        "placing": [plain_source(source) for source in state.placing],
        "taken": [{"source": plain_source(source), "stamp": stamp} for source, stamp in state.stamps],
        **({"report": plain_entries(state.report)} if state.report else {}),
        **({"without": list(state.without)} if state.without else {}),
    }


def with_pictures(state: ProjectState) -> dict[str, Any]:
    """The state as plain values, and beside them the pictures of its findings by digest, as a project file takes them."""
    return {**plain(state), **({"pictures": pictures_of(state.report)} if state.report else {})}


def state_from(content: dict[str, Any], path: Path) -> ProjectState:
    """The state that plain values describe. path: of the project; its folder stands in for one that is not there any more.

    ProjectError where the values are not what they should be.
    """
    try:
        lenses = tuple(LensState(a_text(one["name"]), recipe_of(one["recipe"])) for one in content["lenses"])
        folder = Path(a_text(content["folder"]))
        if isinstance(content["active"], bool) or not isinstance(content["active"], int):
            raise TypeError("no lens is in front")
        state = ProjectState(
            lenses,
            int(content["active"]),
            folder if folder.is_absolute() and folder.is_dir() else path.parent,
            tuple(KeptPick(a_text(one["name"]), frozenset(map(a_text, one["keys"]))) for one in content["kept"]),
            tuple(
                OwnLabel(a_text(one["name"]), pairs(one["values"]), a_text(one.get("suggested-from", "")))
                for one in content["labels"]
            ),
            pairs(content["aside"]),
            tuple((source_of(one["source"]), a_text(one["stamp"])) for one in content["taken"]),
            frozenset(map(a_text, content.get("refused", ()))),
            tuple(_decision(one) for one in content.get("decisions", ())),
            tuple((tuple(map(a_text, terms)), a_text(name)) for terms, name in content.get("themes", ())),
            tuple(
                GroupName(a_text(one["name"]), a_text(one["note"]), frozenset(map(a_text, one["keys"])))
                for one in content.get("groups", ())
            ),
            tuple(source_of(one) for one in a_list(content.get("placing", []))),
            entries_from(content.get("report", []), content.get("pictures", {})),
            texts(content.get("without", [])),
        )
        if not 0 <= state.active < len(lenses):
            raise ValueError("no lens is in front")
    except (LookupError, TypeError, ValueError, AttributeError, ArithmeticError, OSError, RecursionError) as error:
        raise ProjectError(f"the project is damaged ({error})", path.name, "It was left unchanged.") from error
    except JaggedLensError as error:
        raise ProjectError(f"the project is damaged ({error})", path.name, "It was left unchanged.") from error
    return state


def _decision(values: Any) -> Decision:
    first, second, choice = map(a_text, values)
    if choice not in CHOICES or first == second:
        raise ValueError(f"{choice[:40]} is not a decision")
    return Decision(first, second, choice)
