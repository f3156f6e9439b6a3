# SPDX-License-Identifier: GPL-3.0-or-later
"""The face for scripts: the page about it runs as it is written, and its results are those of the chain and of a run."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import html5lib
import numpy as np
import pytest
from click.testing import CliRunner

import jagged_lens.script
from jagged_lens.cli.commands import main
from jagged_lens.demo import demo_recipe
from jagged_lens.errors import JaggedLensError, RecipeError
from jagged_lens.lens import GROUPING, LAYOUT, NEIGHBOURS, PAIRS, SPACE, recipe_text
from jagged_lens.project import Keeper, opened
from jagged_lens.project.plain_state import with_pictures
from jagged_lens.script import Lens, open_lens

PAGE = Path(__file__).parents[1] / "docs" / "python.md"


@pytest.fixture(scope="module")
def lens() -> Lens:
    return open_lens(demo_recipe())


def test_the_page_runs_as_it_is_written(capsys: pytest.CaptureFixture[str]) -> None:
    blocks = re.findall(r"```python\n(.*?)```", PAGE.read_text("utf-8"), re.S)
    assert len(blocks) >= 6
    names: dict[str, Any] = {}
    for block in blocks:
        exec(compile(block, str(PAGE), "exec"), names)
    said = capsys.readouterr().out
    assert "4 and 10" in said
    assert re.search(r"^A barley · grain: \d+ documents", said, re.M)
    assert "50 new documents; " in said
    assert "groups" in said.splitlines()[-2]


def test_the_page_names_all_that_is_public() -> None:
    text = PAGE.read_text("utf-8")
    for name in jagged_lens.script.__all__:
        assert f"`{name}`" in text or name in ("Lens",), name
    for name in vars(Lens):
        if not name.startswith("_") and name not in ("name", "recipe"):
            assert f"{name}" in text, name


def test_the_results_are_those_of_the_chain(lens: Lens, demo_results: Any) -> None:
    assert np.array_equal(lens.groups().group, demo_results[GROUPING].group)
    assert np.array_equal(lens.points().positions, demo_results[LAYOUT].positions, equal_nan=True)
    assert (lens.weights().values != demo_results[SPACE].weights).nnz == 0
    assert np.array_equal(lens.pairs().similarity, demo_results[PAIRS].similarity)
    assert np.array_equal(lens.nearest().place, demo_results[NEIGHBOURS].nearest(12).row)
    assert len(lens.documents()) == len(lens.weights()) == len(lens.nearest()) == len(lens.points()) == 640
    groups = lens.groups()
    assert sum(len(groups.members(at)) for at in range(len(groups))) == groups.sizes.sum()
    assert lens.vectors().rows.shape[1] == 0
    assert np.isnan(groups.stability).all() or lens.recipe.group.holding


def test_each_result_shows_itself_as_a_table_that_runs_nothing(lens: Lens) -> None:
    results = [
        lens.documents(),
        lens.counts(),
        lens.pairs(),
        lens.nearest(),
        lens.groups(),
        lens.points(),
        lens.vectors(),
    ]
    for one in [*results, lens]:
        tree = html5lib.HTMLParser(strict=True, namespaceHTMLElements=False).parseFragment(one._repr_html_())
        rows = list(tree.iter("tr"))
        assert 1 < len(rows) <= 11
        assert len({len(list(row)) for row in rows}) == 1


def test_hostile_texts_stay_text_in_a_notebook(tmp_path: Path) -> None:
    (tmp_path / "n.csv").write_text(
        "title,note\n" + "\n".join(f"<script>x</script>{at},slugs and frost {at}" for at in range(8))
    )
    (tmp_path / "r.toml").write_text('[gather]\nfrom = "n.csv"\ntext = ["note"]\ntitle = "title"\n')
    shown = open_lens(tmp_path / "r.toml").documents()._repr_html_()
    assert "<script>" not in shown
    assert "&lt;script&gt;" in shown


def test_errors_are_raised_with_their_remedy(tmp_path: Path, lens: Lens) -> None:
    with pytest.raises(JaggedLensError, match=r"nothing\.toml"):
        open_lens(tmp_path / "nothing.toml")
    with pytest.raises(RecipeError):
        lens.with_setting("group", "groups", -1)
    (tmp_path / "r.toml").write_text('[gather]\nfrom = "gone.csv"\n')
    with pytest.raises(JaggedLensError, match=r"gone\.csv"):
        open_lens(tmp_path / "r.toml").documents()


def test_a_lens_of_a_project_has_its_labels_and_names_and_writes_nothing(tmp_path: Path) -> None:
    path = tmp_path / "p.jagged"
    state = opened(demo_recipe()).with_label("mine", ["LM-0003"], "yes")
    keeper = Keeper(path, True, new=True)
    keeper.save(lambda: with_pictures(state))
    assert keeper.flush()
    keeper.close()
    before = path.read_bytes()
    lens = open_lens(path, "Too few groups")
    assert lens.name == "Too few groups"
    documents = lens.documents()
    assert documents.labels["mine"][documents.keys.index("LM-0003")] == "yes"
    assert len(lens.groups()) == lens.recipe.group.groups
    assert path.read_bytes() == before
    with pytest.raises(RecipeError, match="Troubles"):
        open_lens(path, "nowhere")


def test_saved_files_are_those_of_a_run(tmp_path: Path) -> None:
    recipe = tmp_path / "r.toml"
    text = recipe_text(open_lens(demo_recipe()).with_setting("map", "by", "pca").recipe)
    recipe.write_text(text.replace('"notes.csv"', f'"{demo_recipe().parent / "notes.csv"}"'))
    open_lens(recipe).save(tmp_path / "ours")
    done = CliRunner().invoke(main, ["run", str(recipe), "--out", str(tmp_path / "run")])
    assert done.exit_code == 0, done.output
    names = {one.name for one in (tmp_path / "run").iterdir()}
    assert names == {one.name for one in (tmp_path / "ours").iterdir()}
    for name in sorted(names - {"run.json"}):
        assert (tmp_path / "ours" / name).read_bytes() == (tmp_path / "run" / name).read_bytes(), name
