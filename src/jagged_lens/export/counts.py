# SPDX-License-Identifier: GPL-3.0-or-later
"""The counts after each step of a run, for run.json."""

from __future__ import annotations

from typing import Any

from jagged_lens.compare import Kind
from jagged_lens.lens import (
    CORPUS,
    CROSS,
    GIVEN,
    GROUPING,
    LAYOUT,
    LENS_ROWS,
    NEIGHBOURS,
    PAIRS,
    PLACED,
    QUALITY,
    SPACE,
    SUGGESTIONS,
    SWEEP,
    TERMS,
    THEMES,
    TOKENS,
    WORDS,
    Results,
)
from jagged_lens.place import Part, Suggestions


def counts(results: Results) -> dict[str, dict[str, Any]]:
    """The counts after each step."""
    terms, space, pairs = results[TERMS], results[SPACE], results[PAIRS]
    grouping, layout, themes = results[GROUPING], results[LAYOUT], results[THEMES]
    losses = results[TOKENS].account
    kinds = {"same": 0, "edited": 1, "holds": 2, "subject": 3}
    return {
        "gather": {
            "documents": len(results[CORPUS]),
            "in_lens": len(results[LENS_ROWS]),
            "doubts": [
                {"name": one.name, "encodings": [name for name, _ in one.readings]} for one in results[CORPUS].doubts
            ],
            "unread": [{"name": one.name, "reason": one.reason} for one in results[CORPUS].unread],
        },
        "clean": {
            "tokens": losses[0].left,
            "kept": losses[-1].left,
            "taken": {loss.rule.name.lower().replace("_", "-"): loss.taken for loss in losses[1:]},
        },
        "terms": {"different": len(terms.vocabulary), "kept": len(terms.kept)},
        "weigh": {
            "entries": int(space.weights.nnz),
            "empty_documents": int(space.empty.sum()),
            "themes": len(themes) if themes.named else 0,
            "share": float(themes.shares.sum()) if themes.named else 0.0,
            "dimensions": len(themes) if themes.of_vectors else 0,
            "without_vector": results[GIVEN].lacking if themes.given else 0,
            "words": len(results[WORDS].number),
            "seldom": results[WORDS].seldom,
        },
        "compare": {
            "pairs": len(pairs),
            "families": pairs.families,
            "listed_from": pairs.listed_from,
            "spared": pairs.spared,
            "left_out": pairs.left_out,
            "kinds": {name: int((pairs.kind == kind).sum()) for name, kind in kinds.items()},
            "recall": results[NEIGHBOURS].recall,
        },
        "group": {
            "groups": len(grouping),
            "quality": grouping.quality,
            "silhouette": number_or_none(results[QUALITY].mean),
            "weak": int(results[QUALITY].weak.sum()),
            "suggested": results[SWEEP].suggested or None,
            "purity": number_or_none(results[CROSS].purity),
            "adjusted_rand": number_or_none(results[CROSS].adjusted_rand),
        },
        "map": {
            "trust": number_or_none(layout.overall),
            "trust_of_components": number_or_none(layout.components),
            "without_neighbours": int(layout.laid.rim.sum()),
            "stress": number_or_none(layout.laid.stress),
            "explained": list(layout.projection.explained),
        },
        **({"suggest": _suggested(results[SUGGESTIONS])} if len(results[SUGGESTIONS]) else {}),
    }


def _suggested(found: Suggestions) -> dict[str, Any]:
    """The quality of the suggestions for both parts, beside always suggesting the most common value."""
    parts = {"training": found.figures(Part.TRAINING), "held-out": found.figures(Part.HELD_OUT)}
    return {
        "label": found.label,
        "penalty": found.penalty,
        "penalty_at_end": found.at_end,
        "accuracy": number_or_none(parts["held-out"].accuracy),
        "macro_f1": number_or_none(parts["held-out"].macro_f1),
        "trivial": number_or_none(parts["held-out"].trivial),
        **{
            name: {
                "documents": int(part.counts.sum()),
                "accuracy": number_or_none(part.accuracy),
                "macro_f1": number_or_none(part.macro_f1),
                "trivial": number_or_none(part.trivial),
            }
            for name, part in parts.items()
        },
        "new": int((found.part == Part.NEW).sum()),
    }


def counts_of_placed(results: Results) -> dict[str, dict[str, Any]]:
    """The results for the new documents."""
    found = results[PLACED]
    copies = found.copy_kind[found.copy_of >= 0]
    return {
        "gather": {"documents": len(results[CORPUS]), "new": len(found)},
        "place": {
            "copies": {kind.name.lower(): int((copies == kind).sum()) for kind in Kind if kind != Kind.SUBJECT},
            "without_known_terms": int((found.group < 0).sum()),
            "unknown": float(found.through.unknown.sum() / max(int(found.through.words.sum()), 1)),
        },
    }


def number_or_none(value: float) -> float | None:
    """A number as JSON can have it: none for NaN."""
    return None if value != value else value
