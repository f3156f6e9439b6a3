# SPDX-License-Identifier: GPL-3.0-or-later

from pathlib import Path
from typing import Any

import numpy as np
import pytest

from conftest import USUAL, Silent, results_of
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import JaggedLensError, SourceError, Stopped
from jagged_lens.gather import Corpus, Means, Source, settings_from
from jagged_lens.lens import CORPUS, TERM_POINTS, TOKENS, Job, Part, Recent, Recipe, compute, keys_of, to_space
from jagged_lens.progress import Progress
from jagged_lens.worker.sealed import SealedMemory, seal, unseal

FOLDER = demo_recipe().parent


def computed(recipe: Recipe, memory: Recent) -> list[str]:
    listener = Silent()
    compute(Job(recipe, FOLDER), memory, listener, lambda: USUAL)
    return listener.computed


def test_two_lenses_share_every_step_above_the_one_they_differ_in(demo: Recipe) -> None:
    memory = Recent()
    assert computed(demo, memory) == [part.name for part in USUAL]
    assert computed(demo.with_setting("group", "groups", 4), memory) == ["grouping", "key_terms", "quality", "cross"]
    assert computed(demo.with_setting("compare", "pairs-from", 0.9), memory) == ["pairs", "families"]
    assert computed(demo.with_setting("compare", "neighbours", 3), memory) == []
    assert "tokens" not in computed(demo.with_setting("terms", "least-documents", 5), memory)
    assert computed(demo, memory) == []


def test_terms_as_points_are_laid_anew_when_the_size_of_their_groups_changes(demo: Recipe) -> None:
    keys = [
        keys_of(Job(demo.with_setting("group", "group-size", size), FOLDER)).of[TERM_POINTS.name] for size in (0, 0, 10)
    ]
    assert keys[0] == keys[1] != keys[2]


def test_a_source_or_a_list_that_changes_is_read_again(tmp_path: Path) -> None:
    (tmp_path / "a.txt").write_text("slugs and frost")
    (tmp_path / "stop.txt").write_text("frost")
    recipe = Recipe().with_setting("gather", "from", "a.txt").with_setting("clean", "stop-words", ("stop.txt",))
    memory, listener = Recent(), Silent()
    compute(Job(recipe, tmp_path), memory, listener)
    (tmp_path / "stop.txt").write_text("frost slugs")
    listener.computed.clear()
    compute(Job(recipe, tmp_path), memory, listener)
    assert "tokens" in listener.computed
    assert "corpus" not in listener.computed


class _Stopping(Silent):
    def began(self, part: Part) -> Progress:
        def progress(share: float) -> None:
            if part.name == "grouping":
                raise Stopped

        return progress


def test_work_that_is_stopped_leaves_what_was_done(demo: Recipe) -> None:
    memory = Recent()
    with pytest.raises(Stopped):
        compute(Job(demo, FOLDER), memory, _Stopping())
    assert "corpus" not in computed(demo, memory)


class _Noting(Silent):
    def __init__(self) -> None:
        super().__init__()
        self.errors: dict[str, str] = {}

    def failed(self, part: Part, error: JaggedLensError, details: str = "") -> None:
        self.errors[part.name] = str(error)


def test_a_part_that_fails_takes_only_what_needs_it_with_it(demo: Recipe) -> None:
    listener = _Noting()
    results = compute(Job(demo.with_setting("clean", "stop-words", ("gone.txt",)), FOLDER), Recent(), listener)
    assert list(listener.errors) == ["tokens"]
    assert "gone.txt" in listener.errors["tokens"]
    assert sorted(results) == ["corpus", "shingles"]


@pytest.mark.parametrize(
    "texts",
    [
        ["slugs"],
        ["slugs", "frost"],
        ["", ""],
        ["same words here"] * 4,
        ["x" * 200_000, "slugs"],
        [
            "שלום עולם",
            "مرحبا بالعالم",
            "😀😀",
            "\u200b\u200d",
            "e\u0301\u0301",
            "\ud800".encode("utf-8", "replace").decode(),
        ],
        ["1 2 3", "4 5"],
    ],
)
def test_degenerate_collections_give_results_without_nan_where_there_is_a_place(
    tmp_path: Path, texts: list[str]
) -> None:
    results = results_of(tmp_path, texts, terms={"least-documents": 1, "most-share": 1.0}, weigh={"global": "lifted"})
    empty = results["space"].empty
    assert len(results) == len(USUAL)
    assert np.isfinite(results["layout"].positions[~empty]).all()
    assert np.isfinite(results["space"].weights.data).all()
    assert (results["grouping"].group[~empty] >= 0).all()


def test_results_are_shared_without_copying(demo_results: dict[str, Any]) -> None:
    for name, result in demo_results.items():
        sealed = seal(result)
        again = unseal(sealed.descriptor)
        assert repr(again)[:2000] == repr(result)[:2000], name
    space = unseal(seal(demo_results["space"]).descriptor)
    assert not space.weights.data.flags.writeable
    assert np.array_equal(space.weights.toarray(), demo_results["space"].weights.toarray())


def test_memory_forgets_the_oldest_first() -> None:
    memory = SealedMemory(3_000_000)
    for name in "abcd":
        memory.put(name, np.zeros(125_000))
    assert memory.get("a") is None
    assert memory.get("d") is not None


def test_a_source_that_failed_is_read_again_with_another_password(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "a.csv").write_text("id,note\n1,late frost and slugs\n2,peas\n")
    server = Source(database="postgresql://reader@host/name", table="t", text=("note",))
    real = to_space.read_source

    def read(source: Source, means: Means, progress: Progress) -> Corpus:
        if source.database:
            if means.passwords.get(source.database) != "right":
                raise SourceError("password authentication failed", source.name)
            source = Source(file="a.csv", text=("note",))
        return real(source, means, progress)

    monkeypatch.setattr(to_space, "read_source", read)
    recipe = Recipe().with_settings("gather", settings_from((Source(file="a.csv", text=("note",)), server)))
    memory, found = Recent(), []
    for password in ("wrong", "wrong", "right", "right"):
        job = Job(recipe, tmp_path, passwords=((server.database, password),), forgiving=True)
        listener = Silent()
        results = compute(job, memory, listener, lambda: (CORPUS, TOKENS))
        found.append((len(results["corpus"]), len(results["tokens"].row_starts) - 1, listener.computed))
    assert found == [(2, 2, ["corpus", "tokens"]), (2, 2, []), (4, 4, ["corpus", "tokens"]), (4, 4, [])]
